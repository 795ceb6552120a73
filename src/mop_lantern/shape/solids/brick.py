"""A box."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import Body, Others, Solid, box, frame


class Brick(Solid):
    """A box from its corner; turned about its corner.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Box"
    group: ClassVar[str] = "Boxes and round parts"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: a box, {role}, from ({x}, {y}, {z}), {length} long, {width} wide and {height} high, "
        "turned by {turn}."
    )

    kind: Literal["brick"] = "brick"
    length: Text = quantity(
        "length",
        "length",
        "Along x before it is turned.",
        default="100 mm",
        above=0,
    )
    width: Text = quantity(
        "length",
        "width",
        "Along y before it is turned.",
        default="50 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Along z.",
        default="50 mm",
        above=0,
    )
    turn: Text = quantity(
        "angle",
        "turn",
        "About the upright through its corner, anticlockwise seen from above.",
        default="0 deg",
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Eight corners, six faces."""
        made = box(np.zeros(3), np.array([numbers.length, numbers.width, numbers.height]))
        points = np.array([numbers.x, numbers.y, numbers.z]) + made.points @ frame(numbers.turn, 0.0)
        return replace(made, points=points)
