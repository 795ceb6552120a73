"""What the command line says and how it ends: done 0, bad input 2, not trusted 3; never a traceback."""

from __future__ import annotations

import csv
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, load, parse_case, save
from mop_lantern.cli.main import main, parser
from tests.conftest import DEMOS

Captured = pytest.CaptureFixture[str]

PUMPED: dict[str, Any] = {
    "title": "two taps",
    "media": {"w": {"kind": "water", "temperature": "15 °C"}},
    "network": {
        "nodes": {
            "sea": {"kind": "reservoir", "over": "30 kPa"},
            "m": {"kind": "junction"},
            "a": {"kind": "reservoir", "over": "0 Pa"},
            "b": {"kind": "reservoir", "over": "0 Pa"},
        },
        "lines": {
            "main": {"start": "sea", "end": "m", "parts": {"p": {"kind": "pipe", "length": "20 m"}}},
            "near": {
                "start": "m",
                "end": "a",
                "parts": {
                    "p": {"kind": "pipe", "length": "5 m"},
                    "v": {"kind": "valve", "kv": "20 m3/h", "bore": "40 mm", "opening": "100 %"},
                },
            },
            "far": {
                "start": "m",
                "end": "b",
                "parts": {
                    "p": {"kind": "pipe", "length": "25 m"},
                    "v": {"kind": "valve", "kv": "20 m3/h", "bore": "40 mm", "opening": "100 %"},
                },
            },
        },
    },
}


@pytest.fixture
def file(channel: dict[str, Any], tmp_path: Path) -> Path:
    """Save the channel case."""
    path = tmp_path / "channel.lantern"
    save(parse_case(channel), path)
    return path


@pytest.fixture
def network(tmp_path: Path) -> Path:
    """Save a small network."""
    path = tmp_path / "taps.lantern"
    save(parse_case(PUMPED), path)
    return path


