"""Where a flow leaves a wall or comes back to it."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, count, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class TurningPoint(Reading):
    """The place along an edge where the friction on it changes its way: separation, or reattachment.

    Source: zero of the wall shear, on a straight line between the faces on both sides.
    """

    caption: ClassVar[str] = "Separation or reattachment"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M-0.8,0.2 Q0,0.2 0,-0.3 Q0,-0.8 0.8,-0.8 M0,0.6 L0,0.2"
    )
    fits: ClassVar[str] = "plane"
    sentence: ClassVar[str] = "{id}: {axis} of {which} number {number} on {edge}, beyond {after}."

    kind: Literal["turning_point"] = "turning_point"
    title: str = title()
    edge: str = reference("edge", "edge", "The wall; its faces are taken in order of the coordinate.")
    which: Literal["reattachment", "separation", "either"] = choice(
        "which",
        "Seen along the coordinate: flow that turns from backwards to forwards reattaches.",
        {
            "reattachment": "reattachment",
            "separation": "separation",
            "either": "a change of either kind",
        },
        default="reattachment",
    )
    axis: Literal["x", "y"] = choice(
        "coordinate", "Along which the edge runs.", {"x": "x", "y": "y"}, default="x"
    )
    number: Text = count(
        "number",
        "Which one, counted from the lowest coordinate.",
        default="1",
        at_least=1,
        at_most=99,
    )
    after: Text = quantity("length", "beyond", "Only places beyond this coordinate count.", default="-1000 m")

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A length."""
        return "length"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Find the changes of sign; nan where there are fewer."""
        mesh = answer.mesh
        way = "xy".index(numbers.axis)
        faces = mesh.faces_of(numbers.edge)
        x = mesh.face_centre[mesh.n_internal + faces, way]
        order = np.argsort(x)
        x = x[order]
        shear = answer.shear[faces, way][order]
        up = (shear[:-1] < 0) & (shear[1:] >= 0)
        down = (shear[:-1] >= 0) & (shear[1:] < 0)
        wanted = {
            "reattachment": up,
            "separation": down,
            "either": up | down,
        }[numbers.which]
        at = np.flatnonzero(wanted)
        places = x[at] - shear[at] * (x[at + 1] - x[at]) / (shear[at + 1] - shear[at])
        places = places[places > numbers.after]
        return float(places[int(numbers.number) - 1]) if len(places) >= numbers.number else float("nan")
