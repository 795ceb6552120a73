"""Anderson acceleration of a fixed-point iteration, safeguarded.

Source: Walker and Ni, "Anderson acceleration for fixed-point iterations", SIAM J. Numer. Anal. 49 (2011) 1715-1735;
depth 8, mixing every second iteration and the restart rule as measured in our feasibility study. Mixing rests when it does
not pay: a flow dying out, for one, is led astray by its own history.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.linalg.blas import daxpy

Floats = NDArray[np.float64]

PATIENCE = 40  # calls


class Anderson:
    """Keep the last steps of x -> g(x) and propose a better next x.

    Parameters
    ----------
    depth : steps kept. every : mix at every so-many-th call. after : first call that mixes.
    """

    def __init__(self, depth: int = 8, every: int = 2, after: int = 10) -> None:
        self.depth, self.every, self.after = depth, every, after
        self.calls = 0
        self.restarts = 0
        self._moves: list[Floats] = []  # differences of successive g(x)
        self._changes: list[Floats] = []  # differences of successive steps
        self._products: dict[tuple[int, int], float] = {}
        self._names: list[int] = []
        self._last: tuple[Floats, Floats] | None = None
        self._best = np.inf
        self._window, self._former, self._resting = np.inf, np.inf, 0
        self._scale = 0.0

    def forget(self) -> None:
        """Drop the history."""
        self._moves.clear()
        self._changes.clear()
        self._products.clear()
        self._names.clear()
        self._last = None
        self._best = np.inf

    def propose(self, before: Floats, after: Floats, weight: Floats, measured: int) -> Floats | None:
        """Give the mixed state, or None to take the plain step.

        Parameters
        ----------
        before, after : (m,) state x and g(x). weight : (measured,) scale of the first entries, which measure the step.
        """
        self.calls += 1
        step = (after[:measured] - before[:measured]) * weight
        norm = float(np.linalg.norm(step))
        unit = float(weight[0])
        if self._pays_not(norm) or not 0.5 < unit / (self._scale or unit) < 2.0:
            self.forget()
            self._scale = unit
        if not np.isfinite(norm) or norm > 2.5 * self._best:
            self.restarts += self._best < np.inf
            self.forget()
        self._best = min(self._best, norm)
        if self._last is not None:
            self._remember(after - self._last[0], step - self._last[1])
        self._last = (after, step)
        if self._resting > 0 or self.calls < self.after or self.calls % self.every or len(self._changes) < 2:
            return None
        scale = np.array([np.sqrt(self._products[name, name]) for name in self._names]) + 1e-300
        gram = np.array([[self._products[max(a, b), min(a, b)] for b in self._names] for a in self._names])
        gram = gram / np.outer(scale, scale) + 1e-8 * np.eye(len(scale))
        right = np.array([change @ step for change in self._changes]) / scale
        share = np.linalg.solve(gram, right) / scale
        if not np.isfinite(share).all():
            return None
        mixed = after.copy()
        for part, move in zip(share, self._moves, strict=True):
            mixed = daxpy(move, mixed, a=-part)  # in place, without a temporary
        return mixed

    def _pays_not(self, norm: float) -> bool:
        """Look back every few calls: steps that did not shrink mean that mixing leads astray; rest for as long."""
        self._window = min(self._window, norm)
        self._resting -= self._resting > 0
        if self.calls % PATIENCE:
            return False
        led_astray = self._resting == 0 and self._window > 0.7 * self._former
        self._former, self._window = self._window, np.inf
        self._resting = PATIENCE if led_astray else self._resting
        return led_astray

    def _remember(self, move: Floats, change: Floats) -> None:
        """Add one pair of differences and its inner products; drop the oldest beyond the depth."""
        if len(self._changes) == self.depth:
            gone = self._names.pop(0)
            self._moves.pop(0)
            self._changes.pop(0)
            self._products = {key: value for key, value in self._products.items() if gone not in key}
        name = self.calls
        self._names.append(name)
        self._moves.append(move)
        self._changes.append(change)
        for other, old in zip(self._names, self._changes, strict=True):
            self._products[name, other] = float(change @ old)
