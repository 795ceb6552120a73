"""A screen across the fluid."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.device import Across, Floats, Jump, fall


class Screen(Across):
    """A screen, grille, filter or perforated plate across the fluid: it takes its loss coefficient times the
    dynamic pressure of the speed through it, from either side.

    By its free area the loss coefficient is that of a perforated plate of sharp edges, K = (0.707
    (1 - f)^0.375 + 1 - f)^2 / f^2. What clogs it takes free area: K grows by one over the square of what is
    left.

    Source: Idelchik, *Handbook of Hydraulic Resistance* (3rd ed.), diagram 4-14 (not at hand to check).
    """

    caption: ClassVar[str] = "Screen, filter or perforated plate"
    group: ClassVar[str] = "Hold it back"
    symbol: ClassVar[str] = (
        "M0,-0.9 L0,-0.6 M0,-0.4 L0,-0.1 M0,0.1 L0,0.4 M0,0.6 L0,0.9 M-0.9,-0.25 L-0.2,-0.25 M0.2,-0.25 "
        "L0.9,-0.25 M-0.9,0.25 L-0.2,0.25 M0.2,0.25 L0.9,0.25"
    )
    sentence: ClassVar[str] = (
        "{id}: a screen, {form} of {width} by {height} about {centre}, heading {heading} and rising {lift}, "
        "loses by {given}: coefficient {loss}, or free area {free}; {clogged} of it are clogged."
    )

    kind: Literal["screen"] = "screen"
    given: Literal["loss", "free"] = choice(
        "loss by",
        "What is known of it.",
        {"loss": "its loss coefficient", "free": "its free area"},
        default="loss",
    )
    loss: Text = quantity(
        "number",
        "loss coefficient",
        "Clean, on the speed before it.",
        default="2",
        at_least=0,
        varies="t",
    )
    free: Text = quantity(
        "fraction",
        "free area",
        "Holes over the whole, of a plate with sharp edges.",
        default="50 %",
        above=0,
        at_most=1,
    )
    clogged: Text = quantity(
        "fraction",
        "clogged share",
        "Of the free area.",
        default="0 %",
        at_least=0,
        below=1,
        varies="t",
    )

    @classmethod
    def coefficient(cls, numbers: Any) -> float:
        """Give the loss coefficient as it is now."""
        if numbers.given == "free":
            return plate(float(numbers.free) * (1 - float(numbers.clogged)))
        return float(numbers.loss) / (1 - float(numbers.clogged)) ** 2

    @classmethod
    def jump(cls, numbers: Any, speed: Floats, area: Floats, density: float) -> Jump:
        """A fall by the square of the speed, against it."""
        return fall(cls.coefficient(numbers), speed, density)


def plate(free: float) -> float:
    """Give the loss coefficient of a thin perforated plate of a free area, on the speed before it (Idelchik,
    diagram 4-14).
    """
    closed = 1 - free
    return float((0.707 * closed**0.375 + closed) ** 2 / free**2)
