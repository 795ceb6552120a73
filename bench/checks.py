"""All checks in the order a newcomer would want to hear of them: style, types, import directions, tests."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parents[1]
SEEN = (
    "tests/desk/test_window.py::test_solve_compare_and_reopen",
    "tests/desk/test_window.py::test_layers_quantities_and_themes_draw",
    "tests/desk/test_adding.py::test_typing_finds_and_enter_adds",
)
LAST = 120  # lines: where a test took the whole process down, Python says here what every thread did


def main() -> int:
    """Run every check; exit 1 when one fails."""
    tools = Path(sys.executable).parent
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen"),
        "PYTHONPATH": str(ROOT),
    }
    beside = {
        "style (ruff)": [str(tools / "ruff"), "check", "src", "tests", "bench"],
        "format (ruff)": [str(tools / "ruff"), "format", "--check", "src", "tests", "bench"],
        "types (mypy)": [str(tools / "mypy")],
        "import directions": [str(tools / "lint-imports")],
        "kernels of planes are compiled once": [sys.executable, "-m", "bench.warm", "planes"],
        "kernels of spaces are compiled once": [sys.executable, "-m", "bench.warm", "spaces"],
    }
    # what is to be had for little comes first: none of these needs two cores
    with ThreadPoolExecutor(2) as pool:
        failed = [
            name
            for name, good in zip(
                beside, pool.map(lambda name: _told(name, beside[name], environment), beside), strict=True
            )
            if not good
        ]
    after = {
        "tests": (
            [sys.executable, "-m", "pytest", "-n", "2", "--dist", "worksteal", *sys.argv[1:]],
            environment,
        )
    }
    screen = shutil.which("xvfb-run")
    if screen:
        after["window on a virtual screen"] = (
            [screen, "-a", sys.executable, "-m", "pytest", *SEEN],
            {**environment, "QT_QPA_PLATFORM": "xcb"},
        )
    for name, (command, own) in after.items():
        began = time.monotonic()
        with tempfile.TemporaryFile("w+", errors="replace") as trouble:
            code = subprocess.call(command, cwd=ROOT, env=own, stderr=trouble)
            trouble.seek(0)
            print("".join(trouble.readlines()[-LAST:]) if code else "", end="")
        _say(name, code == 0, began)
        failed += [] if code == 0 else [name]
    if failed:
        print(f"failed: {', '.join(failed)}")
    return 1 if failed else 0


def _told(name: str, command: list[str], environment: dict[str, str]) -> bool:
    """Run a check and tell all it says at its end; several run at the same time."""
    began = time.monotonic()
    done = subprocess.run(
        command,
        cwd=ROOT,
        env=environment,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    print(done.stdout, end="")
    _say(name, done.returncode == 0, began)
    return done.returncode == 0


def _say(name: str, good: bool, began: float) -> None:
    print(f"{'ok  ' if good else 'FAIL'} {name} ({time.monotonic() - began:.0f} s)", flush=True)


if __name__ == "__main__":
    sys.exit(main())
