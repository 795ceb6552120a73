"""A source of a species in a box."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import point, quantity, reference
from mop_lantern.declare.kind import Point, Text
from mop_lantern.field.source import SourceKind


class Species(SourceKind):
    """A species given off evenly in a box: volume a time for a fraction of the fluid, mass a time for a
    concentration.

    Source: definition.
    """

    caption: ClassVar[str] = "Species in a box"
    group: ClassVar[str] = "Sources"
    symbol: ClassVar[str] = (
        "M-0.8,-0.7 L0.8,-0.7 L0.8,0.7 L-0.8,0.7 Z M-0.4,-0.2 L-0.3,-0.2 M0.1,-0.3 L0.2,-0.3 "
        "M-0.1,0.1 L0,0.1 M0.3,0.2 L0.4,0.2 M-0.4,0.4 L-0.3,0.4"
    )
    sentence: ClassVar[str] = (
        "{id}: {species} is given off between {low} and {high} at {volume} (a fraction) or {mass} (a "
        "concentration)."
    )

    kind: Literal["species"] = "species"
    species: str = reference("species", "species", "What is given off.")
    volume: Text = quantity(
        "volume_flow",
        "volume rate",
        "For a species measured as a fraction.",
        default="0 L/s",
        varies="t",
    )
    mass: Text = quantity(
        "mass_flow",
        "mass rate",
        "For a species measured as mass per volume.",
        default="0 kg/s",
        varies="t",
    )
    low: Point = point("one corner", "One corner of the box.")
    high: Point = point("other corner", "The opposite corner.")

    @classmethod
    def feeds(cls, numbers: Any) -> str:
        """The species."""
        return str(numbers.species)

    @classmethod
    def rate(cls, numbers: Any) -> float:
        """Give the rate; the one that does not suit the measure is zero."""
        return float(numbers.volume) + float(numbers.mass)
