"""A finish from the table."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.field.radiation.finish import Finish

TABLE: dict[str, tuple[str, float]] = {
    "paint": ("paint of any colour", 0.92),
    "plaster": ("plaster or gypsum board", 0.91),
    "brick": ("brick", 0.93),
    "concrete": ("concrete", 0.90),
    "wood": ("wood", 0.90),
    "glass": ("window glass", 0.92),
    "water": ("water", 0.96),
    "skin": ("skin and clothing", 0.95),
    "plastic": ("plastic or rubber", 0.90),
    "rusted": ("rusted steel", 0.80),
    "stainless": ("stainless steel, cleaned", 0.22),
    "galvanised": ("galvanised steel, new", 0.25),
    "aluminium": ("aluminium, bright", 0.05),
    "copper": ("copper, polished", 0.03),
}


class ListedFinish(Finish):
    """A surface of a common finish, from the table below, about room temperature.

    Source: Incropera et al., Fundamentals of Heat and Mass Transfer (7th ed.), Table A.11, the table not at
    hand to check; plastic, glass and galvanised steel: common practice, no source.
    """

    caption: ClassVar[str] = "Common finish"
    group: ClassVar[str] = "Finish of surfaces"
    symbol: ClassVar[str] = (
        "M-0.9,0.7 L0.9,0.7 M-0.6,0.4 Q-0.8,0.1 -0.6,-0.2 Q-0.4,-0.5 -0.6,-0.8 M0,0.4 Q-0.2,0.1 0,-0.2 "
        "Q0.2,-0.5 0,-0.8 M0.6,0.4 Q0.4,0.1 0.6,-0.2 Q0.8,-0.5 0.6,-0.8"
    )
    sentence: ClassVar[str] = "{id}: the surface of {edge} is {finish}."

    kind: Literal["listed"] = "listed"
    edge: str = reference("edge", "edge", "The wall.")
    finish: Literal[tuple(TABLE)] = choice(  # type: ignore[valid-type]
        "finish",
        "With its emissivity: " + "; ".join(f"{row[0]} {row[1]:g}" for row in TABLE.values()) + ".",
        {name: row[0] for name, row in TABLE.items()},
        default="paint",
    )

    @classmethod
    def emissivity_of(cls, numbers: Any) -> float:
        """Look it up."""
        return TABLE[numbers.finish][1]
