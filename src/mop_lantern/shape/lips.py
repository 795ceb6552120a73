"""Lips: sharp edges of walls that stand into the fluid, where a stream that turns around them tears off.

The mouth of a pipe, the hole of an orifice, the tip of a plate, the inner corner of a bend without a radius.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.facing import first_triangles, standing_sides
from mop_lantern.shape.plane import Plane, first_segments
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
LEAST_TURN = np.deg2rad(40.0)  # what turns less lets the stream follow it: cones of 15 and 30 degrees do
BACK = 1e-4  # of the shape: rays begin beside the edge
HAIR = 1e-4  # of the shape: steps no higher are none
MOST = 600  # places along the lips of a space


@dataclass(frozen=True)
class Lips:
    """Places on lips, one row for each of the two walls that meet there.

    Attributes
    ----------
    place : (k, 2 or 3) m. normal : out of the wall into the fluid, and along : in the wall, away from the
    lip; (k, 2 or 3).
    width : (k,) m, how far the fluid reaches in front of the wall there, twice that to an axis.
    """

    place: Floats
    normal: Floats
    along: Floats
    width: Floats

    def __len__(self) -> int:
        """Number of rows."""
        return len(self.place)


def lips_of(shape: Plane | Surface, openings: Iterable[str] = ()) -> Lips:
    """Find the lips of the walls of the fluid; ``openings`` : names of edges that are no walls."""
    kept: dict[frozenset[str], Lips] = shape.__dict__.setdefault("_lips", {})  # grids ask level by level
    wanted = frozenset(openings)
    if wanted not in kept:
        kept[wanted] = _found(shape, wanted)
    return kept[wanted]


def _found(shape: Plane | Surface, openings: frozenset[str]) -> Lips:
    none = np.zeros((0, 2 if isinstance(shape, Plane) else 3))
    if shape.dry:
        return Lips(none, none, none, np.zeros(0))
    open_labels = np.array([shape.names.index(name) for name in openings if name in shape.names], int)
    if isinstance(shape, Plane):
        return _seen(shape, *_corners(shape, open_labels))
    return _seen(shape, *standing_sides(shape, LEAST_TURN, open_labels, HAIR * shape.size, MOST))


def _corners(plane: Plane, open_labels: NDArray[np.int64]) -> tuple[Floats, Floats, Floats]:
    """Give the corners of a plane that stand into the fluid, twice: with the side that comes there and with
    the one that leaves.
    """
    axis = [k for k, name in enumerate(plane.names) if name == "axis"]
    wall = ~np.isin(plane.labels, [*open_labels.tolist(), *axis])
    start, end = plane.segments[wall, 0], plane.segments[wall, 1]
    along = (end - start) / np.maximum(np.hypot(*(end - start).T), 1e-300)[:, None]
    first = {tuple(place): k for k, place in enumerate(np.round(start, 12).tolist())}
    comes = [k for k, place in enumerate(np.round(end, 12).tolist()) if tuple(place) in first]
    leaves = [first[tuple(np.round(end[k], 12).tolist())] for k in comes]
    one, two = along[comes], along[leaves]
    turn = np.arctan2(
        one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0], (one * two).sum(axis=1)
    )  # the fluid lies on the left: a turn to the right stands into it
    standing = turn < -LEAST_TURN
    place = end[comes][standing]
    normals = [np.column_stack([-way[:, 1], way[:, 0]]) for way in (one[standing], two[standing])]
    return np.tile(place, (2, 1)), np.vstack(normals), np.vstack([-one[standing], two[standing]])


def _seen(shape: Plane | Surface, place: Floats, normal: Floats, along: Floats) -> Lips:
    """Measure the way to the wall that lies across; rows that see none are dropped."""
    if not len(place):
        return Lips(place, normal, along, np.zeros(0))
    back = BACK * shape.size
    start = place + back * along
    if isinstance(shape, Plane):
        hit, width = first_segments(start, normal, shape.segments[:, 0], shape.segments[:, 1], shape.size)
        on_axis = np.array([name == "axis" for name in shape.names])[shape.labels[hit]] & (hit >= 0)
        width = np.where(on_axis, 2 * width, width)
    else:
        hit, width = first_triangles(shape.points[shape.triangles], start, normal, 1e-6 * shape.size)
    seen = (hit >= 0) & (width > 2 * back)
    return Lips(place[seen], normal[seen], along[seen], width[seen])
