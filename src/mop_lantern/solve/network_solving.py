"""One solve of a network: steady state, readings, trust, the stored run. It speaks the same events as a field."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.case.network_review import SettledNetwork, working_of
from mop_lantern.errors import RunError
from mop_lantern.judge import Measured, Trust, measure, network_trust
from mop_lantern.network.steady import NetworkFault
from mop_lantern.results import RunRecord, new_run, save_network
from mop_lantern.solve.versions import versions
from mop_lantern.units import DIMENSIONS

Event = dict[str, Any]


class NetworkSolving:
    """One solve of a network. Iterate `events`, as those of a field.

    Parameters
    ----------
    settled : the network. runs : folder for the result, or None to store nothing. edits : given for this solve only.
    """

    def __init__(self, settled: SettledNetwork, runs: Path | None, edits: dict[str, Any] | None = None) -> None:
        self.settled, self.runs, self.edits = settled, runs, edits or {}
        self.stop = self.abandoned = False
        self.run = self.result = None

    def events(self) -> Iterator[Event]:
        """Solve.

        Raises
        ------
        RunError : the network has no answer. FileError : the result cannot be stored.
        """
        began = time.monotonic()
        settled = self.settled
        yield {"event": "started", "variant": settled.variant}
        yield {"event": "stage", "text": "solving the network"}
        try:
            made = settled.operate()
        except NetworkFault as problem:
            raise RunError(f"{problem.name}: {problem.says}" if problem.name else problem.says, "", problem.remedy) from None
        working = working_of(made, settled)
        taken = measure(settled.numbers.readings, working)
        trust = network_trust(working) + _missing(taken)
        converged = all(item.verdict != "fails" for item in trust)
        readings = {
            key: {"value": item.value if np.isfinite(item.value) else None, "unit": DIMENSIONS[item.dimension].si, "title": item.title, "dimension": item.dimension}
            for key, item in taken.items()
        }
        record = RunRecord(
            case=settled.case.as_data(), variant=settled.variant, readings=readings, trust=[item.as_dict() for item in trust], converged=converged,
            iterations=working.steps, cells=made.net.n_runs, seconds=round(time.monotonic() - began, 3), grid={}, versions=versions(), traces={},
            edits=self.edits, cycles=[],
        )  # fmt: skip
        folder = ""
        if self.runs is not None:
            made_folder = new_run(self.runs, settled.variant)
            save_network(made_folder, record, working, int(settled.numbers.run.keep))
            folder = str(made_folder)
            yield {"event": "saved", "run": folder}
        yield {
            "event": "finished", "readings": readings, "trust": record.trust, "converged": converged, "stopped": self.stop, "time": 0.0,
            "iterations": record.iterations, "cells": record.cells, "seconds": record.seconds, "run": folder, "grid": {},
        }  # fmt: skip


def _missing(taken: dict[str, Measured]) -> list[Trust]:
    """Tell of readings without a value."""
    return [
        Trust(f"reading.{key}", "caution", 0.0, 0.0, f"The reading {key} has no value here.") for key, item in taken.items() if not np.isfinite(item.value)
    ]
