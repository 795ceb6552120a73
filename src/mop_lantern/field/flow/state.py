"""What a flow is, how it is iterated, and how an iteration went."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class FlowSettings:
    """How a flow is iterated.

    Attributes
    ----------
    relaxation : of momentum, 0 to 1. sweeps : Gauss-Seidel sweeps an iteration. pressure_tolerance : of the
    inner solve.
    acceleration : whether Anderson mixing is on.
    """

    relaxation: float = 0.9
    sweeps: int = 4
    pressure_tolerance: float = 0.05
    acceleration: bool = True


@dataclass
class FlowState:
    """What a steady flow is: all that is needed to go on or to start another.

    Attributes
    ----------
    velocity : (n_cells, 3) m/s. pressure : (n_cells,) Pa. flux : (n_faces,) m3/s of the reference density,
    out of the owner.
    scalars : (n_cells,) of everything carried, by name. time : s. walls : temperatures within walls that hold
    heat, K, by their names, (n_boundary, slices).
    """

    velocity: Floats
    pressure: Floats
    flux: Floats
    scalars: dict[str, Floats] = field(default_factory=dict)
    time: float = 0.0
    walls: dict[str, Floats] = field(default_factory=dict)

    def light(self) -> FlowState:
        """Give a copy in single precision: enough to begin from, in half the memory."""
        single: Callable[[Floats], Any] = lambda values: values.astype(np.float32)  # noqa: E731
        return FlowState(
            single(self.velocity),
            single(self.pressure),
            single(self.flux),
            {name: single(values) for name, values in self.scalars.items()},
            self.time,
            {name: single(values) for name, values in self.walls.items()},
        )

    def copy(self) -> FlowState:
        """Give an independent copy."""
        scalars = {name: values.copy() for name, values in self.scalars.items()}
        return FlowState(
            self.velocity.copy(),
            self.pressure.copy(),
            self.flux.copy(),
            scalars,
            self.time,
            dict(self.walls),
        )


@dataclass(frozen=True)
class Step:
    """How one outer iteration went: scaled residuals (dimensionless) and inner iterations."""

    iteration: int
    momentum: float
    mass: float
    inner: int
