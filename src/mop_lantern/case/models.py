"""Bringing a model of triangles into a case, or a changed one in its place."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.shape import model as models


def model_edits(case: Case, path: Path, unit: str, seal: bool, key: str = "") -> tuple[dict[str, Any], list[str]]:
    """Read a model and give the edits that bring it in, and words on what was found.

    A part of that id that is a model already is replaced: its place, role and scale stay, and names of faces that are still there.

    Raises
    ------
    FileError : the file cannot be read.
    """
    model = models.read_model(path, unit)
    if seal and model.rims:
        model = models.sealed(model)
    words = list(model.report)
    former: Any = case.shape.solids.get(key)
    if former is not None and former.kind == "model":
        model, lost = models.renamed(model, models.unpacked(former.mesh, former.names))
        words += [f"The face {name} was not found again: what referred to it must be set anew." for name in lost]
        where = f"shape.solids.{key}"
        return {f"{where}.mesh": models.packed(model), f"{where}.names": list(model.names), f"{where}.source": path.name}, words
    key = key or fresh_key(case, "shape.solids", "model")
    part = {"kind": "model", "source": path.name, "names": list(model.names), "mesh": models.packed(model)}
    edits: dict[str, Any] = {f"shape.solids.{key}": part}
    if case.shape.space != "space":
        edits = {"shape.space": "space", **edits}
    return edits, words
