"""Check cases of networks: pipe friction, fittings, loops, trees, pumps, heat."""

from __future__ import annotations

import csv
from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import TABLES, Check
from mop_lantern.case import parse_case, settle_any
from mop_lantern.case.network_review import SettledNetwork, working_of
from mop_lantern.judge import NetworkResult, network_trust
from mop_lantern.laws import fittings, friction, sections
from mop_lantern.network.sizing import diameter_by_friction
from mop_lantern.network.transient import March
from mop_lantern.network.waves import WaveEnd, WavePipe, Waves, wave_speed

WATER = {
    "water": {
        "kind": "constant",
        "density": "998.2 kg/m3",
        "viscosity": "1.0016 mPa s",
        "capacity": "4186 J/kg/K",
    }
}
AIR = {
    "air": {
        "kind": "constant",
        "name": "air at 20 °C",
        "density": "1.204 kg/m3",
        "viscosity": "0.01825 mPa s",
        "capacity": "1006 J/kg/K",
    }
}
RHO, G = 998.2, 9.80665
Parts = dict[str, dict[str, Any]]


def sea(pressure: str = "0 Pa", **more: Any) -> dict[str, Any]:
    """Give a reservoir."""
    return {"kind": "reservoir", "over": pressure, **more}


def pipe(length: str, bore: str, rough: str, **more: Any) -> dict[str, Any]:
    """Give a pipe by its bore and roughness."""
    return {"kind": "pipe", "length": length, "bore": bore, "rough": rough, **more}


def at_work(
    nodes: dict[str, Any], runs: dict[str, tuple[str, str, Parts]], media: dict[str, Any] = WATER, **more: Any
) -> NetworkResult:
    """Solve a network case; raise when its trust list fails."""
    network = {
        "nodes": nodes,
        "runs": {key: {"start": a, "end": b, "parts": parts} for key, (a, b, parts) in runs.items()},
        **more,
    }
    settled = settle_any(parse_case({"title": "check", "media": media, "network": network}))
    assert isinstance(settled, SettledNetwork)
    working = working_of(settled.operate(), settled)
    failed = [item for item in network_trust(working) if item.verdict == "fails"]
    if failed:
        raise AssertionError(failed)
    return working


def pushed(parts: Parts, flow: str, media: dict[str, Any] = WATER) -> float:
    """Give the loss of a run at a given flow, Pa."""
    nodes = {"a": {"kind": "junction", "feed": flow}, "b": sea()}
    return at_work(nodes, {"r": ("a", "b", parts)}, media).runs["r"]["loss"]


def through(parts: Parts, pressure: str, media: dict[str, Any] = WATER, **drop: Any) -> float:
    """Give the flow a pressure drives through a run, m3/s."""
    return at_work({"a": sea(pressure, **drop), "b": sea()}, {"r": ("a", "b", parts)}, media).runs["r"][
        "volume_flow"
    ]


def pipes() -> list[Check]:
    """O-1.1, O-1.2, O-1.5, O-1.6: straight pipes."""
    exact, own = "Hagen-Poiseuille, exact", "Darcy-Weisbach with Colebrook, own iteration (reference)"
    air = pushed(
        {"d": {"kind": "duct", "length": "1 m", "width": "250 mm", "rough": "0.09 mm"}}, "0.2 m3/s", AIR
    )
    return [
        Check(
            "O-1.1 network",
            "laminar loss, Pa",
            64.32074,
            pushed({"p": pipe("2 m", "10 mm", "0 mm")}, "7.8807e-6 m3/s"),
            1e-4,
            exact,
        ),
        Check(
            "O-1.2",
            "turbulent loss, Pa",
            21106.04,
            pushed({"p": pipe("30 m", "52.54 mm", "0.045 mm")}, "4 L/s"),
            1e-3,
            own,
        ),
        Check(
            "O-1.5",
            "flow at 20 kPa, m3/h",
            56.7933,
            3600 * through({"p": pipe("60 m", "102.3 mm", "0.045 mm")}, "20 kPa"),
            1e-3,
            own,
        ),
        Check("O-1.6", "loss of a round duct, Pa/m", 0.8397, air, 5e-3, own),
    ]


