"""The command line as scripts rely on it, through the real worker process."""

from __future__ import annotations

import csv
import json
import signal
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import parse_case, save
from mop_lantern.cli import main
from mop_lantern.jobs import worker_command, worker_environment
from tests.conftest import DEMOS


@pytest.fixture
def file(channel: dict[str, Any], tmp_path: Path) -> Path:
    """Save the channel case."""
    path = tmp_path / "channel.lantern"
    save(parse_case(channel), path)
    return path


def run(*words: str) -> subprocess.CompletedProcess[str]:
    """Run the command line in a process of its own."""
    return subprocess.run([sys.executable, "-m", "mop_lantern", *words], capture_output=True, text=True, timeout=240)


def test_solve_prints_one_object_and_stores_the_run(file: Path, tmp_path: Path) -> None:
    done = run("solve", str(file), "--set", "field.openings.in.velocity=20 mm/s", "--grid", "sketch", "--events")
    assert done.returncode == 0, done.stderr
    answer = json.loads(done.stdout)
    assert set(answer) == {"readings", "trust", "converged", "iterations", "cells", "seconds", "run"}
    assert answer["readings"]["flow"]["value"] == pytest.approx(2e-4) and answer["readings"]["flow"]["unit"] == "m3/s"
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


def test_vtk_reads_what_we_write(file: Path, tmp_path: Path) -> None:
    from vtkmodules.vtkIOHDF import vtkHDFReader
    from vtkmodules.vtkIOXML import vtkXMLUnstructuredGridReader

    done = run("solve", str(file), "--grid", "sketch", "--out", str(tmp_path / "runs"))
    folder = Path(json.loads(done.stdout)["run"])
    main(["export", str(folder), "--to", str(tmp_path / "f.vtu")])
    for reader, path in ((vtkHDFReader(), folder / "field.vtkhdf"), (vtkXMLUnstructuredGridReader(), tmp_path / "f.vtu")):
        reader.SetFileName(str(path))
        reader.Update()
        grid = reader.GetOutputDataObject(0)
        cells = grid.GetNumberOfCells()
        assert cells >= json.loads(done.stdout)["cells"]
        assert grid.GetCellData().GetArray("pressure").GetNumberOfTuples() == cells
        assert grid.GetCellData().GetArray("velocity").GetNumberOfComponents() == 3


def test_faults_are_all_listed_with_exit_2(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    wrong = ["--set", "media.water.viscosity=0 Pa s", "--set", "parameters.gap.value=-2 mm", "--set", "field.openings.in.velocity=3 kg"]
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


def test_an_untrusted_answer_exits_3(file: Path) -> None:
    done = run("solve", str(file), "--set", "field.run.most=5")
    assert done.returncode == 3 and json.loads(done.stdout)["converged"] is False


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


def start_worker() -> subprocess.Popen[str]:
    """Start a worker."""
    return subprocess.Popen(worker_command(), stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env=worker_environment())


def events_until(process: subprocess.Popen[str], *kinds: str) -> list[dict[str, Any]]:
    """Read events until one of some kinds."""
    assert process.stdout
    got: list[dict[str, Any]] = []
    for line in process.stdout:
        got.append(json.loads(line))
        if got[-1]["event"] in kinds:
            return got
    raise AssertionError(f"the worker ended; last events {got[-3:]}")


def send(process: subprocess.Popen[str], **command: Any) -> None:
    """Send a command."""
    assert process.stdin
    process.stdin.write(json.dumps(command) + "\n")
    process.stdin.flush()


def test_worker_pauses_goes_on_stops_and_continues(channel: dict[str, Any], tmp_path: Path) -> None:
    process = start_worker()
    try:
        channel["field"]["grid"]["cell"] = "0.25 mm"
        case = {"do": "solve", "case": channel, "variant": "", "runs": str(tmp_path), "snapshots": True}
        send(process, **case, edits={"field.run.residual": "1e-15"})  # would go on for long
        events_until(process, "progress")
        send(process, do="pause")
        events_until(process, "paused")
        began = time.monotonic()
        send(process, do="resume")
        between = events_until(process, "resumed")
        assert [event["event"] for event in between[:-1]] in ([], ["snapshot"], ["progress"]) and time.monotonic() - began < 3
        send(process, do="seen")
        events_until(process, "snapshot")
        send(process, do="stop")
        stopped = events_until(process, "finished")[-1]
        assert stopped["stopped"] and Path(stopped["run"]).exists()
        send(process, **{**case, "carry": True})
        done = events_until(process, "finished")[-1]
        assert done["converged"]
        send(process, do="solve", case={"shape": 3}, variant="")
        failed = events_until(process, "failed")[-1]
        assert failed["faults"] and "Traceback" not in failed["error"]
        send(process, do="quit")
        assert process.wait(timeout=10) == 0
    finally:
        process.kill()
        process.wait()
        for stream in (process.stdin, process.stdout):
            if stream:
                stream.close()


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
