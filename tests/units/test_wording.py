"""Sentences take the units a person prefers; where none is preferred, the usual one."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import parse_case, review
from mop_lantern.solve import Solving
from mop_lantern.units import preferred, show, show_change, show_handy, show_place, worded_in, worded_unit
from tests.judge.test_air_quality import plug
from tests.judge.test_comfort_verdict import hall


def test_a_preferred_unit_comes_before_the_usual_one_and_only_while_the_case_is_spoken_of() -> None:
    assert show(0.3048, "length", "mm") == "304.8 mm"
    with worded_in({"length": "ft", "pressure": "inH2O"}):
        assert show(0.3048, "length", "mm") == "1 ft"
        assert show(1.0, "velocity", "m/s") == "1 m/s"
        assert show_place((0.3048, -0.6096, 0.0)) == "(1, −2, 0) ft"
        with worded_in({}):
            assert worded_unit("length", "m") == "m"
        assert worded_unit("pressure", "Pa") == "inH2O"
    assert show_place((0.001, 0.0025)) == "(1, 2.5) mm"
    assert show_place((-3e-6, 1.503, -0.02), "m") == "(0, 1.503, −0.02) m"
    assert show_place((0.0, -0.0), "m") == "(0, 0) m"


@pytest.mark.parametrize("name", ["F", "degF", "deg F", "°F"])
def test_however_a_degree_is_spelled_it_is_written_in_one_way(name: str) -> None:
    assert preferred("temperature", {"temperature": name}) == "°F"
    with worded_in({"temperature": name}):
        assert show(273.15, "temperature", "°C") == "32 °F"
        assert show_change(1.0, "temperature", "°C") == "1.8 °F"


def test_a_unit_of_another_dimension_does_not_count() -> None:
    assert preferred("length", {"length": "bananas"}) == preferred("length", {})
    with worded_in({"pressure": "mPa"}):
        assert show_handy(-98675.0, "pressure", "bar") == "−0.987 bar"
        assert show_handy(2.0, "pressure", "bar") == "2000 mPa"
    with worded_in({"length": "kg", "temperature": "farad"}):
        assert show(0.3048, "length", "mm") == "304.8 mm"
        assert show_change(1.0, "temperature", "°C") == "1 K"
    found = review(parse_case(plug(units={"length": "kg", "temperature": "F"})))
    assert [fault.path for fault in found.faults] == ["units.length"]


def test_a_sentence_that_breaks_off_leaves_no_unit_behind() -> None:
    with pytest.raises(ValueError, match="broken"), worded_in({"length": "ft"}):
        raise ValueError("broken")
    assert worded_unit("length", "m") == "m"


def test_margin_notes_speak_in_the_units_of_the_case() -> None:
    def gap(**units: str) -> str:
        data: dict[str, Any] = plug(units=units)
        return next(
            note.text for note in review(parse_case(data)).notes if note.text.startswith("The narrowest gap")
        )

    assert " mm at (" in gap() and ") mm, has" in gap()
    assert " in at (" in gap(length="in") and ") in, has" in gap(length="in")


def test_what_is_told_of_an_answer_is_in_the_units_of_the_case() -> None:
    settled = hall(**{"units.length": "ft", "units.temperature": "°F"})
    *_, last = Solving(settled, None, None).events()
    found = {row["id"]: row for row in last["verdict"]}
    assert found["floor"]["found"] == "71.6 °F" and found["floor"]["limits"][0] == "66.2 °F to 84.2 °F"
    assert found["vote at 1.1 m"]["text"].count(") ft") == 1


@pytest.mark.parametrize(("unit", "shown"), [("°C", "2.5 K"), ("K", "2.5 K"), ("°F", "4.5 °F")])
def test_temperatures_differ_by_kelvins_or_degrees_fahrenheit(unit: str, shown: str) -> None:
    assert show_change(2.5, "temperature", unit) == shown
    assert show_change(2.5, "pressure", "Pa") == "2.5 Pa"
