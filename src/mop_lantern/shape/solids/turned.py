"""A drawn profile turned about an axis."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import points, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, frame, loft, place_of, round_ring


class Turned(Solid):
    """A profile of places along an axis and radii there, turned about it; its sides are side1, side2 ...,
    start and end.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Profile turned about an axis"
    group: ClassVar[str] = "From an outline"
    symbol: ClassVar[str] = (
        "M0,-0.9 L0,0.9 M-0.3,-0.8 Q-0.9,0 -0.3,0.8 M0.3,-0.8 Q0.9,0 0.3,0.8 M-0.3,-0.8 L0.3,-0.8 "
        "M-0.3,0.8 L0.3,0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: the profile {profile}, {role}, turned about the axis from ({x}, {y}, {z}), heading "
        "{heading} and rising {rise}."
    )

    kind: Literal["turned"] = "turned"
    profile: list[Point] = points(
        "profile",
        "Pairs: how far along the axis, and the radius there.",
        default=[
            ("0 mm", "10 mm"),
            ("50 mm", "20 mm"),
            ("100 mm", "10 mm"),
        ],
    )
    heading: Text = quantity("angle", "heading", "Of the axis in the x-y plane, from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Of the axis over the x-y plane.", default="90 deg")

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """A ring for every place of the profile."""
        profile = np.asarray(numbers.profile, float)
        if len(profile) < 2 or (np.diff(profile[:, 0]) < 0).any() or np.ptp(profile[:, 0]) <= 0:
            raise PartFault(
                "profile", "the places do not follow each other along the axis.", "Order them, two at least."
            )
        inner = profile[1:-1, 1]
        if (profile[:, 1] < 0).any() or (inner <= 0).any():
            raise PartFault(
                "profile", "a radius is zero or negative.", "Only the first and the last may be zero."
            )
        along, aside, up = frame(numbers.heading, numbers.rise)
        small = 1e-6 * profile[:, 1].max()  # a tip is a very small end
        rings = [round_ring(place_of(numbers) + s * along, aside, up, max(r, small)) for s, r in profile]
        return loft(rings, [f"side{number + 1}" for number in range(len(profile) - 1)])
