"""What a trust check is: one look at a finished answer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import Kind, discover
from mop_lantern.judge import FieldResult, Trust
from mop_lantern.solve.physics import Physics
from mop_lantern.units import worded_in


@dataclass(frozen=True)
class Evidence:
    """What checks may look at.

    Attributes
    ----------
    settled : the case. physics : the flow and what it carries, at its end. answer : the finished field.
    steady : whether it was solved to a steady state. follow : whether edits are followed, and haste matters.
    """

    settled: ResolvedCase
    physics: Physics
    answer: FieldResult
    steady: bool
    follow: bool


class TrustCheck(Kind):
    """A check of a finished answer; ``judge(evidence)`` gives its items, none where there is nothing to say.

    The contract of a check file beside that of every kind: its words say what was checked, how far it is off,
    and what to do; the manual explains its items under *trust*.
    """

    in_time: ClassVar[bool] = True  # looked at in runs in time too
    while_following: ClassVar[bool] = True  # looked at while edits are followed

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        raise NotImplementedError


def checked(evidence: Evidence) -> list[Trust]:
    """Give the items of every check that applies."""
    items = []
    with worded_in(evidence.settled.case.units):
        for check in discover("mop_lantern.solve.checks", TrustCheck).values():
            if (evidence.steady or check.in_time) and (check.while_following or not evidence.follow):
                items += check.judge(evidence)
    return items
