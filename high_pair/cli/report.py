"""`high-pair report`: what an audit or a review found, written in another form."""

from __future__ import annotations

import argparse
import json
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from high_pair.cli.arguments import asked, web
from high_pair.cli.console import Progress, put, say
from high_pair.errors import HighPairError
from high_pair.formats.writing import refuse_source

if TYPE_CHECKING:
    from high_pair.review.in_processes import ReviewedFile
    from high_pair.review.reported import Reported

PRINTED = "pdf"
# Those that show pictures of what falls short.
PICTURED = ("html", PRINTED)
USUAL = "csv"


def run_report(arguments: argparse.Namespace) -> int:
    """Write a store, a review file or a report in JSON in another form."""
    from high_pair.review.reported import reported

    if arguments.output:
        refuse_source(arguments.output, [arguments.source])
    form = _form(arguments)
    refuse_to_show(form, arguments.output)
    found = reported(arguments.source, arguments.baseline, Progress(arguments.source))
    title = arguments.title or arguments.source.stem
    write_form(found, form, title, arguments.output, not arguments.no_pictures)
    return 0


def run_decisions(arguments: argparse.Namespace) -> int:
    """Write what was set aside as a decisions file."""
    from high_pair.review.decisions import decided_in, write_decisions
    from high_pair.review.reported import reported

    refuse_source(arguments.output, [arguments.source])
    found = reported(arguments.source, None, Progress(arguments.source))
    asides = decided_in(found.findings)
    write_decisions(asides, arguments.output)
    say(f"{len(asides):,} written to {arguments.output.name}.")
    return 0


def _form(arguments: argparse.Namespace) -> str:
    from high_pair.review.report_writing import SUFFIXES

    if arguments.format:
        return str(arguments.format)
    output: Path | None = arguments.output
    return SUFFIXES.get(output.suffix.lower(), USUAL) if output else USUAL


def refuse_to_show(form: str, output: Path | None) -> None:
    """Refuse what is no text for a terminal, before all work. Raises HighPairError."""
    if output is None and form == PRINTED:
        raise HighPairError("A PDF isn't written to the terminal: name a file with -o.")


def write_form(
    found: Reported, form: str, title: str, output: Path | None, with_pictures: bool
) -> None:
    """Write a report to a file, or to standard output. Raises HighPairError."""
    from high_pair.review.report_writing import as_text, pictures_for, write_report

    shown = Progress(Path(title), "file")
    pictures = pictures_for(found, shown) if form in PICTURED and with_pictures else {}
    if output is not None:
        write_report(found, form, title, pictures, output)
    else:
        put(as_text(found, form, title, pictures), as_utf8=True)


def write_reviewed(arguments: argparse.Namespace, files: Sequence[ReviewedFile]) -> None:
    """Write what `high-pair review` found in a form beyond its own."""
    from high_pair.report.sources import findings_of_report
    from high_pair.review.illustrating import HowMeasured
    from high_pair.review.in_processes import write_report
    from high_pair.review.reported import Reported

    told = json.loads(write_report("json", asked(arguments), files))
    how = HowMeasured(asked(arguments), web(arguments))
    found = Reported(findings_of_report(told), None, how)
    title = ", ".join(Path(str(file.path)).name for file in files[:3])
    more = f" and {len(files) - 3} more" if len(files) > 3 else ""
    write_form(found, arguments.format, title + more, arguments.output, True)
