"""One nest for all tests of a process, started when the first worker is asked for."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).parents[2]
PATIENCE = 60.0  # s


class Nest:
    """Gives the command line of workers that start warm."""

    def __init__(self) -> None:
        self._folder = tempfile.TemporaryDirectory(prefix="nest-")
        self.place = Path(self._folder.name) / "door"
        self._process: subprocess.Popen[bytes] | None = None

    def command(self) -> list[str]:
        """Give what stands for ``worker_command()``."""
        if self._process is None:
            command = [sys.executable, "-m", "tests.warm.nest", str(self.place)]
            self._process = subprocess.Popen(command, cwd=ROOT, stdin=subprocess.DEVNULL)
        until = time.monotonic() + PATIENCE
        while not self.place.exists():
            assert self._process.poll() is None and time.monotonic() < until, "the nest did not open"
            time.sleep(0.02)
        return [sys.executable, "-I", "-S", str(Path(__file__).with_name("caller.py")), str(self.place)]

    def close(self) -> None:
        """End it."""
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        self._folder.cleanup()
