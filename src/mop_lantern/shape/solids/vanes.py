"""Curved vanes of a wheel that is flown through from its axis outwards."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.prism import prism
from mop_lantern.shape.solid import Body, Floats, Others, Solid, frame, hair, place_of, tidied

STEPS = 24


class Vanes(Solid):
    """A row of curved vanes about an axis, of one height; their angle to the rim runs evenly from the inner
    to the outer radius. Its sides are vane1, vane2 ...

    Source: the middle line has d(theta) = dr / (r tan(angle)), its angle linear in the radius.
    """

    caption: ClassVar[str] = "Curved vanes"
    group: ClassVar[str] = "Blades and casings"
    symbol: ClassVar[str] = (
        "M0,-0.25 Q0.3,-0.5 0.2,-0.9 M0.25,0 Q0.5,0.3 0.9,0.2 M0,0.25 Q-0.3,0.5 -0.2,0.9 M-0.25,0 "
        "Q-0.5,-0.3 -0.9,-0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: {vanes} curved vanes, {role}, about an axis through ({x}, {y}, {z}), heading {heading} "
        "and rising {rise}, {height} high, from the radius {inner} to {outer}, {inlet} to the rim "
        "within and {outlet} without, {thickness} thick, beginning at {begin}."
    )

    kind: Literal["vanes"] = "vanes"
    heading: Text = quantity("angle", "heading", "Of the axis in the x-y plane, from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Of the axis over the x-y plane.", default="90 deg")
    vanes: Text = count(
        "vanes",
        "How many, evenly about the axis.",
        default="6",
        at_least=1,
        at_most=200,
    )
    height: Text = quantity(
        "length",
        "height",
        "Along the axis.",
        default="10 mm",
        above=0,
    )
    inner: Text = quantity(
        "length",
        "inner radius",
        "Where the vanes begin.",
        default="20 mm",
        above=0,
    )
    outer: Text = quantity(
        "length",
        "outer radius",
        "Where they end.",
        default="50 mm",
        above=0,
    )
    inlet: Text = quantity(
        "angle",
        "inner angle",
        "Between vane and rim at the inner radius; 90 deg is radial.",
        default="25 deg",
        above=0,
        below=np.pi,
    )
    outlet: Text = quantity(
        "angle",
        "outer angle",
        "Between vane and rim at the outer radius.",
        default="30 deg",
        above=0,
        below=np.pi,
    )
    thickness: Text = quantity(
        "length",
        "thickness",
        "0 for a sheet.",
        default="2 mm",
        at_least=0,
    )
    begin: Text = quantity(
        "angle", "beginning", "Where the first vane begins, about the axis.", default="0 deg"
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """Lay the middle line and give it thickness."""
        if numbers.outer <= numbers.inner:
            raise PartFault(
                "outer", "the vanes end before they begin.", "Make it larger than the inner radius."
            )
        along, aside, up = frame(numbers.heading, numbers.rise)
        outline = _outline(numbers)
        bodies = []
        for number in range(int(numbers.vanes)):
            turn = numbers.begin + 2 * np.pi * number / numbers.vanes
            flat = outline @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
            points, triangles, _ = prism(
                flat, place_of(numbers) + flat[:, :1] * aside + flat[:, 1:] * up, numbers.height * along
            )
            bodies.append(tidied(points, triangles, np.zeros(len(triangles), int), (f"vane{number + 1}",)))
        return bodies


def _outline(numbers: Any) -> Floats:
    """Give the outline of the first vane, (k, 2) m anticlockwise about the axis."""
    radius = np.linspace(numbers.inner, numbers.outer, STEPS + 1)
    angle = np.linspace(numbers.inlet, numbers.outlet, STEPS + 1)
    slope = 1 / (radius * np.tan(angle))
    theta = -np.append(
        0.0, np.cumsum(0.5 * (slope[1:] + slope[:-1]) * np.diff(radius))
    )  # they lean against the turning
    line = radius[:, None] * np.column_stack([np.cos(theta), np.sin(theta)])
    way = np.gradient(line, axis=0)
    way /= np.linalg.norm(way, axis=1)[:, None]
    half = 0.5 * hair(numbers.thickness, 2 * numbers.outer) * np.column_stack([-way[:, 1], way[:, 0]])
    outline = np.vstack([line - half, (line + half)[::-1]])
    polygon = shapely.Polygon(outline)
    if not polygon.is_valid:
        raise PartFault(
            "thickness",
            "the vanes are too thick for their bend.",
            "Make them thinner or the angles more alike.",
        )
    return outline if polygon.exterior.is_ccw else outline[::-1]
