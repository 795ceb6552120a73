"""Hollows of solid models: lids, leaks told with their way, the wet point; faces taken together; wetted
volume and area.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh

from mop_lantern.case import Case, apply, quick_shape, review
from mop_lantern.shape.join import _joined, bodies_of, join
from mop_lantern.shape.model import packed
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.wet import inner_place
from tests.shape import hollow_models as made
from tests.shape.test_solids import part, space

BORE, LENGTH = 0.012, 0.1
AROUND = 48 * np.sin(2 * np.pi / 96)  # area of a polygon of 96 corners over the square of its radius


def metal(path: Path, drain: float = 0.0) -> dict[str, Any]:
    """Give a thick-walled tube of 40 mm about a bore of 24 mm, read from a file; with a drilled hole of a
    diameter (m) through its wall downwards.
    """
    solids = {
        "out": part("cylinder", length=LENGTH, diameter=0.04),
        "bore": part("cylinder", x=-0.01, length=LENGTH + 0.02, diameter=2 * BORE),
        "drill": part("cylinder", x=0.03, z=-0.05, rise=np.pi / 2, length=0.05, diameter=drain or 1e-3),
    }
    bodies = bodies_of(solids)
    if not drain:
        del bodies["drill"]
    mesh = _joined(bodies, {"out": "fluid", "bore": "void", "drill": "void"})[0].to_mesh64()
    trimesh.Trimesh(
        np.asarray(mesh.vert_properties), np.asarray(mesh.tri_verts).astype(int), process=False
    ).export(path)
    model = read_model(path, "m")
    return {
        "kind": "model",
        "role": "solid",
        "source": path.name,
        "names": list(model.names),
        "mesh": packed(model),
    }


def hollow(tmp_path: Path, drain: float = 0.0, **more: Any) -> Case:
    """Give the case of what flows through the tube."""
    made = space(
        {
            "metal": metal(tmp_path / "tube.stl", drain),
            "water": {"kind": "internal_volume", "of": "metal"},
            **more,
        }
    )
    return apply(made, {"shape.wet": [["20 mm", "2 mm", "1 mm"]]})


def test_a_hollow_closed_by_lids_is_the_bore(tmp_path: Path) -> None:
    """Solid geometry: the bore's volume, and its ends as faces that openings can sit on."""
    case = hollow(tmp_path, ends={"kind": "cap", "of": "metal"})
    flow = {"kind": "volume_flow", "edge": "ends.cap1", "flow": "2 mL/s"}
    case = apply(
        case, {"field.openings.a": flow, "field.openings.b": {"kind": "static_pressure", "edge": "ends.cap2"}}
    )
    found = review(case)
    assert not found.blocked and found.shape is not None, found.faults
    assert set(found.shape.solids) == {"metal"}, "lids hold nothing"
    assert found.shape.volume == pytest.approx(AROUND * BORE**2 * LENGTH, rel=1e-4)
    assert found.shape.edge_lengths["ends.cap1"] == pytest.approx(AROUND * BORE**2, rel=1e-4)
    text = next(note.text for note in found.notes if note.kind == "wet_space")
    assert "Fluid fills 0.04521 L" in text and "9.041 cm² of openings" in text


def test_a_leak_is_told_with_the_way_through_the_gap(tmp_path: Path) -> None:
    case = hollow(tmp_path, drain=0.003, ends={"kind": "cap", "of": "metal"})
    [fault] = [fault for fault in review(case).faults if fault.path == "shape.wet"]
    line = np.array(fault.lines[0])
    assert "to the outside through an open end 3 mm wide about (30, 0, -19.9" in fault.says
    assert len(fault.lines) == 2 and np.abs(np.array(fault.lines[1])[:, 2] + 0.02).max() < 3e-4
    assert line[0] == pytest.approx([0.02, 0.002, 0.001]) and line[-1, 2] < -0.02, (
        "from the wet point out below"
    )
    in_wall = line[(line[:, 2] < -1.1 * BORE) & (line[:, 2] > -0.019)]
    assert len(in_wall) and np.hypot(in_wall[:, 0] - 0.03, in_wall[:, 1]).max() < 0.0016, (
        "through the drilled hole"
    )
    shown = quick_shape(case)
    assert shown is not None and shown.volume > 1e-4, "all there is can still be looked at"
    mended = apply(
        case,
        {
            "shape.solids.plug": {
                "kind": "cylinder",
                "role": "void",
                "x": "30 mm",
                "z": "-15 mm",
                "rise": "-90 deg",
                "length": "20 mm",
                "diameter": "5 mm",
            }
        },
    )
    assert not [fault for fault in review(mended).faults if fault.path == "shape.wet"]


