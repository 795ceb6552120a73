"""Values in sentences: in the unit a person prefers, else in the usual one of the sentence."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar

from mop_lantern.units.quantity import convert, pretty_unit, show_number

_PREFERRED: ContextVar[Mapping[str, str]] = ContextVar("preferred units of sentences")


@contextmanager
def worded_in(units: Mapping[str, str]) -> Iterator[None]:
    """Let `show` and `show_place` take these units, by dimension, while a case is spoken of."""
    token = _PREFERRED.set(units)
    try:
        yield
    finally:
        _PREFERRED.reset(token)


def worded_unit(dimension: str, usual: str) -> str:
    """Give the preferred unit of a dimension, else the usual one."""
    return _PREFERRED.get({}).get(dimension) or usual


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


def show_place(place: Iterable[float], usual: str = "mm", digits: int = 4) -> str:
    """Write a place given in m: ``(1, 2.5, 0) mm``."""
    unit = worded_unit("length", usual)
    shown = (show_number(round(convert(float(value), "length", unit), 6) + 0.0, digits) for value in place)
    return f"({', '.join(shown)}) {unit}"
