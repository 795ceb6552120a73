"""Walls coloured by the chosen quantity."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.looks import seen_through
from mop_lantern.scene.plane_stage import actor
from mop_lantern.scene.space_stage import SpaceContext, polygons
from mop_lantern.shape.facing import divided

FINE = 64  # pieces along the space


class Skin(Layer):
    """The far walls, coloured by the quantity on them.

    Source: mean of the nearest cells and walls and their slopes, by their distance.
    """

    caption: ClassVar[str] = "Surface colours"
    help: ClassVar[str] = "Colour the walls by the chosen quantity"
    order: ClassVar[int] = 1
    scaled: ClassVar[bool] = True
    follows: ClassVar[frozenset[str]] = frozenset({"quantity"})
    of_solids: ClassVar[bool] = True

    kind: Literal["skin"] = "skin"
    opacity: Text = quantity(
        "fraction",
        "opacity",
        "How far the walls hide what lies behind them.",
        default="100 %",
        above=0,
        at_most=1,
    )

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Colour the walls of the fluid; of solids alone, their own."""
        if context.answer is None:
            return [seen_through(_skin(each), options.opacity) for each in context.coloured.values()]
        return [seen_through(_skin(context), options.opacity)]


def _skin(context: SpaceContext) -> Any:
    """Divide the triangles finely and colour their corners."""
    corners = divided(
        context.surface.points[context.surface.triangles[context.drawn]], context.surface.size / FINE
    )
    points, index = np.unique(corners.reshape(-1, 3), axis=0, return_inverse=True)
    values = context.blended(context.quantity, points)
    made = actor(polygons(points, index.reshape(-1, 3), values, context.quantity), table=context.table)
    made.GetProperty().FrontfaceCullingOn()
    made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()  # lies on the bare walls
    made.GetMapper().SetRelativeCoincidentTopologyPolygonOffsetParameters(0.0, -8.0)
    return context.cut(made)