def friction_tables() -> list[Check]:
    """O-1.3, O-1.4, O-1.7, O-1.8: friction factors."""
    checks = []
    for reynolds, rough, expected in (
        (5e3, 0, 0.037393),
        (1e4, 1e-2, 0.043127),
        (1e5, 1e-4, 0.018514),
        (1e6, 1e-3, 0.019943),
        (1e7, 1e-5, 0.008996),
    ):
        got = float(friction.colebrook(reynolds, rough))
        checks.append(
            Check(
                "O-1.3",
                f"f at Re {reynolds:.0e}, roughness {rough:g}",
                expected,
                got,
                1e-5,
                "Colebrook, iterated (reference)",
                True,
            )
        )
    foot = 0.3048
    media = {
        "water": {
            "kind": "constant",
            "density": "998.2 kg/m3",
            "viscosity": f"{998.2 * 3 * foot**2 / 270000!r} Pa s",
        }
    }
    flow = np.pi / 4 * (0.5 * foot) ** 2 * 6 * foot
    parts = {"p": pipe("200 ft", "0.5 ft", "0.0004 ft")}
    head = pushed(parts, f"{float(flow)!r} m3/s", media) / RHO / G / foot
    checks.append(
        Check(
            "O-1.4",
            "head lost, ft",
            4.5,
            head,
            0.03,
            "White, Fluid Mechanics, worked example (chart reading)",
        )
    )
    f, _ = friction.darcy(np.array([2000.0, 4000.0]), 0.0)
    checks.append(Check("O-1.7", "f at Re 2000", 64 / 2000, float(f[0]), 5e-3, "Hagen-Poiseuille"))
    checks.append(
        Check("O-1.7", "f at Re 4000", float(friction.colebrook(4000.0, 0.0)), float(f[1]), 0.03, "Colebrook")
    )
    for key, expected in (
        ("steel", 0.045),
        ("asphalted", 0.12),
        ("galvanised", 0.15),
        ("cast_iron", 0.26),
        ("smooth", 0.0015),
    ):
        checks.append(
            Check(
                "O-1.8",
                f"roughness of {sections.ROUGHNESS[key][0]}, mm",
                expected,
                1e3 * sections.ROUGHNESS[key][1],
                0.1,
                "Moody, Trans. ASME 66 (1944)",
            )
        )
    return checks


def ducts() -> list[Check]:
    """O-1.9, O-1.12, O-2.10: rectangular ducts."""
    checks = []
    for ratio, expected in ((1.0, 14.227), (0.5, 15.548), (0.25, 18.233), (0.1, 21.169), (0.0, 24.0)):
        got = float(sections.rectangle_product(ratio)) / 4
        checks.append(
            Check(
                "O-1.9",
                f"Fanning f Re at a ratio of {ratio:g}",
                expected,
                got,
                5e-3,
                "Shah and London (1978)",
            )
        )
    small = {
        "d": {"kind": "duct", "length": "1 m", "section": "rectangular", "width": "20 mm", "height": "10 mm"}
    }
    checks.append(
        Check(
            "O-1.9",
            "worked duct, Pa",
            1.5961,
            pushed(small, "1e-4 m3/s", AIR),
            5e-3,
            "Shah and London (1978)",
        )
    )
    large = {
        "d": {
            "kind": "duct",
            "length": "20 m",
            "section": "rectangular",
            "width": "500 mm",
            "height": "300 mm",
        }
    }
    checks.append(
        Check(
            "O-1.12",
            "turbulent duct, Pa",
            14.899,
            pushed(large, "0.75 m3/s", AIR),
            0.03,
            "Colebrook on the hydraulic diameter",
        )
    )
    for a, b, expected in ((400, 200, 304.7), (500, 300, 420.0), (250, 150, 210.0)):
        got = float(sections.round_equivalent(a, b))
        checks.append(
            Check("O-2.10", f"equivalent of {a} x {b}, mm", expected, got, 0.5, "Huebscher (1948)", True)
        )
    got = diameter_by_friction(0.5, 0.8, 9e-5, 1.204, 1.825e-5)
    checks.append(
        Check("O-2.10", "size at 0.8 Pa/m, mm", 356.0, 1e3 * got, 0.01, "Colebrook, solved for the diameter")
    )
    checks.append(
        Check(
            "O-2.10",
            "velocity in it, m/s",
            5.022,
            0.5 / (np.pi / 4 * got**2),
            0.01,
            "Colebrook, solved for the diameter",
        )
    )
    return checks


