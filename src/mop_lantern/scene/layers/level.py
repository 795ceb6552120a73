"""A surface on which the chosen quantity has one value."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from vtkmodules.util.numpy_support import vtk_to_numpy
from vtkmodules.vtkFiltersCore import vtkContourFilter, vtkPolyDataNormals

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.looks import seen_through
from mop_lantern.scene.plane_stage import actor
from mop_lantern.scene.scale import value_at
from mop_lantern.scene.space_stage import SpaceContext, polygons


class Level(Layer):
    """An iso-surface: where the chosen quantity has one value; its place on the scale is moved by the slider
    beside the scale.

    Source: marching cubes of a general library, on an even lattice; what lies beyond the walls is cut away.
    """

    caption: ClassVar[str] = "Iso-surface"
    help: ClassVar[str] = "Show the surface on which the chosen quantity has one value"
    order: ClassVar[int] = 3
    scaled: ClassVar[bool] = True
    follows: ClassVar[frozenset[str]] = frozenset({"quantity", "level"})

    kind: Literal["level"] = "level"
    opacity: Text = quantity(
        "fraction",
        "opacity",
        "How far the surface hides what lies behind it.",
        default="100 %",
        above=0,
        at_most=1,
    )

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Contour, then keep what lies on the fluid's side of the nearest wall."""
        assert context.answer
        value = value_at(context.table, context.level)
        contour = vtkContourFilter()
        contour.SetInputData(
            context.kept(f"lattice {context.quantity}", lambda: context.lattice(context.quantity))
        )
        contour.SetValue(0, value)
        contour.ComputeNormalsOff()
        contour.Update()
        found = contour.GetOutput()
        if not found.GetNumberOfPolys():
            return []
        points = vtk_to_numpy(found.GetPoints().GetData()).astype(float)
        corners = vtk_to_numpy(found.GetPolys().GetConnectivityArray()).reshape(-1, 3)
        corners = corners[_within(context, points)[corners].all(axis=1)]
        if not len(corners):
            return []
        smooth = vtkPolyDataNormals()
        smooth.SetInputData(polygons(points, corners, np.full(len(points), value), context.quantity))
        smooth.SplittingOff()
        smooth.Update()
        made = actor(smooth.GetOutput(), table=context.table)
        made.GetProperty().LightingOn()
        made.GetProperty().SetAmbient(0.35)
        made.GetProperty().SetDiffuse(0.65)
        return [seen_through(made, options.opacity)]


def _within(context: SpaceContext, points: Any) -> Any:
    """Tell which places lie before the nearest wall, seen from the fluid."""
    assert context.answer
    mesh = context.answer.mesh
    nodes, tree = context.nodes
    near = tree.query(points)[1]
    wall = near >= mesh.n_cells
    inside = np.ones(len(points), bool)
    face = near[wall] - mesh.n_cells + mesh.n_internal
    inside[wall] = ((points[wall] - mesh.face_centre[face]) * mesh.area[face]).sum(axis=1) <= 0
    return inside
