"""Solve the symmetric pressure-correction equation, again and again with slowly changing values."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.sparse import csc_matrix, csr_matrix
from scipy.sparse.linalg import splu

from mop_lantern.numerics.multigrid import Multigrid
from mop_lantern.numerics.spread import bounds_of, rows_of, spread

Floats = NDArray[np.float64]
DIRECT_BELOW = 50_000  # cells of a plane grid: a frozen factorisation is the faster preconditioner (measured)
_STALE = 6
_WORTH = 24  # iterations that cost as much as a factorisation (measured on 15 000 cells)


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _product(  # type: ignore[no-untyped-def]
    block,
    indptr,
    indices,
    data,
    d,
    q,
):
    """Write q = A d; give d . q of the block."""
    total = 0.0
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        value = 0.0
        for k in range(np.uint64(indptr[i]), np.uint64(indptr[i + np.uint64(1)])):
            value += data[k] * d[np.uint64(indices[k])]
        q[i] = value
        total += value * d[i]
    return total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _walk(  # type: ignore[no-untyped-def]
    block,
    step,
    d,
    q,
    x,
    r,
):
    """x += step d; r -= step q; give r . r of the block."""
    total = 0.0
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        x[i] += step * d[i]
        r[i] -= step * q[i]
        total += r[i] * r[i]
    return total


@njit(
    cache=True,
    error_model="numpy",
    nogil=True,
)
def _turn(  # type: ignore[no-untyped-def]
    block,
    share,
    z,
    d,
):
    """d = z + share d."""
    for row in range(block[0], block[1]):
        i = np.uint64(row)
        d[i] = z[i] + share * d[i]


def conjugate_gradients(
    matrix: csr_matrix,
    b: Floats,
    precondition: Callable[[Floats], Floats],
    tolerance: float,
    most: int,
) -> tuple[Floats, int]:
    """Solve A x = b from zero by preconditioned conjugate gradients.

    Returns
    -------
    x : (n,) float. iterations : how many were used; ``most`` means the tolerance (on the 2-norm, relative)
    was missed.
    """
    a: Any = matrix
    x = np.zeros(len(b))
    r = b.copy()
    q = np.empty(len(b))
    blocks = rows_of(bounds_of(len(b)))
    aim = tolerance * np.linalg.norm(b)
    if aim == 0:
        return x, 0
    z = precondition(r)
    d = z.copy()
    rz = float(r @ z)
    for iteration in range(1, most + 1):
        curvature = sum(
            spread(
                _product,
                blocks,
                a.indptr,
                a.indices,
                a.data,
                d,
                q,
            )
        )
        if not curvature > 0:
            return x, most
        left = sum(
            spread(
                _walk,
                blocks,
                rz / curvature,
                d,
                q,
                x,
                r,
            )
        )
        if left <= aim**2:
            return x, iteration
        z = precondition(r)
        rz, old = float(r @ z), rz
        spread(
            _turn,
            blocks,
            rz / old,
            z,
            d,
        )
    return x, most


class PressureSolver:
    """CG with a preconditioner that suits the grid: a frozen factorisation in small planes, else multigrid.

    Parameters
    ----------
    matrix : CSR matrix whose ``data`` the caller changes in place before every solve. direct : choose
    factorisation.
    """

    def __init__(self, matrix: csr_matrix, direct: bool) -> None:
        self.matrix = matrix
        self.direct = direct
        self._factor: Callable[[Floats], Floats] | None = None
        self._multigrid: Multigrid | None = None
        self._first = 0
        self._spent = 0  # iterations an exact factorisation would have spared

    def solve(
        self,
        b: Floats,
        tolerance: float,
        most: int = 60,
    ) -> tuple[Floats, int]:
        """Solve for the present values; the preconditioner is renewed when it has grown stale."""
        if self.direct:
            return self._solve_direct(b, tolerance, most)
        if self._multigrid is None:
            self._multigrid = Multigrid(self.matrix)
        else:
            self._multigrid.refresh()
        x, used = conjugate_gradients(
            self.matrix,
            b,
            self._multigrid.cycle,
            tolerance,
            most,
        )
        self._first = self._first or used
        if used > 2 * self._first + 4:
            self._multigrid = None
            self._first = 0
        return x, used

    def _solve_direct(
        self,
        b: Floats,
        tolerance: float,
        most: int,
    ) -> tuple[Floats, int]:
        fresh = self._factor is None or self._spent >= _WORTH
        if fresh:
            self._factorise()
        assert self._factor is not None
        x, used = conjugate_gradients(
            self.matrix,
            b,
            self._factor,
            tolerance,
            _STALE if not fresh else most,
        )
        if used >= _STALE and not fresh:
            self._factorise()
            x, used = conjugate_gradients(
                self.matrix,
                b,
                self._factor,
                tolerance,
                most,
            )
        self._spent += used - 1
        return x, used

    def _factorise(self) -> None:
        self._spent = 0
        matrix = csc_matrix(self.matrix)
        matrix.sum_duplicates()
        self._factor = splu(
            matrix,
            permc_spec="MMD_AT_PLUS_A",
            diag_pivot_thresh=0.0,
            options={"SymmetricMode": True},
        ).solve
