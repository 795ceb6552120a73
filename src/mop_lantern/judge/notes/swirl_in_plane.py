"""Swirl of a fan that is a line in a plane."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class SwirlInPlane(NoteKind):
    """Warn of a fan in a plane that is said to swirl: nothing can turn about an axis that lies in the plane.

    Source: what the program does.
    """

    caption: ClassVar[str] = "Swirl in a plane"
    kind: Literal["swirl_in_plane"] = "swirl_in_plane"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a fan."""
        if facts.numbers.shape.space != "plane":
            return []
        text = "In a plane nothing turns about the way a fan blows: its swirl is not solved."
        return [
            Note(
                f"field.devices.{key}.swirl",
                "caution",
                text,
                "no swirl",
                {f"field.devices.{key}.swirl": "0 deg"},
            )
            for key, device in facts.numbers.devices.items()
            if getattr(device, "swirl", 0.0)
        ]
