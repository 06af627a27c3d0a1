"""What is done with an open document for the window: each a task of `review.shop`."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.srgb import Bytes
from high_pair.edits.kinds import Edit
from high_pair.errors import Cancelled
from high_pair.formats.document import Document, shown_part
from high_pair.formats.location import Location
from high_pair.formats.opening import mends_as_sheet
from high_pair.measure.pairs import Pair
from high_pair.measure.shortfall import shortfall_mask
from high_pair.raster.page import paint_exactly, paint_page, paint_part, rasterise
from high_pair.raster.painted import shown_as_measured
from high_pair.remedy.remedies import (
    Backdrop,
    Calmed,
    ForSeat,
    Laid,
    Moved,
    Proposals,
    Recolour,
    Remedy,
    Repainted,
    Restyled,
)
from high_pair.remedy.wishes import Family
from high_pair.review.calming import alike_calmed
from high_pair.review.colour_sets import sets_of
from high_pair.review.fitting import Fitting, fitting_for
from high_pair.review.measuring import PageReview, measured, small_picture
from high_pair.review.mending import (
    alike_edits,
    edits_for,
    is_kept,
    mend_group,
    remedies_for,
    serves_all,
)
from high_pair.review.origins import remedies_at
from high_pair.review.overlaying import overlays_on_pages
from high_pair.review.picture_mending import alike_repainted
from high_pair.review.saving import SavedCopy, save_copy
from high_pair.review.seat_remedies import Sitting, edits_for_alike, remedies_for_seat
from high_pair.review.shifting import Shifting, alike_moves, shifting_for
from high_pair.review.shop import Work
from high_pair.scene.colour_set import ColourSet, Levels
from high_pair.scene.geometry import Box
from high_pair.scene.seat import Seat
from high_pair.scene.text import Decider
from high_pair.wcag.asked import Asked


@dataclass(frozen=True)
class PageResult:
    """What was measured of a page, and its small picture, uint8 (h, w, 3)."""

    review: PageReview
    thumbnail: Bytes


def pages_touched(work: Work, edits: Sequence[Edit]) -> frozenset[int]:
    """Tell which pages may look different after edits."""
    return work.base.pages_touched(edits)


def measure(work: Work, page: int, asked: Asked, thumbnail: int) -> PageResult:
    """Measure a page. thumbnail: the width in pixels of its small picture."""
    measured = work.bench.get(work.document, page, asked)
    small = small_picture(work.document, page, measured, thumbnail)
    return PageResult(PageReview(page, measured.pairs), small)


def paint(work: Work, page: int, part: Box, size: tuple[int, int], measured: str) -> Bytes:
    """Paint a part of a page (in points) to a size in pixels.

    measured: the address of a text that is shown as it was measured.
    """
    scene = work.document.part_of(page, part)
    if measured:
        scene = shown_as_measured(scene, measured)
    return paint_exactly(scene, work.document.pictures, part, *size)


def paint_pair(work: Work, pair: Pair, box: Box, width: int, height: int) -> Bytes:
    """Paint a part of a page on which a pair's text stands, as it looks."""
    scene = work.document.part_of(pair.page - 1, box)
    scene = shown_as_measured(scene, pair.address)
    return paint_part(scene, work.document.pictures, box, width, height)


def find_shortfall(work: Work, page: int, asked: Asked) -> NDArray[np.bool_]:
    """Tell which pixels of a page fall short."""
    return shortfall_mask(work.bench.get(work.document, page, asked))


def address_at(work: Work, page: int, x: float, y: float) -> str:
    """Give the address of the text at a point, where a text has many places."""
    return work.document.address_at(page, x, y)


def pick_from(work: Work, page: int) -> tuple[Bytes, Bytes]:
    """Paint a page to pick colours from: as it looks, and without text."""
    document = work.document
    whole = shown_part(document.pages[page])
    scene = replace(document.part_of(page, whole), width=whole.width, height=whole.height)
    raster = rasterise(scene, document.pictures)
    width = raster.backdrop.shape[1]
    return paint_page(raster.scene, document.pictures, width), raster.backdrop


