"""Measuring what tells where a control is, or which has the focus (WCAG 2.2, 1.4.11)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, hex_of, relative_luminance
from high_pair.measure.footprint import Footprint, distinct
from high_pair.measure.pairs import Asked, Numbers, Pair, judged, required_ratio
from high_pair.scene.paint import BLACK, from_levels
from high_pair.scene.painted import PaintedGraphic, Painting, PixelBox
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict

SCALE = 4 / 3
# Next to a control is so many pixels round it.
BESIDE = 3
# What two paintings of one thing may differ by, in levels.
NOISE = 6
FIXED = "It has no border or ring of its own whose colour could be changed."
UNSEEN = "nothing that shows the focus was seen in its painting"


def measure_graphic(
    painting: Painting, item: PaintedGraphic, page: int, asked: Asked
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Give a control's pair, without its id, and its footprint.

    Its ratio is that of whatever of it stands out most: its border against what
    is round it or within it, or its inside against what is round it; of a sign
    of focus, what is new against what was there.
    """
    pair = _pair(item, page, asked)
    if item.exempt:
        return replace(pair, verdict=Verdict.EXEMPT, reason=item.exempt), ()
    if item.trouble:
        return replace(pair, reason=item.trouble), ()
    found = _focus(painting, item) if item.before else _border(painting, item, pair.required)
    if found is None:
        return replace(pair, reason=UNSEEN if item.before else "it isn't painted"), ()
    one, other = found
    ratio = float(contrast_ratio(one, other))
    numbers = Numbers(
        foreground=hex_of(one),
        background=hex_of(other),
        varied=False,
        ratio=ratio,
        lowest=ratio,
        median=ratio,
        highest=ratio,
        share_below=1.0 if ratio < pair.required else 0.0,
        weakest=item.name,
        weakest_box=pair.bbox,
    )
    footprint = Footprint(item.name, other[None], np.ones(1, np.int64), item.outer)
    red, green, blue = (int(level) for level in one)
    return judged(replace(pair, text_colour=from_levels((red, green, blue))), numbers), (footprint,)


def _pair(item: PaintedGraphic, page: int, asked: Asked) -> Pair:
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
            (left + across) / SCALE,
            (top + down) / SCALE,
            (right - left) / SCALE,
            (bottom - top) / SCALE,
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


def _commonest(pixels: Bytes) -> Bytes | None:
    if not len(pixels):
        return None
    colours, counts = distinct(pixels)
    return np.asarray(colours[int(counts.argmax())])


def _grown(box: PixelBox, room: int) -> PixelBox:
    return box[0] - room, box[1] - room, box[2] + room, box[3] + room


def _border(
    painting: Painting, item: PaintedGraphic, required: float
) -> tuple[Bytes, Bytes] | None:
    """Give the two neighbouring colours of a control that stand out most from one another.

    Where none is enough, its border and what is round it, which is what can be changed.
    """
    around = _commonest(_pixels(painting, _grown(item.outer, BESIDE), item.outer))
    border = _commonest(_pixels(painting, item.outer, item.inner))
    within = _commonest(_pixels(painting, item.inner, None))
    pairs = [
        (one, other)
        for one, other in ((border, around), (border, within), (within, around))
        if one is not None and other is not None
    ]
    best = max(pairs, key=lambda pair: float(contrast_ratio(*pair)), default=None)
    if best is None or float(contrast_ratio(*best)) >= required:
        return best
    return (border, around) if border is not None and around is not None else best


def _focus(painting: Painting, item: PaintedGraphic) -> tuple[Bytes, Bytes] | None:
    """Give the colour that came with the focus, and what was there before."""
    assert item.before is not None
    left, top, right, bottom = item.outer
    old_left, old_top = item.before[:2]
    height = min(bottom - top, item.before[3] - old_top)
    width = min(right - left, item.before[2] - old_left)
    now = painting.seen[top : top + height, left : left + width]
    before = painting.seen[old_top : old_top + height, old_left : old_left + width]
    if now.shape != before.shape or not now.size:
        return None
    changed = (np.abs(now.astype(np.int16) - before.astype(np.int16)) > NOISE).any(axis=-1)
    if not changed.any():
        return None
    ratios = contrast_ratio(now[changed], before[changed])
    # What changed most is the sign itself; its smoothed edges changed less.
    strong = ratios >= np.percentile(ratios, 60)
    new, old = now[changed][strong], before[changed][strong]
    one, other = _commonest(new), _commonest(old)
    if one is None or other is None:
        return None
    # Where most of it only came to look as before, its darkest and lightest tell nothing.
    return (one, other) if relative_luminance(one) != relative_luminance(other) else None
