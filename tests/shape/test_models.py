"""Models of triangles: units, welding, turning, rims found and sealed, faces named and found again, and a
solve through one.
"""

from __future__ import annotations

import json
from pathlib import Path
from threading import Event
from typing import Any

import numpy as np
import pytest
import trimesh

from bench.valve_step import write
from mop_lantern.case import apply, parse_case, quick_shape, review
from mop_lantern.case.models import model_edits, rim_edits, rims_in
from mop_lantern.case.resolve import resolve
from mop_lantern.cli import main
from mop_lantern.errors import CaseError, FileError
from mop_lantern.shape import Surface, build, join
from mop_lantern.shape.crossing import crossings
from mop_lantern.shape.model import Model, packed, unpacked
from mop_lantern.shape.model_files import LONGEST, memory_for, seconds_for
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.renaming import renamed
from mop_lantern.shape.sealing import sealed
from tests.shape.test_solids import PLAIN, part

BENT = {"diameter": 0.02, "before": 0.03, "angle": np.pi / 2, "radius": 0.03, "after": 0.05}


def written(path: Path, corners: Any, scale: float = 1.0) -> Path:
    """Write triangles (m, 3, 3) m as a file, as a soup."""
    trimesh.Trimesh(
        scale * np.asarray(corners).reshape(-1, 3), np.arange(3 * len(corners)).reshape(-1, 3), process=False
    ).export(path)
    return path


def corners_of(**values: Any) -> Any:
    """Give the triangles of a bent pipe, and the name of each."""
    surface = join({"p": part("bent_pipe", **{**BENT, **values})})
    return surface.points[surface.triangles], np.array(surface.names)[surface.labels], surface.volume


def volume(model: Model) -> float:
    """Give what a model encloses."""
    return float((model.points[model.triangles].mean(axis=1) * model.vectors).sum() / 3)


@pytest.mark.parametrize(
    ("ending", "unit", "scale"),
    [("stl", "mm", 1e3), ("stl", "in", 1 / 0.0254), ("obj", "m", 1.0), ("ply", "cm", 1e2), ("glb", "m", 1.0)],
)
def test_every_format_and_unit_gives_the_same_body(
    tmp_path: Path, ending: str, unit: str, scale: float
) -> None:
    corners, _, whole = corners_of()
    model = read_model(written(tmp_path / f"p.{ending}", corners, scale), unit)
    assert volume(model) == pytest.approx(whole, rel=2e-5) and not model.rims and len(model.names) == 3, (
        model.report
    )
    again = unpacked(packed(model), model.names)
    assert (again.triangles == model.triangles).all() and again.points == pytest.approx(model.points, abs=0)


def test_two_per_cent_missing_triangles_are_told_and_sealed(tmp_path: Path) -> None:
    """Nothing is built of it as it is; sealed, it is closed and within a thousandth of its volume, and no
    hole makes a face of its own.
    """
    corners, _, whole = corners_of()
    random = np.random.default_rng(2)
    gone = random.random(len(corners)) > 0.02
    model = read_model(written(tmp_path / "holes.stl", corners[gone]), "m")
    assert len(model.rims) > 0.01 * len(corners) and "open rims" in " ".join(model.report)
    with pytest.raises(CaseError, match="open rims"):
        join({"m": part("model", mesh=packed(model), names=model.names, scale=1.0)})
    closed = sealed(model)
    surface = join({"m": part("model", mesh=packed(closed), names=closed.names, scale=1.0)})
    assert (
        surface.open_edges == 0
        and surface.volume == pytest.approx(whole, rel=1e-3)
        and set(closed.names) == {"face1", "face2", "face3"}
    )


def test_turned_triangles_noise_and_hollows_are_mended(tmp_path: Path) -> None:
    corners, _, whole = corners_of()
    random = np.random.default_rng(3)
    mixed = np.where(
        (random.random(len(corners)) < 0.2)[:, None, None], corners[:, ::-1], corners
    ) + random.normal(0, 1e-9, corners.shape)
    model = read_model(written(tmp_path / "mixed.ply", mixed), "m")
    assert (
        volume(model) == pytest.approx(whole, rel=1e-4)
        and "wrong way" in " ".join(model.report)
        and "welded" in " ".join(model.report)
    )
    ball, core = (trimesh.creation.icosphere(3, size) for size in (0.1, 0.04))
    shell = read_model(
        written(tmp_path / "hollow.stl", np.concatenate([ball.triangles, core.triangles])), "m"
    )
    assert (
        volume(shell) == pytest.approx(ball.volume - core.volume, rel=1e-5) and "2 bodies" in shell.report[1]
    )


