"""Geometry written for others, read back: volumes, names, units; what cannot be written is told."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from mop_lantern.cli import main
from mop_lantern.shape.describing import bodies_told
from mop_lantern.shape.reading import read_model

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
