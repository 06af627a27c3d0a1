"""Writing a file whole or not at all, and never over what it is made from."""

from __future__ import annotations

import contextlib
import fcntl
import os
import stat
import tempfile
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import IO

from high_pair.errors import UnwritableFile

PLAIN_MODE = 0o644
# What is being written says so by its name, which begins like its target's.
BEGINS, MARK, SUFFIX = 60, ".high-pair-", ".part"


def write_whole(target: Path, model: Path, write: Callable[[IO[bytes]], None]) -> None:
    """Write a file beside its target, flush it, and rename it into place.

    A link is followed, and what it leads to is replaced; onto a device or a pipe is
    written through. model: whose access rights a new file gets. Whatever goes wrong,
    the target is whole or untouched, and nothing is left beside it; what a writer
    that was killed left there goes away with the next. Raises UnwritableFile.
    """
    try:
        # A link to nothing yet leads to where the file will be.
        place = target.resolve()
        if place.exists() and not stat.S_ISREG(place.stat().st_mode):
            if place.is_dir():
                raise UnwritableFile(named(target), "it is a folder. Give a file's name.")
            with place.open("wb") as out:
                write(out)
            return
        _write_beside(place, model, write)
    except (OSError, RuntimeError) as error:
        # A link that leads in a circle is a RuntimeError.
        why = (error.strerror if isinstance(error, OSError) else None) or error
        raise UnwritableFile(
            named(target),
            f"it can't be written ({why}). "
            "Choose another folder or free some room; nothing was changed.",
        ) from error


def _write_beside(target: Path, model: Path, write: Callable[[IO[bytes]], None]) -> None:
    begin = f".{target.name[:BEGINS]}{MARK}"
    _remove_left(target.parent, begin)
    handle, name = tempfile.mkstemp(prefix=begin, suffix=SUFFIX, dir=target.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as out:
            # Held until it is in place: see `_remove_left`.
            fcntl.flock(out, fcntl.LOCK_EX | fcntl.LOCK_NB)
            write(out)
            out.flush()
            os.fsync(out.fileno())
            _keep_mode(temporary, target if target.exists() else model)
            temporary.replace(target)
    finally:
        temporary.unlink(missing_ok=True)


def _remove_left(folder: Path, begin: str) -> None:
    """Remove what writers left that didn't live to rename it: nobody holds its lock."""
    with contextlib.suppress(OSError):
        for left in folder.iterdir():
            if left.name.startswith(begin) and left.name.endswith(SUFFIX):
                with contextlib.suppress(OSError), left.open("rb") as held:
                    fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    left.unlink()


def _keep_mode(temporary: Path, model: Path) -> None:
    """Give the copy the access rights of the file it stands beside or replaces."""
    try:
        temporary.chmod(model.stat().st_mode & 0o777 | 0o600)
    except OSError:
        temporary.chmod(PLAIN_MODE)


def named(path: Path) -> str:
    """Give the name by which a file or folder is spoken of."""
    return path.name or str(path.absolute())


def refuse_source(target: Path, sources: Iterable[Path]) -> None:
    """See that nothing is written over what is read, by whatever name. Raises UnwritableFile."""
    for source in sources:
        with contextlib.suppress(OSError):
            if target.exists() and source.exists() and target.samefile(source):
                raise UnwritableFile(
                    named(target),
                    "that is the file it is made from, which is never written. "
                    "Choose another name.",
                )
