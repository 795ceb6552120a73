"""A profile forced on an outlet."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class ForcedOutlet(NoteKind):
    """Tell where fluid has to leave with a profile of its own.

    Source: own measurement: a pipe sucked evenly lost a fifth more than one fed at the other end, and never
    settled.
    """

    caption: ClassVar[str] = "Profile forced on an outlet"
    kind: Literal["forced_outlet"] = "forced_outlet"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every outlet of a given flow with another profile than the usual one."""
        notes = []
        for opening in facts.openings:
            if opening.profile in ("", "usual") or not opening.flow or opening.flow > 0:
                continue
            path = f"field.openings.{opening.key}"
            text = (
                "A profile is forced on fluid that leaves: it is stopped and sped up in the last cells as at "
                "no real outlet. Pressures there and losses may be off by a fifth, and the flow may not "
                "settle."
            )
            notes.append(
                Note(path, "caution", text, "let it leave as it comes", {f"{path}.profile": "usual"})
            )
        return notes
