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
    data = document(
        {"box": {"kind": "outline", "points": corners}},
        {},
        {"cell": f"{2 * h / 32!r} m", "across": "1"},
        media=fluid(1.0, 0.01),
        walls=walls,
    )
    data["field"]["time"] = {
        "mode": "transient",
        "until": "2 s",
        "step": "0.05 s",
        "courant": "0",
        "every": "2 s",
    }
    data["field"]["start"] = {
        "u": "= 1 m/s * cos(x / 1 m) * sin(y / 1 m)",
        "v": "= 0 m/s - 1 m/s * sin(x / 1 m) * cos(y / 1 m)",
    }
    solving = run_case(data)
    assert solving.run is not None
    place, u = solving.run.mesh.centre, solving.run.flow.U[:, 0]
    shape = np.cos(place[:, 0]) * np.sin(place[:, 1])
    amplitude = float((u * shape).sum() / (shape**2).sum())
    return [
        Check(
            "O-5.13",
            "amplitude at t = 2",
            0.960789,
            amplitude,
            0.005,
            "Taylor and Green, exact; 64 cells a period",
        )
    ]


def shedding() -> list[Check]:
    """O-5.9: vortices shed by a cylinder in a channel at Re 100."""
    wake = {"wake": {"kind": "wake", "edge": "rod.surface", "across": "20", "length": "5"}}
    data = cylinder_document("0.0125 m", 3, 1.0, refine=wake)
    data["field"]["time"] = {
        "mode": "transient",
        "until": "3.6 s",
        "step": "0.004 s",
        "courant": "0",
        "every": "100 s",
    }
    data["field"]["start"] = {
        "u": "1 m/s",
        "v": "= 0.4 m/s * exp(0 - ((x - 0.35 m) / 0.08 m)**2)",
    }  # a kick, so that shedding begins at once
    solving = run_case(data)
    assert solving.run is not None
    traces: dict[str, Any] = {name: np.array(values) for name, values in solving.run.traces.columns.items()}
    late = traces["time"] > 2.6
    time, drag, lift = traces["time"][late], 20 * traces["drag"][late], 20 * traces["lift"][late]
    up = np.flatnonzero((lift[:-1] < 0) & (lift[1:] >= 0))
    crossings = time[up] - lift[up] * (time[up + 1] - time[up]) / (lift[up + 1] - lift[up])
    period = float(np.diff(crossings).mean())
    middle = (crossings[-2] + crossings[-1]) / 2
    pressure = float(np.interp(middle, traces["time"], traces["front"] - traces["back"]))
    found = (
        ("Strouhal number", 0.1 / period, 0.295, 0.305, 0.02),
        ("largest drag coefficient", float(drag.max()), 3.22, 3.24, 0.03),
        ("largest lift coefficient", float(lift.max()), 0.99, 1.01, 0.03),
        ("pressure half a period after", pressure, 2.46, 2.50, 0.03),
    )
    source = "Schaefer and Turek 1996, nearest value of the published interval, from memory"
    return [
        Check("O-5.9", f"{what} ({low:g} to {high:g})", float(np.clip(got, low, high)), got, limit, source)
        for what, got, low, high, limit in found
    ]


def pulsed(step: str = "0.005 s", across: str = "16") -> dict[str, float]:
    """Solve the flow past a cylinder that swells and ebbs with sin(pi t / 8 s); give its largest forces and
    its last pressure difference.
    """
    wake = {"wake": {"kind": "wake", "edge": "rod.surface", "across": across}}
    data = cylinder_document("0.0125 m", 2, 1.0, refine=wake)
    feed = "= 6 m/s * y * (0.41 m - y) / (0.41 m)**2 * sin(pi * t / 8 s)"
    data["field"]["openings"]["in"] = {"kind": "velocity_profile", "edge": "ch.side4", "velocity": feed}
    data["field"]["time"] = {
        "mode": "transient",
        "until": "8 s",
        "step": step,
        "courant": "0",
        "every": "100 s",
    }
    solving = run_case(data)
    assert solving.run is not None
    traces: dict[str, Any] = {name: np.array(values) for name, values in solving.run.traces.columns.items()}
    return {
        "lift": 20 * float(traces["lift"].max()),
        "drag": 20 * float(traces["drag"].max()),
        "pressure": float((traces["front"] - traces["back"])[-1]),
        "cells": float(solving.run.mesh.n_cells),
    }


def pulse() -> list[Check]:
    """O-5.8, 2D-3: the pulsed cylinder, and the order of its lift in time."""
    found = pulsed()
    source = (
        "Schaefer and Turek 1996, 2D-3; best values John, Int. J. Numer. Meth. Fluids 44 (2004), from memory"
    )
    return [
        Check("O-5.8 pulsed", "largest lift coefficient (0.47 to 0.49)", 0.4780, found["lift"], 0.05, source),
        Check(
            "O-5.8 pulsed", "largest drag coefficient (2.93 to 2.97)", 2.95092, found["drag"], 0.01, source
        ),
        Check(
            "O-5.8 pulsed",
            "pressure difference at 8 s (-0.115 to -0.105)",
            -0.110,
            found["pressure"],
            0.005,
            source,
            True,
        ),
    ]


def order_in_time() -> list[Check]:
    """Order of the largest lift of the pulsed cylinder in the time step, on a coarse grid where it can be
    seen alone.
    """
    lift = [pulsed(step, "8")["lift"] for step in ("0.02 s", "0.01 s", "0.005 s")]
    order = float(np.log2((lift[1] - lift[0]) / (lift[2] - lift[1])))
    return [
        Check(
            "order in time",
            "order of the largest lift (2 or more counts as 2)",
            2.0,
            min(order, 2.0),
            0.1,
            "backward differences of second order, by construction",
        )
    ]


SLOW = {
    "O-3.12",
    "O-5.8-pulsed",
    "O-5.9",
    "O-5.10",
    "O-6.2",
    "O-6.6-piped",
    "O-8.5",
    "first-answers",
    "order-in-time",
    "rooms",
}  # long ones: for `bench --accuracy`, not for every test run
CASES: dict[str, Callable[[], list[Check]]] = {
    "O-5.9": shedding,
    "O-5.13": vortex,
    "O-5.8-pulsed": pulse,
    "order-in-time": order_in_time,
}
