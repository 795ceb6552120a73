"""Parts that the flow domain has no use for."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class OtherDimension(NoteKind):
    """Warn of three-dimensional parts in a plane, and of plane parts in a three-dimensional domain: they are
    not solved.

    Source: what the program does.
    """

    caption: ClassVar[str] = "Parts of another dimension"
    kind: Literal["other_dimension"] = "other_dimension"
    needs_fluid: ClassVar[bool] = False

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a part."""
        shape = facts.numbers.shape
        if shape.space == "space":
            text = "This part is plane and the flow domain is three-dimensional: the part is not solved."
            return [Note(f"shape.parts.{key}", "caution", text) for key in shape.parts]
        text = "This part is three-dimensional and the flow domain is not: the part is not solved."
        edits = {"shape.space": "space"}
        return [
            Note(f"shape.solids.{key}", "caution", text, "make the domain three-dimensional", edits)
            for key in shape.solids
        ]
