"""What surfaces of cut cells see of each other and exchange, against formulas."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import Check
from mop_lantern.case import parse_case, settle
from mop_lantern.field.radiation.exchange import SIGMA
from mop_lantern.solve import Solving

BOOK = "a convex body in an enclosure: Incropera et al., table 13.3 (not at hand to check)"
STILL = {
    "kind": "constant",
    "density": "1.2 kg/m3",
    "viscosity": "18 uPa s",
    "capacity": "1000 J/kg/K",
    "conductivity": "1e-6 W/m/K",
    "expansion": "0.0033 1/K",
}
WARM, COLD, INNER = 400.0, 300.0, 0.9


def enclosed(
    shape: dict[str, Any], core: str, hall: tuple[str, ...], cell: str, outer: float
) -> dict[str, Any]:
    """State a warm body in a cold hall whose air hardly moves."""
    warm = {"core": {"kind": "temperature", "edge": core, "temperature": f"{WARM} K"}}
    warm |= {
        f"hall{k}": {"kind": "temperature", "edge": edge, "temperature": f"{COLD} K"}
        for k, edge in enumerate(hall)
    }
    return {
        "media": {"air": STILL},
        "shape": shape,
        "field": {
            "physics": {"flow": "laminar", "buoyancy": "boussinesq", "gravity": "1e-9 m/s2"},
            "heat": {"solve": True, "start": "350 K"},
            "radiation": {"solve": True, "emissivity": f"{outer}"},
            "warm": warm,
            "finishes": {"core": {"kind": "own", "edge": core, "emissivity": f"{INNER}"}},
            "grid": {"cell": cell},
            "solver": {"most": "30", "coarse": "0"},
        },
        "readings": {
            "sent": {"kind": "passing", "edge": core, "quantity": "radiant"},
        },
    }


def sent(data: dict[str, Any]) -> float:
    """Give what the core radiates, W."""
    solving = Solving(settle(parse_case(data)), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    return float(last["readings"]["sent"]["value"])


def law(inner: float, outer: float, emissivity: float) -> float:
    """Give what a body of an area in a hall of another and its emissivity radiates, W."""
    black = SIGMA * (WARM**4 - COLD**4)
    return inner * black / (1 / INNER + inner / outer * (1 / emissivity - 1))


def rod() -> list[Check]:
    """A round rod off the middle of a black square hall, in a plane on cut cells."""
    corners = [["0 m", "0 m"], ["2 m", "0 m"], ["2 m", "2 m"], ["0 m", "2 m"]]
    parts = {
        "hall": {"kind": "outline", "points": corners},
        "core": {"kind": "disc", "centre": ["0.7 m", "0.9 m"], "diameter": "0.5 m"},
    }
    sides = tuple(f"hall.side{k}" for k in (1, 2, 3, 4))
    got = sent(enclosed({"parts": parts}, "core.surface", sides, "0.05 m", 1.0))
    return [
        Check(
            "radiation-rod",
            "heat of a rod in a black hall, W/m",
            law(np.pi * 0.5, 8.0, 1.0),
            got,
            0.005,
            BOOK,
        )
    ]


def spheres() -> list[Check]:
    """A ball in the middle of a grey round hall, in space on cut cells."""
    solids = {
        "hall": {"kind": "ball", "diameter": "2 m", "role": "fluid"},
        "core": {"kind": "ball", "diameter": "1 m", "role": "void"},
    }
    shape = {"space": "space", "solids": solids}
    got = sent(enclosed(shape, "core.wall", ("hall.wall",), "0.1 m", 0.6))
    expected = law(np.pi, 4 * np.pi, 0.6)
    return [Check("radiation-spheres", "heat of a ball in a grey round hall, W", expected, got, 0.01, BOOK)]


CASES: dict[str, Callable[[], list[Check]]] = {"radiation-rod": rod, "radiation-spheres": spheres}
