"""Values and units as the trade writes them, turned into what the registry of units understands."""

from __future__ import annotations

import re

ALIASES = {
    "CFM": "cfm",
    "acfm": "cfm",
    "ACFM": "cfm",
    "fpm": "ft/min",
    "FPM": "ft/min",
    "GPM": "gpm",
    "lps": "L/s",
    "lpm": "L/min",
    "in H2O": "inH2O",
    "in wg": "inH2O",
    "in w.g.": "inH2O",
    "in wc": "inH2O",
    "mm H2O": "mmH2O",
    "ft H2O": "ftH2O",
    "m H2O": "mH2O",
    "psig": "psi",
    "barg": "bar",
    "bar(g)": "bar",
    "kPa(g)": "kPa",
    "sqft": "ft2",
    "sq ft": "ft2",
    "sq in": "in2",
    "cu ft": "ft3",
    "Nm": "N m",
    "Pas": "Pa s",
    "mPas": "mPa s",
    "kw": "kW",
    "KW": "kW",
    '"': "in",
    "″": "in",
    "'": "ft",
    "′": "ft",
}
"""Units the registry does not know, or takes for something else (it reads Nm as nautical mile)."""
BY_LETTER = {"C": "degC", "F": "degF", "deg C": "degC", "deg F": "degF"}
"""Temperatures, where only a temperature can be meant."""
_PER_KELVIN = re.compile(r"(k?W|k?J|Wh)/(m|m2|m²|m\^2|kg|g)[ ·]?K")
_KELVIN_OVER = re.compile(r"(m2|m²|m\^2)[ ·]?K/W")
_PER_AREA = re.compile(r"(Btu|BTU)/(?:h|hr)[ ·-](ft|ft2|ft²|ft\^2)[ ·-]°?F")
_FRACTION = re.compile(r"([+-]?)(?:(\d+)(?:\s+|-))?(\d+)/([1-9]\d*)(?![\d.])\s*(.*)\Z", re.S)
_FEET = re.compile(r"([+-]?)(\d+(?:\.\d+)?)\s*(?:ft|'|′)[\s-]*(\d[^a-z]*?)\s*(?:in|\"|″)\Z", re.S)
_SPACE = "[ \u00a0\u2009\u202f]"
_GROUPS = re.compile(rf"[+-]?\d{{1,3}}(?:{_SPACE}\d{{3}})+(?!\d)")
_DOUBTFUL = re.compile(r"[+-]?[1-9]\d{0,2},\d{3}\Z")


def unit_spelled(text: str) -> str:
    """Give a unit in the registry's spelling: ``W/m²K`` is ``W/(m²*K)``, ``in wg`` is ``inH2O``."""
    text = text.replace("\u03bc", "µ")  # the Greek letter for the sign
    if text in ALIASES:
        return ALIASES[text]
    for pattern, spelled in (
        (_PER_KELVIN, r"\1/(\2*K)"),
        (_KELVIN_OVER, r"\1*K/W"),
        (_PER_AREA, r"\1/h/\2/degF"),
    ):
        if pattern.fullmatch(text):
            return pattern.sub(spelled, text)
    return text


def value_spelled(text: str) -> str:
    """Give a value as one decimal number and a unit: ``2 1/2 in`` is ``2.5 in``, ``6 ft 3 in`` is ``75 in``,
    ``1 500 mm`` is ``1500 mm``; anything else stays.
    """
    feet = _FEET.match(text)
    if feet:
        inches = _number(feet[3])
        return text if inches is None else f"{feet[1]}{12 * float(feet[2]) + inches!r} in"
    parted = _FRACTION.match(text)
    if parted:
        number = _number(text[len(parted[1]) : len(text) - len(parted[5])])
        return text if number is None else f"{parted[1]}{number!r} {parted[5]}".rstrip()
    grouped = _GROUPS.match(text)
    return re.sub(_SPACE, "", grouped[0]) + text[grouped.end() :] if grouped else text


def _number(text: str) -> float | None:
    """Give the number of ``3``, ``3.5``, ``3/4`` or ``2 3/4``; None for anything else."""
    if re.fullmatch(r"\d+(\.\d+)?", text.strip()):
        return float(text)
    parted = _FRACTION.match(text.strip())
    if not parted or parted[1] or parted[5]:
        return None
    return float(parted[2] or 0) + float(parted[3]) / float(parted[4])


def doubtful(number: str) -> bool:
    """Whether the comma of a number may part thousands as well as decimals: ``1,500``."""
    return _DOUBTFUL.match(number) is not None
