"""Parse the command line and run a command. Exit 0 done, 1 anything else, 2 bad input, 3 solved but not
trusted.
"""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable
from pathlib import Path

from mop_lantern.errors import CaseError, LanternError, because

Adder = Callable[[str, str], argparse.ArgumentParser]
EXIT_BAD_INPUT = 2


def _variant_and_edits(command: argparse.ArgumentParser) -> None:
    """Let a command look at a variant, and at edits that are not kept."""
    command.add_argument("--variant", default="", help="this variant instead of the base")
    command.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="PATH=VALUE",
        dest="edits",
        help="an edit, e.g. field.openings.feed.flow='0.4 L/s'",
    )


def _network_commands(add: Adder) -> None:
    """Add what is for networks."""
    balance = add(
        "balance",
        "find the openings of valves, dampers or orifices that give lines of a network a wanted flow",
    )
    balance.add_argument("file", type=Path)
    balance.add_argument(
        "--lines",
        required=True,
        metavar="A,B,C",
        help="the lines, each with one valve, damper or orifice plate",
    )
    balance.add_argument(
        "--flow",
        required=True,
        metavar="FLOW",
        help="what each is to get, e.g. '2.4 L/s'",
    )
    _variant_and_edits(balance)
    balance.add_argument(
        "--into",
        default="",
        metavar="VARIANT",
        help="keep the openings in the file as this variant",
    )
    size = add("size", "find sizes of pipes and ducts for the flows they have")
    size.add_argument("file", type=Path)
    size.add_argument(
        "--by",
        required=True,
        metavar="RULE",
        help="a friction such as '0.8 Pa/m', or a velocity such as '1.5 m/s'",
    )
    size.add_argument(
        "--lines",
        default="",
        metavar="A,B,C",
        help="only these lines",
    )
    _variant_and_edits(size)
    size.add_argument(
        "--into",
        default="",
        metavar="VARIANT",
        help="keep the sizes in the file as this variant",
    )


def _ready_command(add: Adder) -> None:
    ready = add("ready", "add a part of a room with the heat it gives off, or list those there are")
    ready.add_argument("file", type=Path, nargs="?")
    ready.add_argument("part", nargs="?", default="", help="what to add, e.g. radiator")
    ready.add_argument("--write", action="store_true", help="keep it in the file")


def _series_command(add: Adder) -> None:
    series = add("series", "spread a patch and its opening evenly over the face it lies on, named in series")
    series.add_argument("file", type=Path)
    series.add_argument("of", metavar="OPENING", help="an opening at a patch, or the patch")
    series.add_argument("how_many", metavar="4x2", help="along the face and across it")
    series.add_argument("--write", action="store_true", help="keep it in the file")


def _window_commands(add: Adder) -> None:
    """Add what opens the window."""
    demo = add("demo", "open the window on a demo case")
    demo.add_argument("name", nargs="?", help="which demo; without it the starters")
    demo.add_argument("--list", action="store_true", help="list the demos")
    demo.add_argument(
        "--shot",
        type=Path,
        metavar="FILE.png",
        help="draw the window at 1280x800 into a file and exit",
    )
    opened = add("open", "open the window on a case file")
    opened.add_argument("file", type=Path)
    opened.add_argument(
        "--shot",
        type=Path,
        metavar="FILE.png",
        help="draw the window at 1280x800 into a file and exit",
    )


def _solve_command(add: Adder) -> None:
    """Add what solves."""
    solve = add("solve", "solve a case and print one JSON object")
    solve.add_argument("file", type=Path)
    _variant_and_edits(solve)
    solve.add_argument("--grid", choices=("sketch", "working", "fine"), help="grid level")
    solve.add_argument(
        "--from",
        dest="start",
        default="",
        metavar="RUN[@TIME]",
        help="begin from a solution, or from one of its kept states at a time in seconds",
    )
    solve.add_argument(
        "--out",
        type=Path,
        metavar="DIR",
        help="folder for the solution (default: NAME.runs beside the case)",
    )
    solve.add_argument(
        "--events",
        action="store_true",
        help="print the solver's events, one JSON object a line, on standard error",
    )
    solve.add_argument(
        "--operate",
        type=Path,
        metavar="FILE.csv",
        help="work a network by a file of time, path, value",
    )


