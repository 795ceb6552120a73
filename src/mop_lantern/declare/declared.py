"""What a parameter says of itself: dimension, range, label, help."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields
from functools import cache
from typing import Any

from pydantic import BaseModel, Field

from mop_lantern.units import EVERYWHERE

_MISSING = object()


@dataclass(frozen=True, slots=True)
class Declared:
    """The declaration of one parameter.

    Attributes
    ----------
    form : ``quantity``, ``choice``, ``reference``, ``text``, ``words``, ``count``, ``flag``,
    ``point``, ``points``, ``amounts`` or ``stored``.
    dimension : a key of `units.DIMENSIONS`, for quantities and points.
    above, at_least, below, at_most : limits in SI units.
    options : what may be chosen, with the words shown for it.
    of : what a reference names (``edge``, ``part``, ``medium``, ``place``, ``quantity``, ``species``).
    varies : names of `units.PLACES` its expression may use, such as t.
    along : dimension of the first of each pair, for curves; ``dimension`` is that of the second.
    """

    form: str
    label: str
    help: str
    dimension: str = "number"
    above: float | None = None
    at_least: float | None = None
    below: float | None = None
    at_most: float | None = None
    options: tuple[tuple[str, str], ...] = ()
    of: str = ""
    varies: tuple[str, ...] = ()
    along: str = ""

    def broken_limit(self, value: float) -> tuple[str, float] | None:
        """Give the limit a value breaks, in words and as a number, or None."""
        if self.above is not None and not value > self.above:
            return "must be above", self.above
        if self.at_least is not None and not value >= self.at_least:
            return "must be at least", self.at_least
        if self.below is not None and not value < self.below:
            return "must be below", self.below
        if self.at_most is not None and not value <= self.at_most:
            return "must be at most", self.at_most
        return None


def _field(declared: Declared, default: Any) -> Any:
    extra = {
        "lantern": {key: value for key, value in asdict(declared).items() if value not in (None, (), "")}
    }
    keywords: dict[str, Any] = {
        "title": declared.label,
        "description": declared.help,
        "json_schema_extra": extra,
    }
    return Field(**keywords) if default is _MISSING else Field(default=default, **keywords)


def quantity(
    dimension: str,
    label: str,
    help: str,
    *,
    default: Any = _MISSING,
    varies: str = "",
    **limits: float | None,
) -> Any:
    """Declare a value with a unit, kept as typed; limits (above, at_least, below, at_most) are SI.

    ``varies`` lists the names of `units.PLACES` that its expression may use: "t", or EVERYWHERE.
    """
    return _field(
        Declared(
            "quantity",
            label,
            help,
            dimension,
            varies=tuple(varies.split()),
            **limits,  # type: ignore[arg-type]
        ),
        default,
    )


def amounts(label: str, help: str) -> Any:
    """Declare one value for each species, by its id; a species not named is zero."""
    return _field(
        Declared(
            "amounts",
            label,
            help,
            "fraction",
            varies=tuple(EVERYWHERE.split()),
        ),
        {},
    )


def choice(
    label: str,
    help: str,
    options: dict[str, str],
    *,
    default: Any = _MISSING,
) -> Any:
    """Declare a choice among options, each with the words the sheet shows."""
    return _field(Declared("choice", label, help, options=tuple(options.items())), default)


def reference(
    of: str,
    label: str,
    help: str,
    *,
    default: Any = _MISSING,
) -> Any:
    """Declare the name of something else in the case: an edge, a part, a medium, a place."""
    return _field(Declared("reference", label, help, of=of), default)


def text(label: str, help: str, *, default: Any = _MISSING) -> Any:
    """Declare free text."""
    return _field(Declared("text", label, help), default)


def count(
    label: str,
    help: str,
    *,
    default: Any = _MISSING,
    **limits: float | None,
) -> Any:
    """Declare a whole number (kept as text, so that it may be an expression too)."""
    return _field(Declared("count", label, help, **limits), default)  # type: ignore[arg-type]


def flag(
    label: str,
    help: str,
    options: tuple[str, str],
    *,
    default: Any = _MISSING,
) -> Any:
    """Declare a yes or no, with the words for no and yes."""
    return _field(
        Declared("flag", label, help, options=(("false", options[0]), ("true", options[1]))), default
    )


def point(label: str, help: str, *, default: Any = _MISSING) -> Any:
    """Declare a place in the plane: two lengths."""
    return _field(Declared("point", label, help, "length"), default)


def points(label: str, help: str, *, default: Any = _MISSING) -> Any:
    """Declare a list of places in the plane, each two lengths."""
    return _field(Declared("points", label, help, "length"), default)


def curve(
    label: str,
    help: str,
    along: str,
    gives: str,
    *,
    default: Any = _MISSING,
) -> Any:
    """Declare a curve: pairs of a quantity along it and the one it gives."""
    return _field(
        Declared(
            "points",
            label,
            help,
            gives,
            along=along,
        ),
        default,
    )


def words(label: str, help: str, *, default: Any = _MISSING) -> Any:
    """Declare a list of words, parted by commas where they are typed."""
    return _field(Declared("words", label, help), default)


def unused(label: str) -> Any:
    """Declare a length that this kind takes over from its base and makes no use of."""
    return _field(Declared("stored", label, "Not used by this part."), "0 mm")


def stored(label: str, help: str, *, default: Any = _MISSING) -> Any:
    """Declare what is stored as it is and not edited by hand, such as the places of a drawing."""
    return _field(Declared("stored", label, help), default)


_KEYS = {item.name for item in fields(Declared)}


@cache
def declared(model: type[BaseModel]) -> dict[str, Declared]:
    """Give the declarations of a model's parameters by field name, in order."""
    found: dict[str, Declared] = {}
    for name, info in model.model_fields.items():
        extra = info.json_schema_extra
        if isinstance(extra, dict) and isinstance(extra.get("lantern"), dict):
            values = {key: value for key, value in extra["lantern"].items() if key in _KEYS}  # type: ignore[union-attr]
            found[name] = Declared(**values)  # type: ignore[arg-type]
    return found
