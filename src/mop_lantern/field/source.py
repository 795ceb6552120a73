"""Sources inside the space."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind
from mop_lantern.errors import RunError
from mop_lantern.grid import Mesh
from mop_lantern.grid.zones import cells_about_box

Floats = NDArray[np.float64]


class SourceKind(Kind):
    """A source: ``feeds(numbers)`` names what it feeds, "heat" or a species; ``rate(numbers)`` its strength,
    W or m3/s or kg/s. One that feeds several says so with ``gives`` instead. One that ``pushes`` the fluid
    gives its force.
    """

    pushes: ClassVar[bool] = False

    @classmethod
    def feeds(cls, numbers: Any) -> str:
        """Give what is fed."""
        raise NotImplementedError

    @classmethod
    def rate(cls, numbers: Any) -> float:
        """Give the strength, spread evenly over its cells."""
        raise NotImplementedError

    @classmethod
    def gives(cls, numbers: Any, density: float, measures: Mapping[str, str]) -> dict[str, float]:
        """Give all it feeds and how strongly; ``density`` of the fluid, kg/m3, ``measures`` of species."""
        return {cls.feeds(numbers): cls.rate(numbers)}

    @classmethod
    def push(cls, numbers: Any, flat: bool) -> Floats:
        """Give the force on the fluid, (3,) N; ``flat``: in a plane or around an axis."""
        return np.zeros(3)

    @classmethod
    def cells(cls, numbers: Any, mesh: Mesh) -> NDArray[np.bool_]:
        """Mark the cells it is spread over: those of a box, unless a kind says otherwise."""
        return cells_about_box(mesh, numbers.low, numbers.high)


def spread(
    inside: NDArray[np.bool_],
    mesh: Mesh,
    strength: float,
    path: str,
) -> Floats:
    """Spread a strength over the cells marked, (n_cells,) per m3.

    Raises
    ------
    RunError : there are none.
    """
    if not inside.any():
        raise RunError(
            "no cell lies where this source is.",
            path,
            "Move it into the space or make the cells smaller.",
        )
    return np.asarray(np.where(inside, strength / (mesh.volume[inside].sum() * mesh.turn), 0.0))
