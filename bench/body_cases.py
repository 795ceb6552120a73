"""Check cases of steady flow past bodies, steps, entrances and turning walls."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import OUT, Check, document, fluid, inflow, mean, run, run_case, solved, turning_points
from mop_lantern.judge import FieldResult

FEM = "own FEM (reference {})"


def entrance() -> list[Check]:
    """O-1.10 and O-1.11: how flow from an even inlet develops, and the pressure it costs."""
    checks = []
    for space, name, number, length, rules in (
        ("axis", "pipe", 20.0, 4.0, (1.387, 0.08)),
        ("axis", "pipe", 100.0, 16.0, (5.772, 0.05)),
        ("plane", "channel", 20.0, 4.0, (1.178, 0.08)),
        ("plane", "channel", 100.0, 14.0, (4.542, 0.05)),
    ):
        openings = {
            "in": {"kind": "velocity", "edge": "run.start", "velocity": "1 m/s"},
            "out": {**OUT, "edge": "run.end"},
        }
        # an odd number: a cell lies on the middle
        cell = 1 / 48 if space == "axis" else 1 / 41 if number < 100 else 1 / 61
        grid = {"cell": f"{cell!r} m", "across": "4", "aspect": "2"}
        answer = solved(
            document(run(f"{length} m", "1 m"), openings, grid, media=fluid(1.0, 1 / number), space=space)
        )
        x = np.linspace(0.02, length - 0.05, 1200)
        axis = 1e-3 if space == "axis" else 0.0
        u = answer.sampler("u", np.column_stack([x, np.full(len(x), axis)]))
        full = 2.0 if space == "axis" else 1.5
        at = int(np.argmax(u >= 0.99 * full))
        source = "Durst et al., J. Fluids Eng. 127 (2005), formula from memory; own FEM within 5 %"
        checks.append(
            Check(
                f"O-1.10 {name} Re {number:.0f}",
                "entrance length over width",
                rules[0],
                float(x[at]),
                rules[1],
                source,
            )
        )
        if number == 100.0:
            for place, value in (
                (2.0, 1.752 if space == "axis" else 1.384),
                (5.0, 1.967 if space == "axis" else 1.488),
            ):
                got = float(np.interp(place, x, u))
                checks.append(
                    Check(
                        f"O-1.10 {name} Re 100",
                        f"centre velocity at {place:.0f} widths",
                        value,
                        got,
                        0.015,
                        FEM.format("O-1.10"),
                    )
                )
            checks.append(_entrance_loss(answer, name, length))
    return checks


def _entrance_loss(answer: FieldResult, name: str, length: float) -> Check:
    """O-1.11: the loss over developed friction; the reference gives a range, whose middle and half width
    stand here.
    """
    far = 0.8 * length
    row = np.column_stack([np.full(40, far), np.linspace(0.01, 0.45, 40)])
    there = float(answer.sampler("pressure", row).mean())
    developed = (32 if name == "pipe" else 12) / 100.0 * far
    loss = (mean(answer, "pressure", "run.start") - there - developed) / 0.5
    low, high = (1.4, 1.8) if name == "pipe" else (0.75, 1.0)
    what, source = (
        "entrance loss K, plausible range",
        "Chen 1973, from memory; plausibility only (reference O-1.11)",
    )
    return Check(f"O-1.11 {name}", what, (low + high) / 2, loss, (high - low) / 2, source, True)


def armaly() -> list[Check]:
    """O-5.7: step behind an inlet channel, expansion 1:1.942."""
    corners = [
        ["-4 m", "0 m"],
        ["0 m", "0 m"],
        ["0 m", "-0.942 m"],
        ["18 m", "-0.942 m"],
        ["18 m", "1 m"],
        ["-4 m", "1 m"],
    ]
    openings = {"in": inflow("ch.side6", "1 m/s"), "out": {**OUT, "edge": "ch.side4"}}
    near = {"near": {"kind": "box", "low": ["-0.5 m", "-0.942 m"], "high": ["7.5 m", "1 m"], "levels": "1"}}
    grid = {"cell": "0.1 m", "across": "4", "refine": near}
    checks = []
    for number, length in ((100.0, 2.861), (150.0, 3.914), (300.0, 6.655)):
        answer = solved(
            document(
                {"ch": {"kind": "outline", "points": corners}}, openings, grid, media=fluid(1.0, 2 / number)
            )
        )
        got = turning_points(answer, "ch.side3", 0.3)[0] / 0.942
        checks.append(
            Check(
                f"O-5.7 Re {number:.0f}",
                "reattachment over step height",
                length,
                got,
                0.04,
                FEM.format("O-5.7") + ", +-1 %",
            )
        )
    return checks


def cylinder_document(cell: str, levels: int, speed: float, **more: Any) -> dict[str, Any]:
    """State the cylinder in a channel of Schaefer and Turek."""
    corners = [["0 m", "0 m"], ["2.2 m", "0 m"], ["2.2 m", "0.41 m"], ["0 m", "0.41 m"]]
    rod = {"kind": "disc", "centre": ["0.2 m", "0.2 m"], "diameter": "0.1 m"}
    parts = {"ch": {"kind": "outline", "points": corners}, "rod": rod}
    openings = {"in": inflow("ch.side4", f"{speed!r} m/s"), "out": {**OUT, "edge": "ch.side2"}}
    around = {"kind": "edge", "edge": "rod.surface", "levels": str(levels), "distance": "20 mm"}
    grid = {"cell": cell, "across": "4", "refine": {"rod": around, **more.pop("refine", {})}}
    force = {"kind": "force", "edge": "rod.surface"}
    readings = {
        "drag": {**force, "axis": "x"},
        "lift": {**force, "axis": "y"},
        "front": {"kind": "point", "at": ["0.15 m", "0.2 m"]},
        "back": {"kind": "point", "at": ["0.25 m", "0.2 m"]},
    }
    return document(parts, openings, grid, media=fluid(1.0, 1e-3), readings=readings, **more)


def cylinder() -> list[Check]:
    """O-5.8: steady flow past a cylinder at Re 20."""
    wake = {"wake": {"kind": "box", "low": ["0.22 m", "0.14 m"], "high": ["0.4 m", "0.26 m"], "levels": "2"}}
    solving = run_case(cylinder_document("0.0125 m", 3, 0.2, refine=wake))
    assert solving.run is not None
    read = {key: item.value for key, item in solving.run.readings.items()}
    answer = solving.run.answer()
    x = np.linspace(0.2505, 0.4, 800)
    u = answer.sampler("u", np.column_stack([x, np.full(len(x), 0.2)]))
    at = int(np.flatnonzero((u[:-1] < 0) & (u[1:] >= 0))[-1])
    ends = float(x[at] - u[at] * (x[at + 1] - x[at]) / (u[at + 1] - u[at])) - 0.25
    source = "Schaefer and Turek 1996, best-known values, from memory; own FEM agrees"
    return [
        Check("O-5.8", "drag coefficient", 5.57953523, read["drag"] * 2 / (0.04 * 0.1), 0.01, source),
        Check("O-5.8", "lift coefficient", 0.010618948, read["lift"] * 2 / (0.04 * 0.1), 0.002, source, True),
        Check("O-5.8", "pressure front to back", 0.11752017, read["front"] - read["back"], 0.01, source),
        Check(
            "O-5.8",
            "length of recirculation",
            0.0847,
            ends,
            0.03,
            "Schaefer and Turek 1996, middle of the interval, from memory",
        ),
    ]


def expansion() -> list[Check]:
    """O-5.11: symmetric plane expansion 1:2, half model."""
    corners = [
        ["-2 m", "0 m"],
        ["10 m", "0 m"],
        ["10 m", "1 m"],
        ["0 m", "1 m"],
        ["0 m", "0.5 m"],
        ["-2 m", "0.5 m"],
    ]
    parts = {"half": {"kind": "outline", "points": corners}}
    feed = {"kind": "velocity_profile", "edge": "half.side6", "velocity": "= 1.5 m/s * (1 - (y / 0.5 m)**2)"}
    openings = {"in": feed, "out": {**OUT, "edge": "half.side2"}}
    near = {"near": {"kind": "box", "low": ["-0.5 m", "0 m"], "high": ["3 m", "1 m"], "levels": "1"}}
    grid = {"cell": "0.05 m", "across": "4", "refine": near}
    walls = {"middle": {"kind": "symmetry", "edge": "half.side1"}}
    checks = []
    for number, eddy, rise in ((10.0, 0.519, 0.2346), (20.0, 0.803, 0.3608), (40.0, 1.425, 0.4073)):
        answer = solved(document(parts, openings, grid, media=fluid(1.0, 1 / number), walls=walls))
        source = FEM.format("O-5.11") + ", +-1.5 %"
        got = turning_points(answer, "half.side3", 0.02)[-1]
        checks.append(
            Check(f"O-5.11 Re {number:.0f}", "eddy length over inlet width", eddy, got, 0.04, source)
        )
        before, after = (
            float(
                answer.sampler(
                    "pressure", np.column_stack([np.full(30, x), np.linspace(0.01, 0.45, 30)])
                ).mean()
            )
            for x in (-1.0, 6.0)
        )
        # both developed gradients carried to the step: 12 mu U / H2 with H = 1, U = 1 and H = 2, U = 0.5
        step = (after + 12 / number * 0.5 / 4 * 6.0) - (before - 12 / number * 1.0)
        checks.append(Check(f"O-5.11 Re {number:.0f}", "pressure rise over rho U2", rise, step, 0.04, source))
    return checks


def turning() -> list[Check]:
    """O-11.4: concentric cylinders, parallel discs and the free rotating disc."""
    thick = fluid(1000.0, 0.1)
    gap = {"run": {"kind": "straight", "start": ["0 mm", "55 mm"], "length": "20 mm", "width": "10 mm"}}
    ends = {"a": {"kind": "symmetry", "edge": "run.start"}, "b": {"kind": "symmetry", "edge": "run.end"}}
    walls = {"inner": {"kind": "turning", "edge": "run.right", "rate": "10 rad/s"}, **ends}
    torque = {
        "torque": {"kind": "torque", "edge": "run.right"},
        "outer": {"kind": "torque", "edge": "run.left"},
    }
    solving = run_case(
        document(
            gap,
            {},
            {"cell": "0.5 mm", "across": "4"},
            media=thick,
            walls=walls,
            space="axis",
            readings=torque,
        )
    )
    assert solving.run is not None
    answer, read = solving.run.answer(), solving.run.readings
    w = float(
        np.interp(0.055, *np.array(sorted(zip(answer.mesh.radius, answer.velocity[:, 2], strict=True))).T)
    )
    exact = "Taylor-Couette, exact"
    checks = [
        Check(
            "O-11.4 cylinders",
            "torque on the inner one, N m/m",
            0.102816,
            abs(read["torque"].value) / 0.02,
            0.01,
            exact,
        ),
        Check(
            "O-11.4 cylinders",
            "torque on the outer one, N m/m",
            0.102816,
            abs(read["outer"].value) / 0.02,
            0.01,
            exact,
        ),
        Check("O-11.4 cylinders", "velocity at r = 55 mm, m/s", 0.23760, abs(w), 0.01, exact),
    ]
    slot = {"run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "1 mm", "width": "100 mm"}}
    walls = {
        "disc": {"kind": "turning", "edge": "run.start", "rate": "5 rad/s"},
        "rim": {"kind": "symmetry", "edge": "run.left"},
    }
    torque = {"torque": {"kind": "torque", "edge": "run.start"}}
    grid = {"cell": "0.5 mm", "across": "1", "aspect": "0.1"}
    solving = run_case(document(slot, {}, grid, media=thick, walls=walls, space="axis", readings=torque))
    assert solving.run is not None
    got = abs(solving.run.readings["torque"].value)
    checks.append(
        Check("O-11.4 discs", "torque, N m", 4.90874e-3, got, 0.01, "parallel discs in creeping flow, exact")
    )
    return checks + _free_disc()


def _free_disc() -> list[Check]:
    room = {"run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "6 mm", "width": "200 mm"}}
    openings = {"above": {**OUT, "edge": "run.end"}, "rim": {**OUT, "edge": "run.left"}}
    walls = {"disc": {"kind": "turning", "edge": "run.start", "rate": "20 rad/s"}}
    torque = {"torque": {"kind": "torque", "edge": "run.start"}}
    grid = {"cell": "1.5 mm", "across": "1", "aspect": "0.06", "grading_x": "start", "ratio": "8"}
    data = document(
        room,
        openings,
        grid,
        media=fluid(1000.0, 1e-3),
        walls=walls,
        space="axis",
        readings=torque,
        solver={"residual": "1e-6"},
    )
    solving = run_case(data)
    assert solving.run is not None
    got = abs(solving.run.readings["torque"].value)
    return [
        Check(
            "O-11.4 free disc",
            "torque of one side, N m",
            8.63801e-3,
            got,
            0.03,
            "von Karman's similarity solution, own integration",
        )
    ]


def solid_body() -> list[Check]:
    """O-11.1: a closed cup that turns with its fluid."""
    cup = {"run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "30 mm", "width": "300 mm"}}
    walls = {
        key: {"kind": "turning", "edge": f"run.{edge}", "rate": "1450 rpm"}
        for key, edge in (("a", "start"), ("b", "end"), ("rim", "left"))
    }
    readings = {
        "rim": {"kind": "edge_value", "edge": "run.left", "quantity": "pressure", "measure": "mean"},
        "middle": {"kind": "point", "at": ["15 mm", "0 mm"], "quantity": "pressure"},
        "half": {"kind": "point", "at": ["15 mm", "75 mm"], "quantity": "w"},
    }
    data = document(
        cup,
        {},
        {"cell": "5 mm", "across": "1"},
        media=fluid(998.2, 10.0),
        walls=walls,
        space="axis",
        readings=readings,
    )
    solving = run_case(data)
    assert solving.run is not None
    read = solving.run.readings
    rise = read["rim"].value - read["middle"].value
    return [
        Check(
            "O-11.1",
            "pressure from the middle to the rim, kPa",
            258.919,
            rise / 1e3,
            0.01,
            "rho w2 R2 / 2, exact",
        ),
        Check(
            "O-11.1",
            "swirl velocity at half the radius, m/s",
            11.388,
            abs(read["half"].value),
            0.01,
            "w r, exact",
        ),
    ]


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-1.10": entrance,
    "O-5.7": armaly,
    "O-5.8": cylinder,
    "O-5.11": expansion,
    "O-11.1": solid_body,
    "O-11.4": turning,
}
