"""What every command does."""

from __future__ import annotations

import argparse
import csv
import json
import os
import subprocess
import sys
from functools import partial
from pathlib import Path
from typing import Any

from mop_lantern.case import (
    Case,
    apply,
    json_schema,
    lines,
    load,
    parse_case,
    parse_value,
    review,
    settle,
    settle_any,
    table_of,
    with_variant,
)
from mop_lantern.cli.importing import run_faces, run_geometry, run_import, run_wrap, text_of
from mop_lantern.errors import EditError, Fault, FileError

__all__ = ["run_faces", "run_geometry", "run_import", "run_wrap"]  # those told elsewhere

DEMOS = Path(__file__).parents[1] / "demos"
ROOT = Path(__file__).parents[3]
EXIT_UNTRUSTED = 3
ALIKE = 5  # notes of one kind that are printed


def run_demo(options: argparse.Namespace) -> int:
    """Open a demo, list them, or draw the window."""
    names = sorted(path.stem for path in DEMOS.glob("*.lantern"))
    if options.list:
        for name in names:
            print(f"{name:12} {load(DEMOS / f'{name}.lantern').title}")
        return 0
    if options.name and options.name not in names:
        raise FileError(f"there is no demo “{options.name}”. Demos: {', '.join(names)}.")
    return _window(DEMOS / f"{options.name}.lantern" if options.name else None, options.shot)


def run_open(options: argparse.Namespace) -> int:
    """Open the window on a case."""
    load(options.file)
    return _window(options.file, options.shot)


def _window(file: Path | None, shot: Path | None) -> int:
    if shot is not None or not (
        os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")
    ):
        if shot is None:
            print(
                "There is no display; the window is drawn off screen. Stop it with Ctrl-C.", file=sys.stderr
            )
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from mop_lantern.desk import show

    return show(file, shot)


def edited(options: argparse.Namespace) -> tuple[Case, dict[str, Any]]:
    """Load the case named on the command line and apply its --set edits."""
    case = load(options.file)
    edits: dict[str, Any] = {}
    for item in options.edits:
        path, separator, value = item.partition("=")
        if not separator:
            raise EditError(
                [Fault(item, "an edit needs the form PATH=VALUE.", "Write it like field.grid.cell='2 mm'.")]
            )
        edits[path.strip()] = parse_value(value)
    if getattr(options, "start", ""):
        edits["field.start.solution"] = options.start
    if getattr(options, "operate", None):
        edits |= _operations(options.operate)
    if getattr(options, "grid", None):
        edits["field.grid.level"] = options.grid
    return apply(case, edits), edits


def _operations(path: Path) -> dict[str, Any]:
    """Read what is to be worked from a file of rows ``time, path, value``."""
    try:
        rows = [row for row in csv.reader(text_of(path).splitlines()) if row and not row[0].startswith("#")]
    except csv.Error:
        raise FileError(
            f"{path}: this is not a table of operations. Write rows of time, path, value."
        ) from None
    rows = rows[1:] if rows and rows[0][0].strip().lower() == "time" else rows
    if any(len(row) != 3 for row in rows):
        raise FileError(f"{path}: every row needs a time, a path and a value.")
    return {
        f"network.operations.file{k}": {
            "at": at.strip(),
            "path": what.strip(),
            "value": value.strip(),
        }
        for k, (at, what, value) in enumerate(rows, 1)
    }


def run_solve(options: argparse.Namespace) -> int:
    """Solve in a worker and print the answer."""
    from mop_lantern.jobs import run_to_end
    from mop_lantern.results import runs_folder

    case, edits = edited(options)
    settle_any(case, options.variant)  # faults are told before a process is started
    runs = options.out or runs_folder(options.file)

    def tell(event: dict[str, Any]) -> None:
        if options.events:
            print(json.dumps(event), file=sys.stderr, flush=True)
        elif event["event"] == "progress" and sys.stderr.isatty():
            left = f", about {event['eta']:.0f} s left" if event.get("eta") else ""
            print(
                f"\riteration {event['iteration']:5d}  residual {event['momentum']:.1e}{left}   ",
                end="",
                file=sys.stderr,
            )

    original = load(options.file)
    command = {
        "case": original.as_data(),
        "edits": edits,
        "variant": options.variant,
        "runs": str(runs.resolve()),
    }
    last = run_to_end(command, tell)
    if last["event"] == "failed":
        for fault in last.get("faults") or []:
            print(Fault(**fault), file=sys.stderr)
        if last.get("faults"):
            return 2
        print(
            " ".join(part for part in (last["error"], last.get("where", ""), last.get("remedy", "")) if part),
            file=sys.stderr,
        )
        return 1
    keys = (
        "readings",
        "standard",
        *(("verdict",) if last.get("verdict") else ()),
        "trust",
        "converged",
        "iterations",
        "cells",
        "seconds",
        "run",
        *(("time",) if last.get("time") else ()),
    )
    print(json.dumps({key: last[key] for key in keys}, ensure_ascii=False))
    if last.get("unsaved"):
        print(last["unsaved"], file=sys.stderr)
    return 0 if last["converged"] else EXIT_UNTRUSTED


