"""A resistance in proportion to the flow: what a tank takes up within a step, what waves bring to a node."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.network.component import Component, Drop, Floats


class Linear(Component):
    """Not for people: the solvers put it beside the components of a case. ``slope`` in Pa/(m3/s)."""

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """In proportion to the flow."""
        return a.slope * q, a.slope + 0.0 * q

    @classmethod
    def closed(cls, a: Any) -> NDArray[np.bool_]:
        """Never shut."""
        return np.zeros(len(a.slope), bool)
