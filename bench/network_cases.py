"""Checks of networks that hang together: loops, trees, parallel lines, pumps."""

from __future__ import annotations

import csv
from collections.abc import Callable
from typing import Any

from bench.network_bits import AIR, RHO, G, Parts, at_work, pipe, sea
from bench.stating import TABLES, Check
from mop_lantern.judge import NetworkResult


def loop() -> list[Check]:
    """O-3.1: the looped water network."""
    rows = list(csv.DictReader((TABLES / "looped-water-pipes.csv").open()))
    heads = {row["node"]: row for row in csv.DictReader((TABLES / "looped-water-nodes.csv").open())}
    nodes = {
        name: sea("0 Pa", level=f"{row['head_m']} m")
        if row["type"] != "junction"
        else {"kind": "junction", "take": f"{row['demand_L/s']} L/s"}
        for name, row in heads.items()
    }
    lines = {
        row["pipe"]: (
            row["from"],
            row["to"],
            {"p": pipe(f"{row['L_m']} m", f"{row['D_m']} m", f"{row['eps_mm']} mm")},
        )
        for row in rows
    }
    made = at_work(nodes, lines)
    source = "SciPy root on the same equations (reference)"
    checks = [
        Check(
            "O-3.1",
            f"flow of {row['pipe']}, L/s",
            float(row["Q_L/s"]),
            1e3 * made.lines[row["pipe"]]["volume_flow"],
            0.05,
            source,
            True,
        )
        for row in rows
    ]
    checks += [
        Check(
            "O-3.1", f"head of {name}, m", float(row["head_m"]), made.nodes[name]["head"], 0.02, source, True
        )
        for name, row in heads.items()
    ]
    return checks


def tree() -> list[Check]:
    """O-3.2: the duct tree with its fan."""
    rows = list(csv.DictReader((TABLES / "duct-tree.csv").open()))
    names = {name for row in rows for name in (row["from"], row["to"])}
    nodes: dict[str, Any] = {name: sea() if name.startswith("r") else {"kind": "junction"} for name in names}
    nodes["air"] = sea()
    points = [[f"{q} m3/s", f"{250 - 180 * q**2!r} Pa"] for q in (0.0, 0.5, 1.0)]
    lines: dict[str, tuple[str, str, Parts]] = {
        "fan": ("air", "F", {"f": {"kind": "fan", "curve": points, "density": "1.204 kg/m3"}})
    }
    for row in rows:
        loss = {"kind": "loss", "k": row["sum_K"], "bore": f"{row['D_m']} m"}
        duct = {"kind": "duct", "length": f"{row['L_m']} m", "width": f"{row['D_m']} m", "rough": "0.09 mm"}
        lines[row["segment"]] = (row["from"], row["to"], {"d": duct, "k": loss})
    made = at_work(nodes, lines, AIR)
    source = "SciPy root on the same equations (reference)"
    checks = [
        Check(
            "O-3.2",
            f"flow of {row['segment']}, m3/h",
            float(row["Q_m3/h"]),
            3600 * made.lines[row["segment"]]["volume_flow"],
            5e-3,
            source,
        )
        for row in rows
    ]
    for name, expected in (("F", 147.08927), ("A", 126.48673), ("B", 105.42755), ("C", 82.40838)):
        checks.append(
            Check(
                "O-3.2", f"total pressure of {name}, Pa", expected, made.nodes[name]["pressure"], 0.01, source
            )
        )
    return checks


