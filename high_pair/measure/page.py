"""Measuring a whole page: every stretch of its text, with its verdict."""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.measure.footprint import (
    Footprint,
    areas_of,
    between,
    footprint_of,
    grow,
    grown_area,
    one_colour,
    radius_of,
    ratios_of,
)
from high_pair.measure.graphics import measure_graphic
from high_pair.measure.painted import measure_painted
from high_pair.measure.pairs import (
    Pair,
    judged,
    link_pair,
    numbers_of,
    numbers_of_shades,
    pair_of,
    required_ratio,
)
from high_pair.measure.picture_text import measure_picture_text
from high_pair.measure.stated import measure_stated
from high_pair.measure.stretches import Stretch, stretches_of
from high_pair.measure.unrest import unrest_of
from high_pair.raster.layout import lay_out
from high_pair.raster.page import (
    LabelledBlock,
    Lost,
    Over,
    PageRaster,
    lost_pixels,
    paint_above,
)
from high_pair.raster.painting import paint_of
from high_pair.raster.pictures import Pictures
from high_pair.scene.geometry import Box
from high_pair.scene.page import Picture, PictureText, StatedText
from high_pair.scene.paint import BLACK, Colour
from high_pair.scene.painted import PaintedGraphic, PaintedSurface, PaintedText
from high_pair.scene.text import Run, TextBlock
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Exemption, Verdict

Area = tuple[slice, slice]


class Add(Protocol):
    """Takes a pair and its footprints in, and gives it with its id."""

    def __call__(
        self, pair: Pair, own: tuple[Footprint, ...], place: InkPlace | None = None
    ) -> Pair:
        """Take a pair in."""


# Which of its colours a letter shows at a place depends on the program.
SHADES = (
    "its letters have several colours, by a gradient, a pattern or an outline, "
    "and not all of them have enough contrast"
)
# Sizes that are surely not, and surely, large-scale, in points.
SMALL, LARGE = 8.0, 36.0
# Text this see-through, less than one level of 255, isn't there.
LEAST_OPACITY = 1 / 255


@dataclass(frozen=True)
class InkPlace:
    """Where a pair's ink is.

    level: its block's place in the scene's items; words: their numbers on the
    raster; size: of the text in points; highlighted: a highlight lies below it.
    """

    level: int
    words: tuple[int, ...]
    size: float
    highlighted: bool


@dataclass(frozen=True)
class MeasuredPage:
    """A page's pairs, and for each pair that was measured its words' footprints.

    places: where the ink of each pair is, that was laid out as text; stated: the
    cells of the others, where a sheet states them.
    """

    raster: PageRaster
    pairs: tuple[Pair, ...]
    footprints: Mapping[str, tuple[Footprint, ...]]
    places: Mapping[str, InkPlace] = field(default_factory=dict)
    stated: Mapping[str, StatedText] = field(default_factory=dict)


@dataclass(frozen=True)
class _Finding:
    """What is known of a stretch before the ratio: its ink's box, its footprints, or why not.

    anywhere: all that it may stand on, when its place is in doubt for that reason; strongest: what
    is behind it where that is as good for it as it may be, when it isn't known and the footprints
    are of the worst.
    """

    bbox: tuple[float, float, float, float]
    footprints: tuple[Footprint, ...] = ()
    verdict: Verdict | None = None
    reason: str = ""
    anywhere: Footprint | None = None
    strongest: tuple[Footprint, ...] = ()


