"""The cells a section goes through."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.scene.space_stage import SpaceHand, SpaceLayer, polygons
from mop_lantern.scene.stagehand import actor


class Grid(SpaceLayer):
    """The outlines of the cells in the section, cut at the walls; merged pieces show no line between them.

    Source: the cubes the cells were cut from.
    """

    caption: ClassVar[str] = "Grid"
    help: ClassVar[str] = "Show the cells of the section"
    order: ClassVar[int] = 2
    follows: ClassVar[frozenset[str]] = frozenset({"section"})
    kind: Literal["grid"] = "grid"

    @classmethod
    def props(cls, hand: SpaceHand) -> list[Any]:
        """Draw the outlines of the cubes the plane meets, where they lie in the fluid."""
        assert hand.answer
        mesh = hand.answer.mesh
        low, size = mesh.cube_low, mesh.cube_size
        met = np.flatnonzero((low[:, hand.across] <= hand.place) & (low[:, hand.across] + size > hand.place))
        if not len(met):
            return []
        u, v = (hand.across + 1) % 3, (hand.across + 2) % 3
        boxes = shapely.box(low[met, u], low[met, v], low[met, u] + size[met], low[met, v] + size[met])
        shapely.prepare(hand.wet)
        cut = ~shapely.contains_properly(hand.wet, boxes)
        boxes[cut] = shapely.intersection(boxes[cut], hand.wet)
        rings = shapely.get_rings(shapely.get_parts(boxes))
        place, ring = shapely.get_coordinates(rings, return_index=True)
        points = np.zeros((len(place), 3))
        points[:, u], points[:, v], points[:, hand.across] = place[:, 0], place[:, 1], hand.place
        inner = np.flatnonzero(ring[:-1] == ring[1:])
        made = actor(polygons(points, np.column_stack([inner, inner + 1])), hand.inks.ink, 1.0)
        made.GetProperty().SetOpacity(0.4)
        made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
        made.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -4.0)
        return [made]
