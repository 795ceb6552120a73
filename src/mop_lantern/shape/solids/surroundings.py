"""The surroundings of solid parts: fluid all around them, in a box."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity, reference, unused
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import ALSO, Body, Others, Solid, box, original, without_also


class Surroundings(Solid):
    """Fluid in a box around a solid part that stands before it, which then takes space away. What the part
    encloses is not part of it where walls close it off and a wet point lies outside.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Surroundings of a solid"
    group: ClassVar[str] = "From a file"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8 M-0.3,0 A0.25,0.25 0 1 1 -0.3,0.5 A0.25,0.25 0 1 1 -0.3,0 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: the fluid is around {of}"
        + ALSO
        + ", in a box from {before} before it to {behind} behind it along x, "
        "{aside} aside, {below} below and {above} above."
    )

    kind: Literal["surroundings"] = "surroundings"
    beneath: ClassVar[bool] = True
    role: Literal["fluid"] = choice(
        "role", "It is full of fluid.", {"fluid": "full of fluid"}, default="fluid"
    )  # type: ignore[assignment]
    of: str = reference("solid", "part", "The solid part the fluid is around.")
    also: tuple[str, ...] = reference(
        "solids", "further parts", "Solid parts it is around besides, by their names.", default=()
    )
    before: Text = quantity("length", "before", "From the west side to the part.", default="100 mm", above=0)
    behind: Text = quantity("length", "behind", "From the part to the east side.", default="200 mm", above=0)
    aside: Text = quantity("length", "aside", "To the south and north sides.", default="100 mm", above=0)
    below: Text = quantity(
        "length",
        "below",
        "Down to the bottom; 0 where the part stands on it.",
        default="100 mm",
        at_least=0,
    )
    above: Text = quantity("length", "above", "Up to the top.", default="100 mm", above=0)
    x: Text = unused("x")
    y: Text = unused("y")
    z: Text = unused("z")

    def template(self, space: bool = False) -> str:
        """Further parts are told where there are any."""
        return without_also(super().template(space), self.also)

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """A box around the part, its sides named as those of a box are."""
        points = np.vstack([body.points for body in original(numbers, others)])
        low = points.min(axis=0) - [numbers.before, numbers.aside, numbers.below]
        high = points.max(axis=0) + [numbers.behind, numbers.aside, numbers.above]
        return box(low, high)