def _looking_commands(add: Adder) -> None:
    """Add what looks at a case."""
    for name, help in (("show", "print the case as sentences"), ("check", "print margin notes and faults")):
        command = add(name, help)
        command.add_argument("file", type=Path)
        _variant_and_edits(command)


def _export_command(add: Adder) -> None:
    """Add what takes results out."""
    export = add("export", "export a solution")
    export.add_argument("run", type=Path, help="folder of a solution (…/NNN)")
    export.add_argument(
        "--to",
        type=Path,
        required=True,
        metavar="FILE",
        help="FILE.csv, .png, .mp4, .gif, .vtkhdf or .vtu",
    )
    export.add_argument(
        "--quantity",
        default="speed",
        help="what a picture is coloured by: pressure, total, speed, u, v, T, age or c.ID",
    )
    export.add_argument(
        "--line",
        default="",
        metavar="NAME",
        help=(
            "as FILE.csv: a profile along the line of a reading, or along x,y:x,y in metres; --quantity "
            "u,pressure names what"
        ),
    )
    export.add_argument(
        "--network",
        action="store_true",
        help="as FILE.csv: the components of the network, to be changed and imported again",
    )
    export.add_argument(
        "--case",
        type=Path,
        help="as FILE.csv: the readings this case file asks for now, taken on the stored solution",
    )


def _import_command(add: Adder) -> None:
    """Add what brings things in."""
    brought = add(
        "import",
        (
            "bring a drawing (DXF), a model (STEP, STL, OBJ, PLY, GLB), a table (CSV) or lines of words "
            "(TXT) for a network into a case file"
        ),
    )
    brought.add_argument(
        "file", type=Path, help="FILE.dxf, FILE.step, .stl, .obj, .ply, .glb, FILE.csv or FILE.txt"
    )
    brought.add_argument(
        "--into",
        type=Path,
        required=True,
        metavar="CASE.lantern",
        help="the case; a new one is made when there is none",
    )
    brought.add_argument(
        "--unit", default="", help="unit of the drawing where it does not say, or of the model"
    )
    brought.add_argument(
        "--seal",
        action="store_true",
        help="join open ends of the drawing with straight lines; close open rims of the model",
    )
    brought.add_argument(
        "--as",
        dest="key",
        default="",
        metavar="ID",
        help=(
            "id of the table or model (default: table1 ... or model1 ...); a model of that id is replaced, "
            "its names kept"
        ),
    )
    brought.add_argument(
        "--fluid",
        default="",
        choices=("inside", "around", "model"),
        help=(
            "where the fluid is: inside the model, its open ends capped; around it, in a box; or the model "
            "itself (as it comes)"
        ),
    )
    brought.add_argument(
        "--split",
        default="",
        choices=("body", "layer"),
        help="make every body, or every layer, of the model a part of its own, so that each has its role",
    )
    brought.add_argument(
        "--under",
        default="",
        metavar="SIZE",
        help="exclude bodies whose box has a shorter diagonal, such as bolts",
    )
    _wrap_options(brought)


def _wrap_options(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--wrap",
        default="",
        metavar="SIZE",
        help="wrap the model watertight: gaps narrower than SIZE are closed, smaller features lost",
    )
    command.add_argument(
        "--within",
        default="",
        metavar="X,Y,Z",
        help="wrap the space inside about this place, not the model from outside",
    )


def _wrap_command(add: Adder) -> None:
    """Add what wraps a model."""
    wrap = add("wrap", "wrap a model that is in a case watertight, at a feature size")
    wrap.add_argument("file", type=Path, help="CASE.lantern; it is changed")
    wrap.add_argument("--as", dest="key", default="", metavar="ID", help="which model, where there are more")
    _wrap_options(wrap)


def _faces_command(add: Adder) -> None:
    """Add what lists faces."""
    faces = add("faces", "list the bodies, faces and rims of a model file, or the faces or edges of a case")
    faces.add_argument("file", type=Path, help="CASE.lantern, or FILE.step, .stl, .obj, .ply or .glb")
    faces.add_argument("--unit", default="", help="unit of a model file that does not say it")
    faces.add_argument("--json", action="store_true", help="as JSON, lengths in m")
    faces.add_argument(
        "--rename",
        action="append",
        default=[],
        metavar="FACE=NAME",
        help="give a face of a model in the case another name, wherever it is named",
    )
    faces.add_argument(
        "--together",
        action="append",
        default=[],
        metavar="ID=RULE",
        help=(
            "take faces of the case together as ID.face: a pattern with * and ?, plane=FACE, touching=FACE, "
            "alike=FACE, layer=NAME or colour=#rrggbb"
        ),
    )


