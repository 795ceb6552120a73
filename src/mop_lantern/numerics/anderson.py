"""Anderson acceleration of a fixed-point iteration, safeguarded.

Source: Walker and Ni, "Anderson acceleration for fixed-point iterations", SIAM J. Numer. Anal. 49 (2011)
1715-1735; depth 8, mixing every second iteration and the restart rule as measured in our feasibility study.
Mixing rests when it does not pay: a flow dying out, for one, is led astray by its own history. The history is
kept in single precision: it holds differences, and a large grid has many of them.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

PATIENCE = 40  # calls
CHUNK = 16_384  # entries summed in single precision; the sums of these are added in double


def _products(rows: NDArray[np.float32], which: NDArray[np.float32]) -> Floats:
    """Give the inner products of the rows (k, m) with one (m,)."""
    total = np.zeros(len(rows))
    for start in range(0, len(which), CHUNK):
        total += rows[:, start : start + CHUNK] @ which[start : start + CHUNK]
    return total


class Anderson:
    """Keep the last steps of x -> g(x) and move the state to a better next x.

    Parameters
    ----------
    depth : steps kept. every : mix at every so-many-th call. after : first call that mixes.
    """

    def __init__(
        self,
        depth: int = 8,
        every: int = 2,
        after: int = 10,
    ) -> None:
        self.depth = depth
        self.every = every
        self.after = after
        self.calls = 0
        self.restarts = 0
        self._moves: list[
            NDArray[np.float32]
        ] = []  # by array of the state: differences of successive g(x), (depth, m)
        self._changes = np.zeros((0, 0), np.float32)  # differences of successive scaled steps
        self._step = np.zeros(0, np.float32)
        self._last: list[Floats] = []
        self._gram = np.zeros((depth, depth))
        self._held, self._at = 0, 0  # rows in use, the next to be written
        self._known = False
        self._best = np.inf
        self._window = np.inf
        self._earlier = np.inf
        self._resting = 0
        self._scale = 0.0

    def forget(self) -> None:
        """Drop the history."""
        self._held, self._at, self._known = 0, 0, False
        self._best = np.inf

    def mix(
        self,
        before: Sequence[Floats],
        now: Sequence[Floats],
        scales: Sequence[float],
    ) -> bool:
        """Mix the state in place where that promises to pay; tell whether it was mixed.

        Parameters
        ----------
        before : the first arrays of the state x, (m,) each: those that measure the step. now : all arrays of
        g(x). scales : what the measuring ones are multiplied with.
        """
        self.calls += 1
        if len(self._last) != len(now):
            self._make(before, now)
        norm = np.sqrt(self._measure(before, now, scales))
        if self._pays_not(norm) or not 0.5 < scales[0] / (self._scale or scales[0]) < 2.0:
            self.forget()
            self._scale = scales[0]
        if not np.isfinite(norm) or norm > 2.5 * self._best:
            self.restarts += self._best < np.inf
            self.forget()
        self._best = min(self._best, norm)
        self._remember(now)
        if self._resting > 0 or self.calls < self.after or self.calls % self.every or self._held < 2:
            return False
        n = self._held
        scale = np.sqrt(np.diag(self._gram)[:n])
        if not scale.min() > 0:  # nothing moves any more
            return False
        gram = self._gram[:n, :n] / np.outer(scale, scale) + 1e-8 * np.eye(n)
        right = _products(self._changes[:n], self._step) / scale
        share = np.linalg.solve(gram, right) / scale
        if not np.isfinite(share).all():
            return False
        for array, moves in zip(now, self._moves, strict=True):
            for start in range(0, len(array), CHUNK):
                array[start : start + CHUNK] -= share.astype(np.float32) @ moves[:n, start : start + CHUNK]
        return True

    def _make(self, before: Sequence[Floats], now: Sequence[Floats]) -> None:
        measured = sum(map(len, before))
        self._moves = [np.empty((self.depth, len(array)), np.float32) for array in now]
        self._changes = np.empty((self.depth, measured), np.float32)
        self._step = np.zeros(measured, np.float32)
        self._last = [np.empty(len(array)) for array in now]

    def _measure(
        self,
        before: Sequence[Floats],
        now: Sequence[Floats],
        scales: Sequence[float],
    ) -> float:
        """Take the new scaled step, and how it differs from the one before into the row to be written; give
        its square.
        """
        at = 0
        change = self._changes[self._at]
        for old, new, scale in zip(before, now, scales, strict=False):
            for start in range(0, len(old), CHUNK):
                part = slice(start, start + CHUNK)
                place = slice(at + start, at + min(start + CHUNK, len(old)))
                fresh = ((new[part] - old[part]) * scale).astype(np.float32)
                change[place] = fresh - self._step[place]
                self._step[place] = fresh
            at += len(old)
        return float(_products(self._step[None], self._step)[0])

    def _pays_not(self, norm: float) -> bool:
        """Look back every few calls: steps that did not shrink mean that mixing leads astray; rest for as
        long.
        """
        self._window = min(self._window, norm)
        self._resting -= self._resting > 0
        if self.calls % PATIENCE:
            return False
        led_astray = self._resting == 0 and self._window > 0.7 * self._earlier
        self._earlier = self._window
        self._window = np.inf
        self._resting = PATIENCE if led_astray else self._resting
        return led_astray

    def _remember(self, now: Sequence[Floats]) -> None:
        """Add one pair of differences and its inner products in the place of the oldest."""
        row = self._at
        for array, last, moves in zip(now, self._last, self._moves, strict=True):
            if self._known:
                np.subtract(array, last, out=moves[row], casting="same_kind")
            last[:] = array
        if self._known:
            self._held = max(self._held, row + 1)
            products = _products(self._changes[: self._held], self._changes[row])
            self._gram[row, : self._held] = self._gram[: self._held, row] = products
            self._at = (row + 1) % self.depth
        self._known = True
