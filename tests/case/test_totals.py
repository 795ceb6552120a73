"""Totals in and out, made equal; patches laid by two places; handles of the parts of a space."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from mop_lantern.case import Case, apply, handles, review
from mop_lantern.case.patches import outline_of, patch_edits
from mop_lantern.case.totals import made_equal
from mop_lantern.errors import CaseError
from mop_lantern.judge.facts import Facts, OpeningFacts
from mop_lantern.judge.totals import totals_of
from tests.shape.test_solids import space

BOX = {"box": {"kind": "brick", "length": "200 mm", "width": "100 mm", "height": "50 mm"}}


def three(**outlets: str) -> Case:
    """Give a box that 10 mL/s enter by and that has two outlets of given flows."""
    made = {"a": {"kind": "volume_flow", "edge": "box.west", "flow": "10 mL/s"}}
    for (key, flow), edge in zip(outlets.items(), ("box.east", "box.top"), strict=False):
        made[key] = {"kind": "volume_flow", "edge": edge, "way": "out", "flow": flow}
    return space(BOX, field={"openings": made})


def test_as_much_leaves_as_enters() -> None:
    case = three(b="3 mL/s", c="1 mL/s")
    found = review(case)
    [note] = [note for note in found.notes if note.kind == "no_way_out"]
    assert note.remedy and found.blocked and found.facts is not None
    totals = totals_of(found.facts)
    assert (totals.enters, totals.leaves) == pytest.approx((1e-5, 4e-6)) and totals.unequal
    assert "6 mL/s too much enters" in totals.told("mL/s")
    assert note.edits == {"field.openings.b.flow": "7.5 mL/s", "field.openings.c.flow": "2.5 mL/s"}, (
        "in proportion, in the unit typed"
    )
    assert not review(apply(case, note.edits)).blocked


def test_every_space_must_balance_by_itself() -> None:
    """Two boxes that do not touch: what one takes in too much the other lets out; each is told, and the
    remedy mends both.
    """
    other = {**BOX["box"], "y": "300 mm"}
    flows = {
        "a": ("box.west", "in", "10 mL/s"),
        "b": ("box.east", "out", "4 mL/s"),
        "c": ("other.west", "in", "4 mL/s"),
        "d": ("other.east", "out", "10 mL/s"),
    }
    openings = {
        key: {"kind": "volume_flow", "edge": edge, "way": way, "flow": flow}
        for key, (edge, way, flow) in flows.items()
    }
    case = apply(
        space({**BOX, "other": other}, field={"openings": openings}),
        {"shape.wet": [["1 mm", "1 mm", "1 mm"], ["1 mm", "301 mm", "1 mm"]]},
    )
    notes = [note for note in review(case).notes if note.kind == "no_way_out"]
    assert (
        len(notes) == 2
        and "of the space of box.west" in notes[0].text
        and "more comes in" in notes[0].text
        and "goes out" in notes[1].text
    )
    mended = apply(case, notes[0].edits)
    assert not review(mended).blocked and notes[0].edits == {
        "field.openings.b.flow": "10 mL/s",
        "field.openings.d.flow": "4 mL/s",
    }


def test_what_cannot_be_made_equal_is_told() -> None:
    facts = review(three(b="= 3 mL/s")).facts
    assert facts is not None
    with pytest.raises(CaseError, match="given by an expression"):
        made_equal(three(b="= 3 mL/s"), facts)
    alone = review(
        apply(three(), {"field.openings.p": {"kind": "static_pressure", "edge": "box.east"}})
    ).facts
    assert alone is not None
    with pytest.raises(CaseError, match="no opening is given a flow to leave"):
        made_equal(three(), alone)


@pytest.mark.parametrize(
    ("outline", "area"),
    [("rectangular", 0.04 * 0.02), ("round", 48 * np.sin(2 * np.pi / 96) * (0.04**2 + 0.02**2))],
)
def test_a_patch_is_laid_by_two_places(outline: str, area: float) -> None:
    case = space(BOX)
    surface = review(case).shape
    first, second = np.array([0.2, 0.02, 0.01]), np.array([0.2, 0.06, 0.03])
    if outline == "round":
        first, second = np.array([0.1, 0.05, 0.05]), np.array([0.14, 0.07, 0.05])
    face = "box.top" if outline == "round" else "box.east"
    edits, key = patch_edits(case, surface, face, first, second, outline, 1e-4)  # type: ignore[arg-type]
    made = review(apply(case, edits)).shape
    assert made is not None and made.edge_lengths[f"{key}.face"] == pytest.approx(area, rel=5e-3)
    ring = outline_of(surface, face, first, second, outline)  # type: ignore[arg-type]
    assert np.ptp(ring[:, 2 if outline == "round" else 0]) < 1e-9, "in the face"
    with pytest.raises(CaseError, match="has no size"):
        patch_edits(case, surface, face, first, first, outline, 1e-4)  # type: ignore[arg-type]


def test_patches_need_a_flat_face() -> None:
    case = space({"p": {"kind": "cylinder"}})
    surface = review(case).shape
    assert surface is not None
    with pytest.raises(CaseError, match="not flat"):
        patch_edits(case, surface, "p.wall", np.zeros(3), np.ones(3), "round", 1e-4)  # type: ignore[arg-type]


KINDS = {
    "box": {"kind": "brick", "length": "0.2 m"},
    "pipe": {
        "kind": "cylinder",
        "x": "150 mm",
        "y": "50 mm",
        "z": "30 mm",
        "length": "= reach",
        "diameter": "40 mm",
    },
    "duct": {
        "kind": "passage",
        "x": "-20 mm",
        "y": "50 mm",
        "z": "30 mm",
        "corners": [["-100 mm", "0 mm", "0 mm"], ["-100 mm", "120 mm", "0 mm"]],
    },
    "wheel": {"kind": "blades", "role": "solid", "x": "170 mm", "y": "50 mm", "z": "30 mm"},
}


@pytest.mark.parametrize("key", list(KINDS))
def test_a_drag_brings_the_corner_to_the_pointer(key: str) -> None:
    """Every handle is dragged 2 mm along its way: built anew, the part has a corner there."""
    from mop_lantern.case.space_handles import corners_of

    case = space(KINDS, parameters={"reach": {"value": "120 mm"}})
    found = handles(case, key)
    assert {"x", "y", "z"} <= {handle.path.rsplit(".", 1)[1] for handle in found} and len(found) > 5, found
    before = corners_of(case, key)
    assert before is not None
    for handle in found:
        if handle.dimension == "angle" or "scale" in handle.path or "inner" in handle.path:
            continue
        way = np.array([1.0, 0.0, 0.0]) if handle.pull is None else handle.pull / np.linalg.norm(handle.pull)
        after = corners_of(apply(case, handle.edit(handle.at + 0.002 * way, 1e-6)), key)
        assert after is not None and after.shape == before.shape, handle.path
        moved = np.linalg.norm(after - before, axis=1).max()
        assert moved == pytest.approx(0.002, rel=0.05 if handle.pull is not None else 0.2), (
            handle.path
        )  # a bend follows its corner a little less
    if key == "pipe":
        assert "parameters.reach.value" in [handle.path for handle in found], (
            "a dimension that is a parameter drags the parameter"
        )


@pytest.mark.parametrize(
    ("flows", "brief", "told"),
    [
        (
            {"in1": "720", "in2": "", "ret": "-720"},
            "in and out 720 m³/h",
            "720 m³/h enter and 720 m³/h leave, 10 air",
        ),
        (
            {"in1": "360", "in2": "360", "out": ""},
            "in 720 m³/h",
            "In all 720 m³/h enter, 10 air changes an hour; as much leaves through out.",
        ),
        (
            {"in1": "720", "ret": "-600", "door": ""},
            "in 720 m³/h, out 600 m³/h, 120 m³/h differ",
            "the difference of 120 m³/h leaves through door.",
        ),
        (
            {"ret": "-600", "a": "", "b": "", "c": "", "d": ""},
            "out 600 m³/h",
            "600 m³/h are drawn off, 8.33 air changes an hour; as much comes in through a, b, c and more.",
        ),
        ({"a": "", "b": ""}, "", ""),
    ],
)
def test_what_enters_and_leaves_in_all_is_told(flows: dict[str, str], brief: str, told: str) -> None:
    """A room of 72 m3."""
    openings = tuple(
        OpeningFacts(key, key, "volume_flow", 1.0, 1.0, float(flow) / 3600 if flow else None)
        for key, flow in flows.items()
    )
    room = SimpleNamespace(volume=72.0)
    totals = totals_of(Facts(None, room, openings, 0.0, (), 0.0, 0, 1.2, 1.8e-5))  # type: ignore[arg-type]
    assert totals.briefly("m3/h") == brief and told in totals.told("m3/h")
    assert totals.unequal == ("differ" in brief)


def test_the_sheet_tells_them_where_there_is_more_than_one() -> None:
    def note(case: Case) -> list[str]:
        return [note.text for note in review(case).notes if note.kind == "totals"]

    assert note(three(b="3 mL/s")) == [
        "In all 0.01 L/s enter and 0.003 L/s leave: 0.007 L/s too much enters."
    ]
    free = apply(three(), {"field.openings.out": {"kind": "static_pressure", "edge": "box.east"}})
    assert note(free) == [], "water in and out says nothing new"
