"""Bringing a model of triangles into a case, or a changed one in its place."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.shape import model as models
from mop_lantern.shape.sealing import sealed


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
            model, lost = models.renamed(model, models.unpacked(former.mesh, former.names))
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


def rim_edits(case: Case, key: str, only: int | None = None) -> tuple[dict[str, Any], list[str]]:
    """Give the edits that close one open rim of a model in the case (counted from the largest), or all, and
    words on what was done.

    Raises
    ------
    ValueError : the stored model is damaged.
    """
    part: Any = case.shape.solids[key]
    former = models.unpacked(part.mesh, part.names)
    layers, colours = (
        tuple(each) if len(each) == len(former.names) else ("",) * len(former.names)
        for each in (part.layers, part.colours)
    )
    kept = replace(
        former,
        group=former.face,
        groups=former.names,
        split=False,
        named=True,
        layers=layers,
        colours=colours,
    )
    model = sealed(kept, only)
    return {f"shape.solids.{key}.{name}": value for name, value in _stored(model).items()}, list(model.report)
