"""The solver process: its commands and events, spoken to as a window or a script does."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import apply, parse_case
from mop_lantern.jobs import read_frame, read_mesh, run_to_end, worker_command, worker_environment
from mop_lantern.results import load_run
from tests.warm.brooding import Nest


class Talk:
    """A worker and what it has said."""

    def __init__(self, command: list[str] | None = None) -> None:
        self.process = subprocess.Popen(
            command or worker_command(),
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            env=worker_environment(),
        )

    def raw(self, line: str) -> None:
        assert self.process.stdin
        self.process.stdin.write(line + "\n")
        self.process.stdin.flush()

    def say(self, **command: Any) -> None:
        self.raw(json.dumps(command))

    def until(self, *kinds: str, on: Callable[[dict[str, Any]], None] | None = None) -> list[dict[str, Any]]:
        """Read events up to one of these kinds."""
        assert self.process.stdout
        heard = []
        for line in self.process.stdout:
            heard.append(json.loads(line))
            if on is not None:
                on(heard[-1])
            if heard[-1]["event"] in kinds:
                return heard
        raise AssertionError(f"the worker ended: {heard[-3:]}")

    def end(self) -> int:
        """Close its input, as a window that goes away does, and give how it ended."""
        assert self.process.stdin and self.process.stdout and self.process.stderr
        self.process.stdin.close()
        code = self.process.wait(timeout=20)
        self.process.stdout.close()
        self.process.stderr.close()
        return code


@pytest.fixture
def talk(nest: Nest) -> Iterator[Talk]:
    """Start a worker that has loaded the solvers and wait until it listens."""
    worker = Talk(nest.command())
    worker.until("ready")
    yield worker
    if worker.process.poll() is None:
        assert worker.end() == 0


@pytest.fixture
def long_case(channel: dict[str, Any]) -> dict[str, Any]:
    """Give a case that takes many batches."""
    data = apply(
        parse_case(channel),
        {
            "field.grid.cell": "0.25 mm",
            "field.openings.in.profile": "uniform",
            "field.solver.most": "20000",
            "field.solver.residual": "1e-15",
        },
    ).as_data()
    assert isinstance(data, dict)
    return data


def test_a_solve_tells_its_stages_and_ends_with_the_record(
    talk: Talk, channel: dict[str, Any], tmp_path: Path
) -> None:
    talk.say(do="solve", case=channel, variant="", runs=str(tmp_path / "runs"))
    heard = talk.until("finished", "failed")
    kinds = [event["event"] for event in heard]
    assert kinds[0] == "started" and kinds[-2:] == ["saved", "finished"] and "progress" in kinds
    record = load_run(Path(heard[-1]["run"]))
    assert (
        record.readings == heard[-1]["readings"]
        and record.converged
        and record.readings["flow"]["value"] == pytest.approx(1e-4, rel=1e-6)
    )


def test_a_carried_field_saves_iterations_and_a_variant_gets_its_edits(
    talk: Talk, channel: dict[str, Any]
) -> None:
    counts = []
    for carry, variant in ((False, ""), (True, ""), (True, "B")):
        talk.say(
            do="solve",
            case=channel,
            variant=variant,
            carry=carry,
            edits={"field.openings.in.velocity": "11 mm/s"},
        )
        end = talk.until("finished", "failed")[-1]
        counts.append(end["iterations"])
        wide = 0.014 if variant else 0.010
        assert end["readings"]["flow"]["value"] == pytest.approx(0.011 * wide, rel=1e-6)
    assert counts[1] < counts[0]


def test_pause_holds_and_stop_keeps_what_there_is(
    talk: Talk, long_case: dict[str, Any], tmp_path: Path
) -> None:
    talk.say(do="solve", case=long_case, variant="", runs=str(tmp_path))
    talk.until("progress")
    talk.say(do="pause")
    talk.until("paused")
    talk.say(do="resume")
    resumed = talk.until("resumed")
    assert [event["event"] for event in resumed].count("progress") <= 1
    talk.until("progress")
    talk.say(do="stop")
    end = talk.until("finished", "failed")[-1]
    assert end["event"] == "finished" and end["stopped"] and not end["converged"]
    assert Path(end["run"], "run.json").exists()


def test_what_makes_no_sense_is_told_and_the_worker_goes_on(talk: Talk, channel: dict[str, Any]) -> None:
    talk.raw("{this is not json")
    assert "not understood" in talk.until("failed")[-1]["error"]
    talk.say(do="dance")
    talk.say(
        do="solve", case={**channel, "field": {**channel["field"], "grid": {"cell": "1 kg"}}}, variant=""
    )
    told = talk.until("failed", "finished")[-1]
    assert told["event"] == "failed" and told["faults"][0]["path"] == "field.grid.cell"
    talk.say(do="solve", case=channel, variant="nobody")
    assert "nobody" in talk.until("failed", "finished")[-1]["error"]
    talk.say(do="solve", case=channel, variant="")
    assert talk.until("finished", "failed")[-1]["event"] == "finished"


def test_a_following_solve_gives_way_to_the_newest(
    talk: Talk, long_case: dict[str, Any], channel: dict[str, Any]
) -> None:
    talk.say(do="solve", case=channel, variant="", carry=True, follow=True)
    talk.until("finished")
    talk.say(do="solve", case=long_case, variant="", carry=True, follow=True)
    talk.until("progress")
    for speed in ("12 mm/s", "13 mm/s", "14 mm/s"):
        case = apply(parse_case(channel), {"field.openings.in.velocity": speed}).as_data()
        talk.say(do="solve", case=case, variant="", carry=True, follow=True)
    ends = []
    while not ends or ends[-1]["event"] != "finished" or ends[-1]["readings"]["flow"]["value"] < 1.39e-4:
        ends.append(talk.until("abandoned", "finished", "failed")[-1])
        assert ends[-1]["event"] != "failed"
    assert len(ends) <= 3, "a drag leaves solves behind that nobody wants any more"
    assert ends[-1]["readings"]["flow"]["value"] == pytest.approx(1.4e-4, rel=1e-6)


def test_snapshots_can_be_read_and_wait_to_be_seen(talk: Talk, channel: dict[str, Any]) -> None:
    talk.say(do="solve", case=channel, variant="", snapshots=True)
    meshes, frames = [], []

    def look(event: dict[str, Any]) -> None:
        if event["event"] == "grid":
            meshes.append(read_mesh(Path(event["file"])))
            assert meshes[-1].n_cells == event["cells"]
        elif event["event"] == "snapshot":
            frames.append(read_frame(Path(event["file"]), meshes[-1]))

    talk.until("finished", on=look)
    assert meshes and 1 <= len(frames) <= 3, "unseen frames must hold the next ones back"
    last = frames[-1]
    assert last is not None and last.mesh is meshes[-1] and last.velocity[:, 0].max() > 0.01
    assert read_frame(Path("nowhere.npz"), meshes[-1]) is None


def test_the_end_of_its_input_ends_it_and_its_folder(channel: dict[str, Any]) -> None:
    worker = Talk()  # cold, as the program starts it
    assert worker.until("ready")[-1]["pid"] == worker.process.pid
    folders: list[Path] = []
    worker.say(do="solve", case=channel, variant="", snapshots=True)
    worker.until(
        "finished", on=lambda event: folders.append(Path(event["file"]).parent) if "file" in event else None
    )
    assert folders[0].exists()
    assert worker.end() == 0
    assert not folders[0].exists()


def test_a_script_waits_for_the_end(channel: dict[str, Any]) -> None:
    heard: list[str] = []
    end = run_to_end(
        {"case": channel, "variant": "", "snapshots": False}, lambda event: heard.append(event["event"])
    )
    assert end["event"] == "finished" and heard[-1] == "finished" and heard.count("started") == 1


def test_a_solver_that_dies_is_told_in_words(
    channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(
        "mop_lantern.jobs.client.worker_command", lambda: ["sh", "-c", "read line; kill -9 $$"]
    )
    end = run_to_end({"case": channel}, lambda event: None)
    assert end["event"] == "failed" and "ended without an answer" in end["error"] and end["remedy"]


def test_a_stop_before_the_first_iteration_still_gives_an_answer(
    talk: Talk, channel: dict[str, Any], tmp_path: Path
) -> None:
    for edits in (
        {},
        {"field.heat.solve": True},
        {"field.time.mode": "transient", "field.time.until": "1 s", "field.time.step": "0.5 s"},
    ):
        for follow in (False, True):
            talk.raw(
                json.dumps({"do": "solve", "case": channel, "variant": "", "edits": edits, "follow": follow})
                + "\n"
                + json.dumps({"do": "stop"})
            )
            end = talk.until("finished", "failed")[-1]
            assert end["event"] == "finished" and end["stopped"], end
            assert end["readings"]["flow"]["value"] is not None


def test_a_stop_is_answered_at_once(talk: Talk, long_case: dict[str, Any]) -> None:
    talk.say(do="solve", case=long_case, variant="")
    talk.until("progress")
    talk.say(do="stop")
    assert "heard" in [event["event"] for event in talk.until("finished", "failed")]


def test_a_killed_caller_leaves_no_worker_no_frames_and_no_traceback(
    long_case: dict[str, Any], tmp_path: Path
) -> None:
    """The pipe closes in the middle of a solve: the worker ends by itself within two seconds and says
    nothing.
    """
    worker = Talk()
    worker.until("ready")
    folders: list[Path] = []
    worker.say(do="solve", case=long_case, variant="", snapshots=True)
    worker.until(
        "snapshot", on=lambda event: folders.append(Path(event["file"]).parent) if "file" in event else None
    )
    assert worker.process.stdin and worker.process.stdout and worker.process.stderr
    worker.process.stdout.close()
    worker.process.stdin.close()
    began = time.monotonic()
    assert worker.process.wait(timeout=20) == 0
    assert time.monotonic() - began < 4
    assert "Traceback" not in worker.process.stderr.read()
    worker.process.stderr.close()
    assert not folders[0].exists()


CALLER = """
import subprocess, sys, time
pipe = subprocess.PIPE
child = subprocess.Popen([sys.executable, "-m", "mop_lantern.worker"], stdin=pipe, stdout=pipe)
time.sleep(float(sys.argv[1]))
print(child.pid, flush=True)
time.sleep(60)
"""


def runs(process: Path) -> bool:
    """Whether a process is there and has not ended: one that nobody has fetched yet stays listed."""
    try:
        return (process / "stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


@pytest.mark.parametrize("after", ["0.1", "0.4"])
def test_a_caller_killed_while_its_worker_still_loads_leaves_none(after: str) -> None:
    """Loading takes seconds in which nothing is heard: the system ends the worker then."""
    caller = subprocess.Popen([sys.executable, "-c", CALLER, after], stdout=subprocess.PIPE, text=True)
    assert caller.stdout is not None
    worker = Path(f"/proc/{caller.stdout.readline().strip()}")
    assert worker.exists()
    caller.kill()
    caller.communicate()
    until = time.monotonic() + 20  # it has to be loaded so far first, on a busy machine
    while runs(worker) and time.monotonic() < until:
        time.sleep(0.02)
    assert not runs(worker)


def test_frames_of_dead_workers_are_swept(tmp_path: Path) -> None:
    from mop_lantern.worker.serving import FRAMES, sweep

    dead = subprocess.Popen(["true"])
    dead.wait()
    for name in (f"{FRAMES}{dead.pid}-x", f"{FRAMES}{os.getpid()}-y", f"{FRAMES}notes"):
        (tmp_path / name).mkdir()
    sweep(tmp_path)
    assert sorted(path.name for path in tmp_path.iterdir()) == sorted(
        [f"{FRAMES}{os.getpid()}-y", f"{FRAMES}notes"]
    )


def test_an_answer_that_found_no_room_is_stored_when_there_is(
    talk: Talk, channel: dict[str, Any], tmp_path: Path
) -> None:
    blocked = tmp_path / "runs"
    blocked.write_text("a file where the folder should be")
    talk.say(do="solve", case=channel, variant="", runs=str(blocked))
    end = talk.until("finished", "failed")[-1]
    assert (
        end["event"] == "finished"
        and end["unsaved"]
        and end["run"] == ""
        and end["readings"]["flow"]["value"]
    )
    talk.say(do="store")
    assert "runs" in talk.until("note")[-1]["text"]
    blocked.unlink()
    talk.say(do="store")
    assert (
        load_run(Path(talk.until("stored")[-1]["run"])).readings["flow"]["value"]
        == end["readings"]["flow"]["value"]
    )
