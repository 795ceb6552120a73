"""The process workers are forked from: ``python -m tests.warm.nest SOCKET``.

One request a connection: the environment and the folder as one line of JSON, with standard input, output and
error of the caller beside it. The exit code is told over the connection; a connection that ends first ends
the worker.
"""

from __future__ import annotations

import json
import os
import signal
import socket
import sys
import threading
from pathlib import Path
from typing import Any

from mop_lantern.case import parse_case, settle
from mop_lantern.solve import Solving
from mop_lantern.worker.leash import end_with_caller
from mop_lantern.worker.serving import Worker

LARGEST = 1 << 20  # bytes of a request
PLANE: dict[str, Any] = {
    "media": {"w": {"kind": "water"}},
    "shape": {"parts": {"p": {"kind": "straight", "length": "40 mm", "width": "10 mm"}}},
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "p.start", "velocity": "10 mm/s"},
            "out": {"kind": "static_pressure", "edge": "p.end"},
        },
        "grid": {"cell": "2.5 mm"},
        "solver": {"most": "5"},
    },
}
SPACE: dict[str, Any] = {
    **PLANE,
    "shape": {"space": "space", "solids": {"p": {"kind": "brick"}}},
    "field": {
        **PLANE["field"],
        "openings": {
            "in": {"kind": "velocity", "edge": "p.west", "velocity": "10 mm/s"},
            "out": {"kind": "static_pressure", "edge": "p.east"},
        },
        "grid": {"cell": "10 mm"},
    },
}


def warm_up() -> None:
    """Load what solves load when they first run."""
    for case in (PLANE, SPACE):
        for _ in Solving(settle(parse_case(case)), None, None).events():
            pass


def serve(place: Path) -> None:
    """Fork a worker for everyone who asks."""
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    with socket.socket(socket.AF_UNIX) as door:
        door.bind(f"{place}.shut")
        door.listen(8)
        os.rename(f"{place}.shut", place)
        while True:
            caller, _ = door.accept()
            asked, handles, _, _ = socket.recv_fds(caller, LARGEST, 3)
            while not asked.endswith(b"\n"):
                asked += caller.recv(LARGEST)
            if os.fork() == 0:
                door.close()
                be_worker(caller, json.loads(asked), handles)
            caller.close()
            for handle in handles:
                os.close(handle)


def be_worker(caller: socket.socket, asked: dict[str, Any], handles: list[int]) -> None:
    """Take the caller's place and work for it; never returns."""
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    for wanted, handle in enumerate(handles):
        os.dup2(handle, wanted)
        os.close(handle)
    os.environ.clear()
    os.environ.update(asked["environment"])
    os.chdir(asked["folder"])
    os.nice(5)
    threading.Thread(target=_end_with, args=(caller,), daemon=True).start()
    code = 1
    try:
        Worker().loop()
        code = 0
    finally:
        sys.stdout.flush()
        caller.sendall(bytes([code]))
        os._exit(code)


def _end_with(caller: socket.socket) -> None:
    caller.recv(1)
    os.kill(os.getpid(), signal.SIGKILL)


if __name__ == "__main__":
    end_with_caller(True)
    warm_up()
    serve(Path(sys.argv[1]))