def measure_page(raster: PageRaster, pictures: Pictures, page: int, asked: Asked) -> MeasuredPage:
    """Measure every stretch of text on a page.

    page: its number from 1, for the pairs' ids. Text that can't be measured
    honestly is `needs_eyes` with the reason; nothing is left out.
    """
    areas = areas_of(raster.numbers, raster.word_count)
    pairs: list[Pair] = []
    footprints: dict[str, tuple[Footprint, ...]] = {}
    places: dict[str, InkPlace] = {}
    stated: dict[str, StatedText] = {}

    def add(pair: Pair, own: tuple[Footprint, ...], place: InkPlace | None = None) -> Pair:
        aim = asked.aim.of(pair.required)
        named = replace(pair, id=f"p{page}-{len(pairs) + 1:04d}", aim=aim)
        if place is not None and named.numbers is not None and named.numbers.varied:
            unrest = _unrest_behind(raster, named)
            picture = _picture_behind(raster, place.level, named)
            numbers = replace(named.numbers, unrest=unrest)
            named = replace(named, numbers=numbers, picture=picture)
        pairs.append(named)
        if place is not None:
            places[named.id] = place
        if named.numbers is not None:
            footprints[named.id] = own
        return named

    plain = one_colour(raster.backdrop)
    labelled_levels = {labelled.level for labelled in raster.blocks}
    for labelled in raster.blocks:
        conditions = _Conditions(raster, pictures, labelled, areas, plain)
        by_paragraph: dict[int, list[tuple[Stretch, Pair]]] = {}
        for stretch in stretches_of(labelled):
            finding = conditions.find(stretch)
            pair = _judge(raster, stretch, finding, page, asked)
            pair = add(pair, finding.footprints, _ink_place(stretch))
            if not stretch.bullet:
                by_paragraph.setdefault(stretch.paragraph, []).append((stretch, pair))
        for neighbours in by_paragraph.values():
            looks = [(stretch.look, stretch.text, pair) for stretch, pair in neighbours]
            for look, _, pair in looks:
                entry = _link_entry(look, pair, looks, asked)
                if entry:
                    entry = _exempt_when_hidden(entry, raster.scene.hidden)
                    add(entry, footprints[pair.id])
    _measure_painted(raster, areas, page, asked, add)
    for level, item in enumerate(raster.scene.items):
        if isinstance(item, TextBlock) and level not in labelled_levels:
            for pair in _uncounted(item, page, asked):
                add(pair, ())
        elif isinstance(item, PictureText):
            add(*measure_picture_text(raster, item, page, asked))
        elif isinstance(item, StatedText):
            for pair, own in measure_stated(item, page, asked):
                hidden = _exempt_when_hidden(pair, raster.scene.hidden)
                stated[add(hidden, own).id] = item
    return MeasuredPage(raster, tuple(pairs), footprints, places, stated)


def _measure_painted(
    raster: PageRaster, areas: list[Area | None], page: int, asked: Asked, add: Add
) -> None:
    """Measure the texts and graphics of a page that another program has painted."""
    painting = raster.scene.painting
    if painting is None:
        return
    paragraphs: dict[int, list[tuple[Run, str, Pair]]] = {}
    prints: dict[str, tuple[Footprint, ...]] = {}
    for level, first in raster.painted:
        item = raster.scene.items[level]
        assert isinstance(item, PaintedText)
        numbers = tuple(range(first, first + len(item.words)))
        own = [areas[number - 1] for number in numbers]
        pair, footprints = measure_painted(raster, painting, item, first, own, page, asked)
        # What lies on a part of the painting that isn't the page has no place for overlays.
        place = InkPlace(level, numbers, item.run.size, False) if item.on_page else None
        pair = add(pair, footprints, place)
        prints[pair.id] = footprints
        if not item.appears:
            paragraphs.setdefault(item.paragraph, []).append((item.run, item.run.text, pair))
    for looks in paragraphs.values():
        for look, _, pair in looks:
            entry = _link_entry(look, pair, looks, asked)
            if entry:
                add(entry, prints[pair.id])
    for item in raster.scene.items:
        if isinstance(item, PaintedGraphic):
            add(*measure_graphic(painting, item, page, asked))


def _unrest_behind(raster: PageRaster, pair: Pair) -> float:
    """Give the unrest of what is behind a text, within its box and a letter round it."""
    x_height = pair.x_height * pair.size * raster.scale
    x, y, width, height = (side * raster.scale for side in pair.bbox)
    rows = slice(max(0, round(y - x_height)), max(0, round(y + height + x_height)))
    columns = slice(max(0, round(x - x_height)), max(0, round(x + width + x_height)))
    return unrest_of(raster.backdrop[rows, columns], x_height)


def _picture_behind(raster: PageRaster, level: int, pair: Pair) -> str:
    """Name the topmost picture below a place in the scene that a text's box touches."""
    ink = Box(*pair.bbox)
    for item in reversed(raster.scene.items[:level]):
        if isinstance(item, Picture) and item.silhouette is None:
            if item.transform.bounds(item.box).overlaps(ink):
                return item.name
        elif isinstance(item, PaintedSurface) and item.picture and item.box.overlaps(ink):
            return item.address
    return ""


def _ink_place(stretch: Stretch) -> InkPlace:
    words = tuple(number for number, _ in stretch.words)
    look = stretch.look
    return InkPlace(stretch.labelled.level, words, look.size, look.highlight is not None)


