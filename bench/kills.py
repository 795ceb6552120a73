"""Kills at any moment: a solver process, its caller or a window is stopped dead; what was stored must open or
say why not.

``python -m bench.kills N`` kills N times, ``python -m bench.kills N window`` N windows in the middle of edits
that are followed; the tests kill a few times.
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
from mop_lantern.case.drafts import left_behind
from mop_lantern.errors import LanternError
from mop_lantern.results import load_run, newest_record, open_answer, open_state, state_times

OWN_HOME = ("HOME", "XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME")
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


def _in_use(path: Path) -> bool:
    """Whether the program that made a folder of shared memory still runs: another window, beside this."""
    return Path(f"/proc/{path.name.split('-')[1]}").exists()


def campaign(count: int, base: Path, seed: int = 1) -> str:
    """Kill so many runs of a small case in time; give what was found in words.

    Raises
    ------
    AssertionError : see ``kill_once`` and ``open_all``; or the newest stored run is lost; or shared memory is
    left behind.
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
    for _ in range(3):  # what the killed left behind goes with the next run; others may be ending just now
        kill_once(case, folder, 300.0, "caller")
        left = {path for path in set(SHARED.glob("lantern-*")) - before if not _in_use(path)}
        if not left:
            break
    assert not left, f"left in shared memory: {sorted(map(str, left))[:3]}"
    whole, refused = open_all(folder)
    return f"{count} kills: {whole} runs open whole, {refused} say why they do not"


TYPING = """
import itertools, sys, time
from pathlib import Path
from mop_lantern.desk.app import application
app = application()
from mop_lantern.desk.window import Desk
window = Desk(); window.show(); window.open(Path(sys.argv[1]))
if sys.argv[2] == "type":
    window.bar.follow.toggle()
print("open", flush=True)
for number in itertools.count(1):
    until = time.monotonic() + 0.05
    while time.monotonic() < until:
        app.processEvents(); time.sleep(0.003)
    if sys.argv[2] == "type":
        width = f"{10 + number % 7 / 10} mm"
        window.document.edit({"title": f"typed {number}", "shape.parts.run.width": width})
        print(number, flush=True)
"""


def opened(case: Path, how: str) -> subprocess.Popen[str]:
    """Open a window on a case that only stands there ("look") or types ("type"); come back when it is
    open.
    """
    window = subprocess.Popen(
        [sys.executable, "-c", TYPING, str(case), how],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )
    assert window.stdout is not None
    assert window.stdout.readline().strip() == "open", window.communicate()[1]
    return window


def kill_window(case: Path, after: float, beside: bool) -> tuple[int, str]:
    """Kill a window after so many seconds of typing; ``beside``: with another window on the same file.

    Returns
    -------
    typed : the last edit it told of. kept : the title that is left behind for the next window.

    Raises
    ------
    AssertionError : it says more than nothing, or a solver process stays behind.
    """
    other = opened(case, "look") if beside else None
    window = opened(case, "type")
    time.sleep(after)
    solvers = [each for process in (window, other) if process for each in workers_of(process.pid)]
    for process in (window, other):
        if process:
            process.kill()
    said, words = window.communicate()
    if other:
        other.communicate()
    assert "Traceback" not in words, words
    until = time.monotonic() + LEAVES_WITHIN
    while any(Path(f"/proc/{process}").exists() for process in solvers):
        assert time.monotonic() < until, "a solver process stayed behind"
        time.sleep(0.05)
    drafts = left_behind()
    kept = max(
        (draft.case.title for draft in drafts if draft.case),
        key=lambda title: int(title.partition(" ")[2] or 0),
        default="",
    )
    for draft in drafts:
        draft.file.unlink()
    return int(([line for line in said.split() if line.isdigit()] or ["0"])[-1]), kept


def windows(count: int, base: Path, seed: int = 1) -> str:
    """Kill so many windows; give what was found in words.

    Raises
    ------
    AssertionError : see ``kill_window``; or an edit that was told of is lost, the file is touched, or a run
    that opens has no answer.
    """
    os.environ |= {"QT_QPA_PLATFORM": "offscreen", **dict.fromkeys(OWN_HOME, str(base))}
    draw, case = random.Random(seed), base / "kills.lantern"
    save(small_case(), case)
    written, typed = case.read_bytes(), 0
    for _ in range(count):
        last, kept = kill_window(case, draw.uniform(0.05, 2.5), draw.random() < 0.25)
        typed += last
        assert not last or int(kept.partition(" ")[2] or 0) >= last, f"typed {last}, but “{kept}” is left"
        assert case.read_bytes() == written, "the file itself was touched"
        open_all(base / "kills.runs")
    return f"{count} windows killed: {typed} edits typed, none lost"


def main() -> int:
    """Kill N times; exit 1 if anything is lost or left behind."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    with tempfile.TemporaryDirectory() as made:
        try:
            print((windows if "window" in sys.argv[2:] else campaign)(count, Path(made)))
        except AssertionError as problem:
            print(f"FAIL {problem}")
            return 1
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
