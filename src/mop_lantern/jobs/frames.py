"""Reading the frames a worker leaves in shared memory."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.judge.packing import unpack


def read_mesh(path: Path) -> Mesh:
    """Read the mesh a worker has written."""
    with np.load(path) as stored:
        return Mesh.of({name: stored[name] for name in stored.files})


def read_frame(path: Path, mesh: Mesh) -> FieldResult | None:
    """Read a snapshot, or None when it no longer fits the mesh."""
    try:
        with np.load(path) as stored:
            answer = unpack(mesh, {name: stored[name] for name in stored.files})
    except (OSError, ValueError, KeyError):
        return None
    return answer if len(answer.pressure) == mesh.n_cells else None
