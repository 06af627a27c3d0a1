"""Measuring text on a page that another program has painted, such as a browser engine.

Its colour is stated, and checked against its painted glyphs; where the two
differ, what is painted counts.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.compositing import over_bytes
from high_pair.colour.srgb import Bytes, Floats
from high_pair.measure.footprint import (
    Above,
    Footprint,
    footprint_of,
    grow,
    grown_area,
    one_colour,
    radius_of,
    ratios_of,
    reached_by,
)
from high_pair.measure.pairs import Pair, judged, numbers_of_shades, pair_of
from high_pair.raster.page import PageRaster
from high_pair.raster.painted import is_pictograph
from high_pair.scene.paint import Colour, from_levels
from high_pair.scene.painted import FULL, OWN_COLOURS, PaintedText, Painting, PixelBox
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Exemption, Verdict

Area = tuple[slice, slice]
# Ink by so much of a pixel shows the text's colour and little else.
CORE = 0.92
# Where a text's colour is in doubt, thinner ink is better than none.
THIN_CORE = 0.6
LEAST_CORES = 4
# What the engine's own rounding and its smoothing of letters may change, in levels.
TOLERANCE = 10.0
# Cores of one colour differ by no more than this.
ALIKE = 16.0
# Below something see-through even the fullest pixels are less than whole ink: they are its strokes
# where so large a share of the ink comes as near to the fullest as this.
PLATEAU = 0.012
PLATEAU_SHARE = 0.15
# Of ink below something see-through at least this share comes through.
LEAST_SHOWN = 0.04
# Words of a text whose colour is checked.
MOST_CHECKED = 6
# So few are enough where they agree within so many levels.
FEW = 2
AT_A_GLANCE = 5.0
MOST_SHADES = 8
# Pixels by which ink may be painted beside where it was found.
BESIDE = 1
# The share of it that has to be there.
MOSTLY = 0.6
FIXED = (
    "Its colour is painted otherwise than its style states, so another one can't be foretold: "
    "change it where the page is made."
)
TOO_LITTLE = "too little of it shows in the view to be measured"
PICTOGRAPH = "its letters are pictographs, which have colours of their own"
SHADES = "its letters show several colours, and not all of them have enough contrast"
# WCAG 2.2, contrast ratio, notes 3 and 4: a narrow border is used as the letter, a wide one as
# background.
BORDERED = (
    "its letters have a border of their own, by a shadow, with enough contrast to them: whether it "
    "serves is for you to see"
)
# Pixels round the letters that are their border, if they have one.
RING = 1.0
# Ink from which a pixel is the letter's, and not its border's.
SOLID = 0.5
# A border goes round so much of the letters: here and there it has the colour of what it is on.
ROUND = 0.9
NO_CORES = "and its letters are too thin to read its colour off the painting"


@dataclass(frozen=True)
class Cores:
    """Pixels that a text's ink covers: what shows there, and what would without the text.

    seen, behind: (n, 3), 0 to 255; ink: (n,), the share of the glyph.
    """

    seen: Floats
    behind: Floats
    ink: Floats


def measure_painted(
    raster: PageRaster,
    painting: Painting,
    item: PaintedText,
    first: int,
    areas: Sequence[Area | None],
    page: int,
    asked: Asked,
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Give a text's pair, without its id, and its words' footprints.

    first: the number of its first word; areas: of its words' ink on the painting,
    None for a word without any.
    """
    where = f"{item.where}, appears {item.appears}" if item.appears else item.where
    pair = pair_of(item.run, page, where, asked, _bbox(raster, item, areas), estimated=False)
    pair = replace(pair, appears=item.appears)
    if item.exempt:
        return replace(pair, verdict=Verdict.EXEMPT, reason=item.exempt), ()
    if item.run.trouble:
        return replace(pair, reason=item.run.trouble), ()
    if not any(areas) and item.words and all(word.cut for word in item.words):
        return replace(pair, reason=TOO_LITTLE), ()
    if not any(areas):
        return replace(pair, verdict=Verdict.EXEMPT, reason=str(Exemption.COVERED)), ()
    plain = _plain(raster, painting, item, first, areas)
    if plain is not None:
        return _judge(pair, (plain,), [item.run.colour], asked, raster, item), (plain,)
    masks = _masks(raster, first, areas)
    if any(is_pictograph(painting, mask, area) for mask, area in masks):
        # Shadows that a filter casts are there whatever the letters' colour, as pictographs are.
        return replace(pair, reason=item.otherwise or PICTOGRAPH), ()
    footprints = _footprints(raster, item, first, areas)
    shades, reason = _shades(painting, item, masks)
    if reason:
        return replace(pair, reason=reason), ()
    if shades:
        pair = replace(pair, fixed=pair.fixed or FIXED)
    if item.blended and len(shades) > 1:
        # Each place of the ink has the colour that what is behind it there gives it.
        footprints, shades = _paired(painting, item, first, areas, raster), []
    found = _judge(pair, footprints, shades or [item.run.colour], asked, raster, item)
    if item.shadowed and found.verdict is Verdict.FALLS_SHORT:
        rings = _borders(raster, painting, item, first, areas)
        if _passes_on(rings, shades or [item.run.colour], pair.required, asked.coverage):
            return replace(pair, reason=BORDERED), ()
    return found, footprints


