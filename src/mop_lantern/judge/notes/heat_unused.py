"""Heat that is given while no temperature is solved for."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import discover
from mop_lantern.judge.facts import Facts, Note, NoteKind


class HeatUnused(NoteKind):
    """A source or a device gives heat, and nobody asks for the temperature.

    Source: definition.
    """

    caption: ClassVar[str] = "Heat without temperature"
    needs_fluid: ClassVar[bool] = False
    kind: Literal["heat_unused"] = "heat_unused"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for each of them."""
        numbers = facts.numbers
        if numbers.heat.solve:
            return []
        devices: Any = discover("mop_lantern.field.devices")
        warms = [f"field.sources.{key}" for key, item in numbers.sources.items() if hasattr(item, "power")]
        warms += [
            f"field.devices.{key}"
            for key, item in numbers.devices.items()
            if "T" in devices[item.kind].feeds(item)
        ]
        text = "Its heat does nothing: the temperature is not solved."
        return [
            Note(path, "caution", text, "solve temperature", {"field.heat.solve": True}) for path in warms
        ]
