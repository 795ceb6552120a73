"""A worker for a caller without a window: one solve, events as they come."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from collections.abc import Callable
from typing import Any

from mop_lantern.results import events


def worker_command() -> list[str]:
    """Give the command line of the worker."""
    return [sys.executable, "-m", "mop_lantern.worker"]


def worker_environment() -> dict[str, str]:
    """Give the worker's environment: one thread for the libraries, unbuffered events."""
    ours = dict(os.environ)
    ours.update(
        {
            "PYTHONUNBUFFERED": "1",
            "OPENBLAS_NUM_THREADS": "1",
            "OMP_NUM_THREADS": ours.get("OMP_NUM_THREADS", "2"),
        }
    )
    return ours


def run_to_end(command: dict[str, Any], on_event: Callable[[dict[str, Any]], None]) -> dict[str, Any]:
    """Solve in a worker process and wait.

    Parameters
    ----------
    command : the ``solve`` command. on_event : called with every event. Ctrl-C asks the worker to stop and
    save.

    Returns
    -------
    The ``finished`` or ``failed`` event; a worker that dies gives a ``failed`` one.
    """
    process = subprocess.Popen(
        worker_command(),
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env=worker_environment(),
        start_new_session=True,
    )
    assert process.stdin and process.stdout

    def send(what: dict[str, Any]) -> None:
        assert process.stdin
        process.stdin.write(json.dumps(what) + "\n")
        process.stdin.flush()

    def interrupt(*_: Any) -> None:
        send({"do": "stop"})

    former = signal.signal(signal.SIGINT, interrupt)
    last: dict[str, Any] = {
        **events.failed("the solver process ended without an answer.", "", "Try a coarser grid.")
    }
    try:
        send({"do": "solve", **command})
        for line in process.stdout:
            event = json.loads(line)
            on_event(event)
            if event["event"] in ("finished", "failed"):
                last = event
                break
        if process.poll() is None:
            send({"do": "quit"})
            process.stdin.close()
        process.wait(timeout=10)
    except (BrokenPipeError, subprocess.TimeoutExpired):
        process.kill()
        process.wait()
    finally:
        signal.signal(signal.SIGINT, former)
        process.stdout.close()
    return last
