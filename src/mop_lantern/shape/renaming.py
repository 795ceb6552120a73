"""Faces of a changed model found again, so that they keep their names.

Every face is described by its place, mean direction, area, and whether it bends outwards (a boss) or inwards
(a bore). The pairs of former and present faces are those of the least cost in all (an assignment problem),
first by themselves, then also by which faces they touch. What is farther off than a limit is lost, and told:
a name is rather lost than given to another face.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.model import Model

Floats = NDArray[np.float64]
Ints = NDArray[Any]
FARTHEST = 1.5  # cost of a pair: more, and the name is lost
PASSES = 3  # in which neighbours count
MOST = 9_000_000  # pairs looked at
FAR = 1.5  # of a face's size: farther off is as unlike as it gets, where all else is the same
OF_PLACE, OF_AREA, OF_DIRECTION, OF_BEND, OF_NEIGHBOURS = 0.6, 0.25, 0.5, 1.2, 0.8
SHIFTED = 0.5  # of the cost without it: a shift of the whole that brings less is none


@dataclass(frozen=True)
class _Marks:
    """What faces (k) are known by: middle m, direction, area m2, bend, and which touch, (k, k)."""

    middle: Floats
    direction: Floats
    area: Floats
    bend: Floats
    beside: NDArray[np.bool_]


def renamed(model: Model, former: Model) -> tuple[Model, list[str]]:
    """Carry the names of a former state of a model over to the faces that are still there.

    Returns
    -------
    the model, and the names, given by a person, that found no face.
    """
    new, old = _marks(model), _marks(former)
    if len(new.area) * len(old.area) > MOST:
        return model, [name for name in former.names if not _given(name)]
    pairs = _matched(old, new, np.zeros(3))
    shift = _shift(old, new, pairs)
    if shift is not None:
        pairs = _matched(old, new, shift)
    names = [""] * len(model.names)
    for row, column in pairs:
        names[column] = former.names[row]
    kept = set(names)
    lost = [name for name in former.names if name not in kept and not _given(name)]
    for number, own in enumerate(model.names):
        if not names[number]:
            name = own
            while name in kept:
                name = f"{name}_new"
            names[number] = name
            kept.add(name)
    return replace(model, names=tuple(names)), lost


def _given(name: str) -> bool:
    """Whether a name is one the program gave."""
    return name.startswith("face") and name.removeprefix("face").isdigit()


def _matched(old: _Marks, new: _Marks, shift: Floats) -> list[tuple[int, int]]:
    """Pair faces, the new ones moved by a shift (m), at least cost."""
    from scipy.optimize import linear_sum_assignment

    own = _cost(old, new, shift)
    rows, columns = linear_sum_assignment(own)
    for _ in range(PASSES):
        near = own[rows, columns] < 2 * FARTHEST
        paired = np.full(len(old.area), -1)
        paired[rows[near]] = columns[near]
        cost = own + OF_NEIGHBOURS * _unlike(old, new, paired)
        rows, columns = linear_sum_assignment(cost)
    return [
        (int(row), int(column))
        for row, column in zip(rows, columns, strict=True)
        if cost[row, column] < FARTHEST
    ]


def _cost(old: _Marks, new: _Marks, shift: Floats) -> Floats:
    """Give how unlike former and present faces are, (k, n)."""
    size = np.sqrt(np.maximum(old.area[:, None], new.area[None]))
    away = np.linalg.norm(old.middle[:, None] - (new.middle - shift)[None], axis=2) / size
    grown = np.abs(np.log(old.area[:, None] / new.area[None]))
    turned = np.linalg.norm(old.direction[:, None] - new.direction[None], axis=2)
    bent = np.abs(old.bend[:, None] - new.bend[None])
    return np.asarray(
        OF_PLACE * np.minimum(away, FAR) + OF_AREA * grown + OF_DIRECTION * turned + OF_BEND * bent
    )


def _unlike(old: _Marks, new: _Marks, paired: Ints) -> Floats:
    """Give which share of what a former and a present face touch is not the same, (k, n)."""
    known = np.flatnonzero(paired >= 0)
    theirs = np.zeros((len(old.area), len(new.area)))
    theirs[:, paired[known]] = old.beside[:, known]
    both = theirs @ new.beside.T.astype(float)
    every = theirs.sum(axis=1)[:, None] + new.beside.sum(axis=1)[None] - both
    return np.asarray(1.0 - both / np.maximum(every, 1.0))


def _shift(old: _Marks, new: _Marks, pairs: list[tuple[int, int]]) -> Floats | None:
    """Give how far the whole was moved, where faces of like size and facing say so by and large; None for
    not at all.
    """
    from scipy.optimize import linear_sum_assignment

    middles = [each.middle - np.average(each.middle, axis=0, weights=each.area) for each in (old, new)]
    centred = replace(old, middle=middles[0]), replace(new, middle=middles[1])
    cost = _cost(*centred, np.zeros(3))
    rows, columns = linear_sum_assignment(cost)
    good = cost[rows, columns] < FARTHEST
    if good.sum() < 3:
        return None
    off = new.middle[columns[good]] - old.middle[rows[good]]
    shift = np.median(off, axis=0)
    before = _cost(old, new, np.zeros(3))
    after = _cost(old, new, shift)
    was, now = (each[linear_sum_assignment(each)].sum() for each in (before, after))
    return np.asarray(shift) if now < SHIFTED * was else None


def _marks(model: Model) -> _Marks:
    vectors = model.vectors
    count = len(model.names)
    size = np.linalg.norm(vectors, axis=1)
    area = np.maximum(np.bincount(model.face, size, count), 1e-300)
    places = model.points[model.triangles].mean(axis=1)
    middle, direction = (
        np.column_stack([np.bincount(model.face, values[:, k], count) for k in range(3)]) / area[:, None]
        for values in (places * size[:, None], vectors)
    )
    off = places - middle[model.face]
    outward = np.bincount(model.face, (off * vectors).sum(axis=1), count)
    spread = np.bincount(model.face, np.linalg.norm(off, axis=1) * size, count)
    beside = np.zeros((count, count), bool)
    triangle, side = np.nonzero((beyond := model.surface.beyond) >= 0)
    one, two = model.face[triangle], model.face[beyond[triangle, side]]
    beside[one[one != two], two[one != two]] = True
    return _Marks(middle, direction, area, outward / np.maximum(spread, 1e-300), beside)
