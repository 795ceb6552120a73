"""What a part of a space is made of: a closed body whose triangles know their side."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault

Floats = NDArray[np.float64]
Ints = NDArray[Any]
AROUND = 96  # corners of a round section: its area falls short by 7e-4


@dataclass(frozen=True)
class Body:
    """A closed body.

    Attributes
    ----------
    points : (n, 3) m. triangles : (m, 3), facing out. side : (m,) index into ``sides``. looks : layer and
    colour of sides that have them.
    """

    points: Floats
    triangles: Ints
    side: Ints
    sides: tuple[str, ...]
    looks: dict[str, tuple[str, str]] = field(default_factory=dict)


Others = dict[str, list[Body]]
ROLES = {
    "fluid": "full of fluid",
    "solid": "solid",
    "void": "excluded",
}


class Solid(Kind):
    """A part of a space: it holds fluid, takes space away, or is left out of fluid and solids alike.

    ``build(numbers, others)`` gives its `Body`, or several that belong together; ``others`` are the bodies of
    the parts before it. `PartFault` when it cannot be.
    """

    beneath: ClassVar[bool] = False  # its fluid lies beneath all other parts, wherever it stands in the list
    enclosed: ClassVar[bool] = False  # its fluid may not reach its own faces: walls must enclose it

    role: Literal["fluid", "solid", "void"] = choice(
        "role",
        (
            "Whether it holds the fluid or takes space away from it: a solid, which conducts heat where it "
            "is given a material under walls and bodies, or what belongs to neither fluid nor solid."
        ),
        ROLES,
        default="fluid",
    )
    x: Text = quantity(
        "length",
        "x",
        "Place of the part, along x: where it begins; of a ball, disc or plate its centre.",
        default="0 mm",
    )
    y: Text = quantity(
        "length",
        "y",
        "Place of the part, along y: where it begins; of a ball, disc or plate its centre.",
        default="0 mm",
    )
    z: Text = quantity(
        "length",
        "z",
        "Place of the part, along z: where it begins; of a ball, disc or plate its centre.",
        default="0 mm",
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body | list[Body]:
        """Make the body from SI numbers."""
        raise NotImplementedError

    @classmethod
    def as_it_is(cls, numbers: Any) -> Any:
        """Give a `Surface` to be looked at where no body can be built, such as an open model; most parts have
        none.
        """
        return None

    @classmethod
    def joins(cls, numbers: Any) -> tuple[str, ...]:
        """Give the faces that become one face of this part; most parts join none."""
        return ()


def copied() -> Any:
    """Declare the role of copies: that of the part copied, unless said otherwise."""
    options = {"same": "as the part copied", **ROLES}
    return choice(
        "role", "Whether the copies hold the fluid or take space away from it.", options, default="same"
    )


ALSO = " with {also}"


def without_also(told: str, also: tuple[str, ...]) -> str:
    """Give a sentence that tells further parts only where there are any."""
    return told if also else told.replace(ALSO, "")


def original(numbers: Any, others: Others) -> list[Body]:
    """Give the bodies of the part that is copied, with those of what is named besides.

    Raises
    ------
    PartFault : one of them does not stand before the copies.
    """
    named = [("of", numbers.of), *(("also", name) for name in getattr(numbers, "also", ()))]
    for slot, name in named:
        if name not in others:
            raise PartFault(
                slot,
                f"“{name}” is not a part listed before this one.",
                "Name another, or add the copies after it.",
            )
    return [body for name in dict.fromkeys(name for _, name in named) for body in others[name]]


# of a plate's size: what is given no thickness is built as thin as this, and parts the cells it runs through
HAIR = 1e-5


def hair(thickness: float, size: float) -> float:
    """Give the thickness (m) a plate of a size (m) is built with."""
    return max(thickness, HAIR * size, 2.0**-20)


def place_of(numbers: Any) -> Floats:
    """Give where a part begins, (3,) m."""
    return np.array([numbers.x, numbers.y, numbers.z])


def tidied(
    points: Floats,
    triangles: Ints,
    side: Ints,
    sides: tuple[str, ...],
) -> Body:
    """Make a body of triangles that may face in: all are turned where its volume is negative."""
    corners = points[triangles]
    volume = float((corners[:, 0] * np.cross(corners[:, 1], corners[:, 2])).sum())
    return Body(points, triangles[:, ::-1] if volume < 0 else triangles, side, sides)


def frame(turn: float, rise: float) -> Floats:
    """Give three directions at right angles, (3, 3) by row: the first turned about z from x, then raised
    (rad).
    """
    along = np.array(
        [
            np.cos(rise) * np.cos(turn),
            np.cos(rise) * np.sin(turn),
            np.sin(rise),
        ]
    )
    aside = np.array([-np.sin(turn), np.cos(turn), 0.0])
    return np.vstack([along, aside, np.cross(along, aside)])


def face_axes(normal: Floats) -> tuple[Floats, Floats]:
    """Give two directions in a flat face: the level one (along x on a level face) and the one square to
    it.
    """
    aside = np.cross([0.0, 0.0, 1.0], normal) if abs(normal[2]) < 0.99 else np.array([1.0, 0.0, 0.0])
    aside = aside - (aside @ normal) * normal
    aside /= np.linalg.norm(aside)
    return aside, np.cross(normal, aside)


def loft(rings: list[Floats], names: list[str], ends: tuple[str, str] = ("start", "end")) -> Body:
    """Join rings of equal corner counts by walls, one name a segment, and close both ends by fans.

    Parameters
    ----------
    rings : (k, 3) m each, anticlockwise seen against the way they follow each other. names : of the segments
    between them.
    """
    k = len(rings[0])
    count = len(rings)
    sides = tuple(dict.fromkeys([*names, *ends]))
    points = np.vstack([*rings, rings[0].mean(axis=0), rings[-1].mean(axis=0)])
    triangles = []
    side = []
    here = np.arange(k)
    ahead = (here + 1) % k
    for s in range(count - 1):
        low = s * k
        high = (s + 1) * k
        triangles += [
            np.column_stack(
                [
                    low + here,
                    low + ahead,
                    high + ahead,
                ]
            ),
            np.column_stack(
                [
                    low + here,
                    high + ahead,
                    high + here,
                ]
            ),
        ]
        side += [np.full(2 * k, sides.index(names[s]))]
    first = count * k
    last = count * k + 1
    triangles += [
        np.column_stack([np.full(k, first), ahead, here]),
        np.column_stack(
            [
                np.full(k, last),
                (count - 1) * k + here,
                (count - 1) * k + ahead,
            ]
        ),
    ]
    side += [np.full(k, sides.index(ends[0])), np.full(k, sides.index(ends[1]))]
    return Body(points, np.vstack(triangles), np.concatenate(side), sides)


_CORNERS = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)], float)
_FACES = (
    ("west", (0, 1, 3, 2)),
    ("east", (4, 6, 7, 5)),
    ("south", (0, 4, 5, 1)),
    ("north", (2, 3, 7, 6)),
    ("bottom", (0, 2, 6, 4)),
    ("top", (1, 5, 7, 3)),
)


def box(low: Floats, high: Floats) -> Body:
    """Give a box between two corners (3,) m; its sides are west, east, south, north, bottom and top."""
    points = low + _CORNERS * (high - low)
    triangles = [corners for _, (a, b, c, d) in _FACES for corners in ((a, b, c), (a, c, d))]
    return Body(points, np.array(triangles), np.repeat(np.arange(6), 2), tuple(name for name, _ in _FACES))


def round_ring(
    centre: Floats,
    aside: Floats,
    up: Floats,
    radius: float,
) -> Floats:
    """Give a round section, (AROUND, 3) m, anticlockwise from ``aside`` to ``up``."""
    angle = 2 * np.pi * np.arange(AROUND) / AROUND
    return centre + radius * (np.cos(angle)[:, None] * aside + np.sin(angle)[:, None] * up)
