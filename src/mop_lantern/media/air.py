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
    group: ClassVar[str] = "Gases"
    symbol: ClassVar[str] = (
        "M-0.9,-0.4 Q-0.3,-0.8 0.1,-0.4 Q0.5,0 0.9,-0.4 M-0.9,0.1 Q-0.3,-0.3 0.1,0.1 Q0.5,0.5 0.9,0.1 "
        "M-0.9,0.6 Q-0.3,0.2 0.1,0.6 Q0.5,1 0.9,0.6"
    )
    sentence: ClassVar[str] = "The fluid is dry air, its properties at {temperature}, {follow}."

    kind: Literal["air"] = "air"

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Look the figures up."""
        return from_table(table("air"), numbers.temperature, numbers.follow, "air")
