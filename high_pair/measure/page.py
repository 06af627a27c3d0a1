"""Measuring a whole page: every stretch of its text, with its verdict."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Protocol

from high_pair.measure.conditions import Conditions, Finding
from high_pair.measure.footprint import (
    Footprint,
    areas_of,
    one_colour,
)
from high_pair.measure.graphics import measure_graphic
from high_pair.measure.judging import exempt_when_hidden, judge, pair_of_stretch
from high_pair.measure.painted import measure_painted
from high_pair.measure.pairs import (
    Pair,
    link_pair,
)
from high_pair.measure.picture_text import measure_picture_text
from high_pair.measure.stated import measure_stated
from high_pair.measure.stretches import Stretch, stretches_of
from high_pair.measure.unrest import unrest_of
from high_pair.measure.widths import may_stand_otherwise, with_other_widths
from high_pair.raster.page import (
    LabelledBlock,
    PageRaster,
)
from high_pair.raster.pictures import Pictures
from high_pair.scene.geometry import Box
from high_pair.scene.page import Picture, PictureText, StatedText
from high_pair.scene.painted import PaintedGraphic, PaintedSurface, PaintedText
from high_pair.scene.text import Run, TextBlock
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

Area = tuple[slice, slice]


class Add(Protocol):
    """Takes a pair and its footprints in, and gives it with its id."""

    def __call__(
        self, pair: Pair, own: tuple[Footprint, ...], place: InkPlace | None = None
    ) -> Pair:
        """Take a pair in."""


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
        conditions = Conditions(raster, pictures, labelled, areas, plain)
        by_paragraph: dict[int, list[tuple[Stretch, Pair]]] = {}
        stretches = stretches_of(labelled)
        findings = [conditions.find(stretch) for stretch in stretches]
        judged = [
            judge(raster, stretch, finding, page, asked)
            for stretch, finding in zip(stretches, findings, strict=True)
        ]
        if may_stand_otherwise(raster, labelled, conditions):
            judged = with_other_widths(raster, pictures, labelled, judged, page, asked)
        for stretch, finding, each in zip(stretches, findings, judged, strict=True):
            pair = add(each, finding.footprints, _ink_place(stretch))
            if not stretch.bullet:
                by_paragraph.setdefault(stretch.paragraph, []).append((stretch, pair))
        for neighbours in by_paragraph.values():
            looks = [(stretch.look, stretch.text, pair) for stretch, pair in neighbours]
            for look, _, pair in looks:
                entry = _link_entry(look, pair, looks, asked)
                if entry:
                    entry = exempt_when_hidden(entry, raster.scene.hidden)
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
                hidden = exempt_when_hidden(pair, raster.scene.hidden)
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
            finding = Finding(
                (0.0, 0.0, 0.0, 0.0),
                verdict=Verdict.NEEDS_EYES,
                reason="the page has more words than High Pair can tell apart",
            )
            found.append(pair_of_stretch(stretch, finding, page, asked))
    return found


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
