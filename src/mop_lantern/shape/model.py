"""Models from files (STL, OBJ, PLY, GLB, STEP): welded, turned the same way, rims found and sealed, faces
told apart and named.
"""

from __future__ import annotations

import base64
import signal
import subprocess
import sys
import tempfile
import threading
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.errors import FileError
from mop_lantern.numerics.doors import plain_file
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
Ints = NDArray[Any]
ENDINGS = (".stl", ".obj", ".ply", ".glb", ".step", ".stp")
EXACT = (".step", ".stp")  # these say their unit and their faces
WELD = 1e-6  # of the size: corners nearer than this are one
ANGLE = np.deg2rad(30)  # triangles that meet flatter belong to one face; common practice, no source
RIM = "*rim"  # begins the group of what closes a rim; no file can name a group so
LONGEST = 600  # s of the processor a STEP file may take
LARGEST = 300_000_000  # bytes of a file
UNPACKED = 400_000_000  # bytes of a stored model
NO_AREA = 1e-14  # of the square of the size: thinner triangles have no side to face
SPREAD = 40  # places of a body that tell whether it lies within another
SAME = 0.1  # of a face's size: how far it may move and keep its name
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
    bear their names. turned : the triangles (k, 3, 3) m that faced the wrong way.
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
    turned: Floats = field(default_factory=lambda: np.zeros((0, 3, 3)))

    @property
    def vectors(self) -> Floats:
        """Area vectors, (m, 3) m2."""
        a, b, c = (self.points[self.triangles[:, k]] for k in range(3))
        return np.asarray(0.5 * np.cross(b - a, c - a))


def read_model(path: Path, unit: str, stop: threading.Event | None = None) -> Model:
    """Read a file of triangles and make it whole as far as that is certain.

    Parameters
    ----------
    unit : the file's unit of length, one of `UNITS`. stop : set by another thread, reading a STEP file ends.

    Raises
    ------
    FileError : the file cannot be read, or has no triangles; the unit is not known; reading was stopped.
    """
    exact = path.suffix.lower() in EXACT
    if not exact and unit not in UNITS:
        raise FileError(
            f"{path}: the unit of a model is one of {', '.join(UNITS)}; the file does not say it. Give it."
        )
    soups = _read_step(path, stop) if exact else _read(path)
    points = np.vstack([soup.corners.reshape(-1, 3) for soup in soups]) * (1.0 if exact else UNITS[unit])
    group = np.repeat(np.arange(len(soups)), [len(soup.corners) for soup in soups])
    if not len(points) or not np.isfinite(points).all():
        raise FileError(
            f"{path}: the file has no triangles, or corners that are no numbers. Export it again."
        )
    points, triangles, report = _welded(points)
    whole = (
        (triangles[:, 0] != triangles[:, 1])
        & (triangles[:, 1] != triangles[:, 2])
        & (triangles[:, 2] != triangles[:, 0])
    )
    a, b, c = (points[triangles[:, k]] for k in range(3))
    whole &= (
        np.linalg.norm(np.cross(b - a, c - a), axis=1)
        > NO_AREA * float(np.linalg.norm(np.ptp(points, axis=0))) ** 2
    )
    _, first = np.unique(np.sort(triangles, axis=1), axis=0, return_index=True)
    keep = np.intersect1d(np.flatnonzero(whole), first)
    if len(keep) < len(triangles):
        report.append(f"{len(triangles) - len(keep)} triangles without area or laid twice are left out.")
    triangles = triangles[keep]
    group = group[keep]
    if not len(triangles):
        raise FileError(f"{path}: none of its triangles has an area, so it bounds nothing. Export it again.")
    triangles, shell, flip = _turned_alike(points, triangles)
    if flip.any():
        report.append(f"{int(flip.sum())} triangles faced the wrong way and are turned.")
    crowded = _edge_counts(triangles)
    if (crowded > 2).any():
        report.append(
            f"{int((crowded > 2).sum())} edges belong to more than two triangles: parts touch there, "
            "or run through each other."
        )
    face, names = _faces(
        points,
        triangles,
        group,
        [soup.name for soup in soups],
        not exact,
    )
    _, first = np.unique(face, return_index=True)
    of = [soups[group[k]] for k in first]
    made = Model(
        points,
        triangles,
        face,
        names,
        (),
        (),
        group,
        tuple(soup.name for soup in soups),
        not exact,
        tuple(soup.layer for soup in of),
        tuple(soup.colour for soup in of),
        turned=points[triangles[flip]],
    )
    made = _outward(made, shell)
    rims = rims_of(made.triangles)
    report.insert(0, f"{len(triangles)} triangles in {shell.max() + 1} bodies, {len(names)} faces.")
    if rims:
        report.append(
            f"{len(rims)} open rims, about "
            + ", ".join(spot(points[rim]) for rim in rims[:4])
            + ("." if len(rims) < 5 else " and elsewhere.")
        )
    return replace(made, report=tuple(report), rims=rims)


