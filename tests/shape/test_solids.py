"""Parts of a space: volumes, names, joins, walls without thickness."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, lines, parse_case, review
from mop_lantern.declare import Numbers
from mop_lantern.errors import CaseError
from mop_lantern.shape import cut_by_plane, developed, join
from mop_lantern.shape.surface import Surface, membranes, winding

PLAIN: dict[str, Any] = {
    "role": "fluid",
    "x": 0.0,
    "y": 0.0,
    "z": 0.0,
    "turn": 0.0,
    "heading": 0.0,
    "rise": 0.0,
    "end": None,
    "lean": 0.0,
    "least": 0.0,
    "layers": (),
    "colours": (),
}


def part(kind: str, **values: Any) -> Numbers:
    """Give the resolved numbers of a part."""
    return Numbers(kind=kind, **{**PLAIN, **values})


def space(solids: dict[str, Any], **more: Any) -> Any:
    """Give the case of a space."""
    return parse_case(
        {
            "title": "s",
            "media": {"w": {"kind": "water"}},
            "shape": {"space": "space", "solids": solids},
            **more,
        }
    )


@pytest.mark.parametrize(
    ("numbers", "volume", "short"),
    [
        (part("brick", length=0.2, width=0.1, height=0.05, turn=0.4), 1e-3, 2e-6),
        (part("cylinder", length=0.1, diameter=0.02, heading=0.3, rise=1.0), np.pi * 1e-4 * 0.1, 8e-4),
        (part("cylinder", length=0.1, diameter=0.02, end=0.04), np.pi * 0.1 * (1e-4 + 2e-4 + 4e-4) / 3, 8e-4),
        (part("ball", diameter=0.1), np.pi * 1e-3 / 6, 3e-3),
        (
            part("bent_pipe", diameter=0.02, before=0.03, angle=np.pi / 2, radius=0.03, after=0.05, lean=0.7),
            np.pi * 1e-4 * (0.08 + 0.03 * np.pi / 2),
            2e-3,
        ),
        (
            part("seat", diameter=0.05, bore=0.03, length=0.008, bevel=0.002, heading=0.4),
            np.pi * (0.025**2 - 0.015**2) * 0.008 - np.pi * 0.002**2 * (0.015 + 0.002 / 3),
            8e-4,
        ),
        (
            part("seat", diameter=0.05, bore=0.03, length=0.008, bevel=0.0, rise=1.1),
            np.pi * (0.025**2 - 0.015**2) * 0.008,
            8e-4,
        ),
    ],
)
def test_volumes(numbers: Numbers, volume: float, short: float) -> None:
    """Solid geometry; a polygon of 96 corners falls short of its circle by 7e-4, and corners are snapped to
    2^-24 m. The bend and the bevel are Pappus's.
    """
    surface = join({"a": numbers})
    assert surface.volume == pytest.approx(volume, rel=short) and surface.volume <= volume * (1 + 1e-6)
    assert surface.open_edges == 0 and not len(membranes(surface))


def test_names_survive_any_change_and_no_wall_is_left() -> None:
    """Radius, angle and lengths changed at random: a closed surface, every name there, no membrane."""
    random = np.random.default_rng(3)
    for _ in range(12):
        d, radius, angle = random.uniform(0.01, 0.03), random.uniform(0.03, 0.08), random.uniform(0.3, 2.6)
        surface = join(
            {
                "feed": part("cylinder", x=-0.1, length=0.1, diameter=d),
                "bend": part(
                    "bent_pipe",
                    diameter=d,
                    before=random.uniform(0.01, 0.1),
                    radius=radius,
                    angle=angle,
                    after=random.uniform(0.01, 0.1),
                ),
                "probe": part(
                    "cylinder",
                    role="solid",
                    x=-0.05,
                    z=-0.05,
                    rise=np.pi / 2,
                    length=0.05 + random.uniform(-0.2, 0.3) * d,
                    diameter=0.3 * d,
                ),
            }
        )
        assert {"feed.start", "feed.wall", "bend.bend", "bend.after", "bend.end", "probe.wall"} <= set(
            surface.edge_lengths
        )
        assert surface.open_edges == 0 and not len(membranes(surface))
        assert not {"feed.end", "bend.start"} & set(surface.edge_lengths), (
            "nothing is left between butted pipes"
        )


def test_a_seat_narrows_a_pipe_and_is_refused_where_it_cannot_be() -> None:
    """What is left of the pipe, the faces the fluid touches, and solids that are kept: later parts take
    precedence over them.
    """
    pipe, seat = (
        part("cylinder", length=0.1, diameter=0.05),
        part("seat", role="solid", x=0.04, diameter=0.052, bore=0.03, length=0.008, bevel=0.002),
    )
    surface = join({"pipe": pipe, "seat": seat})
    held = np.pi * (0.025**2 - 0.015**2) * 0.008 - np.pi * 0.002**2 * (0.015 + 0.002 / 3)
    assert surface.volume == pytest.approx(np.pi * 0.025**2 * 0.1 - held, rel=1e-3)
    assert {"seat.front", "seat.slope", "seat.bore", "seat.back"} < set(
        surface.edge_lengths
    ) and "seat.outside" not in surface.edge_lengths
    assert surface.solids["seat"].volume == pytest.approx(
        held + np.pi * (0.026**2 - 0.025**2) * 0.008, rel=1e-3
    )
    bored = join(
        {
            "pipe": pipe,
            "seat": seat,
            "hole": part("cylinder", role="void", x=0.03, y=0.02, length=0.03, diameter=0.004),
            "more": part("cylinder", x=0.02, length=0.05, diameter=0.034),
        }
    )
    assert (
        bored.solids["seat"].volume < surface.solids["seat"].volume - 1.3e-6
        and "seat.slope" not in bored.edge_lengths
    ), "fluid and what is left out take from solids before them"
    for wrong, says in (({"bore": 0.051}, "as wide as"), ({"bevel": 0.009}, "as long as")):
        with pytest.raises(CaseError, match=says):
            join(
                {
                    "pipe": pipe,
                    "seat": part(
                        "seat",
                        role="solid",
                        **{
                            "x": 0.04,
                            "diameter": 0.052,
                            "bore": 0.03,
                            "length": 0.008,
                            "bevel": 0.002,
                            **wrong,
                        },
                    ),
                }
            )


def test_a_membrane_is_found() -> None:
    """Two boxes laid against each other without being joined keep both walls between them."""
    one, two = (
        join({"a": part("brick", length=1.0, width=1.0, height=1.0)}),
        join({"b": part("brick", x=1.0, length=1.0, width=1.0, height=1.0)}),
    )
    both = Surface(
        np.vstack([one.points, two.points]),
        np.vstack([one.triangles, two.triangles + len(one.points)]),
        np.concatenate([one.labels, two.labels + 6]),
        (*one.names, *two.names),
    )
    assert {both.names[label].partition(".")[2] for label in both.labels[membranes(both)]} == {"east", "west"}


def test_the_cut_of_a_space_has_its_holes() -> None:
    surface = join(
        {
            "room": part("brick", length=2.0, width=1.0, height=1.0),
            "pillar": part(
                "cylinder", role="solid", x=1.0, y=0.5, z=-0.1, rise=np.pi / 2, length=1.2, diameter=0.4
            ),
        }
    )
    cut = cut_by_plane(surface, 2, 0.5)
    assert cut.area == pytest.approx(2.0 - np.pi * 0.04, rel=1e-3) and len(cut.interiors) == 1
    assert winding(surface, np.array([[1.0, 0.5, 0.5], [0.2, 0.5, 0.5], [3.0, 0.5, 0.5]])).tolist() == [
        0,
        1,
        0,
    ]


def test_parts_that_cannot_be_are_refused_at_their_line() -> None:
    tight = space({"p": {"kind": "bent_pipe", "diameter": "20 mm", "radius": "9 mm"}})
    assert any(
        fault.path == "shape.solids.p.radius" and "tighter" in fault.says for fault in review(tight).faults
    )
    apart = space({"a": {"kind": "ball"}, "b": {"kind": "ball", "x": "1 m"}})
    assert any("do not touch" in fault.says for fault in review(apart).faults)
    solid = space({"a": {"kind": "ball", "role": "solid"}})
    assert any("no part holds the fluid" in fault.says for fault in review(solid).faults)
    gone = space({"a": {"kind": "ball"}, "b": {"kind": "ball", "diameter": "80 mm", "role": "solid"}})
    assert any("nothing is left" in fault.says for fault in review(gone).faults)
    with pytest.raises(CaseError):
        join({})


def test_places_have_three_numbers_in_a_space() -> None:
    pipe = {"p": {"kind": "cylinder"}}
    openings = {
        "in": {"kind": "velocity", "edge": "p.start", "profile": "developed"},
        "out": {"kind": "static_pressure", "edge": "p.end"},
    }
    case = space(
        pipe,
        field={"openings": openings},
        readings={"r": {"kind": "point", "at": ["5 mm", "0 m"], "quantity": "u"}},
    )
    assert [(fault.path, fault.says) for fault in review(case).faults] == [
        ("readings.r.at", "a place has 3 numbers here: x, y and z.")
    ]
    good = apply(case, {"readings.r.at": ["5 mm", "0 m", "1 mm"]})
    assert not review(good).blocked, review(good).faults
    assert "(5 mm, 0 m, 1 mm)" in next(line.text() for line in lines(good) if line.path == "readings.r")
    flat = parse_case(
        {
            "title": "p",
            "media": {"w": {"kind": "water"}},
            "shape": {"parts": {"a": {"kind": "straight"}}},
            "readings": {"r": {"kind": "point", "at": ["5 mm", "0 m", "1 mm"]}},
        }
    )
    assert any(fault.path == "readings.r.at" and "third" in fault.remedy for fault in review(flat).faults)


@pytest.mark.parametrize(
    ("numbers", "face", "most", "source"),
    [
        (
            part("cylinder", length=0.1, diameter=0.02, heading=0.4, rise=0.7),
            "p.start",
            2.0,
            "Hagen-Poiseuille, exact",
        ),
        (
            part("brick", length=0.1, width=0.02, height=0.02, turn=0.3),
            "p.west",
            2.0963,
            "Shah and London (1978), series",
        ),
        (
            part("brick", length=0.1, width=0.02, height=0.01),
            "p.east",
            1.9918,
            "Shah and London (1978), series",
        ),
    ],
)
def test_developed_flow_through_any_outline(numbers: Numbers, face: str, most: float, source: str) -> None:
    """Largest over mean velocity, whichever way the face looks."""
    surface = join({"p": numbers})
    assert 1 / developed(surface, face, surface.spread(face, 40_000)).mean() == pytest.approx(
        most, rel=8e-3
    ), source
