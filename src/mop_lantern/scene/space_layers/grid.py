"""The cells a section goes through."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.scene.space_cells import rings_cut
from mop_lantern.scene.space_stage import SpaceContext, SpaceLayer, polygons
from mop_lantern.scene.stagehand import actor


class Grid(SpaceLayer):
    """The outlines of the cells in the section, cut at the walls; merged pieces show no line between them.

    Source: the cubes the cells were cut from.
    """

    caption: ClassVar[str] = "Grid"
    help: ClassVar[str] = "Show the cells of the section"
    of_solids: ClassVar[bool] = True
    order: ClassVar[int] = 2
    follows: ClassVar[frozenset[str]] = frozenset({"section"})
    kind: Literal["grid"] = "grid"

    @classmethod
    def props(cls, hand: SpaceContext) -> list[Any]:
        """Draw the outlines of the cubes the plane meets, where they lie in the fluid or a solid."""
        every = ([hand] if hand.answer is not None else []) + list(hand.solids.values())
        return [prop for each in every for prop in _outlines(each)]


def _outlines(hand: SpaceContext) -> list[Any]:
    points, ring, _ = hand.kept(f"cells {hand.across} {hand.share}", lambda: rings_cut(hand))
    if not len(points):
        return []
    inner = np.flatnonzero(ring[:-1] == ring[1:])
    made = actor(polygons(points, np.column_stack([inner, inner + 1])), hand.inks.ink, 1.0)
    made.GetProperty().SetOpacity(0.4)
    made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
    made.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -4.0)
    return [made]