def spot(places: Floats) -> str:
    """Say where the middle of places (k, 3) m is."""
    x, y, z = (np.round(1e3 * places.mean(axis=0), 6) + 0.0).tolist()  # no -0, no dust
    return f"({x:.4g}, {y:.4g}, {z:.4g}) mm"


def _hanging(one: Ints, two: Ints, count: int) -> tuple[int, Ints]:
    """Give how many groups hang together by pairs, and the group of each; the library is loaded on first
    use.
    """
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    found, label = connected_components(
        coo_matrix((np.ones(len(one)), (one, two)), (count, count)), directed=False
    )
    return int(found), label


@dataclass(frozen=True)
class _Soup:
    """Triangles (m, 3, 3) of one part of a file (of STEP files: of one face), with its name, layer and
    colour.
    """

    name: str
    corners: Floats
    layer: str = ""
    colour: str = ""


def _read(path: Path) -> list[_Soup]:
    import trimesh

    plain_file(path, LARGEST)
    if path.suffix.lower() == ".stl":
        _check_stl(path)
    try:
        scene = trimesh.load_scene(path, process=False)
        parts = [
            _Soup(
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
            f"{path}: the model cannot be read ({str(problem)[:200] or type(problem).__name__}). "
            "Export it again as STL, OBJ, PLY or GLB."
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


def _read_step(path: Path, stop: threading.Event | None) -> list[_Soup]:
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
        _Soup(short[k], corners[owner == k], "" if one else layers[k], str(colours[k]))
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


def _welded(points: Floats) -> tuple[Floats, Ints, list[str]]:
    """Make corners that lie on each other one; give points, triangles and words."""
    size = float(np.linalg.norm(np.ptp(points, axis=0))) or 1.0
    unique, back = np.unique(points, axis=0, return_inverse=True)
    pairs = nearest_tree(unique).query_pairs(WELD * size, output_type="ndarray")
    count = len(unique)
    if len(pairs):
        groups, label = _hanging(pairs[:, 0], pairs[:, 1], count)
        _, first = np.unique(label, return_index=True)
        unique = unique[first]
        back = label[back.reshape(-1)]
        words = [
            f"{count - groups} corners lay within a millionth of the size of others and are welded to them."
        ]
    else:
        words = []
    return unique, back.reshape(-1, 3), words


def _sides(triangles: Ints) -> tuple[Ints, Ints, Ints]:
    """Give the edges of all triangles: key, triangle and whether it runs from the lower to the higher
    corner.
    """
    ends = triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    return (
        ends.min(axis=1) * (int(triangles.max()) + 1) + ends.max(axis=1),
        np.repeat(np.arange(len(triangles)), 3),
        ends[:, 0] < ends[:, 1],
    )


def _edge_counts(triangles: Ints) -> Ints:
    return np.asarray(np.unique(_sides(triangles)[0], return_counts=True)[1])


def _neighbours(triangles: Ints) -> tuple[Ints, Ints, Ints]:
    """Give pairs of triangles that share an edge with no third, and whether they run along it the same
    way.
    """
    key, triangle, ahead = _sides(triangles)
    order = np.argsort(key, kind="stable")
    key = key[order]
    triangle = triangle[order]
    ahead = ahead[order]
    start = np.flatnonzero(np.append(True, key[1:] != key[:-1]))
    pair = start[np.diff(np.append(start, len(key))) == 2]
    return triangle[pair], triangle[pair + 1], ahead[pair] == ahead[pair + 1]


def _turned_alike(points: Floats, triangles: Ints) -> tuple[Ints, Ints, NDArray[np.bool_]]:
    """Turn triangles so that neighbours face the same way; give them, their body, and which were turned."""
    one, two, same = _neighbours(triangles)
    count = len(triangles)
    nodes = np.concatenate(
        [
            np.column_stack([one, np.where(same, two + count, two)]),
            np.column_stack([one + count, np.where(same, two, two + count)]),
        ]
    )
    _, label = _hanging(nodes[:, 0], nodes[:, 1], 2 * count)
    _, shell = _hanging(one, two, count)
    _, first = np.unique(shell, return_index=True)
    flip = label[:count] != label[:count][first][shell]
    if 2 * flip.sum() > count:
        most = np.bincount(shell, flip, shell.max() + 1) > 0.5 * np.bincount(shell)
        flip ^= most[shell]
    return np.where(flip[:, None], triangles[:, ::-1], triangles), shell, flip


def _faces(
    points: Floats,
    triangles: Ints,
    group: Ints,
    groups: Sequence[str],
    split: bool,
) -> tuple[Ints, tuple[str, ...]]:
    """Tell faces apart: triangles of one group of the file that meet flatter than `ANGLE`; the largest is
    face1.
    """
    a, b, c = (points[triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    area = np.linalg.norm(normal, axis=1)
    normal = normal / np.maximum(area, 1e-300)[:, None]
    one, two, _ = _neighbours(triangles)
    flat = (np.abs((normal[one] * normal[two]).sum(axis=1)) > np.cos(ANGLE)) & (group[one] == group[two])
    face = (
        _hanging(one[flat], two[flat], len(triangles))[1]
        if split
        else np.unique(group, return_inverse=True)[1]
    )
    order = np.argsort(-np.bincount(face, area), kind="stable")
    rank = np.empty(len(order), int)
    rank[order] = np.arange(len(order))
    face = rank[face]
    _, first = np.unique(face, return_index=True)
    several = len({name for name in groups if not name.startswith(RIM)}) > 1
    plain = [
        groups[group[k]][1:]
        if groups[group[k]].startswith(RIM)
        else _plain(groups[group[k]])
        if several
        else ""
        for k in first
    ]
    names: list[str] = []
    for number, name in enumerate(plain):
        if name and plain.count(name) == 1 and name not in names:
            names.append(name)
        else:
            names.append(f"{name or 'face'}{'_' if name else ''}{number + 1}")
    return face, tuple(names)


def _plain(name: str) -> str:
    return "".join(sign if sign.isalnum() else "_" for sign in name).strip("_").lower()


def _outward(model: Model, shell: Ints) -> Model:
    """Turn every body so that it faces out; one that lies within another faces into it, as a hollow does."""
    from mop_lantern.shape.surface import Surface, winding

    bodies = int(shell.max()) + 1
    volume = np.bincount(
        shell, (model.points[model.triangles].mean(axis=1) * model.vectors).sum(axis=1) / 3, bodies
    )
    triangles = np.where((volume < 0)[shell][:, None], model.triangles[:, ::-1], model.triangles)
    if 1 < bodies <= 64:
        depth = np.zeros(bodies, int)
        some = [
            model.points[(mine := triangles[shell == body])[:: max(len(mine) // SPREAD, 1)]].mean(axis=1)[
                :SPREAD
            ]
            for body in range(bodies)
        ]
        start = np.cumsum([0, *map(len, some)])[:-1]
        places = np.vstack(some)
        for body in range(bodies):
            own = Surface(
                model.points, triangles[shell == body], np.zeros(int((shell == body).sum()), int), ("a",)
            )
            depth += np.logical_and.reduceat(winding(own, places) > 0, start) & (
                np.arange(bodies) != body
            )  # within: all of it, not overlapping
        triangles = np.where((depth % 2 == 1)[shell][:, None], triangles[:, ::-1], triangles)
    return replace(model, triangles=triangles)


def rims_of(triangles: Ints) -> tuple[Ints, ...]:
    """Walk along edges that have one triangle only; give each rim as corners in order, against the way the
    triangles run.
    """
    ends = triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    key, _, _ = _sides(triangles)
    _, back, count = np.unique(key, return_inverse=True, return_counts=True)
    open_ = ends[count[back] == 1][:, ::-1]
    ahead: dict[int, list[int]] = {}
    for start, end in open_.tolist():
        ahead.setdefault(start, []).append(end)
    rims = []
    while ahead:
        path = [next(iter(ahead))]
        while path[-1] in ahead:
            here = path[-1]
            there = ahead[here].pop()
            if not ahead[here]:
                del ahead[here]
            if there in path:  # a rim is closed; what led to it is walked on
                begin = path.index(there)
                rims.append(np.array(path[begin:]))
                path = path[: begin + 1]
            else:
                path.append(there)
    return tuple(rim for rim in sorted(rims, key=len, reverse=True) if len(rim) > 2)


def sealed(model: Model, only: int | None = None) -> Model:
    """Close every open rim, or only one (its number), by triangles within it. One that goes on the face
    around it becomes part of that face; others become rim1, rim2 ...

    Rims that are not flat are closed all the same and told in the report, with how far they are off a plane.
    """
    triangles = [model.triangles]
    group = [model.group]
    groups = list(model.groups)
    report = list(model.report)
    holes = 0
    _, owner, _ = _sides(model.triangles)
    ends = model.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    beside = {(int(a), int(b)): int(t) for (a, b), t in zip(ends.tolist(), owner.tolist(), strict=True)}
    normal = model.vectors / np.maximum(np.linalg.norm(model.vectors, axis=1), 1e-300)[:, None]
    for rim in model.rims if only is None else model.rims[only : only + 1]:
        cap, off = _cap(model.points, rim)
        corners = model.points[cap]
        lid = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]).sum(axis=0)
        around = [
            beside[pair]
            for pair in zip(np.roll(rim, -1).tolist(), rim.tolist(), strict=True)
            if pair in beside
        ]
        along = float((normal[around] @ lid).mean() / (np.linalg.norm(lid) or 1.0)) if around else 0.0
        if around and along > np.cos(np.deg2rad(50)):
            label = int(np.bincount(model.group[around]).argmax())
            holes += 1
        else:
            taken = {name.removeprefix("*") for name in groups}
            groups.append(
                "*"
                + next(
                    name
                    for number in range(1, len(groups) + 2)
                    if (name := f"{RIM[1:]}{number}") not in taken
                )
            )
            label = len(groups) - 1
            if off > 0.02:
                report.append(
                    f"{groups[-1][1:]} is closed though its corners are off a plane by {off:.0%} of "
                    "its size: look at it."
                )
        triangles.append(cap)
        group.append(np.full(len(cap), label))
    if holes:
        report.append(f"{holes} holes within faces are closed.")
    named = len(groups) - len(model.groups)
    if named:
        report.append(f"{named} rims are sealed and named rim1 …: openings can sit on them.")
    every = np.vstack(triangles)
    of = np.concatenate(group)
    face, names = _faces(
        model.points,
        every,
        of,
        groups,
        model.split,
    )
    _, first = np.unique(face, return_index=True)
    if model.named:
        names = tuple(groups[of[k]].removeprefix("*") for k in first)
    look = {
        name: (layer, colour)
        for name, layer, colour in zip(model.names, model.layers, model.colours, strict=True)
    }
    was = [model.names[model.face[k]] if k < len(model.face) else "" for k in first]
    return replace(
        model,
        triangles=every,
        face=face,
        names=names,
        report=tuple(report),
        rims=rims_of(every),
        group=of,
        groups=tuple(groups),
        layers=tuple(look[name][0] if name else "" for name in was),
        colours=tuple(look[name][1] if name else "" for name in was),
    )


def _cap(points: Floats, rim: Ints) -> tuple[Ints, float]:
    """Fill a rim by triangles that run as it does; give them and how far it is off a plane, over its size."""
    if len(rim) == 3:
        return rim[None, :], 0.0
    place = points[rim]
    middle = place.mean(axis=0)
    _, spread, axes = np.linalg.svd(place - middle, full_matrices=False)
    flat = (place - middle) @ axes[:2].T
    off = float(np.abs((place - middle) @ axes[2]).max() / (np.ptp(flat, axis=0).max() or 1.0))
    polygon = shapely.Polygon(flat)
    k = np.arange(1, len(rim) - 1)
    fan = np.column_stack([np.full(len(k), rim[0]), rim[k], rim[k + 1]])
    if not polygon.is_valid or polygon.area <= 0:
        return fan, off
    pieces = [
        shapely.get_coordinates(piece)[:3]
        for piece in shapely.get_parts(shapely.constrained_delaunay_triangles(polygon))
    ]
    _, found = nearest_tree(flat).query(np.array(pieces).reshape(-1, 2))
    inner = found.reshape(-1, 3)
    a, b, c = (flat[inner[:, n]] for n in range(3))
    wise = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0]) > 0
    inner = np.where((wise == polygon.exterior.is_ccw)[:, None], inner, inner[:, ::-1])
    return (rim[inner] if len(inner) == len(rim) - 2 else fan), off


def renamed(model: Model, former: Model) -> tuple[Model, list[str]]:
    """Carry the names of a former state of a model over to the faces that are still there.

    Returns
    -------
    the model, and the names that found no face: none lies near, of like size and facing alike.
    """
    new, old = (_marks(each) for each in (model, former))
    names = list(model.names)
    lost = []
    taken = set()
    for number in np.argsort(-old[2]):
        size = np.sqrt(old[2][number])
        off = (
            np.linalg.norm(new[0] - old[0][number], axis=1) / size
            + np.abs(np.log(np.maximum(new[2], 1e-300) / old[2][number])) * 0.25
            + np.linalg.norm(new[1] - old[1][number], axis=1) * 0.25
        )
        order = [int(k) for k in np.argsort(off) if int(k) not in taken]
        if order and off[order[0]] < 4 * SAME:
            names[order[0]] = former.names[number]
            taken.add(order[0])
        elif not former.names[number].startswith("face"):
            lost.append(former.names[number])
    for number in set(range(len(names))) - taken:
        while names.count(names[number]) > 1:
            names[number] = f"{names[number]}_new"
    return replace(model, names=tuple(names)), lost


def _marks(model: Model) -> tuple[Floats, Floats, Floats]:
    """Give middle (k, 3), mean direction (k, 3) and area (k,) of every face."""
    vectors = model.vectors
    count = len(model.names)
    size = np.linalg.norm(vectors, axis=1)
    area = np.maximum(np.bincount(model.face, size, count), 1e-300)
    centre = model.points[model.triangles].mean(axis=1) * size[:, None]
    return tuple(
        np.column_stack([np.bincount(model.face, values[:, k], count) for k in range(3)]) / area[:, None]
        for values in (centre, vectors)
    ) + (area,)  # type: ignore[return-value]


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
        raise ValueError(f"the stored model is damaged ({problem})") from None
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
