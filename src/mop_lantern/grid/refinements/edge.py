"""Finer cells along one named edge or face."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.grid.near import near
from mop_lantern.grid.refinement import Halved


class Edge(Halved):
    """Cells within a distance of a named edge (in a space: face) are halved a number of times.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer along an edge"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M-1,0.3 L1,0.3 M-0.5,0.6 L-0.5,-0.1 M0,0.6 L0,-0.1 M0.5,0.6 L0.5,-0.1 M-1,-0.1 L1,-0.1"
    )
    sentence: ClassVar[str] = "{id}: refinement level {levels} within {distance} of {edge}."

    kind: Literal["edge"] = "edge"
    edge: str = reference("edge", "edge", "The edge.")
    distance: Text = quantity(
        "length",
        "distance",
        "How far the small cells reach.",
        default="5 mm",
        at_least=0,
    )

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want small cells near the edge."""
        small = base / 2**numbers.levels
        return np.where(
            near(
                plane.samples(plane.labels == plane.names.index(numbers.edge), small),
                centres,
                sizes,
                numbers.distance,
            ),
            small,
            np.inf,
        )
