"""A passage taken from a drawing."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import text
from mop_lantern.shape.ring import RingPart


class Drawn(RingPart):
    """A closed outline imported from a drawing; its edges carry the names of the drawing's layers.

    Source: the drawing.
    """

    caption: ClassVar[str] = "Outline from a drawing"
    sentence: ClassVar[str] = "{id}: a space drawn in {source}, scaled by {scale}."

    kind: Literal["drawn"] = "drawn"
    source: str = text("drawing", "Where the outline comes from.", default="a drawing")
    ring: tuple[tuple[float, float], ...] = RingPart.ring_field()
    sides: tuple[str, ...] = RingPart.sides_field()

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Any]) -> Any:
        """Make the ring."""
        return cls.ring_piece(numbers)
