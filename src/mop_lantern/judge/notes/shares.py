"""Outlets that take given shares of the flow."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind, OpeningFacts


class Shares(NoteKind):
    """Block shares that cannot all be had: more than the whole, no opening free to take the rest, or several
    spaces apart from each other.

    Source: conservation of mass.
    """

    caption: ClassVar[str] = "Shares of the flow"
    blocks: ClassVar[bool] = True
    kind: Literal["shares"] = "shares"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note; in several spaces apart from each other shares would be of what enters all of them."""
        spaces = facts.by_space()
        sharing = [opening for openings in spaces for opening in openings if opening.kind == "share"]
        if sharing and len(spaces) > 1:
            text = "A share is of all that enters, and here are several spaces apart. Give a flow instead."
            return [Note(f"field.openings.{sharing[-1].key}", "blocked", text)]
        return [note for openings in spaces for note in cls._of_space(facts, openings)]

    @classmethod
    def _of_space(cls, facts: Facts, openings: tuple[OpeningFacts, ...]) -> list[Note]:
        sharing = [opening for opening in openings if opening.kind == "share"]
        if not sharing:
            return []
        path = f"field.openings.{sharing[-1].key}"
        given = [facts.numbers.openings[opening.key].share for opening in sharing]
        total = sum(share for share in given if isinstance(share, float))
        if total > 1 + 1e-9:
            text = f"The shares add up to {100 * total:.4g} % of the flow. Lower one."
            return [Note(path, "blocked", text)]
        free = [opening for opening in openings if opening.flow is None and opening.kind != "share"]
        if free:
            return []
        text = "No opening is free to take the rest. Make the one that takes it a static pressure."
        edits = {path: {"kind": "static_pressure", "edge": sharing[-1].edge}}
        return [Note(path, "blocked", text, "a static pressure here", edits)]
