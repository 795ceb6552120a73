"""Case files: read with all faults named, written so that nothing is ever lost."""

from __future__ import annotations

import json
import os
import shutil
from pathlib import Path
from typing import Any

from mop_lantern.case.document import Case, parse_case
from mop_lantern.errors import CaseError, Fault, FileError

LARGEST = 50_000_000


def load(path: Path) -> Case:
    """Read a case file.

    Raises
    ------
    FileError : it cannot be read. CaseError : it is not a case; all faults together.
    """
    try:
        if path.stat().st_size > LARGEST:
            raise FileError(f"{path}: the file is larger than a case can be.")
        text = path.read_text("utf-8")
    except FileNotFoundError:
        raise FileError(f"{path}: there is no such file.") from None
    except IsADirectoryError:
        raise FileError(f"{path}: this is a folder, not a case file.") from None
    except UnicodeDecodeError:
        raise FileError(f"{path}: the file is not text in UTF-8.") from None
    except OSError as problem:
        raise FileError(f"{path}: cannot be read ({problem.strerror}).") from None
    try:
        return parse_case(json.loads(text, object_pairs_hook=_once))
    except json.JSONDecodeError as problem:
        place = f"line {problem.lineno}, column {problem.colno}"
        raise CaseError([Fault(path.name, f"the file is not valid JSON at {place}: {problem.msg}.", "Correct it there, or use the .bak file beside it.")]) from None
    except RecursionError:
        raise CaseError([Fault(path.name, "the file is nested too deeply.")]) from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Refuse a name that stands twice: the later one would silently take the place of the former."""
    made = dict(pairs)
    if len(made) < len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for k, name in enumerate(names) if name in names[:k])
        beside = ", ".join(name for name in made if name != twice)[:120]
        raise CaseError([Fault(twice, f"the name “{twice}” stands twice{f' beside {beside}' if beside else ''}.", "Give one of the two another name in the file.")])
    return made


def save(case: Case, path: Path) -> None:
    """Write a case file whole or not at all; the former file stays beside it as ``.bak``.

    Raises
    ------
    FileError : it cannot be written; the former file is untouched.
    """
    text = json.dumps(case.as_data(), indent=1, ensure_ascii=False) + "\n"
    fresh = path.with_name(f".{path.name}.{os.getpid()}.new")
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
        raise FileError(f"{path}: cannot be written ({problem.strerror}). The file on disk is unchanged; save elsewhere.") from None
