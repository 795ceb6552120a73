"""What a component of a line is."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, Numbers, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws.sections import OUTSIDE, bore

Floats = NDArray[np.float64]
Drop = tuple[Floats, Floats]
SAME_BORE = 0.005  # bores this near are one, rounded
LEAK = 1e15  # Pa/(m3/s) of what is shut


class ComponentFault(ValueError):
    """A component that cannot be: which parameter, what is wrong, how to fix it."""

    def __init__(
        self,
        field: str,
        says: str,
        remedy: str,
    ) -> None:
        super().__init__(says)
        self.field = field
        self.says = says
        self.remedy = remedy


class Component(Kind):
    """A component: part of a line, where fluid loses or gains pressure and heat.

    The contract of a component file, beyond that of a kind:
    1. ``drop(a, q, rho, mu)`` gives the loss of total pressure along the line (Pa) and its slope by the
    volume
    flow, for all
       instances at once: ``a`` holds an array for every parameter, q (k,) m3/s is signed. It rises with q
       everywhere.
    2. ``symbol`` draws it on the schematic: a path in a box from (-1, -1) to (1, 1), flow from left to right.
    """

    symbol: ClassVar[str] = "M-1,0 L1,0"
    opens: ClassVar[str] = ""  # the parameter that opens and closes it, if any
    regulates: ClassVar[bool] = False  # holds the pressure behind it
    adapts: ClassVar[str] = ""  # the parameter that what flows through it sets, if any
    heats: ClassVar[bool] = False  # brings in or takes away heat, by ``switches``
    leaks: ClassVar[bool] = False  # loses heat through its wall, by ``transmittance``
    exchanges: ClassVar[bool] = False  # gives heat to a partner, which its parameter ``partner`` names
    driven: ClassVar[bool] = False  # a machine whose losses, by its efficiency, warm the fluid
    carries_waves: ClassVar[bool] = False  # pressure waves run along it
    works: ClassVar[bool] = False  # gives away as work what it takes, by its efficiency

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Fill in what follows from other parameters; called once an instance.

        Raises
        ------
        ComponentFault : the parameters do not go together.
        """
        return numbers

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Give loss of total pressure (k,) Pa and slope (k,) Pa/(m3/s)."""
        raise NotImplementedError

    @classmethod
    def settle(
        cls,
        a: Any,
        state: Floats,
        entering: Floats,
        flow: Floats,
        dt: float,
    ) -> Floats:
        """Give what the parameter ``adapts`` names has become ``dt`` seconds after it was ``state`` (k,); inf
        is at rest.

        Parameters
        ----------
        entering : K, of what enters or is felt. flow : m3/s along the line.
        """
        return state

    @classmethod
    def area(cls, a: Any) -> Floats:
        """Give the flow area (k,) m2 that velocities are told on; nan where there is none."""
        bore_ = getattr(a, "bore", None)
        return np.pi / 4 * np.asarray(bore_, float) ** 2 if bore_ is not None else np.full(1, np.nan)

    @classmethod
    def diameter(cls, a: Any) -> Floats:
        """Give the hydraulic diameter (k,) m that Reynolds numbers are told on: four times the area over the
        wetted perimeter.
        """
        return np.asarray(np.sqrt(4 * np.asarray(cls.area(a)) / np.pi))

    @classmethod
    def bore_at(cls, numbers: Any, side: int) -> float | None:
        """Give the bore it shows at its start (0) or end (1), m; None where it shows none."""
        return getattr(numbers, "bore", None)

    @classmethod
    def transmittance(cls, a: Any) -> tuple[Floats, Floats]:
        """Give what it loses a kelvin, W/K, and the temperature outside, K; of kinds that leak."""
        raise NotImplementedError

    @classmethod
    def switches(cls, a: Any) -> tuple[Floats, Floats, Floats]:
        """Give the heat brought in when on, W, and where it switches on and off, K; of kinds that heat."""
        raise NotImplementedError

    @classmethod
    def closed(cls, a: Any) -> NDArray[np.bool_]:
        """Tell which instances let nothing through."""
        return np.asarray(getattr(a, cls.opens) <= 0.0) if cls.opens else np.zeros(1, bool)

    @classmethod
    def content(cls, a: Any) -> Floats:
        """Give the fluid inside, (k,) m3."""
        return np.zeros(1)

    @classmethod
    def length_of(cls, a: Any) -> Floats:
        """Give the length along the line, (k,) m."""
        return np.zeros(1)


class Passage(Component):
    """A component with a length, full of fluid along it."""

    @classmethod
    def content(cls, a: Any) -> Floats:
        """Section times length."""
        return np.asarray(cls.area(a) * a.length)

    @classmethod
    def length_of(cls, a: Any) -> Floats:
        """Its length."""
        return np.asarray(a.length)


class Bored(Component):
    """A component of a round bore, which it takes from its neighbours in the line when not given."""

    bore: Text = quantity(
        "length",
        "bore",
        "Inner diameter; auto takes that of the pipe beside it, of a duct that of equal area.",
        default="auto",
        above=0,
    )
    needs_bore: ClassVar[bool] = False  # what it loses hangs on its bore


class Rated(Bored):
    """A component whose loss was measured at one flow: a square law through it."""

    loss: Text = quantity(
        "pressure",
        "loss",
        "Loss of pressure at the rated flow.",
        default="20 kPa",
        at_least=0,
    )
    rated: Text = quantity(
        "volume_flow",
        "rated flow",
        "Where that loss was measured.",
        default="1 L/s",
        above=0,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Square law from the rated pair."""
        return valve_drop(q, a.loss / a.rated**2, mu, rho, a.bore)


class Airway(Passage):
    """A duct of air, which loses heat through its wall and leaks."""

    leaks: ClassVar[bool] = True
    film: Text = quantity(
        "film",
        "heat loss",
        "U-value on the inner surface; 0 keeps all heat.",
        default="0 W/m2/K",
        at_least=0,
    )
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Temperature around the duct.",
        default="15 °C",
        varies="t",
    )


def nominal(numbers: Numbers) -> Numbers:
    """Work out the bore of a pipe from its nominal size where that is given."""
    size = numbers.size.strip().upper().removeprefix("DN").strip()
    if not size:
        return numbers
    try:
        found = bore(int(size))
    except (ValueError, KeyError):
        known = ", ".join(f"DN{each}" for each in OUTSIDE)
        raise ComponentFault(
            "size",
            f"“{numbers.size}” is not a nominal size.",
            f"Sizes: {known}; or leave it empty and give the bore.",
        ) from None
    if numbers.bore is not None and abs(numbers.bore / found - 1) > SAME_BORE:
        words = (
            f"the bore {1e3 * numbers.bore:.4g} mm is not that of DN{size} (schedule 40), "
            f"{1e3 * found:.4g} mm."
        )
        raise ComponentFault("bore", words, "Set the bore to auto, or empty the nominal size.")
    return Numbers(**{**vars(numbers), "bore": found})


def valve_drop(
    q: Floats,
    resistance: Floats,
    mu: Floats,
    rho: Floats,
    bore_: Floats,
) -> Drop:
    """Give R q |q| and its slope, proportional to the flow where it creeps."""
    creep = 10.0 * mu / rho * np.pi / 4 * bore_
    root = np.sqrt(q**2 + creep**2)
    return np.asarray(resistance * q * root), np.asarray(resistance * (root + q**2 / root))
