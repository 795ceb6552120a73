"""One solve of a network: steady, or followed in time; readings, trust, the stored run. It speaks the same
events as a field.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.case import Case, apply, parse_value
from mop_lantern.case.network_figures import duties_of
from mop_lantern.case.network_review import SettledNetwork, fault_of, working_of
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError, EditError, RunError
from mop_lantern.judge import (
    Measured,
    NetFacts,
    NetworkResult,
    Trust,
    lasting_notes,
    measure,
    network_trust,
    note_trust,
)
from mop_lantern.judge.standard import standard_readings
from mop_lantern.network.steady import NetworkFault
from mop_lantern.network.surge import Surge
from mop_lantern.network.transient import March
from mop_lantern.results import events, save_network
from mop_lantern.results.events import Event
from mop_lantern.results.told import readings_told
from mop_lantern.solve.storing import Storing, record_of

BATCH = 0.15  # s of computing between two events
HEAT_IN_TIME = 1e-3
ADJUSTED = 0.05
TICK = 0.1  # s between two pictures of a network worked live
ENDLESS = 1e9  # s


class NetworkSolving(Storing):
    """One solve of a network. Iterate `events`, as those of a field; between two the caller may set ``stop``
    or call `work`.

    Parameters
    ----------
    settled : the network. runs : folder for the result, or None to store nothing. edits : given for this
    solve only. pace : seconds of the network a second of the clock, for live operation; 0 goes as fast as it
    can.
    """

    def __init__(
        self,
        settled: SettledNetwork,
        runs: Path | None,
        edits: dict[str, Any] | None = None,
        pace: float = 0.0,
    ) -> None:
        self.settled = settled
        self.runs = runs
        self.edits = edits or {}
        self.pace = pace
        self.stop = self.abandoned = False
        self.run = self.result = None
        self.case: Case = settled.case
        self.worked: list[tuple[float, str, Any]] = []
        self._planned: dict[str, Any] = {}  # what operations, not hands, have set last
        self._march: March | Surge | None = None
        self.working: NetworkResult | None = None
        self._columns: dict[str, list[float]] = {"time": []}

    def work(self, path: str, value: Any) -> str:
        """Turn a valve, change a speed or a set point while the network runs; give what is wrong, or an empty
        text.
        """
        try:
            case = apply(self.case, {path: value})
        except EditError as problem:
            return str(problem)
        numbers, faults = resolve(case)
        wrong = [fault for fault in faults if fault.path.startswith(("network", "parameters"))]
        if wrong:
            return str(wrong[0])
        self.case = case
        self._planned.pop(path, None)
        if self._march is not None:
            self._march.exchange(numbers.network)
            self.worked.append((self._march.time, path, value))
        return ""

    def events(self) -> Iterator[Event]:
        """Solve.

        Raises
        ------
        RunError : the network has no answer. FileError : the result cannot be stored.
        """
        began = time.monotonic()
        yield events.started(self.settled.variant)
        try:
            if self.pace > 0 or self.settled.case.network.time.mode != "steady":
                yield events.stage("following the network in time")
                yield from self._follow()
                assert self._march is not None and self._march.made is not None
                working = working_of(self._march.made, self.settled, self._march)
            else:
                yield events.stage("solving the network")
                made = self.settled.operate()
                working = working_of(made, self.settled)
                working.extra["duty"] = duties_of(made, self.settled.numbers.network)
        except NetworkFault as problem:
            if problem.name:
                raise CaseError([fault_of(problem)]) from None  # at its place, as other faults of the case
            raise RunError(
                f"{problem.name.partition('.')[2] or problem.name}: {problem.says}"
                if problem.name
                else problem.says,
                "",
                problem.remedy,
            ) from None
        yield from self._finish(working, began)

    def _follow(self) -> Iterator[Event]:
        """Go through time, doing what is to be done when it is due."""
        numbers = self.settled.numbers
        network = numbers.network
        plan = numbers.network.time
        march: March | Surge
        if plan.mode == "waves":
            march = Surge(network, self.settled.fluids, network.outside, plan.step)
        else:
            march = March(network, self.settled.fluids, network.outside, self.settled.case.network.thermal)
        self._march = march
        due = [
            (float(item.at), self.settled.case.network.operations[key])
            for key, item in network.operations.items()
        ]
        due.sort(key=lambda pair: pair[0])  # of two at once the first written comes first
        started = last = time.monotonic()
        until = plan.until if plan.mode != "steady" else ENDLESS
        longest = min(plan.step, self.pace * TICK) if self.pace > 0 else plan.step
        while march.time < until - 1e-9 * until and not self.stop:
            while due and due[0][0] <= march.time + 1e-9:
                item = due.pop(0)[1]
                trouble = self.work(item.path, parse_value(item.value))
                self._planned[item.path] = item.value
                if trouble:
                    raise RunError(f"at {march.time:g} s: {trouble}", "", "Correct the operation.")
            ahead = min([until, *(at for at, _ in due)]) - march.time
            made = march.step(min(longest, ahead) if ahead > 1e-9 else longest)
            self._take(march)
            now = time.monotonic()
            if self.pace > 0:
                time.sleep(min(max(0.0, started + march.time / self.pace - now), TICK))
            if now - last > (BATCH if self.pace == 0 else 0.5 * TICK):
                last = time.monotonic()
                left = (
                    (now - started) * (until - march.time) / max(march.time, 1e-9)
                    if until < ENDLESS
                    else None
                )
                yield self._progress(march, made.flows.steps, left)

    def _take(self, march: March | Surge) -> None:
        assert march.made is not None
        working = working_of(march.made, self.settled, march)
        self._columns["time"].append(march.time)
        for key, item in measure(self.settled.numbers.readings, working).items():
            self._columns.setdefault(key, []).append(item.value)

    def _progress(
        self,
        march: March | Surge,
        steps: int,
        left: float | None,
    ) -> Event:
        assert march.made is not None
        working = working_of(march.made, self.settled, march)
        values = {
            key: column[-1] if np.isfinite(column[-1]) else None
            for key, column in self._columns.items()
            if key != "time"
        }
        off = march.made.flows.imbalance
        told = events.progress(len(self._columns["time"]), off, off, values, left)
        told["time"] = march.time
        told["until"] = float(self.settled.numbers.network.time.until)
        told["working"] = working.as_data() if self.pace > 0 else None
        told["planned"] = dict(self._planned)
        return told

    def _finish(self, working: NetworkResult, began: float) -> Iterator[Event]:
        settled = self.settled
        march = self._march
        taken = measure(settled.numbers.readings, working)
        trust = network_trust(working) + _missing(taken) + (_in_time(march) if march is not None else [])
        notes = lasting_notes(NetFacts(settled.numbers, working))
        if isinstance(march, Surge):  # an item of its own tells of liquid that parts
            notes = [note for note in notes if note.kind != "absolute_pressure"]
        trust += note_trust(notes)
        self.working = working
        record = record_of(
            settled,
            readings_told(taken),
            standard_readings(settled.numbers, working),
            trust,
            time.monotonic() - began,
            case=self.case_with_operations(),
            iterations=len(self._columns["time"]) or working.steps,
            cells=len(working.lines),
            traces=self._columns if march is not None else {},
            edits=self.edits,
        )
        worked = [[at, path, value] for at, path, value in self.worked]
        yield from self._conclude(record, march.time if march is not None else 0.0, worked=worked)

    def _write(self, folder: Path) -> None:
        """Write the finished answer into its run folder."""
        assert self.record is not None and self.working is not None
        save_network(folder, self.record, self.working, int(self.settled.numbers.solver.keep))

    def case_with_operations(self) -> Case:
        """Give the case as solved, with what was worked by hand as operations at their times: solved again it
        does the same.
        """
        known = {(item.path, item.value) for item in self.settled.case.network.operations.values()}
        extra = [(at, path, value) for at, path, value in self.worked if (path, str(value)) not in known]
        edits = {
            f"network.operations.live{k}": {
                "at": f"{at!r} s",
                "path": path,
                "value": str(value),
            }
            for k, (at, path, value) in enumerate(extra, 1)
        }
        return apply(self.settled.case, edits)


def _missing(taken: dict[str, Measured]) -> list[Trust]:
    """Tell of readings without a value."""
    return [
        Trust(
            f"reading.{key}",
            "caution",
            0.0,
            0.0,
            f"The reading {key} has no value here.",
        )
        for key, item in taken.items()
        if not np.isfinite(item.value)
    ]


def _in_time(march: March | Surge) -> list[Trust]:
    """Judge what was counted over the whole time."""
    items = []
    if march.thermal:
        off = march.ledger.balance
        items.append(
            Trust(
                "heat_ledger",
                "holds" if off <= HEAT_IN_TIME else "fails",
                off,
                HEAT_IN_TIME,
                f"Heat over the whole time balances to {max(off, 1e-16):.0e}.",
            )
        )
    if isinstance(march, Surge):
        off = march.adjusted
        items.append(
            Trust(
                "wave_speed",
                "holds" if off <= ADJUSTED else "caution",
                off,
                ADJUSTED,
                f"Wave speeds were adjusted by at most {off:.1%} to suit the step.",
            )
        )
        if march.waves.cavity:
            items.append(
                Trust(
                    "cavity",
                    "caution",
                    1.0,
                    0.0,
                    (
                        "The pressure falls below the vapour pressure somewhere: column separation "
                        "(cavitation), "
                        "which is not followed."
                    ),
                )
            )
    for name in sorted(march.overflowing):
        items.append(
            Trust(
                f"tank.{name}",
                "caution",
                1.0,
                0.0,
                f"The tank {name} has overflowed or run dry.",
            )
        )
    return items
