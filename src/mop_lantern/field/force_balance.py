"""The momentum theorem on the whole fluid: what forces and momentum carried away do not add up to."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.flow import FlowSolver

Floats = NDArray[np.float64]


def force_balance(flow: FlowSolver) -> tuple[Floats, float]:
    """Give what the forces on the whole fluid and the momentum carried out of it do not add up to, (3,) N,
    and the scale of those forces, N (per radian around an axis, where only the first component means
    anything).

    Pressure enters a cell by its gradient, so this closes to the error of the grid, not to rounding: it
    judges how well the pressure drop answers to the friction on the walls.
    Source: momentum theorem on the whole space (White, Fluid Mechanics, chapter 3).
    """
    mesh = flow.mesh
    boundary = flow.boundary
    rho = flow.density
    inner = mesh.n_internal
    area = mesh.area[inner:]
    beside = mesh.owner[inner:]
    velocity, pressure = flow.boundary_values()
    slope = flow.velocity_gradient[beside]
    carried = rho * flow.flux[inner:, None] * velocity
    stretch = np.einsum("fij,fj->fi", slope + slope.transpose(0, 2, 1), area)
    drag = flow.wall_shear() - np.where(boundary.wall[:, None], 0.0, rho * flow.nu[inner:, None] * stretch)
    push = (pressure - float(np.average(pressure, weights=np.linalg.norm(area, axis=1))))[:, None] * area
    body = [force for force in (flow.body_force, flow.stirred) if len(force)]
    lift = mesh.volume[:, None] * rho * sum(body, np.zeros((1, 3)))
    if mesh.axisymmetric:
        carried, drag, push, lift = (part * (1.0, 0.0, 0.0) for part in (carried, drag, push, lift))
    pushed = rho * flow.jump_force * (np.array([1.0, 0.0, 0.0]) if mesh.axisymmetric else 1.0)
    held = np.zeros((1, 3))
    if len(flow.resistance):
        held = (mesh.volume * flow.resistance)[:, None] * rho * flow.U
    left = (carried + drag + push).sum(axis=0) + held.sum(axis=0) - lift.sum(axis=0) - pushed
    through = push[~boundary.wall].sum(axis=0)
    scale = (
        np.abs(carried).sum()
        + np.abs(drag).sum()
        + np.abs(through).sum()
        + np.abs(lift - lift.mean(axis=0)).sum()
        + np.abs(pushed).sum()
        + np.abs(held).sum()
    )
    return left, float(scale)
