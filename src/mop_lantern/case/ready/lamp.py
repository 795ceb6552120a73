"""A lamp under the ceiling."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Lamp(ReadyPart):
    """A lamp of 40 W under the ceiling: a box 1.2 m long, 0.3 m wide and 0.1 m high, and its load.

    Source: common practice, no source: all the power of a lamp is heat in the end.
    """

    caption: ClassVar[str] = "Ceiling lamp"
    symbol: ClassVar[str] = (
        "M-0.8,-0.8 L0.8,-0.8 L0.8,-0.4 L-0.8,-0.4 Z M-0.5,-0.1 L-0.7,0.4 M0,-0.1 L0,0.5 M0.5,-0.1 L0.7,0.4"
    )

    kind: Literal["lamp"] = "lamp"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A box and its heat."""
        return {
            "shape.solids": room.block((1.2, 0.3, 0.1), below_ceiling=True),
            "field.sources": {"kind": "load", "around": key, "power": "40 W"},
        }
