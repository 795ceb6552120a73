"""Columns of cells across a channel or a pipe, on which developed turbulent flow is solved in a second."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.boundary import SLIP, Boundary
from mop_lantern.field.closure import Closure
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.field.turbulence.model import Inflow, Turbulence
from mop_lantern.grid import Mesh
from tests.lattices import lattice, points_of

Floats = NDArray[np.float64]
LEAST = 60  # iterations
STEADY = 2e-5


class Driven(FlowSolver):
    """A flow pushed evenly along x, without faces it enters by."""

    push = 0.0

    def form_gradients(self) -> None:
        """Add the push to the pressure gradient: a force would need cells along x to be felt."""
        super().form_gradients()
        self.work.gp[:, 0] -= self.push

    def _balance_pressure(self) -> None:
        """There is no pressure to balance."""


@dataclass(frozen=True)
class Developed:
    """Developed flow of a mean velocity of 1 m/s: friction over the density, m2/s2, and what made it."""

    friction: float
    turbulence: Turbulence
    flow: Driven
    mesh: Mesh


def heights(first: float, growth: float = 1.15, most: float = 0.04) -> Floats:
    """Give places (n + 1,) from the middle, 0, to the wall, 1 m; the middle of the first cell on the wall is
    about ``first`` off it.
    """
    steps = [2 * first]
    while sum(steps) < 1:
        steps.append(max(min(steps[-1] * growth, most), 2 * first))
    steps = np.array(steps) / sum(steps)
    return np.concatenate([[0.0], np.cumsum(steps[::-1])])


def column(places: Floats, axis: bool) -> Mesh:
    """Make a mesh of one column: inside faces, the wall on top, and the middle where it is no axis."""
    whole = lattice(points_of(np.array([0.0, 1.0]), places), axis)
    inner = whole.n_internal
    kept = [2, 3] if not axis else [3]
    chosen = np.concatenate([np.arange(inner), inner + np.flatnonzero(np.isin(whole.patch, kept))])
    ends = whole.face_points.reshape(-1, 2)[chosen]
    return Mesh(
        **{
            **whole.__dict__,
            "owner": whole.owner[chosen],
            "area": whole.area[chosen],
            "face_centre": whole.face_centre[chosen],
            "patch": whole.patch[np.isin(whole.patch, kept)],
            "face_points": ends.ravel(),
            "face_offsets": np.arange(0, 2 * len(chosen) + 1, 2, dtype=np.int32),
        }
    )


def developed(
    closure: type[Closure],
    reynolds: float,
    y_plus: float,
    axis: bool,
    grain: float = 0.0,
    most: int = 800,
) -> Developed:
    """Solve developed flow between plates 2 m apart or in a pipe of 2 m, with the first cells at about a y+.

    ``grain`` : sand roughness, m.
    """
    nu = 2.0 / reynolds
    mesh = column(heights(y_plus * nu / 0.05), axis)
    boundary = Boundary.still(mesh.n_boundary)
    boundary.code[:-1] = SLIP
    boundary.roughness[:] = grain
    settings = FlowSettings(relaxation=0.99, sweeps=60, acceleration=False)
    flow = Driven(mesh, boundary, 1.0, nu, settings)
    flow.U[:, 0] = 1.0
    each: Any = np.ones(mesh.n_boundary)
    turbulence = Turbulence(flow, closure, Inflow(0.05 * each, each, np.nan * each), {})
    flow.after_flow = turbulence.step
    former = 1.0
    share = mesh.volume / mesh.volume.sum()
    for number in range(most):
        flow.step()
        mean = float(share @ flow.U[:, 0])
        flow.U[:, 0] /= mean
        friction = float(turbulence.tau[0]) / mean**1.8
        flow.push = (2 if axis else 1) * friction
        if number > LEAST and number % 20 == 0:
            if abs(friction / former - 1) < STEADY:
                break
            former = friction
    return Developed(friction, turbulence, flow, mesh)
