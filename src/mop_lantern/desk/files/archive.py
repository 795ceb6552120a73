"""What is known of each variant's newest run: record, field, and whether the case has changed since."""

from __future__ import annotations

from collections.abc import Callable
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
from mop_lantern.results.told import asked_later, joined, physics_of, take_later


class Archive:
    """The newest run of every variant of the open case."""

    def __init__(self) -> None:
        self.records: dict[str, RunRecord] = {}
        self.skipped: list[str] = []  # what was wrong with runs that could not be read
        self._answers: dict[str, FieldResult] = {}
        self._applied: dict[str, tuple[Case, Case]] = {}  # the case with its variants applied
        self._stale: dict[str, tuple[Case, RunRecord, bool]] = {}  # what was compared last, by variant
        self._solved: dict[str, tuple[RunRecord, Case, dict[str, Any]]] = {}  # and what it depends on
        # readings taken after the solution by variant: as they are stated, and as told
        self._later: dict[str, tuple[RunRecord, dict[str, tuple[Any, dict[str, Any] | None]]]] = {}

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
            return physics_of(self._present(case, variant)) != self._as_solved(variant, record)[1]
        except LanternError:
            return True

    def _present(self, case: Case, variant: str) -> Case:
        """Give the case as it stands with a variant applied."""
        known = self._applied.get(variant)
        if known is None or known[0] is not case:
            known = self._applied[variant] = case, with_variant(case, variant)
        return known[1]

    def _as_solved(self, variant: str, record: RunRecord) -> tuple[Case, dict[str, Any]]:
        """Give the case a record is of, its variant applied, and what the result depends on."""
        known = self._solved.get(variant)
        if known is None or known[0] is not record:
            case = parse_case(record.case)
            known = self._solved[variant] = record, case, physics_of(case)
        return known[1:]

    # --- readings asked for later ---

    def readings(self, case: Case, variant: str) -> dict[str, dict[str, Any]]:
        """Give the readings a variant asks for as far as they are known: as solved, or taken on the stored
        result since.
        """
        record = self.records[variant]
        if self.stale(case, variant):
            return record.readings
        try:
            taken = {key: told for key, (_, told) in self._known(variant).items() if told is not None}
            return joined(self._present(case, variant), self._as_solved(variant, record)[0], record, taken)
        except LanternError:
            return record.readings

    def not_taken(self, case: Case, variant: str) -> list[str]:
        """Give the readings of a variant that can be taken on its stored result and are not yet."""
        record = self.records.get(variant)
        if record is None or self.stale(case, variant):
            return []
        try:
            present = self._present(case, variant)
            asked = asked_later(present, self._as_solved(variant, record)[0])
        except LanternError:
            return []
        known = self._known(variant)
        return [key for key in asked if key not in known or known[key][0] != present.readings[key]]

    def taking(
        self, case: Case, variant: str, keys: list[str]
    ) -> tuple[dict[str, Any], Callable[[], dict[str, Any]]]:
        """Give readings of a variant as they are stated, and the work of taking them on its stored result, to
        be done in a thread.
        """
        present = self._present(case, variant)
        answers = [each for each in (self.answer(variant), self.working(variant)) if each is not None]
        stated = {key: present.readings[key] for key in keys}
        return stated, lambda: take_later(present, keys, answers)

    def keep_later(self, record: RunRecord, items: dict[str, Any], told: dict[str, Any]) -> None:
        """Keep readings, as they are stated and as told, that were taken on a record, if it is still there;
        those without a value are not tried again.
        """
        variant = record.variant
        if self.records.get(variant) is record:
            known = self._known(variant) | {key: (item, told.get(key)) for key, item in items.items()}
            self._later[variant] = record, known

    def _known(self, variant: str) -> dict[str, tuple[Any, dict[str, Any] | None]]:
        """Give what was taken on the present result of a variant."""
        kept = self._later.get(variant)
        return kept[1] if kept is not None and kept[0] is self.records.get(variant) else {}
