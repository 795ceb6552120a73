"""Wraps triangles in a process of its own, so that it can be stopped and its memory goes back.

Called as ``python -m mop_lantern.shape.wrap_child IN.npz OUT.npz``: reads corners, group, feature and within
(empty for a wrap from outside); says on standard output what it does, line by line; ends with 2 and words on
standard error where there is no wrap, the gaps in OUT.npz where it leaks.
"""

from __future__ import annotations

import sys
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.wrap import Leaks, wrapped
from mop_lantern.shape.wrapping import LEAKS


def contour(field: NDArray[np.float32], level: float) -> tuple[Any, Any]:
    """Give the surface on which a field on a lattice has a value: points in steps, triangles."""
    from vtkmodules.util.numpy_support import numpy_to_vtk, vtk_to_numpy
    from vtkmodules.vtkCommonDataModel import vtkImageData
    from vtkmodules.vtkFiltersCore import vtkFlyingEdges3D

    lattice = vtkImageData()
    lattice.SetDimensions(*field.shape)
    lattice.GetPointData().SetScalars(numpy_to_vtk(field.ravel(order="F"), deep=False))
    edges = vtkFlyingEdges3D()
    edges.SetInputData(lattice)
    edges.SetValue(0, level)
    edges.ComputeNormalsOff()
    edges.ComputeScalarsOff()
    edges.Update()
    made = edges.GetOutput()
    if not made.GetNumberOfPolys():
        return np.zeros((0, 3)), np.zeros((0, 3), np.int64)
    points = vtk_to_numpy(made.GetPoints().GetData()).astype(float)
    triangles = vtk_to_numpy(made.GetPolys().GetConnectivityArray()).reshape(-1, 3)
    return points, triangles.astype(np.int64)


def _say(words: str) -> None:
    print(words, flush=True)


def run() -> int:
    """Wrap what the file named first holds into the one named second."""
    with np.load(sys.argv[1]) as data:
        corners, group, within = data["corners"], data["group"], data["within"]
        feature = float(data["feature"])
    try:
        made = wrapped(corners, group, feature, contour, within if len(within) else None, _say)
    except Leaks as leaks:
        np.savez(sys.argv[2], places=leaks.places, closes=leaks.closes)
        return LEAKS
    except (ValueError, MemoryError) as problem:
        print(str(problem) or "it needs more memory than there is", file=sys.stderr)
        return 2
    np.savez(
        sys.argv[2],
        points=made.points,
        triangles=made.triangles,
        of=made.of,
        bridged=made.bridged,
        volume=made.volume,
    )
    return 0


if __name__ == "__main__":
    raise SystemExit(run())
