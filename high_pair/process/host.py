"""A process in which functions are run for us, watched from outside.

Whatever a stranger's file makes of it (a loop, gigabytes, a crash of a library),
the process is ended and the caller gets an error that says what happened; the
program goes on, and the next call gets a new process.

The processes come from one server of the standard library's (`multiprocessing`,
"forkserver"), which has everything imported and forks in some milliseconds.
"""

from __future__ import annotations

import contextlib
import io
import itertools
import multiprocessing
import os
import pickle
import signal
import sys
import threading
import time
import types
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from multiprocessing import forkserver, resource_tracker
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from high_pair.errors import Cancelled
from high_pair.process.limits import ENDED_FROM, MEGABYTE, memory_of, seconds_of
from high_pair.process.serving import (
    ALIVE,
    DONE,
    FAILED,
    TOLD,
    TOO_MUCH,
    CallProblem,
    ProcessEnded,
    serve,
)

# What became of a call besides what `serving` has.
STOPPED = "stopped"
# How often a process at work is looked at, and how soon one that was asked to stop has to.
LOOK_SECONDS = 0.02
STOPPING_SECONDS = 0.5
# Work on one call that takes longer than this of the processor has no end.
MOST_SECONDS = 120.0
# And a call that takes longer than this by the clock waits for something that never comes.
MOST_WAITED = 1800.0
# What a call may answer, in bytes: a long page in two layers.
MOST_ANSWER = 400 * MEGABYTE


class ProcessDied(ProcessEnded):
    """The process ended by itself, or somebody else ended it."""


@dataclass(frozen=True)
class Budget:
    """What a call may use: seconds of the processor, and by the clock, until it tells
    how far it is; bytes of memory at any time."""

    seconds: float = MOST_SECONDS
    memory: int = ENDED_FROM
    wall: float = MOST_WAITED


USUAL = Budget()
# A call on a file may use so many seconds of the processor, and as many for each megabyte of it.
SECONDS, SECONDS_A_MEGABYTE = 60.0, 60.0


def budget_for(place: object, times: float = 1.0) -> Budget:
    """Give what a call on a file may use, which grows with the file.

    place: its path, or what is no file's; times: how much more a call may use that
    tries many changes of pages known to be sound.
    """
    try:
        size = place.stat().st_size if isinstance(place, Path) else 0
    except OSError:
        size = 0
    return replace(USUAL, seconds=times * (SECONDS + SECONDS_A_MEGABYTE * size / MEGABYTE))


@contextlib.contextmanager
def _interrupts_held() -> Iterator[None]:
    """Keep Ctrl+C from what is started within: it is ours to end it."""
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
    try:
        yield
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


_starting = threading.Lock()


@contextlib.contextmanager
def _without_main() -> Iterator[None]:
    """Keep a process from loading the program's start script, which may load the whole window."""
    with _starting:
        main = sys.modules["__main__"]
        sys.modules["__main__"] = types.ModuleType("__main__")
        try:
            yield
        finally:
            sys.modules["__main__"] = main


def get_ready(loaded: Sequence[str] = ()) -> None:
    """Start the server of processes, if it doesn't run yet; it loads while we go on.

    loaded: the modules that every process is to have from its beginning, without loading them.
    """
    # First, since it lets Ctrl+C through again when it has started.
    resource_tracker.ensure_running()
    with _starting, _interrupts_held():
        multiprocessing.get_context("forkserver").set_forkserver_preload(list(loaded))
        forkserver.ensure_running()


class _Frames:
    """The bytes of a pickle, read frame by frame: other threads go on between two of them.

    `pickle.loads` lets none of them run, and the window waits where an answer is large.
    """

    def __init__(self, data: bytes) -> None:
        self._data = io.BytesIO(data)

    def read(self, count: int) -> bytes:
        return self._data.read(count)

    def readline(self) -> bytes:
        return self._data.readline()


