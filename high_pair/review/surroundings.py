"""Remedies beside another text colour: of what is behind the text, and of its weight and size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, bytes_of, relative_luminance
from high_pair.edits.kinds import Edit, RecolourFill, RecolourText, Restyle
from high_pair.errors import HighPairError
from high_pair.formats.document import Document
from high_pair.measure.page import MeasuredPage
from high_pair.measure.pairs import Pair, required_ratio
from high_pair.raster.layout import text_height
from high_pair.remedy.by_hand import shared_pass
from high_pair.remedy.recolour import lightness_walk
from high_pair.remedy.remedies import Backdrop, Restyled
from high_pair.review.measuring import measured
from high_pair.review.overlaying import Trial, ratio_served
from high_pair.scene.addresses import member_of
from high_pair.scene.geometry import Box
from high_pair.scene.page import Figure, Picture, extent
from high_pair.scene.paint import Colour
from high_pair.scene.painted import PaintedSurface, PaintedText
from high_pair.scene.text import TextBlock
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import (
    LARGE_BOLD_FROM_POINTS,
    LARGE_FROM_POINTS,
    SizeClass,
    Subject,
)
from high_pair.wcag.verdicts import Verdict

Levels = tuple[int, int, int]
# Smaller text than this isn't made large-scale: that would be another design.
LEAST_GROWN = 0.75
# What a text's height may pass its box by and still fit, in points: rounding.
FIT = 0.5


def backdrop_edits(remedy: Backdrop) -> tuple[Edit, ...]:
    """Write another backdrop down as edits."""
    edits: list[Edit] = [RecolourFill(remedy.address, remedy.levels, remedy.serves)]
    if remedy.text is not None:
        edits += [RecolourText(address, remedy.text) for address in remedy.serves]
    return tuple(edits)


@dataclass(frozen=True)
class FillBehind:
    """A fill of one opaque colour right behind a text, and where it can be changed."""

    address: str
    colour: Colour


def fill_behind(page: MeasuredPage, pair: Pair) -> FillBehind | None:
    """Give the fill right behind a text, if it is one colour and can be changed."""
    stated = page.stated.get(pair.id)
    if stated is not None:
        fills = {behind.fill for behind in stated.behind}
        fill = next(iter(fills))
        plain = len(fills) == 1 and isinstance(fill, Colour) and bool(stated.fill_address)
        return FillBehind(stated.fill_address, fill) if plain and isinstance(fill, Colour) else None
    place = page.places.get(pair.id)
    if place is None or place.highlighted:
        return None
    ink = Box(*pair.bbox)
    for item in reversed(page.raster.scene.items[: place.level]):
        if isinstance(item, PaintedSurface) and item.box.overlaps(ink):
            opaque = item.colour is not None and item.colour.opacity >= 1
            return FillBehind(item.address, item.colour) if item.colour and opaque else None
        outline_only = isinstance(item, Figure) and item.fill is None
        if outline_only and pair.numbers is not None and not pair.numbers.varied:
            # Where one colour is behind the text, no line crosses it.
            continue
        if isinstance(item, Figure | Picture) and extent(item).overlaps(ink):
            if isinstance(item, Picture) or not isinstance(item.fill, Colour):
                return None
            # A shape of the layout or the master isn't changed for one page's sake.
            own = bool(item.address) and member_of(item.address) == member_of(pair.address)
            return FillBehind(item.address, item.fill) if own and item.fill.opacity >= 1 else None
    return None


def backdrops_for(pair: Pair, page: MeasuredPage, asked: Asked, trial: Trial) -> list[Backdrop]:
    """Propose other colours for the fill behind a text, and one shared between the two."""
    found = possible_backdrops(pair, page)
    return [done for each in found if (done := _tried(each, page, asked, trial)) is not None]


def possible_backdrops(pair: Pair, page: MeasuredPage) -> list[Backdrop]:
    """Work out colours for the fill behind a text on which all that stands there passes."""
    behind = fill_behind(page, pair)
    if behind is None or pair.text_colour.opacity < 1:
        return []
    others = [
        each
        for each in page.pairs
        if each.subject is Subject.TEXT
        and each.numbers is not None
        and each.text_colour.opacity >= 1
        and fill_behind(page, each) == behind
    ]
    falling = [each for each in others if each.verdict is Verdict.FALLS_SHORT]
    passing = [each for each in others if each.verdict is Verdict.PASSES]
    walk = lightness_walk(behind.colour.levels)
    good = np.ones(len(walk), bool)
    for each in (*falling, *passing):
        own = np.array(each.text_colour.levels, np.uint8)
        good &= contrast_ratio(own, walk) >= each.goal
    serves = tuple(dict.fromkeys(each.address for each in falling))
    found = [
        Backdrop(behind.address, levels, 0.0, difference, serves)
        for levels, difference in _nearest(walk, good, behind.colour.levels)
    ]
    shared = _shared(pair, behind, passing)
    if shared is not None:
        found.append(shared)
    return found


def plates_for(
    pair: Pair, address: str, page: MeasuredPage, asked: Asked, trial: Trial
) -> list[Backdrop]:
    """Propose a fill of the text's own right behind its words, where it can have one."""
    found = possible_plates(pair, address)
    return [done for each in found if (done := _tried(each, page, asked, trial)) is not None]


