"""Fill the cache of compiled kernels, so that parallel tests need not each compile them: ``python -m
bench.warm planes`` or ``spaces``, which may run side by side.
"""

from __future__ import annotations

import sys
from typing import Any

import numpy as np
import trimesh

from bench.cases import cavity_document
from mop_lantern.case import parse_case, settle
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.grid import box
from mop_lantern.shape.crossing import crossings
from mop_lantern.shape.wrap import wrapped
from mop_lantern.shape.wrap_child import contour
from mop_lantern.solve import Solving

CLOSURES = "sst", "k_epsilon", "realizable"
CARRIED: dict[str, Any] = {
    "heat": {"solve": True},
    "age": {"solve": True},
    "species": {"salt": {}},
    "solver": {"most": "3", "coarse": "0"},
}
ENDS = {
    "in": {"kind": "velocity", "velocity": "1 m/s"},
    "out": {"kind": "static_pressure"},
}


def passage(kind: str, shape: dict[str, Any], ends: tuple[str, str], flow: str, cell: str) -> dict[str, Any]:
    """State a passage through which all that can be carried is."""
    openings = {key: {**ENDS[key], "edge": edge} for key, edge in zip(ENDS, ends, strict=True)}
    return {
        "title": "warm",
        "media": {"a": {"kind": "air"}},
        "shape": {"space": kind, **shape},
        "field": {
            **CARRIED,
            "openings": openings,
            "physics": {"flow": flow, "buoyancy": "boussinesq"},
            "grid": {"cell": cell},
        },
    }


def solve(data: dict[str, Any]) -> None:
    """Solve a case as far as it gets in a few iterations."""
    for _ in Solving(settle(parse_case(data)), None, None).events():
        pass


def planes() -> None:
    """Touch the kernels of planes and closures."""
    solve(cavity_document(100.0, 12))
    run = {"parts": {"p": {"kind": "straight", "length": "0.4 m", "width": "0.1 m"}}}
    for flow in CLOSURES:
        solve(passage("plane", run, ("p.start", "p.end"), flow, "10 mm"))


def spaces() -> None:
    """Touch the kernels of spaces, of models and of wraps."""
    mesh = box((9, 9, 9), (1.0, 1.0, 1.0))
    FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1.0, 0.1, FlowSettings()).step()
    ball = trimesh.creation.icosphere(2)
    crossings(
        np.concatenate([ball.vertices, ball.vertices + 0.5]),
        np.concatenate([ball.faces, ball.faces + len(ball.vertices)]),
    )
    wrapped(np.asarray(ball.triangles), np.zeros(len(ball.faces), np.int64), 0.3, contour)
    bar = {"kind": "brick", "x": "0.15 m", "length": "50 mm", "width": "50 mm", "role": "solid"}
    solids = {
        "solids": {"b": {"kind": "brick", "length": "0.4 m", "width": "0.2 m", "height": "0.2 m"}, "bar": bar}
    }
    data = passage("space", solids, ("b.west", "b.east"), "realizable", "20 mm")
    data["field"]["solids"] = {"steel": {"kind": "listed", "part": "bar"}}
    solve(data)


if __name__ == "__main__":
    {"planes": planes, "spaces": spaces}[sys.argv[1]]()
