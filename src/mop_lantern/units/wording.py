"""Values in sentences: in the unit a person prefers, else in the usual one of the sentence."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from functools import lru_cache

from mop_lantern.units.dimensions import DIMENSIONS
from mop_lantern.units.quantity import UnitFault, convert, pretty_unit, read, show_number
from mop_lantern.units.trade import BY_LETTER

_PREFERRED: ContextVar[Mapping[str, str]] = ContextVar("preferred units of sentences")


@contextmanager
def worded_in(units: Mapping[str, str]) -> Iterator[None]:
    """Let `show` and `show_place` take these units, by dimension, while a case is spoken of."""
    token = _PREFERRED.set(units)
    try:
        yield
    finally:
        _PREFERRED.reset(token)


def preferred(dimension: str, display: Mapping[str, str]) -> str:
    """Give the unit a person prefers for a dimension: their choice, else the first offered.

    A choice that is not a unit of the dimension does not count; the review of a case tells it.
    """
    return _usable(dimension, display.get(dimension) or "") or DIMENSIONS[dimension].units[0]


def worded_unit(dimension: str, usual: str) -> str:
    """Give the preferred unit of a dimension, else the usual one."""
    return _usable(dimension, _PREFERRED.get({}).get(dimension) or "") or usual


@lru_cache(maxsize=256)
def _usable(dimension: str, name: str) -> str:
    """Give a unit as sentences write it (degF and F are °F); nothing where it is not one of the dimension."""
    if not name:
        return ""
    try:
        read(f"1 {name}", dimension)
    except UnitFault:
        return ""
    if dimension == "temperature":
        name = BY_LETTER.get(name, name).replace("deg", "°")
    return name


def show(
    value: float,
    dimension: str,
    usual: str,
    digits: int = 4,
) -> str:
    """Write an SI value: ``show(0.001, "length", "mm")`` gives ``1 mm`` where no other unit is preferred."""
    unit = worded_unit(dimension, usual)
    shown = show_number(convert(value, dimension, unit), digits)
    return f"{shown} {pretty_unit(unit)}" if unit else shown


def show_change(value: float, dimension: str, usual: str, digits: int = 2) -> str:
    """Write a difference of two values in SI: of temperatures in K, or in °F where those are read in °F."""
    if dimension != "temperature":
        return show(value, dimension, usual, digits)
    unit = worded_unit(dimension, usual)
    step = convert(1.0, dimension, unit) - convert(0.0, dimension, unit)
    return f"{show_number(value * step, digits)} {'K' if unit == '°C' else pretty_unit(unit)}"


def show_handy(value: float, dimension: str, usual: str, digits: int = 3) -> str:
    """Write an SI value in the preferred unit where that gives a figure of a few places, else in the usual
    one: nobody reads an atmosphere in mPa.
    """
    figure = abs(convert(value, dimension, worded_unit(dimension, usual)))
    with worded_in(_PREFERRED.get({}) if 1e-3 <= figure < 1e6 else {}):
        return show(value, dimension, usual, digits)


def show_place(place: Iterable[float], usual: str = "mm", digits: int = 4) -> str:
    """Write a place given in m: ``(1, 2.5, 0) mm``; what is lost beside its largest figure is 0."""
    unit = worded_unit("length", usual)
    figures = [convert(float(value), "length", unit) for value in place]
    least = 10.0**-digits * max(map(abs, figures), default=0.0)
    shown = (show_number(value if abs(value) > least else 0.0, digits) for value in figures)
    return f"({', '.join(shown)}) {unit}"
