"""Grid lines."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.grid import Mesh
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import PlaneContext, actor
from mop_lantern.scene.space_cells import rings_cut
from mop_lantern.scene.space_stage import SpaceContext, polygons


class Grid(Layer):
    """In a plane: the faces between cells, as the solver has them (merged pieces show no line between them).

    In a space: the outlines of the cells in the section, cut at the walls; merged pieces show no line
    between them.

    Source: in a plane, the mesh; in a space, the cubes the cells were cut from.
    """

    caption: ClassVar[str] = "Grid"
    help: ClassVar[str] = "Show the cells"
    order: ClassVar[int] = 2
    follows: ClassVar[frozenset[str]] = frozenset({"section"})
    of_solids: ClassVar[bool] = True

    kind: Literal["grid"] = "grid"
    opacity: Text = quantity(
        "fraction",
        "opacity",
        "How far the lines hide what lies behind them.",
        default="35 %",
        above=0,
        at_most=1,
    )
    width: Text = quantity(
        "number",
        "width",
        "Of a line, in pixels.",
        default="1",
        at_least=0.5,
        at_most=8,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Draw every face of every region once."""
        return [_faces(drawn.mesh, context, options) for drawn, _ in context.fields.values()]

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Draw the outlines of the cubes the plane meets, where they lie in the fluid or a solid."""
        every = ([context] if context.answer is not None else []) + list(context.solids.values())
        return [prop for each in every for prop in _outlines(each, options)]


def _faces(mesh: Mesh, context: PlaneContext, options: Any) -> Any:
    points = vtkPoints()
    lines = vtkCellArray()
    data = vtkPolyData()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(mesh.points), deep=True))
    offsets = numpy_to_vtkIdTypeArray(mesh.face_offsets.astype(np.int64), deep=True)
    lines.SetData(offsets, numpy_to_vtkIdTypeArray(mesh.face_points.astype(np.int64), deep=True))
    data.SetPoints(points)
    data.SetLines(lines)
    made = actor(data, context.inks.ink, options.width, 0.2 * context.unit)
    made.GetProperty().SetOpacity(options.opacity)
    return made


def _outlines(context: SpaceContext, options: Any) -> list[Any]:
    points, ring, _ = context.kept(f"cells {context.across} {context.share}", lambda: rings_cut(context))
    if not len(points):
        return []
    inner = np.flatnonzero(ring[:-1] == ring[1:])
    made = actor(polygons(points, np.column_stack([inner, inner + 1])), context.inks.ink, options.width)
    made.GetProperty().SetOpacity(options.opacity)
    made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
    made.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -4.0)
    return [made]
