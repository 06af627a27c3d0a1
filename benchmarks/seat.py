"""Measure how soon a page of 1280×720 pixels is seen from a seat, and again as the seat changes.

python -m benchmarks.seat
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSize

from benchmarks.shown import shown_window
from high_pair.app.demo import DEMO
from high_pair.review.seats import BUILT_IN

PAGE = QSize(1280, 720)
CHANGES = 20
FIRST, CHANGED = 150.0, 50.0


def main() -> None:
    """Print the time to a first picture from each seat, and the median of changes of it."""
    with tempfile.TemporaryDirectory() as folder:
        application, window = shown_window(Path(folder))
        window.open_paths([DEMO])
        desk = window.desk

        def wait(done: Callable[[], bool]) -> float:
            start = time.perf_counter()
            while not done():
                application.processEvents()
                # The worker's thread needs the interpreter as well.
                time.sleep(0.0005)
            return (time.perf_counter() - start) * 1000

        wait(lambda: not window.controller.busy and not desk.view.canvas.image.isNull())
        # So that the page has the size that is asked for.
        for _ in range(3):
            window.resize(window.size() + PAGE - desk.view.canvas.image.size())
            wait(lambda: not window.controller.busy)
        sys.stdout.write(f"page {desk.view.wanted_part[1]} pixels\n")
        for seat in BUILT_IN[:4]:
            before = desk.view.canvas.seen.cacheKey()
            desk.seats.take(seat)
            first = wait(lambda: desk.view.canvas.seen.cacheKey() != before)  # noqa: B023
            wait(lambda: not window.controller.busy)
            found = []
            for step in range(CHANGES):
                before = desk.view.canvas.seen.cacheKey()
                desk.seats.try_out(replace(seat, distance=seat.distance * (1 + step / CHANGES)))
                found.append(wait(lambda: desk.view.canvas.seen.cacheKey() != before))  # noqa: B023
            sys.stdout.write(
                f"{seat.name}: first {first:.0f} ms (target {FIRST:g}), a change "
                f"{statistics.median(found):.0f} ms, at most {max(found):.0f} "
                f"(target {CHANGED:g})\n"
            )
            desk.seats.take(None)
            wait(lambda: not window.controller.busy)
        window.controller.stop()
        window.close()


if __name__ == "__main__":
    main()
