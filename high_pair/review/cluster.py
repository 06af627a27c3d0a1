"""An audit's files measured by a cluster: workers of `distributed` on any number of machines.

Each worker measures a file in a process of its own, as this machine would. A file that lies on a
path that the worker has too, with the same content, is read there; else its bytes are sent. What is
shown with other files, such as a web page, isn't sent without them: this machine measures it.
"""

from __future__ import annotations

import multiprocessing
import queue
import tempfile
import time
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from high_pair.errors import HighPairError
from high_pair.formats.kinds import DRAWING, PAGES
from high_pair.formats.location import name_of
from high_pair.formats.reading import sha256_of
from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import Host
from high_pair.process.limits import MEGABYTE
from high_pair.report.store import FileRows
from high_pair.review.crew import LocalCrew
from high_pair.review.file_rows import measure_file
from high_pair.review.in_processes import Opening, get_ready_for
from high_pair.wcag.asked import Asked

if TYPE_CHECKING:
    from distributed import Future

# Seconds in which the scheduler has to answer.
PATIENCE = 20.0
# So many files for each of the cluster's threads are under way or wait there.
AHEAD = 2
# How often it is asked how many workers there are.
COUNT_SECONDS = 1.0
# A file that is larger isn't sent.
MOST_SENT = 256 * MEGABYTE
# So often a file is tried again whose worker ended, or failed.
RETRIES = 2
NEEDED = (
    'Audits by a cluster need the program\'s extra: pip install "high-pair[cluster]", here and '
    "where the workers run."
)


class ClusterCrew:
    """Workers of a cluster. Raises HighPairError where it can't be reached."""

    def __init__(self, address: str, asked: Asked, web: WebSettings, jobs: int) -> None:
        try:
            from distributed import Client
        except ImportError as error:
            raise HighPairError(NEEDED) from error
        try:
            self._client = Client(address, timeout=PATIENCE, name="high-pair")
        except (OSError, ValueError, TypeError) as error:
            raise HighPairError(
                f"The cluster at {address} can't be reached ({error}). Check its address, and that "
                "its scheduler runs."
            ) from error
        self._asked, self._web = asked, web
        self._here = LocalCrew(asked, web, jobs)
        self._done: queue.SimpleQueue[Future] = queue.SimpleQueue()
        self._under_way: dict[Future, tuple[Path, str]] = {}
        self._threads, self._counted = 0, 0.0

    def room(self) -> int:
        """Tell how many files more may be given to it now; workers come and go."""
        now = time.monotonic()
        if now - self._counted > COUNT_SECONDS:
            self._counted = now
            self._threads = sum(self._client.nthreads().values())
        # Without workers, what there is waits for them.
        return max(0, AHEAD * max(1, self._threads) - len(self._under_way))

    def submit(self, path: Path, digest: str) -> None:
        """Give it a file."""
        # The path isn't resolved: a share may be a link to elsewhere on each machine.
        opening = Opening(path, self._web)
        self._give(path, digest, measure_there, str(path.absolute()), opening, digest, self._asked)

    def _give(self, path: Path, digest: str, function: Any, *arguments: Any) -> None:
        future = self._client.submit(function, *arguments, pure=False, retries=RETRIES)
        self._under_way[future] = path, digest
        future.add_done_callback(self._done.put)

    def finished(self, seconds: float) -> list[FileRows]:
        """Wait so long at most, and give what is done since."""
        found = self._here.finished(0.0) if self._here.at_hand() else []
        try:
            future = self._done.get(timeout=0.0 if found else seconds)
            while True:
                rows = self._taken(future)
                found += [rows] if rows is not None else []
                future = self._done.get_nowait()
        except queue.Empty:
            return found

    def _taken(self, future: Future) -> FileRows | None:
        """Give what came of a file; nothing where it is tried otherwise now."""
        path, digest = self._under_way.pop(future)
        if future.status != "finished":
            return FileRows(str(path), digest, "", _why(path, future), 0.0)
        rows: FileRows | None = future.result()
        if rows is not None:
            return rows
        if path.suffix.lower() in (*PAGES, DRAWING) or path.stat().st_size > MOST_SENT:
            get_ready_for([path])
            self._here.submit(path, digest)
            return None
        try:
            data = path.read_bytes()
        except OSError as error:
            words = f"“{name_of(path)}”: it can't be opened ({error.strerror})."
            return FileRows(str(path), digest, "", words, 0.0)
        self._give(path, digest, measure_sent, data, Opening(path, self._web), digest, self._asked)
        return None

    def at_hand(self) -> list[str]:
        """List the paths that are being measured, or wait for a worker."""
        return [*(str(path) for path, _ in self._under_way.values()), *self._here.at_hand()]

    def close(self) -> None:
        """End the work, also that which is under way; the cluster itself goes on."""
        self._here.close()
        if self._under_way:
            self._client.cancel(list(self._under_way), force=True)
        self._client.close(timeout=PATIENCE)


def _why(path: Path, future: Future) -> str:
    error = future.exception(timeout=PATIENCE)
    if type(error).__name__ == "KilledWorker":
        words = "it ended every worker that measured it. It may be made to do harm"
    else:
        words = f"the cluster couldn't measure it ({type(error).__name__}: {error})"
    return f"“{name_of(path)}”: {words}."


# On the workers


def measure_there(place: str, opening: Opening, digest: str, asked: Asked) -> FileRows | None:
    """Measure a file that lies on this worker's path too; None where it doesn't, or is another."""
    if not digest or sha256_of(Path(place)) != digest:
        return None
    return _measured(Path(place), opening, digest, asked)


def measure_sent(data: bytes, opening: Opening, digest: str, asked: Asked) -> FileRows:
    """Measure a file whose bytes were sent."""
    with tempfile.TemporaryDirectory(prefix="high-pair-") as folder:
        assert isinstance(opening.path, Path)
        place = Path(folder) / opening.path.name
        place.write_bytes(data)
        return replace(_measured(place, opening, digest, asked), parts=())


def _measured(place: Path, opening: Opening, digest: str, asked: Asked) -> FileRows:
    # A worker that is watched over is a daemon of multiprocessing's, which may have no processes
    # of its own; those of ours end with it by the kernel's signal.
    multiprocessing.current_process()._config["daemon"] = False  # type: ignore[attr-defined]
    get_ready_for([place])
    there = replace(opening, path=place)
    with closing(Host()) as host:
        return measure_file(host, there, digest, asked, str(opening.path))
