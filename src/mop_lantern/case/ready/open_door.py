"""A door that stands open."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class OpenDoor(ReadyPart):
    """A door open to the weather or to still air beside the room, 0.9 m wide and 2.1 m high, over a sill of
    10 mm: give it the temperature behind it.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Open door"
    symbol: ClassVar[str] = "M-0.5,0.9 L-0.5,-0.9 L0.5,-0.9 L0.5,0.9 M-0.5,-0.9 L0.1,-0.6 L0.1,0.9 L-0.5,0.9"

    kind: Literal["open_door"] = "open_door"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A patch and its opening."""
        return {
            "shape.solids": room.on_wall(0.9, 2.1, sill=0.01),
            "field.openings": {"kind": "window", "edge": f"{key}.face"},
        }
