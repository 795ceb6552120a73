"""Pictures of spaces show what readings read: values between cells from the nearest cells and their
slopes.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, settle
from mop_lantern.grid.slopes import space_slopes
from mop_lantern.judge import FieldResult
from mop_lantern.scene.space_stage import SpaceContext, places_of
from mop_lantern.solve.boundary_data import prepare

BOX: dict[str, Any] = {"kind": "brick", "length": "40 mm", "width": "20 mm", "height": "20 mm"}


@pytest.fixture(scope="module", params=["even", "hanging and cut"])
def stage(request: Any) -> tuple[Any, Any]:
    """Give surface and mesh of a box, once with a ball in it and cells halved about it."""
    solids = {"d": BOX}
    grid: dict[str, Any] = {"cell": "2.5 mm"}
    if request.param != "even":
        solids["ball"] = {
            "kind": "ball",
            "role": "solid",
            "x": "20 mm",
            "y": "10 mm",
            "z": "10 mm",
            "diameter": "9 mm",
        }
        grid |= {"doublings": "1", "refine": {"near": {"kind": "edge", "edge": "ball.wall", "levels": "1"}}}
    openings = {
        "in": {"kind": "velocity", "edge": "d.west", "velocity": "10 mm/s"},
        "out": {"kind": "static_pressure", "edge": "d.east", "pressure": "0 Pa"},
    }
    medium = {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}}
    settled = settle(
        parse_case(
            {
                "title": "c",
                "media": medium,
                "shape": {"space": "space", "solids": solids},
                "field": {"openings": openings, "grid": grid},
            }
        )
    )
    return settled.shape, prepare(settled)


def shown(stage: tuple[Any, Any], law: Any) -> tuple[SpaceContext, FieldResult]:
    """Give a hand whose pressure and velocity follow a law of the place."""
    surface, mesh = stage
    wall = mesh.face_centre[mesh.n_internal :]
    velocity = np.column_stack([law(mesh.centre), 2 * law(mesh.centre), -law(mesh.centre)])
    beside = np.column_stack([law(wall), 2 * law(wall), -law(wall)])
    answer = FieldResult(
        mesh,
        velocity,
        law(mesh.centre),
        np.zeros(len(mesh.owner)),
        beside,
        law(wall),
        np.zeros((mesh.n_boundary, 3)),
        1000.0,
    )
    inks: Any = None
    return SpaceContext(
        surface, answer, {}, None, "pressure", inks, (0, 0, 0), 2, 0.5, places=places_of(surface, mesh)
    ), answer


def somewhere(answer: FieldResult, count: int = 400) -> Any:
    """Give places inside, away from the nodes."""
    places = np.random.default_rng(1).uniform([0.002, 0.002, 0.002], [0.038, 0.018, 0.018], (count, 3))
    return places[answer.inside(places)]


def linear(places: Any) -> Any:
    """A law that any second-order sampling gives back."""
    return 5.0 + 300.0 * places[:, 0] - 200.0 * places[:, 1] + 100.0 * places[:, 2]


def curved(places: Any) -> Any:
    """A hump, 1 in the middle of the box, 0 on its long walls."""
    return np.sin(np.pi * places[:, 1] / 0.02) * np.sin(np.pi * places[:, 2] / 0.02)


def test_slopes_of_a_linear_field_are_exact(stage: Any) -> None:
    mesh = stage[1]
    slopes = space_slopes(
        mesh, np.concatenate([linear(mesh.centre), linear(mesh.face_centre[mesh.n_internal :])])
    )
    assert np.abs(slopes - [300.0, -200.0, 100.0]).max() < 0.05


def test_a_linear_field_is_drawn_exactly(stage: Any) -> None:
    context, answer = shown(stage, linear)
    places = somewhere(answer)
    assert np.abs(context.sampled("pressure", places) - linear(places)).max() < 2e-3
    velocity = context.sampled("velocity", places)
    assert (
        np.abs(velocity - np.column_stack([linear(places), 2 * linear(places), -linear(places)])).max() < 4e-3
    )


def test_pictures_and_readings_agree_on_a_hump(stage: Any) -> None:
    """A mean by distance alone is 4 % low at the summit, where the eye reads a maximum; a picture must not
    show another number than the probe.
    """
    context, answer = shown(stage, curved)
    places = somewhere(answer)
    reading = answer.sampler("pressure", places)
    assert np.array_equal(context.sampled("pressure", places), reading)
    quick = context.blended("pressure", places)
    assert np.abs(quick - reading).max() < 0.03 and np.abs(quick - reading).mean() < 0.004
    summit = curved(places) > 0.9
    assert np.abs(quick - curved(places))[summit].max() < 0.01


def test_one_who_is_not_patient_gets_values_at_hand_first(stage: Any) -> None:
    context, answer = shown(stage, curved)
    context = replace(context, patient=False, wanted=[])
    places = somewhere(answer) + 1e-7
    first = context.sampled("pressure", places)
    assert np.array_equal(first, context.blended("pressure", places))
    assert len(context.wanted) == 1 and context.wanted[0][1] is places
    context.wanted[0][0].weights(places)
    assert np.array_equal(context.sampled("pressure", places), answer.sampler("pressure", places))
    assert len(context.wanted) == 1


def test_places_beyond_the_walls_of_the_cells_get_a_value_all_the_same(stage: Any) -> None:
    context, answer = shown(stage, linear)
    beyond = answer.mesh.centre.max(axis=0)[None] + 1.0
    assert np.isnan(answer.sampler("pressure", beyond)).all()
    assert np.isfinite(context.sampled("pressure", beyond)).all()
    assert context.sampled("velocity", beyond).shape == (1, 3)


def test_the_lattice_of_level_surfaces_and_streamlines_is_linear_too(stage: Any) -> None:
    from vtkmodules.util.numpy_support import vtk_to_numpy

    context, answer = shown(stage, linear)
    assert context.places
    chosen = np.random.default_rng(2).choice(len(context.places.lattice), 3000, replace=False)
    places = context.places.lattice[chosen]
    inner = (np.abs(places - [0.02, 0.01, 0.01]) < [0.018, 0.008, 0.008]).all(axis=1)
    inside = answer.inside(places) & inner
    assert inside.sum() > 500
    scalars = vtk_to_numpy(context.lattice("pressure").GetPointData().GetScalars())[chosen]
    vectors = vtk_to_numpy(context.lattice("velocity").GetPointData().GetVectors())[chosen]
    assert np.abs(scalars - linear(places))[inside].max() < 2e-3
    calm = inside & ~context.places.beyond[chosen]
    assert np.abs(vectors[:, 1] - 2 * linear(places))[calm].max() < 4e-3


def test_what_is_told_of_cells_has_no_slope(stage: Any) -> None:
    context, answer = shown(stage, linear)
    found = (
        context.sampled("size", answer.mesh.centre)
        if "size" in answer.quantities
        else context.sampled("shear", answer.mesh.centre)
    )
    assert np.isfinite(found).all()
