"""Faces that belong together: in one plane, touching, named alike, of one layer or colour."""

from __future__ import annotations

from fnmatch import fnmatchcase

import numpy as np

from mop_lantern.errors import nearest
from mop_lantern.shape.surface import Surface

FLAT = 1e-3  # of a direction's length: how far triangles of one plane may lean apart
RULES = ("plane", "touching", "alike", "layer", "colour")


def chosen(surface: Surface, rule: str) -> list[str]:
    """Give the faces a rule names: a pattern of names with * and ?, or one of "plane=FACE", "touching=FACE",
    "alike=FACE", "layer=NAME", "colour=#rrggbb"; capital letters do not count.

    Raises
    ------
    ValueError : the rule names a face there is not.
    """
    present = list(surface.edge_lengths)
    kind, given, of = rule.partition("=")
    if not given or kind not in RULES:
        return [name for name in present if fnmatchcase(name.lower(), rule.lower())]
    if kind in ("layer", "colour"):
        which = 0 if kind == "layer" else 1
        none = ("", "")
        return [name for name in present if surface.looks.get(name, none)[which].lower() == of.lower()]
    if of not in present:
        raise ValueError(f"there is no face “{of}”. {nearest(of, present)}")
    find = {"plane": in_plane_with, "touching": touching, "alike": named_alike}[kind]
    return find(surface, of)


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
