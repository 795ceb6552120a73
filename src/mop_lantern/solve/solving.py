"""A whole solve: coarser grids first, then the wanted one, then judgement and storage, told as events."""

from __future__ import annotations

import time
from collections.abc import Generator, Iterator
from contextlib import suppress
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from mop_lantern.case import ResolvedCase
from mop_lantern.errors import FileError, RunError
from mop_lantern.field.face_geometry import gradients_of
from mop_lantern.field.flow import FlowState
from mop_lantern.grid import Mesh, Wanted, adapt, cost, quality
from mop_lantern.judge import FieldResult, Trust, why_none
from mop_lantern.judge.comfort_verdict import comfort_verdict
from mop_lantern.judge.facts import GUESS_BELOW, SLACK
from mop_lantern.judge.standard import standard_readings
from mop_lantern.numerics.interpolate import carry
from mop_lantern.numerics.richardson import GridError, grid_error
from mop_lantern.results import (
    events,
    keep_state,
    keep_step,
    new_run,
    open_answer,
    open_state,
    save_run,
    state_times,
)
from mop_lantern.results.events import Event, Progress
from mop_lantern.results.told import readings_told
from mop_lantern.solve.boundary_data import gap_cells, prepare
from mop_lantern.solve.check import Evidence, checked
from mop_lantern.solve.flow_run import FlowRun
from mop_lantern.solve.grid_guess import (
    AHEAD_ALWAYS,
    AHEAD_MOST,
    RESTLESS,
    GridGuess,
    gap_seen,
    guess_trust,
    look_ahead,
    look_back,
    scale_of,
    steep_trust,
)
from mop_lantern.solve.kept_flow import of_the_flow, start_from, steady_version, wants_own_flow
from mop_lantern.solve.marching import Marching
from mop_lantern.solve.run import Run
from mop_lantern.solve.stability import disturbed, stability_trust, suspect
from mop_lantern.solve.storing import Storing, record_of
from mop_lantern.solve.swinging import going_on, in_time
from mop_lantern.solve.trusting import grid_trust
from mop_lantern.units import worded_in

BATCH = 0.2  # s between looks at messages
COARSE_RESIDUAL = 1e-3
COARSE_MOST = 60
WORTH_COARSENING = 1500  # cells
COARSER = (
    1.5,
    2.25,
)  # cell sizes of the grids for the grid error; ratios above 1.3 are wanted (Celik et al. 2008)
FOLLOW_RESIDUAL = 1e-5
POSITIVE = ("k", "omega", "epsilon")  # carried between grids by their logarithms
SKETCH_SECONDS, SKETCH_MOST = 0.12, 12