def test_names_are_found_again_after_a_change(tmp_path: Path) -> None:
    corners, _, _ = corners_of()
    first = read_model(written(tmp_path / "a.stl", corners), "m")
    first = Model(first.points, first.triangles, first.face, ("shell", "inlet", "outlet"), (), ())
    ends = {
        name: first.points[first.triangles[first.face == k]].mean(axis=(0, 1))
        for k, name in enumerate(first.names)
    }
    second, lost = renamed(
        read_model(written(tmp_path / "b.stl", corners_of(diameter=0.021, radius=0.031)[0]), "m"), first
    )
    moved = {
        name: second.points[second.triangles[second.face == k]].mean(axis=(0, 1))
        for k, name in enumerate(second.names)
    }
    assert not lost and all(np.linalg.norm(moved[name] - ends[name]) < 3e-3 for name in ends)
    far, lost = renamed(read_model(written(tmp_path / "c.stl", corners_of(after=0.5)[0]), "m"), first)
    assert not lost and set(far.names) == {"shell", "inlet", "outlet"}, "ten times as long, and nothing else"


def test_an_open_pipe_is_imported_sealed_and_solved(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """From the shell: rims become faces, openings sit on them, what enters leaves; a changed file keeps its
    names.
    """
    corners, names, _ = corners_of()
    path = written(tmp_path / "pipe.stl", corners[np.isin(names, ["p.before", "p.bend", "p.after"])], 1e3)
    into = tmp_path / "case.lantern"
    assert main(["import", str(path), "--into", str(into), "--unit", "mm", "--seal", "--as", "pipe"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert any("rim1" in words for words in told["report"])
    data = json.loads(into.read_text())
    assert data["shape"]["space"] == "space" and set(data["shape"]["solids"]["pipe"]["names"]) == {
        "face1",
        "rim1",
        "rim2",
    }
    data["field"] = {
        "openings": {
            "in": {"kind": "velocity", "edge": "pipe.rim1", "velocity": "5 mm/s"},
            "out": {"kind": "static_pressure", "edge": "pipe.rim2"},
        },
        "grid": {"cell": "2.5 mm"},
    }
    data["readings"] = {"drop": {"kind": "drop", "edge": "pipe.rim1", "to": "pipe.rim2"}}
    into.write_text(json.dumps(data))
    assert not review(parse_case(data)).blocked
    assert main(["solve", str(into)]) == 0
    result = json.loads(capsys.readouterr().out)
    assert result["converged"] and result["readings"]["drop"]["value"] > 0
    corners, names, _ = corners_of(diameter=0.0205)
    written(tmp_path / "pipe.stl", corners[np.isin(names, ["p.before", "p.bend", "p.after"])], 1e3)
    assert main(["import", str(path), "--into", str(into), "--unit", "mm", "--seal", "--as", "pipe"]) == 0
    assert set(json.loads(into.read_text())["shape"]["solids"]["pipe"]["names"]) == {"face1", "rim1", "rim2"}
    data = json.loads(into.read_text())
    data["shape"]["solids"]["pipe"]["names"] = ["one"]
    into.write_text(json.dumps(data))
    assert main(["import", str(path), "--into", str(into), "--unit", "mm", "--seal", "--as", "pipe"]) == 0, (
        "names that do not fit are told, not a fault"
    )
    assert "not kept" in capsys.readouterr().out


def test_files_that_are_no_models_are_refused(tmp_path: Path) -> None:
    corners, _, _ = corners_of()
    with pytest.raises(FileError, match="unit"):
        read_model(written(tmp_path / "p.stl", corners), "")
    for name, content in (
        ("bad.stl", b"solid nothing\nendsolid"),
        ("bad.ply", b"not a ply"),
        ("bad.glb", b"\0\1\2"),
    ):
        (tmp_path / name).write_bytes(content)
        with pytest.raises(FileError, match="model|triangles"):
            read_model(tmp_path / name, "mm")
    with pytest.raises(FileError):
        read_model(tmp_path / "absent.stl", "mm")
    with pytest.raises(CaseError, match="damaged"):
        join({"m": part("model", mesh="AAAA", names=("a",), scale=1.0)})
    model = read_model(tmp_path / "p.stl", "m")
    with pytest.raises(CaseError, match="own name"):
        join({"m": part("model", mesh=packed(model), names=("a", "b"), scale=1.0)})
    assert PLAIN["turn"] == 0.0


def test_a_step_file_gives_one_body_in_every_unit_and_keeps_its_names(tmp_path: Path) -> None:
    """The shipped valve body, written in millimetres, metres and inches; the volume against the bore, the
    globe and the neck it is made of.
    """
    volumes = []
    for unit in ("MM", "M", "INCH"):
        path = tmp_path / f"{unit}.step"
        write(path, unit)
        model = read_model(path, "")
        volumes.append(volume(model))
        assert (
            set(model.names) == {"inlet", "outlet", "top", "neck", "globe", "inlet_bore", "outlet_bore"}
            and not model.rims
        )
    assert volumes == pytest.approx([volumes[0]] * 3, rel=1e-9)
    a, r = np.sqrt(24**2 - 15**2), 24.0  # half the chord of the bore in the globe
    bore = (
        np.pi * 15**2 * (150 - 2 * a)
        + 4 / 3 * np.pi * r**3
        - 2 * np.pi * (r - a) ** 2 * (3 * r - (r - a)) / 3
    )
    b = np.sqrt(24**2 - 10**2)
    neck = np.pi * 10**2 * (45 - b) - np.pi * (r - b) ** 2 * (3 * r - (r - b)) / 3
    assert volumes[0] == pytest.approx((bore + neck) * 1e-9, rel=6e-3), (
        "solid geometry; flat triangles lie within the round faces"
    )


def test_a_bad_step_file_harms_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "bad.step").write_text("nothing of the kind")
    with pytest.raises(FileError, match="cannot be read"):
        read_model(tmp_path / "bad.step", "")
    with pytest.raises(FileError, match="no such file"):
        read_model(tmp_path / "absent.stp", "")
    stop = Event()
    stop.set()
    with pytest.raises(FileError, match="was stopped"):
        read_model(tmp_path / "bad.step", "", stop)
    monkeypatch.setattr("mop_lantern.shape.model_files._child", lambda *_: (-11, ""))
    with pytest.raises(FileError, match="ended without a result"):
        read_model(tmp_path / "bad.step", "")


def test_a_step_file_whose_reader_never_ends_is_given_up_in_words(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A coordinate beyond all numbers sends the library round in circles; the system ends it, caller or no
    caller.
    """
    write(tmp_path / "endless.step")
    text = (tmp_path / "endless.step").read_bytes()
    (tmp_path / "endless.step").write_bytes(text.replace(b"3.528077293324", b"3.5e308293324", 1))
    monkeypatch.setattr("mop_lantern.shape.model_files.seconds_for", lambda size: 4)
    with pytest.raises(FileError, match=r"endless\.step: reading took more than 4 s.*damaged"):
        read_model(tmp_path / "endless.step", "")


def test_a_step_file_gets_time_and_memory_by_its_size() -> None:
    assert seconds_for(30_000) == 20
    assert seconds_for(10_000_000) == 320
    assert seconds_for(200_000_000) == LONGEST
    assert 2e9 < memory_for(30_000) < 2.1e9 < memory_for(10_000_000)


def test_layers_and_colours_of_an_assembly_come_along(tmp_path: Path) -> None:
    """Two parts of a STEP assembly and two nodes of a GLB file: the layer and colour of every face, kept by
    the case and told by the surface.
    """
    write(tmp_path / "two.step", "MM", flange="#2060c0")
    model = read_model(tmp_path / "two.step", "")
    by_layer = {
        layer: {c for c, other in zip(model.colours, model.layers, strict=True) if other == layer}
        for layer in model.layers
    }
    assert by_layer == {"Valve body": {""}, "Flange": {"#2060c0"}}
    scene = trimesh.Scene()
    for name, colour, off in (("hull", [200, 30, 30, 255], 0.0), ("lid", [30, 30, 200, 255], 0.5)):
        box = trimesh.creation.box((1, 1, 1))
        box.apply_translation([off, 0, 0])
        box.visual.face_colors = colour
        scene.add_geometry(box, node_name=name, geom_name=name)
    scene.export(tmp_path / "boxes.glb")
    model = read_model(tmp_path / "boxes.glb", "m")
    assert set(zip(model.layers, model.colours, strict=True)) == {("hull", "#c81e1e"), ("lid", "#1e1ec8")}
    edits, _ = model_edits(parse_case({"title": "two"}), model, "boxes.glb", False, "m")
    case = apply(parse_case({"title": "two"}), edits)
    surface = build(resolve(case)[0].shape)
    assert surface.volume == pytest.approx(1.5, rel=1e-6), "bodies that overlap are joined, not counted twice"
    assert {layer for layer, _ in surface.looks.values()} == {"hull", "lid"}
    assert all(
        colour == {"hull": "#c81e1e", "lid": "#1e1ec8"}[layer] for layer, colour in surface.looks.values()
    )
    assert set(surface.edge_lengths) <= set(surface.looks), "every face of the model has its look"


def test_a_body_that_runs_through_itself_is_refused_where_it_does(tmp_path: Path) -> None:
    """One shell whose one end is pushed through its side; closed and welded, it would pass every test of
    edges.
    """
    ball = trimesh.creation.icosphere(3, 0.1)
    points = ball.vertices.copy()
    pushed = points[:, 0] > 0.06
    points[pushed, 0] -= 0.25
    model = read_model(written(tmp_path / "pushed.stl", points[ball.faces]), "m")
    assert not model.rims and crossings(model.points, model.triangles).count
    with pytest.raises(CaseError, match="cross each other") as caught:
        join({"m": part("model", mesh=packed(model), names=model.names, scale=1.0)})
    [fault] = caught.value.faults
    places = np.array([place for line in fault.lines for place in line])
    assert len(fault.lines) >= 4 and (np.hypot(places[:, 1], places[:, 2]) < 0.1).all()
    assert not crossings(ball.vertices, ball.faces).count, "a plain ball does not"
    two = np.vstack([ball.vertices, ball.vertices + [0.1, 0.013, 0.007]])
    met = crossings(two, np.vstack([ball.faces, ball.faces + len(ball.vertices)])).pairs
    middle = two[np.vstack([ball.faces, ball.faces + len(ball.vertices)])[np.unique(met)]].mean(axis=1)
    assert np.abs(np.linalg.norm(middle, axis=1) - 0.1).max() < 0.02, "two balls meet in a ring on both"


def test_rims_are_closed_one_by_one_in_the_case(tmp_path: Path) -> None:
    corners, names, whole = corners_of()
    path = written(tmp_path / "open.stl", corners[np.isin(names, ["p.before", "p.bend", "p.after"])])
    edits, _ = model_edits(parse_case({"title": "open"}), read_model(path, "m"), path.name, False, "pipe")
    case = apply(apply(parse_case({"title": "open"}), edits), {"shape.solids.pipe.names": ["the-Shell"]})
    [fault] = [fault for fault in review(case).faults if fault.path == "shape.solids.pipe.mesh"]
    assert "2 open rims" in fault.says and len(fault.lines) == 2 and rims_in(case, "pipe") == 2
    shown = quick_shape(case)
    assert isinstance(shown, Surface) and shown.open_edges == 2 * 96, "an open model is shown, not hidden"
    for left in (1, 0):
        edits, words = rim_edits(case, "pipe", 0)
        case = apply(case, edits)
        assert rims_in(case, "pipe") == left and "1 rims are sealed" in " ".join(words)
    assert set(case.shape.solids["pipe"].names) == {"the-Shell", "rim1", "rim2"}
    surface = build(resolve(case)[0].shape)
    assert surface.volume == pytest.approx(whole, rel=1e-6) and not [
        fault for fault in review(case).faults if fault.path.startswith("shape")
    ]


def test_reading_triangles_can_be_stopped_and_what_was_excluded_is_marked(tmp_path: Path) -> None:
    """Two opposite sheets across a box part nothing: they go, and are marked to be drawn."""
    box = trimesh.creation.box((1, 1, 1)).triangles
    sheet = np.array([[[0.0, -0.3, -0.3], [0.0, 0.3, -0.3], [0.0, 0.3, 0.3]]])
    path = written(tmp_path / "sheet.stl", np.concatenate([box, sheet, sheet[:, ::-1]]))
    model = read_model(path, "m")
    assert volume(model) == pytest.approx(1.0) and len(model.triangles) == 12 and not model.rims
    assert "1 pairs of triangles lay on each other" in " ".join(model.report)
    assert model.marked[:, :, 0] == pytest.approx(0.0) and len(model.marked) == 2
    stop = Event()
    stop.set()
    with pytest.raises(FileError, match="reading was stopped"):
        read_model(path, "m", stop)
