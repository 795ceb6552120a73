"""Check cases of fields in three dimensions: ducts straight and laid obliquely, a pipe laid obliquely, through the case document."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bench.stating import Check
from mop_lantern.case import Settled, parse_case, settle
from mop_lantern.judge import Answer
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

SLOW = {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}}  # develops within a width
AT_REST = {"residual": "1e-6"}


def passage(solids: dict[str, Any], ends: tuple[str, str], velocity: str, cell: str) -> tuple[Settled, Answer]:
    """Solve the laminar flow through a passage that fluid enters evenly."""
    openings = {"in": {"kind": "velocity", "edge": ends[0], "velocity": velocity}, "out": {"kind": "static_pressure", "edge": ends[1]}}
    shape = {"space": "space", "solids": solids}
    settled = settle(parse_case({"title": "check", "media": SLOW, "shape": shape, "field": {"openings": openings, "grid": {"cell": cell}, "run": AT_REST}}))
    solving = Solving(settled, None, None)
    events = list(solving.events())
    if not events[-1]["converged"]:
        raise AssertionError(events[-1]["trust"])
    return settled, final_answer(solving)


def gradient(answer: Answer, along: NDArray[np.float64], low: float, high: float) -> float:
    """Give the fall of pressure a metre between two places along a passage."""
    x = answer.mesh.centre @ along
    chosen = (x > low) & (x < high)
    return -float(np.polyfit(x[chosen], answer.pressure[chosen], 1)[0])


def ducts() -> list[Check]:
    """O-5.2 and O-1.9: laminar ducts of 1:1 and 1:2, straight along the lattice and turned by 33 degrees."""
    source, checks = "Shah and London (1978), series", []
    for case, width, height, product, turn in (("O-5.2", 0.01, 0.01, 14.227, 0.0), ("O-5.2 turned", 0.01, 0.01, 14.227, 33.0), ("O-1.9 field 1:2", 0.02, 0.01, 15.548, 0.0)):
        brick = {"kind": "brick", "length": "45 mm", "width": f"{width!r} m", "height": f"{height!r} m", "turn": f"{turn} deg"}
        _, answer = passage({"d": brick}, ("d.west", "d.east"), "10 mm/s", "0.8 mm")
        across = 2 * width * height / (width + height)
        expected = product * 2 * 0.01 * 0.01 / across**2
        along = np.array([np.cos(np.radians(turn)), np.sin(np.radians(turn)), 0.0])
        checks.append(Check(case, "fall of pressure, Pa/m", expected, gradient(answer, along, 0.025, 0.04), 0.02, source))
        if case == "O-5.2":
            checks.append(Check(case, "u_max / u_mean", 2.0963, float((answer.velocity @ along).max()) / 0.01, 0.02, source))
    return checks


def pipes() -> list[Check]:
    """A pipe laid obliquely at 20 cells a diameter: Hagen and Poiseuille, on the flow and bore that the surface has."""
    pipe = {"kind": "cylinder", "length": "34 mm", "diameter": "10 mm", "heading": "25 deg", "rise": "35 deg"}
    settled, answer = passage({"p": pipe}, ("p.start", "p.end"), "10 mm/s", "0.5 mm")
    a, e = np.radians([25.0, 35.0])
    along = np.array([np.cos(e) * np.cos(a), np.cos(e) * np.sin(a), np.sin(e)])
    bore = np.sqrt(4 * settled.shape.edge_lengths["p.start"] / np.pi)
    return [Check("oblique pipe", "fall of pressure, Pa/m", 32 * 0.01 * 0.01 / bore**2, gradient(answer, along, 0.018, 0.03), 0.015, "Hagen-Poiseuille, exact")]


CASES: dict[str, Callable[[], list[Check]]] = {"O-5.2": ducts, "O-5.2-oblique-pipe": pipes}
