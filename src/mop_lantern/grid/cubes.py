"""The lattice cubes lie on: places as numbers, what lies around them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
Ints = NDArray[Any]
BITS = 21
EIGHT = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
SHIFT = np.array([1.3e-5, 1.9e-5, 2.3e-5])  # of a cell: keeps lattice planes out of flat walls


@dataclass(frozen=True)
class Base:
    """Where the cubes lie: the first corner (3,) m, the size of an unhalved cube (m), how many there are each
    way, and how often they may halve.
    """

    origin: Floats
    size: float
    counts: tuple[int, int, int]
    deepest: int


def lattice(
    surface: Surface,
    cell: float,
    levels: int,
    deeper: int = 0,
) -> Base:
    """Lay a lattice over the surface whose outermost planes lie just outside it, so that flat ends keep whole
    cells.

    Raises
    ------
    RunError : the cells are far too small.
    """
    low = surface.points.min(axis=0)
    high = surface.points.max(axis=0)
    block = 2**levels
    blocks = np.maximum(np.round((high - low) / (cell * block)), 1)
    if np.prod(blocks) > 2e7 or blocks.max() * block * 2**deeper >= 1 << 20:
        raise RunError(
            f"these cells would need {np.prod(blocks * block):.2g} places.",
            "field.grid",
            "Make the cells larger.",
        )
    h = float(((high - low) / (blocks * block)).max()) * (1 + 6e-5)
    counts = np.maximum(np.ceil((high - low) / (h * block) - 1e-3 / block).astype(int), 1)
    return Base(
        low - SHIFT * h,
        h * block,
        (
            int(counts[0]),
            int(counts[1]),
            int(counts[2]),
        ),
        levels + deeper,
    )


def morton(place: Ints) -> Ints:
    """Give the place of cubes (k, 3) along a curve that keeps neighbours together."""
    code = np.zeros(len(place), np.int64)
    for axis in range(3):
        part = place[:, axis].astype(np.int64)
        for shift, mask in (
            (32, 0x1F00000000FFFF),
            (16, 0x1F0000FF0000FF),
            (8, 0x100F00F00F00F00F),
            (4, 0x10C30C30C30C30C3),
            (2, 0x1249249249249249),
        ):
            part = (part | (part << shift)) & mask
        code |= part << axis
    return code


def packed(place: Ints) -> Ints:
    """Give places (k, 3) as one number each."""
    return (place[:, 0].astype(np.int64) << 2 * BITS) | (place[:, 1] << BITS) | place[:, 2]


def unpacked(code: Ints) -> Ints:
    """Give the places of such numbers, (k, 3)."""
    mask = (1 << BITS) - 1
    return np.column_stack(
        [
            code >> 2 * BITS,
            (code >> BITS) & mask,
            code & mask,
        ]
    )


def ring(place: Ints, counts: Ints) -> Ints:
    """Give places and all around them that lie on the lattice, packed."""
    if not len(place):
        return np.zeros(0, np.int64)
    code = packed(place)
    mask = (1 << BITS) - 1
    for axis in range(3):  # one way after the other: each place is looked at nine times, not 27
        shift = BITS * (2 - axis)
        here = (code >> shift) & mask
        code = np.unique(
            np.concatenate(
                [code, code[here > 0] - (1 << shift), code[here < counts[axis] - 1] + (1 << shift)]
            )
        )
    return code
