"""Anderson acceleration of a fixed-point iteration, safeguarded.

Source: Walker and Ni, "Anderson acceleration for fixed-point iterations", SIAM J. Numer. Anal. 49 (2011) 1715-1735;
depth 8, mixing every second iteration and the restart rule as measured in our feasibility study.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


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
        self._states: list[Floats] = []
        self._steps: list[Floats] = []
        self._best = np.inf

    def forget(self) -> None:
        """Drop the history."""
        self._states.clear()
        self._steps.clear()
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
        if not np.isfinite(norm) or norm > 2.5 * self._best:
            self.restarts += self._best < np.inf
            self.forget()
        self._best = min(self._best, norm)
        self._states.append(after.copy())
        self._steps.append(step)
        del self._states[: -self.depth - 1], self._steps[: -self.depth - 1]
        if self.calls < self.after or self.calls % self.every or len(self._steps) < 3:
            return None
        steps, states = np.array(self._steps), np.array(self._states)
        changes = np.diff(steps, axis=0)
        scale = np.linalg.norm(changes, axis=1) + 1e-300
        basis = changes / scale[:, None]
        gram = basis @ basis.T + 1e-8 * np.eye(len(basis))
        share = np.linalg.solve(gram, basis @ step) / scale
        if not np.isfinite(share).all():
            return None
        return np.asarray(after - share @ np.diff(states, axis=0))
