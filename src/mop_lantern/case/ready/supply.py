"""A supply in the ceiling."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Supply(ReadyPart):
    """A four-way diffuser in the ceiling that blows in 240 m3/h of 20 °C: 0.6 m by 0.6 m, 40 % of it open.

    Source: common practice, no source; the values of its maker take their place.
    """

    caption: ClassVar[str] = "Supply in the ceiling"
    symbol: ClassVar[str] = (
        "M-0.9,-0.6 L0.9,-0.6 M-0.4,-0.6 L-0.4,-0.2 L0.4,-0.2 L0.4,-0.6 M0,0 L0,0.8 M-0.2,0.5 L0,0.8 L0.2,0.5"
    )

    kind: Literal["supply"] = "supply"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A patch and its opening."""
        return {
            "shape.solids": room.on_ceiling(0.6, 0.6),
            "field.openings": {
                "kind": "diffuser",
                "edge": f"{key}.face",
                "flow": "240 m3/h",
                "effective": "40 %",
            },
        }
