"""A Carreau fluid."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._shear import Sheared


class Carreau(Sheared):
    """Viscosity = low + (high - low) (1 + (time rate)^2)^((n - 1) / 2).

    Source: Carreau, Trans. Soc. Rheology 16 (1972) 99-127.
    """

    caption: ClassVar[str] = "Carreau fluid"
    sentence: ClassVar[str] = (
        "The fluid is {name}, of density {density}; its viscosity falls from {still} at rest to "
        "{sheared}, with a time of {time} and a power of {index}."
    )

    kind: Literal["carreau"] = "carreau"
    still: Text = quantity(
        "viscosity",
        "viscosity at rest",
        "At no shear.",
        default="0.1 Pa s",
        above=0,
    )
    sheared: Text = quantity(
        "viscosity",
        "viscosity in strong shear",
        "At endless shear.",
        default="1 mPa s",
        at_least=0,
    )
    time: Text = quantity(
        "time",
        "time",
        "One over the shear rate where thinning begins.",
        default="1 s",
        at_least=0,
    )
    index: Text = quantity(
        "number",
        "index",
        "Power of the thinning.",
        default="0.5",
        above=0,
        at_most=3,
    )

    @classmethod
    def law(cls, numbers: Any) -> Callable[[Any], Any]:
        """Give the law."""

        def viscosity(rate: Any) -> Any:
            return numbers.sheared + (numbers.still - numbers.sheared) * (1 + (numbers.time * rate) ** 2) ** (
                (numbers.index - 1) / 2
            )

        return viscosity
