"""One side of a heat exchanger."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.laws import exchange
from mop_lantern.network.component import Rated


class Exchanger(Rated):
    """One side of a heat exchanger; the other side names this one as its partner, and this one it.

    Source: effectiveness by number of transfer units (Kays and London).
    """

    caption: ClassVar[str] = "Side of a heat exchanger"
    group: ClassVar[str] = "Heat"
    sentence: ClassVar[str] = (
        "{id}: one side of a heat exchanger in {arrangement} with {partner}, UA {ua}, losing {loss} at "
        "{rated}, bore {bore}."
    )
    symbol: ClassVar[str] = "M-0.8,-0.8 L0.8,-0.8 L0.8,0.8 L-0.8,0.8 Z M-0.8,0.8 L0.8,-0.8"

    exchanges: ClassVar[bool] = True
    kind: Literal["exchanger"] = "exchanger"
    partner: str = reference("component", "partner", "The other side, as LINE.PART.")
    arrangement: Literal["counter", "parallel", "cross", "shell"] = choice(
        "arrangement", "How the streams pass each other.", exchange.ARRANGEMENTS, default="counter"
    )
    ua: Text = quantity(
        "transmittance",
        "UA",
        "Heat passed a kelvin of difference.",
        default="3.6 kW/K",
        above=0,
    )
