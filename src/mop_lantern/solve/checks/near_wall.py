"""How near to walls the cells of a turbulent flow begin."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.units import show

Floats = NDArray[np.float64]
RESOLVED = 5.0
LOGARITHMIC = 30.0
OUTER = 300.0  # beyond, the law of the wall says little about most flows
SHARE = 0.05  # of the wall may lie outside the range told


class NearWall(TrustCheck):
    """The range of y+ of the cells on walls, in words.

    Source: the layers of the law of the wall (any text on turbulence); errors of the wall treatment by layer
    from our own columns and turned channels.
    """

    caption: ClassVar[str] = "Cells on walls of turbulent flow"
    kind: Literal["near_wall"] = "near_wall"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Tell the range of most of the wall."""
        turbulence = evidence.physics.turbulence
        if turbulence is None or not len(turbulence.walls.faces):
            return []
        size = turbulence.flow.geometry.size_b[turbulence.walls.faces]
        grain = turbulence.flow.boundary.roughness[turbulence.walls.faces]
        deep = grain > turbulence.walls.probed
        if size[deep].sum() > SHARE * size.sum():
            words = show(float(grain.max()), "length", "mm", 3)
            text = (
                f"The sand roughness, {words}, is larger than the cells on the wall are high: the law of "
                "rough walls does not hold there. Take larger cells, or draw the obstacles themselves."
            )
            return [
                Trust("near_wall", "fails", float(grain.max()), float(turbulence.walls.probed.min()), text)
            ]
        return [wall_trust(turbulence.y_plus, size, evidence.settled.numbers.heat.solve)]


def wall_trust(y_plus: Floats, size: Floats, heat: bool) -> Trust:
    """Judge y+ (w,) of wall faces of ``size`` (w,); heat wants it out of the buffer layer."""
    order = np.argsort(y_plus)
    share = np.cumsum(size[order]) / size.sum()
    at = np.minimum(np.searchsorted(share, [SHARE, 0.5, 1 - SHARE]), len(order) - 1)
    low, middle, high = y_plus[order][at].tolist()
    told = f"y+ on walls is {_shown(low)} to {_shown(high)}"
    if middle < RESOLVED:
        words = "the layer beside the wall is resolved"
    elif middle < LOGARITHMIC:
        words = "in the buffer layer, where the law of the wall is least certain (friction within about 8 %)"
    elif middle <= OUTER:
        words = "in the range of the law of the wall"
    else:
        words = "beyond the range of the law of the wall. Make the cells at walls smaller"
    poor = middle > OUTER or (heat and RESOLVED <= middle < LOGARITHMIC)
    if heat and RESOLVED <= middle < LOGARITHMIC:
        words += "; heat wants under 5 or over 30"
    return Trust("near_wall", "caution" if poor else "holds", middle, OUTER, f"{told}: {words}.")


def _shown(value: float) -> str:
    return f"{value:.0f}" if value >= 10 else f"{value:.2g}"
