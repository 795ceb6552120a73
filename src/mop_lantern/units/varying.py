"""A value that changes with time or place: an expression of t, x, y, z, r or across, worked out when and
where it is needed.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from mop_lantern.units.expression import Names, evaluate
from mop_lantern.units.quantity import registry

EVERYWHERE = "t x y z r across"
PLACES = {
    "t": "s",
    "x": "m",
    "y": "m",
    "z": "m",
    "r": "m",
    "across": "",
    "T": "K",
}
"""Names that vary and their SI unit: time, place (z in spaces only), distance from the axis (or origin),
-1 ... 1 across an edge, temperature.
"""


@dataclass(frozen=True)
class Varying:
    """An expression that uses names of `PLACES`.

    Attributes
    ----------
    text : as typed. dimension : of the result. uses : the varying names it depends on, parameters seen
    through.
    scope : gives the names of the case, with the varying ones set.
    """

    text: str
    dimension: str
    uses: frozenset[str]
    scope: Callable[[Mapping[str, Any]], Names]

    def at(self, values: Mapping[str, Any]) -> Any:
        """Give the SI value, a float or an array, for SI values of t, x, y, z, r, across; what is not given
        is zero.

        Raises
        ------
        UnitFault : it cannot be worked out there.
        """
        set_ = {name: registry().Quantity(values.get(name, 0.0), unit) for name, unit in PLACES.items()}
        return evaluate(self.text, self.dimension, self.scope(set_))


def frozen(value: Any, values: Mapping[str, Any]) -> Any:
    """Give a value with everything varying in it worked out at one time and place; dictionaries are walked
    through.
    """
    if isinstance(value, Varying):
        return value.at(values)
    if isinstance(value, dict):
        return {key: frozen(item, values) for key, item in value.items()}
    return value
