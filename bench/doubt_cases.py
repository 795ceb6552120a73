"""Check cases of what was once wrong and called trusted: viscosity at walls, sampling between cells, first
answers, stability.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.heat_cases import convection_document
from bench.space_cases import passage
from bench.stating import Check, document, fluid, inflow, run
from bench.trust_cases import Known, cavity, cylinder, heated, line
from mop_lantern.case import parse_case, settle
from mop_lantern.field.force_balance import force_balance
from mop_lantern.solve import FlowRun, Solving, prepare


def walls() -> list[Check]:
    """A channel whose viscosity rises nine-fold to its walls: pressure drop, and the forces on the whole
    fluid.
    """
    openings = {
        "in": {**inflow("run.start", "1 mm/s"), "profile": "uniform"},
        "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
    }
    settled = settle(
        parse_case(
            document(
                run("40 mm", "10 mm"), openings, {"cell": "0.5 mm", "across": "1"}, media=fluid(1000.0, 1e-3)
            )
        )
    )
    mesh = prepare(settled)
    solver = FlowRun(settled, mesh, None)

    def law(y: Any) -> Any:
        return 1e-3 * (1 + 8 * (y / 5e-3) ** 2)

    solver.flow.set_viscosity(law(mesh.centre[:, 1]), law(mesh.face_centre[mesh.n_internal :, 1]))
    for _ in range(400):
        made = solver.flow.step()
        if made.momentum < 1e-9 and made.mass < 1e-9:
            break
    y = (np.arange(20000) + 0.5) / 20000 * 5e-3
    exact = 1e-3 / float((y**2 / law(y)).mean())
    first, last = solver.answer().sampler("pressure", np.array([[0.02, 0.0], [0.035, 0.0]]))
    left, scale = force_balance(solver.flow)
    return [
        Check(
            "walls",
            "fall of pressure, Pa/m",
            exact,
            float(first - last) / 0.015,
            0.01,
            "integral of G y2 / mu, exact",
        ),
        Check(
            "walls",
            "forces left over, of all",
            0.0,
            float(np.linalg.norm(left)) / scale,
            0.005,
            "momentum theorem",
            True,
        ),
    ]


def peaks() -> list[Check]:
    """Peaks between cells: the middle of a square duct, and a boundary layer on flat cells."""
    brick = {"kind": "brick", "length": "45 mm", "width": "10 mm", "height": "10 mm"}
    _, answer = passage(
        {"d": brick}, ("d.west", "d.east"), "10 mm/s", "0.5 mm"
    )  # larger cells in the middle: ten across
    y = np.linspace(-0.002, 0.012, 401)
    row = np.column_stack([np.full(401, 0.035), np.full(401, float(answer.mesh.centre[:, 1].mean())), y])
    top = float(np.nanmax(answer.sampler("u", row))) / 0.01
    checks = [
        Check(
            "sampling",
            "u_max / u_mean in a square duct, between cells",
            2.0963,
            top,
            0.02,
            "Shah and London (1978), series",
        )
    ]
    data = convection_document(1e6, ("box.side4", "box.side2"), 1.0, 48, 8.0)
    data["readings"] = {"v": line(["0 m", "0.5 m"], ["1 m", "0.5 m"], "v", "max")}
    got = _readings(data)["v"] / 1e-3
    checks.append(
        Check(
            "sampling",
            "highest v on y = 0.5, Ra 1e6, flat cells",
            220.6,
            got,
            0.03,
            "converged literature, from memory",
        )
    )
    return checks


def rooms() -> list[Check]:
    """Rooms heated from the floor: where convection sets in, and that the rolls above it are states a flow
    keeps.
    """
    checks = []
    for width, onset, numbers in (
        (1.0, 2585.0, (2850.0, 3000.0, 3300.0)),
        (2.0, 2013.2, (2250.0, 2400.0, 2600.0)),
    ):
        rise = []
        for number in numbers:
            last = _solved(_room(number, width, 32))
            rise.append((last["readings"]["heat"]["value"] / (width * 1e-3) - 1) * number)
        slope, level = np.polyfit(numbers, rise, 1)  # (Nu - 1) Ra grows evenly from the onset on
        source = "Luijkx and Platten, J. Non-Equilib. Thermodyn. 6 (1981) 141, from memory"
        checks.append(
            Check(
                f"room {width:g}:1",
                "Rayleigh number at which convection begins",
                onset,
                -level / slope,
                0.03,
                source,
            )
        )
    last = _solved(_room(1e4, 2.0, 64))
    trust = {item["id"]: item for item in last["trust"]}
    kept = float(trust["stability"]["verdict"] == "holds")
    checks.append(
        Check(
            "room 2:1, Ra 1e4",
            "two rolls are a state the flow keeps (1: yes)",
            1.0,
            kept,
            0.0,
            "own runs in time",
            True,
        )
    )
    got = last["readings"]["heat"]["value"] / 2e-3
    checks.append(
        Check(
            "room 2:1, Ra 1e4",
            "mean Nusselt number of two rolls",
            2.404,
            got,
            0.02,
            "own run in time, 80 x 40 cells",
        )
    )
    return checks


def _room(rayleigh: float, width: float, cells: int) -> dict[str, Any]:
    data = convection_document(rayleigh, ("box.side1", "box.side3"), width, cells, 1.0)
    rolls = int(width)
    data["field"]["start"] = {
        "u": f"= 5 mm/s * sin({rolls} * pi * x / {width!r} m) * cos(pi * y / 1 m)",
        "v": f"= 0 m/s - 5 mm/s * cos({rolls} * pi * x / {width!r} m) * sin(pi * y / 1 m)",
    }
    data["readings"] = {"heat": {"kind": "passing", "edge": "box.side1", "quantity": "T", "way": "in"}}
    return data


def _solved(data: dict[str, Any]) -> dict[str, Any]:
    return list(Solving(settle(parse_case(data)), None, None).events())[-1]


def first_answers() -> list[Check]:
    """Grids left to the program: every reading within 5 %."""
    checks = []
    for known in (cavity(400), cavity(1000), cavity(3200), heated(1e5), heated(1e6), cylinder()):
        data = known.state(10)
        data["field"]["grid"] = {}
        checks += _against(known, _readings(data))
    return checks


def _against(known: Known, got: dict[str, float]) -> list[Check]:
    truth = {key: value for key, value in known.truth.items() if not isinstance(value, tuple)}
    return [
        Check(f"first answer, {known.name}", key, value, got[key], 0.05, known.source)
        for key, value in truth.items()
    ]


def _readings(data: dict[str, Any]) -> dict[str, float]:
    solving = Solving(settle(parse_case(data)), None, None)
    list(solving.events())
    assert solving.run is not None
    return {key: item.value for key, item in solving.run.readings.items()}


CASES: dict[str, Callable[[], list[Check]]] = {
    "walls": walls,
    "sampling": peaks,
    "rooms": rooms,
    "first-answers": first_answers,
}
