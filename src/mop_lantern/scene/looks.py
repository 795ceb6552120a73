"""Looks that several layers share: bands of colour, and what can be seen through."""

from __future__ import annotations

from typing import Any

from vtkmodules.vtkCommonCore import vtkLookupTable


def banded(table: Any, bands: int) -> Any:
    """Give a table of so many even bands of the colours of another; itself for none."""
    if bands < 1:
        return table
    low, high = table.GetTableRange()
    made = vtkLookupTable()
    made.SetNumberOfTableValues(bands)
    made.SetTableRange(low, high)
    made.SetScale(table.GetScale())
    count = table.GetNumberOfTableValues()
    for band in range(bands):
        made.SetTableValue(band, *table.GetTableValue(int((band + 0.5) / bands * count)))
    return made


def seen_through(prop: Any, opacity: float) -> Any:
    """Let what lies behind a prop be seen, 0 wholly to 1 not at all."""
    if opacity < 1:
        prop.GetProperty().SetOpacity(opacity)
    return prop
