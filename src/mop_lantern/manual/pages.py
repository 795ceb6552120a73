"""Makes the manual from its text files and from the declarations of all kinds."""

from __future__ import annotations

import html
import re
from functools import cache
from pathlib import Path
from typing import Any

from mop_lantern.case import Case, lines
from mop_lantern.case.sections import COMPONENTS, SECTIONS
from mop_lantern.declare import Declared, Record, declared, discover
from mop_lantern.judge.facts import NoteKind
from mop_lantern.manual.records import RECORDS
from mop_lantern.units import DIMENSIONS, preferred, show

_HEADING = re.compile(r"^(#+) (.*?)\s*\{#([\w.-]+)\}\s*$", re.M)
KINDS: dict[str, tuple[tuple[str, str], ...]] = {
    chapter: tuple((each.path, each.package) for each in SECTIONS if each.package and each.chapter == chapter)
    for chapter in dict.fromkeys(section.chapter for section in SECTIONS if section.package)
}
KINDS["Network"] += (("network.components", COMPONENTS),)
_SECTION_ANCHORS = {"Walls and solids": "Walls", "Transported quantities": "Transported"}


def _prose(text: str) -> str:
    """Give words of the code as HTML: titles slanted, squares raised."""
    whole = re.sub(r"\*([A-Z][^*]+)\*", r"<em>\1</em>", html.escape(text))
    return re.sub(r"\b([UHDvwnrq])2\b", "\\1\u00b2", whole)


def _kind_html(place: str, name: str, kind: Any) -> str:
    """Describe a kind: caption, what it does, its source, its values."""
    paragraphs = [" ".join(part.split()) for part in (kind.__doc__ or "").strip().split("\n\n")]
    made = [f'<h3><a name="{place}.{name}"></a>{html.escape(kind.caption)}</h3>']
    made += [
        f"<p>{'<i>' + _prose(text) + '</i>' if text.startswith('Source') else _prose(text)}</p>"
        for text in paragraphs
    ]
    rows = [
        _value_html(key, rule, kind.model_fields[key])
        for key, rule in declared(kind).items()
        if rule.form != "stored"
    ]
    return "\n".join([*made, "<ul>", *rows, "</ul>"])


def _record_html(path: str, title: str, record: type[Record]) -> str:
    """Describe a line of the sheet that has one form."""
    words = _prose(" ".join((record.__doc__ or "").split()))
    rows = [
        _value_html(key, rule, record.model_fields[key])
        for key, rule in declared(record).items()
        if rule.form != "stored"
    ]
    return "\n".join(
        [f'<h3><a name="{path}"></a>{html.escape(title)}</h3>', f"<p>{words}</p>", "<ul>", *rows, "</ul>"]
    )


def _value_html(key: str, rule: Declared, info: Any) -> str:
    """Describe one value: its dimension, help, options, limits, default, and its name in the file."""
    dimension = DIMENSIONS[rule.dimension].label if rule.dimension != "number" else ""
    what = dimension if rule.form in ("quantity", "points") and dimension else ""
    said = [rule.help]
    if rule.varies:
        said.append(f"May change with {', '.join(rule.varies)}.")
    if rule.options:
        said.append(f"One of: {'; '.join(words for _, words in rule.options)}.")
    said += [f"{limit}." for limit in _limits(rule)]
    if not info.is_required() and info.default not in (None, "", [], {}, ()):
        said.append(f"Default: {_default(rule, info.default)}.")
    return (
        f"<li><b>{html.escape(rule.label)}</b>{f' ({html.escape(what)})' if what else ''}: "
        f"{html.escape(' '.join(said))} <code>{key}</code></li>"
    )


def _limits(rule: Declared) -> list[str]:
    """Say between which limits a value must be."""
    unit = preferred(rule.dimension, {})
    limits = (
        ("Above", rule.above),
        ("At least", rule.at_least),
        ("Below", rule.below),
        ("At most", rule.at_most),
    )
    return [
        f"{words} {show(limit, rule.dimension, unit) if limit else '0'}"
        for words, limit in limits
        if limit is not None
    ]


def _default(rule: Declared, value: Any) -> str:
    """Say a default as it is typed, a choice by its words."""
    typed = str(value).lower() if isinstance(value, bool) else value
    if rule.options:
        return dict(rule.options).get(str(typed), str(typed))
    if isinstance(value, list | tuple):
        return ", ".join(
            f"({', '.join(map(str, each))})" if isinstance(each, tuple | list) else str(each)
            for each in value
        )
    return str(value)


def _notes_html() -> str:
    made = ['<h1><a name="notes"></a>Margin notes</h1>', "<p>Checks made while the case is written.</p>"]
    for name, kind in discover("mop_lantern.judge.notes", NoteKind).items():
        paragraphs = [" ".join(part.split()) for part in (kind.__doc__ or "").strip().split("\n\n")]
        made.append(
            f'<h3><a name="note.{name}"></a>{html.escape(kind.caption)}</h3>'
            + "".join(f"<p>{_prose(text)}</p>" for text in paragraphs)
        )
    return "\n".join(made)


@cache
def manual_html() -> str:
    """Give the whole manual as HTML; anchors are those of `anchors`."""
    from markdown_it import MarkdownIt

    reader = MarkdownIt("commonmark").enable("table")
    made: list[str] = []
    for file in sorted((Path(__file__).parent / "text").glob("*.md")):
        text = _HEADING.sub(r'\1 <a name="\3"></a>\2', file.read_text("utf-8"))
        for part in re.split(r"(?m)^(?=# )", text):
            if not part.strip():
                continue
            made.append(reader.render(part))
            found = re.search(r'<a name="([\w.-]+)">', part)
            made += [_record_html(*each) for each in RECORDS.get(found[1] if found else "", ())]
            for place, package in KINDS.get(found[1] if found else "", ()):
                made += [_kind_html(place, name, kind) for name, kind in discover(package).items()]
        if file.name.startswith("85"):
            made.append(_notes_html())
    return "\n".join(made)


@cache
def anchors() -> tuple[tuple[str, str], ...]:
    """Give all anchors with the words of their headings, in order."""
    found = re.findall(r'<h\d><a name="([\w.-]+)"></a>(.*?)</h\d>', manual_html())
    return tuple((name, html.unescape(re.sub(r"<.*?>", "", words))) for name, words in found)


def anchor_of(case: Case, path: str) -> str:
    """Give the anchor that concerns the line of a path: its kind, else its section."""
    known = {name for name, _ in anchors()}
    for line in lines(case):
        if line.path == path:
            place, _, key = path.rpartition(".")
            here: Any = case.as_data()
            for step in path.split("."):
                here = here.get(step, {}) if isinstance(here, dict) else {}
            kind = here.get("kind", "") if isinstance(here, dict) else ""
            place = "network.components" if place.startswith("network.lines.") else place
            for name in (path, place):
                if not kind and name in known:
                    return name
            if f"{place}.{kind}" in known:
                return f"{place}.{kind}"
            section = _SECTION_ANCHORS.get(line.section, line.section)
            return section if section in known else "begin"
    return "begin"


def trust_anchor(item: str) -> str:
    """Give the anchor of an item of the trust list."""
    name = f"trust-{item.split('.')[0]}"
    return name if name in {anchor for anchor, _ in anchors()} else "trust"