def single_losses() -> list[Check]:
    """O-2.1 to O-2.4, O-2.6 to O-2.9: fittings and valves."""
    widening = {"w": {"kind": "reducer", "bore": "50 mm", "to": "70.7107 mm"}}
    narrowing = {"n": {"kind": "reducer", "bore": "70.7107 mm", "to": "50 mm"}}
    velocity = 0.5 * RHO * (4e-3 / (np.pi / 4 * 0.05**2)) ** 2
    checks = [
        Check(
            "O-2.1", "sudden widening, Pa", 517.83, pushed(widening, "4 L/s"), 1e-3, "Borda and Carnot, exact"
        ),
        Check(
            "O-2.2",
            "K of a sudden narrowing",
            0.29,
            pushed(narrowing, "4 L/s") / velocity,
            0.07,
            "accepted range 0.22 to 0.36 (reference)",
            True,
        ),
    ]
    area = np.pi / 4 * 0.1**2
    steel = 0.25 / np.log10(4.5e-5 / 0.1 / 3.7) ** 2
    singles = {
        "square entry": (0.5, float(fittings.rounded_entry(0.0))),
        "mitre of 90 deg": (1.2, float(fittings.mitre(np.pi / 2))),
        "bend of 1.5 bores": (0.24, float(fittings.smooth_bend(np.pi / 2, 1.5, steel))),
        "bend of 1 bore": (0.31, float(fittings.smooth_bend(np.pi / 2, 1.0, steel))),
        "well-rounded entry": (0.04, float(fittings.rounded_entry(0.3))),
    }
    checks += [
        Check("O-2.3", f"K of a {name}", expected, got, 0.2, "handbook values (reference), 20 %")
        for name, (expected, got) in singles.items()
    ]
    for size, expected in ((0.0525, 0.019), (0.1023, 0.0163)):
        loss = pushed({"l": {"kind": "loss", "k": "0", "lengths": "1", "bore": f"{size} m"}}, "10 L/s")
        got = loss / (0.5 * RHO * (0.01 / (np.pi / 4 * size**2)) ** 2)
        checks.append(
            Check(
                "O-2.4",
                f"f of rough flow in {1e3 * size:g} mm",
                expected,
                got,
                0.03,
                "Crane, Technical Paper 410",
            )
        )
    valve = {"v": {"kind": "valve", "kv": "25 m3/h", "bore": "50 mm"}}
    checks.append(
        Check("O-2.6", "loss of a valve of Kv 25, Pa", 51746.7, pushed(valve, "18 m3/h"), 3e-3, "IEC 60534-1")
    )
    for lift, expected in ((0.25, 0.0751), (0.5, 0.1980), (0.75, 0.4978)):
        rest = {"kind": "valve", "kv": "25 m3/h", "bore": "50 mm"}
        flows = [through({"v": {**rest, "opening": f"{at}"}, "rest": rest}, "1 bar") for at in (lift, 1.0)]
        checks.append(
            Check(
                "O-2.6",
                f"installed share at {lift:.0%}, authority 0.5",
                expected,
                flows[0] / flows[1],
                2e-3,
                "exact",
            )
        )
    cone = {"kind": "reducer", "form": "cone", "angle": "20 deg"}
    fast = 0.5 * RHO * 9.0
    wide = pushed({"c": {**cone, "bore": "100 mm", "to": "150 mm"}}, f"{3 * area!r} m3/s") / fast
    narrow = pushed({"c": {**cone, "bore": "150 mm", "to": "100 mm"}}, f"{3 * area!r} m3/s") / fast
    checks += [
        Check(
            "O-2.7", "K of a diffuser of 20 deg", 0.1393, wide, 0.3, "Crane (reference), 30 % between methods"
        ),
        Check("O-2.7", "K of the reducer", 0.0772, narrow, 0.3, "Crane (reference), 30 % between methods"),
        Check(
            "O-2.8",
            "K straight, joining tee, 30 % from the side",
            0.375,
            float(fittings.joining_straight(0.3)),
            0.25,
            "Idelchik (reference)",
        ),
        Check(
            "O-2.8",
            "K straight, joining tee, half from the side",
            0.525,
            float(fittings.joining_straight(0.5)),
            0.25,
            "Idelchik (reference)",
        ),
    ]
    chain = {"l": {"kind": "loss", "k": "3.36", "bore": "52.5 mm"}, "p": pipe("40 m", "52.5 mm", "0.045 mm")}
    flow = through(chain, "0 Pa", level="5 m")
    return [
        *checks,
        Check(
            "O-2.9", "reservoir to reservoir, m3/h", 17.4198, 3600 * flow, 2e-3, "own iteration (reference)"
        ),
    ]


