"""A round pipe with one bend."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, frame, loft, round_ring

STEP = np.deg2rad(3.0)


class BentPipe(Solid):
    """A round pipe of a straight leg, a bend and another leg, made in one piece.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Pipe with a bend"
    group: ClassVar[str] = "Pipes and ducts"
    symbol: ClassVar[str] = (
        "M-1,0.2 L-0.2,0.2 Q0.1,0.2 0.3,-0.1 L0.8,-0.9 M-1,0.8 L0,0.8 Q0.5,0.8 0.8,0.2 L1,-0.1"
    )
    sentence: ClassVar[str] = (
        "{id}: a bent pipe, {role}, {diameter} across, from ({x}, {y}, {z}), heading {heading}, "
        "{before} straight, then bent by {angle} with the radius {radius}, the bend leaning {lean}, "
        "then {after} straight."
    )

    kind: Literal["bent_pipe"] = "bent_pipe"
    diameter: Text = quantity(
        "length",
        "diameter",
        "Clear width.",
        default="20 mm",
        above=0,
    )
    heading: Text = quantity(
        "angle", "heading", "Of the first leg in the x-y plane, from x.", default="0 deg"
    )
    before: Text = quantity(
        "length",
        "leg before",
        "Length of the first leg.",
        default="50 mm",
        above=0,
    )
    angle: Text = quantity(
        "angle",
        "angle",
        "By how much it is bent.",
        default="90 deg",
        above=0,
        at_most=3.1416,
    )
    radius: Text = quantity(
        "length",
        "radius",
        "Of the bend, on the middle line.",
        default="40 mm",
        above=0,
    )
    lean: Text = quantity(
        "angle", "lean", "0 bends to the left in the x-y plane, 90 deg upwards.", default="0 deg"
    )
    after: Text = quantity(
        "length",
        "leg behind",
        "Length of the second leg.",
        default="50 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Rings along the middle line."""
        if numbers.radius <= 0.5 * numbers.diameter:
            raise PartFault(
                "radius",
                "the bend is tighter than the pipe is wide: it would cut into itself.",
                "Make it larger than half the diameter.",
            )
        along, aside, up = frame(numbers.heading, 0.0)
        towards = np.cos(numbers.lean) * aside + np.sin(numbers.lean) * up
        axis = np.cross(along, towards)
        start = np.array([numbers.x, numbers.y, numbers.z])
        half = numbers.diameter / 2
        rings = [round_ring(start, towards, axis, half)]
        corner = start + numbers.before * along
        centre = corner + numbers.radius * towards
        steps = max(2, int(np.ceil(numbers.angle / STEP)))
        for angle in np.linspace(0.0, numbers.angle, steps + 1):
            ahead = np.cos(angle) * along + np.sin(angle) * towards
            inward = np.cos(angle) * towards - np.sin(angle) * along
            rings.append(round_ring(centre - numbers.radius * inward, inward, axis, half))
        rings.append(rings[-1] + numbers.after * ahead)
        return loft(rings, ["before", *["bend"] * steps, "after"])
