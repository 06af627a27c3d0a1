"""A report as rows, one for each pair, whichever it comes from: a review, its JSON, or a store."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from high_pair.errors import UnreadableFile
from high_pair.report.store import Store

# How every SQLite file begins (SQLite, «Database File Format», §1.3).
SQLITE = b"SQLite format 3\0"
MOST_JSON = 2 * 1024**3


@dataclass(frozen=True)
class Row:
    """A pair as reports show it. ratio: None where nothing was measured."""

    path: str
    page: int
    place: str
    subject: str
    text: str
    foreground: str | None
    background: str | None
    ratio: float | None
    required: float
    criterion: str
    verdict: str
    reason: str
    origin: str


def rows_of(source: Path) -> Iterator[Row]:
    """Give the rows of a store's last run, or of a report in JSON. Raises UnreadableFile."""
    try:
        with source.open("rb") as stream:
            is_store = stream.read(len(SQLITE)) == SQLITE
    except OSError as error:
        raise UnreadableFile(source.name, f"it can't be opened ({error.strerror}).") from error
    yield from _of_store(source) if is_store else rows_of_report(_report_in(source))


def _of_store(source: Path) -> Iterator[Row]:
    store = Store(source, reads_only=True)
    try:
        run = store.last_finished()
        if run is None:
            raise UnreadableFile(source.name, "no audit of it has ended. Run the audit again.")
        for row in store.pairs(run):
            yield Row(*row)
    finally:
        store.close()


def _report_in(source: Path) -> dict[str, Any]:
    try:
        if source.stat().st_size > MOST_JSON:
            raise UnreadableFile(source.name, "it is larger than is read.")
        found = json.loads(source.read_text("utf-8"))
    except (OSError, ValueError, RecursionError) as error:
        raise UnreadableFile(source.name, f"it isn't sound JSON ({error}).") from error
    if not isinstance(found, dict) or found.get("format") != "high-pair-review":
        raise UnreadableFile(source.name, "it is neither a store of audits nor a report in JSON.")
    return found


def rows_of_report(report: dict[str, Any]) -> Iterator[Row]:
    """Give the rows of a report as its JSON has it. Raises UnreadableFile where that is unsound."""
    try:
        for file in report["files"]:
            for pair in file["pairs"]:
                ratio = pair["ratio"]
                yield Row(
                    str(file["path"]),
                    int(pair["page"]),
                    str(pair["where"]),
                    str(pair["subject"]),
                    str(pair["text"]),
                    pair["foreground"],
                    pair["background"],
                    None if ratio is None else float(ratio),
                    float(pair["required"]),
                    str(pair["criterion"]),
                    str(pair["verdict"]),
                    str(pair["reason"]),
                    str(pair["colour_origin"]),
                )
    except (KeyError, TypeError, ValueError) as error:
        raise UnreadableFile("the report", f"something in it makes no sense ({error}).") from error


def count_by_verdict(rows: Iterable[Row]) -> dict[str, int]:
    """Count rows by their verdict."""
    counts: dict[str, int] = {}
    for row in rows:
        counts[row.verdict] = counts.get(row.verdict, 0) + 1
    return counts
