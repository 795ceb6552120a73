"""Parts, joins and names."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.shape import Plane, narrowest_gaps


def shape_of(parts: dict[str, Any], **more: Any) -> Plane:
    """Build the shape of parts; raise with all faults."""
    case = parse_case({"media": {"w": {"kind": "constant"}}, "shape": {"parts": parts, **more}})
    result = review(case)
    shape_faults = [fault for fault in result.faults if fault.path.startswith("shape")]
    assert not shape_faults, shape_faults
    assert result.shape is not None
    return result.shape


RUN = {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "100 mm", "width": "20 mm"}


def test_a_straight_run_has_its_size_and_names() -> None:
    shape = shape_of({"r": RUN})
    assert shape.polygon.area == pytest.approx(2e-3)
    assert shape.edge_lengths == pytest.approx(
        {"r.start": 0.02, "r.end": 0.02, "r.left": 0.1, "r.right": 0.1}
    )
    middle, inward = shape.edge_middle("r.start")
    assert middle == pytest.approx([0, 0], abs=1e-9) and inward == pytest.approx([1, 0])


def test_around_an_axis_the_lower_half_goes() -> None:
    shape = shape_of({"r": RUN}, space="axis")
    assert shape.polygon.bounds == pytest.approx((0, 0, 0.1, 0.01))
    assert "axis" in shape.edge_lengths and "r.right" not in shape.edge_lengths


@pytest.mark.parametrize("turns", [[90], [45, -45], [90, 90], [-120]])
def test_a_bent_run_keeps_its_width(turns: list[float]) -> None:
    place, way, points = np.zeros(2), 0.0, [np.zeros(2)]
    for turn in [*turns, 0]:
        place = place + 0.1 * np.array([np.cos(way), np.sin(way)])
        points.append(place)
        way += np.deg2rad(turn)
    bent = {
        "kind": "bent",
        "points": [[f"{float(x)!r} m", f"{float(y)!r} m"] for x, y in points],
        "width": "10 mm",
        "radius": "20 mm",
    }
    shape = shape_of({"b": bent})
    # a bend swaps twice its tangent length for its arc; the area is width times length along the centreline
    length = 0.1 * (len(turns) + 1) - sum(
        2 * 0.02 * np.tan(np.deg2rad(abs(t)) / 2) - 0.02 * np.deg2rad(abs(t)) for t in turns
    )
    assert shape.polygon.area == pytest.approx(0.01 * length, rel=2e-4)
    assert set(shape.edge_lengths) == {"b.start", "b.end", "b.left", "b.right"}


@pytest.mark.parametrize("keep", ["centre", "left", "right"])
@pytest.mark.parametrize("form", ["tapered", "stepped"])
def test_a_reducer_has_its_area(keep: str, form: str) -> None:
    reducer = {
        "kind": "reducer",
        "form": form,
        "length": "100 mm",
        "width_start": "20 mm",
        "width_end": "8 mm",
        "step_at": "40 mm",
        "keep": keep,
    }
    area = 0.1 * 0.014 if form == "tapered" else 0.04 * 0.02 + 0.06 * 0.008
    shape = shape_of({"r": reducer})
    assert shape.polygon.area == pytest.approx(area)
    assert shape.edge_lengths["r.end"] == pytest.approx(0.008)


def test_a_branch_joins_and_its_corners_are_rounded() -> None:
    branch = {
        "kind": "branch",
        "host": "r",
        "at": "50 mm",
        "angle": "-90 deg",
        "width": "10 mm",
        "length": "40 mm",
    }
    sharp = shape_of({"r": RUN, "b": branch})
    round_ = shape_of({"r": RUN, "b": {**branch, "corner_radius": "4 mm"}})
    assert sharp.polygon.area == pytest.approx(2e-3 + 4e-4)
    assert round_.polygon.area - sharp.polygon.area == pytest.approx(2 * (1 - np.pi / 4) * 0.004**2, rel=1e-3)
    assert {"b.corner_left", "b.corner_right", "b.end"} <= set(round_.edge_lengths)
    assert round_.edge_lengths["b.corner_left"] == pytest.approx(0.004 * np.pi / 2, rel=1e-3)


def test_bodies_are_taken_away() -> None:
    disc = {"kind": "disc", "centre": ["50 mm", "0 mm"], "diameter": "8 mm"}
    fin = {"kind": "fin", "start": ["20 mm", "-10 mm"], "end": ["20 mm", "0 mm"], "thickness": "1 mm"}
    block = {"kind": "block", "points": [["70 mm", "-10 mm"], ["80 mm", "-10 mm"], ["80 mm", "-4 mm"]]}
    shape = shape_of({"r": RUN, "d": disc, "f": fin, "k": block})
    assert shape.polygon.area == pytest.approx(2e-3 - np.pi * 0.004**2 - 1e-5 - 0.5 * 0.01 * 0.006, rel=1e-9)
    assert shape.edge_lengths["d.surface"] == pytest.approx(np.pi * 0.008, rel=1e-3)


def test_a_corner_of_a_free_polygon_is_rounded() -> None:
    outline = {
        "kind": "outline",
        "points": [["0 mm", "0 mm"], ["40 mm", "0 mm"], ["40 mm", "30 mm"], ["0 mm", "30 mm"]],
    }
    rounding = {"kind": "rounding", "at": ["40 mm", "30 mm"], "radius": "10 mm"}
    shape = shape_of({"o": outline, "c": rounding})
    assert shape.polygon.area == pytest.approx(1.2e-3 - (1 - np.pi / 4) * 1e-4, rel=1e-4)
    assert shape.edge_lengths["c.arc"] == pytest.approx(0.01 * np.pi / 2, rel=1e-3)


@pytest.mark.parametrize(
    ("parts", "path", "words"),
    [
        ({"a": RUN, "b": {**RUN, "start": ["0 mm", "90 mm"]}}, "shape.parts", "fall apart"),
        (
            {"a": RUN, "b": {"kind": "disc", "centre": ["50 mm", "0 mm"], "diameter": "400 mm"}},
            "shape.parts",
            "nothing is left",
        ),
        ({"a": RUN, "b": {"kind": "branch", "host": "zzz"}}, "shape.parts.b.host", "not a passage"),
        (
            {"a": RUN, "b": {"kind": "branch", "host": "a", "at": "3 m"}},
            "shape.parts.b.at",
            "beyond the host",
        ),
        (
            {"a": RUN, "b": {"kind": "branch", "host": "a", "corner_radius": "90 mm"}},
            "shape.parts.b.corner_radius",
            "too large",
        ),
        ({"a": RUN, "c": {"kind": "rounding", "at": ["50 mm", "0 mm"]}}, "shape.parts.c.radius", "no corner"),
        (
            {"a": {"kind": "fin", "start": ["1 mm", "1 mm"], "end": ["1 mm", "1 mm"]}, "b": RUN},
            "shape.parts.a.end",
            "begins where it ends",
        ),
        (
            {"a": {"kind": "outline", "points": [["0 m", "0 m"], ["1 m", "0 m"]]}},
            "shape.parts.a.points",
            "three corners",
        ),
        (
            {"a": {"kind": "branch", "host": "b"}, "b": {"kind": "branch", "host": "a"}},
            "shape.parts.a.host",
            "circle",
        ),
    ],
)
def test_impossible_parts_are_named(parts: dict[str, Any], path: str, words: str) -> None:
    faults = review(parse_case({"media": {"w": {"kind": "constant"}}, "shape": {"parts": parts}})).faults
    assert any(fault.path == path and words in fault.says and fault.remedy for fault in faults), [
        str(f) for f in faults
    ]


@settings(max_examples=25, deadline=None)
@given(
    taper=st.floats(6, 20),
    width=st.floats(3, 12),
    radius=st.floats(0, 5),
    angle=st.floats(-120, -60),
    turn=st.floats(-180, 180),
    count=st.integers(1, 5),
)
def test_no_name_is_lost_when_parameters_change(
    taper: float, width: float, radius: float, angle: float, turn: float, count: int
) -> None:
    parts: dict[str, Any] = {
        "h": {
            "kind": "reducer",
            "length": "400 mm",
            "width_start": "20 mm",
            "width_end": f"{taper} mm",
            "keep": "right",
        },
    }
    for k in range(count):
        parts[f"b{k}"] = {
            "kind": "branch",
            "host": "h",
            "at": f"{60 + 70 * k} mm",
            "angle": f"{angle} deg",
            "width": f"{width} mm",
            "length": "50 mm",
            "corner_radius": f"{radius} mm",
        }
    shape = shape_of(parts, turn=f"{turn} deg")
    wanted = {"h.start", "h.end", "h.left", "h.right"} | {
        f"b{k}.{side}" for k in range(count) for side in ("end", "left", "right")
    }
    assert wanted <= set(shape.edge_lengths)
    assert shape.edge_lengths["h.end"] == pytest.approx(taper / 1e3, rel=1e-6)
    assert sum(shape.edge_lengths.values()) == pytest.approx(shape.polygon.length, rel=1e-9)
    assert shape.polygon.is_valid


def test_the_narrowest_gap_is_found(channel: dict[str, Any]) -> None:
    case = apply(
        parse_case(channel),
        {"shape.parts.d": {"kind": "disc", "centre": ["20 mm", "2 mm"], "diameter": "4 mm"}},
    )
    settled = settle(case)
    gap = narrowest_gaps(settled.shape, settled.open_edges)[0]
    assert gap[2] == pytest.approx(0.001, rel=0.05)
    assert gap[0] == pytest.approx(0.02, abs=0.001)
