"""Which of several spaces are wet: those that places lie in."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import CaseError, Fault
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape.surface import Surface, winding
from mop_lantern.shape.topology import hanging, shells_of

Floats = NDArray[np.float64]
MOST = 6  # spaces told one by one
BEHIND = 1e-3  # of the size of a triangle: how far behind a wall is looked for the space it bounds
TINY = 1e-300  # m2


def wet_space(surface: Surface, places: Floats) -> Surface:
    """Keep the spaces that wet points lie in, with the islands in them; all of it where there is but one.

    Parameters
    ----------
    places : (k, 3) m.

    Raises
    ------
    CaseError : several spaces and no place; a place in none of them.
    """
    spaces = spaces_of(surface)
    if len(places):
        within = [winding(space, places) > 0 for space in spaces]
        lost = np.flatnonzero(~np.any(within, axis=0))
        if len(lost):
            which = "the wet point" if len(places) == 1 else f"wet point {int(lost[0]) + 1}"
            raise CaseError(
                [
                    Fault(
                        "shape.wet", f"{which} lies in a wall, a solid or outside.", "Move it into the fluid."
                    )
                ]
            )
        held = [space for space, holds in zip(spaces, within, strict=True) if holds.any()]
        return (
            held[0]
            if len(held) == 1
            else replace(
                surface,
                triangles=np.vstack([space.triangles for space in held]),
                labels=np.concatenate([space.labels for space in held]),
            )
        )
    if len(spaces) > 1:
        told = [
            f"{1e3 * space.volume:.4g} L about "
            + "({:.4g}, {:.4g}, {:.4g}) mm".format(*(1e3 * inner_place(space)).tolist())
            for space in spaces[:MOST]
        ]
        says = (
            f"the parts make {len(spaces)} spaces that do not touch: "
            f"{'; '.join(told)}{' …' if len(spaces) > MOST else ''}."
        )
        raise CaseError(
            [
                Fault(
                    "shape.solids",
                    says,
                    "Move the parts until they overlap, or say by wet points which spaces are meant.",
                )
            ]
        )
    return surface


def inner_place(surface: Surface) -> Floats:
    """Give a place well inside a space, (3,) m: of many at random the one farthest from its walls."""
    corners = surface.points[surface.triangles]
    low = corners.min(axis=(0, 1))
    high = corners.max(axis=(0, 1))
    vectors = surface.area_vectors
    normal = vectors / np.maximum(np.linalg.norm(vectors, axis=1), 1e-300)[:, None]
    tried = np.vstack(
        [
            low + np.random.default_rng(0).random((2000, 3)) * (high - low),
            corners.mean(axis=1)[:500] - 1e-4 * surface.size * normal[:500],
        ]
    )
    inside = tried[winding(surface, tried) > 0]
    return np.asarray(
        inside[int(nearest_tree(corners.mean(axis=1)).query(inside)[0].argmax())]
        if len(inside)
        else corners[0, 0]
    )


def spaces_of(surface: Surface) -> list[Surface]:
    """Part a surface into spaces, largest first: every outer shell with the shells of islands next within
    it.
    """
    if (surface.beyond >= 0).all():
        triangle = np.repeat(np.arange(len(surface.triangles)), 3)
        shells, shell = hanging(triangle, surface.beyond.reshape(-1), len(surface.triangles))
    else:  # not closed: what shares an edge is one
        shells, shell = shells_of(surface.triangles)
    if shells == 1:
        return [surface]
    volume = np.bincount(
        shell, (surface.points[surface.triangles].mean(axis=1) * surface.area_vectors).sum(axis=1) / 3, shells
    )
    size = np.linalg.norm(surface.area_vectors, axis=1)
    order = np.argsort(shell, kind="stable")
    members = np.split(order, np.cumsum(np.bincount(shell, minlength=shells))[:-1])
    hollows = np.flatnonzero(volume <= 0)
    outer = np.flatnonzero(volume > 0)
    outer = outer[np.argsort(-volume[outer])]
    own: dict[int, list[int]] = {int(k): [int(k)] for k in outer}
    begins = np.array([members[k][int(size[members[k]].argmax())] for k in hollows], int)
    away = surface.area_vectors[begins] / np.maximum(size[begins], TINY)[:, None]
    off = BEHIND * np.sqrt(size[begins])  # behind the wall, where another body that fills the hollow is not
    places = surface.points[surface.triangles[begins]].mean(axis=1) - off[:, None] * away
    waiting = np.ones(len(hollows), bool)
    for k in outer[::-1].tolist():
        if not waiting.any():
            break
        left = np.flatnonzero(waiting)
        left = left[-volume[hollows[left]] < volume[k]]
        held = left[winding(_part(surface, members[k]), places[left]) > 0]
        own[k] += hollows[held].tolist()
        waiting[held] = False
    return [_part(surface, np.concatenate([members[k] for k in mine])) for mine in own.values()]


def _part(surface: Surface, chosen: Any) -> Surface:
    return replace(surface, triangles=surface.triangles[chosen], labels=surface.labels[chosen])
