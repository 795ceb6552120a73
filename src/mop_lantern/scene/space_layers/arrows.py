"""Velocity arrows on the section."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.scene.space_stage import SpaceContext, SpaceLayer, polygons
from mop_lantern.scene.stagehand import actor

ALONG = 34  # arrows along the longer side


class Arrows(SpaceLayer):
    """Arrows on an even lattice of the section, length by speed; they stand out of it where the flow does.

    Source: mean of the nearest cells and walls and their slopes, by their distance.
    """

    caption: ClassVar[str] = "Arrows"
    help: ClassVar[str] = "Show velocity arrows on the section"
    order: ClassVar[int] = 4
    follows: ClassVar[frozenset[str]] = frozenset({"section"})
    kind: Literal["arrows"] = "arrows"

    @classmethod
    def props(cls, hand: SpaceContext) -> list[Any]:
        """Draw a shaft and two barbs for every arrow."""
        assert hand.answer
        low = hand.surface.points.min(axis=0)
        high = hand.surface.points.max(axis=0)
        u = (hand.across + 1) % 3
        v = (hand.across + 2) % 3
        step = max(high[u] - low[u], high[v] - low[v]) / ALONG
        grid = np.stack(
            np.meshgrid(
                np.arange(low[u] + step / 2, high[u], step),
                np.arange(low[v] + step / 2, high[v], step),
                indexing="ij",
            ),
            axis=-1,
        ).reshape(-1, 2)
        grid = grid[shapely.contains_xy(hand.wet, grid[:, 0], grid[:, 1])]
        if not len(grid):
            return []
        places = np.zeros((len(grid), 3))
        places[:, u], places[:, v], places[:, hand.across] = grid[:, 0], grid[:, 1], hand.place
        velocity = hand.sampled("velocity", places)
        speed = np.linalg.norm(velocity, axis=1)
        way = velocity / (speed.max() or 1.0) * step * 1.5
        keep = speed > 0.04 * speed.max()
        places = places[keep]
        way = way[keep]
        side = np.cross(way, np.eye(3)[hand.across])
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
        made = actor(polygons(points, lines), hand.inks.ink, 1.3)
        made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
        made.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -6.0)
        return [made]
