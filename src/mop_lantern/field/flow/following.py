"""Openings whose pressure follows the flow through them: a curve of a fan, the resistance of what lies
behind.

Neither the fluxes nor the pressures of such an opening can be given before the other: a steep curve whose
pressure is taken from the last iteration runs away. So the pressure of such an opening moves together with
that of the cells and the fluxes, in the one correction that closes the mass balance.

Source: own derivation (the curve made linear at the present flow, as in Newton's method).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

STEP = 0.3  # of the way to the local losses, an iteration
SLOW = 0.05  # of the way to what a profile loses more than the mean flow, an iteration
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Following:
    """An opening whose pressure follows the flow through it.

    Attributes
    ----------
    faces : (k,) int; boundary faces. turn : factor from stored fluxes to the whole body. law : gives the
    pressure (Pa) and its slope (Pa/(m3/s)) at a volume flow out of the space (m3/s) and at all that enters it
    elsewhere (m3/s). holds_flow : it is so steep that it is the flow that is given: its pressure begins
    anywhere.
    """

    faces: NDArray[np.int64]
    turn: float
    law: Callable[[float, float], tuple[float, float]]
    holds_flow: bool = False


def laws(
    every: Sequence[Following],
    sums: Floats,
    entering: float,
    density: float,
) -> tuple[Floats, Floats]:
    """Give the pressures a flow makes and how they rise with it.

    Parameters
    ----------
    sums : (k,) m3/s as stored, out of the space through every opening. entering : m3/s as
    stored, into the space through all others. density : reference, kg/m3.

    Returns
    -------
    pressure : (k,) over density, m2/s2. slopes : (k,) of it by the stored flow, (m2/s2)/(m3/s); a curve that
    falls with the flow is taken as flat.
    """
    found = [
        one.law(one.turn * float(total), one.turn * entering) for one, total in zip(every, sums, strict=True)
    ]
    pressure = [each / density for each, _ in found]
    slopes = [max(slope, 0.0) / density * one.turn for one, (_, slope) in zip(every, found, strict=True)]
    return np.array(pressure), np.array(slopes)


def move_local(
    local: Floats,
    every: Sequence[Following],
    loss: Floats,
    through: Floats,
    size: Floats,
    ratio: Floats | float,
    ease: Floats,
) -> None:
    """Move what every face of an opening loses more than the opening does on the whole, (n_boundary,) m2/s2.

    What goes both ways through an open door cancels in its flow, and every layer is held back by its own
    speed all the same. What goes one way alone loses by its mean speed, as loss coefficients are defined;
    between the two counts the share that is cancelled.

    Fluxes answer at once to the pressure of their face: the more they do, the shorter the step. What the
    faces lose more together moves slowly, so that it does not undo the law.

    Parameters
    ----------
    loss : dynamic pressures lost. through : volume flows out of the space, m3/s. size : m2. ratio : of the
    density to the reference. ease : what fluxes answer to a pressure, m3/s by m2/s2; all (n_boundary,).

    Source: Bernoulli for every layer that passes (Brown and Solvason 1962, from memory).
    """
    thinness = np.broadcast_to(ratio, len(local))
    for one in every:
        mine = one.faces
        if not loss[mine].any():
            continue
        area = size[mine]
        speed = through[mine] / area
        whole = through[mine].sum() / area.sum()
        cancelled = 1.0 - abs(through[mine].sum()) / max(np.abs(through[mine]).sum(), 1e-300)
        by_square = 0.5 * loss[mine] * thinness[mine]
        more = cancelled * by_square * (speed * np.abs(speed) - whole * abs(whole))
        mean, level = np.average([more, local[mine]], axis=1, weights=area)
        shape = local[mine] - level
        answers = 2.0 * by_square * np.abs(speed) / area * ease[mine]
        shape += STEP / (1.0 + answers) * (more - mean - shape)
        local[mine] = shape + level + SLOW * (mean - level)
