"""A table."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Table(ReadyPart):
    """The top of a table, without thickness and legs, 1.6 m by 0.8 m and 0.74 m over the floor: air passes
    under it.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Table"
    symbol: ClassVar[str] = "M-0.9,-0.3 L0.9,-0.3 M-0.7,-0.3 L-0.7,0.8 M0.7,-0.3 L0.7,0.8"

    kind: Literal["table"] = "table"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A sheet that lies level, where a box of its height would stand."""
        return {"shape.solids": room.board((1.6, 0.8, 0.74))}