@dataclass
class Carried:
    """A solved field to begin another from."""

    mesh: Mesh
    state: FlowState

    def onto(self, mesh: Mesh) -> FlowState:
        """Give the state on another mesh; on the same one, fluxes included."""
        same = mesh.n_cells == self.mesh.n_cells and len(mesh.owner) == len(self.mesh.owner)
        if (
            same
            and np.array_equal(mesh.centre, self.mesh.centre)
            and np.array_equal(mesh.owner, self.mesh.owner)
        ):
            return self.state.copy()
        state = self.state
        old = self.mesh.fluid
        new = mesh.fluid
        wet = [name for name in state.scalars if name != "T" or self.mesh is old]
        values = np.column_stack(
            [state.velocity, state.pressure, *(state.scalars[name][: old.n_cells] for name in wet)]
        )
        positive = [4 + k for k, name in enumerate(wet) if name in POSITIVE]
        values[:, positive] = np.log(np.maximum(values[:, positive], 1e-30))
        moved = _moved(old, values, new)
        moved[:, positive] = np.exp(moved[:, positive])
        scalars = {name: moved[:, 4 + k].copy() for k, name in enumerate(wet)}
        if "T" in state.scalars and ("T" not in scalars or mesh is not new):
            scalars["T"] = self._temperature_on(mesh)
        walls = {name: self._within_on(mesh, values) for name, values in state.walls.items()}
        return FlowState(moved[:, :3].copy(), moved[:, 3].copy(), np.zeros(0), scalars, walls=walls)

    def _within_on(self, mesh: Mesh, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Give the temperatures within a wall on another mesh: at every face those behind the nearest."""
        there = np.isfinite(values).all(axis=1)
        old, new = (each.face_centre[each.n_internal :] for each in (self.mesh, mesh))
        return np.asarray(values[there][cKDTree(old[there]).query(new)[1]])

    def _temperature_on(self, mesh: Mesh) -> NDArray[np.float64]:
        """Give the temperature on another mesh, region by region; a region that was not there takes that of
        what lay in its place.
        """
        values = self.state.scalars["T"][:, None]
        slopes = gradients_of(self.mesh, values)
        found = np.zeros(mesh.n_cells)
        for name in mesh.region_names:
            here = mesh.cells_of(name)
            there = self.mesh.cells_of(name)
            there = there if there.any() else np.ones(len(there), bool)
            if here.any():
                moved = carry(
                    self.mesh.centre[there], values[there], mesh.centre[here], gradients=slopes[there]
                )
                found[here] = np.clip(moved[:, 0], values.min(), values.max())
        return found


def _moved(old: Mesh, values: NDArray[np.float64], new: Mesh) -> NDArray[np.float64]:
    """Carry columns of values from mesh to mesh; a new place beyond the old shape must not run away."""
    if not old.n_cells or not new.n_cells:
        return np.zeros((new.n_cells, values.shape[1]))
    moved = carry(old.centre, values, new.centre, gradients=gradients_of(old, values))
    return np.clip(moved, values.min(axis=0), values.max(axis=0))


class Solving(Storing):
    """One solve. Iterate `events`; between two events the caller may set ``stop`` or wait.

    Parameters
    ----------
    settled : the case. carried : a field to begin from, or None. runs : folder for the result, or None to
    store nothing.
    edits : edits given for this solve only, noted in the record. follow : show a sketch grid first, and end
    at the residual of a following answer. ``abandoned`` may be set with ``stop``: then nothing is judged or
    stored.
    """

    def __init__(
        self,
        settled: ResolvedCase,
        carried: Carried | None,
        runs: Path | None,
        edits: dict[str, Any] | None = None,
        follow: bool = False,
    ) -> None:
        self.settled = settled
        self.carried = carried
        self.runs = runs
        self.edits = edits or {}
        self.stop = self.abandoned = False
        self.follow = follow
        self.run: Run | None = None
        self.result: Carried | None = None
        self.iterations = 0
        self.cycles: list[dict[str, Any]] = []
        self.cycle_answers: list[FieldResult] = []
        self._adapted: Wanted | None = None
        self.answer: FieldResult | None = None
        self._flow_trust: list[dict[str, Any]] = []  # of a flow that was solved to stay
        self._half: Mesh | None = None  # the grid twice as coarse, once made

    def events(self) -> Iterator[Event]:
        """Solve, step by step.

        Raises
        ------
        RunError : the grid cannot be made or the flow diverges. FileError : the result cannot be stored.
        """
        began = time.monotonic()
        yield events.started(self.settled.variant)
        yield events.stage("making the grid")
        transient = self.settled.numbers.time.mode == "transient"
        iterated = not self.settled.shape.dry  # solids alone are solved in one go
        if self.follow and self.carried is not None and iterated and not transient:
            yield from self._sketch(self.carried)
            if self.abandoned:
                return
        mesh = prepare(self.settled)
        start = self._named_start(mesh)
        if start is None and self.carried is not None and not transient:
            start = self.carried.onto(mesh)
        if wants_own_flow(self.settled):
            start = yield from self._own_flow(mesh)
        first = self.settled.numbers.start
        resting = all(isinstance(value, float) and value == 0 for value in (first.u, first.v))
        coarse = start is None and iterated and not transient and resting
        if coarse:
            start = yield from self._coarse_start(mesh)
        words = "following the flow in time" if transient else "solving"
        yield events.stage(words, mesh.n_cells, grid=True)
        if transient:
            self.run = Marching(self.settled, mesh, start)
            yield from self._march(self.run)
        else:
            yield from self._iterate(mesh, start, coarse and start is not None)
            yield from self._adapt()
        assert self.run is not None
        if self.abandoned:
            self.result = Carried(self.run.mesh, self.run.physics.state())
            yield {"event": "abandoned"}
            return
        yield from self._finish(self.run, time.monotonic() - began)

    def _own_flow(self, mesh: Mesh) -> Generator[Event, None, FlowState | None]:
        """Solve the steady flow of a case in which it stays; give the state to begin with."""
        yield events.stage("solving the flow that stays", mesh.n_cells)
        first = Solving(steady_version(self.settled), self.carried, None)
        first.part = True
        for event in first.events():
            first.stop = first.stop or self.stop
            first.abandoned = self.abandoned
            if event["event"] in ("stage", "progress", "note"):
                yield event
        if first.result is None:
            return None
        if first.record is not None:
            self._flow_trust = of_the_flow(first.record.trust)
        return start_from(first.result.onto(mesh))

    def _iterate(self, mesh: Mesh, start: FlowState | None, coarse: bool) -> Iterator[Event]:
        """Solve on the wanted grid; a flow that diverges from what coarser grids gave begins again from
        rest.
        """
        sight = self.settled.numbers.radiation.solve
        if sight:  # seconds in a space, before the first iteration
            yield events.stage("finding what walls see of each other", mesh.n_cells)
        self.run = FlowRun(self.settled, mesh, start)
        if sight:
            yield events.stage("solving", mesh.n_cells)
        if self.follow:
            self.run.residual = max(FOLLOW_RESIDUAL, self.settled.numbers.solver.residual)
        try:
            yield from self._advance(self.run)
        except RunError:
            if not coarse:
                raise
            yield events.note("The flow diverged from what coarser grids gave; beginning again from rest.")
            self.run = FlowRun(self.settled, mesh, None)
            self.run.flow.relax_more()
            yield from self._advance(self.run)

    def _adapt(self) -> Iterator[Event]:
        """Adapt the grid to the solution and solve again, as often as the case says; every step is noted."""
        plan = self.settled.numbers.adapt
        assert isinstance(self.run, FlowRun)
        self._note_cycle(self.run)
        for number in range(1, int(plan.cycles) + 1):
            run = self.run
            if self.stop or run.mesh.n_cells > plan.most:
                break
            if not run.physics.wet.n_cells:  # nothing flows that cells could follow
                break
            gradient = run.flow.velocity_gradient.copy()
            second = gradients_of(run.physics.wet, gradient.reshape(-1, 9))
            costs = cost(
                run.physics.wet,
                gradient,
                second,
                run.flow.U,
                plan.by,
                gradients_of(run.physics.wet, run.flow.p[:, None])[:, 0],
            )
            self._adapted = adapt(run.physics.wet, costs, plan.share, self._adapted)
            mesh = prepare(self.settled, adapted=self._adapted)
            yield events.stage(f"solving on the adapted grid {number}", mesh.n_cells, grid=True)
            self.run = FlowRun(self.settled, mesh, Carried(run.mesh, run.physics.state()).onto(mesh))
            yield from self._advance(self.run)
            self._note_cycle(self.run)

    def _grid_errors(self, run: Run) -> Generator[Event, None, dict[str, GridError]]:
        """Solve on one or two coarser grids and give the grid error of every reading."""
        wanted = int(self.settled.numbers.solver.grids)
        if wanted < 2 or not run.steady or self.stop:
            return {}
        values = {key: [item.value] for key, item in run.readings.items()}
        sizes = [representative_size(run.mesh)]
        state = Carried(run.mesh, run.physics.state())
        for number, scale in enumerate(COARSER[: wanted - 1], 2):
            mesh = prepare(self.settled, scale)
            yield events.stage(f"solving on grid {number} of {wanted} for the grid error", mesh.n_cells)
            coarse = FlowRun(self.settled, mesh, state.onto(mesh))
            while (
                not self.stop
                and coarse.last.iteration < int(self.settled.numbers.solver.most)
                and not coarse.finished()
            ):
                coarse.advance(BATCH, 200)
                yield self._progress(coarse, coarse=True)
            coarse.physics.finish()
            coarse.take_readings()
            sizes.append(representative_size(mesh))
            for key, item in coarse.readings.items():
                values[key].append(item.value)
        usable = {key: row for key, row in values.items() if len(row) == wanted and np.isfinite(row).all()}
        if sizes != sorted(sizes):
            return {}
        answer = run.answer()
        spans = {
            key: self._span(key, run, answer)
            for key in usable
            if run.readings[key].dimension == "temperature"
        }
        return {key: grid_error(row, sizes, spans.get(key, 0.0)) for key, row in usable.items()}

    def _span(self, key: str, run: Run, answer: FieldResult) -> float:
        """Give what changes of a reading are measured against, SI."""
        item = run.readings[key]
        return scale_of(key, item.dimension, run.readings, self.settled.numbers.readings[key], answer)

    def _guessed(
        self,
        run: Run,
        bands: dict[str, GridError],
        few: bool,
    ) -> Generator[Event, None, GridGuess]:
        """Look from another grid where no grids are compared; not while edits are followed.

        A finer one where this one is tiny, or small with ``few`` cells across a passage, or small where the
        coarser one is blind.
        """
        if not isinstance(run, FlowRun) or bands or self.stop or self.follow or not run.readings:
            return GridGuess(reason="This answer was not looked at from a coarser grid")
        if run.last.momentum > RESTLESS and not run.finished():
            return GridGuess(reason="The flow is far from settled, so it was not looked at from another grid")
        small = run.mesh.n_cells <= AHEAD_MOST
        if (few and small) or run.mesh.n_cells <= AHEAD_ALWAYS:
            ahead = yield from self._ahead(run)
            if not ahead.blind:
                return ahead
        mesh = self._half
        self._half = None
        if mesh is None:
            try:
                mesh = prepare(self.settled, 2.0, self._adapted)
            except RunError:
                mesh = None
        guess = yield from look_back(self, run, mesh)
        if self.stop or few or not (guess.blind and small):
            return guess
        ahead = yield from self._ahead(run)
        return guess if ahead.blind else ahead

    def _ahead(self, run: FlowRun) -> Generator[Event, None, GridGuess]:
        """Look from a grid twice as fine."""
        try:
            fine = prepare(self.settled, 0.5, self._adapted)
        except RunError:
            return GridGuess(reason="No finer grid could be made")
        return (yield from look_ahead(self, run, fine))

    def _note_cycle(self, run: FlowRun) -> None:
        """Remember cells, size and readings of a grid, for comparison and for the grid error."""
        if run.physics.scalars and not int(self.settled.numbers.adapt.cycles):
            return
        run.take_readings()
        if int(self.settled.numbers.adapt.cycles) and self.runs is not None:
            self.cycle_answers.append(run.answer())
        self.cycles.append(
            {
                "cells": run.mesh.n_cells,
                "size": representative_size(run.mesh),
                "readings": {
                    key: item.value if np.isfinite(item.value) else None for key, item in run.readings.items()
                },
            }
        )

    def _sketch(self, carried: Carried) -> Iterator[Event]:
        """Show at once, on a grid twice as coarse, what an edit does."""
        try:
            mesh = prepare(self.settled, 2.0)
            run = FlowRun(self.settled, mesh, carried.onto(mesh))
            run.advance(SKETCH_SECONDS, SKETCH_MOST)
        except RunError:
            return  # too coarse for the shape: the wanted grid tells
        self.run = run
        told = self._progress(run, coarse=True)
        told["sketch"] = True
        yield told

    def _named_start(self, mesh: Mesh) -> FlowState | None:
        """Give the state the case names as its start, moved to this mesh."""
        name = self.settled.numbers.start.solution.strip()
        if not name:
            return None
        folder, _, moment = name.rpartition("@") if "@" in name else (name, "", "")
        try:
            answer = open_answer(Path(folder).expanduser())
            moment = moment or _last_moment(Path(folder).expanduser(), answer)
            if moment:
                answer = open_state(Path(folder).expanduser(), float(moment.removesuffix("s")), answer.mesh)
        except ValueError:
            raise RunError(
                f"“{moment}” is not a time in seconds.", "field.start.solution", "Write it as FOLDER@12.5."
            ) from None
        scalars = {
            key: scalar.cells
            for key, scalar in answer.scalars.items()
            if key not in ("density", "viscosity", "eddy", "intensity", "y_plus")
        }
        state = FlowState(
            answer.velocity,
            answer.pressure,
            answer.flux,
            scalars,
            answer.time,
            dict(answer.walls),
        )
        moved = Carried(answer.mesh, state).onto(mesh)
        moved.time = answer.time if self.settled.numbers.time.mode == "transient" else 0.0
        return moved

    def _march(self, run: Marching) -> Iterator[Event]:
        """Follow the flow in time; states are kept as they fall due."""
        while not self.stop and not run.finished():
            run.advance(BATCH)
            try:
                self._keep(run)
            except FileError as problem:  # the flow goes on; states to come may find room again
                yield events.note(str(problem))
            run.due.clear()
            told = self._progress(run)
            told["time"] = run.time
            told["until"] = run.plan.until
            yield told
        self.iterations += run.steps

    def _keep(self, run: Marching) -> None:
        """Keep the states that are due."""
        for answer in run.due:
            if self.runs is not None:
                keep_state(self._own_folder(), answer, int(self.settled.numbers.time.keep))

    def _own_folder(self) -> Path:
        """Give the folder this answer is going to be stored in."""
        assert self.runs is not None
        self._folder = self._folder or new_run(self.runs, self.settled.variant)
        return self._folder

    def _coarse_start(self, mesh: Mesh) -> Generator[Event, None, FlowState | None]:
        state: Carried | None = None
        levels = int(self.settled.numbers.solver.coarse)
        for level in range(levels, 0, -1):
            if mesh.n_cells / 4**level < WORTH_COARSENING / 4:
                continue
            try:
                coarse = prepare(self.settled, 2.0**level)
                run = FlowRun(self.settled, coarse, state.onto(coarse) if state else None)
                yield events.stage(f"starting on a grid {2**level} times coarser", coarse.n_cells)
                while (
                    not run.finished(COARSE_RESIDUAL) and run.last.iteration < COARSE_MOST and not self.stop
                ):
                    run.advance(BATCH, COARSE_MOST - run.last.iteration, COARSE_RESIDUAL)
                    yield self._progress(run, coarse=True)
                    if run.last.momentum < COARSE_RESIDUAL:
                        break
                state = Carried(coarse, run.physics.state())
                self._half = coarse if level == 1 and not int(self.settled.numbers.adapt.cycles) else None
                self.iterations += run.last.iteration
            except RunError:
                continue  # too coarse for the shape: the next level may do, and the wanted grid must
        return state.onto(mesh) if state else None

    def _advance(self, run: FlowRun) -> Iterator[Event]:
        most = int(self.settled.numbers.solver.most)
        while not self.stop and run.last.iteration < most and not run.finished():
            was = run.backed_off
            run.advance(BATCH, most - run.last.iteration)
            if run.backed_off and not was:
                yield events.note("The flow began to diverge; going on with stronger relaxation.")
            yield self._progress(run)
        self.iterations += run.last.iteration

    def _progress(self, run: Run, coarse: bool = False) -> Progress:
        values = {
            key: reading.value if np.isfinite(reading.value) else None
            for key, reading in run.readings.items()
        }
        left = None if coarse else run.remaining()
        return events.progress(run.last.iteration, run.last.momentum, run.last.mass, values, left, coarse)

    def _finish(self, run: Run, seconds: float) -> Iterator[Event]:
        if run.physics.scalars and run.steady:
            yield events.stage("solving the transported quantities")
        answer, trust = run.concluded(lambda: gap_cells(self.settled, run.mesh, self._adapted))
        if isinstance(run, Marching) and run.means is not None:
            trust = run.means.longer(trust, self._folder)
        if self.runs is not None:
            with suppress(FileError):  # where nothing can be stored, that is told later
                trust = going_on(trust, self._own_folder)
        trust += [
            Trust(
                f"reading.{key}",
                "caution",
                0.0,
                0.0,
                f"The reading {key} has no value: {why_none(self.settled.numbers.readings[key])}",
            )
            for key, reading in run.readings.items()
            if not np.isfinite(reading.value)
        ]
        if self.stop and isinstance(run, FlowRun) and not (run.finished() or self.settled.shape.dry):
            count = run.last.iteration
            text = f"It was stopped by hand after {count} iterations, before it was finished."
            trust.append(Trust("stopped", "fails", count, 0.0, text))
        bands = yield from self._grid_errors(run)
        few = any(item.id == "gap" and item.value < GUESS_BELOW - SLACK for item in trust)
        guess = yield from self._guessed(run, bands, few)
        trust = gap_seen(trust, guess)
        if not run.steady or not run.readings:
            trust += [] if self.stop else steep_trust(run.physics)
        elif not bands:
            trust += guess_trust(guess, {key: reading.title for key, reading in run.readings.items()})
        if isinstance(run, FlowRun) and not (self.stop or self.follow) and suspect(self.settled, run):
            trust += stability_trust((yield from disturbed(self, run)), in_time(run))
        evidence = Evidence(self.settled, run.physics, answer, run.steady, self.follow)
        trust += grid_trust(bands) + checked(evidence) + [Trust(**item) for item in self._flow_trust]
        self.result = Carried(run.mesh, run.physics.state())
        readings = readings_told(run.readings)
        for key, band in bands.items():
            readings[key]["grid_error"] = asdict(band)
        for key, item in run.readings.items():
            if item.dimension == "temperature" and np.isfinite(item.value):
                readings[key]["span"] = self._span(key, run, answer)
        for key, share in guess.shares.items():
            readings[key]["grid_guess"] = share if np.isfinite(share) else None
        self.answer = answer
        record = record_of(
            self.settled,
            readings,
            standard_readings(self.settled.numbers, answer),
            trust,
            seconds,
            iterations=self.iterations,
            cells=run.mesh.n_cells,
            grid=asdict(quality(run.mesh)),
            traces=run.traces.columns,
            edits=self.edits,
            cycles=self.cycles,
            verdict=self._comfort(answer),
        )
        yield from self._conclude(record, answer.time)

    def _comfort(self, answer: FieldResult) -> list[dict[str, Any]]:
        with worded_in(self.settled.case.units):
            return [row.as_dict() for row in comfort_verdict(self.settled.numbers, answer)]

    def _write(self, folder: Path) -> None:
        """Write the finished answer into its run folder."""
        assert self.record is not None and self.answer is not None
        for number, kept in enumerate(self.cycle_answers):
            keep_step(folder, number, kept)
        save_run(folder, self.record, self.answer, int(self.settled.numbers.solver.keep))


def _last_moment(folder: Path, answer: FieldResult) -> str:
    """Give the time (s) of the last state kept where an answer shows means: no moment to go on from."""
    times = state_times(folder) if answer.since is not None else []
    return repr(times[-1]) if times else ""


def representative_size(mesh: Mesh) -> float:
    """Give the representative cell size of a grid, m (Celik et al. 2008)."""
    ways = len(mesh.ways)
    return float(((mesh.plane_area if ways == 2 else mesh.volume).sum() / mesh.n_cells) ** (1 / ways))


def final_answer(solving: Solving) -> FieldResult:
    """Give the field of a finished solve."""
    assert solving.run is not None
    return solving.run.answer()
