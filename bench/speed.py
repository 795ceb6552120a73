"""Speed, as ratios within one run: comparable between machines and between days."""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np

from bench import desk_speed, model_speed, space_speed, turbulent_speed
from bench.cases import cavity_document
from bench.network_speed import large_network
from mop_lantern.case import apply, load, parse_case, settle
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.grid import box
from mop_lantern.solve import Carried, Solving, prepare

DEMO = Path(__file__).parents[1] / "src" / "mop_lantern" / "demos" / "header.lantern"


def timed(action: Any, repeats: int, clock: Callable[[], float] = time.process_time) -> float:
    """Give the median of seconds over repeats, of this process or by another clock."""
    times = []
    for _ in range(repeats):
        began = clock()
        action()
        times.append(clock() - began)
    return median(times)


def outer_iteration(counts: tuple[int, int, int], threads: int) -> dict[str, Any]:
    """Time one outer iteration on a generic-face block of bricks, in products of the pressure matrix with a
    vector on one thread.

    By the clock, as threads share the work; both are taken in turn, since the machine's pace changes.
    """
    os.environ["MOP_LANTERN_THREADS"] = str(threads)
    mesh = box(counts, (1.0, 1.0, 1.0))
    boundary = Boundary.still(mesh.n_boundary)
    boundary.velocity[mesh.faces_of("top")] = (1.0, 0.0, 0.0)
    flow = FlowSolver(mesh, boundary, 1.0, 0.01, FlowSettings())
    for _ in range(12):  # the acceleration is at work from the tenth on
        flow.step()
    x = np.random.default_rng(1).random(mesh.n_cells)
    product, step = [], []
    for _ in range(9):
        product.append(timed(lambda: flow.pressure_matrix @ x, 5, time.perf_counter))
        step.append(timed(flow.step, 1, time.perf_counter))
    del os.environ["MOP_LANTERN_THREADS"]
    # smaller matrices stay in the cache, which flatters the product
    limit = (150.0 if threads == 1 else 110.0) if mesh.n_cells > 250_000 else None
    words = "one thread" if threads == 1 else f"{threads} threads"
    return {
        "what": f"outer iteration, {mesh.n_cells:,} brick cells, {words}",
        "value": median(step) / median(product),
        "unit": "spmv",
        "limit": limit,
    }


def cavity() -> dict[str, Any]:
    """Count outer iterations, coarse start included, to within 0.1 % of the converged cavity at Re 1000 on 96
    x 96.
    """
    settled = settle(parse_case(cavity_document(1000.0, 96)))
    solving = Solving(settled, None, None)
    mesh = prepare(settled)
    start = yield_from(solving._coarse_start(mesh))
    from mop_lantern.solve import FlowRun

    reference = FlowRun(settled, mesh, start)
    while reference.last.momentum > 1e-9 and reference.last.iteration < 2000:
        reference.last = reference.flow.step()
    wanted = reference.flow.U
    run = FlowRun(settled, mesh, start)
    steps = 0
    while np.linalg.norm(run.flow.U - wanted) > 1e-3 * np.linalg.norm(wanted):
        run.flow.step()
        steps += 1
    value = float(steps + solving.iterations)
    return {
        "what": "cavity Re 1000, 96 x 96, to 0.1 % (coarse grids included)",
        "value": value,
        "unit": "iterations",
        "limit": 250.0,
    }


def yield_from(generator: Any) -> Any:
    """Run a generator to its end and give what it returns."""
    try:
        while True:
            next(generator)
    except StopIteration as end:
        return end.value


def changed_radius() -> list[dict[str, Any]]:
    """Solve a header after a changed radius from scratch and from the former field."""
    base = apply(load(DEMO), {"field.grid.cell": "1.08 mm"})
    edits = {f"shape.parts.tank{k}.corner_radius": "2 mm" for k in range(1, 6)}

    def solve(edited: bool, carried: Carried | None) -> tuple[dict[str, Any], Carried, float]:
        began = time.perf_counter()
        solving = Solving(settle(apply(base, edits) if edited else base), carried, None)
        last = [event for event in solving.events() if event["event"] == "finished"][-1]
        assert solving.result is not None
        return last, solving.result, time.perf_counter() - began

    _, field, _ = solve(False, None)
    scratch, _, long = solve(True, None)
    carried, _, short = solve(True, field)
    cells = f"{scratch['cells']:,} cells"
    rows = []
    for words, event, seconds in (("from scratch", scratch, long), ("carried over", carried, short)):
        rows.append(
            {
                "what": f"changed radius, {cells}, {words}",
                "value": float(event["iterations"]),
                "unit": "iterations",
                "limit": None,
            }
        )
        rows.append(
            {"what": f"changed radius, {cells}, {words}", "value": seconds, "unit": "s", "limit": None}
        )
    rows.append(
        {
            "what": "carried over against from scratch",
            "value": short / long,
            "unit": "of the time",
            "limit": None,
        }
    )
    return rows


