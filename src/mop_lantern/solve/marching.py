"""A flow followed in time: step by step, states kept, readings taken at every step."""

from __future__ import annotations

import time as clock
from collections.abc import Callable
from dataclasses import replace
from typing import Any, ClassVar

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import discover
from mop_lantern.errors import RunError
from mop_lantern.field.flow import FlowSettings, FlowState, Step
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult, Trust, drifts, followed, measure
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.trust import BALANCE_FAILS, BALANCE_LIMIT, MASS_LIMIT, graded
from mop_lantern.solve.flow_run import LEAST_SPREAD, Traces
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.time_means import SWING, FieldMeans, above, levels_of, means_trust

# of what the step changes; fivefold tighter moves the largest lift of a pulsed cylinder by 0.4 %
STEP_TOLERANCE = 5e-5
STEP_MASS = 1e-6  # of the through-flow, before the fluxes are projected
# of means over time, where moments do not matter: with half the iterations drag and lift of a cylinder that
# sheds vortices stay within 0.1 % in the mean and 2 % in their swing, the loss of a plate within 0.1 %
MEAN_TOLERANCE, MEAN_MASS = 5e-3, 1e-4
CARRIED, MEAN_CARRIED = 1e-9, 1e-7  # residual of what is carried, at the end of a step
STEP_MOST = 60
FEWEST = 2
MISSED_LIMIT, MISSED_FAILS = (
    1e-4,
    1e-2,
)  # of a reading, by one more iteration of a step that missed its tolerance
LITTLE = 1e-6  # of what is carried: well above rounding
GROWTH = 1.2  # of the step from one to the next
SETTINGS = FlowSettings(
    relaxation=1.0,
    sweeps=3,
    pressure_tolerance=0.01,
    acceleration=False,
)