def possible_plates(pair: Pair, address: str) -> list[Backdrop]:
    """Work out colours for a fill of the text's own right behind its words."""
    if pair.numbers is None or pair.text_colour.opacity < 1:
        return []
    # Where what is behind varies, the nearest to what the weakest word has there.
    red, green, blue = (int(level) for level in bytes_of(pair.numbers.background))
    walk = lightness_walk((red, green, blue))
    own = np.array(pair.text_colour.levels, np.uint8)
    good = contrast_ratio(own, walk) >= pair.goal
    found = [
        Backdrop(address, levels, 0.0, difference, (pair.address,), plate=True)
        for levels, difference in _nearest(walk, good, (red, green, blue))
    ]
    return sorted(found, key=lambda each: each.difference)


def _nearest(walk: Bytes, good: np.ndarray, levels: Levels) -> list[tuple[Levels, float]]:
    """Give the nearest good colour on either side in luminance, with its ΔE00."""
    own = relative_luminance(np.array(levels, np.uint8))
    luminances = relative_luminance(walk)
    differences = ciede2000(walk / 255.0, np.array(levels) / 255.0)
    found = []
    for side in (luminances < own, luminances > own):
        places = np.flatnonzero(good & side)
        if len(places):
            best = int(places[np.argmin(differences[places])])
            red, green, blue = (int(level) for level in walk[best])
            found.append(((red, green, blue), float(differences[best])))
    return found


def _shared(pair: Pair, behind: FillBehind, passing: Sequence[Pair]) -> Backdrop | None:
    """Share the change between a text and its backdrop, where no other text stands on that."""
    if passing:
        return None
    found = shared_pass(pair.text_colour, behind.colour, pair.goal)
    if found is None:
        return None
    text, backdrop = found
    changes = ((pair.text_colour, text), (behind.colour, backdrop))
    difference = max(
        float(ciede2000(np.array(one.levels) / 255, np.array(other.levels) / 255))
        for one, other in changes
    )
    return Backdrop(behind.address, backdrop.levels, 0.0, difference, (pair.address,), text.levels)


def _tried(remedy: Backdrop, page: MeasuredPage, asked: Asked, trial: Trial) -> Backdrop | None:
    number = page.pairs[0].page - 1
    try:
        after = measured(trial(backdrop_edits(remedy)), number, asked)
    except HighPairError:
        return None
    ratio = ratio_served(page, after, remedy.serves)
    return None if ratio is None else replace(remedy, ratio=ratio)


