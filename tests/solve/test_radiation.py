"""Radiation through the whole program: a solid that radiates back, finishes, ledgers, and what is said."""

from __future__ import annotations

import copy
from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq

from bench.solid_cases import made_of, rectangle
from mop_lantern.case import apply, parse_case, quantities, review, settle
from mop_lantern.field.radiation.exchange import SIGMA
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

AIR = {
    "kind": "constant",
    "density": "1.2 kg/m3",
    "viscosity": "18 uPa s",
    "capacity": "1000 J/kg/K",
    "conductivity": "0.026 W/m/K",
    "expansion": "0.0033 1/K",
}


def stable() -> dict[str, Any]:
    """State air that hardly moves under a warm lid, over a slab cooled from below; sides mirror."""
    warm = {
        "lid": {"kind": "temperature", "edge": "gap.side3", "temperature": "340 K"},
        "below": {"kind": "temperature", "edge": "slab.side1", "temperature": "280 K"},
    }
    return {
        "media": {"air": AIR},
        "shape": {
            "parts": {
                "gap": {**rectangle(0, 0, 0.2, 0.1), "kind": "outline"},
                "slab": rectangle(0, -0.05, 0.2, 0),
            }
        },
        "field": {
            "physics": {"flow": "laminar"},
            "heat": {"solve": True, "start": "310 K"},
            "radiation": {"solve": True, "patches": "12", "rays": "512"},
            "comfort": {"solve": True},
            "solids": {"slab": made_of("slab", 0.2)},
            "walls": {f"m{s}": {"kind": "symmetry", "edge": f"gap.side{s}"} for s in "24"}
            | {"lid": {"kind": "sliding", "edge": "gap.side3", "speed": "1 um/s"}},
            "warm": warm,
            "finishes": {
                "top": {"kind": "listed", "edge": "gap.side3", "finish": "paint"},
                "slab": {"kind": "own", "edge": "slab.side3", "emissivity": "0.3"},
            },
            "grid": {"cell": "25 mm"},
        },
        "readings": {
            "lid": {"kind": "passing", "edge": "gap.side3", "quantity": "T"},
            "shone": {"kind": "passing", "edge": "gap.side3", "quantity": "radiant"},
            "out": {"kind": "passing", "edge": "slab.side1", "quantity": "T", "way": "out"},
            "slab": {"kind": "edge_value", "edge": "slab.side3", "quantity": "T"},
            "felt": {"kind": "point", "at": ["100 mm", "50 mm"], "quantity": "radiant"},
        },
    }


