"""Bodies around an axis, and walls that turn, against closed formulas."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, settle
from mop_lantern.judge import FieldResult, measure
from mop_lantern.solve import Solving

RHO, MU, K = 1000.0, 1e-2, 0.6
OIL = {
    "oil": {
        "kind": "constant",
        "density": f"{RHO} kg/m3",
        "viscosity": f"{MU} Pa s",
        "capacity": "2000 J/kg/K",
        "conductivity": f"{K} W/m/K",
    }
}


def solved(
    shape: dict[str, Any], field: dict[str, Any], readings: dict[str, Any]
) -> tuple[FieldResult, dict[str, float]]:
    """Solve a case of oil; give its field and readings."""
    field = {"solver": {"coarse": "0"}, **field}
    settled = settle(
        parse_case({"title": "round", "media": OIL, "shape": shape, "field": field, "readings": readings})
    )
    solving = Solving(settled, None, None)
    end = [event for event in solving.events() if event["event"] == "finished"][-1]
    assert solving.run is not None and end["converged"], end["trust"]
    answer = solving.run.physics.answer(final=True)
    return answer, {key: item.value for key, item in measure(settled.numbers.readings, answer).items()}


def ring(inner: str, outer: str, length: str) -> dict[str, Any]:
    """Give the space between two cylinders around the axis; side 1 lies inside, side 3 outside."""
    corners = [["0 mm", inner], [length, inner], [length, outer], ["0 mm", outer]]
    return {"space": "axis", "parts": {"gap": {"kind": "outline", "points": corners}}}


def test_torque_between_cylinders_around_the_axis() -> None:
    """T = 4 pi mu L w R1^2 R2^2 / (R2^2 - R1^2): Couette, any text on viscous flow."""
    walls = {
        "rod": {"kind": "turning", "edge": "gap.side1", "rate": "0.5 rad/s"},
        "a": {"kind": "symmetry", "edge": "gap.side2"},
        "b": {"kind": "symmetry", "edge": "gap.side4"},
    }
    readings = {f"t{k}": {"kind": "torque", "edge": f"gap.side{k}"} for k in (1, 3)}
    answer, read = solved(
        ring("10 mm", "20 mm", "8 mm"), {"walls": walls, "grid": {"cell": "0.5 mm", "across": "4"}}, readings
    )
    exact = 4 * np.pi * MU * 0.008 * 0.5 * (0.01 * 0.02) ** 2 / (0.02**2 - 0.01**2)
    assert read["t1"] == pytest.approx(-exact, rel=5e-3) and read["t3"] == pytest.approx(exact, rel=5e-3)
    r = answer.mesh.centre[:, 1]
    speed = 0.5 * 0.01**2 * (0.02**2 - r**2) / (r * (0.02**2 - 0.01**2))
    assert answer.velocity[:, 2] == pytest.approx(speed, abs=2e-5)


def test_axial_flow_in_an_annulus() -> None:
    """Bird, Stewart, Lightfoot, Transport Phenomena, section 2.4: flow through an annulus (from memory)."""
    field = {
        "openings": {
            "in": {"kind": "static_pressure", "edge": "gap.side4", "pressure": "0.5 Pa"},
            "out": {"kind": "static_pressure", "edge": "gap.side2", "pressure": "0 Pa"},
        },
        "grid": {"cell": "0.5 mm", "across": "4"},
    }
    readings = {
        "q": {"kind": "flow", "edge": "gap.side2"},
        "tau": {"kind": "force", "edge": "gap.side1", "part": "friction"},
    }
    answer, read = solved(ring("10 mm", "20 mm", "200 mm"), field, readings)
    middle = (answer.mesh.centre[:, 0] > 0.08) & (answer.mesh.centre[:, 0] < 0.12)
    r, u, p = answer.mesh.centre[middle, 1], answer.velocity[middle, 0], answer.pressure[middle]
    slope = -np.polyfit(answer.mesh.centre[middle, 0], p, 1)[0]
    k = 0.5
    exact = slope * 0.02**2 / (4 * MU) * (1 - (r / 0.02) ** 2 - (1 - k**2) / np.log(1 / k) * np.log(0.02 / r))
    assert u == pytest.approx(exact, rel=0.01, abs=1e-2 * exact.max())
    flow = np.pi * slope * 0.02**4 / (8 * MU) * (1 - k**4 - (1 - k**2) ** 2 / np.log(1 / k))
    assert read["q"] == pytest.approx(flow, rel=0.01)


@pytest.mark.parametrize(("inner", "outer"), [(10, 20), (2, 20)])
def test_heat_through_a_round_layer(inner: float, outer: float) -> None:
    """q = 2 pi k L (T1 - T2) / ln(R2 / R1): VDI Heat Atlas, part on conduction (from memory)."""
    walls = {
        "hot": {"kind": "temperature", "edge": "gap.side1", "temperature": "60 °C"},
        "cold": {"kind": "temperature", "edge": "gap.side3", "temperature": "20 °C"},
    }
    lid = {"lid": {"kind": "sliding", "edge": "gap.side1", "speed": "1e-6 mm/s"}}
    field = {"walls": lid, "warm": walls, "heat": {"solve": True}, "grid": {"cell": "0.4 mm", "across": "4"}}
    readings = {
        name: {"kind": "passing", "edge": f"gap.side{side}", "quantity": "T", "way": way}
        for name, side, way in (("in", 1, "in"), ("out", 3, "out"))
    }
    _, read = solved(ring(f"{inner} mm", f"{outer} mm", "5 mm"), field, readings)
    exact = 2 * np.pi * K * 0.005 * 40 / np.log(outer / inner)
    assert read["in"] == pytest.approx(exact, rel=0.01)
    assert read["out"] == pytest.approx(read["in"], rel=1e-6)


def test_a_heat_source_in_a_rod() -> None:
    """A rod heated evenly is warmer in the middle by q''' R^2 / (4 k): any text on conduction."""
    shape = {
        "space": "axis",
        "parts": {"rod": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "4 mm", "width": "20 mm"}},
    }
    field = {
        "walls": {"w": {"kind": "turning", "edge": "rod.left", "rate": "1e-9 rad/s"}},
        "warm": {"w": {"kind": "temperature", "edge": "rod.left", "temperature": "20 °C"}},
        "heat": {"solve": True},
        "sources": {
            "glow": {"kind": "heat", "power": "0.2 W", "low": ["0 mm", "0 mm"], "high": ["4 mm", "10 mm"]}
        },
        "grid": {"cell": "0.5 mm", "across": "4"},
    }
    readings = {
        "top": {"kind": "region", "quantity": "T", "measure": "max"},
        "out": {"kind": "passing", "edge": "rod.left", "quantity": "T", "way": "out"},
    }
    _, read = solved(shape, field, readings)
    strength = 0.2 / (np.pi * 0.01**2 * 0.004)
    assert read["out"] == pytest.approx(0.2, rel=1e-6)
    assert read["top"] - 293.15 == pytest.approx(strength * 0.01**2 / (4 * K), rel=0.01)
