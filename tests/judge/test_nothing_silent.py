"""What would have no effect is told: parts of another dimension, buoyancy of nothing, readings of what is not
there, nodes without lines, curves that are no machine's.
"""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, fresh_item, lines, parse_case, review

WATER = {"w": {"kind": "water"}}
NODES = {"a": {"kind": "reservoir", "over": "1 bar"}, "b": {"kind": "reservoir"}}


def network(**parts: Any) -> dict[str, Any]:
    """Give a network of one line."""
    line = {"start": "a", "end": "b", "parts": {"p": {"kind": "pipe", "size": "DN50"}, **parts}}
    return {"title": "n", "media": WATER, "network": {"nodes": NODES, "lines": {"l": line}}}


def notes(data: dict[str, Any], path: str) -> list[str]:
    """Give the cautions at a path."""
    found = review(parse_case(data), "")
    assert not found.faults, [str(fault) for fault in found.faults]
    return [note.text for note in found.notes if note.path == path and note.level == "caution"]


def test_a_solid_part_in_a_plane_and_a_plane_part_in_a_space(channel: dict[str, Any]) -> None:
    channel["shape"]["solids"] = {"b": {"kind": "brick"}}
    assert "three-dimensional" in notes(channel, "shape.solids.b")[0]
    (note,) = [n for n in review(parse_case(channel), "").notes if n.path == "shape.solids.b"]
    assert note.edits == {"shape.space": "space"} and note.remedy
    space = {
        "title": "s",
        "parameters": channel["parameters"],
        "media": WATER,
        "shape": {**channel["shape"], "space": "space"},
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "b.west", "velocity": "1 mm/s"},
                "out": {"kind": "static_pressure", "edge": "b.east"},
            }
        },
    }
    assert "plane" in notes(space, "shape.parts.run")[0]
    assert not notes({**channel, "shape": {**channel["shape"], "solids": {}}}, "shape.solids.b")


def test_only_solid_parts_in_a_plane_say_what_to_do() -> None:
    found = review(parse_case({"media": WATER, "shape": {"solids": {"b": {"kind": "brick"}}}}), "")
    assert any("three-dimensional" in fault.says + fault.remedy for fault in found.faults)


def test_buoyancy_with_nothing_transported(channel: dict[str, Any]) -> None:
    channel["field"]["physics"] = {"buoyancy": "boussinesq"}
    assert "no effect" in notes(channel, "field.physics")[0]
    channel["field"]["species"] = {"salt": {"title": "salt"}}
    assert "no species changes the density" in notes(channel, "field.physics")[0]
    channel["field"]["species"]["salt"]["expansion"] = "0.8"
    assert not [text for text in notes(channel, "field.physics") if "no effect" in text]
    del channel["field"]["species"]
    channel["field"]["heat"] = {"solve": True}
    channel["media"] = WATER
    assert not [text for text in notes(channel, "field.physics") if "no effect" in text]


@pytest.mark.parametrize(
    ("reading", "words"),
    [
        ({"kind": "flow", "edge": "run.start"}, "there is no edge “run.start”"),
        ({"kind": "point", "at": ["0 m", "0 m"], "quantity": "speed"}, "it reads a flow domain"),
    ],
)
def test_a_network_has_no_edges_to_read(reading: dict[str, Any], words: str) -> None:
    data = {**network(), "readings": {"r": reading}}
    (fault,) = review(parse_case(data), "").faults
    assert fault.path == "readings.r" and words in fault.says and fault.remedy


def test_a_domain_without_a_network_has_no_nodes_to_read(channel: dict[str, Any]) -> None:
    case = apply(
        parse_case(channel), {"readings.n": {"kind": "node_value", "node": "a", "figure": "pressure"}}
    )
    (fault,) = review(case, "").faults
    assert fault.path == "readings.n" and "there is none" in fault.says


def test_nodes_without_a_line_speak_of_the_network() -> None:
    (fault,) = review(parse_case({"media": WATER, "network": {"nodes": NODES}}), "").faults
    assert fault.path == "network.nodes" and "line" in fault.says and "passage" not in str(fault)


@pytest.mark.parametrize("kind", ["pump", "fan"])
def test_the_curve_a_machine_begins_with_is_called_an_example(kind: str) -> None:
    data = network()
    item = fresh_item(parse_case(data), "network.lines.l.parts", kind, [])
    data["network"]["lines"]["l"]["parts"]["m"] = item
    assert any("example" in text for text in notes(data, "network.lines.l.parts.m"))
    item["curve"] = [
        [flow, gain.replace("20 m", "21 m").replace("400", "410")] for flow, gain in item["curve"]
    ]
    assert not any("example" in text for text in notes(data, "network.lines.l.parts.m"))


def test_the_sheet_says_what_is_solved(channel: dict[str, Any]) -> None:
    def said(data: dict[str, Any]) -> str:
        return next(line.text() for line in lines(parse_case(data)) if line.path.endswith(".solved"))

    assert "turbulence where the Reynolds number is high" in said(channel)
    channel["field"]["physics"] = {"flow": "sst"}
    assert "momentum and turbulence. Not modelled: compressible" in said(channel)
    channel["field"]["physics"] = {"flow": "laminar"}
    assert "laminar flow" in said(channel) and "Not modelled: turbulence" in said(channel)
    assert "temperature" not in said(channel)
    channel["field"] |= {"heat": {"solve": True}, "species": {"c": {"title": "salt"}}, "age": {"solve": True}}
    assert "temperature, salt and the mean age of the fluid" in said(channel)
    assert "turbulent friction" in said(network())
    waves = network()
    waves["network"] |= {"time": {"mode": "waves"}, "thermal": True}
    assert "pressure waves and temperatures" in said(waves)
