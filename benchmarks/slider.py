"""Measure a frame of dragging each slider of the Bench: from the change until all is painted.

python -m benchmarks.slider
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QSize

from high_pair.app.actions import BENCH
from high_pair.app.settings import Settings
from high_pair.app.start import make_application
from high_pair.app.window import Window

FRAMES = 80
TARGET = 16.0


def main() -> None:
    """Print the median and the 95th percentile for each slider."""
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(Path(folder) / "window.ini")
        application = make_application(settings)
        window = Window(settings)
        window.resize(QSize(1280, 800))
        window.show()
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
