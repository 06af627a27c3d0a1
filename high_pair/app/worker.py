"""The thread on which files are read, measured and painted, so that the window stays awake."""

from __future__ import annotations

import itertools
import queue
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import IntEnum
from typing import Any

from PySide6.QtCore import QObject, QThread, Signal

from high_pair.errors import HighPairError


class Urgency(IntEnum):
    """Which job is done first."""

    AT_HAND = 0
    SOON = 1
    WHEN_IDLE = 2


@dataclass(order=True)
class Job:
    """Work for the thread.

    run: is called on the thread; done: gets its result, on the interface's
    thread; failed: gets the error instead; wanted: is asked just before, and a
    job that isn't wanted any more is dropped.
    """

    urgency: Urgency
    order: int
    run: Callable[[], Any] = field(compare=False)
    done: Callable[[Any], None] = field(compare=False)
    failed: Callable[[HighPairError], None] = field(compare=False)
    wanted: Callable[[], bool] = field(compare=False)


class _Thread(QThread):
    finished_job = Signal(object, object)
    failed_job = Signal(object, object)
    dropped_job = Signal(object)

    def __init__(self, jobs: queue.PriorityQueue[Job]) -> None:
        super().__init__()
        self._jobs = jobs
        self.stopping = False

    def run(self) -> None:
        """Do jobs until told to stop."""
        while True:
            job = self._jobs.get()
            if self.stopping:
                return
            if not job.wanted():
                self.dropped_job.emit(job)
                continue
            try:
                result = job.run()
            except HighPairError as error:
                self.failed_job.emit(job, error)
            except Exception as error:
                # A fault of ours must not end the thread: the user is told, and goes on.
                problem = HighPairError(
                    f"Something went wrong inside High Pair ({type(error).__name__}: {error}). "
                    "The file is unharmed; please report this."
                )
                problem.__cause__ = error
                self.failed_job.emit(job, problem)
            else:
                self.finished_job.emit(job, result)


class Worker(QObject):
    """A queue of jobs and the thread that does them."""

    idle = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._jobs: queue.PriorityQueue[Job] = queue.PriorityQueue()
        self._count = itertools.count()
        self._open = 0
        self._thread = _Thread(self._jobs)
        self._thread.finished_job.connect(self._finished)
        self._thread.failed_job.connect(self._failed)
        self._thread.dropped_job.connect(self._close_one)
        self._thread.start()

    def do(
        self,
        run: Callable[[], Any],
        done: Callable[[Any], None],
        failed: Callable[[HighPairError], None],
        urgency: Urgency = Urgency.AT_HAND,
        wanted: Callable[[], bool] = lambda: True,
    ) -> None:
        """Put a job in the queue; see `Job`."""
        self._open += 1
        self._jobs.put(Job(urgency, next(self._count), run, done, failed, wanted))

    @property
    def busy(self) -> bool:
        """Whether a job is under way or waiting."""
        return self._open > 0

    def _finished(self, job: Job, result: Any) -> None:
        self._open -= 1
        job.done(result)
        self._tell_idle()

    def _failed(self, job: Job, error: HighPairError) -> None:
        self._open -= 1
        job.failed(error)
        self._tell_idle()

    def _close_one(self, _job: Job) -> None:
        self._open -= 1
        self._tell_idle()

    def _tell_idle(self) -> None:
        if self._open == 0:
            self.idle.emit()

    def stop(self) -> None:
        """End the thread after the job under way."""
        self._thread.stopping = True
        nothing: Callable[..., None] = lambda *_: None  # noqa: E731
        self._jobs.put(Job(Urgency.AT_HAND, -1, nothing, nothing, nothing, lambda: True))
        self._thread.wait()
