"""Where a text would pass as it is: every place on the page tried at once, and the nearest.

A word passes at a place where at most so many pixels of its footprint fail on what is behind
them there. Its footprint is a stack of runs of pixels; the pixels that fail in a run are a
difference of two running sums along the page's rows. So the failing pixels of a word are
counted at all places of a grid with two additions a run.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.compositing import over_bytes
from high_pair.colour.ratio import FLARE, contrast_ratio
from high_pair.colour.srgb import Bytes, relative_luminance
from high_pair.measure.footprint import (
    Footprint,
    areas_of,
    distinct,
    grow,
    grown_area,
    radius_of,
    ratios_of,
    reached_by,
)
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair
from high_pair.scene.geometry import Box
from high_pair.scene.page import Figure, Obstacle, Picture, extent
from high_pair.scene.paint import Colour
from high_pair.scene.text import TextBlock
from high_pair.wcag.criteria import Subject

# Pixels from one place that is tried to the next.
STEP = 4
# Room that a text keeps from other texts and figures, in ems.
ROOM = 0.3
# A page's margin is at most this share of its side.
MOST_MARGIN = 1 / 12
# What covers so much of a page is its ground, as a picture or a veil.
MOST_OF_A_PAGE = 0.8
# A place that is lined up with an edge may be so many times as far away,
LINED_UP = 1.3
# and lies within so many pixels of one that was tried.
SNAP = 12
# One for which it doesn't go past another text, above or below it, likewise.
IN_ORDER = 1.5
# So many of the nearest places are looked at for edges near them.
NEAREST = 1500
# The shape's outline may lie so many points off its rectangle.
OUTLINE = 1.0


@dataclass(frozen=True)
class MovedWord:
    """A word's footprint on the raster: its runs of pixels, each in one row from a start to
    before an end; goal: the ratio that it must have."""

    rows: NDArray[np.intp]
    starts: NDArray[np.intp]
    ends: NDArray[np.intp]
    text: Colour
    goal: float

    @cached_property
    def pixels(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """Its pixels' rows and columns."""
        lengths = self.ends - self.starts
        rows = np.repeat(self.rows, lengths)
        within = np.arange(lengths.sum()) - np.repeat(np.cumsum(lengths) - lengths, lengths)
        return rows, np.repeat(self.starts, lengths) + within

    @property
    def size(self) -> int:
        """How many pixels it has."""
        return int((self.ends - self.starts).sum())


@dataclass(frozen=True)
class Places:
    """Places at which a text was tried, offsets in pixels of the raster.

    across, down: of the grid's columns (w,) and rows (h,); passing: (h, w), where every word
    passes as it is; free: (h, w), where it covers nothing and keeps the margins.
    """

    across: NDArray[np.intp]
    down: NDArray[np.intp]
    passing: NDArray[np.bool_]
    free: NDArray[np.bool_]

    @property
    def good(self) -> NDArray[np.bool_]:
        """Where it passes, and may stand."""
        return self.passing & self.free


