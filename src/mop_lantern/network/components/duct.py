"""A rectangular or round air duct."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import friction
from mop_lantern.laws.sections import rectangle_product
from mop_lantern.network.component import Airway, Drop, Floats


class Duct(Airway):
    """A straight duct of sheet, round or rectangular.

    Source: Darcy and Weisbach with Colebrook on the hydraulic diameter; laminar rectangles after Shah and
    London (1978).
    """

    caption: ClassVar[str] = "Duct"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = (
        "{id}: {length} of {section} duct, {width} wide and {height} high, roughness {rough}, losing "
        "heat at {film} to {outside}."
    )
    symbol: ClassVar[str] = "M-1,-0.25 L1,-0.25 M-1,0.25 L1,0.25"

    kind: Literal["duct"] = "duct"
    length: Text = quantity(
        "length",
        "length",
        "Length along the duct.",
        default="10 m",
        above=0,
    )
    section: Literal["round", "rectangular"] = choice(
        "section", "Shape of the section.", {"round": "round", "rectangular": "rectangular"}, default="round"
    )
    width: Text = quantity(
        "length",
        "width",
        "Diameter of a round duct, or one side.",
        default="250 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Other side of a rectangular duct; not used for a round one.",
        default="250 mm",
        above=0,
    )
    rough: Text = quantity(
        "length",
        "roughness",
        "Equivalent sand roughness; galvanised sheet 0.09 mm, flexible duct 1 to 3 mm.",
        default="0.09 mm",
        at_least=0,
    )

    @classmethod
    def area(cls, a: Any) -> Floats:
        """Section."""
        return np.asarray(np.where(a.section == "round", np.pi / 4 * a.width**2, a.width * a.height))

    @classmethod
    def _wetted(cls, a: Any) -> Floats:
        return np.asarray(np.where(a.section == "round", np.pi * a.width, 2 * (a.width + a.height)))

    @classmethod
    def diameter(cls, a: Any) -> Floats:
        """Four times the area over the perimeter."""
        return np.asarray(4 * cls.area(a) / cls._wetted(a))

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Friction."""
        area = cls.area(a)
        laminar = np.where(a.section == "round", 64.0, rectangle_product(a.height / a.width))
        return friction.straight_drop(
            q,
            a.length,
            area,
            cls.diameter(a),
            a.rough,
            rho,
            mu,
            laminar,
        )

    @classmethod
    def transmittance(cls, a: Any) -> tuple[Floats, Floats]:
        """Give heat lost a kelvin (W/K) and the outside temperature (K)."""
        return np.asarray(a.film * cls._wetted(a) * a.length), np.asarray(a.outside)