def _geometry_command(add: Adder) -> None:
    """Add what writes geometry."""
    geometry = add("geometry", "write the fluid and the solids of a space as STEP, STL, OBJ, PLY or GLB")
    geometry.add_argument("file", type=Path, help="CASE.lantern")
    geometry.add_argument("--to", type=Path, required=True, metavar="FILE", help="FILE.step, .stl, .obj, ...")
    geometry.add_argument(
        "--of",
        action="append",
        default=[],
        metavar="REGION",
        help="fluid, or the id of a solid part; as often as wanted (default: all)",
    )


def _bench_command(add: Adder) -> None:
    """Add what measures the program."""
    bench = add("bench", "check accuracy against references, or measure speed")
    bench.add_argument("--accuracy", action="store_true")
    bench.add_argument("--speed", action="store_true")
    bench.add_argument(
        "--models", action="store_true", help="bring in the corpus of models, clean and spoilt"
    )
    bench.add_argument(
        "--case",
        action="append",
        default=[],
        metavar="ID",
        help="only this case, e.g. O-5.4",
    )
    bench.add_argument(
        "--trust",
        action="store_true",
        help=(
            "over cases with known values: how often the trust list is wrong, and how often a band misses "
            "the truth"
        ),
    )
    bench.add_argument("--json", action="store_true")
    bench.add_argument(
        "--fuzz",
        type=int,
        default=0,
        metavar="N",
        help="try N damaged case files, expressions, edits, tables and drawings",
    )
    bench.add_argument(
        "--kills",
        type=int,
        default=0,
        metavar="N",
        help="kill a solver or its caller N times at any moment; what was stored must open or say why not",
    )
    bench.add_argument(
        "--window",
        action="store_true",
        help="with --kills: kill windows in the middle of edits that are followed",
    )


def parser() -> argparse.ArgumentParser:
    """Make the parser of all commands."""
    top = argparse.ArgumentParser(
        prog="mop-lantern", description="Model flow through passages, see it, judge it, revise the shape."
    )
    commands = top.add_subparsers(
        dest="command",
        required=True,
        metavar="COMMAND",
    )

    def add(name: str, help: str) -> argparse.ArgumentParser:
        return commands.add_parser(name, help=help, description=help)

    _window_commands(add)
    _solve_command(add)
    _network_commands(add)
    _ready_command(add)
    _series_command(add)
    _looking_commands(add)
    _export_command(add)
    _import_command(add)
    _faces_command(add)
    _wrap_command(add)
    _geometry_command(add)
    _bench_command(add)
    add("schema", "print the JSON Schema of case files")
    add("test", "run the tests").add_argument("--all", action="store_true", help="the long tests too")
    add("shots", "refresh docs/screenshots")
    return top


def main(argv: list[str] | None = None) -> int:
    """Run one command and give its exit code; problems are told in words on standard error."""
    options = parser().parse_args(argv)
    from mop_lantern.cli import commands

    try:
        return int(getattr(commands, f"run_{options.command}")(options))
    except CaseError as problem:
        for fault in problem.faults:
            print(fault, file=sys.stderr)
        return EXIT_BAD_INPUT
    except LanternError as problem:
        print(problem, file=sys.stderr)
        return (
            EXIT_BAD_INPUT
            if options.command
            in (
                "solve",
                "show",
                "check",
                "open",
                "export",
                "demo",
                "import",
                "faces",
                "wrap",
                "geometry",
                "ready",
                "series",
            )
            else 1
        )
    except KeyboardInterrupt:
        return 1
    except BrokenPipeError:  # the reader of our output has gone
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1
    except (
        ValueError,
        OSError,
        RecursionError,
        MemoryError,
        OverflowError,
    ) as problem:  # the last door: no traceback reaches a person
        print(
            (
                f"{options.command}: this could not be done{because(problem)}. Check the input; if it is "
                "right, this is a fault of the program."
            ),
            file=sys.stderr,
        )
        return 1
