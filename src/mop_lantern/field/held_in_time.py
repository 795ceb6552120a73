"""Time steps of what is carried that leave nothing below nothing.

Second-order backward differences (`numerics.backward`) take a third of what passed in the former step into
the new one. Where a source is shut or a front leaves a cell, that third can be more than there is: a
twentieth of the peak below nothing was seen. Written with what passes every face, the third can be held back
face by face, and nothing is lost: what one cell keeps the other does not get.

    passes = (1 - share) F + share passed,   share = held r / (1 + 2 r),   r = step / former step

with F of the new state and `held` from 0 to 1, so that no cell gives more than it has and none takes more
than it may hold. Sources count as they are in the middle of the step.

Source: the bound is that of flux-corrected transport, Zalesak, J. Comput. Phys. 31 (1979) 335-362, applied to
former times instead of fluxes of high order (own derivation).
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]


class HeldInTime:
    """What passed faces and was lost in cells in the former step, as far as the new step takes it over.

    Attributes
    ----------
    share : (n_faces,) what the former step counts. faces : (n_faces,) m3/s times the quantity, taken over.
    cell_share, cells : the same of what cells lose by decay, (n_cells,).
    """

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        self.step: float | None = None
        self._rest()

    def _rest(self) -> None:
        """Take nothing over."""
        self.share = np.zeros(len(self.mesh.owner))
        self.faces = np.zeros(len(self.mesh.owner))
        self.cell_share = np.zeros(self.mesh.n_cells)
        self.cells = np.zeros(self.mesh.n_cells)

    def begin(  # noqa: PLR0913 - a state and its bounds
        self,
        step: float,
        phi: Floats,
        passed: Floats,
        lost: Floats,
        low: float,
        high: float,
        volume: Floats | None = None,
    ) -> None:
        """Begin a step (s).

        Parameters
        ----------
        phi : (n_cells,) the state so far. passed : (n_faces,) what passed in the former step, per second.
        lost : (n_cells,) what decayed in it. low, high : what the state must not leave. volume : (n_cells,)
        m3 that hold it, where that is not those of the cells.
        """
        former, self.step = self.step, step
        if former is None:
            self._rest()
            return
        ratio = step / former
        most = ratio / (1 + 2 * ratio)
        volume = self.mesh.volume if volume is None else volume
        gives, takes = self._bounds(step * most, phi, passed, lost, low, high, volume)
        inner = self.mesh.n_internal
        own, nei = self.mesh.owner, self.mesh.neighbour
        from_own = passed >= 0
        held = np.where(from_own, gives[own], takes[own])
        held[:inner] = np.minimum(held[:inner], np.where(from_own[:inner], takes[nei], gives[nei]))
        self.share = most * held
        self.faces = self.share * passed
        self.cell_share = most * np.where(lost >= 0, gives, takes)
        self.cells = self.cell_share * lost

    def _bounds(  # noqa: PLR0913
        self,
        weight: float,
        phi: Floats,
        passed: Floats,
        lost: Floats,
        low: float,
        high: float,
        volume: Floats,
    ) -> tuple[Floats, Floats]:
        """Give what part of what it would give and take a cell may, (n_cells,) each, from 0 to 1."""
        inner = self.mesh.n_internal
        own, nei = self.mesh.owner, self.mesh.neighbour
        cells = self.mesh.n_cells
        out, back = np.maximum(passed, 0.0), np.maximum(-passed, 0.0)
        give = np.bincount(own, out, cells) + np.bincount(nei, back[:inner], cells) + np.maximum(lost, 0.0)
        take = np.bincount(own, back, cells) + np.bincount(nei, out[:inner], cells) + np.maximum(-lost, 0.0)
        has = np.asarray(np.maximum(phi - low, 0.0) * volume)
        may: Floats = np.maximum(high - phi, 0.0) * volume
        return _part(has, weight * give), _part(may, weight * take)

    def passing(self, now: Floats) -> Floats:
        """Give what passes every face in the step, from what passes in the new state, (n_faces,)."""
        return (1 - self.share) * now + self.faces

    def losing(self, now: Floats) -> Floats:
        """Give what cells lose in the step, from what they lose in the new state, (n_cells,)."""
        return (1 - self.cell_share) * now + self.cells


def _part(there: Floats, wanted: NDArray[Any]) -> Floats:
    """Give the part of what is wanted that is there, 1 at most."""
    return np.asarray(np.where(wanted > there, there / np.maximum(wanted, 1e-300), 1.0))
