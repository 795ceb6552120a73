"""Thin walls that conduct along themselves, in the set of equations of what the fluid carries."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix, csr_matrix, diags
from scipy.sparse.linalg import cg, splu

from mop_lantern.field.shell_net import ShellNet

Floats = NDArray[np.float64]
LOOSE = 1e-9  # of the largest pull: what faces that lie together leave undetermined is held so
MANY = 30_000  # faces: beyond these, factors take too much memory
EXACT, MOST = 1e-12, 4000  # of the iterations then


class Shells:
    """The temperatures of thin walls, worked out with those of the fluid.

    At every face: what comes along the wall, and (N + B) T = N Tf + B Tb + q with conductances N to the fluid
    and B behind, m3/s. ``scale`` : J/m3/K of the fluid.
    """

    def __init__(self, net: ShellNet, scale: float) -> None:
        self.faces = net.faces
        self._share = net.share
        self._stiffness = net.stiffness / scale
        self._pull = np.zeros(0)
        self._solve: Callable[[Floats], Floats] | None = None

    def tie(self, pull: Floats) -> None:
        """Take what pulls at every face in all, (k,) m3/s: N + B."""
        if self._solve is not None and np.array_equal(pull, self._pull):
            return
        self._pull = pull.copy()
        matrix = self._stiffness + self._share.T @ diags(pull) @ self._share
        loose = LOOSE * float(matrix.diagonal().max(initial=1e-300))
        matrix = matrix + loose * diags(np.ones(matrix.shape[0]))
        if len(pull) > MANY:
            self._solve = partial(_iterated, matrix.tocsr(), diags(1.0 / matrix.diagonal()))
            return
        self._solve = splu(
            csc_matrix(matrix),
            permc_spec="MMD_AT_PLUS_A",
            diag_pivot_thresh=0.0,
            options={"SymmetricMode": True},
        ).solve

    def surface(self, given: Floats) -> Floats:
        """Give the temperatures at the faces, (k,), of what is brought to each, (k,): N Tf + B Tb + q; of
        several such at once, (k, n).
        """
        assert self._solve is not None
        # about their mean: what is held loosely is held to it, not to nothing, a billionth of 300 K away
        mean = given.sum(axis=0) / self._pull.sum()
        rest = given - (self._pull * np.expand_dims(mean, -1)).T
        return np.asarray(mean + self._share @ self._solve(self._share.T @ rest))


def _iterated(matrix: csr_matrix, inverse: csr_matrix, right: Floats) -> Floats:
    """Solve by conjugate gradients, for several right sides (k, n) one by one."""
    if right.ndim == 2:
        return np.stack([_iterated(matrix, inverse, each) for each in right.T], axis=1)
    return np.asarray(cg(matrix, right, rtol=EXACT, maxiter=MOST, M=inverse)[0])
