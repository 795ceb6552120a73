"""A fan or pump at an opening."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, curve, quantity, reference
from mop_lantern.declare.kind import Point, Text
from mop_lantern.errors import RunError
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure


class Machine(Opening):
    """A fan or pump that drives fluid through the edge by its curve of pressure over flow: blowing in, the
    curve is added to the pressure behind it and is one of total pressure; sucking out, it is taken from it
    and is one of static pressure. The flow is an answer.

    Between its points the curve is straight, beyond them it goes on as in its first and last stretch.

    Source: definition of the curve of a machine; any text on pumps and fans.
    """

    caption: ClassVar[str] = "Fan or pump with its curve"
    group: ClassVar[str] = "Rest of a system"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L-0.2,-0.4 M-1,0.4 L-0.2,0.4 M-0.2,0 A0.55,0.55 0 1 1 0.9,0 A0.55,0.55 0 1 1 -0.2,0 Z "
        "M0.05,-0.42 L0.85,-0.2 M0.05,0.42 L0.85,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: a fan or pump drives fluid {way} through {edge}, with the pressures {curve}; behind it is "
        "{pressure}."
    )
    fixes: ClassVar[str] = "pressure"
    follows_flow: ClassVar[bool] = True
    drives: ClassVar[bool] = True

    kind: Literal["machine"] = "machine"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    way: Literal["in", "out"] = choice(
        "way", "Into or out of the space.", {"in": "in", "out": "out"}, default="in"
    )
    curve: tuple[Point, ...] = curve(
        "pressure curve",
        "Points of flow and pressure, from shut to free delivery; the pressure falls as the flow grows.",
        "volume_flow",
        "pressure",
    )
    pressure: Text = quantity(
        "pressure",
        "pressure behind it",
        "Where it takes fluid from, or delivers it to; relative to the reference pressure.",
        default="0 Pa",
        varies="t",
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Begin with what it gives shut.

        Raises
        ------
        RunError : the curve has one point, or its pressure rises somewhere.
        """
        flow, rise = np.asarray(numbers.curve, float).T
        if len(flow) < 2 or (np.diff(flow) <= 0).any() or (np.diff(rise) > 0).any():
            raise RunError(
                "the curve of the machine needs two points or more, of growing flow and no rise of pressure.",
                numbers.edge,
                "Begin it where the pressure is highest.",
            )
        fix_pressure(patch, boundary, numbers.pressure + (rise[0] if numbers.way == "in" else -rise[0]))

    @classmethod
    def pressure_at(
        cls,
        numbers: Any,
        flow: float,
        density: float,
    ) -> tuple[float, float]:
        """The pressure behind it and the curve, by the flow that the machine sees."""
        along, rise = np.asarray(numbers.curve, float).T
        way = -1.0 if numbers.way == "in" else 1.0
        seen = way * flow
        stretch = int(np.clip(np.searchsorted(along, seen) - 1, 0, len(along) - 2))
        slope = float((rise[stretch + 1] - rise[stretch]) / (along[stretch + 1] - along[stretch]))
        gained = float(rise[stretch] + slope * (seen - along[stretch]))
        return float(numbers.pressure - way * gained), -slope
