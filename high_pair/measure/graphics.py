"""Measuring what tells where a control is, or which has the focus (WCAG 2.2, 1.4.11)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.srgb import Bytes
from high_pair.measure.footprint import Footprint, distinct
from high_pair.measure.pairs import Pair, judged, numbers_of, required_ratio
from high_pair.scene.paint import BLACK, Colour, from_levels
from high_pair.scene.painted import PaintedGraphic, Painting, PixelBox
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

# Next to a control is so many pixels round it.
BESIDE = 3
# What two paintings of one thing may differ by, in levels.
NOISE = 6
# The share of a border that has to be of one colour.
UNIFORM = 0.6
# The percentile of what changed that is taken for a sign of focus: what changed less is its edges.
STRONG = 60
FIXED = "It has no border or ring of its own whose colour could be changed."
VARIED = "its border or sign has several colours, so what tells it isn't known"
ICON = "its icon has several colours, and not all of them have enough contrast"
GROUND = "its icon lies on several colours"
FIXED_ICON = "The icon isn't a drawing of one colour in the page: change it where it is made."
UNSEEN = "nothing that shows the focus was seen in its painting"


# Pixels round an icon that show what it lies on.
AROUND_ICON = 2
# The share of them that has to be of one colour.
EVEN = 0.97
# A colour of an icon covers at least this share of what isn't its ground, and so many pixels.
LEAST_SHARE = 0.04
LEAST_PIXELS = 4
# Colours on the way from the ground to another one of the icon's are smoothed edges, to so many
# levels; and colours nearer than that are one.
ON_THE_WAY = 10.0


@dataclass(frozen=True)
class _Side:
    """A colour of a control, and what is next to it."""

    colour: Colour
    beside: Footprint


def measure_graphic(
    painting: Painting, item: PaintedGraphic, page: int, asked: Asked
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Give a control's pair, without its id, and its footprint.

    An icon's ratio is that of the weakest of its colours against what it lies on.
    Else it is that of whatever of the control stands out most: its border against what
    is round it or within it, or its inside against what is round it; of a sign
    of focus, what is new against what was there. Each is a colour on a footprint,
    and has the governing ratio as a text has.
    """
    pair = _pair(painting, item, page, asked)
    if item.exempt:
        return replace(pair, verdict=Verdict.EXEMPT, reason=item.exempt), ()
    if item.trouble:
        return replace(pair, reason=item.trouble), ()
    if item.icon:
        return _measured_icon(painting, item, pair, asked)
    sides = _of_focus(painting, item) if item.before else _of_border(painting, item)
    if sides is None:
        return replace(pair, reason=UNSEEN if item.before else "it isn't painted"), ()
    measured = [
        (
            numbers_of((each.beside,), each.colour, pair.required, asked.coverage, painting.scale),
            each,
        )
        for each in sides
    ]
    if not measured:
        return replace(pair, reason=VARIED), ()
    numbers, side = max(measured, key=lambda each: each[0].ratio)
    if numbers.ratio < pair.required and item.before is None and _has_several(painting, item):
        # The rest of it isn't enough, but one of those colours may be.
        return replace(pair, reason=VARIED), ()
    if numbers.ratio < pair.required:
        # Where none is enough, the first is what can be changed.
        numbers, side = measured[0]
    numbers = replace(numbers, weakest_box=pair.bbox)
    return judged(pair, numbers, text_colour=side.colour), (side.beside,)


def _pair(painting: Painting, item: PaintedGraphic, page: int, asked: Asked) -> Pair:
    criterion, required = required_ratio(Subject.GRAPHIC, 0.0, 400, asked.level)
    left, top, right, bottom = item.outer
    across, down = item.shift
    return Pair(
        id="",
        page=page,
        where=f"{item.where}, appears {item.appears}" if item.appears else item.where,
        address=item.address,
        subject=Subject.GRAPHIC,
        text=item.name,
        size=0.0,
        weight=400,
        text_colour=BLACK,
        criterion=criterion,
        required=required,
        verdict=Verdict.NEEDS_EYES,
        reason="",
        bbox=(
            (left + across) / painting.scale,
            (top + down) / painting.scale,
            (right - left) / painting.scale,
            (bottom - top) / painting.scale,
        ),
        origin="",
        estimated=False,
        fixed="" if item.changeable else FIXED_ICON if item.icon else FIXED,
        appears=item.appears,
    )


