"""Check cases of species and age."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import OUT, Check, document, fluid, inflow, run, run_case, solved


def streams() -> list[Check]:
    """O-8.1: two streams side by side."""
    feed = {"kind": "velocity", "edge": "run.start", "velocity": "0.1 m/s", "carries": {"salt": "= y < 0 m"}}
    openings = {"in": feed, "out": {**OUT, "edge": "run.end"}}
    walls = {"a": {"kind": "slip", "edge": "run.left"}, "b": {"kind": "slip", "edge": "run.right"}}
    data = document(run("600 mm", "200 mm"), openings, {"cell": "2.5 mm", "across": "4"}, walls=walls)
    data["field"]["species"] = {"salt": {"diffusivity": "1e-5 m2/s"}}
    answer = solved(data)
    y = np.array([0.0, 0.005, 0.01, 0.02])
    got = answer.sampler("c.salt", np.column_stack([np.full(4, 0.5), y]))
    wanted = (0.5, 0.30854, 0.15866, 0.02275)
    return [
        Check(
            "O-8.1", f"share at y = {1e3 * at:.0f} mm", want, float(have), 0.01, "error function, exact", True
        )
        for at, want, have in zip(y, wanted, got, strict=True)
    ]


def exhaust_age() -> list[Check]:
    """O-8.4: the age of what leaves is volume over flow, in a room and in a bent duct."""
    corners = [["0 m", "0 m"], ["6 m", "0 m"], ["6 m", "3 m"], ["0 m", "3 m"], ["0 m", "2.6 m"]]
    room = {
        "room": {"kind": "outline", "points": corners},
        "out": {"kind": "straight", "start": ["5.9 m", "0.25 m"], "length": "1 m", "width": "0.5 m"},
    }
    openings = {
        "in": {"kind": "velocity", "edge": "room.side5", "velocity": "0.01 m/s"},
        "out": {**OUT, "edge": "out.end"},
    }
    openings["in"]["edge"] = "room.side4"
    data = document(room, openings, {"cell": "0.1 m", "across": "4"}, media=fluid(1.2, 2e-4))
    data["field"]["age"] = {"solve": True, "diffusivity": "1.5e-4 m2/s"}
    answer = solved(data)
    faces = answer.mesh.faces_of("out.end")
    flow = answer.outflow[faces]
    nominal = float(answer.mesh.volume.sum() / flow.sum())
    got = float((answer.boundary("age")[faces] * flow).sum() / flow.sum())
    return [
        Check(
            "O-8.4", "age of the exhaust over volume / flow", 1.0, got / nominal, 1e-3, "conservation, exact"
        )
    ]


def residence() -> list[Check]:
    """O-8.5: what has left a laminar pipe or channel after a step of the inlet, without diffusion."""
    checks = []
    cases: tuple[tuple[str, str, str, dict[float, float]], ...] = (
        ("axis", "pipe", "= 2 m/s * (1 - (r / 0.5 m)**2)", {0.75: 0.5556, 1.0: 0.75, 2.0: 0.9375}),
        ("plane", "channel", "= 1.5 m/s * (1 - (y / 0.5 m)**2)", {1.0: 0.7698, 2.0: 0.9526}),
    )
    for space, name, profile, wanted in cases:
        openings: dict[str, Any] = {
            "in": {**inflow("run.start", "1 m/s"), "carries": {"dye": "1"}},
            "out": {**OUT, "edge": "run.end"},
        }
        data = document(
            run("10 m", "1 m"),
            openings,
            {"cell": "0.025 m", "across": "4", "aspect": "2"},
            media=fluid(1.0, 0.01),
            space=space,
        )
        data["field"] |= {
            "species": {"dye": {"diffusivity": "0 m2/s"}},
            "start": {"u": profile},
            "time": {"mode": "transient", "until": "20 s", "step": "0.1 s", "courant": "0", "every": "20 s"},
        }
        data["readings"] = {
            "out": {"kind": "edge_value", "edge": "run.end", "quantity": "c.dye", "measure": "flow_mean"}
        }
        solving = run_case(data)
        assert solving.run is not None
        traces = solving.run.traces.columns
        for theta, share in wanted.items():
            got = float(np.interp(10.0 * theta, traces["time"], traces["out"]))
            checks.append(
                Check(
                    f"O-8.5 {name}",
                    f"share replaced at {theta} of the mean time",
                    share,
                    got,
                    0.02,
                    "convection of a parabola, exact",
                    True,
                )
            )
    return checks


CASES: dict[str, Callable[[], list[Check]]] = {"O-8.1": streams, "O-8.4": exhaust_age, "O-8.5": residence}
