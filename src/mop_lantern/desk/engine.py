"""The worker as the window sees it: a child process, commands in, events out. If it dies the window lives."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QProcess, QProcessEnvironment, QTimer, pyqtSignal

from mop_lantern.jobs import read_frame, read_mesh, worker_command, worker_environment
from mop_lantern.results import events

GRACE = 3000  # ms between asking to stop and killing a worker that gives no sign of life
PATIENCE = 60_000  # ms for one that has heard: what it has must not be lost


class Engine(QObject):
    """Starts the worker, keeps it warm, hands on its events.

    Signals
    -------
    told : every event as a dict. frame : a field to draw. state : "idle", "solving", "paused" or "dead".
    """

    told = pyqtSignal(dict)
    frame = pyqtSignal(object)
    state_changed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.state = "dead"
        self._process: QProcess | None = None
        self._rest = b""
        self._mesh: Any = None
        self._waiting: dict[str, Any] | None = None
        self._closing = False
        self._solves = 0
        self._heard = self._ready = False  # whether the worker has heard of a stop; whether it listens yet
        self.log = ""

    def start(self) -> None:
        """Start the worker if there is none."""
        if self._process is not None:
            return
        process = QProcess(self)
        environment = QProcessEnvironment()
        for name, value in worker_environment().items():
            environment.insert(name, value)
        process.setProcessEnvironment(environment)
        process.readyReadStandardOutput.connect(self._read)
        process.readyReadStandardError.connect(self._read_log)
        process.finished.connect(self._ended)
        program, *arguments = worker_command()
        self._process = process
        self._rest = b""
        self._mesh = None
        self._ready = False
        process.start(program, arguments)
        self._set("idle")

    def solve(
        self,
        case: dict[str, Any],
        variant: str,
        runs: Path,
        carry: bool,
        follow: bool = False,
        edits: dict[str, Any] | None = None,
        pace: float = 0.0,
    ) -> None:
        """Solve a case; a running solve is stopped first, or thrown away when this one follows an edit.

        ``pace``: seconds of a network a second of the clock, for operating it live; 0 as fast as can be.
        """
        self.start()
        self._solves += 1
        self._set("solving")
        command = {
            "do": "solve",
            "case": case,
            "variant": variant,
            "runs": str(runs),
            "carry": carry,
            "snapshots": True,
            "follow": follow,
            "edits": edits or {},
            "pace": pace,
        }
        self.send(command)

    def send(self, command: dict[str, Any]) -> None:
        """Send a command."""
        if self._process is not None:
            self._process.write((json.dumps(command) + "\n").encode())

    def pause(self) -> None:
        """Pause or go on."""
        self.send({"do": "resume" if self.state == "paused" else "pause"})

    def stop(self) -> None:
        """Stop the solve and keep what it has; kill the worker if it does not answer."""
        self._heard = False
        self.send({"do": "stop"})
        number = self._solves
        QTimer.singleShot(GRACE, lambda: self._kill_if_busy(number, False))

    def _kill_if_busy(self, number: int, late: bool) -> None:
        """Kill the worker if it still does what it was told to stop and gives no sign of life; one that is
        starting or has heard is waited for.

        A solve begun since then is left alone.
        """
        if (
            number != self._solves
            or self.state not in ("solving", "paused")
            or self._process is None
            or self._closing
        ):
            return
        if (self._heard or not self._ready) and not late:
            QTimer.singleShot(PATIENCE, lambda: self._kill_if_busy(number, True))
            return
        self._process.kill()

    def close(self) -> None:
        """End the worker."""
        self._closing = True
        if self._process is not None:
            self.send({"do": "quit"})
            self._process.closeWriteChannel()
            if not self._process.waitForFinished(1500):
                self._process.kill()
                self._process.waitForFinished(1000)
            self._process = None

    def _set(self, state: str) -> None:
        if state != self.state:
            self.state = state
            self.state_changed.emit(state)

    def _read(self) -> None:
        assert self._process is not None
        data = self._rest + self._process.readAllStandardOutput().data()
        *complete, self._rest = data.split(b"\n")
        for line in complete:
            try:
                event = json.loads(line)
            except ValueError:
                continue
            self._take(event)

    def _take(self, event: dict[str, Any]) -> None:
        kind = event.get("event")
        if kind in ("heard", "ready"):
            self._heard = self._heard or kind == "heard"
            self._ready = True
        if kind == "grid":
            self._mesh = read_mesh(Path(event["file"]))
        elif kind == "snapshot":
            answer = read_frame(Path(event["file"]), self._mesh) if self._mesh is not None else None
            self.send({"do": "seen"})
            if answer is not None:
                self.frame.emit(answer)
        elif kind in ("finished", "failed") and not event.get("replaced"):
            self._set("idle")
        elif kind == "started":
            self._set("solving")
        elif kind in ("paused", "resumed"):
            self._set("paused" if kind == "paused" else "solving")
        self.told.emit(event)

    def _read_log(self) -> None:
        assert self._process is not None
        self.log = (self.log + self._process.readAllStandardError().data().decode(errors="replace"))[-20000:]

    def _ended(self, code: int, status: QProcess.ExitStatus) -> None:
        busy = self.state in ("solving", "paused")
        self._process = None
        self._set("dead")
        if busy and not self._closing:
            says = "the solver process ended unexpectedly; the case is safe and nothing typed is lost."
            self.told.emit(events.failed(says, "", "Press Solve to start a new one."))
