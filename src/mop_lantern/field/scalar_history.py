"""Former times of something carried, and what it gains between them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from mop_lantern.numerics.backward import weights

Floats = NDArray[np.float64]


class ScalarHistory:
    """The last one or two times (second-order backward differences), with the volumes cells had then.

    In cells that swell, former volumes count and not the new one: what their faces sweep brings the rest (see
    `flow.history`).
    """

    def __init__(self) -> None:
        self.step: float | None = None
        self._rate: tuple[float, tuple[float, ...]] = (0.0, ())
        self._levels: list[tuple[Floats, Floats]] = []

    @property
    def steady(self) -> bool:
        """Whether no time step was begun."""
        return self.step is None

    def begin_step(self, step: float, phi: Floats, volume: Floats, plain: bool = False) -> Floats:
        """Make ``phi`` (n_cells,) a former state, with the volumes (n_cells,) m3; give the guess for the new
        one, carried on evenly. ``plain`` : the difference is that to the last state alone.
        """
        self._levels = [*self._levels[-1:], (phi.copy(), volume)]
        self._rate = weights(step, None if plain else self.step)
        former = self.step
        self.step = step
        if former is None:
            return phi
        return phi + step / former * (phi - self._levels[0][0])

    @property
    def weight(self) -> Floats:
        """What the present value counts for in `gain`, (n_cells,) m3/s."""
        total = np.zeros(len(self._levels[0][1]))
        for weight, (_, volume) in self._counting():
            total += weight * volume
        return total

    def gain(self, phi: Floats) -> Floats:
        """Give what cells gain a second, (n_cells,) m3/s times the quantity."""
        total = np.zeros(len(phi))
        for weight, (old, volume) in self._counting():
            total += weight * volume * (phi - old)
        return total

    def _counting(self) -> Iterator[tuple[float, tuple[Floats, Floats]]]:
        """Give the former states that count, newest first, each with its weight."""
        return zip(self._rate[1], reversed(self._levels), strict=False)
