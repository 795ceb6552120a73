"""A finish of given emissivity."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.radiation.finish import Finish


class OwnFinish(Finish):
    """A surface of a given emissivity, grey and diffuse: the same for every wavelength and direction.

    Source: definition of the emissivity; any text on heat transfer.
    """

    caption: ClassVar[str] = "Given emissivity"
    group: ClassVar[str] = "Finish of surfaces"
    symbol: ClassVar[str] = (
        "M-0.9,0.7 L0.9,0.7 M-0.5,0.4 Q-0.7,0.1 -0.5,-0.2 Q-0.3,-0.5 -0.5,-0.8 M0.3,-0.7 L0.8,-0.7 "
        "M0.3,-0.7 L0.3,0.3 L0.8,0.3 M0.3,-0.2 L0.7,-0.2"
    )
    sentence: ClassVar[str] = "{id}: the surface of {edge} has an emissivity of {emissivity}."

    kind: Literal["own"] = "own"
    edge: str = reference("edge", "edge", "The wall.")
    emissivity: Text = quantity(
        "number",
        "emissivity",
        "1 is black; bright metal has 0.03 to 0.1.",
        default="0.9",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def emissivity_of(cls, numbers: Any) -> float:
        """As given."""
        return float(numbers.emissivity)
