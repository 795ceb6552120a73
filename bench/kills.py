"""Kills at any moment: a solver process or its caller is stopped dead, and what was stored must open or say why not.

``python -m bench.kills N`` kills N times; the tests kill a few times.
"""

from __future__ import annotations

import contextlib
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.fuzz_files import small_case
from mop_lantern.case import save
from mop_lantern.errors import LanternError
from mop_lantern.results import load_run, newest_record, open_answer, open_state, state_times

SHARED = Path("/dev/shm")
LEAVES_WITHIN = 10.0  # s for a solver process to notice that nobody is left


def workers_of(caller: int) -> list[int]:
    """Give the processes a caller has started."""
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        try:
            parent = int((entry / "stat").read_text().rpartition(")")[2].split()[1])
        except (OSError, ValueError, IndexError):
            continue  # gone meanwhile
        if parent == caller:
            found.append(int(entry.name))
    return found


def kill_once(case: Path, folder: Path, after: float, whom: str) -> None:
    """Start a run and kill its ``caller``, its ``solver`` or ``both`` after so many seconds.

    Raises
    ------
    AssertionError : the caller ends without words, or a solver process stays behind.
    """
    command = [sys.executable, "-m", "mop_lantern", "solve", str(case), "--out", str(folder)]
    caller = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    with contextlib.suppress(subprocess.TimeoutExpired):
        caller.wait(after)
    solvers = workers_of(caller.pid)
    for process in {"caller": [caller.pid], "solver": solvers, "both": [caller.pid, *solvers]}[whom]:
        if process != caller.pid or caller.poll() is None:
            os.kill(process, signal.SIGKILL)
    words = caller.communicate(timeout=120)[1]
    assert "Traceback" not in words, words
    assert whom != "solver" or caller.returncode == 0 or words.strip(), "a killed solver is told in words"
    until = time.monotonic() + LEAVES_WITHIN
    while any(Path(f"/proc/{process}").exists() for process in solvers):
        assert time.monotonic() < until, "a solver process stayed behind"
        time.sleep(0.05)


def open_all(folder: Path) -> tuple[int, int]:
    """Open everything stored; give how many runs open whole, and how many say why they do not.

    Raises
    ------
    AssertionError : a run that opens has an answer or a state that does not.
    """
    whole = refused = 0
    for place in sorted(folder.glob("*/*")):
        try:
            load_run(place)
        except LanternError:
            refused += 1
            continue
        whole += 1
        mesh = open_answer(place).mesh
        for moment in state_times(place):
            open_state(place, moment, mesh)
    return whole, refused


def campaign(count: int, base: Path, seed: int = 1) -> str:
    """Kill so many runs of a small case in time; give what was found in words.

    Raises
    ------
    AssertionError : see ``kill_once`` and ``open_all``; or the newest stored run is lost; or shared memory is left behind.
    """
    draw, case, folder = random.Random(seed), base / "kills.lantern", base / "kills.runs"
    save(small_case(), case)
    before = set(SHARED.glob("lantern-*"))
    kill_once(case, folder, 300.0, "caller")  # one that ends well, and shows how long one takes
    began = time.monotonic()
    kill_once(case, folder, 300.0, "caller")
    length = time.monotonic() - began
    kept = open_all(folder)[0]
    assert kept == 2, f"{kept} of two runs that ended are stored"
    for _ in range(count):
        kill_once(case, folder, draw.uniform(0.2, 1.05) * length, draw.choice(["caller", "solver", "both"]))
        assert newest_record(folder, "")[0] is not None, "the newest run that ended is lost"
    kill_once(case, folder, 300.0, "caller")  # what the killed left behind goes with the next run
    left = set(SHARED.glob("lantern-*")) - before
    assert not left, f"left in shared memory: {sorted(map(str, left))[:3]}"
    whole, refused = open_all(folder)
    return f"{count} kills: {whole} runs open whole, {refused} say why they do not"


def main() -> int:
    """Kill N times; exit 1 if anything is lost or left behind."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    with tempfile.TemporaryDirectory() as made:
        try:
            print(campaign(count, Path(made)))
        except AssertionError as problem:
            print(f"FAIL {problem}")
            return 1
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