@pytest.fixture(scope="module")
def run(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Solve the smallest case once; give the folder of its run."""
    from mop_lantern.case import settle
    from mop_lantern.results import runs_folder
    from mop_lantern.solve import Solving

    path = tmp_path_factory.mktemp("run") / "small.lantern"
    data: dict[str, Any] = {
        "title": "small",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "depth": "1 m",
            "parts": {
                "run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "20 mm", "width": "10 mm"}
            },
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "run.start", "velocity": "5 mm/s"},
                "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
            },
            "grid": {"cell": "2 mm"},
            "solver": {"coarse": "0"},
        },
        "readings": {
            "middle": {
                "kind": "line",
                "quantity": "u",
                "measure": "mean",
                "start": ["10 mm", "-5 mm"],
                "end": ["10 mm", "5 mm"],
            }
        },
    }
    save(parse_case(data), path)
    solving = Solving(settle(load(path)), None, runs_folder(path))
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    return Path(last["run"])


def said(capsys: Captured, *words: str) -> tuple[int, str, str]:
    """Run a command in this process; give how it ended and what it said."""
    code = main(list(words))
    told = capsys.readouterr()
    assert "Traceback" not in told.err
    return code, told.out, told.err


# --- demos and showing ---


def test_demos_are_listed_with_their_titles(capsys: Captured) -> None:
    code, out, _ = said(capsys, "demo", "--list")
    names = {line.split()[0] for line in out.splitlines()}
    assert code == 0 and names == {path.stem for path in DEMOS.glob("*.lantern")}
    assert all(len(line.split(maxsplit=1)[1]) > 5 for line in out.splitlines())


def test_a_demo_that_is_none_is_told_with_those_there_are(capsys: Captured) -> None:
    code, _, err = said(capsys, "demo", "banana")
    assert code == 2 and "banana" in err and "rearing-loop" in err


@pytest.mark.parametrize("name", sorted(path.stem for path in DEMOS.glob("*.lantern")))
def test_every_demo_is_shown_as_sentences(capsys: Captured, name: str) -> None:
    code, out, err = said(capsys, "show", str(DEMOS / f"{name}.lantern"))
    assert code == 0 and err == ""
    lines = out.splitlines()
    assert lines[0] == load(DEMOS / f"{name}.lantern").title
    assert "{" not in out and "None" not in out
    assert len(lines) > 10


def test_showing_a_variant_and_edits_that_are_not_kept(capsys: Captured, file: Path) -> None:
    before = file.read_text("utf-8")
    code, out, _ = said(capsys, "show", str(file), "--variant", "B", "--set", "title=Another")
    assert code == 0 and out.startswith("Another") and "14 mm" in out
    assert file.read_text("utf-8") == before


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (("--set", "title"), "PATH=VALUE"),
        (("--set", "field.openings.nowhere.velocity=1 m/s"), "nowhere"),
        (("--set", "shape.parts.run.length=5 kg"), "run.length"),
        (("--variant", "Z"), "Z"),
    ],
)
def test_edits_and_variants_that_cannot_be_are_told(
    capsys: Captured, file: Path, words: tuple[str, ...], told: str
) -> None:
    code, out, err = said(capsys, "solve", str(file), *words)
    assert code == 2 and told in err and out == ""


def test_check_names_faults_and_notes_apart(capsys: Captured, file: Path) -> None:
    code, out, _ = said(capsys, "check", str(file), "--set", "shape.parts.run.width=0 mm")
    assert code == 2 and out.startswith("blocked")
    code, out, _ = said(capsys, "check", str(file), "--set", "field.openings.in.velocity=30 m/s")
    assert "Reynolds number 600,000 on twice the gap at in: solved as turbulent (k-omega SST) flow" in out


def test_a_file_that_is_none_ends_with_2(capsys: Captured, tmp_path: Path) -> None:
    for command in ("show", "check", "solve", "open"):
        code, _, err = said(capsys, command, str(tmp_path / "none.lantern"))
        assert code == 2 and "none.lantern" in err


def test_the_schema_is_json(capsys: Captured) -> None:
    code, out, _ = said(capsys, "schema")
    assert code == 0 and {"title", "shape", "network"} <= set(json.loads(out)["properties"])


def test_every_command_has_help() -> None:
    words = parser().format_help()
    for command in (
        "solve",
        "show",
        "check",
        "export",
        "import",
        "balance",
        "size",
        "demo",
        "bench",
        "schema",
    ):
        assert command in words
    with pytest.raises(SystemExit) as ended:
        parser().parse_args(["no such command"])
    assert ended.value.code == 2


# --- export ---


def test_a_profile_along_the_line_of_a_reading_and_along_typed_ends(
    capsys: Captured, run: Path, tmp_path: Path
) -> None:
    tables = []
    for line in ("middle", "0.01,-0.005:0.01,0.005"):
        out = tmp_path / "line.csv"
        code, _, err = said(
            capsys, "export", str(run), "--to", str(out), "--line", line, "--quantity", "u,pressure"
        )
        assert code == 0, err
        with out.open() as rows:
            tables.append(list(csv.reader(rows)))
    assert tables[0] == tables[1]
    head, *rows = tables[0]
    assert any("u" in cell for cell in head) and len(rows) > 100
    values = np.array([[float(cell or "nan") for cell in row] for row in rows])
    inside = values[np.isfinite(values).all(axis=1)]
    assert inside[:, -2].max() == pytest.approx(0.0075, rel=0.25), "faster in the middle than the mean 5 mm/s"


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (("--to", "x.docx"), "Formats"),
        (("--to", "x"), "Formats"),
        (("--to", "x.png", "--quantity", "wings"), "Known"),
        (("--to", "x.csv", "--line", "nowhere"), "middle"),
        (("--to", "x.csv", "--line", "0,0:1"), "not a line"),
        (("--to", "/nowhere/at/all.csv"), "/nowhere/at/all.csv"),
        (("--to", "x.mp4"), "no states"),
    ],
)
def test_exports_that_cannot_be_are_told(
    capsys: Captured,
    run: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    words: tuple[str, ...],
    told: str,
) -> None:
    monkeypatch.chdir(tmp_path)
    code, _, err = said(capsys, "export", str(run), *words)
    assert code in (1, 2) and told in err, err


def test_a_folder_that_holds_no_run_is_told(capsys: Captured, tmp_path: Path) -> None:
    code, _, err = said(capsys, "export", str(tmp_path), "--to", str(tmp_path / "x.csv"))
    assert code == 2 and str(tmp_path) in err


def test_pictures_follow_the_views_of_the_case(capsys: Captured, run: Path, tmp_path: Path) -> None:
    """What a case keeps of scales and layers holds for the shell too; what is wrong with it is told."""
    record = run / "run.json"
    kept = record.read_text("utf-8")
    out = tmp_path / "p.png"
    assert said(capsys, "export", str(run), "--to", str(out))[0] == 0
    plain = out.read_bytes()
    data = json.loads(kept)
    try:
        data["case"]["views"] = {"scales": {"speed": {"highest": "1 m/s"}}}
        record.write_text(json.dumps(data), "utf-8")
        code, _, err = said(capsys, "export", str(run), "--to", str(out))
        if code == 0:  # a run whose record was changed is refused by its sum
            assert out.read_bytes() != plain
        else:
            assert "run.json" in err or str(run) in err
    finally:
        record.write_text(kept, "utf-8")


# --- import ---


def test_lines_of_words_and_a_table_of_components_go_there_and_back(
    capsys: Captured, network: Path, tmp_path: Path
) -> None:
    from mop_lantern.case import table_of

    table = tmp_path / "parts.csv"
    table.write_text(table_of(load(network)).replace("5 m", "6 m"), "utf-8")
    code, out, err = said(capsys, "import", str(table), "--into", str(network))
    assert code == 0, err
    assert json.loads(out)["changed"] >= 1
    parts = load(network).network.lines["near"].parts
    assert parts["p"].length == "6 m"  # type: ignore[attr-defined]


def test_columns_become_a_table_of_the_case(capsys: Captured, file: Path, tmp_path: Path) -> None:
    rows = tmp_path / "lift.csv"
    rows.write_text("t [s], lift [mm]\n0,0\n1,2.5\n2,4\n", "utf-8")
    code, out, _ = said(capsys, "import", str(rows), "--into", str(file))
    assert code == 0
    told = json.loads(out)
    table = load(file).tables[told["table"]]
    assert (table.along, table.gives, table.title) == ("s", "mm", "lift")
    assert [list(row) for row in table.rows] == [[0, 0], [1, 2.5], [2, 4]]
    again = json.loads(said(capsys, "import", str(rows), "--into", str(file))[1])
    assert again["table"] != told["table"], "a second one gets an id of its own"


@pytest.mark.parametrize(
    ("name", "text", "told"),
    [
        ("a.csv", "", "empty"),
        ("a.csv", "x [mm], y [bananas]\n1,2\n3,4\n", "bananas"),
        ("a.csv", "x,y\n1,2\nthree,4\n", "row 3"),
        ("a.dxf", "no drawing", "a.dxf"),
        ("a.stl", "no model", "a.stl"),
        ("a.step", "no model", "a.step"),
        ("a.txt", "!!!", ""),
    ],
)
def test_what_cannot_be_brought_in_changes_nothing(
    capsys: Captured, file: Path, tmp_path: Path, name: str, text: str, told: str
) -> None:
    before = file.read_text("utf-8")
    brought = tmp_path / name
    brought.write_text(text, "utf-8")
    code, _, err = said(capsys, "import", str(brought), "--into", str(file))
    assert code == 2 and err.strip() and told in err
    assert file.read_text("utf-8") == before


# --- networks ---


def test_balancing_and_sizing_print_edits_and_keep_them_where_asked(capsys: Captured, network: Path) -> None:
    code, out, err = said(capsys, "balance", str(network), "--lines", "near,far", "--flow", "0.3 L/s")
    assert code == 0, err
    edits = json.loads(out)
    assert edits and all(path.startswith("network.lines.") for path in edits)
    assert not load(network).variants, "nothing is kept unless asked"
    code, out, _ = said(
        capsys, "balance", str(network), "--lines", "near,far", "--flow", "0.3 L/s", "--into", "even"
    )
    case = load(network)
    assert code == 0 and case.variants["even"].edits == json.loads(out)
    code, out, err = said(capsys, "size", str(network), "--by", "1 m/s", "--lines", "main")
    assert code == 0, err
    assert all(".main." in path for path in json.loads(out))


@pytest.mark.parametrize(
    "words",
    [
        ("balance", "--lines", "near,nowhere", "--flow", "0.3 L/s"),
        ("balance", "--lines", "near,far", "--flow", "300 L/s"),
        ("balance", "--lines", "near,far", "--flow", "3 kg"),
        ("size", "--by", "3 kg"),
        ("size", "--by", "1 m/s", "--lines", "nowhere"),
    ],
)
def test_what_cannot_be_balanced_or_sized_is_told(
    capsys: Captured, network: Path, words: tuple[str, ...]
) -> None:
    before = network.read_text("utf-8")
    code, out, err = said(capsys, words[0], str(network), *words[1:], "--into", "x")
    assert code in (1, 2) and err.strip() and out == ""
    assert network.read_text("utf-8") == before


def test_operations_come_from_a_table_of_events(network: Path, tmp_path: Path) -> None:
    from mop_lantern.cli.commands import edited

    table = tmp_path / "work.csv"
    table.write_text(
        "time,path,value\n# a remark\n2 s,near.v.opening,50 %\n4 s, far.v.opening , 10 %\n", "utf-8"
    )
    options = parser().parse_args(["solve", str(network), "--operate", str(table)])
    _, edits = edited(options)
    assert edits == {
        "network.operations.file1": {"at": "2 s", "path": "near.v.opening", "value": "50 %"},
        "network.operations.file2": {"at": "4 s", "path": "far.v.opening", "value": "10 %"},
    }


def test_a_table_of_events_with_a_bad_row_is_told(capsys: Captured, network: Path, tmp_path: Path) -> None:
    table = tmp_path / "work.csv"
    table.write_text("2 s,near.v.opening\n", "utf-8")
    code, _, err = said(capsys, "solve", str(network), "--operate", str(table))
    assert code == 2 and "a time, a path and a value" in err


def test_a_network_is_shown_solved_and_told_in_one_object(capsys: Captured, network: Path) -> None:
    edited = apply(
        load(network),
        {"readings.q": {"kind": "line_value", "line": "near", "figure": "volume_flow", "title": "near"}},
    )
    save(edited, network)
    code, out, err = said(capsys, "solve", str(network))
    answer = json.loads(out)
    assert code == 0, err
    assert answer["readings"]["q"]["value"] > 0 and answer["converged"]
