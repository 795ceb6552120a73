"""Dry air."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.media._fluid import Fluid, Followed, from_table
from mop_lantern.media._library import table


class Air(Followed):
    """Dry air at atmospheric pressure, -60 to 400 °C.

    Source: Lemmon et al., J. Phys. Chem. Ref. Data 29 (2000) 331-385; Lemmon and Jacobsen, Int. J.
    Thermophys. 25 (2004) 21-69; tabulated from CoolProp.
    """

    caption: ClassVar[str] = "Dry air"
    sentence: ClassVar[str] = "The fluid is dry air, its properties at {temperature}, {follow}."

    kind: Literal["air"] = "air"

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Look the figures up."""
        return from_table(table("air"), numbers.temperature, numbers.follow, "air")
