"""A given flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import Component, Drop, Floats

STIFF = 1e10  # Pa over the given flow: a thousand bar move it by a hundredth


class GivenFlow(Component):
    """Lets just the flow given through its line, giving or taking whatever pressure that needs: a measured
    flow, or a machine not chosen yet.

    Source: definition; a straight and very steep line through the given flow (ours), 0.001 % off at 1 bar.
    """

    caption: ClassVar[str] = "Given flow"
    group: ClassVar[str] = "Filters, orifices and given flows"
    sentence: ClassVar[str] = "{id}: the flow is held at {flow}."
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M-0.45,0 L0.45,0 M0.1,-0.3 L0.45,0 L0.1,0.3"
    )

    kind: Literal["given_flow"] = "given_flow"
    flow: Text = quantity(
        "volume_flow",
        "flow",
        "Along the line; negative against it.",
        default="1 L/s",
        varies="t",
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Nothing at the given flow, and very much beside it."""
        slope = STIFF / np.maximum(np.abs(a.flow), 1e-6)
        return np.asarray(slope * (q - a.flow)), np.asarray(slope)
