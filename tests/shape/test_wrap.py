"""Wraps: gaps shut, flips and crossings of no matter, names kept, leaks named; from the shell too."""

from __future__ import annotations

import json
from pathlib import Path
from threading import Event
from typing import Any

import numpy as np
import pytest
import trimesh

from mop_lantern.case import apply, load, parse_case, review
from mop_lantern.case.models import model_edits, stored_model, wrap_edits
from mop_lantern.cli import main
from mop_lantern.errors import CaseError
from mop_lantern.shape.crossing import crossings
from mop_lantern.shape.model import Model
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.wrap import Leaks, Wrapped, wrapped
from mop_lantern.shape.wrap_child import contour
from mop_lantern.shape.wrap_kernels import chopped, to_triangle
from mop_lantern.shape.wrapping import least_feature, likely_feature, plan_of, wrap_model
from tests.shape import hollow_models as made


def spoilt(body: Any, gone: float, flipped: float, fine: float) -> Any:
    """Give the triangles of a body chopped to a size (m), some missing and some turned."""
    random = np.random.default_rng(1)
    corners = body.subdivide_to_size(fine).triangles
    corners = corners[random.random(len(corners)) >= gone]
    turned = random.random(len(corners)) < flipped
    return np.where(turned[:, None, None], corners[:, ::-1], corners)


def closed(found: Wrapped) -> Any:
    """Check that a wrap is closed, faces out and does not cross itself; give it as a mesh."""
    mesh = trimesh.Trimesh(found.points, found.triangles, process=False)
    assert mesh.is_watertight and mesh.volume == pytest.approx(found.volume, rel=1e-9) and mesh.volume > 0
    assert not crossings(found.points, found.triangles).count
    return mesh


def test_crossing_boxes_with_holes_and_flips_become_one_body() -> None:
    """The volume is that of the union, to what edges rounded by a third of the feature size leave."""
    boxes = [trimesh.creation.box((1, 0.6, 0.4)), trimesh.creation.box((0.3, 0.3, 1.1))]
    corners = np.concatenate([spoilt(box, 0.01, 0.3, 0.03) for box in boxes])
    found = wrapped(corners, np.zeros(len(corners), int), 0.06, contour)
    closed(found)
    assert (
        found.volume == pytest.approx(trimesh.boolean.union(boxes).volume, rel=1e-2) and found.bridged < 0.02
    )
    again = wrapped(corners, np.zeros(len(corners), int), 0.04, contour)
    true = trimesh.boolean.union(boxes).volume
    assert abs(again.volume - true) < abs(found.volume - true)


def test_flat_faces_stay_where_they_are_and_know_their_face() -> None:
    box = trimesh.creation.box((1.0, 0.5, 0.25))
    side = np.argmax(np.abs(box.face_normals), axis=1) * 2 + (box.face_normals.sum(axis=1) > 0)
    found = wrapped(box.triangles, side, 0.05, contour)
    mesh = closed(found)
    assert mesh.bounds == pytest.approx(box.bounds, abs=2e-3) and found.bridged == 0.0
    area = np.bincount(side[found.of], mesh.area_faces)
    assert area == pytest.approx([0.125, 0.125, 0.25, 0.25, 0.5, 0.5], rel=0.06)
    off = np.abs(mesh.triangles_center) - 0.5 * box.extents
    lies = np.abs(off.max(axis=1)) < 1e-3
    assert mesh.area_faces[lies].sum() > 0.85 * mesh.area


def test_a_slit_is_bridged_and_a_wide_one_is_told_with_its_place() -> None:
    """An open can, its lid 4 mm too small all round: closed from within at 10 mm, leaking at 3 mm."""
    can = made.along((0, 0, 1), 0.1, 0.2)
    lid = trimesh.creation.cylinder(0.096, sections=64, height=1e-4)
    lid.apply_translation([0, 0, 0.2])
    top = can.triangles[:, :, 2].min(axis=1) > 0.19
    corners = np.concatenate([can.triangles[~top], lid.triangles])
    group = np.concatenate([np.zeros(int((~top).sum()), int), np.ones(len(lid.triangles), int)])
    found = wrapped(corners, group, 0.012, contour, np.array([0, 0, 0.1]))
    closed(found)
    assert found.volume == pytest.approx(made.disc(0.1) * 0.2, rel=2e-2) and 0 < found.bridged < 0.1
    with pytest.raises(Leaks) as caught:
        wrapped(corners, group, 0.003, contour, np.array([0, 0, 0.1]))
    assert 0.003 < caught.value.closes < 0.012
    places = caught.value.places
    assert len(places) and np.abs(places[:, 2] - 0.2).max() < 0.01
    with pytest.raises(ValueError, match="nearer to a wall"):
        wrapped(corners, group, 0.012, contour, np.array([0.0995, 0, 0.1]))


