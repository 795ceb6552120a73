"""The case: a frozen document, edits that make new ones, variants, and its numbers in SI."""

from mop_lantern.case.balancing import balanced
from mop_lantern.case.columns import Columns, parse_columns, read_columns
from mop_lantern.case.document import SCHEMA, Case, json_schema, parse_case
from mop_lantern.case.drafts import Draft, DraftKeeper, OpenMark, fingerprint, left_behind
from mop_lantern.case.edits import apply, merged, parse_value, value_at, with_variant
from mop_lantern.case.files import load, save
from mop_lantern.case.fresh import fresh_item, fresh_key
from mop_lantern.case.handles import Handle, handles
from mop_lantern.case.line_list import lines_of
from mop_lantern.case.network_review import duties
from mop_lantern.case.network_table import edits_of, table_of
from mop_lantern.case.resolve import Resolver, quantities
from mop_lantern.case.review import (
    ResolvedCase,
    Review,
    SettledBoth,
    facts_of,
    is_network,
    quick_shape,
    review,
    settle,
    settle_any,
)
from mop_lantern.case.sentences import Line, lines
from mop_lantern.case.sizing import sized
from mop_lantern.case.ways import ways_stated

__all__ = [
    "Case",
    "Columns",
    "Draft",
    "DraftKeeper",
    "Handle",
    "Line",
    "OpenMark",
    "ResolvedCase",
    "Resolver",
    "SettledBoth",
    "Review",
    "SCHEMA",
    "apply",
    "balanced",
    "duties",
    "edits_of",
    "facts_of",
    "fingerprint",
    "fresh_item",
    "fresh_key",
    "handles",
    "is_network",
    "json_schema",
    "left_behind",
    "lines",
    "merged",
    "load",
    "parse_case",
    "parse_columns",
    "parse_value",
    "quantities",
    "quick_shape",
    "read_columns",
    "review",
    "lines_of",
    "save",
    "settle",
    "settle_any",
    "sized",
    "table_of",
    "value_at",
    "with_variant",
    "ways_stated",
]