@dataclass(frozen=True)
class Mover:
    """All texts of one shape, which move together.

    backdrop: of the page, uint8 (h, w, 3); ink: left, top, right, bottom of all footprints, in
    pixels; limits: the margins; taken: (h, w), what mustn't be covered; edges: of other
    texts, left and right, and top and bottom, in pixels; middles: of other texts, down the page.
    """

    pairs: tuple[Pair, ...]
    words: tuple[MovedWord, ...]
    backdrop: Bytes
    scale: float
    coverage: float
    ink: tuple[int, int, int, int]
    limits: tuple[int, int, int, int]
    taken: NDArray[np.bool_]
    edges: tuple[tuple[float, ...], tuple[float, ...]]
    middles: tuple[float, ...] = ()

    def goes_past(self, down: int) -> int:
        """Count the texts that it comes below, having stood above them, or the reverse."""
        now = (self.ink[1] + self.ink[3]) / 2
        return sum((now - middle) * (now + down - middle) < 0 for middle in self.middles)

    def places(self, step: int = STEP) -> Places:
        """Try every place of a grid, on which the one where it stands lies."""
        left, top, right, bottom = self.ink
        height, width = self.taken.shape
        across = _offsets(-left, width - right, step)
        down = _offsets(-top, height - bottom, step)
        passing = np.ones((len(down), len(across)), bool)
        for (text, goal), words in self._by_look().items():
            sums = self._sums[(text, goal)]
            phases = [np.ascontiguousarray(sums[:, phase::step]) for phase in range(step)]
            for word in words:
                failing = np.zeros(passing.shape, sums.dtype)
                for row, start, end in zip(word.rows, word.starts, word.ends, strict=True):
                    rows = slice(row + down[0], row + down[-1] + 1, step)
                    for column, sign in ((end, np.add), (start, np.subtract)):
                        first = column + across[0]
                        part = phases[first % step][
                            rows, first // step : first // step + len(across)
                        ]
                        sign(failing, part, out=failing)
                passing &= failing <= self._most_failing(word)
        return Places(across, down, passing, self._free(across, down))

    def _by_look(self) -> dict[tuple[Colour, float], list[MovedWord]]:
        found: dict[tuple[Colour, float], list[MovedWord]] = {}
        for word in self.words:
            found.setdefault((word.text, word.goal), []).append(word)
        return found

    @cached_property
    def _sums(self) -> dict[tuple[Colour, float], NDArray[np.uint32]]:
        """For each look how many pixels fail before each, along the rows: (h, w + 1)."""
        found = {}
        for text, goal in self._by_look():
            failing = _failing(text, goal, self.backdrop)
            sums = np.zeros((failing.shape[0], failing.shape[1] + 1), np.uint32)
            np.cumsum(failing, axis=1, out=sums[:, 1:])
            found[(text, goal)] = sums
        return found

    def _most_failing(self, word: MovedWord) -> int:
        """Give how many pixels of a word may fail, as `reached_by` counts."""
        return word.size - math.ceil(self.coverage * word.size * (1 - 1e-12))

    def _free(self, across: NDArray[np.intp], down: NDArray[np.intp]) -> NDArray[np.bool_]:
        left, top, right, bottom = self.ink
        sums = np.zeros((self.taken.shape[0] + 1, self.taken.shape[1] + 1), np.int32)
        sums[1:, 1:] = self.taken.cumsum(0, dtype=np.int32).cumsum(1, dtype=np.int32)
        corners = [
            sums[np.ix_(rows + down, columns + across)]
            for rows in (top, bottom)
            for columns in (left, right)
        ]
        inside = self._within(across, down)
        covered = corners[3] - corners[1] - corners[2] + corners[0]
        return np.asarray(covered == 0) & inside

    def _within(self, across: NDArray[np.intp], down: NDArray[np.intp]) -> NDArray[np.bool_]:
        left, top, right, bottom = self.ink
        first, highest, last, lowest = self.limits
        columns = (left + across >= first) & (right + across <= last)
        rows = (top + down >= highest) & (bottom + down <= lowest)
        return rows[:, None] & columns[None, :]

    def passes_at(self, across: int, down: int) -> bool:
        """Tell whether every word passes at a place."""
        for word in self.words:
            sums, rows = self._sums[(word.text, word.goal)], word.rows + down
            failing = sums[rows, word.ends + across] - sums[rows, word.starts + across]
            if int(failing.sum()) > self._most_failing(word):
                return False
        return True

    def may_stand_at(self, across: int, down: int) -> bool:
        """Tell whether it covers nothing at a place, and keeps the margins."""
        return bool(self._free(np.array([across]), np.array([down]))[0, 0])

    def ratio_at(self, across: int, down: int) -> float:
        """Give the governing ratio of the weakest word at a place, over what its text asks."""
        return min((ratio for ratio, _ in self._ratios(across, down)), default=math.nan)

    def shortfall_at(self, across: int, down: int) -> float:
        """Give what part of its goal the word has that is farthest from it, at a place."""
        return min((ratio / goal for ratio, goal in self._ratios(across, down)), default=math.nan)

    def _ratios(self, across: int, down: int) -> Iterator[tuple[float, float]]:
        for word in self.words:
            rows, columns = word.pixels
            backdrops, counts = distinct(self.backdrop[rows + down, columns + across])
            footprint = Footprint("", backdrops, counts, (0, 0, 0, 0))
            ratios = ratios_of(footprint, word.text)
            yield reached_by(ratios, counts, self.coverage), word.goal


