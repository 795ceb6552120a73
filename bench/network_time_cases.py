"""Checks of heat in networks, and of networks in time."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.network_bits import RHO, WATER, G, Parts, at_work, marching, pipe, sea
from bench.stating import Check
from mop_lantern.network.waves import WaveEnd, WavePipe, Waves, wave_speed

KELVIN = 273.15


def heat() -> list[Check]:
    """O-3.9, O-3.10, O-3.11, O-3.14: cooling pipe, exchanger, throttling, mixing."""
    return [
        *_cooling_pipe(),
        *_exchanger("counter", 96219.2, 34.028, 43.732),
        *_exchanger("parallel", 78603.6),
        _throttled(),
        _mixed(),
    ]


def _fed(flow: float, temperature: str) -> dict[str, Any]:
    """Give a junction that is fed by so much (L/s) of so warm water."""
    return {"kind": "junction", "feed": f"{flow / RHO!r} m3/s", "temperature": temperature}


def _cooling_pipe() -> list[Check]:
    cold = {"film": "12 W/m2/K", "outside": "15 °C"}
    nodes: dict[str, Any] = {"a": _fed(0.2, "80 °C"), "m": {"kind": "junction"}, "b": sea()}
    half = {"p": pipe("50 m", "42 mm", "0.045 mm", **cold)}
    made = at_work(nodes, {"one": ("a", "m", half), "two": ("m", "b", half)}, thermal=True)
    source = "exponential decay, exact"
    end = made.parts["two.p"]["outlet"] - KELVIN
    middle = made.nodes["m"]["temperature"] - KELVIN
    lost = -made.parts["one.p"]["heat"] - made.parts["two.p"]["heat"]
    return [
        Check("O-3.9", "temperature at the end, °C", 68.7993, end, 0.05, source, True),
        Check("O-3.9", "temperature in the middle, °C", 74.1351, middle, 0.05, source, True),
        Check("O-3.9", "heat lost, W", 9377.2, lost, 2e-3, source),
    ]


def _exchanger(
    arrangement: str, power: float, hot_out: float | None = None, cold_out: float | None = None
) -> list[Check]:
    side = {
        "kind": "exchanger",
        "arrangement": arrangement,
        "ua": "3600 W/K",
        "loss": "1 Pa",
        "rated": "1 L/s",
    }
    nodes = {"h": _fed(0.5, "80 °C"), "h2": sea(), "c": _fed(0.8, "15 °C"), "c2": sea()}
    lines: dict[str, tuple[str, str, Parts]] = {
        "hot": ("h", "h2", {"x": {**side, "partner": "cold.x"}}),
        "cold": ("c", "c2", {"x": {**side, "partner": "hot.x"}}),
    }
    made = at_work(nodes, lines, thermal=True)
    source = "effectiveness, exact"
    passed = made.parts["cold.x"]["heat"]
    checks = [Check("O-3.10", f"heat passed in {arrangement}, W", power, passed, 1e-3, source)]
    for name, wanted in (("hot", hot_out), ("cold", cold_out)):
        got = made.parts[f"{name}.x"]["outlet"] - KELVIN
        if wanted is not None:
            checks.append(Check("O-3.10", f"{name} outlet, °C", wanted, got, 0.04, source, True))
    return checks


def _throttled() -> Check:
    media = {"water": {**WATER["water"], "capacity": "4184 J/kg/K"}}
    valve = {"kind": "valve", "kv": "2 m3/h", "bore": "25 mm"}
    made = at_work({"a": sea("10 bar"), "b": sea()}, {"r": ("a", "b", {"v": valve})}, media, thermal=True)
    rise = made.parts["r.v"]["outlet"] - made.parts["r.v"]["inlet"]
    return Check("O-3.11", "rise over a valve at 10 bar, K", 0.2394, rise, 5e-3, "dp / (rho cp), exact")


def _mixed() -> Check:
    nodes = {"a": _fed(0.3, "60 °C"), "t": {"kind": "junction"}, "out": sea(), "b": _fed(0.5, "15 °C")}
    link = {"p": pipe("0.1 m", "50 mm", "0.045 mm")}
    lines = {"a": ("a", "t", link), "b": ("b", "t", link), "o": ("t", "out", link)}
    got = at_work(nodes, lines, thermal=True).nodes["t"]["temperature"] - KELVIN
    return Check("O-3.14", "mixed temperature, °C", 31.8750, got, 0.01, "heat balance, exact", True)


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
    "heat-network": heat,
    "O-3.7": draining,
    "O-3.12": heating,
    "O-3.13": hammer,
}
