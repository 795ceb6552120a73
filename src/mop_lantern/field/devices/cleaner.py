"""A filter that takes a species out of what passes."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.device import Passed


class Cleaner(Passed):
    """An air cleaner or filter: it takes a share of a species out of whatever passes, from either side, and
    loses its loss coefficient times the dynamic pressure.

    Source: definition of a removal efficiency in one pass.
    """

    caption: ClassVar[str] = "Cleaner"
    group: ClassVar[str] = "Treat it"
    symbol: ClassVar[str] = (
        "M-0.2,-0.9 L-0.2,0.9 M0.2,-0.9 L0.2,0.9 M-0.2,-0.5 L0.2,-0.1 M-0.2,0.1 L0.2,0.5 M-0.8,-0.4 "
        "L-0.7,-0.4 M-0.6,0 L-0.5,0 M-0.8,0.4 L-0.7,0.4 M0.5,0 L0.9,0"
    )
    sentence: ClassVar[str] = (
        "{id}: a cleaner, {form} of {width} by {height} about {centre}, heading {heading} and rising {lift}, "
        "takes {share} of {species} out of what passes; loss coefficient {loss}."
    )

    kind: Literal["cleaner"] = "cleaner"
    species: str = reference("species", "species", "What it takes out.")
    share: Text = quantity(
        "fraction",
        "share taken out",
        "In one pass.",
        default="90 %",
        at_least=0,
        at_most=1,
        varies="t",
    )

    @classmethod
    def removes(cls, numbers: Any, name: str) -> float:
        """The share, of its own species."""
        return float(numbers.share) if name == f"c.{numbers.species}" else 0.0
