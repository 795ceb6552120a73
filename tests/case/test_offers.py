"""What the list behind "+" offers: kinds that fit the case, grouped, in order, found by the trade's words."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case
from mop_lantern.case.offers import components, offers
from mop_lantern.case.ready_part import PLACE
from mop_lantern.case.sections import COMPONENTS, SECTIONS, offered_under
from mop_lantern.declare import discover

WATER = {"w": {"kind": "water"}}
NETWORK = {
    "nodes": {"a": {"kind": "reservoir"}, "b": {"kind": "reservoir"}},
    "lines": {
        "l": {"start": "a", "end": "b", "parts": {"p": {"kind": "pipe", "size": "DN50"}}},
        "m": {"start": "a", "end": "b", "parts": {"p": {"kind": "pipe", "size": "DN50"}}},
    },
}
PACKAGES = sorted({section.package for section in SECTIONS if section.package} | {COMPONENTS})


def places(data: dict[str, Any], heading: str) -> set[str]:
    """Name the sections that a heading of a case offers to add to."""
    return {offer.place for offer in offers(parse_case({"media": WATER, **data}), heading)}


def test_a_plane_is_offered_parts_of_a_plane_and_a_space_those_of_a_space(channel: dict[str, Any]) -> None:
    assert places(channel, "Shape") == {"shape.parts"}
    assert places({"shape": {"space": "axis"}}, "Shape") == {"shape.parts"}
    assert places({"shape": {"space": "space"}}, "Shape") == {"shape.solids", PLACE}
    plane = {offer.kind for offer in offers(parse_case(channel), "Readings")}
    space = {offer.kind for offer in offers(parse_case({"shape": {"space": "space"}}), "Readings")}
    assert {"section", "turning_point"} <= plane and not {"section", "turning_point"} & space


def test_readings_are_of_what_the_case_has(channel: dict[str, Any]) -> None:
    plane = {offer.group for offer in offers(parse_case(channel), "Readings")}
    network = {offer.group for offer in offers(parse_case({"media": WATER, "network": NETWORK}), "Readings")}
    both = {offer.group for offer in offers(parse_case({**channel, "network": NETWORK}), "Readings")}
    assert "Of a network" not in plane and "At an edge or face" in plane
    assert "Of a network" in network and "At an edge or face" not in network
    assert both == plane | network


def test_groups_stand_together_and_captions_in_order(channel: dict[str, Any]) -> None:
    for heading in {section.heading for section in SECTIONS if section.offered}:
        found = offers(parse_case({**channel, "network": NETWORK}), heading)
        groups = [offer.group for offer in found]
        assert len(dict.fromkeys(groups)) == sum(a != b for a, b in zip(groups, ["", *groups], strict=False))
        for group in set(groups):
            captions = [offer.caption.lower() for offer in found if offer.group == group]
            assert captions == sorted(captions)


def test_components_go_into_the_line_at_hand() -> None:
    case = parse_case({"media": WATER, "network": NETWORK})
    into = {offer.place for offer in offers(case, "Network", "l") if offer.place.endswith(".parts")}
    assert into == {"network.lines.l.parts"}
    last = {offer.place for offer in offers(case, "Network") if offer.place.endswith(".parts")}
    assert last == {"network.lines.m.parts"}
    assert len(components("l")) == len(discover(COMPONENTS))


@pytest.mark.parametrize(
    ("heading", "typed", "kind"),
    [
        ("Shape", "elbow", "bent"),
        ("Openings", "inlet", "velocity"),
        ("Network", "coefficient", "loss"),
        ("Walls and solids", "U-value", "layered"),
        ("Readings", "pressure loss", "drop"),
        ("Fluid", "OIL visc", "oil"),
    ],
)
def test_words_of_the_trade_find_a_kind(channel: dict[str, Any], heading: str, typed: str, kind: str) -> None:
    found = offers(parse_case({**channel, "network": NETWORK}), heading)
    assert kind in {offer.kind for offer in found if offer.fits(typed)}
    assert not [offer for offer in found if offer.fits("zebra")]


@pytest.mark.parametrize("package", PACKAGES)
def test_every_kind_has_a_group_a_drawing_and_help(package: str) -> None:
    for name, kind in discover(package).items():
        assert kind.caption and kind.group, name  # type: ignore[attr-defined]
        assert kind.symbol.startswith("M"), name  # type: ignore[attr-defined]
        assert (kind.__doc__ or "").strip(), name
    drawings = [kind.symbol for kind in discover(package).values()]  # type: ignore[attr-defined]
    assert len(set(drawings)) >= len(drawings) - 2, "kinds of one package look different"


def test_everything_offered_can_be_added(channel: dict[str, Any]) -> None:
    from mop_lantern.case import fresh_item, fresh_key

    plane = parse_case(channel)
    for heading in ("Shape", "Openings", "Walls and solids", "Grid", "Readings"):
        for offer in offers(plane, heading):
            if offer.imported:
                continue
            item = fresh_item(plane, offer.place, offer.kind, ["run.start", "run.end"])
            assert apply(plane, {f"{offer.place}.{fresh_key(plane, offer.place)}": item})


def test_headings_without_kinds_offer_nothing(channel: dict[str, Any]) -> None:
    assert offered_under("Solver") == () and offers(parse_case(channel), "Solver") == []
