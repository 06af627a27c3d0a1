"""The store of audits: an SQLite file whose tables are an open format, see `docs/audits.md`.

Each file's result comes in with one transaction, so that whatever ends the program leaves
nothing half there. It is read while an audit writes (write-ahead log).
"""

from __future__ import annotations

import contextlib
import json
import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from high_pair.errors import UnreadableFile, UnwritableFile
from high_pair.wcag.verdicts import Verdict

# How long another process that writes is waited for, in seconds.
WAIT = 30.0
APPLICATION = 0x48506175
FIRST = """
CREATE TABLE runs(id INTEGER PRIMARY KEY, started TEXT NOT NULL, finished TEXT,
  settings TEXT NOT NULL);
CREATE TABLE files(id INTEGER PRIMARY KEY, path TEXT NOT NULL UNIQUE, digest TEXT, kind TEXT,
  error TEXT);
CREATE TABLE results(run INTEGER NOT NULL REFERENCES runs(id), file INTEGER NOT NULL
  REFERENCES files(id), seconds REAL NOT NULL, digest TEXT, error TEXT, taken_from INTEGER,
  PRIMARY KEY(run, file)) WITHOUT ROWID;
CREATE TABLE pairs(run INTEGER NOT NULL, file INTEGER NOT NULL, key TEXT NOT NULL,
  page INTEGER NOT NULL, subject TEXT NOT NULL, text TEXT NOT NULL, foreground TEXT,
  background TEXT, ratio REAL, required REAL NOT NULL, criterion TEXT NOT NULL,
  verdict TEXT NOT NULL, reason TEXT NOT NULL, place TEXT NOT NULL, origin TEXT NOT NULL,
  PRIMARY KEY(run, file, key)) WITHOUT ROWID;
CREATE INDEX pairs_of_a_key ON pairs(key, run);
CREATE TABLE counts(run INTEGER NOT NULL, file INTEGER NOT NULL, criterion TEXT NOT NULL,
  verdict TEXT NOT NULL, number INTEGER NOT NULL, PRIMARY KEY(run, file, criterion, verdict))
  WITHOUT ROWID;
CREATE TABLE parts(file INTEGER NOT NULL, run INTEGER NOT NULL, path TEXT NOT NULL, digest TEXT,
  PRIMARY KEY(file, run, path)) WITHOUT ROWID;
CREATE TABLE decisions(key TEXT PRIMARY KEY, verdict TEXT NOT NULL, reason TEXT NOT NULL,
  made TEXT NOT NULL);
CREATE VIEW previous AS SELECT id AS run, (SELECT max(earlier.id) FROM runs AS earlier
  WHERE earlier.id < runs.id AND earlier.finished IS NOT NULL) AS before FROM runs;
CREATE VIEW new_since AS SELECT pairs.*, previous.before AS since FROM pairs
  JOIN previous ON previous.run = pairs.run WHERE pairs.verdict = 'falls_short'
  AND NOT EXISTS (SELECT 1 FROM pairs AS known WHERE known.key = pairs.key
    AND known.run = previous.before AND known.verdict = 'falls_short');
CREATE VIEW gone_since AS SELECT known.*, previous.run AS now FROM pairs AS known
  JOIN previous ON previous.before = known.run WHERE known.verdict = 'falls_short'
  AND NOT EXISTS (SELECT 1 FROM pairs WHERE pairs.key = known.key
    AND pairs.run = previous.run AND pairs.verdict = 'falls_short');
CREATE VIEW by_criterion AS SELECT run, criterion, verdict, sum(number) AS number FROM counts
  GROUP BY run, criterion, verdict;
CREATE VIEW by_origin AS SELECT run, origin, count(*) AS number, count(DISTINCT file) AS files,
  min(ratio) AS ratio FROM pairs WHERE verdict = 'falls_short' GROUP BY run, origin;
"""
# Each brings a store of the version of its place to the next one.
MIGRATIONS = (FIRST,)
PAIR = (
    "key", "page", "subject", "text", "foreground", "background", "ratio", "required", "criterion",
    "verdict", "reason", "place", "origin",
)  # fmt: skip


@dataclass(frozen=True)
class FileRows:
    """What an audit found in a file.

    pairs: rows of `PAIR`; parts: what else it was made of, such as a page's sheets, with their
    digests; error: why it couldn't be read, empty if it could.
    """

    path: str
    digest: str
    kind: str
    error: str
    seconds: float
    pairs: tuple[tuple[Any, ...], ...] = ()
    parts: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Summary:
    """What a run came to.

    files, unread: how many it has, and how many of these couldn't be read; taken: how many were
    known from an earlier run; counts: pairs by criterion and verdict; worst: files with the most
    that falls short; new, gone: what falls short since the run before, None where there is none.
    """

    run: int
    files: int
    unread: int
    taken: int
    counts: Mapping[tuple[str, str], int]
    worst: tuple[tuple[str, int], ...]
    errors: tuple[tuple[str, str], ...]
    new: int | None
    gone: int | None

    def number(self, verdict: Verdict) -> int:
        """Count the pairs of a verdict."""
        return sum(count for (_, each), count in self.counts.items() if each == verdict.value)


