"""Measuring the pages of an open document."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from high_pair.colour.srgb import Bytes
from high_pair.errors import Cancelled
from high_pair.formats.document import Document, Shown, shown_part
from high_pair.measure.page import MeasuredPage, measure_page
from high_pair.measure.pairs import Pair
from high_pair.raster.page import paint_exactly, paint_page, rasterise
from high_pair.wcag.asked import Asked

# Pages whose footprints are kept for the solvers; the rest are measured again when asked for.
PAGES_KEPT = 12
# And only so much of their pixels, which a page of the web has many of.
KEPT_BYTES = 150 * 1024**2


@dataclass(frozen=True)
class PageReview:
    """What a review says of one page (counted from 0)."""

    page: int
    pairs: tuple[Pair, ...]


def measured(document: Document, page: int, asked: Asked) -> MeasuredPage:
    """Read, paint and measure one page."""
    raster = rasterise(document.scene(page), document.pictures)
    return measure_page(raster, document.pictures, page + 1, asked)


def small_picture(document: Document, page: int, measured_page: MeasuredPage, width: int) -> Bytes:
    """Paint a page small, `width` pixels wide, uint8 (h, w, 3); of a sheet its first part."""
    info = document.pages[page]
    if info.shown is not Shown.SHEET:
        return paint_page(measured_page.raster.scene, document.pictures, width)
    part = shown_part(info)
    height = max(1, round(width * part.height / max(part.width, 1.0)))
    return paint_exactly(document.part_of(page, part), document.pictures, part, width, height)


def review_page(document: Document, page: int, asked: Asked) -> PageReview:
    """Measure one page and keep what a review needs of it."""
    return PageReview(page, measured(document, page, asked).pairs)


def review_pages(
    document: Document, asked: Asked, stopped: Callable[[], bool] = lambda: False
) -> Iterator[PageReview]:
    """Measure page after page. Raises Cancelled as soon as `stopped` says so."""
    for page in range(len(document.pages)):
        if stopped():
            raise Cancelled("The review was stopped.")
        yield review_page(document, page, asked)


class PageBench:
    """Gives measured pages with their footprints, the last few from memory."""

    def __init__(self, most: int = PAGES_KEPT) -> None:
        self._most = most
        self._kept: OrderedDict[tuple[int, int, Asked], tuple[Document, MeasuredPage]] = (
            OrderedDict()
        )

    def get(self, document: Document, page: int, asked: Asked) -> MeasuredPage:
        """Give a page of a document as measured."""
        key = (id(document), page, asked)
        if key not in self._kept:
            # First, lest the old and the new are held together.
            while self._kept and self._bytes() > KEPT_BYTES:
                self._kept.popitem(last=False)
            # The document is kept with it, so that its identity isn't used again.
            self._kept[key] = (document, measured(document, page, asked))
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        self._kept.move_to_end(key)
        return self._kept[key][1]

    def _bytes(self) -> int:
        rasters = (page.raster for _, page in self._kept.values())
        return sum(raster.backdrop.nbytes + raster.numbers.nbytes for raster in rasters)
