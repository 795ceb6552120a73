"""A warm floor."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class WarmFloor(ReadyPart):
    """A field of floor heating, 2 m by 2 m, that gives 50 W/m2 to the room.

    Source: common practice, no source: at most about 100 W/m2 where people stand.
    """

    caption: ClassVar[str] = "Floor heating"
    symbol: ClassVar[str] = (
        "M-0.9,0.6 L0.9,0.6 M-0.6,0.3 Q-0.9,0 -0.6,-0.3 Q-0.3,-0.6 -0.6,-0.9 M0,0.3 Q-0.3,0 0,-0.3 "
        "Q0.3,-0.6 0,-0.9 M0.6,0.3 Q0.3,0 0.6,-0.3 Q0.9,-0.6 0.6,-0.9"
    )

    kind: Literal["warm_floor"] = "warm_floor"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A patch and its heat."""
        return {
            "shape.solids": room.on_floor(2.0, 2.0),
            "field.warm": {"kind": "flux", "edge": f"{key}.face", "flux": "50 W/m2"},
        }
