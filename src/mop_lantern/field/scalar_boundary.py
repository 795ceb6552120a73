"""What the boundary demands of something carried: temperature, a species, age."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind
from mop_lantern.field.boundary import Patch
from mop_lantern.field.wall_store import Layer

Floats = NDArray[np.float64]


@dataclass
class ScalarBoundary:
    """What every boundary face demands of one carried quantity.

    Attributes
    ----------
    value : (n_boundary,) float; value of what enters, and of walls.
    given : (n_boundary,) bool; walls whose surface value, or the value behind a resistance, is ``value``.
    resistance : (n_boundary,) float; between ``value`` and the surface, (value) per (flux per m2): m2 K/W for
    heat.
    inflow : (n_boundary,) float; given flux through walls into the fluid, per m2 (W/m2 for heat).
    along : (n_boundary,) float; what walls conduct along themselves, thickness times conductivity (W/K).
    """

    value: Floats
    given: NDArray[np.bool_]
    resistance: Floats
    inflow: Floats
    along: Floats

    @classmethod
    def closed(cls, count: int) -> ScalarBoundary:
        """Make a boundary that lets nothing through and brings in nothing."""
        none = np.zeros(count)
        return cls(none, np.zeros(count, bool), none.copy(), none.copy(), none.copy())

    def hold(self, faces: NDArray[np.int64], value: Any, resistance: float | Floats = 0.0) -> None:
        """Give a value behind a resistance to the surface of faces (k,), or to the surface itself."""
        self.given[faces] = True
        self.value[faces] = value
        self.resistance[faces] = resistance


class HeatWall(Kind):
    """A wall that lets heat through: ``apply`` writes what it demands of the temperature beside it.

    ``between``: it lies where two regions touch; all others lie where nothing is behind. ``holds``: it ties
    the level of the temperature to one given.
    """

    between: ClassVar[bool] = False
    holds: ClassVar[bool] = False

    @classmethod
    def ties(cls, numbers: Any) -> bool:
        """Tell whether a wall with these numbers ties the level of the temperature."""
        return cls.holds

    @classmethod
    def passes(cls, numbers: Any) -> float:
        """Give the resistance between the surface and the outside, m2 K/W; 0 where it is no such wall."""
        return 0.0

    @classmethod
    def layers(cls, numbers: Any) -> tuple[Layer, ...]:
        """Give what the wall is made of, from the fluid outward, as far as it may hold heat."""
        return ()

    @classmethod
    def across(cls, numbers: Any) -> float:
        """Give the resistance of all layers, m2 K/W."""
        return float(sum(layer.resistance for layer in cls.layers(numbers)))

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Write the demand of this wall into the boundary arrays."""
        raise NotImplementedError
