"""Cautions of the review, taken along with the answer."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal

from mop_lantern.case import ResolvedCase, facts_of
from mop_lantern.judge import FieldResult, Trust, lasting_notes, note_trust
from mop_lantern.solve.check import Evidence, TrustCheck


class Cautions(TrustCheck):
    """What the review warned of and solving has not done away with.

    Source: the margin notes, each with its own.
    """

    caption: ClassVar[str] = "Cautions of the review"
    while_following: ClassVar[bool] = False
    kind: Literal["cautions"] = "cautions"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        return written_trust(evidence.settled, evidence.answer)


def written_trust(settled: ResolvedCase, answer: FieldResult) -> list[Trust]:
    """Take the cautions of the review along, with the flows the answer has where the case gives none."""
    facts = facts_of(settled)
    out = answer.outflow
    mesh = answer.mesh
    openings = [
        opening
        if opening.flow is not None
        else replace(opening, flow=-float(out[mesh.faces_of(opening.edge)].sum()))
        for opening in facts.openings
    ]
    return note_trust(lasting_notes(replace(facts, openings=tuple(openings))))
