"""Colours at the heights at which people feel the air."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.judge.comfort_verdict import HEIGHTS
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.looks import banded, seen_through
from mop_lantern.scene.space_cells import section
from mop_lantern.scene.space_stage import SpaceContext

EVEN = (0.125, 0.375, 0.625, 0.875)  # of a space lower than the first of them
UP = 2


class Heights(Layer):
    """The chosen quantity on four level sections, 0.1, 0.6, 1.1 and 1.7 m over the lowest place: at ankles,
    waist and heads of those who sit and stand. Of a lower space those that fit are drawn, or
    four even ones.

    Source: heights of ISO 7726 (not at hand to check); values as on the section.
    """

    caption: ClassVar[str] = "Heights"
    help: ClassVar[str] = "Colour level sections at 0.1, 0.6, 1.1 and 1.7 m, where people feel the air"
    order: ClassVar[int] = 2
    scaled: ClassVar[bool] = True
    follows: ClassVar[frozenset[str]] = frozenset({"quantity"})
    of_solids: ClassVar[bool] = True

    kind: Literal["heights"] = "heights"
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
        "How far a section hides those below it.",
        default="80 %",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Colour every section that lies within the space."""
        table = banded(context.table, int(options.bands))
        props = []
        for each in context.coloured.values():
            low, high = (float(end[UP]) for end in (each.surface.points.min(0), each.surface.points.max(0)))
            shares = [height / (high - low) for height in HEIGHTS if height < high - low]
            for share in shares or EVEN:
                props += section(replace(each, across=UP, share=share), table)
        return [seen_through(prop, options.opacity) for prop in props]
