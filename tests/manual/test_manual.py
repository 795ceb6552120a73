"""The manual: an anchor for every kind, note, trust item and demo; every line leads somewhere."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from mop_lantern.case import lines, load
from mop_lantern.declare import discover
from mop_lantern.manual import anchor_of, anchors, manual_html, trust_anchor
from mop_lantern.manual.pages import KINDS

DEMOS = sorted((Path(__file__).parents[2] / "src" / "mop_lantern" / "demos").glob("*.lantern"))


def test_every_kind_note_and_demo_has_its_place() -> None:
    known = [name for name, _ in anchors()]
    assert len(known) == len(set(known)), "an anchor stands once"
    for places in KINDS.values():
        for place, package in places:
            assert {f"{place}.{name}" for name in discover(package)} <= set(known)
    assert {f"note.{name}" for name in discover("mop_lantern.judge.notes")} <= set(known)
    assert {f"demo-{path.stem}" for path in DEMOS} <= set(known)


@pytest.mark.parametrize("demo", DEMOS, ids=lambda path: path.stem)
def test_every_line_of_a_demo_leads_to_its_section(demo: Path) -> None:
    case = load(demo)
    known = {name for name, _ in anchors()}
    for line in lines(case):
        found = anchor_of(case, line.path)
        assert found in known and found != "begin", line.path


@pytest.mark.parametrize(
    "item",
    [
        "mass",
        "mass_cells",
        "momentum",
        "readings",
        "backflow",
        "gap",
        "balance.T",
        "spreading.c.salt",
        "steps",
        "courant",
        "grid_error",
        "reading.far",
        "grid_guess",
        "forces",
        "note.laminar_limit",
        "absolute",
        "mach",
    ],
)
def test_every_trust_item_is_explained(item: str) -> None:
    assert trust_anchor(item) == f"trust-{item.split('.')[0]}"


def test_the_text_is_whole() -> None:
    html = manual_html()
    assert "{#" not in html and "<h1>" in html and "Source" in html
    assert not re.search(r"https?://", html), "the manual works without a network"
