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
