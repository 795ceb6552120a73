"""Networks from lines of words and tables; balancing; all of them from the command line too."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mop_lantern.case import apply, balanced, edits_of, lines_of, load, parse_case, review, table_of
from mop_lantern.cli import main
from mop_lantern.errors import EditError

DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"
LIFT = (
    "lift: From In through pump P1 at 95 % with curve 0 L/s 20 m / 5 L/s 17 m / 10 L/s 8 m, check valve, "
    "40 m of DN65 plastic pipe, 3 bends 45 deg, ball valve V1 at 60 % kv 40 m3/h to tank Header"
)
LINES = f"""# the intake
suction: From reservoir Sea through entry, 6 m of DN80 steel, 2 bends, screen S1 at 20 % to In
{LIFT}
From tank Header through 12 m of 50 mm cast iron, K 2.5, orifice 25 mm, valve V2 opening 50 % to reservoir Out
"""


def empty() -> Any:
    """Give a case with a fluid only."""
    return parse_case({"title": "n", "media": {"water": {"kind": "water"}}})


def test_lines_become_a_network_that_works() -> None:
    case = apply(empty(), lines_of(LINES, empty()))
    nodes, lines = case.network.nodes, case.network.lines
    assert {key: node.kind for key, node in nodes.items()} == {
        "Sea": "reservoir",
        "In": "junction",
        "Header": "tank",
        "Out": "reservoir",
    }
    assert list(lines) == ["suction", "lift", "line1"] and (lines["lift"].start, lines["lift"].end) == (
        "In",
        "Header",
    )
    assert [part.kind for part in lines["suction"].parts.values()] == ["entry", "pipe", "bend", "filter"]
    assert lines["suction"].parts["S1"].dirt == "20 %" and lines["suction"].parts["bend1"].count == "2"
    valve = lines["lift"].parts["V1"]
    assert (valve.type, valve.opening, valve.kv) == ("ball", "60 %", "40 m3/h") and lines["lift"].parts[
        "P1"
    ].speed == "95 %"
    assert (
        lines["lift"].parts["bend1"].angle == "45 deg" and lines["lift"].parts["pipe1"].material == "smooth"
    )
    assert (
        lines["line1"].parts["pipe1"].bore == "50 mm"
        and lines["line1"].parts["pipe1"].material == "cast_iron"
    )
    assert lines["line1"].parts["orifice1"].hole == "25 mm" and lines["line1"].parts["V2"].opening == "50 %"
    result = review(case)
    assert (
        not result.blocked
        and result.working is not None
        and result.working.lines["lift"]["volume_flow"] > 1e-3
    )


def test_ducts_in_words() -> None:
    case = apply(
        empty(),
        lines_of(
            (
                "From reservoir Air through fan F with curve 0 m3/s 400 Pa / 0.5 m3/s 160 Pa, 10 m of 400 "
                "mm x 200 mm duct, 3 m of 250 mm duct, damper D at 40 % to reservoir Room"
            ),
            empty(),
        ),
    )
    parts = case.network.lines["line1"].parts
    assert (parts["duct1"].section, parts["duct1"].width, parts["duct1"].height) == (
        "rectangular",
        "400 mm",
        "200 mm",
    )
    assert parts["duct2"].section == "round" and parts["D"].opening == "40 %"
    line = case.network.lines["line1"]
    assert case.media[line.fluid].kind == "air", "ducts are not filled with water"
    result = review(case)
    assert not result.blocked and result.working is not None
    assert (
        result.working.extra["density"]["line1"] == pytest.approx(1.2, rel=0.03)
        and 0.1 < result.working.lines["line1"]["volume_flow"] < 0.5
    )


def test_no_curve_is_invented() -> None:
    """A machine without a curve is asked for one, at its place; nothing is solved before."""
    case = apply(
        empty(), lines_of("From reservoir Sea through pump P1, 12 m of DN50 steel to reservoir Head", empty())
    )
    faults = review(case).faults
    assert [fault.path for fault in faults] == [
        "network.lines.line1.parts.P1.curve"
    ] and "no curve" in faults[0].says
    given = lines_of(
        (
            "From reservoir Sea through pump P1 with curve 0 L/s 20 m / 5 L/s 9 m, 12 m of DN50 steel to "
            "reservoir Head"
        ),
        empty(),
    )
    assert not review(apply(empty(), given)).blocked


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("hello", "is not a line"),
        ("From a through wobble to b", "not a known component"),
        ("From a through pump P1, pump P1 to b", "occurs twice"),
        ("From a through 5 m of DN50 cheese to b", "not a material"),
        ("From strange thing x through K 1 to b", "not a node"),
        ("From a through valve V1 wideness 3 to b", "not a value of this valve"),
    ],
)
def test_what_is_not_understood_is_told_with_its_line(line: str, words: str) -> None:
    with pytest.raises(EditError) as told:
        lines_of(f"\n{line}", empty())
    assert told.value.faults[0].path == "line 2" and words in told.value.faults[0].says


@settings(max_examples=150, deadline=None)
@given(
    text=st.text(max_size=120)
    | st.lists(
        st.sampled_from(
            [
                "From",
                "through",
                "to",
                "a",
                "b",
                ",",
                "pump",
                "P1",
                "at",
                "40 %",
                "12 m",
                "of",
                "DN50",
                "K",
                "2",
                ":",
                "valve",
                "bends",
            ]
        ),
        max_size=24,
    ).map(" ".join)
)
def test_no_line_does_harm(text: str) -> None:
    try:
        case = apply(empty(), lines_of(text, empty()))
    except EditError as problem:
        assert str(problem)
        return
    review(case)


def test_a_table_goes_out_and_comes_back() -> None:
    case = load(DEMOS / "rearing-loop.lantern")
    text = table_of(case)
    assert edits_of(text, case) == {}, "an untouched table changes nothing"
    rows = list(csv.DictReader(io.StringIO(text)))
    next(row for row in rows if row["component"] == "valve")["opening"] = "35 %"
    out = io.StringIO()
    writer = csv.DictWriter(out, rows[0].keys())
    writer.writeheader()
    writer.writerows(rows)
    assert edits_of(out.getvalue(), case) == {"network.lines.feed1.parts.valve.opening": "35 %"}
    more = edits_of(text + "extra,h6,drain,p,pipe\n", case)
    assert set(more) == {"network.nodes.drain", "network.lines.extra", "network.lines.extra.parts.p"}
    assert "extra" in apply(case, more).network.lines
    for wrong, words in (
        ("a,b\n1,2\n", "missing"),
        ("line,from,to,component,kind\nr,a,b,x,cheese\n", "not a known component"),
    ):
        with pytest.raises(EditError, match=words):
            edits_of(wrong, case)


def test_balanced_runs_get_what_was_wanted() -> None:
    case = load(DEMOS / "rearing-loop.lantern")
    feeds = [f"feed{k}" for k in range(1, 7)]
    edits, faults = balanced(case, "", feeds, "2.3 L/s")
    assert not faults and len(edits) == 6
    result = review(apply(case, edits))
    assert result.working is not None
    for feed in feeds:
        assert result.working.lines[feed]["volume_flow"] == pytest.approx(2.3e-3, rel=2e-3)
    for lines, flow, words in (
        (feeds, "3.4 L/s", "cannot be reached"),
        (["duty"], "2 L/s", "nothing to adjust"),
        (["nobody"], "2 L/s", "no line"),
        (feeds, "2 kg", "not a unit"),
    ):
        edits, faults = balanced(case, "", lines, flow)
        assert not edits and words in faults[0].says


def test_dampers_and_orifices_balance_too() -> None:
    text = "\n".join(
        [
            (
                "main: From reservoir Air through fan F with curve 0 m3/s 400 Pa / 0.25 m3/s 340 Pa / 0.5 "
                "m3/s 160 Pa, 10 m of 315 mm duct to A"
            ),
            *(
                (
                    f"b{k}: From A through {3 * k} m of 160 mm duct, "
                    f"{'damper D' if k < 3 else 'orifice 60 mm bore 160 mm'} to reservoir Room{k}"
                )
                for k in (1, 2, 3)
            ),
        ]
    )
    case = apply(
        parse_case({"title": "n", "media": {"air": {"kind": "air"}}}),
        lines_of(text, parse_case({"title": "n", "media": {"air": {"kind": "air"}}})),
    )
    case = apply(case, {f"network.lines.b{k}.parts.D.section": "0.02 m2" for k in (1, 2)})
    edits, faults = balanced(case, "", ["b1", "b2", "b3"], "200 m3/h")
    assert not faults and any(path.endswith("hole") for path in edits)
    result = review(apply(case, edits))
    assert result.working is not None
    for k in (1, 2, 3):
        assert result.working.lines[f"b{k}"]["volume_flow"] == pytest.approx(200 / 3600, rel=5e-3)


def test_the_command_line_builds_balances_and_operates(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    words, case, table = tmp_path / "l.txt", tmp_path / "n.lantern", tmp_path / "t.csv"
    words.write_text(LINES)
    assert main(["import", str(words), "--into", str(case)]) == 0
    assert main(["check", str(case)]) == 0
    capsys.readouterr()
    assert main(["solve", str(case), "--out", str(tmp_path / "runs")]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["converged"] and {item["id"] for item in answer["trust"]} >= {"mass", "energy"}
    assert main(["export", answer["run"], "--to", str(table), "--network"]) == 0
    table.write_text(table.read_text().replace("60 %", "30 %"))
    assert main(["import", str(table), "--into", str(case)]) == 0
    assert load(case).network.lines["lift"].parts["V1"].opening == "30 %"
    capsys.readouterr()
    assert main(["balance", str(case), "--lines", "line1", "--flow", "0.3 L/s", "--into", "B"]) == 0
    assert "B" in load(case).variants
    assert main(["balance", str(case), "--lines", "line1", "--flow", "80 L/s"]) == 2
    events = tmp_path / "events.csv"
    events.write_text("time,path,value\n30 s,network.lines.lift.parts.V1.opening,0 %\n")
    capsys.readouterr()
    set_ = [
        "--set",
        "network.time.mode=transient",
        "--set",
        "network.time.until=60 s",
        "--set",
        'readings.q={"kind": "line_value", "line": "lift"}',
    ]
    assert main(["solve", str(case), "--operate", str(events), "--out", str(tmp_path / "runs"), *set_]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["time"] == pytest.approx(60) and answer["readings"]["q"]["value"] == 0.0
    events.write_text("30 s,only two\n")
    assert main(["solve", str(case), "--operate", str(events)]) == 2


def test_a_large_network_gets_the_lines_looked_for_and_says_what_is_left_out() -> None:
    from mop_lantern.case import lines
    from mop_lantern.case.sentences import Choice

    text = "\n".join(
        f"r{k}: From {'reservoir Sea' if not k else f'n{k}'} through 5 m of DN50 steel to n{k + 1}"
        for k in range(600)
    )
    case = apply(empty(), lines_of(text, empty()))
    assert len(lines(case)) > 1800
    few = lines(case, None, Choice(100, "", frozenset({"network.lines.r577"})))
    paths = {line.path for line in few}
    assert (
        len(few) < 420
        and "network.lines.r577" in paths
        and "network.lines.r577.parts.pipe1" in paths
        and "network.lines.r400" not in paths
    )
    assert any("501 of 601 nodes and 499 of 600 lines" in line.text() for line in few)
    found = {line.path for line in lines(case, None, Choice(100, "r59", frozenset()))}
    assert "network.lines.r590" in found and "network.lines.r3" not in found
