"""Hollow bodies made here, as others would send them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import trimesh


def along(way: tuple[float, float, float], radius: float, length: float, start: Any = (0, 0, 0)) -> Any:
    """Give a cylinder from a place along a way, m."""
    made = trimesh.creation.cylinder(radius, length, sections=64)
    made.apply_translation([0, 0, 0.5 * length])
    made.apply_transform(trimesh.geometry.align_vectors([0, 0, 1], way))
    made.apply_translation(start)
    return made


def less(first: Any, *others: Any) -> Any:
    return trimesh.boolean.difference([first, *others])


def fused(*bodies: Any) -> Any:
    return trimesh.boolean.union(list(bodies))


def hollow_tee() -> Any:
    """A tee of 60 and 40 mm pipe, 4 and 3 mm thick."""
    outer = fused(along((1, 0, 0), 0.03, 0.2), along((0, 0, 1), 0.02, 0.12, (0.1, 0, 0)))
    return less(
        outer, along((1, 0, 0), 0.026, 0.22, (-0.01, 0, 0)), along((0, 0, 1), 0.017, 0.13, (0.1, 0, 0))
    )


def chamber() -> Any:
    """A room of sheet 5 mm thick, 1 m wide: a door hole, a round hole, and a blind hole from outside."""
    box = trimesh.creation.box((1, 1, 1))
    door = trimesh.creation.box((0.2, 0.3, 0.1))
    door.apply_translation([0.0, 0.0, 0.5])
    blind = along((-1, 0, 0), 0.05, 0.003, (0.5, 0.2, 0.2))
    return less(
        box, trimesh.creation.box((0.99, 0.99, 0.99)), door, along((0, 1, 0), 0.1, 0.2, (0, 0.4, 0)), blind
    )


def bottle() -> Any:
    """A bottle of 2 mm glass: one mouth, with a step in its neck."""
    outer = fused(along((0, 0, 1), 0.035, 0.1), along((0, 0, 1), 0.012, 0.15))
    return less(
        outer, along((0, 0, 1), 0.033, 0.096, (0, 0, 0.002)), along((0, 0, 1), 0.01, 0.2, (0, 0, 0.05))
    )


def saved(body: Any, path: Path, scale: float = 1.0) -> Path:
    """Write a body as a file, its lengths multiplied."""
    scaled = body.copy()
    scaled.apply_scale(scale)
    scaled.export(path)
    return path


def disc(radius: float, sections: int = 64) -> float:
    """Area of the polygon of a round body made here, m2."""
    return float(0.5 * sections * np.sin(2 * np.pi / sections) * radius**2)