def _borders(
    raster: PageRaster,
    painting: Painting,
    item: PaintedText,
    first: int,
    areas: Sequence[Area | None],
) -> list[Footprint]:
    """Give of each word the pixels right beside its letters; none where one has no shadow there."""
    found = []
    shadows = painting.shadows
    for number, (word, area) in enumerate(zip(item.words, areas, strict=True), first):
        if area is None:
            continue
        grown = grown_area(area, RING, raster.numbers.shape)
        if shadows is None or grown[0].stop > len(shadows):
            return []
        solid = raster.numbers[grown] == number
        solid &= painting.coverage[grown] >= SOLID * FULL * item.ink_opacity
        ring = grow(solid, RING) & ~solid
        if not ring.any() or shadows[grown][ring].mean() < ROUND:
            return []
        footprint = footprint_of(word.text, ring, grown, raster.backdrop)
        assert footprint is not None, "nothing is above what another program painted"
        found.append(footprint)
    return found


def _passes_on(
    footprints: Sequence[Footprint], shades: Sequence[Colour], required: float, coverage: float
) -> bool:
    """Tell whether all colours of a text have enough contrast on footprints, of which some are."""
    return bool(footprints) and all(
        reached_by(ratios_of(footprint, shade), footprint.counts, coverage) >= required
        for footprint in footprints
        for shade in shades
    )


def _whole(areas: Sequence[Area | None]) -> Area:
    """Give the part of the raster that holds all of some areas, of which one is there."""
    known = [area for area in areas if area is not None]
    return (
        slice(min(a[0].start for a in known), max(a[0].stop for a in known)),
        slice(min(a[1].start for a in known), max(a[1].stop for a in known)),
    )


def _plain(
    raster: PageRaster,
    painting: Painting,
    item: PaintedText,
    first: int,
    areas: Sequence[Area | None],
) -> Footprint | None:
    """Give one footprint for all words, where one colour lies behind them and all is as stated.

    So it is with nearly all text; None where a closer look is needed.
    """
    if item.otherwise or len({word.shift for word in item.words}) > 1:
        return None
    ink = _whole(areas)
    height, width = raster.numbers.shape
    radius = radius_of(item.run.size, raster.scale)
    rows, columns = grown = grown_area(ink, radius, (height, width))
    one = one_colour(raster.backdrop[grown])
    if one is None:
        return None
    numbers = raster.numbers[ink]
    own = (numbers >= first) & (numbers < first + len(item.words))
    coverage = np.where(own, painting.coverage[ink], 0)
    inked = coverage >= CORE * FULL * item.ink_opacity
    if coverage.max() == OWN_COLOURS or inked.sum() < LEAST_CORES:
        return None
    colour = item.run.colour
    share = coverage[inked].mean() / (FULL * max(item.ink_opacity, 1 / 255))
    seen = one[0] + (painting.seen[ink][inked].mean(axis=0) - one[0]) / min(1.0, share)
    stated = np.array(colour.levels) * colour.opacity + one[0] * (1 - colour.opacity)
    if np.abs(seen - stated).max() > AT_A_GLANCE:
        return None
    box = (columns.start, rows.start, columns.stop, rows.stop)
    pixels = (rows.stop - rows.start) * (columns.stop - columns.start)
    seen_first = next(w for w, area in zip(item.words, areas, strict=True) if area is not None)
    return Footprint(seen_first.text, one, np.array([pixels], np.int64), box)


def _bbox(
    raster: PageRaster, item: PaintedText, areas: Sequence[Area | None]
) -> tuple[float, float, float, float]:
    """Give the box on the page of a text's ink, or of its words where it has none, in points."""
    inked = [
        ((area[1].start, area[0].start, area[1].stop, area[0].stop), word.shift)
        for word, area in zip(item.words, areas, strict=True)
        if area
    ] or [(word.box, word.shift) for word in item.words]
    if not inked:
        return (0.0, 0.0, 0.0, 0.0)
    left = min(box[0] + shift[0] for box, shift in inked)
    top = min(box[1] + shift[1] for box, shift in inked)
    right = max(box[2] + shift[0] for box, shift in inked)
    bottom = max(box[3] + shift[1] for box, shift in inked)
    scale = raster.scale
    return (left / scale, top / scale, (right - left) / scale, (bottom - top) / scale)


