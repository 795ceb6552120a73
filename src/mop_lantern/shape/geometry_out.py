"""Regions of a space written as files for others: STEP, STL, OBJ, PLY and GLB."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.errors import FileError, because
from mop_lantern.shape.surface import Surface

ENDINGS = (".step", ".stp", ".stl", ".obj", ".ply", ".glb")
ALONE = (".stl", ".ply")  # these hold one body without parts
FLUID = "fluid"
MOST = 30_000  # triangles in a STEP file: more take minutes, and hundreds of megabytes
LONGEST = 600  # s


def regions_of(surface: Surface) -> dict[str, Surface]:
    """Give the regions of a space by name: the fluid first, then what every solid part takes up."""
    fluid = {} if surface.dry else {FLUID: surface}
    return fluid | surface.solids


def write_geometry(regions: Mapping[str, Surface], path: Path) -> dict[str, Any]:
    """Write regions, in mm (STEP, STL, PLY) or m (GLB, OBJ); give the unit, triangles, and faces by region.

    Raises
    ------
    FileError : the ending is not known; the format holds one region only; too many triangles; it cannot be
    written.
    """
    ending = path.suffix.lower()
    if ending not in ENDINGS:
        raise FileError(f"{path}: geometry is written as {', '.join(ENDINGS)}. Choose one of these endings.")
    if ending in ALONE and len(regions) != 1:
        names = ", ".join(regions)
        raise FileError(f"{path}: {ending} holds one region. Say which: {names}. Or write STEP, OBJ or GLB.")
    count = sum(len(region.triangles) for region in regions.values())
    unit = "mm" if ending in (".step", ".stp", ".stl", ".ply") else "m"
    try:
        if ending in (".step", ".stp"):
            if count > MOST:
                raise FileError(
                    f"{path}: {count:,} triangles are too many for STEP, which would take minutes; at most "
                    f"{MOST:,}. Write STL or GLB, or one region only."
                )
            _write_step(regions, path)
        else:
            _scene(regions, 1e3 if unit == "mm" else 1.0, ending).export(path)
    except OSError as problem:
        raise FileError(f"{path}: it cannot be written{because(problem)}. Choose another place.") from None
    faces = {name: list(region.edge_lengths) for name, region in regions.items()}
    return {"unit": unit, "triangles": count, "regions": faces}


def _scene(regions: Mapping[str, Surface], scale: float, ending: str) -> Any:
    """Give regions as a scene whose nodes are their faces, or as one mesh."""
    import trimesh

    if ending in ALONE:
        [region] = regions.values()
        return trimesh.Trimesh(scale * region.points, region.triangles, process=False)
    scene = trimesh.Scene()
    for name, region in regions.items():
        for number in np.unique(region.labels):
            own = region.names[number]
            part = trimesh.Trimesh(
                scale * region.points, region.triangles[region.labels == number], process=False
            )
            part.remove_unreferenced_vertices()
            named = f"{name}/{own}"
            scene.add_geometry(part, node_name=named, geom_name=named)
    return scene


def _write_step(regions: Mapping[str, Surface], path: Path) -> None:
    points: list[Any] = []
    triangles, labels, parts = [], [], []
    names: list[str] = []
    first = 0
    for number, region in enumerate(regions.values()):
        triangles.append(region.triangles + first)
        points.append(region.points)
        first += len(region.points)
        labels.append(region.labels + len(names))
        names += region.names
        parts.append(np.full(len(region.triangles), number))
    with tempfile.TemporaryDirectory() as folder:
        given = Path(folder) / "in.npz"
        np.savez(
            given,
            points=np.vstack(points),
            triangles=np.vstack(triangles),
            labels=np.concatenate(labels),
            part=np.concatenate(parts),
            names=np.array(names),
            parts=np.array(list(regions)),
        )
        made = Path(folder) / "out.step"
        command = [sys.executable, "-m", "mop_lantern.shape.step_out_child", str(given), str(made)]
        try:
            done = subprocess.run(command, capture_output=True, text=True, timeout=LONGEST, check=False)
        except subprocess.TimeoutExpired:
            raise FileError(f"{path}: writing took more than {LONGEST} s. Write STL or GLB.") from None
        if done.returncode or not made.exists():
            raise FileError(f"{path}: the writer of STEP files ended without a result. Write STL or GLB.")
        path.write_bytes(made.read_bytes())
