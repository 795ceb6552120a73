"""Run folders: numbered, found again, refused in words when broken."""

from __future__ import annotations

from pathlib import Path

import pytest

from mop_lantern.errors import FileError
from mop_lantern.results import latest, load_run, new_run, open_answer, runs_folder


def test_runs_are_numbered_and_only_complete_ones_count(tmp_path: Path) -> None:
    first, second = new_run(tmp_path, "B"), new_run(tmp_path, "B")
    assert [first.name, second.name] == ["001", "002"]
    assert latest(tmp_path, "B") is None
    (first / "run.json").write_text("{}")
    assert latest(tmp_path, "B") == first
    assert latest(tmp_path, "C") is None


def test_broken_runs_are_refused_in_words(tmp_path: Path) -> None:
    run = new_run(tmp_path, "")
    (run / "run.json").write_text("{broken")
    (run / "field.vtkhdf").write_bytes(b"nothing")
    with pytest.raises(FileError, match="not the folder of a run"):
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
