"""Reviewing files from end to end, for reports and for the command line."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from high_pair.edits.as_json import edit_out
from high_pair.edits.merging import changed_by
from high_pair.formats.document import Document
from high_pair.formats.location import Location
from high_pair.measure.pairs import Pair
from high_pair.measure.seat_numbers import SeatNumbers
from high_pair.remedy.remedies import Remedy
from high_pair.remedy.wishes import WISHES, Wishes
from high_pair.report.contents import ReportedFile, ReportedPage, ReportedRemedy
from high_pair.review.matching import at_addresses
from high_pair.review.measuring import PageBench, PageReview
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.planning import plan
from high_pair.review.saving import SavedCopy, save_copy
from high_pair.review.seats import seat_numbers_of
from high_pair.scene.seat import Seat
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict


def reported_file(
    document: Document,
    path: str,
    pages: Sequence[PageReview],
    remedies: dict[str, tuple[ReportedRemedy, ...]] | None = None,
    seats: Sequence[Seat] = (),
) -> ReportedFile:
    """Put together what a report says of one file. seats: from which its texts are looked at."""
    pairs = tuple(pair for page in pages for pair in page.pairs)
    return ReportedFile(
        path,
        document.kind,
        pages=tuple(
            ReportedPage(number, info.name, info.width, info.height, info.hidden)
            for number, info in enumerate(document.pages, start=1)
        ),
        pairs=pairs,
        assumed=document.assumed(),
        remedies=remedies or {},
        seats={pair.id: _from_seats(pair, document, seats) for pair in pairs} if seats else {},
    )


def _from_seats(pair: Pair, document: Document, seats: Sequence[Seat]) -> dict[str, SeatNumbers]:
    page = document.pages[pair.page - 1]
    found = {seat.name: seat_numbers_of(pair, seat, page) for seat in seats}
    return {name: numbers for name, numbers in found.items() if numbers is not None}


def reported_remedy(remedy: Remedy, pair: Pair) -> ReportedRemedy:
    """Give a remedy as a report has it, with the change it would make.

    One that takes several edits has the further ones in `also`.
    """
    first, *others = (edit_out(edit) for edit in edits_for(remedy, [pair]))
    change: dict[str, object] = dict(first)
    if others:
        change["also"] = others
    return ReportedRemedy(remedy.kind, remedy.label, remedy.ratio, change)


def review_document(
    document: Document,
    path: str,
    pages: Sequence[PageReview],
    asked: Asked,
    with_remedies: bool = False,
    seats: Sequence[Seat] = (),
) -> ReportedFile:
    """Put together what a report says of a document whose pages are measured.

    with_remedies: what would mend each pair that falls short is looked for; seats: from which
    its texts are looked at.
    """
    remedies: dict[str, tuple[ReportedRemedy, ...]] = {}
    bench = PageBench()
    for pair in (pair for page in pages for pair in page.pairs) if with_remedies else ():
        if pair.verdict is Verdict.FALLS_SHORT:
            found = remedies_for([pair], document, bench, asked, document.edited).remedies
            remedies[pair.id] = tuple(reported_remedy(each, pair) for each in found)
    return reported_file(document, path, pages, remedies, seats)


@dataclass(frozen=True)
class Mended:
    """The outcome of mending a file: the copy as measured, and the pairs left as they are.

    left: with the reason for each; short: how many pairs still fall short in the copy.
    """

    copy: SavedCopy
    left: tuple[tuple[Pair, str], ...]
    short: int


def mend_document(
    document: Document,
    location: Location,
    pages: Sequence[PageReview],
    target: Path,
    asked: Asked,
    wishes: Wishes = WISHES,
    stopped: Callable[[], bool] = lambda: False,
) -> Mended:
    """Mend every text that falls short on a document's pages, and save and measure a copy.

    With another colour where one serves, else with an overlay behind the text.
    location: of the document. Raises FileProblem when the copy can't be written.
    """
    planned = plan(document, pages, asked, wishes, stopped)
    edits = planned.edits
    mended = document.edited(edits) if edits else document
    fell = [p for page in pages for p in page.pairs if p.verdict is Verdict.FALLS_SHORT]
    changed = at_addresses(fell, changed_by(edits))
    touched = document.pages_touched(edits) if edits else frozenset()
    copy = save_copy(mended, target, location, changed, touched, asked, stopped)
    known = [page for page in pages if page.page not in touched]
    short = sum(
        pair.verdict is Verdict.FALLS_SHORT for page in (*copy.pages, *known) for pair in page.pairs
    )
    return Mended(copy, planned.left, short)
