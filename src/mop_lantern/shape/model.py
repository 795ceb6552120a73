"""Models of triangles: their faces found again after a change, packed into cases."""

from __future__ import annotations

import base64
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.surface import Surface
from mop_lantern.shape.topology import rims_of

Floats = NDArray[np.float64]
Ints = NDArray[Any]
ENDINGS = (".stl", ".obj", ".ply", ".glb", ".step", ".stp")
UNPACKED = 400_000_000  # bytes of a stored model
UNITS = {
    "mm": 1e-3,
    "cm": 1e-2,
    "m": 1.0,
    "in": 0.0254,
    "ft": 0.3048,
}


@dataclass(frozen=True)
class Model:
    """Triangles of a file, in metres.

    Attributes
    ----------
    points : (n, 3). triangles : (m, 3). face : (m,) index into ``names``. report : what was found and mended,
    in words.
    rims : corners of every open rim, in order. group : (m,) index into ``groups``, the parts (of STEP files:
    the faces)
    of the file a triangle belongs to. split : whether sharp edges divide them further. layers, colours : by
    face, the part of the file it belongs to and its colour there ("#rrggbb"), "" for none. named : the groups
    are faces that
    bear their names. marked : the triangles (k, 3, 3) m that faced the wrong way or were excluded.
    """

    points: Floats
    triangles: Ints
    face: Ints
    names: tuple[str, ...]
    report: tuple[str, ...]
    rims: tuple[Ints, ...]
    group: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    groups: tuple[str, ...] = ()
    split: bool = True
    layers: tuple[str, ...] = ()
    colours: tuple[str, ...] = ()
    named: bool = False
    marked: Floats = field(default_factory=lambda: np.zeros((0, 3, 3)))

    @property
    def vectors(self) -> Floats:
        """Area vectors, (m, 3) m2."""
        a, b, c = (self.points[self.triangles[:, k]] for k in range(3))
        return np.asarray(0.5 * np.cross(b - a, c - a))

    @property
    def surface(self) -> Surface:
        """The triangles as a surface."""
        looks = {
            name: (layer, colour)
            for name, layer, colour in zip(self.names, self.layers, self.colours, strict=False)
        }
        return Surface(self.points, self.triangles, self.face, self.names, looks)

    @property
    def volume(self) -> float:
        """Volume enclosed, m3."""
        return float((self.points[self.triangles].mean(axis=1) * self.vectors).sum() / 3)


def spot(places: Floats) -> str:
    """Say where the middle of places (k, 3) m is."""
    x, y, z = (np.round(1e3 * places.mean(axis=0), 6) + 0.0).tolist()  # no -0, no dust
    return f"({x:.4g}, {y:.4g}, {z:.4g}) mm"


def length(metres: float) -> str:
    """Say a length in the unit that suits it."""
    for unit, size in (("m", 1.0), ("mm", 1e-3), ("µm", 1e-6)):
        if metres >= 0.5 * size:
            return f"{metres / size:.3g} {unit}"
    return f"{metres / 1e-9:.3g} nm"


def packed(model: Model) -> str:
    """Give points, triangles and faces as text, for a case file."""
    head = np.array([len(model.points), len(model.triangles)], "<i4").tobytes()
    body = (
        model.points.astype("<f8").tobytes()
        + model.triangles.astype("<i4").tobytes()
        + model.face.astype("<i4").tobytes()
    )
    return base64.b64encode(zlib.compress(head + body, 6)).decode()


def unpacked(text: str, names: Sequence[str]) -> Model:
    """Read what `packed` wrote.

    Raises
    ------
    ValueError : the text is damaged, or faces lack names.
    """
    try:
        reader = zlib.decompressobj()
        data = reader.decompress(base64.b64decode(text, validate=True), UNPACKED)
        if reader.unconsumed_tail:
            raise ValueError(f"it is larger than {UNPACKED / 1e6:.0f} MB")
        n, m = np.frombuffer(data[:8], "<i4").tolist()
        points = np.frombuffer(data, "<f8", 3 * n, 8).reshape(-1, 3).astype(float)
        triangles = np.frombuffer(data, "<i4", 3 * m, 8 + 24 * n).reshape(-1, 3).astype(np.int64)
        face = np.frombuffer(data, "<i4", m, 8 + 24 * n + 12 * m).astype(np.int64)
    except (ValueError, zlib.error) as problem:
        raise ValueError("the stored model is damaged") from problem
    if (
        m < 1
        or n < 1
        or triangles.min() < 0
        or triangles.max() >= n
        or face.min() < 0
        or not np.isfinite(points).all()
    ):
        raise ValueError("the stored model is damaged")
    if face.max() >= len(names) or len(set(names)) < len(names):
        raise ValueError(f"the model has {face.max() + 1} faces; each needs its own name")
    return Model(
        points,
        triangles,
        face,
        tuple(names),
        (),
        rims_of(triangles),
    )
