"""Datasets for drawing: the cells as polygons, values at their corners."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData

from mop_lantern.grid import Mesh
from mop_lantern.grid.slopes import plane_slopes
from mop_lantern.judge import FieldResult
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Drawing:
    """A mesh prepared for drawing.

    Attributes
    ----------
    data : polygons of the cells. used : the mesh's points drawn. corner, cell : pairs of a point and a cell
    around it.
    near_face, near_share : the two boundary faces a point lies on, or -1, and what each counts. reach : makes
    values at points of those in cells and on the boundary.
    """

    mesh: Mesh
    data: vtkPolyData
    used: NDArray[Any]
    corner: NDArray[Any]
    cell: NDArray[np.int64]
    near_face: NDArray[np.int64]
    near_share: Floats
    reach: Any

    def at_points(self, cells: Floats, boundary: Floats) -> Floats:
        """Give a quantity at the points: the mean of what the cells around make of it with their slopes,
        within the range of their neighbours, or the boundary's own value on it.
        """
        count = len(self.used)
        if cells.ndim == 2:
            return np.column_stack(
                [self.at_points(cells[:, k], boundary[:, k]) for k in range(cells.shape[1])]
            )
        around = self.mesh.locator.around
        every = np.concatenate([cells, boundary])
        low = np.full(count, np.inf)
        high = np.full(count, -np.inf)
        for limit, least in ((low, np.minimum), (high, np.maximum)):
            ring = least(cells, least.reduceat(every[around.beyond], around.first[:-1]))
            least.at(limit, self.corner, ring[self.cell])
        values = np.clip(self.reach @ every, low, high)
        on = self.near_face[:, 0] >= 0
        values[on] = (self.near_share[on] * boundary[self.near_face[on]]).sum(axis=1)
        return np.ascontiguousarray(values)


def _reach(
    mesh: Mesh,
    points: Floats,
    corner: NDArray[Any],
    cell: NDArray[np.int64],
) -> Any:
    """Give the sparse matrix (points, cells + boundary faces) that makes values at points (k, 2) m from the
    cells around them.
    """
    from scipy.sparse import csr_matrix, identity

    share = 1.0 / np.bincount(corner, minlength=len(points))[corner]
    away = points[corner] - mesh.centre[cell, :2]
    shape = (len(points), mesh.n_cells)
    mean, *along = (
        csr_matrix((share * part, (corner, cell)), shape) for part in (1.0, away[:, 0], away[:, 1])
    )
    own = identity(mesh.n_cells, format="csr")
    own.resize(mesh.n_cells, mesh.n_cells + mesh.n_boundary)
    return (
        mean @ own + sum(part @ slope for part, slope in zip(along, plane_slopes(mesh), strict=True))
    ).tocsr()


def drawing(mesh: Mesh) -> Drawing:
    """Prepare a plane mesh for drawing."""
    used, corner = np.unique(mesh.piece_points, return_inverse=True)
    corner = corner.reshape(-1)
    points = vtkPoints()
    points.SetData(numpy_to_vtk(np.ascontiguousarray(mesh.points[used]), deep=True))
    polys = vtkCellArray()
    polys.SetData(
        numpy_to_vtkIdTypeArray(mesh.piece_offsets.astype(np.int64), deep=True),
        numpy_to_vtkIdTypeArray(corner.astype(np.int64), deep=True),
    )
    data = vtkPolyData()
    data.SetPoints(points)
    data.SetPolys(polys)
    cell = np.repeat(mesh.piece_cell.astype(np.int64), np.diff(mesh.piece_offsets))
    places = mesh.points[used, :2]
    return Drawing(
        mesh,
        data,
        used,
        corner,
        cell,
        *_faces_at(mesh, places),
        _reach(mesh, places, corner, cell),
    )


def _faces_at(mesh: Mesh, places: Floats) -> tuple[NDArray[np.int64], Floats]:
    """Find the two boundary faces each point lies on (k, 2), one twice where it is none's end, -1 for inner
    points; and what each counts there.
    """
    inner = mesh.n_internal
    ends = mesh.points[mesh.face_points].reshape(-1, 2, 3)[inner:, :, :2]
    samples = np.concatenate([ends[:, 0], ends.mean(axis=1), ends[:, 1]])
    face = np.tile(np.arange(len(ends)), 3)
    distance, nearest = nearest_tree(samples).query(places, k=2)
    length = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    near = np.where(distance < 0.02 * length[face[nearest]] + 1e-12, face[nearest], -1)
    near[:, 1] = np.where(near[:, 1] < 0, near[:, 0], near[:, 1])
    other = length[near[:, ::-1]]  # the shorter face's middle is nearer
    return near, other / other.sum(axis=1, keepdims=True)


def attach(data: vtkPolyData, values: Floats, name: str) -> None:
    """Attach values to the points of a dataset under a name and make them the ones drawn."""
    array = numpy_to_vtk(np.ascontiguousarray(values), deep=True)
    array.SetName(name)
    data.GetPointData().AddArray(array)
    if values.ndim == 1:
        data.GetPointData().SetActiveScalars(name)
    else:
        data.GetPointData().SetActiveVectors(name)


def polylines(lines: list[Floats]) -> vtkPolyData:
    """Make a dataset of open lines, each (k, 2) float, m."""
    data = vtkPolyData()
    points = vtkPoints()
    cells = vtkCellArray()
    for line in lines:
        cells.InsertNextCell(len(line))
        for x, y in line:
            cells.InsertCellPoint(points.InsertNextPoint(float(x), float(y), 0.0))
    data.SetPoints(points)
    data.SetLines(cells)
    return data


def quantity_values(drawn: Drawing, answer: FieldResult, what: str) -> Floats:
    """Give a quantity at the points of a drawing."""
    return drawn.at_points(answer.cells(what), answer.boundary(what))
