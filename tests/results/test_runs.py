"""Run folders: numbered, found again, refused in words when broken."""

from __future__ import annotations

import errno
import os
import shutil
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, settle
from mop_lantern.errors import FileError
from mop_lantern.grid.soundness import sound
from mop_lantern.judge import NetworkResult
from mop_lantern.results import (
    RunRecord,
    latest,
    load_run,
    new_run,
    newest_record,
    open_answer,
    open_state,
    runs_folder,
    save_network,
    state_times,
    whole,
)
from mop_lantern.solve import Solving


def stored(run: Path, **more: Any) -> RunRecord:
    """Write a small network run into a folder."""
    reading = {"value": 1.0, "unit": "m3/s", "title": "Flow", "dimension": "volume_flow"}
    trust = [{"id": "mass", "verdict": "holds", "value": 0.0, "limit": 1.0, "text": "fine"}]
    record = RunRecord(
        case={},
        variant="",
        readings={"q": reading},
        trust=trust,
        converged=True,
        iterations=1,
        cells=1,
        seconds=0.1,
        grid={},
        versions={},
        traces={"a": [1.0, 2.0]},
    )
    save_network(run, record, NetworkResult({}, {}, {}, {}, {}), more.get("keep", 10_000))
    return record


def test_runs_are_numbered_and_only_complete_ones_count(tmp_path: Path) -> None:
    first, second = new_run(tmp_path, "B"), new_run(tmp_path, "B")
    assert [first.name, second.name] == ["001", "002"]
    assert latest(tmp_path, "B") is None
    stored(first)
    assert latest(tmp_path, "B") == first
    assert latest(tmp_path, "C") is None


def test_broken_runs_are_refused_in_words(tmp_path: Path) -> None:
    run = new_run(tmp_path, "")
    (run / "run.json").write_text("{broken")
    (run / "field.vtkhdf").write_bytes(b"nothing")
    with pytest.raises(FileError, match="not the folder of a solution"):
        load_run(run)
    with pytest.raises(FileError, match="no field can be read"):
        open_answer(run)


def test_runs_lie_beside_the_case_but_never_in_the_program(tmp_path: Path) -> None:
    assert runs_folder(tmp_path / "a.lantern") == tmp_path / "a.runs"
    import mop_lantern

    package = Path(mop_lantern.__path__[0])
    assert package not in runs_folder(package / "demos" / "header.lantern").parents
    blocked = tmp_path / "file"
    blocked.write_text("")
    with pytest.raises(FileError, match="--out"):
        new_run(blocked, "B")


def test_the_thousandth_run_stays_and_so_does_the_next(tmp_path: Path) -> None:
    parent = tmp_path / "B"
    for number in (8, 9, 997, 998, 999):
        run = parent / f"{number:03d}"
        run.mkdir(parents=True)
        stored(run)
    for _ in range(3):
        made = new_run(tmp_path, "B")
        stored(made, keep=3)
    assert made.name == "1002" and latest(tmp_path, "B") == made
    assert sorted(int(path.name) for path in parent.iterdir()) == [1000, 1001, 1002]


def test_odd_names_beside_the_runs_do_no_harm(tmp_path: Path) -> None:
    for name in ("²", "٣", "notes", "12a", "9999999999999"):
        (tmp_path / "base" / name).mkdir(parents=True)
    (tmp_path / "base" / "002").write_text("a file, no folder")
    first = new_run(tmp_path, "")
    stored(first)
    second = new_run(tmp_path, "")
    assert (first.name, second.name) == ("001", "003") and latest(tmp_path, "") == first


def test_a_variant_called_as_the_base_keeps_its_own_runs(tmp_path: Path) -> None:
    base, variant = new_run(tmp_path, ""), new_run(tmp_path, "base")
    assert base.parent != variant.parent
    stored(base)
    assert latest(tmp_path, "base") is None


DAMAGES = {
    "half written": lambda run: (run / "run.json").write_text((run / "run.json").read_text()[:200]),
    "ragged traces": lambda run: (run / "traces.csv").write_text("a,b\n1,2\n3\n"),
    "traces no numbers": lambda run: (run / "traces.csv").write_text("a\nx\n"),
    "null readings": lambda run: (run / "run.json").write_text(
        (run / "run.json").read_text().replace('"dimension": "volume_flow"', '"dimension": null')
    ),
    "no trust": lambda run: (run / "run.json").write_text(
        (run / "run.json").read_text().replace('"holds"', "null")
    ),
    "a list": lambda run: (run / "run.json").write_text("[1, 2]"),
    "deep": lambda run: (run / "run.json").write_text("[" * 100_000),
    "bytes": lambda run: (run / "run.json").write_bytes(b"\xff\xfe\x00"),
}


