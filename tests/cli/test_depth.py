"""The command line in depth: imports, starts from runs, animations, sweeps."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import load, parse_case, save
from mop_lantern.cli.main import main
from tests.shape.test_drawings import draw

DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"


def solve(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, dict[str, Any]]:
    """Solve by the command line; give exit code and answer."""
    code = main(["solve", *arguments])
    text = capsys.readouterr().out
    return code, json.loads(text) if text.strip() else {}


def test_drawings_and_tables_are_brought_into_a_file(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    case, drawing = tmp_path / "new.lantern", draw(tmp_path / "a.dxf", units=0)
    assert main(["import", str(drawing), "--into", str(case)]) == 2
    assert "does not say its unit" in capsys.readouterr().err and not case.exists()
    assert main(["import", str(drawing), "--into", str(case), "--unit", "mm"]) == 0
    assert json.loads(capsys.readouterr().out)["parts"][0] == "space1"
    (tmp_path / "u.csv").write_text("y [mm];u [mm/s]\n0;0\n10;3\n20;0\n")
    assert main(["import", str(tmp_path / "u.csv"), "--into", str(case), "--as", "profile"]) == 0
    assert load(case).tables["profile"].gives == "mm/s"
    capsys.readouterr()
    edits = [
        'field.openings.in={"kind":"velocity_profile","edge":"space1.inlet","velocity":"= profile(y)"}',
        'field.openings.out={"kind":"static_pressure","edge":"space1.way_out"}',
        'readings.flow={"kind":"flow","edge":"space1.way_out"}',
    ]
    code, answer = solve(
        capsys, str(case), *[part for edit in edits for part in ("--set", edit)], "--grid", "sketch"
    )
    assert code == 0 and answer["readings"]["flow"]["value"] == pytest.approx(0.5 * 3e-3 * 0.02, rel=0.02)


def test_a_run_goes_on_from_a_kept_state_and_becomes_an_animation(
    channel: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    channel["field"]["time"] = {
        "mode": "transient",
        "until": "1 s",
        "step": "0.1 s",
        "courant": "0",
        "every": "0.25 s",
    }
    path = tmp_path / "c.lantern"
    save(parse_case(channel), path)
    code, first = solve(capsys, str(path))
    assert code == 0 and first["time"] == pytest.approx(1.0)
    code, second = solve(capsys, str(path), "--from", f"{first['run']}@1", "--set", "field.time.until=1.5 s")
    assert code == 0 and second["time"] == pytest.approx(1.5)
    for ending in ("mp4", "gif"):
        assert main(["export", first["run"], "--to", str(tmp_path / f"a.{ending}")]) == 0
        assert (tmp_path / f"a.{ending}").stat().st_size > 5000
    assert main(["export", first["run"], "--to", str(tmp_path / "a.png"), "--quantity", "T"]) == 2
    assert "no quantity" in capsys.readouterr().err


def test_the_choice_flume_gives_its_dose_curve(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """An outlet-pressure sweep by --set: the dose falls evenly, inlet pressures are in Pa, the species
    balances.
    """
    doses, pressures = [], []
    for pressure in ("-8 mPa", "0 mPa", "8 mPa", "16 mPa"):
        edits = [
            "--set",
            f"parameters.left_pressure.value={pressure}",
            "--grid",
            "sketch",
            "--out",
            str(tmp_path),
        ]
        code, answer = solve(capsys, str(DEMOS / "choice-flume.lantern"), *edits)
        assert code == 0
        doses.append(answer["readings"]["left_dose"]["value"])
        pressures.append(answer["readings"]["salty_pressure"]["value"])
        assert answer["readings"]["salty_pressure"]["unit"] == "Pa"
        balance = next(item for item in answer["trust"] if item["id"] == "balance.c.salt")
        assert balance["value"] < 1e-6
    assert doses == sorted(doses, reverse=True) and doses[0] > 1.15 * doses[-1]
    assert pressures == sorted(pressures)


def test_fuzzing_has_a_command() -> None:
    done = subprocess.run(
        [sys.executable, "-m", "mop_lantern", "bench", "--fuzz", "25"],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-1500:]
    assert done.stdout.count("ok ") == 12, "one line for every door"
