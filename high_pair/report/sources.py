"""What reports are made from: a store of audits, or a report in JSON; either becomes a store."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from high_pair.errors import UnreadableFile
from high_pair.formats.reading import NO_FILE, is_plain, read_json
from high_pair.report.as_json import FORMAT
from high_pair.report.contents import ReportedPage
from high_pair.report.findings import Findings
from high_pair.report.rows import rows_in
from high_pair.report.store import FileRows, Store

# How every SQLite file begins (SQLite, «Database File Format», §1.3).
SQLITE = b"SQLite format 3\0"
MOST_JSON = 2 * 1024**3


def is_store(path: Path) -> bool:
    """Tell whether a file is an SQLite file. Raises UnreadableFile."""
    try:
        if not is_plain(path):
            raise UnreadableFile(path.name, NO_FILE)
        with path.open("rb") as stream:
            return stream.read(len(SQLITE)) == SQLITE
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error


def findings_in(source: Path) -> Findings:
    """Open a store's last run that ended, or a report in JSON. Raises UnreadableFile."""
    if not is_store(source):
        return findings_of_report(_report_in(source), source.name)
    store = Store(source, reads_only=True)
    run = store.last_finished()
    if run is None:
        store.close()
        raise UnreadableFile(source.name, "no audit of it has ended. Run the audit again.")
    return Findings(store, run)


def _report_in(source: Path) -> dict[str, Any]:
    found = read_json(source, MOST_JSON)
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise UnreadableFile(source.name, "it is neither a store of audits nor a report in JSON.")
    return found


def findings_of_report(report: Mapping[str, Any], name: str = "the report") -> Findings:
    """Give a report as its JSON has it, as a store in memory. Raises UnreadableFile where that is
    unsound."""
    store = Store()
    try:
        settings = report["settings"]
        if not isinstance(settings, dict):
            raise TypeError("its settings aren't told")
        files = [_file_in(file) for file in report["files"]]
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise UnreadableFile(name, f"something in it makes no sense ({error}).") from error
    run = store.begin(settings)
    for file in files:
        store.keep(run, file)
    store.finish(run, (file.path for file in files))
    return Findings(store, run)


def _file_in(file: Mapping[str, Any]) -> FileRows:
    path = str(file["path"])
    listed = list(file["pairs"])
    pairs = rows_in(listed, path)
    pages = tuple(
        ReportedPage(
            int(page["page"]),
            str(page["name"]),
            float(page["width"]),
            float(page["height"]),
            bool(page["hidden"]),
        )
        for page in file["pages"]
    )
    return FileRows(
        path,
        "",
        str(file["kind"] or ""),
        str(file["error"] or ""),
        0.0,
        pairs,
        pages=pages,
        assumed=tuple(str(each) for each in file.get("assumed", ())),
        remedies={
            row.key: [
                {
                    "kind": str(each["kind"]),
                    "label": str(each["label"]),
                    "ratio": float(each["ratio"]),
                    "change": each["change"],
                }
                for each in pair["remedies"]
            ]
            for row, pair in zip(pairs, listed, strict=True)
            if pair["remedies"]
        },
        seats={
            row.key: {
                str(seat): {**numbers, "verdict": str(numbers["verdict"])}
                for seat, numbers in pair["seats"].items()
            }
            for row, pair in zip(pairs, listed, strict=True)
            if pair.get("seats")
        },
    )
