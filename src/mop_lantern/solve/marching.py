"""A flow followed in time: step by step, states kept, readings taken at every step."""

from __future__ import annotations

import time as clock
from typing import Any

import numpy as np

from mop_lantern.case import Settled
from mop_lantern.errors import RunError
from mop_lantern.field.flow import FlowSettings, FlowState, Step
from mop_lantern.grid import Mesh
from mop_lantern.judge import Answer, Trust, measure
from mop_lantern.judge.trust import BALANCE_LIMIT, MASS_LIMIT
from mop_lantern.solve.flow_run import Traces
from mop_lantern.solve.physics import Physics

STEP_TOLERANCE = 1e-4  # scaled residuals at the end of a step; tenfold tighter moves a shedding frequency by less than 0.1 %
STEP_MOST = 25
FEWEST = 2
GROWTH = 1.2  # of the step from one to the next
SETTINGS = FlowSettings(relaxation=1.0, sweeps=3, pressure_tolerance=0.01, acceleration=False)


class Marching:
    """A flow in time on one grid with its readings.

    Parameters
    ----------
    settled : the case. mesh : its grid. start : where to begin; its time is where the clock starts.
    """

    def __init__(self, settled: Settled, mesh: Mesh, start: FlowState | None) -> None:
        self.settled, self.mesh = settled, mesh
        self.plan = settled.numbers.time
        begin = start.time if start is not None else 0.0
        self.physics = Physics(settled, mesh, start, SETTINGS, begin)
        self.flow = self.physics.flow
        self.traces = Traces()
        self.last = Step(0, 0.0, 0.0, 0)
        self.readings: dict[str, Any] = {}
        self.steps, self.missed, self.worst_mass = 0, 0, 0.0
        self.worst_balance: dict[str, float] = {}
        self._worst_open: dict[str, float] = {}
        self._matter: dict[str, float] = {}
        self.largest_courant = 0.0
        self.began_at = begin
        self._step: float | None = None
        self._began = clock.monotonic()
        self._next_kept = begin + self.plan.every
        self.due: list[Answer] = []

    @property
    def time(self) -> float:
        """The time reached, s."""
        return self.physics.time

    @property
    def backed_off(self) -> bool:
        """A march has no relaxation to strengthen."""
        return False

    def answer(self) -> Answer:
        """Give the present field."""
        return self.physics.answer()

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
        self.physics.begin_step(step)
        self._step = step
        for count in range(1, STEP_MOST + 1):
            made = self.physics.step()
            if not np.isfinite((made.momentum, made.mass)).all() or not np.isfinite(self.flow.U).all():
                raise RunError(
                    "the flow burst in time;", f"at t = {self.time:.6g} s, with a step of {step:.3g} s.", "Shorten field.time.step, or lower field.time.courant."
                )
            driven = not self.physics.driving or self.physics.driving_residual < STEP_TOLERANCE
            if count >= FEWEST and made.momentum < STEP_TOLERANCE and made.mass < STEP_TOLERANCE and driven:
                break
        else:
            self.missed += 1
        self.steps += 1
        self.last = Step(self.steps, made.momentum, made.mass, made.inner)
        self.worst_mass = max(self.worst_mass, self.flow.close())
        if self.physics.scalars:
            self.physics.carry_on(1e-9)
            self._balance()
        self._read()
        if self.time >= self._next_kept - 1e-9 * self.plan.every or self.finished():
            self.due.append(self.answer())
            while self._next_kept <= self.time * (1 + 1e-12):
                self._next_kept += self.plan.every

    def _choose(self) -> float:
        """Choose the step: never above the longest, the Courant number or the growth; ends meet kept times."""
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
        """Give the largest rate at which fluid crosses a cell, 1/s: the Courant number is this times the step."""
        mesh, flux = self.mesh, np.abs(self.flow.flux)
        through = np.bincount(mesh.owner, flux, mesh.n_cells) + np.bincount(mesh.neighbour, flux[: mesh.n_internal], mesh.n_cells)
        return float((0.5 * through / mesh.volume).max())

    def _balance(self) -> None:
        for name, scalar in self.physics.scalars.items():
            b = scalar.balance()
            matter = max(abs(b.carried_in), abs(b.carried_out), abs(b.through_walls), abs(b.made), abs(b.stored), 1e-300)
            self._worst_open[name] = max(self._worst_open.get(name, 0.0), abs(b.open))
            self._matter[name] = max(self._matter.get(name, 1e-300), matter)
            self.worst_balance[name] = self._worst_open[name] / self._matter[name]  # after a pulse little passes: the most counts

    def _read(self) -> None:
        self.readings = measure(self.settled.numbers.readings, self.answer())
        self.traces.add(self.last, {key: reading.value for key, reading in self.readings.items()}, self.time)

    def trust(self) -> list[Trust]:
        """Judge the march."""
        share = self.missed / max(self.steps, 1)
        items = [
            Trust("steps", "holds" if share == 0 else "caution" if share < 0.05 else "fails", share, 0.0,
                  f"{self.steps - self.missed} of {self.steps} time steps reached their tolerance."),
            Trust("mass_cells", "holds" if self.worst_mass <= MASS_LIMIT else "fails", self.worst_mass, MASS_LIMIT,
                  f"Mass balances in every cell and step, to {max(self.worst_mass, 1e-16):.0e} of the through-flow in sum."),
            Trust("courant", "holds" if self.largest_courant <= 5 else "caution", self.largest_courant, 5.0,
                  f"Fluid crosses at most {self.largest_courant:.2g} cells in a step."),
        ]  # fmt: skip
        for name, value in self.worst_balance.items():
            verdict = "holds" if value <= BALANCE_LIMIT else "fails"
            items.append(Trust(f"balance.{name}", verdict, value, BALANCE_LIMIT, f"{self.physics.label(name).capitalize()} balances in every step, to {max(value, 1e-16):.0e}."))
        return items