class Host:
    """One process, started with the first call. Calls are made one at a time."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: Any = None
        self._line: Connection | None = None
        self._control: Connection | None = None
        self._closed = False
        # How many calls the process was asked for.
        self._number = 0

    @property
    def process(self) -> int:
        """The process's number, 0 while there is none."""
        return int(self._process.pid) if self._process is not None else 0

    def call(
        self,
        function: Callable[..., Any] | str,
        *arguments: Any,
        stopped: Callable[[], bool] = lambda: False,
        told: Callable[..., None] = lambda *_: None,
        budget: Budget = USUAL,
    ) -> Any:
        """Run function(call, *arguments) in the process, and give its result.

        function: of a module, or its name as «module:function»; call: a
        `serving.Call`, through which it tells how far it is (told) and is told to
        stop (stopped). What it raises is raised here. Raises ProcessEnded when the
        process doesn't live to answer, and Cancelled when it was stopped.
        """
        with self._lock:
            if self._closed:
                raise Cancelled("The file was closed.")
            try:
                line = self._started()
            except (EOFError, OSError) as error:
                self._end()
                raise ProcessDied(f"can't be given a process of its own ({error})") from error
            self._number += 1
            question = pickle.dumps((function, arguments), pickle.HIGHEST_PROTOCOL)
            try:
                line.send_bytes(question)
                kind, answer = self._wait(line, stopped, told, budget)
            except (EOFError, OSError) as error:
                ended = self._death()
                if self._closed:
                    raise Cancelled("The file was closed.") from error
                raise ended from error
            except BaseException:
                # Whoever asked is gone, or the process is of no more use.
                self._end()
                raise
            if kind == STOPPED:
                raise Cancelled("It was stopped.")
            if kind == FAILED:
                if isinstance(answer, ProcessEnded):
                    self._end()
                raise answer
        return answer

    def _wait(
        self,
        line: Connection,
        stopped: Callable[[], bool],
        told: Callable[..., None],
        budget: Budget,
    ) -> tuple[str, Any]:
        before, start = seconds_of(self.process), time.monotonic()
        asked_to_stop = None
        for look in itertools.count(1):
            while line.poll(LOOK_SECONDS):
                kind, answer = pickle.load(_Frames(line.recv_bytes(MOST_ANSWER)))
                if kind in (DONE, FAILED):
                    return (kind, answer) if asked_to_stop is None else (STOPPED, None)
                if kind in (TOLD, ALIVE):
                    if kind == TOLD:
                        told(*answer)
                    before, start = seconds_of(self.process), time.monotonic()
                if stopped():
                    break
            if self._closed:
                raise EOFError
            if memory_of(self.process) > budget.memory:
                raise ProcessEnded(
                    f"needs more than {budget.memory // MEGABYTE} MB of memory. {TOO_MUCH}"
                )
            if look % 10 == 0 and seconds_of(self.process) - before > budget.seconds:
                raise ProcessEnded(f"had no end after {budget.seconds:.0f} s of work. {TOO_MUCH}")
            if time.monotonic() - start > budget.wall:
                raise ProcessEnded(f"didn't answer for {budget.wall:.0f} s. Is its disk there?")
            if asked_to_stop is None and stopped():
                asked_to_stop = time.monotonic()
                assert self._control is not None
                # By its number, lest it comes when the next call is under way.
                self._control.send_bytes(b"%d" % self._number)
            if asked_to_stop is not None and time.monotonic() - asked_to_stop > STOPPING_SECONDS:
                raise Cancelled("It was stopped.")
        raise AssertionError("it is counted without end")

    def _started(self) -> Connection:
        if self._line is not None and self._process.is_alive():
            return self._line
        self._end()
        get_ready()
        context = multiprocessing.get_context("forkserver")
        line, theirs = context.Pipe()
        control, their_control = context.Pipe()
        process = context.Process(
            target=serve, args=(theirs, their_control), daemon=True, name="high-pair-host"
        )
        with _interrupts_held(), _without_main():
            process.start()
            self._process, self._line, self._control = process, line, control
            self._number = 0
        theirs.close()
        their_control.close()
        return line

    def _death(self) -> ProcessDied:
        self._process.join(1.0)
        code = self._process.exitcode
        self._end()
        if code is not None and code < 0:
            name = signal.Signals(-code).name
            return ProcessDied(f"ended the process that read it ({name}). It may be damaged")
        return ProcessDied("ended the process that read it. It may be damaged")

    def _end(self) -> None:
        process, self._process = self._process, None
        if process is not None:
            with contextlib.suppress(OSError):
                # Its own helpers, such as a browser engine, end with it.
                os.kill(process.pid, signal.SIGKILL)
            process.join()
            process.close()
        for line in (self._line, self._control):
            if line is not None:
                line.close()
        self._line = self._control = None

    def close(self) -> None:
        """End the process, also while a call is under way; whoever waits gets Cancelled."""
        self._closed = True
        process = self._process
        with contextlib.suppress(OSError, ValueError, AttributeError):
            os.kill(process.pid, signal.SIGKILL)
        # While a call is under way, its own thread tidies up.
        self.rest()

    def rest(self) -> bool:
        """End the process unless a call is under way; the next call gets a new one."""
        if not self._lock.acquire(blocking=False):
            return False
        try:
            self._end()
        finally:
            self._lock.release()
        return True


__all__ = [
    "USUAL",
    "Budget",
    "CallProblem",
    "Host",
    "ProcessDied",
    "ProcessEnded",
    "budget_for",
    "get_ready",
]
