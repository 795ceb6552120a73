"""A tank with lamps, pumps and animals in it."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Tank(ReadyPart):
    """An open tank as warm as the room: a box 2 m long, 1 m deep and 0.9 m high that takes space away. Give
    its top a temperature or a gas of its own where the water gives something off.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Tank"
    symbol: ClassVar[str] = (
        "M-0.9,-0.5 L-0.9,0.7 L0.9,0.7 L0.9,-0.5 M-0.9,-0.2 Q-0.6,-0.4 -0.3,-0.2 Q0,0 0.3,-0.2 Q0.6,-0.4 "
        "0.9,-0.2"
    )

    kind: Literal["tank"] = "tank"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A box."""
        return {"shape.solids": room.block((2.0, 1.0, 0.9))}
