"""Waiting for something while the engine goes on."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QEventLoop, QTimer

EVERY_MS = 4
# How often one looks whether there is still any hope of an answer.
LOOKING_MS = 20


def pause(seconds: float) -> None:
    """Let the engine work for a while."""
    loop = QEventLoop()
    QTimer.singleShot(max(1, round(seconds * 1000)), loop.quit)
    loop.exec()


def answer_of(
    ask: Callable[[Callable[[Any], None]], None],
    hopeless: Callable[[], bool],
    seconds: float,
    every: int = LOOKING_MS,
) -> list[Any]:
    """Ask for what is answered by a call, and wait for it.

    ask: is given what to call. Gives the answer, or nothing where none came in time, or where
    none can come any more (hopeless).
    """
    answers: list[Any] = []
    loop = QEventLoop()

    def take(answer: Any) -> None:
        answers.append(answer)
        loop.quit()

    end = time.monotonic() + seconds
    timer = QTimer()
    timer.timeout.connect(lambda: loop.quit() if hopeless() or time.monotonic() > end else None)
    ask(take)
    if not answers and not hopeless():
        timer.start(every)
        loop.exec()
        timer.stop()
    return answers


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
