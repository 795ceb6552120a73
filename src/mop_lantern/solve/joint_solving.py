"""A space and a network in one case: both are solved, each for itself, and stored as one run."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

from mop_lantern.case import SettledBoth
from mop_lantern.results import keep_step, save_both
from mop_lantern.results.events import Event
from mop_lantern.solve.network_solving import NetworkSolving
from mop_lantern.solve.run import Run
from mop_lantern.solve.solving import Carried, Solving
from mop_lantern.solve.storing import Storing, both


class JointSolving(Storing):
    """One solve of a case that has both. Iterate `events`; between two the caller may set ``stop`` or wait.

    Parameters
    ----------
    As of `Solving` and `NetworkSolving`; where the network is worked live, by ``pace``, the space waits.
    """

    def __init__(
        self,
        settled: SettledBoth,
        carried: Carried | None,
        runs: Path | None,
        edits: dict[str, Any] | None = None,
        follow: bool = False,
    ) -> None:
        self.settled = settled.field
        self.runs = runs
        self.space = Solving(settled.field, carried, runs, edits, follow)
        self.network = NetworkSolving(settled.network, runs, edits)
        self.space.part = self.network.part = True
        self._stop = False

    @property
    def stop(self) -> bool:  # type: ignore[override]
        """Whether it is to come to an end."""
        return self._stop

    @stop.setter
    def stop(self, value: bool) -> None:
        self._stop = self.space.stop = self.network.stop = value

    @property
    def abandoned(self) -> bool:
        """Whether a later edit takes its place: then nothing is judged or stored."""
        return self.space.abandoned

    @abandoned.setter
    def abandoned(self, value: bool) -> None:
        self.space.abandoned = value

    @property
    def run(self) -> Run | None:
        """The run of the space."""
        return self.space.run

    @property
    def result(self) -> Carried | None:
        """The field to begin another from."""
        return self.space.result

    def events(self) -> Iterator[Event]:
        """Solve the space, then the network.

        Raises
        ------
        As of `Solving` and `NetworkSolving`.
        """
        ended: dict[str, Any] = {}
        for event in self.space.events():
            if event["event"] == "finished":
                ended = dict(event)
            else:
                yield event
        if self.space.record is None:  # abandoned
            return
        for event in self.network.events():
            if event["event"] not in ("started", "finished"):
                yield event
        assert self.network.record is not None
        self._folder = self.space._folder  # states of a run in time lie there already
        yield from self._conclude(both(self.space.record, self.network.record), ended.get("time", 0.0))

    def _write(self, folder: Path) -> None:
        """Write field, network and record into the run folder."""
        assert self.record is not None and self.space.answer is not None and self.network.working is not None
        for number, kept in enumerate(self.space.cycle_answers):
            keep_step(folder, number, kept)
        keep = int(self.settled.numbers.solver.keep)
        save_both(folder, self.record, self.space.answer, self.network.working, keep)
