"""Field files in the open VTKHDF format, with the solver's own arrays beside it in the same file.

Source: VTK file formats documentation, "VTKHDF UnstructuredGrid", version 2.0.
"""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.errors import FileError, because
from mop_lantern.grid import Mesh
from mop_lantern.grid.soundness import sound
from mop_lantern.judge import FieldResult
from mop_lantern.judge.packing import fitting, pack, unpack
from mop_lantern.results.whole import check_sum, write_whole

_POLYGON, _VERTEX = 7, 1
_OWN = "Lantern"


def _drawn(mesh: Mesh) -> tuple[Any, Any, Any, Any, int]:
    """Give points, connectivity, offsets, cell of each piece and VTK's form: polygons of a plane, in space
    the middles of the cells.
    """
    if len(mesh.ways) == 3:
        count = np.arange(mesh.n_cells)
        return mesh.centre, count, np.arange(mesh.n_cells + 1), count, _VERTEX
    used, inverse = np.unique(mesh.piece_points, return_inverse=True)
    return mesh.points[used], inverse, mesh.piece_offsets, mesh.piece_cell, _POLYGON


def write_field(path: Path, answer: FieldResult) -> None:
    """Write a solved field; general VTK tools read it as an unstructured grid of polygons.

    Raises
    ------
    FileError : it cannot be written.
    """
    import h5py

    # a library that meets a full disk may take the process with it: the file is made in memory first
    made = io.BytesIO()
    with h5py.File(made, "w") as file:
        _fill(file, answer)
    write_whole(path, made.getvalue(), "the field", summed=True)


def _fill(file: Any, answer: FieldResult) -> None:
    import h5py

    mesh = answer.mesh
    points, connectivity, offsets, pieces, form = _drawn(mesh)
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
    data["wall_shear"] = answer.cells("shear")[pieces]
    data["cell"] = pieces.astype(np.int64)
    if len(mesh.region):
        data["region"] = mesh.region[pieces]
    own = file.create_group(_OWN)
    for name, scalar in answer.scalars.items():
        data[name.replace(".", "_")] = scalar.cells[pieces]
    for name, value in pack(answer).items():
        if name == "about":
            own.attrs[name] = str(value)
        else:
            own.create_dataset(f"field/{name}", data=value)
    for name, value in mesh.arrays().items():
        if name in ("patch_names", "region_names"):
            own.attrs[name] = list(value)
        elif np.ndim(value) == 0:
            own.attrs[name] = value
        else:
            own.create_dataset(f"mesh/{name}", data=value)


def read_field(path: Path) -> FieldResult:
    """Read a field written by `write_field`.

    Raises
    ------
    FileError : it cannot be read or is no such file.
    """
    import h5py

    try:
        check_sum(path)
        size = path.stat().st_size
        with h5py.File(path, "r") as file:
            own = file[_OWN]
            arrays: dict[str, Any] = {name: _read(own["mesh"][name], size) for name in own["mesh"]}
            arrays["patch_names"] = tuple(str(name) for name in own.attrs["patch_names"])
            arrays["region_names"] = tuple(str(name) for name in own.attrs.get("region_names", ("",)))
            arrays["turn"] = float(own.attrs["turn"])
            fields = {name: _read(own["field"][name], size) for name in own["field"]}
            answer = unpack(sound(Mesh.of(arrays)), fields | {"about": own.attrs["about"]})
            return fitting(answer)
    except FileError:
        raise
    except Exception as problem:  # a damaged file makes the library fail in any way it likes
        raise FileError(
            f"{path}: no field can be read from this file{because(problem)}. Solve again."
        ) from None


def _read(dataset: Any, size: int) -> Any:
    """Read an array that cannot be larger than its file: sizes in a damaged file may be any number."""
    if dataset.nbytes > size:
        raise ValueError("an array says it is larger than the file")
    return dataset[()]
