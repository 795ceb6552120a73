"""Check cases of what was once wrong and called trusted: viscosity at walls, sampling between cells, first answers, stability."""

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
    """A channel whose viscosity rises nine-fold to its walls: pressure drop, and the forces on the whole fluid."""
    openings = {"in": {**inflow("run.start", "1 mm/s"), "profile": "uniform"}, "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"}}
    settled = settle(parse_case(document(run("40 mm", "10 mm"), openings, {"cell": "0.5 mm", "across": "1"}, media=fluid(1000.0, 1e-3))))
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
        Check("walls", "fall of pressure, Pa/m", exact, float(first - last) / 0.015, 0.01, "integral of G y2 / mu, exact"),
        Check("walls", "forces left over, of all", 0.0, float(np.linalg.norm(left)) / scale, 0.005, "momentum theorem", True),
    ]


def peaks() -> list[Check]:
    """Peaks between cells: the middle of a square duct, and a boundary layer on flat cells."""
    brick = {"kind": "brick", "length": "45 mm", "width": "10 mm", "height": "10 mm"}
    _, answer = passage({"d": brick}, ("d.west", "d.east"), "10 mm/s", "0.5 mm")  # larger cells in the middle: ten across
    y = np.linspace(-0.002, 0.012, 401)
    row = np.column_stack([np.full(401, 0.035), np.full(401, float(answer.mesh.centre[:, 1].mean())), y])
    top = float(np.nanmax(answer.sampler("u", row))) / 0.01
    checks = [Check("sampling", "u_max / u_mean in a square duct, between cells", 2.0963, top, 0.02, "Shah and London (1978), series")]
    data = convection_document(1e6, ("box.side4", "box.side2"), 1.0, 48, 8.0)
    data["readings"] = {"v": line(["0 m", "0.5 m"], ["1 m", "0.5 m"], "v", "max")}
    got = _readings(data)["v"] / 1e-3
    checks.append(Check("sampling", "highest v on y = 0.5, Ra 1e6, flat cells", 220.6, got, 0.03, "converged literature, from memory"))
    return checks


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
    return [Check(f"first answer, {known.name}", key, value, got[key], 0.05, known.source) for key, value in truth.items()]


def _readings(data: dict[str, Any]) -> dict[str, float]:
    solving = Solving(settle(parse_case(data)), None, None)
    list(solving.events())
    assert solving.run is not None
    return {key: item.value for key, item in solving.run.readings.items()}


CASES: dict[str, Callable[[], list[Check]]] = {"walls": walls, "sampling": peaks, "first-answers": first_answers}
