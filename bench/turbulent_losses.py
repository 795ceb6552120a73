"""Checks of what turbulent flow loses and how it spreads: expansion, contraction, orifice, diffuser, bend, a
rectangular duct, a free jet.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import Check
from bench.turbulent_cases import run
from mop_lantern.field.turbulence.profile import shear_speed
from mop_lantern.laws.friction import colebrook
from mop_lantern.solve.flow_run import FlowRun


def losses() -> list[Check]:
    """O-2.1, O-2.2, O-2.5 and O-2.7 around the axis: sudden changes of bore, an orifice plate, a diffuser;
    friction is taken off.
    """
    diffuser = "Crane, Idelchik (reference)"
    return [
        Check(
            "O-2.2 field", "K of a sudden narrowing", 0.29, narrowed(), 0.07, "range of O-2.2", absolute=True
        ),
        Check("O-2.1 field", "loss of total pressure, Pa", 517.83, widened(), 0.1, "Borda"),
        Check("O-2.5 field", "K of an orifice plate", 11.377, held_up(), 0.1, "ISO 5167-2 (reference O-2.5)"),
        Check("O-2.7 field", "K of a diffuser of 20 degrees", 0.13, spread(), 0.3, diffuser),
        Check(
            "O-2.3 field", "K of a square-edged inlet, sucked", 0.5, sucked(), 0.2, "handbooks (reference)"
        ),
    ]


def straight(start: str, length: str, width: str) -> dict[str, Any]:
    """Give a length of pipe on the axis."""
    return {"kind": "straight", "start": [start, "0 mm"], "length": length, "width": width}


def widened(cell: str = "1.25 mm") -> float:
    """Give the loss of total pressure of a sudden widening, Pa."""
    parts = {"a": straight("0 mm", "100 mm", "50 mm"), "b": straight("100 mm", "900 mm", "70.7107 mm")}
    k = lost(parts, 4.0, cell, "uniform", ((0.05, 0.1), (0.0707107, 0.9)))
    return k * 499.1 * 2.03718**2


def narrowed(cell: str = "1.25 mm") -> float:
    """Give the loss coefficient of a sudden narrowing, on the small side.

    SST gives 0.218, as Weisbach's contraction of the jet to 0.68 does (from memory).
    """
    parts = {"a": straight("0 mm", "250 mm", "70.7107 mm"), "b": straight("250 mm", "900 mm", "50 mm")}
    lip = {"lip": {"kind": "corners", "distance": "12 mm", "levels": "2"}}
    pipes = ((0.0707107, 0.25), (0.05, 0.9))
    return lost(parts, 4.0, cell, "developed", pipes, closure="realizable", refine=lip) / 4


def held_up(cell: str = "1.25 mm") -> float:
    """Give the loss coefficient of an orifice plate."""
    parts = {
        "a": straight("0 mm", "200 mm", "100 mm"),
        "hole": straight("200 mm", "2 mm", "60 mm"),
        "b": straight("202 mm", "1000 mm", "100 mm"),
    }
    return lost(parts, 13.057, cell, "developed", ((0.1, 0.2), (0.1, 1.0)))


def sucked(cell: str = "1.5 mm") -> float:
    """Give the loss coefficient of the square edge where a pipe draws 2 m/s from a vessel; developed friction
    is taken off.
    """
    data = {
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "space": "axis",
            "parts": {"a": straight("0 mm", "250 mm", "300 mm"), "b": straight("250 mm", "1 m", "50 mm")},
        },
        "field": {
            "openings": {
                "in": {"kind": "static_pressure", "edge": "a.start"},
                "out": {"kind": "velocity", "edge": "b.end", "velocity": "2 m/s", "way": "out"},
            },
            "physics": {"flow": "sst"},
            "grid": {"cell": cell},
        },
        "readings": {"drop": {"kind": "drop", "edge": "a.start", "to": "b.end"}},
    }
    fall = run(data).readings["drop"].value / 1000
    return float((fall - 0.5 * 2**2 - 4 * (shear_speed(1e5) * 2) ** 2 * 1.0 / 0.05) / (0.5 * 2**2))


def spread(cell: str = "2.5 mm") -> float:
    """Give the loss coefficient of a diffuser of 20 degrees."""
    cone = 25 / np.tan(np.deg2rad(10))
    parts = {
        "a": straight("0 mm", "400 mm", "100 mm"),
        "w": {
            "kind": "reducer",
            "start": ["400 mm", "0 mm"],
            "length": f"{cone} mm",
            "width_start": "100 mm",
            "width_end": "150 mm",
        },
        "b": straight(f"{400 + cone} mm", "1500 mm", "150 mm"),
    }
    return lost(parts, 3 * np.pi * 0.01 / 4 * 1e3, cell, "developed", ((0.1, 0.4), (0.15, 1.5)))


def lost(
    parts: Any,
    flow: float,
    cell: str,
    profile: str,
    pipes: Any,
    closure: str = "sst",
    refine: dict[str, Any] | None = None,
) -> float:
    """Give the loss coefficient of parts in a row, on the first velocity, less the developed friction of
    pipes (diameter and length, m).
    """
    data = {
        "media": {"w": {"kind": "constant", "density": "998.2 kg/m3", "viscosity": "1.0016 mPa s"}},
        "shape": {"space": "axis", "parts": parts},
        "field": {
            "openings": {
                "in": {"kind": "volume_flow", "edge": "a.start", "flow": f"{flow} L/s", "profile": profile},
                "out": {"kind": "static_pressure", "edge": "b.end"},
            },
            "physics": {"flow": closure},
            "grid": {"cell": cell, "across": "2", "refine": refine or {}},
        },
        "readings": {"drop": {"kind": "drop", "edge": "a.start", "to": "b.end"}},
    }
    drop = run(data).readings["drop"].value
    speeds = [flow * 1e-3 / (np.pi * bore**2 / 4) for bore, _ in pipes]
    rubbed = sum(
        4 * (shear_speed(speed * bore / 1.0034e-6) * speed) ** 2 * length / bore  # fall over the density
        for speed, (bore, length) in zip(speeds, pipes, strict=True)
    )
    total = drop / 998.2 + 0.5 * (speeds[0] ** 2 - speeds[1] ** 2)
    return float((total - rubbed) / (0.5 * speeds[0] ** 2))


def bends() -> list[Check]:
    """O-2.3: bends in space of two radii, their own length included.

    Missed on these cells (y+ 180): 0.18 and 0.16; a bend of 1 bore has 0.09 on 12 mm, 0.12 on 8 mm, 0.20 on
    3 mm at walls (6 mm inside), where 8 mm inside with 4 mm at walls is as good as 4 mm everywhere.

    Finer cells do not mend it. Half of the bend of 1 bore with a mirror in its plane, 1 mm at its walls and
    to 3 bores behind it, 2 mm inside (640,000 cells): 0.256 with a leg of 50 bores. Most of the gain is the
    leg: friction is 20 % higher behind the bend and comes down over 30 bores, and the 6 % that are left there
    are the friction of these cells. Without them 0.20, where Ito (White, from memory) has 0.26 for a smooth
    bend.
    """
    got = {ratio: bent(ratio) for ratio in (1.0, 1.5)}
    source = "Rennels, Miller, Crane (reference O-2.3)"
    return [
        Check("O-2.3 bend", "K of a bend of r/D 1", 0.31, got[1.0], 0.2, source),
        Check("O-2.3 bend", "K of a bend of r/D 1.5", 0.24, got[1.5], 0.2, source),
    ]


def bent(ratio: float, cell: str = "4 mm") -> float:
    """Give the loss coefficient of a right-angled bend of 100 mm at Re 2e5, less the friction of its legs."""
    before, after, bore, speed = 0.3, 1.2, 0.1, 2.0  # m, m/s
    steel = 0.046e-3  # m (reference O-1.3)
    pipe = {
        "kind": "bent_pipe",
        "diameter": f"{bore} m",
        "before": f"{before} m",
        "angle": "90 deg",
        "radius": f"{ratio * bore} m",
        "after": f"{after} m",
    }
    data = {
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {"space": "space", "solids": {"p": pipe}},
        "field": {
            "openings": {
                "in": {
                    "kind": "velocity",
                    "edge": "p.start",
                    "velocity": f"{speed} m/s",
                    "profile": "developed",
                },
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "walls": {
                part: {"kind": "rough", "edge": f"p.{part}", "grain": f"{steel} m"}
                for part in ("before", "bend", "after")
            },
            "physics": {"flow": "sst"},
            "grid": {"cell": cell, "doublings": "0"},
        },
        "readings": {"drop": {"kind": "drop", "edge": "p.start", "to": "p.end"}},
    }
    drop = run(data).readings["drop"].value
    friction = float(colebrook(speed * bore / 1e-6, steel / bore)) * (before + after) / bore
    return drop / (0.5 * 1000 * speed**2) - friction


def rectangular() -> list[Check]:
    """O-1.12: a rectangular duct; what the pressure falls a metre over the second half."""
    source = "Colebrook on the hydraulic diameter (reference O-1.12)"
    return [Check("O-1.12 field", "fall of pressure, Pa/m", 14.899 / 20, duct_fall(), 0.03, source)]


def duct_fall(cell: str = "20 mm", length: float = 9.0) -> float:
    """Give the fall of pressure in the duct of O-1.12, Pa/m, over the second half of a length (m)."""
    data = {
        "media": {"a": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "18.19 uPa s"}},
        "shape": {
            "space": "space",
            "solids": {
                "d": {"kind": "brick", "length": f"{length} m", "width": "500 mm", "height": "300 mm"}
            },
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "d.west", "velocity": "5 m/s", "profile": "developed"},
                "out": {"kind": "static_pressure", "edge": "d.east"},
            },
            "physics": {"flow": "sst"},
            "grid": {"cell": cell, "doublings": "0"},
        },
    }
    for side in ("north", "south", "top", "bottom"):
        data["field"].setdefault("walls", {})[side] = {
            "kind": "rough",
            "edge": f"d.{side}",
            "grain": "0.09 mm",
        }
    made = run(data)
    x = made.mesh.centre[:, 0]
    x = x - x.min()
    mine = (x > length / 2) & (x < length - 0.5)
    return -1.2 * float(np.polyfit(x[mine], made.flow.p[mine], 1)[0])


def jet() -> list[Check]:
    """O-7.4: a free jet around the axis, how its speed decays and how it spreads from 20 to 40 bores on.

    Where the straight lines begin (the virtual origin) is the nozzle's matter and left out of the check.
    """
    decay, spread = jet_figures()
    source = "Hussein, Capp and George 1994 (reference O-7.4)"
    return [
        Check("O-7.4", "decay constant B", 5.8, decay, 0.1, source),
        Check("O-7.4", "half-velocity radius a distance", 0.094, spread, 0.15, source),
    ]


def jet_figures(cell: float = 0.4) -> tuple[float, float]:
    """Give the decay constant and the spread of the jet from 20 to 40 bores on; its cells in bores."""
    bore, speed = 0.02, 20.0  # m, m/s
    made = run(free_jet(bore, speed, "realizable", cell), 2000)
    near, far = (across_jet(made, distance * bore, bore) for distance in (20, 40))
    way = 20 * bore
    return way / (speed / far[0] - speed / near[0]) / bore, (far[1] - near[1]) / way


def across_jet(made: FlowRun, distance: float, bore: float) -> tuple[float, float]:
    """Give speed on the axis (m/s) and half-velocity radius (m) at a distance (m) from the nozzle."""
    centre = made.mesh.centre
    mine = np.abs(centre[:, 0] - 5 * bore - distance) < bore / 4
    rows = np.argsort(centre[mine, 1])
    u, r = made.flow.U[mine, 0][rows], centre[mine, 1][rows]
    middle = float(u[:2].mean())
    return middle, float(np.interp(-0.5 * middle, -u, r))


def free_jet(
    bore: float,
    speed: float,
    closure: str,
    cell: float = 0.4,
) -> dict[str, Any]:
    """State a jet of air from a pipe into still air 60 bores long and 12 deep."""
    D = bore
    open_to = {"kind": "total_pressure", "pressure": "0 Pa"}
    return {
        "media": {"a": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "18 uPa s"}},
        "shape": {
            "space": "axis",
            "parts": {
                "n": {"kind": "straight", "start": ["0 m", "0 m"], "length": f"{5 * D} m", "width": f"{D} m"},
                "b": {
                    "kind": "straight",
                    "start": [f"{5 * D} m", "0 m"],
                    "length": f"{60 * D} m",
                    "width": f"{24 * D} m",
                },
            },
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "n.start", "velocity": f"{speed} m/s"},
                "back": {**open_to, "edge": "b.start"},
                "side": {**open_to, "edge": "b.left"},
                "out": {"kind": "static_pressure", "edge": "b.end"},
            },
            "physics": {"flow": closure},
            "grid": {
                "cell": f"{cell * D} m",
                "across": "2",
                "refine": {
                    "near": {
                        "kind": "box",
                        "low": ["0 m", "0 m"],
                        "high": [f"{17 * D} m", f"{2 * D} m"],
                        "levels": "2",
                    },
                    "far": {
                        "kind": "box",
                        "low": ["0 m", "0 m"],
                        "high": [f"{50 * D} m", f"{6 * D} m"],
                        "levels": "1",
                    },
                },
            },
        },
    }


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-2.1-field": losses,
    "O-2.3-field": bends,
    "O-1.12-field": rectangular,
    "O-7.4": jet,
}
SLOW = frozenset(CASES)
