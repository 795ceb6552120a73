"""Cases with known values, stated with readings, on any grid: what the trust list says of them is held
against the truth by `bench.trust`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from bench.body_cases import cylinder_document
from bench.cases import cavity_document
from bench.heat_cases import OIL, convection_document, held, warm
from bench.stating import OUT, document, fluid, inflow, run


@dataclass(frozen=True)
class Known:
    """A case on any grid and what its readings are in truth.

    Attributes
    ----------
    state : gives the document for a number of cells across. grids : numbers to try. truth : SI values by
    reading; a pair gives the known value and the scale errors are told against.
    """

    name: str
    state: Callable[[float], dict[str, Any]]
    grids: tuple[float, ...]
    truth: dict[str, float | tuple[float, float]]
    source: str


def line(start: list[str], end: list[str], what: str, measure: str) -> dict[str, Any]:
    """State a reading along a line."""
    return {"kind": "line", "start": start, "end": end, "quantity": what, "measure": measure}


UPRIGHT, LEVEL = (["0.5 m", "0 m"], ["0.5 m", "1 m"]), (["0 m", "0.5 m"], ["1 m", "0.5 m"])
CAVITY = {
    100: (-0.21408, 0.17955, -0.25381),
    400: (-0.3287, 0.3038, -0.4541),
    1000: (-0.38862, 0.37698, -0.52776),
    3200: (-0.433, 0.430, -0.561),
}
HEATED = {
    1e4: (2.2448, 16.188e-3, 19.637e-3),
    1e5: (4.522, 34.73e-3, 68.62e-3),
    1e6: (8.825, 64.83e-3, 220.6e-3),
}


def cavity(reynolds: int) -> Known:
    """O-5.4."""

    def state(n: float) -> dict[str, Any]:
        data = cavity_document(float(reynolds), int(n))
        data["readings"] = {
            "umin": line(*UPRIGHT, "u", "min"),
            "vmax": line(*LEVEL, "v", "max"),
            "vmin": line(*LEVEL, "v", "min"),
        }
        return data

    grids = {100: (12, 18, 24, 48), 400: (16, 32, 48, 64), 1000: (24, 32, 64, 96), 3200: (32, 64)}[reynolds]
    low_u, high_v, low_v = CAVITY[reynolds]
    return Known(
        f"cavity {reynolds}",
        state,
        grids,
        {"umin": low_u, "vmax": high_v, "vmin": low_v},
        "own FEM (reference O-5.4); 400, 3200: own Richardson",
    )


def heated(rayleigh: float, ratio: float = 1.0) -> Known:
    """O-6.1."""

    def state(n: float) -> dict[str, Any]:
        data = convection_document(rayleigh, ("box.side4", "box.side2"), 1.0, int(n), ratio)
        data["readings"] = {
            "umax": line(*UPRIGHT, "u", "max"),
            "vmax": line(*LEVEL, "v", "max"),
            "heat": {"kind": "passing", "edge": "box.side4", "quantity": "T", "way": "in"},
        }
        return data

    nusselt, u, v = HEATED[rayleigh]
    grids = {1e4: (10, 20, 40), 1e5: (12, 20, 40), 1e6: (20, 32, 64)}[rayleigh]
    return Known(
        f"heated {rayleigh:.0e} ratio {ratio:g}",
        state,
        grids,
        {"umax": u, "vmax": v, "heat": nusselt * 1e-3},
        "de Vahl Davis 1983 and own FEM",
    )


def passage(space: str, exact: float) -> Known:
    """O-1.1 and O-5.1: developed flow, mean 1 m/s, width 1 m, viscosity 0.01 Pa s; fall of pressure over
    4 m.
    """

    def state(n: float) -> dict[str, Any]:
        openings = {"in": inflow("run.start", "1 m/s"), "out": {**OUT, "edge": "run.end"}}
        data = document(
            run("4 m", "1 m"),
            openings,
            {"cell": f"= 1 m / {n:g}", "across": "1"},
            media=fluid(1.0, 0.01),
            space=space,
        )
        data["readings"] = {
            "drop": {"kind": "drop", "edge": "run.start", "to": "run.end"},
            "friction": {"kind": "force", "edge": "run.left", "part": "friction"},
            "umax": {"kind": "region", "quantity": "u", "measure": "max"},
        }
        return data

    drop = exact * 0.01 * 4
    top = 2.0 if space == "axis" else 1.5
    push = drop * (np.pi / 4 if space == "axis" else 0.5)
    return Known(
        "pipe" if space == "axis" else "channel",
        state,
        (4, 6, 10, 20),
        {"drop": drop, "friction": push, "umax": top},
        "exact",
    )


def couette() -> Known:
    """O-5.3: flow and shear between a still and a sliding wall under a pressure gradient."""

    def state(n: float) -> dict[str, Any]:
        openings = {
            "in": {"kind": "static_pressure", "edge": "run.start", "pressure": "4 Pa"},
            "out": {**OUT, "edge": "run.end"},
        }
        lid = {"lid": {"kind": "sliding", "edge": "run.left", "speed": "0.2 m/s"}}
        data = document(
            run("40 mm", "10 mm"),
            openings,
            {"cell": f"= 10 mm / {n:g}", "across": "1"},
            media=fluid(1.0, 0.1),
            walls=lid,
        )
        data["readings"] = {
            "flow": {"kind": "flow", "edge": "run.end"},
            "still": {"kind": "force", "edge": "run.right", "part": "friction"},
            "mid": {"kind": "point", "at": ["20 mm", "0 mm"], "quantity": "u"},
        }
        return data

    return Known(
        "couette",
        state,
        (3, 5, 8, 16),
        {"flow": 0.00108333, "still": 0.1, "mid": 0.1125},
        "Couette-Poiseuille, exact",
    )


def cylinder() -> Known:
    """O-5.8: cylinder in a channel, Re 20; n cells a diameter at its surface."""

    def state(n: float) -> dict[str, Any]:
        wake = {
            "wake": {"kind": "box", "low": ["0.22 m", "0.14 m"], "high": ["0.4 m", "0.26 m"], "levels": "1"}
        }
        data = cylinder_document(f"= 0.1 m / {n / 4:g}", 2, 0.2, refine=wake)
        data["readings"].pop("lift")
        return data

    truth = {"drag": 5.57953523 * 0.04 * 0.1 / 2}
    return Known("cylinder 20", state, (6, 10, 16, 32), truth, "Schaefer and Turek 1996")


def junction(reynolds: float, share: float) -> Known:
    """O-5.12."""

    def state(n: float) -> dict[str, Any]:
        parts = {
            "main": {"kind": "straight", "start": ["-2 m", "0.5 m"], "length": "6 m", "width": "1 m"},
            "side": {
                "kind": "branch",
                "host": "main",
                "at": "2.5 m",
                "angle": "90 deg",
                "width": "1 m",
                "length": "3 m",
            },
        }
        openings = {
            "in": inflow("main.start", "1 m/s"),
            "out": {**OUT, "edge": "main.end"},
            "up": {**OUT, "edge": "side.end"},
        }
        data = document(
            parts, openings, {"cell": f"= 1 m / {n:g}", "across": "1"}, media=fluid(1.0, 1 / reynolds)
        )
        data["readings"] = {
            "main": {"kind": "flow", "edge": "main.end"},
            "side": {"kind": "flow", "edge": "side.end"},
        }
        return data

    return Known(
        f"junction {reynolds:.0f}",
        state,
        (6, 10, 20),
        {"main": share, "side": 1 - share},
        "own FEM (reference O-5.12)",
    )


def graetz() -> Known:
    """O-6.4: oil cooled in a pipe."""

    def state(n: float) -> dict[str, Any]:
        openings = {
            "in": {**inflow("run.start", "0.1 m/s"), "temperature": "60 °C"},
            "out": {**OUT, "edge": "run.end"},
        }
        grid = {"cell": f"= 10 mm / {n:g}", "across": "1", "aspect": "20"}
        data = warm(
            document(run("2 m", "10 mm"), openings, grid, media=OIL, space="axis"),
            {"wall": held("run.left", "20 °C")},
        )
        data["readings"] = {
            "heat": {"kind": "passing", "edge": "run.left", "quantity": "T", "way": "out"},
            "out": {"kind": "edge_value", "edge": "run.end", "quantity": "T", "measure": "flow_mean"},
        }
        return data

    return Known(
        "graetz",
        state,
        (10, 20, 40),
        {"heat": 175.78, "out": (46.461 + 273.15, 40.0)},
        "Graetz, own eigenvalue solution",
    )


def streams() -> Known:
    """O-8.1: two streams of salt side by side."""

    def state(n: float) -> dict[str, Any]:
        feed = {
            "kind": "velocity",
            "edge": "run.start",
            "velocity": "0.1 m/s",
            "carries": {"salt": "= y < 0 m"},
        }
        openings = {"in": feed, "out": {**OUT, "edge": "run.end"}}
        walls = {"a": {"kind": "slip", "edge": "run.left"}, "b": {"kind": "slip", "edge": "run.right"}}
        data = document(
            run("600 mm", "200 mm"),
            openings,
            {"cell": f"= 200 mm / {n:g}", "across": "1"},
            walls=walls,
            media=fluid(1000.0, 1.0),
        )
        data["field"]["species"] = {"salt": {"diffusivity": "1e-5 m2/s"}}
        data["readings"] = {
            f"y{y}": {"kind": "point", "at": ["500 mm", f"{y} mm"], "quantity": "c.salt"} for y in (5, 10)
        }
        return data

    return Known("streams", state, (10, 20, 40, 80), {"y5": 0.30854, "y10": 0.15866}, "error function, exact")


def rolls(rayleigh: float, nusselt: float) -> Known:
    """O-6.2: a roll over a heated floor."""
    width = float(np.pi / 3.117)

    def state(n: float) -> dict[str, Any]:
        slip = {"w": {"kind": "slip", "edge": "box.side4"}, "e": {"kind": "slip", "edge": "box.side2"}}
        data = convection_document(rayleigh, ("box.side1", "box.side3"), width, int(n), 1.0, walls=slip)
        data["field"]["start"] = {
            "u": f"= 20 mm/s * sin(pi * x / {width!r} m) * cos(pi * y / 1 m)",
            "v": f"= 0 m/s - 20 mm/s * cos(pi * x / {width!r} m) * sin(pi * y / 1 m)",
        }
        data["readings"] = {"heat": {"kind": "passing", "edge": "box.side1", "quantity": "T", "way": "in"}}
        return data

    return Known(
        f"rolls {rayleigh:.0f}",
        state,
        (10, 16, 32),
        {"heat": nusselt * width * 1e-3},
        "own FEM (reference O-6.2)",
    )


SPACE = {"title": "check", "readings": {}}


def duct() -> Known:
    """A duct of 3:1, developed inflow: fall of pressure from the series of Shah and London (f Re 17.090 for
    1:3).
    """

    def state(n: float) -> dict[str, Any]:
        brick = {"kind": "brick", "length": "40 mm", "width": "30 mm", "height": "10 mm"}
        inlet = {"kind": "velocity", "edge": "d.west", "velocity": "10 mm/s", "profile": "developed"}
        field = {
            "openings": {"in": inlet, "out": {"kind": "static_pressure", "edge": "d.east"}},
            "grid": {"cell": f"= 10 mm / {n:g}"},
            "solver": {"residual": "1e-6"},
        }
        medium = {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}}
        return {
            **SPACE,
            "media": medium,
            "shape": {"space": "space", "solids": {"d": brick}},
            "field": field,
            "readings": {"drop": {"kind": "drop", "edge": "d.west", "to": "d.east"}},
        }

    across = 4 * 0.03 * 0.01 / (2 * 0.04)
    return Known(
        "duct 3:1",
        state,
        (2.5, 5, 10, 16),
        {"drop": 17.090 * 2 * 0.01 * 0.01 / across**2 * 0.04},
        "Shah and London 1978, series",
    )


def cube() -> Known:
    """O-5.5: a cube whose lid slides, Re 100."""

    def state(n: float) -> dict[str, Any]:
        medium = {"w": {"kind": "constant", "density": "1 kg/m3", "viscosity": "10 mPa s"}}
        field = {
            "walls": {"lid": {"kind": "sliding", "edge": "r.north", "speed": "1 m/s"}},
            "grid": {"cell": f"= 1 m / {n:g}", "doublings": "0"},
            "solver": {"residual": "1e-6"},
        }
        shape = {
            "space": "space",
            "solids": {"r": {"kind": "brick", "length": "1 m", "width": "1 m", "height": "1 m"}},
        }
        upright, level = (
            (["0.5 m", "0 m", "0.5 m"], ["0.5 m", "1 m", "0.5 m"]),
            (["0 m", "0.5 m", "0.5 m"], ["1 m", "0.5 m", "0.5 m"]),
        )
        readings = {
            "umin": line(*upright, "u", "min"),
            "vmax": line(*level, "v", "max"),
            "vmin": line(*level, "v", "min"),
        }
        return {**SPACE, "media": medium, "shape": shape, "field": field, "readings": readings}

    return Known(
        "cube 100",
        state,
        (12, 16, 24, 32),
        {"umin": -0.2156, "vmax": 0.1530, "vmin": -0.2493},
        "own staggered code (reference O-5.5)",
    )


def torque() -> Known:
    """O-11.4: concentric cylinders."""

    def state(n: float) -> dict[str, Any]:
        gap = {"run": {"kind": "straight", "start": ["0 mm", "55 mm"], "length": "20 mm", "width": "10 mm"}}
        ends = {"a": {"kind": "symmetry", "edge": "run.start"}, "b": {"kind": "symmetry", "edge": "run.end"}}
        walls = {"inner": {"kind": "turning", "edge": "run.right", "rate": "10 rad/s"}, **ends}
        data = document(
            gap,
            {},
            {"cell": f"= 10 mm / {n:g}", "across": "1"},
            media=fluid(1000.0, 0.1),
            walls=walls,
            space="axis",
        )
        data["readings"] = {
            "inner": {"kind": "torque", "edge": "run.right"},
            "outer": {"kind": "torque", "edge": "run.left"},
        }
        return data

    return Known(
        "taylor-couette", state, (3, 5, 8, 16), {"inner": -0.102816 * 0.02, "outer": 0.102816 * 0.02}, "exact"
    )


CASES = [
    cavity(100),
    cavity(400),
    cavity(1000),
    cavity(3200),
    heated(1e4),
    heated(1e5),
    heated(1e6),
    heated(1e6, 4.0),
    passage("plane", 12.0),
    passage("axis", 32.0),
    couette(),
    cylinder(),
    junction(10.0, 0.5377),
    junction(100.0, 0.7901),
    graetz(),
    streams(),
    rolls(5000.0, 2.110),
    rolls(20000.0, 3.235),
    duct(),
    cube(),
    torque(),
]
