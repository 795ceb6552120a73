"""Networks typed as lines of words: what each word becomes, and what is told of those that are none."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, lines_of, parse_case, settle_any
from mop_lantern.errors import EditError

EMPTY = parse_case({"title": "t", "media": {"w": {"kind": "water"}}})


def parts_of(words: str) -> dict[str, Any]:
    """Give the components of one line through these words."""
    edits = lines_of(f"r: from sea A through {words} to reservoir B", EMPTY)
    return edits["network.lines.r"]["parts"]


def only(words: str) -> dict[str, Any]:
    """Give the one component of a line."""
    (item,) = parts_of(words).values()
    return item


@pytest.mark.parametrize(
    ("words", "item"),
    [
        ("12 m of DN50 steel", {"kind": "pipe", "length": "12 m", "size": "DN50", "material": "steel"}),
        ("8 m of DN50 PVC pipe", {"kind": "pipe", "length": "8 m", "size": "DN50", "material": "smooth"}),
        ("8 m of 22 mm copper", {"kind": "pipe", "length": "8 m", "bore": "22 mm", "material": "smooth"}),
        ("12 m of DN 80", {"kind": "pipe", "length": "12 m", "size": "DN80"}),
        ("3.5 m of 42 mm pipe", {"kind": "pipe", "length": "3.5 m", "bore": "42 mm"}),
        (
            "6 m of 400 mm x 200 mm duct",
            {
                "kind": "duct",
                "length": "6 m",
                "width": "400 mm",
                "height": "200 mm",
                "section": "rectangular",
            },
        ),
        ("6 m of 250 mm duct", {"kind": "duct", "length": "6 m", "width": "250 mm"}),
        ("2 m of 160 mm flexible duct", {"kind": "flexible", "length": "2 m", "width": "160 mm"}),
        ("K 2.5", {"kind": "loss", "k": "2.5"}),
        ("K = 0.3", {"kind": "loss", "k": "0.3"}),
        ("3 bends", {"kind": "bend", "count": "3"}),
        ("bend 45 deg", {"kind": "bend", "angle": "45 deg"}),
        ("mitre at 90 deg", {"kind": "mitre", "angle": "90 deg"}),
        ("2 elbows", {"kind": "bend", "count": "2"}),
        ("valve at 40 %", {"kind": "valve", "opening": "40 %"}),
        ("globe valve kv 20 m3/h", {"kind": "valve", "type": "globe", "kv": "20 m3/h"}),
        ("check valve", {"kind": "check"}),
        ("damper at 30 %", {"kind": "damper", "opening": "30 %"}),
        ("strainer", {"kind": "filter"}),
        ("diffuser", {"kind": "grille"}),
        ("gear pump", {"kind": "gear_pump"}),
    ],
)
def test_words_become_components(words: str, item: dict[str, Any]) -> None:
    assert only(words) == item


def test_names_stand_behind_the_kind() -> None:
    found = parts_of("pump P1, valve V1 at 40 %, valve, valve, 2 m of DN50")
    assert list(found) == ["P1", "V1", "valve1", "valve2", "pipe1"]
    assert found["V1"]["opening"] == "40 %"


def test_a_curve_is_points_parted_by_strokes() -> None:
    pump = parts_of("pump P1 with curve 0 L/s 20 m / 5 L/s 17 m / 9 L/s 11 m")["P1"]
    assert pump["curve"] == [["0 L/s", "20 m"], ["5 L/s", "17 m"], ["9 L/s", "11 m"]]
    assert "fit" not in pump
    two = parts_of("pump P1 with curve 0 L/s 20 m / 5 L/s 17 m")["P1"]
    assert two["fit"] == "through", "two points say no more than a line through them"
    assert parts_of("pump P1")["P1"]["curve"] == [], "the sheet asks for it"


def test_nodes_are_made_once_and_known_ones_are_taken() -> None:
    text = (
        "from tank Sump through 2 m of DN50 to M\n"
        "from M through 3 m of DN50 to sea Out\n"
        "from M through K 1 to Sump"
    )
    edits = lines_of(text, EMPTY)
    nodes = {
        path.split(".")[2]: item["kind"] for path, item in edits.items() if path.startswith("network.nodes.")
    }
    assert nodes == {"Sump": "tank", "M": "junction", "Out": "reservoir"}
    runs = [item for path, item in edits.items() if path.startswith("network.lines.")]
    assert [(run["start"], run["end"]) for run in runs] == [("Sump", "M"), ("M", "Out"), ("M", "Sump")]
    again = lines_of("from Sump through K 1 to New", apply(EMPTY, edits))
    assert [path for path in again if ".nodes." in path] == ["network.nodes.New"]
    assert "network.lines.line4" in again, "names go on from those there are"


def test_ducts_bring_air_with_them() -> None:
    edits = lines_of("from room A through 3 m of 200 mm duct to reservoir B", EMPTY)
    assert edits["media.air"] == {"kind": "air"} and edits["network.lines.line1"]["fluid"] == "air"
    with_air = parse_case({"title": "t", "media": {"a": {"kind": "moist_air"}, "w": {"kind": "water"}}})
    edits = lines_of("from room A through 3 m of 200 mm duct to reservoir B", with_air)
    assert "media.air" not in edits and edits["network.lines.line1"]["fluid"] == "a"
    odd = parse_case({"title": "t", "media": {"air": {"kind": "water"}}})
    edits = lines_of("from room A through fan F to reservoir B", odd)
    assert edits["network.lines.line1"]["fluid"] == "air1", "a medium that only bears the name is no air"


def test_remarks_blank_lines_and_spaces_are_passed_over() -> None:
    edits = lines_of("\n# a remark\n   From   sea A   through\t2 m of DN50   to   sea B .\n\n", EMPTY)
    assert len(edits) == 3


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("a pump and a pipe", "is not a line"),
        ("from A to B", "is not a line"),
        ("from A through to B", "is not a line"),
        ("from A through wings to B", "not a known component"),
        ("from A through valve V1, valve V1 to B", "twice"),
        ("from A through valve at wings to B", "not a value of this valve"),
        ("from A through pump P curve 5 L/s to B", "not a point of a curve"),
        ("from A through 3 m of DN50 chocolate to B", "chocolate"),
        ("from big tank A through K 1 to B", "not a node"),
        ("from 3rd through K 1 to B", "not a node"),
        ("from A through " + "K 1, " * 600 + "K 1 to B", "letters"),
    ],
)
def test_lines_that_are_none_are_told_with_their_number(line: str, told: str) -> None:
    with pytest.raises(EditError) as problem:
        lines_of(f"# first\nfrom A through K 1 to B\n{line}", EMPTY)
    (fault,) = problem.value.faults
    assert fault.path == "line 3" and told in fault.says and fault.remedy


def test_all_bad_lines_are_told_at_once() -> None:
    with pytest.raises(EditError) as problem:
        lines_of(
            "x\nfrom A through K 1 to B\ny\nr: from A through K 1 to B\nr: from A through K 1 to B", EMPTY
        )
    assert [fault.path for fault in problem.value.faults] == ["line 1", "line 3", "line 5"]


def test_what_lines_make_can_be_solved() -> None:
    text = """
    feed: from sea Inlet through 12 m of DN50 steel, 2 bends, valve V1 at 60 % to Header
    near: from Header through 4 m of DN40, globe valve kv 8 m3/h to sea Outlet
    far: from Header through 20 m of DN40 pvc, K 1.5 to Outlet
    """
    case = apply(EMPTY, lines_of(text, EMPTY))
    case = apply(case, {"network.nodes.Inlet.over": "50 kPa"})
    settled = settle_any(case)
    flows = settled.operate()
    assert flows is not None
