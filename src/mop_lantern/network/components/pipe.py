"""A pipe."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, choice, quantity, text
from mop_lantern.declare.kind import Text
from mop_lantern.laws import exchange, friction
from mop_lantern.laws.sections import ROUGHNESS
from mop_lantern.network.component import Bored, Drop, Floats, Passage, nominal


class Pipe(Passage, Bored):
    """A straight round pipe.

    Source: Darcy and Weisbach with Colebrook, laminar below a Reynolds number of 2000; roughness after Moody
    (1944); heat through round layers, the film on the outside of the insulation, wall and inner film
    ignored.
    """

    caption: ClassVar[str] = "Pipe"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = (
        "{id}: {length} of {material} pipe {size}, bore {bore}, roughness {rough}, losing heat at "
        "{film}, waves at {wave}."
    )
    symbol: ClassVar[str] = "M-1,0 L1,0"

    needs_bore: ClassVar[bool] = True
    leaks: ClassVar[bool] = True
    carries_waves: ClassVar[bool] = True
    kind: Literal["pipe"] = "pipe"
    length: Text = quantity(
        "length",
        "length",
        "Length along the pipe.",
        default="10 m",
        above=0,
    )
    size: Text = text("nominal size", "Such as DN50 (schedule 40); empty when the bore is given.", default="")
    material: Literal["smooth", "steel", "galvanised", "cast_iron", "asphalted", "concrete"] = choice(
        "material",
        "Gives the roughness.",
        {key: words for key, (words, _) in ROUGHNESS.items() if key not in ("sheet", "flexible")},
        default="steel",
    )
    rough: Text = quantity(
        "length",
        "roughness",
        "Equivalent sand roughness; auto takes that of the material.",
        default="auto",
        at_least=0,
    )
    film: Text = quantity(
        "film",
        "heat loss",
        "U-value of the bare pipe on its bore, the same as its outer film coefficient; 0 keeps all heat.",
        default="0 W/m2/K",
        at_least=0,
    )
    insulation: Text = quantity(
        "length",
        "insulation",
        "Thickness of its insulation; 0 for a bare pipe.",
        default="0 mm",
        at_least=0,
    )
    conductivity: Text = quantity(
        "conductivity",
        "conductivity",
        "Of the insulation.",
        default="0.04 W/m/K",
        above=0,
    )
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Temperature around the pipe.",
        default="15 °C",
        varies="t",
    )
    wave: Text = quantity(
        "velocity",
        "wave speed",
        "Of pressure waves, where they are followed: about 1200 m/s in steel, 400 m/s in plastic.",
        default="1200 m/s",
        above=0,
    )

    def template(self, space: bool = False) -> str:
        """Insulation and surroundings are told where heat is lost."""
        plain = type(self).sentence
        kept = self.film.strip().startswith("0 ")
        return (
            plain
            if kept
            else plain.replace(
                "{film}", "{film} through {insulation} of insulation of {conductivity} to {outside}"
            )
        )

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Look up bore and roughness."""
        rough = ROUGHNESS[numbers.material][1] if numbers.rough is None else numbers.rough
        return nominal(Numbers(**{**vars(numbers), "rough": rough}))

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Friction."""
        return friction.straight_drop(
            q,
            a.length,
            np.pi / 4 * a.bore**2,
            a.bore,
            a.rough,
            rho,
            mu,
        )

    @classmethod
    def transmittance(cls, a: Any) -> tuple[Floats, Floats]:
        """Give heat lost a kelvin (W/K) and the outside temperature (K)."""
        layered = exchange.round_layers(
            a.bore, np.inf, [(a.insulation, a.conductivity)], np.maximum(a.film, 1e-12)
        )
        return np.asarray(layered * np.pi * a.bore * a.length), np.asarray(a.outside)
