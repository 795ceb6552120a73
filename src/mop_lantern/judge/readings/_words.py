"""Words shared by the readings' declarations."""

from __future__ import annotations

from typing import Any

from mop_lantern.declare import choice, reference, text
from mop_lantern.units import DIMENSIONS

HOW = {
    "mean": "mean",
    "min": "smallest",
    "max": "largest",
    "integral": "integral",
}

# dimension of what passes a second, by that of the quantity
PASSING = {
    "temperature": "power",
    "fraction": "volume_flow",
    "density": "mass_flow",
    "time": "volume",
}


def what() -> Any:
    """Declare what is read: a flow quantity, T, age, or c.ID of a species."""
    return reference("quantity", "quantity", "What is read.", default="pressure")


def how(extra: dict[str, str] | None = None) -> Any:
    """Declare the choice of a reduction."""
    return choice("measure", "How many values become one.", {**HOW, **(extra or {})}, default="mean")


def title() -> Any:
    """Declare the reading's title."""
    return text("title", "What the ledger calls it; its id when left empty.", default="")


def dimension(numbers: Any, over: str = "") -> str:
    """Give the dimension of the quantity read, after reduction over an area or a volume."""
    base = str(numbers.of[1])
    if not over or numbers.measure != "integral":
        return base
    return f"{base}_{over}" if f"{base}_{over}" in DIMENSIONS else "number"
