"""Openings in series: a patch and what is at it, spread evenly over its face and named one after another."""

from __future__ import annotations

import re
from collections.abc import Iterable
from itertools import count, islice
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case.document import Case
from mop_lantern.case.fresh_place import length
from mop_lantern.declare import declared
from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape import Plane, Surface
from mop_lantern.shape.solid import face_axes

Floats = NDArray[np.float64]
DIGITS = "0123456789"
MOST = 200  # copies in all
FLOWS = ("volume_flow", "mass_flow", "velocity", "rate")  # what all of a series shall have alike
FORM = re.compile(r"\s*(\d+)(?:\s*[x×*]\s*(\d+))?\s*")


def parse_series(text: str) -> tuple[int, int]:
    """Read ``4 x 2`` or ``4``: how many along the face and across it.

    Raises
    ------
    CaseError : it is none.
    """
    found = FORM.fullmatch(text)
    counts = (int(found[1]), int(found[2] or 1)) if found else (0, 0)
    if min(counts) < 1 or counts[0] * counts[1] < 2:
        raise _refused("", f"“{text.strip()}” does not say how many.", "Write 4 x 2, or 4 for a single row.")
    if counts[0] * counts[1] > MOST:
        raise _refused("", f"{counts[0] * counts[1]} are more than {MOST}.", "Take fewer, larger ones.")
    return counts


def series_edits(
    case: Case, shape: Plane | Surface | None, named: str, counts: tuple[int, int]
) -> dict[str, Any]:
    """Give the edits that spread a patch, with the opening at it, evenly over its face.

    The patch itself takes the first place, a single row keeps its height; its copies, and those of its
    opening, are named in series. A flow that is a plain value becomes a parameter, so that one edit changes
    it for all.

    Parameters
    ----------
    named : the id of the patch or of the opening at it. counts : along the face and across it.

    Raises
    ------
    CaseError : there is no such patch, or the face is too small for so many.
    """
    patch, opening = _patch_of(case, named)
    places = _places(case, shape, patch, counts)
    data = case.as_data()
    edits: dict[str, Any] = {f"shape.solids.{patch}.{way}": at for way, at in places[0].items()}
    shared = _shared(case, opening, edits) if opening else {}
    patches = _names(data["shape"]["solids"], patch, len(places) - 1)
    openings = _names(data["field"]["openings"], opening, len(places) - 1)
    for key, other, place in zip(patches, openings, places[1:], strict=True):
        edits[f"shape.solids.{key}"] = {**data["shape"]["solids"][patch], **place}
        if opening:
            copy = {**data["field"]["openings"][opening], **shared, "edge": f"{key}.face"}
            edits[f"field.openings.{other}"] = copy
    return edits


def series_name(case: Case, path: str) -> str:
    """Give the id of the patch or opening that a line of the sheet is about, or "" where it is about none."""
    steps = path.split(".")
    if len(steps) < 3 or ".".join(steps[:2]) not in ("shape.solids", "field.openings"):
        return ""
    try:
        _patch_of(case, steps[2])
    except CaseError:
        return ""
    return steps[2]


def _patch_of(case: Case, named: str) -> tuple[str, str]:
    """Give a patch and the opening at it, "" for none, by the id of either."""
    openings = case.field.openings
    solids = case.shape.solids
    patch = openings[named].edge.removesuffix(".face") if named in openings else named
    if patch not in solids or solids[patch].kind != "patch":
        patches = ", ".join(key for key, solid in solids.items() if solid.kind == "patch")
        known = f"Name one of {patches}, or an opening at it." if patches else "Add a patch on a face first."
        raise _refused(named, "this is neither a patch on a face nor an opening at one.", known)
    there = [key for key, item in openings.items() if item.edge == f"{patch}.face"]
    return patch, there[0] if there else ""


