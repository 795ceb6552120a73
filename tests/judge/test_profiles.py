"""Readings that engineers take from a field: wall shear, turning points, sections, coefficients, places of
extremes, integrals, decay.
"""

from __future__ import annotations

import csv
import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from bench.trust_cases import passage
from mop_lantern.case import apply, parse_case, settle
from mop_lantern.cli import main
from mop_lantern.judge import FieldResult, measure
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer


@pytest.fixture(scope="module")
def flow() -> tuple[dict[str, Any], Solving]:
    """Solve developed flow between plates once: mean 10 mm/s, 10 mm wide, 1 mPa s."""
    data: dict[str, Any] = {
        "title": "c",
        "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "depth": "0.5 m",
            "parts": {
                "run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "40 mm", "width": "10 mm"}
            },
        },
        "field": {
            "openings": {
                "in": {
                    "kind": "velocity",
                    "edge": "run.start",
                    "velocity": "10 mm/s",
                    "profile": "developed",
                },
                "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
            },
            "grid": {"cell": "0.5 mm", "across": "1"},
        },
    }
    solving = Solving(settle(parse_case(data)), None, None)
    list(solving.events())
    return data, solving


def taken(flow: tuple[dict[str, Any], Solving], answer: FieldResult | None = None, **reading: Any) -> float:
    """Take one reading of the solved flow."""
    numbers = settle(apply(parse_case(flow[0]), {"readings.r": reading})).numbers.readings
    return measure(numbers, answer or final_answer(flow[1]))["r"].value


SECTION = {"start": ["20 mm", "5 mm"], "end": ["20 mm", "-5 mm"]}  # flow goes to the left of this way


def test_wall_shear_is_a_quantity(flow: Any) -> None:
    """6 mu U / H between plates. Source: White, Viscous Fluid Flow, 3-3."""
    got = taken(flow, kind="edge_value", edge="run.left", quantity="shear")
    assert got == pytest.approx(6 * 1e-3 * 0.01 / 0.01, rel=0.01)
    assert final_answer(flow[1]).cells("shear").max() == pytest.approx(got, rel=0.02)


def test_a_section_inside_gives_flow_and_flow_weighted_mean(flow: Any) -> None:
    """Of a parabola the flow-weighted mean velocity is 6/5 of the mean. Exact."""
    assert taken(flow, kind="section", measure="flow", **SECTION) == pytest.approx(
        -0.01 * 0.01 * 0.5, rel=2e-3
    )
    back = {"start": SECTION["end"], "end": SECTION["start"]}
    assert taken(flow, kind="section", measure="flow", **back) == pytest.approx(0.01 * 0.01 * 0.5, rel=2e-3)
    assert taken(flow, kind="section", measure="flow_mean", quantity="u", **SECTION) == pytest.approx(
        0.012, rel=5e-3
    )
    assert taken(flow, kind="section", measure="mean", quantity="u", **SECTION) == pytest.approx(
        0.01, rel=2e-3
    )
    assert np.isnan(
        taken(flow, kind="section", measure="flow", start=["90 mm", "0 mm"], end=["99 mm", "0 mm"])
    )


def test_a_line_may_be_integrated_and_told_the_place_of_its_extreme(flow: Any) -> None:
    assert taken(flow, kind="line", quantity="u", measure="integral", **SECTION) == pytest.approx(
        1e-4, rel=2e-3
    )
    place = taken(flow, kind="extreme_place", quantity="u", axis="y", **SECTION)
    assert place == pytest.approx(0.0, abs=2e-5)
    assert (
        taken(flow, kind="extreme_place", quantity="pressure", extreme="max", extent="whole", axis="x") < 1e-3
    )
    assert np.isnan(taken(flow, kind="extreme_place", quantity="u", axis="z", **SECTION))


def test_separation_and_reattachment_are_zeros_of_the_shear(flow: Any) -> None:
    answer = final_answer(flow[1])
    mesh, shear = answer.mesh, answer.shear.copy()
    faces = mesh.faces_of("run.left")
    x = mesh.face_centre[mesh.n_internal + faces, 0]
    shear[faces, 0] = (x - 0.01003) * (x - 0.02507) * (x - 0.0331)
    bent = replace(answer, shear=shear)
    edge = {"kind": "turning_point", "edge": "run.left"}
    assert taken(flow, bent, **edge) == pytest.approx(0.01003, abs=1e-5)
    assert taken(flow, bent, which="separation", **edge) == pytest.approx(0.02507, abs=1e-5)
    assert taken(flow, bent, number="2", **edge) == pytest.approx(0.0331, abs=1e-5)
    assert taken(flow, bent, which="either", after="20 mm", **edge) == pytest.approx(0.02507, abs=1e-5)
    assert np.isnan(taken(flow, bent, number="3", **edge))


