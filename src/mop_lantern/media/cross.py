"""A Cross fluid."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._shear import Thinning


class Cross(Thinning):
    """Viscosity = low + (high - low) / (1 + (time rate)^m).

    Source: Cross, J. Colloid Science 20 (1965) 417-437.
    """

    caption: ClassVar[str] = "Cross fluid"
    group: ClassVar[str] = "Shear-dependent viscosity"
    symbol: ClassVar[str] = "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.8,-0.6 Q-0.1,-0.6 0,0 Q0.1,0.6 0.8,0.6"
    sentence: ClassVar[str] = (
        "The fluid is {name}, of density {density}; its viscosity falls from {still} at rest to "
        "{sheared}, with a time of {time} and a power of {power}."
    )

    kind: Literal["cross"] = "cross"
    power: Text = quantity(
        "number",
        "power",
        "Power of the thinning.",
        default="0.8",
        above=0,
        at_most=3,
    )

    @classmethod
    def share(cls, numbers: Any, rate: Any) -> Any:
        """Give what is left of the fall."""
        return 1 / (1 + (numbers.time * rate) ** numbers.power)