def propose(
    work: Work, pairs: Sequence[Pair], asked: Asked, family: Family, seat: Seat | None
) -> Proposals:
    """Look for remedies that serve alike pairs together, else for the first alone.

    seat: from which it is looked at: what makes the first read from there comes after them.
    """

    def while_wanted(edits: Sequence[Edit]) -> Document:
        if work.call.stopped():
            # Another text is at hand: what is tried for this one is of no use any more.
            raise Cancelled("Another text was chosen.")
        return work.trial(edits)

    found = remedies_for(pairs, work.document, work.bench, asked, while_wanted, family)
    if seat is None or is_kept(pairs[:1], family):
        return found
    page = work.bench.get(work.document, pairs[0].page - 1, asked)
    sitting = Sitting(seat, work.document)
    advice = remedies_for_seat(pairs[0], page, asked, while_wanted, sitting)
    known = [edits_for(each, pairs[:1]) for each in found.remedies]
    more = [each for each in advice if edits_for(each, pairs[:1]) not in known]
    reads = sitting.reads(pairs[0])
    none = "" if advice or reads else f"Nothing makes it read from “{seat.name}”."
    return replace(found, remedies=(*found.remedies, *more), none=found.none or none)


def propose_at(work: Work, decider: Decider, asked: Asked) -> Proposals:
    """Look for colours where one is decided for many texts; pages tried are told."""
    return remedies_at(decider, work.document, asked, work.trial, work.call.tell, work.call.stopped)


def fit(
    work: Work,
    laid: Laid,
    pair: Pair,
    others: tuple[Edit, ...],
    asked: Asked,
    width: int,
    tints: tuple[Levels, ...],
) -> Fitting:
    """Prepare the fitting of an overlay by hand. others: the edits besides it; tints: of a set."""
    document = work.document if others == work.edits else work.base.edited(others)
    return fitting_for(laid, pair, document, work.bench, asked, work.trial, width, tints)


def shift(work: Work, moved: Moved, pair: Pair, asked: Asked, width: int) -> Shifting:
    """Prepare moving a text by hand, with the page `width` pixels wide."""
    return shifting_for(moved, pair, work.document, work.bench, asked, width)


# How what is solved anew for each alike text is carried there.
CARRIED: Mapping[type[Remedy], Callable[..., Sequence[Edit]]] = {
    Backdrop: alike_edits,
    Calmed: alike_calmed,
    Moved: alike_moves,
    Repainted: alike_repainted,
    Restyled: alike_edits,
}


def apply_to_alike(
    work: Work,
    remedy: Remedy,
    pairs: Sequence[Pair],
    one_strength: bool,
    asked: Asked,
    seat: Seat | None = None,
) -> Sequence[Edit]:
    """Give the edits for all alike: this colour where it passes in all, else the nearest for each.

    An overlay goes to every page with alike places, solved for what is there, or
    with one strength for all. What makes a text read from a seat goes to those
    that read from there by it.
    """
    document, bench = work.document, work.bench
    if isinstance(remedy, ForSeat):
        if seat is None or seat.name != remedy.seat:
            return edits_for(remedy, pairs[:1])
        sitting = Sitting(seat, document)
        return edits_for_alike(remedy, pairs, bench, asked, work.trial, sitting)
    if isinstance(remedy, Laid):
        return overlays_on_pages(remedy, pairs, document, bench, asked, work.trial, one_strength)
    carry = CARRIED.get(type(remedy))
    if carry is not None:
        return carry(remedy, pairs, document, bench, asked, work.trial)
    if not isinstance(remedy, Recolour):
        return edits_for(remedy, pairs)
    if serves_all(remedy, pairs, document, bench, asked):
        return edits_for(remedy, pairs)
    return mend_group(pairs, document, bench, asked)[0]


def find_text(work: Work, pages: Sequence[int]) -> Sequence[Edit]:
    """Give the edits that draw boxes round text that is found in pictures."""
    # The library takes a second to load.
    from high_pair.review.finding import boxes_found

    return boxes_found(work.document, work.trial, pages, work.call.stopped)


def save(
    work: Work, target: Path, source: Location, changed: Sequence[Pair], asked: Asked
) -> SavedCopy:
    """Write a copy and measure its pages that changed."""
    pages = work.base.pages_touched(work.edits)
    return save_copy(work.document, target, source, changed, pages, asked, work.call.stopped)


def style_sheet(work: Work) -> str | None:
    """Give the mends of a web page as a style sheet; None of another document."""
    return mends_as_sheet(work.document)


def colour_sets(work: Work) -> tuple[ColourSet, ...]:
    """List the sets of colours that a document decides in one place."""
    return sets_of(work.document)


def pairs_on(work: Work, page: int, asked: Asked) -> tuple[Pair, ...]:
    """Measure a page of which nothing is shown."""
    return measured(work.document, page, asked).pairs
