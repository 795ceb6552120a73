"""Steady iterations that never come to rest: told as such, read in the mean, and offered to be followed in
time.

A mean over iterations is no mean over time: on a plate across a channel it moved by a third with the
relaxation. So it never passes for a trusted answer.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge import Measured, Trust
from mop_lantern.judge.swing import Swing, swing_of
from mop_lantern.judge.trust import FLAT_FAILS, FLAT_LIMIT, NEARLY, graded
from mop_lantern.solve.physics import coupled_limit
from mop_lantern.units import preferred, show_change

if TYPE_CHECKING:
    from mop_lantern.solve.flow_run import FlowRun, Traces

Floats = NDArray[np.float64]
LEAST_ITERATIONS = 400
RESTLESS, RECENT = (
    200,
    10,
)  # iterations before a flow may be called so; looks at its residual that are compared
STILL_FALLING = 0.9
ONE_WAY = 0.5  # correlation of changes, from which on a flow is on its way and does not swing
HARDER = (0.05, 60.0)  # how hard and how long what swings on in spite of that is calmed
CALMED, LONG = 300, 30  # iterations before it is, and looks that are compared
LOOK_EVERY = 25  # iterations
PERIODS, FEWEST_PERIODS = 6, 2  # to give up; to give a mean at all
FALLING = 0.7  # of the residual's middle over a third of the course: below, it is still on its way
LITTLE = 0.05  # of a reading: where the residual is low, its mean over whole swings is as good as steady
SETTLING = 0.4  # of the time followed: before, the flow is still on its way from the steady iterations
PASSAGES, STEPS, KEPT = 5.0, 200.0, 50.0  # of the space by the flow; longest steps and states kept over them
COURANT_OF_MEANS = 4
REMEDY = "Follow it in time"


def swings_of(traces: Traces, keys: list[str], least: int = FEWEST_PERIODS) -> dict[str, Swing]:
    """Give how the readings swing that do."""
    places = np.array(traces.columns.get("iteration", []), float)
    found = {}
    for key in keys:
        swing = swing_of(places, np.array(traces.columns[key], float), least)
        if swing is not None:
            found[key] = swing
    return found


def restless(run: FlowRun) -> bool:
    """Tell whether a turbulent flow swings on instead of coming to rest, calmed or not; what changes one way
    does not swing, though its residual may rise for a while.
    """
    if run.physics.turbulence is None or len(run.looks) < 3:
        return False
    if run.last.iteration < RESTLESS or run.last.momentum < run.residual:
        return False
    if run.flow.calmed and run.last.iteration < run.flow.calmed_at + CALMED:
        return False
    recent = LONG if run.flow.calmed else RECENT
    residual = np.array(run.traces.columns["momentum"], float)[-2 * recent :]
    settling = np.median(residual[-recent:]) <= STILL_FALLING * np.median(residual[:-recent])
    return not settling and _back_and_forth(run.looks, run.physics.wet.volume)


def _back_and_forth(looks: list[Floats], volume: Floats) -> bool:
    """Tell whether velocities (3 looks at (n_cells, 3) m/s) do not go on changing the way they changed."""
    first, second = np.diff(np.stack(looks), axis=0)
    weight = volume[:, None]
    common = float((weight * first * second).sum())
    each = [float((weight * change**2).sum()) for change in (first, second)]
    return common < ONE_WAY * float(np.sqrt(each[0] * each[1]))


def calm_down(run: FlowRun) -> None:
    """Look at a turbulent flow now and then, and damp its swings where it is restless; where that was not
    enough, harder.
    """
    if run.physics.turbulence is None or run.last.iteration % LOOK_EVERY:
        return
    run.looks = [*run.looks[-2:], run.flow.U.copy()]
    if restless(run):
        run.flow.calm(*(HARDER if run.flow.calmed else ()))


def calmed_trust(run: FlowRun) -> list[Trust]:
    """Say that a steady flow was only found by damping its swings."""
    if run.physics.turbulence is None or not run.flow.calmed:
        return []
    text = (
        "Left alone, the iterations swung: they were damped towards their mean to come to rest. The answer "
        "is one of the steady equations; a real flow would swing about it."
    )
    return [Trust("calmed", "caution", 1.0, 0.0, text)]


def gives_up(run: FlowRun) -> bool:
    """Tell whether more iterations would change nothing: the residual has stopped falling, and every reading
    that is not steady swings about a mean that stays; or all are steady, and the residual of a turbulent flow
    is little above its limit.
    """
    if run.last.iteration < LEAST_ITERATIONS or run.last.iteration % LOOK_EVERY:
        return False
    residual = np.array(run.traces.columns["momentum"], float)
    third = len(residual) // 3
    latest = float(np.median(residual[-third:]))
    if latest < FALLING * np.median(residual[third : 2 * third]):
        return False
    changes = run.changes()
    moving = [key for key, change in changes.items() if change > FLAT_LIMIT]
    worst = max(changes.values(), default=0.0)
    if run.physics.turbulence is not None and not moving and latest < NEARLY * run.residual:
        return not run.physics.driving or run.physics.driving_residual < coupled_limit(run.residual)
    return worst > FLAT_FAILS and len(swings_of(run.traces, moving, PERIODS)) == len(moving)


def averaged(taken: dict[str, Measured], swings: dict[str, Swing]) -> dict[str, Measured]:
    """Give readings in the mean of their whole periods."""
    return {
        key: replace(item, value=swings[key].mean, swing=swings[key].half) if key in swings else item
        for key, item in taken.items()
    }


def swing_trust(run: FlowRun, change: float, whose: str, swings: dict[str, Swing]) -> Trust:
    """Say how far the readings swing, and what to do about it."""
    if whose not in swings:
        shown = run.shown(whose)
        words = f"Readings are steady to {change:.1e} over the last stretch{shown and f' (worst: {shown})'}."
        told = graded("readings", change, FLAT_LIMIT, FLAT_FAILS, words)
        if told.verdict != "fails" or not run.flow.calmed or run.last.iteration < LEAST_ITERATIONS:
            return told
        words += " Damping its swings has not brought it to rest: the flow may have no steady state."
        return replace(told, text=words, remedy=REMEDY, edits=in_time(run, mean=True))
    swing = swings[whose]
    item = {**run.watched, **run.readings}[whose]
    many = " and others" if len(swings) > 1 else ""
    unit = preferred(item.dimension, run.settled.case.units)
    words = (
        f"The iterations keep swinging: {run.shown(whose) or item.title}{many}, by "
        f"{show_change(swing.half, item.dimension, unit)} to either side in {swing.period:.0f} iterations. "
        f"The mean over {swing.periods} whole swings is shown, and depends on how it was solved: "
        "the flow may have no steady state."
    )
    level = run.spread if item.dimension == "temperature" else abs(swing.mean)
    share = swing.half / max(level, 1e-300)
    if run.last.momentum < run.residual and share < LITTLE:
        words = (
            f"The flow is steady but for a little swing: {run.shown(whose) or item.title}{many}, by "
            f"{share:.1%} to either side in {swing.period:.0f} iterations. The mean over {swing.periods} "
            "whole swings is shown."
        )
        return Trust("readings", "caution", share, FLAT_LIMIT, words)
    told = graded("readings", change, FLAT_LIMIT, FLAT_FAILS, words)
    return replace(told, remedy=REMEDY, edits=in_time(run, mean=True))


def in_time(run: FlowRun, mean: bool = False) -> dict[str, Any]:
    """Give the edits that follow a flow in time, for as long as it takes to pass its space some times; in the
    ``mean`` over the last of it, where it is not the moment that is looked for: then for as long as it takes
    to run along its space some times, which in a room is far less.
    """
    wet = run.physics.wet
    flux = run.flow.flux[wet.n_internal :]
    through = float(np.maximum(flux, 0.0).sum())
    speed = float(run.flow.reference_speed) or 1.0
    passage = float(wet.volume.sum()) / through if through > 0 else run.settled.shape.size / speed
    usual = float(np.average(np.linalg.norm(run.flow.U, axis=1), weights=wet.volume))
    if mean and usual > 0:
        passage = min(passage, run.settled.shape.size / usual)
    until = float(f"{PASSAGES * passage:.2g}")
    edits = {
        "field.time.mode": "transient",
        "field.time.until": f"{until:g} s",
        "field.time.step": f"{until / STEPS:.3g} s",
        "field.time.courant": f"{COURANT_OF_MEANS if mean else 2}",
        "field.time.every": f"{until / KEPT:.3g} s",
    }
    if mean:
        edits |= {"field.time.shows": "mean", "field.time.mean_from": f"{SETTLING * until:.3g} s"}
    return edits


def going_on(items: list[Trust], folder: Callable[[], Path]) -> list[Trust]:
    """Let what follows a flow in time for its means begin from the answer that will be stored in ``folder``:
    the way from rest would be long.
    """
    return [
        replace(item, edits={**item.edits, "field.start.solution": str(folder())})
        if item.remedy == REMEDY and item.edits.get("field.time.shows") == "mean"
        else item
        for item in items
    ]
