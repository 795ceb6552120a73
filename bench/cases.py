"""The check cases of steady flow, and the list of all check cases."""

from __future__ import annotations

import csv
from collections.abc import Callable
from typing import Any

import numpy as np

from bench import (
    body_cases,
    carried_cases,
    draught_cases,
    heat_cases,
    loss_cases,
    medium_cases,
    network_cases,
    network_time_cases,
    quality_cases,
    radiation_cases,
    room_cases,
    solid_cases,
    space_cases,
    time_cases,
    turbulent_cases,
    turbulent_losses,
)
from bench.stating import OUT, TABLES, Check, document, fluid, inflow, mean, run, solved, turning_points


def pipe() -> list[Check]:
    """O-1.1, around the axis."""
    openings = {"in": inflow("run.start", "0.10034 m/s"), "out": {**OUT, "edge": "run.end"}}
    answer = solved(
        document(run("50 mm", "10 mm"), openings, {"cell": "0.25 mm", "across": "8"}, space="axis")
    )
    faces = answer.mesh.faces_of("run.left")
    shear = float(
        -answer.shear[faces, 0].sum()
        / np.linalg.norm(answer.mesh.area[answer.mesh.n_internal + faces], axis=1).sum()
    )
    source = "Hagen-Poiseuille, exact"
    return [
        Check(
            "O-1.1",
            "pressure drop of 2 m, Pa",
            64.32074,
            mean(answer, "pressure", "run.start") * 40,
            0.02,
            source,
        ),
        Check(
            "O-1.1", "highest over mean velocity", 2.0, float(answer.cells("u").max()) / 0.10034, 0.01, source
        ),
        Check(
            "O-1.1",
            "flow, m3/s",
            7.8807e-6,
            float(answer.outflow[answer.mesh.faces_of("run.end")].sum()),
            1e-4,
            source,
        ),
        Check("O-1.1", "wall shear, Pa", 0.080401, abs(shear), 0.02, source),
    ]


def plates(turn: str = "0 deg", speed: float = 0.05) -> list[Check]:
    """O-5.1, plane Poiseuille, also on a grid that cuts the walls (then at a tenth of the speed)."""
    scale = speed / 0.05
    openings = {"in": inflow("run.start", f"{speed!r} m/s"), "out": {**OUT, "edge": "run.end"}}
    answer = solved(document(run("80 mm", "20 mm"), openings, {"cell": "1 mm", "across": "4"}, turn=turn))
    name = "O-5.1" if turn == "0 deg" else f"O-5.1 turned {turn}"
    source = "plane Poiseuille, exact"
    faces = answer.mesh.faces_of("run.left")
    shear = float(np.hypot(*answer.shear[faces, :2].sum(axis=0)) / 0.08)
    way = np.array([np.cos(np.deg2rad(float(turn.split()[0]))), np.sin(np.deg2rad(float(turn.split()[0])))])
    first, last = answer.sampler("pressure", np.array([0.02 * way, 0.06 * way]))  # away from both ends
    return [
        Check(name, "pressure gradient, Pa/m", 1.50240, float(first - last) / 0.04 / scale, 0.01, source),
        Check(
            name, "highest over mean velocity", 1.5, float(answer.cells("speed").max()) / speed, 0.01, source
        ),
        Check(name, "wall shear, Pa", 0.01502, shear / scale, 0.01, source),
    ]


def couette() -> list[Check]:
    """O-5.3, Couette-Poiseuille."""
    openings = {
        "in": {"kind": "static_pressure", "edge": "run.start", "pressure": "4 Pa"},
        "out": {**OUT, "edge": "run.end"},
    }
    lid = {"lid": {"kind": "sliding", "edge": "run.left", "speed": "0.2 m/s"}}
    answer = solved(
        document(
            run("40 mm", "10 mm"),
            openings,
            {"cell": "0.5 mm", "across": "4"},
            media=fluid(1.0, 0.1),
            walls=lid,
        )
    )
    source = "Couette-Poiseuille, exact"
    middle = float(answer.sampler("u", np.array([[0.02, 0.0]]))[0])
    low, high = (
        abs(float(answer.shear[answer.mesh.faces_of(edge), 0].sum())) / 0.04
        for edge in ("run.right", "run.left")
    )
    return [
        Check(
            "O-5.3",
            "flow, m2/s",
            0.00108333,
            float(answer.outflow[answer.mesh.faces_of("run.end")].sum()),
            0.005,
            source,
        ),
        Check("O-5.3", "velocity in the middle, m/s", 0.1125, middle, 0.005, source),
        Check("O-5.3", "shear at the still wall, Pa", 2.5, low, 0.005, source),
        Check("O-5.3", "shear at the sliding wall, Pa", 1.5, high, 0.005, source),
    ]


