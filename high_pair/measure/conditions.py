"""What holds for the stretches of one block of text: where their ink is, and what is behind it."""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass, field

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.measure.footprint import (
    Footprint,
    between,
    footprint_of,
    grow,
    grown_area,
    mixed_between,
    one_colour,
    radius_of,
    through,
)
from high_pair.measure.stretches import Stretch
from high_pair.raster.layout import lay_out
from high_pair.raster.page import LabelledBlock, Lost, Over, PageRaster, lost_pixels, paint_above
from high_pair.raster.painting import paint_of
from high_pair.raster.pictures import Pictures
from high_pair.scene.geometry import Box
from high_pair.scene.paint import BLACK
from high_pair.scene.text import Run
from high_pair.wcag.verdicts import Exemption, Verdict

Area = tuple[slice, slice]
# Text this see-through, less than one level of 255, isn't there.
LEAST_OPACITY = 1 / 255


@dataclass(frozen=True)
class Finding:
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


@dataclass
class Grown:
    """A stretch's footprints; lost: why what is behind isn't known, and strongest: the best that
    it may be, where all that it may be is."""

    footprints: list[Footprint]
    lost: str = ""
    strongest: list[Footprint] = field(default_factory=list)


class Conditions:
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
        # The part of the raster that holds all of the block's footprints; None without ink.
        self.whole = whole = self._whole_area()
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
        if lost is not None and not lost.ends:
            self.in_doubt = lost.reasons
            return
        if paint_above(self.raster, self.labelled.level, region, pictures):
            self.in_doubt = block.doubt
            return
        part = self.raster.backdrop[region].reshape(-1, 3)
        if lost is not None:
            part = mixed_between([end.reshape(-1, 3) for end in lost.ends])[0].reshape(-1, 3)
        if part.size and not (part == part[0]).all():
            colours, counts = np.unique(part, axis=0, return_counts=True)
            box = (region[1].start, region[0].start, region[1].stop, region[0].stop)
            self.anywhere = Footprint("", colours, counts, box)

    def _region(self, ink: Area) -> Area:
        # Whole pixels of it alone: those at its edge show what lies beside it too.
        block = self.labelled.block
        bounds = block.transform.bounds(block.region or block.box)
        scale = self.raster.scale
        height, width = self.raster.numbers.shape
        rows = slice(
            max(0, min(ink[0].start, math.ceil(bounds.y * scale))),
            min(height, max(ink[0].stop, int(bounds.bottom * scale))),
        )
        columns = slice(
            max(0, min(ink[1].start, math.ceil(bounds.x * scale))),
            min(width, max(ink[1].stop, int(bounds.right * scale))),
        )
        return rows, columns

    def find(self, stretch: Stretch) -> Finding:
        """Find out what a stretch of the block lies on, or why that can't be told."""
        look = stretch.look
        boxes = [area for number, _ in stretch.words if (area := self._area_of(number))]
        bbox = self._bbox(boxes)
        if look.invisible:
            return Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.INVISIBLE))
        if look.colour.opacity < LEAST_OPACITY and not look.trouble:
            return Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.TRANSPARENT))
        if not boxes:
            return self._without_ink(bbox)
        if look.trouble:
            return Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=look.trouble)
        if self.in_doubt:
            return Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=self.in_doubt)
        solid = self._solid_footprints(stretch)
        found = self._grown_footprints(stretch) if solid is None else Grown(solid)
        if found.lost and not found.strongest:
            return Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=found.lost)
        if not found.footprints:
            return Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.COVERED))
        if found.strongest:
            worst, best = tuple(found.footprints), tuple(found.strongest)
            return Finding(bbox, worst, reason=found.lost, anywhere=self.anywhere, strongest=best)
        return self._measurable(look, bbox, tuple(found.footprints))

    def _measurable(
        self,
        look: Run,
        bbox: tuple[float, float, float, float],
        footprints: tuple[Footprint, ...],
    ) -> Finding:
        """Give the footprints with all that the text may stand on, if its place is in doubt."""
        highlight = look.highlight
        if self.anywhere is None or (highlight is not None and highlight.opacity >= 1):
            return Finding(bbox, footprints)
        doubt = self.labelled.block.doubt
        if highlight is not None:
            return Finding(bbox, verdict=Verdict.NEEDS_EYES, reason=doubt)
        return Finding(bbox, footprints, reason=doubt, anywhere=self.anywhere)

    def _bbox(self, boxes: list[Area]) -> tuple[float, float, float, float]:
        if not boxes:
            return (0.0, 0.0, 0.0, 0.0)
        scale = self.raster.scale
        left, right = min(a[1].start for a in boxes), max(a[1].stop for a in boxes)
        top, bottom = min(a[0].start for a in boxes), max(a[0].stop for a in boxes)
        return (left / scale, top / scale, (right - left) / scale, (bottom - top) / scale)

    def _without_ink(self, bbox: tuple[float, float, float, float]) -> Finding:
        """Tell why a stretch has no ink on the page."""
        if not self._reaches_page:
            return Finding(bbox, verdict=Verdict.EXEMPT, reason=str(Exemption.OFF_PAGE))
        return Finding(
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
        look = stretch.look
        if self.lost is not None or self.above is not None or look.highlight or look.haze:
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

    def _grown_footprints(self, stretch: Stretch) -> Grown:
        """Give the footprints of the words that aren't covered, or why what is behind is lost."""
        raster = self.raster
        highlight = stretch.look.highlight
        hides = highlight is not None and highlight.opacity >= 1
        lost = self.lost_above if hides else self.lost
        shades = stretch.look.shades or (stretch.look.colour,)
        # Only plain letters on what is below them are measured on more than one thing.
        varies = highlight is None and self.above is None and len(shades) == 1
        haze = stretch.look.haze
        if haze is not None and (lost is not None or self.above is not None or len(shades) > 1):
            return Grown([], lost=haze.why)
        found = Grown([])
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
                        return Grown([], lost=lost.reasons)
                    sure = raster.backdrop[grown][mask & ~unsure]
                    ends = [end[inner][unsure] for end in lost.ends]
                    worst, strongest = between(text, sure, ends, grown, shades[0])
                    found.footprints.append(worst)
                    best.append(strongest)
                    continue
            footprint = footprint_of(text, mask, grown, raster.backdrop, highlight, self.above)
            if footprint is not None and haze is not None:
                found.lost = haze.why
                worst, strongest = through(footprint, haze.colours, grown, shades[0])
                found.footprints.append(worst)
                best.append(strongest)
            elif footprint is not None:
                found.footprints.append(footprint)
                best.append(footprint)
        if found.lost:
            found.strongest = best
        return found
