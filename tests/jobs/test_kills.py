"""A solver process or its caller killed at any moment loses nothing that was stored."""

import os
import subprocess

from bench import kills


def test_runs_killed_at_any_moment_open_or_say_why_not(tmp_path):
    assert kills.campaign(1, tmp_path).startswith("1 kills: ")


def test_a_stored_run_that_lost_its_answer_is_no_whole_run(tmp_path):
    case, folder = tmp_path / "c.lantern", tmp_path / "c.runs"
    kills.save(kills.small_case(), case)
    kills.kill_once(case, folder, 300.0, "caller")
    assert kills.open_all(folder) == (1, 0)
    (run,) = folder.glob("*/*")
    (run / "run.json").write_text("{", "utf-8")
    assert kills.open_all(folder) == (0, 1)


def test_a_solver_killed_under_its_caller_is_told_in_words(tmp_path):
    case = tmp_path / "c.lantern"
    kills.save(kills.small_case(), case)
    kills.kill_once(case, tmp_path / "c.runs", 1.5, "solver")


def test_children_of_this_process_are_found():
    child = subprocess.Popen(["sleep", "5"])
    try:
        assert child.pid in kills.workers_of(os.getpid())
    finally:
        child.kill()
        child.wait()
    assert child.pid not in kills.workers_of(os.getpid())


def test_a_window_killed_while_somebody_types_loses_no_edit(tmp_path, monkeypatch):
    for name in kills.OWN_HOME:
        monkeypatch.setenv(name, str(tmp_path))  # put back when the test ends
    assert kills.windows(1, tmp_path, seed=3).endswith("none lost")
