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
    types = {"types (mypy)": [str(tools / "mypy")]}
    beside = {
        "style (ruff)": [str(tools / "ruff"), "check", "src", "tests", "bench"],
        "format (ruff)": [str(tools / "ruff"), "format", "--check", "src", "tests", "bench"],
        "import directions": [str(tools / "lint-imports")],
        "kernels of planes are compiled once": [sys.executable, "-m", "bench.warm", "planes"],
        "kernels of spaces are compiled once": [sys.executable, "-m", "bench.warm", "spaces"],
    }
    # what is to be had for little comes first; types take as long as all of it and go on beside the tests
    with ThreadPoolExecutor(1) as pool:
        typed = pool.submit(_every, types, environment)
        failed = _every(beside, environment)
        failed += _tested(environment)
        failed += typed.result()
    if failed:
        print(f"failed: {', '.join(failed)}")
    return 1 if failed else 0


def _tested(environment: dict[str, str]) -> list[str]:
    """Run the tests, then those of the window on a virtual screen; name what failed."""
    after = {
        "tests": (
            [sys.executable, "-m", "pytest", "-n", "2", "--dist", "worksteal", *sys.argv[1:]],
            environment,
        )
    }
    failed = []
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
    return failed


def _every(checks: dict[str, list[str]], environment: dict[str, str]) -> list[str]:
    """Run checks one after the other; name those that failed."""
    return [name for name, command in checks.items() if not _told(name, command, environment)]


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
