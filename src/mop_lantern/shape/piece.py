"""What a part is made of before it is joined with the others: a ring with named sides, and a centreline."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, flag

Floats = NDArray[np.float64]
ARC_STEP = np.deg2rad(
    1.5
)  # chord area error 1e-4 of the segment: well under the discretisation error of a grid


class PartFault(ValueError):
    """A part that cannot be built: the parameter to blame, what is wrong, how to fix it, and lines of places
    (k, 3) m that show it.
    """

    def __init__(
        self,
        parameter: str,
        says: str,
        remedy: str,
        lines: Sequence[Floats] = (),
    ) -> None:
        self.parameter = parameter
        self.says = says
        self.remedy = remedy
        self.lines = lines
        super().__init__(f"{parameter}: {says} {remedy}")


@dataclass(frozen=True, slots=True)
class Corner:
    """A corner of the joined shape to be rounded: place (m), radius (m), name of the arc."""

    at: tuple[float, float]
    radius: float
    name: str


@dataclass(frozen=True, slots=True)
class Piece:
    """A part's outline.

    Attributes
    ----------
    ring : (n, 2) float, m; anticlockwise, not closed.
    sides : n names, one for each segment from ring[i] to ring[i + 1].
    path : (m, 2) float, m; the centreline a branch can be set on, or None.
    """

    ring: Floats | None = None
    sides: tuple[str, ...] = ()
    path: Floats | None = None
    corners: tuple[Corner, ...] = field(default=())


class Part(Kind):
    """A part of the shape.

    ``role`` says what it does: a ``passage`` adds space for the fluid, a ``body`` takes it away, a
    ``rounding`` rounds a corner of the joined passages. ``build(numbers, others)`` gives its `Piece`;
    ``others`` holds the pieces named before.
    """

    role: ClassVar[str] = "passage"
    edges: ClassVar[tuple[str, ...]] = ()

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the piece from SI numbers; raise `PartFault` when the parameters contradict each other."""
        raise NotImplementedError


class BodyPart(Part):
    """A solid part of a plane: it takes space away from the passages, unless they run through it."""

    role: ClassVar[str] = "body"

    beneath: bool = flag(
        "against passages",
        "Whether it takes space away from the passages, or they pass through it, as pipes do through a wall.",
        ("takes space from the passages", "lets the passages pass through it"),
        default=False,
    )


def unit_vector(angle: float) -> Floats:
    """Give the direction at an angle (rad) from the x axis."""
    return np.array([np.cos(angle), np.sin(angle)])


def left_of(direction: Floats) -> Floats:
    """Give the direction a quarter turn to the left."""
    return np.array([-direction[1], direction[0]])


def strip(path: Floats, left: Floats, right: Floats) -> Piece:
    """Make a run from its left and right bank, each (m, 2) float, m, in flow direction."""
    ring = np.vstack([right, left[::-1]])
    sides = ["right"] * (len(right) - 1) + ["end"] + ["left"] * (len(left) - 1) + ["start"]
    return Piece(ring, tuple(sides), path)


def along(path: Floats, distance: float) -> tuple[Floats, Floats] | None:
    """Give the place and direction at a distance (m) along a path, or None beyond its ends."""
    legs = np.diff(path, axis=0)
    lengths = np.hypot(*legs.T)
    reached = np.concatenate([[0.0], np.cumsum(lengths)])
    if not 0 <= distance <= reached[-1]:
        return None
    leg = min(int(np.searchsorted(reached, distance, side="right")) - 1, len(legs) - 1)
    direction = legs[leg] / lengths[leg]
    return path[leg] + direction * (distance - reached[leg]), direction


def arc(
    centre: Floats,
    radius: float,
    start: float,
    turn: float,
) -> Floats:
    """Give the points of an arc, ends included, fine enough that its chords do not matter."""
    count = max(2, int(np.ceil(abs(turn) / ARC_STEP)) + 1)
    angles = start + np.linspace(0.0, turn, count)
    return centre + radius * np.column_stack([np.cos(angles), np.sin(angles)])
