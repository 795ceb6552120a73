"""The scale of a quantity: which values the colours reach over, and in what steps."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import create_model

from mop_lantern.case import Case
from mop_lantern.declare import Record, choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.errors import Fault
from mop_lantern.scene.options import options_at

SCALES = "views.scales"
LEAST_SHARE = 1e-6  # of the highest value: where a scale in powers of ten begins of itself
SHARED_SHARE = 1e-3  # where one of several pictures does, so that all begin alike


@dataclass(frozen=True)
class Scale:
    """What a case keeps of a scale.

    Attributes
    ----------
    low, high : SI, or None for what the field has. powers : in even powers of ten.
    """

    low: float | None = None
    high: float | None = None
    powers: bool = False


@cache
def scale_kind(dimension: str) -> type[Record]:
    """Give the declaration of a scale of quantities of a dimension."""
    ends = {
        name: (
            Text,
            quantity(
                dimension, name, f"Value of the {name} colour; auto: what the field has.", default="auto"
            ),
        )
        for name in ("lowest", "highest")
    }
    steps = choice(
        "steps",
        "How the colours follow the values.",
        {"even": "even", "powers": "powers of ten"},
        default="even",
    )
    made: type[Record] = create_model(  # type: ignore[call-overload]
        "ScaleRecord", __base__=Record, **ends, steps=(str, steps)
    )
    return made


def scales(
    case: Case | None, quantities: Mapping[str, tuple[str, str]]
) -> tuple[dict[str, Scale], list[Fault]]:
    """Give the scales a case keeps of quantities (key to label and dimension), and their faults."""
    kept = case.views.get(SCALES.rpartition(".")[2]) if case is not None else None
    names = [name for name in kept if name in quantities] if isinstance(kept, dict) else []
    numbers, faults = options_at(case, SCALES, {name: scale_kind(quantities[name][1]) for name in names})
    found = {}
    for name, one in numbers.items():
        scale = Scale(one.lowest, one.highest, one.steps == "powers")
        wrong = _wrong(f"{SCALES}.{name}", scale)
        faults += wrong
        if not wrong:
            found[name] = scale
    return found, faults


def _wrong(place: str, scale: Scale) -> list[Fault]:
    low, high = scale.low, scale.high
    if low is not None and high is not None and low >= high:
        return [
            Fault(
                f"{place}.highest",
                "the highest value of the scale must be above the lowest.",
                "Change one of them, or type auto.",
            )
        ]
    ends = [key for key, end in (("lowest", low), ("highest", high)) if end is not None and end <= 0]
    if scale.powers and ends:
        return [
            Fault(
                f"{place}.{ends[0]}",
                f"in powers of ten the {ends[0]} value must be above 0.",
                "Change it, type auto, or choose even steps.",
            )
        ]
    return []


def reach(
    values: NDArray[np.float64],
    scale: Scale,
    shared: tuple[float | None, float | None],
    from_nothing: bool,
) -> tuple[float, float, bool]:
    """Give the lowest and the highest value of a scale, and whether it goes by powers of ten.

    Parameters
    ----------
    values : (n,) of the field, may be empty. shared : ends that several pictures share, where the case says
    nothing. from_nothing : of itself the scale begins at zero.
    """
    low, high = (
        own if own is not None else other for own, other in zip((scale.low, scale.high), shared, strict=True)
    )
    high = float(values.max(initial=-np.inf)) if high is None else high
    high = 1.0 if not np.isfinite(high) else high
    if scale.powers and high > 0:
        positive = values[values > 0]
        least = float(positive.min(initial=high))
        if low is None:
            low = max(least, LEAST_SHARE * high)
        low = SHARED_SHARE * high if low <= 0 else low
        return (low, high, True) if low < high else (0.1 * high, high, True)
    if low is None:
        low = 0.0 if from_nothing or not len(values) else float(values.min())
    return low, high, False


def figures(table: Any, count: int) -> NDArray[np.float64]:
    """Give so many values at equal steps along the colours of a table."""
    return np.array([value_at(table, share) for share in np.linspace(0.0, 1.0, count)])


def value_at(table: Any, share: float) -> float:
    """Give the value a share of the way along the colours of a table."""
    low, high = table.GetTableRange()
    if by_powers(table):
        return float(low * (high / low) ** share)
    return float(low + share * (high - low))


def by_powers(table: Any) -> bool:
    """Whether the colours of a table go by powers of ten."""
    return bool(table.UsingLogScale())