def _masks(
    raster: PageRaster, first: int, areas: Sequence[Area | None]
) -> list[tuple[NDArray[np.bool_], Area]]:
    """Give the ink of the first few words, each in its area."""
    found = [
        (raster.numbers[area] == number, area)
        for number, area in enumerate(areas, first)
        if area is not None
    ]
    return found[:MOST_CHECKED]


def _footprints(
    raster: PageRaster, item: PaintedText, first: int, areas: Sequence[Area | None]
) -> tuple[Footprint, ...]:
    height, width = raster.numbers.shape
    radius = radius_of(item.run.size, raster.scale)
    shape = (height, width)
    together = len({word.shift for word in item.words}) == 1
    whole = grown_area(_whole(areas), radius, shape)
    plain = one_colour(raster.backdrop[whole]) if together else None
    found = []
    for number, (word, area) in enumerate(zip(item.words, areas, strict=True), first):
        if area is None:
            continue
        grown = grown_area(area, radius, shape)
        if word.cut:
            grown = _within(grown, word.box)
        rows, columns = grown
        box = (columns.start, rows.start, columns.stop, rows.stop)
        one = plain if plain is not None else one_colour(raster.backdrop[grown])
        if one is not None:
            pixels = (rows.stop - rows.start) * (columns.stop - columns.start)
            found.append(Footprint(word.text, one, np.array([pixels], np.int64), box))
            continue
        mask = grow(raster.numbers[grown] == number, radius)
        footprint = footprint_of(word.text, mask, grown, raster.backdrop)
        if footprint is not None:
            found.append(footprint)
    return tuple(found)


def _within(area: Area, box: PixelBox) -> Area:
    """Give the part of an area that lies in a box; some of the area does."""
    (rows, columns), (left, top, right, bottom) = area, box
    return (
        slice(max(rows.start, top), min(rows.stop, bottom)),
        slice(max(columns.start, left), min(columns.stop, right)),
    )


def _cores(
    painting: Painting, item: PaintedText, masks: list[tuple[NDArray[np.bool_], Area]]
) -> Cores:
    seen, behind, ink = [], [], []
    for mask, area in masks:
        coverage = painting.coverage[area][mask]
        sound = coverage != OWN_COLOURS
        seen.append(painting.seen[area][mask][sound])
        behind.append(painting.backdrop[area][mask][sound])
        ink.append(coverage[sound] / (FULL * max(item.ink_opacity, 1 / 255)))
    return Cores(
        np.concatenate(seen).astype(np.float64),
        np.concatenate(behind).astype(np.float64),
        np.minimum(np.concatenate(ink), 1.0),
    )


def _shades(
    painting: Painting, item: PaintedText, masks: list[tuple[NDArray[np.bool_], Area]]
) -> tuple[list[Colour], str]:
    """Give the colours that a text shows where they aren't the one stated, or why none is known.

    No colours and no reason where the painted glyphs agree with what is stated.
    """
    doubted = bool(item.otherwise)
    if not doubted and _agrees(_cores(painting, item, masks[:FEW]), item):
        return [], ""
    cores = _uncovered(_cores(painting, item, masks))
    full = cores.ink >= CORE
    if full.sum() < LEAST_CORES and (doubted or item.group):
        full = cores.ink >= THIN_CORE
    if full.sum() < LEAST_CORES:
        return ([], f"{item.otherwise}, {NO_CORES}") if doubted else ([], "")
    behind, ink = cores.behind[full], cores.ink[full][:, None]
    shown = np.clip(behind + (cores.seen[full] - behind) / ink, 0, 255)
    if not doubted:
        colour = item.run.colour
        stated = over_bytes(
            np.array(colour.levels, np.uint8), colour.opacity, behind.astype(np.uint8)
        )
        apart = np.abs(np.median(shown - stated, axis=0)).max()
        if apart <= TOLERANCE or _is_close_by(painting, item, masks, int(full.sum())):
            return [], ""
    spread = np.percentile(shown, 90, axis=0) - np.percentile(shown, 10, axis=0)
    if spread.max() <= ALIKE:
        red, green, blue = (int(level) for level in np.rint(np.median(shown, axis=0)))
        return [from_levels((red, green, blue))], ""
    return _several(np.rint(shown).astype(np.uint8)), ""


