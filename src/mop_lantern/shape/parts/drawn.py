"""A passage taken from a drawing."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.shape.ring import RingPart


class Drawn(RingPart):
    """A closed outline imported from a drawing; its edges carry the names of the drawing's layers.

    Source: the drawing.
    """

    caption: ClassVar[str] = "Outline from a drawing"
    sentence: ClassVar[str] = "{id}: a space drawn in {source}, scaled by {scale}."

    kind: Literal["drawn"] = "drawn"
