"""Starting the window."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path


def start(paths: Sequence[Path], demo: bool) -> int:
    """Open the window with files, and the demo deck if asked for; gives the exit status."""
    raise NotImplementedError
