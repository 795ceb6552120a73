"""A flexible air duct."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import friction
from mop_lantern.network.component import Airway, Drop, Floats


class Flexible(Airway):
    """A round flexible duct: what it loses when pulled taut, times a factor that grows fast with every bit of
    slack.

    Source: Abushakra, Walker and Sherman, Compression effects on pressure loss in flexible HVAC ducts, HVAC&R
    Research 10 (2004) 275-289, as in the ASHRAE Handbook, Fundamentals, Duct design (not at hand to check):
    factor 1 +
    0.58 r exp(-0.00496 D), r the slack in per cent, D in mm.
    """

    caption: ClassVar[str] = "Flexible duct"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = (
        "{id}: {length} of flexible duct of {width} with {slack} of slack, roughness {rough}, losing "
        "heat at {film} to {outside}."
    )
    symbol: ClassVar[str] = (
        "M-1,0.25 L-0.75,-0.25 L-0.5,0.25 L-0.25,-0.25 L0,0.25 L0.25,-0.25 L0.5,0.25 L0.75,-0.25 L1,0.25"
    )

    kind: Literal["flexible"] = "flexible"
    length: Text = quantity(
        "length",
        "length",
        "Length as installed.",
        default="2 m",
        above=0,
    )
    width: Text = quantity(
        "length",
        "diameter",
        "Inner diameter.",
        default="160 mm",
        above=0,
    )
    slack: Text = quantity(
        "fraction",
        "slack",
        "Fraction by which it is shorter than pulled taut; 4 % is good work, 30 % is poor.",
        default="4 %",
        at_least=0,
        at_most=0.5,
    )
    rough: Text = quantity(
        "length",
        "roughness",
        "Equivalent sand roughness when taut, 1 to 3 mm.",
        default="1.5 mm",
        at_least=0,
    )

    @classmethod
    def area(cls, a: Any) -> Floats:
        """Section."""
        return np.asarray(np.pi / 4 * a.width**2)

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Friction of the taut duct times the factor of the slack."""
        factor = 1 + 0.58 * 100 * a.slack * np.exp(-4.96 * a.width)
        loss, slope = friction.straight_drop(
            q,
            a.length,
            cls.area(a),
            a.width,
            a.rough,
            rho,
            mu,
        )
        return factor * loss, factor * slope

    @classmethod
    def transmittance(cls, a: Any) -> tuple[Floats, Floats]:
        """Give heat lost a kelvin (W/K) and the outside temperature (K)."""
        return np.asarray(a.film * np.pi * a.width * a.length), np.asarray(a.outside)
