"""The share of people that would be infected in a time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point, quantity, reference
from mop_lantern.declare.kind import Point, Text
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Infection(Reading):
    """Share of people at a place who would be infected in a time, by what they breathe in: 1 - exp(-n), with
    n the number of infectious doses. A dose is the amount of the species, given off by who is ill, that
    infects 63 of 100; let a source give off so many doses an hour.

    Source: Wells (1955); Riley, Murphy and Riley, American Journal of Epidemiology 107 (1978) 421-432 (not
    at hand to check). Doses given off: from one to some hundreds an hour by illness and breathing (common
    practice, no source).
    """

    caption: ClassVar[str] = "Infected share"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.2,-0.6 A0.2,0.2 0 1 1 0.2,-0.6 A0.2,0.2 0 1 1 -0.2,-0.6 Z M-0.4,0.8 L-0.4,0 Q-0.4,-0.25 0,-0.25 "
        "Q0.4,-0.25 0.4,0 L0.4,0.8 M0.5,-0.5 L0.6,-0.5 M0.7,-0.7 L0.8,-0.7 M0.8,-0.4 L0.9,-0.4"
    )
    sentence: ClassVar[str] = (
        "{id}: share of people infected at {at} by breathing {breathing} of the air for {time}, when "
        "{dose} of {species} are one dose."
    )

    without: ClassVar[str] = "its place lies outside the space, or its species is not a concentration."

    kind: Literal["infection"] = "infection"
    title: str = title()
    species: str = reference("species", "species", "What infects; measured as a concentration.")
    at: Point = point("place", "Where people breathe.")
    breathing: Text = quantity(
        "volume_flow",
        "breathing",
        "8 L/min at rest, 12 at a desk, 25 at light work (common practice, no source).",
        default="8 L/min",
        above=0,
    )
    time: Text = quantity("time", "time", "How long they stay.", default="1 h", above=0)
    dose: Text = quantity(
        "density_volume", "dose", "What of the species is one dose.", default="1 g", above=0
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A share."""
        return "fraction"

    @classmethod
    def reads(cls, numbers: Any) -> str:
        """The species."""
        return f"c.{numbers.species}"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Sample the place."""
        name = f"c.{numbers.species}"
        if not answer.has(name) or answer.scalars[name].dimension != "density":
            return float("nan")
        place = np.zeros((1, 3))
        place[0, : len(numbers.at)] = numbers.at
        doses = float(answer.sampler(name, place)[0]) * numbers.breathing * numbers.time / numbers.dose
        return float(-np.expm1(-max(doses, 0.0)))