def test_the_mouth_is_told_not_the_throat_before_it(tmp_path: Path) -> None:
    """A bell of 250 mm before a throat of 100 mm, both ends open but for the far one."""
    outer = made.fused(made.along((0, 0, 1), 0.06, 0.3), made.along((0, 0, 1), 0.13, 0.1))
    body = made.less(
        outer, made.along((0, 0, 1), 0.05, 0.31), made.along((0, 0, 1), 0.125, 0.11, (0, 0, -0.02))
    )
    model = read_model(made.saved(body, tmp_path / "bell.stl"), "m")
    metal = {"kind": "model", "role": "solid", "names": list(model.names), "mesh": packed(model)}
    parts = {
        "metal": metal,
        "water": {"kind": "internal_volume", "of": "metal"},
        "end": {"kind": "cap", "of": "metal", "holes": "one", "z": "300 mm"},
    }
    case = apply(space(parts), {"shape.wet": [["0 mm", "0 mm", "200 mm"]]})
    [fault] = [fault for fault in review(case).faults if fault.path == "shape.wet"]
    assert "through an open end 250 mm wide about (0, 0, 0) mm" in fault.says


def test_a_gap_too_fine_to_be_seen_is_told_all_the_same(tmp_path: Path) -> None:
    case = hollow(tmp_path, drain=0.0001, ends={"kind": "cap", "of": "metal"})
    [fault] = [fault for fault in review(case).faults if fault.path == "shape.wet"]
    assert "through a gap narrower than" in fault.says and not fault.lines


@pytest.mark.parametrize(
    ("edits", "words"),
    [
        ({"shape.wet": [["20 mm", "22 mm", "0 mm"]]}, "gets from the wet point|outside the walls"),
        ({"shape.wet": []}, "several|do not touch|which is not said"),
        ({"shape.solids.ends.of": "water"}, "no hole in a flat face"),
        ({"shape.wet": [["20 mm", "15 mm", "0 mm"]]}, "lies in a wall"),
    ],
)
def test_hollows_that_cannot_be_are_refused_at_their_line(
    tmp_path: Path, edits: dict[str, Any], words: str
) -> None:
    import re

    case = apply(hollow(tmp_path, ends={"kind": "cap", "of": "metal"}), edits)
    assert any(re.search(words, fault.says) for fault in review(case).faults), review(case).faults


def test_one_lid_takes_the_nearest_hole(tmp_path: Path) -> None:
    case = hollow(tmp_path, one={"kind": "cap", "of": "metal", "holes": "one", "x": "100 mm"})
    shape = quick_shape(case)
    assert shape is not None and shape.face("one.cap")[0] == pytest.approx([LENGTH, 0, 0], abs=1e-5)


def test_faces_taken_together_are_one() -> None:
    solids = {
        "box": part("brick", length=0.2, width=0.1, height=0.05),
        "ends": part("together", faces=("box.west", "box.east")),
    }
    surface = join(solids)
    assert (
        surface.edge_lengths["ends.face"] == pytest.approx(2 * 0.1 * 0.05, rel=1e-5)
        and "box.west" not in surface.edge_lengths
    )
    case = space({"box": {"kind": "brick"}, "ends": {"kind": "together", "faces": ["box.west", "box.far"]}})
    assert "no face “box.far”" in review(case).faults[0].says


def test_several_spaces_are_told_one_by_one() -> None:
    case = space({"a": {"kind": "brick"}, "b": {"kind": "ball", "x": "500 mm"}})
    [fault] = [fault for fault in review(case).faults if "do not touch" in fault.says]
    assert "L about" in fault.says and "(49" in fault.says
    ball = join({"b": part("ball", x=0.5, diameter=0.1)})
    assert np.linalg.norm(inner_place(ball) - [0.5, 0, 0]) < 0.02
