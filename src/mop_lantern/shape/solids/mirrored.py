"""A mirrored copy."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.shape.solid import Body, Others, Solid, copied, original, place_of


class Mirrored(Solid):
    """A copy of a part listed before it, mirrored in a plane; the part itself stays.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Mirrored copy"
    group: ClassVar[str] = "Copies"
    symbol: ClassVar[str] = "M0,-0.9 L0,0.9 M-0.9,0.6 L-0.3,0.6 L-0.3,-0.5 Z M0.9,0.6 L0.3,0.6 L0.3,-0.5 Z"
    sentence: ClassVar[str] = (
        "{id}: a copy of {of}, {role}, mirrored in the plane across {across} through ({x}, {y}, {z})."
    )

    kind: Literal["mirrored"] = "mirrored"
    role: Literal["same", "fluid", "solid", "void"] = copied()  # type: ignore[assignment]
    of: str = reference("solid", "part", "The part that is copied.")
    across: Literal["x", "y", "z"] = choice(
        "across",
        "Direction square to the plane.",
        {
            "x": "x",
            "y": "y",
            "z": "z",
        },
        default="y",
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """Turn one coordinate round, and every triangle."""
        k = "xyz".index(numbers.across)
        made = []
        for body in original(numbers, others):
            points = body.points.copy()
            points[:, k] = 2 * place_of(numbers)[k] - points[:, k]
            made.append(replace(body, points=points, triangles=body.triangles[:, ::-1]))
        return made
