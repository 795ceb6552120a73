"""An answer as named arrays, for files and for frames between processes, and back."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import numpy as np

from mop_lantern.grid import Mesh
from mop_lantern.judge.field_result import FieldResult, Scalar
from mop_lantern.units import DIMENSIONS

FIELDS = ("velocity", "pressure", "flux", "wall_velocity", "wall_pressure", "shear")
_PARTS = ("cells", "boundary", "leaving")


def pack(answer: FieldResult) -> dict[str, Any]:
    """Give all fields of an answer by name; what is said about them is the text ``about``."""
    named: dict[str, Any] = {name: getattr(answer, name) for name in FIELDS}
    about: dict[str, Any] = {
        "density": answer.density,
        "time": answer.time,
        "since": answer.since,
        "swells": answer.swells,
        "scalars": [],
        "walls": list(answer.walls),
    }
    named |= {f"wall{number}": values for number, values in enumerate(answer.walls.values())}
    for number, (name, scalar) in enumerate(answer.scalars.items()):
        about["scalars"].append([name, scalar.label, scalar.dimension, scalar.spreading])
        named |= {f"scalar{number}_{part}": getattr(scalar, part) for part in _PARTS}
    return named | {"about": np.array(json.dumps(about))}


def fitting(answer: FieldResult) -> FieldResult:
    """Give the answer if all its arrays fit its mesh.

    Raises
    ------
    ValueError : one does not.
    """
    cells = answer.mesh.n_cells
    outside = answer.mesh.n_boundary
    faces = len(answer.mesh.owner)
    wanted = {
        "velocity": (cells, 3),
        "pressure": (cells,),
        "flux": (faces,),
        "wall_velocity": (outside, 3),
        "wall_pressure": (outside,),
        "shear": (outside, 3),
    }
    for name, shape in wanted.items():
        if np.shape(getattr(answer, name)) != shape:
            raise ValueError(f"{name} does not fit the mesh")
    for name, scalar in answer.scalars.items():
        if [np.shape(getattr(scalar, part)) for part in _PARTS] != [
            (cells,),
            (outside,),
            (outside,),
        ] or scalar.dimension not in DIMENSIONS:
            raise ValueError(f"{name} does not fit the mesh")
    for name, values in answer.walls.items():
        if np.ndim(values) != 2 or len(values) != outside:
            raise ValueError(f"the wall {name} does not fit the mesh")
    return answer


def unpack(mesh: Mesh, named: Mapping[str, Any]) -> FieldResult:
    """Make the answer again.

    Raises
    ------
    KeyError, ValueError : something is missing or malformed.
    """
    about = json.loads(str(named["about"]))
    scalars = {}
    for number, (name, label, dimension, spreading) in enumerate(about["scalars"]):
        cells, boundary, leaving = (np.asarray(named[f"scalar{number}_{part}"]) for part in _PARTS)
        scalars[name] = Scalar(
            cells,
            boundary,
            leaving,
            label,
            dimension,
            float(spreading),
        )
    fields: dict[str, Any] = {name: np.asarray(named[name]) for name in FIELDS}
    since = about.get("since")
    return FieldResult(
        mesh,
        **fields,
        density=float(about["density"]),
        scalars=scalars,
        time=float(about["time"]),
        since=None if since is None else float(since),
        swells=float(about.get("swells", 0.0)) if "T" in scalars else 0.0,
        walls={
            name: np.asarray(named[f"wall{number}"]) for number, name in enumerate(about.get("walls", []))
        },
    )
