"""A guess of how far the grid moves every reading: a few iterations on a grid twice as coarse, begun from the
finished field, and a second look at the same field. Where a coarser grid can say nothing (too few cells, a
coarse flow that does not come to rest) and the grid is small, a finer grid is asked instead; for tiny grids
always.

The second run starts next to its answer, so that it costs a few per cent of the solve. The guess tells good
readings from bad ones; it is no error bar, and it cannot see what both grids share: a wrong model, a steady
answer to an unsteady flow, features below both grids. Source: own study over results with known values
(`bench --trust` makes its figures again); the change is divided as for order two, Roache, J. Fluids Eng. 116
(1994) 405-413.
"""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.errors import RunError
from mop_lantern.field.face_geometry import gradients_of
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult, Trust, measure
from mop_lantern.judge.trust import GUESS_LIMIT as LIMIT
from mop_lantern.numerics.interpolate import carry
from mop_lantern.results import events
from mop_lantern.solve.flow_run import FlowRun
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.time_means import levels_of

if TYPE_CHECKING:
    from mop_lantern.solve.solving import Solving

Floats = NDArray[np.float64]
SECOND = 0.3  # what the second look counts beside the coarse grid
SECOND_EXTREME = 0.6  # the same for extremes over cells
FEWEST, PART = 20, 4  # iterations on the coarse grid: at least, and one for so many of the fine one
EARLY = 10
CALM, CALM_CARRIED = 1e-5, 1e-4
NO_HEAT = 1e-7  # of the heat that passes, counted from 0 K
LITTLE_FLOW = 1e-2  # of all that passes
RESTLESS = 3e-3
BLOCK = 50_000  # faces looked at in one go
LEAST_RATIO = 1.3
AHEAD_ALWAYS = 700  # cells of a grid so small that a finer one costs nothing and tells more
AHEAD_MOST = 3000  # cells of a grid small enough to look at from a finer one
AHEAD_ITERATIONS = 150
STEEP = 0.008  # rms of the jump of the reconstructed velocity between cells, of the largest speed


@dataclass(frozen=True)
class GridGuess:
    """What looking back from a coarser grid gave.

    Attributes
    ----------
    shares : of every reading, how far it may be off, relative; nan where nothing is known. between : readings
    whose second look says
    more than the other grid. changes : what the other grid changes them by, relative. restless : the coarse
    flow did not come to rest.
    reason : why nothing could be said, empty if something could. ahead : the other grid was a finer one, so
    that the shares are errors rather than signs of them.
    """

    shares: dict[str, float] = field(default_factory=dict)
    between: frozenset[str] = frozenset()
    changes: dict[str, float] = field(default_factory=dict)
    restless: bool = False
    reason: str = ""
    ahead: bool = False

    @property
    def blind(self) -> bool:
        """Tell whether the coarser grid could say nothing."""
        return self.restless or bool(self.reason)


@dataclass(frozen=True)
class SecondLook(FieldResult):
    """The same field read otherwise: by the slopes of the nearest cells instead of a fit, extremes of cells
    with what may hide in them.
    """

    def sampler(self, what: str, places: Floats) -> Floats:
        """Give values by inverse distance of what the nearest cells make of them with their slopes."""
        if what in ("speed", "total"):
            velocity = np.column_stack([self._carried(self.velocity[:, k], places, what) for k in range(3)])
            speed = np.linalg.norm(velocity, axis=1)
            return (
                speed
                if what == "speed"
                else self._carried(self.pressure, places, what) + 0.5 * self.density * speed**2
            )
        return self._carried(self.cells(what), places, what)

    def _carried(self, values: Floats, places: Floats, what: str) -> Floats:
        """Carry values of the cells to places, from cells of the same region only."""
        mesh = self.mesh
        full = np.zeros((len(places), 3))
        full[:, : places.shape[1]] = places
        columns = values[:, None]
        slopes = gradients_of(mesh, columns)
        cell = mesh.locator.cells(places)
        found = np.full(len(places), np.nan)
        for region in mesh.region_names:
            near = mesh.cells_of(region) & self.covers(what)
            here = (cell >= 0) & near[cell]
            if here.any():
                moved = carry(mesh.centre[near], columns[near], full[here], gradients=slopes[near])
                found[here] = moved[:, 0]
        return found


