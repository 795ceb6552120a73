"""Patches laid on a face of a space by two places on it."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape import Surface
from mop_lantern.shape.solid import face_axes

Floats = NDArray[np.float64]


def outline_of(
    surface: Surface,
    on: str,
    first: Floats,
    second: Floats,
    outline: str,
) -> Floats:
    """Give the outline of a patch, (k, 3) m: a rectangle between two corners, or a disc about the first place
    through the second.
    """
    middle, aside, up, width, height = _measures(
        surface,
        on,
        first,
        second,
        outline,
    )
    if outline == "round":
        angle = np.linspace(0, 2 * np.pi, 49)
        flat = 0.5 * width * np.column_stack([np.cos(angle), np.sin(angle)])
    else:
        flat = (
            0.5
            * np.array(
                [
                    [-1, -1],
                    [1, -1],
                    [1, 1],
                    [-1, 1],
                    [-1, -1],
                ]
            )
            * [width, height]
        )
    return np.asarray(middle + flat[:, :1] * aside + flat[:, 1:] * up)


def patch_edits(
    case: Case,
    surface: Surface,
    on: str,
    first: Floats,
    second: Floats,
    outline: str,
    fineness: float,
) -> tuple[dict[str, Any], str]:
    """Give the edits that lay a patch, and its id.

    Parameters
    ----------
    outline : "rectangular" or "round". first, second : (3,) m on the face. fineness : m, what places and
    sizes are rounded to.

    Raises
    ------
    CaseError : the patch has no size; the face is not flat.
    """
    vectors = surface.area_vectors[surface.labels == surface.names.index(on)]
    if np.linalg.norm(vectors.sum(axis=0)) < 0.999 * np.linalg.norm(vectors, axis=1).sum():
        raise CaseError(
            [
                Fault(
                    "shape.solids",
                    f"the face {on} is not flat: a patch cannot be laid on it.",
                    "Choose a flat face.",
                )
            ]
        )
    middle, _, _, width, height = _measures(
        surface,
        on,
        first,
        second,
        outline,
    )
    step = 10.0 ** np.floor(np.log10(max(fineness, 1e-7)))
    if min(width, height) < 2 * step:
        raise CaseError(
            [Fault("shape.solids", "the patch has no size.", "Draw it larger, or move nearer first.")]
        )
    key = fresh_key(case, "shape.solids", "patch")
    part = {
        "kind": "patch",
        "on": on,
        "outline": outline,
        "width": _mm(width, step),
        "height": _mm(height, step),
    }
    part |= {name: _mm(float(value), step) for name, value in zip("xyz", middle, strict=True)}
    return {f"shape.solids.{key}": part}, key


def _measures(
    surface: Surface,
    on: str,
    first: Floats,
    second: Floats,
    outline: str,
) -> tuple[Floats, Floats, Floats, float, float]:
    aside, up = face_axes(-surface.face(on)[1])
    across = float((second - first) @ aside)
    along = float((second - first) @ up)
    if outline == "round":
        width = 2 * float(np.hypot(across, along))
        return first, aside, up, width, width
    return first + 0.5 * (across * aside + along * up), aside, up, abs(across), abs(along)


def _mm(value: float, step: float) -> str:
    return f"{round(value / step) * step * 1e3:.9g} mm"
