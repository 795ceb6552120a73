"""A filter or strainer."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import Component, Drop, Floats


class Filter(Component):
    """A filter: its loss clean and dirty at the rated flow, and how dirty it is; part of the loss is laminar.

    Source: makers' pairs of flow and loss; a share grows with the flow, the rest with its square (common
    practice, no source).
    """

    caption: ClassVar[str] = "Filter"
    group: ClassVar[str] = "Filters, orifices and given flows"
    sentence: ClassVar[str] = (
        "{id}: a filter losing {clean} clean and {dirty} dirty at {rated}, {dirt} dirty, {laminar} of "
        "the loss laminar."
    )
    symbol: ClassVar[str] = "M-1,0 L0,-0.8 L1,0 L0,0.8 Z M0,-0.8 L0,-0.4 M0,-0.2 L0,0.2 M0,0.4 L0,0.8"

    kind: Literal["filter"] = "filter"
    clean: Text = quantity(
        "pressure",
        "clean loss",
        "Loss at the rated flow when new.",
        default="10 kPa",
        above=0,
    )
    dirty: Text = quantity(
        "pressure",
        "dirty loss",
        "Loss at the rated flow when due for change.",
        default="50 kPa",
        above=0,
    )
    rated: Text = quantity(
        "volume_flow",
        "rated flow",
        "Where these were measured.",
        default="10 m3/h",
        above=0,
    )
    dirt: Text = quantity(
        "fraction",
        "dirt",
        "From new (0 %) to due (100 %).",
        default="0 %",
        at_least=0,
        at_most=1,
        varies="t",
    )
    laminar: Text = quantity(
        "fraction",
        "laminar fraction",
        "Fraction of the loss that grows with the flow itself.",
        default="50 %",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """A straight and a square part."""
        loss = a.clean + (a.dirty - a.clean) * a.dirt
        size = np.abs(q)
        slope = loss * (np.maximum(a.laminar, 1e-3) / a.rated + 2 * (1 - a.laminar) * size / a.rated**2)
        return loss * (
            np.maximum(a.laminar, 1e-3) * q / a.rated + (1 - a.laminar) * q * size / a.rated**2
        ), slope
