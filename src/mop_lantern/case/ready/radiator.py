"""A radiator."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Radiator(ReadyPart):
    """A panel radiator that gives 1 kW to the air: a box 1 m long, 0.1 m deep and 0.6 m high on the floor,
    and its load.

    Source: common practice, no source: a double panel of this size gives about 1 kW where it is 50 K warmer
    than the room.
    """

    caption: ClassVar[str] = "Radiator"
    symbol: ClassVar[str] = (
        "M-0.9,-0.5 L0.9,-0.5 L0.9,0.6 L-0.9,0.6 Z M-0.5,-0.5 L-0.5,0.6 M-0.1,-0.5 L-0.1,0.6 M0.3,-0.5 "
        "L0.3,0.6"
    )

    kind: Literal["radiator"] = "radiator"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A box and its heat."""
        return {
            "shape.solids": room.block((1.0, 0.1, 0.6), at_wall=True),
            "field.sources": {"kind": "load", "around": key, "power": "1 kW"},
        }
