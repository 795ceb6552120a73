"""Sources inside the space."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind
from mop_lantern.errors import RunError
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]


class SourceKind(Kind):
    """A source: ``feeds(numbers)`` names what it feeds, "heat" or a species; ``rate(numbers)`` its strength,
    W or m3/s or kg/s.
    """

    @classmethod
    def feeds(cls, numbers: Any) -> str:
        """Give what is fed."""
        raise NotImplementedError

    @classmethod
    def rate(cls, numbers: Any) -> float:
        """Give the strength, spread evenly over the box."""
        raise NotImplementedError


def spread(
    numbers: Any,
    mesh: Mesh,
    strength: float,
    path: str,
) -> Floats:
    """Spread a strength over the cells of a box, (n_cells,) per m3.

    Raises
    ------
    RunError : no cell lies in the box.
    """
    low = np.minimum(numbers.low, numbers.high)
    high = np.maximum(numbers.low, numbers.high)
    centre = mesh.centre[:, : len(mesh.ways)]
    inside = ((centre >= low) & (centre <= high)).all(axis=1)
    if not inside.any():
        raise RunError(
            "no cell lies in the box of this source.",
            path,
            "Move it into the space or make the cells smaller.",
        )
    return np.asarray(np.where(inside, strength / (mesh.volume[inside].sum() * mesh.turn), 0.0))
