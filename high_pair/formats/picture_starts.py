"""Telling pictures by how their files begin."""

from __future__ import annotations

from pathlib import Path

STARTS = (
    b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\x00", b"MM\x00*", b"RIFF",
)  # fmt: skip


def is_picture(path: Path) -> bool:
    """Tell whether a file begins as a picture does."""
    try:
        with path.open("rb") as stream:
            start = stream.read(12)
    except OSError:
        return False
    return start.startswith(STARTS) and (start[:4] != b"RIFF" or start[8:] == b"WEBP")
