"""What reports have painted of a file, in a process of its own; see `illustrating`."""

from __future__ import annotations

import io
from collections.abc import Sequence

from PIL import Image

from high_pair.formats.document import Document, shown_part
from high_pair.measure.pairs import Pair
from high_pair.process.serving import Call
from high_pair.raster.page import paint_part
from high_pair.raster.painted import shown_as_measured
from high_pair.remedy.wishes import WISHES
from high_pair.report.pictured import Picture, Pictured
from high_pair.report.rows import Row
from high_pair.review.in_processes import Opening
from high_pair.review.matching import MeasuredAnew
from high_pair.review.measuring import review_page
from high_pair.review.planning import plan
from high_pair.review.steps import opened
from high_pair.scene.geometry import Box
from high_pair.wcag.asked import Asked

CHANGED = "The file has changed since it was measured."
# What is shown round a text, in points, and how much of a long one.
MARGIN, MOST_WIDE, MOST_HIGH = 10.0, 420.0, 150.0
# Pixels for each point.
SCALE = 1.5


def pictures_in(
    call: Call, opening: Opening, rows: Sequence[Row], asked: Asked
) -> dict[str, Pictured]:
    """Make the pictures of a file's pairs, by their keys; of those that aren't there any more
    say so.

    Their pages are mended together, as `high-pair remedy` does it, so that one page has one answer.
    """
    document = opened(call, opening).document
    numbers = sorted({row.page for row in rows if row.page <= len(document.pages)})
    pages = {number: review_page(document, number - 1, asked) for number in numbers}
    planned = plan(document, list(pages.values()), asked, WISHES, call.stopped)
    mended = document.edited(planned.edits) if planned.edits else document
    anew = {
        number: MeasuredAnew(review_page(mended, number - 1, asked).pairs) for number in numbers
    }
    found: dict[str, Pictured] = {}
    for row in rows:
        pairs = pages[row.page].pairs if row.page in pages else ()
        pair = next((each for each in pairs if _is(each, row)), None)
        if pair is None:
            found[row.key] = Pictured(missing=CHANGED)
        else:
            found[row.key] = _pictured(document, mended, pair, anew[row.page])
    return found


def _pictured(document: Document, mended: Document, pair: Pair, anew: MeasuredAnew) -> Pictured:
    before = _painted(document, pair)
    after = anew.again(pair)
    if not after or not anew.holds(pair):
        return Pictured(before)
    weakest = min(after, key=lambda each: each.ratio or 0.0)
    assert weakest.numbers is not None
    words = f"{weakest.numbers.foreground} on {weakest.numbers.background}"
    return Pictured(before, _painted(mended, weakest), f"mended: {words}", weakest.numbers.ratio)


def _is(pair: Pair, row: Row) -> bool:
    told = (pair.where, pair.subject.value, pair.text, pair.appears)
    colours = (pair.numbers.foreground, pair.numbers.background) if pair.numbers else (None, None)
    return told == (row.place, row.subject, row.text, row.appears) and colours == (
        row.foreground,
        row.background,
    )


def _painted(document: Document, pair: Pair) -> Picture:
    weakest = pair.numbers.weakest_box if pair.numbers else pair.bbox
    whole = shown_part(document.pages[pair.page - 1])
    box = part_round(Box(*pair.bbox), Box(*weakest), max(whole.width, pair.bbox[0] + pair.bbox[2]))
    scene = document.part_of(pair.page - 1, box)
    scene = shown_as_measured(scene, pair.address)
    width, height = round(box.width * SCALE), round(box.height * SCALE)
    pixels = paint_part(scene, document.pictures, box, width, height)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", optimize=True)
    return Picture(out.getvalue(), pixels.shape[1], pixels.shape[0])


def part_round(text: Box, weakest: Box, width: float) -> Box:
    """Give the part of a page that shows a text: all of it, or of a long one what is round its
    weakest word. width: of the page, in points as all is."""
    x, y = weakest.centre
    left, right = _along(text.x, text.right, x, MOST_WIDE)
    top, bottom = _along(text.y, text.bottom, y, MOST_HIGH)
    left, top, right = max(0.0, left), max(0.0, top), min(width, right)
    return Box(left, top, max(1.0, right - left), max(1.0, bottom - top))


def _along(start: float, end: float, centre: float, most: float) -> tuple[float, float]:
    start, end = start - MARGIN, end + MARGIN
    if end - start > most:
        start = min(max(start, centre - most / 2), end - most)
        end = start + most
    return start, end
