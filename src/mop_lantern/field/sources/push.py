"""A force on the fluid in a box."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.field.source import Floats, SourceKind


class Push(SourceKind):
    """A force that pushes the fluid in a box, even over its volume: a stirrer, a jet fan or an aerator whose
    thrust is known.

    Source: definition; the momentum given a second is the force.
    """

    caption: ClassVar[str] = "Push in a box"
    group: ClassVar[str] = "Sources"
    symbol: ClassVar[str] = (
        "M-0.8,-0.7 L0.8,-0.7 L0.8,0.7 L-0.8,0.7 Z M-0.5,-0.25 L0.4,-0.25 M0.2,-0.4 L0.4,-0.25 L0.2,-0.1 "
        "M-0.5,0.3 L0.4,0.3 M0.2,0.15 L0.4,0.3 L0.2,0.45"
    )
    sentence: ClassVar[str] = (
        "{id}: {force} push the fluid between {low} and {high}, heading {heading} and rising {lift}."
    )
    pushes: ClassVar[bool] = True

    kind: Literal["push"] = "push"
    force: Text = quantity(
        "force",
        "force",
        "For the whole depth, or all around the axis.",
        default="1 N",
        varies="t",
    )
    heading: Text = quantity(
        "angle",
        "heading",
        "Where it pushes: 0 along x, 90 deg along y; around an axis along it or against.",
        default="0 deg",
    )
    lift: Text = quantity("angle", "rise", "How steeply it pushes up, in a space.", default="0 deg")
    low: Point = point("one corner", "One corner of the box.")
    high: Point = point("other corner", "The opposite corner.")

    @classmethod
    def gives(cls, numbers: Any, density: float, measures: Any) -> dict[str, float]:
        """Nothing that is carried."""
        return {}

    @classmethod
    def push(cls, numbers: Any, flat: bool) -> Floats:
        """The force along its heading, N."""
        lift = 0.0 if flat else float(numbers.lift)
        turn = float(numbers.heading)
        way = np.array([np.cos(lift) * np.cos(turn), np.cos(lift) * np.sin(turn), np.sin(lift)])
        return np.asarray(float(numbers.force) * way)
