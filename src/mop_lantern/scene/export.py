"""Export of stored runs to general file formats."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.errors import FileError
from mop_lantern.judge import FieldResult
from mop_lantern.scene.datasets import drawing
from mop_lantern.scene.picture import Picture

FORMATS = ("csv", "gif", "mp4", "png", "vtkhdf", "vtu")


def export_png(path: Path, picture: Picture) -> None:
    """Write a picture, 1280 x 800.

    Raises
    ------
    FileError : it cannot be written.
    """
    from vtkmodules.util.numpy_support import numpy_to_vtk
    from vtkmodules.vtkCommonDataModel import vtkImageData
    from vtkmodules.vtkIOImage import vtkPNGWriter

    pixels = picture.image((1280, 800))
    image = vtkImageData()
    image.SetDimensions(1280, 800, 1)
    image.GetPointData().SetScalars(
        numpy_to_vtk(np.ascontiguousarray(pixels[::-1]).reshape(-1, 3), deep=True)
    )
    writer = vtkPNGWriter()
    writer.SetFileName(str(path))
    writer.SetInputData(image)
    writer.Write()
    if not path.exists():
        raise FileError(f"{path}: the picture cannot be written. Choose another folder.")


def export_vtu(path: Path, answer: FieldResult) -> None:
    """Write a field as an XML unstructured grid, cell data only: polygons of a plane, in space the middles of
    the cells.

    Raises
    ------
    FileError : it cannot be written.
    """
    from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
    from vtkmodules.vtkCommonCore import vtkPoints
    from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkUnstructuredGrid
    from vtkmodules.vtkIOXML import vtkXMLUnstructuredGridWriter

    mesh = answer.mesh
    grid = vtkUnstructuredGrid()
    if len(mesh.ways) == 3:
        pieces: Any = np.arange(mesh.n_cells)
        points = vtkPoints()
        cells = vtkCellArray()
        points.SetData(numpy_to_vtk(mesh.centre, deep=True))
        cells.SetData(
            numpy_to_vtkIdTypeArray(np.arange(mesh.n_cells + 1, dtype=np.int64), deep=True),
            numpy_to_vtkIdTypeArray(pieces.astype(np.int64), deep=True),
        )
        grid.SetPoints(points)
        grid.SetCells(1, cells)
    else:
        pieces = mesh.piece_cell
        drawn = drawing(mesh)
        grid.SetPoints(drawn.data.GetPoints())
        grid.SetCells(7, drawn.data.GetPolys())
    carried = [(name.replace(".", "_"), scalar.cells) for name, scalar in answer.scalars.items()]
    for name, values in (("velocity", answer.velocity), ("pressure", answer.pressure), *carried):
        array = numpy_to_vtk(np.ascontiguousarray(values[pieces]), deep=True)
        array.SetName(name)
        grid.GetCellData().AddArray(array)
    writer = vtkXMLUnstructuredGridWriter()
    writer.SetFileName(str(path))
    writer.SetInputData(grid)
    if not writer.Write():
        raise FileError(f"{path}: the field cannot be written. Choose another folder.")


def export_vtkhdf(path: Path, run: Path) -> None:
    """Copy the stored field.

    Raises
    ------
    FileError : it cannot be written.
    """
    try:
        shutil.copyfile(run / "field.vtkhdf", path)
    except OSError as problem:
        raise FileError(f"{path}: cannot be written ({problem.strerror}).") from None
