"""What a run of a store has found, added up and grouped: what every report and the desk show."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from high_pair.report.contents import ReportedPage
from high_pair.report.rows import NAMES, Row
from high_pair.report.store import Decision, Store, row_in
from high_pair.wcag.criteria import ALL
from high_pair.wcag.verdicts import Verdict

NUMBERS = frozenset(criterion.number for criterion in ALL)
VERDICTS = frozenset(verdict.value for verdict in Verdict)
# Places of a look, and of a reason, that are named.
MOST_PLACES = 25
_PAIR = ", ".join(f"pairs.{name}" for name in NAMES)
# What makes pairs of many files one look.
_LOOK = ("origin", "foreground", "background", "criterion", "required", "subject")


@dataclass(frozen=True)
class FileFound:
    """A file of a run. counts: its pairs by verdict; error: why it couldn't be read, or empty;
    assumed: of it, in sentences."""

    path: str
    kind: str
    error: str
    counts: Mapping[str, int]
    assumed: tuple[str, ...] = ()

    def number(self, verdict: Verdict) -> int:
        """Count its pairs of a verdict."""
        return self.counts.get(verdict.value, 0)


@dataclass(frozen=True)
class Located:
    """A pair, and the file that it is in."""

    path: str
    row: Row


@dataclass(frozen=True)
class LookFound:
    """Pairs that look alike and are decided in one place, over all files.

    places, files: how many there are; named: the first of them, the weakest first.
    """

    places: int
    files: int
    named: tuple[Located, ...]

    @property
    def weakest(self) -> Row:
        """The pair with the lowest share of what is asked."""
        return self.named[0].row


@dataclass(frozen=True)
class ReasonFound:
    """Pairs of a verdict that have one reason. named: the first of them."""

    reason: str
    places: int
    named: tuple[Located, ...]


@dataclass(frozen=True)
class OriginFound:
    """Where colours are decided, and how many pairs fall short by it. look: the weakest there."""

    origin: str
    places: int
    files: int
    look: Located


@dataclass(frozen=True)
class Tick:
    """Pairs that have one share of what is asked."""

    share: float
    places: int


@dataclass(frozen=True)
class Summary:
    """What a run came to.

    files, unread: how many it has, and how many of these couldn't be read; taken: how many were
    known from an earlier run; counts: pairs by criterion and verdict.
    """

    files: int
    unread: int
    taken: int
    counts: Mapping[tuple[str, str], int]

    def number(self, verdict: Verdict, criterion: str = "") -> int:
        """Count the pairs of a verdict, of one criterion or of all."""
        return sum(
            count
            for (each, given), count in self.counts.items()
            if given == verdict.value and criterion in ("", each)
        )

    @property
    def criteria(self) -> tuple[str, ...]:
        """The criteria that pairs were held against, in their order."""
        found = {criterion for criterion, _ in self.counts}
        return tuple(sorted(found, key=lambda each: [int(part) for part in each.split(".")]))

    @property
    def pairs(self) -> int:
        """Count all pairs."""
        return sum(self.counts.values())


@dataclass(frozen=True)
class Findings:
    """A run of a store, to be asked."""

    store: Store
    run: int

    def _rows(self, query: str, *values: object) -> Iterator[tuple[Any, ...]]:
        return iter(self.store.sql.execute(query, (self.run, *values)))

    # The run

    @property
    def settings(self) -> Mapping[str, Any]:
        """What was asked, such as the level."""
        ((settings,),) = self._rows("SELECT settings FROM runs WHERE id = ?")
        try:
            found = json.loads(settings)
        except (TypeError, ValueError):
            found = None
        return found if isinstance(found, dict) else {}

    @property
    def finished(self) -> str:
        """When it ended, as ISO 8601 has it; when it began, where it hasn't."""
        ((when,),) = self._rows("SELECT coalesce(finished, started) FROM runs WHERE id = ?")
        return str(when)

    def before(self) -> Findings | None:
        """Give the last run of the store that ended before this one."""
        ((before,),) = self._rows("SELECT before FROM previous WHERE run = ?")
        return None if before is None else Findings(self.store, int(before))

    def earlier(self) -> list[tuple[str, int]]:
        """List the runs that ended, up to this one: when, and how many pairs fell short."""
        rows = self._rows(
            "SELECT finished, (SELECT total(number) FROM counts WHERE counts.run = runs.id "
            "AND verdict = 'falls_short') FROM runs WHERE id <= ? AND finished IS NOT NULL "
            "ORDER BY id"
        )
        return [(str(when), int(count)) for when, count in rows]

    # Counts

    def summary(self) -> Summary:
        """Sum it up."""
        ((files, unread, taken),) = self._rows(
            "SELECT count(*), total(error <> ''), total(taken_from IS NOT NULL) FROM results "
            "WHERE run = ?"
        )
        counts = self._rows("SELECT criterion, verdict, number FROM by_criterion WHERE run = ?")
        return Summary(
            int(files),
            int(unread),
            int(taken),
            {
                (criterion, verdict): int(number)
                for criterion, verdict, number in counts
                if criterion in NUMBERS and verdict in VERDICTS
            },
        )

    def files(self) -> list[FileFound]:
        """List its files, in order."""
        counts: dict[int, dict[str, int]] = {}
        for file, verdict, number in self._rows(
            "SELECT file, verdict, sum(number) FROM counts WHERE run = ? GROUP BY file, verdict"
        ):
            counts.setdefault(file, {})[verdict] = int(number)
        rows = self._rows(
            "SELECT files.id, path, kind, results.error, assumed FROM results "
            "JOIN files ON files.id = file WHERE run = ? ORDER BY path"
        )
        return [
            FileFound(
                path, kind or "", error or "", counts.get(file, {}), tuple(json.loads(assumed))
            )
            for file, path, kind, error, assumed in rows
        ]

    def paths(self) -> list[str]:
        """List the paths of its files."""
        return list(self.digests())

    def digests(self) -> dict[str, str]:
        """Give the digests of its files, by their paths."""
        return dict(
            self._rows(
                "SELECT path, coalesce(results.digest, '') FROM results "
                "JOIN files ON files.id = file WHERE run = ? ORDER BY path"
            )
        )

    def worst(self, most: int) -> list[tuple[str, int]]:
        """List the files with the most that falls short."""
        rows = self._rows(
            "SELECT path, sum(number) AS short FROM counts JOIN files ON files.id = file "
            "WHERE run = ? AND verdict = 'falls_short' GROUP BY file "
            "ORDER BY short DESC, path LIMIT ?",
            most,
        )
        return [(path, int(number)) for path, number in rows]

    def errors(self, most: int = -1) -> list[tuple[str, str]]:
        """List what couldn't be read, and why; all of it where no number is given."""
        return list(
            self._rows(
                "SELECT path, results.error FROM results JOIN files ON files.id = file "
                "WHERE run = ? AND results.error <> '' ORDER BY path LIMIT ?",
                most,
            )
        )

    # Pairs

    def pairs(self) -> Iterator[Located]:
        """Give all pairs, file by file, in reading order."""
        for path, *values in self._rows(
            f"SELECT path, {_PAIR} FROM pairs JOIN files ON files.id = file WHERE run = ? "
            "ORDER BY path, pairs.page, length(pair_id), pair_id, pairs.key"
        ):
            yield Located(path, row_in(values))

    def pair(self, key: str) -> Located | None:
        """Give the pair of a key, None where the run has none."""
        rows = self._rows(
            f"SELECT path, {_PAIR} FROM pairs JOIN files ON files.id = file "
            "WHERE run = ? AND pairs.key = ?",
            key,
        )
        return next((Located(path, row_in(values)) for path, *values in rows), None)

    def pairs_of(self, path: str) -> Iterator[Row]:
        """Give a file's pairs, in reading order."""
        for values in self._rows(
            f"SELECT {_PAIR} FROM pairs WHERE run = ? "
            "AND file = (SELECT id FROM files WHERE path = ?) "
            "ORDER BY page, length(pair_id), pair_id, key",
            path,
        ):
            yield row_in(values)

    def pages_of(self, path: str) -> tuple[ReportedPage, ...]:
        """List a file's pages."""
        rows = self._rows(
            "SELECT page, name, width, height, hidden FROM pages JOIN files ON files.id = file "
            "WHERE run = ? AND path = ? ORDER BY page",
            path,
        )
        return tuple(
            ReportedPage(page, name, width, height, bool(hidden))
            for page, name, width, height, hidden in rows
        )

    def remedies_of(self, path: str) -> dict[str, list[dict[str, Any]]]:
        """Give the remedies of a file's pairs by their keys, as the review format has them."""
        found: dict[str, list[dict[str, Any]]] = {}
        for key, kind, label, ratio, change in self._rows(
            "SELECT key, remedies.kind, label, ratio, change FROM remedies "
            "JOIN files ON files.id = file WHERE run = ? AND path = ? ORDER BY key, number",
            path,
        ):
            told = {"kind": kind, "label": label, "ratio": ratio, "change": json.loads(change)}
            found.setdefault(key, []).append(told)
        return found

    def seats_of(self, path: str) -> dict[str, dict[str, Any]]:
        """Give what a file's pairs are like from seats, by their keys and the seats' names."""
        found: dict[str, dict[str, Any]] = {}
        for key, seat, numbers in self._rows(
            "SELECT key, seat, numbers FROM seats JOIN files ON files.id = file "
            "WHERE run = ? AND path = ? ORDER BY key, seats.rowid",
            path,
        ):
            found.setdefault(key, {})[seat] = json.loads(numbers)
        return found

    def seats(self) -> list[tuple[str, int, int]]:
        """List the seats: how many texts don't read from each, and how many were looked at."""
        rows = self._rows(
            "SELECT seat, total(verdict = 'falls_short'), count(*) FROM seats WHERE run = ? "
            "GROUP BY seat ORDER BY seat"
        )
        return [(seat, int(short), int(count)) for seat, short, count in rows]

    def falling_keys(self) -> set[str]:
        """List the keys of what falls short."""
        rows = self._rows("SELECT key FROM pairs WHERE run = ? AND verdict = 'falls_short'")
        return {key for (key,) in rows}

    def looks(self, most: int) -> tuple[list[LookFound], int]:
        """Group what falls short by its look, the weakest first; gives also how many there are.

        most: how many looks are listed.
        """
        named = ", ".join(_LOOK)
        rows = list(
            self._rows(
                f"SELECT {named}, count(*), count(DISTINCT file) FROM pairs WHERE run = ? "
                f"AND verdict = 'falls_short' GROUP BY {named} "
                "ORDER BY min(ratio / required), count(*) DESC, origin"
            )
        )
        return [self._look(row) for row in rows[:most]], len(rows)

    def _look(self, found: tuple[Any, ...]) -> LookFound:
        *look, places, files = found
        same = " AND ".join(f"pairs.{name} IS ?" for name in _LOOK)
        return LookFound(
            int(places),
            int(files),
            self._located(f"verdict = 'falls_short' AND {same}", "ratio / required", *look),
        )

    def _located(
        self, which: str, order: str, *values: object, most: int = MOST_PLACES
    ) -> tuple[Located, ...]:
        # Which they are is read off an index, and only these are looked up.
        found = f"SELECT run, file, key FROM pairs WHERE run = ? AND {which} ORDER BY {order}, file"
        rows = self._rows(
            f"SELECT path, {_PAIR} FROM ({found} LIMIT {int(most)}) "
            "JOIN pairs USING (run, file, key) JOIN files ON files.id = file "
            f"ORDER BY {order}, path, pairs.page, pair_id",
            *values,
        )
        return tuple(Located(path, row_in(row)) for path, *row in rows)

    def origins(self, most: int = -1) -> list[OriginFound]:
        """List where colours are decided by which pairs fall short, the most first."""
        rows = list(
            self._rows(
                "SELECT origin, number, files FROM by_origin WHERE run = ? "
                "ORDER BY number DESC, origin LIMIT ?",
                most,
            )
        )
        same = "verdict = 'falls_short' AND origin = ?"
        return [
            OriginFound(
                origin,
                int(number),
                int(files),
                self._located(same, "ratio / required", origin, most=1)[0],
            )
            for origin, number, files in rows
        ]

    def path_with(
        self,
        origin: str | None = None,
        criterion: str | None = None,
        shares: tuple[float, float] | None = None,
    ) -> str | None:
        """Give the path of a file with a pair of an origin, of a criterion, and whose share of what
        is asked lies from one to below another; one that falls short if there is any."""
        least, most = shares or (None, None)
        rows = self._rows(
            "SELECT path FROM pairs JOIN files ON files.id = file WHERE run = ? "
            "AND (?2 IS NULL OR origin = ?2) AND (?3 IS NULL OR criterion = ?3) "
            "AND (?4 IS NULL OR ratio / required >= ?4 AND ratio / required < ?5) "
            "ORDER BY verdict = 'falls_short' DESC, path LIMIT 1",
            origin,
            criterion,
            least,
            most,
        )
        return next((path for (path,) in rows), None)

    def by_reason(self, verdict: Verdict) -> list[ReasonFound]:
        """Group the pairs of a verdict by its reason, the most first."""
        rows = list(
            self._rows(
                f"SELECT reason, count(*) FROM pairs WHERE run = ? AND verdict = '{verdict.value}' "
                "GROUP BY reason ORDER BY count(*) DESC, reason"
            )
        )
        return [
            ReasonFound(
                reason,
                int(number),
                self._located(f"verdict = '{verdict.value}' AND reason = ?", "file", reason),
            )
            for reason, number in rows
        ]

    def ladder(self, path: str = "") -> list[Tick]:
        """Give how many pairs have which share of what is asked, of one file or of all.

        Those that a criterion asks nothing of are left out.
        """
        of_a_file = "AND file = (SELECT id FROM files WHERE path = ?) " if path else ""
        rows = self._rows(
            "SELECT ratio / required AS share, count(*) FROM pairs WHERE run = ? "
            f"AND ratio IS NOT NULL AND verdict <> 'exempt' AND required > 0 {of_a_file}"
            "GROUP BY share ORDER BY share",
            *((path,) if path else ()),
        )
        return [Tick(float(share), int(number)) for share, number in rows]

    def ladders(self) -> dict[str, list[Tick]]:
        """Give the ladder of each file, by its path; shares are rounded to hundredths.

        What falls short stays below 1.
        """
        found: dict[str, list[Tick]] = {}
        for path, share, number in self._rows(
            "SELECT path, CAST(100 * ratio / required AS INTEGER) AS share, count(*) FROM pairs "
            "JOIN files ON files.id = file WHERE run = ? AND ratio IS NOT NULL "
            "AND verdict <> 'exempt' AND required > 0 GROUP BY file, share ORDER BY file, share"
        ):
            found.setdefault(path, []).append(Tick(share / 100, int(number)))
        return found

    # Decisions

    def decisions_to_renew(self) -> list[Decision]:
        """List decisions about pairs that don't look any more as they did, and aren't fine."""
        keys = {
            key
            for (key,) in self._rows(
                "SELECT pairs.key FROM pairs JOIN decisions ON decisions.key = pairs.key "
                "WHERE run = ? AND pairs.verdict IN ('falls_short', 'needs_eyes')"
            )
        }
        return [each for each in self.store.decisions() if each.key in keys]


@dataclass(frozen=True)
class Trend:
    """What falls short, held against an earlier run: keys of what is new, gone, still there."""

    new: frozenset[str]
    gone: frozenset[str]
    still: frozenset[str]


def trend(now: Findings, before: Findings) -> Trend:
    """Compare what falls short in two runs, of one store or of two."""
    here, there = now.falling_keys(), before.falling_keys()
    return Trend(frozenset(here - there), frozenset(there - here), frozenset(here & there))
