"""A solid from the table."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice
from mop_lantern.materials._solid import Material, Solid
from mop_lantern.materials._table import TABLE


class Listed(Material):
    """A solid part of a common material: its figures at room temperature, from the table below.

    Source: Incropera et al., Fundamentals of Heat and Mass Transfer (7th ed.), Tables A.1 to A.3, and EN ISO
    10456:2007, the tables not at hand to check; foams and wool: common practice, no source.
    """

    caption: ClassVar[str] = "Of a common material"
    group: ClassVar[str] = "Materials of solids"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8"
    )
    sentence: ClassVar[str] = "{id}: heat flows through the part {part}, which is of {material}."

    kind: Literal["listed"] = "listed"
    material: Literal[tuple(TABLE)] = choice(  # type: ignore[valid-type]
        "material",
        "What it is made of: " + "; ".join(f"{row[0]} {row[1]:g} W/m/K" for row in TABLE.values()) + ".",
        {name: row[0] for name, row in TABLE.items()},
        default="steel",
    )

    @classmethod
    def solid(cls, numbers: Any) -> Solid:
        """Look it up."""
        return Solid(*TABLE[numbers.material][1:4])
