"""What the command line has done in processes of their own, in steps.

Each step is called in a process (see `process.host`), by name, so that the
command's own process loads none of this, nor reads a byte of a stranger's file.
What it only hands on travels as bytes that it doesn't look into.
"""

from __future__ import annotations

import pickle
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from high_pair.edits.kinds import Edit
from high_pair.errors import UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.document import Document, made_of
from high_pair.formats.location import Location, name_of
from high_pair.formats.web.engine_process import interrupt_engines
from high_pair.measure.seat_numbers import Reading
from high_pair.process.serving import Call
from high_pair.remedy.wishes import Wishes
from high_pair.report.as_json import write_json
from high_pair.report.as_table import write_table
from high_pair.report.contents import Report, ReportedFile
from high_pair.report.rows import rows_of
from high_pair.review.decisions import Aside, with_decisions
from high_pair.review.in_processes import Left, MendedFile, Opening
from high_pair.review.measuring import PageReview, review_page
from high_pair.review.reporting import mend_document, review_document
from high_pair.review.shop import version_of
from high_pair.scene.seat import Seat
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

WRITERS = {"table": write_table, "json": write_json}
OPEN = "open"


@dataclass(frozen=True)
class _Opened:
    document: Document
    version: tuple[int, int]
    is_edited: bool


def opened(call: Call, opening: Opening) -> _Opened:
    """Give the file that is open in this process, opened first if it isn't."""
    found: _Opened | None = call.kept.get(OPEN)
    if found is None:
        call.on_stop = interrupt_engines
        version = version_of(opening.path)
        document = open_document(opening.path, opening.web)
        edits: Sequence[Edit] = opening.edits
        if opening.find_text:
            # The library takes a second to load.
            from high_pair.review.finding import boxes_found

            edits = boxes_found(document, document.edited, range(len(document.pages)))
        if edits:
            document = document.edited(edits)
        found = call.kept[OPEN] = _Opened(document, version, bool(edits))
    return found


def begin(call: Call, opening: Opening) -> tuple[int, bool]:
    """Open a file, in the place of the one before; gives its number of pages, and whether another
    process may measure some.

    Raises UnreadableFile, EditError, and NoFinder where text can't be looked for in pictures.
    """
    before: _Opened | None = call.kept.pop(OPEN, None)
    if before is not None:
        before.document.close()
    found = opened(call, opening)
    return len(found.document.pages), not found.is_edited and isinstance(opening.path, Path)


def page(call: Call, opening: Opening, number: int, asked: Asked) -> bytes:
    """Measure a page, from 0; gives a `PageReview` for `report` or `remedy`."""
    found = opened(call, opening)
    if version_of(opening.path) != found.version:
        raise UnreadableFile(name_of(opening.path), "it changed while it was read. Try again.")
    return pickle.dumps(review_page(found.document, number, asked))


def _pages(data: Sequence[bytes]) -> list[PageReview]:
    return [pickle.loads(each) for each in data]


def report(
    call: Call,
    path: Location,
    pages: Sequence[bytes],
    asked: Asked,
    with_remedies: bool,
    seats: Sequence[Seat],
    strict: bool,
    asides: Sequence[Aside],
) -> tuple[bytes, int]:
    """Put together the report of the file that is open; tells how many pairs fall short.

    seats: from which its texts are looked at; strict: what doesn't read from one falls short;
    asides: what was set aside before.
    """
    document = call.kept[OPEN].document
    name = str(path)
    file = review_document(document, name, _pages(pages), asked, with_remedies, seats)
    if asides:
        file = replace(file, pairs=with_decisions(file.pairs, name, asides))
    verdicts = {pair.id: pair.verdict for pair in file.pairs}
    short = {name for name, verdict in verdicts.items() if verdict is Verdict.FALLS_SHORT}
    if strict:
        short |= {
            name
            for name, each in file.seats.items()
            if verdicts[name] is not Verdict.SET_ASIDE
            and any(numbers.reading is Reading.FALLS_SHORT for numbers in each.values())
        }
    return pickle.dumps(file), len(short)


def rows(call: Call, named: str, pages: Sequence[bytes], asked: Asked) -> bytes:
    """Give what a store keeps of the file that is open: its kind, its pairs as rows, the files
    beside it that it is made of, its pages, and what was assumed. named: the path by which its rows
    know it."""
    document = call.kept[OPEN].document
    file = review_document(document, named, _pages(pages), asked, False, ())
    told = rows_of(file.pairs, named)
    return pickle.dumps((file.kind, told, made_of(document), file.pages, file.assumed))


def write(
    _call: Call, form: str, asked: Asked, files: Sequence[tuple[str, bytes | None, str]]
) -> str:
    """Write a report of several files: of each its path, what `report` gave, and its error."""
    listed = tuple(
        ReportedFile(path, error=error) if data is None else pickle.loads(data)
        for path, data, error in files
    )
    return WRITERS[form](Report(asked, listed))


def remedy(
    call: Call, path: Location, pages: Sequence[bytes], target: Path, asked: Asked, wishes: Wishes
) -> MendedFile:
    """Mend the file that is open, in a copy. Raises FileProblem."""
    document = call.kept[OPEN].document
    mended = mend_document(document, path, _pages(pages), target, asked, wishes, call.stopped)
    left = tuple(
        Left(pair.page, pair.where, pair.text, pair.address, reason) for pair, reason in mended.left
    )
    copy = mended.copy
    return MendedFile(copy.words, copy.changed, copy.passing, left, mended.short)
