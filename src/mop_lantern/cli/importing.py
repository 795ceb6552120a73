"""What brings things into a case from the shell, and what lists the faces of a model or a case."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.case import Case, apply, edits_of, lines_of, load, merged, parse_case
from mop_lantern.case.models import rims_in
from mop_lantern.errors import CaseError, FileError, nearest
from mop_lantern.numerics.doors import read_text
from mop_lantern.units import UnitFault, read

LARGEST_TEXT = 20_000_000  # bytes of lines of words, tables and events


def run_import(options: argparse.Namespace) -> int:
    """Bring a drawing, a model, lines of words or a table into a case file."""
    from mop_lantern.case import save
    from mop_lantern.shape.model import ENDINGS

    into = options.into
    case = (
        load(into)
        if into.exists()
        else parse_case({"title": into.stem, "media": {"fluid": {"kind": "water"}}})
    )
    ending = options.file.suffix.lower()
    if ending == ".dxf":
        edits, told = _from_drawing(options)
    elif ending in ENDINGS:
        edits, told = _from_model(options, case)
    elif ending == ".txt":
        edits = lines_of(text_of(options.file), case)
        told = {"added": list(edits)}
    elif text_of(options.file).lstrip().startswith(("line,", "run,")):
        edits = edits_of(text_of(options.file), case)
        told = {"changed": len(edits)}
    else:
        edits, told = _from_columns(options, case)
    save(apply(case, edits), into)
    print(json.dumps(told))
    return 0


Brought = tuple[dict[str, Any], dict[str, Any]]  # edits, and what to tell of them


def _from_drawing(options: argparse.Namespace) -> Brought:
    from mop_lantern.shape.drawing import parts_of, read_drawing

    drawing = read_drawing(options.file, options.unit, options.seal)
    for x, y in drawing.open_ends:
        print(f"open end at x = {x:.6g} m, y = {y:.6g} m", file=sys.stderr)
    if not drawing.loops:
        raise FileError(
            f"{options.file}: no outline is closed. Open ends are listed above; --seal joins them."
        )
    parts = parts_of(drawing, options.file.name)
    return {f"shape.parts.{key}": part for key, part in parts.items()}, {
        "parts": list(parts),
        "unit": drawing.unit,
        "open_ends": len(drawing.open_ends),
        "read": drawing.read,
        "skipped": drawing.skipped,
    }


def _from_model(options: argparse.Namespace, case: Case) -> Brought:
    from mop_lantern.case.models import model_edits
    from mop_lantern.case.splitting import small_bodies, split_edits
    from mop_lantern.shape.reading import read_model
    from mop_lantern.shape.topology import shells_of

    model = read_model(options.file, options.unit)
    edits, words = model_edits(case, model, options.file.name, options.seal, options.key)
    key = next(iter(path for path in edits if path.startswith("shape.solids."))).split(".")[2]
    if options.wrap:
        wrapped, words_of_it = _wrap(apply(case, edits), key, options)
        edits = merged(edits, wrapped)
        words += words_of_it
    if options.under:
        edits = merged(edits, {f"shape.solids.{key}.least": options.under})
        count, every, share = small_bodies(apply(case, edits), key, _length("--under", options.under))
        told_of = f"{count} of {every} bodies are smaller than {options.under} and excluded"
        words.append(f"{told_of}: {share:.2%} of the volume.")
    more, encloses = _where_the_fluid_is(apply(case, edits), key, options.fluid)
    edits = merged(edits, more)
    if options.split:
        parted = split_edits(apply(case, edits), key, options.split)
        edits = merged(edits, parted)
        words.append(
            "Parted into "
            + ", ".join([key, *(p.split(".")[2] for p, v in parted.items() if isinstance(v, dict))])
            + "."
        )
    told = {
        "changed": list(edits),
        "report": words + encloses,
        "triangles": len(model.triangles),
        "bodies": shells_of(model.triangles)[0],
        "faces": len(model.names),
        "rims": len(model.rims),
        "size_m": np.ptp(model.points, axis=0).round(9).tolist(),
        "volume_m3": None if model.rims else model.volume,
    }
    return edits, told


def _wrap(case: Case, key: str, options: argparse.Namespace) -> tuple[dict[str, Any], list[str]]:
    """Wrap a model of a case as the command line says; progress goes to standard error."""
    from mop_lantern.case.models import wrap_edits

    within = None
    if options.within:
        parts = options.within.split(",")
        if len(parts) != 3:
            raise FileError(
                f"--within {options.within}: a place has three values. Write it like 10mm,0mm,5mm."
            )
        within = np.array([_length("--within", part) for part in parts])

    def say(words: str) -> None:
        print(f"wrap: {words}", file=sys.stderr)

    return wrap_edits(case, key, _length("--wrap", options.wrap), within, None, say)


def _length(option: str, text: str) -> float:
    try:
        return read(text.strip(), "length")
    except UnitFault as fault:
        raise FileError(f"{option} {text}: {fault} Write it like 2mm.") from None


def run_wrap(options: argparse.Namespace) -> int:
    """Wrap a model that is in a case watertight."""
    from mop_lantern.case import save

    case = load(options.file)
    models = [name for name, part in case.shape.solids.items() if part.kind == "model"]
    key = options.key or (models[0] if len(models) == 1 else "")
    if not key:
        raise FileError(f"{options.file}: say by --as which model: {', '.join(models) or 'there is none'}.")
    edits, words = _wrap(case, key, options)
    save(apply(case, edits), options.file)
    print(json.dumps({"changed": list(edits), "report": words}))
    return 0


def _where_the_fluid_is(case: Case, key: str, wanted: str) -> tuple[dict[str, Any], list[str]]:
    """Give the edits that put the fluid where it is wanted, and words on what the model encloses."""
    from mop_lantern.case.insides import around_edits, fluid_edits, hollows_of_part, inside_edits, told

    if rims_in(case, key):
        if wanted not in ("", "model"):
            raise FileError(f"{key} has open rims, so that it has no inside yet. Add --seal.")
        return {}, []
    try:
        hollows = hollows_of_part(case, key)
    except CaseError:
        if wanted:
            raise
        return {}, []  # what is wrong with it is told by check
    words = told(hollows)
    if words and not wanted:
        words.append("To fill it, add --fluid inside; for a flow around it, --fluid around.")
    if wanted == "inside":
        return inside_edits(case, key, hollows), words
    if wanted == "around":
        return around_edits(case, key), words
    return (fluid_edits(case, key) if wanted else {}), words


def _from_columns(options: argparse.Namespace, case: Case) -> Brought:
    from mop_lantern.case import fresh_key, read_columns

    columns = read_columns(options.file)
    key = options.key or fresh_key(case, "tables")
    along, gives = columns.units[:2]
    rows = [row[:2] for row in columns.rows]
    table = {"title": columns.names[1], "along": along, "gives": gives, "rows": rows}
    told = {"table": key, "rows": len(rows), "along": along, "gives": gives}
    return {f"tables.{key}": table}, told


def text_of(path: Path) -> str:
    return read_text(path, LARGEST_TEXT, errors="replace")


def run_faces(options: argparse.Namespace) -> int:
    """List the faces, bodies and rims of a model or a case; rename faces of a case and take them together."""
    from mop_lantern.shape.model import ENDINGS

    told = _of_model(options) if options.file.suffix.lower() in ENDINGS else _of_case(options)
    if options.json:
        print(json.dumps(told))
        return 0
    for kind, rows in told.items():
        if not rows:
            continue
        print(f"{kind}: {len(rows)}")
        heads = list(rows[0])
        cells = [heads, *([_cell(head, row[head]) for head in heads] for row in rows)]
        widths = [max(len(row[k]) for row in cells) for k in range(len(heads))]
        for row in cells:
            print(
                "  " + "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip()
            )
    return 0


UNITS = {
    "area": ("cm2", 1e4),
    "middle": ("mm", 1e3),
    "length": ("mm", 1e3),
    "size": ("mm", 1e3),
    "volume": ("L", 1e3),
}


def _cell(head: str, value: Any) -> str:
    unit, scale = UNITS.get(head, ("", 1.0))
    if isinstance(value, list):
        return f"({', '.join(f'{scale * each + 0.0:.4g}' for each in np.round(value, 9))}) {unit}".rstrip()
    if isinstance(value, float):
        return f"{scale * value:.4g} {unit}".rstrip()
    return str(value)


def _of_model(options: argparse.Namespace) -> dict[str, list[dict[str, Any]]]:
    from mop_lantern.shape.describing import bodies_told, faces_told, rims_told
    from mop_lantern.shape.reading import read_model

    if options.rename or options.together:
        raise FileError(f"{options.file}: only faces of a case can be renamed. Import the model first.")
    model = read_model(options.file, options.unit)
    return {
        "bodies": bodies_told(model),
        "faces": [face.as_dict() for face in faces_told(model.surface)],
        "rims": rims_told(model),
    }


def _of_case(options: argparse.Namespace) -> dict[str, list[dict[str, Any]]]:
    from mop_lantern.case import quick_shape, save
    from mop_lantern.case.faces import rename_edits, together_edits
    from mop_lantern.shape import Surface
    from mop_lantern.shape.describing import bodies_told, faces_told, rims_told
    from mop_lantern.shape.model import unpacked

    case = load(options.file)
    for old, new in (_pair(item) for item in options.rename):
        case = apply(case, rename_edits(case, old, new))
    for key, rule in (_pair(item) for item in options.together):
        shape = quick_shape(case)
        if not isinstance(shape, Surface):
            raise FileError(f"{options.file}: only faces of a space can be taken together.")
        case = apply(case, together_edits(case, shape, rule, key))
    if options.rename or options.together:
        save(case, options.file)
    shape = quick_shape(case)
    if shape is None:
        raise FileError(f"{options.file}: the case has no shape yet. Add a part, or import a model.")
    if not isinstance(shape, Surface):
        return {"edges": [{"name": name, "length": size} for name, size in shape.all_edges.items()]}
    told: dict[str, list[dict[str, Any]]] = {"bodies": [], "faces": [], "rims": []}
    told["faces"] = [face.as_dict() for face in faces_told(shape)]
    for key, part in case.shape.solids.items():
        if part.kind == "model":
            model = unpacked(part.mesh, part.names)  # type: ignore[attr-defined]
            told["bodies"] += [{"of": key, **each} for each in bodies_told(model)]
            told["rims"] += [{"of": key, **each} for each in rims_told(model)]
    return told


def _pair(item: str) -> tuple[str, str]:
    first, separator, second = item.partition("=")
    if not separator or not first.strip() or not second.strip():
        raise FileError(f"“{item}” needs the form NAME=VALUE. Write it like pipe.face3=inlet.")
    return first.strip(), second.strip()


def run_geometry(options: argparse.Namespace) -> int:
    """Write the fluid and the solids of a space as a file for others."""
    from mop_lantern.case.resolve import resolve
    from mop_lantern.shape import Surface, build
    from mop_lantern.shape.geometry_out import regions_of, write_geometry

    surface = build(resolve(load(options.file))[0].shape)
    if not isinstance(surface, Surface):
        raise FileError(f"{options.file}: only a space has geometry of its own. Draw planes elsewhere.")
    regions = regions_of(surface)
    if options.of:
        unknown = [name for name in options.of if name not in regions]
        if unknown:
            raise FileError(f"there is no region “{unknown[0]}”. {nearest(unknown[0], regions)}")
        regions = {name: regions[name] for name in options.of}
    print(json.dumps(write_geometry(regions, options.to)))
    return 0
