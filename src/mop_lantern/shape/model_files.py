"""Triangles of model files (STL, OBJ, PLY, GLB, STEP), as they stand in the file."""

from __future__ import annotations

import signal
import subprocess
import sys
import tempfile
import threading
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import FileError, because
from mop_lantern.numerics.doors import plain_file

Floats = NDArray[np.float64]
Ints = NDArray[Any]
EXACT = (".step", ".stp")  # these say their unit and their faces
SAID = {".glb": "m"}  # Khronos Group, glTF 2.0 specification, section 3.2: all linear distances are in metres
LONGEST = 600  # s of the processor a STEP file may take
LARGEST = 300_000_000  # bytes of a file


@dataclass(frozen=True)
class Soup:
    """Triangles (m, 3, 3) of one part of a file (of STEP files: of one face), with its name, layer and
    colour.
    """

    name: str
    corners: Floats
    layer: str = ""
    colour: str = ""


def read_triangles(path: Path) -> list[Soup]:
    import trimesh

    plain_file(path, LARGEST)
    if path.suffix.lower() == ".stl":
        _check_stl(path)
    try:
        options: dict[str, Any] = (
            {"split_objects": True, "split_groups": True} if path.suffix.lower() == ".obj" else {}
        )
        scene = trimesh.load_scene(path, process=False, **options)
        parts = [
            Soup(
                name := str(part.metadata.get("name", "")),
                np.asarray(part.triangles, float),
                name,
                _colour(part),
            )
            for part in scene.dump()
            if hasattr(part, "triangles")
        ]
    except Exception as problem:  # the library raises whatever its readers raise
        raise FileError(
            f"{path}: the model cannot be read{because(problem)}. Export it again as STL, OBJ, PLY or GLB."
        ) from None
    parts = [
        part
        for part in parts
        if part.corners.ndim == 3 and part.corners.shape[1:] == (3, 3) and len(part.corners)
    ]
    if not parts:
        raise FileError(f"{path}: the file has no triangles. Export it again.")
    return parts if len(parts) > 1 else [replace(parts[0], layer="")]


def _check_stl(path: Path) -> None:
    """Refuse a binary file whose count of triangles is not that of its bytes; text begins with "solid" and
    holds "facet".
    """
    size = path.stat().st_size
    with path.open("rb") as file:
        head = file.read(1024)
    count = int.from_bytes(head[80:84], "little") if len(head) >= 84 else -1
    text = head.lstrip()[:5].lower() == b"solid" and (b"facet" in head.lower() or size < 200)
    if not text and size != 84 + 50 * count:
        fits = max(0, (size - 84) // 50)
        raise FileError(
            f"{path}: it says it has {max(count, 0)} triangles and has room for {fits}: the file is "
            "cut off or no STL. Export it again."
        )


def _colour(part: Any) -> str:
    """Give the one colour a part has in its file, if any: its material's, or that of all its faces."""
    visual = part.visual
    if visual.kind == "texture":
        colour = getattr(visual.material, "main_color", None)
    elif visual.kind is None or not visual.defined:
        return ""
    else:
        colour = visual.face_colors[0] if (visual.face_colors == visual.face_colors[0]).all() else None
    return "" if colour is None else "#{:02x}{:02x}{:02x}".format(*(int(c) for c in colour[:3]))


def seconds_for(size: int) -> int:
    """Give the time of the processor, s, a STEP file of so many bytes may take: many times what sound ones
    need, as damaged ones may never end.
    """
    return int(min(20 + 30e-6 * size, LONGEST))


def memory_for(size: int) -> int:
    """Give the memory, bytes, a STEP file of so many bytes may take, with the library that reads it."""
    return int(2e9 + 400 * size)


def read_exact(path: Path, stop: threading.Event | None) -> list[Soup]:
    """Read a STEP file in a process of its own, which may crash without harm; one group a face, lengths in
    metres.
    """
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / "model.npz"
        plain_file(path, LARGEST)
        size = path.stat().st_size
        limits = [str(seconds_for(size)), str(memory_for(size))]
        code, words = _child(
            [sys.executable, "-m", "mop_lantern.shape.step_child", str(path), str(out), *limits], path, stop
        )
        if code == 2:
            raise FileError(f"{path}: the model cannot be read ({words.strip()[-200:]}). Export it again.")
        if code or not out.exists():
            raise FileError(
                f"{path}: the reader of STEP files ended without a result. Export it again, or as STL."
            )
        with np.load(out) as data:
            corners = data["corners"]
            owner = data["owner"]
            names = [str(name) for name in data["names"]]
            colours = data["colours"]
    layers = [name.partition(".")[0] for name in names]
    one = len(set(layers)) == 1
    short = [name.partition(".")[2] if one else name for name in names]
    return [
        Soup(short[k], corners[owner == k], "" if one else layers[k], str(colours[k]))
        for k in range(len(names))
        if (owner == k).any()
    ]


def _child(command: list[str], path: Path, stop: threading.Event | None) -> tuple[int, str]:
    """Run the reader of STEP files to its end, or end it; give its exit code and what it says."""
    reader = subprocess.Popen(
        command,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.PIPE,
        text=True,
    )
    try:
        while True:
            try:
                words = reader.communicate(timeout=0.2)[1]
                break
            except subprocess.TimeoutExpired:
                if stop is not None and stop.is_set():
                    raise FileError(f"{path}: reading was stopped.") from None
    finally:
        if reader.poll() is None:
            reader.kill()
            reader.communicate()
    if reader.returncode == -signal.SIGXCPU:
        longest = seconds_for(path.stat().st_size)
        raise FileError(
            f"{path}: reading took more than {longest} s; the file is damaged, or has too many parts. "
            "Export it again, with fewer parts."
        )
    return reader.returncode, words