def _paired(
    painting: Painting,
    item: PaintedText,
    first: int,
    areas: Sequence[Area | None],
    raster: PageRaster,
) -> tuple[Footprint, ...]:
    """Give of each word the ink as it is seen, with what is behind it at the same place."""
    found = []
    for number, (word, area) in enumerate(zip(item.words, areas, strict=True), first):
        if area is None:
            continue
        cores = _cores(painting, item, [(raster.numbers[area] == number, area)])
        full = cores.ink >= THIN_CORE
        if not full.any():
            continue
        behind, ink = cores.behind[full], cores.ink[full][:, None]
        shown = np.clip(behind + (cores.seen[full] - behind) / ink, 0, 255)
        rows, columns = area
        found.append(
            Footprint(
                word.text,
                behind.astype(np.uint8),
                np.ones(len(behind), np.int64),
                (columns.start, rows.start, columns.stop, rows.stop),
                Above(behind / 255, shown / 255, np.ones(len(behind))),
            )
        )
    return tuple(found)


def _agrees(cores: Cores, item: PaintedText) -> bool:
    """Tell at a glance whether a few words are painted as stated, as nearly all text is."""
    full = cores.ink >= CORE
    if full.sum() < LEAST_CORES:
        return False
    colour = item.run.colour
    behind = cores.behind[full]
    shown = behind + (cores.seen[full] - behind) / cores.ink[full][:, None]
    stated = np.array(colour.levels) * colour.opacity + behind * (1 - colour.opacity)
    return bool(np.abs((shown - stated).mean(axis=0)).max() <= AT_A_GLANCE)


def _uncovered(cores: Cores) -> Cores:
    """Give ink as a share of the most that shows, where something see-through lies over the text.

    Then the insides of the strokes are alike, and yet none is ink through and through.
    """
    if not len(cores.ink):
        return cores
    most = float(np.percentile(cores.ink, 98))
    if not LEAST_SHOWN < most < CORE:
        return cores
    alike = np.abs(cores.ink - most) <= PLATEAU
    if alike.mean() < PLATEAU_SHARE:
        return cores
    return replace(cores, ink=np.minimum(cores.ink / most, 1.0))


def _is_close_by(
    painting: Painting,
    item: PaintedText,
    masks: list[tuple[NDArray[np.bool_], Area]],
    cores: int,
) -> bool:
    """Tell whether a text is painted as stated after all, a pixel beside where its ink was found.

    So it may be in a state, where letters move by less than their boxes tell.
    """
    colour = item.run.colour
    found = 0
    for _, (rows, columns) in masks:
        area = (
            slice(max(0, rows.start - BESIDE), rows.stop + BESIDE),
            slice(max(0, columns.start - BESIDE), columns.stop + BESIDE),
        )
        behind = painting.backdrop[area].astype(np.float64)
        stated = np.array(colour.levels) * colour.opacity + behind * (1 - colour.opacity)
        unlike = np.abs(stated - behind).max(axis=-1) > 2 * TOLERANCE
        near = np.abs(painting.seen[area] - stated).max(axis=-1) <= TOLERANCE
        found += int((near & unlike).sum())
    return found >= max(LEAST_CORES, cores * MOSTLY)


def _several(shown: Bytes) -> list[Colour]:
    """Give some colours that stand for many: those in the middles of equal parts by luminance."""
    weights = shown @ np.array([299, 587, 114])
    order = np.argsort(weights, kind="stable")
    parts = np.array_split(shown[order], min(MOST_SHADES, len(order)))
    found = []
    for part in parts:
        red, green, blue = (int(level) for level in np.rint(np.median(part, axis=0)))
        found.append(from_levels((red, green, blue)))
    return found


def _judge(
    pair: Pair,
    footprints: tuple[Footprint, ...],
    shades: list[Colour],
    asked: Asked,
    raster: PageRaster,
    item: PaintedText,
) -> Pair:
    found = numbers_of_shades(footprints, shades, pair.required, asked.coverage, raster.scale)
    if found is None:
        return replace(pair, reason=item.otherwise or SHADES)
    weakest, colour = found
    x, y, width, height = weakest.weakest_box
    middle = (y + height / 2) * raster.scale
    shifts = (word.shift for word in item.words if word.box[1] <= middle <= word.box[3])
    across, down = (shift / raster.scale for shift in next(shifts, (0, 0)))
    weakest = replace(weakest, weakest_box=(x + across, y + down, width, height))
    return judged(pair, weakest, text_colour=colour, reason=item.note)
