"""The store of audits: an SQLite file whose tables are an open format, see `docs/audits.md`.

Each file's result comes in with one transaction, so that whatever ends the program leaves
nothing half there. It is read while an audit writes (write-ahead log).
"""

from __future__ import annotations

import contextlib
import json
import operator
import sqlite3
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import quote

from high_pair.errors import UnreadableFile, UnwritableFile
from high_pair.report.contents import ReportedPage
from high_pair.report.rows import NAMES, Row, checked
from high_pair.report.tables import APPLICATION, MIGRATIONS, OF_A_FILE
from high_pair.wcag.verdicts import Verdict

# How long another process that writes is waited for, in seconds.
WAIT = 30.0
IN_MEMORY = Path(":memory:")


@dataclass(frozen=True)
class FileRows:
    """What was found in a file.

    parts: what else it was made of, such as a page's sheets, with their digests; error: why it
    couldn't be read, empty if it could; assumed: in sentences; remedies, seats: of its pairs, by
    their keys, as the review format has them.
    """

    path: str
    digest: str
    kind: str
    error: str
    seconds: float
    pairs: tuple[Row, ...] = ()
    parts: tuple[tuple[str, str], ...] = ()
    pages: tuple[ReportedPage, ...] = ()
    assumed: tuple[str, ...] = ()
    remedies: Mapping[str, Sequence[Mapping[str, Any]]] = field(default_factory=dict)
    seats: Mapping[str, Mapping[str, Mapping[str, Any]]] = field(default_factory=dict)


@dataclass(frozen=True)
class Decision:
    """A pair that a person set aside, and how it looked then.

    key: of the pair; made: when, as ISO 8601 has it.
    """

    key: str
    reason: str
    made: str
    foreground: str | None
    background: str | None
    path: str
    place: str
    text: str


class Store:
    """An open store. Its methods raise UnwritableFile where the disk is full, or worse."""

    def __init__(self, path: Path = IN_MEMORY, reads_only: bool = False) -> None:
        """Open a store, made if it isn't there; without a path one that is in memory alone.

        reads_only: nothing is written to it, not even where it is of an older version. Raises
        UnreadableFile, UnwritableFile.
        """
        self.path = path
        if reads_only and not path.is_file():
            raise UnreadableFile(path.name, "there is no such store.")
        try:
            if reads_only:
                self._sql = _for_reading(path)
            else:
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
        said = _json(settings)
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
            for table in ("results", *OF_A_FILE):
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
                "INSERT INTO results SELECT ?, file, 0, digest, error, ?, assumed FROM results "
                "WHERE run = ? AND file = ?",
                (run, earlier, earlier, file),
            )
            for table, names in OF_A_FILE.items():
                columns = ", ".join(names)
                sql.execute(
                    f"INSERT INTO {table}(run, file, {columns}) SELECT ?, file, {columns} "
                    f"FROM {table} WHERE run = ? AND file = ?",
                    (run, earlier, file),
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
                "INSERT INTO results VALUES (?, ?, ?, ?, ?, NULL, ?)",
                (run, file, found.seconds, found.digest, found.error, _json(found.assumed)),
            )
            pairs = ((run, file, *_values(row), row.verdict, row.reason) for row in found.pairs)
            _insert(sql, "pairs", pairs)
            sql.execute(COUNT, (run, file))
            _insert(sql, "parts", ((run, file, *part) for part in dict(found.parts).items()))
            pages = (
                (run, file, page.page, page.name, page.width, page.height, page.hidden)
                for page in found.pages
            )
            _insert(sql, "pages", pages)
            remedies = (
                (run, file, key, number, each["kind"], each["label"], each["ratio"],
                 _json(each["change"]))
                for key, several in found.remedies.items()
                for number, each in enumerate(several)
            )  # fmt: skip
            _insert(sql, "remedies", remedies)
            seats = (
                (run, file, key, seat, numbers["verdict"], _json(numbers))
                for key, several in found.seats.items()
                for seat, numbers in several.items()
            )
            _insert(sql, "seats", seats)

    def _forget(self, sql: sqlite3.Connection, run: int, file: int) -> None:
        for table in ("results", *OF_A_FILE):
            sql.execute(f"DELETE FROM {table} WHERE run = ? AND file = ?", (run, file))

    # Decisions

    def decide(self, decisions: Iterable[Decision], source: str = "") -> None:
        """Keep decisions; a later one of the same pair replaces an earlier. source: the file that
        they come from, empty for none."""
        with self._writing() as sql:
            sql.executemany(
                "INSERT OR REPLACE INTO decisions(key, verdict, reason, made, foreground, "
                "background, path, place, text, source) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                (
                    (each.key, Verdict.SET_ASIDE.value, each.reason, each.made, each.foreground,
                     each.background, each.path, each.place, each.text, source)
                    for each in decisions
                ),
            )  # fmt: skip

    def decide_from(self, source: str, decisions: Iterable[Decision]) -> None:
        """Keep decisions that come from a file, in place of those that came from it before."""
        listed = list(decisions)
        with self._writing() as sql:
            sql.execute("DELETE FROM decisions WHERE source = ?", (source,))
        self.decide(listed, source)

    def take_back(self, keys: Iterable[str]) -> None:
        """Forget decisions."""
        with self._writing() as sql:
            sql.executemany("DELETE FROM decisions WHERE key = ?", ((key,) for key in keys))

    def decisions(self) -> list[Decision]:
        """List the decisions that are kept."""
        rows = self._sql.execute(
            "SELECT key, reason, made, foreground, background, path, place, text FROM decisions "
            "ORDER BY path, place, text, key"
        )
        return [Decision(*row) for row in rows]

    def heed_decisions(self, run: int) -> None:
        """Set aside what was decided so, where it still looks as it did; all else is as measured.

        What passes or is exempt stays so: nothing is to be decided there.
        """
        open_verdicts = f"('{Verdict.FALLS_SHORT.value}', '{Verdict.NEEDS_EYES.value}')"
        from_decision = (
            "FROM decisions WHERE decisions.key = pairs.key "
            f"AND measured IN {open_verdicts} "
            "AND decisions.foreground IS pairs.foreground "
            "AND decisions.background IS pairs.background"
        )
        (decided,) = self._sql.execute(
            "SELECT EXISTS (SELECT 1 FROM decisions) OR EXISTS (SELECT 1 FROM counts "
            "WHERE run = ? AND verdict = 'set_aside')",
            (run,),
        ).fetchone()
        if not decided:
            return
        with self._writing() as sql:
            touched = [
                file
                for (file,) in sql.execute(
                    "SELECT DISTINCT file FROM pairs WHERE run = ? AND (verdict <> measured "
                    "OR key IN (SELECT key FROM decisions))",
                    (run,),
                )
            ]
            for file in touched:
                sql.execute(
                    "UPDATE pairs SET "
                    f"verdict = coalesce((SELECT decisions.verdict {from_decision}), measured), "
                    f"reason = coalesce((SELECT decisions.reason {from_decision}), "
                    "measured_reason) WHERE run = ? AND file = ?",
                    (run, file),
                )
                sql.execute("DELETE FROM counts WHERE run = ? AND file = ?", (run, file))
                sql.execute(COUNT, (run, file))

    # Reading

    def last_finished(self) -> int | None:
        """Give the last run that ended."""
        (run,) = self.sql.execute("SELECT max(id) FROM runs WHERE finished IS NOT NULL").fetchone()
        return run if run is None else int(run)

    @property
    def sql(self) -> sqlite3.Connection:
        """The connection, for reading."""
        return self._sql


