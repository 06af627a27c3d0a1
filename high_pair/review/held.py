"""Documents that are open in processes of their own, as seen from the window.

Each file has a process, so that what a stranger's file makes of it concerns that
file alone. Web pages share one: what is strange of them is in the engine's process,
which they share too. Only so many processes live at a time; a file whose process
has ended, for whatever reason, is opened anew when something is asked about it.
"""

from __future__ import annotations

import itertools
import threading
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from high_pair.colour.srgb import Bytes
from high_pair.edits.kinds import Edit, MarkText
from high_pair.errors import Cancelled, HighPairError, UnreadableFile
from high_pair.formats.document import PageInfo
from high_pair.formats.kinds import DRAWING, modules
from high_pair.formats.location import Location, name_of, suffix_of
from high_pair.formats.web.addresses import is_page
from high_pair.formats.web.settings import DEFAULT, WebSettings
from high_pair.process.host import CallProblem, Host, budget_for, get_ready
from high_pair.review import tasks
from high_pair.review.shop import (
    Boxes,
    Facts,
    Source,
    Task,
    Wanted,
    carry_out,
    facts,
    let_go,
    list_boxes,
    picture_pixels,
)

MOST_PROCESSES = 6
# Tasks that try many changes, or measure many pages, may use so much more than others.
MANY_TRIALS = (tasks.apply_to_alike, tasks.propose, tasks.propose_at, tasks.save)
TRYING = 20.0
# What the process of every file begins with, whatever the file is.
LOADED = ("high_pair.review.tasks", *modules())


class Processes:
    """The processes of all open files. What is done here may be done on any thread."""

    def __init__(self, most: int = MOST_PROCESSES) -> None:
        self._lock = threading.Lock()
        self._most = most
        self._keys = itertools.count(1)
        self._of_pages: Host | None = None
        get_ready(LOADED)
        self._closed: set[int] = set()
        self._ended = False
        # The host of each file, those used last at the end.
        self._hosts: OrderedDict[int, Host] = OrderedDict()

    def open(
        self,
        location: Location,
        web: WebSettings = DEFAULT,
        stopped: Callable[[], bool] = lambda: False,
    ) -> HeldDocument:
        """Open a file or a web address. Raises UnreadableFile, and Cancelled when stopped."""
        source = Source(next(self._keys), location, web)
        try:
            found = run(self.host(source), Wanted(source), facts, location, stopped=stopped)
        except BaseException:
            self.close(source)
            raise
        return HeldDocument(self, replace(source, version=found.version), found, found.boxes)

    def picture(self, path: Path) -> Bytes:
        """Read a picture's file, uint8 (h, w, 3), in a process that ends then.

        Raises UnreadableFile.
        """
        host = Host()
        try:
            found: Bytes = host.call(picture_pixels, path, budget=budget_for(path))
        except CallProblem as problem:
            raise UnreadableFile(path.name, f"it {problem}.") from problem
        finally:
            host.close()
        return found

    def host(self, source: Source) -> Host:
        """Give a file's process; those that weren't used for longest end, if they are too many.

        Raises Cancelled for a file that was closed.
        """
        with self._lock:
            if source.key in self._closed or self._ended:
                raise Cancelled("The file was closed.")
            host = self._hosts.pop(source.key, None)
            if host is None and _needs_engine(source.location):
                host = self._of_pages = self._of_pages or Host()
            self._hosts[source.key] = host = host or Host()
            others = dict.fromkeys(each for each in self._hosts.values() if each is not host)
            live = [each for each in others if each.process]
            for each in live[: max(0, len(live) + 1 - self._most)]:
                each.rest()
        return host

    def close(self, source: Source) -> None:
        """Let go of a file, also while something is asked about it."""
        with self._lock:
            self._closed.add(source.key)
            host = self._hosts.pop(source.key, None)
            shared = host in self._hosts.values()
            if host is self._of_pages and not shared:
                self._of_pages = None
        if host is None:
            return
        if shared:
            threading.Thread(target=_let_go, args=(host, source.key), daemon=True).start()
        else:
            host.close()

    def close_all(self) -> None:
        """End all processes at once; none is started any more."""
        with self._lock:
            hosts = list(self._hosts.values())
            self._ended = True
            self._hosts = OrderedDict()
            self._of_pages = None
        for host in hosts:
            host.close()


