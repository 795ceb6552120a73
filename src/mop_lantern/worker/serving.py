"""The worker: listens, solves, tells.

Commands (one JSON object a line on standard input): ``solve {case, variant, runs, carry, snapshots, follow,
pace}``, ``pause``, ``resume``, ``stop``, ``store`` (try again to store an answer that could not be), ``work
{path, value}`` (turn something in a network that runs), ``seen`` (the last snapshot was taken), ``quit``.
Events go to standard output.
"""

from __future__ import annotations

import json
import os
import queue
import shutil
import sys
import tempfile
import threading
import time
import traceback
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.case import ResolvedCase, SettledBoth, apply, parse_case, settle_any
from mop_lantern.case.network_review import SettledNetwork
from mop_lantern.errors import CaseError, FileError, RunError
from mop_lantern.judge.packing import pack
from mop_lantern.results import events
from mop_lantern.solve import Carried, JointSolving, NetworkSolving, Solving
from mop_lantern.solve.run import Run
from mop_lantern.worker.leash import end_with_caller

AnySolving = Solving | NetworkSolving | JointSolving
SNAPSHOT_EVERY = 0.4  # s
FRAMES = "lantern-"  # begins the names of folders of frames, before the process that writes them
LINGER = 1.5  # s to come to an end once nobody listens


def sweep(base: Path) -> None:
    """Remove folders of frames whose worker is no longer there."""
    for folder in base.glob(f"{FRAMES}*"):
        number = folder.name.removeprefix(FRAMES).partition("-")[0]
        if number.isdigit() and not Path(f"/proc/{number}").exists():
            shutil.rmtree(folder, ignore_errors=True)


