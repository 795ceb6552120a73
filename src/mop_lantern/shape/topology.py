"""How triangles hang together: welded, turned the same way, told apart into faces, open rims."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
Ints = NDArray[Any]
WELD = 1e-6  # of the size: corners nearer than this are one
ANGLE = np.deg2rad(30)  # triangles that meet flatter belong to one face; common practice, no source
RIM = "*rim"  # begins the group of what closes a rim; no file can name a group so


def hanging(one: Ints, two: Ints, count: int) -> tuple[int, Ints]:
    """Give how many groups hang together by pairs, and the group of each; the library is loaded on first
    use.
    """
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    found, label = connected_components(
        coo_matrix((np.ones(len(one)), (one, two)), (count, count)), directed=False
    )
    return int(found), label


def welded(points: Floats) -> tuple[Floats, Ints, list[str]]:
    """Make corners that lie on each other one; give points, triangles and words."""
    size = float(np.linalg.norm(np.ptp(points, axis=0))) or 1.0
    unique, back = np.unique(points, axis=0, return_inverse=True)
    pairs = nearest_tree(unique).query_pairs(WELD * size, output_type="ndarray")
    count = len(unique)
    if len(pairs):
        groups, label = hanging(pairs[:, 0], pairs[:, 1], count)
        _, first = np.unique(label, return_index=True)
        unique = unique[first]
        back = label[back.reshape(-1)]
        words = [
            f"{count - groups} corners lay within a millionth of the size of others and are welded to them."
        ]
    else:
        words = []
    return unique, back.reshape(-1, 3), words


def sides(triangles: Ints) -> tuple[Ints, Ints, Ints]:
    """Give the edges of all triangles: key, triangle and whether it runs from the lower to the higher
    corner.
    """
    ends = triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    return (
        ends.min(axis=1) * (int(triangles.max()) + 1) + ends.max(axis=1),
        np.repeat(np.arange(len(triangles)), 3),
        ends[:, 0] < ends[:, 1],
    )


def edge_counts(triangles: Ints) -> Ints:
    return np.asarray(np.unique(sides(triangles)[0], return_counts=True)[1])


def shells_of(triangles: Ints) -> tuple[int, Ints]:
    """Give how many shells triangles make, and the shell of each: what shares an edge hangs together, however
    many meet there.
    """
    key, triangle, _ = sides(triangles)
    order = np.argsort(key, kind="stable")
    same = key[order][1:] == key[order][:-1]
    return hanging(triangle[order][:-1][same], triangle[order][1:][same], len(triangles))


def neighbours(triangles: Ints) -> tuple[Ints, Ints, Ints]:
    """Give pairs of triangles that share an edge with no third, and whether they run along it the same
    way.
    """
    key, triangle, ahead = sides(triangles)
    order = np.argsort(key, kind="stable")
    key = key[order]
    triangle = triangle[order]
    ahead = ahead[order]
    start = np.flatnonzero(np.append(True, key[1:] != key[:-1]))
    pair = start[np.diff(np.append(start, len(key))) == 2]
    return triangle[pair], triangle[pair + 1], ahead[pair] == ahead[pair + 1]


def turned_alike(points: Floats, triangles: Ints) -> tuple[Ints, Ints, NDArray[np.bool_]]:
    """Turn triangles so that neighbours face the same way; give them, their body, and which were turned."""
    one, two, same = neighbours(triangles)
    count = len(triangles)
    nodes = np.concatenate(
        [
            np.column_stack([one, np.where(same, two + count, two)]),
            np.column_stack([one + count, np.where(same, two, two + count)]),
        ]
    )
    _, label = hanging(nodes[:, 0], nodes[:, 1], 2 * count)
    _, shell = hanging(one, two, count)
    _, first = np.unique(shell, return_index=True)
    flip = label[:count] != label[:count][first][shell]
    if 2 * flip.sum() > count:
        most = np.bincount(shell, flip, shell.max() + 1) > 0.5 * np.bincount(shell)
        flip ^= most[shell]
    return np.where(flip[:, None], triangles[:, ::-1], triangles), shell, flip


def faces_of(
    points: Floats,
    triangles: Ints,
    group: Ints,
    groups: Sequence[str],
    split: bool,
) -> tuple[Ints, tuple[str, ...]]:
    """Tell faces apart: triangles of one group of the file that meet flatter than `ANGLE`; the largest is
    face1.
    """
    a, b, c = (points[triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    area = np.linalg.norm(normal, axis=1)
    normal = normal / np.maximum(area, 1e-300)[:, None]
    one, two, _ = neighbours(triangles)
    flat = (np.abs((normal[one] * normal[two]).sum(axis=1)) > np.cos(ANGLE)) & (group[one] == group[two])
    face = (
        hanging(one[flat], two[flat], len(triangles))[1]
        if split
        else np.unique(group, return_inverse=True)[1]
    )
    order = np.argsort(-np.bincount(face, area), kind="stable")
    rank = np.empty(len(order), int)
    rank[order] = np.arange(len(order))
    face = rank[face]
    _, first = np.unique(face, return_index=True)
    several = len({name for name in groups if not name.startswith(RIM)}) > 1
    plain = [
        groups[group[k]][1:]
        if groups[group[k]].startswith(RIM)
        else _plain(groups[group[k]])
        if several
        else ""
        for k in first
    ]
    often = Counter(plain)
    names: list[str] = []
    taken: set[str] = set()
    for number, name in enumerate(plain):
        if not name or often[name] > 1 or name in taken:
            name = f"{name or 'face'}{'_' if name else ''}{number + 1}"
        names.append(name)
        taken.add(name)
    return face, tuple(names)


def _plain(name: str) -> str:
    return "".join(sign if sign.isalnum() else "_" for sign in name).strip("_").lower()


def rims_of(triangles: Ints) -> tuple[Ints, ...]:
    """Walk along edges that have one triangle only; give each rim as corners in order, against the way the
    triangles run.
    """
    ends = triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    key, _, _ = sides(triangles)
    _, back, count = np.unique(key, return_inverse=True, return_counts=True)
    open_ = ends[count[back] == 1][:, ::-1]
    ahead: dict[int, list[int]] = {}
    for start, end in open_.tolist():
        ahead.setdefault(start, []).append(end)
    rims = []
    while ahead:
        path = [next(iter(ahead))]
        while path[-1] in ahead:
            here = path[-1]
            there = ahead[here].pop()
            if not ahead[here]:
                del ahead[here]
            if there in path:  # a rim is closed; what led to it is walked on
                begin = path.index(there)
                rims.append(np.array(path[begin:]))
                path = path[: begin + 1]
            else:
                path.append(there)
    return tuple(rim for rim in sorted(rims, key=len, reverse=True) if len(rim) > 2)
