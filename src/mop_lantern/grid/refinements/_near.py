"""Distance from cells to stretches of the boundary."""

from __future__ import annotations

from typing import Any

import numpy as np

from mop_lantern.numerics.nearest import nearest_tree


def near(segments: Any, centres: Any, sizes: Any, distance: float, step: float) -> Any:
    """Tell which cells come within a distance (m) of boundary segments ((k, 2, 2) m)."""
    if not len(segments):
        return np.zeros(len(centres), bool)
    lengths = np.hypot(*(segments[:, 1] - segments[:, 0]).T)
    count = np.maximum(1, np.ceil(lengths / max(step, lengths.sum() / 20_000))).astype(int)
    which = np.repeat(np.arange(len(segments)), count)
    part = (np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count) + 0.5) / count[which]
    samples = segments[which, 0] + part[:, None] * (segments[which, 1] - segments[which, 0])
    return nearest_tree(samples).query(centres)[0] <= distance + 0.75 * sizes
