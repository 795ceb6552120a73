"""Fuzzing of the other doors: models, lines of words, event files, run folders, states, and edits from the
command line.
"""

from __future__ import annotations

import contextlib
import io
import json
import re
import shutil
import struct
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from hypothesis import strategies as st

from mop_lantern.case import apply, edits_of, lines_of, parse_case, review, settle
from mop_lantern.case.edits import parse_value
from mop_lantern.cli.commands import _operations
from mop_lantern.errors import LanternError
from mop_lantern.results import load_run, newest_record, open_answer, open_state, state_times
from mop_lantern.shape.reading import read_model

WILD = st.one_of(
    st.text(st.characters(codec=None), max_size=40),  # half characters too
    st.sampled_from(
        [
            "9" * 5000,
            "1e308",
            "-0",
            "nan",
            "\x00",
            "{" * 200,
            "[" * 300,
            "= sqrt(-1)",
            "1 m**9**9",
            " " * 3000,
            "x" * 20_000,
            "\ud800",
            "null",
            '{"a":' * 60 + "1" + "}" * 60,
        ]
    ),
    st.integers().map(str),
    st.integers(min_value=10**400, max_value=10**401).map(str),
    st.floats().map(str),
)
STEP = Path(__file__).parents[1] / "src/mop_lantern/demos/models/valve-body.step"
STEP_WORDS = [
    "0.",
    "-1.",
    "1.E308",
    "1.E-300",
    "nan",
    "#1",
    "#99999999",
    "#0",
    "$",
    "*",
    "PLANE",
    "CYLINDRICAL_SURFACE",
    "9" * 60,
    "''",
    "",
]
RARE = {"step files": 40}  # its reader is a process of its own: one input for so many of the others
BITES = st.lists(
    st.tuples(st.floats(0, 1), st.binary(min_size=0, max_size=12), st.integers(0, 40)), min_size=1, max_size=5
)


def bitten(data: bytes, bites: list[tuple[float, bytes, int]]) -> bytes:
    """Give the data with places overwritten, cut out or drawn out."""
    for share, fresh, less in bites:
        at = int(share * len(data))
        data = data[:at] + fresh + data[at + less :]
    return data


@cache
def models() -> dict[str, bytes]:
    """Give a small model in every format but STEP, whose reader is a process of its own."""
    import trimesh

    box = trimesh.creation.box((1.0, 2.0, 3.0))
    made = {ending: box.export(file_type=ending) for ending in ("stl", "obj", "ply", "glb")}
    return {ending: data if isinstance(data, bytes) else data.encode() for ending, data in made.items()} | {
        "stl2": box.export(file_type="stl_ascii").encode()
    }


def try_model(which: str, bites: list[tuple[float, bytes, int]], folder: Path) -> None:
    """Read a damaged model."""
    path = folder / f"model.{which.rstrip('2')}"
    path.write_bytes(bitten(models()[which], bites))
    with contextlib.suppress(LanternError):
        read_model(path, "mm")


def try_step(bites: list[tuple[float, bytes, int]], words: list[tuple[float, str]], folder: Path) -> None:
    """Read a damaged STEP file: places overwritten, and numbers and names replaced."""
    text = STEP.read_bytes()
    for share, word in words:
        places = [found.span() for found in re.finditer(rb"[-+0-9.E]{2,}|#[0-9]+|[A-Z_]{4,}", text)]
        start, end = places[int(share * (len(places) - 1))]
        text = text[:start] + word.encode(errors="replace") + text[end:]
    path = folder / "bitten.step"
    path.write_bytes(bitten(text, bites))
    with contextlib.suppress(LanternError):
        read_model(path, "")


def try_lying_stl(count: int, rest: bytes, folder: Path) -> None:
    """Read an STL file whose count is anything."""
    path = folder / "lying.stl"
    path.write_bytes(b"\0" * 80 + struct.pack("<I", count) + rest)
    with contextlib.suppress(LanternError):
        read_model(path, "mm")


_NETWORK = parse_case({"title": "n", "media": {"water": {"kind": "water"}}})
WORDS = st.lists(
    st.one_of(
        st.sampled_from(
            [
                "From",
                "to",
                "through",
                "reservoir",
                "tank",
                "a",
                "b",
                "c",
                ",",
                "pump",
                "P1",
                "valve",
                "V",
                "at",
                "of",
                "12",
                "m",
                "DN50",
                "steel",
                "40",
                "%",
                "K",
                "2.5",
                "with",
                "curve",
                "/",
                "5",
                "L/s",
                "17",
                "bends",
                "fan",
                "duct",
                ":",
                "400",
                "mm",
                "x",
            ]
        ),
        WILD,
    ),
    max_size=30,
).map(" ".join)


