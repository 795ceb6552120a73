"""Bodies handed to the library that joins them, and read back with the names of their triangles."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape.solid import HAIR, Body
from mop_lantern.shape.surface import Surface

# m: parts that are butted together share their corners to the bit, so that no wall is left between them
SNAP = 2.0**-24
Owners = dict[int, tuple[str, Body]]  # whose triangles are whose


def handed(key: str, body: Body, owners: Owners) -> Any:
    """Hand a body to the library that joins, and note whose it is."""
    import manifold3d

    number = manifold3d.Manifold.reserve_ids(1)
    owners[number] = key, body
    points = np.round(body.points / SNAP) * SNAP
    given = manifold3d.Mesh64(
        np.ascontiguousarray(points),
        np.ascontiguousarray(body.triangles, np.uint64),
        run_index=np.array([0, 3 * len(body.triangles)], np.uint64),
        run_original_id=np.array([number], np.uint32),
        face_id=np.ascontiguousarray(body.side, np.uint64),
    )
    made = manifold3d.Manifold(given)
    if made.status() != manifold3d.Error.NoError:
        raise CaseError(
            [
                Fault(
                    f"shape.solids.{key}",
                    f"the part is not a closed surface ({made.status().name}).",
                    "Change its sizes.",
                )
            ]
        )
    return made


def united(bodies: list[Any]) -> Any:
    import manifold3d

    if len(bodies) == 1:
        return bodies[0]
    return manifold3d.Manifold.batch_boolean(bodies, manifold3d.OpType.Add)


def apart(one: Any, other: Any) -> bool:
    """Whether the boxes of two bodies do not meet, so that neither takes anything away from the other."""
    low, high = np.array(one.bounding_box()).reshape(2, 3)
    other_low, other_high = np.array(other.bounding_box()).reshape(2, 3)
    return bool((low > other_high).any() or (high < other_low).any())


def has_body(solid: Any) -> bool:
    """Whether a solid is more than a hair: caps and plates without thickness part the fluid, but hold
    nothing.
    """
    low, high = np.array(solid.bounding_box()).reshape(2, 3)
    size = float(np.linalg.norm(high - low))
    return bool(np.isfinite(size) and solid.volume() > 2 * HAIR * solid.surface_area() * size)


def surface_of(whole: Any, owners: Mapping[int, tuple[str, Body]]) -> Surface:
    """Read points, triangles and names of what was joined."""
    mesh = whole.to_mesh64()
    triangles = np.asarray(mesh.tri_verts).astype(np.int64)
    names: dict[str, int] = {}
    labels = np.zeros(len(triangles), np.int64)
    index = np.asarray(mesh.run_index).astype(int) // 3
    face = np.asarray(mesh.face_id).astype(int)
    for run, number in enumerate(np.asarray(mesh.run_original_id).tolist()):
        key, body = owners[int(number)]
        mine = face[index[run] : index[run + 1]]
        given = np.zeros(len(body.sides), np.int64)
        for side in np.unique(mine):
            given[side] = names.setdefault(f"{key}.{body.sides[side]}", len(names))
        labels[index[run] : index[run + 1]] = given[mine]
    points = np.asarray(mesh.vert_properties)[:, :3].astype(float)
    points, back = np.unique(points, axis=0, return_inverse=True)
    triangles = back.reshape(-1)[triangles]
    whole_ones = (
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
    )
    looks = {f"{key}.{side}": look for key, body in owners.values() for side, look in body.looks.items()}
    return Surface(
        points,
        triangles[whole_ones],
        labels[whole_ones],
        tuple(names),
        looks,
    )


def united_surface(bodies: list[Body]) -> Surface:
    """Give the surface of several bodies as one.

    Raises
    ------
    CaseError : one is not closed.
    """
    owners: Owners = {}
    return surface_of(united([handed("", body, owners) for body in bodies]), owners)
