"""A pipe or duct along a line of corners, made in one piece."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, points, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import AROUND, Body, Floats, Others, Solid, loft, place_of

STEP = np.deg2rad(4.0)


class Passage(Solid):
    """A passage from corner to corner, every corner rounded by a bend; its segments are leg1, bend1, leg2 ...

    Source: solid geometry; the section is carried on without twist (rotation of least turning).
    """

    caption: ClassVar[str] = "Pipe or duct passage"
    group: ClassVar[str] = "Pipes and ducts"
    symbol: ClassVar[str] = (
        "M-1,-0.7 L0.2,-0.7 Q0.8,-0.7 0.8,-0.1 L0.8,0.9 M-1,-0.1 L0,-0.1 Q0.2,-0.1 0.2,0.1 L0.2,0.9 "
        "M-1,-0.7 L-1,-0.1 M0.2,0.9 L0.8,0.9"
    )
    sentence: ClassVar[str] = (
        "{id}: a {profile} passage, {role}, {width} wide and {height} high, from ({x}, {y}, {z}) by the "
        "corners {corners}, bent with the radius {radius}."
    )

    kind: Literal["passage"] = "passage"
    profile: Literal["round", "rectangular"] = choice(
        "profile",
        "Shape of its section; a round one has its width as diameter.",
        {"round": "round", "rectangular": "rectangular"},
        default="round",
    )
    width: Text = quantity(
        "length",
        "width",
        "Diameter, or width of a rectangle (level at the start).",
        default="20 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Of a rectangle; auto is its width.",
        default="auto",
        above=0,
    )
    corners: list[Point] = points(
        "corners",
        "Where the passage goes, each place from the start of the passage.",
        default=[("100 mm", "0 mm", "0 mm"), ("100 mm", "100 mm", "0 mm")],
    )
    radius: Text = quantity(
        "length",
        "bend radius",
        "On the middle line.",
        default="30 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Sections along the middle line."""
        if numbers.corners.shape[1] != 3:
            raise PartFault("corners", "a corner has three numbers: x, y and z.", "Add z.")
        line = np.vstack([np.zeros(3), numbers.corners]) + place_of(numbers)
        height = numbers.width if numbers.height is None or numbers.profile == "round" else numbers.height
        places, names = _middle_line(line, numbers.radius, max(numbers.width, height))
        ways = _directions(places)
        aside = np.cross([0.0, 0.0, 1.0], ways[0]) if abs(ways[0][2]) < 0.99 else np.array([0.0, 1.0, 0.0])
        aside /= np.linalg.norm(aside)
        outline = _outline(numbers.profile, numbers.width, height)
        rings = []
        for place, way in zip(places, ways, strict=True):
            aside = aside - (aside @ way) * way
            aside /= np.linalg.norm(aside)
            rings.append(place + outline[:, :1] * aside + outline[:, 1:] * np.cross(way, aside))
        return loft(rings, names)


def _outline(profile: str, width: float, height: float) -> Floats:
    if profile == "rectangular":
        return 0.5 * np.array(
            [
                [-width, -height],
                [width, -height],
                [width, height],
                [-width, height],
            ]
        )
    angle = 2 * np.pi * np.arange(AROUND) / AROUND
    return 0.5 * width * np.column_stack([np.cos(angle), np.sin(angle)])


def _directions(places: Floats) -> Floats:
    """Give the direction of a line at each of its places: between its neighbours, at the ends along the first
    and last leg.
    """
    legs = np.diff(places, axis=0)
    legs /= np.linalg.norm(legs, axis=1)[:, None]
    ways = np.vstack([legs[:1], legs[:-1] + legs[1:], legs[-1:]])
    return np.asarray(ways / np.linalg.norm(ways, axis=1)[:, None])


def _middle_line(line: Floats, radius: float, width: float) -> tuple[Floats, list[str]]:
    """Round the corners of a line; give its places and the name of the stretch between each two."""
    legs = np.diff(line, axis=0)
    length = np.linalg.norm(legs, axis=1)
    if (length <= 0).any():
        raise PartFault("corners", "two corners lie on each other.", "Move one of them.")
    ways = legs / length[:, None]
    turns = np.arccos(np.clip((ways[:-1] * ways[1:]).sum(axis=1), -1, 1))
    bent = turns > 1e-6
    if bent.any() and radius <= 0.5 * width:
        raise PartFault(
            "radius",
            "the bends are tighter than the passage is wide: it would cut into itself.",
            "Make it larger than half the width.",
        )
    taken = np.where(bent, radius * np.tan(np.minimum(turns, 3.1) / 2), 0.0)
    used = np.append(taken, 0.0) + np.append(0.0, taken)
    if (used > length * (1 + 1e-9)).any():
        leg = int((used - length).argmax())
        raise PartFault(
            "radius",
            f"leg {leg + 1} is {length[leg] * 1e3:.4g} mm long, its bends take {used[leg] * 1e3:.4g} mm.",
            "Make the radius smaller or the leg longer.",
        )
    _apart(line, width)
    places = [line[0]]
    names = []
    for number, turn in enumerate(turns):
        corner = line[number + 1]
        if not bent[number]:
            places.append(corner)
            names.append(f"leg{number + 1}")
            continue
        start = corner - taken[number] * ways[number]
        inward = ways[number + 1] - np.cos(turn) * ways[number]
        inward /= np.linalg.norm(inward)
        if np.linalg.norm(start - places[-1]) > 1e-9 * length[number]:
            places.append(start)
            names.append(f"leg{number + 1}")
        steps = max(2, int(np.ceil(turn / STEP)))
        for angle in turn * np.arange(1, steps + 1) / steps:
            places.append(start + radius * (np.sin(angle) * ways[number] + (1 - np.cos(angle)) * inward))
            names.append(f"bend{number + 1}")
    if np.linalg.norm(line[-1] - places[-1]) > 1e-9 * length[-1]:
        places.append(line[-1])
        names.append(f"leg{len(length)}")
    return np.array(places), names


def _apart(line: Floats, width: float) -> None:
    """Refuse a run whose legs come too near each other."""
    share = np.linspace(0, 1, 60)[:, None]
    legs = [a + share * (b - a) for a, b in zip(line[:-1], line[1:], strict=True)]
    for first in range(len(legs)):
        for second in range(first + 2, len(legs)):
            if np.linalg.norm(legs[first][:, None] - legs[second][None], axis=2).min() < width:
                raise PartFault(
                    "corners",
                    f"legs {first + 1} and {second + 1} cross each other.",
                    "Move the corners apart.",
                )
