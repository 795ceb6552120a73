"""Drafts: what has been typed and not saved, kept at every edit so that a killed program loses nothing."""

from __future__ import annotations

import hashlib
import json
import os
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mop_lantern.case.document import Case, parse_case
from mop_lantern.case.files import LARGEST
from mop_lantern.errors import FileError, LanternError
from mop_lantern.numerics.doors import plain_file, read_text


def drafts_folder() -> Path:
    """Give the folder of drafts, below the XDG state folder."""
    state = Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state")
    return state / "mop-lantern" / "drafts"


@dataclass(frozen=True)
class Draft:
    """A draft left behind: its file, the case file it belongs to ("" for none), when it was kept (s since
    1970), the case.
    """

    file: Path
    path: str
    kept: float
    case: Case


class DraftKeeper:
    """Keeps the draft of one window."""

    def __init__(self) -> None:
        self.file = drafts_folder() / f"{os.getpid()}-{time.time_ns()}.json"

    def keep(self, case: Case, path: Path | None) -> str:
        """Write the draft whole or not at all; give words when it cannot be kept, else ""."""
        data = {
            "pid": os.getpid(),
            "path": str(path or ""),
            "kept": time.time(),
            "case": case.as_data(),
        }
        fresh = self.file.with_suffix(".new")
        try:
            self.file.parent.mkdir(parents=True, exist_ok=True)
            fresh.write_text(json.dumps(data, ensure_ascii=False), "utf-8")
            os.replace(fresh, self.file)
        except (OSError, ValueError, RecursionError, MemoryError) as problem:
            why = problem.strerror if isinstance(problem, OSError) else type(problem).__name__
            return f"The draft cannot be kept ({why}): save the case before you go on."
        return ""

    def drop(self) -> None:
        """Remove the draft: all is saved or thrown away on purpose."""
        for file in (self.file, self.file.with_suffix(".new")):
            file.unlink(missing_ok=True)


def left_behind() -> list[Draft]:
    """Give the drafts of programs that no longer run, newest first; files that are no drafts are passed
    over.
    """
    found = []
    for file in drafts_folder().glob("*.json"):
        try:
            data: dict[str, Any] = json.loads(read_text(file, LARGEST))
            if not _alive(int(data["pid"])):
                found.append(Draft(file, str(data["path"]), float(data["kept"]), parse_case(data["case"])))
        except (OSError, ValueError, KeyError, TypeError, RecursionError, LanternError):
            continue
    return sorted(found, key=lambda draft: -draft.kept)


def _alive(pid: int) -> bool:
    if pid == os.getpid():
        return True
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    try:  # a number may have been given away again
        return (
            b"python" in Path(f"/proc/{pid}/cmdline").read_bytes()
            or b"lantern" in Path(f"/proc/{pid}/cmdline").read_bytes()
        )
    except OSError:
        return True


def fingerprint(path: Path) -> str:
    """Give a fingerprint of a file's content, "" when it cannot be read."""
    try:
        return hashlib.sha256(plain_file(path, LARGEST).read_bytes()).hexdigest()
    except (OSError, FileError):
        return ""


class OpenMark:
    """A mark beside a case file that says which process has it open."""

    def __init__(self) -> None:
        self.file: Path | None = None

    def set(self, path: Path | None) -> int:
        """Mark a file as open here, unmark the last; give the process that has it open already, or 0."""
        self.clear()
        if path is None:
            return 0
        mark = path.with_name(f".{path.name}.open")
        try:
            other = int(mark.read_text("utf-8").strip() or 0)
        except (OSError, ValueError):
            other = 0
        if other and other != os.getpid() and _alive(other):
            return other
        try:
            mark.write_text(str(os.getpid()), "utf-8")
            self.file = mark
        except OSError:
            pass  # a folder that cannot be written is told when saving
        return 0

    def clear(self) -> None:
        """Remove the mark, if it is ours."""
        if self.file is not None:
            try:
                if self.file.read_text("utf-8").strip() == str(os.getpid()):
                    self.file.unlink(missing_ok=True)
            except OSError:
                pass
        self.file = None
