"""Reading small files of ours that may come from a stranger, and telling files by their content."""

from __future__ import annotations

import hashlib
import json
import stat
from pathlib import Path
from typing import Any

from high_pair.errors import UnreadableFile

CHUNK = 1 << 20
NO_FILE = "it is no file that holds anything, but a folder, a pipe or a device. Name another."


def is_plain(path: Path) -> bool:
    """Tell whether a path is that of a file that has an end. Raises OSError where there is none.

    A stranger's settings or store may name a pipe, which would be waited for, or a device that
    never ends.
    """
    return stat.S_ISREG(path.stat().st_mode)


def read_json(path: Path, most: int) -> Any:
    """Read JSON of so many bytes at most. Raises UnreadableFile."""
    try:
        if not is_plain(path):
            raise UnreadableFile(path.name, NO_FILE)
        if path.stat().st_size > most:
            raise UnreadableFile(path.name, "it is larger than such a file is read.")
        return json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    except (ValueError, RecursionError) as error:
        raise UnreadableFile(path.name, f"it isn't sound JSON ({error}).") from error


def sha256_of(path: Path) -> str:
    """Give the SHA-256 of a file's content in hexadecimal, empty where it can't be read."""
    found = hashlib.sha256()
    try:
        if not is_plain(path):
            return ""
        with path.open("rb") as stream:
            while chunk := stream.read(CHUNK):
                found.update(chunk)
    except OSError:
        return ""
    return found.hexdigest()
