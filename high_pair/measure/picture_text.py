"""Measuring text that is part of a picture, in a box that a person drew round it.

Its colours and its size are read from the pixels, and so are near the truth,
not exact. A verdict is given where the truth can't be on the other side of
what is asked; else the text needs eyes.
"""

from __future__ import annotations

import functools
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.ratio import contrast_ratio, shown_ratio
from high_pair.colour.srgb import Bytes
from high_pair.measure.footprint import Footprint, footprint_of, grow
from high_pair.measure.pairs import Pair, numbers_of, required_ratio
from high_pair.raster.page import PageRaster
from high_pair.scene.geometry import Box
from high_pair.scene.page import PictureText
from high_pair.scene.paint import BLACK, Colour, from_levels
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import BOLD_FROM_WEIGHT, Subject
from high_pair.wcag.verdicts import Verdict

PLAIN_WEIGHT = 400
# Shares of a ratio that was read by which the truth may lie lower, and higher. See
# `docs/measuring.md` for how often it does.
MARGINS = (0.15, 0.15)
# Of letters with thin strokes.
THIN_MARGINS = (0.2, 0.3)
# Of small letters with thin strokes, whose contrast is easily read too low.
SMALL_MARGINS = (0.3, 0.7)
# Strokes from this width on, in pixels, aren't thin; letters from this height on aren't small.
WIDE_STROKE = 1.8
SMALL = 20.0
# Of what is behind the letters the coverage asked for leaves a share out: so many times less of it,
# and more, lest a little that was read too dark or too light decides.
FEWER = 0.2
MORE = 2.0
# What lies so near the letters, in pixels, may as well lie behind them.
BESIDE = 8.0
# A size that was read is so near the truth.
SIZE_MARGIN = 0.18
MOST_SPILLED = 0.01
MOST_UNSURE = 0.01
UNSURE = "something behind its letters looks like letters, so what lies behind them isn't known"
SPILLED = (
    "something like its letters reaches the edge of its box: draw the box with a little room, "
    "and if that doesn't help, other things of the text's colour lie behind it"
)
# Words stand apart by more than this share of their size.
GAP = 0.2
FIXED = "The text is part of the picture: change it where the picture was made."
ORIGIN = "read from the picture's pixels"
REMEMBERED = 64


@dataclass(frozen=True)
class _Letters:
    """What the pixels of a box say.

    mask: (h, w), which of them are letters'; size: in pixels; stroke: the width of
    their strokes, in pixels; boldness: that as a share of the least that bold letters have.
    """

    colour: Colour
    backdrop: Bytes
    mask: NDArray[np.bool_]
    size: float
    stroke: float
    boldness: float
    outline: Colour | None
    spills: float
    unsure: float