def _uncounted(block: TextBlock, page: int, asked: Asked) -> list[Pair]:
    """Give the pairs of a block whose words found no numbers on the raster."""
    labelled = LabelledBlock(block, 0, (), -1, estimated=True)
    found = []
    for number, paragraph in enumerate(block.paragraphs):
        runs = tuple(run for run in paragraph.runs if run.text.strip())
        if runs:
            stretch = Stretch(runs, labelled, number, (), False)
            finding = _Finding(
                (0.0, 0.0, 0.0, 0.0),
                verdict=Verdict.NEEDS_EYES,
                reason="the page has more words than High Pair can tell apart",
            )
            found.append(_pair(stretch, finding, page, asked))
    return found


def _pair(stretch: Stretch, finding: _Finding, page: int, asked: Asked) -> Pair:
    labelled = stretch.labelled
    return pair_of(
        stretch.look,
        page,
        labelled.block.where,
        asked,
        finding.bbox,
        estimated=labelled.estimated,
        text=stretch.text,
        address=stretch.address,
        verdict=finding.verdict or Verdict.NEEDS_EYES,
        reason=finding.reason,
    )


def _judge(
    raster: PageRaster, stretch: Stretch, finding: _Finding, page: int, asked: Asked
) -> Pair:
    pair = _pair(stretch, finding, page, asked)
    if finding.verdict is None:
        shades = stretch.look.shades or (pair.text_colour,)
        found = numbers_of_shades(
            finding.footprints, shades, pair.required, asked.coverage, raster.scale
        )
        if found is None:
            pair = replace(pair, reason=stretch.look.why_shades or SHADES)
        elif (finding.strongest and not _is_sure(finding, found[0].ratio, pair, asked)) or (
            finding.anywhere is not None
            and _depends_on_place(finding.anywhere, shades, pair.required)
        ):
            pair = replace(pair, reason=finding.reason)
        else:
            numbers, colour = found
            pair = judged(pair, numbers, text_colour=colour, reason="")
            if stretch.look.unsized:
                pair = _in_either_size(pair, stretch.look.unsized, asked)
    return _exempt_when_hidden(pair, raster.scene.hidden)


def _is_sure(finding: _Finding, worst: float, pair: Pair, asked: Asked) -> bool:
    """Tell whether a text has one verdict on all that may be behind it."""
    best = numbers_of(finding.strongest, pair.text_colour, pair.required, asked.coverage, 1.0)
    return worst >= pair.required or best.ratio < pair.required


def _in_either_size(pair: Pair, why: str, asked: Asked) -> Pair:
    """Give the verdict of a text of unknown size where it is the same for small and for large."""
    _, most = required_ratio(Subject.TEXT, SMALL, pair.weight, asked.level)
    _, least = required_ratio(Subject.TEXT, LARGE, pair.weight, asked.level)
    ratio = pair.ratio or 0.0
    if least <= ratio < most:
        return replace(pair, verdict=Verdict.NEEDS_EYES, reason=why, numbers=None)
    return pair


def _depends_on_place(anywhere: Footprint, shades: Sequence[Colour], required: float) -> bool:
    """Tell whether text in doubt passes on some of what it may stand on, and not on the rest."""
    passes = np.concatenate([ratios_of(anywhere, shade) >= required for shade in shades])
    return bool(passes.any() and not passes.all())


def _exempt_when_hidden(pair: Pair, hidden: bool) -> Pair:
    if not hidden or pair.verdict is Verdict.EXEMPT:
        return pair
    return replace(pair, verdict=Verdict.EXEMPT, reason=str(Exemption.HIDDEN_PAGE))


def _link_entry(
    look: Run, pair: Pair, neighbours: list[tuple[Run, str, Pair]], asked: Asked
) -> Pair | None:
    """Give a link's second entry where nothing but colour tells it from the text around it."""
    if not look.link or look.underline:
        return None
    around = [entry for entry in neighbours if not entry[0].link]
    if not around:
        return None
    other, _, surroundings = max(around, key=lambda entry: len(entry[1]))
    told_apart = (
        look.weight != other.weight
        or look.italic != other.italic
        or look.size != other.size
        or look.highlight != other.highlight
    )
    return None if told_apart else link_pair(pair, surroundings, asked.level)


@dataclass
class _Grown:
    """A stretch's footprints; lost: why what is behind isn't known, and strongest: the best that
    it may be, where all that it may be is."""

    footprints: list[Footprint]
    lost: str = ""
    strongest: list[Footprint] = field(default_factory=list)


