"""Flow that is neither laminar nor turbulent."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind


class BetweenRegimes(NoteKind):
    """Flow that is neither laminar nor turbulent.

    Source: the friction factor has no unique value between Reynolds numbers of 2000 and 4000 (Moody, Trans.
    ASME 66 (1944)).
    """

    caption: ClassVar[str] = "Flow that is neither laminar nor turbulent"
    on: ClassVar[str] = "network"
    kind: Literal["between_regimes"] = "between_regimes"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        notes = []
        for name, part in facts.working.parts.items():
            if facts.working.kinds[name] in ("pipe", "duct") and 2000 < part["reynolds"] < 4000:
                line, _, own = name.partition(".")
                words = (
                    f"Re {part['reynolds']:.0f} lies between laminar and turbulent: its loss may be off by "
                    "half."
                )
                notes.append(Note(f"network.lines.{line}.parts.{own}", "caution", words))
        return notes
