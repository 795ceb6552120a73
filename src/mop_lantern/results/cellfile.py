"""Field files in the open VTKHDF format, with the solver's own arrays beside it in the same file.

Source: VTK file formats documentation, "VTKHDF UnstructuredGrid", version 2.0.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.errors import FileError
from mop_lantern.grid import Mesh
from mop_lantern.judge import Answer
from mop_lantern.judge.packing import pack, unpack

_POLYGON, _VERTEX = 7, 1
_OWN = "Lantern"


def _drawn(mesh: Mesh) -> tuple[Any, Any, Any, Any, int]:
    """Give points, connectivity, offsets, cell of each piece and VTK's form: polygons of a plane, in space the middles of the cells."""
    if len(mesh.ways) == 3:
        count = np.arange(mesh.n_cells)
        return mesh.centre, count, np.arange(mesh.n_cells + 1), count, _VERTEX
    used, inverse = np.unique(mesh.piece_points, return_inverse=True)
    return mesh.points[used], inverse, mesh.piece_offsets, mesh.piece_cell, _POLYGON


def write_field(path: Path, answer: Answer) -> None:
    """Write a solved field; general VTK tools read it as an unstructured grid of polygons.

    Raises
    ------
    FileError : it cannot be written.
    """
    import h5py

    mesh = answer.mesh
    points, connectivity, offsets, pieces, form = _drawn(mesh)
    try:
        with h5py.File(path, "w") as file:
            root = file.create_group("VTKHDF", track_order=True)
            root.attrs["Version"] = (2, 0)
            root.attrs.create("Type", b"UnstructuredGrid", dtype=h5py.string_dtype("ascii", 16))
            root["NumberOfPoints"] = np.array([len(points)], np.int64)
            root["NumberOfCells"] = np.array([len(pieces)], np.int64)
            root["NumberOfConnectivityIds"] = np.array([len(connectivity)], np.int64)
            root["Points"] = points
            root["Connectivity"] = connectivity.astype(np.int64)
            root["Offsets"] = offsets.astype(np.int64)
            root["Types"] = np.full(len(pieces), form, np.uint8)
            data = root.create_group("CellData")
            data["velocity"] = answer.velocity[pieces]
            data["pressure"] = answer.pressure[pieces]
            data["cell"] = pieces.astype(np.int64)
            own = file.create_group(_OWN)
            for name, scalar in answer.scalars.items():
                data[name.replace(".", "_")] = scalar.cells[pieces]
            for name, value in pack(answer).items():
                if name == "about":
                    own.attrs[name] = str(value)
                else:
                    own.create_dataset(f"field/{name}", data=value)
            for name, value in mesh.arrays().items():
                if name == "patch_names":
                    own.attrs[name] = list(value)
                elif np.ndim(value) == 0:
                    own.attrs[name] = value
                else:
                    own.create_dataset(f"mesh/{name}", data=value)
    except OSError as problem:
        raise FileError(f"{path}: the field cannot be written ({problem}).") from None


def read_field(path: Path) -> Answer:
    """Read a field written by `write_field`.

    Raises
    ------
    FileError : it cannot be read or is no such file.
    """
    import h5py

    try:
        with h5py.File(path, "r") as file:
            own = file[_OWN]
            arrays: dict[str, Any] = {name: own["mesh"][name][()] for name in own["mesh"]}
            arrays["patch_names"] = tuple(own.attrs["patch_names"])
            arrays["turn"] = own.attrs["turn"]
            fields = {name: own["field"][name][()] for name in own["field"]}
            return unpack(Mesh.of(arrays), fields | {"about": own.attrs["about"]})
    except (OSError, KeyError, ValueError) as problem:
        raise FileError(f"{path}: no field can be read from this file ({problem}).") from None
