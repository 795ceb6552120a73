"""What stands in for the flow where there is no fluid."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow.following import Following
from mop_lantern.field.flow.solver import FlowSolver
from mop_lantern.field.flow.state import FlowSettings, FlowState, Step
from mop_lantern.grid import Mesh
from mop_lantern.grid.moved import Moved

Floats = NDArray[np.float64]


class StillFlow(FlowSolver):
    """The flow of no fluid: arrays without length, and nothing to iterate.

    Parameters
    ----------
    mesh : of no cells. settings : kept for those who look.
    """

    def __init__(self, mesh: Mesh, settings: FlowSettings) -> None:  # the base works on cells
        self.mesh = mesh
        self.boundary = Boundary.still(0)
        self.density = 1.0
        self.nu = np.zeros(0)
        self.settings = settings
        self.iteration = 0
        self.U = np.zeros((0, 3))
        self.p = np.zeros(0)
        self.flux = np.zeros(0)
        self._step: float | None = None
        self.coupled_scalars = []
        self.after_flow = None

    @property
    def time_step(self) -> float | None:
        """The present time step, s; None while steady."""
        return self._step

    @property
    def velocity_gradient(self) -> Floats:
        """Gradients of no cell, (0, 3, 3)."""
        return np.zeros((0, 3, 3))

    @property
    def reference_speed(self) -> float:
        """Nothing moves."""
        return 1.0

    def state(self) -> FlowState:
        """Give a state without cells."""
        return FlowState(self.U, self.p, self.flux)

    def step(self) -> Step:
        """Count one more iteration."""
        self.iteration += 1
        return Step(self.iteration, 0.0, 0.0, 0)

    def project_mass(self) -> float:
        """Nothing is out of balance."""
        return 0.0

    def begin_step(self, step: float, moved: Moved | None = None) -> None:
        """Begin a time step of so many seconds."""
        self._step = step

    def renew_boundary(self, boundary: Boundary, following: Sequence[Following] = ()) -> None:
        """There is no boundary."""

    def boundary_values(self) -> tuple[Floats, Floats]:
        """Give velocities and pressures of no face."""
        return np.zeros((0, 3)), np.zeros(0)

    def wall_shear(self) -> Floats:
        """Give forces on no face."""
        return np.zeros((0, 3))
