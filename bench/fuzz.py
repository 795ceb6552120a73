"""Fuzzing: mutated case files, expressions, tables and drawings must end in words, never in a traceback, a
hang or a lost file.

``python -m bench.fuzz N`` tries N files; the tests try a few of the same.
"""

from __future__ import annotations

import copy
import json
import resource
import sys
import tempfile
import time
import traceback
from collections.abc import Callable
from pathlib import Path
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from bench import fuzz_files
from mop_lantern.case import apply, load, parse_columns, review, save
from mop_lantern.case.drafts import fingerprint
from mop_lantern.errors import LanternError
from mop_lantern.shape.drawing import parts_of, read_drawing
from mop_lantern.units import DIMENSIONS, UnitFault, evaluate

DEMOS = Path(__file__).parents[1] / "src" / "mop_lantern" / "demos"
SLOWEST = 5.0  # s of the processor for one input, once what it needs is loaded
MOST_MEMORY = 1 << 30  # bytes
_CASES: list[dict[str, Any]] = [
    json.loads(path.read_text("utf-8")) for path in sorted(DEMOS.glob("*.lantern"))
]

TEXTS = st.one_of(
    st.sampled_from(
        [
            "",
            " ",
            "0",
            "-1 mm",
            "1e400 m",
            "= ",
            "= x",
            "= 1/0",
            "= t",
            "nan",
            "inf",
            "5 mm",
            "1 kg",
            "= sin(",
            "= a" * 40,
            "°C",
            "=20 °C + 3 K",
            "= -(1 mm)**99",
        ]
    ),
    st.text(max_size=30),
    st.from_regex(r"= ?[-+*/() 0-9.a-z]{0,40}", fullmatch=True),
    st.builds(
        lambda number, unit: f"{number} {unit}",
        st.floats(allow_nan=True),
        st.sampled_from(["mm", "m", "Pa", "m/s", "K", "°C", "deg", "", "L/s", "1/K", "W/m/K"]),
    ),
)
JUNK = st.recursive(
    st.one_of(st.none(), st.booleans(), st.integers(), st.floats(), TEXTS),
    lambda inner: st.one_of(
        st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=8), inner, max_size=3)
    ),
    max_leaves=6,
)