@pytest.mark.parametrize("damage", DAMAGES)
def test_a_damaged_run_is_passed_over_and_the_one_before_it_shown(tmp_path: Path, damage: str) -> None:
    good, bad = new_run(tmp_path, ""), new_run(tmp_path, "")
    stored(good)
    stored(bad)
    DAMAGES[damage](bad)
    record, skipped = newest_record(tmp_path, "")
    assert record is not None and record.folder == str(good)
    assert len(skipped) == 1 and str(bad) in skipped[0]


@pytest.fixture(scope="module")
def kept(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Solve a small channel in time once and give its run folder."""
    data: dict[str, Any] = {
        "title": "c",
        "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "depth": "1 m",
            "parts": {
                "run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "20 mm", "width": "10 mm"}
            },
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "run.start", "velocity": "10 mm/s"},
                "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
            },
            "grid": {"cell": "2.5 mm"},
            "time": {"mode": "transient", "until": "1 s", "step": "0.5 s", "every": "0.5 s"},
        },
    }
    runs = tmp_path_factory.mktemp("runs")
    last = list(Solving(settle(parse_case(data)), None, runs).events())[-1]
    return Path(last["run"])


def test_changed_bytes_of_a_field_are_told_before_they_do_harm(kept: Path, tmp_path: Path) -> None:
    run = tmp_path / "run"
    shutil.copytree(kept, run)
    assert open_answer(run).mesh.n_cells > 10
    data = bytearray((run / "field.vtkhdf").read_bytes())
    data[len(data) // 2] ^= 0xFF
    (run / "field.vtkhdf").write_bytes(bytes(data))
    with pytest.raises(FileError, match="has changed since"):
        open_answer(run)
    (run / "field.vtkhdf.sum").unlink()
    for cut in (100, len(data) // 3, len(data) - 7):
        (run / "field.vtkhdf").write_bytes(bytes(data[:cut]))
        with pytest.raises(FileError):
            open_answer(run)


def test_damaged_states_are_refused_in_words(kept: Path, tmp_path: Path) -> None:
    run = tmp_path / "run"
    shutil.copytree(kept, run)
    mesh, time = open_answer(run).mesh, state_times(run)[0]
    assert open_state(run, time, mesh).time == pytest.approx(time)
    path = next(path for path in (run / "states").glob("*.npz") if float(path.stem) == time)
    good = path.read_bytes()
    for data in (
        good[: len(good) // 2],
        b"",
        b"PK\x03\x04" + bytes(200),
        good.replace(b"velocity", b"veIocity"),
    ):
        path.write_bytes(data)
        with pytest.raises(FileError, match="cannot be read"):
            open_state(run, time, mesh)


def test_a_mesh_that_points_beyond_itself_is_refused(kept: Path) -> None:
    mesh = open_answer(kept).mesh
    arrays = mesh.arrays()
    for name, wrong in (
        ("owner", mesh.owner + mesh.n_cells),
        ("patch", mesh.patch - 5),
        ("centre", mesh.centre * np.nan),
        ("volume", mesh.volume[:-1]),
        ("face_offsets", mesh.face_offsets[::-1]),
    ):
        with pytest.raises(ValueError, match="mesh"):
            sound(type(mesh)(**{**arrays, name: wrong}))


def test_a_full_disk_leaves_the_former_run_and_the_answer(
    kept: Path, tmp_path: Path, channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    solving = Solving(settle(parse_case(channel)), None, tmp_path)
    full = OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
    with monkeypatch.context() as patch:
        patch.setattr(whole.os, "fsync", lambda _: (_ for _ in ()).throw(full))
        last = list(solving.events())[-1]
    assert last["event"] == "finished" and last["run"] == "" and "No space left" in last["unsaved"]
    assert last["readings"]["drop"]["value"] > 0 and latest(tmp_path, "") is None
    folder = Path(solving.store())
    assert (
        latest(tmp_path, "") == folder
        and open_answer(folder).mesh.n_cells == last["cells"]
        and not list(folder.glob(".*"))
    )
