"""Layers of stretched cells along walls: their heights, where they end, how they join the lattice."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
import shapely

from mop_lantern.case import Case, ResolvedCase, apply, parse_case, review, settle
from mop_lantern.field.bent import Bent
from mop_lantern.field.face_geometry import gradients_of, link
from mop_lantern.field.turbulence.profile import shear_speed
from mop_lantern.grid import Mesh
from mop_lantern.grid.adapt import cell_sizes
from mop_lantern.grid.layers import heights
from mop_lantern.solve import Solving
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.flow_run import FlowRun

LAYERS = {"kind": "layers", "y_plus": "3", "growth": "1.3"}
BODY = [["0.2 m", "-10 mm"], ["0.25 m", "-10 mm"], ["0.25 m", "15 mm"], ["0.2 m", "15 mm"]]


def duct(part: dict[str, Any] | None = None, **edits: Any) -> Case:
    """A plane duct 100 mm wide with layers; water at 1 m/s."""
    straight = {"kind": "straight", "length": "0.5 m", "width": "100 mm"}
    data = {
        "title": "duct",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {"space": "plane", "parts": {"p": part or straight}},
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "p.start", "velocity": "1 m/s", "profile": "developed"},
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "grid": {"cell": "8 mm", "across": "2", "refine": {"lay": LAYERS}},
        },
        "readings": {"drop": {"kind": "drop", "edge": "p.start", "to": "p.end"}},
    }
    return apply(parse_case(data), edits)


def made(case: Case, scale: float = 1.0) -> tuple[ResolvedCase, Mesh]:
    settled = settle(case)
    assert isinstance(settled, ResolvedCase)
    return settled, prepare(settled, scale)


def covered(settled: ResolvedCase, mesh: Mesh) -> float:
    """Share of the walls whose cells are layers."""
    inner = mesh.n_internal
    size = np.linalg.norm(mesh.area[inner:], axis=1)
    size[[mesh.patch_names[k] in settled.open_edges for k in mesh.patch]] = 0.0
    return float(size[mesh.level[mesh.owner[inner:]] < 0].sum() / size.sum())


@pytest.mark.parametrize("turn", [0, 17])
def test_layers_begin_at_the_wanted_height_and_grow(turn: int) -> None:
    settled, mesh = made(duct(**{"shape.turn": f"{turn} deg"}))
    assert mesh.plane_area.sum() == pytest.approx(settled.shape.polygon.area, rel=1e-9)
    assert covered(settled, mesh) == pytest.approx(1.0)
    inner = mesh.n_internal
    walls = [mesh.patch_names[k] not in settled.open_edges for k in mesh.patch]
    cell = mesh.owner[inner:][walls]
    depth = mesh.volume[cell] / np.linalg.norm(mesh.area[inner:][walls], axis=1)
    assert depth == pytest.approx(2 * 3 * settled.regime.wall_unit, rel=1e-6)


def test_heights_end_as_high_as_the_cells_beyond() -> None:
    numbers = settle(duct()).numbers.grid.refine["lay"]
    off = heights(numbers, 1e-5, 8e-3, 1.0)
    steps = np.diff(off)
    assert steps[0] == pytest.approx(6e-5)
    assert steps[1:] / steps[:-1] == pytest.approx(1.3)
    assert 0.5 < steps[-1] / 8e-3 < 0.95
    coarse = heights(numbers, 1e-5, 16e-3, 2.0)
    assert coarse[-1] == pytest.approx(off[-1])
    assert len(coarse) - 1 == pytest.approx((len(off) - 1) / 2, abs=1)
    assert len(heights(numbers, 0.0, 8e-3, 1.0)) == 1  # nothing foretells the y+
    assert len(heights(numbers, 1e-3, 8e-3, 1.0)) == 1  # cells are lower already


@pytest.mark.parametrize("turn", [0, 31])
@pytest.mark.parametrize(
    ("name", "parts"),
    [
        ("a body in the stream", {"b": {"kind": "block", "points": BODY}}),
        ("a round body", {"b": {"kind": "disc", "centre": ["0.25 m", "0 mm"], "diameter": "30 mm"}}),
        ("a body near a wall", {"b": {"kind": "disc", "centre": ["0.25 m", "33 mm"], "diameter": "30 mm"}}),
        ("a branch", {"b": {"kind": "branch", "host": "p", "at": "0.25 m", "width": "40 mm"}}),
        ("a fin", {"b": {"kind": "fin", "start": ["0.2 m", "-50 mm"], "end": ["0.25 m", "0 mm"]}}),
    ],
)
def test_layers_fit_around(name: str, parts: dict[str, Any], turn: int) -> None:
    case = duct(
        **{f"shape.parts.{key}": part for key, part in parts.items()}, **{"shape.turn": f"{turn} deg"}
    )
    settled, mesh = made(case)
    assert mesh.plane_area.sum() == pytest.approx(settled.shape.polygon.area, rel=1e-7)
    assert covered(settled, mesh) > 0.75
    assert (mesh.volume > 0).all()


def test_at_slanted_openings_and_around_an_axis() -> None:
    corners = [["0 m", "-50 mm"], ["0.4 m", "-50 mm"], ["0.5 m", "50 mm"], ["-0.1 m", "50 mm"]]
    slanted = {"kind": "outline", "points": corners}
    edges = {"field.openings.in.edge": "p.side4", "field.openings.out.edge": "p.side2", "readings.drop": None}
    settled, mesh = made(duct(slanted, **edges))
    assert covered(settled, mesh) > 0.85
    settled, mesh = made(duct(**{"shape.space": "axis"}))
    assert covered(settled, mesh) == pytest.approx(1.0)
    assert 2 * np.pi * mesh.volume.sum() == pytest.approx(np.pi * 0.05**2 * 0.5, rel=1e-9)


def test_slopes_at_a_kink_do_not_mistake_the_layer_for_a_change_along_it() -> None:
    """What hangs on the distance from the wall alone does not change along it, said the cell before a kink of
    25 degrees where neighbours lie askew on one side only.
    """
    low = [["0 m", "-50 mm"], ["0.25 m", "-50 mm"], ["0.5 m", "66.58 mm"]]
    high = [["0.45 m", "166 mm"], ["0.25 m", "50 mm"], ["0 m", "50 mm"]]
    edges = {"field.openings.in.edge": "p.side6", "field.openings.out.edge": "p.side3", "readings.drop": None}
    settled, mesh = made(duct({"kind": "outline", "points": low + high}, **edges))
    bent = Bent(mesh, np.zeros(mesh.n_boundary, bool))
    place = mesh.centre[bent.cells]
    here = bent.cells[(place[:, 1] < -0.04) & (place[:, 0] < 0.25)]
    assert len(here) > 5
    wall = shapely.LineString([(0, -0.05), (0.25, -0.05), (0.5, 0.06658)])
    values = np.log(shapely.distance(wall, shapely.points(mesh.centre[:, :2])))
    plain = gradients_of(mesh, values[:, None])[:, 0]
    mended = plain.copy()
    bent.mend(mended, values)
    assert np.abs(mended[here, 0]).mean() < 0.1 * np.abs(plain[here, 0]).mean()
    assert mended[here, 1] == pytest.approx(plain[here, 1], rel=0.3)


def test_laminar_flow_rubs_as_it_should_on_turned_layers() -> None:
    """12 mu U L / h2 between plates (White, *Viscous Fluid Flow*, 3rd ed., 3-2)."""
    by_height = {"kind": "layers", "begins": "height", "height": "0.5 mm", "growth": "1.3"}
    case = duct(
        **{
            "shape.turn": "17 deg",
            "field.openings.in.velocity": "1 mm/s",
            "field.physics.flow": "laminar",
            "field.grid.refine.lay": by_height,
        }
    )
    settled, mesh = made(case)
    assert (mesh.level < 0).any()
    run = FlowRun(settled, mesh, None)
    run.advance(60.0, 300)
    assert run.readings["drop"].value == pytest.approx(12 * 1e-3 * 1e-3 * 0.5 / 0.1**2, rel=0.01)


def test_turbulent_friction_on_turned_layers_within_y_plus_of_one() -> None:
    """Prandtl's law at two thirds of the Reynolds number (Jones, J. Fluids Eng. 98 (1976) 173; memory)."""
    case = duct(**{"shape.turn": "17 deg", "field.grid.refine.lay.y_plus": "1"})
    settled, mesh = made(case)
    run = FlowRun(settled, mesh, None)
    run.advance(60.0, 120)
    turbulence = run.physics.turbulence
    assert turbulence is not None
    place = (mesh.face_centre[mesh.n_internal :] @ [np.cos(0.2967), np.sin(0.2967), 0])[
        turbulence.walls.faces
    ]
    later = (place > 0.3) & (place < 0.45)
    rubbed = turbulence.tau[later]
    assert rubbed.mean() == pytest.approx(shear_speed(2 / 3 * 2e5) ** 2, rel=0.06)
    assert rubbed.std() < 0.03 * rubbed.mean()
    assert turbulence.y_plus[later].max() < 1.5


