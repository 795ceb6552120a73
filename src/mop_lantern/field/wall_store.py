"""Heat that walls hold: conduction straight through their layers, in time.

Layers are cut into slices, finer towards either side. For one time step the slices behind a surface act as
one resistance to one temperature: going inward from the outside, what lies behind adds its resistance, and
every slice adds what it holds as a conductance to the temperature it had (backward differences). So a wall
that holds heat stands in the equations of the fluid as one that holds none, and what it holds is found
afterwards, from its surface inward.

Source: the equivalent of a linear network (Helmholtz, Ann. Phys. Chem. 89 (1853) 211-233; not at hand to
check), applied to finite volumes of the heat equation; it is Gaussian elimination.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.scalar_history import ScalarHistory
from mop_lantern.materials._table import TABLE

Floats = NDArray[np.float64]
SLICES = 24  # of a layer, at least
FINEST = 2e-3  # m, at most: what passes brick within seconds
FINER = 1.35  # every slice than the next, towards the nearer side


@dataclass(frozen=True)
class Layer:
    """A layer of a wall: thickness m, conductivity W/m/K (endless: equally warm), capacity J/m3/K."""

    thickness: float
    conductivity: float
    capacity: float

    @classmethod
    def of(cls, material: str, thickness: float) -> Layer:
        """Give a layer of a common material, so many m thick."""
        _, conductivity, density, capacity, _ = TABLE[material]
        return cls(thickness, conductivity, density * capacity)

    @property
    def resistance(self) -> float:
        """m2 K/W."""
        return self.thickness / self.conductivity


class WallStore:
    """The heat in a wall before some boundary faces.

    Attributes
    ----------
    faces : (k,) boundary faces. layers : from the fluid outward.
    """

    def __init__(self, faces: NDArray[np.int64], layers: tuple[Layer, ...]) -> None:
        self.faces = faces
        self.layers = layers
        self._holds, self._between = _sliced(layers)
        self._resisted = sum(layer.resistance for layer in layers)
        self._begun: Floats | None = None  # temperatures of the slices (k, n) to begin with
        self._history = ScalarHistory()  # of the slices in one row, (k n,)
        self._seen: list[tuple[Floats, Floats]] = []  # behind every slice and itself: resistance, temperature

    @property
    def slices(self) -> int:
        """How many slices there are."""
        return len(self._holds)

    def lay(self, within: Floats) -> None:
        """Begin with the slices at temperatures (k, n)."""
        self._begun = np.array(within, float)

    def even(self, surface: Floats, outside: Floats, resistance: Floats) -> Floats:
        """Give the temperatures of the slices (k, n) of a wall that passes the same heat everywhere, between
        a surface and an outside (k,) K with a resistance (k,) m2 K/W.
        """
        come = np.cumsum(self._between)[:-1]
        share = come / np.maximum(resistance, 1e-300)[:, None]
        return np.asarray(surface[:, None] + share.clip(0.0, 1.0) * (outside - surface)[:, None])

    def begin_step(self, step: float, surface: Floats, outside: Floats, resistance: Floats) -> None:
        """End the former step with the surface (k,) K it came to, and begin one of so many seconds."""
        if not self._history.steady:
            now = self.within(surface)
        elif self._begun is not None:
            now = self._begun
        else:
            now = self.even(surface, outside, resistance)
        self._history.begin_step(step, now.ravel(), np.tile(self._holds, len(self.faces)))

    def behind(self, outside: Floats, resistance: Floats) -> tuple[Floats, Floats]:
        """Give the temperature (k,) K and resistance (k,) m2 K/W that stand for the wall in this step, of an
        outside (k,) K behind a resistance (k,) m2 K/W in all.
        """
        count = len(self.faces)
        resisted = np.broadcast_to(resistance - self._resisted, count).clip(0.0) + self._between[-1]
        warmth = np.broadcast_to(np.asarray(outside, float), count)
        shape = count, self.slices
        holds = self._history.weight.reshape(shape)
        held = -self._history.gain(np.zeros(holds.size)).reshape(shape)
        self._seen = []
        for n in reversed(range(self.slices)):
            whole = 1.0 / resisted + holds[:, n]
            warmth = (warmth / resisted + held[:, n]) / whole
            resisted = 1.0 / whole
            self._seen.insert(0, (resisted, warmth))
            resisted = resisted + self._between[n]
        return np.asarray(warmth), np.asarray(resisted)

    def within(self, surface: Floats) -> Floats:
        """Give the temperatures of the slices now, (k, n), behind a surface of (k,) K."""
        found = np.empty((len(self.faces), self.slices))
        before = surface
        for n, (resisted, warmth) in enumerate(self._seen):
            share = resisted / (resisted + self._between[n])
            before = found[:, n] = share * before + (1.0 - share) * warmth
        return found


def _sliced(layers: tuple[Layer, ...]) -> tuple[Floats, Floats]:
    """Give what every slice holds, (n,) J/m2/K, and the resistances between the surface, the slices and the
    outer surface, (n + 1,) m2 K/W.
    """
    holds: list[float] = []
    between = [0.0]
    for layer in layers:
        if layer.thickness * layer.capacity <= 0:
            between[-1] += layer.resistance
            continue
        for part in _graded(layer.thickness) if layer.resistance > 0 else [1.0]:
            holds.append(part * layer.thickness * layer.capacity)
            between[-1] += 0.5 * part * layer.resistance
            between.append(0.5 * part * layer.resistance)
    return np.array(holds), np.array(between)


def _graded(thickness: float) -> Floats:
    """Give the shares of slices in a layer so many m thick, finest at both sides."""
    wanted = np.log1p((FINER - 1) * thickness / 2 / FINEST) / np.log(FINER)
    half = FINER ** np.arange(max(SLICES // 2, int(np.ceil(wanted))))
    both = np.concatenate([half, half[::-1]])
    return np.asarray(both / both.sum())
