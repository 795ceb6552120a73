"""A prism over any outline."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def prism(flat: Floats, low: Floats, shift: Floats) -> tuple[Floats, NDArray[Any], NDArray[Any]]:
    """Close an outline by two caps and a wall for each of its sides.

    Parameters
    ----------
    flat : (k, 2) anticlockwise corners in the plane of the caps. low : (k, 3) m, the same in space. shift :
    (3,) m from cap to cap.

    Returns
    -------
    points (2 k, 3), triangles, and where each belongs: 0 first cap, 1 second, 2 + number of the side.
    """
    pieces = shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(flat)))
    corners = np.array([shapely.get_coordinates(piece)[:3] for piece in pieces])
    cap = np.array([[int(np.hypot(*(flat - corner).T).argmin()) for corner in piece] for piece in corners])
    ax, ay = (flat[cap[:, 1]] - flat[cap[:, 0]]).T
    bx, by = (flat[cap[:, 2]] - flat[cap[:, 0]]).T
    cap = np.where((ax * by - ay * bx > 0)[:, None], cap, cap[:, ::-1])
    k = len(flat)
    here = np.arange(k)
    ahead = (np.arange(k) + 1) % k
    walls = np.vstack(
        [np.column_stack([here, ahead, k + ahead]), np.column_stack([here, k + ahead, k + here])]
    )
    triangles = np.vstack([cap[:, ::-1], k + cap, walls])
    return (
        np.vstack([low, low + shift]),
        triangles,
        np.concatenate(
            [
                np.zeros(len(cap), int),
                np.ones(len(cap), int),
                2 + here,
                2 + here,
            ]
        ),
    )
