"""Velocity arrows."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.datasets import polylines
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import PlaneContext, actor
from mop_lantern.scene.space_stage import SpaceContext, polygons

SPACING = 2.2  # of the mark size
ALONG = 34  # arrows along the longer side


class Arrows(Layer):
    """In a plane: arrows on an even lattice, length by speed.

    In a space: arrows on an even lattice of the section, length by speed; they stand out of it where the
    flow does.

    Source: in a plane, weighted linear fit through the nearest cells; in a space, mean of the nearest cells
    and walls and their slopes, by their distance.
    """

    caption: ClassVar[str] = "Arrows"
    help: ClassVar[str] = "Show velocity arrows"
    order: ClassVar[int] = 4
    follows: ClassVar[frozenset[str]] = frozenset({"section"})

    kind: Literal["arrows"] = "arrows"
    along: Text = count(
        "arrows",
        "How many stand along the longer side.",
        default="auto",
        at_least=2,
        at_most=150,
    )
    length: Text = quantity(
        "number",
        "length",
        "Of the longest arrow, in distances between arrows.",
        default="1.4",
        above=0,
        at_most=10,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Draw a shaft and two barbs for every arrow."""
        assert context.answer
        low = context.answer.mesh.centre.min(axis=0)[:2]
        high = context.answer.mesh.centre.max(axis=0)[:2]
        step = SPACING * context.unit
        if options.along is not None:
            step = float((high - low).max()) / options.along
        axes = [
            np.arange(a + step / 2, b, step) if b - a > step else np.array([(a + b) / 2])
            for a, b in zip(low, high, strict=True)
        ]
        places = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 2)
        places = places[context.answer.inside(places)]
        if not len(places):
            return []
        velocity = np.column_stack([context.answer.sampler(name, places) for name in ("u", "v")])
        fastest = float(np.hypot(*velocity.T).max()) or 1.0
        lines = []
        for place, way in zip(places, velocity / fastest * step * options.length, strict=True):
            if np.hypot(*way) < 0.05 * step:
                continue
            side = np.array([-way[1], way[0]])
            tip = place + way / 2
            lines += [
                np.array([place - way / 2, tip]),
                np.array([tip - 0.3 * way + 0.15 * side, tip, tip - 0.3 * way - 0.15 * side]),
            ]
        return [actor(polylines(lines), context.inks.ink, 1.2, 0.4 * context.unit)]

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Draw a shaft and two barbs for every arrow."""
        assert context.answer
        low = context.surface.points.min(axis=0)
        high = context.surface.points.max(axis=0)
        u = (context.across + 1) % 3
        v = (context.across + 2) % 3
        step = max(high[u] - low[u], high[v] - low[v]) / (options.along or ALONG)
        grid = np.stack(
            np.meshgrid(
                np.arange(low[u] + step / 2, high[u], step),
                np.arange(low[v] + step / 2, high[v], step),
                indexing="ij",
            ),
            axis=-1,
        ).reshape(-1, 2)
        grid = grid[shapely.contains_xy(context.wet, grid[:, 0], grid[:, 1])]
        if not len(grid):
            return []
        places = np.zeros((len(grid), 3))
        places[:, u], places[:, v], places[:, context.across] = grid[:, 0], grid[:, 1], context.place
        velocity = context.sampled("velocity", places)
        speed = np.linalg.norm(velocity, axis=1)
        way = velocity / (speed.max() or 1.0) * step * options.length
        keep = speed > 0.04 * speed.max()
        places = places[keep]
        way = way[keep]
        side = np.cross(way, np.eye(3)[context.across])
        flat = np.linalg.norm(side, axis=1) < 0.1 * np.linalg.norm(way, axis=1)
        side[flat] = np.cross(way[flat], np.eye(3)[u])
        side *= (
            0.16 * (np.linalg.norm(way, axis=1) / np.maximum(np.linalg.norm(side, axis=1), 1e-300))[:, None]
        )
        tip = places + way / 2
        points = np.concatenate(
            [
                places - way / 2,
                tip,
                tip - 0.32 * way + side,
                tip - 0.32 * way - side,
            ]
        )
        n = np.arange(len(tip))
        lines = np.concatenate([np.column_stack([n + a * len(n), n + len(n)]) for a in (0, 2, 3)])
        made = actor(polygons(points, lines), context.inks.ink, 1.3)
        made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
        made.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -6.0)
        return [made]
