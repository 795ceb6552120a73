"""Declared parameters: one declaration feeds the document, its checks, the sheet, the schema and the help."""

from mop_lantern.declare.declared import (
    Declared,
    amounts,
    choice,
    count,
    curve,
    declared,
    flag,
    point,
    points,
    quantity,
    reference,
    stored,
    text,
    unused,
    words,
)
from mop_lantern.declare.kind import Kind, Numbers, Record, discover, union

__all__ = [
    "Declared",
    "Kind",
    "Numbers",
    "Record",
    "amounts",
    "choice",
    "count",
    "curve",
    "declared",
    "discover",
    "flag",
    "point",
    "points",
    "quantity",
    "reference",
    "stored",
    "text",
    "union",
    "unused",
    "words",
]
