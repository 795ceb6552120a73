"""Quantities with units, and the arithmetic people type into values."""

from mop_lantern.units.dimensions import DIMENSIONS, Dimension, preferred
from mop_lantern.units.expression import Names, evaluate
from mop_lantern.units.quantity import UnitFault, convert, read, show, show_number

__all__ = [
    "DIMENSIONS", "Dimension", "Names", "UnitFault", "convert", "evaluate", "preferred", "read", "show", "show_number",
]  # fmt: skip
