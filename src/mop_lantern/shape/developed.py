"""Fully developed laminar flow through a flat face of a space, whatever its outline."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
ACROSS = 120  # grid lines over the longer side of a face


FACING = 0.02  # below, a face has no direction worth the name


def developed(surface: Surface, name: str, places: Floats) -> Floats:
    """Give the velocity of developed laminar flow at places (k, 3) m on a named face, over its largest, (k,);
    0 at its rim.

    References
    ----------
    Poisson's equation with the velocity zero at the rim, any text on viscous flow; uneven stencils at the rim
    after Shortley and Weller (1938).
    """
    if surface.facing(name) < FACING:  # it closes round a body, as a whole ball does: no way to look at it
        return np.ones(len(places))
    middle, inward = surface.face(name)
    aside = np.cross(inward, np.eye(3)[int(np.abs(inward).argmin())])
    aside /= np.linalg.norm(aside)
    axes = np.column_stack([aside, np.cross(inward, aside)])
    kept: dict[str, Any] = surface.__dict__.setdefault("_developed", {})
    if name not in kept:
        corners = (
            surface.points[surface.triangles[surface.labels == surface.names.index(name)]] - middle
        ) @ axes
        rim = _rim(corners)
        kept[name] = _solve(rim) if len(rim) else None
    if kept[name] is None:  # a face without a rim, such as a whole ball
        return np.ones(len(places))
    x, y, u = kept[name]
    return np.asarray(np.maximum(_between(x, y, u, (places - middle) @ axes), 0.0))


def _rim(corners: Floats) -> Floats:
    """Give the edges that belong to one triangle only, (k, 2, 2)."""
    size = np.ptp(corners.reshape(-1, 2), axis=0).max()
    ends = np.round(
        corners[
            :,
            [
                [0, 1],
                [1, 2],
                [2, 0],
            ],
        ].reshape(-1, 2, 2)
        / (1e-7 * size)
    ).astype(np.int64)
    turned = (ends[:, 0, 0] > ends[:, 1, 0]) | (
        (ends[:, 0, 0] == ends[:, 1, 0]) & (ends[:, 0, 1] > ends[:, 1, 1])
    )
    ends[turned] = ends[turned][:, ::-1]
    unique, count = np.unique(ends.reshape(-1, 4), axis=0, return_counts=True)
    return np.asarray(unique[count == 1].reshape(-1, 2, 2) * (1e-7 * size))


def _crossings(rim: Floats, lines: Floats, along: int) -> list[Floats]:
    """Give where each grid line, run along a direction, crosses the rim, ascending."""
    level = rim[:, :, 1 - along]
    place = rim[:, :, along]
    found = []
    for line in lines:
        met = (level[:, 0] < line) != (level[:, 1] < line)
        share = (line - level[met, 0]) / (level[met, 1] - level[met, 0])
        found.append(np.sort(place[met, 0] + share * (place[met, 1] - place[met, 0])))
    return found


def _solve(rim: Floats) -> tuple[Floats, Floats, Floats]:
    """Solve Poisson's equation within a rim; give grid lines and values over the largest, (nx, ny)."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.linalg import spsolve

    low = rim.reshape(-1, 2).min(axis=0)
    high = rim.reshape(-1, 2).max(axis=0)
    h = float((high - low).max()) / ACROSS
    x, y = (np.arange(low[d] - 1.37 * h, high[d] + 1.5 * h, h) for d in range(2))
    inside = np.zeros((len(x), len(y)), bool)
    reach = np.full((2, 2, len(x), len(y)), h)  # free way: direction, back or ahead
    for j, cuts in enumerate(_crossings(rim, y, 0)):
        inside[:, j] = np.searchsorted(cuts, x) % 2 == 1
        _limit(reach[0, :, :, j], cuts, x)
    for i, cuts in enumerate(_crossings(rim, x, 1)):
        _limit(reach[1, :, i, :], cuts, y)
    number = np.full(inside.shape, -1)
    number[inside] = np.arange(int(inside.sum()))
    reach = np.clip(reach, 1e-4 * h, h)
    rows = []
    columns = []
    values = []
    diagonal = np.zeros(int(inside.sum()))
    for d in range(2):
        back = reach[d, 0][inside]
        ahead = reach[d, 1][inside]
        for way, own in ((-1, back), (1, ahead)):
            weight = 2.0 / (own * (back + ahead))
            diagonal += weight
            beside = np.roll(number, -way, axis=d)[inside]
            use = (own >= h * (1 - 1e-9)) & (beside >= 0)
            rows.append(np.flatnonzero(use))
            columns.append(beside[use])
            values.append(-weight[use])
    count = len(diagonal)
    rows.append(np.arange(count))
    columns.append(np.arange(count))
    values.append(diagonal)
    matrix = coo_matrix(
        (np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), (count, count)
    ).tocsc()
    u = np.zeros(inside.shape)
    u[inside] = spsolve(matrix, np.ones(count))
    return x, y, u / u.max()


def _limit(reach: Floats, cuts: Floats, line: Floats) -> None:
    """Shorten the free way of places along a line to the next crossing."""
    if not len(cuts):
        return
    after = np.searchsorted(cuts, line)
    reach[1] = np.minimum(
        reach[1], np.where(after < len(cuts), cuts[np.minimum(after, len(cuts) - 1)] - line, np.inf)
    )
    reach[0] = np.minimum(reach[0], np.where(after > 0, line - cuts[np.maximum(after - 1, 0)], np.inf))


def _between(
    x: Floats,
    y: Floats,
    u: Floats,
    places: Floats,
) -> Floats:
    """Interpolate between grid lines."""
    i = np.clip(np.searchsorted(x, places[:, 0]) - 1, 0, len(x) - 2)
    j = np.clip(np.searchsorted(y, places[:, 1]) - 1, 0, len(y) - 2)
    s = np.clip((places[:, 0] - x[i]) / (x[1] - x[0]), 0, 1)
    t = np.clip((places[:, 1] - y[j]) / (y[1] - y[0]), 0, 1)
    return np.asarray(
        (1 - s) * ((1 - t) * u[i, j] + t * u[i, j + 1]) + s * ((1 - t) * u[i + 1, j] + t * u[i + 1, j + 1])
    )