def mover_for(page: MeasuredPage, pair: Pair, coverage: float) -> Mover | str:
    """Find what moves with a text, or say why it can't be moved for its contrast's sake."""
    place, scene = page.places.get(pair.id), page.raster.scene
    if place is None or scene.painting is not None:
        return "Only text that stands in a shape of a slide is moved."
    block = scene.items[place.level]
    if not isinstance(block, TextBlock) or block.bare is None or _outlined(page, place.level):
        return "What is behind the text is its own shape's, and would go with it."
    if any(run.shades for paragraph in block.paragraphs for run in paragraph.runs):
        return "A text of several colours isn't moved."
    own = [each for each in page.pairs if _stands_at(page, each, place.level)]
    if any(each.numbers is None or page.places[each.id].highlighted for each in own):
        return "A part of the shape's text couldn't be measured."
    if any(print.above is not None for each in own for print in page.footprints[each.id]):
        return "Something painted above the text would stay where it is."
    raster = page.raster
    areas = areas_of(raster.numbers, raster.word_count)
    words = []
    for each in own:
        for number in page.places[each.id].words:
            area = areas[number - 1] if number <= len(areas) else None
            if area is not None:
                words.append(_word(page, each, number, area))
    if not words:
        return "The text has no ink on the page."
    ink = (
        min(int(word.starts.min()) for word in words),
        min(int(word.rows.min()) for word in words),
        max(int(word.ends.max()) for word in words),
        max(int(word.rows.max()) for word in words) + 1,
    )
    em = max(page.places[each.id].size for each in own) * raster.scale
    return Mover(
        tuple(own),
        tuple(words),
        raster.backdrop,
        raster.scale,
        coverage,
        ink,
        _limits(page, ink),
        _taken(page, place.level, ink, math.ceil(ROOM * em)),
        _edges(page, place.level),
        _middles(page, place.level),
    )


def nearest(mover: Mover, places: Places) -> tuple[int, int] | None:
    """Give the nearest place at which a text passes and may stand, None where there is none.

    One that is lined up with another text, with the page's middle, or with where it stood, may
    be a little farther away, and so may one for which it goes past no other text. Places with
    others that pass round them come first.
    """
    good = places.good
    safe = (
        ndimage.binary_erosion(places.passing, np.ones((3, 3), bool), border_value=1) & places.free
    )
    for wanted in (safe, good):
        rows, columns = np.nonzero(wanted)
        if len(rows):
            break
    else:
        return None
    across, down = places.across[columns], places.down[rows]
    order = np.argsort(np.hypot(across, down), kind="stable")[:NEAREST]
    best: tuple[float, int, int] | None = None
    for x, y in zip(across[order].tolist(), down[order].tolist(), strict=True):
        if best is not None and math.hypot(x, y) > best[0] + SNAP:
            break
        for at_x, at_y, lined in _lined_up(mover, x, y):
            cost = math.hypot(at_x, at_y) * (1.0 if lined else LINED_UP)
            cost *= IN_ORDER if mover.goes_past(at_y) else 1.0
            better = best is None or cost < best[0]
            if better and mover.passes_at(at_x, at_y) and mover.may_stand_at(at_x, at_y):
                best = (cost, at_x, at_y)
    return best[1:] if best is not None else None


def _lined_up(mover: Mover, x: int, y: int) -> Iterator[tuple[int, int, bool]]:
    """Give a place, and those near it whose edges are other texts' too."""
    left, top, right, bottom = mover.ink
    columns = [0, *_to_edges((left, (left + right) / 2, right), mover.edges[0])]
    rows = [0, *_to_edges((top, bottom), mover.edges[1])]
    near_x = [each for each in columns if abs(each - x) <= SNAP]
    near_y = [each for each in rows if abs(each - y) <= SNAP]
    yield x, y, x == 0 or y == 0
    for each in near_x:
        yield each, y, True
    for each in near_y:
        yield x, each, True


def _to_edges(own: Sequence[float], edges: Sequence[float]) -> list[int]:
    return [round(edge - each) for edge in edges for each in own]


