"""Geometry written for others, read back: volumes, names, units; what cannot be written is told."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
import trimesh

from mop_lantern.cli import main
from mop_lantern.shape.describing import bodies_told
from mop_lantern.shape.geometry_out import write_geometry
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.surface import Surface
from mop_lantern.shape.wet import spaces_of

BLOCK = {"kind": "brick", "role": "solid", "x": "20 mm", "y": "10 mm", "z": "10 mm"}
CASE = {
    "title": "duct with a heater",
    "media": {"w": {"kind": "water"}},
    "shape": {
        "space": "space",
        "solids": {
            "duct": {"kind": "brick", "length": "100 mm", "width": "50 mm", "height": "40 mm"},
            "heater": {**BLOCK, "length": "30 mm", "width": "20 mm", "height": "10 mm"},
        },
    },
}
FLUID, HEATER = 2e-4 - 6e-6, 6e-6  # m3


@pytest.fixture
def case(tmp_path: Path) -> Path:
    path = tmp_path / "duct.lantern"
    path.write_text(json.dumps(CASE))
    return path


def test_step_holds_parts_and_faces_with_their_names(case: Path, tmp_path: Path) -> None:
    """The bodies are flat, so their faces are those of the case; corners are laid on a lattice of 60 nm."""
    assert main(["geometry", str(case), "--to", str(tmp_path / "out.step")]) == 0
    model = read_model(tmp_path / "out.step", "")
    told = {body["layer"]: body["volume"] for body in bodies_told(model)}
    assert told == {"fluid": pytest.approx(FLUID, rel=1e-5), "heater": pytest.approx(HEATER, rel=1e-5)}
    names = set(model.names)
    assert {"fluid_duct_west", "fluid_duct_top", "heater_heater_east"} <= names and len(names) == 18


@pytest.mark.parametrize(("ending", "unit"), [("glb", ""), ("obj", "m")])
def test_scenes_hold_every_face_as_a_node(case: Path, tmp_path: Path, ending: str, unit: str) -> None:
    path = tmp_path / f"out.{ending}"
    assert main(["geometry", str(case), "--to", str(path), "--of", "fluid"]) == 0
    model = read_model(path, unit)
    assert model.volume == pytest.approx(FLUID, rel=1e-5) and len(model.names) == 12 and not model.rims
    assert any("duct_west" in name for name in model.names)


def test_one_region_goes_into_a_plain_file(
    case: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for ending in ("stl", "ply"):
        path = tmp_path / f"out.{ending}"
        assert main(["geometry", str(case), "--to", str(path)]) == 2
        assert "holds one region. Say which: fluid, heater" in capsys.readouterr().err
        assert main(["geometry", str(case), "--to", str(path), "--of", "heater"]) == 0
        assert json.loads(capsys.readouterr().out)["unit"] == "mm"
        assert read_model(path, "mm").volume == pytest.approx(HEATER, rel=1e-5)
    assert main(["geometry", str(case), "--to", str(tmp_path / "out.dwg")]) == 2
    assert main(["geometry", str(case), "--to", str(tmp_path / "o.glb"), "--of", "heatr"]) == 2
    assert "There are: fluid, heater" in capsys.readouterr().err
    assert main(["geometry", str(case), "--to", str(tmp_path / "no" / "such" / "o.glb")]) == 2


def test_a_body_and_the_hollow_it_fills_come_back_as_two(tmp_path: Path) -> None:
    """Every face of the ball lies on one of the fluid: neither its faces nor its space go to the other."""
    ball = trimesh.creation.icosphere(1, 0.1)
    duct = trimesh.creation.box((0.6, 0.4, 0.4))
    hollow = ball.faces[:, ::-1] + len(duct.vertices)
    points = np.vstack([duct.vertices, ball.vertices])
    labels = np.repeat([0, 1], [len(duct.faces), len(hollow)])
    fluid = Surface(points, np.vstack([duct.faces, hollow]), labels, ("duct", "ball"))
    solid = Surface(np.array(ball.vertices), np.array(ball.faces), np.zeros(len(hollow), int), ("skin",))
    write_geometry({"fluid": fluid, "ball": solid}, tmp_path / "out.step")
    model = read_model(tmp_path / "out.step", "")
    told = {body["layer"]: body["volume"] for body in bodies_told(model)}
    expected = {"fluid": 0.096 - ball.volume, "ball": ball.volume}
    assert told == pytest.approx(expected, rel=1e-5)
    one = Surface(  # the same, without a reader that knows the parts
        points,
        np.vstack([fluid.triangles, ball.faces + len(duct.vertices)]),
        np.append(labels, np.zeros(len(hollow), int)),
        fluid.names,
    )
    assert (one.beyond >= 0).all()
    assert [space.volume for space in spaces_of(one)] == pytest.approx(list(expected.values()), rel=1e-9)
