"""Networks in time: plugs, tanks, thermostats, the ledger, operations."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.network_bits import RHO, WATER, marching, pipe, sea
from mop_lantern.case import apply, load, parse_case, settle_any
from mop_lantern.case.network_review import SettledNetwork
from mop_lantern.network.plugs import Plugs
from mop_lantern.results import load_run, open_working
from mop_lantern.solve import NetworkSolving

DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"


@settings(max_examples=80, deadline=None)
@given(moves=st.lists(st.tuples(st.floats(0, 3), st.floats(-50, 90), st.booleans()), max_size=30))
def test_plugs_lose_nothing(moves: list[tuple[float, float, bool]]) -> None:
    """What enters less what leaves is what the pipe has gained, whichever way it flows."""
    plugs = Plugs(2.0, 20.0)
    for volume, value, forward in moves:
        before = plugs.total
        a, b = plugs.leaving(volume, forward)
        plugs.push(value, volume, forward)
        assert plugs.volumes.sum() == pytest.approx(2.0)
        assert plugs.total - before == pytest.approx(
            volume * (value - a * value - b), abs=1e-9 * (1 + volume * 100)
        )


def test_a_front_arrives_when_the_pipe_has_been_filled() -> None:
    nodes: dict[str, Any] = {"a": {"kind": "junction", "feed": "1 L/s", "temperature": "60 °C"}, "b": sea()}
    march = marching(
        nodes, {"r": ("a", "b", {"p": pipe("50 m", "40 mm", "0 mm")})}, thermal=True, outside="20 °C"
    )
    delay = np.pi / 4 * 0.04**2 * 50 / 1e-3
    outlets = {}
    while march.time < 1.5 * delay:
        made = march.step(1.0)
        outlets[march.time] = float(made.outlet[0]) - 273.15
    early = [value for time, value in outlets.items() if time < delay - 2]
    late = [value for time, value in outlets.items() if time > delay + 2]
    assert max(early) < 20.5 and min(late) > 59.9, "a plug does not mix"
    assert march.ledger.balance < 1e-9


def test_a_slow_pipe_cools_as_it_should() -> None:
    """The steady end of a followed pipe is that of the steady solver: O-3.9."""
    nodes: dict[str, Any] = {
        "a": {"kind": "junction", "feed": f"{0.2 / RHO!r} m3/s", "temperature": "80 °C"},
        "b": sea(),
    }
    march = marching(
        nodes,
        {"r": ("a", "b", {"p": pipe("100 m", "42 mm", "0.045 mm", film="12 W/m2/K", outside="15 °C")})},
        thermal=True,
    )
    while march.time < 2500:
        made = march.step(5.0)
    assert made.outlet[0] - 273.15 == pytest.approx(68.7993, abs=0.05)
    assert march.ledger.balance < 1e-9


def test_communicating_tanks_level_out_and_keep_their_volume() -> None:
    tank = {"kind": "tank", "area": "1 m2", "height": "3 m"}
    march = marching(
        {"a": {**tank, "level": "2 m"}, "b": {**tank, "level": "0.5 m"}},
        {"r": ("a", "b", {"p": pipe("5 m", "80 mm", "0.1 mm"), "k": {"kind": "loss"}})},
    )
    while march.time < 1200:
        march.step(5.0)
        assert march.tanks.level.sum() == pytest.approx(2.5, rel=1e-9)
    assert march.tanks.level == pytest.approx([1.25, 1.25], abs=1e-3)


def test_steps_of_any_length_tend_to_the_same() -> None:
    ends = []
    for step in (20.0, 10.0, 5.0):
        march = marching(
            {"t": {"kind": "tank", "area": "1 m2", "level": "2 m"}, "b": sea()},
            {"r": ("t", "b", {"k": {"kind": "loss", "bore": "40 mm"}})},
        )
        while march.time < 400:
            march.step(step)
        ends.append(float(march.tanks.level[0]))
    assert abs(ends[2] - ends[1]) < 0.6 * abs(ends[1] - ends[0])


def solving_of(data: Any, runs: Path | None = None, **edits: Any) -> NetworkSolving:
    """Begin to solve a network case with edits."""
    settled = settle_any(apply(data, edits))
    assert isinstance(settled, SettledNetwork)
    return NetworkSolving(settled, runs)


def test_the_drive_warms_by_what_is_lost() -> None:
    """Closing the flow-control valve raises the heating rate by the power no longer given as work; thin oil
    loses less.
    """
    case = load(DEMOS / "gate-drive.lantern")
    kept: dict[str, Any] = {
        "network.operations": {},
        "network.time.until": "10 min",
        "network.nodes.tank.film": "0 W/m2/K",
    }
    for line in case.network.lines:
        kept |= {
            f"network.lines.{line}.parts.{name}.film": "0 W/m2/K"
            for name, part in case.network.lines[line].parts.items()
            if part.kind == "pipe"
        }
    closing = {
        "network.operations.shut": {
            "at": "5 min",
            "path": "network.lines.drive.parts.control.limit",
            "value": "0 L/min",
        }
    }
    solving = solving_of(case, None, **kept, **closing)
    list(solving.events())
    march, rows = solving._march, {key: np.array(column) for key, column in solving._columns.items()}
    assert march is not None and march.ledger.balance < 1e-9 and march.made is not None
    time, tank = rows["time"], rows["tank"]
    open_, shut = (time > 240) & (time <= 300), (time > 540) & (time <= 600)
    capacity = float(march.capacity[0])
    circulating = (
        march.tanks.level[0] * 0.25 * march.fluids["oil"].at("density", tank[-1])
        + march.plugs["pump.suction"].content * march.made.net.density[0]
    )
    rate = np.polyfit(time[shut], tank[shut], 1)[0]
    assert rate == pytest.approx(rows["power"][shut].mean() / (circulating * capacity), rel=0.01)
    given = rows["work"][open_].mean()
    assert given > 1500 and np.abs(rows["work"][shut]).max() < 1.0
    slower = np.polyfit(time[open_], tank[open_], 1)[0]
    assert rate > slower and rows["line"][open_][-1] < 0.7 * rows["line"][2], "warm oil is thin"


def test_the_cooler_cycles_and_the_diverter_routes(tmp_path: Path) -> None:
    case = load(DEMOS / "gate-drive.lantern")
    solving = solving_of(case, tmp_path, **{"network.time.step": "10 s"})
    end = [event for event in solving.events() if event["event"] == "finished"][-1]
    assert end["converged"] and end["time"] == pytest.approx(7200)
    heat, time = np.array(solving._columns["cooler"]), np.array(solving._columns["time"])
    assert np.abs(heat[time < 2390]).max() < 1.0, "the diverter sends nothing through the cooler yet"
    on = heat < -1000
    assert 2 <= np.count_nonzero(on[1:] & ~on[:-1]) <= 60, "it switches on and off between its temperatures"
    record = load_run(Path(end["run"]))
    assert len(record.traces["time"]) == end["iterations"] and any(
        item["id"] == "heat_ledger" for item in record.trust
    )
    assert open_working(Path(end["run"])).nodes["tank"]["temperature"] == pytest.approx(
        record.readings["tank"]["value"]
    )


def test_what_was_worked_by_hand_replays_exactly(tmp_path: Path) -> None:
    case = load(DEMOS / "gate-drive.lantern")
    first = solving_of(case, tmp_path, **{"network.time.until": "4 min", "network.operations": {}})
    for event in first.events():
        if event["event"] == "progress" and not first.worked:
            assert first.work("network.lines.drive.parts.control.limit", "5 L/min") == ""
            assert "no “nothing”" in first.work(
                "network.lines.drive.parts.control.nothing", "1"
            ) or first.work("network.lines.nobody.parts.x.opening", "1")
    if not first.worked:
        pytest.skip("this machine was through before the valve could be turned")
    again = solving_of(first.case_with_operations())
    list(again.events())
    assert (
        again._columns["tank"] == first._columns["tank"] and again._columns["flow"] == first._columns["flow"]
    )


def test_a_wrong_operation_is_told_before_the_solve() -> None:
    case = load(DEMOS / "gate-drive.lantern")
    for path in ("network.lines.drive.parts.nothing.opening", "title"):
        with pytest.raises(Exception, match="nothing|not something that can be operated"):
            settle_any(apply(case, {"network.operations.open.path": path}))


def test_a_store_without_end_is_noted() -> None:
    from mop_lantern.case import review

    lines = {
        "r": {"start": "a", "end": "j", "parts": {"p": {"kind": "gear_pump", "bore": "20 mm"}}},
        "b": {"start": "j", "end": "a", "parts": {"p": pipe("5 m", "20 mm", "0.1 mm")}},
    }
    data = {
        "title": "n",
        "media": WATER,
        "network": {"thermal": True, "nodes": {"a": sea(), "j": {"kind": "junction"}}, "lines": lines},
    }
    assert {"endless_store"} <= {note.kind for note in review(parse_case(data)).notes}
