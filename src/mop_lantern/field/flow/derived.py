"""What is told of a flow beside its cells: values and forces on the boundary, rates of shear."""

from __future__ import annotations

import numpy as np

from mop_lantern.field.boundary import GIVEN, SLIP
from mop_lantern.field.flow.fields import FlowFields
from mop_lantern.field.flow.state import Floats


def boundary_values(flow: FlowFields) -> tuple[Floats, Floats]:
    """Give velocity (n_boundary, 3) m/s and pressure (n_boundary,) Pa on the boundary faces."""
    flow.form_gradients()
    code = flow.boundary.code
    normal = flow.geometry.normal_b
    U = flow.U[flow.bown]
    Ub = flow.boundary_velocity().copy()
    slip = code == SLIP
    Ub[slip] = (U - (U * normal).sum(axis=1)[:, None] * normal)[slip]
    reach = (flow.work.gp[flow.bown] * flow.geometry.reach_b).sum(axis=1)
    pb = np.where(flow.boundary.level, flow.work.pb, flow.p[flow.bown] + reach + flow.drop_b)
    return Ub, pb * flow.density


def wall_shear(flow: FlowFields) -> Floats:
    """Give the viscous force of the fluid on each boundary face, (n_boundary, 3) N (per radian around an
    axis).
    """
    Ub, _ = boundary_values(flow)
    nu = flow.nu[flow.mesh.n_internal :]
    n = flow.geometry.normal_b
    pull = flow.walls.pull(nu, flow.U, Ub, flow.work.gU)
    turned = nu * flow.geometry.size_b
    pull += turned[:, None] * turned_along(flow)
    if flow.mesh.axisymmetric:  # the stress of a turning fluid is that of the change of w / r
        radius = np.maximum(flow.mesh.face_centre[flow.mesh.n_internal :, 1], 1e-300)
        pull[:, 2] -= nu * Ub[:, 2] / radius * flow.area_b[:, 1]
    force = -flow.density * pull
    return np.where(flow.boundary.wall[:, None], force - (force * n).sum(axis=1)[:, None] * n, 0.0)


def turned_along(flow: FlowFields) -> Floats:
    """Transposed part of the velocity gradient at walls that turn, on their normal, (n_boundary, 3) 1/s.

    The stress is that of the symmetric gradient; at a still wall the other half has no part along the wall.
    """
    normal = flow.geometry.normal_b
    return np.cross(normal, flow.boundary.spin) if flow.boundary.spin.any() else np.zeros_like(normal)


def shear_rate(flow: FlowFields) -> tuple[Floats, Floats]:
    """Give the shear rate sqrt(2 S:S) in cells (n_cells,) and at the boundary (n_boundary,), 1/s."""
    g = flow.velocity_gradient
    size = flow.geometry.size_b
    slope = flow.walls.pull(np.ones(len(size)), flow.U, flow.work.Ub, g) / size[:, None]
    slope += turned_along(flow)
    if flow.mesh.axisymmetric:  # turning as one body shears nothing
        g = g.copy()
        g[:, 2, 1] -= flow.U[:, 2] / flow.mesh.radius
    S = 0.5 * (g + g.transpose(0, 2, 1))
    square = 2 * (S**2).sum(axis=(1, 2))
    if flow.mesh.axisymmetric:
        square += 2 * (flow.U[:, 1] / flow.mesh.radius) ** 2
    cells = np.sqrt(square)
    walls = flow.boundary.wall & (flow.boundary.code == GIVEN)
    return cells, np.where(walls, np.linalg.norm(slope, axis=1), cells[flow.bown])
