"""The seat of a valve: a ring with a bore and a bevelled edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import AROUND, ROLES, Body, Others, Solid, frame, place_of, round_ring, tidied


class Seat(Solid):
    """A ring about an axis; its sides are front, slope (the bevel), bore, back and outside.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Seat of a valve"
    group: ClassVar[str] = "Pipes and ducts"
    symbol: ClassVar[str] = (
        "M-0.9,-0.8 L-0.3,-0.3 L0.9,-0.3 L0.9,-0.8 Z M-0.9,0.8 L-0.3,0.3 L0.9,0.3 L0.9,0.8 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: a seat, {role}, from ({x}, {y}, {z}), heading {heading} and rising {rise}: {diameter} "
        "across, {length} long, its bore {bore}, bevelled by {bevel} in front."
    )

    kind: Literal["seat"] = "seat"
    role: Literal["fluid", "solid", "void"] = choice(
        "role", "Whether it takes space away or holds the fluid.", ROLES, default="solid"
    )
    heading: Text = quantity(
        "angle", "heading", "Of its axis in the x-y plane, from x; it begins with its front.", default="0 deg"
    )
    rise: Text = quantity("angle", "rise", "Of its axis over the x-y plane.", default="0 deg")
    diameter: Text = quantity(
        "length",
        "diameter",
        "Outside; a little more than the pipe's, so that no gap is left.",
        default="52 mm",
        above=0,
    )
    bore: Text = quantity(
        "length",
        "bore",
        "Diameter of the opening.",
        default="36 mm",
        above=0,
    )
    length: Text = quantity(
        "length",
        "length",
        "Along its axis.",
        default="8 mm",
        above=0,
    )
    bevel: Text = quantity(
        "length",
        "bevel",
        "How far the edge of the bore is cut off in front, at 45 degrees; zero is a sharp edge.",
        default="2 mm",
        at_least=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Four or five rings that follow each other around the section."""
        outer = numbers.diameter / 2
        inner = numbers.bore / 2
        length = numbers.length
        bevel = numbers.bevel
        if inner + bevel >= outer:
            raise PartFault(
                "bore",
                "the bore with its bevel is as wide as the seat.",
                "Make the bore or the bevel smaller, or the seat wider.",
            )
        if bevel >= length:
            raise PartFault("bevel", "the bevel is as long as the seat.", "Make it smaller.")
        corners = [
            (0.0, outer, "outside"),
            (length, outer, "back"),
            (length, inner, "bore"),
        ]
        corners += (
            [(bevel, inner, "slope"), (0.0, inner + bevel, "front")] if bevel > 0 else [(0.0, inner, "front")]
        )
        along, aside, up = frame(numbers.heading, numbers.rise)
        points = np.vstack([round_ring(place_of(numbers) + s * along, aside, up, r) for s, r, _ in corners])
        sides = tuple(name for _, _, name in corners)
        here = np.arange(AROUND)
        count = len(corners)
        ahead = (here + 1) % AROUND
        triangles = []
        side = []
        for k in range(count):
            low = k * AROUND
            high = (k + 1) % count * AROUND
            triangles += [
                np.column_stack(
                    [
                        low + here,
                        low + ahead,
                        high + ahead,
                    ]
                ),
                np.column_stack(
                    [
                        low + here,
                        high + ahead,
                        high + here,
                    ]
                ),
            ]
            side.append(np.full(2 * AROUND, k))
        return tidied(points, np.vstack(triangles), np.concatenate(side), sides)
