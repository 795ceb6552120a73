"""Bringing a model of triangles into a case, or a changed one in its place."""

from __future__ import annotations

from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.shape import model as models


def model_edits(case: Case, model: models.Model, source: str, seal: bool, key: str = "") -> tuple[dict[str, Any], list[str]]:
    """Give the edits that bring a model read from a file of a name in, and words on what was found.

    A part of that id that is a model already is replaced: its place, role and scale stay, and names of faces that are still there.
    """
    if seal and model.rims:
        model = models.sealed(model)
    words = list(model.report)
    former: Any = case.shape.solids.get(key)
    if former is not None and former.kind == "model":
        try:
            model, lost = models.renamed(model, models.unpacked(former.mesh, former.names))
            words += [f"The face {name} was not found again: what referred to it must be set anew." for name in lost]
        except ValueError as problem:
            words.append(f"Names were not carried over: {problem}.")
        where = f"shape.solids.{key}"
        return {f"{where}.mesh": models.packed(model), f"{where}.names": list(model.names), f"{where}.source": source}, words
    key = key or fresh_key(case, "shape.solids", "model")
    part = {"kind": "model", "source": source, "names": list(model.names), "mesh": models.packed(model)}
    edits: dict[str, Any] = {f"shape.solids.{key}": part}
    if case.shape.space != "space":
        edits = {"shape.space": "space", **edits}
    return edits, words
