"""What comes through the doors: files that are none, sums without end, values that would take all memory.
Each ends in words, soon.
"""

from __future__ import annotations

import json
import os
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import apply, lines_of, load, parse_case, read_columns, review, save, settle
from mop_lantern.cli import main
from mop_lantern.errors import CaseError, EditError, FileError, RunError
from mop_lantern.numerics import memory
from mop_lantern.shape.drawing import _joins, read_drawing
from mop_lantern.shape.model import packed, unpacked
from mop_lantern.shape.reading import read_model
from mop_lantern.solve import prepare
from mop_lantern.units import UnitFault
from mop_lantern.units.expression import evaluate
from mop_lantern.units.quantity import read

DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"


@pytest.fixture(autouse=True)
def soon() -> Iterator[None]:
    """Fail what takes more than five seconds of computing."""
    began = time.process_time()
    yield
    assert time.process_time() - began < 5


@pytest.mark.parametrize(
    "text",
    [
        "1 m**9**9**9",
        "1 m**(9**9)",
        "1 m**99",
        "1 m" + " " * 30_000 + "x",
        " " * 30_000,
        "1" * 6000 + " m",
        "1 " + "m" * 10_000,
        "1e249 mm m",
    ],
)
def test_quantities_without_end_are_refused(text: str) -> None:
    with pytest.raises(UnitFault):
        read(text, "length")


@pytest.mark.parametrize(
    "text",
    [
        "= sqrt(0 - 4 m2)",
        "= (0 - 2) ** 0.5 * 1 m",
        "= 9 ** 9 ** 9 * 1 m",
        "= " + "(" * 400 + "1 m" + ")" * 400,
        "= 1" + "0" * 450 + " m",
        "= sqrt(-1 m2)",
    ],
)
def test_expressions_that_are_no_number_are_refused(text: str) -> None:
    with pytest.raises(UnitFault):
        evaluate(text, "length", {})


def test_parameters_that_sum_all_others_and_chains_of_a_thousand(channel: dict[str, Any]) -> None:
    names = [f"p{k}" for k in range(60)]
    summing = {
        name: {"value": "1 mm" if not k else f"= ({' + '.join(names[:k])}) / {k}"}
        for k, name in enumerate(names)
    }
    chain = {f"c{k}": {"value": "10 mm" if not k else f"= c{k - 1}"} for k in range(1500)}
    channel["parameters"] = {**summing, **chain, "gap": {"value": "= c1499 + 0 * p59"}}
    assert settle(parse_case(channel)).numbers.shape.parts["run"].width == pytest.approx(0.01)
    channel["parameters"]["c0"] = {"value": "= c1499"}
    faults = review(parse_case(channel)).faults
    assert any("circle" in fault.says for fault in faults)


def test_files_that_are_no_case_are_told(tmp_path: Path, channel: dict[str, Any]) -> None:
    good = json.dumps(channel)
    twice = "{" + ",".join(f'"k{k}": 1' for k in range(50_000)) + ', "k49999": 2}'
    texts = {
        "digits": good.replace('"channel"', '"channel", "schema": ' + "9" * 5000),
        "twice": twice,
        "views": good[:-1] + ', "views": ' + '{"a":' * 400 + "1" + "}" * 400 + "}",
        "half": good.replace("channel", "\\ud800"),
        "deep": "[" * 200_000,
    }
    for name, text in texts.items():
        path = tmp_path / f"{name}.lantern"
        path.write_text(text)
        with pytest.raises((CaseError, FileError)):
            load(path)
    os.mkfifo(tmp_path / "pipe.lantern")
    for path in (tmp_path / "pipe.lantern", Path("/dev/zero"), tmp_path, Path("a\0b"), tmp_path / "none"):
        for reader in (load, read_columns, lambda p: read_model(p, "mm"), lambda p: read_drawing(p, "mm")):
            with pytest.raises(FileError):
                reader(path)
    with pytest.raises(EditError, match="half a character"):
        apply(parse_case(channel), {"title": "\ud800"})
    with pytest.raises(FileError):
        save(parse_case(channel), Path("a\0b.lantern"))