def dragging() -> list[dict[str, Any]]:
    """Time a dragged radius in the solver process: to the first changed picture, and to the converged answer
    (median of 5).
    """
    import json
    import subprocess

    from mop_lantern.jobs import worker_command, worker_environment

    base = apply(load(DEMO), {"field.grid.cell": "1.08 mm"})
    worker = subprocess.Popen(
        worker_command(), stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=worker_environment()
    )
    assert worker.stdin is not None and worker.stdout is not None

    def solve(radius: float, carry: bool) -> tuple[float, float, int]:
        assert worker.stdin is not None and worker.stdout is not None
        case = apply(base, {"shape.parts.tank3.corner_radius": f"{radius} mm"}).as_data()
        began, first = time.perf_counter(), 0.0
        worker.stdin.write(
            json.dumps(
                {
                    "do": "solve",
                    "case": case,
                    "variant": "",
                    "carry": carry,
                    "snapshots": True,
                    "follow": carry,
                }
            )
            + "\n"
        )
        worker.stdin.flush()
        for line in worker.stdout:
            event = json.loads(line)
            if event["event"] == "snapshot":
                first = first or time.perf_counter() - began
                worker.stdin.write('{"do": "seen"}\n')
                worker.stdin.flush()
            if event["event"] == "finished":
                return first, time.perf_counter() - began, event["cells"]
            if event["event"] == "failed":
                raise RuntimeError(event["error"])
        raise RuntimeError("the worker ended")

    solve(1.0, False)
    found = [solve(radius, True) for radius in (1.2, 1.4, 1.6, 1.8, 2.0)]
    worker.stdin.write('{"do": "quit"}\n')
    worker.stdin.close()
    worker.wait(timeout=20)
    worker.stdout.close()
    first, last, cells = (float(np.median([row[k] for row in found])) for k in range(3))
    what = f"dragged radius, {cells:,.0f} cells, median of 5"
    return [
        {"what": f"{what}: first changed picture", "value": first, "unit": "s", "limit": 0.5},
        {"what": f"{what}: converged answer", "value": last, "unit": "s", "limit": 3.0},
    ]


def grid_making() -> dict[str, Any]:
    """Time cutting a grid, in outer iterations on it."""
    settled = settle(load(DEMO))
    mesh = prepare(settled)
    making = timed(lambda: prepare(settled), 3)
    from mop_lantern.solve import FlowRun

    run = FlowRun(settled, mesh, None)
    for _ in range(4):
        run.flow.step()
    return {
        "what": f"making a grid of {mesh.n_cells:,} cells",
        "value": making / timed(run.flow.step, 5),
        "unit": "outer iterations",
        "limit": None,
    }


def window_start() -> dict[str, Any]:
    """Time a warm start of the window to its first picture."""
    code = (
        "import time; t=time.perf_counter()\n"
        "from mop_lantern.desk.app import application; app=application()\n"
        "from mop_lantern.desk.window import Desk; from mop_lantern.desk.starters import DEMOS\n"
        "w=Desk(); w.show(); w.open(DEMOS/'header.lantern'); app.processEvents(); "
        "print(time.perf_counter()-t)\n"
        "w.document._saved=w.document.case; w.close()"
    )
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    seconds = [
        float(
            subprocess.run(
                [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True
            ).stdout
        )
        for _ in range(2)
    ]
    return {"what": "window usable, warm start", "value": min(seconds), "unit": "s", "limit": 3.0}


def main() -> int:
    """Print the ratios; exit 1 when one is over its limit."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--json", action="store_true")
    options = parser.parse_args()
    rows: list[dict[str, Any]] = []

    def add(*fresh: dict[str, Any]) -> None:
        for row in fresh:
            rows.append(row)
            if not options.json:
                limit = f"(at most {row['limit']:g})" if row["limit"] else ""
                mark = "  " if not row["limit"] or row["value"] <= row["limit"] else "! "
                print(f"{mark}{row['what']:62} {row['value']:10.3g} {row['unit']:16} {limit}", flush=True)

    for counts, threads in (
        ((31, 31, 31), 1),
        ((47, 47, 47), 1),
        ((47, 47, 47), 2),
        ((67, 67, 67), 1),
        ((67, 67, 67), 2),
    ):
        add(outer_iteration(counts, threads))
    add(cavity())
    add(*changed_radius())
    add(*dragging())
    add(grid_making(), window_start(), desk_speed.review_told())
    add(*large_network())
    add(*space_speed.model_to_grid(), *space_speed.iterations(), space_speed.memory(), *space_speed.frames())
    add(*model_speed.rows())
    add(*turbulent_speed.rows())
    if options.json:
        print(json.dumps(rows, indent=1))
    return 0 if all(not row["limit"] or row["value"] <= row["limit"] for row in rows) else 1


if __name__ == "__main__":
    sys.exit(main())
