"""Writing a report in each of its forms."""

from __future__ import annotations

import io
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import IO, TextIO

from high_pair.errors import HighPairError
from high_pair.formats.web.engine_process import interrupt_engines
from high_pair.formats.writing import write_whole
from high_pair.process.host import CallProblem, Host
from high_pair.process.serving import Call
from high_pair.report.as_csv import write_csv
from high_pair.report.as_earl import write_earl
from high_pair.report.as_html import MOST_LOOKS, Told, write_html
from high_pair.report.as_json import write_findings
from high_pair.report.as_sarif import write_sarif
from high_pair.report.pictured import Pictured
from high_pair.review.illustrating import picture_looks
from high_pair.review.reported import Reported

HTML, PDF = "html", "pdf"
# By what a report's file is called.
SUFFIXES = {
    ".csv": "csv", ".html": HTML, ".htm": HTML, ".json": "json", ".jsonld": "earl", ".pdf": PDF,
    ".sarif": "sarif",
}  # fmt: skip
Progress = Callable[[int, int], None]
PRINT = "high_pair.review.report_writing:print_page"


def pictures_for(
    found: Reported,
    told: Progress,
    stopped: Callable[[], bool] = lambda: False,
    most: int = MOST_LOOKS,
) -> dict[str, Pictured]:
    """Paint the looks that a report shows."""
    looks, _ = found.findings.looks(most)
    return picture_looks([look.named[0] for look in looks], found.how, told, stopped)


def as_text(found: Reported, form: str, title: str, pictures: Mapping[str, Pictured]) -> str:
    """Give a report in a form that is text."""
    out = io.StringIO(newline="")
    _write(found, form, title, pictures, out)
    return out.getvalue()


def write_report(
    found: Reported, form: str, title: str, pictures: Mapping[str, Pictured], target: Path
) -> None:
    """Write a report to a file, whole or not at all. Raises UnwritableFile."""

    def write(out: IO[bytes]) -> None:
        if form == PDF:
            out.write(as_pdf(found, title, pictures))
            return
        # A lone surrogate is written as its number, which JSON reads again.
        words = io.TextIOWrapper(out, "utf-8", errors="backslashreplace", newline="")
        _write(found, form, title, pictures, words)
        words.flush()
        words.detach()

    write_whole(target, target, write)


def as_pdf(found: Reported, title: str, pictures: Mapping[str, Pictured]) -> bytes:
    """Give a report as PDF: its HTML, printed by the browser engine. Raises HighPairError."""
    host = Host()
    try:
        data: bytes = host.call(PRINT, as_text(found, HTML, title, pictures))
    except CallProblem as problem:
        raise HighPairError(f"The report can't be printed: it {problem}.") from problem
    finally:
        host.close()
    return data


def print_page(call: Call, page: str) -> bytes:
    """Print a page to a PDF; called in a process of its own."""
    from high_pair.formats.web.printing import printed

    call.on_stop = interrupt_engines
    return printed(page)


def _write(
    found: Reported, form: str, title: str, pictures: Mapping[str, Pictured], out: TextIO
) -> None:
    findings = found.findings
    if form == HTML:
        write_html(findings, Told(title, found.before, pictures), out)
    elif form == "csv":
        write_csv(findings.pairs(), out)
    elif form == "sarif":
        write_sarif(findings, found.before, out)
    elif form == "earl":
        write_earl(findings, out)
    else:
        write_findings(findings, out)
