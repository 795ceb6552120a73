"""Margin notes on what is carried and on time."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.judge.notes.corner_shear import sharp_corners, sharp_edges


def notes(channel: dict[str, Any], **edits: Any) -> dict[str, Any]:
    """Review the channel with edits; give its notes by kind."""
    result = review(apply(parse_case(channel), edits))
    assert not result.faults, result.faults
    return {note.kind: note for note in result.notes}


def test_spreading_is_foretold_for_a_species_without_diffusivity(channel: dict[str, Any]) -> None:
    found = notes(channel, **{"field.species.dye": {"diffusivity": "0 m2/s"}})["numerical_spreading"]
    assert found.path == "field.species.dye" and "none" in found.text and "Péclet" in found.text
    assert (
        notes(channel, **{"field.species.dye": {"diffusivity": "1e-9 m2/s"}})["numerical_spreading"].level
        == "caution"
    )
    assert "numerical_spreading" not in notes(channel, **{"field.species.dye": {"diffusivity": "1e-3 m2/s"}})


def test_a_richardson_number_that_matters_is_told(channel: dict[str, Any]) -> None:
    warm = {
        "field.heat.solve": True,
        "field.warm.w": {"kind": "temperature", "edge": "run.left", "temperature": "60 °C"},
        "media.water": {"kind": "water"},
    }
    found = notes(channel, **warm)["buoyancy_left_out"]
    assert "Richardson" in found.text and found.edits == {"field.physics.buoyancy": "boussinesq"}
    assert "buoyancy_left_out" not in notes(channel, **{**warm, **found.edits})
    assert "buoyancy_left_out" not in notes(channel, **{**warm, "field.openings.in.velocity": "1 m/s"})
    assert "temperature" in notes(channel, **{"field.physics.buoyancy": "gas"})["buoyancy_left_out"].text


def test_long_steps_are_told_with_a_remedy(channel: dict[str, Any]) -> None:
    time = {"field.time": {"mode": "transient", "until": "2 s", "step": "1 s", "courant": "0"}}
    found = [note for note in review(apply(parse_case(channel), time)).notes if note.kind == "coarse_in_time"]
    assert {note.level for note in found} == {"caution", "ready"}
    assert found[0].edits == {"field.time.courant": "1"}


@pytest.mark.parametrize("section", ["heat", "age"])
def test_a_closed_steady_space_blocks_what_has_no_level(channel: dict[str, Any], section: str) -> None:
    lid = {"kind": "sliding", "edge": "run.left"}
    edits = {
        "field.openings.in": None,
        "field.openings.out": None,
        "field.walls.cap": lid,
        f"field.{section}.solve": True,
        "readings.drop": None,
        "readings.flow": None,
    }
    result = review(apply(parse_case(channel), edits))
    blocked = [note for note in result.notes if note.level == "blocked"]
    assert [note.path for note in blocked] == [f"field.{section}"] and result.blocked
    assert not review(apply(parse_case(channel), {**edits, **blocked[0].edits})).blocked


def test_the_largest_wall_shear_at_a_sharp_corner_is_no_number(channel: dict[str, Any]) -> None:
    """A rib stands from the lower wall into the flow: its two tips are such corners, the ends of the channel
    are none.
    """
    most = {"kind": "edge_value", "edge": "run.left", "quantity": "shear", "measure": "max"}
    assert "corner_shear" not in notes(channel, **{"readings.most": most})
    rib = {
        "shape.parts.rib": {
            "kind": "block",
            "points": [["20 mm", "-6 mm"], ["24 mm", "-6 mm"], ["24 mm", "-1 mm"], ["20 mm", "-1 mm"]],
        }
    }
    edges = sorted(
        {edge for _, edges in sharp_corners(settle(apply(parse_case(channel), rib)).shape) for edge in edges}
    )
    assert edges
    found = notes(channel, **rib, **{"readings.most": {**most, "edge": edges[0]}})["corner_shear"]
    assert found.level == "caution" and found.path == "readings.most" and "sharp corner" in found.text
    for less in ({"measure": "mean"}, {"quantity": "pressure"}):
        assert "corner_shear" not in notes(
            channel, **rib, **{"readings.most": {**most, "edge": edges[0], **less}}
        )


def test_in_a_space_edges_that_stand_into_the_fluid_are_told_and_others_are_not() -> None:
    """A box stands in a duct: its four upright edges and the rim of its top are sharp, the duct's own
    corners, and a ball's, are none.
    """
    solids = {
        "d": {"kind": "brick", "length": "60 mm", "width": "30 mm", "height": "20 mm"},
        "rib": {
            "kind": "brick",
            "role": "solid",
            "x": "20 mm",
            "y": "10 mm",
            "length": "5 mm",
            "width": "10 mm",
            "height": "8 mm",
        },
        "ball": {
            "kind": "ball",
            "role": "solid",
            "x": "45 mm",
            "y": "15 mm",
            "z": "10 mm",
            "diameter": "6 mm",
        },
    }
    openings = {
        "in": {"kind": "velocity", "edge": "d.west", "velocity": "10 mm/s"},
        "out": {"kind": "static_pressure", "edge": "d.east", "pressure": "0 Pa"},
    }
    medium = {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}}
    data = {
        "title": "c",
        "media": medium,
        "shape": {"space": "space", "solids": solids},
        "field": {"openings": openings},
    }
    pairs = [names for _, names in sharp_edges(settle(parse_case(data)).shape)]
    assert {frozenset(pair) for pair in pairs if "rib.top" in pair} == {
        frozenset({"rib.top", f"rib.{side}"}) for side in ("west", "east", "south", "north")
    }
    assert not any(name.startswith(("d.", "ball.")) for pair in pairs for name in pair)
    most = {"kind": "edge_value", "quantity": "shear", "measure": "max"}
    found = notes(data, **{"readings.most": {**most, "edge": "rib.top"}})["corner_shear"]
    assert "sharp corner" in found.text and found.path == "readings.most"
    for edge in ("d.bottom", "ball.wall"):
        assert "corner_shear" not in notes(data, **{"readings.most": {**most, "edge": edge}})


def test_how_unevenly_two_streams_leave_is_the_same_in_celsius_and_kelvins() -> None:
    """Half of the stream at 10 and half at 30 degrees C, unmixed: 10 K over 10 K above the least."""
    from mop_lantern.case import parse_case, settle
    from mop_lantern.solve import Solving

    halves = {"kind": "velocity", "edge": "p.start", "velocity": "0.1 m/s"}
    data = {
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 Pa s"}},
        "shape": {"parts": {"p": {"kind": "straight", "length": "100 mm", "width": "40 mm"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "walls": {side: {"kind": "slip", "edge": f"p.{side}"} for side in ("left", "right")},
            "heat": {"solve": True},
            "openings": {
                "in": {**halves, "temperature": "= 10 degC + 20 delta_degC * (y > 0 m)"},
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "grid": {"cell": "5 mm"},
        },
        "readings": {"cv": {"kind": "edge_value", "edge": "p.end", "quantity": "T", "measure": "variation"}},
    }
    data["media"]["w"] |= {"capacity": "4000 J/kg/K", "conductivity": "1e-6 W/m/K"}  # type: ignore[dict-item]
    *_, last = Solving(settle(parse_case(data)), None, None).events()
    assert last["readings"]["cv"]["value"] == pytest.approx(1.0, abs=0.03)
