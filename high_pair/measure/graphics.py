"""Measuring what tells where a control is, or which has the focus (WCAG 2.2, 1.4.11)."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.measure.footprint import Footprint, distinct
from high_pair.measure.pairs import Asked, Pair, judged, numbers_of, required_ratio
from high_pair.scene.paint import BLACK, Colour, from_levels
from high_pair.scene.painted import PaintedGraphic, Painting, PixelBox
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

# Next to a control is so many pixels round it.
BESIDE = 3
# What two paintings of one thing may differ by, in levels.
NOISE = 6
# A border is of one colour when so much of it is; of what changed, so many percent changed least.
UNIFORM, STRONG = 0.6, 60
FIXED = "It has no border or ring of its own whose colour could be changed."
VARIED = "its border or sign has several colours, so what tells it isn't known"
UNSEEN = "nothing that shows the focus was seen in its painting"


@dataclass(frozen=True)
class _Side:
    """A colour of a control, and what is next to it."""

    colour: Colour
    beside: Footprint


def measure_graphic(
    painting: Painting, item: PaintedGraphic, page: int, asked: Asked
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Give a control's pair, without its id, and its footprint.

    Its ratio is that of whatever of it stands out most: its border against what
    is round it or within it, or its inside against what is round it; of a sign
    of focus, what is new against what was there. Each is a colour on a footprint,
    and has the governing ratio as a text has.
    """
    pair = _pair(painting, item, page, asked)
    if item.exempt:
        return replace(pair, verdict=Verdict.EXEMPT, reason=item.exempt), ()
    if item.trouble:
        return replace(pair, reason=item.trouble), ()
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
    return judged(replace(pair, text_colour=side.colour), numbers), (side.beside,)


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
        fixed="" if item.changeable else FIXED,
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
    return _side(item, now[sign], before[sign])