def _pixels(painting: Painting, box: PixelBox, hole: PixelBox | None) -> Bytes:
    """Give the pixels in a box and not in a hole of it, without text, uint8 (n, 3)."""
    height, width = painting.backdrop.shape[:2]
    left, top, right, bottom = (
        max(0, box[0]),
        max(0, box[1]),
        min(width, box[2]),
        min(height, box[3]),
    )
    kept = np.ones((max(0, bottom - top), max(0, right - left)), bool)
    if hole is not None:
        kept[
            max(0, hole[1] - top) : max(0, hole[3] - top),
            max(0, hole[0] - left) : max(0, hole[2] - left),
        ] = False
    return painting.backdrop[top:bottom, left:right][kept]


def _uniform(pixels: Bytes) -> Colour | None:
    """Give the one colour of pixels, smoothed corners aside; None where they have several."""
    if not len(pixels):
        return None
    colours, counts = distinct(pixels)
    place = int(counts.argmax())
    if counts[place] < UNIFORM * len(pixels):
        return None
    red, green, blue = (int(level) for level in colours[place])
    return from_levels((red, green, blue))


def _grown(box: PixelBox, room: int) -> PixelBox:
    return box[0] - room, box[1] - room, box[2] + room, box[3] + room


def _side(item: PaintedGraphic, own: Bytes, beside: Bytes) -> list[_Side]:
    """Give a colour with what is next to it, nothing where it is no one colour."""
    colour = _uniform(own)
    if colour is None or not len(beside):
        return []
    return [_Side(colour, Footprint(item.name, *distinct(beside), item.outer))]


def _of_border(painting: Painting, item: PaintedGraphic) -> list[_Side] | None:
    """Give a control's border, and its inside, with what is next to each; None off the page."""
    around = _pixels(painting, _grown(item.outer, BESIDE), item.outer)
    border = _pixels(painting, item.outer, item.inner)
    within = _pixels(painting, item.inner, None)
    if not len(around):
        return None
    return [
        *_side(item, border, around),
        *_side(item, border, within),
        *_side(item, within, around),
    ]


def _has_several(painting: Painting, item: PaintedGraphic) -> bool:
    """Tell whether a control has a border of several colours."""
    border = _pixels(painting, item.outer, item.inner)
    return len(border) > 0 and _uniform(border) is None


def _of_focus(painting: Painting, item: PaintedGraphic) -> list[_Side] | None:
    """Give the colour that came with the focus, and what was there; None where nothing came."""
    assert item.before is not None
    left, top, right, bottom = item.outer
    old_left, old_top = item.before[:2]
    height = min(bottom - top, item.before[3] - old_top)
    width = min(right - left, item.before[2] - old_left)
    now = painting.seen[top : top + height, left : left + width]
    before = painting.seen[old_top : old_top + height, old_left : old_left + width]
    if now.shape != before.shape or not now.size:
        return None
    apart = np.abs(now.astype(np.int16) - before.astype(np.int16)).max(axis=-1)
    if apart.max() <= NOISE:
        return None
    # What changed most is the sign itself; its smoothed edges changed less.
    sign = apart >= max(NOISE + 1, float(np.percentile(apart[apart > NOISE], STRONG)))
    colour = _uniform(now[sign])
    if colour is None:
        return []
    # Of the rest, such as letters on a fill that came, the sign isn't made.
    levels = np.array(colour.levels, np.int16)
    own = sign & (np.abs(now.astype(np.int16) - levels).max(axis=-1) <= NOISE)
    return [_Side(colour, Footprint(item.name, *distinct(before[own]), item.outer))]


# Icons


