"""Models read from files: welded, cleaned, turned the same way, told apart into bodies and faces."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import FileError
from mop_lantern.shape.model import UNITS, Model, length, spot
from mop_lantern.shape.model_files import EXACT, SAID, Soup, read_exact, read_triangles
from mop_lantern.shape.surface import Surface, winding
from mop_lantern.shape.topology import edge_counts, faces_of, rims_of, shells_of, sides, turned_alike, welded

Floats = NDArray[np.float64]
Ints = NDArray[Any]
NO_AREA = 1e-14  # of the square of the size: thinner triangles have no side to face
SPREAD = 40  # places of a body that tell whether it lies within another
SMALLEST, LARGEST = 0.02, 30.0  # m: models guessed to be so large; common practice, no source


@dataclass
class _Soup:
    """Triangles on their way: numbers of corners, the group of each, and the part of the file it stays in (-1
    where several make one surface); words on what was done.
    """

    points: Floats
    triangles: Ints
    group: Ints
    part: Ints
    words: list[str]
    sheets: Floats = field(default_factory=lambda: np.zeros((0, 3, 3)))

    def keep(self, chosen: NDArray[np.bool_]) -> None:
        self.triangles = self.triangles[chosen]
        self.group = self.group[chosen]
        self.part = self.part[chosen]


def read_model(path: Path, unit: str, stop: threading.Event | None = None) -> Model:
    """Read a file of triangles and make it whole as far as that is certain.

    Parameters
    ----------
    unit : the file's unit of length, one of `UNITS`; "" for STEP and GLB files, which have one. stop : set by
    another thread, reading ends.

    Raises
    ------
    FileError : the file cannot be read, or has no triangles; the unit is not known; reading was stopped.
    """
    ending = path.suffix.lower()
    exact = ending in EXACT
    unit = unit or SAID.get(ending, "")
    if unit and unit not in UNITS:
        raise FileError(f"{path}: the unit of a model is one of {', '.join(UNITS)}, not “{unit}”. Change it.")
    soups = read_exact(path, stop) if exact else read_triangles(path)
    if not exact and not unit:
        raise FileError(_no_unit(path, soups))
    corners = np.vstack([soup.corners.reshape(-1, 3) for soup in soups]) * (1.0 if exact else UNITS[unit])
    if not len(corners) or not np.isfinite(corners).all():
        raise FileError(
            f"{path}: the file has no triangles, or corners that are no numbers. Export it again."
        )
    _go_on(path, stop)
    soup = _whole(path, corners, soups, exact)
    _go_on(path, stop)
    turned, shell, flip = turned_alike(soup.points, soup.triangles)
    if flip.any():
        soup.words.append(f"{int(flip.sum())} triangles faced the wrong way and are turned.")
    soup.triangles = turned
    names_of = [each.name for each in soups]
    face, names = faces_of(soup.points, soup.triangles, soup.group, names_of, not exact)
    _, first = np.unique(face, return_index=True)
    of = [soups[soup.group[k]] for k in first]
    made = Model(
        soup.points,
        _outward(soup, shell),
        face,
        names,
        (),
        (),
        soup.group,
        tuple(names_of),
        not exact,
        tuple(each.layer for each in of),
        tuple(each.colour for each in of),
        marked=np.concatenate([soup.sheets, soup.points[soup.triangles[flip]]]),
    )
    _go_on(path, stop)
    rims = rims_of(made.triangles)
    return replace(made, report=_report(made, rims, soup.words), rims=rims)


def _go_on(path: Path, stop: threading.Event | None) -> None:
    """End reading where somebody wants it to."""
    if stop is not None and stop.is_set():
        raise FileError(f"{path}: reading was stopped.")


def likely_unit(size: float) -> str:
    """Guess the unit of a model by its size in that unit: the first in which it is as large as what is
    usually made.
    """
    for unit in ("mm", "m", "cm", "in"):
        if SMALLEST <= size * UNITS[unit] <= LARGEST:
            return unit
    return "mm"


def extent_of(path: Path) -> Floats:
    """Give the lengths of a model along x, y and z in the units of its file, (3,).

    Raises
    ------
    FileError : the file cannot be read.
    """
    corners = np.vstack([soup.corners.reshape(-1, 3) for soup in read_triangles(path)])
    return np.asarray(np.ptp(corners, axis=0))


def _no_unit(path: Path, soups: Sequence[Soup]) -> str:
    extent = np.ptp(np.vstack([soup.corners.reshape(-1, 3) for soup in soups]), axis=0)
    guess = likely_unit(float(np.linalg.norm(extent)))
    told = " x ".join(f"{each:.4g}" for each in extent)
    return (
        f"{path}: the unit of a model is one of {', '.join(UNITS)}; the file does not say it. It measures "
        f"{told}, so it is likely in {guess}. Give it."
    )


def _whole(path: Path, corners: Floats, soups: Sequence[Soup], exact: bool) -> _Soup:
    """Weld corners, exclude what has no area and what is laid twice, and part what is closed by itself."""
    points, triangles, words = welded(corners)
    counts = [len(soup.corners) for soup in soups]
    group = np.repeat(np.arange(len(soups)), counts)
    layers = {name: k for k, name in enumerate(dict.fromkeys(soup.layer for soup in soups))}
    of_group = np.array([layers[soup.layer] if exact else k for k, soup in enumerate(soups)])
    soup = _Soup(points, triangles, group, of_group[group], words)
    size = float(np.linalg.norm(np.ptp(points, axis=0)))
    a, b, c = (points[triangles[:, k]] for k in range(3))
    soup.keep(
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
        & (np.linalg.norm(np.cross(b - a, c - a), axis=1) > NO_AREA * size**2)
    )
    flat = len(triangles) - len(soup.triangles)
    if not len(soup.triangles):
        raise FileError(f"{path}: none of its triangles has an area, so it bounds nothing. Export it again.")
    twice, sheets = _single(soup)
    if flat + twice:
        soup.words.append(f"{flat + twice} triangles without area or laid twice are excluded.")
    if sheets:
        soup.words.append(
            f"{sheets} pairs of triangles lay on each other and faced opposite ways: walls without thickness "
            "inside a body, which part nothing. They are excluded."
        )
    if not len(soup.triangles):
        raise FileError(f"{path}: all of it is a sheet without thickness. Give its walls a thickness.")
    _part(soup)
    return soup


def _single(soup: _Soup) -> tuple[int, int]:
    """Keep one of the triangles of a part that lie on each other; of two that face opposite ways none. Give
    how many of the first kind went, and how many pairs of the second.
    """
    triangles = soup.triangles
    order = np.argsort(triangles, axis=1)
    rows = np.take_along_axis(triangles, order, axis=1)
    key = np.column_stack([soup.part, rows])
    _, first, back, count = np.unique(key, axis=0, return_index=True, return_inverse=True, return_counts=True)
    if (count == 1).all():
        return 0, 0
    back = back.reshape(-1)
    even = np.isin(order @ [4, 2, 1], [4, 8, 9])  # 012, 120, 201
    ahead = np.bincount(back, even, len(first)).astype(int)
    net = 2 * ahead - count
    chosen = np.zeros(len(triangles), bool)
    wanted = even == (net > 0)[back]
    left = np.flatnonzero(wanted & (net != 0)[back])
    _, begin = np.unique(back[left], return_index=True)
    chosen[left[begin]] = True
    sheets = int(np.minimum(ahead, count - ahead).sum())
    soup.sheets = soup.points[triangles[(np.minimum(ahead, count - ahead) > 0)[back]]]
    soup.keep(chosen)
    return len(triangles) - int(chosen.sum()) - 2 * sheets, sheets


def _part(soup: _Soup) -> None:
    """Keep the parts that are closed by themselves apart, so that those that touch stay bodies of their own;
    open ones are patches of one surface.
    """
    if (soup.part == soup.part[0]).all():
        return
    key, triangle, _ = sides(soup.triangles)
    part = soup.part[triangle]
    order = np.lexsort((key, part))
    begins = np.flatnonzero(np.append(True, (np.diff(key[order]) != 0) | (np.diff(part[order]) != 0)))
    odd = np.diff(np.append(begins, len(order))) % 2 == 1
    open_ones = np.unique(part[order][begins[odd]])
    if len(open_ones) > 1:
        soup.part = np.where(np.isin(soup.part, open_ones), -1, soup.part)
    corner = np.column_stack([np.repeat(soup.part, 3), soup.triangles.reshape(-1)])
    own, back = np.unique(corner, axis=0, return_inverse=True)
    soup.points = soup.points[own[:, 1]]
    soup.triangles = back.reshape(-1, 3)


def _outward(soup: _Soup, shell: Ints) -> Ints:
    """Turn every body so that it faces out; one that lies within another of its part faces into it, as a
    hollow does. Give the triangles.
    """
    count = int(shell.max()) + 1
    corners = soup.points[soup.triangles]
    middle = corners.mean(axis=1)
    share = np.bincount(shell, minlength=count)
    centre = np.column_stack([np.bincount(shell, middle[:, k], count) / share for k in range(3)])
    vectors = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    volume = np.bincount(shell, ((middle - centre[shell]) * vectors).sum(axis=1) / 3, count)
    triangles = np.where((volume < 0)[shell][:, None], soup.triangles[:, ::-1], soup.triangles)
    if count == 1:
        return triangles
    order = np.argsort(shell, kind="stable")
    members = np.split(order, np.cumsum(share)[:-1])
    low = np.array([corners[mine].min(axis=(0, 1)) for mine in members])
    high = np.array([corners[mine].max(axis=(0, 1)) for mine in members])
    part = soup.part[[mine[0] for mine in members]]
    depth = np.zeros(count, int)
    for around in range(count):
        inner = np.flatnonzero(
            (low >= low[around]).all(axis=1) & (high <= high[around]).all(axis=1) & (part == part[around])
        )
        inner = inner[inner != around]
        if not len(inner):
            continue
        some = [middle[members[k][:: max(len(members[k]) // SPREAD, 1)]] for k in inner]
        own = triangles[members[around]]
        surface = Surface(soup.points, own, np.zeros(len(own), np.int64), ("",))
        inside = winding(surface, np.vstack(some)) > 0
        lies = np.logical_and.reduceat(inside, np.cumsum([0, *map(len, some[:-1])]))
        depth[inner] += lies  # all of it, not overlapping
    return np.where((depth % 2 == 1)[shell][:, None], triangles[:, ::-1], triangles)


def _report(model: Model, rims: Sequence[Ints], words: list[str]) -> tuple[str, ...]:
    """Say what was read: size, volume, bodies and faces first, as a wrong unit shows there."""
    extent = " x ".join(length(each) for each in np.ptp(model.points[np.unique(model.triangles)], axis=0))
    bodies = shells_of(model.triangles)[0]
    told = [
        f"It measures {extent}" + ("." if rims else f" and holds {1e3 * model.volume:.4g} L."),
        f"{len(model.triangles)} triangles in {bodies} bodies, {len(model.names)} faces.",
        *words,
    ]
    crowded = edge_counts(model.triangles)
    if (crowded > 2).any():
        told.append(
            f"{int((crowded > 2).sum())} edges belong to more than two triangles: parts touch there, "
            "or cross each other."
        )
    if rims:
        told.append(
            f"{len(rims)} open rims, about "
            + ", ".join(spot(model.points[rim]) for rim in rims[:4])
            + ("." if len(rims) < 5 else " and elsewhere.")
        )
    return tuple(told)
