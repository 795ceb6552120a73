"""Reading and showing quantities: "500 ft3/min" to SI and back.

The number and the unit are read apart, so that no text is ever evaluated as code.
"""

from __future__ import annotations

import os
import re
import threading
import zlib
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.units.dimensions import DIMENSIONS
from mop_lantern.units.trade import BY_LETTER, doubtful, unit_spelled, value_spelled

_NUMBER = r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d{1,3})?"
_QUANTITY = re.compile(rf"({_NUMBER})\s*(.*)\Z", re.S)
_LETTERED = re.compile(rf"({_NUMBER})\s*((?:deg )?[CF])\s*\Z")
_PREFIXED = re.compile(r"[A-Za-z](?:cfm|gpm)\b")  # pcfm would be a pico of it
_POWERS = re.compile(r"\*\*\s*[(]?\s*-?\s*(\d+)")
LONGEST = 500  # characters of a value
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_EXTRA_UNITS = (
    "inH2O = 249.08891 pascal",  # conventional value, as in NIST SP 811 appendix B.8
    "mmH2O = 9.80665 pascal",  # conventional value, NIST SP 811 appendix B.8
    "gpm = gallon / minute",
    "cfm = foot ** 3 / minute",
    "ftH2O = 2989.0669 pascal",  # conventional value, NIST SP 811 appendix B.8
    "mH2O = 9806.65 pascal",
    "cSt = 1e-6 meter ** 2 / second",
)


class UnitFault(ValueError):
    """A text that is not a quantity of the wanted dimension; the message says why and how to fix it."""


_LOADING = threading.Lock()


def registry() -> Any:
    """Load the unit registry once; late, because it takes half a second. Two threads asking at once get the
    same one.
    """
    with _LOADING:
        return _loaded()


def _kept_units(library: str) -> Path | None:
    """Give the folder in which the registry is kept between starts, one for every place its library lies in:
    what is kept names files there, and another checkout may be gone. None where no folder can be made.
    """
    home = Path(os.environ.get("XDG_CACHE_HOME") or "~/.cache").expanduser()
    folder = home / "mop-lantern" / f"units-{zlib.crc32(str(Path(library).resolve()).encode()):08x}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK) else None


@lru_cache(maxsize=1)
def _loaded() -> Any:
    import pint

    made: Any = pint.UnitRegistry(
        autoconvert_offset_to_baseunit=True,
        cache_folder=_kept_units(pint.__file__),
        on_redefinition="ignore",
    )
    for line in _EXTRA_UNITS:
        made.define(line)
    return made


@lru_cache(maxsize=2048)
def unit(text: str) -> Any:
    """Read a unit such as ``m³/h``, ``Pa·s``, ``ft3/min`` or ``°C``.

    Raises
    ------
    UnitFault : the unit is not known.
    """
    if len(text) > LONGEST:
        raise UnitFault("the unit is too long.")
    plain = re.sub(
        r"(?<=[A-Za-z])([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)",
        lambda m: "**" + m[1].translate(_SUPERSCRIPTS),
        unit_spelled(text.strip()),
    )
    plain = plain.replace("°C", "degC").replace("°F", "degF").replace("°", "deg").replace("µ", "u")
    plain = plain.replace("·", "*").replace("^", "**").replace("%", "percent")
    plain = re.sub(r"(?<=[A-Za-z])(-?[234])(?![A-Za-z0-9])", r"**\1", plain)
    plain = re.sub(r"(?<=[A-Za-z0-9])\s+(?=[A-Za-z])", "*", plain)
    powers = [int(power[:4]) for power in _POWERS.findall(plain)]
    tower = re.search(r"\*\*[\s(\d.-]*\*\*", plain)
    if (
        not re.fullmatch(r"[A-Za-z0-9_*/(). -]{0,60}", plain)
        or plain.count("**") > 6
        or tower
        or _PREFIXED.search(plain)
        or max(powers, default=0) > 12
    ):
        formula = " Begin a formula with =." if re.search(r"[<>=+,]|\*\s*\(", text) else ""
        raise UnitFault(f"“{text}” is not a unit.{formula}")
    try:
        return registry().parse_units(plain) if plain else registry().Unit("")
    except Exception as problem:
        raise UnitFault(f"the unit “{text}” is not known.") from problem


def _suggest(dimension: str) -> str:
    label = DIMENSIONS[dimension].label
    offered = [u for u in DIMENSIONS[dimension].units if u]
    return (
        f"Give {'an' if label[0] in 'aeiou' else 'a'} {label}, for example in {', '.join(offered[:4])}."
        if offered
        else "Give a plain number."
    )