def _places(
    case: Case, shape: Plane | Surface | None, patch: str, counts: tuple[int, int]
) -> list[dict[str, str]]:
    """Give the places (m) of so many patches over a face, row by row, each in the middle of its share."""
    on = case.shape.solids[patch].on
    if not isinstance(shape, Surface) or not {on, f"{patch}.face"} <= set(shape.names):
        raise _refused(patch, f"“{on}” or the patch is not there.", "Put the shape right first.")
    _, inward = shape.face(on)
    ways = np.array(face_axes(-inward))
    patches = {key: item.on for key, item in case.shape.solids.items() if item.kind == "patch"}
    others = [f"{key}.face" for key, under in patches.items() if under == on and key != patch]
    others = [name for name in others if name in shape.names]
    whole = _corners(shape, [on, f"{patch}.face", *others]) @ ways.T
    own = _corners(shape, [f"{patch}.face"]) @ ways.T
    size = np.ptp(own, axis=0)
    lows = whole.min(axis=0)
    share = np.ptp(whole, axis=0) / np.array(counts)
    _fits(patch, size, share)
    steps = np.array([(column, row) for row in range(counts[1]) for column in range(counts[0])])
    middles = lows + share * (steps + 0.5)
    single = np.array(counts) == 1  # across a single row each keeps its place
    middles[:, single] = (own.min(axis=0) + 0.5 * size)[single]
    for name in others:
        _clear(patch, name, middles, size, _corners(shape, [name]) @ ways.T)
    depth = float(_corners(shape, [on])[0] @ inward)
    return [
        {name: f"{value:.6g} m" for name, value in zip("xyz", at, strict=True)}
        for at in middles @ ways + depth * inward
    ]


def _corners(shape: Surface, names: list[str]) -> Floats:
    """Give the corners (k, 3) m of some faces."""
    rows = np.isin(shape.labels, [shape.names.index(name) for name in names])
    return shape.points[shape.triangles[rows]].reshape(-1, 3)


def _fits(patch: str, size: Floats, share: Floats) -> None:
    """Refuse so many (``share`` of the face for each, m) that they would touch each other (``size``, m)."""
    if (size < share).all():
        return
    has, takes = (" by ".join(length(float(side)) for side in sides) for sides in (share, size))
    says = f"each would have {has} of the face and takes {takes}."
    raise _refused(patch, says, "Take fewer, or make the patch smaller.")


def _clear(patch: str, other: str, middles: Floats, size: Floats, corners: Floats) -> None:
    """Refuse places (k, 2) m where patches of a ``size`` would meet another with ``corners`` (n, 2)."""
    low, high = corners.min(axis=0), corners.max(axis=0)
    meets = (middles - 0.5 * size < high).all(axis=1) & (middles + 0.5 * size > low).all(axis=1)
    if meets.any():
        says = f"one of the series would lie on “{other}”."
        raise _refused(patch, says, "Take another number, or remove that one first.")


def _shared(case: Case, opening: str, edits: dict[str, Any]) -> dict[str, str]:
    """Put a flow that is a plain value into a parameter; give these fields as the whole series has them."""
    item = case.field.openings[opening]
    found = {}
    for name, rule in declared(cast(Any, type(item))).items():
        value = getattr(item, name)
        if rule.form != "quantity" or rule.dimension not in FLOWS or not value or value.startswith("="):
            continue
        key = _names(case.parameters, f"{opening.rstrip(DIGITS)}_{name}0", 1)[0]
        edits[f"parameters.{key}"] = {"value": value, "title": f"{rule.label} of each of the series"}
        found[name] = f"= {key}"
        edits[f"field.openings.{opening}.{name}"] = found[name]
    return found


def _names(taken: Iterable[str], like: str, many: int) -> list[str]:
    """Give so many free names that go on from one: supply, supply2, supply3."""
    stem = like.rstrip(DIGITS)
    first = int(like.removeprefix(stem) or 1) + 1
    known = set(taken)
    names = (f"{stem}{number}" for number in count(first))
    return list(islice((name for name in names if name not in known), many))


def _refused(named: str, says: str, remedy: str) -> CaseError:
    return CaseError([Fault(f"shape.solids.{named}" if named else "shape.solids", says, remedy)])