def run_show(options: argparse.Namespace) -> int:
    """Print the sheet as text."""
    case, _ = edited(options)
    result = review(case, options.variant)
    section = ""
    print(case.title)
    for line in lines(result.case, result.shape.edge_lengths if result.shape else None):
        if line.section != section:
            section = line.section
            print(f"\n{section}")
        print(f"  {line.text()}")
    return 0


def run_check(options: argparse.Namespace) -> int:
    """Print faults (exit 2) and margin notes."""
    case, _ = edited(options)
    result = review(case, options.variant)
    for fault in result.faults:
        print(f"blocked  {fault}")
    alike: dict[tuple[str, str], int] = {}
    for note in result.notes:
        kind = (note.kind, note.level)
        alike[kind] = alike.get(kind, 0) + 1
        if alike[kind] > ALIKE:
            continue
        remedy = (
            f" [{note.remedy}: {', '.join(f'{path}={value}' for path, value in note.edits.items())}]"
            if note.remedy
            else ""
        )
        print(f"{note.level:8} {note.path}: {note.text}{remedy}")
    for (name, level), number in alike.items():
        if number > ALIKE:
            print(f"{level:8} and {number - ALIKE:,} more of the kind {name.replace('_', ' ')}.")
    return 2 if result.blocked else 0


def _readings_now(options: argparse.Namespace, record: Any) -> dict[str, Any]:
    """Give the readings a case file asks for now of a stored solution."""
    from mop_lantern.results import open_answer, open_working
    from mop_lantern.results.told import asked_now

    case = with_variant(apply(load(options.case), record.edits), record.variant)
    answers: list[Any] = []
    for read in (open_answer, open_working):
        try:
            answers.append(read(options.run))
        except FileError:  # a space alone has no network, and the other way round
            continue
    return asked_now(case, record, answers)


def run_export(options: argparse.Namespace) -> int:
    """Export a run to the format its file's ending names."""
    from mop_lantern.results import load_run, open_answer, write_profile, write_readings

    record = load_run(options.run)
    ending = options.to.suffix.lower().lstrip(".")
    if ending == "csv" and options.network:
        options.to.write_text(table_of(parse_case(record.case)), "utf-8")
        return 0
    if ending == "csv":
        if options.line:
            write_profile(
                options.to,
                open_answer(options.run),
                *_line_of(options.line, record),
                options.quantity.split(","),
            )
        else:
            readings = _readings_now(options, record) if options.case else record.readings
            write_readings(options.to, {record.variant or "base": readings | record.standard})
        return 0
    from mop_lantern.scene import export

    if ending == "vtkhdf":
        export.export_vtkhdf(options.to, options.run)
    elif ending == "vtu":
        export.export_vtu(options.to, open_answer(options.run))
    elif ending in ("png", "mp4", "gif"):
        answer = open_answer(options.run)
        if options.quantity not in answer.quantities:
            raise FileError(
                f"there is no quantity “{options.quantity}”. Known: {', '.join(answer.quantities)}."
            )
        settled = settle(parse_case(record.case), record.variant)
        ways = {item.edge: getattr(item, "way", "open") for item in settled.numbers.openings.values()}
        from mop_lantern.field.device import drawn
        from mop_lantern.scene import Picture

        picture = Picture()
        flat = settled.case.shape.space != "space"
        marks = (line for device in settled.numbers.devices.values() for line in drawn(device, flat))
        picture.set_shape(settled.shape, ways)
        picture.set_options(marks=tuple(marks))
        picture.set_answer(answer)
        picture.set_options(units=settled.case.units, quantity=options.quantity)
        for fault in picture.take_views(settled.case):
            print(f"{fault.path}: {fault.says} {fault.remedy}", file=sys.stderr)
        if ending == "png":
            export.export_png(options.to, picture)
        else:
            _animate(options, answer, picture)
    else:
        raise FileError(f"{options.to}: “.{ending}” cannot be written. Formats: {', '.join(export.FORMATS)}.")
    return 0


def _line_of(name: str, record: Any) -> tuple[Any, Any]:
    """Give the ends (m) of a line: of a reading that has one, or typed as x,y:x,y in metres."""
    settled = settle(parse_case(record.case), record.variant)
    reading = settled.numbers.readings.get(name)
    if reading is not None and hasattr(reading, "start") and hasattr(reading, "end"):
        return reading.start, reading.end
    try:
        ends = [[float(value) for value in end.split(",")] for end in name.split(":")]
        if len(ends) == 2 and len(ends[0]) == len(ends[1]) in (2, 3):
            return ends[0], ends[1]
    except ValueError:
        pass
    known = (
        ", ".join(key for key, item in settled.numbers.readings.items() if hasattr(item, "start")) or "none"
    )
    raise FileError(
        f"“{name}” is not a line. Give a reading along one ({known}), or its ends in metres as 0,0:0.1,0."
    )


