"""A quantity over an edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading, pick
from mop_lantern.judge.readings._words import dimension, how, title, what


class EdgeValue(Reading):
    """Mean, extreme or integral of a quantity over an opening or wall.

    Source: midpoint rule over the boundary faces; the flow-weighted mean weighs with the flow through each
    face.
    """

    caption: ClassVar[str] = "Value over an edge"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = "M0,-0.9 L0,0.9 M-0.5,-0.5 Q0.6,0 -0.5,0.5"
    sentence: ClassVar[str] = "{id}: {measure} {quantity} over {edge}."

    kind: Literal["edge_value"] = "edge_value"
    title: str = title()
    edge: str = reference("edge", "edge", "The edge.")
    quantity: str = what()
    measure: Literal["mean", "flow_mean", "min", "max", "integral", "variation"] = how(
        {"flow_mean": "flow-weighted mean", "variation": "coefficient of variation"}
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """The quantity's, times area for an integral; a coefficient is a number."""
        if numbers.measure == "variation":
            return "number"
        return dimension(numbers, "area")

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Reduce over the faces of the edge."""
        faces = answer.mesh.faces_of(numbers.edge)
        if numbers.measure == "variation":
            return _variation(answer, numbers.quantity, faces)
        weights = np.abs(answer.outflow) if numbers.measure == "flow_mean" else answer.face_size
        return pick(numbers.measure, answer.boundary(numbers.quantity)[faces], weights[faces])


def _variation(answer: FieldResult, quantity: str, faces: NDArray[np.int64]) -> float:
    """Give the standard deviation over the mean, weighted with the flow; of what is carried the mean counts
    from the least that enters anywhere, so that degrees C and kelvins say the same: 0 where all is mixed.
    """
    values = answer.boundary(quantity)
    weights = np.abs(answer.outflow[faces])
    if not len(faces) or weights.sum() <= 0:
        return float("nan")
    entering = values[answer.outflow < 0] if quantity in answer.scalars else values[:0]
    least = float(entering.min()) if len(entering) else 0.0
    mean = float(np.average(values[faces], weights=weights)) - least
    spread = float(np.sqrt(np.average((values[faces] - least - mean) ** 2, weights=weights)))
    return spread / abs(mean) if abs(mean) > 1e-12 * max(abs(least), 1e-300) else float("nan")
