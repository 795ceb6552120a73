"""Graded base lines and quadtree refinement on dense lattices."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.declare import discover
from mop_lantern.errors import RunError
from mop_lantern.grid.lip_cells import around_lips
from mop_lantern.grid.refinement import Refinement
from mop_lantern.numerics.memory import room_for_cells
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape import Plane, lips_of, narrowest_gaps

Floats = NDArray[np.float64]
DEEPEST = 7
MOST_LATTICE = 60_000_000
MOST_LINES = 2_000_000  # one way
# cells across a solid are so many times fewer than across a passage: heat alone bends no profile as walls do
SOLIDS_COARSER = 3.0
LEVELS = {
    "sketch": 2.0,
    "working": 1.0,
    "fine": 0.5,
}
# cells across the usual width when the cell size is left to the program; common practice, no source
USUAL_ACROSS = 16
# cells across at lips of turbulent flow, so that losses are within about 5 % (own measurements), and how
# often a cell is halved for it at most
LIPS_ACROSS, LIPS_DEEPEST = 50.0, 3


@dataclass(frozen=True)
class Leaves:
    """The cells of a refined lattice, before cutting.

    Attributes
    ----------
    level, i, j : (n,) int; level and place on that level's lattice.
    x, y : lattice coordinates at the finest level, m.
    whole : (n,) bool; lies wholly in the wet space, away from its boundary.
    deepest : the finest level present.
    """

    level: NDArray[np.int64]
    i: NDArray[np.int64]
    j: NDArray[np.int64]
    x: Floats
    y: Floats
    whole: NDArray[np.bool_]
    deepest: int

    def bounds(self) -> tuple[NDArray[np.int64], ...]:
        """Give lattice indices (west, south, east, north) of every cell at the finest level."""
        shift = self.deepest - self.level
        return self.i << shift, self.j << shift, (self.i + 1) << shift, (self.j + 1) << shift

    def holding(self, places: Floats) -> NDArray[np.int64]:
        """Give the cell that holds each place (k, 2) m, -1 where there is none."""
        found = np.full(len(places), -1)
        i, j = (np.searchsorted(line, places[:, k], "right") - 1 for k, line in ((0, self.x), (1, self.y)))
        wide = len(self.y) + 1
        for level in np.unique(self.level):
            mine = np.flatnonzero(self.level == level)
            keys = self.i[mine] * wide + self.j[mine]
            order = np.argsort(keys)
            shift = self.deepest - level
            wanted = (i >> shift) * wide + (j >> shift)
            at = np.minimum(np.searchsorted(keys[order], wanted), len(mine) - 1)
            hit = (keys[order][at] == wanted) & (i >= 0) & (j >= 0)
            found[hit] = mine[order][at[hit]]
        return found


def base_size(plane: Plane, grid: Any, gaps: Floats) -> float:
    """Give the size (m) of an unrefined cell for the grid's level; ``grid.scale`` coarsens the whole grid."""
    factor = LEVELS[grid.level] * getattr(grid, "scale", 1.0)
    if grid.cell is not None:
        return float(grid.cell * factor)
    first = getattr(grid, "first", None)
    if first is not None and first.width > 0:
        return float(first.width / first.across * factor)
    usual = float(np.median(gaps[:, 2])) if len(gaps) else plane.size / 3
    return usual / USUAL_ACROSS * factor


def _at_lips(
    fluid: Plane,
    grid: Any,
    openings: frozenset[str],
    centres: Floats,
    sizes: Floats,
    base: float,
) -> Floats:
    """Give the sizes wanted where a turbulent stream may tear off a sharp edge, where the cells are left to
    the program.
    """
    left = grid.cell is None and getattr(grid, "first", None) is not None
    if not left or fluid.dry or not getattr(grid, "wall_unit", 0.0):
        return np.full(len(centres), np.inf)
    across = LIPS_ACROSS / (LEVELS[grid.level] * getattr(grid, "scale", 1.0))
    return around_lips(lips_of(fluid, openings), centres, sizes, across, base / 2**LIPS_DEEPEST)


def _at_bodies(
    plane: Plane,
    grid: Any,
    centres: Floats,
    sizes: Floats,
    base: float,
) -> Floats:
    """Give the sizes wanted within a width of bodies in the stream, where the cells are left to the
    program.
    """
    wanted = np.full(len(centres), np.inf)
    first = getattr(grid, "first", None)
    if grid.cell is not None or first is None or not first.bodies:
        return wanted
    factor = LEVELS[grid.level] * getattr(grid, "scale", 1.0)
    for ring in plane.polygon.interiors if not plane.dry else ():
        west, south, east, north = ring.bounds
        width = min(east - west, north - south)
        near = shapely.distance(ring, shapely.points(centres)) <= width + 0.75 * sizes
        wanted = np.where(
            near, np.minimum(wanted, max(width / first.bodies * factor, base / 2**DEEPEST)), wanted
        )
    return wanted


