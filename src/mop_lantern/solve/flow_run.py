"""One flow on one grid, stepped until it is finished, with its readings tracked."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import discover
from mop_lantern.errors import RunError
from mop_lantern.field.flow import FlowSettings, FlowState, Step
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult, Trust, measure, trust_list
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.standard import watched_readings
from mop_lantern.judge.trust import FLAT_FAILS, FLAT_LIMIT
from mop_lantern.solve.outside import surrounded
from mop_lantern.solve.physics import COUPLED_LIMIT, Physics, coupled_limit
from mop_lantern.solve.swinging import averaged, calm_down, calmed_trust, gives_up, swing_trust, swings_of

READ_EVERY = 5
TURBULENT_RESIDUAL = 1e-4
MASS_WHILE_RUNNING = 1e-5
LOOKS, GIVEN = 6, 1e-6  # looks at a reading that has moved by less than this share: it may be given
# looks at a flow with low residuals whose readings swing a little: more of the same will not calm them
PATIENCE = 300
UNASKED = "a pressure nobody asked for"
LEAST_SPREAD = 0.1  # K
NO_HEAT = 1e-5  # K by which all that passes would be warmed
LITTLE = 1e-2  # of what is usual: a reading that is less counts as so much


@dataclass
class Traces:
    """What is tracked: iteration, residuals and readings, in step."""

    columns: dict[str, list[float]] = field(default_factory=dict)

    def add(
        self,
        step: Step,
        readings: dict[str, float],
        time: float | None = None,
    ) -> None:
        """Append one row; ``time`` (s) of a run that is followed in time."""
        row = {
            "iteration": float(step.iteration),
            "momentum": step.momentum,
            "mass": step.mass,
            **readings,
        }
        if time is not None:
            row = {"time": time, **row}
        before = len(self.columns.get("iteration", []))
        for name in {**self.columns, **row}:  # one that comes later was not known before
            self.columns.setdefault(name, [np.nan] * before).append(row.get(name, np.nan))

    def stuck(self, names: Iterable[str]) -> bool:
        """Tell whether none of these has changed over the last looks: such values are given, and no sign that
        the flow stands.
        """
        columns = [np.array(self.columns.get(name, [])[-LOOKS:], float) for name in names]
        if any(len(column) < LOOKS for column in columns):
            return False
        return all(np.ptp(column) <= GIVEN * np.abs(column).max() for column in columns)

    def changes(
        self,
        readings: dict[str, str],
        usual: dict[str, float] | None = None,
        spans: dict[str, float] | None = None,
    ) -> dict[str, float]:
        """Give the relative change of every reading over the last max(50, 20 %) iterations; infinite where
        there were not as many.

        Parameters
        ----------
        readings : dimension of every reading; a reading near zero is measured against the others of its
        dimension. usual : by dimension, what is not little (SI); a reading far below is measured against it.
        spans : by dimension, how far what has no zero differs from place to place; its readings are measured
        against that.
        """
        iterations = self.columns.get("iteration", [])
        back = iterations[-1] - max(50.0, 0.2 * iterations[-1]) if iterations else -1.0
        if back < 0:
            return dict.fromkeys(readings, np.inf)
        first = int(np.searchsorted(iterations, back))
        largest = dict(usual or {})
        for name, dimension in readings.items():
            largest[dimension] = max(largest.get(dimension, 0.0), abs(self.columns[name][-1]))
        changes = {}
        for name, dimension in readings.items():
            window = np.array(self.columns[name][first:], float)
            window = window[np.isfinite(window)]
            scale = max(abs(self.columns[name][-1]), LITTLE * largest[dimension]) if len(window) else 0.0
            scale = (spans or {}).get(dimension, scale)
            changes[name] = float(np.ptp(window)) / scale if scale > 0 else 0.0
        return changes


class FlowRun:
    """A flow on one grid with its readings.

    Parameters
    ----------
    settled : the case. mesh : its grid. start : where to begin.
    """

    steady: ClassVar[bool] = True

    def __init__(
        self,
        settled: ResolvedCase,
        mesh: Mesh,
        start: FlowState | None,
        settings: FlowSettings | None = None,
    ) -> None:
        self.settled = settled
        self.mesh = mesh
        self.physics = Physics(settled, mesh, start, settings)
        self.flow = self.physics.flow
        self.traces = Traces()
        self.last = Step(0, 1.0, 1.0, 0)
        self.readings: dict[str, Any] = {}
        self.spread = 0.0  # of the temperature where it drives the flow, K
        self.watched: dict[str, Any] = {}  # what must be steady where no reading is asked for
        self.backed_off = False
        later = set(self.physics.scalars) - set(self.physics.driving)
        kinds = discover("mop_lantern.judge.readings", Reading)
        self.awaited = frozenset(
            key for key, item in settled.numbers.readings.items() if kinds[item.kind].reads(item) in later
        )
        self.looks: list[NDArray[np.float64]] = []  # at the velocity, the last three
        self._calm = 0  # iterations with low residuals
        self.at_its_end = False  # and more iterations would change nothing
        self.residual = float(settled.numbers.solver.residual)
        if self.physics.turbulence is not None:  # limits in the closures' terms keep it from going lower
            self.residual = max(self.residual, TURBULENT_RESIDUAL)
        self._good = (self.physics.state().light(),) * 2  # the newest may have been astray already
        self._began = time.monotonic()

    def answer(self) -> FieldResult:
        """Give the present field as readings and pictures see it."""
        return self.physics.answer()

    def advance(
        self,
        seconds: float,
        most: int,
        residual: float = 0.0,
    ) -> None:
        """Do outer iterations for a while, at most ``most``, or until the momentum residual is under
        ``residual``.

        Raises
        ------
        RunError : the flow has diverged twice.
        """
        until = time.monotonic() + seconds
        for _ in range(most):
            self.last = self.physics.step()
            if not self.sound():
                self._back_off()
            if self.last.iteration % READ_EVERY == 0 or self.last.iteration <= 2:
                self.take_readings()
            calm_down(self)
            if self.last.iteration % 20 == 0:
                self._good = (self._good[1], self.physics.state().light())
            if time.monotonic() > until or self.last.momentum < residual or self.finished():
                break

    def take_readings(self, answer: FieldResult | None = None) -> None:
        """Take all readings and append them to the traces."""
        numbers = self.settled.numbers
        field = answer or self.answer()
        taken = measure(numbers.readings, field)
        if answer is None:  # what is carried on the finished flow has no value before
            taken = {
                key: replace(item, value=float("nan")) if key in self.awaited else item
                for key, item in taken.items()
            }
        self.readings = taken
        if "T" in self.physics.driving:
            self.spread = max(field.spread(), LEAST_SPREAD)
        # what is read in the end only stands still before
        alive = [key for key, item in taken.items() if np.isfinite(item.value) and key not in self.awaited]
        still = not alive or bool(self.watched) or self.traces.stuck(alive)
        self.watched = watched_readings(numbers, field) if still else {}
        told = {**self.watched, **taken}
        self.traces.add(self.last, {key: reading.value for key, reading in told.items()})

    def changes(self) -> dict[str, float]:
        """Give the recent change of every reading, relative to it; of pressures nobody asked for relative to
        the dynamic pressure at the openings where that is more.
        """
        if not self.physics.wet.n_cells:  # nothing is iterated
            return {}
        followed = {**self.watched, **self.readings}
        stir = self.flow.density * self.flow.reference_speed**2  # Pa
        return self.traces.changes(
            {
                key: UNASKED if key in self.watched and reading.dimension == "pressure" else reading.dimension
                for key, reading in followed.items()
                if key not in self.awaited
            },
            {
                "pressure": 1e-2 * stir,  # below, differences of rounding
                UNASKED: 0.5 * stir / LITTLE,
                "velocity": self.flow.reference_speed,
                "volume_flow": self._passing(),
                "mass_flow": self.flow.density * self._passing(),
                "power": NO_HEAT * self.flow.density * self._heat_of_flow() / LITTLE,
            },
            {"temperature": self.spread} if self.spread else None,
        )

    def _passing(self) -> float:
        """Give the volume that leaves through all openings, m3/s, also where as much comes in beside it."""
        inner = self.physics.wet.n_internal
        return float(np.maximum(self.flow.flux[inner:], 0.0).sum()) * self.physics.mesh.turn

    def _heat_of_flow(self) -> float:
        """Give the volume that passes times the specific heat, m3/s J/kg/K."""
        return self._passing() * self.physics.fluid.capacity

    def change(self) -> tuple[float, str]:
        """Give the largest recent change of a reading, and whose; infinite before there is any."""
        changes = self.changes()
        if not changes:
            return (0.0 if self.last.iteration else np.inf), ""
        whose = max(changes, key=lambda key: changes[key])
        return changes[whose], whose if 0 < changes[whose] < np.inf else ""

    def shown(self, key: str) -> str:
        """Give how a reading is called where people read of it."""
        return str(self.watched[key].title) if key in self.watched else key

    def finished(self, residual: float | None = None) -> bool:
        """Tell whether residuals are low and readings steady."""
        limit = residual if residual is not None else self.residual
        if not self.physics.wet.n_cells:
            return self.last.iteration > 0
        if residual is None and (self.at_its_end or gives_up(self)):
            self.at_its_end = True
            return True
        # mass before the correction of an iteration: what is left in the end is nothing
        if not (self.last.momentum < limit and self.last.mass < max(MASS_WHILE_RUNNING, self.residual)):
            return False
        coupled = coupled_limit(self.residual) if residual is None else max(COUPLED_LIMIT, 10 * limit)
        if self.physics.driving and self.physics.driving_residual > coupled:
            return False
        if residual is not None:
            return True
        self._calm += 1
        return self.change()[0] < (FLAT_LIMIT if self._calm < PATIENCE else FLAT_FAILS)

    def concluded(self, gap_cells: Callable[[], float]) -> tuple[FieldResult, list[Trust]]:
        """Solve what the finished flow carries; give the field and what it is judged by."""
        imbalance = self.physics.finish()
        answer = self.physics.answer(final=True)
        self.take_readings(answer)
        change, worst = self.change()
        swings = swings_of(self.traces, list(self.changes())) if change > FLAT_FAILS else {}
        flat = swing_trust(self, change, worst, swings)
        self.readings = averaged(self.readings, swings)
        judged = trust_list(
            answer,
            self.last.momentum,
            self.residual,
            flat,
            imbalance,
            gap_cells(),
            surrounded(self.settled),
        )
        return answer, judged + calmed_trust(self)

    def remaining(self) -> float | None:
        """Guess the seconds left from the slope of the residual."""
        values = self.traces.columns.get("momentum", [])
        if len(values) < 6:
            return None
        tail = np.log(np.maximum(values[-12:], 1e-300))
        slope = np.polyfit(np.arange(len(tail)) * READ_EVERY, tail, 1)[0]
        pace = (time.monotonic() - self._began) / max(self.last.iteration, 1)
        distance = tail[-1] - np.log(self.residual)
        steps = max(distance / -slope if slope < -1e-4 else 1e4, 50 - self.last.iteration, 0.0)
        return float(min(steps, self.settled.numbers.solver.most - self.last.iteration) * pace)

    def sound(self) -> bool:
        """Tell whether the flow is still a flow: finite, and not far faster than anything drives it."""
        values = (self.last.momentum, self.last.mass, float(np.abs(self.flow.U).max(initial=0.0)))
        begun = self.last.iteration > 2  # before, an even force may find no pressure yet that carries it
        return bool(
            np.isfinite(values).all()
            and (self.last.momentum < 1e3 or not begun)
            and values[2] < 300 * self.flow.reference_speed
        )

    def _back_off(self) -> None:
        speed = np.nan_to_num(np.abs(self.flow.U).max(axis=1), nan=np.inf)
        place = self.mesh.centre[int(speed.argmax()), : len(self.mesh.ways)]
        if self.backed_off:
            where = ", ".join(f"{name} = {value:.4g} m" for name, value in zip("xyz", place, strict=False))
            raise RunError(
                "the flow diverged, also with stronger relaxation;",
                f"it began near {where}.",
                "Try a finer grid there, a lower flow first, or check the opening conditions.",
            )
        self.backed_off = True
        self.physics.restore(self._good[0])
        self.flow.relax_more()
