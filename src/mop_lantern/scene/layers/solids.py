"""Solid parts where the section goes through them."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import actor
from mop_lantern.scene.space_stage import Floats, SpaceContext, polygons
from mop_lantern.shape import cut_by_plane

WIDTH = 1.0  # px
WIDE = 1.8  # px, of outlines


class Solids(Layer):
    """Solid parts on the section, hatched.

    Source: the shape.
    """

    caption: ClassVar[str] = "Solids"
    help: ClassVar[str] = "Hatch solid parts where the section goes through them"
    order: ClassVar[int] = 2
    follows: ClassVar[frozenset[str]] = frozenset({"section", "quantity"})
    needs_answer: ClassVar[bool] = False

    kind: Literal["solids"] = "solids"
    apart: Text = quantity(
        "fraction",
        "distance",
        "Between lines of the hatching, of the size of the space.",
        default="1.4 %",
        at_least=0.002,
        at_most=0.2,
    )

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Outline what is cut of every solid, and hatch it unless it is coloured."""
        made = []
        for name, solid in context.surface.solids.items():
            low = solid.points[solid.triangles][:, :, context.across].min()
            high = solid.points[solid.triangles][:, :, context.across].max()
            if low < context.place < high:
                area = cut_by_plane(solid, context.across, context.place)
                made += _drawn(area.boundary, context, WIDE)
                if name not in context.coloured:
                    made += _drawn(_hatching(area, options.apart * context.surface.size), context, WIDTH)
        return made


def _hatching(area: Any, apart: float) -> Any:
    """Lay lines at 45 degrees over an area."""
    if area.is_empty:
        return area
    x0, y0, x1, y1 = area.bounds
    starts = (
        np.arange(np.floor((x0 + y0) / apart / np.sqrt(2)), np.ceil((x1 + y1) / apart / np.sqrt(2)) + 1)
        * apart
        * np.sqrt(2)
    )
    lines = shapely.linestrings([[(s - y0, y0), (s - y1, y1)] for s in starts])
    return shapely.intersection(shapely.multilinestrings(lines), area)


def _drawn(lines: Any, context: SpaceContext, width: float) -> list[Any]:
    """Draw lines of the section's two directions."""
    pieces = [
        shapely.get_coordinates(part)
        for part in shapely.get_parts(lines)
        if part.geom_type in ("LineString", "LinearRing")
    ]
    ends = [np.stack([piece[:-1], piece[1:]], axis=1) for piece in pieces if len(piece) > 1]
    if not ends:
        return []
    flat: Floats = np.concatenate(ends).reshape(-1, 2)
    points = np.zeros((len(flat), 3))
    points[:, (context.across + 1) % 3], points[:, (context.across + 2) % 3], points[:, context.across] = (
        flat[:, 0],
        flat[:, 1],
        context.place,
    )
    drawn = actor(polygons(points, np.arange(len(points)).reshape(-1, 2)), context.inks.ink, width)
    drawn.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
    drawn.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -8.0)
    return [drawn]
