"""Cases of the former format: today's demos as they were stored before names changed."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import apply, load, parse_case, review, save
from mop_lantern.case.document import SCHEMA
from mop_lantern.case.migrations import migrated, present_path
from mop_lantern.cli.main import main
from mop_lantern.errors import EditError
from mop_lantern.judge import NetworkResult
from mop_lantern.results.runs import load_run, variant_folder
from tests.conftest import DEMOS

FORMER = sorted((Path(__file__).parent / "schema-2").glob("*.lantern"))

SINCE = {  # what demos were given since
    "plate-start": {f"field.warm.{wall}.capacity": "3.8 MJ/m3/K" for wall in ("upper", "lower")},
}


def without_words(data: dict[str, Any]) -> dict[str, Any]:
    """Give a case without what people wrote in it."""
    return {key: value for key, value in data.items() if key not in ("notes", "title")}


@pytest.mark.parametrize("path", FORMER, ids=lambda path: path.stem)
def test_former_demos_open_as_the_present_ones_and_save_as_such(path: Path, tmp_path: Path) -> None:
    case = load(path)
    present = load(DEMOS / path.name)
    edited = apply(case, SINCE.get(path.stem, {}))
    assert without_words(edited.as_data()) == without_words(present.as_data())
    assert not review(case, "", brief=True).blocked
    save(case, tmp_path / "new.lantern")
    stored = json.loads((tmp_path / "new.lantern").read_text())
    assert stored["schema"] == SCHEMA and load(tmp_path / "new.lantern") == case
    assert "runs" not in stored.get("network", {}) and "run" not in stored["field"]


def test_all_demos_of_then_are_stored() -> None:
    assert len(FORMER) == 20 and all(json.loads(path.read_text())["schema"] < SCHEMA for path in FORMER)


@pytest.mark.parametrize("name", ["duct-tree", "pulsed-line"])
def test_former_demos_are_solved(name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / f"{name}.lantern"
    path.write_bytes((FORMER[0].parent / path.name).read_bytes())
    assert main(["solve", str(path), "--set", "field.time.until=0.05 s"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["standard"] and answer["trust"]
    assert load_run(Path(answer["run"])).case["schema"] == SCHEMA


def test_every_name_that_changed_is_brought_up() -> None:
    former = {
        "schema": 2,
        "title": "the lid1 of ends.lid1",
        "shape": {
            "space": "space",
            "solids": {
                "pipe": {"kind": "run"},
                "ends": {"kind": "lid", "of": "pipe"},
                "fluid": {"kind": "hollow", "of": "pipe"},
            },
        },
        "field": {
            "run": {"most": "7"},
            "start": {"run": "base/001"},
            "openings": {"in": {"kind": "static_pressure", "edge": "ends.lid1", "pressure": "0 Pa"}},
        },
        "network": {
            "operations": {"o": {"at": "1 s", "path": "network.runs.r.parts.v.opening", "value": "0 %"}},
            "runs": {"r": {"start": "a", "end": "b"}},
        },
        "readings": {"q": {"kind": "run_value", "run": "r", "figure": "velocity"}},
        "variants": {
            "B": {
                "edits": {
                    "field.run.most": "9",
                    "readings.q.run": "s",
                    "readings.new": {"kind": "run_value", "run": "r"},
                    "network.runs.r.fluid": "w",
                    "field.openings.in.edge": "ends.lid",
                    "shape.solids.cap": {"kind": "lid", "of": "pipe"},
                    "network.operations.o.path": "network.runs.r.parts.w.opening",
                }
            }
        },
    }
    before = json.dumps(former)
    found = migrated(former)
    assert json.dumps(former) == before, "the given document is left as it is"
    assert [item["kind"] for item in found["shape"]["solids"].values()] == [
        "passage",
        "cap",
        "internal_volume",
    ]
    assert found["title"] == "the lid1 of ends.lid1", "what people wrote stays"
    assert found["field"]["solver"] == {"most": "7"} and found["field"]["start"] == {"solution": "base/001"}
    assert found["field"]["openings"]["in"]["edge"] == "ends.cap1"
    assert found["network"]["lines"] == {"r": {"start": "a", "end": "b"}}
    assert found["network"]["operations"]["o"]["path"] == "network.lines.r.parts.v.opening"
    assert found["readings"]["q"] == {"kind": "line_value", "line": "r", "figure": "velocity"}
    edits = found["variants"]["B"]["edits"]
    assert edits == {
        "field.solver.most": "9",
        "readings.q.line": "s",
        "readings.new": {"kind": "line_value", "line": "r"},
        "network.lines.r.fluid": "w",
        "field.openings.in.edge": "ends.cap",
        "shape.solids.cap": {"kind": "cap", "of": "pipe"},
        "network.operations.o.path": "network.lines.r.parts.w.opening",
    }


@pytest.mark.parametrize(
    "former",
    [
        {"schema": 2, "shape": [], "field": 3, "network": "x", "readings": None, "variants": {"B": 1}},
        {"schema": 2, "shape": {"solids": {"a": 1}}, "readings": {"r": []}, "variants": {"B": {"edits": 2}}},
        {"schema": 2, "network": {"operations": {"o": {"path": 5}}}, "variants": []},
    ],
)
def test_damaged_former_documents_do_not_break_it(former: dict[str, Any]) -> None:
    assert migrated(former)["schema"] == SCHEMA


def test_a_former_path_is_refused_with_its_present_name(channel: dict[str, Any]) -> None:
    assert present_path("network.runs.a.start") == "network.lines.a.start"
    assert present_path("field.runny") == "field.runny"
    with pytest.raises(EditError, match=r"Write field\.solver\.most"):
        apply(parse_case(channel), {"field.run.most": "3"})


def test_former_results_are_found_and_read(tmp_path: Path) -> None:
    assert variant_folder(tmp_path, "").name == "base"
    (tmp_path / "as-drawn" / "001").mkdir(parents=True)
    assert variant_folder(tmp_path, "").name == "as-drawn"
    former = {
        "nodes": {},
        "runs": {"r": {"velocity": 1.0}},
        "parts": {},
        "kinds": {},
        "ends": {"r": ["a", "b"]},
    }
    assert NetworkResult.of(former).lines == {"r": {"velocity": 1.0}}
    record = {
        "case": {"schema": 2, "field": {"run": {"most": "7"}}},
        "variant": "",
        "readings": {},
        "trust": [],
        "converged": True,
        "iterations": 1,
        "cells": 1,
        "seconds": 1.0,
        "grid": {},
        "versions": {},
    }
    (tmp_path / "as-drawn" / "001" / "run.json").write_text(json.dumps(record))
    assert load_run(tmp_path / "as-drawn" / "001").case["field"] == {"solver": {"most": "7"}}
