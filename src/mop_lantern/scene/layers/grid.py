"""Grid lines."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData

from mop_lantern.grid import Mesh
from mop_lantern.scene.stagehand import Layer, Stagehand, actor


class Grid(Layer):
    """The faces between cells, as the solver has them (merged pieces show no line between them).

    Source: the mesh.
    """

    caption: ClassVar[str] = "Grid"
    help: ClassVar[str] = "Show the cells"
    of_solids: ClassVar[bool] = True
    order: ClassVar[int] = 2
    kind: Literal["grid"] = "grid"

    @classmethod
    def props(cls, hand: Stagehand) -> list[Any]:
        """Draw every face of every region once."""
        return [_faces(drawn.mesh, hand) for drawn, _ in hand.fields.values()]


def _faces(mesh: Mesh, hand: Stagehand) -> Any:
    points = vtkPoints()
    lines = vtkCellArray()
    data = vtkPolyData()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(mesh.points), deep=True))
    offsets = numpy_to_vtkIdTypeArray(mesh.face_offsets.astype(np.int64), deep=True)
    lines.SetData(offsets, numpy_to_vtkIdTypeArray(mesh.face_points.astype(np.int64), deep=True))
    data.SetPoints(points)
    data.SetLines(lines)
    made = actor(data, hand.inks.ink, 1.0, 0.2 * hand.unit)
    made.GetProperty().SetOpacity(0.35)
    return made