class Store:
    """An open store. Its methods raise UnwritableFile where the disk is full, or worse."""

    def __init__(self, path: Path, reads_only: bool = False) -> None:
        """Open a store, made if it isn't there. Raises UnreadableFile, UnwritableFile."""
        self.path = path
        if reads_only and not path.is_file():
            raise UnreadableFile(path.name, "there is no such store.")
        try:
            self._sql = sqlite3.connect(path, timeout=WAIT, isolation_level=None)
            self._sql.execute("PRAGMA journal_mode = WAL")
            self._sql.execute("PRAGMA synchronous = NORMAL")
            self._migrate()
        except sqlite3.DatabaseError as error:
            if reads_only or path.exists():
                raise UnreadableFile(
                    path.name, f"it is no store of audits, or damaged ({error}). Name another."
                ) from error
            raise UnwritableFile(path.name, f"it can't be made there ({error}).") from error

    def _migrate(self) -> None:
        (application,) = self._sql.execute("PRAGMA application_id").fetchone()
        (version,) = self._sql.execute("PRAGMA user_version").fetchone()
        (tables,) = self._sql.execute("SELECT count(*) FROM sqlite_master").fetchone()
        if tables and application != APPLICATION:
            raise sqlite3.DatabaseError("its tables are another program's")
        if version > len(MIGRATIONS):
            raise sqlite3.DatabaseError("a newer High Pair made it")
        for number in range(version, len(MIGRATIONS)):
            self._sql.executescript(
                f"BEGIN IMMEDIATE; {MIGRATIONS[number]} PRAGMA application_id = {APPLICATION}; "
                f"PRAGMA user_version = {number + 1}; COMMIT;"
            )

    def close(self) -> None:
        """Close it."""
        self._sql.close()

    @contextlib.contextmanager
    def _writing(self) -> Iterator[sqlite3.Connection]:
        """Write all that is done within, or nothing of it."""
        try:
            self._sql.execute("BEGIN IMMEDIATE")
            try:
                yield self._sql
            except BaseException:
                self._sql.execute("ROLLBACK")
                raise
            self._sql.execute("COMMIT")
        except sqlite3.Error as error:
            raise UnwritableFile(
                self.path.name,
                f"it can't be written ({error}). What was kept so far stays; make room, and run "
                "the audit again to go on.",
            ) from error

    # Runs

    def begin(self, settings: Mapping[str, Any]) -> int:
        """Begin a run, or go on with the last one if that has these settings and never ended."""
        said = json.dumps(settings, sort_keys=True, ensure_ascii=False)
        with self._writing() as sql:
            last = sql.execute(
                "SELECT id, finished, settings FROM runs ORDER BY id DESC LIMIT 1"
            ).fetchone()
            if last is not None and last[1] is None and last[2] == said:
                return int(last[0])
            run = sql.execute("INSERT INTO runs(started, settings) VALUES (?, ?)", (_now(), said))
            return int(run.lastrowid or 0)

    def finish(self, run: int, paths: Iterable[str]) -> None:
        """End a run; what isn't among these paths any more is no part of it."""
        with self._writing() as sql:
            sql.execute("CREATE TEMP TABLE listed(path TEXT PRIMARY KEY)")
            sql.executemany("INSERT OR IGNORE INTO listed VALUES (?)", ((each,) for each in paths))
            left = (
                "file IN (SELECT id FROM files WHERE path NOT IN (SELECT path FROM listed)) "
                "AND run = ?"
            )
            for table in ("results", "pairs", "counts", "parts"):
                sql.execute(f"DELETE FROM {table} WHERE {left}", (run,))
            sql.execute("DROP TABLE listed")
            sql.execute("UPDATE runs SET finished = ? WHERE id = ?", (_now(), run))

    def done(self, run: int) -> dict[str, str]:
        """Give the digests of the files that a run has, by their paths."""
        rows = self._sql.execute(
            "SELECT path, results.digest FROM results JOIN files ON files.id = file WHERE run = ?",
            (run,),
        )
        return {path: digest or "" for path, digest in rows}

    # Files

    def known(
        self, run: int, path: str, errors: bool = True
    ) -> tuple[int, str, list[tuple[str, str]]] | None:
        """Give the last run of the same settings that has a file, its digest then, and those of
        its parts; None where there is none. errors: one in which it couldn't be read counts."""
        row = self._sql.execute(
            "SELECT results.run, results.digest, file FROM results JOIN files ON files.id = file "
            "JOIN runs ON runs.id = results.run WHERE path = ? AND (? OR results.error = '') "
            "AND runs.settings = (SELECT settings FROM runs WHERE id = ?) "
            "ORDER BY results.run DESC LIMIT 1",
            (path, errors, run),
        ).fetchone()
        if row is None:
            return None
        parts = self._sql.execute(
            "SELECT path, digest FROM parts WHERE file = ? AND run = ?", (row[2], row[0])
        )
        return int(row[0]), str(row[1]), [(path, digest or "") for path, digest in parts]

    def take_over(self, run: int, path: str, earlier: int) -> None:
        """Take a file's result over from an earlier run."""
        with self._writing() as sql:
            (file,) = sql.execute("SELECT id FROM files WHERE path = ?", (path,)).fetchone()
            self._forget(sql, run, file)
            sql.execute(
                "INSERT INTO results SELECT ?, file, 0, digest, error, ? FROM results "
                "WHERE run = ? AND file = ?",
                (run, earlier, earlier, file),
            )
            named = ", ".join(PAIR)
            for table, columns in (
                ("pairs", f"file, {named}"),
                ("counts", "file, criterion, verdict, number"),
            ):
                sql.execute(
                    f"INSERT INTO {table}(run, {columns}) SELECT ?, {columns} FROM {table} "
                    "WHERE run = ? AND file = ?",
                    (run, earlier, file),
                )
            sql.execute(
                "INSERT INTO parts(file, run, path, digest) SELECT file, ?, path, digest "
                "FROM parts WHERE file = ? AND run = ?",
                (run, file, earlier),
            )

    def keep(self, run: int, found: FileRows) -> None:
        """Keep what was found in a file; what the run had of it goes."""
        with self._writing() as sql:
            sql.execute(
                "INSERT INTO files(path, digest, kind, error) VALUES (?, ?, ?, ?) "
                "ON CONFLICT(path) DO UPDATE SET digest = excluded.digest, "
                "kind = CASE WHEN excluded.kind = '' THEN kind ELSE excluded.kind END, "
                "error = excluded.error",
                (found.path, found.digest, found.kind, found.error or None),
            )
            (file,) = sql.execute("SELECT id FROM files WHERE path = ?", (found.path,)).fetchone()
            self._forget(sql, run, file)
            sql.execute(
                "INSERT INTO results VALUES (?, ?, ?, ?, ?, NULL)",
                (run, file, found.seconds, found.digest, found.error),
            )
            marks = ", ".join("?" * (2 + len(PAIR)))
            sql.executemany(
                f"INSERT INTO pairs VALUES ({marks})", ((run, file, *row) for row in found.pairs)
            )
            sql.execute(
                "INSERT INTO counts SELECT run, file, criterion, verdict, count(*) FROM pairs "
                "WHERE run = ? AND file = ? GROUP BY criterion, verdict",
                (run, file),
            )
            sql.executemany(
                "INSERT OR REPLACE INTO parts VALUES (?, ?, ?, ?)",
                ((file, run, path, digest) for path, digest in found.parts),
            )

    def _forget(self, sql: sqlite3.Connection, run: int, file: int) -> None:
        for table in ("results", "pairs", "counts", "parts"):
            sql.execute(f"DELETE FROM {table} WHERE run = ? AND file = ?", (run, file))

    # What was found

    def last_finished(self) -> int | None:
        """Give the last run that ended."""
        (run,) = self._sql.execute("SELECT max(id) FROM runs WHERE finished IS NOT NULL").fetchone()
        return run if run is None else int(run)

    def falling_keys(self, run: int) -> set[str]:
        """List the keys of what falls short in a run."""
        rows = self._sql.execute(
            "SELECT key FROM pairs WHERE run = ? AND verdict = 'falls_short'", (run,)
        )
        return {key for (key,) in rows}

    def pairs(self, run: int) -> Iterator[tuple[Any, ...]]:
        """Give the pairs of a run, file by file: path, page, place, subject, text, foreground,
        background, ratio, required, criterion, verdict, reason and origin."""
        yield from self._sql.execute(
            "SELECT path, page, place, subject, text, foreground, background, ratio, required, "
            "criterion, verdict, reason, origin FROM pairs JOIN files ON files.id = file "
            "WHERE run = ? ORDER BY path, page, place, text, key",
            (run,),
        )

    def summary(self, run: int, most: int = 10) -> Summary:
        """Sum a run up. most: how many of the worst files, and of the errors, are named."""
        sql = self._sql.execute
        files, unread, taken = sql(
            "SELECT count(*), total(error <> ''), total(taken_from IS NOT NULL) FROM results "
            "WHERE run = ?",
            (run,),
        ).fetchone()
        counts = sql("SELECT criterion, verdict, number FROM by_criterion WHERE run = ?", (run,))
        worst = sql(
            "SELECT path, sum(number) AS short FROM counts JOIN files ON files.id = file "
            "WHERE run = ? AND verdict = 'falls_short' GROUP BY file "
            "ORDER BY short DESC, path LIMIT ?",
            (run, most),
        )
        errors = sql(
            "SELECT path, results.error FROM results JOIN files ON files.id = file "
            "WHERE run = ? AND results.error <> '' ORDER BY path LIMIT ?",
            (run, most),
        )
        (before,) = sql("SELECT before FROM previous WHERE run = ?", (run,)).fetchone()
        new = gone = None
        if before is not None:
            now, then = self.falling_keys(run), self.falling_keys(before)
            new, gone = len(now - then), len(then - now)
        return Summary(
            run,
            int(files),
            int(unread),
            int(taken),
            {(criterion, verdict): number for criterion, verdict, number in counts},
            tuple((path, int(number)) for path, number in worst),
            tuple(errors),
            new,
            gone,
        )


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")