def lines(
    low: float,
    high: float,
    size: float,
    grading: str,
    ratio: float,
) -> Floats:
    """Place base lines between two ends, evenly or growing away from one or both of them.

    ``ratio`` is the largest cell over the smallest; ``size`` is the mean, or a little more: a count rounded
    down would leave cells just above the size wanted, and all of them would be halved.
    """
    count = max(2, int(np.ceil((high - low) / size - 1e-6)))
    steps = np.ones(count)
    if ratio > 1 and grading != "even":
        growth = np.log(ratio)
        place = np.linspace(0, 1, count)
        distance = {
            "start": place,
            "end": 1 - place,
            "both": 1 - np.abs(2 * place - 1),
        }[grading]
        steps = np.exp(growth * distance)
    reached = np.concatenate([[0.0], np.cumsum(steps)])
    return low + (high - low) * reached / reached[-1]


def refine(
    plane: Plane,
    grid: Any,
    openings: frozenset[str],
    around: Plane | None = None,
) -> Leaves:
    """Refine the base lattice until every cell that meets the wet space is as small as wanted there;
    ``around`` : the plane whose gaps and lips count, where layers lie between its walls and this one.
    """
    around = around or plane
    gaps = narrowest_gaps(around, openings)
    thick = [narrowest_gaps(solid) for solid in plane.solids.values()]
    base = base_size(plane, grid, np.vstack(thick) if plane.dry else gaps)
    fluid = plane
    if plane.solids:
        plane = plane.whole
        inside = np.vstack(thick) * [1.0, 1.0, SOLIDS_COARSER]
        gaps = inside if fluid.dry else np.vstack([gaps, inside])
    x0, y0, x1, y1 = plane.polygon.bounds
    aspect = getattr(grid, "aspect", 1.0)
    counts = (x1 - x0) / (base * aspect), (y1 - y0) / base
    if max(counts) > MOST_LINES or counts[0] * counts[1] > MOST_LATTICE / 4:
        raise RunError(
            f"the cells are far too small for this shape: {counts[0]:.2g} by {counts[1]:.2g} of them.",
            "field.grid",
            "Make the cells larger.",
        )
    xs = lines(
        x0,
        x1,
        base * aspect,
        grid.grading_x,
        grid.ratio,
    )
    ys = lines(
        y0,
        y1,
        base,
        grid.grading_y,
        grid.ratio,
    )
    shapely.prepare(plane.polygon)
    adapted = getattr(grid, "adapted", None)
    for numbers in grid.refine.values():
        numbers.fluid, numbers.scale = around, LEVELS[grid.level] * getattr(grid, "scale", 1.0)
    flags: list[NDArray[np.bool_]] = []
    alive = np.ones((len(xs) - 1, len(ys) - 1), bool)
    for level in range(DEEPEST + 1):
        x = _halved(xs, level)
        y = _halved(ys, level)
        i, j = np.nonzero(alive)
        cut, _ = meeting(
            plane,
            x,
            y,
            i,
            j,
        )
        i = i[cut]
        j = j[cut]
        flag = np.zeros(alive.shape, bool)
        centres = np.column_stack([(x[i] + x[i + 1]) / 2, (y[j] + y[j + 1]) / 2])
        sizes = np.maximum((x[i + 1] - x[i]) / aspect, y[j + 1] - y[j])
        if level < DEEPEST and alive.size * 4 <= MOST_LATTICE:
            wanted = _wanted(plane, grid, centres, sizes, base, gaps, openings)
            wanted = np.minimum(wanted, _at_bodies(fluid, grid, centres, sizes, base))
            wanted = np.minimum(wanted, _at_lips(around, grid, openings, centres, sizes, base))
            flag[i, j] = sizes > 1.0001 * wanted
            if adapted is not None:
                flag[i, j] |= adapted.at(centres) > level
        flags.append(flag)
        finer = int(flag.sum())
        if not finer:
            break
        room_for_cells(4.0 * finer, "Make the cells larger, or ask for fewer cells across gaps.")
        alive = np.repeat(np.repeat(flag, 2, axis=0), 2, axis=1)
    made = _balanced(flags, xs, ys, plane)
    room_for_cells(len(made.level))
    return made