def _offsets(least: int, most: int, step: int) -> NDArray[np.intp]:
    """Give the multiples of a step within limits; 0 is one of them."""
    return np.arange(-(-least // step), most // step + 1) * step


def _failing(text: Colour, goal: float, backdrop: Bytes) -> NDArray[np.bool_]:
    """Tell on which pixels a text has less than a ratio."""
    if text.opacity < 1:
        seen = over_bytes(np.array(text.levels, np.uint8), text.opacity, backdrop)
        return np.asarray(contrast_ratio(seen, backdrop) < goal)
    own = float(relative_luminance(np.array(text.levels, np.uint8)))
    behind = relative_luminance(backdrop)
    lighter, darker = np.maximum(own, behind), np.minimum(own, behind)
    return np.asarray((lighter + FLARE) / (darker + FLARE) < goal)


def _stands_at(page: MeasuredPage, pair: Pair, level: int) -> bool:
    place = page.places.get(pair.id)
    return place is not None and place.level == level and pair.subject is Subject.TEXT


def _outlined(page: MeasuredPage, level: int) -> bool:
    """Tell whether the shape of a text has an outline, which would move with it."""
    block = page.raster.scene.items[level]
    before = page.raster.scene.items[level - 1] if level else None
    if not isinstance(block, TextBlock) or block.bare is None or not isinstance(before, Figure):
        return False
    own, other = block.bare, before.box
    return all(
        abs(one - another) <= OUTLINE
        for one, another in ((own.x, other.x), (own.y, other.y), (own.right, other.right),
                             (own.bottom, other.bottom))
    )  # fmt: skip


def _word(page: MeasuredPage, pair: Pair, number: int, area: tuple[slice, slice]) -> MovedWord:
    numbers = page.raster.numbers
    radius = radius_of(page.places[pair.id].size, page.raster.scale)
    grown = grown_area(area, radius, (numbers.shape[0], numbers.shape[1]))
    mask = grow(numbers[grown] == number, radius)
    padded = np.zeros((mask.shape[0], mask.shape[1] + 2), np.int8)
    padded[:, 1:-1] = mask
    steps = np.diff(padded, axis=1)
    rows, starts = np.nonzero(steps == 1)
    _, ends = np.nonzero(steps == -1)
    top, left = grown[0].start, grown[1].start
    goal = max(pair.required, pair.aim)
    return MovedWord(rows + top, starts + left, ends + left, pair.text_colour, goal)


def _limits(page: MeasuredPage, ink: tuple[int, int, int, int]) -> tuple[int, int, int, int]:
    """Give the page's margins in pixels: what its texts keep from its sides, but no more than
    is usual; a text that stands farther out may stay as far out."""
    height, width = page.raster.numbers.shape
    rows = np.flatnonzero((page.raster.numbers > 0).any(axis=1))
    columns = np.flatnonzero((page.raster.numbers > 0).any(axis=0))
    most_x, most_y = int(width * MOST_MARGIN), int(height * MOST_MARGIN)
    left = min(int(columns[0]), most_x, ink[0])
    top = min(int(rows[0]), most_y, ink[1])
    right = max(int(columns[-1]) + 1, width - most_x, ink[2])
    bottom = max(int(rows[-1]) + 1, height - most_y, ink[3])
    return left, top, right, bottom


def _taken(
    page: MeasuredPage, level: int, ink: tuple[int, int, int, int], room: int
) -> NDArray[np.bool_]:
    """Tell which pixels other texts and figures have, with some room round them."""
    raster = page.raster
    height, width = raster.numbers.shape
    own = {
        number
        for pair in page.pairs
        if (place := page.places.get(pair.id)) is not None and place.level == level
        for number in place.words
    }
    taken = np.zeros((height, width), bool)
    for number, area in enumerate(areas_of(raster.numbers, raster.word_count), start=1):
        if area is not None and number not in own:
            _fill(taken, (area[1].start, area[0].start, area[1].stop, area[0].stop), room)
    scale = raster.scale
    now = Box(ink[0], ink[1], ink[2] - ink[0], ink[3] - ink[1])
    for at, item in enumerate(raster.scene.items):
        if at == level or not isinstance(item, Figure | Picture | Obstacle):
            continue
        box = extent(item)
        pixels = Box(box.x * scale, box.y * scale, box.width * scale, box.height * scale)
        # What is behind the text as it stands is behind it elsewhere too.
        ground = at < level and pixels.holds(now)
        if not ground and box.area < MOST_OF_A_PAGE * raster.scene.width * raster.scene.height:
            corners = (pixels.x, pixels.y, pixels.right, pixels.bottom)
            _fill(taken, corners, room)
    return taken


def _fill(mask: NDArray[np.bool_], corners: tuple[float, float, float, float], room: int) -> None:
    left, top, right, bottom = corners
    rows = slice(max(0, math.floor(top) - room), max(0, math.ceil(bottom) + room))
    columns = slice(max(0, math.floor(left) - room), max(0, math.ceil(right) + room))
    mask[rows, columns] = True


def _edges(page: MeasuredPage, level: int) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Give the edges of the page's other texts, and the middles of the page, in pixels."""
    scale = page.raster.scale
    across, down = [page.raster.scene.width * scale / 2], [page.raster.scene.height * scale / 2]
    for pair in page.pairs:
        place = page.places.get(pair.id)
        if place is not None and place.level != level and pair.subject is Subject.TEXT:
            x, y, width, height = (side * scale for side in pair.bbox)
            across += [x, x + width]
            down += [y, y + height]
    return tuple(dict.fromkeys(across)), tuple(dict.fromkeys(down))


def _middles(page: MeasuredPage, level: int) -> tuple[float, ...]:
    """Give where the page's other texts have their middles, down the page, in pixels."""
    return tuple(
        (pair.bbox[1] + pair.bbox[3] / 2) * page.raster.scale
        for pair in page.pairs
        if (place := page.places.get(pair.id)) is not None
        and place.level != level
        and pair.subject is Subject.TEXT
    )
