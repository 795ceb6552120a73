"""What the solver needs to know of a solid."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from mop_lantern.declare import Kind, reference


@dataclass(frozen=True)
class Solid:
    """Conductivity (W/m/K), density (kg/m3) and heat capacity (J/kg/K) of a solid, the same in all its
    directions and at every temperature.
    """

    conductivity: float
    density: float
    capacity: float


class Material(Kind):
    """What a solid part is made of; ``solid(numbers)`` works it out. A part without one conducts no heat."""

    part: str = reference("body", "part", "The solid part that conducts heat.")

    @classmethod
    def solid(cls, numbers: Any) -> Solid:
        """Give its figures, SI."""
        raise NotImplementedError
