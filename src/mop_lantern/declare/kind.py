"""Kinds: one file, one kind. Folders are discovered; there is no list to edit."""

from __future__ import annotations

import importlib
import pkgutil
import threading
from collections.abc import Mapping
from functools import cache, reduce
from types import ModuleType, SimpleNamespace
from typing import Annotated, Any, ClassVar, Literal, TypeVar, get_args, overload

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from mop_lantern.units import Varying, frozen


def _as_text(value: Any) -> Any:
    """Accept bare numbers where text is kept: 5 and "5" mean the same."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return value
    return repr(value)


Text = Annotated[str, BeforeValidator(_as_text)]
"""A typed value, kept exactly as the person wrote it."""
Point = Annotated[
    tuple[Text, Text] | tuple[Text, Text, Text],
    Field(description="x and y, each with its unit; in a space z too"),
]


class Numbers(SimpleNamespace):
    """A section or kind with every quantity worked out as an SI float, or as `Varying` where it changes with
    time or place.
    """

    def at(self, values: Mapping[str, Any]) -> Numbers:
        """Give the numbers at one time and place: varying values become floats or arrays."""
        own = vars(self)
        if not any(isinstance(value, Varying | dict) for value in own.values()):
            return self
        return Numbers(**{name: frozen(value, values) for name, value in own.items()})


class Record(BaseModel):
    """A part of the case document: frozen, and nothing undeclared in it."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        strict=False,
        defer_build=True,  # of hundreds of kinds few are ever validated on their own
    )
    sentence: ClassVar[str] = ""
    in_space: ClassVar[str] = ""

    def template(self, space: bool = False) -> str:
        """Give the sentence to show, in a space another one where there is one; a section whose sentence
        depends on its choices overrides this.
        """
        return (space and type(self).in_space) or type(self).sentence


class Kind(Record):
    """Something that comes in kinds: an opening, a part, a note.

    The contract of a kind file:
    1. it defines exactly one public subclass, named in words, whose ``kind`` is a Literal equal to the file's
    name;
    2. every parameter is declared (dimension, label, help, limits);
    3. ``caption`` names it in a list, under the heading ``group``, with ``symbol`` as its drawing (a path of
    M, L, Q, A and Z, y downwards, within 1 of the middle); ``imported`` says which import makes one,
    where one cannot be written; ``fits`` is "plane" or "space" where it makes sense in these only;
    ``sentence`` reads as one sentence with {parameters} in it;
    4. its docstring says where its formula or rule comes from.
    """

    caption: ClassVar[str] = ""
    group: ClassVar[str] = ""
    symbol: ClassVar[str] = ""
    imported: ClassVar[str] = ""
    fits: ClassVar[str] = ""


K = TypeVar("K", bound=Kind)
_LOOKING = threading.RLock()


@overload
def discover(package: ModuleType | str) -> dict[str, type[Kind]]: ...
@overload
def discover(package: ModuleType | str, of: type[K]) -> dict[str, type[K]]: ...
def discover(package: ModuleType | str, of: type[Kind] = Kind) -> Any:
    """Import every module of a package of kinds and give its kinds by name, in alphabetical order.

    ``of`` : the base class whose contract they keep.

    One thread looks at a time: another must never see a module half imported.
    """
    with _LOOKING:
        return _discovered(package)


@cache
def _discovered(package: ModuleType | str) -> dict[str, type[Kind]]:
    module = importlib.import_module(package) if isinstance(package, str) else package
    found: dict[str, type[Kind]] = {}
    for info in sorted(pkgutil.iter_modules(module.__path__), key=lambda item: item.name):
        if info.name.startswith("_"):
            continue
        member = importlib.import_module(f"{module.__name__}.{info.name}")
        for value in vars(member).values():
            ours = isinstance(value, type) and issubclass(value, Kind) and value.__module__ == member.__name__
            if ours and "kind" in value.model_fields:
                found[kind_name(value)] = value
    return found


def kind_name(kind: type[Kind]) -> str:
    """Give the name a kind goes by in the document."""
    return str(get_args(kind.model_fields["kind"].annotation)[0])


def union(package: str) -> Any:
    """Give the annotation for "any kind of this package", told apart by ``kind``."""
    kinds = tuple(discover(package).values())
    if len(kinds) == 1:
        return kinds[0]
    return Annotated[reduce(lambda a, b: a | b, kinds), Field(discriminator="kind")]  # type: ignore[arg-type,return-value]


__all__ = ["Kind", "Literal", "Numbers", "Point", "Record", "Text", "discover", "kind_name", "union"]