@pytest.mark.parametrize(
    ("edits", "says"),
    [
        ({"field.physics.flow": "laminar"}, "by its height"),
        ({"field.grid.refine.more": LAYERS}, "remove this one"),
        ({"field.grid.refine.lay.growth": "1"}, "far lower"),
        ({"field.grid.refine.lay.most": "2"}, "far lower"),
    ],
)
def test_layers_that_lie_idle_are_told_and_mended(edits: dict[str, Any], says: str) -> None:
    case = duct(**edits)
    [note] = [note for note in review(case).notes if note.kind == "layers"]
    assert note.level == "caution" and says in note.text
    assert not [note for note in review(apply(case, note.edits)).notes if note.kind == "layers"]


def test_cells_at_walls_by_their_y_plus() -> None:
    asked = {"kind": "wall_height", "y_plus": "40", "layers": "2"}
    settled, mesh = made(duct(**{"field.grid.refine.lay": asked}))
    wall = [mesh.patch_names[k] not in settled.open_edges for k in mesh.patch]
    middle = link(mesh).reach_b[wall]
    y_plus = np.linalg.norm(middle, axis=1) / settled.regime.wall_unit
    assert 18 < np.median(y_plus) <= 41
    laminar, plain = made(duct(**{"field.grid.refine.lay": asked, "field.physics.flow": "laminar"}))
    assert plain.level.max() == 0