def plates() -> list[Check]:
    """O-2.5: orifice plates in a run."""
    checks = []
    for case, bore, hole, taps, mass, loss in (
        ("a", 0.1, 0.06, "corner", 13.0338, 15694),
        ("b", 0.2, 0.1, "flange", 21.9467, 7324),
    ):
        parts = {"o": {"kind": "orifice", "bore": f"{bore} m", "hole": f"{hole} m", "taps": taps}}
        got = pushed(parts, f"{mass / RHO!r} m3/s")
        checks.append(Check(f"O-2.5 {case}", "permanent loss, Pa", loss, got, 0.01, "ISO 5167-2:2003"))
    return checks


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
    runs = {
        row["pipe"]: (
            row["from"],
            row["to"],
            {"p": pipe(f"{row['L_m']} m", f"{row['D_m']} m", f"{row['eps_mm']} mm")},
        )
        for row in rows
    }
    made = at_work(nodes, runs)
    source = "SciPy root on the same equations (reference)"
    checks = [
        Check(
            "O-3.1",
            f"flow of {row['pipe']}, L/s",
            float(row["Q_L/s"]),
            1e3 * made.runs[row["pipe"]]["volume_flow"],
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
    runs: dict[str, tuple[str, str, Parts]] = {
        "fan": ("air", "F", {"f": {"kind": "fan", "curve": points, "density": "1.204 kg/m3"}})
    }
    for row in rows:
        loss = {"kind": "loss", "k": row["sum_K"], "bore": f"{row['D_m']} m"}
        duct = {"kind": "duct", "length": f"{row['L_m']} m", "width": f"{row['D_m']} m", "rough": "0.09 mm"}
        runs[row["segment"]] = (row["from"], row["to"], {"d": duct, "k": loss})
    made = at_work(nodes, runs, AIR)
    source = "SciPy root on the same equations (reference)"
    checks = [
        Check(
            "O-3.2",
            f"flow of {row['segment']}, m3/h",
            float(row["Q_m3/h"]),
            3600 * made.runs[row["segment"]]["volume_flow"],
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
            3600 * made.runs[key]["volume_flow"],
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
    runs = {
        key: ("up", "down", {"p": pipe(length, bore, "0.045 mm"), "k": {"kind": "loss", "k": k}})
        for key, (length, bore, k, _) in sides.items()
    }
    made = at_work({"up": {"kind": "junction", "feed": "12 L/s"}, "down": sea()}, runs)
    source = "own iteration (reference)"
    checks += [
        Check("O-3.4", f"flow of {key}, L/s", row[3], 1e3 * made.runs[key]["volume_flow"], 3e-3, source)
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
                "O-3.5", f"flow from {key}, L/s", expected, 1e3 * made.runs[key]["volume_flow"], 5e-3, source
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
            Check("O-3.6", f"{name}: flow, L/s", flow, 1e3 * made.runs["out"]["volume_flow"], 1e-3, source)
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
        ("flow", lambda made: made.runs["out"]["volume_flow"]),
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


def heat() -> list[Check]:
    """O-3.9, O-3.10, O-3.11, O-3.14: cooling pipe, exchanger, throttling, mixing."""
    kelvin = 273.15
    cold = {"film": "12 W/m2/K", "outside": "15 °C"}
    nodes: dict[str, Any] = {
        "a": {"kind": "junction", "feed": f"{0.2 / RHO!r} m3/s", "temperature": "80 °C"},
        "m": {"kind": "junction"},
        "b": sea(),
    }
    half = {"p": pipe("50 m", "42 mm", "0.045 mm", **cold)}
    made = at_work(nodes, {"one": ("a", "m", half), "two": ("m", "b", half)}, thermal=True)
    source = "exponential decay, exact"
    checks = [
        Check(
            "O-3.9",
            "temperature at the end, °C",
            68.7993,
            made.parts["two.p"]["outlet"] - kelvin,
            0.05,
            source,
            True,
        ),
        Check(
            "O-3.9",
            "temperature in the middle, °C",
            74.1351,
            made.nodes["m"]["temperature"] - kelvin,
            0.05,
            source,
            True,
        ),
        Check(
            "O-3.9",
            "heat lost, W",
            9377.2,
            -made.parts["one.p"]["heat"] - made.parts["two.p"]["heat"],
            2e-3,
            source,
        ),
    ]
    for arrangement, power, hot_out, cold_out in (
        ("counter", 96219.2, 34.028, 43.732),
        ("parallel", 78603.6, None, None),
    ):
        side = {
            "kind": "exchanger",
            "arrangement": arrangement,
            "ua": "3600 W/K",
            "loss": "1 Pa",
            "rated": "1 L/s",
        }
        nodes = {
            "h": {"kind": "junction", "feed": f"{0.5 / RHO!r} m3/s", "temperature": "80 °C"},
            "h2": sea(),
            "c": {"kind": "junction", "feed": f"{0.8 / RHO!r} m3/s", "temperature": "15 °C"},
            "c2": sea(),
        }
        runs: dict[str, tuple[str, str, Parts]] = {
            "hot": ("h", "h2", {"x": {**side, "partner": "cold.x"}}),
            "cold": ("c", "c2", {"x": {**side, "partner": "hot.x"}}),
        }
        made = at_work(nodes, runs, thermal=True)
        checks.append(
            Check(
                "O-3.10",
                f"heat passed in {arrangement}, W",
                power,
                made.parts["cold.x"]["heat"],
                1e-3,
                "effectiveness, exact",
            )
        )
        if hot_out is not None and cold_out is not None:
            checks.append(
                Check(
                    "O-3.10",
                    "hot outlet, °C",
                    hot_out,
                    made.parts["hot.x"]["outlet"] - kelvin,
                    0.04,
                    "effectiveness, exact",
                    True,
                )
            )
            checks.append(
                Check(
                    "O-3.10",
                    "cold outlet, °C",
                    cold_out,
                    made.parts["cold.x"]["outlet"] - kelvin,
                    0.04,
                    "effectiveness, exact",
                    True,
                )
            )
    media = {"water": {**WATER["water"], "capacity": "4184 J/kg/K"}}
    made = at_work(
        {"a": sea("10 bar"), "b": sea()},
        {"r": ("a", "b", {"v": {"kind": "valve", "kv": "2 m3/h", "bore": "25 mm"}})},
        media,
        thermal=True,
    )
    rise = made.parts["r.v"]["outlet"] - made.parts["r.v"]["inlet"]
    checks.append(
        Check("O-3.11", "rise over a valve at 10 bar, K", 0.2394, rise, 5e-3, "dp / (rho cp), exact")
    )
    nodes = {
        "a": {"kind": "junction", "feed": f"{0.3 / RHO!r} m3/s", "temperature": "60 °C"},
        "t": {"kind": "junction"},
        "out": sea(),
        "b": {"kind": "junction", "feed": f"{0.5 / RHO!r} m3/s", "temperature": "15 °C"},
    }
    link = {"p": pipe("0.1 m", "50 mm", "0.045 mm")}
    made = at_work(
        nodes, {"a": ("a", "t", link), "b": ("b", "t", link), "o": ("t", "out", link)}, thermal=True
    )
    return [
        *checks,
        Check(
            "O-3.14",
            "mixed temperature, °C",
            31.8750,
            made.nodes["t"]["temperature"] - kelvin,
            0.01,
            "heat balance, exact",
            True,
        ),
    ]


def marching(
    nodes: dict[str, Any], runs: dict[str, tuple[str, str, Parts]], media: dict[str, Any] = WATER, **more: Any
) -> March:
    """Begin to follow a network in time."""
    network = {
        "nodes": nodes,
        "runs": {key: {"start": a, "end": b, "parts": parts} for key, (a, b, parts) in runs.items()},
        **more,
    }
    settled = settle_any(parse_case({"title": "check", "media": media, "network": network}))
    assert isinstance(settled, SettledNetwork)
    return March(
        settled.numbers.network, settled.fluids, settled.numbers.network.outside, settled.case.network.thermal
    )


def draining() -> list[Check]:
    """O-3.7: a tank through an orifice, and through a pipe."""
    checks = []
    ways: dict[str, tuple[str, Parts, float, float, float, float]] = {
        "a": (
            f"{np.pi / 4!r} m2",
            {"k": {"kind": "loss", "k": f"{1 / 0.61**2!r}", "bore": "50 mm"}},
            209.397,
            7.5015,
            0.5,
            5e-3,
        ),
        "b": (
            "2 m2",
            {"k": {"kind": "loss", "k": "1.5"}, "p": pipe("10 m", "40 mm", "0.045 mm")},
            1380.7,
            2.9366,
            4.0,
            0.01,
        ),
    }
    for case, (area, parts, seconds, first, step, tolerance) in ways.items():
        march = marching(
            {"t": {"kind": "tank", "area": area, "level": "2 m", "height": "3 m"}, "b": sea()},
            {"r": ("t", "b", parts)},
        )
        flow = float(march.step(1e-6).flow[0])
        checks.append(
            Check(
                f"O-3.7 {case}",
                "flow at the start, L/s",
                first,
                1e3 * flow,
                2e-3,
                "Torricelli; quasi-steady Colebrook",
            )
        )
        before = 2.0
        while march.tanks.level[0] > 0.5:
            before = float(march.tanks.level[0])
            march.step(step)
        after = float(march.tanks.level[0])
        got = march.time - step * (0.5 - after) / (before - after)
        checks.append(
            Check(
                f"O-3.7 {case}",
                "time from 2 m to 0.5 m, s",
                seconds,
                got,
                tolerance,
                "Torricelli; quasi-steady Colebrook",
            )
        )
    return checks


def heating() -> list[Check]:
    """O-3.11 tank, O-3.12: a loop that warms its tank, a thermostat that cycles."""
    media = {"water": {**WATER["water"], "capacity": "4184 J/kg/K"}}
    nodes = {
        "t": {
            "kind": "tank",
            "area": f"{200 / RHO!r} m2",
            "level": "1 m",
            "height": "1.5 m",
            "temperature": "20 °C",
        },
        "j": {"kind": "junction"},
    }
    pump = {"kind": "gear_pump", "flow": "60 L/min", "leak": "0.001", "bore": "25 mm", "efficiency": "100 %"}
    valve = {"kind": "valve", "kv": f"{3.6 / 15**0.5!r} m3/h", "bore": "25 mm"}  # 1 L/s at 15 bar: 1500 W
    march = marching(
        nodes, {"p": ("t", "j", {"p": pump}), "v": ("j", "t", {"v": valve})}, media, thermal=True
    )
    while march.time < 3600:
        march.step(10.0)
    assert march.made is not None
    power = float(march.made.loss.max() * march.made.flow[0])
    rise = float(march.warmth[0]) - 293.15
    checks = [
        Check(
            "O-3.11 tank",
            "temperature after an hour at 1500 W, °C",
            26.4532,
            20 + rise * 1500 / power,
            2e-3,
            "heat balance, exact",
        ),
        Check("O-3.11 tank", "heat left over", 0.0, march.ledger.balance, 1e-9, "the ledger", True),
    ]
    nodes = {
        "t": {
            "kind": "tank",
            "area": f"{100 / RHO!r} m2",
            "level": "1 m",
            "height": "2 m",
            "temperature": "20 °C",
            "film": "10 W/m2/K",
            "surface": "5 m2",
            "outside": "20 °C",
        },
        "j": {"kind": "junction"},
    }
    heater = {
        "kind": "heater",
        "power": "5 kW",
        "on": "58 °C",
        "off": "62 °C",
        "loss": "1 Pa",
        "rated": "1 L/s",
    }
    march = marching(
        nodes,
        {"p": ("t", "j", {"p": {**pump, "bore": "50 mm"}}), "h": ("j", "t", {"h": heater})},
        media,
        thermal=True,
    )
    switched, was = [], False
    while len(switched) < 6:
        march.step(2.0)
        if march.on["h.h"] != was:
            was = march.on["h.h"]
            switched.append(march.time)
    source = "exponential approach, exact"
    spans = np.diff(switched)
    return [
        *checks,
        Check("O-3.12", "first heating, s", 4558.3, float(spans[0]), 0.01, source),
        Check("O-3.12", "time off, s", 837.50, float(spans[3]), 0.01, source),
        Check("O-3.12", "time on, s", 558.07, float(spans[2]), 0.01, source),
    ]


def hammer() -> list[Check]:
    """O-3.13: water hammer of an instant and of a slow closure."""
    speed = wave_speed(2.18e9, RHO, 0.1, 0.005, 200e9)
    flow, head = 1.5 * np.pi / 4 * 0.1**2, 60.0

    def closed_in(seconds: float, until: float) -> tuple[Any, Any]:
        ends = [
            WaveEnd(head=lambda t: head),
            WaveEnd(
                opening=lambda t: max(0.0, 1 - t / seconds) if seconds else 0.0,
                coefficient=flow / np.sqrt(head),
            ),
        ]
        waves = Waves(
            [WavePipe(0, 1, 600.0, 0.1, speed, -1.0)],
            ends,
            0.002,
            RHO,
            1e-3,
            np.array([head, head]),
            np.array([flow]),
        )
        rows = []
        while waves.time < until:
            rows.append((waves.advance()[1], waves.time))
        heads, times = np.array(rows).T
        return heads - head, times

    rise, times = closed_in(0.0, 4.0)
    turns = times[1:][(rise[1:] > 0) != (rise[:-1] > 0)]
    slow, _ = closed_in(10 * 600 / speed, 10.0)
    michaud = 4.010e5 / RHO / G
    return [
        Check("O-3.13", "wave speed, m/s", 1339.05, speed, 1e-3, "Korteweg, Joukowsky"),
        Check("O-3.13", "rise of an instant closure, m", 204.82, float(rise.max()), 0.01, "Joukowsky, exact"),
        Check("O-3.13", "length of the pulse, s", 0.89616, float(turns[0]), 0.01, "2 L / a, exact"),
        Check("O-3.13", "period, s", 1.79232, float(turns[2] - turns[0]), 0.01, "4 L / a, exact"),
        Check(
            "O-3.13",
            "rise of a slow closure over Michaud's bound",
            1.0,
            min(1.0, michaud / float(slow.max())),
            0.01,
            "Michaud, an upper bound",
        ),
    ]


CASES: dict[str, Callable[[], list[Check]]] = {
    "pipes": pipes,
    "friction": friction_tables,
    "ducts": ducts,
    "losses": single_losses,
    "O-2.5": plates,
    "O-3.1": loop,
    "O-3.2": tree,
    "parallel": parallels,
    "pumps": pumps,
    "heat-network": heat,
    "O-11.3": affinity,
    "O-3.7": draining,
    "O-3.12": heating,
    "O-3.13": hammer,
}
