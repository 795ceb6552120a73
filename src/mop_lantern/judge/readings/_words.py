"""Words shared by the readings' declarations."""

from __future__ import annotations

from typing import Any

from mop_lantern.declare import choice, text
from mop_lantern.judge.answer import QUANTITIES

HOW = {"mean": "mean", "min": "smallest", "max": "largest", "integral": "integral"}


def what() -> Any:
    """Declare the choice of a quantity."""
    return choice("quantity", "What is read.", {key: words for key, (words, _) in QUANTITIES.items()}, default="pressure")


def how(extra: dict[str, str] | None = None) -> Any:
    """Declare the choice of a reduction."""
    return choice("measure", "How many values become one.", {**HOW, **(extra or {})}, default="mean")


def title() -> Any:
    """Declare the reading's title."""
    return text("title", "What the ledger calls it; its id when left empty.", default="")


def dimension(what_: str, how_: str, over: str) -> str:
    """Give the dimension of a quantity after reduction over an area or a volume."""
    base = QUANTITIES[what_][1]
    return f"{base}_{over}" if how_ == "integral" else base