def measure_picture_text(
    raster: PageRaster, item: PictureText, page: int, asked: Asked
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Measure the text in a box; gives the pair, without its id, and its words' footprints."""
    if item.unread:
        return _pair(item, page, asked, item.size or 0.0, PLAIN_WEIGHT, item.unread), ()
    rows, columns = _area(raster, item.box)
    part = np.ascontiguousarray(raster.backdrop[rows, columns])
    found = _separated(part.shape[0], part.shape[1], part.tobytes())
    if isinstance(found, str):
        return _pair(item, page, asked, item.size or 0.0, PLAIN_WEIGHT, found), ()
    words = _footprints(found, item.words or "the text", (columns.start, rows.start))
    size = item.size or found.size / raster.scale
    weight = item.weight or (BOLD_FROM_WEIGHT if found.boldness >= 1 else PLAIN_WEIGHT)
    pair = _pair(item, page, asked, size, weight, "")
    numbers = numbers_of(words, found.colour, pair.required, asked.coverage, raster.scale)
    # What is behind letters was carried on under them, so where it varies the ratio lies between;
    # and what was taken for a weak word may be none.
    room, wide = max(1.0, found.size / 12), max(BESIDE, found.size / 4)
    worst, around, best, together = (
        numbers_of(prints, found.colour, pair.required, coverage, raster.scale).ratio
        for prints, coverage in (
            (words, 1 - (1 - asked.coverage) * FEWER),
            (_together(found, wide), 1 - (1 - asked.coverage) * FEWER),
            (words, 1 - (1 - asked.coverage) * MORE),
            (_together(found, room), asked.coverage),
        )
    )
    ratios = (min(worst, around), numbers.ratio, max(best, together))
    verdict, reason = _judge(item, found, ratios, pair, asked)
    pair = replace(
        pair,
        text_colour=found.colour,
        bbox=_bounds([word.box for word in words], raster.scale),
        numbers=numbers,
        verdict=verdict,
        reason=reason,
    )
    return pair, words


def _bounds(
    boxes: list[tuple[int, int, int, int]], scale: float
) -> tuple[float, float, float, float]:
    """Give the box round boxes on the raster, in points."""
    corners = np.array(boxes) / scale
    left, top = corners[:, :2].min(axis=0).tolist()
    right, bottom = corners[:, 2:].max(axis=0).tolist()
    return left, top, right - left, bottom - top


def _pair(
    item: PictureText, page: int, asked: Asked, size: float, weight: int, reason: str
) -> Pair:
    criterion, required = required_ratio(Subject.TEXT, size, weight, asked.level)
    box = item.box
    return Pair(
        id="",
        page=page,
        where=item.where,
        address=item.address,
        subject=Subject.TEXT,
        text=item.words or item.where.rpartition(" › ")[2],
        size=size,
        weight=weight,
        text_colour=BLACK,
        criterion=criterion,
        required=required,
        verdict=Verdict.NEEDS_EYES,
        reason=reason,
        bbox=(box.x, box.y, box.width, box.height),
        origin="" if reason else ORIGIN,
        estimated=True,
        fixed=FIXED,
    )


def _area(raster: PageRaster, box: Box) -> tuple[slice, slice]:
    """Give the pixels of a box, as far as it lies on the page."""
    height, width = raster.backdrop.shape[:2]
    scale = raster.scale
    return (
        slice(max(0, round(box.y * scale)), min(height, round(box.bottom * scale))),
        slice(max(0, round(box.x * scale)), min(width, round(box.right * scale))),
    )


@functools.lru_cache(maxsize=REMEMBERED)
def _separated(height: int, width: int, data: bytes) -> _Letters | str:
    """Read the letters in a box's pixels, or tell why they can't be read.

    The same pixels are read once: a page is measured anew with each box drawn on it.
    """
    # SciPy takes long to load, and most documents need none of it.
    from high_pair.measure.letters import LETTERS
    from high_pair.measure.separation import BOLD_STROKE, INK, NoText, separate

    if not data:
        return "its box lies off the page"
    try:
        found = separate(np.frombuffer(data, np.uint8).reshape(height, width, 3))
    except NoText as problem:
        return str(problem).rstrip(".")
    size = found.height / LETTERS
    return _Letters(
        from_levels(found.colour),
        found.backdrop,
        found.ink >= INK,
        size,
        found.stroke,
        found.stroke / max(size * BOLD_STROKE, 1e-6),
        from_levels(found.outline) if found.outline else None,
        found.spills,
        found.unsure,
    )


def _footprints(letters: _Letters, text: str, corner: tuple[int, int]) -> tuple[Footprint, ...]:
    """Give each word's footprint. corner: of the box on the raster."""
    from scipy import ndimage

    height, width = letters.mask.shape
    area = (slice(0, height), slice(0, width))
    # What stands no farther apart than this is one word.
    across = max(1, round(letters.size * GAP / 2))
    near = np.ones((max(1, across // 2) * 2 + 1, across * 2 + 1), bool)
    labels, count = ndimage.label(ndimage.binary_dilation(letters.mask, near))
    found = []
    for number in range(1, count + 1):
        word = letters.mask & (labels == number)
        grown = grow(word, max(1.0, letters.size / 12))
        footprint = footprint_of(text, grown, area, letters.backdrop)
        if footprint is not None:
            places = np.argwhere(word) + np.array(corner[::-1])
            (top, left), (bottom, right) = places.min(axis=0), places.max(axis=0) + 1
            box = (int(left), int(top), int(right), int(bottom))
            found.append(replace(footprint, box=box))
    return tuple(found)


def _together(letters: _Letters, room: float) -> tuple[Footprint, ...]:
    """Give one footprint for all words, with so much room round them, in pixels."""
    height, width = letters.mask.shape
    grown = grow(letters.mask, room)
    found = footprint_of("", grown, (slice(0, height), slice(0, width)), letters.backdrop)
    return (found,) if found is not None else ()


def _judge(
    item: PictureText,
    found: _Letters,
    ratios: tuple[float, float, float],
    pair: Pair,
    asked: Asked,
) -> tuple[Verdict, str]:
    """Give the verdict that holds wherever the truth lies, or why there is none.

    ratios: the least, the governing one and the most, by what may lie behind.
    """
    worst, ratio, best = ratios
    less, more = _margins(found)
    low, high = worst / (1 + less), best * (1 + more)
    if found.outline is not None:
        # An outline's colour is what the letters are seen against, where it is wide enough.
        levels = (np.array(each.levels, np.uint8) for each in (found.colour, found.outline))
        against = float(contrast_ratio(*levels))
        low, high = min(low, against / (1 + less)), max(high, against * (1 + more))
    if found.spills > MOST_SPILLED:
        return Verdict.NEEDS_EYES, SPILLED
    if found.unsure > MOST_UNSURE:
        return Verdict.NEEDS_EYES, UNSURE
    nominal = _verdict(low, high, [pair.required])
    if nominal is None:
        if found.outline is not None:
            return Verdict.NEEDS_EYES, "its letters have an outline of another contrast"
        about = f"its ratio, read from the pixels, is about {shown_ratio(ratio)}"
        return Verdict.NEEDS_EYES, f"{about}, too near {pair.required:g} to tell"
    if _verdict(low, high, _possible(item, found, pair, asked)) is None:
        about = f"about {pair.size:.0f} pt"
        return (
            Verdict.NEEDS_EYES,
            f"its size, {about}, may be large-scale or not: set the size and the weight",
        )
    return nominal, ""


def _margins(found: _Letters) -> tuple[float, float]:
    """Give by how much the truth may be lower, and higher, than what was read."""
    if found.stroke >= WIDE_STROKE:
        return MARGINS
    return THIN_MARGINS if found.size >= SMALL else SMALL_MARGINS


def _verdict(low: float, high: float, required: list[float]) -> Verdict | None:
    """Give the verdict for all ratios from low to high against all that may be required."""
    if low >= max(required):
        return Verdict.PASSES
    if high < min(required):
        return Verdict.FALLS_SHORT
    return None


def _possible(item: PictureText, found: _Letters, pair: Pair, asked: Asked) -> list[float]:
    """List the ratios that may be required, by the sizes and weights that the text may have."""
    sizes = [pair.size]
    if item.size is None:
        sizes += [pair.size * (1 - SIZE_MARGIN), pair.size * (1 + SIZE_MARGIN)]
    # Bold letters of one family have thinner strokes than another's regular ones.
    weights = [pair.weight] if item.weight else [PLAIN_WEIGHT, BOLD_FROM_WEIGHT]
    return [
        required_ratio(Subject.TEXT, size, weight, asked.level)[1]
        for size in sizes
        for weight in weights
    ]
