"""Copies in a ring."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, count, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, copied, original, place_of


class Ring(Solid):
    """Copies of a part listed before it, turned about an axis; the part itself stays.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Copies in a ring"
    group: ClassVar[str] = "Copies"
    symbol: ClassVar[str] = (
        "M-0.2,-0.9 L0.2,-0.9 L0.2,-0.5 L-0.2,-0.5 Z M0.5,-0.2 L0.9,-0.2 L0.9,0.2 L0.5,0.2 Z "
        "M-0.2,0.5 L0.2,0.5 L0.2,0.9 L-0.2,0.9 Z M-0.9,-0.2 L-0.5,-0.2 L-0.5,0.2 L-0.9,0.2 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: {copies} copies of {of}, {role}, each turned by {angle} from the one before about the "
        "axis along {axis} through ({x}, {y}, {z})."
    )

    kind: Literal["ring"] = "ring"
    role: Literal["same", "fluid", "solid", "void"] = copied()  # type: ignore[assignment]
    of: str = reference("solid", "part", "The part that is copied.")
    copies: Text = count(
        "copies",
        "How many besides the part itself.",
        default="5",
        at_least=1,
        at_most=500,
    )
    angle: Text = quantity(
        "angle",
        "angle",
        "From one to the next; auto spreads all evenly over the full circle.",
        default="auto",
    )
    axis: Literal["x", "y", "z"] = choice(
        "axis",
        "Direction of the axis.",
        {
            "x": "x",
            "y": "y",
            "z": "z",
        },
        default="z",
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """Turn copies."""
        found = original(numbers, others)
        step = 2 * np.pi / (numbers.copies + 1) if numbers.angle is None else numbers.angle
        if abs(np.sin(step / 2)) < 1e-9:
            raise PartFault(
                "angle", "the copies lie on each other.", "Give an angle that is not a full turn."
            )
        middle = place_of(numbers)
        k = "xyz".index(numbers.axis)
        made = []
        for number in range(1, int(numbers.copies) + 1):
            cos = np.cos(number * step)
            sin = np.sin(number * step)
            turn = np.eye(3)
            turn[(k + 1) % 3, (k + 1) % 3] = turn[(k + 2) % 3, (k + 2) % 3] = cos
            turn[(k + 2) % 3, (k + 1) % 3], turn[(k + 1) % 3, (k + 2) % 3] = sin, -sin
            made += [replace(body, points=middle + (body.points - middle) @ turn.T) for body in found]
        return made
