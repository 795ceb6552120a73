"""A grille or open window to still surroundings."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure


class Grille(Opening):
    """Still surroundings behind a loss: a grille, a filter, an open window. What leaves or enters loses its
    loss coefficient times the dynamic pressure of its mean velocity over the edge; what leaves loses that
    dynamic pressure outside besides, what enters has taken it from the surroundings. Where warm fluid rises,
    these weigh as what would enter, and what passes both ways loses layer by layer.

    Source: definition of a loss coefficient; Idelchik, *Handbook of Hydraulic Resistance* (3rd ed.), section
    8, for its values (not at hand to check).
    """

    caption: ClassVar[str] = "Still surroundings through a grille"
    group: ClassVar[str] = "Rest of a system"
    symbol: ClassVar[str] = (
        "M-1,-0.5 L0,-0.5 M-1,0.5 L0,0.5 M0.1,-0.5 L0.1,-0.3 M0.1,-0.1 L0.1,0.1 M0.1,0.3 L0.1,0.5 "
        "M0.3,-0.2 L0.9,-0.2 M0.3,0.2 L0.9,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: {edge} opens to still surroundings at {pressure} through a grille of the loss coefficient "
        "{loss}."
    )
    fixes: ClassVar[str] = "pressure"
    follows_flow: ClassVar[bool] = True
    surroundings: ClassVar[bool] = True

    kind: Literal["grille"] = "grille"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    pressure: Text = quantity(
        "pressure",
        "pressure",
        "Of the surroundings, relative to the reference pressure.",
        default="0 Pa",
        varies="t",
    )
    loss: Text = quantity(
        "number",
        "loss coefficient",
        "Loss over the dynamic pressure of the mean velocity over the whole edge.",
        default="2",
        at_least=0,
        varies="t",
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Begin with the pressure of the surroundings."""
        fix_pressure(patch, boundary, numbers.pressure, loss=float(numbers.loss))

    @classmethod
    def pressure_at(
        cls,
        numbers: Any,
        flow: float,
        density: float,
    ) -> tuple[float, float]:
        """The surroundings and the loss, by the square of the mean velocity and its sign."""
        each = 0.5 * density * float(numbers.loss) / numbers.area**2
        return float(numbers.pressure) + each * flow * abs(flow), 2 * each * abs(flow)
