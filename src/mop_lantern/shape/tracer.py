"""Rays against triangles, by a library that counts in single precision."""

from __future__ import annotations

from typing import Any

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class Tracer:
    """Triangles (k, 3, 3) m that rays can meet, from either side.

    They are told to the library about their ``middle``, m, in parts of their ``size``, m: single precision
    then tells places to a ten-millionth of it.
    """

    def __init__(self, corners: Floats, middle: Floats, size: float) -> None:
        self.middle = middle
        self.size = size
        self._scene: Any = rtcore_scene.EmbreeScene()
        TriangleMesh(self._scene, ((corners - middle) / size).astype(np.float32))

    def first(self, start: Floats, way: Floats) -> tuple[Ints, Floats]:
        """Give the first triangle that each ray from ``start`` (n, 3) m along the unit vectors ``way`` (n, 3)
        meets, (n,), -1 for none, and how far off, (n,) m, endless for none.
        """
        place = ((start - self.middle) / self.size).astype(np.float32)
        told = self._scene.run(place, way.astype(np.float32), output=1)
        hit = told["primID"].astype(np.int64)
        return hit, np.where(hit >= 0, told["tfar"].astype(float) * self.size, np.inf)