def try_words(text: str) -> None:
    """Turn lines into runs, and review what came."""
    with contextlib.suppress(LanternError):
        review(apply(_NETWORK, lines_of(text, _NETWORK)))
    with contextlib.suppress(LanternError):
        edits_of(text, _NETWORK)


def try_events(text: str, folder: Path) -> None:
    """Read a file of events."""
    path = folder / "events.csv"
    path.write_text(text, "utf-8", errors="replace")
    with contextlib.suppress(LanternError):
        _operations(path)


def try_set(path: str, value: str) -> None:
    """Apply an edit as the command line does, and review what came."""
    with contextlib.suppress(LanternError):
        review(apply(small_case(), {path: parse_value(value)}))


@cache
def small_case() -> Any:
    """Give a small channel in time, with one reading."""
    return parse_case(
        {
            "title": "c",
            "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
            "shape": {
                "depth": "1 m",
                "parts": {
                    "run": {
                        "kind": "straight",
                        "start": ["0 mm", "0 mm"],
                        "length": "20 mm",
                        "width": "10 mm",
                    }
                },
            },
            "field": {
                "openings": {
                    "in": {"kind": "velocity", "edge": "run.start", "velocity": "10 mm/s"},
                    "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
                },
                "grid": {"cell": "2.5 mm"},
                "time": {"mode": "transient", "until": "1 s", "step": "0.5 s", "every": "0.5 s"},
            },
            "readings": {"drop": {"kind": "drop", "edge": "run.start", "to": "run.end"}},
        }
    )


PATHS = [
    "title",
    "media.water.density",
    "shape.parts.run.width",
    "shape.parts.run.length",
    "field.grid.cell",
    "field.time.step",
    "field.time.until",
    "field.openings.in.velocity",
    "parameters.a",
    "views.x",
    "variants.B",
    "readings.drop.kind",
]


@cache
def run_folder(base: Path) -> Path:
    """Solve the small case once and give its run folder."""
    from mop_lantern.solve import Solving

    last = list(Solving(settle(small_case()), None, base / "whole").events())[-1]
    return Path(last["run"])


def try_run(which: int, bites: list[tuple[float, bytes, int]], summed: bool, folder: Path) -> None:
    """Open a run with one of its files damaged; ``summed``: with its sum gone too, so that the readers
    themselves meet the damage.
    """
    whole, here = run_folder(folder), folder / "bitten" / "base" / "001"
    shutil.rmtree(here, ignore_errors=True)
    shutil.copytree(whole, here)
    files = sorted(
        path
        for path in here.rglob("*")
        if path.is_file() and path.suffix not in (".sum", ".vtkhdf" if not summed else ".none")
    )
    path = files[which % len(files)]
    path.write_bytes(bitten(path.read_bytes(), bites))
    record, _ = newest_record(folder / "bitten", "")
    with contextlib.suppress(LanternError):
        load_run(here)
    with contextlib.suppress(LanternError):
        mesh = open_answer(here).mesh
        for time in state_times(here):
            open_state(here, time, mesh)
    assert record is None or json.dumps(record.readings)


def campaigns(folder: Path) -> dict[str, tuple[Callable[..., None], Any]]:
    """Give every kind of fuzzing of these doors: what is tried, and on what."""
    quiet = contextlib.redirect_stderr(io.StringIO())

    def silent(call: Callable[..., None], *given: Any) -> None:
        with quiet:
            call(*given)

    return {
        "models": (
            lambda pair: silent(try_model, *pair, folder),
            st.tuples(st.sampled_from(["stl", "stl2", "obj", "ply", "glb"]), BITES),
        ),
        "step files": (
            lambda pair: silent(try_step, *pair, folder),
            st.tuples(
                st.one_of(st.just([]), BITES),
                st.lists(st.tuples(st.floats(0, 1), st.sampled_from(STEP_WORDS)), max_size=4),
            ),
        ),
        "lying counts": (
            lambda pair: silent(try_lying_stl, *pair, folder),
            st.tuples(st.integers(0, 2**32 - 1), st.binary(max_size=300)),
        ),
        "lines of words": (try_words, WORDS),
        "events": (
            lambda text: try_events(text, folder),
            st.one_of(WILD, st.lists(st.lists(WILD, max_size=4).map(",".join), max_size=6).map("\n".join)),
        ),
        "command line edits": (
            lambda pair: try_set(*pair),
            st.tuples(st.one_of(st.sampled_from(PATHS), WILD), WILD),
        ),
        "run folders": (
            lambda pair: try_run(*pair, folder),
            st.tuples(st.integers(0, 20), BITES, st.booleans()),
        ),
    }
