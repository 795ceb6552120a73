"""Storing of a finished answer, which may be tried again when the disk refuses it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mop_lantern.errors import FileError
from mop_lantern.results import new_run


class Storing:
    """What a solve of a space and one of a network share: the run folder, and an answer that waits for it.

    Attributes
    ----------
    unsaved : a finished answer could not be stored.
    """

    runs: Path | None
    settled: Any
    unsaved = False
    _folder: Path | None = None

    def _write(self, folder: Path) -> None:
        """Write the finished answer into its run folder."""
        raise NotImplementedError

    def store(self) -> str:
        """Store the finished answer, and give its folder; it may be tried again.

        Raises
        ------
        FileError : it cannot be stored.
        """
        assert self.runs is not None
        self._folder = self._folder or new_run(self.runs, self.settled.variant)
        self._write(self._folder)
        self.unsaved = False
        return str(self._folder)

    def _try_to_store(self) -> tuple[str, str]:
        """Give the folder of the stored answer, and words where it could not be stored."""
        if self.runs is None:
            return "", ""
        try:
            return self.store(), ""
        except FileError as problem:  # the answer is there: it may be stored another time
            self.unsaved = True
            return "", str(problem)
