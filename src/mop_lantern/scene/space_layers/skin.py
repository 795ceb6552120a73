"""Walls coloured by the chosen quantity."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.scene.space_stage import SpaceContext, SpaceLayer, polygons
from mop_lantern.scene.stagehand import actor
from mop_lantern.shape.facing import divided

FINE = 64  # pieces along the space


class Skin(SpaceLayer):
    """The far walls, coloured by the quantity on them.

    Source: mean of the nearest cells and walls and their slopes, by their distance.
    """

    caption: ClassVar[str] = "Walls"
    help: ClassVar[str] = "Colour the walls by the chosen quantity"
    of_solids: ClassVar[bool] = True
    order: ClassVar[int] = 1
    follows: ClassVar[frozenset[str]] = frozenset({"quantity"})
    kind: Literal["skin"] = "skin"

    @classmethod
    def props(cls, hand: SpaceContext) -> list[Any]:
        """Colour the walls of the fluid; of solids alone, their own."""
        if hand.answer is None:
            return [_skin(each) for each in hand.coloured.values()]
        return [_skin(hand)]


def _skin(hand: SpaceContext) -> Any:
    """Divide the triangles finely and colour their corners."""
    corners = divided(hand.surface.points[hand.surface.triangles[hand.drawn]], hand.surface.size / FINE)
    points, index = np.unique(corners.reshape(-1, 3), axis=0, return_inverse=True)
    values = hand.sampled(hand.quantity, points)
    made = actor(polygons(points, index.reshape(-1, 3), values, hand.quantity), table=hand.table)
    made.GetProperty().FrontfaceCullingOn()
    made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()  # lies on the bare walls
    made.GetMapper().SetRelativeCoincidentTopologyPolygonOffsetParameters(0.0, -8.0)
    return hand.cut(made)
