"""The category of a room by the standard, on air whose answer is known."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.desk.results.verdict import VerdictPage
from mop_lantern.desk.theme import PAPER
from mop_lantern.judge.comfort_verdict import Row, comfort_verdict
from mop_lantern.laws.comfort import CLO, MET, draught, mean_vote
from mop_lantern.solve import Solving
from mop_lantern.units import worded_in
from tests.judge.test_air_quality import plug


def hall(**edits: Any) -> Any:
    """State a plug of air at 22 degrees C, 4 m long and 2.4 m high."""
    data = plug(field={"heat": {"solve": True}, "comfort": {"solve": True, "radiant": "22 °C"}})
    data["shape"]["parts"]["p"] |= {"start": ["0 m", "1.2 m"], "length": "4 m", "width": "2.4 m"}
    data["field"]["grid"] = {"cell": "100 mm"}
    return settle(apply(parse_case(data), edits))


@pytest.fixture(scope="module")
def solved() -> tuple[Any, list[dict[str, Any]], Any]:
    settled = hall()
    solving = Solving(settled, None, None)
    *_, last = solving.events()
    return settled, last["verdict"], solving.answer


def rows(verdict: list[Row]) -> dict[str, Row]:
    return {row.id: row for row in verdict}


def test_even_air_has_the_vote_and_the_draught_of_the_standard(solved: Any) -> None:
    _, verdict, _ = solved
    found = {row["id"]: row for row in verdict}
    vote = float(mean_vote(22.0, 22.0, 0.1, 0.5, 1.2 * MET, 0.7 * CLO))
    rating = float(draught(22.0, 0.1, 0.4))
    for height in ("0.1", "0.6", "1.1", "1.7"):
        assert found[f"vote at {height} m"]["value"] == pytest.approx(vote, abs=1e-3)
        assert found[f"vote at {height} m"]["category"] == (
            "A" if abs(vote) <= 0.2 else "B" if abs(vote) <= 0.5 else "C"
        )
        assert found[f"draught at {height} m"]["value"] == pytest.approx(rating, abs=1e-4)
        place = found[f"vote at {height} m"]["place"]
        assert place[1] == pytest.approx(float(height)) and 0.5 <= place[0] <= 3.5
    assert found["floor"]["category"] == "A" and found["head above ankles"]["category"] == "A"
    assert verdict[0]["id"] == "room" and "ISO 7730" in verdict[0]["text"]


def stratified(answer: Any, slope: float) -> Any:
    """Let the air grow warmer by a slope, K/m."""
    warm = answer.scalars["T"]
    rim = answer.mesh.face_centre[answer.mesh.n_internal :, 1]
    given = replace(warm, cells=295.15 + slope * answer.mesh.centre[:, 1], boundary=295.15 + slope * rim)
    return replace(answer, scalars={**answer.scalars, "T": given})


@pytest.mark.parametrize(
    ("slope", "category"), [(1.9, "A"), (2.9, "B"), (3.9, "C"), (4.1, "none"), (-3.0, "A")]
)
def test_a_warm_head_over_cold_ankles_decides(solved: Any, slope: float, category: str) -> None:
    settled, _, answer = solved
    verdict = rows(comfort_verdict(settled.numbers, stratified(answer, slope)))
    row = verdict["head above ankles"]
    assert row.category == category and row.value == pytest.approx(slope, rel=1e-6)
    if slope > 3:
        assert verdict["room"].category == category and "head above ankles" in verdict["room"].text


def test_differences_of_temperature_follow_the_units_of_the_case(solved: Any) -> None:
    settled, _, answer = solved
    warm = stratified(answer, 2.9)
    row = rows(comfort_verdict(settled.numbers, warm))["head above ankles"]
    assert row.found == "2.9 K" and row.limits == ("2 K", "3 K", "4 K") and "2.9 K" in row.text
    with worded_in({"temperature": "°F"}):
        row = rows(comfort_verdict(settled.numbers, warm))["head above ankles"]
    assert row.found == "5.2 °F" and row.limits[1] == "5.4 °F" and "5.2 °F" in row.text


def test_a_cold_floor_is_judged_by_its_surface(solved: Any) -> None:
    settled, _, answer = solved
    warm = answer.scalars["T"]
    low = np.abs(answer.mesh.face_centre[answer.mesh.n_internal :, 1]) < 1e-9
    for celsius, category in ((18.0, "C"), (16.0, "none"), (20.0, "A")):
        cold = replace(warm, boundary=np.where(low, celsius + 273.15, warm.boundary))
        verdict = rows(
            comfort_verdict(settled.numbers, replace(answer, scalars={**answer.scalars, "T": cold}))
        )
        assert verdict["floor"].category == category, celsius


def test_places_beside_walls_are_not_judged(solved: Any) -> None:
    _, _, answer = solved
    near = comfort_verdict(hall(**{"field.comfort.margin": "0.1 m"}).numbers, answer)
    assert len(near) > 1
    assert comfort_verdict(hall(**{"field.comfort.margin": "3 m"}).numbers, answer) == []


@pytest.mark.parametrize("cell", ["500 mm", "250 mm"])
def test_a_room_in_space_is_judged_too(cell: str) -> None:
    """Even air of 22 degrees C blown through a box 2.4 m high, its walls slippery."""
    sides = ("north", "south", "top", "bottom")
    data = {
        "media": {"a": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "space": "space",
            "solids": {"p": {"kind": "brick", "length": "4 m", "width": "3 m", "height": "2.4 m"}},
        },
        "field": {
            "physics": {"flow": "laminar"},
            "heat": {"solve": True, "start": "22 °C"},
            "comfort": {"solve": True, "radiant": "22 °C"},
            "openings": {
                "in": {"kind": "velocity", "edge": "p.west", "velocity": "0.1 m/s", "temperature": "22 °C"},
                "out": {"kind": "static_pressure", "edge": "p.east"},
            },
            "walls": {side: {"kind": "slip", "edge": f"p.{side}"} for side in sides},
            "grid": {"cell": cell},
        },
    }
    *_, last = Solving(settle(parse_case(data)), None, None).events()
    found = {row["id"]: row for row in last["verdict"]}
    vote = float(mean_vote(22.0, 22.0, 0.1, 0.5, 1.2 * MET, 0.7 * CLO))
    assert found["vote at 1.1 m"]["value"] == pytest.approx(vote, abs=2e-3)
    assert found["vote at 1.1 m"]["place"][2] == pytest.approx(1.1)
    assert found["room"]["category"] in "ABC" and found["floor"]["category"] == "A"


def test_without_comfort_there_is_no_verdict(solved: Any) -> None:
    settled, _, answer = solved
    plain = replace(answer, scalars={"T": answer.scalars["T"]})
    assert comfort_verdict(settled.numbers, plain) == []


def test_a_body_around_an_axis_has_no_floor_and_no_verdict() -> None:
    data = plug(field={"heat": {"solve": True}, "comfort": {"solve": True}})
    data["shape"]["space"] = "axis"
    del data["field"]["walls"]["right"]
    *_, last = Solving(settle(parse_case(data)), None, None).events()
    assert last["event"] == "finished" and last["verdict"] == []


def test_the_page_shows_rows_and_hides_without(qtbot: QtBot, solved: Any) -> None:
    page = VerdictPage(PAPER)
    qtbot.addWidget(page)
    page.resize(260, 900)
    page.show_rows(solved[1])
    assert page.isVisibleTo(None) and page.as_text().splitlines()[0].startswith(solved[1][0]["category"])
    tall = page.minimumHeight()
    page.resize(520, 900)
    assert page.minimumHeight() < tall, "words wrap less"
    page.grab()
    page.show_rows([])
    assert not page.isVisibleTo(None)
