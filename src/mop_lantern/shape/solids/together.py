"""Several faces taken together as one."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference, unused
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Others, Solid


class Together(Solid):
    """Faces that are to be one: an opening, a wall or a reading of that name has them all. It takes no space
    itself; its side is called face.

    Source: none needed.
    """

    caption: ClassVar[str] = "Faces taken together"
    group: ClassVar[str] = "Faces"
    symbol: ClassVar[str] = "M-0.9,-0.6 L0,-0.8 L0,0.6 L-0.9,0.8 Z M0,-0.8 L0.9,-0.6 L0.9,0.8 L0,0.6"
    sentence: ClassVar[str] = "{id}: {faces} are one face."

    kind: Literal["together"] = "together"
    role: Literal["fluid"] = choice("role", "It takes no space.", {"fluid": "full of fluid"}, default="fluid")  # type: ignore[assignment]
    faces: tuple[str, ...] = reference("edges", "faces", "The faces, by their names.")
    x: Text = unused("x")
    y: Text = unused("y")
    z: Text = unused("z")

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Any]:
        """Nothing to build."""
        if not numbers.faces:
            raise PartFault("faces", "no face is named.", "Name one, or remove this.")
        return []

    @classmethod
    def joins(cls, numbers: Any) -> tuple[str, ...]:
        """Give the faces whose name becomes that of this part."""
        return tuple(numbers.faces)
