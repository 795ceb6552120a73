"""Torque of the fluid on a wall."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, point, reference
from mop_lantern.declare.kind import Point
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Torque(Reading):
    """Torque of pressure and friction on a wall: about a point in the plane, or about the axis of a body that
    has one.

    Source: integral of arm times force, with the forces the solver itself uses.
    """

    caption: ClassVar[str] = "Torque"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M0.4,-0.95 L0.6,-0.55 L0.15,-0.5 M-0.1,0 L0.1,0"
    )
    sentence: ClassVar[str] = "{id}: torque on {edge} about {centre}, or about the axis where there is one."

    in_space: ClassVar[str] = "{id}: torque on {edge} about {centre}, along {axis}."

    kind: Literal["torque"] = "torque"
    title: str = title()
    edge: str = reference("edge", "edge", "The wall.")
    centre: Point = point("centre", "Point the torque is about, in a plane.", default=("0 mm", "0 mm"))
    axis: Literal["x", "y", "z"] = choice(
        "axis",
        "Direction of the axis in a space; anticlockwise seen against it counts positive.",
        {
            "x": "x",
            "y": "y",
            "z": "z",
        },
        default="z",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Torque."""
        return "torque"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up arm times force; positive anticlockwise."""
        mesh = answer.mesh
        faces = mesh.faces_of(numbers.edge)
        place = mesh.face_centre[mesh.n_internal + faces]
        if mesh.axisymmetric:
            return float((place[:, 1] * answer.shear[faces, 2]).sum() * mesh.turn)
        force = answer.shear[faces] + answer.wall_pressure[faces, None] * mesh.area[mesh.n_internal + faces]
        arm = np.zeros_like(place)
        arm[:, : len(mesh.ways)] = place[:, : len(mesh.ways)] - numbers.centre
        axis = "xyz".index(numbers.axis) if len(mesh.ways) == 3 else 2
        return float(np.cross(arm, force)[:, axis].sum())