def test_the_trust_list_tells_how_much_of_the_walls_carries_layers() -> None:
    fin = {"kind": "fin", "start": ["0.2 m", "-50 mm"], "end": ["0.25 m", "0 mm"]}
    case = duct(**{"shape.parts.b": fin, "field.grid.cell": "5 mm", "field.solver.most": "20"})
    trust = [*Solving(settle(case), None, None).events()][-1]["trust"]
    [item] = [item for item in trust if item["id"] == "layers"]
    assert item["verdict"] == "holds"
    assert 0.8 < item["value"] < 1  # not in the corners at the foot of the fin
    thick = {"kind": "layers", "begins": "height", "height": "20 mm"}  # higher than the cells themselves
    trust = [*Solving(settle(apply(case, {"field.grid.refine.lay": thick})), None, None).events()][-1][
        "trust"
    ]
    [item] = [item for item in trust if item["id"] == "layers"]
    assert (item["verdict"], item["value"]) == ("caution", 0.0)


def test_sizes_of_the_lattice_are_not_those_of_layers() -> None:
    """Beside layers the deepest cells were told as large as the largest of a layer."""
    area, level = np.array([4.0, 1.0, 0.5, 9.0]), np.array([0, 1, 1, -1])
    mesh: Any = SimpleNamespace(cube_size=np.zeros(0), plane_area=area, level=level)
    assert cell_sizes(mesh).tolist() == [2.0, 1.0, 1.0, 3.0]
