"""Colours over the section."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.grid.quality import CELL_FIGURES
from mop_lantern.scene.datasets import attach
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.looks import banded, seen_through
from mop_lantern.scene.plane_stage import PlaneContext, actor
from mop_lantern.scene.space_cells import filled, rings_cut
from mop_lantern.scene.space_stage import SpaceContext, polygons

SAMPLES = 260  # along the longer side of the section


class Colours(Layer):
    """In a plane: the chosen quantity as colours, smooth between cell values.

    In a space: the chosen quantity as colours on a plane across one direction.

    Source: in a plane, mean of the surrounding cells at every corner; on the boundary its own value; in a
    space, mean of the nearest cells and walls and their slopes, by their distance.
    """

    caption: ClassVar[str] = "Colours"
    help: ClassVar[str] = "Colour the section by the chosen quantity"
    order: ClassVar[int] = 0
    follows: ClassVar[frozenset[str]] = frozenset({"quantity", "section"})
    order_in_space: ClassVar[int] = 1
    of_solids: ClassVar[bool] = True

    kind: Literal["colours"] = "colours"
    bands: Text = count(
        "bands",
        "So many even bands of colour; 0 for smooth colours.",
        default="0",
        at_least=0,
        at_most=64,
    )
    opacity: Text = quantity(
        "fraction",
        "opacity",
        "How far the colours hide what lies behind them.",
        default="100 %",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Colour the cells of every region."""
        table = banded(context.table, int(options.bands))
        made = []
        for drawn, answer in context.coloured.values():
            attach(drawn.data, context.at_points(drawn, answer, context.quantity), context.quantity)
            made.append(seen_through(actor(drawn.data, table=table), options.opacity))
        return made

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Colour an even lattice in the fluid and in every solid; what is told of cells, cell by cell."""
        table = banded(context.table, int(options.bands))
        props = [prop for each in context.coloured.values() for prop in _section(each, table)]
        return [seen_through(prop, options.opacity) for prop in props]


def _section(context: SpaceContext, table: Any) -> list[Any]:
    """Colour the section of one region."""
    low = context.surface.points.min(axis=0)
    high = context.surface.points.max(axis=0)
    if not low[context.across] < context.place < high[context.across]:
        return []
    if context.quantity in CELL_FIGURES:
        assert context.answer
        points, ring, cell = rings_cut(context)
        return (
            [
                actor(
                    filled(points, ring, context.answer.cells(context.quantity)[cell], context.quantity),
                    table=table,
                )
            ]
            if len(points)
            else []
        )
    u = (context.across + 1) % 3
    v = (context.across + 2) % 3
    step = max(high[u] - low[u], high[v] - low[v]) / SAMPLES
    counts = [int(np.ceil((high[d] - low[d]) / step)) + 1 for d in (u, v)]
    lines = [np.linspace(low[d], high[d], count) for d, count in zip((u, v), counts, strict=True)]
    places = np.zeros((counts[0] * counts[1], 3))
    places[:, u], places[:, v] = (part.reshape(-1) for part in np.meshgrid(*lines, indexing="ij"))
    places[:, context.across] = context.place
    wet = shapely.contains_xy(context.wet, places[:, u], places[:, v])
    index = np.arange(len(places)).reshape(counts)
    quads = np.column_stack(
        [part.reshape(-1) for part in (index[:-1, :-1], index[1:, :-1], index[1:, 1:], index[:-1, 1:])]
    )
    quads = quads[wet[quads].all(axis=1)]
    if not len(quads):
        return []
    used, quads = np.unique(quads, return_inverse=True)
    values = context.sampled(context.quantity, places[used])
    return [actor(polygons(places[used], quads.reshape(-1, 4), values, context.quantity), table=table)]