class Worker:
    """Listens, solves, tells. Holds the last solved field so that the next solve can begin from it."""

    def __init__(self) -> None:
        self.commands: queue.Queue[dict[str, Any]] = queue.Queue()
        self.carried: Carried | None = None
        self.ended = threading.Event()
        self._speaking = threading.Lock()
        self._store_asked = False
        self.unsaved: AnySolving | None = None
        self.paused = False
        self.quitting = False
        self._waiting: dict[str, Any] | None = None
        self._in_flight = False
        self._buffer = 0
        self._mesh_sent: Any = None
        self._last_snapshot = 0.0
        base = Path("/dev/shm") if os.access("/dev/shm", os.W_OK) else Path(tempfile.gettempdir())
        sweep(base)
        self.folder = Path(tempfile.mkdtemp(prefix=f"{FRAMES}{os.getpid()}-", dir=base))

    def listen(self) -> None:
        """Read commands until the input ends, which means the window is gone."""
        for line in sys.stdin:
            try:
                command = json.loads(line)
            except ValueError:
                self.tell(events.failed("a command was not understood."))
                continue
            if command.get("do") == "stop":  # a sign of life: what it does may take a while to come to a stop
                self.tell({"event": "heard"})
            self.commands.put(command)
        self.commands.put({"do": "quit"})
        if not self.ended.wait(LINGER):  # it is in the middle of something nobody waits for
            self._leave()

    def _leave(self) -> None:
        """End at once: nobody is there any more."""
        shutil.rmtree(self.folder, ignore_errors=True)
        os._exit(0)

    def tell(self, event: Mapping[str, Any]) -> None:
        """Send an event."""
        try:
            with self._speaking:
                sys.stdout.write(json.dumps(event, default=float) + "\n")
                sys.stdout.flush()
        except (BrokenPipeError, ValueError):  # the caller was killed
            self._leave()

    def loop(self) -> None:
        """Serve commands until told to quit."""
        threading.Thread(target=self.listen, daemon=True).start()
        end_with_caller(
            False
        )  # from here on the listener sees it go, and lets what is being stored be stored
        self.tell({"event": "ready", "pid": os.getpid()})
        try:
            while not self.quitting:
                command = self._newest(self._waiting or self.commands.get())
                self._waiting = None
                if command.get("do") == "solve":
                    self.solve(command)
                elif command.get("do") == "store":
                    self.store()
                elif command.get("do") == "quit":
                    self.quitting = True
        finally:
            self.ended.set()
            shutil.rmtree(self.folder, ignore_errors=True)

    def store(self) -> None:
        """Try again to store an answer that could not be stored."""
        self._store_asked = False
        if self.unsaved is None:
            self.tell(events.note("There is no answer left to store."))
            return
        try:
            folder = self.unsaved.store()
        except FileError as problem:
            self.tell(events.note(str(problem)))
            return
        self.tell(
            {
                "event": "stored",
                "run": folder,
                "variant": self.unsaved.settled.variant,
            }
        )
        self.unsaved = None

    def _newest(self, command: dict[str, Any]) -> dict[str, Any]:
        """Pass over solves that a later one has replaced already: a drag sends many."""
        while command.get("do") == "solve" and command.get("follow"):
            try:
                later = self.commands.get_nowait()
            except queue.Empty:
                return command
            if later.get("do") in ("solve", "quit"):
                command = later
            elif later.get("do") == "stop":
                command["stopped"] = True
            elif later.get("do") == "seen":
                self._in_flight = False
        return command

    def solve(self, command: dict[str, Any]) -> None:
        """Carry out one solve and tell how it went, whatever happens."""
        self.paused = False
        solving: AnySolving | None = None
        try:
            case = apply(parse_case(command["case"]), command.get("edits") or {})
            settled = settle_any(case, command.get("variant"))
            runs = Path(command["runs"]) if command.get("runs") else None
            solving = self._solving(settled, runs, command)
            solving.stop = bool(command.get("stopped"))
            for event in solving.events():
                if event["event"] == "finished" and command.get("snapshots") and solving.run:
                    self.snapshot(solving.run, force=True)
                self.tell(event)
                self.listen_between(solving)
                if command.get("snapshots") and solving.run and event["event"] == "progress":
                    self.snapshot(solving.run, force=bool(event.get("sketch")))
            self.carried = solving.result or self.carried
            self.unsaved = solving if solving.unsaved else None
            if self._store_asked:
                self.store()
        except CaseError as problem:
            faults = [fault.as_dict() for fault in problem.faults]
            self.tell(events.failed(str(problem), faults=faults))
        except RunError as problem:
            self.tell(events.failed(problem.says, problem.where, problem.remedy))
        except FileError as problem:
            self.tell(events.failed(str(problem)))
        except MemoryError:
            self.tell(events.failed("there is not enough memory for this grid.", "", "Use a coarser grid."))
        except Exception as problem:  # the window must hear of it in words; the trace goes to the log
            traceback.print_exc(file=sys.stderr)
            says = f"the solver met a fault of its own ({type(problem).__name__})."
            self.tell(events.failed(says, "", "The case is safe: save it, change a value and solve again."))

    def _solving(
        self,
        settled: ResolvedCase | SettledNetwork | SettledBoth,
        runs: Path | None,
        command: dict[str, Any],
    ) -> AnySolving:
        """Give what solves a case; a network that is worked live is solved alone."""
        pace = float(command.get("pace") or 0.0)
        if isinstance(settled, SettledBoth) and pace > 0:
            settled = settled.network
        if isinstance(settled, SettledNetwork):
            return NetworkSolving(settled, runs, command.get("edits"), pace)
        carried = self.carried if command.get("carry") else None
        more = runs, command.get("edits"), bool(command.get("follow"))
        if isinstance(settled, SettledBoth):
            return JointSolving(settled, carried, *more)
        return Solving(settled, carried, *more)

    def listen_between(self, solving: AnySolving) -> None:
        """Look at commands between batches; wait here while paused."""
        while True:
            try:
                command = self.commands.get(timeout=0.1) if self.paused else self.commands.get_nowait()
            except queue.Empty:
                if self.paused:
                    continue
                return
            what = command.get("do")
            if what in ("pause", "resume"):
                self.paused = what == "pause"
                self.tell({"event": "paused" if self.paused else "resumed"})
            elif what == "seen":
                self._in_flight = False
            elif what == "work" and isinstance(solving, NetworkSolving):
                trouble = solving.work(str(command.get("path")), command.get("value"))
                self.tell(
                    events.note(trouble) if trouble else {"event": "worked", "path": command.get("path")}
                )
            elif what == "store":  # asked for as soon as the end was told
                self._store_asked = True
            elif what in ("stop", "quit"):
                solving.stop, self.paused = True, False
                self.quitting = what == "quit"
            elif what == "solve":  # a new solve replaces the running one
                solving.stop, self.paused = True, False
                solving.abandoned = bool(command.get("follow"))
                # a later one takes its place; back in the queue it would come after that
                self._waiting = command

    def snapshot(self, run: Run, force: bool = False) -> None:
        """Write the present field where the window can map it; one frame in flight, two buffers."""
        now = time.monotonic()
        if not force and (self._in_flight or now - self._last_snapshot < SNAPSHOT_EVERY):
            return
        if self._mesh_sent is not run.mesh:
            arrays = run.mesh.arrays()
            for name in ("patch_names", "region_names"):
                arrays[name] = np.array(arrays[name])
            _write(self.folder / "mesh.npz", arrays)
            self.tell(
                {
                    "event": "grid",
                    "file": str(self.folder / "mesh.npz"),
                    "cells": run.mesh.n_cells,
                }
            )
            self._mesh_sent = run.mesh
        answer = run.answer()
        self._buffer = 1 - self._buffer
        path = self.folder / f"frame{self._buffer}.npz"
        _write(path, pack(answer))
        self._in_flight = True
        self._last_snapshot = now
        self.tell(
            {
                "event": "snapshot",
                "file": str(path),
                "iteration": run.last.iteration,
            }
        )


def _write(path: Path, arrays: dict[str, Any]) -> None:
    """Write arrays whole: the window may be reading the former file of that name."""
    fresh = path.with_suffix(".new")
    with fresh.open("wb") as out:
        np.savez(out, **arrays)
    os.replace(fresh, path)
