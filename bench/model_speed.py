"""Speed with models: dirty ones checked, inside and outside told apart, wrapped, gridded."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np
import trimesh

from mop_lantern.declare import Numbers
from mop_lantern.errors import CaseError
from mop_lantern.grid.space_expected import cells_expected
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import Surface, join
from mop_lantern.shape.model import Model, packed
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.sealing import sealed
from mop_lantern.shape.surface import winding
from mop_lantern.shape.wrapping import plan_of, wrap_model

LIMITS = {2_400: 1.0, 120_000: 6.0, 500_000: 30.0}  # s, twice what is wanted: machines differ
WANTED = {0.3e6: 0.0241, 1.0e6: 0.0161}  # m: cells of a ball of 1 m radius that give so many


def dirty(count: int) -> Any:
    """Give about so many triangles of balls and rods that cross, some missing, some turned, (m, 3, 3) m."""
    random = np.random.default_rng(0)
    bodies = max(count // 1000, 6)
    level = 2 if count < 10_000 else 3 if count < 200_000 else 4
    soup = []
    for _ in range(bodies):
        body = trimesh.creation.icosphere(level, 0.05 + 0.05 * random.random())
        body.apply_translation(random.random(3) * bodies ** (1 / 3) * 0.4)
        soup.append(body.triangles)
    corners = np.concatenate(soup)[:count]
    corners = corners[random.random(len(corners)) > 0.005]
    return np.where((random.random(len(corners)) < 0.05)[:, None, None], corners[:, ::-1], corners)


def part_of(model: Model) -> Any:
    """Give the part a model becomes in a case."""
    return Numbers(
        kind="model",
        role="fluid",
        x=0.0,
        y=0.0,
        z=0.0,
        turn=0.0,
        scale=1.0,
        least=0.0,
        mesh=packed(model),
        names=model.names,
        layers=(),
        colours=(),
    )


def checked(folder: Path) -> list[dict[str, Any]]:
    """Time reading, closing and building dirty models of many bodies."""
    rows = []
    for count, limit in LIMITS.items():
        path = folder / f"{count}.stl"
        corners = dirty(count)
        trimesh.Trimesh(
            corners.reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3), process=False
        ).export(path)
        began = time.monotonic()
        model = sealed(read_model(path, "m"))
        read = time.monotonic() - began
        began = time.monotonic()
        try:
            join({"m": part_of(model)})
            words = "whole"
        except CaseError as problem:
            words = problem.faults[0].says[:30]
        took = time.monotonic() - began
        what = f"{len(corners):,} dirty triangles built ({words}); read and closed in {read:.2g} s"
        rows.append({"what": what, "value": took, "unit": "s", "limit": limit})
    return rows


def inside() -> dict[str, Any]:
    """Time telling inside from outside on a ball of 82 k triangles."""
    ball = trimesh.creation.icosphere(6)
    surface = Surface(
        np.asarray(ball.vertices), np.asarray(ball.faces), np.zeros(len(ball.faces), int), ("a",)
    )
    places = 2 * np.random.default_rng(0).random((100_000, 3)) - 1
    began = time.monotonic()
    inner = winding(surface, places) > 0
    took = time.monotonic() - began
    wrong = int((inner != (np.linalg.norm(places, axis=1) < 1)).sum())
    what = (
        f"inside or outside of {len(ball.faces):,} triangles, a million places ({wrong} of 1e5 near the wall)"
    )
    return {"what": what, "value": 10 * took, "unit": "s", "limit": None}


def wraps() -> list[dict[str, Any]]:
    """Time wraps of a torn model at a fiftieth and a hundredth of its size."""
    corners = dirty(20_000)
    points = corners.reshape(-1, 3)
    count = len(corners)
    model = Model(
        points,
        np.arange(3 * count).reshape(-1, 3),
        np.zeros(count, int),
        ("face1",),
        (),
        (),
    )
    rows = []
    size = float(np.ptp(points, axis=0).max())
    for share in (50, 100):
        plan = plan_of(points, size / share)
        began = time.monotonic()
        wrapped = wrap_model(model, size / share)
        took = time.monotonic() - began
        rows.append(
            {
                "what": f"wrap at 1/{share}: {plan.nodes / 1e6:.1f} M nodes, "
                f"{len(wrapped.triangles):,} triangles, told {plan.seconds:.0f} s before",
                "value": took,
                "unit": "s",
                "limit": None,
            }
        )
    return rows


def grids() -> list[dict[str, Any]]:
    """Time grids of 0.3 and 1 million cells in processes of their own, with their memory and what was told
    before.
    """
    rows = []
    for wanted, cell in WANTED.items():
        done = subprocess.run(
            [sys.executable, "-m", "bench.model_speed", str(cell)], capture_output=True, text=True, check=True
        )
        row = json.loads(done.stdout.splitlines()[-1])
        rows.append(
            {
                "what": f"grid of {row['cells']:,} cells in a ball, {row['memory'] / 1e9:.2f} GB; "
                f"{row['expected'] / row['cells'] - 1:+.0%} told before",
                "value": row["seconds"],
                "unit": "s",
                "limit": 8.0 if wanted > 5e5 else None,
            }
        )
    return rows


def one_grid(cell: float) -> None:
    """Make one grid and print what it took."""
    ball = trimesh.creation.icosphere(5)
    surface = Surface(
        np.asarray(ball.vertices), np.asarray(ball.faces), np.zeros(len(ball.faces), int), ("a",)
    )
    make_in_space(surface, 0.1, 1)  # compiled code is loaded
    began = time.monotonic()
    mesh = make_in_space(surface, cell, 0)
    took = time.monotonic() - began
    most = next(
        line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM:")
    )
    memory = 1024 * int(most.split()[1])
    expected = cells_expected(surface, cell, 0)
    print(json.dumps({"cells": mesh.n_cells, "seconds": took, "memory": memory, "expected": expected}))


def rows() -> list[dict[str, Any]]:
    """Give all rows."""
    with tempfile.TemporaryDirectory() as folder:
        return [*checked(Path(folder)), inside(), *wraps(), *grids()]


if __name__ == "__main__":
    if len(sys.argv) > 1:
        one_grid(float(sys.argv[1]))
    else:
        for row in rows():
            print(f"{row['what']:110} {row['value']:8.3g} {row['unit']}  (limit {row['limit']})")
