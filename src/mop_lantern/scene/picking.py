"""Which faces of a space lie under a pixel, and which belong with one of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.scene.orbit import Orbit
from mop_lantern.shape import Surface

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Picked:
    """A face under a pixel.

    Attributes
    ----------
    name : of the face. place : (3,) m on it. from_fluid : whether its wet side is seen.
    """

    name: str
    place: Floats
    from_fluid: bool


def pick(
    surface: Surface,
    orbit: Orbit,
    flat: Floats,
    cut: tuple[int, float] | None = None,
) -> list[Picked]:
    """Give the faces a line of sight goes through: first those whose wet side is seen, the nearest first,
    then those seen from behind.

    Parameters
    ----------
    flat : (2,) m in the plane of the picture. cut : direction across a section and its place (m); what lies
    before it is cut away.
    """
    right, up, towards = orbit.axes
    seen = (surface.points - np.array(orbit.focus)) @ np.column_stack([right, up, towards])
    seen[:, :2] -= flat
    corners = seen[surface.triangles]
    near = np.flatnonzero(
        (corners[:, :, :2].min(axis=1) <= 0).all(axis=1) & (corners[:, :, :2].max(axis=1) >= 0).all(axis=1)
    )
    a, b, c = (corners[near, k] for k in range(3))
    weights = np.column_stack(
        [
            q[:, 0] * r[:, 1] - q[:, 1] * r[:, 0]
            for q, r in (
                (b, c),
                (c, a),
                (a, b),
            )
        ]
    )
    whole = weights.sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        weights = weights / whole[:, None]
    hit = np.flatnonzero((weights >= -1e-12).all(axis=1) & (whole != 0))
    towards_eye = (weights[hit, :, None] * corners[near[hit]]).sum(axis=1)[:, 2]
    found = []
    for triangle, depth, facing in zip(near[hit], towards_eye, whole[hit], strict=True):
        place = np.array(orbit.focus) + flat[0] * right + flat[1] * up + depth * towards
        if cut is None or (place[cut[0]] - cut[1]) * towards[cut[0]] <= 0:
            found.append(
                (
                    bool(facing > 0),
                    -depth,
                    Picked(surface.names[surface.labels[triangle]], place, bool(facing < 0)),
                )
            )
    once: dict[str, Picked] = {}
    for _, _, one in sorted(found, key=lambda item: item[:2]):
        once.setdefault(one.name, one)
    return list(once.values())
