"""The log of what was measured by hand, kept between runs in one file."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, field, fields, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from high_pair.colour.notation import write
from high_pair.colour.ratio import shown_ratio
from high_pair.colour.srgb import bytes_of
from high_pair.errors import FileProblem, NotationError, UnwritableFile
from high_pair.formats.writing import write_whole
from high_pair.measure.by_hand import HandPair
from high_pair.scene.paint import Colour, from_levels

SCHEMA = "high-pair-log"
VERSION = 1
MOST_ENTRIES = 5_000
LONGEST_TEXT = 500
_CODE = re.compile(r"#[0-9A-Fa-f]{6}(?:[0-9A-Fa-f]{2})?\Z")


class LogError(FileProblem):
    """The log can't be read."""


@dataclass(frozen=True)
class Entry:
    """A pair that was measured by hand.

    foreground, backdrop: #RRGGBB, or #RRGGBBAA when see-through; time: ISO 8601
    with the offset; source: how it was found, in words.
    """

    foreground: str
    backdrop: str
    time: str
    source: str = "typed"
    name: str = ""
    note: str = ""

    @property
    def pair(self) -> HandPair:
        """The pair; raises NotationError for colours that make no sense."""
        return HandPair(_colour_of(self.foreground), _colour_of(self.backdrop))


def _colour_of(code: str) -> Colour:
    """Read a code as `entry_of` writes it; a log may hold thousands. Raises NotationError."""
    if not _CODE.match(code):
        raise NotationError(f"{code[:40]!r} is no code of a colour")
    opacity = int(code[7:], 16) / 255 if len(code) > 7 else 1.0
    return from_levels(bytes_of(code[:7]), opacity)


def entry_of(pair: HandPair, source: str, name: str = "", note: str = "") -> Entry:
    """Make an entry of a pair, with the time now."""
    colours = [
        write(colour.levels, "hex", colour.opacity) for colour in (pair.foreground, pair.backdrop)
    ]
    now = datetime.now(UTC).astimezone().isoformat(timespec="seconds")
    return Entry(colours[0], colours[1], now, source, name[:LONGEST_TEXT], note[:LONGEST_TEXT])


@dataclass(frozen=True)
class Log:
    """The entries, the newest first."""

    entries: tuple[Entry, ...] = field(default=())

    def with_entry(self, entry: Entry) -> Log:
        """Give the log with an entry more."""
        return Log((entry, *self.entries)[:MOST_ENTRIES])

    def without(self, places: Iterable[int]) -> Log:
        """Give the log without the entries at some places."""
        gone = set(places)
        return Log(tuple(e for place, e in enumerate(self.entries) if place not in gone))

    def changed(self, place: int, **texts: str) -> Log:
        """Give the log with an entry's name or note changed."""
        entries = list(self.entries)
        cut = {name: text[:LONGEST_TEXT] for name, text in texts.items()}
        entries[place] = replace(entries[place], **cut)
        return Log(tuple(entries))


def _entry(data: object) -> Entry | None:
    """Read an entry; None for one that makes no sense."""
    if not isinstance(data, dict):
        return None
    names = {each.name for each in fields(Entry)}
    texts = {str(k): v for k, v in data.items() if k in names and isinstance(v, str)}
    if not {"foreground", "backdrop", "time"} <= set(texts):
        return None
    entry = Entry(**{name: text[:LONGEST_TEXT] for name, text in texts.items()})
    try:
        _ = entry.pair
    except NotationError:
        return None
    return entry


def load(path: Path) -> Log:
    """Read the log; there being none gives an empty one.

    Entries that make no sense are passed over. Raises LogError for a file
    that isn't a log, which it first sets aside under another name.
    """
    try:
        text = path.read_text(encoding="utf-8")
    except FileNotFoundError:
        return Log()
    except (OSError, UnicodeDecodeError) as error:
        raise LogError(path.name, f"the log can't be read ({error}).") from error
    try:
        data = json.loads(text)
        listed = data["entries"] if data["schema"] == SCHEMA else None
    except (ValueError, TypeError, KeyError, RecursionError):
        listed = None
    if not isinstance(listed, list):
        aside = path.with_suffix(".damaged")
        try:
            path.replace(aside)
        except OSError as error:
            raise LogError(path.name, f"the log is damaged ({error}).") from error
        raise LogError(
            path.name,
            f"the log of measured pairs is damaged. It was set aside as {aside.name}, "
            "and a new one begun.",
        )
    found = (_entry(each) for each in listed[:MOST_ENTRIES])
    return Log(tuple(entry for entry in found if entry is not None))


def _write(path: Path, text: str) -> None:
    """Write a file so that it is whole or not there. Raises UnwritableFile."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise UnwritableFile(
            path.name, f"its folder can't be made ({error.strerror}). Choose another."
        ) from error

    def put(out: IO[bytes]) -> None:
        out.write(text.encode())

    write_whole(path, path, put)


def save(log: Log, path: Path) -> None:
    """Keep the log. Raises UnwritableFile."""
    data = {
        "schema": SCHEMA,
        "version": VERSION,
        "entries": [asdict(entry) for entry in log.entries],
    }
    _write(path, json.dumps(data, ensure_ascii=False, indent=1) + "\n")


COLUMNS = ("name", "foreground", "backdrop", "ratio", "note", "time", "source")


def _row(entry: Entry) -> dict[str, str]:
    return {**asdict(entry), "ratio": shown_ratio(entry.pair.ratio)}


def as_csv(entries: Sequence[Entry]) -> str:
    """Write entries as a table with a heading (RFC 4180).

    A text that a spreadsheet would take for a formula gets a quote in front.
    """
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, extrasaction="ignore")
    writer.writeheader()
    for entry in entries:
        row = _row(entry)
        for name in ("name", "note", "source"):
            if row[name].startswith(("=", "+", "-", "@", "\t", "\r")):
                row[name] = "'" + row[name]
        writer.writerow(row)
    return out.getvalue()


def as_json(entries: Sequence[Entry]) -> str:
    """Write entries with their ratios and what each target says."""
    listed = []
    for entry in entries:
        outcomes = {o.target.words: o.passes for o in entry.pair.outcomes}
        listed.append({**_row(entry), "ratio": entry.pair.ratio, "passes": outcomes})
    data = {"schema": SCHEMA, "version": VERSION, "entries": listed}
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def export(entries: Sequence[Entry], path: Path) -> None:
    """Write entries as CSV or JSON, by the name's ending. Raises UnwritableFile."""
    ending = path.suffix.lower()
    if ending not in (".csv", ".json"):
        raise UnwritableFile(path.name, "the log is written as .csv or .json. Choose such a name.")
    _write(path, as_csv(entries) if ending == ".csv" else as_json(entries))
