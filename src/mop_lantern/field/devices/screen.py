"""A screen across the fluid."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, curve, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.errors import RunError
from mop_lantern.field.device import Across, Floats, Jump, fall


class Screen(Across):
    """A screen, grille, filter or perforated plate across the fluid: it takes its loss coefficient times the
    dynamic pressure of the speed through it, from either side.

    By its free area the loss coefficient is that of a perforated plate of sharp edges, K = (0.707
    (1 - f)^0.375 + 1 - f)^2 / f^2. By points of flow and loss, as makers of filters give them, every piece of
    it loses what the whole would at that speed: straight between the points, and from nothing to the first;
    beyond the last by the square. What clogs it takes free area: K grows by one over the square of what is
    left, and points are taken at the speed in what is left.

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
        "loses by {given}: coefficient {loss}, free area {free}, or the points {points}; {clogged} of it are "
        "clogged."
    )

    kind: Literal["screen"] = "screen"
    given: Literal["loss", "free", "points"] = choice(
        "loss by",
        "What is known of it.",
        {"loss": "its loss coefficient", "free": "its free area", "points": "points of flow and loss"},
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
    points: tuple[Point, ...] = curve(
        "points of flow and loss",
        "Of its maker, clean: flow through all of it and the pressure it takes, growing.",
        "volume_flow",
        "pressure",
        default=(("0.1 m3/s", "20 Pa"), ("0.3 m3/s", "90 Pa")),
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

    def template(self, space: bool = False) -> str:
        """Tell what is known of it."""
        other = "coefficient {loss}, free area {free}, or the points {points}"
        told = {"loss": "{loss}", "free": "{free}", "points": "{points}"}[self.given]
        return super().template(space).replace(other, told)

    @classmethod
    def coefficient(cls, numbers: Any) -> float:
        """Give the loss coefficient as it is now, by its free area or as it is given."""
        if numbers.given == "free":
            return plate(float(numbers.free) * (1 - float(numbers.clogged)))
        return float(numbers.loss) / (1 - float(numbers.clogged)) ** 2

    @classmethod
    def jump(cls, numbers: Any, speed: Floats, area: Floats, density: float) -> Jump:
        """A fall by the square of the speed, against it, or by its points."""
        if numbers.given != "points":
            return fall(cls.coefficient(numbers), speed, density)
        whole = float(area.sum()) / (1 - float(numbers.clogged))
        lost, slope = by_points(_points(numbers), whole * np.abs(speed))
        return Jump(-np.sign(speed) * lost, whole * slope)

    @classmethod
    def strays(cls, numbers: Any, flow: float, added: Mapping[str, float]) -> str:
        """Beyond the last of its points."""
        if numbers.given != "points" or abs(flow) <= _points(numbers)[0][-1] * (1 - numbers.clogged):
            return ""
        return "That is beyond its points of flow and loss: from there it loses by the square of the flow."


def _points(numbers: Any) -> tuple[Floats, Floats]:
    """Give flow m3/s and loss Pa of the points of a screen, from none of both on.

    Raises
    ------
    RunError : they do not grow.
    """
    flow, loss = np.asarray(numbers.points, float).reshape(-1, 2).T
    if not len(flow) or flow[0] != 0:
        flow, loss = np.append(0.0, flow), np.append(0.0, loss)
    if len(flow) < 2 or loss[0] != 0 or (np.diff(flow) <= 0).any() or (np.diff(loss) < 0).any():
        raise RunError(
            "the points of the screen need flow and loss that grow, and no loss without flow.",
            "",
            "Type the points of its maker from the smallest flow to the largest.",
        )
    return flow, loss


def by_points(points: tuple[Floats, Floats], flow: Floats) -> tuple[Floats, Floats]:
    """Give the loss, Pa, at flows (k,) m3/s, none below zero, and how steeply it grows, Pa s/m3: straight
    between points of flow and loss, beyond the last by the square of the flow.
    """
    known, loss = points
    steep = np.diff(loss) / np.diff(known)
    stretch = np.clip(np.searchsorted(known, flow) - 1, 0, len(steep) - 1)
    lost = loss[stretch] + steep[stretch] * (flow - known[stretch])
    last, most = known[-1], loss[-1]
    beyond = flow > last
    return (
        np.where(beyond, most * (flow / last) ** 2, lost),
        np.where(beyond, 2 * most * flow / last**2, steep[stretch]),
    )


def plate(free: float) -> float:
    """Give the loss coefficient of a thin perforated plate of a free area, on the speed before it (Idelchik,
    diagram 4-14).
    """
    closed = 1 - free
    return float((0.707 * closed**0.375 + closed) ** 2 / free**2)
