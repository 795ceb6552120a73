"""Streamlines of closed spaces end where they come round."""

from __future__ import annotations

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData

from mop_lantern.scene.layers.streamlines import once_round


def spiral(drift: float, turns: float) -> vtkPolyData:
    """Trace a circle whose radius shrinks by ``drift`` of itself a turn."""
    angle = np.linspace(0, 2 * np.pi * turns, int(100 * turns) + 1)
    radius = (1 - drift) ** (angle / (2 * np.pi))
    places = np.column_stack([radius * np.cos(angle), radius * np.sin(angle), 0 * angle])
    points = vtkPoints()
    points.SetData(numpy_to_vtk(places, deep=True))
    lines = vtkCellArray()
    lines.InsertNextCell(len(places))
    for k in range(len(places)):
        lines.InsertCellPoint(k)
    made = vtkPolyData()
    made.SetPoints(points)
    made.SetLines(lines)
    return made


def points_drawn(line: vtkPolyData) -> int:
    """Count the points of the one line."""
    return len(vtk_to_numpy(line.GetLines().GetConnectivityArray()))


def test_a_line_that_comes_round_ends_there() -> None:
    assert 90 < points_drawn(once_round(spiral(0.01, 8))) < 104
    assert points_drawn(once_round(spiral(0.0, 3))) < 104


def test_a_line_that_never_comes_back_is_drawn_whole() -> None:
    assert points_drawn(once_round(spiral(0.5, 4))) == 401
    assert points_drawn(once_round(spiral(0.0, 0.5))) == 51
    assert points_drawn(once_round(vtkPolyData())) == 0
