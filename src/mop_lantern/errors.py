"""Everything that can go wrong, drawn as one tree.

LanternError
├── CaseError      the case says something that cannot be solved; carries every fault found
├── FileError      a file cannot be read or written
├── EditError      an edit names a place that does not exist
└── RunError       a solve could not go on; says where and what to try

A message names the place, says what is wrong and how to fix it.
"""

from __future__ import annotations

import difflib
from collections.abc import Collection
from dataclasses import asdict, dataclass
from typing import Any

FEW = 6  # names that are told all


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing wrong with a case: where it is, what is wrong, how to fix it; ``lines``: places (m) that
    show it, line by line in order.
    """

    path: str
    says: str
    remedy: str = ""
    lines: tuple[tuple[tuple[float, ...], ...], ...] = ()

    def __str__(self) -> str:
        return f"{self.path}: {self.says} {self.remedy}".strip()

    def as_dict(self) -> dict[str, Any]:
        """Give the fault as plain data for events and JSON."""
        return asdict(self)


class LanternError(Exception):
    """Base of all errors meant for a person to read."""


class CaseError(LanternError):
    """The case cannot be used as it stands.

    Parameters
    ----------
    faults : every fault found, in the order of the sheet.
    """

    def __init__(self, faults: tuple[Fault, ...] | list[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))

    def __reduce__(self) -> tuple[type[CaseError], tuple[tuple[Fault, ...]]]:
        return type(self), (self.faults,)


class FileError(LanternError):
    """A file cannot be read or written; the text names it and the way out."""


class EditError(CaseError):
    """An edit names a path that does not exist or gives a value of the wrong form."""


class RunError(LanternError):
    """A solve could not go on.

    Parameters
    ----------
    says : what happened. where : the region or part. remedy : what to try.
    """

    def __init__(
        self,
        says: str,
        where: str = "",
        remedy: str = "",
    ) -> None:
        self.says = says
        self.where = where
        self.remedy = remedy
        super().__init__(" ".join(part for part in (says, where, remedy) if part))

    def __reduce__(self) -> tuple[type[RunError], tuple[str, str, str]]:
        return type(self), (self.says, self.where, self.remedy)


def because(problem: BaseException) -> str:
    """Give a cause in words a person can use, as " (disk full)"; nothing for what only libraries
    understand.
    """
    if isinstance(problem, OSError) and problem.strerror:
        return f" ({problem.strerror[0].lower()}{problem.strerror[1:]})"
    if isinstance(problem, MemoryError):
        return " (there is not enough memory)"
    if isinstance(problem, LanternError):
        return f" ({str(problem).rstrip('.')})"
    return ""


def nearest(name: str, known: Collection[str]) -> str:
    """Say which known names are meant by one that is not known: the one that differs by capital letters only,
    all where there are few, else the most similar ones.
    """
    same = [each for each in known if each.lower() == name.lower()]
    if same:
        return f"Write “{same[0]}”: capital letters count."
    if not known:
        return "There is none yet."
    if len(known) <= FEW:
        return f"There are: {', '.join(known)}."
    lower: dict[str, str] = {}
    for each in known:
        lower.setdefault(each.lower(), each)
        lower.setdefault(each.lower().rpartition(".")[2], each)
    found = difflib.get_close_matches(name.lower(), lower, 6, 0.4)
    found = found or difflib.get_close_matches(name.lower().rpartition(".")[2], lower, 6, 0.3)
    alike = list(dict.fromkeys(lower[each] for each in found))[:3] or list(known)[:3]
    return f"The most similar of {len(known)} are: {', '.join(alike)}."
