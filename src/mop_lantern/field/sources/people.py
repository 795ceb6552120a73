"""People in a room."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import point, quantity, reference
from mop_lantern.declare.kind import Point, Text
from mop_lantern.field.source import SourceKind

MET = 58.15  # W/m2; ISO 7730
SKIN = 1.8  # m2; ISO 8996
EVAPORATION = 2.43e6  # J/kg; at skin temperature
CARBON_DIOXIDE = 1.83  # kg/m3 at 20 degrees C and 1 bar
QUOTIENT = 0.83  # CO2 out over oxygen in, of an ordinary diet


class People(SourceKind):
    """People in a box: the heat they give off dry, and, where species are named for them, the carbon dioxide
    and the water vapour they breathe out and sweat.

    One gives off 58.15 W/m2 of 1.8 m2 of skin for every met; what is not dry heat is vapour, 1 kg for 2.43
    MJ. Carbon dioxide: 0.00276 A M q / (0.23 q + 0.77) L/s with M in met and q = 0.83. A share counts by
    volume, vapour by mass; a concentration in kg/m3.

    Source: ISO 8996 and ISO 7730 (metabolic rates); ASTM D6245-18, equation 1 (carbon dioxide); none at hand
    to check.
    """

    caption: ClassVar[str] = "People"
    group: ClassVar[str] = "Sources"
    symbol: ClassVar[str] = (
        "M-0.2,-0.6 A0.2,0.2 0 1 1 0.2,-0.6 A0.2,0.2 0 1 1 -0.2,-0.6 Z M-0.4,0.8 L-0.4,0 Q-0.4,-0.25 0,-0.25 "
        "Q0.4,-0.25 0.4,0 L0.4,0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: between {low} and {high} are {people} people at {activity} met, {dry} of their heat dry; they "
        "give carbon dioxide to {gas} and vapour to {vapour}."
    )

    kind: Literal["people"] = "people"
    people: Text = quantity("number", "people", "How many.", default="1", at_least=0, varies="t")
    activity: Text = quantity(
        "number",
        "activity",
        "In met: 1.0 seated at rest, 1.2 at a desk, 1.6 standing at light work, 2.0 walking slowly.",
        default="1.2",
        at_least=0.8,
        at_most=6,
    )
    dry: Text = quantity(
        "fraction",
        "dry share",
        "Of the heat: about 75 % at 20 °C, 60 % at 24 °C, 45 % at 28 °C (common practice, no source).",
        default="60 %",
        at_least=0,
        at_most=1,
    )
    gas: str = reference("species", "carbon dioxide", "The species it feeds, or empty.", default="")
    vapour: str = reference("species", "vapour", "The species it feeds, or empty.", default="")
    low: Point = point("one corner", "One corner of the box.")
    high: Point = point("other corner", "The opposite corner.")

    @classmethod
    def gives(cls, numbers: Any, density: float, measures: Any) -> dict[str, float]:
        """Heat, W; carbon dioxide and vapour by what their species are measured in."""
        heat = float(numbers.people) * float(numbers.activity) * MET * SKIN
        found = {"heat": heat * float(numbers.dry)}
        met = float(numbers.people) * float(numbers.activity)
        volume = 2.76e-6 * SKIN * met * QUOTIENT / (0.23 * QUOTIENT + 0.77)  # m3/s
        if numbers.gas:
            found[numbers.gas] = volume * (CARBON_DIOXIDE if measures.get(numbers.gas) == "density" else 1.0)
        if numbers.vapour:
            mass = heat * (1 - float(numbers.dry)) / EVAPORATION
            plain = measures.get(numbers.vapour) == "density"
            found[numbers.vapour] = found.get(numbers.vapour, 0.0) + mass / (1.0 if plain else density)
        return found
