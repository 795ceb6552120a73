"""An outlet that takes a given share of the flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure

EXACT = (
    1e6  # dynamic pressures that one more through-flow would cost: what is missed of the share is a millionth
)


class Share(Opening):
    """A given share of all that enters the space leaves here, however much that is; the pressure it takes is
    an answer, even over the edge.

    So a branch can be told to draw a tenth before its line is known. Another opening must be free to take the
    rest.

    Source: own derivation (a curve so steep that its flow is as good as given).
    """

    caption: ClassVar[str] = "Given share of the flow"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-0.9,0 L-0.3,0 M-0.3,0 L0.5,-0.25 M-0.3,0 L0.5,0.25 M0.3,-0.3 "
        "L0.5,-0.25 L0.38,-0.08"
    )
    sentence: ClassVar[str] = "{id}: {share} of all that enters the space leaves through {edge}."
    fixes: ClassVar[str] = "pressure"
    follows_flow: ClassVar[bool] = True
    holds_flow: ClassVar[bool] = True

    kind: Literal["share"] = "share"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    share: Text = quantity(
        "fraction",
        "share",
        "Of the flow that enters through all other openings.",
        default="50 %",
        at_least=0,
        at_most=1,
        varies="t",
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Begin with no pressure."""
        fix_pressure(patch, boundary, 0.0)

    @classmethod
    def pressure_at(
        cls,
        numbers: Any,
        flow: float,
        density: float,
    ) -> tuple[float, float]:
        """As much as turns the flow into its share; ``numbers.entering`` enters the space, m3/s."""
        entering = max(float(numbers.entering), 1e-12)
        slope = EXACT * density * entering / float(numbers.area) ** 2
        return slope * (flow - float(numbers.share) * entering), slope