def test_a_place_outside_and_a_process_that_dies_are_told(monkeypatch: pytest.MonkeyPatch) -> None:
    box = trimesh.creation.box((1, 1, 1))
    given = box.triangles, np.zeros(12, int), 0.1, contour
    with pytest.raises(ValueError, match="outside the model"):
        wrapped(*given, np.array([9.0, 9.0, 9.0]))
    with pytest.raises(Leaks) as caught:
        wrapped(*given, np.array([0.56, 0.56, 0.56]))
    assert caught.value.closes == 0 and not len(caught.value.places)
    model = Model(np.asarray(box.vertices), np.asarray(box.faces), np.zeros(12, int), ("a",), (), ())
    monkeypatch.setattr("mop_lantern.shape.wrapping._child", lambda *_: (-9, "Traceback"))
    with pytest.raises(CaseError, match="ended without a result"):
        wrap_model(model, 0.1)


def test_distances_and_chopping_are_exact() -> None:
    random = np.random.default_rng(4)
    triangle = random.random((3, 3))
    share = random.dirichlet([1, 1, 1], 200_000)
    places = 2 * random.random((50, 3)) - 0.5
    mine = [np.sqrt(to_triangle(place, *triangle)) for place in places]
    near = [np.linalg.norm(share @ triangle - place, axis=1).min() for place in places]
    assert mine == pytest.approx(near, abs=5e-3) and (np.array(mine) <= np.array(near) + 1e-12).all()
    pieces, of = chopped(triangle[None], 0.05)
    sides = np.linalg.norm(pieces - np.roll(pieces, 1, axis=1), axis=2)
    area = (
        np.linalg.norm(np.cross(pieces[:, 1] - pieces[:, 0], pieces[:, 2] - pieces[:, 0]), axis=1).sum() / 2
    )
    whole = np.linalg.norm(np.cross(triangle[1] - triangle[0], triangle[2] - triangle[0])) / 2
    assert sides.max() <= 0.05 and area == pytest.approx(whole) and not of.any()


def test_a_model_keeps_names_and_tells_what_was_lost(tmp_path: Path) -> None:
    ball = trimesh.creation.icosphere(4, 0.1)
    points = ball.vertices.copy()
    points[points[:, 0] > 0.06, 0] -= 0.25
    path = tmp_path / "pushed.stl"
    trimesh.Trimesh(points, ball.faces, process=False).export(path)
    case = parse_case({"title": "m"})
    case = apply(case, model_edits(case, read_model(path, "m"), path.name, False, "m")[0])
    case = apply(case, {"shape.solids.m.scale": "2", "shape.solids.m.x": "0.5 m"})
    assert any("cross each other" in fault.says for fault in review(case).faults)
    told: list[str] = []
    edits, words = wrap_edits(case, "m", 0.016, None, None, told.append)
    case = apply(case, edits)
    assert not any(fault.path.startswith("shape") for fault in review(case).faults)
    assert "feature size of 8 mm" in words[0] and len(told) > 3
    model = stored_model(case, "m")
    assert not model.rims and set(model.names) <= set(read_model(path, "m").names) | {"bridge"}
    stop = Event()
    stop.set()
    with pytest.raises(CaseError, match="stopped"):
        wrap_edits(case, "m", 0.016, None, stop)
    for feature in (1e-9, 10.0, float("nan")):
        with pytest.raises(CaseError, match=r"does not suit a model of 249 mm\. Choose one from"):
            wrap_model(read_model(path, "m"), feature)


def test_what_a_wrap_takes_is_told_before(tmp_path: Path) -> None:
    points = trimesh.creation.box((1, 1, 1)).vertices
    assert plan_of(points, 0.01).nodes == pytest.approx(300**3, rel=0.2)
    assert (
        plan_of(points, least_feature(points)).nodes
        <= 6e7
        < plan_of(points, 0.9 * least_feature(points)).nodes
    )
    assert likely_feature(points) == pytest.approx(0.01)


def test_a_dirty_file_is_wrapped_from_the_shell(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    corners = 1e3 * spoilt(made.hollow_tee(), 0.01, 0.1, 0.006)
    path = tmp_path / "tee.stl"
    trimesh.Trimesh(corners.reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3), process=False).export(
        path
    )
    into = tmp_path / "tee.lantern"
    assert (
        main(
            ["import", str(path), "--unit", "mm", "--into", str(into), "--wrap", "2 mm", "--fluid", "inside"]
        )
        == 0
    )
    told = " ".join(json.loads(capsys.readouterr().out)["report"])
    assert "open rims are closed first" in told and "with 3 open ends" in told
    assert not any(fault.path.startswith("shape") for fault in review(load(into)).faults)
    assert main(["wrap", str(into), "--wrap", "two"]) == 2 and "like 2mm" in capsys.readouterr().err
    assert main(["wrap", str(into), "--wrap", "2mm", "--within", "1,2"]) == 2
    assert main(["wrap", str(into), "--as", "other", "--wrap", "2mm"]) == 2
    assert "not a model" in capsys.readouterr().err
