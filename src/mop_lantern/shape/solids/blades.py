"""Twisted blades about an axis."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, frame, hair, loft, place_of

STEP = np.deg2rad(4.0)
ACROSS = 9  # stretches from hub to tip: a twisted face is no plane


class Blades(Solid):
    """A row of blades that wind about an axis; two from radius 0 make one twisted plate. Its sides are
    blade1, blade2 ...

    Source: solid geometry of the helicoid.
    """

    caption: ClassVar[str] = "Twisted blades"
    group: ClassVar[str] = "Blades and casings"
    symbol: ClassVar[str] = "M-1,0 L1,0 M-0.9,-0.5 Q-0.4,0.8 0,0 Q0.4,-0.8 0.9,0.5"
    sentence: ClassVar[str] = (
        "{id}: {blades} twisted blades, {role}, from ({x}, {y}, {z}), heading {heading} and rising "
        "{rise}, {length} long, from the radius {inner} to {outer}, {thickness} thick, beginning at "
        "{begin} and twisted by {twist}."
    )

    kind: Literal["blades"] = "blades"
    heading: Text = quantity("angle", "heading", "Of the axis in the x-y plane, from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Of the axis over the x-y plane.", default="0 deg")
    blades: Text = count(
        "blades",
        "How many, evenly about the axis.",
        default="2",
        at_least=1,
        at_most=200,
    )
    length: Text = quantity(
        "length",
        "length",
        "Along the axis.",
        default="40 mm",
        above=0,
    )
    inner: Text = quantity(
        "length",
        "inner radius",
        "0 lets the blades meet on the axis.",
        default="0 mm",
        at_least=0,
    )
    outer: Text = quantity(
        "length",
        "outer radius",
        "Where the blades end.",
        default="10 mm",
        above=0,
    )
    thickness: Text = quantity(
        "length",
        "thickness",
        "0 for a sheet.",
        default="1 mm",
        at_least=0,
    )
    begin: Text = quantity(
        "angle",
        "beginning",
        "Where the first blade stands at the start, from the left upwards.",
        default="0 deg",
    )
    twist: Text = quantity(
        "angle", "twist", "From start to end, clockwise seen along the axis when positive.", default="180 deg"
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """Rectangles along the axis, each turned a little further."""
        if numbers.outer <= numbers.inner:
            raise PartFault(
                "outer", "the blades end before they begin.", "Make it larger than the inner radius."
            )
        along, aside, up = frame(numbers.heading, numbers.rise)
        half = 0.5 * hair(numbers.thickness, 2 * numbers.outer)
        radii = np.linspace(
            numbers.inner or -half, numbers.outer, ACROSS + 1
        )  # blades that meet overlap on the axis
        section = [(r, -half) for r in radii] + [(r, half) for r in radii[::-1]]
        steps = max(1, int(np.ceil(abs(numbers.twist) / STEP)))
        bodies = []
        for number in range(int(numbers.blades)):
            first = numbers.begin + 2 * np.pi * number / numbers.blades
            rings = []
            for share in np.arange(steps + 1) / steps:
                angle = first + numbers.twist * share
                out = np.cos(angle) * aside + np.sin(angle) * up
                across = -np.sin(angle) * aside + np.cos(angle) * up
                middle = place_of(numbers) + share * numbers.length * along
                rings.append(np.array([middle + r * out + t * across for r, t in section]))
            bodies.append(loft(rings, [f"blade{number + 1}"] * steps, (f"blade{number + 1}",) * 2))
        return bodies
