"""The attack's files opened in the window, one after the other: does it go on answering?

    QT_QPA_PLATFORM=offscreen python -m tools.attack_window [WORD …]

Each file is opened, measured, shown, and closed again. The longest time in which
the window didn't answer is printed, and the most memory that any process held;
past a fifth of a second or a gigabyte the exit status is 1.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

from PySide6.QtWidgets import QApplication

from high_pair.app.settings import Settings
from high_pair.app.start import make_application
from high_pair.app.window import Window
from high_pair.formats.web.settings import WebSettings
from high_pair.process.limits import MEGABYTE
from high_pair.review.history import History
from tools.attack import MOST, Watch, cases, file_name

STALL_SECONDS = 0.2
PATIENCE_SECONDS = 600.0


def _rested(application: QApplication, window: Window) -> float:
    """Let the window work until it rests; gives the longest time that it didn't answer."""
    longest, end, quiet = 0.0, time.monotonic() + PATIENCE_SECONDS, 0
    while quiet < 5 and time.monotonic() < end:
        start = time.monotonic()
        application.processEvents()
        longest = max(longest, time.monotonic() - start)
        time.sleep(0.005)
        quiet = 0 if window.controller.busy else quiet + 1
    if quiet < 5:
        raise SystemExit("The window doesn't come to rest.")
    return longest


def main(words: list[str]) -> int:
    """Open those whose names hold a word; gives the exit status."""
    chosen = [case for case in cases() if not words or any(word in case.name for word in words)]
    over = 0
    # In another process: what it takes to make them isn't the window's.
    make = [sys.executable, "-m", "tools.attack", "--write"]
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run([*make, folder, *words], check=True, stdout=subprocess.DEVNULL)
        settings = Settings(Path(folder) / "window.ini")
        settings.web = WebSettings(states=False, limit=5.0)
        application = make_application(settings)
        window = Window(settings)
        window.resize(1280, 800)
        window.show()
        told: list[str] = []
        window.controller.failed.connect(told.append)
        _rested(application, window)
        for case in chosen:
            path = Path(folder) / file_name(case)
            told.clear()
            watch = Watch()
            watch.start()
            start = time.monotonic()
            window.open_paths([path])
            longest = _rested(application, window)
            for key in list(window.controller.session.files):
                closing = time.monotonic()
                window.controller.close_file(key)
                window.refresh()
                longest = max(longest, time.monotonic() - closing, _rested(application, window))
            wall = time.monotonic() - start
            watch.over.set()
            watch.join()
            megabytes = max(watch.memory.values(), default=0) // MEGABYTE
            mark = " STALL" * (longest > STALL_SECONDS) + " LARGE" * (megabytes > MOST)
            over += bool(mark)
            print(
                f"{case.name}: {longest:.2f} s without an answer in {wall:.1f} s, "
                f"{megabytes} MB{mark}: {told[0] if told else 'measured'}",
                flush=True,
            )
            path.unlink()
        window.controller.session.history = History()
        window.close()
    print(f"{len(chosen)} files, {over} over limits")
    return 1 if over else 0


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
