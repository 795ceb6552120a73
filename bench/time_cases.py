"""Check cases in time."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.body_cases import cylinder_document
from bench.stating import Check, document, fluid, run_case


def vortex() -> list[Check]:
    """O-5.13: the decay of Taylor and Green's vortex, one cell of it between slippery walls."""
    h = float(np.pi / 2)
    corners = [[f"{x!r} m", f"{y!r} m"] for x, y in ((-h, -h), (h, -h), (h, h), (-h, h))]
    walls = {f"s{k}": {"kind": "slip", "edge": f"box.side{k}"} for k in (1, 2, 3, 4)}
    data = document({"box": {"kind": "outline", "points": corners}}, {}, {"cell": f"{2 * h / 32!r} m", "across": "1"}, media=fluid(1.0, 0.01), walls=walls)
    data["field"]["time"] = {"mode": "transient", "until": "2 s", "step": "0.05 s", "courant": "0", "every": "2 s"}
    data["field"]["start"] = {"u": "= 1 m/s * cos(x / 1 m) * sin(y / 1 m)", "v": "= 0 m/s - 1 m/s * sin(x / 1 m) * cos(y / 1 m)"}
    solving = run_case(data)
    assert solving.run is not None
    place, u = solving.run.mesh.centre, solving.run.flow.U[:, 0]
    shape = np.cos(place[:, 0]) * np.sin(place[:, 1])
    amplitude = float((u * shape).sum() / (shape**2).sum())
    return [Check("O-5.13", "amplitude at t = 2", 0.960789, amplitude, 0.005, "Taylor and Green, exact; 64 cells a period")]


def shedding() -> list[Check]:
    """O-5.9: vortices shed by a cylinder in a channel at Re 100."""
    wake = {"wake": {"kind": "box", "low": ["0.1 m", "0.1 m"], "high": ["0.6 m", "0.32 m"], "levels": "2"}}
    data = cylinder_document("0.0125 m", 3, 1.0, refine=wake)
    data["field"]["time"] = {"mode": "transient", "until": "3.8 s", "step": "0.005 s", "courant": "10", "every": "100 s"}
    data["field"]["start"] = {"u": "1 m/s", "v": "= 0.4 m/s * exp(0 - ((x - 0.35 m) / 0.08 m)**2)"}  # a kick, so that shedding begins at once
    solving = run_case(data)
    assert solving.run is not None
    traces: dict[str, Any] = {name: np.array(values) for name, values in solving.run.traces.columns.items()}
    late = traces["time"] > 2.8
    time, drag, lift = traces["time"][late], 20 * traces["drag"][late], 20 * traces["lift"][late]
    up = np.flatnonzero((lift[:-1] < 0) & (lift[1:] >= 0))
    crossings = time[up] - lift[up] * (time[up + 1] - time[up]) / (lift[up + 1] - lift[up])
    period = float(np.diff(crossings).mean())
    middle = (crossings[-2] + crossings[-1]) / 2
    pressure = float(np.interp(middle, traces["time"], traces["front"] - traces["back"]))
    found = (
        ("Strouhal number", 0.1 / period, 0.295, 0.305, 0.02), ("largest drag coefficient", float(drag.max()), 3.22, 3.24, 0.03),
        ("largest lift coefficient", float(lift.max()), 0.99, 1.01, 0.03), ("pressure half a period after", pressure, 2.46, 2.50, 0.03),
    )  # fmt: skip
    source = "Schaefer and Turek 1996, nearest value of the published interval, from memory"
    return [Check("O-5.9", f"{what} ({low:g} to {high:g})", float(np.clip(got, low, high)), got, limit, source) for what, got, low, high, limit in found]


CASES: dict[str, Callable[[], list[Check]]] = {"O-5.9": shedding, "O-5.13": vortex}
