"""Working on the pages of long documents in several processes."""

from __future__ import annotations

import os
import queue
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any, TypeVar

from high_pair.process.host import Host, ProcessDied

# Below so many pages, starting processes takes longer than they save.
LONG_DOCUMENT = 30
T = TypeVar("T")


def usable_processes() -> int:
    """Give the number of processes that can work at a time here."""
    return max(1, min(8, len(os.sched_getaffinity(0))))


class PagePool:
    """Processes that work on pages; each starts with its first call.

    first: the one that is used where there are few pages.
    """

    def __init__(self, processes: int | None = None) -> None:
        self._all = [Host() for _ in range(processes or usable_processes())]
        self.first = self._all[0]
        self._executor: ThreadPoolExecutor | None = None
        self._closed = False
        self._free: queue.SimpleQueue[Host] = queue.SimpleQueue()
        for host in self._all:
            self._free.put(host)

    def submit(self, function: Callable[..., T], *arguments: Any) -> Future[T]:
        """Have function(host, *arguments) called with a process that is free, on another thread.

        Should the process die, it is called once more, with a new one. Raises
        RuntimeError when the pool is closed.
        """
        if self._closed:
            raise RuntimeError("the pool is closed")
        if self._executor is None:
            self._executor = ThreadPoolExecutor(len(self._all), "pages")
        return self._executor.submit(self._run, function, arguments)

    def _run(self, function: Callable[..., T], arguments: tuple[Any, ...]) -> T:
        host = self._free.get()
        try:
            try:
                return function(host, *arguments)
            except Exception as error:
                if not isinstance(error.__cause__, ProcessDied) or self._closed:
                    raise
                return function(host, *arguments)
        finally:
            self._free.put(host)

    def rest(self) -> None:
        """End the processes that have nothing to do; the next call starts them anew."""
        for host in self._all:
            host.rest()

    def close(self) -> None:
        """End the processes at once, whatever they do; what hasn't begun is dropped."""
        self._closed = True
        for host in self._all:
            host.close()
        if self._executor is not None:
            self._executor.shutdown(wait=False, cancel_futures=True)
