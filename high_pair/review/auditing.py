"""Audits: many files measured in processes of their own, and kept in a store.

A file that is as it was in an earlier run of the same settings isn't measured again. A file that
crashes, hangs or takes too much is a row with the reason, and the audit goes on. What was kept
when a run was stopped, in whatever way, is there when it goes on.
"""

from __future__ import annotations

import fnmatch
import glob
import hashlib
import os
import pickle
import time
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from high_pair import __version__
from high_pair.errors import Cancelled, FileProblem, HighPairError
from high_pair.formats.kinds import SUFFIXES
from high_pair.formats.web.settings import WebSettings
from high_pair.process.host import CallProblem, Host, budget_for
from high_pair.report.store import FileRows, Store
from high_pair.review.in_processes import STEPS, get_ready_for
from high_pair.wcag.asked import Asked

CHUNK = 1024**2
# Office programs lay such a file beside one that is open.
OWNER_FILE = "~$"
PATTERN_SIGNS = "*?["
# What a pattern or a folder gives at most.
MOST_FILES = 2_000_000


@dataclass(frozen=True)
class AuditWishes:
    """What is audited, and how.

    roots: files, folders and patterns; excludes: patterns of paths that are left out; hidden:
    hidden files count too; retry: what couldn't be read is tried again; jobs: how many files are
    measured at a time.
    """

    roots: tuple[str, ...]
    asked: Asked
    web: WebSettings
    excludes: tuple[str, ...] = ()
    hidden: bool = False
    retry: bool = False
    jobs: int = 1

    @property
    def settings(self) -> Mapping[str, Any]:
        """What decides a result, for a run's row."""
        return {
            "level": self.asked.level.value,
            "coverage": self.asked.coverage,
            "web": repr(self.web),
            "program": __version__,
        }


@dataclass
class Standing:
    """How far an audit is. at_hand: the files that are being measured."""

    total: int
    done: int = 0
    taken: int = 0
    unread: int = 0
    at_hand: list[str] = field(default_factory=list)


Told = Callable[[Standing, FileRows | None], None]


# Which files


def files_of(wishes: AuditWishes) -> list[Path]:
    """List the files of an audit, each once, in order. Raises HighPairError for what is missing."""
    found: dict[Path, None] = {}
    for root in wishes.roots:
        found.update(dict.fromkeys(_listed(root, wishes)))
        if len(found) > MOST_FILES:
            raise HighPairError(f"There are more than {MOST_FILES:,} files. Audit fewer at a time.")
    return sorted(found)


def _listed(root: str, wishes: AuditWishes) -> Iterator[Path]:
    path = Path(root)
    if path.is_dir():
        yield from (each for each in _below(path, wishes) if not _is_out(each, path, wishes))
    elif path.exists():
        yield path
    elif any(sign in root for sign in PATTERN_SIGNS):
        # Patterns may begin at the root or above, which those of pathlib may not.
        matches = (Path(each) for each in glob.iglob(root, recursive=True))  # noqa: PTH207
        for each in matches:
            if each.is_dir():
                yield from _listed(str(each), wishes)
            elif _is_read(each) and not _is_out(each, Path(), wishes):
                yield each
    else:
        raise HighPairError(f"{root}: there is no such file or folder. Check its name.")


def _below(folder: Path, wishes: AuditWishes) -> Iterator[Path]:
    """Walk a folder; links to folders aren't followed, which might lead in circles."""
    for place, folders, names in os.walk(folder):
        folders[:] = sorted(each for each in folders if wishes.hidden or not each.startswith("."))
        for name in sorted(names):
            path = Path(place, name)
            if _is_read(path) and (wishes.hidden or not name.startswith(".")):
                yield path


def _is_read(path: Path) -> bool:
    return path.suffix.lower() in SUFFIXES and not path.name.startswith(OWNER_FILE)


def _is_out(path: Path, root: Path, wishes: AuditWishes) -> bool:
    within = path.relative_to(root).as_posix() if path.is_relative_to(root) else path.as_posix()
    return any(
        fnmatch.fnmatch(each, pattern)
        for pattern in wishes.excludes
        for each in (within, path.name, *(str(up) for up in Path(within).parents))
    )


def digest_of(path: Path) -> str:
    """Give a file's SHA-256 in hexadecimal, empty where it can't be read."""
    found = hashlib.sha256()
    try:
        with path.open("rb") as stream:
            while chunk := stream.read(CHUNK):
                found.update(chunk)
    except OSError:
        return ""
    return found.hexdigest()


