"""Where the fluid of a hollow gets out: the way from a wet point to the outside, through the gap."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.surface import Surface, heights_over

Floats = NDArray[np.float64]
ACROSS = (50, 110)  # voxels along the space, tried in turn
SHY = 3.0  # how strongly a way keeps off walls: the widest gap is taken, not the nearest


@dataclass(frozen=True)
class Leak:
    """A way out.

    Attributes
    ----------
    line : (k, 3) m, from the wet point to the outside; empty where none is wide enough to be seen. gap : (3,)
    m, its narrowest place.
    width : m there. seen : m, the finest width that could be seen.
    """

    line: Floats
    gap: Floats
    width: float
    seen: float


def leak(surface: Surface, place: Floats) -> Leak:
    """Find the way from a place (3,) m in the fluid to the rim of the box around it.

    Steps from voxel to voxel that cross no wall, be it as thin as a hair; the shortest way whose steps count
    more the nearer walls are (Dijkstra).
    """
    found = Leak(np.zeros((0, 3)), place, 0.0, 0.0)
    for across in ACROSS:
        found = _way(surface, place, across)
        if len(found.line):
            break
    return found


def _way(surface: Surface, place: Floats, across: int) -> Leak:
    from scipy import ndimage
    from scipy.sparse.csgraph import connected_components, dijkstra

    low = surface.points.min(axis=0)
    high = surface.points.max(axis=0)
    step = float((high - low).max() / across)
    counts = np.maximum(np.ceil((high - low) / step).astype(int), 3)
    axes = [low[k] + (high[k] - low[k]) * (np.arange(counts[k]) + 0.5) / counts[k] for k in range(3)]
    wet, _ = along(surface, axes, 2)
    rim = np.ones(wet.shape, bool)
    rim[1:-1, 1:-1, 1:-1] = False
    nothing = Leak(np.zeros((0, 3)), place, 0.0, step)
    if not wet.any():
        return nothing
    room = ndimage.distance_transform_edt(np.pad(wet, 1, mode="edge"), sampling=step)[1:-1, 1:-1, 1:-1][wet]
    number = np.full(wet.shape, -1)
    number[wet] = np.arange(int(wet.sum()))
    graph = _steps(
        surface,
        axes,
        number,
        room,
        step,
    )
    start = int(number[_nearest(axes, wet, place)])
    _, label = connected_components(graph, directed=False)
    ends = number[wet & rim]
    ends = ends[label[ends] == label[start]]
    if not len(ends):
        return nothing
    cost, before = dijkstra(graph, indices=start, return_predecessors=True)
    way = [int(ends[np.argmin(cost[ends])])]
    while before[way[-1]] >= 0:
        way.append(int(before[way[-1]]))
    way.reverse()
    line = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1)[wet][way]
    tight = int(room[way].argmin())
    return Leak(np.vstack([place, line]), line[tight], max(float(2 * room[way][tight] - step), step), step)


def along(surface: Surface, axes: list[Floats], k: int) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Tell which voxels have their middle in the fluid, and between which neighbours along a direction a wall
    runs.
    """
    turn = [(k + 1) % 3, (k + 2) % 3, k]
    turned = Surface(surface.points[:, turn], surface.triangles, surface.labels, surface.names)
    u, v, w = (axes[d] for d in turn)
    first, second = np.meshgrid(u, v, indexing="ij")
    shift = 1e-4 * (u[1] - u[0]) * np.array([0.37, 0.61])  # lines must miss edges
    column, height, way = heights_over(
        turned, np.column_stack([first.reshape(-1), second.reshape(-1)]) + shift
    )
    change = np.zeros((len(u) * len(v), len(w) + 1))
    met = np.zeros((len(u) * len(v), len(w) + 1), bool)
    spot = np.searchsorted(w, height)
    np.add.at(change, (column, spot), way)
    met[column, spot] = True
    back = np.argsort(turn)
    shape = (len(u), len(v))
    wet = (np.cumsum(change[:, ::-1], axis=1)[:, ::-1][:, 1:] > 0.5).reshape(*shape, len(w))
    return np.transpose(wet, back), np.transpose(met[:, 1:-1].reshape(*shape, len(w) - 1), back)


def _nearest(axes: list[Floats], wet: NDArray[np.bool_], place: Floats) -> tuple[int, ...]:
    far = sum(
        (axis.reshape([-1 if d == k else 1 for d in range(3)]) - place[k]) ** 2 for k, axis in enumerate(axes)
    )
    return tuple(int(i) for i in np.unravel_index(int(np.where(wet, far, np.inf).argmin()), wet.shape))


def _steps(
    surface: Surface,
    axes: list[Floats],
    number: NDArray[np.int64],
    room: Floats,
    step: float,
) -> Any:
    """Give the graph of steps from voxel to voxel that cross no wall; those near walls cost more."""
    from scipy.sparse import coo_matrix

    rows = []
    columns = []
    for k in range(3):
        met = along(surface, axes, k)[1]
        cut = [[slice(None)] * 3 for _ in range(2)]
        cut[0][k], cut[1][k] = slice(None, -1), slice(1, None)
        first = number[tuple(cut[0])]
        second = number[tuple(cut[1])]
        both = (first >= 0) & (second >= 0) & ~met
        rows.append(first[both])
        columns.append(second[both])
    row = np.concatenate(rows)
    column = np.concatenate(columns)
    cost = step * (1 + (2 * step / np.minimum(room[row], room[column])) ** SHY)
    return coo_matrix(
        (np.tile(cost, 2), (np.concatenate([row, column]), np.concatenate([column, row]))), (len(room),) * 2
    ).tocsr()
