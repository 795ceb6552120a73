"""Case files: read with all faults named, written so that nothing is ever lost."""

from __future__ import annotations

import json
import os
import shutil
from pathlib import Path
from typing import Any

from mop_lantern.case.document import Case, parse_case
from mop_lantern.errors import CaseError, Fault, FileError
from mop_lantern.numerics.doors import read_text

LARGEST = 50_000_000


def load(path: Path) -> Case:
    """Read a case file.

    Raises
    ------
    FileError : it cannot be read. CaseError : it is not a case; all faults together.
    """
    text = read_text(path, LARGEST)
    try:
        return parse_case(json.loads(text, object_pairs_hook=_once))
    except json.JSONDecodeError as problem:
        place = f"line {problem.lineno}, column {problem.colno}"
        raise CaseError(
            [
                Fault(
                    path.name,
                    f"the file is not valid JSON at {place}: {problem.msg}.",
                    "Correct it there, or use the .bak file beside it.",
                )
            ]
        ) from None
    except RecursionError:
        raise CaseError(
            [Fault(path.name, "the file is nested too deeply.", "Take inner levels out.")]
        ) from None
    except CaseError:
        raise
    except ValueError:  # a number of thousands of digits
        raise CaseError(
            [
                Fault(
                    path.name,
                    "the file holds a number with too many digits.",
                    "Shorten it.",
                )
            ]
        ) from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Refuse a name that stands twice: the later one would silently take the place of the former."""
    made = dict(pairs)
    if len(made) < len(pairs):
        seen: set[str] = set()
        twice = next(name for name, _ in pairs if name in seen or seen.add(name))  # type: ignore[func-returns-value]
        beside = ", ".join(name for name in made if name != twice)[:120]
        raise CaseError(
            [
                Fault(
                    twice,
                    f"the name “{twice}” occurs twice{f' beside {beside}' if beside else ''}.",
                    "Give one of the two another name in the file.",
                )
            ]
        )
    return made


def save(case: Case, path: Path) -> None:
    """Write a case file whole or not at all; the former file stays beside it as ``.bak``.

    Raises
    ------
    FileError : it cannot be written; the former file is untouched.
    """
    text = json.dumps(case.as_data(), indent=1, ensure_ascii=False) + "\n"
    try:
        fresh = path.with_name(f".{path.name}.{os.getpid()}.new")
    except ValueError:
        raise FileError(f"{str(path)!r}: this is not a file name.") from None
    try:
        with fresh.open("w", encoding="utf-8") as out:
            out.write(text)
            out.flush()
            os.fsync(out.fileno())
        if path.exists():
            shutil.copy2(path, path.with_name(path.name + ".bak"))
        os.replace(fresh, path)
    except OSError as problem:
        fresh.unlink(missing_ok=True)
        raise FileError(
            f"{path}: cannot be written ({problem.strerror}). The file on disk is unchanged; save elsewhere."
        ) from None
    except ValueError:
        raise FileError(
            f"{str(path)!r}: this is not a file name, or the case holds what is not text. The file on "
            "disk is unchanged."
        ) from None