# Measuring


def audit(
    wishes: AuditWishes, store: Store, told: Told, stopped: Callable[[], bool] = lambda: False
) -> int:
    """Measure what isn't known yet, keep it, and give the number of the run.

    told: how far it is, and the file that is done. Raises Cancelled when stopped; what was kept
    stays, and the same audit goes on from there.
    """
    paths = files_of(wishes)
    run = store.begin(wishes.settings)
    standing = Standing(len(paths))
    here = store.done(run)
    due: list[tuple[Path, str]] = []
    for path in paths:
        if stopped():
            raise Cancelled("The audit was stopped.")
        digest = digest_of(path)
        if here.get(str(path)) == digest and digest:
            standing.done += 1
        elif _take_over(store, run, path, digest, not wishes.retry):
            standing.done, standing.taken = standing.done + 1, standing.taken + 1
            told(standing, None)
        else:
            due.append((path, digest))
    _measure_all(due, wishes, store, run, standing, told, stopped)
    store.finish(run, (str(path) for path in paths))
    return run


def _take_over(store: Store, run: int, path: Path, digest: str, errors: bool) -> bool:
    known = store.known(run, str(path), errors) if digest else None
    if known is None or known[1] != digest:
        return False
    earlier, _, parts = known
    if any(digest_of(Path(part)) != was for part, was in parts):
        return False
    store.take_over(run, str(path), earlier)
    return True


def _measure_all(
    due: Sequence[tuple[Path, str]],
    wishes: AuditWishes,
    store: Store,
    run: int,
    standing: Standing,
    told: Told,
    stopped: Callable[[], bool],
) -> None:
    if not due:
        return
    get_ready_for([path for path, _ in due])
    hosts: set[Host] = set()
    waiting = iter(due)
    under_way: dict[Future[FileRows], str] = {}
    pool = ThreadPoolExecutor(wishes.jobs, "audit")

    def submit() -> None:
        for path, digest in waiting:
            host = Host()
            hosts.add(host)
            under_way[pool.submit(_measured, host, hosts, path, digest, wishes)] = str(path)
            return

    try:
        for _ in range(wishes.jobs):
            submit()
        while under_way:
            done, _ = wait(under_way, timeout=0.2, return_when=FIRST_COMPLETED)
            if stopped():
                raise Cancelled("The audit was stopped.")
            for future in done:
                under_way.pop(future)
                found = future.result()
                store.keep(run, found)
                standing.done += 1
                standing.unread += bool(found.error)
                submit()
                standing.at_hand = list(under_way.values())
                told(standing, found)
    finally:
        for host in list(hosts):
            host.close()
        pool.shutdown(wait=False, cancel_futures=True)


def _measured(
    host: Host, hosts: set[Host], path: Path, digest: str, wishes: AuditWishes
) -> FileRows:
    """Measure a file in a process of its own, which ends with it."""
    start = time.monotonic()

    def call(step: str, *arguments: object) -> Any:
        return host.call(STEPS + step, path, wishes.web, *arguments, budget=budget_for(path))

    pages: list[bytes] = []
    try:
        count, _ = call("begin", False)
        pages = [call("page", False, number, wishes.asked) for number in range(count)]
        kind, pairs, parts = pickle.loads(
            host.call(STEPS + "rows", path, pages, wishes.asked, budget=budget_for(path))
        )
    except (FileProblem, CallProblem) as problem:
        words = str(problem) if isinstance(problem, FileProblem) else f"it {problem}."
        return FileRows(str(path), digest, "", words, time.monotonic() - start)
    finally:
        host.close()
        hosts.discard(host)
    listed = tuple((part, digest_of(Path(part))) for part in parts)
    return FileRows(str(path), digest, kind, "", time.monotonic() - start, pairs, listed)


def keys_of(path: str, places: Iterable[tuple[str, ...]]) -> list[str]:
    """Give the key of each of a file's pairs: the same for the same text at the same place.

    places: of each what tells it from others (its place in words, its subject, its words, when it
    appears); those that agree in all are numbered.
    """
    seen: dict[tuple[str, ...], int] = {}
    found = []
    for place in places:
        number = seen[place] = seen.get(place, 0) + 1
        data = "\x1f".join((path, *place, str(number))).encode("utf-8", "surrogatepass")
        found.append(hashlib.blake2b(data, digest_size=16).hexdigest())
    return found
