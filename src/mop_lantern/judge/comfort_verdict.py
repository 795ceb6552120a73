"""What a standard says of the comfort in a room: its category, row by row, with the worst places."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge.field_result import FieldResult
from mop_lantern.units import show, show_change, show_place

Floats = NDArray[np.float64]
HEIGHTS = (0.1, 0.6, 1.1, 1.7)  # m: ankles, waist seated, head seated, head standing (ISO 7726)
SEATED_HEAD, ANKLES = 1.1, 0.1
ACROSS = 48  # places each level way
CATEGORIES = ("A", "B", "C")
BEYOND = "none"
VOTES = (0.2, 0.5, 0.7)
DRAUGHTS = (0.1, 0.2, 0.3)
DIFFERENCES = (2.0, 3.0, 4.0)  # K between head and ankles
ZERO = 273.15
FLOORS = ((ZERO + 19, ZERO + 29), (ZERO + 19, ZERO + 29), (ZERO + 17, ZERO + 31))  # K
SOURCE = "ISO 7730:2005, annex A (its tables are not at hand to check)"
LEVEL = 0.9  # cosine: of a face that is floor


@dataclass(frozen=True)
class Row:
    """One row of a verdict.

    Attributes
    ----------
    id : what and where. category : A, B, C or "none". value : the worst, SI. place : where, m; empty where it
    has none. text : in words. limits : those of the categories A, B and C, in words; empty for the room.
    found : the worst in words.
    """

    id: str
    category: str
    value: float
    place: tuple[float, ...]
    text: str
    limits: tuple[str, ...] = ()
    found: str = ""

    def as_dict(self) -> dict[str, Any]:
        """Give the row as plain data."""
        return {**asdict(self), "place": list(self.place), "limits": list(self.limits)}


@dataclass(frozen=True)
class _Room:
    """Where people may be: ``up`` (3,) points up, the ``floor`` lies at that height, m; ``spots`` (k, 3) m on
    the floor.
    """

    up: Floats
    floor: float
    spots: Floats
    margin: float
    answer: FieldResult

    def at(self, height: float) -> Floats:
        """Give the places at a height over the floor that lie in the air, away from walls, (k, 3) m."""
        places = self.spots + height * self.up
        inside = self.answer.inside(places)
        for way in _level(self.up, len(self.answer.mesh.ways)):
            for side in (-self.margin, self.margin):
                inside &= self.answer.inside(places + side * way)
        return np.asarray(places[inside])


def comfort_verdict(numbers: Any, answer: FieldResult) -> list[Row]:
    """Judge a room by ISO 7730: mean vote and draught at four heights, the difference of temperature between
    head and ankles, the floor. Empty where comfort is not worked out, or nobody has room; a body around an
    axis has no floor.
    """
    if "vote" not in answer.scalars or not answer.wet.any() or answer.mesh.axisymmetric:
        return []
    air = answer.parts[""] if len(answer.mesh.region) else answer
    room = _room(numbers, air)
    rows: list[Row] = []
    for height in HEIGHTS:
        places = room.at(height)
        if len(places):
            rows += [_vote(height, places, air), _draught(height, places, air)]
    if not rows:
        return []
    rows += _difference(room, air) + _floor(room, air)
    worst = max(rows, key=lambda row: [*CATEGORIES, BEYOND].index(row.category))
    named = f"Category {worst.category}" if worst.category != BEYOND else "Beyond category C"
    text = f"{named} of {SOURCE}, {room.margin:g} m from walls and more; “{worst.id}” decides."
    return [Row("room", worst.category, worst.value, worst.place, text), *rows]


def _room(numbers: Any, air: FieldResult) -> _Room:
    up = _up(numbers, len(air.mesh.ways))
    points = air.mesh.face_centre[air.mesh.n_internal :]  # in spaces corners may not be kept
    high = points @ up
    level = _level(up, len(air.mesh.ways))
    lines = []
    for way in level:
        along = points @ way
        step = np.ptp(along) / ACROSS
        lines.append(along.min() + (np.arange(ACROSS) + 0.5) * step)
    grids = np.meshgrid(*lines, indexing="ij")
    spots = sum(grid.reshape(-1, 1) * way for grid, way in zip(grids, level, strict=True))
    return _Room(up, float(high.min()), spots + high.min() * up, float(numbers.comfort.margin), air)


def _up(numbers: Any, ways: int) -> Floats:
    physics = numbers.physics
    if ways == 2:
        return -np.array([np.cos(physics.down), np.sin(physics.down), 0.0])
    up = np.zeros(3)
    up["xyz".index(physics.falls[1])] = -1.0 if physics.falls[0] == "+" else 1.0
    return up


def _level(up: Floats, ways: int) -> list[Floats]:
    """Give the level directions: one in a plane, two in a space."""
    if ways == 2:
        return [np.array([up[1], -up[0], 0.0])]
    return [way for way in np.eye(3) if abs(way @ up) < 0.5]


def _within(limits: tuple[float, ...], worst: float) -> str:
    return next((name for name, most in zip(CATEGORIES, limits, strict=True) if worst <= most), BEYOND)


def _named(place: Floats, ways: int) -> str:
    return show_place(place[:ways], "m", 3)


def _worst(
    name: str,
    height: float,
    places: Floats,
    values: Floats,
    limits: tuple[float, ...],
    words: Callable[..., str],
    limit: str,
    found: str,
) -> Row:
    values = np.where(np.isfinite(values), values, 0.0)
    at = int(np.argmax(np.abs(values)))
    worst = float(values[at])
    share = float((np.abs(values) <= limits[1]).mean())
    text = f"{height:g} m: {words(values)}, worst at {{}}; {share:.0%} of the places within category B."
    return Row(
        f"{name} at {height:g} m",
        _within(limits, abs(worst)),
        worst,
        tuple(places[at]),
        text,
        tuple(limit.format(most) for most in limits),
        found.format(worst).replace("-", "−"),
    )


def _vote(height: float, places: Floats, air: FieldResult) -> Row:
    row = _worst(
        "vote",
        height,
        places,
        air.sampler("vote", places),
        VOTES,
        lambda values: f"mean vote {values.min():.2f} to {values.max():.2f}".replace("-", "−"),
        "±{:g}",
        "{:.2f}",
    )
    return _placed(row, air)


def _draught(height: float, places: Floats, air: FieldResult) -> Row:
    row = _worst(
        "draught",
        height,
        places,
        air.sampler("draught", places),
        DRAUGHTS,
        lambda values: f"draught rating up to {100 * values.max():.3g}%",
        "{:.0%}",
        "{:.1%}",
    )
    return _placed(row, air)


def _placed(row: Row, air: FieldResult) -> Row:
    place = np.asarray(row.place)
    ways = len(air.mesh.ways)
    return replace(row, place=tuple(row.place[:ways]), text=row.text.format(_named(place, ways)))


def _difference(room: _Room, air: FieldResult) -> list[Row]:
    heads = room.at(SEATED_HEAD)
    ankles = heads - (SEATED_HEAD - ANKLES) * room.up
    both = air.inside(ankles) if len(heads) else np.zeros(0, bool)
    if not both.any():
        return []
    heads, ankles = heads[both], ankles[both]
    apart = air.sampler("T", heads) - air.sampler("T", ankles)
    at = int(np.argmax(apart))
    worst = float(apart[at])
    ways = len(air.mesh.ways)
    found = show_change(worst, "temperature", "°C")
    text = (
        f"Head ({SEATED_HEAD:g} m) warmer than ankles ({ANKLES:g} m) by up to {found}, at "
        f"{_named(heads[at], ways)}."
        if worst > 0
        else "The head is nowhere warmer than the ankles."
    )
    category = _within(DIFFERENCES, max(worst, 0.0))
    limits = tuple(show_change(most, "temperature", "°C") for most in DIFFERENCES)
    return [Row("head above ankles", category, worst, tuple(heads[at][:ways]), text, limits, found)]


def _floor(room: _Room, air: FieldResult) -> list[Row]:
    mesh = air.mesh
    inner = mesh.n_internal
    size = np.linalg.norm(mesh.area[inner:], axis=1)
    down = mesh.area[inner:] @ -room.up > LEVEL * size
    low = mesh.face_centre[inner:] @ room.up < room.floor + ANKLES
    floor = down & low & (np.abs(air.outflow) == 0)
    if not floor.any():
        return []
    warmth = air.boundary("T")[floor]
    coldest, warmest = float(warmth.min()), float(warmth.max())
    category = next(
        (
            name
            for name, (least, most) in zip(CATEGORIES, FLOORS, strict=True)
            if least <= coldest and warmest <= most
        ),
        BEYOND,
    )
    text = f"The floor is {_warm(coldest)} to {_warm(warmest)} warm."
    limits = tuple(f"{_warm(least)} to {_warm(most)}" for least, most in FLOORS)
    middle = 0.5 * (FLOORS[1][0] + FLOORS[1][1])
    worst = coldest if middle - coldest > warmest - middle else warmest
    return [Row("floor", category, worst, (), text, limits, _warm(worst))]


def _warm(temperature: float) -> str:
    return show(temperature, "temperature", "°C", 3)
