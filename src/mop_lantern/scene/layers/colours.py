"""Colours over the section."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.scene.datasets import attach, quantity_values
from mop_lantern.scene.stagehand import Layer, Stagehand, actor


class Colours(Layer):
    """The chosen quantity as colours, smooth between cell values.

    Source: mean of the surrounding cells at every corner; on the boundary its own value.
    """

    caption: ClassVar[str] = "Colours"
    help: ClassVar[str] = "Colour the section by the chosen quantity"
    order: ClassVar[int] = 0
    of_solids: ClassVar[bool] = True
    kind: Literal["colours"] = "colours"

    @classmethod
    def props(cls, hand: Stagehand) -> list[Any]:
        """Colour the cells of every region."""
        made = []
        for drawn, answer in hand.coloured.values():
            attach(drawn.data, quantity_values(drawn, answer, hand.quantity), hand.quantity)
            made.append(actor(drawn.data, table=hand.table))
        return made
