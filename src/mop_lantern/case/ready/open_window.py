"""A window that stands open."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class OpenWindow(ReadyPart):
    """A window open to the weather, 1.2 m wide and 1 m high, its sill 0.9 m over the floor, in calm air
    outside: give it the temperature outside, the wind and its pressure coefficient.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Open window"
    symbol: ClassVar[str] = (
        "M-0.8,-0.8 L0.8,-0.8 L0.8,0.8 L-0.8,0.8 Z M-0.8,-0.8 L-0.2,-0.5 L-0.2,0.9 L-0.8,0.8"
    )

    kind: Literal["open_window"] = "open_window"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A patch and its opening."""
        return {
            "shape.solids": room.on_wall(1.2, 1.0, sill=0.9),
            "field.openings": {"kind": "window", "edge": f"{key}.face"},
        }
