"""A model wrapped watertight: the work handed to a process of its own, names kept, what it changed told."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape.model import Model, length, spot

Floats = NDArray[np.float64]
STEPS = 3  # of the lattice along the feature size
MOST_NODES = 60_000_000
NODES_A_SECOND = 3e6  # measured on two cores, with all that is done to them
BYTES_A_NODE = 30
LOST = 0.05  # of the volume: more lost is told
BRIDGE = "bridge"  # the face of what closes gaps
LEAKS = 3  # how the process ends that found a gap too wide


@dataclass(frozen=True)
class Plan:
    """What a wrap would take: nodes of its lattice, s, bytes."""

    nodes: float
    seconds: float
    memory: float


def plan_of(points: Floats, feature: float) -> Plan:
    """Estimate what a wrap at a feature size (m) takes."""
    step = feature / STEPS
    nodes = float(np.prod(np.ptp(points, axis=0) / step + STEPS + 8))
    return Plan(nodes, 2.0 + nodes / NODES_A_SECOND, 3e8 + BYTES_A_NODE * nodes)


def least_feature(points: Floats) -> float:
    """Give the smallest feature size (m) a wrap can be made at."""
    feature = float(np.ptp(points, axis=0).max()) / 2000
    while plan_of(points, feature).nodes > MOST_NODES:
        feature *= 1.05
    return feature


def likely_feature(points: Floats) -> float:
    """Guess a feature size: a hundredth of the model, m."""
    return max(float(np.ptp(points, axis=0).max()) / 100, least_feature(points))


def wrap_model(
    model: Model,
    feature: float,
    within: Floats | None = None,
    stop: threading.Event | None = None,
    say: Callable[[str], None] = lambda words: None,
) -> Model:
    """Wrap a model from outside, or the space inside it about a place, (3,) m.

    Returns
    -------
    a closed model with the names, layers and colours of the nearest faces; its report tells what changed.

    Raises
    ------
    CaseError : no wrap can be made: the feature size is too small or too large, or the inside is open wider.
    """
    used = model.points[np.unique(model.triangles)]
    size = float(np.ptp(used, axis=0).max())
    if not feature > 0 or plan_of(used, feature).nodes > MOST_NODES or feature > 0.5 * size:
        says = f"a feature size of {length(feature)} does not suit a model of {length(size)}."
        remedy = f"Choose one from {length(least_feature(used))} to {length(0.2 * size)}."
        raise CaseError([Fault("wrap", says, remedy)])
    with tempfile.TemporaryDirectory() as folder:
        given, made = (Path(folder) / name for name in ("in.npz", "out.npz"))
        np.savez(
            given,
            corners=model.points[model.triangles],
            group=model.face,
            feature=feature,
            within=np.zeros(0) if within is None else within,
        )
        code, words = _child(given, made, stop, say)
        if code == LEAKS:
            with np.load(made) as data:
                raise CaseError([_leak(feature, data["places"], float(data["closes"]))])
        if code or not made.exists():
            says = words.strip()[-300:] if code == 2 else "the wrap ended without a result"
            raise CaseError([Fault("wrap", f"{says}.", "Choose another feature size.")])
        with np.load(made) as data:
            return _wrapped(model, dict(data), feature)


def _leak(feature: float, places: Floats, closes: float) -> Fault:
    where = ", ".join(spot(place[None]) for place in places[:4])
    says = f"the inside is open to the outside by more than {length(feature)}" + (
        f", about {where}." if where else "."
    )
    remedy = f"A feature size of {length(closes)} closes it; or " if closes else ""
    remedy += "close the opening by a cap, a disc or a plate first." if remedy else "Close the opening first."
    marks = tuple((tuple(place.tolist()), tuple((place + 1e-3 * feature).tolist())) for place in places)
    return Fault("wrap", says, remedy[0].upper() + remedy[1:], marks)


def _wrapped(model: Model, data: dict[str, Any], feature: float) -> Model:
    """Make a model of what came back, and tell what changed."""
    of = data["of"]
    face = np.where(of >= 0, model.face[of], len(model.names))
    present, face = np.unique(face, return_inverse=True)
    bridge = BRIDGE
    while bridge in model.names:
        bridge += "_"
    count = len(model.names)
    every = (*model.names, bridge)
    layers, colours = (
        (*each, "") if len(each) == count else ("",) * (count + 1) for each in (model.layers, model.colours)
    )
    kept = set(present.tolist())
    lost = [name for k, name in enumerate(model.names) if k not in kept]
    before = f" (the volume was {1e3 * model.volume:.4g} L)" if not model.rims and model.volume > 0 else ""
    words = [
        f"Wrapped at a feature size of {length(feature)}: gaps narrower than that are closed; it holds "
        f"{1e3 * float(data['volume']):.4g} L{before}.",
        f"{float(data['bridged']):.1%} of its area bridges gaps and is named {bridge}."
        if data["bridged"] > 0
        else "Nothing had to be bridged.",
    ]
    if before and float(data["volume"]) < (1 - LOST) * model.volume:
        words.append(
            f"{1 - float(data['volume']) / model.volume:.0%} of its volume is lost: walls thinner than about "
            "a third of the feature size are not seen. Choose a smaller one."
        )
    if model.rims:
        words.append(f"{len(model.rims)} open rims are closed with it, as far as they are narrower.")
    if lost:
        told = ", ".join(lost[:5]) + (" …" if len(lost) > 5 else "")
        words.append(f"{len(lost)} faces lie within it or are too small to be seen, and are gone: {told}.")
    return replace(
        model,
        points=data["points"],
        triangles=data["triangles"],
        face=face.reshape(-1),
        names=tuple(every[k] for k in present),
        report=tuple(words),
        rims=(),
        group=face.reshape(-1),
        groups=tuple(every[k] for k in present),
        split=False,
        named=True,
        layers=tuple(layers[k] for k in present),
        colours=tuple(colours[k] for k in present),
        marked=np.zeros((0, 3, 3)),
    )


def _child(
    given: Path, made: Path, stop: threading.Event | None, say: Callable[[str], None]
) -> tuple[int, str]:
    """Run the process to its end, or end it; give its exit code and what it says is wrong."""
    worker = subprocess.Popen(
        [sys.executable, "-m", "mop_lantern.shape.wrap_child", str(given), str(made)],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )

    def listen() -> None:
        assert worker.stdout is not None
        for line in worker.stdout:
            say(line.strip())

    ear = threading.Thread(target=listen, daemon=True)
    ear.start()
    try:
        while worker.poll() is None:
            if stop is not None and stop.is_set():
                raise CaseError([Fault("wrap", "wrapping was stopped.", "Start it again when it suits.")])
            try:
                worker.wait(0.1)
            except subprocess.TimeoutExpired:
                continue
    finally:
        if worker.poll() is None:
            worker.kill()
        ear.join(2.0)
        assert worker.stderr is not None
        words = worker.stderr.read()
        worker.wait()
    return worker.returncode, words
