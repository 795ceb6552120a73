"""A fan inside the fluid."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, curve, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.errors import RunError
from mop_lantern.field.device import Across, Floats, Jump

MOST_SWIRL = float(np.radians(60.0))  # beyond, more turns than goes on


class Fan(Across):
    """A circulation fan: the pressure rises across it by a given amount, or by a curve over its flow. Both
    its sides are open fluid.

    Its swirl turns what it blows, in proportion to the distance from its axis: at the rim by so many degrees
    off its way. That takes power beside what the pressure takes.

    Source: actuator disc (Rankine, Froude); any text on propellers. Between its points a curve is straight,
    beyond them it goes on as in its first and last stretch. Swirl: momentum about the axis, solid rotation.
    """

    caption: ClassVar[str] = "Circulation fan"
    group: ClassVar[str] = "Move it"
    symbol: ClassVar[str] = (
        "M0,-0.9 L0,0.9 M0,-0.9 Q0.5,-0.5 0,0 Q-0.5,0.5 0,0.9 M-0.9,0 L0.9,0 M0.6,-0.25 L0.9,0 L0.6,0.25"
    )
    sentence: ClassVar[str] = (
        "{id}: a fan, {form} of {width} by {height} about {centre}, heading {heading} and rising {lift}, "
        "blows {way} it; the pressure rises by {given}: {pressure}, or by the curve {curve}; what it blows "
        "swirls by {swirl} at its rim."
    )
    drives: ClassVar[bool] = True

    kind: Literal["fan"] = "fan"
    way: Literal["along", "against"] = choice(
        "way",
        "Turn it round.",
        {"along": "along", "against": "against"},
        default="along",
    )
    given: Literal["pressure", "curve"] = choice(
        "rise",
        "One rise for any flow, or the curve of the maker.",
        {"pressure": "a fixed amount", "curve": "its curve"},
        default="pressure",
    )
    pressure: Text = quantity(
        "pressure",
        "rise of pressure",
        "For a fixed amount.",
        default="10 Pa",
        at_least=0,
        varies="t",
    )
    curve: tuple[Point, ...] = curve(
        "pressure curve",
        "Points of flow and rise, from shut to free delivery; the rise falls as the flow grows.",
        "volume_flow",
        "pressure",
        default=(("0 m3/s", "20 Pa"), ("0.5 m3/s", "0 Pa")),
    )
    swirl: Text = quantity(
        "angle",
        "swirl",
        "How far what it blows turns off its way at the rim: right-handed about that way, or left-handed "
        "where negative. 0 deg: guide vanes straighten it, or it is not known. In a plane it has none.",
        default="0 deg",
        at_least=-MOST_SWIRL,
        at_most=MOST_SWIRL,
    )

    def template(self, space: bool = False) -> str:
        """Tell the rise that is given."""
        other = ": {pressure}, or by the curve {curve}"
        told = ": {pressure}" if self.given == "pressure" else ": {curve}"
        return super().template(space).replace(other, told)

    @classmethod
    def strays(cls, numbers: Any, flow: float, added: Mapping[str, float]) -> str:
        """Before the first point of the curve, or beyond the last."""
        seen = flow if numbers.way == "along" else -flow
        if numbers.given != "curve":
            return "" if seen >= 0 else "The flow runs against the fan."
        first, last = np.asarray(numbers.curve, float)[[0, -1], 0]
        return (
            "" if first <= seen <= last else "That is beyond the points of its curve, which goes on straight."
        )

    @classmethod
    def jump(cls, numbers: Any, speed: Floats, area: Floats, density: float) -> Jump:
        """The rise, the same over all of it."""
        round_ = 1.0 if numbers.way == "along" else -1.0
        if numbers.given == "pressure":
            return Jump(np.full(len(speed), round_ * numbers.pressure), np.zeros(len(speed)))
        flow, rise = np.asarray(numbers.curve, float).T
        if len(flow) < 2 or (np.diff(flow) <= 0).any() or (np.diff(rise) > 0).any():
            raise RunError(
                "the curve of the fan needs two points or more, of growing flow and no rise of pressure.",
                "",
                "Begin it where the pressure is highest.",
            )
        seen = round_ * float(speed @ area)
        stretch = int(np.clip(np.searchsorted(flow, seen) - 1, 0, len(flow) - 2))
        slope = float((rise[stretch + 1] - rise[stretch]) / (flow[stretch + 1] - flow[stretch]))
        gained = rise[stretch] + slope * (seen - flow[stretch])
        return Jump(np.full(len(speed), round_ * gained), np.full(len(speed), -slope * float(area.sum())))

    @classmethod
    def spin(cls, numbers: Any, speed: Floats) -> Floats | None:
        """By the tangent of its swirl; what runs against it is not turned."""
        round_ = 1.0 if numbers.way == "along" else -1.0
        turned = float(np.tan(numbers.swirl))
        return round_ * turned * np.maximum(round_ * speed, 0.0) if turned else None
