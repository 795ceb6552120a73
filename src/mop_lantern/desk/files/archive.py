"""What is known of each variant's newest run: record, field, and whether the case has changed since."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mop_lantern.case import Case, parse_case, with_variant
from mop_lantern.errors import LanternError
from mop_lantern.judge import FieldResult, NetworkResult
from mop_lantern.results import (
    RunRecord,
    load_run,
    newest_record,
    open_answer,
    open_state,
    open_step,
    open_working,
    state_times,
)


class Archive:
    """The newest run of every variant of the open case."""

    def __init__(self) -> None:
        self.records: dict[str, RunRecord] = {}
        self.skipped: list[str] = []  # what was wrong with runs that could not be read
        self._answers: dict[str, FieldResult] = {}
        self._stale: dict[str, tuple[Case, RunRecord, bool]] = {}  # what was compared last, by variant
        self._solved: dict[str, tuple[RunRecord, dict[str, Any]]] = {}  # what a record depends on

    def read(self, case: Case, folder: Path) -> None:
        """Read the newest runs from disk, without solving; broken ones are passed over and noted."""
        self.records = {}
        self._answers = {}
        self.skipped = []
        for variant in ("", *case.variants):
            record, skipped = newest_record(folder, variant)
            self.skipped += skipped
            if record is not None:
                self.records[variant] = record

    def take(self, variant: str, folder: str) -> None:
        """Take a run just finished."""
        self.records[variant] = load_run(Path(folder))
        self._answers.pop(variant, None)

    def keep(
        self,
        variant: str,
        record: RunRecord,
        answer: FieldResult | None,
    ) -> None:
        """Keep a run that is stored nowhere, with its field."""
        self.records[variant] = record
        self._answers.pop(variant, None)
        if answer is not None:
            self._answers[variant] = answer

    def answer(self, variant: str) -> FieldResult | None:
        """Give the field of a variant's run, or None."""
        record = self.records.get(variant)
        if record is None:
            return None
        if variant not in self._answers:
            try:
                self._answers[variant] = open_answer(Path(record.folder))
            except LanternError:
                return None
        return self._answers[variant]

    def working(self, variant: str) -> NetworkResult | None:
        """Give the network of a variant's run, or None."""
        record = self.records.get(variant)
        try:
            return None if record is None else open_working(Path(record.folder))
        except LanternError:
            return None

    def times(self, variant: str) -> list[float]:
        """Give the times of the states a variant's run has kept, s."""
        record = self.records.get(variant)
        return state_times(Path(record.folder)) if record is not None else []

    def state(self, variant: str, time: float) -> FieldResult | None:
        """Give the kept state of a variant's run nearest to a time (s), or None."""
        record = self.records.get(variant)
        final = self.answer(variant)
        if record is None or final is None:
            return None
        try:
            return open_state(Path(record.folder), time, final.mesh)
        except LanternError:
            return None

    def grid_step(self, variant: str, number: int) -> FieldResult | None:
        """Give the field on a former grid of an adapted solve (0 the first), or None."""
        record = self.records.get(variant)
        try:
            return None if record is None else open_step(Path(record.folder), number)
        except LanternError:
            return None

    def stale(self, case: Case, variant: str) -> bool:
        """Tell whether the case has changed since the variant was solved."""
        record = self.records.get(variant)
        if record is None or (variant and variant not in case.variants):
            return False
        known = self._stale.get(variant)
        if known is None or known[0] is not case or known[1] is not record:
            known = case, record, self._differs(case, variant, record)
            self._stale[variant] = known
        return known[2]

    def _differs(self, case: Case, variant: str, record: RunRecord) -> bool:
        try:
            solved = self._solved.get(variant)
            if solved is None or solved[0] is not record:
                solved = record, physics_of(parse_case(record.case))
                self._solved[variant] = solved
            return physics_of(with_variant(case, variant)) != solved[1]
        except LanternError:
            return True


def physics_of(case: Case) -> dict[str, Any]:
    """Give what a result depends on."""
    data = case.as_data()
    for name in ("title", "notes", "units", "variants", "views", "measured"):
        data.pop(name, None)
    return data
