"""The browser engine's process, as seen from the program: started, asked, and ended."""

from __future__ import annotations

import atexit
import contextlib
import functools
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import asdict
from pathlib import Path
from typing import Any, cast

from high_pair.engine.protocol import Changes, Told, Wanted
from high_pair.engine.wire import Line, Silence, take_array
from high_pair.errors import Cancelled, HighPairError
from high_pair.process.limits import (
    ENDED_FROM,
    MOST_PAINTING,
    group_of,
    largest,
)

# Beyond a page's own limit: starting the engine, painting, scrolling, forcing states.
BESIDES = 90.0
FILES, WEB = "files", "web"
# What the engine calls what it prints, in the folder of both.
PRINTED = "printed.pdf"
# How often the engine's processes are listed anew; what they hold is looked at more often.
LIST_SECONDS = 0.5


class EngineProblem(HighPairError):
    """The engine can't show a page; hung: it didn't answer, perhaps for a script without end."""

    def __init__(self, words: str, hung: bool = False) -> None:
        super().__init__(words)
        self.hung = hung


class Engine:
    """One process for all pages, started when first asked, ended when nobody uses it any more.

    kind: it shows files, and then reaches nobody, or pages from the web.
    """

    def __init__(self, kind: str = FILES) -> None:
        self._kind = kind
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._line: Line | None = None
        self._folder: Path | None = None
        self._users = 0
        self._waiting = self._stopped = False
        # The engine's processes, and when they were listed.
        self._members: tuple[int, ...] = ()
        self._listed = 0.0
        atexit.register(self._end)

    @property
    def group(self) -> int:
        """The group of its processes, 0 while none runs."""
        return self._process.pid if self._process is not None else 0

    def begin(self) -> None:
        """Say that the engine will be used."""
        with self._lock:
            self._users += 1

    def leave(self, visit: str) -> None:
        """Say that a visit's pages aren't needed any more: their memory is given back."""
        with self._lock:
            self._users -= 1
            if self._users <= 0:
                self._end()
            elif self._line is not None:
                try:
                    self._line.say({"do": "close", "visit": visit})
                    self._line.hear(BESIDES)
                except Silence:
                    self._end()

    def interrupt(self) -> None:
        """Stop what is under way, from another thread; whoever waits for it gets Cancelled."""
        process = self._process
        if self._waiting and process is not None:
            self._stopped = True
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)

    def take(self, page: Wanted, changes: Changes, states: bool) -> Told:
        """Have a page taken, with its paintings as arrays. Raises EngineProblem.

        states: also as its links and controls look on hover and the like.
        """
        with self._lock:
            told = self._answer_about(page, do="take", changes=changes, states=states)
            assert self._folder is not None
            for name, array in told["arrays"].items():
                told[name] = take_array(self._folder, array)
            return cast(Told, told)

    def printed(self, page: Wanted) -> bytes:
        """Print a page to a PDF, on the paper that its sheets ask for. Raises EngineProblem."""
        with self._lock:
            self._answer_about(page, do="print", file=PRINTED)
            assert self._folder is not None
            path = self._folder / PRINTED
            data = path.read_bytes()
            path.unlink()
            return data

    def _answer_about(self, page: Wanted, **asked: object) -> dict[str, Any]:
        """Ask about a page, and wait. Raises EngineProblem, Cancelled."""
        line = self._started()
        self._waiting, self._stopped = True, False
        try:
            line.say({"page": asdict(page), **asked})
            told = line.hear(page.limit + BESIDES, self._look)
        except Silence as silence:
            gone = self._process is not None and self._process.poll() is not None
            self._end()
            if self._stopped:
                raise Cancelled("Showing the page was stopped.") from silence
            if gone:
                raise EngineProblem(
                    "the browser engine ended while it showed the page"
                ) from silence
            raise EngineProblem("the browser engine had no answer in time", True) from silence
        finally:
            self._waiting = False
        if "problem" in told:
            raise EngineProblem(str(told["problem"]), bool(told.get("hung")))
        return told

    def _look(self) -> None:
        """End a process of the engine's that holds too much memory; the page then has an error."""
        now = time.monotonic()
        if now > self._listed + LIST_SECONDS:
            # Finding out which processes of the machine are the engine's takes far longer than
            # asking those what they hold.
            self._members = tuple(group_of(self.group)) if self.group else ()
            self._listed = now
        process, held = largest(self._members)
        if held > (MOST_PAINTING if process == self.group else ENDED_FROM):
            with contextlib.suppress(ProcessLookupError):
                os.kill(process, signal.SIGKILL)

    def frame_seconds(self, page: Wanted) -> float:
        """Give the seconds in which the engine paints a page that was taken, once."""
        with self._lock:
            line = self._started()
            line.say({"do": "frame", "page": asdict(page)})
            return float(line.hear(BESIDES)["frame"])

    def _started(self) -> Line:
        if self._line is not None and self._process is not None and self._process.poll() is None:
            return self._line
        self._end()
        self._folder = Path(tempfile.mkdtemp(prefix="high-pair-"))
        self._members, self._listed = (), 0.0
        environment = {
            **os.environ,
            "PYTHONPATH": os.pathsep.join(p for p in sys.path if p),
            # Paintings go back to the system as soon as they are let go of (GNU libc, mallopt(3)).
            "MALLOC_MMAP_THRESHOLD_": str(1 << 20),
        }
        # A group of its own, so that the engine's helpers end with it.
        self._process = subprocess.Popen(
            [sys.executable, "-m", "high_pair.engine", str(self._folder), self._kind],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            env=environment,
            start_new_session=True,
        )
        assert self._process.stdin is not None and self._process.stdout is not None
        self._line = Line(self._process.stdout.fileno(), self._process.stdin.fileno())
        return self._line

    def _end(self) -> None:
        process, self._process, self._line = self._process, None, None
        if process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)
            process.wait()
            for stream in (process.stdin, process.stdout):
                if stream is not None:
                    with contextlib.suppress(OSError):
                        stream.close()
        if self._folder is not None:
            shutil.rmtree(self._folder, ignore_errors=True)
            self._folder = None


@functools.lru_cache(maxsize=2)
def shared_engine(kind: str) -> Engine:
    """Give the one engine of its kind in this process."""
    return Engine(kind)


def interrupt_engines() -> None:
    """Stop what any engine of this process is doing."""
    for kind in (FILES, WEB):
        shared_engine(kind).interrupt()
