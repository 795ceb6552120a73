"""Models parted into parts of their own, so that each has its role; small bodies excluded."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.case.faces import renamed_edits
from mop_lantern.case.models import stored_edits, stored_model
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape.model import Model
from mop_lantern.shape.topology import rims_of, shells_of
from mop_lantern.shape.wet import spaces_of

MOST = 60  # parts a model may be parted into


def split_edits(case: Case, key: str, by: str) -> dict[str, Any]:
    """Give the edits that part a model by "body" or "layer": the largest keeps the id of the part, the others
    become parts of the same role beside it, and what refers to their faces follows.

    Raises
    ------
    CaseError : the part is not a model, has but one body or layer, or too many.
    """
    model = stored_model(case, key)
    groups = _layers(model) if by == "layer" else _bodies(model)
    what = "layer" if by == "layer" else "body"
    if len(groups) < 2:
        says = f"it has one {what} only, so there is nothing to part."
        raise CaseError([Fault(f"shape.solids.{key}", says, "Leave it as it is.")])
    if len(groups) > MOST:
        says = f"it has {len(groups)} {what}s, and at most {MOST} parts can be made of it."
        remedy = "Part it by layer, or exclude small bodies first."
        raise CaseError([Fault(f"shape.solids.{key}", says, remedy)])
    part: Any = case.shape.solids[key]
    kept = {name: getattr(part, name) for name in ("role", "x", "y", "z", "turn", "scale", "least", "source")}
    edits: dict[str, Any] = {}
    moved: dict[str, str] = {}
    taken = set(case.shape.solids)
    for number, (name, chosen) in enumerate(groups):
        piece = _piece(model, chosen)
        if number == 0:
            edits |= stored_edits(piece, key)
            continue
        own = _free(_plain(name) or f"{key}_{number + 1}", taken)
        taken.add(own)
        moved |= {f"{key}.{face}": f"{own}.{face}" for face in piece.names}
        stored = {path.rpartition(".")[2]: value for path, value in stored_edits(piece, own).items()}
        edits[f"shape.solids.{own}"] = {"kind": "model", **kept, **stored}
    return edits | renamed_edits(case, moved)


def small_bodies(case: Case, key: str, size: float) -> tuple[int, int, float]:
    """Give how many bodies of a model are smaller than a size (m, the diagonal of their box), how many it
    has, and the share of its volume they hold.
    """
    model = stored_model(case, key)
    scale = float(resolve(case)[0].shape.solids[key].scale)
    parts = spaces_of(model.surface)
    least = [part.extent * scale < size for part in parts]
    volume = np.array([abs(part.volume) for part in parts])
    return sum(least), len(parts), float(volume[least].sum() / (volume.sum() or 1.0))


def _bodies(model: Model) -> list[tuple[str, Any]]:
    """Give the triangles of every body, the largest first, with the layer most of them belong to."""
    if model.rims:
        count, shell = shells_of(model.triangles)
        groups = [np.flatnonzero(shell == number) for number in range(count)]
    else:
        place = {tuple(triangle): k for k, triangle in enumerate(model.triangles.tolist())}
        groups = [
            np.array([place[tuple(triangle)] for triangle in part.triangles.tolist()])
            for part in spaces_of(model.surface)
        ]
    groups.sort(key=lambda mine: -float(np.ptp(model.points[model.triangles[mine]], axis=(0, 1)).max()))
    return [(_layer(model, mine), mine) for mine in groups]


def _layers(model: Model) -> list[tuple[str, Any]]:
    layers = model.layers if len(model.layers) == len(model.names) else ("",) * len(model.names)
    of = np.array(layers)[model.face]
    groups = [(name, np.flatnonzero(of == name)) for name in dict.fromkeys(layers)]
    return sorted(
        groups, key=lambda each: -float(np.ptp(model.points[model.triangles[each[1]]], axis=(0, 1)).max())
    )


def _layer(model: Model, mine: Any) -> str:
    if len(model.layers) != len(model.names):
        return ""
    return model.layers[int(np.bincount(model.face[mine]).argmax())]


def _piece(model: Model, chosen: Any) -> Model:
    """Give some triangles of a model as one of its own."""
    corners, triangles = np.unique(model.triangles[chosen], return_inverse=True)
    present, face = np.unique(model.face[chosen], return_inverse=True)
    triangles = triangles.reshape(-1, 3)
    layers, colours = (
        tuple(each[k] for k in present) if len(each) == len(model.names) else ("",) * len(present)
        for each in (model.layers, model.colours)
    )
    return replace(
        model,
        points=model.points[corners],
        triangles=triangles,
        face=face.reshape(-1),
        names=tuple(model.names[k] for k in present),
        rims=rims_of(triangles),
        layers=layers,
        colours=colours,
    )


def _plain(name: str) -> str:
    return re.sub(r"\W+", "_", name).strip("_").lower()


def _free(stem: str, taken: set[str]) -> str:
    if stem[0].isdigit():
        stem = f"part_{stem}"
    number = 1
    name = stem
    while name in taken:
        number += 1
        name = f"{stem}_{number}"
    return name
