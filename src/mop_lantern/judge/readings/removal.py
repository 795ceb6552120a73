"""How well ventilation takes a species away."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Removal(Reading):
    """How well ventilation takes away what sources give off.

    The effectiveness is what leaves over what is there in the mean, both less what is brought in: 1 where all
    is mixed, more where air takes it straight to the extract, less where it lingers. The purging flow is what
    is given off over what is there in the mean beyond what is brought in: the flow of a mixed room that would
    be as clean.

    Source: Etheridge and Sandberg, *Building Ventilation* (1996), chapter 12; Sandberg and Sjoberg, Building
    and Environment 18 (1983) 181-197 (not at hand to check).
    """

    caption: ClassVar[str] = "Removal of a species"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.8,-0.6 L0.4,-0.6 L0.4,0.7 L-0.8,0.7 Z M-0.5,0.3 L-0.4,0.3 M-0.2,0 L-0.1,0 M-0.4,-0.2 L-0.3,-0.2 "
        "M0.1,0.2 L0.9,0.2 M0.7,0 L0.9,0.2 L0.7,0.4"
    )
    sentence: ClassVar[str] = "{id}: {measure} of {species}."

    without: ClassVar[str] = "nothing enters, or no more of it is there than is brought in."

    kind: Literal["removal"] = "removal"
    title: str = title()
    species: str = reference("species", "species", "What is taken away.")
    measure: Literal["effectiveness", "purging"] = choice(
        "measure",
        "Which figure.",
        {"effectiveness": "contaminant removal effectiveness", "purging": "purging flow"},
        default="effectiveness",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """By the measure."""
        return "volume_flow" if numbers.measure == "purging" else "fraction"

    @classmethod
    def reads(cls, numbers: Any) -> str:
        """The species."""
        return f"c.{numbers.species}"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Work out the figure; not a number where nothing is brought in, or nothing is there."""
        name = f"c.{numbers.species}"
        if not answer.has(name):
            return float("nan")
        out = answer.outflow
        value = answer.boundary(name)
        entering, leaving = -np.minimum(out, 0.0), np.maximum(out, 0.0)
        if not entering.sum() > 0 or not leaving.sum() > 0:
            return float("nan")
        size = answer.mesh.volume * answer.wet
        brought = float((entering * value).sum() / entering.sum())
        taken = float((leaving * value).sum() / leaving.sum())
        more = float((answer.cells(name) * size).sum() / size.sum()) - brought
        if not more > 0:
            return float("nan")
        if numbers.measure == "effectiveness":
            return (taken - brought) / more
        return (taken - brought) * float(leaving.sum()) / more
