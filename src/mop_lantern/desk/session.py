"""What the window knows of results beyond the document, without the toolkit: which fields are compared, on
what scale, along which line.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from mop_lantern.case import Case
from mop_lantern.desk.files.archive import Archive
from mop_lantern.judge import FieldResult
from mop_lantern.results import profile

Curve = tuple[str, Any, Any]


class Session:
    """The state of a session that outlives a picture.

    Attributes
    ----------
    archive : the newest run of every variant. line : ends of the line whose profile is shown, m, or None.
    """

    def __init__(self) -> None:
        self.archive = Archive()
        self.line: tuple[Any, Any] | None = None

    def fields(self, case: Case, what: str) -> Iterator[tuple[str, FieldResult]]:
        """Give the fields of all variants in which a quantity has a meaning, the base's first."""
        for key in ("", *case.variants):
            answer = self.archive.answer(key)
            if answer is not None and answer.has(what):
                yield key, answer

    def shared_range(self, case: Case, what: str) -> tuple[float | None, float | None]:
        """Give the scale on which the pictures of all variants can be compared, SI; none for fewer than
        two.
        """
        values = [answer.cells(what)[answer.covers(what)] for _, answer in self.fields(case, what)]
        if len(values) < 2:
            return None, None
        low = 0.0 if what == "speed" else min(float(each.min()) for each in values)
        return low, max(float(each.max()) for each in values)

    def profiles(self, case: Case, what: str) -> list[Curve]:
        """Give the profile of a quantity along the line in every variant: name, distance (m), values (SI)."""
        if self.line is None:
            return []
        return [
            (key or "Base", *profile(answer, what, *self.line)) for key, answer in self.fields(case, what)
        ]
