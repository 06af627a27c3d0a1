"""Audits: many files measured in processes of their own, and kept in a store.

A file that is as it was in an earlier run of the same settings isn't measured again. A file that
crashes, hangs or takes too much is a row with the reason, and the audit goes on. What was kept
when a run was stopped, in whatever way, is there when it goes on.
"""

from __future__ import annotations

import fnmatch
import glob
import itertools
import os
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from high_pair import __version__
from high_pair.errors import Cancelled, HighPairError
from high_pair.formats.kinds import SUFFIXES
from high_pair.formats.reading import sha256_of
from high_pair.formats.web.settings import WebSettings
from high_pair.report.store import FileRows, Store
from high_pair.review.crew import Crew, LocalCrew
from high_pair.review.decisions import take_in
from high_pair.review.in_processes import get_ready_for
from high_pair.wcag.asked import Asked

# Office programs lay such a file beside one that is open.
OWNER_FILE = "~$"
PATTERN_SIGNS = "*?["
# What a pattern or a folder gives at most.
MOST_FILES = 2_000_000
# How often it is looked whether the audit is to stop.
LOOK_SECONDS = 0.2


@dataclass(frozen=True)
class AuditWishes:
    """What is audited, and how.

    roots: files, folders and patterns; excludes: patterns of paths that are left out; hidden:
    hidden files count too; retry: what couldn't be read is tried again; jobs: how many files are
    measured at a time; decisions: files that say what was set aside.
    """

    roots: tuple[str, ...]
    asked: Asked
    web: WebSettings
    excludes: tuple[str, ...] = ()
    hidden: bool = False
    retry: bool = False
    jobs: int = 1
    decisions: tuple[Path, ...] = ()

    @property
    def settings(self) -> Mapping[str, Any]:
        """What decides a result, for a run's row."""
        return {
            "level": self.asked.level.value,
            "coverage": self.asked.coverage,
            "web": asdict(self.web),
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


# Measuring


def audit(
    wishes: AuditWishes,
    store: Store,
    told: Told,
    stopped: Callable[[], bool] = lambda: False,
    hired: Callable[[], Crew] | None = None,
) -> int:
    """Measure what isn't known yet, keep it, and give the number of the run.

    told: how far it is, and the file that is done; hired: gives those who measure in place of
    processes of this machine, when there is something to do. Raises Cancelled when stopped; what
    was kept stays, and the same audit goes on from there.
    """
    paths = files_of(wishes)
    run = store.begin(wishes.settings)
    standing = Standing(len(paths))
    here = store.done(run)
    due: list[tuple[Path, str]] = []
    for path in paths:
        if stopped():
            raise Cancelled("The audit was stopped.")
        told(standing, None)
        digest = sha256_of(path)
        if here.get(str(path)) == digest and digest:
            standing.done += 1
        elif _take_over(store, run, path, digest, not wishes.retry):
            standing.done, standing.taken = standing.done + 1, standing.taken + 1
        else:
            due.append((path, digest))
    if due:
        get_ready_for([path for path, _ in due])
        crew = hired() if hired else LocalCrew(wishes.asked, wishes.web, wishes.jobs)
        _measure_all(due, crew, store, run, standing, told, stopped)
    take_in(store, run, wishes.decisions)
    store.heed_decisions(run)
    store.finish(run, (str(path) for path in paths))
    return run


def _take_over(store: Store, run: int, path: Path, digest: str, errors: bool) -> bool:
    known = store.known(run, str(path), errors) if digest else None
    if known is None or known[1] != digest:
        return False
    earlier, _, parts = known
    if any(sha256_of(Path(part)) != was for part, was in parts):
        return False
    store.take_over(run, str(path), earlier)
    return True


def _measure_all(
    due: Sequence[tuple[Path, str]],
    crew: Crew,
    store: Store,
    run: int,
    standing: Standing,
    told: Told,
    stopped: Callable[[], bool],
) -> None:
    waiting = iter(due)
    left = len(due)
    try:
        while left:
            for path, digest in itertools.islice(waiting, crew.room()):
                crew.submit(path, digest)
            found = crew.finished(LOOK_SECONDS)
            if stopped():
                raise Cancelled("The audit was stopped.")
            standing.at_hand = crew.at_hand()
            for rows in found:
                left -= 1
                store.keep(run, rows)
                standing.done += 1
                standing.unread += bool(rows.error)
                told(standing, rows)
    finally:
        crew.close()
