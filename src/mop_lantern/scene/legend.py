"""The scale of the coloured quantity: a slim bar along the lower edge with figures in the person's unit."""

from __future__ import annotations

from typing import Any

import numpy as np
from vtkmodules.vtkCommonCore import vtkPoints, vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkRenderingCore import vtkActor2D, vtkPolyDataMapper2D, vtkTextActor

from mop_lantern.scene.maps import ASSETS
from mop_lantern.scene.plane_stage import Colour

MARKS = 5


def text(
    words: str,
    x: float,
    y: float,
    colour: Colour,
    size: int,
    middle: bool = True,
    bold: bool = False,
) -> vtkTextActor:
    """Make a line of text at a place in pixels."""
    made = vtkTextActor()
    made.SetInput(words)
    made.SetPosition(x, y)
    style = made.GetTextProperty()
    style.SetFontFamily(4)  # from a file
    style.SetFontFile(str(ASSETS / f"LanternSans-{'Semibold' if bold else 'Regular'}.ttf"))
    style.SetFontSize(size)
    style.SetColor(*colour)
    if middle:
        style.SetJustificationToCentered()
    return made


def legend(
    table: Any,
    title: str,
    figures: list[str],
    width: int,
    colour: Colour,
    scale: float,
) -> list[Any]:
    """Make the props of the scale.

    Parameters
    ----------
    figures : what to write at equal steps from the low to the high end. width : of the picture, pixels. scale
    : of pixels.
    """
    long = min(340.0 * scale, width * 0.5)
    left = 26.0 * scale
    low = 30.0 * scale
    high = 38.0 * scale
    count = table.GetNumberOfTableValues()
    points = vtkPoints()
    cells = vtkCellArray()
    colours = vtkUnsignedCharArray()
    colours.SetNumberOfComponents(3)
    for k in range(count):
        a = left + long * k / count
        b = left + long * (k + 1) / count
        cells.InsertNextCell(4)
        for x, y in (
            (a, low),
            (b, low),
            (b, high),
            (a, high),
        ):
            cells.InsertCellPoint(points.InsertNextPoint(x, y, 0))
        colours.InsertNextTuple3(*(255 * c for c in table.GetTableValue(k)[:3]))
    data = vtkPolyData()
    data.SetPoints(points)
    data.SetPolys(cells)
    data.GetCellData().SetScalars(colours)
    mapper = vtkPolyDataMapper2D()
    mapper.SetInputData(data)
    bar = vtkActor2D()
    bar.SetMapper(mapper)
    size = round(13 * scale)
    props: list[Any] = [
        bar,
        text(
            title,
            left,
            44.0 * scale,
            colour,
            size,
            middle=False,
            bold=True,
        ),
    ]
    for place, figure in zip(np.linspace(left, left + long, len(figures)), figures, strict=True):
        props.append(
            text(
                figure,
                float(np.clip(place, left + 8 * scale, None)),
                10.0 * scale,
                colour,
                size,
            )
        )
    return props
