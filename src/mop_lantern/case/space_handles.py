"""Handles of the parts of a space: corners of the part itself that move with a dimension."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case.document import Case
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import LanternError
from mop_lantern.shape.join import bodies_of

Floats = NDArray[np.float64]
# of the part's size for each radian, or a fiftieth for each metre: what moves slower has no handle
FAST = 0.02
ARM = 0.16  # of the part's size: how far off the middle the handles that move it whole stand


def corners_of(case: Case, part: str) -> Floats | None:
    """Give the corners (n, 3) m of a part of a space as it is built before parts are joined; None while that
    cannot be.
    """
    numbers, faults = resolve(case)
    if (
        any(fault.path.startswith((f"shape.solids.{part}", "parameters")) for fault in faults)
        or part not in numbers.shape.solids
    ):
        return None
    before = {}
    for key, solid in numbers.shape.solids.items():
        before[key] = solid
        if key == part:
            break
    try:
        bodies = bodies_of(before)[part]
    except LanternError:
        return None
    return np.vstack([body.points for body in bodies]) if bodies else None


def steepest(
    before: Floats,
    after: Floats,
    nudge: float,
    taken: list[Floats],
    turns: bool,
) -> tuple[Floats, Floats] | None:
    """Give the corner that moves fastest with a dimension, rather one with no handle yet, and how fast it
    moves, (3,) and (3,) m a SI unit.

    What moves the part as a whole is held beside its middle.
    """
    if before.shape != after.shape:
        return None
    pull = (after - before) / nudge
    speed = np.linalg.norm(pull, axis=1)
    size = float(np.linalg.norm(np.ptp(before, axis=0))) or 1.0
    if speed.max() < (FAST * size if turns else 0.02):
        return None
    if np.abs(pull - pull[0]).max() < 1e-6 * speed.max():
        return 0.5 * (before.min(axis=0) + before.max(axis=0)) + ARM * size * pull[0] / speed[0], pull[0]
    worth = np.round(speed / speed.max(), 3)
    for other in taken:
        worth[np.linalg.norm(before - other, axis=1) < 0.03 * size] *= 0.3
    best = int(worth.argmax())  # of equals the first: a handle must not jump while dragged
    return before[best], pull[best]


def nudged(
    case: Case,
    part: str,
    apply: Callable[[float], Any],
    nudge: float,
    before: Floats,
) -> tuple[Floats, float] | None:
    """Build a part with a dimension a little larger, or smaller where that cannot be: its corners and the
    step.
    """
    for step in (nudge, -nudge):
        try:
            after = corners_of(apply(step), part)
        except LanternError:
            continue
        if after is not None and after.shape == before.shape:
            return after, step
    return None
