"""What a solver tells while it works: the messages that go from it to the window and the command line, as
JSON lines.

Every message is made here, so that both sides agree on what it holds.
"""

from __future__ import annotations

from typing import Any, Literal, TypedDict, Union


class Started(TypedDict):
    """A solve begins."""

    event: Literal["started"]
    variant: str


class Stage(TypedDict, total=False):
    """What is done next; ``cells`` of its grid, ``grid`` where it is the grid of the answer."""

    event: Literal["stage"]
    text: str
    cells: int
    grid: bool


class Progress(TypedDict, total=False):
    """How far an iteration or a march has come. ``eta`` : s left, or None. ``coarse`` : on a grid that only
    helps. ``sketch`` : a first picture of an edit. ``working``, ``planned`` : of a network worked live.
    """

    event: Literal["progress"]
    iteration: int
    momentum: float
    mass: float
    readings: dict[str, float | None]
    eta: float | None
    coarse: bool
    sketch: bool
    time: float
    until: float
    working: Any
    planned: dict[str, Any]


class Note(TypedDict):
    """Something to be told in passing."""

    event: Literal["note"]
    text: str


class Saved(TypedDict):
    """The folder a run was stored in."""

    event: Literal["saved"]
    run: str


class Abandoned(TypedDict):
    """A later edit has taken the place of this solve."""

    event: Literal["abandoned"]


class Finished(TypedDict, total=False):
    """The answer, as its record has it. ``unsaved`` : why it is stored nowhere. ``worked`` : what was done by
    hand to a network, (time s, path, value).
    """

    event: Literal["finished"]
    unsaved: str
    readings: dict[str, Any]
    standard: dict[str, Any]
    verdict: list[dict[str, Any]]
    trust: list[dict[str, Any]]
    converged: bool
    stopped: bool
    time: float
    iterations: int
    cells: int
    seconds: float
    run: str
    grid: dict[str, Any]
    worked: list[list[Any]]


class Failed(TypedDict, total=False):
    """Why there is no answer: what is wrong, where, and how to fix it."""

    event: Literal["failed"]
    error: str
    where: str
    remedy: str
    faults: list[dict[str, Any]]


Event = Union[Started, Stage, Progress, Note, Saved, Abandoned, Finished, Failed]  # noqa: UP007 - read at run time


def started(variant: str) -> Started:
    """Tell that a solve of a variant begins."""
    return {"event": "started", "variant": variant}


def stage(text: str, cells: int | None = None, grid: bool = False) -> Stage:
    """Tell what is done next."""
    made: Stage = {"event": "stage", "text": text}
    if cells is not None:
        made["cells"] = cells
    if grid:
        made["grid"] = True
    return made


def progress(
    iteration: int,
    momentum: float,
    mass: float,
    readings: dict[str, float | None] | None = None,
    eta: float | None = None,
    coarse: bool = False,
) -> Progress:
    """Tell how far an iteration has come."""
    return {
        "event": "progress",
        "iteration": iteration,
        "momentum": momentum,
        "mass": mass,
        "readings": readings or {},
        "eta": eta,
        "coarse": coarse,
    }


def note(text: str) -> Note:
    """Tell something in passing."""
    return {"event": "note", "text": text}


def saved(run: str) -> Saved:
    """Tell where a run was stored."""
    return {"event": "saved", "run": run}


def failed(
    error: str,
    where: str = "",
    remedy: str = "",
    faults: list[dict[str, Any]] | None = None,
) -> Failed:
    """Tell why there is no answer."""
    made: Failed = {"event": "failed", "error": error, "where": where, "remedy": remedy}
    if faults is not None:
        made["faults"] = faults
    return made
