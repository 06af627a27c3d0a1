"""Where the pairs of a page stand, pixel by pixel, ready for many overlays."""

from __future__ import annotations

import functools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.srgb import Bytes, Floats
from high_pair.measure.footprint import Footprint, areas_of, distinct, grow, grown_area, radius_of
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.remedy.strength import Covered, covered_words
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, pixel_centres
from high_pair.wcag.verdicts import Verdict

# Another program, or another version of one, sets letters a little elsewhere and a little
# larger: where what is behind them varies, a mend is to hold so many pixels round them too,
MARGIN_PIXELS = 2.0
# and where they are so many times as large.
MARGIN_GROWTH = 1.1


@dataclass(frozen=True)
class WordFooting:
    """A word's footprint: its pixels' backdrops, uint8 (n, 3), and their centres in points, (n,).

    backdrops, counts: the distinct ones, for an overlay that is alike everywhere.
    """

    colours: Bytes
    x: Floats
    y: Floats
    backdrops: Bytes
    counts: NDArray[np.int64]


@dataclass(frozen=True)
class Footing:
    """A pair's words; served: an overlay is to make it pass; else it must not break it."""

    pair: Pair
    served: bool
    words: tuple[WordFooting, ...]
    box: Box

    @functools.cached_property
    def points(self) -> tuple[Floats, Floats, NDArray[np.int64]]:
        """The centres of all words' pixels, x and y, (n,), and where the second word and on begin.

        An overlay is asked for its shares there at every step of a hand.
        """
        ends = np.cumsum([len(word.x) for word in self.words])
        x = np.concatenate([word.x for word in self.words])
        return x, np.concatenate([word.y for word in self.words]), ends[:-1]


def footings_on(
    page: MeasuredPage, served: Sequence[Pair], level: int, margin: bool
) -> tuple[Footing, ...]:
    """Give the footings of pairs, and of those that pass and are painted above a level.

    margin: those served are to pass a little round their words as well.
    """
    ids = {pair.id for pair in served}
    areas = areas_of(page.raster.numbers, page.raster.word_count)
    found = [_footing(page, pair, areas, True, margin) for pair in served]
    for pair in page.pairs:
        place = page.places.get(pair.id)
        if pair.id in ids or place is None or pair.verdict is not Verdict.PASSES:
            continue
        if place.level >= level and not place.highlighted and pair.id in page.footprints:
            found.append(_footing(page, pair, areas, False, False))
    return tuple(footing for footing in found if footing.words or footing.served)


def _footing(
    page: MeasuredPage,
    pair: Pair,
    areas: Sequence[tuple[slice, slice] | None],
    served: bool,
    margin: bool,
) -> Footing:
    place = page.places[pair.id]
    words = []
    boxes = []
    for number in place.words:
        area = areas[number - 1] if number <= len(areas) else None
        if area is not None:
            radius = radius_of(place.size, page.raster.scale)
            word, box = _word(page, number, area, radius)
            words.append(word)
            boxes.append(box)
            if margin and len(word.backdrops) > 1:
                words.append(_word(page, number, area, _with_margin(radius))[0])
    corners = np.array(boxes or [(0.0, 0.0, 0.0, 0.0)])
    left, top = corners[:, :2].min(axis=0).tolist()
    right, bottom = corners[:, 2:].max(axis=0).tolist()
    return Footing(pair, served, tuple(words), Box(left, top, right - left, bottom - top))


def _with_margin(radius: float) -> float:
    return radius * MARGIN_GROWTH + MARGIN_PIXELS


def wide_footprints(page: MeasuredPage, pair: Pair) -> list[Footprint]:
    """Give the footprints of a pair's words with a margin, where what is behind them varies.

    Empty for text that something lies over or a highlight lies below.
    """
    place = page.places.get(pair.id)
    prints = page.footprints.get(pair.id, ())
    if place is None or place.highlighted or any(each.above is not None for each in prints):
        return []
    if all(each.is_solid for each in prints):
        return []
    areas = areas_of(page.raster.numbers, page.raster.word_count)
    radius = _with_margin(radius_of(place.size, page.raster.scale))
    found = []
    for number in place.words:
        area = areas[number - 1] if number <= len(areas) else None
        if area is not None:
            word, _ = _word(page, number, area, radius)
            found.append(Footprint(pair.text, word.backdrops, word.counts, (0, 0, 0, 0)))
    return found


def _word(
    page: MeasuredPage, number: int, area: tuple[slice, slice], radius: float
) -> tuple[WordFooting, tuple[float, float, float, float]]:
    """Give a word's footing, and the box of its footprint in points by its corners."""
    raster = page.raster
    shape = (raster.numbers.shape[0], raster.numbers.shape[1])
    rows, columns = grown = grown_area(area, radius, shape)
    mask = grow(raster.numbers[grown] == number, radius)
    across, down = pixel_centres(grown, raster.scale)
    colours = raster.backdrop[grown][mask]
    backdrops, counts = distinct(colours)
    word = WordFooting(
        colours,
        np.broadcast_to(across, mask.shape)[mask],
        np.broadcast_to(down, mask.shape)[mask],
        backdrops,
        counts,
    )
    scale = raster.scale
    box = (columns.start / scale, rows.start / scale, columns.stop / scale, rows.stop / scale)
    return word, box


def covered(footing: Footing, overlay: Overlay, coverage: float) -> Covered:
    """Give a pair as it lies over an overlay."""
    words = []
    x, y, starts = footing.points
    each_share = np.split(overlay.shares_at(x, y), starts)
    for word, shares in zip(footing.words, each_share, strict=True):
        if (shares == shares[0]).all():
            words.append((word.backdrops, word.counts, np.full(len(word.backdrops), shares[0])))
        else:
            words.append((word.colours, np.ones(len(word.colours), np.int64), shares))
    pair = footing.pair
    return covered_words(words, pair.text_colour, pair.goal, coverage, footing.served)
