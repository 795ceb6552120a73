"""Glycol and water."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._fluid import Fluid, Followed, from_table
from mop_lantern.media._library import table


class Glycol(Followed):
    """Ethylene or propylene glycol in water, down to its freezing point; suppliers' data differ by up to 10 %
    in viscosity.

    Source: Melinder, *Properties of Secondary Working Fluids for Indirect Systems* (IIR, 2010), tabulated
    from CoolProp.
    """

    caption: ClassVar[str] = "Glycol and water"
    group: ClassVar[str] = "Liquids"
    symbol: ClassVar[str] = (
        "M0,-0.9 Q0.7,0 0.7,0.3 A0.7,0.6 0 1 1 -0.7,0.3 Q-0.7,0 0,-0.9 Z M-0.4,0.2 L0.4,0.2 M-0.4,0.5 "
        "L0.4,0.5"
    )
    sentence: ClassVar[str] = (
        "The fluid is water with {share} of {glycol} by mass, its properties at {temperature}, {follow}."
    )

    kind: Literal["glycol"] = "glycol"
    glycol: Literal["ethylene", "propylene"] = choice(
        "glycol",
        "Which glycol.",
        {"ethylene": "ethylene glycol", "propylene": "propylene glycol"},
        default="propylene",
    )
    share: Text = quantity(
        "fraction",
        "fraction",
        "Mass of glycol in the mass of the mixture.",
        default="30 %",
        at_least=0,
        at_most=0.6,
    )

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Look the figures up."""
        over = table(f"{numbers.glycol}_glycol", numbers.share)
        return from_table(over, numbers.temperature, numbers.follow, "this mixture")
