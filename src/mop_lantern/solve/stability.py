"""Whether a steady answer is one that the flow would stay in: it is disturbed a little and followed for some
steps in time.

Steady iterations may end in a state that no real flow keeps: rolls over a heated floor, the mirror-like wake
of a cylinder that sheds vortices. Source: linear stability by marching a disturbance (any text on
hydrodynamic stability); figures from our own check cases.
"""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.errors import RunError
from mop_lantern.judge import Trust
from mop_lantern.results import events
from mop_lantern.shape import Plane
from mop_lantern.solve.flow_run import FlowRun
from mop_lantern.solve.marching import SETTINGS
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.swinging import REMEDY
from mop_lantern.units import show

if TYPE_CHECKING:
    from mop_lantern.solve.solving import Solving

Floats = NDArray[np.float64]
# Reynolds number on the width of a body; vortices are shed from about 47 on (Williamson, Annu. Rev. Fluid
# Mech. 28 (1996))
SHEDDING = 40.0
DISTURBANCE = 0.01  # of the largest speed, of the spread of temperature
STEPS = 60
CROSSED, CROSSED_RISING = (
    4.0,
    16.0,
)  # cells in a step, where the flow is quick; rolls are slower to change than wakes
MOST_ITERATIONS, STEP_RESIDUAL = 10, 5e-3
MISSED = 0.2  # of the second half of the steps: with more that did not settle nothing is said
GROWN = 1.3  # over the second half of the steps
ALIVE = 0.05  # of the first disturbance: less is what the steady iterations left
MOST_CELLS = 20_000  # larger flows would take too long to follow


@dataclass(frozen=True)
class Stability:
    """How a disturbance went: ``growth`` over the second half of ``time`` (s), and whether it grew for
    good.
    """

    growth: float
    time: float
    unstable: bool


def suspect(settled: ResolvedCase, run: FlowRun) -> bool:
    """Tell whether a flow is of a kind that often has steady states it does not keep: driven by buoyancy, or
    past a body.
    """
    if run.mesh.n_cells > MOST_CELLS or not run.physics.wet.n_cells:
        return False
    if not run.finished() or run.at_its_end:  # there is no state yet that it could stay in
        return False
    if settled.numbers.physics.buoyancy != "none":
        return True
    shape = settled.shape
    if not isinstance(shape, Plane) or not settled.numbers.openings:
        return False
    nu = settled.medium.viscosity / settled.medium.density
    speed = float(np.average(np.linalg.norm(run.flow.U, axis=1), weights=run.physics.wet.volume))
    for ring in shape.polygon.interiors:
        west, south, east, north = ring.bounds
        if speed * min(east - west, north - south) / nu > SHEDDING:
            return True
    return False


def disturbed(solving: Solving, run: FlowRun) -> Generator[events.Event, None, Stability | None]:
    """Disturb a finished flow and follow it; None where that was stopped or burst."""
    yield events.stage("disturbing the flow to see whether it comes back", run.mesh.n_cells)
    start = run.physics.state()
    physics = Physics(run.settled, run.mesh, start.copy(), SETTINGS)
    rest = start.velocity
    physics.flow.U += DISTURBANCE * float(np.abs(rest).max()) * _wave(physics.wet.centre)
    if "T" in physics.driving:
        phi = physics.scalars["T"].phi
        phi += DISTURBANCE * float(np.ptp(phi)) * _wave(run.mesh.centre)[:, 0]
    step = _step(run)
    sizes = []
    missed = 0
    try:
        for number in range(STEPS):
            if solving.stop:
                return None
            physics.begin_step(step)
            for _ in range(MOST_ITERATIONS):
                made = physics.step()
                if made.momentum < STEP_RESIDUAL and physics.driving_residual < STEP_RESIDUAL:
                    break
            else:
                missed += number >= STEPS // 2
            off = np.sqrt(
                np.average(((physics.flow.U - rest) ** 2).sum(axis=1), weights=run.physics.wet.volume)
            )
            sizes.append(float(off))
            if not np.isfinite(off) or missed > MISSED * STEPS / 2:
                return None
            if number % 5 == 0:
                yield events.progress(number, made.momentum, made.mass, coarse=True)
    except RunError:
        return None
    half = sizes[STEPS // 2]
    growth = sizes[-1] / half if half > 0 else 0.0
    return Stability(growth, step * STEPS, growth > GROWN and sizes[-1] > ALIVE * sizes[0])


def _wave(places: Floats) -> Floats:
    """Give a smooth disturbance that mirrors nothing, (n, 3), between -1 and 1."""
    low = places.min(axis=0)
    width = np.ptp(places, axis=0)
    at = 2 * np.pi * (places - low) / np.where(width > 0, width, 1.0)
    first = np.sin(1.3 * at[:, 0] + 0.4) * np.sin(0.9 * at[:, 1] + 1.1)
    second = np.sin(2.1 * at[:, 0] + 2.0) * np.sin(1.7 * at[:, 1] + 0.3)
    return np.column_stack(
        [
            0.5 * (first - second),
            0.5 * (first + second),
            np.zeros(len(places)),
        ]
    )


def _step(run: FlowRun) -> float:
    """Give the time in which quick fluid crosses a few cells, s."""
    mesh = run.physics.wet
    flux = np.abs(run.flow.flux)
    through = np.bincount(mesh.owner, flux, mesh.n_cells) + np.bincount(
        mesh.neighbour, flux[: mesh.n_internal], mesh.n_cells
    )
    rate = float(np.quantile(0.5 * through / mesh.volume, 0.9))
    crossed = CROSSED_RISING if run.physics.driving else CROSSED
    return crossed / rate if rate > 0 else 1.0


def stability_trust(found: Stability | None, in_time: dict[str, Any]) -> list[Trust]:
    """Say whether the flow stays in the state it was given; ``in_time`` : edits that follow it."""
    if found is None:
        return []
    span = show(found.time / (2 if found.unstable else 1), "time", "s", 2)
    if found.unstable:
        words = (
            "Disturbed a little, the flow leaves this state: what was disturbed grew "
            f"{found.growth:.2g}-fold in {span}. A real flow would not stay here: follow it in time."
        )
        return [
            Trust(
                "stability",
                "fails",
                found.growth,
                1.0,
                words,
                REMEDY,
                in_time,
            )
        ]
    return [
        Trust(
            "stability",
            "holds",
            found.growth,
            1.0,
            f"Disturbed a little and followed for {span}, the flow does not leave this state.",
        )
    ]