def near_boundary(plane: Plane, x: Floats, y: Floats) -> NDArray[np.bool_]:
    """Mark the cells of a lattice that a boundary segment may touch, and a few beside them, (nx, ny)."""
    marked = np.zeros((len(x) - 1, len(y) - 1), bool)
    step = 1.5 * min(float(np.diff(x).min()), float(np.diff(y).min()))
    start = plane.segments[:, 0]
    along = plane.segments[:, 1] - plane.segments[:, 0]
    count = np.maximum(1, np.ceil(np.hypot(*along.T) / step)).astype(int)
    which = np.repeat(np.arange(len(count)), count)
    part = np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)
    first = start[which] + (part / count[which])[:, None] * along[which]
    last = start[which] + ((part + 1) / count[which])[:, None] * along[which]
    rub = 1e-6 * step  # what lies on a line touches both its sides
    low = np.minimum(first, last) - rub
    high = np.maximum(first, last) + rub
    i0, i1 = (np.clip(np.searchsorted(x, side[:, 0], "right") - 1, 0, len(x) - 2) for side in (low, high))
    j0, j1 = (np.clip(np.searchsorted(y, side[:, 1], "right") - 1, 0, len(y) - 2) for side in (low, high))
    for di in range(int((i1 - i0).max()) + 1):
        for dj in range(int((j1 - j0).max()) + 1):
            marked[np.minimum(i0 + di, i1), np.minimum(j0 + dj, j1)] = True
    return marked


def meeting(
    plane: Plane,
    x: Floats,
    y: Floats,
    i: NDArray[np.int64],
    j: NDArray[np.int64],
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Tell which lattice cells meet the wet space, and which of them lie wholly in it.

    Only cells near the boundary are tested exactly; of the others the middle tells.
    """
    near = near_boundary(plane, x, y)[i, j]
    whole = ~near
    far = np.flatnonzero(whole)
    whole[far] = shapely.contains_xy(
        plane.polygon, (x[i[far]] + x[i[far] + 1]) / 2, (y[j[far]] + y[j[far] + 1]) / 2
    )
    meets = whole.copy()
    close = np.flatnonzero(near)
    meets[close] = shapely.intersects(
        plane.polygon, shapely.box(x[i[close]], y[j[close]], x[i[close] + 1], y[j[close] + 1])
    )
    return meets, whole


def _wanted(
    plane: Plane,
    grid: Any,
    centres: Floats,
    sizes: Floats,
    base: float,
    gaps: Floats,
    openings: frozenset[str],
) -> Floats:
    wanted = np.full(len(centres), np.inf)
    across = grid.across / (LEVELS[grid.level] * getattr(grid, "scale", 1.0))
    if len(gaps) and len(centres):
        distance, nearest = nearest_tree(gaps[:, :2]).query(centres)
        width = gaps[nearest, 2]
        wanted = np.where(distance <= 0.5 * width + 0.75 * sizes, width / max(across, 1.0), wanted)
        wanted = np.maximum(wanted, base / 2**DEEPEST)
    kinds = discover("mop_lantern.grid.refinements", Refinement)
    labels = [index for index, name in enumerate(plane.names) if name in openings]
    for numbers in grid.refine.values():
        numbers.open_labels = labels
        numbers.wall_unit = getattr(grid, "wall_unit", 0.0)
        wanted = np.minimum(
            wanted,
            kinds[numbers.kind].wanted(
                numbers,
                centres,
                sizes,
                plane,
                base,
            ),
        )
    return wanted


def _halved(lines_: Floats, level: int) -> Floats:
    count = (len(lines_) - 1) << level
    return np.interp(np.arange(count + 1) / 2.0**level, np.arange(len(lines_)), lines_)


def _balanced(
    flags: list[NDArray[np.bool_]],
    xs: Floats,
    ys: Floats,
    plane: Plane,
) -> Leaves:
    """Make neighbours differ by one level at most, then list the cells that meet the wet space."""
    for level in range(len(flags) - 1, 0, -1):
        if not flags[level].any():
            continue
        wide = np.pad(flags[level], 1)
        grown = np.zeros_like(flags[level])
        for di in (0, 1, 2):
            for dj in (0, 1, 2):
                grown |= wide[di : di + grown.shape[0], dj : dj + grown.shape[1]]
        flags[level - 1] |= grown.reshape(grown.shape[0] // 2, 2, grown.shape[1] // 2, 2).any(axis=(1, 3))
    used = max([level + 1 for level, flag in enumerate(flags) if flag.any()], default=0)
    parts = []
    exists = np.ones_like(flags[0])
    for level in range(used + 1):
        flag = flags[level] if level < len(flags) else np.zeros_like(exists)
        i, j = np.nonzero(exists & ~flag)
        x = _halved(xs, level)
        y = _halved(ys, level)
        keep, whole = meeting(
            plane,
            x,
            y,
            i,
            j,
        )
        parts.append((np.full(int(keep.sum()), level), i[keep], j[keep], whole[keep]))
        exists = np.repeat(np.repeat(exists & flag, 2, axis=0), 2, axis=1)
    levels, across, up, inside = (np.concatenate([part[k] for part in parts]) for k in range(4))
    return Leaves(
        levels,
        across,
        up,
        _halved(xs, used),
        _halved(ys, used),
        inside.astype(bool),
        used,
    )