def cavity_document(reynolds: float, cells: int) -> dict[str, Any]:
    """State the lid-driven cavity."""
    square = {
        "box": {"kind": "outline", "points": [["0 m", "0 m"], ["1 m", "0 m"], ["1 m", "1 m"], ["0 m", "1 m"]]}
    }
    lid = {"lid": {"kind": "sliding", "edge": "box.side3", "speed": "1 m/s"}}
    return document(
        square, {}, {"cell": f"= 1 m / {cells}", "across": "1"}, media=fluid(1.0, 1 / reynolds), walls=lid
    )


EXTREMES = {100: (-0.21408, 0.17955, -0.25381), 1000: (-0.38862, 0.37698, -0.52776)}


def cavity(reynolds: int = 100) -> list[Check]:
    """O-5.4: extremes, and every point of the tables."""
    answer = solved(cavity_document(float(reynolds), 96 if reynolds == 100 else 128))
    name = f"O-5.4 Re {reynolds}"
    low_u, high_v, low_v = EXTREMES[reynolds]
    with (TABLES / f"cavity-Re{reynolds}.csv").open() as file:
        rows = [[float(v) for v in row] for row in list(csv.reader(file))[1:]]
    y, ghia_u, fem_u, x, ghia_v, fem_v = np.array(rows).T
    inner_y, inner_x = (y > 0) & (y < 1), (x > 0) & (x < 1)
    u = answer.sampler("u", np.column_stack([np.full(len(y), 0.5), y]))
    v = answer.sampler("v", np.column_stack([x, np.full(len(x), 0.5)]))
    line = np.linspace(0.005, 0.995, 397)
    half = np.full(len(line), 0.5)
    lowest = float(answer.sampler("u", np.column_stack([half, line])).min())
    across = answer.sampler("v", np.column_stack([line, half]))
    fem, ghia = (
        "own FEM, +-0.2 % (reference O-5.4)",
        "Ghia, Ghia and Shin, J. Comput. Phys. 48 (1982), from memory",
    )
    near = 0.03 * (x > 0.9) + 0.015 * (x <= 0.9)
    return [
        Check(name, "lowest u on the vertical", low_u, lowest, 0.02, fem),
        Check(name, "highest v on the horizontal", high_v, float(across.max()), 0.02, fem),
        Check(name, "lowest v on the horizontal", low_v, float(across.min()), 0.02, fem),
        Check(
            name, "worst u against the table", 0.0, float(np.abs(u - fem_u)[inner_y].max()), 0.01, fem, True
        ),
        Check(
            name, "worst v against the table", 0.0, float(np.abs(v - fem_v)[inner_x].max()), 0.01, fem, True
        ),
        Check(
            name,
            "worst u against the paper",
            0.0,
            float(np.abs(u - ghia_u)[inner_y].max()),
            0.015,
            ghia,
            True,
        ),
        Check(
            name,
            "worst v against the paper, of its tolerance",
            0.0,
            float((np.abs(v - ghia_v) / near)[inner_x].max()),
            1.0,
            ghia,
            True,
        ),
    ]


REATTACHMENT = {100.0: 1.610, 200.0: 2.665, 400.0: 4.312}
"""Lengths of O-5.6 by the Reynolds number."""


