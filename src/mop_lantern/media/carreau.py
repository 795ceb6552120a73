"""A Carreau fluid."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._shear import Thinning


class Carreau(Thinning):
    """Viscosity = low + (high - low) (1 + (time rate)^2)^((n - 1) / 2).

    Source: Carreau, Trans. Soc. Rheology 16 (1972) 99-127.
    """

    caption: ClassVar[str] = "Carreau fluid"
    group: ClassVar[str] = "Shear-dependent viscosity"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.8,-0.6 L-0.4,-0.6 Q0,-0.6 0.1,0.2 Q0.2,0.6 0.8,0.6"
    )
    sentence: ClassVar[str] = (
        "The fluid is {name}, of density {density}; its viscosity falls from {still} at rest to "
        "{sheared}, with a time of {time} and a power of {index}."
    )

    kind: Literal["carreau"] = "carreau"
    index: Text = quantity(
        "number",
        "index",
        "Power of the thinning.",
        default="0.5",
        above=0,
        at_most=3,
    )

    @classmethod
    def share(cls, numbers: Any, rate: Any) -> Any:
        """Give what is left of the fall."""
        return (1 + (numbers.time * rate) ** 2) ** ((numbers.index - 1) / 2)