def test_the_command_line_ends_in_words(
    tmp_path: Path, channel: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "c.lantern"
    file.write_text(json.dumps(channel))
    events = tmp_path / "e.csv"
    events.write_text("time,path,value\n0," + "x" * 200_000 + ",1\n")
    for command in (
        ["solve", str(file), "--operate", str(events)],
        ["show", "a\0b"],
        ["export", str(tmp_path), "--to", str(tmp_path / "no" / "x.csv")],
        ["check", str(file), "--set", "media.water.density=1e249 kg/m3"],
    ):
        assert main(command) in (1, 2), command
        assert "Traceback" not in capsys.readouterr().err


def test_a_shut_valve_before_a_demand_and_fluids_that_meet_are_bad_input(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    valve = {"kind": "valve", "opening": "0 %"}
    network: dict[str, Any] = {
        "nodes": {"a": {"kind": "reservoir", "level": "5 m"}, "j": {"kind": "junction", "take": "1 L/s"}},
        "lines": {"r": {"start": "a", "end": "j", "parts": {"v": valve}}},
    }
    case: dict[str, Any] = {
        "title": "n",
        "media": {"water": {"kind": "water"}, "oil": {"kind": "oil"}},
        "network": network,
    }
    file = tmp_path / "n.lantern"
    file.write_text(json.dumps(case))
    assert main(["solve", str(file)]) == 2
    assert "network.nodes.j" in capsys.readouterr().err
    network["lines"]["s"] = {"start": "j", "end": "a", "fluid": "oil", "parts": {"v": {"kind": "valve"}}}
    file.write_text(json.dumps(case))
    assert main(["solve", str(file)]) == 2
    assert "network.lines" in capsys.readouterr().err


def test_lines_of_words_do_not_backtrack() -> None:
    with pytest.raises(EditError):
        lines_of("From " + "a " * 20_000 + " through b", parse_case({"title": "n"}))
    with pytest.raises(EditError):
        lines_of("From a through " + "to " * 600 + ";", parse_case({"title": "n"}))


def test_loose_lines_by_the_thousand_are_joined_without_a_square_of_them() -> None:
    import numpy as np

    x = np.arange(6000.0)
    loose = np.column_stack([x, 0.001 * (x % 2)])
    joins = _joins(loose + np.array([0.3, 0.0]) * (x % 2)[:, None])
    assert len(joins) == 3000 and sorted(far for *_, far in joins)[-2] < 0.8


def test_drawings_beyond_reason_are_refused(tmp_path: Path) -> None:
    import ezdxf

    drawing = ezdxf.new()  # type: ignore[attr-defined]
    drawing.modelspace().add_circle((0, 0), 1e300)
    drawing.saveas(tmp_path / "huge.dxf")
    nested = ezdxf.new()  # type: ignore[attr-defined]
    for level in range(7):
        block = nested.blocks.new(f"b{level}")
        if level:
            for k in range(9):
                block.add_blockref(f"b{level - 1}", (k, 0))
        else:
            block.add_line((0, 0), (1, 1))
    nested.modelspace().add_blockref("b6", (0, 0))
    nested.saveas(tmp_path / "nested.dxf")
    with pytest.raises(FileError):
        read_drawing(tmp_path / "huge.dxf", "mm")


def test_models_that_lie_about_themselves_are_refused(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import base64
    import struct
    import zlib

    flat = struct.pack("<12fH", 0, 0, 1, 0, 0, 0, 1, 0, 0, 2, 0, 0, 0)
    for name, data in {
        "lying": b"\0" * 80 + struct.pack("<I", 4_000_000_000) + flat,
        "no area": b"\0" * 80 + struct.pack("<I", 1) + flat,
        "empty": b"",
        "solid": b"solid\n",
    }.items():
        path = tmp_path / f"{name}.stl"
        path.write_bytes(data)
        with pytest.raises(FileError) as told:
            read_model(path, "mm")
        assert "charset" not in str(told.value)
    monkeypatch.setattr("mop_lantern.shape.model.UNPACKED", 4_000_000)
    bomb = base64.b64encode(zlib.compress(b"\0" * 40_000_000, 9)).decode()
    with pytest.raises(ValueError, match="damaged"):
        unpacked(bomb, ["a"])
    assert packed


def test_grids_and_times_that_would_take_everything_are_refused_before(
    channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    case = parse_case(channel)
    for edits in (
        {"field.grid.cell": "1e-6 mm"},
        {"shape.parts.run.length": "900 km"},
        {"field.grid.aspect": "0.05", "field.grid.across": "100", "field.grid.cell": "1e-3 mm"},
    ):
        with pytest.raises((RunError, CaseError)) as told:
            prepare(settle(apply(case, edits)))
        assert "cell" in str(told.value)
    timed = {"field.time.mode": "transient", "field.time.until": "1 s"}
    for edits in ({"field.time.step": "1e-12 s"}, {"field.time.every": "1e-9 s"}):
        assert any("field.time" in fault.path for fault in review(apply(case, timed | edits)).faults)
    monkeypatch.setattr(memory, "free_memory", lambda: 1e5)
    with pytest.raises(RunError, match="GB"):
        prepare(settle(case))


def test_a_duct_as_wide_as_a_country_is_named() -> None:
    """Its loss is lost in rounding beside that of its neighbours."""
    case = load(DEMOS / "duct-tree.lantern")
    faults = review(apply(case, {"network.lines.second.parts.duct.width": "1000 km"})).faults
    assert [fault.path for fault in faults] == ["network.lines.second"]
    assert "next to nothing" in faults[0].says and "units" in faults[0].remedy


def test_a_reading_of_what_is_not_solved_says_that_alone() -> None:
    """Its limit, in minutes, is not held against it."""
    case = apply(load(DEMOS / "feed-store.lantern"), {"field.age.solve": False})
    assert [fault.path for fault in review(case).faults] == ["readings.stagnant.quantity"]


@pytest.mark.parametrize(
    ("name", "says", "remedy"),
    [
        ("temperature", "“temperature” is what the quantity T is called.", "Write T."),
        ("Static pressure", "“Static pressure” is what the quantity pressure is called.", "Write pressure."),
        (
            "warmth",
            "“warmth” is not solved in this case.",
            "Choose one of: pressure (static pressure), total",
        ),
    ],
)
def test_a_quantity_by_what_it_is_called_on_screen_is_told_its_name(
    name: str, says: str, remedy: str
) -> None:
    """The list of names to choose from held “temperature” where T is what counts."""
    reading = {"kind": "point", "at": ["1 m", "0.5 m"], "quantity": name}
    faults = review(apply(load(DEMOS / "nursery-room.lantern"), {"readings.extra": reading})).faults
    (fault,) = faults
    assert fault.path == "readings.extra.quantity" and fault.says == says and fault.remedy.startswith(remedy)
    assert "T (temperature)" in fault.remedy or fault.remedy.startswith("Write")


def test_what_is_not_solved_is_told_how_to_be_by_either_name() -> None:
    for name in ("T", "temperature"):
        reading = {"kind": "point", "at": ["1 m", "0.5 m"], "quantity": name}
        faults = review(apply(load(DEMOS / "air-plenum.lantern"), {"readings.extra": reading})).faults
        assert [fault.remedy for fault in faults] == ["Set temperature to solved."]
        assert faults[0].says == "“temperature” is not solved in this case."