def _measured_icon(
    painting: Painting, item: PaintedGraphic, pair: Pair, asked: Asked
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Give an icon's pair and footprint: passing where all of its colours do.

    Which parts of it are needed to understand it, nobody can tell from pixels:
    where some of its colours pass and others don't, it needs eyes.
    """
    found = _icon_colours(painting, item)
    if isinstance(found, str):
        return replace(pair, reason=found), ()
    ground, colours = found
    pixels = (item.outer[2] - item.outer[0]) * (item.outer[3] - item.outer[1])
    footprint = Footprint(item.name, ground[None], np.array([pixels], np.int64), item.outer)
    measured = [
        (numbers_of((footprint,), each, pair.required, asked.coverage, painting.scale), each)
        for each in colours
    ]
    measured.sort(key=lambda each: each[0].ratio)
    (least, weakest), (most, strongest) = measured[0], measured[-1]
    if least.ratio < pair.required <= most.ratio:
        return replace(pair, reason=ICON), ()
    numbers, colour = (most, strongest) if most.ratio < pair.required else (least, weakest)
    numbers = replace(numbers, weakest_box=pair.bbox)
    fixed = pair.fixed if len(colours) == 1 else FIXED_ICON
    return judged(pair, numbers, text_colour=colour, fixed=fixed), (footprint,)


def _icon_colours(painting: Painting, item: PaintedGraphic) -> tuple[Bytes, list[Colour]] | str:
    """Give what an icon lies on, uint8 (3,), and its colours; or why they can't be told."""
    left, top, right, bottom = item.outer
    own = painting.seen[max(0, top) : bottom, max(0, left) : right]
    if not own.size:
        return "it isn't painted"
    inner = np.ones(own.shape[:2], bool)
    inner[1:-1, 1:-1] = False
    # A part of the painting that isn't the page's lies below the page.
    rows = painting.rows if item.shift == (0, 0) else len(painting.seen)
    grounds = [_even(own[inner]), _even(_ring(painting, item.outer, rows))]
    if all(ground is None for ground in grounds):
        return GROUND
    # A tile of one colour within which nothing is drawn is itself the icon, on what is round it.
    for ground in grounds:
        if ground is not None:
            colours = _drawn(own.reshape(-1, 3), ground)
            if colours:
                return ground, colours
    return "nothing of its icon was seen in its painting"


def _ring(painting: Painting, box: PixelBox, height: int) -> Bytes:
    """Give the pixels close round a box, as seen, uint8 (n, 3), above a height."""
    width = painting.seen.shape[1]
    left, top, right, bottom = _grown(box, AROUND_ICON)
    left, top, right, bottom = max(0, left), max(0, top), min(width, right), min(height, bottom)
    kept = np.ones((bottom - top, right - left), bool)
    kept[
        max(0, box[1] - top) : max(0, box[3] - top), max(0, box[0] - left) : max(0, box[2] - left)
    ] = False
    return painting.seen[top:bottom, left:right][kept]


def _even(pixels: Bytes) -> Bytes | None:
    """Give the one colour that nearly all pixels have, None where they have several."""
    if not len(pixels):
        return None
    colours, counts = distinct(pixels)
    place = int(counts.argmax())
    near = np.abs(pixels.astype(np.int16) - colours[place]).max(axis=-1) <= NOISE
    return colours[place] if near.mean() >= EVEN else None


def _drawn(pixels: Bytes, ground: Bytes) -> list[Colour]:
    """Give the colours drawn on a ground, the smoothed edges of others aside.

    pixels: uint8 (n, 3).
    """
    away = np.abs(pixels.astype(np.float64) - ground).max(axis=-1)
    drawn = pixels[away > NOISE]
    if not len(drawn):
        return []
    colours, counts = distinct(drawn)
    lengths = np.linalg.norm(colours - ground.astype(np.float64), axis=-1)
    enough = counts >= max(LEAST_PIXELS, LEAST_SHARE * len(drawn))
    if not enough.any():
        # Strokes so thin that few pixels are theirs alone: what is farthest off shows them best.
        enough = lengths >= lengths.max() - ON_THE_WAY
    kept: list[NDArray[np.float64]] = []
    for place in np.argsort(lengths)[::-1]:
        colour = colours[place].astype(np.float64)
        if enough[place] and not any(_on_the_way(colour, ground, other) for other in kept):
            kept.append(colour)
    return [from_levels((int(each[0]), int(each[1]), int(each[2]))) for each in kept]


def _on_the_way(colour: NDArray[np.float64], ground: Bytes, other: NDArray[np.float64]) -> bool:
    """Tell whether a colour is a mixture of the ground and another one, as smoothed edges are."""
    way = other - ground
    share = float(np.clip((colour - ground) @ way / max(float(way @ way), 1e-9), 0.0, 1.0))
    return bool(np.abs(ground + share * way - colour).max() <= ON_THE_WAY)
