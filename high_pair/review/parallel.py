"""Measuring the pages of a long document in several processes.

Each process opens the file for itself, once, and gives back what a review
keeps of a page. A file that has changed on disk since it was opened is
refused, so that no page is measured from another version.
"""

from __future__ import annotations

import functools
import multiprocessing
import os
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from pathlib import Path

from high_pair.colour.srgb import Bytes
from high_pair.errors import Cancelled, UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.document import Document
from high_pair.formats.web.addresses import web_address
from high_pair.measure.pairs import Asked
from high_pair.remedy.edits import Edit
from high_pair.review.measuring import PageReview, measured, review_page, small_picture

# Below so many pages, starting processes takes longer than they save.
LONG_DOCUMENT = 30
# A process that takes so many pages at a time is seldom kept waiting.
PAGES_AHEAD = 2


@dataclass(frozen=True)
class PageTask:
    """A page to be measured: of which file, in which version of it, with which edits.

    thumbnail: the width in pixels of the small picture wanted, 0 for none.
    """

    path: Path
    version: tuple[int, int]
    edits: tuple[Edit, ...]
    page: int
    asked: Asked
    thumbnail: int = 0


@dataclass(frozen=True)
class PageOutcome:
    """What was measured of a page, and its small picture, uint8 (h, w, 3)."""

    review: PageReview
    thumbnail: Bytes | None


def version_of(path: Path) -> tuple[int, int]:
    """Give a file's size and time of change, by which its versions are told apart."""
    if web_address(path) is not None:
        # A page from the web has no version that could be told beforehand.
        return (0, 0)
    try:
        status = path.stat()
    except OSError as error:
        raise UnreadableFile(path.name, "it isn't there any more. Open it again.") from error
    return status.st_size, status.st_mtime_ns


@functools.lru_cache(maxsize=1)
def _document(path: Path, version: tuple[int, int]) -> Document:
    document = open_document(path)
    if version_of(path) != version:
        document.close()
        raise UnreadableFile(path.name, "it has changed on disk meanwhile. Open it again.")
    return document


@functools.lru_cache(maxsize=1)
def _edited(path: Path, version: tuple[int, int], edits: tuple[Edit, ...]) -> Document:
    document = _document(path, version)
    return document.edited(edits) if edits else document


def carry_out(task: PageTask) -> PageOutcome:
    """Measure a page; runs in a process of its own."""
    document = _edited(task.path, task.version, task.edits)
    page = measured(document, task.page, task.asked)
    thumbnail = None
    if task.thumbnail:
        thumbnail = small_picture(document, task.page, page, task.thumbnail)
    return PageOutcome(PageReview(task.page, page.pairs), thumbnail)


def usable_processes() -> int:
    """Give the number of processes that can work at a time here."""
    return max(1, min(8, len(os.sched_getaffinity(0))))


class PagePool:
    """Processes that measure pages; they start with the first task."""

    def __init__(self, processes: int | None = None) -> None:
        self._processes = processes or usable_processes()
        self._executor: ProcessPoolExecutor | None = None

    def submit(self, task: PageTask) -> Future[PageOutcome]:
        """Hand in a page."""
        if self._executor is None:
            # A fresh interpreter each: a copy of this one would share its threads' locks.
            self._executor = ProcessPoolExecutor(
                self._processes, multiprocessing.get_context("spawn")
            )
        return self._executor.submit(carry_out, task)

    @property
    def pages_ahead(self) -> int:
        """How many tasks keep all processes busy."""
        return self._processes * PAGES_AHEAD

    def close(self) -> None:
        """End the processes; tasks not begun are dropped."""
        if self._executor is not None:
            self._executor.shutdown(wait=True, cancel_futures=True)
            self._executor = None


def review_long_document(
    path: Path,
    document: Document,
    asked: Asked,
    stopped: Callable[[], bool] = lambda: False,
) -> Iterator[PageReview]:
    """Measure all pages in several processes, this one among them; gives them in order.

    Should a process die, what is left is measured in this one. Raises
    Cancelled as soon as `stopped` says so.
    """
    version = version_of(path)
    processes = usable_processes()
    pool = PagePool(processes - 1) if processes > 1 else None
    alive = pool is not None
    waiting: dict[int, Future[PageOutcome]] = {}
    done: dict[int, PageReview] = {}
    count = len(document.pages)
    next_page = 0
    try:
        for page in range(count):
            while page not in done:
                if stopped():
                    raise Cancelled("The review was stopped.")
                while pool and alive and next_page < count and len(waiting) < pool.pages_ahead:
                    task = PageTask(path, version, (), next_page, asked)
                    try:
                        waiting[next_page] = pool.submit(task)
                    except BrokenProcessPool:
                        alive = False
                        break
                    next_page += 1
                future = waiting.get(page)
                if future is not None and (future.done() or next_page == count):
                    del waiting[page]
                    try:
                        done[page] = future.result().review
                    except BrokenProcessPool:
                        alive = False
                        done[page] = review_page(document, page, asked)
                else:
                    # The others start, or are at work: this process takes the next page itself.
                    done[next_page] = review_page(document, next_page, asked)
                    next_page += 1
            yield done.pop(page)
    finally:
        if pool is not None:
            pool.close()
