"""A thin wall that conducts along itself, in a case with radiation."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class ThinWallRadiates(NoteKind):
    """Block what is not solved together: what a thin wall conducts along itself, and what it radiates.

    Source: the sets of equations of both, as solved here.
    """

    caption: ClassVar[str] = "Thin wall among surfaces that radiate"
    blocks: ClassVar[bool] = True
    kind: Literal["thin_wall_radiates"] = "thin_wall_radiates"
    needs_fluid: ClassVar[bool] = False

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a wall."""
        if not facts.numbers.radiation.solve or not facts.numbers.heat.solve:
            return []
        remedy = {"field.radiation.solve": False}
        return [
            Note(
                f"field.warm.{key}",
                "blocked",
                f"The thin wall {wall.edge} conducts along itself and would radiate: the two are not solved "
                "together. Give it the kind “Layers and outside film”, draw it as a solid, or do without "
                "radiation.",
                "do without radiation",
                remedy,
            )
            for key, wall in facts.numbers.warm.items()
            if wall.kind == "shell"
        ]
