"""What a network in time keeps count of: heat and fluid since the start, and its tanks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass
class Ledger:
    """Heat counted since the start, J, and fluid, kg: ``entered`` and ``left`` by reservoirs and demands,
    ``made`` by friction and machines, ``brought`` by heaters and coolers, ``lost`` to the surroundings,
    ``stored`` in tanks and pipes.
    """

    entered: float = 0.0
    left: float = 0.0
    made: float = 0.0
    brought: float = 0.0
    lost: float = 0.0
    stored: float = 0.0

    @property
    def balance(self) -> float:
        """What does not add up, over the largest of them."""
        gap = self.entered - self.left + self.made + self.brought - self.lost - self.stored
        return abs(gap) / max(
            abs(self.entered),
            abs(self.left),
            abs(self.made),
            abs(self.brought),
            abs(self.lost),
            abs(self.stored),
            1e-12,
        )


@dataclass
class Tanks:
    """Tanks by node: area m2, height m, level m."""

    node: NDArray[np.int64]
    area: Floats
    height: Floats
    level: Floats
