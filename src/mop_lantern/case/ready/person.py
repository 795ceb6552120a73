"""A person."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Person(ReadyPart):
    """A person at light desk work: a box 0.4 m wide, 0.3 m deep and 1.3 m high, 75 W of dry heat and, where
    a species is called CO2 or carbon dioxide, 0.0052 L/s of it (9.5 mg/s).

    Source: 1.2 met of 58.15 W/m2 and 1.8 m2 of skin, 60 % of it dry (ISO 7730, ISO 8996); ASTM D6245-18,
    equation 1; neither at hand to check.
    """

    caption: ClassVar[str] = "Person"
    symbol: ClassVar[str] = (
        "M-0.2,-0.6 A0.2,0.2 0 1 1 0.2,-0.6 A0.2,0.2 0 1 1 -0.2,-0.6 Z M-0.4,-0.2 L0.4,-0.2 L0.4,0.8 "
        "L-0.4,0.8 Z"
    )

    kind: Literal["person"] = "person"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A box, its heat and its carbon dioxide."""
        load = {"kind": "load", "around": key, "power": "75 W"}
        gas = room.carbon_dioxide()
        if gas:
            load |= {"gas": gas, "volume": "0.0052 L/s", "mass": "9.5 mg/s"}
        return {"shape.solids": room.block((0.4, 0.3, 1.3)), "field.sources": load}
