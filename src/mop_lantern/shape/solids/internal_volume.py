"""The internal volume of solid parts: the fluid is what their walls enclose."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, reference, unused
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import ALSO, Body, Others, Solid, loft, original, without_also

MARGIN = 0.05  # of the size: how far the fluid reaches around before walls are taken away
OUTSIDE = "outside"


class InternalVolume(Solid):
    """Fluid all around and within a solid part that stands before it, whose walls then take space away; with
    a wet point in it only that is kept.

    Openings of the walls are closed by caps. Where one is left, the fluid gets out: that is told, with the
    way it takes.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Internal volume of a solid"
    group: ClassVar[str] = "From a file"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8 M-0.6,0 L0,0 L0,0.5 L-0.6,0.5 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: the fluid fills the internal volume of {of}" + ALSO + "; where it is, the wet point says."
    )

    kind: Literal["internal_volume"] = "internal_volume"
    beneath: ClassVar[bool] = True
    enclosed: ClassVar[bool] = True
    role: Literal["fluid"] = choice(
        "role", "It is full of fluid.", {"fluid": "full of fluid"}, default="fluid"
    )  # type: ignore[assignment]
    of: str = reference("solid", "part", "The solid part whose internal volume is meant.")
    also: tuple[str, ...] = reference(
        "solids", "further parts", "Solid parts that enclose it together with it, by their names.", default=()
    )
    x: Text = unused("x")
    y: Text = unused("y")
    z: Text = unused("z")

    def template(self, space: bool = False) -> str:
        """Further parts are told where there are any."""
        return without_also(super().template(space), self.also)

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """A box around the part; its sides are the outside."""
        points = np.vstack([body.points for body in original(numbers, others)])
        low = points.min(axis=0)
        high = points.max(axis=0)
        more = MARGIN * float(np.linalg.norm(high - low))
        (x0, y0, z0), (x1, y1, z1) = low - more, high + more
        ring = np.array(
            [
                [x0, y0],
                [x1, y0],
                [x1, y1],
                [x0, y1],
            ]
        )
        return loft([np.column_stack([ring, np.full(4, z)]) for z in (z0, z1)], [OUTSIDE], (OUTSIDE, OUTSIDE))
