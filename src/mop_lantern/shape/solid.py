"""What a part of a space is made of: a closed body whose triangles know their side."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, choice, quantity
from mop_lantern.declare.kind import Text

Floats = NDArray[np.float64]
Ints = NDArray[Any]
AROUND = 96  # corners of a round section: its area falls short by 7e-4


@dataclass(frozen=True)
class Body:
    """A closed body.

    Attributes
    ----------
    points : (n, 3) m. triangles : (m, 3), facing out. side : (m,) index into ``sides``.
    """

    points: Floats
    triangles: Ints
    side: Ints
    sides: tuple[str, ...]


class Solid(Kind):
    """A part of a space: it holds fluid, or takes space away. ``build(numbers)`` gives its `Body`; `PartFault` when it cannot be."""

    sides: ClassVar[tuple[str, ...]] = ()

    role: Literal["fluid", "solid"] = choice("role", "Whether it holds the fluid or takes space away from it.", {"fluid": "full of fluid", "solid": "solid"}, default="fluid")
    x: Text = quantity("length", "x", "Where it begins, along x.", default="0 mm")
    y: Text = quantity("length", "y", "Where it begins, along y.", default="0 mm")
    z: Text = quantity("length", "z", "Where it begins, along z.", default="0 mm")

    @classmethod
    def build(cls, numbers: Any) -> Body:
        """Make the body from SI numbers."""
        raise NotImplementedError


def frame(turn: float, rise: float) -> Floats:
    """Give three directions at right angles, (3, 3) by row: the first turned about z from x, then raised (rad)."""
    along = np.array([np.cos(rise) * np.cos(turn), np.cos(rise) * np.sin(turn), np.sin(rise)])
    aside = np.array([-np.sin(turn), np.cos(turn), 0.0])
    return np.vstack([along, aside, np.cross(along, aside)])


def loft(rings: list[Floats], names: list[str], ends: tuple[str, str] = ("start", "end")) -> Body:
    """Join rings of equal corner counts by walls, one name a segment, and close both ends by fans.

    Parameters
    ----------
    rings : (k, 3) m each, anticlockwise seen against the way they follow each other. names : of the segments between them.
    """
    k, count = len(rings[0]), len(rings)
    sides = tuple(dict.fromkeys([*names, *ends]))
    points = np.vstack([*rings, rings[0].mean(axis=0), rings[-1].mean(axis=0)])
    triangles, side = [], []
    here = np.arange(k)
    ahead = (here + 1) % k
    for s in range(count - 1):
        low, high = s * k, (s + 1) * k
        triangles += [np.column_stack([low + here, low + ahead, high + ahead]), np.column_stack([low + here, high + ahead, high + here])]
        side += [np.full(2 * k, sides.index(names[s]))]
    first, last = count * k, count * k + 1
    triangles += [np.column_stack([np.full(k, first), ahead, here]), np.column_stack([np.full(k, last), (count - 1) * k + here, (count - 1) * k + ahead])]
    side += [np.full(k, sides.index(ends[0])), np.full(k, sides.index(ends[1]))]
    return Body(points, np.vstack(triangles), np.concatenate(side), sides)


def round_ring(centre: Floats, aside: Floats, up: Floats, radius: float) -> Floats:
    """Give a round section, (AROUND, 3) m, anticlockwise from ``aside`` to ``up``."""
    angle = 2 * np.pi * np.arange(AROUND) / AROUND
    return centre + radius * (np.cos(angle)[:, None] * aside + np.sin(angle)[:, None] * up)
