"""The section of a space: its colours, and the cells it goes through."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersCore import vtkTriangleFilter

from mop_lantern.grid.quality import CELL_FIGURES
from mop_lantern.scene.plane_stage import actor
from mop_lantern.scene.space_stage import Floats, SpaceContext, polygons

SAMPLES = 260  # along the longer side of the section


def rings_cut(context: SpaceContext) -> tuple[Floats, NDArray[np.int64], NDArray[np.int64]]:
    """Give the outlines of the cells in the section: corners (n, 3) m, the outline each belongs to, and the
    cell of every outline.
    """
    assert context.answer
    mesh = context.answer.mesh
    low = mesh.cube_low
    size = mesh.cube_size
    met = np.flatnonzero(
        (low[:, context.across] <= context.place) & (low[:, context.across] + size > context.place)
    )
    if not len(met):
        return np.zeros((0, 3)), np.zeros(0, np.int64), np.zeros(0, np.int64)
    u = (context.across + 1) % 3
    v = (context.across + 2) % 3
    boxes = shapely.box(low[met, u], low[met, v], low[met, u] + size[met], low[met, v] + size[met])
    shapely.prepare(context.wet)
    cut = ~shapely.contains_properly(context.wet, boxes)
    boxes[cut] = shapely.intersection(boxes[cut], context.wet)
    parts, box = shapely.get_parts(boxes, return_index=True)
    solid = shapely.get_type_id(parts) == 3
    rings, part = shapely.get_rings(parts[solid], return_index=True)
    place, ring = shapely.get_coordinates(rings, return_index=True)
    points = np.zeros((len(place), 3))
    points[:, u], points[:, v], points[:, context.across] = place[:, 0], place[:, 1], context.place
    return points, ring.astype(np.int64), mesh.cube_cell[met[box[solid][part]]].astype(np.int64)


def filled(
    points: Floats,
    ring: NDArray[np.int64],
    values: Floats,
    name: str,
) -> Any:
    """Fill outlines (as `rings_cut` gives them) with one value each."""
    data = vtkPolyData()
    place = vtkPoints()
    cells = vtkCellArray()
    place.SetData(numpy_to_vtk(np.ascontiguousarray(points), deep=True))
    ends = np.append(np.flatnonzero(np.diff(ring)) + 1, len(ring))
    starts = np.append(0, ends[:-1])
    closed = np.arange(len(ring))[
        ~np.isin(np.arange(len(ring)), ends - 1)
    ]  # the last corner repeats the first
    counts = ends - starts - 1
    cells.SetData(
        numpy_to_vtkIdTypeArray(np.append(0, np.cumsum(counts)).astype(np.int64), deep=True),
        numpy_to_vtkIdTypeArray(closed.astype(np.int64), deep=True),
    )
    data.SetPoints(place)
    data.SetPolys(cells)
    array = numpy_to_vtk(np.ascontiguousarray(values, float), deep=True)
    array.SetName(name)
    data.GetCellData().SetScalars(array)
    cut = vtkTriangleFilter()
    cut.SetInputData(data)
    cut.Update()
    return cut.GetOutput()


def section(context: SpaceContext, table: Any) -> list[Any]:
    """Colour the section of one region by the chosen quantity."""
    low = context.surface.points.min(axis=0)
    high = context.surface.points.max(axis=0)
    if not low[context.across] < context.place < high[context.across]:
        return []
    if context.quantity in CELL_FIGURES:
        assert context.answer
        points, ring, cell = rings_cut(context)
        return (
            [
                actor(
                    filled(points, ring, context.answer.cells(context.quantity)[cell], context.quantity),
                    table=table,
                )
            ]
            if len(points)
            else []
        )
    u = (context.across + 1) % 3
    v = (context.across + 2) % 3
    step = max(high[u] - low[u], high[v] - low[v]) / SAMPLES
    counts = [int(np.ceil((high[d] - low[d]) / step)) + 1 for d in (u, v)]
    lines = [np.linspace(low[d], high[d], count) for d, count in zip((u, v), counts, strict=True)]
    places = np.zeros((counts[0] * counts[1], 3))
    places[:, u], places[:, v] = (part.reshape(-1) for part in np.meshgrid(*lines, indexing="ij"))
    places[:, context.across] = context.place
    wet = shapely.contains_xy(context.wet, places[:, u], places[:, v])
    index = np.arange(len(places)).reshape(counts)
    quads = np.column_stack(
        [part.reshape(-1) for part in (index[:-1, :-1], index[1:, :-1], index[1:, 1:], index[:-1, 1:])]
    )
    quads = quads[wet[quads].all(axis=1)]
    if not len(quads):
        return []
    used, quads = np.unique(quads, return_inverse=True)
    values = context.sampled(context.quantity, places[used])
    return [actor(polygons(places[used], quads.reshape(-1, 4), values, context.quantity), table=table)]
