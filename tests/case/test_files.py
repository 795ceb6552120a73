"""Files: drafts, crashes, full disks, changes by others, older schemas, columns; a little fuzzing of each."""

from __future__ import annotations

import errno
import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pytest

from bench import fuzz
from mop_lantern.case import (
    SCHEMA,
    DraftKeeper,
    OpenMark,
    apply,
    fingerprint,
    left_behind,
    load,
    parse_case,
    parse_columns,
    read_columns,
    save,
    settle,
)
from mop_lantern.case.drafts import drafts_folder
from mop_lantern.case.migrations import migrated
from mop_lantern.errors import CaseError, FileError

STORED = Path(__file__).parent / "header-schema-1.lantern"


def test_an_older_file_is_brought_up_to_date_and_solves() -> None:
    """A file as version 1 wrote it, kept as it was."""
    raw = json.loads(STORED.read_text("utf-8"))
    assert raw["schema"] == 1 and raw["field"]["physics"]["time"] == "steady"
    case = load(STORED)
    assert case.as_data()["schema"] == SCHEMA and case.field.time.mode == "steady"
    assert settle(case, "D").shape.polygon.area > 0
    assert raw == json.loads(STORED.read_text("utf-8")), "opening a file does not change it"


def test_migration_leaves_its_input_alone_and_newer_files_are_refused() -> None:
    old = {
        "schema": 1,
        "field": {"physics": {"time": "steady"}},
        "variants": {"B": {"edits": {"field.physics.time": "steady", "title": "x"}}},
    }
    new = migrated(old)
    assert (
        new["schema"] == SCHEMA
        and "time" not in new["field"]["physics"]
        and new["variants"]["B"]["edits"] == {"title": "x"}
    )
    assert old["schema"] == 1 and "time" in old["field"]["physics"]  # type: ignore[index]
    with pytest.raises(CaseError, match="newer version"):
        parse_case({"schema": SCHEMA + 1})


@pytest.mark.parametrize("problem", [errno.ENOSPC, errno.EACCES, errno.EROFS])
def test_a_full_or_closed_disk_leaves_the_file_as_it_was(
    channel: dict[str, Any], tmp_path: Path, monkeypatch: pytest.MonkeyPatch, problem: int
) -> None:
    path = tmp_path / "a.lantern"
    case = parse_case(channel)
    save(case, path)
    before = path.read_bytes()

    def fail(*_: Any) -> None:
        raise OSError(problem, os.strerror(problem))

    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(FileError, match="unchanged; save elsewhere"):
        save(apply(case, {"title": "other"}), path)
    assert path.read_bytes() == before and not list(tmp_path.glob(".*.new"))


def test_a_really_full_disk(channel: dict[str, Any]) -> None:
    """/dev/full takes nothing, like a disk without room."""
    keeper = DraftKeeper()
    keeper.file = Path("/dev/full/draft.json")
    assert "cannot be kept" in keeper.keep(parse_case(channel), None)


def test_a_draft_of_a_dead_process_is_found_and_of_a_living_one_not(
    channel: dict[str, Any], tmp_path: Path
) -> None:
    keeper = DraftKeeper()
    case = parse_case(channel)
    assert keeper.keep(case, tmp_path / "a.lantern") == ""
    assert left_behind() == []
    data = json.loads(keeper.file.read_text())
    dead = subprocess.run(
        [sys.executable, "-c", "import os; print(os.getpid())"], capture_output=True, text=True, check=True
    )
    data["pid"] = int(dead.stdout)
    keeper.file.write_text(json.dumps(data))
    (drafts_folder() / "broken.json").write_text("{")
    found = left_behind()
    assert len(found) == 1 and found[0].case == case and found[0].path.endswith("a.lantern")
    keeper.drop()
    assert left_behind() == []


KILLED = """
import sys, time
from pathlib import Path
from mop_lantern.desk.app import application
app = application()
from mop_lantern.desk.window import Desk
window = Desk(); window.show(); window.open(Path(sys.argv[1]))
window.document.edit({"parameters.gap.value": "11 mm"})
window.document.edit({"title": "typed last"})
print("typed", flush=True)
while True:
    app.processEvents(); time.sleep(0.01)
"""