def _places(data: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    found = [path] if path else []
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        found += _places(value, (*path, key))
    return found


_PLACES = [_places(case) for case in _CASES]


@st.composite
def documents(draw: Any) -> Any:
    """Give a demo with one to three places replaced, removed or doubled."""
    which = draw(st.integers(0, len(_CASES) - 1))
    data = copy.deepcopy(_CASES[which])
    for _ in range(draw(st.integers(1, 3))):
        path = draw(st.sampled_from(_PLACES[which]))
        here: Any = data
        try:
            for step in path[:-1]:
                here = here[step]
            change = draw(st.sampled_from(["junk", "text", "remove", "twin"]))
            if change == "remove":
                del here[path[-1]]
            elif change == "twin" and isinstance(here, dict):
                here[f"{path[-1]}x"] = copy.deepcopy(here[path[-1]])
            else:
                here[path[-1]] = draw(JUNK if change == "junk" else TEXTS)
        except (KeyError, IndexError, TypeError):
            continue
    return data


def try_document(data: Any, folder: Path) -> None:
    """Load a file, review it, save it: words or success; a saved file reads back as the same case."""
    path = folder / "case.lantern"
    path.write_text(json.dumps(data), "utf-8")
    before = fingerprint(path)
    try:
        case = load(path)
    except LanternError as problem:
        assert str(problem).strip()
        assert fingerprint(path) == before
        return
    review(case, None)
    save(case, path)
    assert load(path) == case


def try_expression(text: str) -> None:
    """Work a value out in every dimension."""
    for dimension in ("length", "temperature", "fraction", "number"):
        assert dimension in DIMENSIONS
        try:
            evaluate(text, dimension, {})
        except UnitFault as fault:
            assert str(fault).strip()


def try_edit(path: str, value: Any) -> None:
    """Apply an edit."""
    from mop_lantern.case import parse_case

    case = parse_case(_CASES[0])
    try:
        apply(case, {path: value})
    except LanternError as problem:
        assert str(problem).strip()


TABLES = st.one_of(
    st.text(max_size=200),
    st.lists(
        st.lists(st.one_of(st.floats(allow_nan=False).map(str), st.text(max_size=6)), min_size=1, max_size=4),
        min_size=1,
        max_size=8,
    ).map(lambda rows: "\n".join(";".join(row) for row in rows)),
    st.builds(
        lambda head, rows: head + "\n" + rows,
        st.sampled_from(["y [mm]; u [m/s]", "t, s;p, Pa", "a,b", "x (furlong),y"]),
        st.text("0123456789.,;eE-+\n ", max_size=120),
    ),
)


def try_table(text: str) -> None:
    """Read a table."""
    try:
        made = parse_columns(text, "table.csv")
    except LanternError as problem:
        assert str(problem).strip()
        return
    assert len(made.rows) >= 2 and all(len(row) == len(made.names) for row in made.rows)


def _drawing_text() -> str:
    import io

    import ezdxf

    drawing = ezdxf.new()  # type: ignore[attr-defined]
    drawing.units = 4
    space = drawing.modelspace()
    space.add_lwpolyline(
        [(0, 0), (50, 0, 0, 0, 0.3), (50, 20), (0, 20)], close=True, dxfattribs={"layer": "walls"}
    )
    space.add_circle((25, 10), 4, dxfattribs={"layer": "rod"})
    space.add_line((0, 40), (10, 40))
    space.add_spline([(0, 60, 0), (5, 62, 0), (9, 57, 0), (12, 60, 0)])
    space.add_ellipse((30, 60), (5, 0), 0.4)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue()


_DRAWING = _drawing_text().splitlines()
DRAWINGS = st.lists(
    st.tuples(
        st.integers(0, len(_DRAWING) - 1),
        st.one_of(st.text(max_size=12), st.integers().map(str), st.floats().map(str), st.just("\x00")),
    ),
    min_size=1,
    max_size=6,
)


def try_drawing(changes: list[tuple[int, str]], folder: Path) -> None:
    """Read a damaged drawing."""
    lines = list(_DRAWING)
    for at, text in changes:
        lines[at] = text.replace("\n", " ")
    path = folder / "drawing.dxf"
    path.write_text("\n".join(lines), "utf-8", errors="replace")
    try:
        parts_of(read_drawing(path, "mm"), "drawing.dxf")
    except LanternError as problem:
        assert str(problem).strip()


def campaigns(folder: Path) -> dict[str, tuple[Callable[..., None], Any]]:
    """Give every kind of fuzzing: what is tried, and on what."""
    return {
        "case files": (lambda data: try_document(data, folder), documents()),
        "expressions": (try_expression, TEXTS),
        "edits": (
            lambda pair: try_edit(*pair),
            st.tuples(
                st.one_of(
                    st.text(max_size=30), st.sampled_from([".".join(map(str, path)) for path in _PLACES[0]])
                ),
                JUNK,
            ),
        ),
        "tables": (try_table, TABLES),
        "drawings": (lambda changes: try_drawing(changes, folder), DRAWINGS),
        **fuzz_files.campaigns(folder),
    }


def campaign(name: str, folder: Path, count: int) -> None:
    """Try so many inputs of one kind; raise what an input raises."""
    check, inputs = campaigns(folder)[name]
    rare = max(1, count // fuzz_files.RARE.get(name, 1))
    quiet = [
        HealthCheck.too_slow,
        HealthCheck.data_too_large,
        HealthCheck.filter_too_much,
        HealthCheck.large_base_example,
    ]

    @settings(max_examples=rare, deadline=None, database=None, suppress_health_check=quiet)
    @given(inputs)
    def run(value: Any) -> None:
        began = time.process_time()
        check(value)
        if time.process_time() - began > SLOWEST:
            again = time.process_time()  # the first of its kind may have loaded a library
            check(value)
            assert time.process_time() - again <= SLOWEST, f"took {time.process_time() - again:.1f} s"

    run()


def main() -> int:
    """Try N inputs, as many of each kind; exit 1 if one is not met with words, takes more than 5 s, or more
    than 1 GB of memory.
    """
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    failed = 0
    with tempfile.TemporaryDirectory() as made:
        kinds = campaigns(Path(made))
        each = max(1, count // len(kinds))
        _hold_memory()
        for name in kinds:
            began = time.perf_counter()
            try:
                campaign(name, Path(made), each)
                print(
                    (
                        f"ok  {max(1, each // fuzz_files.RARE.get(name, 1)):,} {name} in "
                        f"{time.perf_counter() - began:.0f} s"
                    ),
                    flush=True,
                )
            except Exception:  # told, and the other doors are tried all the same
                failed += 1
                print(f"FAIL {name}\n{traceback.format_exc()[-3000:]}", flush=True)
    return 1 if failed else 0


def _hold_memory() -> None:
    """Let this process have a gigabyte more than it has, so that an input that wants all memory fails in its
    place.
    """
    now = int(Path("/proc/self/statm").read_text("ascii").split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (now + MOST_MEMORY, resource.RLIM_INFINITY))


if __name__ == "__main__":
    sys.exit(main())