class _Conditions:
    """What holds for all stretches of one block: what is above it, lost, or in doubt."""

    def __init__(
        self,
        raster: PageRaster,
        pictures: Pictures,
        labelled: LabelledBlock,
        areas: list[Area | None],
        page: Bytes | None,
    ) -> None:
        """Work it out. page: its colour, uint8 (1, 3), where it has one all over."""
        self.raster = raster
        self.labelled = labelled
        self.areas = areas
        self.above: Over | None = None
        self.lost: Lost | None = None
        self.lost_above: Lost | None = None
        self.in_doubt = ""
        self.anywhere: Footprint | None = None
        # The colour behind the whole block where it is one: uint8 (1, 3).
        self.plain: Bytes | None = None
        whole = self._whole_area()
        if whole is None:
            return
        self.plain = page if page is not None else one_colour(raster.backdrop[whole])
        self.above = paint_above(raster, labelled.level, whole, pictures)
        self.lost = self._lost(whole, pictures, above_only=False)
        if self.lost is not None:
            # An opaque highlight hides what is lost below it, not what is lost above.
            self.lost_above = self._lost(whole, pictures, above_only=True)
        if labelled.block.doubt:
            self._doubt(whole, pictures)

    def _lost(self, area: Area, pictures: Pictures, above_only: bool) -> Lost | None:
        return lost_pixels(self.raster, self.labelled.level, area, pictures, above_only)

    def _area_of(self, number: int) -> Area | None:
        return self.areas[number - 1] if number <= len(self.areas) else None

    def _whole_area(self) -> Area | None:
        """Give the part of the raster that holds all of the block's footprints."""
        found = [
            area
            for offset in range(len(self.labelled.words))
            if (area := self._area_of(self.labelled.first + offset)) is not None
        ]
        if not found:
            return None
        size = max(word.run.size for word in self.labelled.words)
        rows = slice(min(a[0].start for a in found), max(a[0].stop for a in found))
        columns = slice(min(a[1].start for a in found), max(a[1].stop for a in found))
        shape = self.raster.numbers.shape
        radius = radius_of(size, self.raster.scale)
        return grown_area((rows, columns), radius, (shape[0], shape[1]))

    def _doubt(self, ink: Area, pictures: Pictures) -> None:
        """Find out all that the text may stand on, wherever in its region it stands."""
        block = self.labelled.block
        region = self._region(ink)
        lost = self._lost(region, pictures, above_only=False)
        if lost is not None:
            self.in_doubt = lost.reasons
            return
        if paint_above(self.raster, self.labelled.level, region, pictures):
            self.in_doubt = block.doubt
            return
        part = self.raster.backdrop[region].reshape(-1, 3)
        if part.size and not (part == part[0]).all():
            colours, counts = np.unique(part, axis=0, return_counts=True)
            box = (region[1].start, region[0].start, region[1].stop, region[0].stop)
            self.anywhere = Footprint("", colours, counts, box)

    def _region(self, ink: Area) -> Area:
        block = self.labelled.block
        bounds = block.transform.bounds(block.region or block.box)
        scale = self.raster.scale
        height, width = self.raster.numbers.shape
        rows = slice(
            max(0, min(ink[0].start, int(bounds.y * scale))),
            min(height, max(ink[0].stop, int(bounds.bottom * scale))),
        )
        columns = slice(
            max(0, min(ink[1].start, int(bounds.x * scale))),
            min(width, max(ink[1].stop, int(bounds.right * scale))),
        )
        return rows, columns

    def find(self, stretch: Stretch) -> _Finding:
        look = stretch.look
        boxes = [area for number, _ in stretch.words if (area := self._area_of(number))]
        bbox = self._bbox(boxes)
        if look.invisible:
            return _Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.INVISIBLE))
        if look.colour.opacity < LEAST_OPACITY and not look.trouble:
            return _Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.TRANSPARENT))
        if not boxes:
            return self._without_ink(bbox)
        if look.trouble:
            return _Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=look.trouble)
        if self.in_doubt:
            return _Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=self.in_doubt)
        solid = self._solid_footprints(stretch)
        found = self._grown_footprints(stretch) if solid is None else _Grown(solid)
        if found.lost and not found.strongest:
            return _Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=found.lost)
        if not found.footprints:
            return _Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.COVERED))
        if found.strongest:
            worst, best = tuple(found.footprints), tuple(found.strongest)
            return _Finding(bbox, worst, reason=found.lost, strongest=best)
        return self._measurable(look, bbox, tuple(found.footprints))

    def _measurable(
        self,
        look: Run,
        bbox: tuple[float, float, float, float],
        footprints: tuple[Footprint, ...],
    ) -> _Finding:
        """Give the footprints with all that the text may stand on, if its place is in doubt."""
        highlight = look.highlight
        if self.anywhere is None or (highlight is not None and highlight.opacity >= 1):
            return _Finding(bbox, footprints)
        doubt = self.labelled.block.doubt
        if highlight is not None:
            return _Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=doubt)
        return _Finding(bbox, footprints, reason=doubt, anywhere=self.anywhere)

    def _bbox(self, boxes: list[Area]) -> tuple[float, float, float, float]:
        if not boxes:
            return (0.0, 0.0, 0.0, 0.0)
        scale = self.raster.scale
        left, right = min(a[1].start for a in boxes), max(a[1].stop for a in boxes)
        top, bottom = min(a[0].start for a in boxes), max(a[0].stop for a in boxes)
        return (left / scale, top / scale, (right - left) / scale, (bottom - top) / scale)

    def _without_ink(self, bbox: tuple[float, float, float, float]) -> _Finding:
        """Tell why a stretch has no ink on the page."""
        if not self._reaches_page:
            return _Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.OFF_PAGE))
        return _Finding(
            bbox,
            verdict=Verdict.NEEDS_EYES,
            reason="none of its ink can be seen on the page: other text covers it, "
            "it runs off the page, or the fonts at hand lack its characters",
        )

    @functools.cached_property
    def _reaches_page(self) -> bool:
        """Whether any of the block's paragraphs lies on the page."""
        block = self.labelled.block
        blank = paint_of(BLACK)
        page = Box(0.0, 0.0, self.raster.scene.width, self.raster.scene.height)
        return any(
            block.transform.bounds(Box(each.x, each.y, each.width, each.height)).overlaps(page)
            for each in lay_out(block, lambda _number, _run: blank)
        )

    def _grown(self, area: Area, stretch: Stretch) -> Area:
        height, width = self.raster.numbers.shape
        return grown_area(area, radius_of(stretch.look.size, self.raster.scale), (height, width))

    def _solid_footprints(self, stretch: Stretch) -> list[Footprint] | None:
        """Give the footprints when one colour lies all round every word, else None.

        Growing the ink would change nothing there but the count of pixels.
        """
        if self.lost is not None or self.above is not None or stretch.look.highlight:
            return None
        found: list[Footprint] = []
        for number, text in stretch.words:
            area = self._area_of(number)
            if area is None:
                continue
            rows, columns = self._grown(area, stretch)
            one = self.plain
            if one is None:
                one = one_colour(self.raster.backdrop[rows, columns])
                if one is None or (found and not np.array_equal(one, found[0].backdrops)):
                    return None
            pixels = (rows.stop - rows.start) * (columns.stop - columns.start)
            box = (columns.start, rows.start, columns.stop, rows.stop)
            found.append(Footprint(text, one, np.array([pixels], np.int64), box))
            if self.plain is not None:
                # All words stand on one colour: the first speaks for them.
                break
        return found

    def _grown_footprints(self, stretch: Stretch) -> _Grown:
        """Give the footprints of the words that aren't covered, or why what is behind is lost."""
        raster = self.raster
        highlight = stretch.look.highlight
        hides = highlight is not None and highlight.opacity >= 1
        lost = self.lost_above if hides else self.lost
        shades = stretch.look.shades or (stretch.look.colour,)
        # Only plain letters on what is below them are measured on more than one thing.
        varies = highlight is None and self.above is None and len(shades) == 1
        found = _Grown([])
        best: list[Footprint] = []
        for number, text in stretch.words:
            area = self._area_of(number)
            if area is None:
                continue
            grown = self._grown(area, stretch)
            mask = grow(raster.numbers[grown] == number, radius_of(stretch.look.size, raster.scale))
            if lost is not None:
                whole = lost.area
                inner = (
                    slice(grown[0].start - whole[0].start, grown[0].stop - whole[0].start),
                    slice(grown[1].start - whole[1].start, grown[1].stop - whole[1].start),
                )
                unsure = lost.mask[inner] & mask
                if unsure.any():
                    found.lost = lost.reasons
                    if not lost.ends or not varies:
                        return _Grown([], lost=lost.reasons)
                    sure = raster.backdrop[grown][mask & ~unsure]
                    ends = [end[inner][unsure] for end in lost.ends]
                    worst, strongest = between(text, sure, ends, grown, shades[0])
                    found.footprints.append(worst)
                    best.append(strongest)
                    continue
            footprint = footprint_of(text, mask, grown, raster.backdrop, highlight, self.above)
            if footprint is not None:
                found.footprints.append(footprint)
                best.append(footprint)
        if found.lost:
            found.strongest = best
        return found
