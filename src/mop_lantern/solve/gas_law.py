"""The density of a gas by its temperature."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.flow import FlowSolver
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]


class GasLaw:
    """Density over the reference density, inversely as the temperature; in a closed space the pressure keeps
    the mass.

    Parameters
    ----------
    mesh : of the fluid. reference : K, where the ratio is 1. closed : nothing enters or leaves.
    """

    def __init__(
        self,
        mesh: Mesh,
        reference: float,
        closed: bool,
    ) -> None:
        self.mesh = mesh
        self.reference = reference
        self.closed = closed
        self._mass = 0.0
        self._former: Floats | None = None

    def ratio(self, temperature: Floats, cells: Floats | None = None) -> Floats:
        """Give the ratio at temperatures (K); ``cells`` (n_cells,) K tell the mass where others are asked
        for.
        """
        ratio = np.asarray(self.reference / np.maximum(temperature, 1.0))
        if not self.closed:
            return ratio
        inside = self.reference / np.maximum(temperature if cells is None else cells, 1.0)
        now = float((inside * self.mesh.volume).sum())
        self._mass = self._mass or now
        return ratio * self._mass / now

    def reference_now(self, temperature: Floats) -> float:
        """Give the temperature at which the ratio is 1 at the present pressure, K."""
        return float(self.ratio(temperature)[0] * temperature[0])

    def begin_step(self, temperature: Floats) -> None:
        """Keep the present ratio as the former one."""
        self._former = self.ratio(temperature)

    def expand(
        self,
        flow: FlowSolver,
        temperature: Floats,
        surface: Floats,
    ) -> Floats:
        """Let the density of a flow follow the temperature in cells and on the boundary, K; give the ratio of
        cells.
        """
        cells = self.ratio(temperature)
        rate = None
        if self._former is not None and flow.time_step:
            rate = (cells - self._former) / flow.time_step
        flow.set_ratio(cells, self.ratio(surface, temperature), rate)
        return cells
