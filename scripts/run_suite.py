"""Run unittest modules for scripts/check.py, each in a process of its own.

Names of modules come in line by line; of each, a line of JSON goes out: what passed, failed
and was skipped, and what was printed. The processes are forked from this one, which has
loaded what most tests load, so that none has to load it again.
"""

from __future__ import annotations

import importlib
import json
import os
import signal
import sys
import tempfile
import time
import unittest
from typing import IO

from high_pair.formats.web.engine_process import FILES, WEB, shared_engine

# Nothing of these starts a thread, and none is a window's.
LOADED = (
    "numpy", "scipy.ndimage", "skia", "lxml.etree", "PIL.Image", "hypothesis.strategies",
    "pptx", "docx", "openpyxl", "odfdo", "coloraide",
    "high_pair.review.tasks", "high_pair.review.steps", "high_pair.formats.slides.deck",
    "high_pair.formats.documents.document", "high_pair.formats.sheets.workbook",
    "high_pair.formats.odf.deck", "high_pair.formats.odf.text_document",
    "high_pair.formats.odf.spreadsheet", "high_pair.formats.web.web_file",
    "high_pair.formats.picture.picture_file",
)  # fmt: skip
SECONDS_PER_MODULE = 900


def run(module: str, results: IO[str]) -> None:
    """Run a module, and write down what came of it."""
    for kind in (FILES, WEB):
        # Started by the first page, the engine stays for the module's other pages.
        shared_engine(kind).begin()
    suite = unittest.defaultTestLoader.loadTestsFromName(module)
    result = unittest.TextTestRunner(stream=sys.stderr, verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = max(0, result.testsRun - len(result.skipped) - failed)
    if result.testsRun == 0:
        failed += 1
    json.dump([passed, failed, len(result.skipped)], results)
    results.flush()


def in_a_process(module: str) -> dict[str, object]:
    """Run a module in a process of its own; one that dies or has no end has failed."""
    start = time.monotonic()
    with (
        tempfile.TemporaryFile("w+", errors="replace") as output,
        tempfile.TemporaryFile("w+") as results,
    ):
        child = os.fork()
        if child == 0:
            os.setpgid(0, 0)
            os.dup2(output.fileno(), 1)
            os.dup2(output.fileno(), 2)
            os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
            run(module, results)
            # As a program ends that was started for it: threads are waited for, and files closed.
            sys.exit(0)
        ended = _wait(child, start + SECONDS_PER_MODULE)
        output.seek(0)
        results.seek(0)
        said, counts = output.read(), results.read()
    passed, failed, skipped = json.loads(counts) if counts else (0, 1, 0)
    if not ended:
        said += f"no end after {SECONDS_PER_MODULE} s\n"
        failed += 1
    seconds = time.monotonic() - start
    return {
        "passed": passed,
        "failed": failed,
        "skipped": skipped,
        "output": said,
        "seconds": seconds,
    }


def _wait(child: int, end: float) -> bool:
    """Wait for a process; tells whether it ended by itself."""
    while time.monotonic() < end:
        if os.waitpid(child, os.WNOHANG)[0]:
            return True
        time.sleep(0.02)
    os.killpg(child, signal.SIGKILL)
    os.waitpid(child, 0)
    return False


def main() -> None:
    """Run the modules that are named on standard input."""
    for name in LOADED:
        importlib.import_module(name)
    for line in sys.stdin:
        print(json.dumps(in_a_process(line.strip())), flush=True)


if __name__ == "__main__":
    main()
