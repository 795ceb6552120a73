"""Checks of air that its own warmth moves between openings to outdoors."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from scipy.optimize import brentq

from bench.stating import Check
from mop_lantern.case import ResolvedCase, apply, parse_case, settle
from mop_lantern.solve import FlowRun, prepare

HEIGHT = 2.0  # m
WIDTH = 0.2  # m
LOSSES = 3.0 + 1.8  # of both openings
HEAT = 200.0  # W over a depth of 1 m
FIRST, LAST = 0.2, 0.4  # m, where it is heated


def chimney(**edits: Any) -> ResolvedCase:
    """A frictionless chimney, heated near its foot, between two open ends."""
    data: dict[str, Any] = {
        "media": {
            "air": {
                "kind": "constant",
                "density": "1.2 kg/m3",
                "viscosity": "18 uPa s",
                "capacity": "1000 J/kg/K",
                "conductivity": "0.02 W/m/K",
                "expansion": "0.0035 1/K",
                "temperature": "5 °C",
            }
        },
        "shape": {
            "space": "plane",
            "depth": "1 m",
            "parts": {
                "stack": {
                    "kind": "straight",
                    "direction": "90 deg",
                    "length": f"{HEIGHT} m",
                    "width": f"{WIDTH} m",
                }
            },
        },
        "field": {
            "physics": {"flow": "laminar", "buoyancy": "boussinesq"},
            "heat": {"solve": True, "start": "5 °C"},
            "start": {"v": "1 m/s"},
            "openings": {
                "foot": {"kind": "grille", "edge": "stack.start", "loss": "3", "temperature": "5 °C"},
                "top": {"kind": "window", "edge": "stack.end", "loss": "1.8", "temperature": "5 °C"},
            },
            "walls": {side: {"kind": "slip", "edge": f"stack.{side}"} for side in ("left", "right")},
            "sources": {
                "fire": {
                    "kind": "heat",
                    "power": f"{HEAT} W",
                    "low": ["-0.2 m", f"{FIRST} m"],
                    "high": ["0.2 m", f"{LAST} m"],
                }
            },
            "grid": {"cell": "50 mm", "doublings": "0"},
        },
        "readings": {"flow": {"kind": "flow", "edge": "stack.end"}},
    }
    return settle(apply(parse_case(data), edits) if edits else parse_case(data))


def drawn(settled: ResolvedCase) -> float:
    """Solve and give the volume flow that leaves at the top, m3/s."""
    run = FlowRun(settled, prepare(settled), None)
    while not run.finished() and run.last.iteration < 1500:
        run.advance(20.0, 100)
    run.physics.finish()
    return float(run.readings["flow"].value)


def by_hand(density: float, expansion: float) -> float:
    """Give the flow at which the lift of the warm column is what the two openings and the speed it gets lose,
    m3/s.

    Source: hydrostatics and the balance of heat; own arithmetic.
    """
    column = HEIGHT - 0.5 * (FIRST + LAST)  # m, of the full warmth: over the fire it grows evenly

    def left(flow: float) -> float:
        warmer = HEAT / (density * 1000.0 * flow)
        lift = density * expansion * warmer * 9.80665 * column
        return lift - 0.5 * density * (flow / WIDTH) ** 2 * (LOSSES + 1.0)

    return float(brentq(left, 1e-4, 1.0))


def draughts() -> list[Check]:
    """A chimney heated at its foot, beside air outdoors of 5 °C, with the fluid's reference elsewhere."""
    source = "hydrostatics and the balance of heat, by hand"
    return [
        Check(
            "draught",
            f"flow with the reference at {reference}, m3/s",
            by_hand(1.2, 0.0035),
            drawn(chimney(**{"media.air.temperature": reference})),
            5e-3,
            source,
        )
        for reference in ("-15 °C", "5 °C", "25 °C")
    ]


CASES: dict[str, Callable[[], list[Check]]] = {"draught": draughts}
