"""Schematics: every line leads from its node to its node; symbols lie on their lines and not on each
other.
"""

from __future__ import annotations

import itertools
from typing import Any

import numpy as np
import pytest

from mop_lantern.scene.diagram import ROW, SYMBOL, Diagram, laid_out

Ends = dict[str, tuple[str, str]]


def laid(ends: Ends, parts: dict[str, list[str]] | None = None, **more: Any) -> Diagram:
    """Lay out lines between nodes, one component each unless told otherwise."""
    nodes = list(dict.fromkeys(node for pair in ends.values() for node in pair))
    parts = {line: [f"{line}1"] for line in ends} | (parts or {})
    return laid_out(ends, parts, nodes, more.get("sources", nodes[:1]), more.get("moved", {}))


def on_line(line: list[tuple[float, float]], at: tuple[float, float]) -> bool:
    """Whether a place lies on a line of straight pieces."""
    for (ax, ay), (bx, by) in itertools.pairwise(line):
        within = min(ax, bx) - 1e-9 <= at[0] <= max(ax, bx) + 1e-9
        if within and min(ay, by) - 1e-9 <= at[1] <= max(ay, by) + 1e-9:
            return True
    return False


def sound(made: Diagram, ends: Ends, parts: dict[str, list[str]]) -> None:
    """Check what must hold of every schematic."""
    assert set(made.lines) == set(ends) == set(made.labels)
    for line, (a, b) in ends.items():
        line = made.lines[line]
        assert line[0] == pytest.approx(made.nodes[a]) and line[-1] == pytest.approx(made.nodes[b]), line
        for one, other in itertools.pairwise(line):
            assert one[0] == pytest.approx(other[0]) or one[1] == pytest.approx(other[1]), "square corners"
    names = [item.name for item in made.symbols]
    assert sorted(names) == sorted(f"{line}.{part}" for line in ends for part in parts[line])
    for item in made.symbols:
        assert on_line(made.lines[item.name.split(".")[0]], item.at), item.name
        assert item.turn in (0, 90, 180)
    places = np.array([item.at for item in made.symbols])
    if len(places) > 1:
        apart = np.abs(places[:, None] - places[None]).max(axis=2) + 9 * np.eye(len(places))
        assert apart.min() > 1.9, "no symbol on another"
    x0, y0, x1, y1 = made.size
    for place in [*made.nodes.values(), *(item.at for item in made.symbols)]:
        assert x0 < place[0] < x1 and y0 < place[1] < y1


def test_a_chain_goes_from_left_to_right_in_one_row() -> None:
    ends = {"one": ("a", "b"), "two": ("b", "c")}
    made = laid(ends, {"one": ["p", "q", "r"]})
    sound(made, ends, {"one": ["p", "q", "r"], "two": ["two1"]})
    rows = {round(place[1], 6) for place in made.nodes.values()}
    assert len(rows) == 1
    assert made.nodes["a"][0] < made.nodes["b"][0] < made.nodes["c"][0]
    first = [item.at[0] for item in made.symbols if item.name.startswith("one.")]
    assert np.diff(first) == pytest.approx([SYMBOL, SYMBOL])


def test_runs_side_by_side_have_rows_of_their_own() -> None:
    ends = {f"r{k}": ("a", "b") for k in range(5)}
    made = laid(ends)
    sound(made, ends, {line: [f"{line}1"] for line in ends})
    rows = sorted(item.at[1] for item in made.symbols)
    assert np.diff(rows).min() >= ROW - 1e-9


def test_a_loop_leads_back_below() -> None:
    ends = {"out": ("a", "b"), "on": ("b", "c"), "back": ("c", "a")}
    made = laid(ends)
    sound(made, ends, {line: [f"{line}1"] for line in ends})
    back = next(item for item in made.symbols if item.name == "back.back1")
    assert back.turn == 180 and back.at[1] > max(place[1] for place in made.nodes.values())


def test_ends_of_a_branching_run_hang_down() -> None:
    ends = {"feed": ("a", "m"), "on": ("m", "n"), "tap1": ("m", "x"), "tap2": ("m", "y"), "tap3": ("n", "z")}
    made = laid(ends)
    sound(made, ends, {line: [f"{line}1"] for line in ends})
    for node in "xy":
        assert made.nodes[node][1] > made.nodes["m"][1]
    assert {item.turn for item in made.symbols if item.name.startswith("tap")} == {90}


def test_a_node_a_person_placed_stays_there() -> None:
    ends = {"one": ("a", "b"), "two": ("b", "c")}
    made = laid(ends, moved={"b": (4.0, 11.5), "gone": (0.0, 0.0)})
    assert made.nodes["b"] == (4.0, 11.5) and "gone" not in made.nodes
    assert made.lines["one"][-1] == (4.0, 11.5) and made.lines["two"][0] == (4.0, 11.5)


def test_lone_nodes_and_nothing_at_all_have_a_place() -> None:
    made = laid_out({}, {}, ["a", "b"], [], {})
    assert set(made.nodes) == {"a", "b"} and made.nodes["a"] != made.nodes["b"]
    assert laid_out({}, {}, [], [], {}).size == (0.0, 0.0, 1.0, 1.0)


def test_a_run_from_a_node_to_itself_is_drawn() -> None:
    made = laid({"r": ("a", "a"), "s": ("a", "b")})
    assert made.lines["r"][0] == made.nodes["a"] == made.lines["r"][-1]
    assert len(made.lines["r"]) > 3, "it goes round"


@pytest.mark.parametrize("seed", range(25))
def test_random_networks_are_laid_out_soundly(seed: int) -> None:
    rng = np.random.default_rng(seed)
    nodes = [f"n{k}" for k in range(int(rng.integers(2, 14)))]
    ends: Ends = {}
    for k in range(int(rng.integers(1, 20))):
        a, b = rng.choice(nodes, 2, replace=False)
        ends[f"r{k}"] = (str(a), str(b))
    parts = {line: [f"p{k}" for k in range(int(rng.integers(0, 4)))] for line in ends}
    made = laid_out(ends, parts, nodes, [nodes[0]], {})
    assert set(made.nodes) == set(nodes)
    assert len(set(made.nodes.values())) == len(nodes), "no node on another"
    sound(made, ends, parts)


def test_the_same_network_is_laid_out_the_same_way() -> None:
    ends = {f"r{k}": (f"n{k % 4}", f"n{(k * 3 + 1) % 5}") for k in range(9)}
    ends = {line: pair for line, pair in ends.items() if pair[0] != pair[1]}
    one, other = laid(ends), laid(ends)
    assert one.nodes == other.nodes and one.lines == other.lines