def _needs_engine(location: Location) -> bool:
    """Tell whether the browser engine shows a file, of which one process is enough."""
    return is_page(location) or suffix_of(location) == DRAWING


def _let_go(host: Host, key: int) -> None:
    try:
        if host.process:
            host.call(let_go, key)
    except HighPairError:
        # It is gone, and with it all that it held.
        return


def run(
    host: Host,
    wanted: Wanted,
    task: Task,
    *arguments: Any,
    stopped: Callable[[], bool] = lambda: False,
    told: Callable[..., None] = lambda *_: None,
) -> Any:
    """Run a task on a document in a process; see `review.shop`.

    Raises what the task does; where the process doesn't live to answer, UnreadableFile.
    """
    location = wanted.source.location
    try:
        return host.call(
            carry_out,
            wanted,
            task,
            arguments,
            stopped=stopped,
            told=told,
            budget=budget_for(location, TRYING if task in MANY_TRIALS else 1.0),
        )
    except CallProblem as problem:
        raise UnreadableFile(name_of(location), f"it {problem}.") from problem


@dataclass(frozen=True)
class HeldDocument:
    """A document that is open in a process, as it is with edits.

    facts: what is known of it as it is on disk; boxes: in a picture; trial: without what
    only shows in states of controls.
    """

    processes: Processes
    source: Source
    facts: Facts
    boxes: Boxes
    edits: tuple[Edit, ...] = ()
    trial: bool = False

    @property
    def name(self) -> str:
        """The file's name."""
        return self.facts.name

    @property
    def kind(self) -> str:
        """The review format's word for the family."""
        return self.facts.kind

    def assumed(self) -> tuple[str, ...]:
        """Say what was assumed of parts that are missing, in sentences."""
        return self.facts.assumed

    @property
    def pages(self) -> tuple[PageInfo, ...]:
        """The pages in reading order."""
        return self.facts.pages

    def run(
        self,
        task: Task,
        *arguments: Any,
        stopped: Callable[[], bool] = lambda: False,
        told: Callable[..., None] = lambda *_: None,
    ) -> Any:
        """Run a task on it, which takes its time: not to be called on the window's thread."""
        wanted = Wanted(self.source, self.edits, self.trial)
        host = self.processes.host(self.source)
        return run(host, wanted, task, *arguments, stopped=stopped, told=told)

    def run_in(self, host: Host, task: Task, *arguments: Any) -> Any:
        """Run a task on it in another process than its own, where it is opened too."""
        return run(host, Wanted(self.source, self.edits, self.trial), task, *arguments)

    def with_edits(self, edits: Sequence[Edit], trial: bool = False) -> HeldDocument:
        """Give it with these edits and no others, which nobody has tried yet."""
        return replace(self, edits=tuple(edits), trial=trial)

    def edited(self, edits: Sequence[Edit]) -> HeldDocument:
        """Give it with these edits and no others, tried. Raises EditError."""
        tried = self.with_edits(edits)
        return replace(tried, boxes=tried.run(list_boxes))

    def pages_touched(self, edits: Sequence[Edit]) -> frozenset[int]:
        """Tell which pages may look different after edits."""
        found: frozenset[int] = self.with_edits(()).run(tasks.pages_touched, tuple(edits))
        return found

    def new_box_address(self, page: int) -> str | None:
        """Give an address for one more box round text that is part of a page's picture."""
        return self.boxes.new[page] if 0 <= page < len(self.boxes.new) else None

    def box_at(self, address: str) -> MarkText | None:
        """Give the box at an address, None where none was drawn."""
        return self.boxes.drawn.get(address)

    def close(self) -> None:
        """Let go of it."""
        self.processes.close(self.source)
