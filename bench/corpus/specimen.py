"""One model of the corpus: how its file is made, what is done with it, and what is to come of it."""

from __future__ import annotations

import re
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import trimesh

from bench.step_files import Part, write_step
from mop_lantern.case import apply, parse_case, review
from mop_lantern.case.insides import around_edits, hollows_of_part, inside_edits
from mop_lantern.case.models import model_edits, wrap_edits
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError, LanternError, RunError
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import Surface, build
from mop_lantern.shape.reading import read_model
from mop_lantern.units import read

ACROSS = 24  # cells along a model


@dataclass(frozen=True)
class Specimen:
    """One model.

    Attributes
    ----------
    file : its name, the ending says the format. make : gives a mesh or triangles (m, 3, 3) in m, parts of a
    STEP file, or bytes. unit : written in. how : "fluid", "inside" or "around"; "seal" or "wrap SIZE"
    before. volume : m3 of fluid expected, to ``within`` of itself; None: a message that holds ``says``.
    """

    file: str
    make: Callable[[], Any]
    unit: str
    how: str
    volume: float | None
    within: float
    says: str


@dataclass(frozen=True)
class Outcome:
    """What came of one: "grid" or "message"; whether that was expected, the words, the seconds it took."""

    kind: str
    good: bool
    words: str
    seconds: float


SPECIMENS: list[Specimen] = []
SCALE = {"mm": 1e3, "cm": 1e2, "m": 1.0, "in": 1 / 0.0254, "ft": 1 / 0.3048, "": 1.0}


def specimen(
    file: str,
    volume: float | None = None,
    *,
    unit: str = "m",
    how: str = "fluid",
    within: float = 1e-3,
    says: str = "",
) -> Callable[[Callable[[], Any]], Callable[[], Any]]:
    """Add a model to the corpus."""

    def added(make: Callable[[], Any]) -> Callable[[], Any]:
        SPECIMENS.append(Specimen(file, make, unit, how, volume, within, says))
        return make

    return added


def written(one: Specimen, folder: Path) -> Path:
    """Write the file of a model."""
    path = folder / one.file
    made = one.make()
    if isinstance(made, bytes):
        path.write_bytes(made)
    elif isinstance(made, list) and made and isinstance(made[0], Part):
        write_step(path, made, {"in": "INCH", "m": "M"}.get(one.unit, "MM"))
    elif isinstance(made, trimesh.Scene):
        made.export(path)
    else:
        corners = np.asarray(made.triangles if hasattr(made, "triangles") else made) * SCALE[one.unit]
        count = 3 * len(corners)
        trimesh.Trimesh(corners.reshape(-1, 3), np.arange(count).reshape(-1, 3), process=False).export(path)
    return path


def outcome_of(one: Specimen, folder: Path) -> Outcome:
    """Bring a model in, do with it what is wanted, and make a grid of it."""
    began = time.monotonic()
    try:
        volume, cells = _gridded(one, written(one, folder))
    except CaseError as problem:
        words = " | ".join(str(fault) for fault in problem.faults)
        told = all(fault.path and fault.remedy for fault in problem.faults)
        good = one.volume is None and told and bool(re.search(one.says, words))
        return Outcome("message", good, words, time.monotonic() - began)
    except LanternError as problem:
        good = one.volume is None and one.file in str(problem) and bool(re.search(one.says, str(problem)))
        return Outcome("message", good, str(problem), time.monotonic() - began)
    good = one.volume is not None and abs(volume - one.volume) <= one.within * one.volume
    words = f"{cells} cells, {volume:.6g} m3"
    if one.volume is not None:
        words += f", {volume / one.volume - 1:+.2%}"
    return Outcome("grid", good, words, time.monotonic() - began)


def _gridded(one: Specimen, path: Path) -> tuple[float, int]:
    unit = "" if path.suffix in (".step", ".stp") else one.unit
    model = read_model(path, unit)
    case = parse_case({"title": "corpus", "media": {"w": {"kind": "water"}}})
    case = apply(case, model_edits(case, model, path.name, "seal" in one.how, "m")[0])
    if found := re.search(r"wrap(-within)? (\S+)(?: about (\S+))?", one.how):
        place = None if not found[3] else np.array([float(each) for each in found[3].split(",")])
        case = apply(case, wrap_edits(case, "m", read(found[2], "length"), place)[0])
    if "inside" in one.how:
        case = apply(case, inside_edits(case, "m", hollows_of_part(case, "m")))
    elif "around" in one.how:
        case = apply(case, around_edits(case, "m"))
    faults = [fault for fault in review(case).faults if fault.path.startswith("shape")]
    if faults:
        raise CaseError(faults)
    surface = build(resolve(case)[0].shape)
    assert isinstance(surface, Surface)
    mesh = make_in_space(surface, float(np.ptp(surface.points, axis=0).max()) / ACROSS, 1)
    whole = float(mesh.volume.sum())
    if abs(whole - surface.volume) > 1e-9 * surface.volume:
        raise RunError(f"the cells hold {whole:.9g} m3 of {surface.volume:.9g} m3")
    return whole, mesh.n_cells
