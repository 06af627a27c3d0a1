"""Writing a file whole or not at all."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import IO

from high_pair.errors import UnwritableFile

PLAIN_MODE = 0o644


def write_whole(target: Path, model: Path, write: Callable[[IO[bytes]], None]) -> None:
    """Write a file beside its target, flush it, and rename it into place.

    model: whose access rights a new file gets. Whatever goes wrong, the target
    is whole or untouched, and nothing is left beside it. Raises UnwritableFile.
    """
    temporary: Path | None = None
    try:
        handle, name = tempfile.mkstemp(
            prefix=f".{target.name}.", suffix=".part", dir=target.parent
        )
        temporary = Path(name)
        with os.fdopen(handle, "wb") as out:
            write(out)
            out.flush()
            os.fsync(out.fileno())
        _keep_mode(temporary, target if target.exists() else model)
        temporary.replace(target)
    except OSError as error:
        raise UnwritableFile(
            target.name,
            f"the copy can't be written ({error.strerror or error}). "
            "Choose another folder or free some room; nothing was changed.",
        ) from error
    finally:
        if temporary is not None:
            temporary.unlink(missing_ok=True)


def _keep_mode(temporary: Path, model: Path) -> None:
    """Give the copy the access rights of the file it stands beside or replaces."""
    try:
        temporary.chmod(model.stat().st_mode & 0o777 | 0o600)
    except OSError:
        temporary.chmod(PLAIN_MODE)
