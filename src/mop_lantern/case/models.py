"""Bringing a model of triangles into a case, or a changed one in its place."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError, Fault, nearest
from mop_lantern.shape import model as models
from mop_lantern.shape.renaming import renamed
from mop_lantern.shape.sealing import sealed
from mop_lantern.shape.solid import frame, place_of
from mop_lantern.shape.wrapping import wrap_model


def model_edits(
    case: Case,
    model: models.Model,
    source: str,
    seal: bool,
    key: str = "",
) -> tuple[dict[str, Any], list[str]]:
    """Give the edits that bring a model read from a file of a name in, and words on what was found.

    A part of that id that is a model already is replaced: its place, role and scale stay, and names of faces
    that are still there.
    """
    if seal and model.rims:
        model = sealed(model)
    words = list(model.report)
    former: Any = case.shape.solids.get(key)
    if former is not None and former.kind == "model":
        try:
            model, lost = renamed(model, models.unpacked(former.mesh, former.names))
            words += [
                f"The face {name} was not found again: what referred to it must be set anew." for name in lost
            ]
        except ValueError as problem:
            words.append(f"Names were not kept: {problem}.")
        return {
            f"shape.solids.{key}.{name}": value
            for name, value in (_stored(model) | {"source": source}).items()
        }, words
    key = key or fresh_key(case, "shape.solids", "model")
    part = {
        "kind": "model",
        "source": source,
        **_stored(model),
    }
    edits: dict[str, Any] = {f"shape.solids.{key}": part}
    if case.shape.space != "space":
        edits = {"shape.space": "space", **edits}
    return edits, words


def stored_edits(model: models.Model, key: str) -> dict[str, Any]:
    """Give the edits that put a model into a part."""
    return {f"shape.solids.{key}.{name}": value for name, value in _stored(model).items()}


def _stored(model: models.Model) -> dict[str, Any]:
    looks = {"layers": list(model.layers), "colours": list(model.colours)}
    return {
        "names": list(model.names),
        "mesh": models.packed(model),
        **{name: each if any(each) else [] for name, each in looks.items()},
    }


def rims_in(case: Case, key: str) -> int:
    """Give how many open rims a part has; 0 for one that is no model or is closed."""
    part: Any = case.shape.solids.get(key)
    if part is None or part.kind != "model":
        return 0
    try:
        return len(models.unpacked(part.mesh, part.names).rims)
    except ValueError:
        return 0


def stored_model(case: Case, key: str) -> models.Model:
    """Give the model a part holds, where it stands, with its layers and colours.

    Raises
    ------
    CaseError : the part is not a model, or a damaged one.
    """
    part: Any = case.shape.solids.get(key)
    if part is None or part.kind != "model":
        known = [name for name, each in case.shape.solids.items() if each.kind == "model"]
        raise CaseError([Fault(f"shape.solids.{key}", f"“{key}” is not a model.", nearest(key, known))])
    try:
        model = models.unpacked(part.mesh, part.names)
    except ValueError as problem:
        raise CaseError(
            [Fault(f"shape.solids.{key}.mesh", f"{problem}.", "Import the file again.")]
        ) from None
    layers, colours = (
        tuple(each) if len(each) == len(model.names) else ("",) * len(model.names)
        for each in (part.layers, part.colours)
    )
    return replace(
        model,
        group=model.face,
        groups=model.names,
        split=False,
        named=True,
        layers=layers,
        colours=colours,
    )


def wrap_edits(
    case: Case,
    key: str,
    feature: float,
    within: Any = None,
    stop: threading.Event | None = None,
    say: Callable[[str], None] = lambda words: None,
) -> tuple[dict[str, Any], list[str]]:
    """Give the edits that wrap a model in the case watertight at a feature size (m), and words on what was
    done.

    Parameters
    ----------
    within : (3,) m, a place whose surroundings are wrapped; None: the model from outside, its open rims
    closed first.

    Raises
    ------
    CaseError : the part is not a model; no wrap can be made.
    """
    model = stored_model(case, key)
    part: Any = resolve(case)[0].shape.solids[key]
    if within is not None:  # the place is meant where the model stands in the case
        turned = (np.asarray(within) - place_of(part)) @ frame(part.turn, 0.0).T
        within = turned / part.scale
    words = []
    if model.rims and within is None:  # from outside it would be flooded through them; inside they are told
        widest = max(float(np.ptp(model.points[rim], axis=0).max()) for rim in model.rims)
        words.append(
            f"{len(model.rims)} open rims are closed first, the widest {models.length(widest)} across."
        )
        model = sealed(replace(model, report=()))
    wrapped = wrap_model(model, feature / part.scale, within, stop, say)
    return stored_edits(wrapped, key), [*words, *wrapped.report]


def rim_edits(case: Case, key: str, only: int | None = None) -> tuple[dict[str, Any], list[str]]:
    """Give the edits that close one open rim of a model in the case (counted from the largest), or all, and
    words on what was done.

    Raises
    ------
    CaseError : the stored model is damaged.
    """
    model = sealed(stored_model(case, key), only)
    return stored_edits(model, key), list(model.report)
