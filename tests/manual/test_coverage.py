"""What the manual must hold: everything of every kind, layers, menus, keys, commands, exit codes, the trade's
words; sections with the numbers of the sheet.
"""

from __future__ import annotations

import html
import re
from pathlib import Path

import pytest

from mop_lantern.case.sections import COMPONENTS, SECTIONS
from mop_lantern.case.sentences import SECTIONS as HEADINGS
from mop_lantern.cli.main import parser
from mop_lantern.declare import declared, discover
from mop_lantern.desk.sheet.sheet import Sheet
from mop_lantern.manual import anchors, answers, manual_html
from mop_lantern.manual.records import RECORDS
from mop_lantern.manual.search import SYNONYMS

TEXT = html.unescape(re.sub(r"<[^>]+>", "", manual_html()))
PACKAGES = sorted({section.package for section in SECTIONS if section.package} | {COMPONENTS})


def entry(place: str, name: str) -> str:
    """Give the words of the entry of a kind."""
    after = manual_html().split(f'<a name="{place}.{name}"></a>')[1]
    return html.unescape(re.sub(r"<[^>]+>", "", re.split(r'<h\d><a name="', after)[0]))


@pytest.mark.parametrize("package", PACKAGES)
def test_every_value_is_there_with_options_limits_default_and_name(package: str) -> None:
    place = next((s.path for s in SECTIONS if s.package == package), "network.components")
    for name, kind in discover(package).items():
        words = entry(place, name)
        for key, rule in declared(kind).items():
            if rule.form == "stored":
                continue
            assert rule.label in words and rule.help in words and key in words, f"{name}.{key}"
            for _, option in rule.options:
                assert option in words, f"{name}.{key}"
            if rule.at_least is not None:
                assert "At least" in words
            default = kind.model_fields[key].default
            if isinstance(default, str) and default and not rule.options:
                assert f"Default: {default}" in words, f"{name}.{key}"


def test_every_line_of_one_form_is_told_too() -> None:
    chapters = {path for lines in RECORDS.values() for path, _, _ in lines}
    single = {section.path for section in SECTIONS if not section.many}
    assert single <= chapters | {"field"}
    for lines in RECORDS.values():
        for path, title, record in lines:
            words = html.unescape(
                re.sub(r"<[^>]+>", "", manual_html().split(f'<a name="{path}"></a>')[1].split("<h3>")[0])
            )
            assert words.startswith(title)
            for key, rule in declared(record).items():
                assert rule.form == "stored" or (rule.label in words and key in words), f"{path}.{key}"


def test_sections_have_the_numbers_of_the_sheet() -> None:
    numbered = dict(re.findall(r"^(\d+) (.+)$", "\n".join(words for _, words in anchors()), re.M))
    titles = {"12": "Measured data"}
    for number, heading in enumerate(HEADINGS, 1):
        assert numbered[str(number)] == titles.get(str(number), heading)
    assert Sheet  # the sheet numbers by the same list


def test_trust_items_have_titles() -> None:
    for place, words in anchors():
        if place.startswith("trust-"):
            assert " " in words and words[0].isupper() and "_" not in words, place


def test_every_layer_is_told() -> None:
    for name, layer in discover("mop_lantern.scene.layers").items():
        assert f"<strong>{layer.caption}</strong>" in manual_html(), name  # type: ignore[attr-defined]


def test_commands_options_and_exit_codes_are_told() -> None:
    commands = next(action for action in parser()._actions if action.dest == "command")
    chapter = TEXT.split("Command line")[-1]
    for name, command in commands.choices.items():  # type: ignore[union-attr]
        assert re.search(rf"\b{name}\b", chapter), name
        for action in command._actions:
            for option in action.option_strings:
                assert option in ("-h", "--help") or option in chapter, f"{name} {option}"
    for code in range(4):
        assert re.search(rf"^{code}$", chapter, re.M)


@pytest.mark.parametrize(
    "words",
    [
        "water hammer",
        "surge",
        "gauge pressure",
        "U-value",
        "air change",
        "age of air",
        "residence time",
        "cavitation",
        "system curve",
        "duty point",
        "hydraulic grade",
        "iso-surface",
        "concentration",
        "axisymmetric",
        "loss coefficient",
    ],
)
def test_the_words_of_the_trade_are_found(words: str) -> None:
    place, _ = answers(words)[0]
    assert place == SYNONYMS[words.lower()]


def test_every_synonym_leads_somewhere_and_headings_are_found() -> None:
    known = {place for place, _ in anchors()}
    assert set(SYNONYMS.values()) <= known
    assert ("Openings", "5 Openings") in answers("openings")
    assert answers("  ") == [] == answers("no such word at all")


def test_nothing_is_from_memory_and_no_marks_are_left() -> None:
    assert "from memory" not in TEXT
    assert not re.search(r"\*\*[A-Z]", TEXT)
    assert not re.search(r"(?<![\w*])\*[A-Z][^*\n]+\*", TEXT), "titles are slanted, without asterisks"
    assert "rho U² A / 2" in TEXT


def test_walkthroughs_come_before_the_sections() -> None:
    places = [place for place, _ in anchors()]
    assert places.index("begin") < places.index("walkthroughs") < places.index("Shape")
    files = sorted((Path(__file__).parents[2] / "src" / "mop_lantern" / "manual" / "text").glob("*.md"))
    assert len(files) >= 15
