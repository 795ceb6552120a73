"""Speed in three dimensions: a model of many triangles brought in, sealed and gridded; iterations of a duct
and a cavity; memory; frames while dragging.
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np
import trimesh

from bench.model_speed import part_of
from mop_lantern.case import parse_case, settle
from mop_lantern.field.face_geometry import link
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.judge import FieldResult
from mop_lantern.scene import Picture
from mop_lantern.shape import join
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.sealing import sealed
from mop_lantern.solve import Solving

WATER = {"w": {"kind": "constant", "density": "1 kg/m3", "viscosity": "10 mPa s"}}


def bumpy_pipe(path: Path, around: int = 160, along: int = 160) -> None:
    """Write a bumpy pipe of some 51,000 triangles, open at both ends, as STL in metres."""
    angle, x = np.meshgrid(2 * np.pi * np.arange(around) / around, np.linspace(0, 0.3, along + 1))
    radius = 0.03 + 0.002 * np.sin(7 * angle) * np.sin(60 * x)
    points = np.stack([x, radius * np.cos(angle), radius * np.sin(angle)], axis=-1).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(along), np.arange(around), indexing="ij")
    a, b, c, d = (
        ((i + p) * around + (j + q) % around).reshape(-1) for p, q in ((0, 0), (1, 0), (1, 1), (0, 1))
    )
    trimesh.Trimesh(
        points, np.concatenate([np.column_stack([a, c, b]), np.column_stack([a, d, c])]), process=False
    ).export(path)


def model_to_grid() -> list[dict[str, Any]]:
    """Bring a model in, seal it, and make some 300,000 cells."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "pipe.stl"
        bumpy_pipe(path)
        began = time.monotonic()
        model = sealed(read_model(path, "m"))
        surface = join({"p": part_of(model)})
        brought = time.monotonic() - began
        began = time.monotonic()
        mesh = make_in_space(surface, 0.0012, 0)
        gridded = time.monotonic() - began
    matrix, x, products = link(mesh).matrix(), np.ones(mesh.n_cells), []
    for _ in range(9):
        began = time.monotonic()
        matrix @ x
        products.append(time.monotonic() - began)
    return [
        {
            "what": f"{len(model.triangles):,} triangles brought in, sealed and joined",
            "value": brought,
            "unit": "s",
            "limit": None,
        },
        {
            "what": f"gridded to {mesh.n_cells:,} cells",
            "value": gridded,
            "unit": "s",
            "limit": 20 - brought if mesh.n_cells > 250_000 else None,
        },
        {
            "what": "seconds a million cells",
            "value": gridded / mesh.n_cells * 1e6,
            "unit": "s",
            "limit": None,
        },
        {"what": "making that grid", "value": gridded / median(products), "unit": "spmv", "limit": None},
    ]


def iterations() -> list[dict[str, Any]]:
    """Count outer iterations of a duct and a cavity of 104 k cells to 1e-5, and those of the coarse start by
    what their grids make them cost.
    """
    cube = {
        "space": "space",
        "solids": {"r": {"kind": "brick", "length": "1 m", "width": "1 m", "height": "1 m"}},
    }
    duct = {
        "space": "space",
        "solids": {"r": {"kind": "brick", "length": "4 m", "width": "1 m", "height": "1 m"}},
    }
    lid = {
        "walls": {"lid": {"kind": "sliding", "edge": "r.north", "speed": "1 m/s"}},
        "grid": {"cell": "= 1 m / 47", "doublings": "0"},
    }
    through = {
        "openings": {
            "in": {"kind": "velocity", "edge": "r.west", "velocity": "1 m/s"},
            "out": {"kind": "static_pressure", "edge": "r.east"},
        },
        "grid": {"cell": "= 1 m / 29.6", "doublings": "0"},
    }
    rows = []
    for words, shape, field, limit in (("cavity", cube, lid, 150), ("duct", duct, through, 60)):
        solving = Solving(
            settle(
                parse_case(
                    {
                        "title": words,
                        "media": WATER,
                        "shape": shape,
                        "field": {**field, "solver": {"residual": "1e-5"}},
                    }
                )
            ),
            None,
            None,
        )
        mine, coarse, cells = 0, {}, 0
        for event in solving.events():
            cells = event.get("cells", cells)
            if event["event"] == "progress" and event["coarse"]:
                coarse[cells] = event["iteration"]
            elif event["event"] == "progress":
                mine = event["iteration"]
        full = solving.run.mesh.n_cells
        worth = sum(count * size / full for size, count in coarse.items())
        told = " and ".join(f"{count} on {size:,}" for size, count in coarse.items())
        rows.append(
            {
                "what": f"{words}, {full:,} cells, to 1e-5 (after {told})",
                "value": mine + worth,
                "unit": "iterations",
                "limit": limit,
            }
        )
    return rows


