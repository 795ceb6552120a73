"""Which faces of a space lie under a pixel, and which belong with one of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.scene.orbit import Orbit
from mop_lantern.shape import Surface

Floats = NDArray[np.float64]
FLAT = 1e-3  # of a direction's length: how far triangles of one plane may lean apart


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


def in_plane_with(surface: Surface, name: str) -> list[str]:
    """Give the faces that lie in the plane of a flat one, itself first; itself alone where it is not flat."""
    present = list(surface.edge_lengths)
    vectors = surface.area_vectors
    mine = surface.labels == surface.names.index(name)
    total = vectors[mine].sum(axis=0)
    size = np.linalg.norm(vectors, axis=1)
    normal = total / (np.linalg.norm(total) or 1.0)
    if np.linalg.norm(total) < (1 - FLAT) * size[mine].sum():
        return [name]
    level = surface.points[surface.triangles] @ normal
    middle = level[mine].mean()
    out = np.abs(level - middle).max(axis=1) > 1e-5 * surface.size  # a patch lies a hair before its face
    leans = vectors @ normal < (1 - FLAT) * size
    other = np.unique(surface.labels[(out | leans) & (size > 0)])
    kept = [each for each in present if surface.names.index(each) not in set(other.tolist()) or each == name]
    return [name, *(each for each in kept if each != name)]


def touching(surface: Surface, name: str) -> list[str]:
    """Give a face and those that share an edge with it."""
    mine = surface.labels == surface.names.index(name)
    beyond = surface.beyond[mine]
    labels = np.unique(surface.labels[beyond[beyond >= 0]])
    return [name, *(surface.names[k] for k in labels if surface.names[k] != name)]


def named_alike(surface: Surface, name: str) -> list[str]:
    """Give the faces whose side has the same name, of any part."""
    side = name.partition(".")[2].rstrip("0123456789")
    return [
        name,
        *(
            each
            for each in surface.edge_lengths
            if each != name and each.partition(".")[2].rstrip("0123456789") == side
        ),
    ]
