"""A passage taken from a drawing."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.shape.ring import RingPart


class Drawn(RingPart):
    """A closed outline imported from a drawing; its edges carry the names of the drawing's layers.

    Source: the drawing.
    """

    caption: ClassVar[str] = "Outline from a drawing"
    group: ClassVar[str] = "From a drawing"
    symbol: ClassVar[str] = "M-0.7,-0.9 L0.3,-0.9 L0.7,-0.5 L0.7,0.9 L-0.7,0.9 Z M-0.4,0.5 L0,-0.3 L0.4,0.5 Z"
    imported: ClassVar[str] = "drawing"
    sentence: ClassVar[str] = "{id}: a space drawn in {source}, scaled by {scale}."

    kind: Literal["drawn"] = "drawn"
