"""The Kovasznay flow: an exact solution of the Navier-Stokes equations behind a grid of rods, Re 40."""

from __future__ import annotations

import numpy as np

from mop_lantern.case import parse_case, settle
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.solve import prepare

RE = 40.0
LAMBDA = RE / 2 - np.sqrt(RE**2 / 4 + 4 * np.pi**2)


def exact(place: np.ndarray) -> np.ndarray:
    """Give the velocity (n, 3) at places (n, 3)."""
    x, y = place[:, 0], place[:, 1]
    decay = np.exp(LAMBDA * x)
    return np.column_stack(
        [1 - decay * np.cos(2 * np.pi * y), LAMBDA / (2 * np.pi) * decay * np.sin(2 * np.pi * y), 0 * x]
    )


def error(grid: str, cells: int) -> float:
    """Give the volume-weighted 2-norm of the velocity error on a grid of so many cells a unit length."""
    corners = [["-0.5 m", "-0.5 m"], ["1 m", "-0.5 m"], ["1 m", "0.5 m"], ["-0.5 m", "0.5 m"]]
    parts = {"box": {"kind": "outline", "points": corners}}
    if grid == "cut":
        parts["hole"] = {"kind": "disc", "centre": ["0.1 m", "0.05 m"], "diameter": "0.4 m"}
    refine = (
        {"patch": {"kind": "box", "low": ["-0.2 m", "-0.3 m"], "high": ["0.3 m", "0.2 m"], "levels": "1"}}
        if grid == "refined"
        else {}
    )
    data = {
        "media": {"fluid": {"kind": "constant", "density": "1 kg/m3", "viscosity": f"{1 / RE!r} Pa s"}},
        "shape": {"parts": parts},
        "field": {
            "openings": {
                "out": {"kind": "static_pressure", "edge": "box.side2"},
                "in": {"kind": "velocity", "edge": "box.side4"},
            },
            "grid": {"cell": f"= 1 m / {cells}", "across": "1", "refine": refine},
        },
    }
    mesh = prepare(settle(parse_case(data)))
    boundary = Boundary.still(mesh.n_boundary)
    area = mesh.area[mesh.n_internal :]
    size = np.linalg.norm(area, axis=1)
    boundary.velocity[:] = exact(mesh.face_centre[mesh.n_internal :])
    boundary.wall[:] = False
    through = (boundary.velocity * area).sum(
        axis=1
    )  # the midpoint fluxes do not cancel to the last digit: spread the rest
    boundary.velocity -= (through.sum() / size.sum() / size)[:, None] * area
    flow = FlowSolver(mesh, boundary, 1.0, 1 / RE, FlowSettings())
    for _ in range(600):
        step = flow.step()
        if step.momentum < 1e-8 and step.mass < 1e-8:
            break
    wrong = ((flow.U - exact(mesh.centre)) ** 2).sum(axis=1)
    return float(np.sqrt((mesh.volume * wrong).sum() / mesh.volume.sum()))


def observed_order(grid: str) -> float:
    """Give the order between 30 and 60 cells a unit length."""
    return float(np.log2(error(grid, 30) / error(grid, 60)))
