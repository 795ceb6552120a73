"""An extract in a wall."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Extract(ReadyPart):
    """A grille in a wall that lets out what the supplies bring: 0.6 m wide and 0.3 m high, 0.2 m over the
    floor.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Extract in a wall"
    symbol: ClassVar[str] = (
        "M-0.8,-0.5 L0.8,-0.5 L0.8,0.5 L-0.8,0.5 Z M-0.5,-0.5 L-0.5,0.5 M0,-0.5 L0,0.5 M0.5,-0.5 L0.5,0.5"
    )

    kind: Literal["extract"] = "extract"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A patch and its opening."""
        return {
            "shape.solids": room.on_wall(0.6, 0.3, sill=0.2),
            "field.openings": {"kind": "static_pressure", "edge": f"{key}.face"},
        }
