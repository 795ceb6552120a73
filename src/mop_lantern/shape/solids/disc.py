"""A round disc, such as that of a valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import Body, Others, Solid, frame, hair, loft, place_of, round_ring


class Disc(Solid):
    """A disc about its middle; turned by its heading it opens and closes a pipe.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Disc"
    group: ClassVar[str] = "Boxes and round parts"
    symbol: ClassVar[str] = (
        "M-0.9,0 A0.9,0.4 0 1 1 0.9,0 A0.9,0.4 0 1 1 -0.9,0 Z M-0.9,0 L-0.9,0.15 A0.9,0.4 0 0 0 "
        "0.9,0.15 L0.9,0"
    )
    sentence: ClassVar[str] = (
        "{id}: a disc, {role}, about ({x}, {y}, {z}), its front facing {heading} and rising {rise}, "
        "{diameter} across and {thickness} thick."
    )

    kind: Literal["disc"] = "disc"
    heading: Text = quantity(
        "angle", "heading", "Where its front faces, in the x-y plane from x.", default="0 deg"
    )
    rise: Text = quantity("angle", "rise", "Where its front faces, over the x-y plane.", default="0 deg")
    diameter: Text = quantity(
        "length",
        "diameter",
        "Across.",
        default="50 mm",
        above=0,
    )
    thickness: Text = quantity(
        "length",
        "thickness",
        "0 for a sheet.",
        default="2 mm",
        at_least=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Two rings."""
        along, aside, up = frame(numbers.heading, numbers.rise)
        half = 0.5 * hair(numbers.thickness, numbers.diameter) * along
        rings = [
            round_ring(place_of(numbers) + way * half, aside, up, numbers.diameter / 2) for way in (-1, 1)
        ]
        return loft(rings, ["rim"], ("back", "front"))
