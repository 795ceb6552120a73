"""Datasets for drawing: the cells as polygons, values at their corners."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData

from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.judge.sampling import sampler_of
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
FEW = 4000  # points whose weights are worked out while one waits


@dataclass(frozen=True)
class Drawing:
    """A mesh prepared for drawing.

    Attributes
    ----------
    data : polygons of the cells. used : the mesh's points drawn. corner, cell : pairs of a point and a cell
    around it.
    near_face, near_share : the two boundary faces a point lies on, or -1, and what each counts.
    """

    mesh: Mesh
    data: vtkPolyData
    used: NDArray[Any]
    corner: NDArray[Any]
    cell: NDArray[np.int64]
    near_face: NDArray[np.int64]
    near_share: Floats

    @cached_property
    def inner(self) -> NDArray[np.int64]:
        """The points that lie on no boundary."""
        return np.flatnonzero(self.near_face[:, 0] < 0)

    @cached_property
    def places(self) -> Floats:
        """Where the inner points lie, (k, 2) m."""
        return np.ascontiguousarray(self.mesh.points[self.used[self.inner], :2])

    @property
    def ready(self) -> bool:
        """Whether values as readings have them come at once."""
        return len(self.inner) <= FEW or sampler_of(self.mesh).knows(self.places)

    def at_points(self, answer: FieldResult, what: str, quick: bool = False) -> Floats:
        """Give a quantity at the points, as a reading there has it, or quickly as the mean of the cells
        around; on the boundary its own value.
        """
        boundary = answer.boundary(what)
        cells = answer.cells(what)
        values = self._mean(cells)
        if not quick:
            found = answer.weighed(what, sampler_of(self.mesh).weights(self.places))
            known = np.isfinite(found)  # not in a gap narrower than the polygons can tell
            values[self.inner[known]] = found[known]
        on = self.near_face[:, 0] >= 0
        values[on] = (self.near_share[on] * boundary[self.near_face[on]]).sum(axis=1)
        return values

    def _mean(self, cells: Floats) -> Floats:
        count = len(self.used)
        return np.asarray(
            np.bincount(self.corner, cells[self.cell], count) / np.bincount(self.corner, minlength=count)
        )


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
    return Drawing(
        mesh,
        data,
        used,
        corner,
        cell,
        *_faces_at(mesh, mesh.points[used, :2]),
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
    total = other.sum(axis=1, keepdims=True)  # 0 between faces of no length, which unions of parts can leave
    return near, np.divide(other, total, out=np.full_like(other, 0.5), where=total > 0)


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
