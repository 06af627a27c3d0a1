"""Those who measure an audit's files: processes of this machine, or whoever else does."""

from __future__ import annotations

from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import Host
from high_pair.process.limits import MEGABYTE, memory_of
from high_pair.report.store import FileRows
from high_pair.review.file_rows import measure_file
from high_pair.review.in_processes import Opening
from high_pair.wcag.asked import Asked


class Crew(Protocol):
    """What measures files, many at a time; it is called on one thread."""

    def room(self) -> int:
        """Tell how many files more may be given to it now."""

    def submit(self, path: Path, digest: str) -> None:
        """Give it a file, which comes back measured, or with an error."""

    def finished(self, seconds: float) -> list[FileRows]:
        """Wait so long at most, and give what is done since."""

    def at_hand(self) -> list[str]:
        """List the paths that are being measured."""

    def close(self) -> None:
        """End the work, also that which is under way."""


# So many files a process measures one after the other, unless one of them goes wrong,
MOST_FILES = 50
# or it holds so much memory when one is done, in bytes.
MOST_HELD = 300 * MEGABYTE


@dataclass
class _Worker:
    """A process, and how many files it has measured."""

    host: Host
    files: int = 0


class LocalCrew:
    """Processes of this machine. A file that goes wrong ends the process in which it was alone, so
    that it harms no other."""

    def __init__(self, asked: Asked, web: WebSettings, jobs: int) -> None:
        self._asked, self._web, self._jobs = asked, web, jobs
        self._under_way: dict[Future[FileRows], tuple[str, _Worker]] = {}
        self._idle: list[_Worker] = []
        self._pool = ThreadPoolExecutor(jobs, "audit")

    def room(self) -> int:
        """Tell how many files more may be given to it now."""
        return self._jobs - len(self._under_way)

    def submit(self, path: Path, digest: str) -> None:
        """Give it a file."""
        worker = self._idle.pop() if self._idle else _Worker(Host())
        worker.files += 1
        opening = Opening(path, self._web)
        future = self._pool.submit(measure_file, worker.host, opening, digest, self._asked)
        self._under_way[future] = str(path), worker

    def finished(self, seconds: float) -> list[FileRows]:
        """Wait so long at most, and give what is done since."""
        done, _ = wait(self._under_way, timeout=seconds, return_when=FIRST_COMPLETED)
        for future in done:
            _, worker = self._under_way.pop(future)
            fresh = worker.files < MOST_FILES and memory_of(worker.host.process) < MOST_HELD
            if fresh and not future.exception() and not future.result().error:
                self._idle.append(worker)
            else:
                worker.host.close()
        return [future.result() for future in done]

    def at_hand(self) -> list[str]:
        """List the paths that are being measured."""
        return [path for path, _ in self._under_way.values()]

    def close(self) -> None:
        """End the work, also that which is under way."""
        for worker in (*self._idle, *(worker for _, worker in self._under_way.values())):
            worker.host.close()
        self._pool.shutdown(wait=False, cancel_futures=True)
