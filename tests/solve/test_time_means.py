"""Means of whole fields over time: by hand on a tiny mesh, and of a pulsed channel and what came of it."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.judge import FieldResult, Measured
from mop_lantern.judge.field_result import Scalar
from mop_lantern.judge.packing import pack, unpack
from mop_lantern.results import open_answer, open_state, state_times
from mop_lantern.solve import Solving
from mop_lantern.solve.time_means import FieldMeans, means_trust
from tests.conftest import channel_case
from tests.lattices import lattice, points_of

SIZE, SPEED = 0.5, 0.010  # of the swing about the mean; m/s
PULSED = {
    "field.openings.in": {
        "kind": "velocity",
        "edge": "run.start",
        "velocity": f"= 10 mm/s * (1 + {SIZE} * sin(2 * pi * t / 0.5 s))",
    },
    "field.time": {
        "mode": "transient",
        "until": "3 s",
        "step": "0.025 s",
        "courant": "0",
        "every": "1 s",
        "shows": "mean",
        "mean_from": "1 s",
    },
    "field.grid.cell": "2.5 mm",
    "readings": {
        "in": {"kind": "flow", "edge": "run.start", "way": "in"},
        "swing": {"kind": "edge_value", "edge": "run.start", "quantity": "swing"},
    },
}


def still(time: float, speed: float, warmth: float = 0.0) -> FieldResult:
    """A field with one velocity and one temperature everywhere."""
    mesh = lattice(points_of(np.linspace(0, 1, 3), np.linspace(0, 1, 3)))
    cells, outer = mesh.n_cells, mesh.n_boundary
    there = np.tile([speed, 0.0, 0.0], (cells, 1))
    warm = Scalar(
        np.full(cells, warmth), np.full(outer, warmth), np.full(outer, 2 * warmth), "T", "temperature"
    )
    return FieldResult(
        mesh,
        there,
        np.full(cells, speed),
        np.full(len(mesh.owner), speed),
        there[mesh.owner[mesh.n_internal :]],
        np.zeros(outer),
        np.zeros((outer, 3)),
        1.0,
        {"T": warm},
        time,
    )


def test_trapezoids_between_steps_of_any_length() -> None:
    means = FieldMeans(1.0, 5.0)
    for time, speed in ((0.5, 99.0), (1.0, 2.0), (2.0, 4.0), (4.0, 0.0), (5.0, 0.0)):
        means.add(still(time, speed, 300 + speed))
    mean = means.answer(still(5.0, 0.0, 300.0))
    assert np.allclose(mean.velocity[:, 0], (3 + 4 + 0) / 4), "what comes before 1 s does not count"
    assert np.allclose(mean.scalars["T"].leaving, 2 * (300 + 7 / 4))
    squares = (0.5 * (4 + 16) + 0.5 * 2 * 16) / 4
    assert np.allclose(mean.cells("swing"), np.sqrt(squares - (7 / 4) ** 2))
    assert np.allclose(mean.boundary("swing"), mean.cells("swing")[0])
    assert (mean.since, mean.time) == (1.0, 5.0)
    assert means.enough and mean.quantities["swing"][1] == "velocity"


def test_a_field_that_goes_on_in_its_arrays_does_not_change_what_was_taken() -> None:
    means = FieldMeans(0.0, 2.0)
    answer = still(0.0, 1.0)
    for time in (0.0, 1.0, 2.0):
        answer.velocity[:, 0] = time
        means.add(replace(answer, time=time))
    assert np.allclose(means.answer(answer).velocity[:, 0], 1.0)


def test_halves_tell_a_flow_that_is_on_its_way_from_one_that_swings() -> None:
    volume = still(0.0, 0.0).mesh.volume

    def drift(course: Any) -> float | None:
        means = FieldMeans(0.0, 8.0)
        for time in np.linspace(0, 8, 161):
            means.add(still(float(time), float(course(time))))
        return means.drift(volume)

    assert drift(lambda t: 1 + 0.5 * np.sin(np.pi * t)) == pytest.approx(0.0, abs=1e-3)
    assert drift(lambda t: np.sin(np.pi * t)) == pytest.approx(0.0, abs=1e-3), "of the swing where no mean is"
    assert drift(lambda t: 1 + 0.1 * t) == pytest.approx(0.4 / 1.4, rel=0.02)
    assert drift(lambda t: 0.0) == 0.0


def test_too_few_steps_and_one_half_are_told() -> None:
    means = FieldMeans(3.0, 5.0)
    for time in (1.0, 2.0, 3.0, 3.2, 3.4):
        means.add(still(time, 1.0))
    item = means.trust(still(0, 0).mesh.volume)[0]
    assert item.verdict == "fails" and "the flow at the end is shown" in item.text and "3 s" in item.text
    means.add(still(3.6, 1.0))
    item = means.trust(still(0, 0).mesh.volume)[0]
    assert item.verdict == "caution" and "from 3 s to 3.6 s" in item.text
    assert means_trust({}) == [] and means_trust({"still": 0.0}) == []


def test_when_a_mean_began_is_kept_in_files() -> None:
    answer = replace(still(5.0, 1.0), since=2.5)
    assert unpack(answer.mesh, pack(answer)).since == 2.5
    assert unpack(answer.mesh, pack(still(5.0, 1.0))).since is None


@pytest.fixture(scope="module")
def pulsed(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, dict[str, Any]]:
    """A channel whose inflow swings by half, its fields in the mean of four periods."""
    case = apply(parse_case(channel_case()), PULSED)
    folder = tmp_path_factory.mktemp("pulsed")
    solving = Solving(settle(case), None, folder)
    return folder, [event for event in solving.events() if event["event"] == "finished"][-1]


def test_the_answer_is_the_mean_and_its_mass_balances(pulsed: tuple[Path, dict[str, Any]]) -> None:
    run = Path(pulsed[1]["run"])
    answer = open_answer(run)
    assert (answer.since, answer.time) == (pytest.approx(1.0), pytest.approx(3.0))
    mesh = answer.mesh
    inward = -answer.flux[mesh.n_internal :][mesh.patch == mesh.patch_names.index("run.start")].sum()
    wide = np.linalg.norm(
        mesh.area[mesh.n_internal :][mesh.patch == mesh.patch_names.index("run.start")], axis=1
    )
    assert inward == pytest.approx(SPEED * wide.sum(), rel=2e-3)
    sums = np.bincount(mesh.owner, answer.flux, mesh.n_cells)
    sums -= np.bincount(mesh.neighbour, answer.flux[: mesh.n_internal], mesh.n_cells)
    assert np.abs(sums).max() < 1e-10 * inward


def test_readings_are_taken_on_the_mean_and_tell_their_swing(pulsed: tuple[Path, dict[str, Any]]) -> None:
    """The root of the mean square of a sine is its height over the root of two."""
    readings = pulsed[1]["readings"]
    even = readings["in"]["value"] / SPEED
    assert readings["in"]["swing"] == pytest.approx(SIZE * SPEED * even, rel=0.02)
    assert readings["swing"]["value"] == pytest.approx(SIZE * SPEED / np.sqrt(2), rel=0.02)
    items = {item["id"]: item for item in pulsed[1]["trust"]}
    assert items["mean_field"]["verdict"] == items["means"]["verdict"] == "holds"
    assert "from 1 s to 3 s" in items["mean_field"]["text"]


def test_moments_are_kept_beside_the_mean_and_gone_on_from(pulsed: tuple[Path, dict[str, Any]]) -> None:
    run = Path(pulsed[1]["run"])
    mean = open_answer(run)
    assert state_times(run) == pytest.approx([1.0, 2.0, 3.0])
    last = open_state(run, 3.0, mean.mesh)
    assert last.since is None and not np.allclose(last.velocity, mean.velocity)
    on = {"field.start.solution": str(run), "field.time.until": "3.1 s", "field.time.shows": "end"}
    data = apply(parse_case(channel_case()), {**PULSED, **on, "readings.swing": None})
    solving = Solving(settle(data), None, None)
    start = solving._named_start(mean.mesh)
    assert (
        start is not None and np.allclose(start.velocity, last.velocity) and start.time == pytest.approx(3.0)
    )


def test_a_mean_on_its_way_is_gone_on_with(tmp_path: Path) -> None:
    """An inflow that grows while it is followed; then from its last state, which stays."""
    rising = {**PULSED["field.openings.in"], "velocity": "= 10 mm/s * (1 + min(t, 2 s) / 2 s)"}
    short = {**PULSED["field.time"], "until": "2 s", "step": "0.1 s", "every": "2 s"}
    case = apply(parse_case(channel_case()), {**PULSED, "field.openings.in": rising, "field.time": short})
    told = [*Solving(settle(case), None, tmp_path).events()][-1]
    item = next(item for item in told["trust"] if item["id"] == "mean_field")
    assert item["verdict"] == "caution" and item["remedy"] == "Go on in time, twice as long"
    assert item["edits"]["field.time.until"] == "4 s" and item["edits"]["field.time.mean_from"] == "2 s"
    further = Solving(settle(apply(case, item["edits"])), None, None)
    told = [*further.events()][-1]
    item = next(item for item in told["trust"] if item["id"] == "mean_field")
    assert item["verdict"] == "holds" and "from 2.1 s to 4 s" in item["text"], item["text"]


def test_a_mean_that_begins_after_the_end_is_refused(channel: dict[str, Any]) -> None:
    late = {**PULSED["field.time"], "mean_from": "3 s"}
    faults = review(apply(parse_case(channel), {**PULSED, "field.time": late})).faults
    assert [fault.path for fault in faults] == ["field.time.mean_from"]
    steady = apply(parse_case(channel), {"field.time.shows": "mean", "field.time.mean_from": "1 h"})
    assert not review(steady).faults, "a steady case has no use for it"


def test_a_swing_is_read_of_means_only(channel: dict[str, Any]) -> None:
    case = apply(parse_case(channel), {"readings": {"s": PULSED["readings"]["swing"]}})
    fault = review(case).faults[0]
    assert fault.path == "readings.s.quantity" and "mean over time" in str(fault)


def test_a_temperature_drifts_by_what_differs_in_the_space() -> None:
    """It creeps by 0.02 K from half to half, and swings by no more: a hundredth of 2 K between places."""
    means = FieldMeans(0.0, 10.0)
    for time in np.linspace(0, 10, 11):
        means.add(still(float(time), 1.0))
    columns = {"time": np.linspace(0, 10, 101), "t": 293 + np.linspace(0, 0.04, 101)}
    taken = {"t": Measured(293.0, "temperature", "Air")}
    assert means.drifts(taken, columns, {"temperature": 2.0})["t"] == pytest.approx(0.01, rel=0.05)
    assert means.drifts(taken, columns, {"temperature": 0.0})["t"] == pytest.approx(0.25, rel=0.05), (
        "of four times its swing"
    )
    columns["q"] = 1e-14 * np.linspace(-1, 3, 101)
    taken = {"q": Measured(1e-14, "volume_flow", "Door")}
    assert means.drifts(taken, columns, {"volume_flow": 0.2})["q"] < 1e-9, "of all that passes"
    assert means.drifts(taken, columns, {"volume_flow": 0.0})["q"] > 0.1
    plain = {"t": Measured(293.0, "pressure", "Fall")}
    assert means.drifts(plain, columns, {"volume_flow": 0.0})["t"] < 1e-4
