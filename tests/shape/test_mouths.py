"""Mouths of hollow bodies found from outside, and the fluid put inside, around, or into them."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh

from mop_lantern.case import Case, apply, load, merged, parse_case, review
from mop_lantern.case.insides import around_edits, fluid_edits, hollows_of_part, inside_edits, told
from mop_lantern.case.models import model_edits
from mop_lantern.case.resolve import resolve
from mop_lantern.cli import main
from mop_lantern.errors import CaseError
from mop_lantern.shape import Surface, build
from mop_lantern.shape.mouths import Hollows, hollows_of
from mop_lantern.shape.reading import read_model
from tests.shape import hollow_models as made


def of(body: Any) -> Hollows:
    """Find what a mesh encloses."""
    count = len(body.faces)
    return hollows_of(
        Surface(np.asarray(body.vertices), np.asarray(body.faces), np.zeros(count, int), ("a",))
    )


def brought(path: Path) -> Case:
    """Give the case a model was brought into."""
    edits, _ = model_edits(parse_case({"title": "m"}), read_model(path, "m"), path.name, False, "m")
    return apply(parse_case({"title": "m"}), edits)


def test_mouths_of_a_tee_are_numbered_from_large_to_small() -> None:
    found = of(made.hollow_tee())
    assert [mouth.area for mouth in found.mouths] == pytest.approx(
        [made.disc(0.026), made.disc(0.026), made.disc(0.017)], rel=1e-3
    )
    ways = {tuple(np.round(mouth.direction).astype(int).tolist()) for mouth in found.mouths}
    assert ways == {(1, 0, 0), (-1, 0, 0), (0, 0, 1)}, "each opens outwards, and the junction is none"
    assert np.hypot(*found.places[0][1:]) < 0.02 and 4e-4 < found.volumes[0] < 5.5e-4


def test_the_outer_of_two_edges_of_a_thin_wall_is_the_mouth() -> None:
    found = of(made.chamber())
    main_ones = [mouth for mouth in found.mouths if mouth.cavity == 0]
    assert [mouth.area for mouth in main_ones] == pytest.approx([0.06, made.disc(0.1)], rel=1e-3)
    assert main_ones[0].middle[2] == pytest.approx(0.5) and main_ones[1].middle[1] == pytest.approx(0.5)
    assert found.volumes[0] == pytest.approx(0.99**3, rel=0.06)


def test_a_bottle_has_one_mouth_a_can_none_and_a_ball_nothing() -> None:
    [mouth] = of(made.bottle()).mouths
    assert mouth.middle == pytest.approx([0, 0, 0.15], abs=1e-6) and mouth.area == pytest.approx(
        made.disc(0.01)
    )
    can = of(made.less(made.along((0, 0, 1), 0.05, 0.2), made.along((0, 0, 1), 0.04, 0.18, (0, 0, 0.01))))
    assert (
        not can.mouths
        and len(can.places) == 1
        and can.volumes[0] == pytest.approx(made.disc(0.04) * 0.18, rel=0.05)
    )
    assert not len(of(trimesh.creation.icosphere(3, 0.1)).places) and not told(
        of(trimesh.creation.icosphere(2))
    )


def test_the_fluid_goes_inside_around_and_back(tmp_path: Path) -> None:
    """Volumes by solid geometry: the bores less what they share are what fills the tee."""
    body = made.hollow_tee()
    case = brought(made.saved(body, tmp_path / "tee.stl"))
    hollows = hollows_of_part(case, "m")
    inside = apply(case, inside_edits(case, "m", hollows))
    surface = build(resolve(inside)[0].shape)
    bores = made.fused(made.along((1, 0, 0), 0.026, 0.2), made.along((0, 0, 1), 0.017, 0.12, (0.1, 0, 0)))
    assert isinstance(surface, Surface) and surface.volume == pytest.approx(bores.volume, rel=1e-3)
    caps = sorted((area, name) for name, area in surface.edge_lengths.items() if ".cap" in name)
    assert caps[0][1].endswith("cap3") and {name[-4:] for _, name in caps} == {"cap1", "cap2", "cap3"}
    around = apply(inside, around_edits(inside, "m"))
    assert {part.kind for part in around.shape.solids.values()} == {"model", "surroundings"}
    outside = build(resolve(around)[0].shape)
    size = np.array([0.2, 0.06, 0.15]) + 0.2 * np.array([3, 2, 2])
    assert outside.volume == pytest.approx(np.prod(size) - body.volume, rel=1e-4)
    assert {"around1.west", "around1.top"} <= set(outside.edge_lengths)
    back = apply(around, fluid_edits(around, "m"))
    assert build(resolve(back)[0].shape).volume == pytest.approx(body.volume, rel=1e-5)


def test_halves_of_a_housing_enclose_what_neither_does_alone(tmp_path: Path) -> None:
    """A tee parted along its middle plane: each half is open all along, with a bolt hole through a lug."""
    body = made.hollow_tee()
    halves = {}
    for key, way in (("front", 1), ("back", -1)):
        lug = made.less(
            trimesh.creation.box(
                (0.02, 0.03, 0.02), trimesh.transformations.translation_matrix((0.1, way * 0.04, 0))
            ),
            made.along((0, 0, 1), 0.004, 0.05, (0.1, way * 0.042, -0.025)),
        )
        half = trimesh.creation.box(
            (1, 0.5, 1), trimesh.transformations.translation_matrix((0, way * 0.25, 0))
        )
        halves[key] = made.fused(trimesh.boolean.intersection([body, half]), lug)
    case = brought(made.saved(halves["front"], tmp_path / "front.stl"))
    alone = hollows_of_part(case, "m")
    assert len(alone.mouths) == 2 and alone.volumes[0] < 2e-6 and not alone.also, "the bolt hole"
    other = brought(made.saved(halves["back"], tmp_path / "back.stl"))
    case = apply(case, {"shape.solids.back": other.shape.solids["m"].model_dump()})
    for key, also in (("m", ("back",)), ("back", ("m",))):
        hollows = hollows_of_part(case, key)
        assert hollows.also == also and sum(mouth.cavity == 0 for mouth in hollows.mouths) == 3
        assert told(hollows)[0].startswith(f"It encloses, with {also[0]}, about 0.5")
        inside = apply(case, inside_edits(case, key, hollows))
        assert {part.role for part in inside.shape.solids.values() if part.kind == "model"} == {"solid"}
        surface = build(resolve(inside)[0].shape)
        bores = made.fused(made.along((1, 0, 0), 0.026, 0.2), made.along((0, 0, 1), 0.017, 0.12, (0.1, 0, 0)))
        assert isinstance(surface, Surface) and surface.volume == pytest.approx(bores.volume, rel=1e-3)
    assert inside_sentences(inside) == {"cap": "with", "internal_volume": "with"}
    back = apply(inside, around_edits(inside, "m"))
    assert {part.kind for part in back.shape.solids.values()} == {"model", "surroundings"}
    lost = apply(inside, {"shape.solids.ends1.also": ["lid"]})
    assert any("“lid” is not a part listed" in fault.says for fault in review(lost).faults)


def inside_sentences(case: Case) -> dict[str, str]:
    """Give the kinds whose sentence tells further parts."""
    parts = case.shape.solids.values()
    return {part.kind: "with" for part in parts if "with {also}" in part.template(True)}


def test_a_model_kilometres_off_the_origin_is_filled_too(tmp_path: Path) -> None:
    """Its wet point keeps its digits: rounded to four, it would lie outside."""
    body = made.along((0, 0, 1), 0.5, 2.0)
    tank = made.less(body, made.along((0, 0, 1), 0.45, 3.0, (0, 0, -0.5)))
    case = apply(brought(made.saved(tank, tmp_path / "far.ply")), {"shape.solids.m.x": "4123.4 m"})
    filled = apply(case, inside_edits(case, "m", hollows_of_part(case, "m")))
    assert build(resolve(filled)[0].shape).volume == pytest.approx(made.disc(0.45) * 2, rel=1e-3)


def test_what_encloses_nothing_cannot_be_filled(tmp_path: Path) -> None:
    case = brought(made.saved(trimesh.creation.box((1, 1, 1)), tmp_path / "box.stl"))
    with pytest.raises(CaseError, match="encloses nothing that caps"):
        inside_edits(case, "m", hollows_of_part(case, "m"))
    with pytest.raises(CaseError, match=r"no part “x”.*Parts: m"):
        hollows_of_part(case, "x")
    capped = apply(case, {"shape.solids.c": {"kind": "cap", "of": "m", "holes": "mouths"}})
    assert any("no mouth to the outside" in fault.says for fault in review(capped).faults)


def test_one_mouth_is_closed_where_no_flat_face_has_a_hole(tmp_path: Path) -> None:
    """A funnel whose end is a knife edge: its mouth has no flat face around it."""
    knife = made.less(made.along((0, 0, 1), 0.05, 0.1), trimesh.creation.cone(0.05, 0.09, sections=64))
    case = brought(made.saved(knife, tmp_path / "funnel.stl"))
    assert len(hollows_of_part(case, "m").mouths) == 1
    one = {"kind": "cap", "of": "m", "holes": "one", "z": "0 mm"}
    surface = build(
        resolve(
            apply(
                case,
                {
                    "shape.solids.m.role": "solid",
                    "shape.solids.c": one,
                    "shape.solids.i": {"kind": "internal_volume", "of": "m"},
                    "shape.wet": [["0 mm", "0 mm", "20 mm"]],
                },
            )
        )[0].shape
    )
    assert surface.volume == pytest.approx(made.disc(0.05) * 0.09 / 3, rel=2e-2)


def test_from_the_shell_a_hollow_file_is_filled_and_its_faces_listed(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = made.saved(made.hollow_tee(), tmp_path / "tee.stl", 1e3)
    into = tmp_path / "tee.lantern"
    assert main(["import", str(path), "--into", str(into), "--unit", "mm"]) == 0
    report = " ".join(json.loads(capsys.readouterr().out)["report"])
    assert "with 3 open ends" in report and "--fluid inside" in report and "cap3: 9.0" in report
    assert (
        main(
            ["import", str(path), "--into", str(into), "--unit", "mm", "--as", "model1", "--fluid", "inside"]
        )
        == 0
    )
    brief = json.loads(capsys.readouterr().out)
    assert brief["size_m"] == pytest.approx([0.2, 0.06, 0.15], abs=1e-6)
    assert load(into).shape.solids["model1"].role == "solid"
    assert main(["faces", str(into), "--json"]) == 0
    faces = {face["name"]: face for face in json.loads(capsys.readouterr().out)["faces"]}
    bore = max(faces.values(), key=lambda face: face["area"])
    assert bore["form"] == "cylinder of 52 mm" and faces["ends1.cap1"]["form"] == "plane"
    assert main(["faces", str(into)]) == 0
    assert "cylinder of 34 mm" in capsys.readouterr().out


def test_without_a_unit_the_size_is_told_with_a_guess(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = made.saved(made.hollow_tee(), tmp_path / "tee.stl", 1e3)
    assert main(["import", str(path), "--into", str(tmp_path / "c.lantern")]) == 2
    assert "measures 200 x 60 x 150, so it is likely in mm" in capsys.readouterr().err
    glb = made.saved(made.hollow_tee(), tmp_path / "tee.glb")
    assert np.ptp(read_model(glb, "").points, axis=0) == pytest.approx([0.2, 0.06, 0.15], rel=1e-5)


def test_fluid_in_the_walls_of_a_pipe_is_warned_of_with_a_remedy(tmp_path: Path) -> None:
    """Left as it came in, the wall of a tee is full of fluid: the note puts the fluid inside. A full body,
    and one with a small duct through it, are not warned of.
    """

    def warned(body: Any) -> tuple[Case, list[Any]]:
        case = brought(made.saved(body, tmp_path / "m.stl"))
        face = next(iter(build(resolve(case)[0].shape).edge_lengths))
        moving = {
            "media.w": {"kind": "water"},
            "field.walls.w": {"kind": "sliding", "edge": face, "speed": "1 m/s"},
        }
        case = apply(case, moving)
        return case, [note for note in review(case).notes if note.kind == "fluid_in_walls"]

    case, [note] = warned(made.hollow_tee())
    assert note.path == "shape.solids.m" and "3 open ends" in note.text
    fixed = apply(case, note.edits)
    assert build(resolve(fixed)[0].shape).volume == pytest.approx(5.106e-4, rel=2e-3)
    assert not warned(trimesh.creation.box((1, 0.5, 0.01)))[1]
    assert not warned(
        made.less(made.along((0, 0, 1), 0.1, 0.1), made.along((0, 0, 1), 0.01, 0.3, (0, 0, -0.1)))
    )[1]


def test_edits_of_an_item_that_is_added_go_into_it() -> None:
    assert merged({"a.b": {"k": 1}, "c": 2}, {"a.b.role": "x", "c": 3}) == {
        "a.b": {"k": 1, "role": "x"},
        "c": 3,
    }