def step(numbers: tuple[float, ...] = (100.0,)) -> list[Check]:
    """O-5.6: reattachment behind a full-height step."""
    corners = [["0 m", "0 m"], ["30 m", "0 m"], ["30 m", "1 m"], ["0 m", "1 m"], ["0 m", "0.5 m"]]
    parts = {"channel": {"kind": "outline", "points": corners}}
    openings = {"in": inflow("channel.side4", "1 m/s"), "out": {**OUT, "edge": "channel.side2"}}
    near = {"near": {"kind": "box", "low": ["0 m", "0 m"], "high": ["7 m", "1 m"], "levels": "1"}}
    checks = []
    for reynolds in numbers:
        expected = REATTACHMENT[reynolds]
        data = document(
            parts, openings, {"cell": "0.05 m", "across": "4", "refine": near}, media=fluid(1.0, 1 / reynolds)
        )
        answer = solved(data)
        source = "own FEM, +-0.5 % (reference O-5.6)"
        place = turning_points(answer, "channel.side1", 0.3)[0]
        checks.append(Check(f"O-5.6 Re {reynolds:.0f}", "reattachment length", expected, place, 0.03, source))
        if reynolds == 400.0:
            above = turning_points(answer, "channel.side3", 2.0)
            checks.append(Check("O-5.6 Re 400", "upper bubble begins", 3.99, above[0], 0.03, source))
            checks.append(Check("O-5.6 Re 400", "upper bubble ends", 5.20, above[1], 0.03, source))
    return checks


def faster() -> list[Check]:
    """O-5.6 at Re 200 and 400."""
    return step((200.0, 400.0))


def junction() -> list[Check]:
    """O-5.12 at Re 10 and 100: flow split of a T-junction with equal outlet pressures."""
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
    checks = []
    for reynolds, share, pressure in ((10.0, 0.5377, 4.370), (100.0, 0.7901, 0.272)):
        answer = solved(
            document(parts, openings, {"cell": "= 1 m / 28", "across": "4"}, media=fluid(1.0, 1 / reynolds))
        )
        got = float(answer.outflow[answer.mesh.faces_of("main.end")].sum())
        name, source = f"O-5.12 Re {reynolds:.0f}", "own FEM, +-0.5 % (reference O-5.12)"
        checks.append(Check(name, "share of the flow in the main", share, got, 0.02, source, True))
        checks.append(
            Check(name, "mean inlet pressure", pressure, mean(answer, "pressure", "main.start"), 0.05, source)
        )
    return checks


def order() -> list[Check]:
    """Order of accuracy on the Kovasznay solution, on uniform, refined and cut grids."""
    from bench.kovasznay import observed_order

    source = "Kovasznay, Proc. Camb. Phil. Soc. 44 (1948), exact solution; wanted at least 1.8"
    checks = []
    for grid in ("uniform", "refined", "cut"):
        got = observed_order(grid)
        checks.append(
            Check(
                f"order, {grid}",
                "order of the velocity error (2 or more counts as 2)",
                2.0,
                min(got, 2.0),
                0.1,
                source,
            )
        )
    return checks


def _doubted(name: str) -> list[Check]:
    from bench import doubt_cases  # states cases of this module otherwise

    return doubt_cases.CASES[name]()


CASES: dict[str, Callable[[], list[Check]]] = {
    "walls": lambda: _doubted("walls"),
    "sampling": lambda: _doubted("sampling"),
    "rooms": lambda: _doubted("rooms"),
    "first-answers": lambda: _doubted("first-answers"),
    "O-1.1": pipe,
    "O-5.1": plates,
    "O-5.1-turned": lambda: plates("30 deg", 0.005),
    "O-5.3": couette,
    "O-5.4": cavity,
    "O-5.4-Re1000": lambda: cavity(1000),
    "O-5.6": step,
    "O-5.6-faster": faster,
    "O-5.12": junction,
    "order": order,
    **body_cases.CASES,
    **medium_cases.CASES,
    **heat_cases.CASES,
    **carried_cases.CASES,
    **time_cases.CASES,
    **quality_cases.CASES,
    **loss_cases.CASES,
    **network_cases.CASES,
    **network_time_cases.CASES,
    **space_cases.CASES,
    **solid_cases.CASES,
    **turbulent_cases.CASES,
    **turbulent_losses.CASES,
    **radiation_cases.CASES,
    **draught_cases.CASES,
    **room_cases.CASES,
}
