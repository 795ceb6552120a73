"""What every solve ends with: a record, a run folder, and the message that tells of them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from mop_lantern.errors import FileError
from mop_lantern.judge import Measured, Trust
from mop_lantern.results import RunRecord, new_run
from mop_lantern.results.events import Event, Finished, saved
from mop_lantern.results.told import readings_told
from mop_lantern.solve.versions import versions


class Storing:
    """What solves of spaces and networks share: the run folder, and an answer that waits for it.

    Attributes
    ----------
    unsaved : a finished answer could not be stored. part : it is a part of a larger solve, which stores it.
    record : of the finished answer.
    """

    runs: Path | None
    settled: Any
    stop = False
    unsaved = False
    part = False
    record: RunRecord | None = None
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

    def _conclude(self, record: RunRecord, time: float = 0.0, **more: Any) -> Iterator[Event]:
        """Store a record and its answer, and tell of them; ``time`` (s) it has come to."""
        self.record = record
        folder, unsaved = self._try_to_store()
        if folder:
            yield saved(folder)
        told: Finished = {
            "event": "finished",
            "unsaved": unsaved,
            "readings": record.readings,
            "standard": record.standard,
            "verdict": record.verdict,
            "trust": record.trust,
            "converged": record.converged,
            "stopped": self.stop,
            "time": time,
            "iterations": record.iterations,
            "cells": record.cells,
            "seconds": record.seconds,
            "run": folder,
            "grid": record.grid,
        }
        yield told | more  # type: ignore[misc]

    def _try_to_store(self) -> tuple[str, str]:
        """Give the folder of the stored answer, and words where it could not be stored."""
        if self.runs is None or self.part:
            return "", ""
        try:
            return self.store(), ""
        except FileError as problem:  # the answer is there: it may be stored another time
            self.unsaved = True
            return "", str(problem)


def record_of(
    settled: Any,
    readings: dict[str, dict[str, Any]],
    standard: Mapping[str, Measured],
    trust: list[Trust],
    seconds: float,
    **more: Any,
) -> RunRecord:
    """Make the record of a finished solve; ``more`` : its other attributes, as far as they say anything."""
    plain: dict[str, Any] = {"iterations": 0, "cells": 0, "grid": {}, "traces": {}, "edits": {}, "cycles": []}
    return RunRecord(
        case=more.pop("case", settled.case).as_data(),
        variant=settled.variant,
        readings=readings,
        standard=readings_told(standard),
        trust=[item.as_dict() for item in trust],
        converged=all(item.verdict != "fails" for item in trust),
        seconds=round(seconds, 3),
        versions=versions(),
        **{**plain, **more},
    )


def both(field: RunRecord, network: RunRecord) -> RunRecord:
    """Join the records of a space and a network that stand in one case; an item of the trust list that both
    have counts twice, and so does a standard reading.
    """
    known = {item["id"] for item in field.trust}
    twice = {key for key in network.standard if key in field.standard}
    named = {f"{key}.network" if key in twice else key: item for key, item in network.standard.items()}
    more = [item | {"id": f"{item['id']}.network"} if item["id"] in known else item for item in network.trust]
    return replace(
        field,
        readings={**field.readings, **network.readings},
        standard={**field.standard, **named},
        trust=[*field.trust, *more],
        converged=field.converged and network.converged,
        seconds=field.seconds + network.seconds,
    )
