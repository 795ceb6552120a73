"""A watertight wrap of triangles in any state, at a told feature size.

The space is closed by a ball of that diameter: what the ball cannot reach from outside (or, for the inside,
from a place within) becomes solid. Gaps narrower than the ball are shut, flat and convex faces stay where
they are, and it does not matter which way triangles face, whether they cross or where they are torn.

On a lattice with three steps to the feature size: distances to the triangles; what lies farther than the
ball's radius and hangs together with where the ball begins; the front of that; and what lies farther than the
radius from the front.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.crossing import crossings
from mop_lantern.shape.topology import shells_of
from mop_lantern.shape.wrap_kernels import chopped, nearest_ones, spread
from mop_lantern.shape.wrapping import STEPS

Floats = NDArray[np.float64]
Ints = NDArray[Any]
Contour = Callable[[NDArray[np.float32], float], tuple[Floats, Ints]]
BAND = 1.05  # steps beyond the radius in which distances are known: neighbours of nearer nodes lie within
CHOP = 8.0  # steps: larger triangles are chopped
TIE = 1e-4  # of the radius: nodes nearer to the front are moved off it
BRIDGED = 0.6  # steps: farther from every face, and it bridges a gap
SIMPLER = 0.05  # steps: how far corners may go when triangles are made fewer
GROWTH = 1.3  # of the feature size, from one tried to the next
WIDER = 10  # larger ones tried
TOLD = 4  # places of gaps
APART = 0.1  # of the lattice: how far they are apart at least
NECK = 0.3  # steps: a gap is where both sides are as near as that to the nearest they come


class Leaks(ValueError):
    """What was to be filled is open to the outside by more than the feature size.

    Attributes
    ----------
    places : (k, 3) m, the middles of the gaps. closes : m, the feature size that closes them all; 0 where
    none tried does.
    """

    def __init__(self, places: Floats, closes: float) -> None:
        super().__init__("it is open to the outside by more than the feature size")
        self.places = places
        self.closes = closes


@dataclass(frozen=True)
class Wrapped:
    """A closed surface.

    Attributes
    ----------
    points : (n, 3) m. triangles : (m, 3), facing out of the solid, or of the fluid where its inside was
    wrapped. of : (m,) the triangle given each lies on, -1 where it bridges a gap. bridged : share of its
    area. volume : m3.
    """

    points: Floats
    triangles: Ints
    of: Ints
    bridged: float
    volume: float


def _counts(corners: Floats, feature: float) -> Ints:
    step = feature / STEPS
    extent = np.ptp(corners.reshape(-1, 3), axis=0)
    margin = 0.5 * feature + (BAND + 2) * step
    return np.asarray(np.ceil((extent + 2 * margin) / step).astype(int) + 1)


def wrapped(
    corners: Floats,
    group: Ints,
    feature: float,
    contour: Contour,
    within: Floats | None = None,
    say: Callable[[str], None] = lambda words: None,
) -> Wrapped:
    """Wrap triangles (m, 3, 3) m from outside, or the inside about a place.

    Parameters
    ----------
    group : (m,) what face each belongs to; triangles are only merged within one. feature : m, the diameter of
    the ball. contour : gives the surface on which a field on the lattice has a value, in steps from its first
    node. within : (3,) m, a place whose surroundings are wrapped. say : told what is done.

    Raises
    ------
    Leaks : the inside is open to the outside. ValueError : nothing is left, or the place lies in a wall.

    References
    ----------
    Closing by a ball: Serra, "Image analysis and mathematical morphology", Academic Press 1982, chapter 2.
    """
    from scipy import ndimage

    step = feature / STEPS
    radius = 0.5 * feature
    low = corners.reshape(-1, 3).min(axis=0)
    first = low - radius - (BAND + 1.63) * step
    shape = tuple(int(n) for n in _counts(corners, feature))
    say("distances to the faces")
    far = np.full(shape, radius + BAND * step, np.float32)
    near = np.full(shape, -1, np.int32)
    pieces, of = chopped(np.ascontiguousarray(corners), CHOP * step)
    spread(pieces, of, first, step, radius + BAND * step, far, near)
    say("what can be reached")
    label, _ = ndimage.label(far > radius)
    outside = int(label[0, 0, 0])
    chosen = outside
    if within is not None:
        spot = tuple(int(n) for n in np.rint((within - first) / step))
        if not all(0 <= n < m for n, m in zip(spot, shape, strict=True)):
            raise ValueError("the place lies outside the model")
        chosen = int(label[spot])
        if chosen == 0:
            raise ValueError("the place lies nearer to a wall than half the feature size")
        if chosen == outside:
            say("how wide the gap is")
            raise _leaks(pieces, of, feature, within)
    mine = label == chosen
    del label
    say("the front")
    field = np.where(mine, np.maximum(far, radius * (1 + TIE)), np.minimum(far, radius * (1 - TIE)))
    del far
    front, faces = contour(field.astype(np.float32), radius)
    front = first + step * front
    say("distances to the front")
    reach = radius + BAND * step
    back = np.where(mine, 0.0, reach).astype(np.float32)
    pieces, ids = chopped(np.ascontiguousarray(front[faces]), CHOP * step)
    spread(pieces, ids, first, step, reach, back, np.full(shape, -1, np.int32))
    tie = np.abs(back - radius) < TIE * radius
    back[tie] = radius * (1 - TIE)
    if not (back > radius).any():
        raise ValueError("nothing is left: all of it is thinner than the feature size shows")
    say("the surface")
    points, triangles = contour(back, radius)
    points = first + step * points
    if not len(triangles):
        raise ValueError("nothing is left: all of it is thinner than the feature size shows")
    say("names and fewer triangles")
    return _finished(points, triangles, corners, group, (first, step, near))


def _leaks(pieces: Floats, of: Ints, feature: float, within: Floats) -> Leaks:
    """Find the least of larger feature sizes that parts a place from the outside, and where it does."""
    from scipy import ndimage

    for grown in range(1, WIDER + 1):
        size = feature * GROWTH**grown
        step = size / STEPS
        reach = 0.5 * size + BAND * step
        first = pieces.reshape(-1, 3).min(axis=0) - 0.5 * size - (BAND + 1.63) * step
        shape = tuple(int(n) for n in _counts(pieces, size))
        far = np.full(shape, reach, np.float32)
        spread(pieces, of, first, step, reach, far, np.full(shape, -1, np.int32))
        spot = tuple(
            min(max(int(n), 0), m - 1) for n, m in zip(np.rint((within - first) / step), shape, strict=True)
        )
        label, _ = ndimage.label(far > 0.5 * size)
        inner = int(label[spot])
        if inner == 0:
            break
        if inner == label[0, 0, 0]:
            continue
        before, _ = ndimage.label(far > 0.5 * size / GROWTH)
        between = (before == before[spot]) & (label == 0)
        apart = sum(
            ndimage.distance_transform_edt(label != side) for side in (inner, int(label[0, 0, 0]))
        )  # through a wall it is farther than through the gap
        least = apart[between].min() if between.any() else np.inf
        necks = between & (apart < least + NECK)
        nodes = np.argwhere(necks)
        places = [nodes[int(far[necks].argmax())]] if len(nodes) else []
        while places and len(places) < TOLD:  # a slit all round is told at several places
            away = np.min([np.linalg.norm(nodes - place, axis=1) for place in places], axis=0)
            if away.max() < APART * max(shape):
                break
            places.append(nodes[int(away.argmax())])
        return Leaks(first + step * np.array(places).reshape(-1, 3), size)
    return Leaks(np.zeros((0, 3)), 0.0)


def _finished(points: Floats, triangles: Ints, corners: Floats, group: Ints, lattice: Any) -> Wrapped:
    """Turn the surface outwards, drop specks, name its triangles by the nearest given ones, and make them
    fewer.
    """
    first, step, near = lattice
    shells, shell = shells_of(triangles)
    corner = points[triangles]
    parts = np.bincount(shell, (corner[:, 0] * np.cross(corner[:, 1], corner[:, 2])).sum(axis=1) / 6, shells)
    large = np.abs(parts) > (STEPS * step) ** 3
    if large.any():
        triangles = triangles[large[shell]]
    if _volume(points, triangles) < 0:
        triangles = triangles[:, ::-1]
    points, triangles, label = _simpler(points, triangles, corners, group, lattice)
    found, off = nearest_ones(points[triangles].mean(axis=1), corners, first, step, near)
    found[off > 2 * BRIDGED * step] = -1
    found = np.where((label >= 0) & (found < 0), -2, found)  # a large one over a bend still has its face
    lost = found == -2
    if lost.any():
        begins = {int(g): int(k) for k, g in reversed(list(enumerate(group)))}
        found[lost] = [begins[int(g)] for g in label[lost]]
    found[label < 0] = -1
    area = 0.5 * np.linalg.norm(
        np.cross(
            points[triangles[:, 1]] - points[triangles[:, 0]],
            points[triangles[:, 2]] - points[triangles[:, 0]],
        ),
        axis=1,
    )
    share = float(area[found < 0].sum() / area.sum())
    return Wrapped(points, triangles, found, share, _volume(points, triangles))


def _simpler(
    points: Floats, triangles: Ints, corners: Floats, group: Ints, lattice: Any
) -> tuple[Floats, Ints, Ints]:
    """Make triangles fewer where that lets none cross; give them with the group each lies on, -1 for none."""
    import manifold3d

    first, step, near = lattice
    found, off = nearest_ones(points[triangles].mean(axis=1), corners, first, step, near)
    label = np.where(off <= BRIDGED * step, group[found], -1)
    given = manifold3d.Mesh64(
        np.ascontiguousarray(points),
        np.ascontiguousarray(triangles, np.uint64),
        face_id=np.ascontiguousarray(label + 1, np.uint64),
    )
    whole = manifold3d.Manifold(given)
    if whole.status() == manifold3d.Error.NoError:
        mesh = whole.simplify(SIMPLER * step).to_mesh64()
        fewer = np.asarray(mesh.tri_verts).astype(np.int64)
        places = np.asarray(mesh.vert_properties)[:, :3].astype(float)
        if len(fewer) and not crossings(places, fewer).count:
            return places, fewer, np.asarray(mesh.face_id).astype(np.int64) - 1
    return points, triangles, label


def _volume(points: Floats, triangles: Ints) -> float:
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return float((a * np.cross(b, c)).sum() / 6)