def test_coefficients_are_forces_and_heat_over_what_is_told(flow: Any) -> None:
    force = taken(flow, kind="force", edge="run.left", part="both", axis="x")
    assert taken(
        flow,
        kind="coefficient",
        edge="run.left",
        of="x",
        force="= 0.5 * 1000 kg/m3 * (10 mm/s)**2 * 40 mm * 0.5 m",
    ) == pytest.approx(force / 1e-3)
    assert np.isnan(taken(flow, kind="coefficient", edge="run.left", of="heat"))


def test_swirl_is_a_quantity_around_an_axis(flow: Any) -> None:
    turned = apply(
        parse_case(flow[0]),
        {
            "shape.space": "axis",
            "readings": {
                "w": {
                    "kind": "line",
                    "quantity": "w",
                    "measure": "max",
                    "start": ["5 mm", "0 mm"],
                    "end": ["5 mm", "5 mm"],
                }
            },
            "field.openings.in.swirl": "3 rad/s",
            "field.grid.cell": "1 mm",
        },
    )
    last = [event for event in Solving(settle(turned), None, None).events() if event["event"] == "finished"][
        -1
    ]
    assert 1e-3 < last["readings"]["w"]["value"] < 15e-3


def test_a_species_decays_on_its_way(flow: Any) -> None:
    """Plug flow: what leaves over what enters is exp(-k L / U), nearly without diffusion. Exact."""
    slip = {"kind": "slip", "edge": "run.left"}
    edits = {
        "field.walls": {"a": slip, "b": {**slip, "edge": "run.right"}},
        "field.openings.in.profile": "uniform",
        "field.openings.in.carries": {"dye": "1"},
        "field.species.dye": {"diffusivity": "1e-9 m2/s", "decay": "0.3 1/s"},
        "field.grid.cell": "1 mm",
        "readings": {"out": {"kind": "edge_value", "edge": "run.end", "quantity": "c.dye"}},
    }
    case = apply(parse_case(flow[0]), edits)
    last = [event for event in Solving(settle(case), None, None).events() if event["event"] == "finished"][-1]
    assert last["readings"]["out"]["value"] == pytest.approx(np.exp(-0.3 * 4.0), rel=0.01)
    assert {item["id"]: item["verdict"] for item in last["trust"]}["balance.c.dye"] == "holds"
    timed = {
        "field.time": {"mode": "transient", "until": "3 s", "step": "0.05 s"},
        "field.species.dye.start": "1",
        "field.openings.in.carries": {"dye": "0"},
        "readings.mean": {"kind": "region", "quantity": "c.dye", "measure": "max"},
    }
    late = [
        event
        for event in Solving(settle(apply(case, timed)), None, None).events()
        if event["event"] == "finished"
    ][-1]
    assert late["readings"]["mean"]["value"] == pytest.approx(np.exp(-0.9), rel=0.02)


