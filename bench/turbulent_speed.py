"""Speed of turbulent flow in space: iterations and seconds to an answer, memory, and the share of each
equation in an iteration, at 100 k, 300 k and a million cells.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.case import parse_case, settle
from mop_lantern.solve import Solving, prepare
from mop_lantern.solve.flow_run import FlowRun

SIZES = {"100 k": 29.6, "300 k": 42.7, "1 M": 63.0}  # cells across a duct four wide long
BLOCKS, TIMED = 4, 4  # the best of so many blocks of so many iterations: a second core may come and go
BEFORE = 6  # iterations not timed


def case_of(across: float, closure: str) -> dict[str, Any]:
    """State a square duct of air at Re 1e5."""
    air = {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "12 uPa s"}
    duct = {"kind": "brick", "length": "4 m", "width": "1 m", "height": "1 m"}
    return {
        "title": "duct",
        "media": {"a": air},
        "shape": {"space": "space", "solids": {"d": duct}},
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "d.west", "velocity": "1 m/s"},
                "out": {"kind": "static_pressure", "edge": "d.east"},
            },
            "physics": {"flow": closure},
            "grid": {"cell": f"= 1 m / {across}", "doublings": "0"},
            "solver": {"most": "800"},
        },
    }


def whole(across: float) -> dict[str, Any]:
    """Solve to the end as the program does; give cells, iterations, coarse ones, seconds, whether trusted."""
    began = time.perf_counter()
    solving = Solving(settle(parse_case(case_of(across, "sst"))), None, None)
    last: dict[str, Any] = {}
    coarse = 0
    for event in solving.events():
        coarse += event["event"] == "progress" and bool(event["coarse"])
        last = event if event["event"] == "finished" else last
    return {
        "iterations": last["iterations"],
        "coarse": coarse,
        "seconds": time.perf_counter() - began,
        "trusted": all(item["verdict"] != "fails" for item in last["trust"]),
    }


def shares(across: float, closure: str) -> dict[str, Any]:
    """Time iterations from rest (s), the share of each equation in them, and the most memory (bytes)."""
    settled = settle(parse_case(case_of(across, closure)))
    mesh = prepare(settled)
    run = FlowRun(settled, mesh, None)
    spent: dict[str, float] = {}

    def watched(name: str, action: Callable[..., Any]) -> Callable[..., Any]:
        def timed(*given: Any, **named: Any) -> Any:
            began = time.perf_counter()
            made = action(*given, **named)
            spent[name] = spent.get(name, 0.0) + time.perf_counter() - began
            return made

        return timed

    flow = run.flow
    flow._momentum.solve = watched("momentum", flow._momentum.solve)  # type: ignore[method-assign]
    flow._correction.correct = watched("pressure", flow._correction.correct)  # type: ignore[method-assign]
    if flow.after_flow is not None:
        flow.after_flow = watched("closure", flow.after_flow)
    for _ in range(BEFORE):
        run.physics.step()
    spent.clear()
    times = []
    for _ in range(BLOCKS):
        began = time.perf_counter()
        for _ in range(TIMED):
            run.physics.step()
        times.append(time.perf_counter() - began)
    total = sum(times)
    most = next(
        line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM:")
    )
    return {
        "cells": mesh.n_cells,
        "seconds": min(times) / TIMED,
        "memory": float(most.split()[1]) * 1e3,
        **{name: seconds / total for name, seconds in spent.items()},
    }


def apart(what: str, across: float, closure: str = "sst", threads: int = 2) -> dict[str, Any]:
    """Measure in a process of its own."""
    done = subprocess.run(
        [sys.executable, "-m", "bench.turbulent_speed", what, str(across), closure],
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, "MOP_LANTERN_THREADS": str(threads)},
    )
    return dict(json.loads(done.stdout.splitlines()[-1]))


def bandwidth(threads: int) -> float:
    """Measure what memory gives to so many threads, bytes a second: sums of arrays far beyond the cache."""
    count = 12_000_000
    a, b, c = (np.ones(count) for _ in range(3))
    ends = np.linspace(0, count, threads + 1).astype(int)
    parts = [slice(first, last) for first, last in pairwise(ends)]
    times = []
    with ThreadPoolExecutor(threads) as pool:
        for _ in range(9):
            began = time.perf_counter()
            list(pool.map(lambda part: np.add(a[part], b[part], out=c[part]), parts))
            times.append(time.perf_counter() - began)
    return 3 * 8 * count / float(np.median(times))


def rows() -> list[dict[str, Any]]:
    """Give the rows of the bench; the largest grid is timed by the iteration only."""
    made = []

    def row(what: str, value: float, unit: str, limit: float | None = None) -> None:
        made.append({"what": what, "value": value, "unit": unit, "limit": limit})

    one, two = bandwidth(1), bandwidth(2)
    row("memory to one thread", one / 1e9, "GB/s")
    row("memory to two threads against one", two / one, "times")
    for size, across in SIZES.items():
        got = apart("shares", across)
        words = f"turbulent, {got['cells']:,} cells"
        row(f"{words}: an iteration", got["seconds"], "s")
        for part in ("closure", "pressure", "momentum"):
            row(f"{words}: share of the {part}", got[part], "of the time")
        row(f"{words}: memory", got["memory"] / 1e9, "GB")
        laminar = apart("shares", across, "laminar")
        row(f"{words}: against a laminar iteration", got["seconds"] / laminar["seconds"], "times", 1.8)
        if size == "1 M":
            continue
        alone = apart("shares", across, threads=1)
        row(f"{words}: one thread against two", alone["seconds"] / got["seconds"], "times")
        end = apart("whole", across)
        told = "trusted" if end["trusted"] else "NOT trusted"
        row(f"{words}: {told} after ({end['coarse']} coarser)", end["iterations"], "iterations", 400)
        row(f"{words}: from the grid to the answer", end["seconds"], "s")
    return made


if __name__ == "__main__":
    chosen = float(sys.argv[2])
    print(json.dumps(whole(chosen) if sys.argv[1] == "whole" else shares(chosen, sys.argv[3])))
