"""Aggregation multigrid for the pressure correction.

Double pairwise aggregation on the strongest coupling, piecewise constant transfer, Galerkin coarse matrices
refreshed through a precomputed map, one Gauss-Seidel sweep before and after, W cycle, used as a
preconditioner of CG. Sources: Notay, "An aggregation-based algebraic multigrid method", ETNA 37 (2010)
123-146; Braess, "Towards algebraic multigrid for elliptic problems of second order", Computing 55 (1995)
379-393, for coarse corrections that are raised (not at hand to check); aggregates of four kept for the run,
as measured in our feasibility study. Aggregates stay within the
block of rows of one thread (`spread`), and sweeps take what lies in another block as it was before: both
halves of a cycle do so alike, which keeps it symmetric.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.linalg import lu_factor, lu_solve
from scipy.sparse import csr_matrix

from mop_lantern.numerics.memory import trim_heap
from mop_lantern.numerics.spread import bounds_of, rim_of, rows_of, spread

Floats = NDArray[np.float64]
_COARSEST = 300
# rows: levels as large as this are visited once, too: a second visit costs more than it spares (measured)
_LARGE = 30_000
# corrections of a coarser level count that many times: constant groups answer too stiffly. 1.0 takes 10
# cycles where 1.4 takes 7 (duct of 316 k cells, turbulent); from 1.5 on small rooms take more (measured)
_RAISED = 1.4
_TWICE = 500  # rows: smaller levels are visited once a visit of the level above


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _pairs(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    group,
):
    """Pair the rows of a block with the neighbour in it they are bound to most; numbered from 0 within the
    block.
    """
    start, end = block
    count = 0
    for i in range(start, end):
        if group[i] >= 0:
            continue
        best = -1
        strongest = 0.0
        for k in range(indptr[i], indptr[i + 1]):
            j = indices[k]
            if j != i and start <= j < end and group[j] < 0 and -data[k] > strongest:
                best = j
                strongest = -data[k]
        group[i] = count
        if best >= 0:
            group[best] = count
        count += 1
    return count


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _refresh(  # type: ignore[no-untyped-def]
    block,
    slots,
    fine,
    coarse,
    weight,
):
    first, last, start, end = block
    coarse[start:end] = 0.0
    for entry in range(first, last):
        k = np.uint64(entry)
        coarse[np.uint64(slots[k])] += weight * fine[k]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _read_diagonal(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    inverse,
):
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            if indices[k] == row:
                inverse[i] = 1.0 / data[k]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _last_sweep(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    inverse,
    b,
    x,
    far,
):
    """Sweep backward; ``far`` holds what x was in other blocks."""
    start = np.uint64(block[0])
    end = np.uint64(block[1])
    for step in range(block[1] - block[0]):
        i = end - np.uint64(step) - np.uint64(1)
        total = b[i]
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            j = np.uint64(indices[k])
            total -= data[k] * (x[j] if start <= j < end else far[j])
        x[i] += total * inverse[i]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _first_sweep(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    inverse,
    b,
    x,
):
    """Sweep forward from zero: only the entries of the block before the diagonal matter; rows ascend, but for
    a diagonal put first.
    """
    start = np.uint64(block[0])
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        total = b[i]
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            j = np.uint64(indices[k])
            if j > i:
                break
            if start <= j < i:
                total -= data[k] * x[j]
        x[i] = total * inverse[i]


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _restrict(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    x,
    group,
    coarse,
):
    """Sum what the first sweep left undone into groups: entries after the diagonal, and those of earlier
    blocks.
    """
    start, end, first, last = block
    for row in range(first, last):
        coarse[row] = 0.0
    for row in range(start, end):
        i = np.uint64(row)
        total = 0.0
        begin = np.uint64(indptr[i])
        k = np.uint64(indptr[i + np.uint64(1)])
        while k > begin:
            k -= np.uint64(1)
            j = np.uint64(indices[k])
            if j <= i:
                break
            total -= data[k] * x[j]
        if start > 0:
            for n in range(begin, np.uint64(indptr[i + np.uint64(1)])):
                j = np.uint64(indices[n])
                if j > i:
                    break
                if j < np.uint64(start):
                    total -= data[n] * x[j]
        coarse[np.uint64(group[i])] += total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _rest(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    b,
    x,
    out,
):
    """Write out = b - A x."""
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        total = b[i]
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            total -= data[k] * x[np.uint64(indices[k])]
        out[i] = total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _prolong(  # type: ignore[no-untyped-def]
    block,
    x,
    group,
    coarse,
):
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        x[i] += coarse[np.uint64(group[i])]


def _numbered(keys: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """Give the different keys in order and the number of each; as np.unique does, in half the memory."""
    order = np.argsort(keys, kind="stable").astype(np.int32)
    keys = keys[order]
    first = np.append(True, keys[1:] != keys[:-1])
    number = np.empty(len(keys), np.int32)
    number[order] = np.cumsum(first, dtype=np.int32) - 1
    return keys[first], number


class _Level:
    """One level: its matrix and blocks and, but for the coarsest, the groups of the next."""

    def __init__(self, matrix: csr_matrix, bounds: NDArray[np.int64]) -> None:
        self.matrix = matrix
        self.bounds = bounds
        self.rows = rows_of(bounds)
        self.inverse = np.zeros(matrix.shape[0])
        self.rim = rim_of(matrix.indptr, matrix.indices, bounds)
        self.far = np.empty(matrix.shape[0])  # only the rim is ever used
        self.group: NDArray[np.int32] = np.zeros(0, np.int32)
        self.slots: NDArray[np.int32] = np.zeros(0, np.int32)
        self.down: list[tuple[int, ...]] = []  # rows, and the rows of the next level they make
        self.entries: list[tuple[int, ...]] = []  # the same of matrix entries

    @property
    def entries_of(self) -> tuple[Any, ...]:
        """Row starts, columns and values."""
        matrix: Any = self.matrix
        return matrix.indptr, matrix.indices, matrix.data

    def read_diagonal(self) -> None:
        """Take the diagonal of the matrix."""
        spread(_read_diagonal, self.rows, *self.entries_of, self.inverse)


class Multigrid:
    """A multigrid preconditioner whose aggregates live as long as the matrix pattern.

    Parameters
    ----------
    matrix : symmetric M-matrix in CSR form, rows ascending but for a diagonal put first; duplicate
    off-diagonal entries are allowed.
    bounds : where the blocks of rows begin and end; by default as many as are worth it.
    """

    def __init__(self, matrix: csr_matrix, bounds: NDArray[np.int64] | None = None) -> None:
        self.levels = [_Level(matrix, bounds_of(matrix.shape[0]) if bounds is None else bounds)]
        while self.levels[-1].matrix.shape[0] > _COARSEST:
            coarse = self._coarsen(self.levels[-1])
            if coarse.matrix.shape[0] > 0.8 * self.levels[-1].matrix.shape[0]:
                break
            self.levels.append(coarse)
        trim_heap()
        self.refresh()

    @staticmethod
    def _coarsen(level: _Level) -> _Level:
        matrix = level.matrix
        bounds = level.bounds
        group = np.arange(matrix.shape[0], dtype=np.int32)
        slots = np.arange(matrix.nnz, dtype=np.int32)
        for _ in range(2):
            pair = np.full(matrix.shape[0], -1, np.int32)
            counts = spread(
                _pairs,
                rows_of(bounds),
                matrix.indptr,
                matrix.indices,
                matrix.data,
                pair,
            )
            for (start, end), before in zip(
                rows_of(bounds), np.cumsum([0, *counts[:-1]]).tolist(), strict=True
            ):
                pair[start:end] += before
            bounds = np.cumsum([0, *counts])
            count = int(sum(counts))
            keys = np.repeat(pair, np.diff(matrix.indptr)).astype(np.int64) * count + pair[matrix.indices]
            keys, inverse = _numbered(keys)
            data = np.bincount(inverse, matrix.data, len(keys))
            indptr = np.searchsorted(keys, np.arange(count + 1) * count)
            matrix = csr_matrix(
                (data, (keys % count).astype(np.int32), indptr.astype(np.int32)), (count, count)
            )
            group = pair[group]
            slots = inverse[slots]
        level.group = group
        level.slots = slots
        fine = level.matrix.indptr
        for (start, end), (first, last) in zip(level.rows, rows_of(bounds), strict=True):
            level.down.append((start, end, first, last))
            level.entries.append(
                (
                    int(fine[start]),
                    int(fine[end]),
                    int(matrix.indptr[first]),
                    int(matrix.indptr[last]),
                )
            )
        return _Level(matrix, bounds if len(bounds_of(count)) == len(bounds) else np.array([0, count]))

    def refresh(self) -> None:
        """Work out the coarse matrices anew after the finest one's values have changed."""
        for level, coarse in zip(self.levels[:-1], self.levels[1:], strict=True):
            spread(
                _refresh,
                level.entries,
                level.slots,
                level.matrix.data,
                coarse.matrix.data,
                1.0 / _RAISED,
            )
        for level in self.levels:
            level.read_diagonal()
        dense = self.levels[-1].matrix.toarray()
        shift = 1e-12 * np.trace(dense) / len(dense)
        self._factors = lu_factor(dense + shift * np.eye(len(dense)), overwrite_a=True, check_finite=False)

    def cycle(self, b: Floats, depth: int = 0) -> Floats:
        """Give an approximate solution of A x = b by one W cycle from zero."""
        if depth == len(self.levels) - 1:
            return np.asarray(lu_solve(self._factors, b, check_finite=False))
        level = self.levels[depth]
        a = level.entries_of
        x = np.empty(len(b))
        spread(
            _first_sweep,
            level.rows,
            *a,
            level.inverse,
            b,
            x,
        )
        coarse_b = np.empty(self.levels[depth + 1].matrix.shape[0])
        spread(
            _restrict,
            level.down,
            *a,
            x,
            level.group,
            coarse_b,
        )
        coarse = self.cycle(coarse_b, depth + 1)
        if depth < len(self.levels) - 2 and _TWICE < len(coarse_b) < _LARGE:
            below = self.levels[depth + 1]
            rest = np.empty(len(coarse_b))
            spread(
                _rest,
                below.rows,
                *below.entries_of,
                coarse_b,
                coarse,
                rest,
            )
            coarse += self.cycle(rest, depth + 1)
        spread(
            _prolong,
            level.rows,
            x,
            level.group,
            coarse,
        )
        level.far[level.rim] = x[level.rim]
        spread(
            _last_sweep,
            level.rows,
            *a,
            level.inverse,
            b,
            x,
            level.far,
        )
        return x
