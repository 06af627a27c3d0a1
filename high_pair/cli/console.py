"""What the command line says: reports to standard output, words and progress to the error's."""

from __future__ import annotations

import contextlib
import os
import sys
import time

from high_pair.formats.location import Location, name_of
from high_pair.report.terminal import plain

PROGRESS_AFTER_SECONDS = 1.0


def say(message: str) -> None:
    """Write a message to standard error, after the program's name."""
    # Standard error may be closed or full, and then there is nobody to tell.
    with contextlib.suppress(OSError, ValueError, AttributeError):
        sys.stderr.write(f"high-pair: {plain(message)}\n")
        sys.stderr.flush()


def put(text: str, as_utf8: bool = False) -> None:
    """Write to standard output; what its encoding hasn't is written as its number.

    as_utf8: whatever the encoding is, as JSON asks. Raises OSError.
    """
    if sys.stdout is None:
        raise OSError("it is closed")
    raw = getattr(sys.stdout, "buffer", None)
    if raw is None:
        sys.stdout.write(text)
        return
    encoding = "utf-8" if as_utf8 else sys.stdout.encoding
    sys.stdout.flush()
    raw.write(text.encode(encoding, "backslashreplace"))
    raw.flush()


class Progress:
    """Shows the pages done on a terminal's standard error, once a file takes over a second.

    noun: what is counted.
    """

    def __init__(self, location: Location, noun: str = "page") -> None:
        self.location = location
        self.noun = noun
        self.start = time.monotonic()
        self.shown = False

    def __call__(self, done: int, total: int) -> None:
        """Show so many pages done of all; takes itself back at the end."""
        late = time.monotonic() - self.start > PROGRESS_AFTER_SECONDS
        if sys.stderr is None or not sys.stderr.isatty():
            return
        if late:
            sys.stderr.write(f"\r{plain(name_of(self.location))}: {self.noun} {done} of {total}")
            sys.stderr.flush()
            self.shown = True
        if done == total and self.shown:
            sys.stderr.write("\r\x1b[K")
            sys.stderr.flush()


def forget_output() -> None:
    """Keep Python from writing at its end what couldn't be written before."""
    with contextlib.suppress(OSError, ValueError, AttributeError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)
