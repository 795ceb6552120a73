"""Faces, bodies and rims in numbers: where they are, how large, which way they face, what form they have."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.model import Model, length
from mop_lantern.shape.surface import Surface
from mop_lantern.shape.topology import shells_of
from mop_lantern.shape.wet import spaces_of

Floats = NDArray[np.float64]
CLOSED = 0.1  # of its area: a face whose triangles sum up to less closes round something
FLAT = 1e-4  # of its area: what a flat face may lack when its triangles are summed up
ROUND = 0.02  # of its radius: how far corners of a cylinder may lie off it, as flat triangles do
SQUARE = 1e-3  # of a direction: how far normals of a cylinder may lean along its axis


@dataclass(frozen=True)
class FaceTold:
    """One face.

    Attributes
    ----------
    name : its id. area : m2. middle : (3,) m. direction : (3,), its mean way out of the fluid or body, 0
    where it closes round it. form : "plane", "cylinder" or "other". across : of a cylinder, its diameter, m,
    or 0. layer, colour : of its file.
    """

    name: str
    area: float
    middle: Floats
    direction: Floats
    form: str
    across: float
    layer: str = ""
    colour: str = ""

    @property
    def words(self) -> str:
        """Say its form."""
        return f"cylinder of {length(self.across)}" if self.form == "cylinder" else self.form

    def as_dict(self) -> dict[str, Any]:
        """Give it as plain data, SI."""
        return {
            "name": self.name,
            "area": self.area,
            "middle": self.middle.tolist(),
            "direction": self.direction.tolist(),
            "form": self.words,
            "layer": self.layer,
            "colour": self.colour,
        }


def faces_told(surface: Surface) -> list[FaceTold]:
    """Describe every face of a surface, the largest first."""
    order = np.argsort(surface.labels, kind="stable")
    count = np.bincount(surface.labels, minlength=len(surface.names))
    told = []
    for name, mine in zip(surface.names, np.split(order, np.cumsum(count)[:-1]), strict=True):
        if len(mine):
            layer, colour = surface.looks.get(name, ("", ""))
            told.append(_told(name, surface.points[surface.triangles[mine]], layer, colour))
    return sorted(told, key=lambda face: -face.area)


def _told(name: str, corners: Floats, layer: str, colour: str) -> FaceTold:
    vectors = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    sizes = np.linalg.norm(vectors, axis=1)
    area = float(sizes.sum())
    middle = (corners.mean(axis=1) * sizes[:, None]).sum(axis=0) / (area or 1.0)
    total = vectors.sum(axis=0)
    share = float(np.linalg.norm(total)) / (area or 1.0)
    direction = total / (np.linalg.norm(total) or 1.0) if share > CLOSED else np.zeros(3)
    form, across = "other", 0.0
    if share > 1 - FLAT:
        form = "plane"
    elif diameter := _cylinder(corners, vectors, sizes):
        form, across = "cylinder", diameter
    return FaceTold(name, area, middle, direction, form, across, layer, colour)


def _cylinder(corners: Floats, vectors: Floats, sizes: Floats) -> float:
    """Give the diameter of the cylinder triangles lie on, m; 0 for none. Its axis is what no normal leans
    along, and the circle is fitted by least squares (Kåsa, IEEE Trans. Instrum. Meas. 25 (1976) 8-14).
    """
    used = sizes > 1e-9 * sizes.sum()
    normal = vectors[used] / sizes[used, None]
    weight = sizes[used] / sizes.sum()
    spread, axes = np.linalg.eigh((normal * weight[:, None]).T @ normal)
    if spread[0] > SQUARE**2 or spread[1] < 1e-6:
        return 0.0
    flat = corners.reshape(-1, 3) @ axes[:, 1:]
    middle = flat.mean(axis=0)
    flat = flat - middle
    made = np.column_stack([2 * flat, np.ones(len(flat))])
    found = np.linalg.lstsq(made, (flat**2).sum(axis=1), rcond=None)[0]
    radius = float(np.sqrt(max(found[2] + found[0] ** 2 + found[1] ** 2, 0.0)))
    off = np.abs(np.linalg.norm(flat - found[:2], axis=1) - radius)
    return 2 * radius if radius > 0 and off.max() < ROUND * radius else 0.0


def bodies_told(model: Model) -> list[dict[str, Any]]:
    """Describe the bodies of a model, the largest first: number, layer, middle, size (3,) m, volume m3 (0
    where they are open).
    """
    if not model.rims:
        parts = spaces_of(model.surface)
    else:
        count, shell = shells_of(model.triangles)
        whole = model.surface
        parts = [
            replace(whole, triangles=whole.triangles[shell == k], labels=whole.labels[shell == k])
            for k in range(count)
        ]
    told: list[dict[str, Any]] = []
    for part in parts:
        corners = part.points[part.triangles]
        low, high = corners.min(axis=(0, 1)), corners.max(axis=(0, 1))
        name = part.names[int(np.bincount(part.labels).argmax())]
        told.append(
            {
                "body": len(told) + 1,
                "layer": part.looks.get(name, ("", ""))[0],
                "middle": (0.5 * (low + high)).tolist(),
                "size": (high - low).tolist(),
                "volume": part.volume if not part.open_edges else 0.0,
            }
        )
    return told


def rims_told(model: Model) -> list[dict[str, Any]]:
    """Describe the open rims of a model: number, middle, size (3,) m, corners."""
    return [
        {
            "rim": number,
            "middle": model.points[rim].mean(axis=0).tolist(),
            "size": np.ptp(model.points[rim], axis=0).tolist(),
            "corners": len(rim),
        }
        for number, rim in enumerate(model.rims, 1)
    ]
