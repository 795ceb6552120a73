"""Humid air through the whole program: what enters, what is lighter, where vapour condenses."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, lines, parse_case, quantities, review, settle
from mop_lantern.laws.moist import LIGHTER, dew_point, share_of
from mop_lantern.solve import Solving
from mop_lantern.solve.equations.species import Species
from mop_lantern.solve.physics import Physics


def duct(wall: str = "10 °C", **species: Any) -> dict[str, Any]:
    """State a short duct that humid air of 25 °C enters, one of its sides cold."""
    return {
        "media": {"air": {"kind": "air", "temperature": "20 °C", "follow": False}},
        "shape": {"parts": {"p": {"kind": "straight", "length": "200 mm", "width": "40 mm"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "heat": {"solve": True, "start": "25 °C"},
            "species": {"wet": {"title": "vapour", "nature": "vapour", "diffusivity": "25 mm2/s", **species}},
            "openings": {
                "in": {
                    "kind": "velocity",
                    "edge": "p.start",
                    "velocity": "0.1 m/s",
                    "temperature": "25 °C",
                    "humidity": "60 %",
                },
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "warm": {"cold": {"kind": "temperature", "edge": "p.left", "temperature": wall}},
            "grid": {"cell": "10 mm"},
        },
        "readings": {
            "dew": {"kind": "point", "at": ["150 mm", "0 mm"], "quantity": "dew_point"},
            "wall": {"kind": "edge_value", "edge": "p.left", "quantity": "humidity", "measure": "max"},
        },
    }


def solved(data: dict[str, Any]) -> tuple[Physics, dict[str, Any]]:
    """Solve; give the physics and what is said at the end, trust by id."""
    solving = Solving(settle(parse_case(data)), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    return solving.run.physics, {**last, "trust": {item["id"]: item for item in last["trust"]}}


SHARE = float(share_of(0.6, 298.15))


@pytest.mark.parametrize("measure", ["fraction", "density"])
def test_vapour_enters_by_its_humidity_and_keeps_its_dew_point(measure: str) -> None:
    start = "0" if measure == "fraction" else "0 kg/m3"
    physics, last = solved(duct(measure=measure, start=start))
    over = 1.0 if measure == "fraction" else physics.fluid.density
    assert physics.scalars["c.wet"].phi / over == pytest.approx(SHARE, rel=1e-6)
    assert last["readings"]["dew"]["value"] == pytest.approx(float(dew_point(SHARE)), abs=1e-3)
    item = last["trust"]["dew"]
    assert item["verdict"] == "caution" and "p.left" in item["text"] and "6.7 K" in item["text"]
    assert last["readings"]["wall"]["value"] > 1.5


def test_a_wall_over_the_dew_point_stays_dry_and_is_told_how_close() -> None:
    _, last = solved(duct(wall="18 °C"))
    item = last["trust"]["dew"]
    assert item["verdict"] == "holds" and "p.left is closest, 1.3 K over" in item["text"]
    assert last["readings"]["wall"]["value"] == pytest.approx(0.92, abs=0.01)


def test_without_a_humidity_the_amount_counts() -> None:
    case = apply(parse_case(duct()), {"field.openings.in.humidity": "auto"})
    case = apply(case, {"field.openings.in.carries": {"wet": "5 g/kg"}})
    opening = settle(case).numbers.openings["in"]
    assert Species.entering(settle(case), opening, "c.wet") == pytest.approx(5e-3)
    words = " ".join(str(piece) for line in lines(case) for piece in line.pieces if isinstance(piece, str))
    assert "relative humidity" in words and "carries" in words


def test_vapour_makes_air_lighter_by_itself() -> None:
    data = duct()
    data["field"]["physics"] = {"flow": "laminar", "buoyancy": "boussinesq"}
    settled = settle(parse_case(data))
    assert Species.drives(settled, "c.wet")
    assert Species._expansion(settled, "c.wet") == pytest.approx(-LIGHTER)
    given = settle(apply(parse_case(data), {"field.species.wet.expansion": "0.1"}))
    assert Species._expansion(given, "c.wet") == pytest.approx(0.1)


def test_what_a_case_must_have() -> None:
    case = parse_case(duct())
    assert {"humidity", "dew_point"} <= set(quantities(case))
    dry = apply(case, {"field.species.wet.nature": "any"})
    told = {fault.path: fault for fault in review(dry, brief=True).faults}
    assert "water vapour" in told["readings.dew.quantity"].remedy
    twice = apply(case, {"field.species.more": {"nature": "vapour"}})
    assert "field.species.more.nature" in {fault.path for fault in review(twice, brief=True).faults}


def test_comfort_takes_the_humidity_of_the_place() -> None:
    data = duct()
    data["field"]["comfort"] = {"solve": True, "humidity": "auto"}
    data["readings"] = {}
    physics, _ = solved(data)
    answer = physics.answer()
    dry = {**data, "field": {**data["field"], "comfort": {"solve": True, "humidity": "20 %"}}}
    drier = solved(dry)[0].answer()
    inside = answer.mesh.centre[:, 0] < 0.05
    assert (answer.scalars["vote"].cells > drier.scalars["vote"].cells)[inside].all()
    assert np.isfinite(answer.scalars["vote"].cells).all()
