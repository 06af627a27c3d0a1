"""Measure a frame of dragging each slider of the Bench: from the change until all is painted.

python -m benchmarks.slider
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

from benchmarks.shown import shown_window
from high_pair.app.actions import BENCH

FRAMES = 80
TARGET = 16.0


def main() -> None:
    """Print the median and the 95th percentile for each slider."""
    with tempfile.TemporaryDirectory() as folder:
        application, window = shown_window(Path(folder))
        window.show_desk(BENCH)
        application.processEvents()
        for side, card in window.bench.two.cards.items():
            for channel, slider in card.sliders.items():
                found = []
                for frame in range(FRAMES):
                    start = time.perf_counter()
                    slider.setValue(slider.maximum() * (frame + 10) // (FRAMES + 20))
                    application.processEvents()
                    found.append((time.perf_counter() - start) * 1000)
                found.sort()
                sys.stdout.write(
                    f"{side} {channel}: {found[FRAMES // 2]:.1f} ms, "
                    f"95% under {found[int(FRAMES * 0.95)]:.1f} ms (target {TARGET:g})\n"
                )
        window.controller.stop()
        window.close()


if __name__ == "__main__":
    main()
