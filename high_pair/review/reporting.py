"""Reviewing files from end to end, for reports and for the command line."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from high_pair.errors import FileProblem
from high_pair.formats import open_document
from high_pair.formats.document import Document
from high_pair.formats.web.addresses import web_address
from high_pair.formats.web.settings import DEFAULT, WebSettings
from high_pair.measure.alike import alike_groups
from high_pair.measure.pairs import Asked, Pair
from high_pair.remedy.edits import Edit
from high_pair.remedy.remedies import Remedy
from high_pair.report.contents import ReportedFile, ReportedPage, ReportedRemedy
from high_pair.review.edits_as_json import edit_out
from high_pair.review.history import changed_by
from high_pair.review.measuring import PageBench, PageReview, review_pages
from high_pair.review.mending import (
    edits_for,
    mend_group,
    remedies_for,
    underline_the_rest,
)
from high_pair.review.overlaying import lay_for_the_rest
from high_pair.review.parallel import LONG_DOCUMENT, review_long_document
from high_pair.review.saving import SavedCopy, save_copy
from high_pair.wcag.verdicts import Verdict

Progress = Callable[[int, int], None]


def reported_file(
    document: Document,
    path: str,
    pages: Sequence[PageReview],
    remedies: dict[str, tuple[ReportedRemedy, ...]] | None = None,
) -> ReportedFile:
    """Put together what a report says of one file."""
    return ReportedFile(
        path,
        document.kind,
        pages=tuple(
            ReportedPage(number, info.name, info.width, info.height, info.hidden)
            for number, info in enumerate(document.pages, start=1)
        ),
        pairs=tuple(pair for page in pages for pair in page.pairs),
        assumed=document.assumed(),
        remedies=remedies or {},
    )


def reported_remedy(remedy: Remedy, pair: Pair) -> ReportedRemedy:
    """Give a remedy as a report has it, with the change it would make.

    One that takes several edits has the further ones in `also`.
    """
    first, *others = (edit_out(edit) for edit in edits_for(remedy, [pair]))
    change: dict[str, object] = dict(first)
    if others:
        change["also"] = others
    return ReportedRemedy(remedy.kind, remedy.label, remedy.ratio, change)


def _reviewed(
    path: Path, document: Document, asked: Asked, progress: Progress | None, as_on_disk: bool
) -> list[PageReview]:
    """Measure all pages, in several processes when there are many and nothing was edited."""
    many = as_on_disk and len(document.pages) >= LONG_DOCUMENT
    found = review_long_document(path, document, asked) if many else review_pages(document, asked)
    pages = []
    for review in found:
        pages.append(review)
        if progress:
            progress(len(pages), len(document.pages))
    return pages


def review_file(
    path: Path,
    asked: Asked,
    with_remedies: bool = False,
    progress: Progress | None = None,
    web: WebSettings = DEFAULT,
    find_text: bool = False,
) -> ReportedFile:
    """Review a file. Raises FileProblem when it can't be read.

    progress: is told how many pages of how many are done; web: how a web page is
    shown; find_text: whether text in pictures is looked for, and NoFinder raised
    where that can't be done.
    """
    document = open_document(path, web)
    try:
        boxes: Sequence[Edit] = ()
        if find_text:
            # The library takes a second to load.
            from high_pair.review.finding import boxes_found

            boxes = boxes_found(document, document.edited, range(len(document.pages)))
            document = document.edited(boxes) if boxes else document
        pages = _reviewed(path, document, asked, progress, as_on_disk=not boxes)
        remedies: dict[str, tuple[ReportedRemedy, ...]] = {}
        if with_remedies:
            bench = PageBench()
            for page in pages:
                for pair in page.pairs:
                    if pair.verdict is Verdict.FALLS_SHORT:
                        found = remedies_for(
                            [pair], document, bench, asked, document.edited
                        ).remedies
                        remedies[pair.id] = tuple(reported_remedy(each, pair) for each in found)
        return reported_file(document, web_address(path) or str(path), pages, remedies)
    finally:
        document.close()


def review_or_error(
    path: Path,
    asked: Asked,
    with_remedies: bool = False,
    progress: Progress | None = None,
    web: WebSettings = DEFAULT,
    find_text: bool = False,
) -> ReportedFile:
    """Review a file; one that can't be read gets its error, so that others go on."""
    try:
        return review_file(path, asked, with_remedies, progress, web, find_text)
    except FileProblem as problem:
        return ReportedFile(web_address(path) or str(path), error=str(problem))


@dataclass(frozen=True)
class Mended:
    """The outcome of mending a file: the copy as measured, and the pairs left as they are.

    left: with the reason for each; short: how many pairs still fall short in the copy.
    """

    copy: SavedCopy
    left: tuple[tuple[Pair, str], ...]
    short: int


def mend_file(
    path: Path,
    target: Path,
    asked: Asked,
    progress: Progress | None = None,
    web: WebSettings = DEFAULT,
) -> Mended:
    """Mend every text that falls short, and save and measure a copy.

    With another colour where one serves, else with an overlay behind the text.

    Raises FileProblem when the source can't be read or the copy written.
    """
    document = open_document(path, web)
    try:
        pages = _reviewed(path, document, asked, progress, as_on_disk=True)
        bench = PageBench()
        edits: list[Edit] = []
        left: list[tuple[Pair, str]] = []
        for group in alike_groups(pair for page in pages for pair in page.pairs):
            if group.weakest.verdict is Verdict.FALLS_SHORT:
                found, unserved = mend_group(group.pairs, document, bench, asked)
                edits += found
                left += unserved
        edits = _one_for_each_address(edits)
        underlined, left = underline_the_rest(left, edits, document, bench, asked)
        edits += underlined
        laid, left = lay_for_the_rest(left, edits, document, bench, asked)
        edits += laid
        mended = document.edited(edits)
        copy = save_copy(mended, target, path, changed_by(edits), range(len(pages)), asked)
        short = sum(
            pair.verdict is Verdict.FALLS_SHORT for page in copy.pages for pair in page.pairs
        )
        return Mended(copy, tuple(left), short)
    finally:
        document.close()


def _one_for_each_address(edits: Sequence[Edit]) -> list[Edit]:
    """Keep the first edit of each address: a link's two pairs ask for one colour."""
    kept: dict[str, Edit] = {}
    for edit in edits:
        kept.setdefault(edit.address, edit)
    return list(kept.values())