# Weight and size


def restyles_for(pair: Pair, page: MeasuredPage, asked: Asked, trial: Trial) -> list[Restyled]:
    """Propose bold, or the next size that is large-scale, where that alone passes and fits."""
    if pair.size_class is SizeClass.LARGE or pair.ratio is None or pair.id not in page.places:
        return []
    _, enough = required_ratio(Subject.TEXT, LARGE_FROM_POINTS, pair.weight, asked.level)
    if pair.ratio < asked.aim.of(enough):
        return []
    found = []
    if not pair.bold and pair.size >= LARGE_BOLD_FROM_POINTS:
        found.append(Restyled(pair.address, None, True, pair.ratio, enough))
    size = LARGE_BOLD_FROM_POINTS if pair.bold else LARGE_FROM_POINTS
    if pair.size >= size * LEAST_GROWN:
        found.append(Restyled(pair.address, size, None, pair.ratio, enough))
    bold = LARGE_BOLD_FROM_POINTS
    if not pair.bold and bold * LEAST_GROWN <= pair.size < bold:
        found.append(Restyled(pair.address, bold, True, pair.ratio, enough))
    return [done for each in found if (done := fitting(each, pair, page, asked, trial))]


def fitting(
    remedy: Restyled, pair: Pair, page: MeasuredPage, asked: Asked, trial: Trial
) -> Restyled | None:
    """Give another weight or size as it measures, None where the text has no room for it."""
    edit = Restyle(remedy.address, remedy.size, remedy.bold)
    try:
        after = measured(trial([edit]), pair.page - 1, asked)
    except HighPairError:
        return None
    ratio = ratio_served(page, after, (pair.address,)) if has_room(pair, page, after) else None
    return None if ratio is None else replace(remedy, ratio=ratio)


def has_room(pair: Pair, page: MeasuredPage, after: MeasuredPage) -> bool:
    """Tell whether a text still fits its box. page, after: before and after it was made larger."""
    place = page.places.get(pair.id)
    if place is None:
        return False
    items = after.raster.scene.items
    block = items[place.level] if place.level < len(items) else None
    if isinstance(block, PaintedText):
        # A page grows with its text.
        return True
    return isinstance(block, TextBlock) and text_height(block) <= block.box.height + FIT


def restyle_edits(remedy: Restyled) -> tuple[Edit, ...]:
    """Write another weight or size down as an edit."""
    return (Restyle(remedy.address, remedy.size, remedy.bold, remedy.underline),)


def underlines_for(pair: Pair, asked: Asked, trial: Trial) -> list[Restyled]:
    """Propose an underline for a link that nothing but colour tells from the text around it."""
    remedy = Restyled(pair.address, None, None, pair.ratio or 0.0, pair.required, underline=True)
    try:
        after = measured(trial(restyle_edits(remedy)), pair.page - 1, asked)
    except HighPairError:
        return []
    here = [each for each in after.pairs if each.address == pair.address]
    told = [each for each in here if each.subject is Subject.LINK]
    return [remedy] if here and not told else []


def around(
    pair: Pair, document: Document, page: MeasuredPage, asked: Asked, trial: Trial
) -> list[Backdrop | Restyled]:
    """Give all remedies of this kind for a pair of an open document."""
    if pair.subject is Subject.LINK:
        underlined = page.raster.scene.painting is not None
        return [*underlines_for(pair, asked, trial)] if underlined else []
    plate = document.plate_address(pair.address)
    changes = (
        plate is not None
        or document.overlay_address(pair.address) is not None
        or pair.id in page.stated
    )
    if pair.subject is not Subject.TEXT or not changes:
        return []
    backdrops = backdrops_for(pair, page, asked, trial)
    plates = plates_for(pair, plate, page, asked, trial) if plate is not None else []
    return [*backdrops, *restyles_for(pair, page, asked, trial), *plates]
