"""Curves under the stage in the person's own units: readings as they come to rest, profiles, degrees too."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.results.traces import ALL, Traces
from mop_lantern.desk.theme import PAPER
from mop_lantern.units import DIMENSIONS, convert, convert_all

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


@pytest.fixture
def traces(app: QApplication) -> Iterator[Traces]:
    """Give pages of curves with three readings of two kinds."""
    made = Traces(PAPER)
    made.resize(700, 220)
    made.readings = {
        "drop": ("Drop", "pressure"),
        "top": ("Highest", "pressure"),
        "warm": ("Outlet", "temperature"),
    }
    made.units = {"pressure": "kPa", "temperature": "°C"}
    made.show()
    yield made
    made.close()
    made.deleteLater()
    QApplication.processEvents()


def curves(traces: Traces) -> dict[str, tuple[Any, Any]]:
    """Give what is drawn by name."""
    found = {}
    for curve in traces.plot.getPlotItem().listDataItems():
        x, y = curve.getOriginalDataset()
        found[curve.name()] = (np.asarray(x), np.asarray(y))
    return found


def axes(traces: Traces) -> tuple[str, str]:
    item = traces.plot.getPlotItem()
    return item.getAxis("bottom").labelText, item.getAxis("left").labelText


# --- units ---


@pytest.mark.parametrize("dimension", sorted(DIMENSIONS))
def test_whole_curves_turn_into_a_unit_as_single_values_do(dimension: str) -> None:
    values = np.array([-3.0, 0.0, 0.5, 288.15, 1e5])
    units = {DIMENSIONS[dimension].si, *DIMENSIONS[dimension].units}
    for unit in units:
        expected = [convert(value, dimension, unit) for value in values]
        assert convert_all(values, dimension, unit) == pytest.approx(expected, rel=1e-9, abs=1e-9), unit


def test_degrees_have_another_nothing() -> None:
    assert convert_all([273.15, 373.15], "temperature", "°C") == pytest.approx([0.0, 100.0])
    assert convert_all(np.array([[300.0]]), "temperature", "K").shape == (1, 1)


# --- readings ---


def test_readings_are_drawn_in_their_own_unit_one_kind_at_a_time(traces: Traces) -> None:
    traces.columns = {
        "iteration": [1, 2, 3, 4],
        "drop": [5e5, 2e3, 1.2e3, 1.1e3],
        "top": [0.0, 3e3, 2.2e3, 2.0e3],
        "warm": [290.0, 300.0, 303.0, 303.15],
        "momentum": [1, 0.1, 0.01, 0.001],
    }
    traces.show_page("Readings")
    found = curves(traces)
    assert set(found) == {"Drop", "Highest"} and axes(traces) == ("iteration", "kPa")
    assert found["Drop"][1] == pytest.approx([500.0, 2.0, 1.2, 1.1])
    assert not traces.of_button.isHidden() and "ressure" in traces.of_button.text()
    traces.show_group("temperature")
    assert curves(traces)["Outlet"][1] == pytest.approx([16.85, 26.85, 29.85, 30.0])
    assert axes(traces)[1] == "°C"
    traces.show_group(ALL)
    assert set(curves(traces)) == {"Drop", "Highest", "Outlet"}
    assert all(np.abs(y).max() <= 1.0 for _, y in curves(traces).values())


def test_where_readings_come_to_rest_is_in_view_and_wild_beginnings_are_not(traces: Traces) -> None:
    traces.columns = {
        "iteration": list(range(30)),
        "drop": [1e9, 1e7, 1e5] + [1000.0 + 100 * 0.8**k for k in range(27)],
        "momentum": [0.1] * 30,
    }
    traces.show_page("Readings")
    low, high = traces.plot.getPlotItem().getViewBox().viewRange()[1]
    assert low < 1.0 < high and high - low < 1.0, (low, high)


def test_a_reading_that_does_not_move_is_a_line_in_the_middle(traces: Traces) -> None:
    for value in (0.0, 5e3, -2e3):
        traces.columns = {"iteration": [1, 2, 3], "drop": [value] * 3, "momentum": [1, 0.1, 0.01]}
        traces.show_page("Readings")
        low, high = traces.plot.getPlotItem().getViewBox().viewRange()[1]
        assert low < value / 1e3 < high


def test_gaps_and_missing_columns_do_no_harm(traces: Traces) -> None:
    traces.columns = {"iteration": [1, 2], "drop": [np.nan, np.nan], "momentum": [1, 0.1]}
    traces.show_page("Readings")
    traces.columns = {}
    traces.redraw()
    assert "appear here" in axes(traces)[0] and curves(traces) == {}


def test_over_time_the_unit_of_time_keeps_figures_small(traces: Traces) -> None:
    for last, unit, factor in ((30.0, "s", 1.0), (1200.0, "min", 1 / 60), (20_000.0, "h", 1 / 3600)):
        traces.columns = {
            "iteration": [1, 2],
            "time": [0.0, last],
            "drop": [1.0, 2.0],
            "momentum": [1, 1],
        }
        traces.show_page("Readings")
        assert axes(traces)[0] == f"time, {unit}"
        assert curves(traces)["Drop"][0][-1] == pytest.approx(last * factor)


# --- profiles ---


def test_a_profile_of_temperature_is_drawn_in_degrees(traces: Traces) -> None:
    """It was drawn 272 times too large, and negative."""
    distance = np.linspace(0, 0.1, 5)
    traces.units = {"length": "mm", "temperature": "°C"}
    traces.show_profiles([("base", distance, np.linspace(293.15, 303.15, 5))], ("temperature", "temperature"))
    x, y = curves(traces)["base"]
    assert x == pytest.approx(1e3 * distance) and y == pytest.approx(np.linspace(20, 30, 5))
    assert axes(traces) == ("distance along the line, mm", "temperature, °C")


def test_profiles_of_several_variants_share_an_axis_and_leave_gaps(traces: Traces) -> None:
    distance = np.linspace(0, 1, 4)
    gap = np.array([1e3, np.nan, 2e3, 3e3])
    traces.units = {"pressure": "kPa"}
    traces.show_profiles([("base", distance, gap), ("B", distance, 2 * gap)], ("static pressure", "pressure"))
    found = curves(traces)
    assert found["B"][1][[0, 2, 3]] == pytest.approx([2.0, 4.0, 6.0])
    assert np.isnan(found["base"][1][1])


def test_measured_points_lie_on_the_axis_of_their_profile(traces: Traces) -> None:
    distance = np.linspace(0, 0.1, 5)
    traces.units = {"length": "mm", "temperature": "°C"}
    traces.shown_quantity = "T"
    traces.measured = [("profile", "T", "probe", np.array([0.05]), np.array([298.15]), "RMS 0 K")]
    traces.show_profiles([("base", distance, np.full(5, 298.15))], ("temperature", "temperature"))
    found = curves(traces)
    assert found["probe"][0] == pytest.approx([50.0]) and found["probe"][1] == pytest.approx([25.0])
    assert "RMS" in traces.plot.getPlotItem().titleLabel.text


def test_curves_are_copied_as_they_are_drawn(traces: Traces) -> None:
    traces.columns = {"iteration": [1, 2], "drop": [1e3, 2e3], "momentum": [1, 0.1]}
    traces.show_page("Readings")
    assert traces.as_text() == "iteration\tDrop\n1\t1\n2\t2"
