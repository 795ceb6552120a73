"""A straight round pipe or cone."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import Body, Others, Solid, frame, loft, round_ring


class Cylinder(Solid):
    """A cylinder, or a cone when its end has another diameter.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Cylinder or cone"
    group: ClassVar[str] = "Boxes and round parts"
    symbol: ClassVar[str] = (
        "M-0.7,-0.6 A0.7,0.25 0 1 1 0.7,-0.6 A0.7,0.25 0 1 1 -0.7,-0.6 Z M-0.7,-0.6 L-0.7,0.6 "
        "A0.7,0.25 0 0 0 0.7,0.6 L0.7,-0.6"
    )
    sentence: ClassVar[str] = (
        "{id}: a cylinder, {role}, from ({x}, {y}, {z}), heading {heading} and rising {rise}, {length} "
        "long, {diameter} across, {end} at its end."
    )

    kind: Literal["cylinder"] = "cylinder"
    heading: Text = quantity("angle", "heading", "Of its axis in the x-y plane, from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Of its axis over the x-y plane.", default="0 deg")
    length: Text = quantity(
        "length",
        "length",
        "Along its axis.",
        default="100 mm",
        above=0,
    )
    diameter: Text = quantity(
        "length",
        "diameter",
        "At its start.",
        default="20 mm",
        above=0,
    )
    end: Text = quantity(
        "length",
        "diameter at its end",
        "auto is that of its start.",
        default="auto",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Two rings."""
        along, aside, up = frame(numbers.heading, numbers.rise)
        start = np.array([numbers.x, numbers.y, numbers.z])
        end = numbers.diameter if numbers.end is None else numbers.end
        rings = [
            round_ring(start, aside, up, numbers.diameter / 2),
            round_ring(start + numbers.length * along, aside, up, end / 2),
        ]
        return loft(rings, ["wall"])
