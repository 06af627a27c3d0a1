"""Waiting for something while the engine goes on."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QEventLoop, QTimer

EVERY_MS = 4


def pause(seconds: float) -> None:
    """Let the engine work for a while."""
    loop = QEventLoop()
    QTimer.singleShot(max(1, round(seconds * 1000)), loop.quit)
    loop.exec()


def wait_until(condition: Callable[[], bool], seconds: float, every: int = EVERY_MS) -> bool:
    """Wait until something holds, so many seconds at most; tells whether it does."""
    if condition():
        return True
    end = time.monotonic() + seconds
    loop = QEventLoop()
    timer = QTimer()
    held = False

    def look() -> None:
        nonlocal held
        held = held or condition()
        if held or time.monotonic() > end:
            loop.quit()

    timer.timeout.connect(look)
    timer.start(every)
    loop.exec()
    timer.stop()
    return held
