"""Colour maps: even in lightness, safe for colour-blind eyes, never a rainbow."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Any

from vtkmodules.vtkCommonCore import vtkLookupTable

ASSETS = Path(__file__).parent / "assets"


@lru_cache(maxsize=1)
def tables() -> dict[str, Any]:
    """Give the colour tables by name, 64 steps of red, green, blue each."""
    return {
        name: rows
        for name, rows in json.loads((ASSETS / "maps.json").read_text("utf-8")).items()
        if name != "source"
    }


def default_map(
    quantity: str,
    low: float,
    high: float,
    fixed: bool = False,
) -> str:
    """Choose a map: ``vik`` for signed values, ``oslo`` for one-sided ones, ``batlow`` otherwise.

    ``fixed``: the ends stay as they are, even about zero or not.
    """
    even = abs(low + high) <= 1e-9 * abs(high)
    if quantity in ("u", "v", "w") and low < 0 < high and (even or not fixed):
        return "vik"
    return "oslo" if quantity == "speed" else "batlow"


def lookup(
    name: str,
    low: float,
    high: float,
    powers: bool = False,
) -> vtkLookupTable:
    """Make a lookup table over a range, even or by powers of ten; a signed map is centred on zero."""
    rows = tables()[name]
    if name == "vik":
        most = max(abs(low), abs(high)) or 1.0
        low = -most
        high = most
    table = vtkLookupTable()
    table.SetNumberOfTableValues(len(rows))
    for index, (red, green, blue) in enumerate(rows):
        table.SetTableValue(
            index,
            red,
            green,
            blue,
            1.0,
        )
    table.SetTableRange(low, high if high > low else low + 1e-12)
    if powers:
        table.SetScaleToLog10()
    return table
