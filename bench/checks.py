"""All checks in the order a newcomer would want to hear of them: style, types, import directions, tests."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).parents[1]


def main() -> int:
    """Run every check; exit 1 when one fails."""
    tools = Path(sys.executable).parent
    environment = {**os.environ, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen"), "PYTHONPATH": str(ROOT)}
    steps = {
        "style (ruff)": [str(tools / "ruff"), "check", "src", "tests", "bench"],
        "types (mypy)": [str(tools / "mypy")],
        "import directions": [str(tools / "lint-imports")],
        "kernels are compiled once": [sys.executable, "-m", "bench.warm"],
        "tests": [sys.executable, "-m", "pytest", "-n", "2", *sys.argv[1:]],
    }
    screen = shutil.which("xvfb-run")
    if screen:
        chosen = "solve_compare or layers or typing"
        steps["window on a virtual screen"] = [screen, "-a", sys.executable, "-m", "pytest", "tests/desk", "-k", chosen]
    failed = []
    for name, command in steps.items():
        began = time.monotonic()
        own = {**environment, "QT_QPA_PLATFORM": "xcb"} if command[0] == screen else environment
        code = subprocess.call(command, cwd=ROOT, env=own)
        print(f"{'ok  ' if code == 0 else 'FAIL'} {name} ({time.monotonic() - began:.0f} s)", flush=True)
        if code:
            failed.append(name)
    if failed:
        print(f"failed: {', '.join(failed)}")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
