"""Check cases of fields in three dimensions: ducts straight and laid obliquely, a pipe laid obliquely,
through the case document.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bench.stating import Check, solved
from mop_lantern.case import ResolvedCase, parse_case, settle
from mop_lantern.judge import FieldResult
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

SLOW = {
    "w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}
}  # develops within a width
AT_REST = {"residual": "1e-6"}


def passage(
    solids: dict[str, Any], ends: tuple[str, str], velocity: str, cell: str
) -> tuple[ResolvedCase, FieldResult]:
    """Solve the laminar flow through a passage that fluid enters evenly."""
    openings = {
        "in": {"kind": "velocity", "edge": ends[0], "velocity": velocity},
        "out": {"kind": "static_pressure", "edge": ends[1]},
    }
    shape = {"space": "space", "solids": solids}
    settled = settle(
        parse_case(
            {
                "title": "check",
                "media": SLOW,
                "shape": shape,
                "field": {"openings": openings, "grid": {"cell": cell}, "solver": AT_REST},
            }
        )
    )
    solving = Solving(settled, None, None)
    events = list(solving.events())
    if not events[-1]["converged"]:
        raise AssertionError(events[-1]["trust"])
    return settled, final_answer(solving)


def gradient(answer: FieldResult, along: NDArray[np.float64], low: float, high: float) -> float:
    """Give the fall of pressure a metre between two places along a passage."""
    x = answer.mesh.centre @ along
    chosen = (x > low) & (x < high)
    return -float(np.polyfit(x[chosen], answer.pressure[chosen], 1)[0])


def ducts() -> list[Check]:
    """O-5.2 and O-1.9: laminar ducts of 1:1 and 1:2, straight along the lattice and turned by 33 degrees."""
    source, checks = "Shah and London (1978), series", []
    for case, width, height, product, turn in (
        ("O-5.2", 0.01, 0.01, 14.227, 0.0),
        ("O-5.2 turned", 0.01, 0.01, 14.227, 33.0),
        ("O-1.9 field 1:2", 0.02, 0.01, 15.548, 0.0),
    ):
        brick = {
            "kind": "brick",
            "length": "45 mm",
            "width": f"{width!r} m",
            "height": f"{height!r} m",
            "turn": f"{turn} deg",
        }
        _, answer = passage({"d": brick}, ("d.west", "d.east"), "10 mm/s", "0.8 mm")
        across = 2 * width * height / (width + height)
        expected = product * 2 * 0.01 * 0.01 / across**2
        along = np.array([np.cos(np.radians(turn)), np.sin(np.radians(turn)), 0.0])
        checks.append(
            Check(
                case, "fall of pressure, Pa/m", expected, gradient(answer, along, 0.025, 0.04), 0.02, source
            )
        )
        if case == "O-5.2":
            checks.append(
                Check(
                    case,
                    "u_max / u_mean",
                    2.0963,
                    float((answer.velocity @ along).max()) / 0.01,
                    0.02,
                    source,
                )
            )
    return checks


def pipes() -> list[Check]:
    """A pipe laid obliquely at 20 cells a diameter: Hagen and Poiseuille, on the flow and bore that the
    surface has.
    """
    pipe = {"kind": "cylinder", "length": "34 mm", "diameter": "10 mm", "heading": "25 deg", "rise": "35 deg"}
    settled, answer = passage({"p": pipe}, ("p.start", "p.end"), "10 mm/s", "0.5 mm")
    a, e = np.radians([25.0, 35.0])
    along = np.array([np.cos(e) * np.cos(a), np.cos(e) * np.sin(a), np.sin(e)])
    bore = np.sqrt(4 * settled.shape.edge_lengths["p.start"] / np.pi)
    return [
        Check(
            "oblique pipe",
            "fall of pressure, Pa/m",
            32 * 0.01 * 0.01 / bore**2,
            gradient(answer, along, 0.018, 0.03),
            0.015,
            "Hagen-Poiseuille, exact",
        )
    ]


def lid() -> list[Check]:
    """O-5.5: a cube whose lid slides, Re 100, 32 cells a side."""
    shape = {
        "space": "space",
        "solids": {"r": {"kind": "brick", "length": "1 m", "width": "1 m", "height": "1 m"}},
    }
    medium = {"w": {"kind": "constant", "density": "1 kg/m3", "viscosity": "10 mPa s"}}
    walls = {"lid": {"kind": "sliding", "edge": "r.north", "speed": "1 m/s"}}
    answer = solved(
        {
            "title": "lid",
            "media": medium,
            "shape": shape,
            "field": {"walls": walls, "grid": {"cell": "= 1 m / 32", "doublings": "0"}, "solver": AT_REST},
        }
    )
    line, half = np.linspace(0.05, 0.95, 181), np.full(181, 0.5)
    u = answer.sampler("u", np.column_stack([half, line, half]))
    v = answer.sampler("v", np.column_stack([line, half, half]))
    source = "own staggered code, Richardson, 1 % (reference O-5.5)"
    return [
        Check("O-5.5", "lowest u on the upright line, m/s", -0.2156, float(u.min()), 0.03, source),
        Check("O-5.5", "highest v on the level line, m/s", 0.1530, float(v.max()), 0.03, source),
        Check("O-5.5", "lowest v on the level line, m/s", -0.2493, float(v.min()), 0.03, source),
    ]


def post() -> list[Check]:
    """O-5.10: a round post across a square channel, Re 20, cells halved about it and behind it."""
    solids = {
        "r": {"kind": "brick", "length": "2.5 m", "width": "0.41 m", "height": "0.41 m"},
        "c": {
            "kind": "cylinder",
            "role": "solid",
            "x": "0.5 m",
            "y": "0.2 m",
            "z": "-0.1 m",
            "rise": "90 deg",
            "length": "0.7 m",
            "diameter": "0.1 m",
        },
    }
    medium = {"w": {"kind": "constant", "density": "1 kg/m3", "viscosity": "1 mPa s"}}
    inlet = {
        "kind": "velocity_profile",
        "edge": "r.west",
        "velocity": "= 7.2 m/s * y * z * (0.41 m - y) * (0.41 m - z) / (0.41 m)**4",
    }
    refine = {"near": {"kind": "edge", "edge": "c.wall", "distance": "25 mm", "levels": "1"}}
    field = {
        "openings": {"in": inlet, "out": {"kind": "static_pressure", "edge": "r.east"}},
        "grid": {"cell": "20.5 mm", "doublings": "0", "refine": refine},
        "solver": {"residual": "1e-5"},
    }
    readings = {
        "drag": {"kind": "force", "edge": "c.wall", "axis": "x"},
        "lift": {"kind": "force", "edge": "c.wall", "axis": "y"},
    }
    solving = Solving(
        settle(
            parse_case(
                {
                    "title": "3D-1Z",
                    "media": medium,
                    "shape": {"space": "space", "solids": solids},
                    "field": field,
                    "readings": readings,
                }
            )
        ),
        None,
        None,
    )
    list(solving.events())
    push = 0.5 * 0.2**2 * 0.1 * 0.41
    drag, lift = (solving.run.readings[key].value / push for key in ("drag", "lift"))
    source = "Schaefer and Turek (1996), 3D-1Z, 6.05-6.25 and 0.008-0.010"
    return [
        Check("O-5.10", "drag coefficient", 6.1853, drag, 0.03, source),
        Check("O-5.10", "lift coefficient", 0.009, lift, 0.111, source),
    ]


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-5.2": ducts,
    "O-5.2-oblique-pipe": pipes,
    "O-5.5": lid,
    "O-5.10": post,
}
