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
    sentence: ClassVar[str] = "{id}: cells within {distance} of {edge} are halved {levels} times."

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
