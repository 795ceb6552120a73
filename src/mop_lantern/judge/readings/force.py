"""Force of the fluid on an edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Force(Reading):
    """Force of the fluid on a wall in one direction: pressure, friction or both; positive along the axis.

    Source: integral of pressure and of the wall shear the solver itself uses.
    """

    caption: ClassVar[str] = "Force"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M0,-0.9 L0,0.4 M-0.25,0.1 L0,0.4 L0.25,0.1"
    )
    sentence: ClassVar[str] = "{id}: {part} on {edge} along {axis}."

    kind: Literal["force"] = "force"
    title: str = title()
    edge: str = reference("edge", "edge", "The wall.")
    part: Literal["both", "pressure", "friction"] = choice(
        "part",
        "Which part of the force.",
        {
            "both": "force",
            "pressure": "pressure force",
            "friction": "friction force",
        },
        default="both",
    )
    axis: Literal["x", "y", "z"] = choice(
        "direction",
        "Along which axis; z in a space only.",
        {
            "x": "x",
            "y": "y",
            "z": "z",
        },
        default="x",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Force."""
        return "force"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up pressure and shear; around an axis the radial force of a whole turn cancels."""
        mesh = answer.mesh
        faces = mesh.faces_of(numbers.edge)
        k = {
            "x": 0,
            "y": 1,
            "z": 2,
        }[numbers.axis]
        if mesh.axisymmetric and k == 1:
            return 0.0
        push = (answer.wall_pressure[faces] * mesh.area[mesh.n_internal + faces, k]).sum()
        drag = answer.shear[faces, k].sum()
        return float(((numbers.part != "friction") * push + (numbers.part != "pressure") * drag) * mesh.turn)
