"""A bench."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Bench(ReadyPart):
    """A bench that takes space away down to the floor and gives nothing off: a box 1.6 m long, 0.8 m deep
    and 0.75 m high.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Bench"
    symbol: ClassVar[str] = "M-0.9,-0.2 L0.9,-0.2 L0.9,0.1 L-0.9,0.1 Z M-0.7,0.1 L-0.7,0.8 M0.7,0.1 L0.7,0.8"

    kind: Literal["bench"] = "bench"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A box."""
        return {"shape.solids": room.block((1.6, 0.8, 0.75))}
