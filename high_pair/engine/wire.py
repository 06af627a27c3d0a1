"""What the program and its engine's process say to each other, and how.

A message is one line of JSON. A reply names arrays that lie as raw bytes in
files of a folder that both know; whoever reads one removes it. This module
knows no Qt, and both sides import it.
"""

from __future__ import annotations

import json
import os
import select
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

# The longest message that is taken: a page of a million words is longer.
MOST_BYTES = 256 * 1024**2
CHUNK = 1 << 20
LOOK_SECONDS = 0.04


class Silence(Exception):
    """The other side said nothing in time, or is gone."""


@dataclass
class Line:
    """One direction to read from and one to write to. pending: what was read beyond a message."""

    reads: int
    writes: int
    pending: bytes = b""

    def say(self, message: Mapping[str, Any]) -> None:
        """Send a message. Raises Silence when nobody is there."""
        data = json.dumps(message, separators=(",", ":")).encode() + b"\n"
        view = memoryview(data)
        try:
            while view:
                view = view[os.write(self.writes, view) :]
        except OSError as error:
            raise Silence("nobody reads") from error

    def hear(
        self, seconds: float | None = None, meanwhile: Callable[[], None] = lambda: None
    ) -> dict[str, Any]:
        """Wait for a message, so many seconds at most. Raises Silence.

        meanwhile: is called every LOOK_SECONDS, where the time is limited.
        """
        end = None if seconds is None else time.monotonic() + seconds
        parts, size = [self.pending], len(self.pending)
        while b"\n" not in parts[-1]:
            left = None if end is None else end - time.monotonic()
            if left is not None and left <= 0:
                raise Silence("no answer in time")
            if not select.select([self.reads], [], [], left and min(left, LOOK_SECONDS))[0]:
                meanwhile()
                continue
            part = os.read(self.reads, CHUNK)
            size += len(part)
            if not part or size > MOST_BYTES:
                raise Silence("the other side is gone")
            parts.append(part)
        line, _, self.pending = b"".join(parts).partition(b"\n")
        message = json.loads(line)
        if not isinstance(message, dict):
            raise Silence("the other side talks nonsense")
        return message


def put_array(folder: Path, name: str, *parts: NDArray[np.uint8]) -> dict[str, Any]:
    """Write an array of bytes where the other side finds it; gives what to tell of it.

    parts: its rows, one part below the other, which are put together there alone.
    """
    with (folder / name).open("wb") as out:
        for part in parts:
            np.ascontiguousarray(part).tofile(out)
    return {"file": name, "shape": [sum(len(part) for part in parts), *parts[0].shape[1:]]}


def take_array(folder: Path, told: dict[str, Any]) -> NDArray[np.uint8]:
    """Read an array that the other side wrote, and remove its file."""
    path = folder / Path(str(told["file"])).name
    found = np.fromfile(path, np.uint8).reshape([int(side) for side in told["shape"]])
    path.unlink(missing_ok=True)
    return found
