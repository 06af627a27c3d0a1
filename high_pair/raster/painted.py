"""Words as numbered pixels on a page that another program has painted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from high_pair.scene.page import Scene
from high_pair.scene.painted import (
    FULL,
    OWN_COLOURS,
    PaintedGraphic,
    PaintedText,
    Painting,
    PixelBox,
)

# The least share of a pixel that a glyph must cover to be its ink.
INK = 0.125
LEAST = 3
# Room round what is shown of how it looks in a state, and of where it is scrolled to, in pixels.
ROOM, WHERE_SCROLLED = 6, 14


def number_painted(
    painting: Painting, texts: Sequence[PaintedText]
) -> tuple[NDArray[np.int32], tuple[int, ...]]:
    """Number the ink of all words; gives the numbers, int32 (h, w), and each text's first one.

    Ink in the boxes of two words is the first one's; loose boxes take what no word has,
    and texts of which nothing is painted take none.
    """
    numbers = np.zeros(painting.coverage.shape, np.int32)
    firsts = []
    following = 1
    for text in texts:
        firsts.append(following)
        following += len(text.words)
    for loose in (False, True):
        for text, first in zip(texts, firsts, strict=True):
            if text.loose is loose and not text.inkless:
                _number(numbers, painting, text, first)
    return numbers, tuple(firsts)


def _number(numbers: NDArray[np.int32], painting: Painting, text: PaintedText, first: int) -> None:
    least = max(LEAST, round(INK * FULL * text.ink_opacity))
    for offset, word in enumerate(text.words):
        left, top, right, bottom = word.box
        area = (slice(top, bottom), slice(left, right))
        here = numbers[area]
        coverage = painting.coverage[area]
        free = (coverage >= least) & (here == 0)
        if text.layer and painting.layers is not None and bottom <= len(painting.layers):
            free &= painting.layers[area] == text.layer
        here[free] = first + offset


def is_pictograph(painting: Painting, mask: NDArray[np.bool_], area: tuple[slice, slice]) -> bool:
    """Tell whether most of a word's ink has colours of its own, as pictographs have."""
    own = painting.coverage[area][mask] == OWN_COLOURS
    return bool(own.size) and float(own.mean()) > 0.5


def shown_as_measured(scene: Scene, address: str) -> Scene:
    """Give a page as it looks where the text or control at an address was measured: when that is in
    its state, or a box round it is scrolled to it.

    The same page for what stands there at rest.
    """
    painting = scene.painting
    if painting is None:
        return scene
    for item in scene.items:
        if isinstance(item, PaintedText) and item.run.address == address and item.words:
            shift = item.words[0].shift
            boxes = [word.box for word in item.words if word.shift == shift]
        elif isinstance(item, PaintedGraphic) and item.address == address:
            shift, boxes = item.shift, [item.outer]
        else:
            continue
        if shift != (0, 0):
            room = ROOM if item.appears else WHERE_SCROLLED
            return replace(scene, painting=_with_part(painting, boxes, shift, room))
    return scene


def _with_part(
    painting: Painting, boxes: Sequence[PixelBox], shift: tuple[int, int], room: int
) -> Painting:
    """Put a part of the painting below the page, with some room round it, into its place there."""
    across, down = shift
    height, width = painting.rows, painting.seen.shape[1]
    left = max(0, min(box[0] for box in boxes) - room, -across)
    top = max(height, min(box[1] for box in boxes) - room, -down)
    right = min(width, max(box[2] for box in boxes) + room, width - across)
    bottom = min(painting.seen.shape[0], max(box[3] for box in boxes) + room, height - down)
    if left >= right or top >= bottom:
        return painting
    seen = painting.seen[:height].copy()
    seen[top + down : bottom + down, left + across : right + across] = painting.seen[
        top:bottom, left:right
    ]
    return replace(painting, seen=seen)
