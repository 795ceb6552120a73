"""Former times of a flow, and what they add to the equations of the present one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.flow.fields import FlowFields
from mop_lantern.field.flow.state import Floats
from mop_lantern.numerics.backward import swept_rate, weights

STILL = np.zeros(0)


@dataclass
class TimeLevel:
    """A former time: velocity, pressure, fluxes, what fluxes had over the interpolated velocity, the volumes
    the cells had, m3, and what faces swept from then on until the next time, (n_faces,) m3 out of their
    owner; zero length where the grid stood still.
    """

    U: Floats
    p: Floats
    flux: Floats
    excess: Floats
    excess_b: Floats
    volume: Floats
    swept: Floats


class History:
    """The last one or two times, and the weights of the time derivative (second-order backward
    differences).

    On a grid that moves the equations hold with fluxes through faces less what the faces sweep. What they
    sweep in the sense of the time derivative is the same sum over former times as the change of the volumes
    is: cells that swell gain nothing by it (the space conservation law: Demirdzic and Peric, Int. J. Numer.
    Meth. Fluids 8 (1988) 1037-1050).
    """

    def __init__(self, flow: FlowFields) -> None:
        self.flow = flow
        self.step: float | None = None
        self.levels: list[TimeLevel] = []
        self._rate: tuple[float, tuple[float, ...]] = (0.0, ())
        self._lifted = 0.0  # by which openings lifted the pressure in the last step, over the density

    def begin_step(self, step: float, swept: Floats = STILL) -> None:
        """Make the present state a former one; the guess for the new one is carried on evenly.

        Parameters
        ----------
        step : s. swept : (n_faces,) m3 out of their owner that faces sweep in this step, or nothing.
        """
        flow = self.flow
        inner = flow.mesh.n_internal
        flow.form_gradients()
        bar = flow.work.c[:inner]
        flow.interpolate(bar)
        plain = flow.flux if flow.face_ratio is None else flow.flux / flow.face_ratio
        level = TimeLevel(
            flow.U.copy(),
            flow.p.copy(),
            flow.flux.copy(),
            plain[:inner] - bar,
            plain[inner:] - flow.free_flux(),
            flow.mesh.volume,
            swept,
        )
        again = self.step is not None
        self.levels = [*self.levels[-1:], level] if again else [level]
        self._rate = weights(step, self.step)
        part = step / (self.step or step)
        self.step = step
        if len(self.levels) == 2:
            old = self.levels[0]
            flow.U += part * (flow.U - old.U)
            flow.p += part * (flow.p - old.p)
            self._lifted *= part  # what openings lifted in the former step is carried on too
            flow.flux[:inner] += part * (flow.flux[:inner] - old.flux[:inner])

    def sweep(self) -> Floats:
        """Give the rate at which faces sweep volume, (n_faces,) m3/s out of their owner; zero length where
        none has moved.
        """
        return swept_rate(self._rate, [level.swept for level in self.levels])

    def lift(self, rise: float) -> None:
        """Lift the pressure by how much openings rose in this step (m2/s2), less what was carried on."""
        self.flow.p += rise - self._lifted
        self._lifted = rise

    def add_to(self, a: Floats, diagonal: NDArray[np.int32]) -> tuple[float, float]:
        """Add the time derivative to the momentum equations; give what it adds to the scale of the residual,
        and how much the step changes.
        """
        flow = self.flow
        ratio = 1.0 if flow.ratio is None else flow.ratio
        pull = np.zeros(flow.mesh.n_cells)  # less than the new volume's share by what the faces sweep
        for weight, level in zip(self._rate[1], reversed(self.levels), strict=True):
            mass = weight * level.volume * ratio
            pull += mass
            flow.work.b += mass[:, None] * level.U
        a[diagonal] += pull
        change = float((pull[:, None] * np.abs(flow.U - self.levels[-1].U)).sum())
        return float((pull[:, None] * np.abs(flow.U)).sum()), change

    def excess(self, D: Floats, old_b: Floats) -> tuple[Floats, Floats]:
        """Give what former face fluxes had over the interpolated velocity, so that the answer does not hang
        on the time step.
        """
        flow = self.flow
        inner = flow.mesh.n_internal
        share = flow.geometry.weight
        response = D * (1.0 if flow.ratio is None else flow.ratio)
        face = share * response[flow.own[:inner]] + (1 - share) * response[flow.nei]
        old = np.zeros(inner)
        for weight, level in zip(self._rate[1], reversed(self.levels), strict=True):
            old += weight * face * level.excess
            if len(old_b):
                old_b = old_b + weight * response[flow.bown] * level.excess_b
        return old, old_b
