"""A rack of machines."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Rack(ReadyPart):
    """A cabinet of machines that give 3 kW: a box 0.6 m wide, 1 m deep and 2 m high, and its load. The air
    that its own fans move through it is not modelled.

    Source: common practice, no source: 1 to 5 kW.
    """

    caption: ClassVar[str] = "Rack of machines"
    symbol: ClassVar[str] = (
        "M-0.5,-0.9 L0.5,-0.9 L0.5,0.9 L-0.5,0.9 Z M-0.5,-0.5 L0.5,-0.5 M-0.5,-0.1 L0.5,-0.1 M-0.5,0.3 "
        "L0.5,0.3"
    )

    kind: Literal["rack"] = "rack"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A box and its heat."""
        return {
            "shape.solids": room.block((0.6, 1.0, 2.0)),
            "field.sources": {"kind": "load", "around": key, "power": "3 kW"},
        }
