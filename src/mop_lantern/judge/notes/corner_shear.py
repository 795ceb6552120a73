"""A largest wall shear asked for where a sharp corner stands in the flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.shape import Plane, Surface
from mop_lantern.shape.facing import standing_edges
from mop_lantern.units import show_place

SAME = 1e-9  # of the size: ends of segments nearer than this are one
SHARP = np.deg2rad(
    30.0
)  # turn of the wall from which a corner counts as sharp; own choice, above every piece of a rounded corner


class CornerShear(NoteKind):
    """Tell that the wall shear at a sharp corner that stands into the flow has no largest value: it grows
    with every finer grid.

    Source: Moffatt, J. Fluid Mech. 18 (1964), viscous flow near a corner wider than 180 degrees: velocity
    gradients grow without bound.
    """

    caption: ClassVar[str] = "Wall shear at a sharp corner"
    kind: Literal["corner_shear"] = "corner_shear"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every reading of a largest wall shear whose walls have such a corner."""
        asked = {key: reading for key, reading in facts.numbers.readings.items() if _asks(reading)}
        if not asked:
            return []
        corners = sharp_corners(facts.shape) if isinstance(facts.shape, Plane) else sharp_edges(facts.shape)
        notes = []
        for key, reading in asked.items():
            edge = getattr(reading, "edge", "")
            at = next((place for place, edges in corners if not edge or edge in edges), None)
            if at is None:
                continue
            where = show_place(at)
            text = (
                "The largest wall shear is asked for where a sharp corner stands into the flow, at "
                f"{where}: it grows with every finer grid. Take the mean, or round the corner."
            )
            notes.append(Note(f"readings.{key}", "caution", text))
        return notes


def _asks(reading: Any) -> bool:
    return getattr(reading, "quantity", "") == "shear" and "max" in (
        getattr(reading, "measure", ""),
        getattr(reading, "extreme", ""),
    )


def sharp_edges(surface: Surface) -> list[tuple[NDArray[np.float64], set[str]]]:
    """Give the middle of sharp edges that stand into the fluid, m, and the two faces that meet there: the
    longest of every pair of faces.
    """
    places, labels = standing_edges(surface, SHARP)
    found: dict[frozenset[str], NDArray[np.float64]] = {}
    for place, pair in zip(places, labels, strict=True):
        found.setdefault(frozenset(surface.names[int(label)] for label in pair), place)
    return [(place, set(names)) for names, place in found.items()]


def sharp_corners(plane: Plane) -> list[tuple[NDArray[np.float64], set[str]]]:
    """Give the place of every sharp corner that stands into the fluid, m, and the two edges that meet
    there.
    """
    ends = plane.segments
    slack = SAME * float(np.ptp(ends.reshape(-1, 2), axis=0).max())
    found = []
    for ring, turned in [(plane.polygon.exterior, 1.0), *((hole, -1.0) for hole in plane.polygon.interiors)]:
        points = np.asarray(ring.coords)[:-1, :2]
        before = points - np.roll(points, 1, axis=0)
        after = np.roll(points, -1, axis=0) - points
        turn = np.arctan2(
            before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1)
        )
        way = turned if ring.is_ccw else -turned
        for point in points[way * turn < -SHARP]:
            meeting = (np.hypot(*(ends - point).T) <= slack).any(axis=0)
            found.append((point, {plane.names[int(label)] for label in plane.labels[meeting]}))
    return found
