"""What openings with a given flow have in common: the way, the profile, and how they write it on the
boundary.
"""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.errors import RunError
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_flow, let_out


class GivenFlow(Opening):
    """An opening whose flow is known; a kind says with ``magnitude`` how large it is."""

    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    way: Literal["in", "out"] = choice(
        "way", "Into or out of the space.", {"in": "in", "out": "out"}, default="in"
    )
    profile: Literal["usual", "uniform", "developed", "drawn"] = choice(
        "profile",
        "How the velocity is spread over the edge. The usual one is even where fluid enters; where it "
        "leaves, as the flow comes.",
        {
            "usual": "the usual one",
            "uniform": "uniform",
            "developed": "fully developed",
            "drawn": "a custom profile",
        },
        default="usual",
    )
    drawn: Text = quantity(
        "number",
        "custom profile",
        "Any shape, by an expression or table of across (-1 ... 1), x, y, z, r; only its shape counts.",
        default="= 1 - across**4",
        varies="x y z r across",
    )

    def template(self, space: bool = False) -> str:
        """Show the drawn profile where it is used."""
        words = type(self).sentence
        return words.removesuffix(".") + " by {drawn}." if self.profile == "drawn" else words

    @classmethod
    def magnitude(
        cls,
        numbers: Any,
        density: float,
        area: float,
    ) -> float:
        """Give the volume flow, m3/s, whatever its way."""
        raise NotImplementedError

    @classmethod
    def signed_flow(
        cls,
        numbers: Any,
        density: float,
        area: float,
    ) -> float | None:
        """Give the volume flow into the space, m3/s."""
        return cls.magnitude(numbers, density, area) * (1 if numbers.way == "in" else -1)

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Fix the velocity of every face."""
        inflow = cls.signed_flow(numbers, patch.density, patch.total)
        assert inflow is not None
        drawn = np.asarray(numbers.drawn, float)
        if numbers.profile == "drawn" and abs(drawn.mean()) < 1e-9 * np.abs(drawn).max(initial=1e-300):
            raise RunError(
                "the custom profile carries no flow: its values cancel or are zero.",
                numbers.edge,
                "Change the expression.",
            )
        if numbers.way == "out" and numbers.profile == "usual":
            let_out(patch, boundary, -float(np.mean(inflow)))
            return
        fix_flow(
            patch,
            boundary,
            float(np.mean(inflow)),
            numbers.profile,
            drawn,
        )
