"""Files written whole or not at all, with a sum beside them that tells whether they are still what was
written.
"""

from __future__ import annotations

import os
import zlib
from pathlib import Path

from mop_lantern.errors import FileError

SUM = ".sum"
BLOCK = 1 << 22


def write_whole(
    path: Path,
    data: bytes,
    what: str,
    summed: bool = False,
) -> None:
    """Write a file beside its place and move it there when it is complete; ``summed`` writes its sum too.

    Raises
    ------
    FileError : it cannot be written; what was there before is untouched. ``what`` names it in words.
    """
    fresh = path.with_name(f".{path.name}.new")
    try:
        with fresh.open("wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        if summed:
            path.with_name(path.name + SUM).write_text(f"{len(data)} {zlib.crc32(data):08x}\n", "ascii")
        os.replace(fresh, path)
    except OSError as problem:
        fresh.unlink(missing_ok=True)
        raise FileError(
            f"{path}: {what} cannot be written ({problem.strerror}). Free some space, or choose "
            "another place."
        ) from None


def check_sum(path: Path) -> None:
    """Check a file against the sum beside it; a file without one passes.

    Raises
    ------
    FileError : it has changed since it was written. OSError : it cannot be read.
    """
    beside = path.with_name(path.name + SUM)
    if not beside.exists():
        return
    size, _, total = beside.read_text("ascii", errors="replace").strip().partition(" ")
    found, count = 0, 0
    with path.open("rb") as file:
        while block := file.read(BLOCK):
            found = zlib.crc32(block, found)
            count = count + len(block)
    if size != str(count) or total != f"{found:08x}":
        raise FileError(f"{path}: this file has changed since it was written; it is damaged. Solve again.")
