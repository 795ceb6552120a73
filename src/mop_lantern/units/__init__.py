"""Quantities with units, and the arithmetic people type into values."""

from mop_lantern.units.dimensions import DIMENSIONS, Dimension
from mop_lantern.units.expression import Names, evaluate, names_in
from mop_lantern.units.quantity import UnitFault, convert, convert_all, read, show_number
from mop_lantern.units.varying import EVERYWHERE, PLACES, Varying, frozen
from mop_lantern.units.wording import (
    preferred,
    show,
    show_change,
    show_handy,
    show_place,
    worded_in,
    worded_unit,
)

__all__ = [
    "DIMENSIONS",
    "EVERYWHERE",
    "PLACES",
    "Dimension",
    "Names",
    "UnitFault",
    "Varying",
    "convert",
    "convert_all",
    "evaluate",
    "frozen",
    "names_in",
    "preferred",
    "read",
    "show",
    "show_change",
    "show_handy",
    "show_number",
    "show_place",
    "worded_in",
    "worded_unit",
]