def test_a_killed_window_loses_nothing_typed(channel: dict[str, Any], tmp_path: Path) -> None:
    path = tmp_path / "a.lantern"
    save(parse_case(channel), path)
    process = subprocess.Popen(
        [sys.executable, "-c", KILLED, str(path)],
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
        start_new_session=True,
    )
    assert process.stdout is not None and process.stdout.readline().strip() == "typed"
    os.killpg(process.pid, signal.SIGKILL)
    process.wait()
    process.stdout.close()
    found = left_behind()
    assert (
        len(found) == 1
        and found[0].case.title == "typed last"
        and found[0].case.parameters["gap"].value == "11 mm"
    )
    assert load(path) == parse_case(channel), "the file itself is untouched"


def test_marks_tell_of_another_living_window(tmp_path: Path) -> None:
    path = tmp_path / "a.lantern"
    path.write_text("{}")
    other = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])
    try:
        (tmp_path / ".a.lantern.open").write_text(str(other.pid))
        time.sleep(0.3)  # until the process has its name
        mark = OpenMark()
        assert mark.set(path) == other.pid and mark.file is None
        other.kill()
        other.wait()
        deadline = time.monotonic() + 5
        while mark.set(path) and time.monotonic() < deadline:
            time.sleep(0.05)
        assert mark.file is not None
        mark.clear()
        assert not (tmp_path / ".a.lantern.open").exists()
    finally:
        other.kill()
        other.wait()


def test_fingerprints_change_with_the_content(tmp_path: Path) -> None:
    path = tmp_path / "x"
    path.write_text("a")
    first = fingerprint(path)
    path.write_text("b")
    assert first != fingerprint(path) and fingerprint(tmp_path / "none") == ""


@pytest.mark.parametrize(
    ("text", "names", "units", "first"),
    [
        ("y [mm],u [m/s]\n0,1\n1,2\n", ("y", "u"), ("mm", "m/s"), (0.0, 1.0)),
        ("y (mm);u (m/s)\n0,5;1,5\n1;2\n", ("y", "u"), ("mm", "m/s"), (0.5, 1.5)),
        ("# note\ntime, s;p, Pa\n1e-3;2\n2e-3;3", ("time", "p"), ("s", "Pa"), (1e-3, 2.0)),
        ("1\t2\n3\t4\n", ("column 1", "column 2"), ("", ""), (1.0, 2.0)),
    ],
)
def test_columns_are_read(text: str, names: Any, units: Any, first: Any) -> None:
    made = parse_columns(text, "t.csv")
    assert (made.names, made.units, made.rows[0]) == (names, units, first)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "empty"),
        ("a,b\n1,2\n3,x\n", "row 3"),
        ("a,b\n1,2\n", "two rows"),
        ("a\n1\n2\n", "two columns"),
        ("a [furry],b\n1,2\n2,3\n", "furry"),
        ("a,b\n1,2\n1,1e300\n", "too large"),
    ],
)
def test_bad_columns_are_told(text: str, words: str) -> None:
    with pytest.raises(FileError, match=words):
        parse_columns(text, "t.csv")


def test_files_that_are_no_text(tmp_path: Path) -> None:
    path = tmp_path / "b.csv"
    path.write_bytes(b"\xff\xfe\x00")
    with pytest.raises(FileError, match="UTF-8"):
        read_columns(path)
    with pytest.raises(FileError, match="no such file"):
        read_columns(tmp_path / "none.csv")


@pytest.mark.parametrize("name", ["case files", "expressions", "edits", "tables"])
def test_a_little_fuzzing(name: str, tmp_path: Path) -> None:
    fuzz.campaign(name, tmp_path, 40)


def test_a_name_that_stands_twice_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "twice.lantern"
    path.write_text(
        '{"title": "n", "network": {"lines": {"feed": {"start": "a", "end": "b"}, "drain": {"start": '
        '"b", "end": "a"}, "feed": {"start": "a", "end": "c"}}}}'
    )
    with pytest.raises(CaseError, match="“feed” occurs twice beside drain"):
        load(path)


@pytest.mark.parametrize(
    "name",
    ["models", "step files", "lying counts", "lines of words", "events", "command line edits", "run folders"],
)
def test_the_other_doors_end_in_words_too(name: str, tmp_path: Path) -> None:
    from bench import fuzz

    fuzz.campaign(name, tmp_path, 25)
