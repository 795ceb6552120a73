"""Drawings: curves, units, islands, open ends, layers; faults in words."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from bench import fuzz
from mop_lantern.case import parse_case, settle
from mop_lantern.errors import FileError
from mop_lantern.shape.drawing import drawing_unit, parts_of, read_drawing


def draw(path: Path, units: int = 4, gap: float = 0.0, branch: bool = False) -> Path:
    """Draw a dome with a rod and an elliptical island, in mm."""
    import ezdxf

    made = ezdxf.new()  # type: ignore[attr-defined]
    made.units = units
    space = made.modelspace()
    space.add_line((0, 0), (100, 0), dxfattribs={"layer": "floor"})
    space.add_line((100, 0), (100, 20), dxfattribs={"layer": "way out"})
    space.add_line((100, 20), (40, 20))
    space.add_arc((30, 20), 10, 0, 180, dxfattribs={"layer": "dome"})
    space.add_line((20, 20), (0, 20))
    space.add_line((0, 20), (0, gap), dxfattribs={"layer": "inlet"})
    space.add_circle((60, 10), 4, dxfattribs={"layer": "rod"})
    space.add_ellipse((80, 10), (3, 0), 0.5)
    space.add_lwpolyline([(10, 8, 0, 0, 0.5), (14, 8, 0, 0, 0.5)], close=True)
    space.add_text("a note")
    if branch:
        space.add_line((50, 0), (50, -10))
    made.saveas(path)
    return path


def test_curves_islands_layers_and_units(tmp_path: Path) -> None:
    drawing = read_drawing(draw(tmp_path / "a.dxf"))
    assert drawing.unit == "mm" and not len(drawing.open_ends) and drawing.skipped == {"texts": 1}
    space, *islands = drawing.loops
    assert not space.island and all(loop.island for loop in islands) and len(islands) == 3
    assert set(space.layers) == {"floor", "way_out", "wall", "dome", "inlet"}
    areas = [
        abs(np.sum(r[:, 0] * np.roll(r[:, 1], -1) - np.roll(r[:, 0], -1) * r[:, 1])) / 2
        for r in (loop.ring for loop in drawing.loops)
    ]
    bulged = (
        4
        * (2 * np.arctan(0.5) * 2 - np.sin(4 * np.arctan(0.5)))
        * (4 / 2 / np.sin(2 * np.arctan(0.5))) ** 2
        / 4
    )
    wanted = [2000 + np.pi * 50, np.pi * 16, np.pi * 3 * 1.5, bulged]
    assert sorted(areas) == pytest.approx(sorted(1e-6 * area for area in wanted), rel=0.01)


def test_what_is_off_the_plane_or_hidden_is_excluded_and_blocks_are_joined(tmp_path: Path) -> None:
    """A rectangle of two lines and a block of two, a brace that rises, a copy one floor up, a hidden hatch of
    lines.
    """
    import ezdxf

    made = ezdxf.new()  # type: ignore[attr-defined]
    made.units = 4
    space = made.modelspace()
    space.add_line((0, 0, 500), (100, 0, 500))
    space.add_line((100, 0, 500), (100, 50, 500))
    block = made.blocks.new("corner")
    block.add_line((0, 0, 0), (-100, 0, 0))
    block.add_line((-100, 0, 0), (-100, -50, 0))
    space.add_blockref("corner", (100, 50, 500))
    space.add_line((0, 0, 500), (100, 50, 900))
    space.add_lwpolyline([(0, 0), (9, 0), (9, 9)], close=True, dxfattribs={"elevation": 3000})
    made.layers.add("help").off()
    space.add_line((0, 0, 500), (100, 50, 500), dxfattribs={"layer": "help"})
    space.add_3dface([(0, 0, 0), (1, 0, 0), (1, 1, 1), (0, 1, 1)])
    made.saveas(tmp_path / "t.dxf")
    drawing = read_drawing(tmp_path / "t.dxf")
    [loop] = drawing.loops
    assert np.ptp(loop.ring, axis=0) == pytest.approx([0.1, 0.05]) and drawing.read == {"lines": 4}
    assert drawing.skipped == {
        "lines off the plane of most": 2,
        "entities on layers that are off or frozen": 1,
        "faces in space": 1,
    }


def test_a_drawing_becomes_a_case_that_solves(tmp_path: Path) -> None:
    parts = parts_of(read_drawing(draw(tmp_path / "a.dxf")), "a.dxf")
    openings = {
        "in": {"kind": "velocity", "edge": "space1.inlet", "velocity": "2 mm/s"},
        "out": {"kind": "static_pressure", "edge": "space1.way_out"},
    }
    case = parse_case(
        {"media": {"w": {"kind": "water"}}, "shape": {"parts": parts}, "field": {"openings": openings}}
    )
    settled = settle(case)
    assert settled.shape.polygon.area == pytest.approx(
        1e-6 * (2000 + np.pi * 50 - np.pi * 16 - np.pi * 4.5), rel=5e-3
    )
    assert settled.shape.edge_lengths["island1.rod"] == pytest.approx(np.pi * 8e-3, rel=5e-3)


@pytest.mark.parametrize(("unit", "metres"), [("in", 0.0254), ("m", 1.0), ("cm", 0.01)])
def test_the_unit_may_be_given_and_must_when_missing(tmp_path: Path, unit: str, metres: float) -> None:
    path = draw(tmp_path / "a.dxf", units=0)
    assert drawing_unit(path) == ""
    with pytest.raises(FileError, match="does not say its unit"):
        read_drawing(path)
    assert np.ptp(read_drawing(path, unit).loops[0].ring[:, 0]) == pytest.approx(100 * metres)
    with pytest.raises(FileError, match="not a unit of length"):
        read_drawing(path, "furlong")


def test_open_ends_are_found_and_sealed(tmp_path: Path) -> None:
    path = draw(tmp_path / "a.dxf", gap=1.5)
    open_ = read_drawing(path)
    assert sorted(open_.open_ends.tolist()) == [
        pytest.approx([0.0, 0.0], abs=1e-9),
        pytest.approx([0.0, 1.5e-3], abs=1e-9),
    ]
    assert open_.joins[0][2] == pytest.approx(1.5e-3)
    assert len(open_.loops) == 3 and all("floor" not in loop.layers for loop in open_.loops), (
        "the open outline is no loop"
    )
    sealed = read_drawing(path, seal=True)
    assert "seal" in sealed.loops[0].layers and len(sealed.loops) == 4 and not len(sealed.open_ends)


def test_lines_that_branch_are_refused_with_their_place(tmp_path: Path) -> None:
    with pytest.raises(FileError, match="more than two lines meet at x = 0.1 m, y = 0 m"):
        path = draw(tmp_path / "b.dxf")
        import ezdxf

        made = ezdxf.readfile(path)  # type: ignore[attr-defined]
        made.modelspace().add_line((100, 0), (120, -10))
        made.saveas(path)
        read_drawing(path)


@pytest.mark.parametrize(
    ("content", "words"),
    [(b"", "DXF"), (b"\x00\x01nonsense", "DXF"), (b"0\nSECTION\n2\nENTITIES\n", "drawing")],
)
def test_what_is_no_drawing_is_told(tmp_path: Path, content: bytes, words: str) -> None:
    path = tmp_path / "x.dxf"
    path.write_bytes(content)
    with pytest.raises(FileError, match=words):
        read_drawing(path, "mm")
    with pytest.raises(FileError, match="no such file"):
        read_drawing(tmp_path / "missing.dxf", "mm")


def test_an_empty_drawing_says_what_it_holds(tmp_path: Path) -> None:
    import ezdxf

    made: Any = ezdxf.new()  # type: ignore[attr-defined]
    made.units = 4
    made.modelspace().add_text("only words")
    made.saveas(tmp_path / "t.dxf")
    with pytest.raises(FileError, match="1 texts"):
        read_drawing(tmp_path / "t.dxf")


def test_scale_and_names_of_a_ring_are_checked() -> None:
    base = {"kind": "drawn", "ring": [[0, 0], [1, 0], [1, 1]], "scale": "0.1"}
    data = {
        "media": {"w": {"kind": "water"}},
        "shape": {"parts": {"s": base}},
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "s.wall"},
                "out": {"kind": "static_pressure", "edge": "s.wall"},
            }
        },
    }
    from mop_lantern.case import review

    result = review(parse_case(data))
    assert result.shape is not None and result.shape.polygon.area == pytest.approx(0.005)
    data["shape"]["parts"]["s"] = {**base, "sides": ["a"]}  # type: ignore[index]
    assert any("1 names for 3 sides" in fault.says for fault in review(parse_case(data)).faults)


def test_damaged_drawings_end_in_words(tmp_path: Path) -> None:
    fuzz.campaign("drawings", tmp_path, 25)