def memory() -> dict[str, Any]:
    """Measure the memory a cell of a solve takes, in a process of its own: what 40 k cells and 300 k cells
    differ by.
    """
    used, cells = [], []
    for cell in ("= 1 m / 34", "= 1 m / 67"):
        done = subprocess.run(
            [sys.executable, "-m", "bench.space_speed", cell], capture_output=True, text=True, check=True
        )
        row = json.loads(done.stdout.splitlines()[-1])
        used.append(row["memory"])
        cells.append(row["cells"])
    return {
        "what": f"memory a cell between {cells[0]:,} and {cells[1]:,} cells",
        "value": (used[1] - used[0]) / (cells[1] - cells[0]) / 1e3,
        "unit": "kB",
        "limit": 1.5,
    }


def one_solve(cell: str) -> None:
    """Solve a few iterations of a cavity and print the memory taken."""
    shape = {
        "space": "space",
        "solids": {"r": {"kind": "brick", "length": "1 m", "width": "1 m", "height": "1 m"}},
    }
    field = {
        "walls": {"lid": {"kind": "sliding", "edge": "r.north", "speed": "1 m/s"}},
        "grid": {"cell": cell, "doublings": "0"},
        "solver": {"most": "14", "coarse": "0"},
    }
    solving = Solving(
        settle(parse_case({"title": "m", "media": WATER, "shape": shape, "field": field})), None, None
    )
    list(solving.events())
    # of this process alone: what getrusage tells includes the one it was begun from
    most = next(
        line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM:")
    )
    print(json.dumps({"cells": solving.run.mesh.n_cells, "memory": float(most.split()[1]) * 1e3}))


def frames() -> list[dict[str, Any]]:
    """Drag the view over a result of some 300 k cells: the median frame of the usual layers as it is drawn
    while dragged, and the wait for full detail.
    """
    from mop_lantern.declare import Numbers
    from mop_lantern.desk.stage.view import SETTLE, SLOW_FRAME

    pipe = Numbers(
        kind="bent_pipe",
        role="fluid",
        x=0.0,
        y=0.0,
        z=0.0,
        heading=0.0,
        lean=0.0,
        diameter=0.05,
        before=0.1,
        angle=np.pi / 2,
        radius=0.08,
        after=0.1,
    )
    surface = join({"r": pipe})
    mesh = make_in_space(surface, 0.00115, 0)
    flow = 0.01 * np.column_stack(
        [np.ones(mesh.n_cells), np.sin(40 * mesh.centre[:, 0]), np.cos(40 * mesh.centre[:, 1])]
    )
    still = np.zeros((mesh.n_boundary, 3))
    picture = Picture()
    picture.set_shape(surface, {"r.start": "in", "r.end": "out"})
    picture.set_answer(
        FieldResult(
            mesh,
            flow,
            mesh.centre[:, 0].copy(),
            np.zeros(len(mesh.owner)),
            still,
            np.zeros(mesh.n_boundary),
            still,
            1000.0,
        )
    )
    picture.image((620, 480))

    def turning(size: tuple[int, int]) -> float:
        times = []
        for turn in range(15):
            picture.orbit.turn(6, 2 * (-1) ** turn)
            began = time.monotonic()
            picture.image(size)
            times.append(time.monotonic() - began)
        return float(median(times))

    full = turning((690, 490))  # the stage of a window of 1280 x 800
    dragged = turning((345, 245)) if full > SLOW_FRAME else full
    return [
        {
            "what": f"frame while turning {mesh.n_cells:,} cells",
            "value": 1e3 * dragged,
            "unit": "ms",
            "limit": 60,
        },
        {"what": "full detail after letting go", "value": SETTLE / 1e3 + full, "unit": "s", "limit": 0.4},
    ]


if __name__ == "__main__":
    one_solve(sys.argv[1])