def to_si(quantity: Any, dimension: str) -> Any:
    """Turn a registry quantity into an SI float (or an array of floats), checking its dimension.

    Raises
    ------
    UnitFault : the quantity has another dimension.
    """
    wanted = unit(DIMENSIONS[dimension].si)
    if quantity.dimensionality != wanted.dimensionality:
        shown = f"{quantity.units:~P}" or "no unit"
        raise UnitFault(f"“{shown}” is not a unit of {DIMENSIONS[dimension].label}. {_suggest(dimension)}")
    value = quantity.to(wanted).magnitude
    return float(value) if np.ndim(value) == 0 else np.asarray(value, float)


def parse(text: str) -> Any:
    """Read a number with a unit as a registry quantity.

    Raises
    ------
    UnitFault : there is no number, or the unit is not known.
    """
    text = text.strip()
    if len(text) > LONGEST:
        raise UnitFault("the value is too long.")
    found = _QUANTITY.match(value_spelled(text))
    if not found:
        raise UnitFault(f"“{text.strip()}” does not begin with a number.")
    if "," in found[1] and found[2][:1] in (".", ","):
        raise UnitFault(f"“{text}” holds commas between thousands: leave them away.")
    if doubtful(found[1]):
        low, high = found[1].replace(",", "."), found[1].replace(",", "")
        raise UnitFault(f"“{found[1]}” may be {low.rstrip('0').rstrip('.')} or {high}: write one of them.")
    number = float(found[1].replace(",", "."))
    if not abs(number) < 1e250:
        raise UnitFault(f"{found[1]} is too large a number.")
    return registry().Quantity(number, unit(found[2]))


def read(text: str, dimension: str) -> float:
    """Read a quantity typed by a person as an SI float; a decimal comma is understood.

    Raises
    ------
    UnitFault : no number, an unknown unit, or a unit of another dimension.
    """
    found = _QUANTITY.match(text.strip()) if len(text) <= LONGEST else None
    if found and not doubtful(found[1]):  # large cases hold tens of thousands of values in a handful of units
        factor = _factor(found[2], dimension)
        value = float(found[1].replace(",", "."))
        if factor and abs(value) < 1e250:
            return value * factor
    return _read(text, dimension)


@lru_cache(maxsize=512)
def _factor(name: str, dimension: str) -> float:
    """Give what a number of a unit is multiplied with for SI; 0 where that is not all, or not right."""
    try:
        nothing, one = (_read(f"{number} {name}", dimension) for number in (0, 1))
    except UnitFault:
        return 0.0
    return one if nothing == 0 else 0.0


@lru_cache(maxsize=4096)
def _read(text: str, dimension: str) -> float:
    if dimension == "temperature":
        text = _LETTERED.sub(lambda found: f"{found[1]} {BY_LETTER[found[2]]}", text)
    try:
        quantity = parse(text)
    except UnitFault as fault:
        raise UnitFault(f"{fault} {_suggest(dimension)}") from None
    if quantity.dimensionless and DIMENSIONS[dimension].si and quantity.units == registry().Unit(""):
        raise UnitFault(f"“{text.strip()}” has no unit. {_suggest(dimension)}")
    return to_si(quantity, dimension)


def convert(value: float, dimension: str, to: str) -> float:
    """Turn an SI value into another unit of its dimension."""
    if to == DIMENSIONS[dimension].si or dimension == "number":
        return value
    return float(registry().Quantity(value, unit(DIMENSIONS[dimension].si)).to(unit(to)).magnitude)


def convert_all(values: Any, dimension: str, to: str) -> NDArray[np.float64]:
    """Turn SI values (any shape) into another unit of their dimension, degrees too."""
    nothing = convert(0.0, dimension, to)
    return np.asarray(nothing + np.asarray(values, float) * (convert(1.0, dimension, to) - nothing))


def show_number(value: float, digits: int = 4) -> str:
    """Write a number with a true minus sign and the given significant digits."""
    if value != value:
        return "–"
    text = f"{value:.{digits}g}"
    if "e" in text and 1 <= abs(value) < 1e6:
        text = f"{float(text):.0f}"
    if "e" in text:
        mantissa, power = text.split("e")
        text = f"{mantissa}e{int(power)}"
    return text.replace("-", "−")


def pretty_unit(name: str) -> str:
    """Write a unit with raised figures and centred dots, as it is printed."""
    name = re.sub(r"(?<=[A-Za-z])([234])(?![A-Za-z0-9])", lambda m: "²³⁴"[int(m[1]) - 2], name)
    return re.sub(r"(?<=[A-Za-z]) (?=[A-Za-z])", "·", name)
