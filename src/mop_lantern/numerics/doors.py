"""Files as they come through the door: only plain ones, of a size, told in words otherwise."""

from __future__ import annotations

import stat
from pathlib import Path

from mop_lantern.errors import FileError


def plain_file(path: Path, largest: int) -> Path:
    """Give the path if it is a file with content of a bearable size.

    Raises
    ------
    FileError : there is none; it is a folder, a pipe or a device; it is larger than ``largest`` bytes.
    """
    try:
        found = path.stat()
    except FileNotFoundError:
        raise FileError(f"{path}: there is no such file.") from None
    except OSError as problem:
        raise FileError(f"{path}: cannot be read ({problem.strerror}).") from None
    except ValueError:  # a path with a null byte
        raise FileError(f"{str(path)!r}: this is not a file name.") from None
    if stat.S_ISDIR(found.st_mode):
        raise FileError(f"{path}: this is a folder, not a file.")
    if not stat.S_ISREG(found.st_mode):
        raise FileError(f"{path}: this is a pipe or a device, not a file.")
    if found.st_size > largest:
        raise FileError(
            f"{path}: the file has {found.st_size / 1e6:.0f} MB; at most {largest / 1e6:.0f} MB can be "
            "read here."
        )
    return path


def read_text(
    path: Path,
    largest: int,
    encoding: str = "utf-8",
    errors: str = "strict",
) -> str:
    """Read a text file.

    Raises
    ------
    FileError : as `plain_file`; or it is not text.
    """
    try:
        return plain_file(path, largest).read_text(encoding, errors=errors)
    except UnicodeDecodeError:
        raise FileError(f"{path}: the file is not text in UTF-8. Save it again as such.") from None
    except OSError as problem:
        raise FileError(f"{path}: cannot be read ({problem.strerror}).") from None
