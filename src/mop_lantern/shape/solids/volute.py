"""A spiral casing about a wheel, with its outlet."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.prism import prism
from mop_lantern.shape.solid import Body, Others, Solid, frame, place_of, tidied

STEPS = 96


class Volute(Solid):
    """The space of a wheel and the spiral about it: the radius grows evenly once round, then the casing runs
    on straight. Its sides are casing, tongue, outlet, back and front.

    Source: an even (Archimedean) spiral.
    """

    caption: ClassVar[str] = "Spiral casing"
    group: ClassVar[str] = "Blades and casings"
    symbol: ClassVar[str] = (
        "M-0.3,0 A0.3,0.3 0 1 1 0.3,0 A0.3,0.3 0 1 1 -0.3,0 Z M0.5,0 Q0.5,0.6 0,0.6 Q-0.7,0.6 -0.7,0 "
        "Q-0.7,-0.8 0.1,-0.8 L1,-0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: a spiral casing, {role}, about an axis through ({x}, {y}, {z}), heading {heading} and "
        "rising {rise}, {height} high, from the radius {base} growing by {throat}, its outlet {length} "
        "long, the tongue at {begin}."
    )

    kind: Literal["volute"] = "volute"
    heading: Text = quantity("angle", "heading", "Of the axis in the x-y plane, from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Of the axis over the x-y plane.", default="90 deg")
    height: Text = quantity(
        "length",
        "height",
        "Along the axis.",
        default="14 mm",
        above=0,
    )
    base: Text = quantity(
        "length",
        "base radius",
        "At the tongue.",
        default="55 mm",
        above=0,
    )
    throat: Text = quantity(
        "length",
        "throat",
        "Width of the outlet.",
        default="25 mm",
        above=0,
    )
    length: Text = quantity(
        "length",
        "outlet length",
        "From the tongue on.",
        default="80 mm",
        above=0,
    )
    begin: Text = quantity("angle", "tongue", "Where the tongue stands about the axis.", default="0 deg")

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """A prism over the spiral and its outlet."""
        along, aside, up = frame(numbers.heading, numbers.rise)
        growth = numbers.throat / (2 * np.pi)
        first = 0.0
        for _ in range(20):  # the tongue stands where the spiral runs straight towards the outlet
            first = float(np.arctan(growth / (numbers.base + growth * first)))
        theta = np.linspace(first, 2 * np.pi, STEPS + 1)
        spiral = (numbers.base + growth * theta)[:, None] * np.column_stack([np.cos(theta), np.sin(theta)])
        if numbers.length <= spiral[0, 1]:
            raise PartFault("length", "the outlet ends before the tongue.", "Make it longer.")
        ends = np.array([[spiral[-1, 0], numbers.length], [spiral[0, 0], numbers.length]])
        cos = np.cos(numbers.begin)
        sin = np.sin(numbers.begin)
        flat = np.vstack([spiral, ends]) @ np.array([[cos, sin], [-sin, cos]])
        points, triangles, part = prism(
            flat, place_of(numbers) + flat[:, :1] * aside + flat[:, 1:] * up, numbers.height * along
        )
        side = np.full(len(triangles), 2)
        side[part < 2] = part[part < 2]
        side[part == 2 + STEPS + 1] = 4
        side[part == 2 + STEPS + 2] = 3
        return tidied(points, triangles, side, ("back", "front", "casing", "tongue", "outlet"))
