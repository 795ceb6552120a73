"""A grille or diffuser."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import Component, Drop, Floats, valve_drop


class Grille(Component):
    """An air terminal: a known loss at a known flow, growing with its square.

    Source: makers give pairs of flow and loss of total pressure; square law.
    """

    caption: ClassVar[str] = "Grille or diffuser"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: an air terminal losing {loss} at {rated}, free area {section}."
    symbol: ClassVar[str] = "M-1,0 L0,0 M0,-0.7 L0,0.7 M0.3,-0.7 L0.3,0.7 M0.6,-0.7 L0.6,0.7"

    kind: Literal["grille"] = "grille"
    loss: Text = quantity(
        "pressure",
        "loss",
        "Loss of total pressure at the rated flow.",
        default="20 Pa",
        above=0,
    )
    rated: Text = quantity(
        "volume_flow",
        "rated flow",
        "Where that loss was measured, in air of 1.2 kg/m3.",
        default="200 m3/h",
        above=0,
    )
    section: Text = quantity(
        "area",
        "free area",
        "For the velocity.",
        default="0.04 m2",
        above=0,
    )

    @classmethod
    def area(cls, a: Any) -> Floats:
        """Its free area."""
        return np.asarray(a.section)

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Square law, by density."""
        return valve_drop(
            q,
            a.loss / a.rated**2 * rho / 1.2,
            mu,
            rho,
            np.sqrt(a.section),
        )
