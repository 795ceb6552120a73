"""Flow through a section inside a plane space, and what it carries on the mean."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, point
from mop_lantern.declare.kind import Point
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title, what

SAMPLES = 801


class Section(Reading):
    """The flow through a straight section of a plane, or of a body around an axis, or the mean of a quantity
    weighted with that flow.

    Flow counts positive to the right of somebody who walks from the first end to the second.

    Source: midpoint rule over 801 samples.
    """

    caption: ClassVar[str] = "Section inside"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = "M-1,-0.6 L1,-0.6 M-1,0.6 L1,0.6 M0,-0.9 L0,0.9"
    fits: ClassVar[str] = "plane"
    sentence: ClassVar[str] = "{id}: {measure} through the section from {start} to {end}, of {quantity}."

    kind: Literal["section"] = "section"
    title: str = title()
    start: Point = point("from", "One end of the section.")
    end: Point = point("to", "Other end of the section.")
    measure: Literal["flow", "flow_mean", "mean"] = choice(
        "measure",
        "What is reported.",
        {
            "flow": "the volume flow",
            "flow_mean": "the flow-weighted mean",
            "mean": "the area mean",
        },
        default="flow_mean",
    )
    quantity: str = what()

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A volume flow, or the quantity's."""
        return "volume_flow" if numbers.measure == "flow" else str(numbers.of[1])

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up along the section; nan in a space of three dimensions."""
        mesh = answer.mesh
        if len(mesh.ways) == 3:
            return float("nan")
        start = np.asarray(numbers.start, float)[:2]
        end = np.asarray(numbers.end, float)[:2]
        along = end - start
        places = start + (np.arange(SAMPLES)[:, None] + 0.5) / SAMPLES * along
        places = places[np.isfinite(answer.sampler("u", places))]
        if not len(places) or not along.any():
            return float("nan")
        right = np.array([along[1], -along[0]]) / np.linalg.norm(along)
        deep = (
            2 * np.pi * places[:, 1]
            if mesh.axisymmetric
            else np.full(len(places), mesh.volume[0] / mesh.plane_area[0])
        )
        size = deep * np.linalg.norm(along) / SAMPLES
        flow = size * (answer.sampler("u", places) * right[0] + answer.sampler("v", places) * right[1])
        if numbers.measure == "flow":
            return float(flow.sum())
        weight = flow if numbers.measure == "flow_mean" else size
        total = float(weight.sum())
        return (
            float((answer.sampler(numbers.quantity, places) * weight).sum() / total)
            if total
            else float("nan")
        )
