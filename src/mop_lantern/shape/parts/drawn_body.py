"""An island taken from a drawing."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.shape.piece import BodyPart
from mop_lantern.shape.ring import RingPart


class DrawnBody(BodyPart, RingPart):
    """A solid island imported from a drawing, or any closed outline that fluid flows around.

    Source: the drawing.
    """

    caption: ClassVar[str] = "Island from a drawing"
    group: ClassVar[str] = "From a drawing"
    symbol: ClassVar[str] = (
        "M-0.7,-0.9 L0.3,-0.9 L0.7,-0.5 L0.7,0.9 L-0.7,0.9 Z M-0.3,0.1 A0.3,0.3 0 1 1 0.3,0.1 "
        "A0.3,0.3 0 1 1 -0.3,0.1 Z"
    )
    imported: ClassVar[str] = "drawing"
    sentence: ClassVar[str] = "{id}: a solid body drawn in {source}, scaled by {scale}; it {beneath}."

    kind: Literal["drawn_body"] = "drawn_body"