def look_back(
    solving: Solving, run: FlowRun, coarse: Mesh | None
) -> Generator[events.Event, None, GridGuess]:
    """Guess how far the grid moves the readings of a finished run; ``coarse`` is its grid twice as coarse,
    None if there is none.
    """
    if coarse is None:
        return GridGuess(reason="No coarser grid could be made")
    ratio = _size(coarse) / _size(run.mesh)
    if ratio < LEAST_RATIO:
        return GridGuess(reason="The grid does not coarsen")
    yield events.stage("looking back from a coarser grid", coarse.n_cells)
    most = max(FEWEST, run.last.iteration // PART)
    back = yield from _followed(solving, run, coarse, most)
    if solving.stop:
        return GridGuess(reason="The look from a coarser grid was stopped")
    if back is None:
        return GridGuess(restless=True)
    return _compared(run, back, ratio)


def look_ahead(solving: Solving, run: FlowRun, fine: Mesh) -> Generator[events.Event, None, GridGuess]:
    """Tell how far the grid moves the readings of a finished run, from a grid twice as fine."""
    yield events.stage("looking ahead from a finer grid", fine.n_cells)
    ahead = yield from _followed(solving, run, fine, AHEAD_ITERATIONS)
    if solving.stop:
        return GridGuess(reason="The look from a finer grid was stopped")
    if ahead is None:
        return GridGuess(restless=True)
    readings = run.settled.numbers.readings
    answer = run.physics.answer(final=True)
    here = measure(readings, answer)
    there = measure(readings, ahead.physics.answer(final=True))
    changes = _changes(run.settled, here, there, answer)
    ratio = _size(run.mesh) / _size(fine)
    return GridGuess(
        {key: change * ratio**2 / (ratio**2 - 1) for key, change in changes.items()},
        changes=changes,
        ahead=True,
    )


def _size(mesh: Mesh) -> float:
    from mop_lantern.solve.solving import representative_size

    return representative_size(mesh)


def _followed(
    solving: Solving,
    run: FlowRun,
    mesh: Mesh,
    most: int,
) -> Generator[events.Event, None, FlowRun | None]:
    """Carry a finished flow onto another grid and let it settle there; None where it does not."""
    from mop_lantern.solve.solving import BATCH, Carried

    try:
        other = FlowRun(run.settled, mesh, Carried(run.mesh, run.physics.state()).onto(mesh))
        if run.physics.turbulence is not None and run.flow.calmed:
            other.flow.calm(*run.flow.calming)
        while other.last.iteration < most and not solving.stop and other.sound() and not _calm(other):
            other.advance(BATCH, max(EARLY - other.last.iteration, 1))
            yield events.progress(other.last.iteration, other.last.momentum, other.last.mass, coarse=True)
        if not other.sound() or other.last.momentum > RESTLESS:
            return None
        if not solving.stop and set(other.physics.scalars) - set(other.physics.driving):
            other.physics.finish()
    except RunError:
        return None
    return other


def _calm(back: FlowRun) -> bool:
    if back.last.iteration < EARLY or back.last.momentum > CALM:
        return False
    return not back.physics.driving or back.physics.driving_residual < CALM_CARRIED


def _compared(run: FlowRun, back: FlowRun, ratio: float) -> GridGuess:
    """Compare readings of two grids, and two looks at the fine one."""
    readings = run.settled.numbers.readings
    fine = run.physics.answer(final=True)
    here = measure(readings, fine)
    there = measure(readings, back.physics.answer(final=True))
    again = measure(readings, SecondLook(**{name: getattr(fine, name) for name in fine.__dataclass_fields__}))
    changes = _changes(run.settled, here, there, fine)
    shares = {}
    between = set()
    for key, reading in here.items():
        scale = scale_of(
            key,
            reading.dimension,
            here,
            readings[key],
            fine,
        )
        second = _second(readings[key], fine, again[key].value - reading.value) / scale
        guess = changes[key] / (ratio**2 - 1)
        shares[key] = max(guess, second)
        if second > guess:
            between.add(key)
    return GridGuess(shares, frozenset(between), changes)


def _changes(
    settled: ResolvedCase,
    here: dict[str, Any],
    there: dict[str, Any],
    answer: FieldResult,
) -> dict[str, float]:
    """Give what another grid changes every reading by, relative."""
    readings = settled.numbers.readings
    changes = {}
    for key, reading in here.items():
        scale = scale_of(
            key,
            reading.dimension,
            here,
            readings[key],
            answer,
        )
        changes[key] = (
            0.0 if reading.value == there[key].value == 0 else abs(there[key].value - reading.value) / scale
        )
    return changes


def _second(numbers: Any, answer: FieldResult, difference: float) -> float:
    """Give what a second look at a reading counts, SI: for an extreme over cells what a parabola may hide
    between their middles.
    """
    if getattr(numbers, "kind", "") != "region" or numbers.measure not in ("min", "max"):
        return SECOND * abs(difference) if np.isfinite(difference) else 0.0
    mesh = answer.mesh
    values = answer.cells(numbers.quantity)
    sign = -1.0 if numbers.measure == "min" else 1.0
    cell = int(np.argmax(np.where(answer.covers(numbers.quantity), sign * values, -np.inf)))
    ways = len(mesh.ways)
    slope = np.abs(gradients_of(mesh, values[:, None])[cell, 0, :ways])
    _, slot = mesh.locator.around.of(np.array([cell]))
    reach = np.abs(
        mesh.locator.around.nodes[mesh.locator.around.beyond[slot]] - mesh.centre[cell, :ways]
    ).max(axis=0)
    return SECOND_EXTREME * float((slope * reach).sum()) / 4


def scale_of(
    key: str,
    dimension: str,
    taken: dict[str, Any],
    numbers: Any,
    answer: FieldResult,
) -> float:
    """Give what a change of a reading is measured against: itself, but not less than what its quantity is
    about.

    Temperatures count from their spread, pressures at a place from the spread of the pressure, components of
    the velocity from the largest speed, forces from the other component, flows from a hundredth of all that
    passes; all at least from a hundredth of the largest reading of the same dimension.
    """
    value = abs(taken[key].value)
    largest = max(
        (
            abs(item.value)
            for item in taken.values()
            if item.dimension == dimension and np.isfinite(item.value)
        ),
        default=0.0,
    )
    scale = max(value, 0.01 * largest)
    what = getattr(numbers, "quantity", "")
    if dimension == "temperature" and answer.has("T"):
        scale = answer.spread(what) or scale
    elif what in ("pressure", "total") and dimension == "pressure" and getattr(numbers, "kind", "") != "drop":
        scale = max(value, float(np.ptp(answer.cells("pressure")[answer.wet])))
    elif what in ("u", "v", "w") and dimension == "velocity":
        scale = max(scale, 0.1 * float(np.linalg.norm(answer.velocity, axis=1).max()))
    elif dimension == "power" and answer.has("T"):
        scale = max(scale, NO_HEAT * float(np.abs(answer.scalars["T"].leaving).sum()))
    elif dimension in ("volume_flow", "mass_flow"):
        scale = max(scale, LITTLE_FLOW * levels_of(answer)[dimension])
    elif dimension == "force":
        scale = max(scale, 0.1 * largest)
    return float(scale) or 1e-300


def steepness(mesh: Mesh, values: Floats, slopes: Floats, largest: float) -> float:
    """Give the rms jump of reconstructed values (n_cells, k), by their slopes (n_cells, k, 3), between cells,
    over the ``largest``: how coarse cells look from inside.
    """
    total = weight = 0.0
    for start in range(0, mesh.n_internal, BLOCK):  # in parts, for the memory
        part = slice(start, min(start + BLOCK, mesh.n_internal))
        sides = []
        for cells in (mesh.owner[part], mesh.neighbour[part]):
            sides.append(
                values[cells]
                + np.einsum("fij,fj->fi", slopes[cells], mesh.face_centre[part] - mesh.centre[cells])
            )
        size = np.linalg.norm(mesh.area[part], axis=1)
        total += float((size * ((sides[0] - sides[1]) ** 2).sum(axis=1)).sum())
        weight += float(size.sum())
    return float(np.sqrt(total / weight) / largest) if weight > 0 and largest > 0 else 0.0


def guess_trust(guess: GridGuess, titles: dict[str, str]) -> list[Trust]:
    """Say in words what the guess says of the readings."""
    if guess.restless:
        words = (
            "The cells are coarse: on a grid twice as coarse this flow does not even come to rest, so "
            "nothing tells how far the readings are off. Halve the cells and compare."
        )
        return [
            Trust(
                "grid_guess",
                "caution",
                1.0,
                LIMIT,
                words,
            )
        ]
    known = {key: share for key, share in guess.shares.items() if np.isfinite(share)}
    if guess.reason:
        return [
            Trust(
                "grid_guess",
                "caution",
                0.0,
                LIMIT,
                f"{guess.reason}: nothing is said about how far the cells move the readings.",
            )
        ]
    if not known:
        return []
    worst = max(known, key=lambda key: known[key])
    share = known[worst]
    change = guess.changes[worst]
    name = titles.get(worst, worst)
    other = "fine" if guess.ahead else "coarse"
    if share <= LIMIT:
        most = max(guess.changes[key] for key in known)
        words = (
            f"A grid twice as {other} changes no reading by more than {most:.1%}; {name} is off by about "
            f"{share:.1%}, guessed."
        )
        return [
            Trust(
                "grid_guess",
                "holds",
                share,
                LIMIT,
                words,
            )
        ]
    others = sum(value > LIMIT for value in known.values()) - 1
    also = f", and for {others} more reading{'s' if others > 1 else ''}" if others else ""
    if worst in guess.between:
        words = f"The cells are coarse for {name}{also}: about {share:.0%} of it may hide between them."
    else:
        more = "" if guess.ahead else " or more"
        words = (
            f"The cells are coarse for {name}{also}: a grid twice as {other} changes it by {change:.0%}, "
            f"so it may be off by about {share:.0%}{more}."
        )
    return [
        Trust(
            "grid_guess",
            "caution",
            share,
            LIMIT,
            words + " Halve the cells and compare.",
        )
    ]


def gap_seen(items: list[Trust], guess: GridGuess) -> list[Trust]:
    """Take the caution for few cells across a passage back where a finer grid has shown that they do."""
    known = [share for share in guess.shares.values() if np.isfinite(share)]
    if not guess.ahead or not known or max(known) > LIMIT:
        return items
    words = "; a grid twice as fine moves no reading by more than the guess."
    return [
        replace(item, verdict="holds", text=item.text.split(").")[0] + ")" + words)
        if item.id == "gap"
        else item
        for item in items
    ]


def steep_trust(physics: Physics) -> list[Trust]:
    """Judge the cells of a flow that no coarser grid was asked about by how it jumps between them, or of
    solids alone by how their temperature does.
    """
    flow = physics.flow
    what, scale = "flow", "of the largest speed"
    if physics.wet.n_cells:
        fastest = float(np.sqrt((flow.U**2).sum(axis=1).max(initial=0.0)))
        jump = steepness(flow.mesh, flow.U, flow.velocity_gradient, fastest)
    else:
        what, scale = "temperature", "of its whole range"
        values = physics.scalars["T"].phi[:, None]
        jump = steepness(physics.mesh, values, gradients_of(physics.mesh, values), float(np.ptp(values)))
    if jump <= STEEP:
        words = (
            f"The {what} changes evenly from cell to cell: what two cells make of the face between them "
            f"differs by {jump:.2%} {scale}."
        )
        return [Trust("grid_guess", "holds", jump, STEEP, words)]
    words = (
        f"The {what} changes steeply from cell to cell: what two cells make of the face between them differs "
        f"by {jump:.1%} {scale}. The cells are coarse: halve them and compare."
    )
    return [Trust("grid_guess", "caution", jump, STEEP, words)]
