"""Fluid in a pipe as plugs: what enters first leaves first, unmixed."""

from __future__ import annotations

import numpy as np

MOST = 400  # plugs a pipe: beyond, the thinnest neighbours are joined


class Plugs:
    """The fluid of a pipe, as volumes (m3) with a value each, from its start to its end.

    Parameters
    ----------
    content : m3. value : at the start everywhere.
    """

    def __init__(self, content: float, value: float) -> None:
        self.volumes = np.array([content])
        self.values = np.array([value])
        self.content = content
        self._before = content * value

    @property
    def total(self) -> float:
        """Volume times value of all."""
        return float(self.volumes @ self.values)

    def cool(self, exponent: float, around: float) -> float:
        """Let everything draw near to a value by exp(-exponent); give volume times value lost."""
        self._before = self.total
        keep = np.exp(-min(exponent, 500.0))
        self.values = around + (self.values - around) * keep
        return self._before - self.total

    def warm(self, rise: float) -> None:
        """Raise everything."""
        self.values = self.values + rise

    def leaving(self, volume: float, forward: bool) -> tuple[float, float]:
        """Give how the mean of what leaves hangs on what enters: share a of the inlet, and b."""
        if volume <= 0:
            return 0.0, float(self.values[-1] if forward else self.values[0])
        volumes, values = (self.volumes[::-1], self.values[::-1]) if forward else (self.volumes, self.values)
        taken = np.clip(volume - np.concatenate([[0.0], np.cumsum(volumes)[:-1]]), 0.0, volumes)
        return max(0.0, 1 - self.content / volume), float((taken * values).sum() / volume)

    def push(
        self,
        value: float,
        volume: float,
        forward: bool,
    ) -> None:
        """Let a volume enter and as much leave."""
        if volume <= 0:
            return
        volumes, values = (self.volumes, self.values) if forward else (self.volumes[::-1], self.values[::-1])
        volumes = np.concatenate([[volume], volumes])
        values = np.concatenate([[value], values])
        inside = np.clip(self.content - np.concatenate([[0.0], np.cumsum(volumes)[:-1]]), 0.0, volumes)
        volumes = inside[inside > 1e-15 * self.content]
        values = values[inside > 1e-15 * self.content]
        if len(volumes) > MOST:
            k = int(np.argmin(volumes[:-1] + volumes[1:]))
            both = volumes[k] + volumes[k + 1]
            values[k] = (volumes[k] * values[k] + volumes[k + 1] * values[k + 1]) / both
            volumes[k] = both
            volumes = np.delete(volumes, k + 1)
            values = np.delete(values, k + 1)
        self.volumes, self.values = (volumes, values) if forward else (volumes[::-1], values[::-1])

    def change(self) -> float:
        """Give how much volume times value has grown since `cool`."""
        return self.total - self._before
