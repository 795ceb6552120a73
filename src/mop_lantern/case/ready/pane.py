"""A window that stays shut."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.case.ready_part import ReadyPart, Room


class Pane(ReadyPart):
    """A pane of insulating glass, 1.2 m by 1.2 m, U-value 1.1 W/m2/K, in an upright wall with 0 °C outside.

    Source: common practice, no source: the air in double glass counts here as a layer 24 mm thick of 0.0325
    W/m/K; films of ISO 6946 inside and outside.
    """

    caption: ClassVar[str] = "Window pane"
    symbol: ClassVar[str] = "M-0.8,-0.8 L0.8,-0.8 L0.8,0.8 L-0.8,0.8 Z M0,-0.8 L0,0.8 M-0.8,0 L0.8,0"

    kind: Literal["pane"] = "pane"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """A patch and what heat passes it."""
        return {
            "shape.solids": room.on_wall(1.2, 1.2),
            "field.warm": {
                "kind": "layered",
                "edge": f"{key}.face",
                "thickness": "24 mm",
                "conductivity": "0.0325 W/m/K",
                "film": "25 W/m2/K",
                "outside": "0 °C",
            },
        }
