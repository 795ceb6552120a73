"""An island taken from a drawing."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import text
from mop_lantern.shape.ring import RingPart


class DrawnBody(RingPart):
    """A solid island imported from a drawing, or any closed outline that fluid flows around.

    Source: the drawing.
    """

    caption: ClassVar[str] = "Island from a drawing"
    sentence: ClassVar[str] = "{id}: a solid body drawn in {source}, scaled by {scale}."
    role: ClassVar[str] = "body"

    kind: Literal["drawn_body"] = "drawn_body"
    source: str = text("drawing", "Where the outline comes from.", default="a drawing")
    ring: tuple[tuple[float, float], ...] = RingPart.ring_field()
    sides: tuple[str, ...] = RingPart.sides_field()

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Any]) -> Any:
        """Make the ring."""
        return cls.ring_piece(numbers)
