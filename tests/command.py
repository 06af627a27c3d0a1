"""Runs the command line in this process."""

from __future__ import annotations

import contextlib
import io

from high_pair.cli import main


def call(*words: object) -> tuple[int, str, str]:
    """Give the exit status, what stands on standard output, and on standard error."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            status = main([str(word) for word in words])
        except SystemExit as stop:
            status = int(stop.code or 0)
    return status, out.getvalue(), err.getvalue()
