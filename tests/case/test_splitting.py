"""Models parted by body and by layer, names following; small bodies excluded; faces renamed everywhere."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
import trimesh

from mop_lantern.case import Case, apply, load, parse_case, review
from mop_lantern.case.faces import rename_edits, together_edits
from mop_lantern.case.models import model_edits
from mop_lantern.case.resolve import resolve
from mop_lantern.case.splitting import small_bodies, split_edits
from mop_lantern.cli import main
from mop_lantern.errors import CaseError, nearest
from mop_lantern.shape import Surface, build
from mop_lantern.shape.alike import chosen
from mop_lantern.shape.reading import read_model


def block(low: tuple[float, float, float], high: tuple[float, float, float]) -> trimesh.Trimesh:
    made = trimesh.creation.box([b - a for a, b in zip(low, high, strict=True)])
    made.apply_translation([(a + b) / 2 for a, b in zip(low, high, strict=True)])
    return made


def written(path: Path) -> Path:
    """A tank, a table and a bolt in it, as nodes of a file."""
    scene = trimesh.Scene()
    for name, body in (
        ("Tank", block((0, 0, 0), (1, 1, 1))),
        ("Feed table", block((0.2, 0.2, 0.2), (0.8, 0.8, 0.3))),
        ("Bolt", block((0.5, 0.5, 0.6), (0.51, 0.51, 0.61))),
    ):
        scene.add_geometry(body, node_name=name, geom_name=name)
    scene.export(path)
    return path


def brought(tmp_path: Path) -> Case:
    path = written(tmp_path / "tank.glb")
    case = parse_case({"title": "t", "media": {"w": {"kind": "water"}}})
    return apply(case, model_edits(case, read_model(path, ""), path.name, False, "m")[0])


def volume(case: Case) -> float:
    surface = build(resolve(case)[0].shape)
    assert isinstance(surface, Surface)
    return surface.volume


@pytest.mark.parametrize("by", ["body", "layer"])
def test_every_body_has_its_own_role_and_names_follow(tmp_path: Path, by: str) -> None:
    case = brought(tmp_path)
    table = next(name for name in case.shape.solids["m"].names if name.startswith("feed_table"))
    tank = next(name for name in case.shape.solids["m"].names if name.startswith("tank"))
    case = apply(
        case,
        {
            "shape.solids.m.x": "10 mm",
            "field.walls.w": {"kind": "slip", "edge": f"m.{table}"},
            "readings.a": {"kind": "force", "edge": f"m.{tank}"},
            "variants.B": {"edits": {"field.walls.w.edge": f"m.{table}"}},
        },
    )
    parted = apply(case, split_edits(case, "m", by))
    assert list(parted.shape.solids) == ["m", "feed_table", "bolt"]
    assert (
        parted.field.walls["w"].edge
        == f"feed_table.{table}"
        == parted.variants["B"].edits["field.walls.w.edge"]
    )
    assert parted.readings["a"].edge == f"m.{tank}" and parted.shape.solids["bolt"].x == "10 mm"
    assert volume(parted) == pytest.approx(1.0, rel=1e-6), "all of one role, they are joined as before"
    roles = apply(parted, {"shape.solids.feed_table.role": "solid", "shape.solids.bolt.role": "void"})
    assert volume(roles) == pytest.approx(1 - 0.6 * 0.6 * 0.1 - 1e-6, rel=1e-6)
    with pytest.raises(CaseError, match="one body only"):
        split_edits(parted, "bolt", "body")
    with pytest.raises(CaseError, match="not a model"):
        split_edits(parted, "other", "body")


def test_small_bodies_are_excluded_and_told(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    case = apply(brought(tmp_path), {"shape.solids.m.role": "solid"})
    assert small_bodies(case, "m", 0.02) == (1, 3, pytest.approx(1e-6 / 1.036, rel=1e-3))
    around = apply(
        case, {"shape.solids.b": {"kind": "surroundings", "of": "m"}, "shape.wet": [["-50 mm"] * 3]}
    )
    assert not [fault for fault in review(around).faults if fault.path.startswith("shape")]
    nothing = apply(case, {"shape.solids.m.least": "5 m"})
    [fault] = [fault for fault in review(nothing).faults if fault.path == "shape.solids.m.least"]
    assert "all of its bodies are smaller" in fault.says and fault.remedy
    assert (
        "{least}" not in case.shape.solids["m"].template()
        and "{least}" in nothing.shape.solids["m"].template()
    )
    into = tmp_path / "c.lantern"
    path = str(written(tmp_path / "tank.glb"))
    assert (
        main(["import", path, "--into", str(into), "--as", "m", "--split", "layer", "--under", "2 cm"]) == 0
    )
    report = " ".join(json.loads(capsys.readouterr().out)["report"])
    assert "1 of 3 bodies are smaller than 2 cm" in report and "Parted into m, feed_table, bolt" in report
    assert load(into).shape.solids["feed_table"].least == "2 cm"


def test_faces_are_renamed_wherever_they_are_named(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    case = brought(tmp_path)
    face = case.shape.solids["m"].names[0]
    case = apply(
        case,
        {
            "field.walls.w": {"kind": "slip", "edge": f"m.{face}"},
            "shape.solids.t": {"kind": "together", "faces": [f"m.{face}", "m.bolt_1"]},
        },
    )
    renamed = apply(case, rename_edits(case, f"m.{face}", "shell"))
    assert renamed.field.walls["w"].edge == "m.shell" and renamed.shape.solids["t"].faces[0] == "m.shell"
    assert rename_edits(case, f"m.{face}", face) == {}
    for name, new, says in (
        ("m.nothing", "x", "no face"),
        (f"m.{face}", "two words", "cannot be a name"),
        (f"m.{face}", case.shape.solids["m"].names[1], "is taken"),
        ("t.face", "x", "is not a model"),
    ):
        with pytest.raises(CaseError, match=says):
            rename_edits(case, name, new)
    path = tmp_path / "c.lantern"
    path.write_text(
        json.dumps(apply(brought(tmp_path), split_edits(brought(tmp_path), "m", "body")).as_data())
    )
    assert main(["faces", str(path), "--rename", f"m.{face}=shell", "--together", "all=m.*"]) == 0
    assert load(path).shape.solids["m"].names[0] == "shell" and "all.face" in capsys.readouterr().out
    assert main(["faces", str(path), "--rename", "shell"]) == 2
    assert main(["faces", str(path), "--together", "x=plane=m.tnak"]) == 2
    assert "form NAME=VALUE" in capsys.readouterr().err


def test_rules_choose_faces_and_unknown_names_get_the_nearest(tmp_path: Path) -> None:
    surface = build(resolve(brought(tmp_path))[0].shape)
    assert isinstance(surface, Surface)
    top = next(face for face in surface.edge_lengths if surface.face(face)[1][2] < -0.99)
    assert chosen(surface, f"plane={top}") == [top] and set(chosen(surface, "M.TANK*")) == set(
        surface.edge_lengths
    )
    assert len(chosen(surface, f"touching={top}")) == 5
    assert set(chosen(surface, "layer=tank")) == set(surface.edge_lengths)
    with pytest.raises(ValueError, match="no face"):
        chosen(surface, "plane=m.x")
    with pytest.raises(CaseError, match="no face fits"):
        together_edits(brought(tmp_path), surface, "bolt*")
    names = [f"m.face{k}" for k in range(40)] + ["m.inlet"]
    assert nearest("m.Inlet", names) == "Write “m.inlet”: capital letters count."
    assert "m.inlet" in nearest("inlett", names) and "of 41" in nearest("inlett", names)
    assert nearest("x", ["a", "b"]) == "There are: a, b." and nearest("x", []) == "There is none yet."
