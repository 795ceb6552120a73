"""The command line as scripts rely on it, through the real worker process."""

from __future__ import annotations

import csv
import json
import signal
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import parse_case, save
from mop_lantern.cli import main
from tests.conftest import DEMOS


@pytest.fixture
def file(channel: dict[str, Any], tmp_path: Path) -> Path:
    """Save the channel case."""
    path = tmp_path / "channel.lantern"
    save(parse_case(channel), path)
    return path


def run(*words: str) -> subprocess.CompletedProcess[str]:
    """Run the command line in a process of its own."""
    return subprocess.run(
        [sys.executable, "-m", "mop_lantern", *words], capture_output=True, text=True, timeout=240
    )


def test_solve_prints_one_object_and_stores_the_run(file: Path, tmp_path: Path) -> None:
    done = run(
        "solve", str(file), "--set", "field.openings.in.velocity=20 mm/s", "--grid", "sketch", "--events"
    )
    assert done.returncode == 0, done.stderr
    answer = json.loads(done.stdout)
    assert set(answer) == {
        "readings",
        "standard",
        "trust",
        "converged",
        "iterations",
        "cells",
        "seconds",
        "run",
    }
    assert (
        answer["readings"]["flow"]["value"] == pytest.approx(2e-4)
        and answer["readings"]["flow"]["unit"] == "m3/s"
    )
    assert all(set(item) == {"id", "verdict", "value", "limit", "text"} for item in answer["trust"])
    events = [json.loads(line)["event"] for line in done.stderr.splitlines() if line.startswith("{")]
    assert events[0] == "ready" and events[-1] == "finished" and "progress" in events
    folder = Path(answer["run"])
    assert folder.parent.parent == file.with_suffix(".runs")
    record = json.loads((folder / "run.json").read_text())
    assert record["edits"] == {"field.openings.in.velocity": "20 mm/s", "field.grid.level": "sketch"}

    for ending in ("csv", "vtu", "vtkhdf", "png"):
        out = tmp_path / f"out.{ending}"
        assert main(["export", str(folder), "--to", str(out)]) == 0
        assert out.stat().st_size > 80
    with (tmp_path / "out.csv").open() as rows:
        table = list(csv.reader(rows))
    assert table[0][:3] == ["id", "title", "unit"] and float(table[2][3]) == pytest.approx(2e-4)


def test_vtk_reads_what_we_write(file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    from vtkmodules.vtkIOHDF import vtkHDFReader
    from vtkmodules.vtkIOXML import vtkXMLUnstructuredGridReader

    main(["solve", str(file), "--grid", "sketch", "--out", str(tmp_path / "runs")])
    answer = json.loads(capsys.readouterr().out)
    folder = Path(answer["run"])
    main(["export", str(folder), "--to", str(tmp_path / "f.vtu")])
    for reader, path in (
        (vtkHDFReader(), folder / "field.vtkhdf"),
        (vtkXMLUnstructuredGridReader(), tmp_path / "f.vtu"),
    ):
        reader.SetFileName(str(path))
        reader.Update()
        grid = reader.GetOutputDataObject(0)
        cells = grid.GetNumberOfCells()
        assert cells >= answer["cells"]
        assert grid.GetCellData().GetArray("pressure").GetNumberOfTuples() == cells
        assert grid.GetCellData().GetArray("velocity").GetNumberOfComponents() == 3


def test_faults_are_all_listed_with_exit_2(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    wrong = [
        "--set",
        "media.water.viscosity=0 Pa s",
        "--set",
        "parameters.gap.value=-2 mm",
        "--set",
        "field.openings.in.velocity=3 kg",
    ]
    before = file.read_text()
    assert main(["solve", str(file), *wrong]) == 2
    told = capsys.readouterr().err
    for path in ("media.water.viscosity", "shape.parts.run.width", "field.openings.in.velocity"):
        assert path in told
    assert file.read_text() == before
    assert main(["solve", str(file), "--set", "nowhere.at.all=3"]) == 2
    assert main(["solve", str(file), "--variant", "Q"]) == 2
    assert main(["solve", str(file.with_name("absent.lantern"))]) == 2
    assert main(["export", str(file.parent), "--to", "x.csv"]) == 2
    assert "Traceback" not in capsys.readouterr().err


def test_an_untrusted_answer_exits_3(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["solve", str(file), "--set", "field.solver.most=5"]) == 3
    assert json.loads(capsys.readouterr().out)["converged"] is False


def test_show_check_list_and_schema(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["show", str(file)]) == 0
    assert "fully developed" in capsys.readouterr().out
    assert main(["check", str(file), "--variant", "B"]) == 0
    assert "Reynolds number" in capsys.readouterr().out
    assert main(["check", str(file), "--set", "shape.parts.run.width=oops"]) == 2
    assert "shape.parts.run.width" in capsys.readouterr().out
    assert main(["demo", "--list"]) == 0
    assert "Feed-dosing header" in capsys.readouterr().out
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "Case"
    assert main(["demo", "no-such-demo"]) == 2


def test_the_window_can_be_drawn_from_the_command_line(tmp_path: Path) -> None:
    shot = tmp_path / "desk.png"
    assert run("demo", "oxygen-line", "--shot", str(shot)).returncode == 0
    assert shot.stat().st_size > 20_000


def test_a_killed_worker_is_told_in_words(file: Path) -> None:
    from mop_lantern.jobs import run_to_end

    seen: list[int] = []

    def kill(event: dict[str, Any]) -> None:
        if event["event"] == "ready":
            seen.append(event["pid"])
        if event["event"] == "progress":
            import os

            os.kill(seen[0], signal.SIGKILL)

    case = json.loads((DEMOS / "header.lantern").read_text())
    last = run_to_end({"case": case, "variant": ""}, kill)
    assert last["event"] == "failed" and "ended without an answer" in last["error"]
