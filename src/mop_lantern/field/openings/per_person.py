"""An opening whose flow goes by the number of people."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.given_flow import GivenFlow


class PerPerson(GivenFlow):
    """Fluid crosses at so much for every person.

    Source: EN 16798-1:2019, table B.6 (7 L/s a person in category II for odours of people, 10 L/s in
    category I; not at hand to check).
    """

    caption: ClassVar[str] = "Fresh air for people"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = (
        "M-0.6,-0.6 A0.2,0.2 0 1 1 -0.2,-0.6 A0.2,0.2 0 1 1 -0.6,-0.6 Z M-0.8,0.7 L-0.8,0 Q-0.8,-0.25 "
        "-0.4,-0.25 Q0,-0.25 0,0 L0,0.7 M0.9,0 L0.3,0 M0.5,-0.2 L0.3,0 L0.5,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: through {edge} fluid flows {way} for {people} people at {each} for each, its profile "
        "{profile}."
    )

    kind: Literal["per_person"] = "per_person"
    people: Text = quantity("number", "people", "How many.", default="10", at_least=0)
    each: Text = quantity(
        "volume_flow",
        "for each",
        "Volume flow for one of them; 7 to 10 L/s for fresh air.",
        default="10 L/s",
        at_least=0,
        varies="t",
    )

    @classmethod
    def magnitude(cls, numbers: Any, density: float, area: float) -> float:
        """Give the volume flow, m3/s."""
        return float(numbers.people) * float(numbers.each)
