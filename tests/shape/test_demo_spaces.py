"""Every demo that is a space: its numbers changed at random, and no name, no closed surface lost."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import Case, apply, parse_case
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import build
from mop_lantern.shape.surface import membranes

DEMOS = sorted(Path("src/mop_lantern/demos").glob("*.lantern"))
SPACES = {
    path.stem: parse_case(json.loads(path.read_text()))
    for path in DEMOS
    if '"space": "space"' in path.read_text()
}
CHANGES = 24


def shaken(case: Case, random: np.random.Generator) -> Any:
    """Give the resolved shape with sizes, angles and counts a little off; what must fit together is moved
    together.
    """
    numbers, _ = resolve(case)
    stretch = random.uniform(0.8, 1.25)
    for part in numbers.shape.solids.values():
        for name, value in vars(part).items():
            if (
                isinstance(value, float)
                and name
                in (
                    "diameter",
                    "branch_diameter",
                    "angle",
                    "heading",
                    "rise",
                    "twist",
                    "begin",
                    "radius",
                    "outer",
                    "turn",
                    "around",
                )
                and value
            ):
                own = (
                    random.uniform(0.97, 1.03) if name in ("diameter", "outer") else random.uniform(0.9, 1.1)
                )
                setattr(part, name, value * own)
            elif isinstance(value, float) and name not in ("copies", "branches", "blades") and value:
                setattr(
                    part,
                    name,
                    value * stretch
                    if name in ("x", "y", "z", "length", "first", "before", "after", "branch_length")
                    else value,
                )
        if hasattr(part, "copies"):
            part.copies = float(random.integers(1, 3))
        if hasattr(part, "blades"):
            part.blades = float(random.integers(2, 4))
    return numbers.shape


@pytest.mark.parametrize("name", SPACES)
def test_names_survive_changes(name: str) -> None:
    """A closed surface every time, nothing without thickness left, and every name of the demo there, but
    those of blades there are no more.
    """
    random = np.random.default_rng(5)
    wanted = set(build(resolve(SPACES[name])[0].shape).edge_lengths)
    built = 0
    for _ in range(CHANGES):
        try:
            surface = build(shaken(SPACES[name], random))
        except CaseError as refused:  # a size that cannot be is refused at its line, never built
            assert all(fault.path.startswith("shape.solids") and fault.remedy for fault in refused.faults), (
                refused
            )
            continue
        built += 1
        lost = wanted - set(surface.edge_lengths)
        assert not lost and surface.open_edges == 0 and not len(membranes(surface)), (lost, built)
    assert built > 0.2 * CHANGES  # the rest is refused: patches that reach beyond their face


def test_every_part_is_built_closed_and_of_its_volume() -> None:
    """Solid geometry: prisms, Pappus, the cone; sheets take nothing away."""
    from tests.shape.test_solids import space

    def volume(**solids: Any) -> float:
        surface = build(resolve(space(solids))[0].shape)
        assert surface.open_edges == 0
        return surface.volume

    box = {"kind": "brick", "length": "100 mm", "width": "100 mm", "height": "100 mm"}
    ell = [
        ["0 mm", "0 mm"],
        ["50 mm", "0 mm"],
        ["50 mm", "20 mm"],
        ["20 mm", "20 mm"],
        ["20 mm", "50 mm"],
        ["0 mm", "50 mm"],
    ]
    assert volume(a={"kind": "extruded", "outline": ell, "length": "40 mm"}) == pytest.approx(
        1600e-6 * 0.04, rel=1e-5
    )
    assert volume(
        a={"kind": "extruded", "outline": ell[::-1], "length": "40 mm", "heading": "30 deg", "rise": "20 deg"}
    ) == pytest.approx(1600e-6 * 0.04, rel=1e-5)
    assert volume(a={"kind": "turned", "profile": [["0 mm", "0 mm"], ["60 mm", "20 mm"]]}) == pytest.approx(
        np.pi * 4e-4 * 0.06 / 3, rel=1e-3
    )
    bends = 2 * (0.1 - 0.03) + np.pi / 2 * 0.03
    assert volume(a={"kind": "passage"}) == pytest.approx(np.pi * 1e-4 * bends, rel=2e-3), "Pappus"
    assert volume(a={"kind": "passage", "profile": "rectangular", "height": "10 mm"}) == pytest.approx(
        2e-4 * bends, rel=1e-3
    )
    assert volume(
        a=box, p={"kind": "plate", "role": "solid", "x": "50 mm", "y": "50 mm", "z": "50 mm"}
    ) == pytest.approx(1e-3, rel=2e-6)
    assert volume(
        a=box,
        p={"kind": "plate", "role": "solid", "x": "50 mm", "y": "50 mm", "z": "50 mm", "thickness": "4 mm"},
    ) == pytest.approx(1e-3 - 1e-5, rel=1e-5)
    post = {
        "kind": "cylinder",
        "role": "solid",
        "x": "20 mm",
        "y": "50 mm",
        "z": "-10 mm",
        "rise": "90 deg",
        "length": "150 mm",
        "diameter": "10 mm",
    }
    one = 1e-3 - volume(a=box, c=post)
    assert volume(a=box, c=post, r={"kind": "row", "of": "c", "copies": "3", "x": "20 mm"}) == pytest.approx(
        1e-3 - 4 * one, rel=1e-5
    )
    assert volume(
        a=box, c=post, r={"kind": "ring", "of": "c", "copies": "3", "x": "50 mm", "y": "50 mm"}
    ) == pytest.approx(1e-3 - 4 * one, rel=1e-5)
    assert volume(
        a=box, c=post, r={"kind": "mirrored", "of": "c", "across": "x", "x": "50 mm"}
    ) == pytest.approx(1e-3 - 2 * one, rel=1e-5)
    blades = {
        "kind": "blades",
        "role": "solid",
        "x": "30 mm",
        "y": "50 mm",
        "z": "50 mm",
        "outer": "20 mm",
        "thickness": "2 mm",
        "twist": "90 deg",
    }
    assert 1e-3 - volume(a=box, b=blades) == pytest.approx(0.04 * 0.002 * 0.04, rel=0.02), (
        "a twisted bar has the volume of a straight one"
    )
    wheel = {"kind": "vanes", "role": "solid", "x": "50 mm", "y": "50 mm", "z": "50 mm", "outer": "45 mm"}
    # the angle to the rim grows from 25 to 30 degrees: the middle line is the integral of dr / sin
    bend = np.deg2rad(5.0) / 0.025
    line = (np.log(np.tan(np.deg2rad(15.0))) - np.log(np.tan(np.deg2rad(12.5)))) / bend
    assert 1e-3 - volume(a=box, w=wheel) == pytest.approx(6 * line * 0.002 * 0.01, rel=5e-3)
    base, throat, far = 0.055, 0.025, 0.08
    growth, first = throat / (2 * np.pi), 0.0719
    for _ in range(9):
        first = np.arctan(growth / (base + growth * first))
    x, y = (base + growth * first) * np.cos(first), (base + growth * first) * np.sin(first)
    spiral = ((base + throat) ** 3 - (base + growth * first) ** 3) / (6 * growth)
    # Green
    area = spiral + 0.5 * far * (base + throat) + 0.5 * far * (base + throat - x) + 0.5 * x * (y - far)
    assert volume(a={"kind": "volute"}) == pytest.approx(area * 0.014, rel=1e-3)


@pytest.mark.parametrize(
    ("part", "where", "says"),
    [
        ({"kind": "passage", "radius": "5 mm"}, "radius", "tighter"),
        ({"kind": "passage", "radius": "120 mm"}, "radius", "take"),
        (
            {
                "kind": "passage",
                "corners": [
                    ["100 mm", "0 mm", "0 mm"],
                    ["100 mm", "50 mm", "0 mm"],
                    ["20 mm", "50 mm", "0 mm"],
                    ["20 mm", "-60 mm", "0 mm"],
                ],
                "radius": "12 mm",
            },
            "corners",
            "cross each other",
        ),
        ({"kind": "fitting", "branch_diameter": "40 mm"}, "branch_diameter", "wider"),
        ({"kind": "fitting", "branches": "5"}, "length", "not within"),
        ({"kind": "fitting", "branch_length": "5 mm"}, "branch_length", "ends within"),
        (
            {
                "kind": "extruded",
                "outline": [["0 mm", "0 mm"], ["9 mm", "9 mm"], ["9 mm", "0 mm"], ["0 mm", "9 mm"]],
            },
            "outline",
            "crosses itself",
        ),
        (
            {"kind": "turned", "profile": [["0 mm", "9 mm"], ["20 mm", "0 mm"], ["40 mm", "9 mm"]]},
            "profile",
            "radius",
        ),
        ({"kind": "blades", "inner": "20 mm"}, "outer", "before they begin"),
        ({"kind": "vanes", "inner": "60 mm"}, "outer", "before they begin"),
        ({"kind": "vanes", "thickness": "60 mm"}, "thickness", "too thick"),
        ({"kind": "volute", "length": "2 mm"}, "length", "before the tongue"),
        ({"kind": "together", "faces": []}, "faces", "no face is named"),
        ({"kind": "row", "of": "later"}, "of", "before this one"),
        ({"kind": "patch", "on": "nothing.top"}, "on", "not a face"),
    ],
)
def test_what_cannot_be_built_is_refused_at_its_line(part: dict[str, Any], where: str, says: str) -> None:
    from tests.shape.test_solids import space

    with pytest.raises(CaseError) as refused:
        build(resolve(space({"a": part}))[0].shape)
    assert any(
        fault.path == f"shape.solids.a.{where}" and says in fault.says for fault in refused.value.faults
    ), refused.value


def test_a_wet_point_chooses_among_spaces() -> None:
    """A closed vessel in a tank: the tank around it, with the vessel as an island, or the water in the
    vessel.
    """
    from tests.shape.test_solids import space

    def built(wet: Any = ()) -> Any:
        tank = {"kind": "brick", "length": "1 m", "width": "1 m", "height": "1 m"}
        hull = {
            "kind": "ball",
            "role": "solid",
            "x": "500 mm",
            "y": "500 mm",
            "z": "500 mm",
            "diameter": "400 mm",
        }
        case = space({"tank": tank, "hull": hull, "inside": {**hull, "role": "fluid", "diameter": "300 mm"}})
        return build(resolve(apply(case, {"shape.wet": list(wet)}))[0].shape)

    with pytest.raises(CaseError, match="wet point"):
        built()
    ball = np.pi / 6
    inner, outer = built([["500 mm", "500 mm", "500 mm"]]), built([["50 mm", "50 mm", "50 mm"]])
    assert (
        inner.volume == pytest.approx(ball * 0.3**3, rel=3e-3)
        and set(inner.edge_lengths) == {"inside.wall"}
        and inner.open_edges == 0
    )
    assert outer.volume == pytest.approx(1 - ball * 0.4**3, rel=3e-4) and "hull.wall" in outer.edge_lengths
    both = built([["500 mm", "500 mm", "500 mm"], ["50 mm", "50 mm", "50 mm"], ["950 mm", "50 mm", "50 mm"]])
    assert both.volume == pytest.approx(inner.volume + outer.volume) and both.open_edges == 0
    mesh = make_in_space(both, 0.06)
    assert mesh.volume.sum() == pytest.approx(both.volume, rel=1e-9), "neither space is left out of the grid"
    for wet, says in (
        ([["500 mm", "500 mm", "675 mm"]], "in a wall"),
        ([["9 m", "0 m", "0 m"]], "outside"),
        ([["500 mm", "500 mm", "500 mm"], ["9 m", "0 m", "0 m"]], "point 2"),
    ):
        with pytest.raises(CaseError, match=says):
            built(wet)
