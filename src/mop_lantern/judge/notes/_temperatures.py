"""Temperatures a case names, for notes on buoyancy."""

from __future__ import annotations

from typing import Any


def named_temperatures(numbers: Any) -> list[float]:
    """Give the fixed temperatures of walls and openings, K."""
    walls = [getattr(item, name, None) for item in numbers.warm.values() for name in ("temperature", "outside")]
    openings = [item.temperature for item in numbers.openings.values()]
    return [value for value in [*walls, *openings] if isinstance(value, float)]