class Marching:
    """A flow in time on one grid with its readings.

    Parameters
    ----------
    settled : the case. mesh : its grid. start : where to begin; its time is where the clock starts.
    """

    steady: ClassVar[bool] = False

    def __init__(
        self,
        settled: ResolvedCase,
        mesh: Mesh,
        start: FlowState | None,
    ) -> None:
        self.settled = settled
        self.mesh = mesh
        self.plan = settled.numbers.time
        begin = start.time if start is not None else 0.0
        self.physics = Physics(
            settled,
            mesh,
            start,
            SETTINGS,
            begin,
        )
        self.flow = self.physics.flow
        self.traces = Traces()
        self.last = Step(0, 0.0, 0.0, 0)
        self.readings: dict[str, Any] = {}
        self.steps, self.missed, self.worst_mass = 0, 0, 0.0
        self.missed_share, self.missed_reading = 0.0, ""
        self.worst_balance: dict[str, float] = {}
        self._worst_open: dict[str, float] = {}
        self._matter: dict[str, float] = {}
        self.largest_courant = 0.0
        self.began_at = begin
        self._step: float | None = None
        self._began = clock.monotonic()
        self._next_kept = begin + self.plan.every
        self.due: list[FieldResult] = []
        asked = self.plan.shows == "mean"
        self.means = FieldMeans(max(float(self.plan.mean_from), begin), self.plan.until) if asked else None

    @property
    def time(self) -> float:
        """The time reached, s."""
        return self.physics.time

    def answer(self, final: bool = False) -> FieldResult:
        """Give the present field; ``final`` as of `Physics`."""
        return self._with_swing(self.physics.answer(final))

    def _with_swing(self, answer: FieldResult) -> FieldResult:
        if self.means is None:
            return answer
        return replace(answer, scalars={**answer.scalars, SWING: self.means.swing(answer)})

    def finished(self) -> bool:
        """Tell whether the end is reached."""
        return self.time >= self.plan.until * (1 - 1e-12)

    def remaining(self) -> float | None:
        """Guess the seconds left from the pace so far."""
        done = self.time - self.began_at
        return (clock.monotonic() - self._began) * (self.plan.until - self.time) / done if done > 0 else None

    def advance(self, seconds: float, most: int = 1_000_000) -> None:
        """Do time steps for a while.

        Raises
        ------
        RunError : the flow has become senseless.
        """
        until = clock.monotonic() + seconds
        for _ in range(most):
            self.one_step()
            if clock.monotonic() > until or self.finished() or self.due:
                break

    def one_step(self) -> None:
        """Do one time step: the flow to its tolerance, then everything carried."""
        step = self._choose()
        if self.plan.flow == "kept":
            self._carry_only(step)
            return
        self.physics.begin_step(step)
        self._step = step
        tolerance, mass = (STEP_TOLERANCE, STEP_MASS) if self.means is None else (MEAN_TOLERANCE, MEAN_MASS)
        for count in range(1, STEP_MOST + 1):
            made = self.physics.step()
            if not np.isfinite((made.momentum, made.mass)).all() or not np.isfinite(self.flow.U).all():
                raise RunError(
                    "the flow became unstable;",
                    f"at t = {self.time:.6g} s, with a step of {step:.3g} s.",
                    "Shorten the longest step, or lower the Courant number.",
                )
            driven = not self.physics.driving or self.physics.driving_residual < tolerance
            if count >= FEWEST and made.momentum < tolerance and made.mass < mass and driven:
                break
        else:
            self.missed += 1
            made = self._one_more(made)
        self.steps += 1
        self.last = Step(self.steps, made.momentum, made.mass, made.inner)
        self.worst_mass = max(self.worst_mass, self.flow.project_mass())
        if self.physics.scalars:
            self.physics.carry_on(CARRIED if self.means is None else MEAN_CARRIED)
            self._balance()
        self._tell()

    def _carry_only(self, step: float) -> None:
        """Do one time step of what is carried on the flow as it began."""
        if not self.steps:  # the fluxes of a start from elsewhere do not balance to the last digit
            self.worst_mass = self.flow.project_mass()
        self.physics.begin_step(step, kept=True)
        self._step = step
        self.steps += 1
        self.last = Step(self.steps, 0.0, self.worst_mass, 0)
        self.physics.carry_on(CARRIED)
        self._balance()
        self._tell()

    def _tell(self) -> None:
        """Take the readings of a step, and keep its state where one is due."""
        answer = self.physics.answer()
        if self.means is not None:
            self.means.add(answer)
        answer = self._with_swing(answer)
        self._read(answer)
        if self.time >= self._next_kept - 1e-9 * self.plan.every or self.finished():
            self.due.append(answer)
            while (
                self._next_kept <= self.time + 1e-9 * self.plan.every
            ):  # what is left by rounding is no step
                self._next_kept += self.plan.every

    def _one_more(self, made: Step) -> Step:
        """Do one more iteration of a step that missed its tolerance, and note how far it moves the readings,
        or else the velocity.
        """
        answer = self.answer()
        before = measure(self.settled.numbers.readings, answer)
        levels = levels_of(answer)
        speed = self.flow.U.copy()
        made = self.physics.step()
        after = measure(self.settled.numbers.readings, self.answer())
        moved = {"": float(np.abs(self.flow.U - speed).max() / (np.abs(speed).max() or 1.0))}
        for key, item in after.items():
            largest = max(
                [
                    abs(item.value),
                    *(abs(value) for value in self.traces.columns.get(key, []) if np.isfinite(value)),
                ]
            )
            if item.dimension == "temperature":
                largest = max(levels["temperature"], LEAST_SPREAD)
            largest = max(largest, above(item, levels) or 0.0)
            moved[key] = abs(item.value - before[key].value) / largest if largest > 0 else 0.0
        if len(moved) > 1:
            moved.pop("")
        worst = max(moved, key=lambda key: moved[key] if np.isfinite(moved[key]) else 0.0)
        if moved[worst] > self.missed_share:
            self.missed_share = moved[worst]
            self.missed_reading = worst
        return made

    def _choose(self) -> float:
        """Choose the step: never above the longest, the Courant number or the growth; ends meet kept
        times.
        """
        step = float(self.plan.step)
        rate = self.crossing_rate()
        if self.plan.courant > 0 and rate > 0:
            step = min(step, self.plan.courant / rate)
        if self._step is not None:
            step = min(step, GROWTH * self._step)
        ahead = min(self._next_kept, self.plan.until) - self.time
        pieces = max(1, int(np.ceil(ahead / step - 1e-9)))
        chosen = ahead / pieces if pieces < 10 else step
        self.largest_courant = max(self.largest_courant, chosen * rate)
        return chosen

    def crossing_rate(self) -> float:
        """Give the largest rate at which fluid crosses a cell, 1/s: the Courant number is this times the
        step.
        """
        mesh = self.physics.wet
        flux = np.abs(self.flow.flux)
        through = np.bincount(mesh.owner, flux, mesh.n_cells) + np.bincount(
            mesh.neighbour, flux[: mesh.n_internal], mesh.n_cells
        )
        return float((0.5 * through / mesh.volume).max(initial=0.0))

    def _balance(self) -> None:
        for name, scalar in self.physics.scalars.items():
            b = scalar.balance()
            matter = max(
                abs(b.carried_in),
                abs(b.carried_out),
                abs(b.through_walls),
                abs(b.made),
                abs(b.stored),
                self._held(scalar) / max(self.time - self.began_at, 1e-300),
                1e-300,
            )
            self._worst_open[name] = max(self._worst_open.get(name, 0.0), abs(b.open))
            self._matter[name] = max(self._matter.get(name, 1e-300), matter)
            # after a pulse little passes: the most counts
            self.worst_balance[name] = self._worst_open[name] / self._matter[name]

    def _held(self, scalar: Transported) -> float:
        """Give how much of something the space holds, in reports' unit times s: what departs from its mean,
        and a little of all. In a closed space nothing else is there to compare a loss with.
        """
        volume = scalar.mesh.volume
        mean = np.average(scalar.phi, weights=volume)
        there = np.abs(scalar.phi - mean) + LITTLE * np.abs(scalar.phi)
        return float((there * volume).sum()) * scalar.scale * scalar.mesh.turn

    def _read(self, answer: FieldResult) -> None:
        readings = self.settled.numbers.readings
        self.readings = followed(readings, measure(readings, answer), self.traces.columns, self.time)
        self.traces.add(self.last, {key: reading.value for key, reading in self.readings.items()}, self.time)

    def concluded(self, gap_cells: Callable[[], float]) -> tuple[FieldResult, list[Trust]]:
        """Give the field at the end and what the march is judged by; a march stopped at once does one
        step.
        """
        if not self.steps:
            self.one_step()
        answer = self.answer(final=True)
        if self.means is None or not self.means.enough:
            return answer, self.trust()
        mean = self.means.answer(answer)
        asked = self.settled.numbers.readings
        self.readings = followed(asked, measure(asked, mean), self.traces.columns, self.time)
        self.readings |= self.means.with_swing(self._of_moments(), self.traces.columns)
        return mean, self.trust()

    def _of_moments(self) -> dict[str, Any]:
        """Give the readings whose course holds values of moments, not of all that came before."""
        asked = self.settled.numbers.readings
        kinds = discover("mop_lantern.judge.readings", Reading)
        return {
            key: item
            for key, item in self.readings.items()
            if not kinds[asked[key].kind].over_time and getattr(asked[key], "quantity", "") != SWING
        }

    def _means(self) -> list[Trust]:
        """Judge whether means over time stand still."""
        moved = drifts(self.settled.numbers.readings, self.traces.columns)
        if self.means is None:
            return means_trust(moved)
        moved |= self.means.drifts(self._of_moments(), self.traces.columns, levels_of(self.answer()))
        return self.means.trust(self.mesh.volume) + means_trust(moved)

    def trust(self) -> list[Trust]:
        """Judge the march."""
        words = f"{self.steps - self.missed} of {self.steps} time steps reached their tolerance."
        if self.missed:
            words += f" One more iteration would move a reading by at most {self.missed_share:.1e}" + (
                f" ({self.missed_reading})." if self.missed_reading else "."
            )
        items = [
            graded(
                "steps",
                self.missed_share,
                MISSED_LIMIT,
                MISSED_FAILS,
                words,
            ),
            Trust(
                "mass_cells",
                "holds" if self.worst_mass <= MASS_LIMIT else "fails",
                self.worst_mass,
                MASS_LIMIT,
                (
                    f"Mass balances in every cell and step, to {max(self.worst_mass, 1e-16):.0e} of the "
                    "through-flow in sum."
                ),
            ),
            Trust(
                "courant",
                "holds" if self.largest_courant <= 5 else "caution",
                self.largest_courant,
                5.0,
                f"Fluid crosses at most {self.largest_courant:.2g} cells in a step.",
            ),
        ]
        items += self._means()
        for name, value in self.worst_balance.items():
            items.append(
                graded(
                    f"balance.{name}",
                    value,
                    BALANCE_LIMIT,
                    BALANCE_FAILS,
                    (
                        f"{self.physics.label(name).capitalize()} balances in every step, to "
                        f"{max(value, 1e-16):.0e}."
                    ),
                )
            )
        return items
