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
    sentence: ClassVar[str] = "{id}: a solid body drawn in {source}, scaled by {scale}; it {beneath}."

    kind: Literal["drawn_body"] = "drawn_body"