def run(data: dict[str, Any], **edits: Any) -> tuple[Any, dict[str, Any]]:
    """Solve; give the run and what is said at the end, trust by id."""
    solving = Solving(settle(apply(parse_case(data), edits)), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    found = {key: item["value"] for key, item in last["readings"].items()}
    return solving, {"readings": found, "trust": {item["id"]: item for item in last["trust"]}}


def radiated(upper: float, lower: float) -> float:
    """Source: endless parallel plates; Incropera et al., equation 13.19, W/m2."""
    return SIGMA * (upper**4 - lower**4) / (1 / 0.92 + 1 / 0.3 - 1)


@pytest.fixture(scope="module")
def layered() -> tuple[Any, dict[str, Any]]:
    """Solve it once."""
    return run(stable())


def test_a_slab_that_radiates_takes_up_what_conduction_and_radiation_bring(layered: Any) -> None:
    """In series: the slab, and beside each other still air and radiation."""
    _, last = layered

    def left(slab: float) -> float:
        return 0.2 * (slab - 280) / 0.05 - 0.026 * (340 - slab) / 0.1 - radiated(340, slab)

    slab = brentq(left, 280, 340)
    through = 0.2 * (slab - 280) / 0.05 * 0.2
    found = last["readings"]
    assert found["slab"] == pytest.approx(slab, abs=1e-3)
    assert found["lid"] == pytest.approx(through, rel=1e-4)
    assert found["out"] == pytest.approx(through, rel=1e-4)
    assert found["shone"] == pytest.approx(radiated(340, slab) * 0.2, rel=1e-4)


def test_its_radiation_balances_and_is_told(layered: Any) -> None:
    _, last = layered
    item = last["trust"]["radiation"]
    assert item["verdict"] == "holds" and item["value"] < 1e-9 and "radiate" in item["text"]


def test_people_feel_the_radiant_temperature_of_where_they_are(layered: Any) -> None:
    """In the middle between endless plates half the view is each: the mean of both radiosities."""
    solving, last = layered
    slab = last["readings"]["slab"]
    net = radiated(340, slab)
    upper = SIGMA * 340**4 - net * (1 / 0.92 - 1)
    lower = SIGMA * slab**4 + net * (1 / 0.3 - 1)
    felt = ((upper + lower) / 2 / SIGMA) ** 0.25
    assert last["readings"]["felt"] == pytest.approx(felt, abs=0.2)
    answer = final_answer(solving)
    air, radiant, operative = (answer.scalars[name].cells for name in ("T", "radiant", "operative"))
    still = answer.mesh.cells_of("")
    assert operative[still] == pytest.approx((air + radiant)[still] / 2, abs=1e-6)


def test_radiation_missed_is_said_and_how_much_it_would_be(layered: Any) -> None:
    data = stable()
    data["readings"] = {"slab": data["readings"]["slab"]}
    _, last = run(data, **{"field.radiation.solve": False})
    item = last["trust"]["radiation"]
    assert item["verdict"] == "caution" and "Radiation is not solved" in item["text"]


def test_what_a_case_must_have_for_it() -> None:
    data = copy.deepcopy(stable())
    data["field"]["heat"]["solve"] = False
    data["field"]["comfort"]["solve"] = False
    told = {fault.path: fault for fault in review(parse_case(data), brief=True).faults}
    assert "temperature" in told["field.radiation.solve"].says and told["field.radiation.solve"].remedy
    assert "readings.felt.quantity" in told
    assert "radiant" not in quantities(parse_case(data))
    lost = apply(parse_case(stable()), {"field.finishes.top.edge": "gap.side9"})
    assert "field.finishes.top.edge" in {fault.path for fault in review(lost, brief=True).faults}
    wrong = apply(parse_case(stable()), {"field.finishes.slab.emissivity": "1.2"})
    assert "field.finishes.slab.emissivity" in {fault.path for fault in review(wrong, brief=True).faults}


def test_in_a_liquid_it_is_called_out() -> None:
    wet = apply(parse_case(stable()), {"media.air.density": "1000 kg/m3"})
    notes = [note for note in review(wet).notes if note.path == "field.radiation"]
    assert notes and notes[0].edits == {"field.radiation.solve": False}


def test_openings_are_black_at_what_passes_them() -> None:
    """Two sides of a warm square are open to cold air that hardly flows: they take what the walls send."""
    data = {
        "media": {"air": AIR},
        "shape": {"parts": {"p": {"kind": "straight", "length": "100 mm", "width": "100 mm"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "heat": {"solve": True, "start": "300 K"},
            "radiation": {"solve": True, "emissivity": "1", "patches": "16", "rays": "1024"},
            "openings": {
                "in": {"kind": "velocity", "edge": "p.start", "velocity": "1 m/s", "temperature": "300 K"},
                "out": {"kind": "static_pressure", "edge": "p.end", "temperature": "300 K"},
            },
            "warm": {
                side: {"kind": "temperature", "edge": f"p.{side}", "temperature": "400 K"}
                for side in ("left", "right")
            },
            "grid": {"cell": "20 mm"},
        },
        "readings": {
            "in": {"kind": "passing", "edge": "p.start", "quantity": "radiant", "way": "out"},
            "left": {"kind": "passing", "edge": "p.left", "quantity": "radiant"},
        },
    }
    _, last = run(data)
    sent = SIGMA * (400.0**4 - 300.0**4) * 0.1
    share = 1 - np.sqrt(0.5)  # of what a wall sends to either end (crossed strings)
    assert last["readings"]["in"] == pytest.approx(2 * share * sent, rel=0.01)
    assert "Openings take" in last["trust"]["radiation"]["text"]


def test_around_an_axis_a_rod_in_a_pipe_radiates_as_the_formula_says() -> None:
    """Long grey cylinders one in the other (Incropera et al., equation 13.20); mirrors at both ends."""
    ring = [["0 m", "20 mm"], ["100 mm", "20 mm"], ["100 mm", "50 mm"], ["0 m", "50 mm"]]
    data = {
        "media": {"air": {**AIR, "conductivity": "1e-6 W/m/K"}},
        "shape": {"space": "axis", "parts": {"gap": {"kind": "outline", "points": ring}}},
        "field": {
            "physics": {"flow": "laminar"},
            "heat": {"solve": True, "start": "350 K"},
            "radiation": {"solve": True, "emissivity": "0.6", "patches": "30", "rays": "2048"},
            "walls": {
                "left": {"kind": "symmetry", "edge": "gap.side4"},
                "right": {"kind": "symmetry", "edge": "gap.side2"},
                "slide": {"kind": "sliding", "edge": "gap.side3", "speed": "1 um/s"},
            },
            "warm": {
                "rod": {"kind": "temperature", "edge": "gap.side1", "temperature": "400 K"},
                "pipe": {"kind": "temperature", "edge": "gap.side3", "temperature": "300 K"},
            },
            "grid": {"cell": "5 mm"},
        },
        "readings": {"rod": {"kind": "passing", "edge": "gap.side1", "quantity": "radiant"}},
    }
    _, last = run(data)
    inner, share = 2 * np.pi * 0.02 * 0.1, 0.02 / 0.05
    expected = inner * SIGMA * (400.0**4 - 300.0**4) / (1 / 0.6 + share * (1 / 0.6 - 1))
    assert last["readings"]["rod"] == pytest.approx(expected, rel=0.01)


def test_solids_alone_have_no_radiant_temperature() -> None:
    data = stable()
    data["shape"]["parts"].pop("gap")
    assert "radiant" not in quantities(parse_case({**data, "media": {}}))


def test_what_walls_see_of_each_other_is_told_while_it_is_found() -> None:
    """Casting rays takes seconds in a space: the words say what takes so long, and then that it is solved."""
    case = apply(parse_case(stable()), {"field.solver.most": "1", "field.solver.coarse": "0"})
    told = [
        event["text"] for event in Solving(settle(case), None, None).events() if event["event"] == "stage"
    ]
    first = told.index("finding what walls see of each other")
    assert told[first + 1] == "solving"