def run_balance(options: argparse.Namespace) -> int:
    """Find the openings that give wanted flows."""
    from mop_lantern.case import balanced

    case, _ = edited(options)
    return _kept(
        options, *balanced(case, options.variant, options.lines.split(","), options.flow), "balanced"
    )


def run_size(options: argparse.Namespace) -> int:
    """Find the sizes of pipes and ducts."""
    from mop_lantern.case import sized

    case, _ = edited(options)
    lines = [line.strip() for line in options.lines.split(",") if line.strip()]
    return _kept(options, *sized(case, options.variant, lines, options.by), f"sized by {options.by}")


def run_ready(options: argparse.Namespace) -> int:
    """List parts of rooms that come ready, or add one: print its edits, keep them in the file if wanted."""
    from mop_lantern.case.ready_part import ready_edits, ready_parts

    if not options.part:
        for name, part in ready_parts().items():
            print(f"{name:12} {' '.join((part.__doc__ or '').split('Source:')[0].split())}")
        return 0
    case = load(options.file)
    return _added(options, case, ready_edits(case, review(case).shape, options.part))


def run_series(options: argparse.Namespace) -> int:
    """Spread a patch and its opening over a face: print the edits, keep them in the file if wanted."""
    from mop_lantern.case.series import parse_series, series_edits

    case = load(options.file)
    edits = series_edits(case, review(case).shape, options.of, parse_series(options.how_many))
    return _added(options, case, edits)


def _added(options: argparse.Namespace, case: Case, edits: dict[str, Any]) -> int:
    """Print edits, and keep them in the file where that is wanted."""
    from mop_lantern.case import save

    if options.write:
        save(apply(case, edits), options.file)
    print(json.dumps(edits, ensure_ascii=False))
    return 0


def _kept(
    options: argparse.Namespace,
    edits: dict[str, Any],
    faults: list[Fault],
    title: str,
) -> int:
    """Print edits, or add them to the file as a variant; faults end with 2."""
    from mop_lantern.case import save

    for fault in faults:
        print(fault, file=sys.stderr)
    if faults:
        return 2
    if options.into:
        save(
            apply(load(options.file), {f"variants.{options.into}": {"title": title, "edits": edits}}),
            options.file,
        )
    print(json.dumps(edits, ensure_ascii=False))
    return 0


def _animate(
    options: argparse.Namespace,
    final: Any,
    picture: Any,
) -> None:
    from mop_lantern.results import open_state, state_times
    from mop_lantern.scene.animation import write_animation

    states = [partial(open_state, options.run, time, final.mesh) for time in state_times(options.run)]
    write_animation(options.to, picture, states)


def run_schema(options: argparse.Namespace) -> int:
    """Print the JSON Schema."""
    print(json.dumps(json_schema(), indent=1, ensure_ascii=False))
    return 0


def _checkout(command: list[str]) -> int:
    if not (ROOT / "pyproject.toml").exists():
        print("this command works in a checkout only.", file=sys.stderr)
        return 1
    return subprocess.call(command, cwd=ROOT)


def run_bench(options: argparse.Namespace) -> int:
    """Run the bench; without a choice both parts."""
    if options.fuzz:
        return _checkout([sys.executable, "-m", "bench.fuzz", str(options.fuzz)])
    if options.kills:
        return _checkout(
            [sys.executable, "-m", "bench.kills", str(options.kills), *(["window"] if options.window else [])]
        )
    if options.trust:
        return _checkout(
            [sys.executable, "-m", "bench.trust", "--bands", *(["--json"] if options.json else [])]
        )
    if options.models:
        return _checkout([sys.executable, "-m", "bench.corpus.run"])
    both = not (options.accuracy or options.speed)
    extra = [part for case in options.case for part in ("--case", case)] + (
        ["--json"] if options.json else []
    )
    code = 0
    if options.accuracy or both:
        code |= _checkout([sys.executable, "-m", "bench.accuracy", *extra])
    if options.speed or both:
        code |= _checkout([sys.executable, "-m", "bench.speed", *(["--json"] if options.json else [])])
    return code


def run_test(options: argparse.Namespace) -> int:
    """Run all checks and the tests, as CI does; the long tests where they are asked for."""
    return _checkout([sys.executable, "-m", "bench.checks", *(["--all"] if options.all else [])])


def run_shots(options: argparse.Namespace) -> int:
    """Refresh the screenshots from the demo data."""
    return _checkout([sys.executable, "-m", "bench.shots"])
