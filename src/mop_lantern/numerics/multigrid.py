"""Aggregation multigrid for the pressure correction.

Double pairwise aggregation on the strongest coupling, piecewise constant transfer, Galerkin coarse matrices refreshed
through a precomputed map, one Gauss-Seidel sweep before and after, W cycle, used as a preconditioner of CG.
Source: Notay, "An aggregation-based algebraic multigrid method", ETNA 37 (2010) 123-146; aggregates of four kept for
the run, as measured in our feasibility study.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

Floats = NDArray[np.float64]
_COARSEST = 300


@njit(cache=True, error_model="numpy")
def _pairs(indptr, indices, data, group):  # type: ignore[no-untyped-def]
    count = 0
    for i in range(len(indptr) - 1):
        if group[i] >= 0:
            continue
        best, strongest = -1, 0.0
        for k in range(indptr[i], indptr[i + 1]):
            j = indices[k]
            if j != i and group[j] < 0 and -data[k] > strongest:
                best, strongest = j, -data[k]
        group[i] = count
        if best >= 0:
            group[best] = count
        count += 1
    return count


@njit(cache=True, error_model="numpy")
def _refresh(slots, fine, coarse):  # type: ignore[no-untyped-def]
    coarse[:] = 0.0
    for k in range(len(slots)):
        coarse[slots[k]] += fine[k]


@njit(cache=True, error_model="numpy")
def _smooth(indptr, indices, data, diagonal, b, x, forward):  # type: ignore[no-untyped-def]
    n = len(b)
    for step in range(n):
        i = np.uint64(step if forward else n - 1 - step)
        total = b[i]
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            total -= data[k] * x[np.uint64(indices[k])]
        x[i] += total / diagonal[i]


@njit(cache=True, error_model="numpy")
def _first_sweep(indptr, indices, data, diagonal, b, x):  # type: ignore[no-untyped-def]
    """Sweep forward from zero: only the entries before the diagonal matter."""
    for row in range(len(b)):
        i = np.uint64(row)
        total = b[i]
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            j = np.uint64(indices[k])
            if j < i:
                total -= data[k] * x[j]
        x[i] = total / diagonal[i]


@njit(cache=True, error_model="numpy")
def _restrict(indptr, indices, data, b, x, group, coarse):  # type: ignore[no-untyped-def]
    coarse[:] = 0.0
    for row in range(len(b)):
        i = np.uint64(row)
        total = b[i]
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            total -= data[k] * x[np.uint64(indices[k])]
        coarse[np.uint64(group[i])] += total


@njit(cache=True, error_model="numpy")
def _prolong(x, group, coarse):  # type: ignore[no-untyped-def]
    for row in range(len(x)):
        x[row] += coarse[np.uint64(group[row])]


class _Level:
    """One level: its matrix and, but for the coarsest, the groups of the next."""

    def __init__(self, matrix: csr_matrix) -> None:
        self.matrix = matrix
        rows = np.repeat(np.arange(matrix.shape[0]), np.diff(matrix.indptr))
        self.on_diagonal = np.flatnonzero(rows == matrix.indices)
        self.diagonal = np.zeros(matrix.shape[0])
        self.group: NDArray[np.int64] = np.zeros(0, np.int64)
        self.slots: NDArray[np.int64] = np.zeros(0, np.int64)

    def read_diagonal(self) -> None:
        self.diagonal = self.matrix.data[self.on_diagonal]


class Multigrid:
    """A multigrid preconditioner whose aggregates live as long as the matrix pattern.

    Parameters
    ----------
    matrix : symmetric M-matrix in CSR form; duplicate off-diagonal entries are allowed, one diagonal entry a row.
    """

    def __init__(self, matrix: csr_matrix) -> None:
        self.levels = [_Level(matrix)]
        while self.levels[-1].matrix.shape[0] > _COARSEST:
            coarse = self._coarsen(self.levels[-1])
            if coarse.shape[0] > 0.8 * self.levels[-1].matrix.shape[0]:
                break
            self.levels.append(_Level(coarse))
        self.refresh()

    @staticmethod
    def _coarsen(level: _Level) -> csr_matrix:
        matrix, group = level.matrix, np.arange(level.matrix.shape[0])
        slots = np.arange(matrix.nnz)
        for _ in range(2):
            pair = np.full(matrix.shape[0], -1, np.int64)
            count = _pairs(matrix.indptr, matrix.indices, matrix.data, pair)
            rows = np.repeat(pair, np.diff(matrix.indptr))
            keys, inverse = np.unique(rows * count + pair[matrix.indices], return_inverse=True)
            data = np.bincount(inverse, matrix.data, len(keys))
            indptr = np.searchsorted(keys, np.arange(count + 1) * count)
            indices = (keys % count).astype(np.int32)
            matrix = csr_matrix((data, indices, indptr.astype(np.int32)), (count, count))
            group, slots = pair[group], inverse.reshape(-1)[slots]
        level.group, level.slots = group, slots
        return matrix

    def refresh(self) -> None:
        """Work out the coarse matrices anew after the finest one's values have changed."""
        for level, coarse in zip(self.levels[:-1], self.levels[1:], strict=True):
            _refresh(level.slots, level.matrix.data, coarse.matrix.data)
        for level in self.levels:
            level.read_diagonal()
        dense = self.levels[-1].matrix.toarray()
        self._inverse = np.linalg.inv(dense + 1e-12 * np.trace(dense) / len(dense) * np.eye(len(dense)))

    def cycle(self, b: Floats, depth: int = 0) -> Floats:
        """Give an approximate solution of A x = b by one W cycle from zero."""
        if depth == len(self.levels) - 1:
            return np.asarray(self._inverse @ b)
        level = self.levels[depth]
        a: Any = level.matrix
        x = np.zeros(len(b))
        _first_sweep(a.indptr, a.indices, a.data, level.diagonal, b, x)
        coarse_b = np.zeros(self.levels[depth + 1].matrix.shape[0])
        _restrict(a.indptr, a.indices, a.data, b, x, level.group, coarse_b)
        coarse = self.cycle(coarse_b, depth + 1)
        if depth < len(self.levels) - 2:
            coarse += self.cycle(coarse_b - self.levels[depth + 1].matrix @ coarse, depth + 1)
        _prolong(x, level.group, coarse)
        _smooth(a.indptr, a.indices, a.data, level.diagonal, b, x, False)
        return x
