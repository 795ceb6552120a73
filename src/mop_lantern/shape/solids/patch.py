"""A patch laid on a face, so that a piece of it has its own name."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import AROUND, Body, Floats, Others, Solid, face_axes, hair, loft, place_of


class Patch(Solid):
    """A rectangle or disc on a flat face: a grille, a window, an opening; its side is called face.

    Built as a step as high as a hundred-thousandth of its size, so that its rim is a real edge of the space.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Patch on a face"
    group: ClassVar[str] = "Faces"
    symbol: ClassVar[str] = (
        "M-0.9,-0.6 L0.6,-0.9 L0.9,0.6 L-0.6,0.9 Z M-0.3,-0.2 L0.3,-0.3 L0.4,0.3 L-0.2,0.4 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: a {outline} patch on {on} about ({x}, {y}, {z}), {width} wide and {height} high."
    )

    kind: Literal["patch"] = "patch"
    role: Literal["fluid"] = choice(
        "role", "A patch is a piece of a wall of the fluid.", {"fluid": "full of fluid"}, default="fluid"
    )  # type: ignore[assignment]
    on: str = reference("edge", "face", "The flat face it lies on, by its name.")
    outline: Literal["rectangular", "round"] = choice(
        "outline",
        "Rectangle or disc.",
        {"rectangular": "rectangular", "round": "round"},
        default="rectangular",
    )
    width: Text = quantity(
        "length",
        "width",
        "Level; the diameter of a disc.",
        default="20 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Square to the width; auto is the width.",
        default="auto",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """A hair-thin pad half sunk into the face."""
        normal, place, corners = _plane(numbers, others)
        aside, up = face_axes(normal)
        height = numbers.width if numbers.height is None or numbers.outline == "round" else numbers.height
        outline = (
            0.5
            * np.array(
                [
                    [-1, -1],
                    [1, -1],
                    [1, 1],
                    [-1, 1],
                ]
            )
            * [numbers.width, height]
        )
        if numbers.outline == "round":
            angle = 2 * np.pi * np.arange(AROUND) / AROUND
            outline = 0.5 * numbers.width * np.column_stack([np.cos(angle), np.sin(angle)])
        _within(numbers, (place - corners) @ np.column_stack([aside, up]), outline)
        flat = place + outline[:, :1] * aside + outline[:, 1:] * up
        thin = hair(0.0, max(numbers.width, height))
        return loft(
            [flat - thin * normal, flat + thin * normal], ["rim"], ("face", "face")
        )  # the end within the fluid is lost


def _within(numbers: Any, from_corners: Floats, outline: Floats) -> None:
    """Refuse a patch that reaches beyond the face it lies on: ``from_corners`` (k, 2) m from the corners of
    the face to the place, ``outline`` (n, 2) m about it, both along the face.
    """
    low, high = -from_corners.max(axis=0), -from_corners.min(axis=0)
    room = 1e-6 * float((high - low).max())
    if (outline.min(axis=0) < low - room).any() or (outline.max(axis=0) > high + room).any():
        raise PartFault("on", f"it reaches beyond “{numbers.on}”.", "Move it, or make it smaller.")


def _plane(numbers: Any, others: Others) -> tuple[Floats, Floats, Floats]:
    """Give the direction out of the fluid, the place moved onto the plane of the face, and the corners of
    the face, (k, 3) m.
    """
    key, _, side = numbers.on.partition(".")
    for body in others.get(key, []):
        if side not in body.sides:
            continue
        corners = body.points[body.triangles[body.side == body.sides.index(side)]]
        vectors = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        total = vectors.sum(axis=0)
        if np.linalg.norm(total) < 0.9999 * np.linalg.norm(vectors, axis=1).sum():
            raise PartFault("on", f"“{numbers.on}” is not flat.", "Name a flat face.")
        normal = total / np.linalg.norm(total)
        place = place_of(numbers)
        place = place - ((place - corners[0, 0]) @ normal) * normal
        return normal, place, corners.reshape(-1, 3)
    raise PartFault(
        "on",
        f"“{numbers.on}” is not a face of a part listed before this one.",
        "Name another, or add the patch after it.",
    )