def _for_reading(path: Path) -> sqlite3.Connection:
    """Open a store that isn't written to; one of an older version as a copy in memory, which is
    brought to this version."""
    address = f"file:{quote(str(path.resolve()))}?mode=ro"
    try:
        found = sqlite3.connect(address, uri=True, timeout=WAIT, isolation_level=None)
        (version,) = found.execute("PRAGMA user_version").fetchone()
    except sqlite3.OperationalError:
        # In a folder that can't be written nobody else writes it either.
        address += "&immutable=1"
        found = sqlite3.connect(address, uri=True, timeout=WAIT, isolation_level=None)
        (version,) = found.execute("PRAGMA user_version").fetchone()
    if version >= len(MIGRATIONS):
        return found
    copy = sqlite3.connect(IN_MEMORY, isolation_level=None)
    found.backup(copy)
    found.close()
    return copy


# In `counts` the pairs of a file in a run are counted.
COUNT = (
    "INSERT INTO counts SELECT run, file, criterion, verdict, count(*) FROM pairs "
    "WHERE run = ? AND file = ? GROUP BY criterion, verdict"
)
_listed = operator.attrgetter(*NAMES)


def _values(row: Row) -> list[object]:
    """Give a row as its table has it."""
    values: list[object] = list(_listed(row))
    for name in ("bbox", "cells"):
        values[NAMES.index(name)] = _json(getattr(row, name))
    return values


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False)


def _insert(sql: sqlite3.Connection, table: str, rows: Iterable[Sequence[object]]) -> None:
    names = ("run", "file", *OF_A_FILE[table])
    marks = ", ".join("?" * len(names))
    sql.executemany(f"INSERT INTO {table}({', '.join(names)}) VALUES ({marks})", rows)


def row_in(values: Sequence[Any]) -> Row:
    """Give a row from what its table has of `NAMES`, in their order.

    A store may come from a stranger, and SQLite keeps anything in any column. Raises
    UnreadableFile.
    """
    try:
        return checked(dict(zip(NAMES, values, strict=True)))
    except (KeyError, TypeError, ValueError) as error:
        raise UnreadableFile("the store", f"a pair in it makes no sense ({error}).") from error


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")