def parallels() -> list[Check]:
    """O-3.3, O-3.4, O-3.5: pipes side by side, three reservoirs."""
    media = {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1.02 mPa s"}}
    sizes = {
        "a": ("100 m", "8 cm", "0.24 mm"),
        "b": ("150 m", "6 cm", "0.12 mm"),
        "c": ("80 m", "4 cm", "0.20 mm"),
    }
    nodes = {"up": sea("150 kPa", z="5 m"), "down": sea()}
    made = at_work(nodes, {key: ("up", "down", {"p": pipe(*size)}) for key, size in sizes.items()}, media)
    checks = [
        Check(
            "O-3.3",
            f"flow of {key}, m3/h",
            expected,
            3600 * made.lines[key]["volume_flow"],
            5e-3,
            "White, Fluid Mechanics, worked example; confirmed",
        )
        for key, expected in (("a", 62.5), ("b", 25.9), ("c", 11.4))
    ]
    sides = {
        "a": ("60 m", "50 mm", "2", 3.60804),
        "b": ("80 m", "65 mm", "5", 5.88266),
        "c": ("40 m", "40 mm", "1", 2.50929),
    }
    lines = {
        key: ("up", "down", {"p": pipe(length, bore, "0.045 mm"), "k": {"kind": "loss", "k": k}})
        for key, (length, bore, k, _) in sides.items()
    }
    made = at_work({"up": {"kind": "junction", "feed": "12 L/s"}, "down": sea()}, lines)
    source = "own iteration (reference)"
    checks += [
        Check("O-3.4", f"flow of {key}, L/s", row[3], 1e3 * made.lines[key]["volume_flow"], 3e-3, source)
        for key, row in sides.items()
    ]
    checks.append(Check("O-3.4", "pressure, Pa", 47924.4, made.nodes["up"]["pressure"], 3e-3, source))
    nodes = {key: sea("0 Pa", level=f"{level} m") for key, level in (("a", 50), ("b", 35), ("c", 20))} | {
        "j": {"kind": "junction"}
    }
    sizes = {
        "a": ("500 m", "200 mm", "0.1 mm"),
        "b": ("400 m", "150 mm", "0.1 mm"),
        "c": ("600 m", "150 mm", "0.1 mm"),
    }
    made = at_work(nodes, {key: (key, "j", {"p": pipe(*size)}) for key, size in sizes.items()})
    for key, expected in (("a", 65.1620), ("b", -24.7503), ("c", -40.4117)):
        checks.append(
            Check(
                "O-3.5", f"flow from {key}, L/s", expected, 1e3 * made.lines[key]["volume_flow"], 5e-3, source
            )
        )
    return [
        *checks,
        Check("O-3.5", "head of the junction, m", 40.21621, made.nodes["j"]["head"], 5e-3, source),
    ]


def pumps() -> list[Check]:
    """O-3.6, O-3.8: pumps alone, side by side, in a row, faster; suction head."""
    points = [[f"{q} L/s", f"{32 - 0.08 * q * q!r} m"] for q in (0.0, 8.0, 16.0)]
    pump = {"kind": "pump", "curve": points, "bore": "100 mm"}
    load = {
        "kind": "grille",
        "loss": f"{0.06 * 100 * RHO * G!r} Pa",
        "rated": "10 L/s",
    }  # 0.06 m a (L/s)2, by density over 1.2
    load["loss"] = f"{0.06 * 100 * RHO * G * 1.2 / RHO!r} Pa"
    nodes = {"low": sea(), "mid": {"kind": "junction"}, "high": sea("0 Pa", level="10 m")}
    out: tuple[str, str, Parts] = ("mid", "high", {"load": load})
    source = "exact, two parabolas"
    checks = []

    def duty(name: str, machines: dict[str, Parts], flow: float, head: float) -> NetworkResult:
        made = at_work(nodes, {**{key: ("low", "mid", parts) for key, parts in machines.items()}, "out": out})
        checks.append(
            Check("O-3.6", f"{name}: flow, L/s", flow, 1e3 * made.lines["out"]["volume_flow"], 1e-3, source)
        )
        checks.append(Check("O-3.6", f"{name}: head, m", head, made.nodes["mid"]["head"], 1e-3, source))
        return made

    one = duty("one pump", {"a": {"p": {**pump, "efficiency": "100 %"}}}, 12.5357, 19.4286)
    checks.append(Check("O-3.6", "power of one pump, W", 2384.1, one.parts["a.p"]["power"], 1e-3, source))
    duty("two side by side", {"a": {"p": pump}, "b": {"p": pump}}, 16.5831, 26.5)
    duty("two in a row", {"a": {"p": pump, "q": pump}}, 15.6670, 24.7273)
    duty("one at 1750/1450", {"a": {"p": {**pump, "speed": f"{1750 / 1450!r}"}}}, 16.1712, 25.6905)
    hot = {"water": {"kind": "water", "temperature": "60 °C"}}
    nodes = {
        "tank": sea(),
        "in": {"kind": "junction", "z": "3 m"},
        "out": {"kind": "junction", "z": "3 m", "take": "8 L/s"},
    }
    suction = {"p": pipe("6 m", "80 mm", "0.045 mm"), "k": {"kind": "loss", "k": "2.5"}}
    made = at_work(
        nodes,
        {"suction": ("tank", "in", suction), "pump": ("in", "out", {"p": {**pump, "bore": "80 mm"}})},
        hot,
    )
    return [
        *checks,
        Check(
            "O-3.8",
            "suction head available, m",
            4.9362,
            made.parts["pump.p"]["npsh"],
            0.05,
            "CoolProp vapour pressure (reference)",
            True,
        ),
    ]


def affinity() -> list[Check]:
    """O-11.3: one pump at two speeds against a system without height: flow, head and power follow the speed,
    its square and its cube.
    """
    points = [[f"{q} L/s", f"{32 - 0.08 * q * q!r} m"] for q in (0.0, 8.0, 16.0)]
    pump = {"kind": "pump", "curve": points, "bore": "100 mm", "efficiency": "70 %"}
    nodes = {"low": sea(), "mid": {"kind": "junction"}, "high": sea()}
    load = {"load": {"kind": "grille", "loss": "60 kPa", "rated": "10 L/s"}}
    ratio = 1750 / 1450
    slow, fast = (
        at_work(
            nodes, {"a": ("low", "mid", {"p": {**pump, "speed": f"{speed!r}"}}), "out": ("mid", "high", load)}
        )
        for speed in (1.0, ratio)
    )
    figures = (
        ("flow", lambda made: made.lines["out"]["volume_flow"]),
        ("head", lambda made: made.nodes["mid"]["head"]),
        ("power", lambda made: made.parts["a.p"]["power"]),
    )
    return [
        Check(
            "O-11.3",
            f"{name} at 1750 over 1450 rpm",
            expected,
            value(fast) / value(slow),
            1e-3,
            "affinity laws, exact",
        )
        for (name, value), expected in zip(figures, (1.20690, 1.45660, 1.75796), strict=True)
    ]


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-3.1": loop,
    "O-3.2": tree,
    "parallel": parallels,
    "pumps": pumps,
    "O-11.3": affinity,
}
