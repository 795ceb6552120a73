"""A window or door that stands open to the weather."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure


class Window(Opening):
    """A window, door or louvre that stands open to outside: the pressure outside is that of the wind, its
    pressure coefficient times the dynamic pressure of the wind, and what passes loses its loss coefficient
    times its own dynamic pressure. What leaves loses that dynamic pressure outside besides. Where warm fluid
    rises, the air outside weighs as what would enter, and what passes both ways loses layer by layer.

    Source: definition of a pressure coefficient. Common practice, no source: 0.5 to 0.7 on the side the wind
    blows on, -0.2 to -0.5 in its lee and along the sides; a sharp opening of a discharge coefficient of 0.6
    has a loss of 1.8 beside the dynamic pressure that is lost behind it.
    """

    caption: ClassVar[str] = "Open window"
    group: ClassVar[str] = "Rest of a system"
    symbol: ClassVar[str] = (
        "M-0.1,-0.9 L-0.1,-0.4 M-0.1,0.4 L-0.1,0.9 M-0.1,-0.4 L-0.6,-0.7 M0.1,-0.1 L0.9,-0.1 M0.1,0.15 "
        "L0.7,0.15 M0.3,-0.25 L0.1,-0.1 L0.3,0.05"
    )
    sentence: ClassVar[str] = (
        "{id}: {edge} stands open to outside at {pressure}, where a wind of {wind} has the pressure "
        "coefficient {coefficient}; its loss coefficient is {loss}."
    )
    fixes: ClassVar[str] = "pressure"
    follows_flow: ClassVar[bool] = True
    surroundings: ClassVar[bool] = True

    kind: Literal["window"] = "window"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    pressure: Text = quantity(
        "pressure",
        "pressure outside",
        "Away from the wind, relative to the reference pressure.",
        default="0 Pa",
        varies="t",
    )
    wind: Text = quantity(
        "velocity",
        "wind speed",
        "That the pressure coefficient counts from, as a rule at the height of the roof.",
        default="0 m/s",
        at_least=0,
        varies="t",
    )
    coefficient: Text = quantity(
        "number",
        "pressure coefficient",
        "0.5 to 0.7 where the wind blows on, -0.2 to -0.5 in the lee (common practice, no source).",
        default="0.6",
        at_least=-3,
        at_most=1,
        varies="t",
    )
    loss: Text = quantity(
        "number",
        "loss coefficient",
        "Of the opening itself, over the dynamic pressure of its mean velocity.",
        default="1.8",
        at_least=0,
        varies="t",
    )

    @classmethod
    def stands_at(cls, numbers: Any, density: float) -> float | None:
        """The pressure the wind makes outside, where nothing of it varies."""
        steady = all(
            isinstance(each, float) for each in (numbers.pressure, numbers.wind, numbers.coefficient)
        )
        return _outside(numbers, density) if steady else None

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Begin with the pressure outside."""
        fix_pressure(patch, boundary, _outside(numbers, patch.density), loss=float(numbers.loss))

    @classmethod
    def pressure_at(
        cls,
        numbers: Any,
        flow: float,
        density: float,
    ) -> tuple[float, float]:
        """The pressure outside and the loss, by the square of the mean velocity and its sign."""
        each = 0.5 * density * float(numbers.loss) / numbers.area**2
        return _outside(numbers, density) + each * flow * abs(flow), 2 * each * abs(flow)


def _outside(numbers: Any, density: float) -> float:
    wind = 0.5 * density * float(numbers.wind) ** 2
    return float(numbers.pressure) + float(numbers.coefficient) * wind