def test_a_profile_is_exported_by_the_name_of_its_line_or_its_ends(
    flow: Any, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "c.lantern"
    file.write_text(
        json.dumps({**flow[0], "readings": {"mid": {"kind": "line", "quantity": "u", **SECTION}}})
    )
    assert main(["solve", str(file), "--set", "field.grid.cell=1 mm"]) == 0
    run = json.loads(capsys.readouterr().out)["run"]
    for name in ("mid", "0.02,0.005:0.02,-0.005"):
        assert (
            main(["export", run, "--to", str(tmp_path / "p.csv"), "--line", name, "--quantity", "u,pressure"])
            == 0
        )
        rows = list(csv.reader((tmp_path / "p.csv").open()))
        assert rows[0] == ["distance [m]", "x [m]", "y [m]", "u [m/s]", "pressure [Pa]"] and len(rows) == 202
        assert max(float(row[3]) for row in rows[1:] if row[3]) == pytest.approx(0.015, rel=0.02)
    assert main(["export", run, "--to", str(tmp_path / "p.csv"), "--line", "nobody"]) == 2
    assert "mid" in capsys.readouterr().err
    assert (
        main(["export", run, "--to", str(tmp_path / "none" / "p.csv"), "--line", "mid", "--quantity", "u"])
        == 2
    )


CROSS = {"kind": "cross_section", "at": ["20 mm", "1 mm"]}


def test_a_cross_section_of_a_plane_reaches_from_wall_to_wall(flow: Any) -> None:
    """Of a parabola the flow-weighted mean velocity is 6/5 of the mean. Exact; the flow is the inlet's to
    rounding.
    """
    assert taken(flow, measure="flow", **CROSS) == pytest.approx(0.01 * 0.01 * 0.5, rel=1e-6)
    assert taken(flow, measure="flow", facing_x="-2", **CROSS) == pytest.approx(-0.01 * 0.01 * 0.5, rel=1e-6)
    assert taken(flow, measure="area", **CROSS) == pytest.approx(0.01 * 0.5, rel=1e-9)
    assert taken(flow, measure="flow_mean", quantity="u", **CROSS) == pytest.approx(0.012, rel=5e-3)
    ends = [taken(flow, measure="mean", **{**CROSS, "at": [f"{x} mm", "0 mm"]}) for x in (15.1, 25.1)]
    assert ends[0] - ends[1] == pytest.approx(12 * 1e-3 * 0.01 / 0.01**2 * 0.01, rel=0.01)  # 12 mu U L / H2


def test_a_slanting_cross_section_passes_the_same_flow(flow: Any) -> None:
    slanting = {**CROSS, "facing_x": "1", "facing_y": "0.7"}
    assert taken(flow, measure="flow", **slanting) == pytest.approx(0.01 * 0.01 * 0.5, rel=1e-6)
    assert taken(flow, measure="area", **slanting) == pytest.approx(0.01 * 0.5 * np.hypot(1, 0.7), rel=0.05)


@pytest.mark.parametrize("wrong", [{"at": ["90 mm", "0 mm"]}, {"facing_x": "0"}, {"at": ["20 mm", "9 mm"]}])
def test_a_cross_section_nowhere_has_no_value(flow: Any, wrong: dict[str, Any]) -> None:
    assert np.isnan(taken(flow, measure="flow", **{**CROSS, **wrong}))


def test_of_two_passages_cut_at_once_only_the_one_at_the_place_counts() -> None:
    """A pipe that divides: each way's cross-section passes what its end lets out. In a space, on cut
    cells.
    """
    solids = {
        "trunk": {"kind": "brick", "length": "20 mm", "width": "30 mm", "height": "10 mm"},
        "one": {"kind": "brick", "x": "20 mm", "length": "30 mm", "width": "10 mm", "height": "10 mm"},
        "two": {
            "kind": "brick",
            "x": "20 mm",
            "y": "18 mm",
            "length": "30 mm",
            "width": "12 mm",
            "height": "10 mm",
        },
    }
    ends = {
        key: {"kind": "static_pressure", "edge": f"{key}.east", "pressure": "0 Pa"} for key in ("one", "two")
    }
    data = {
        "title": "c",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}},
        "shape": {"space": "space", "solids": solids},
        "field": {
            "openings": {"in": {"kind": "velocity", "edge": "trunk.west", "velocity": "10 mm/s"}, **ends},
            "grid": {"cell": "2.5 mm"},
        },
        "readings": {
            **{f"out_{key}": {"kind": "flow", "edge": f"{key}.east"} for key in ends},
            "in_one": {"kind": "cross_section", "measure": "flow", "at": ["33 mm", "5 mm", "5 mm"]},
            "in_two": {"kind": "cross_section", "measure": "flow", "at": ["33 mm", "24 mm", "5 mm"]},
            "area": {"kind": "cross_section", "measure": "area", "at": ["33 mm", "24 mm", "5 mm"]},
            "trunk": {"kind": "cross_section", "measure": "flow", "at": ["9 mm", "24 mm", "5 mm"]},
        },
    }
    solving = Solving(settle(parse_case(data)), None, None)
    last = list(solving.events())[-1]
    value = {key: item["value"] for key, item in last["readings"].items()}
    for key in ends:
        assert value[f"in_{key}"] == pytest.approx(abs(value[f"out_{key}"]), rel=1e-5)
    assert value["trunk"] == pytest.approx(value["in_one"] + value["in_two"], rel=1e-5)
    assert value["area"] == pytest.approx(1.2e-4, rel=1e-4)


def test_a_cross_section_of_a_round_pipe_is_that_of_the_whole_body() -> None:
    """Flow and area are those of the full circle; the flow-weighted mean of u is 4/3 of the mean. Exact."""
    data = passage("axis", 32.0).state(10)
    data["readings"] = {
        key: {"kind": "cross_section", "at": ["2 m", "0.1 m"], "measure": key, "quantity": "u"}
        for key in ("flow", "area", "flow_mean")
    }
    value = {
        k: r["value"]
        for k, r in list(Solving(settle(parse_case(data)), None, None).events())[-1]["readings"].items()
    }
    assert value["area"] == pytest.approx(np.pi / 4, rel=1e-6)
    assert value["flow"] == pytest.approx(np.pi / 4, rel=1e-3)
    assert value["flow_mean"] == pytest.approx(4 / 3, rel=0.02)
