"""Words as numbered pixels on a page that another program has painted."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from high_pair.scene.painted import FULL, OWN_COLOURS, PaintedText, Painting

# The least share of a pixel that a glyph must cover to be its ink.
INK = 0.125
LEAST = 3


def number_painted(
    painting: Painting, texts: Sequence[PaintedText]
) -> tuple[NDArray[np.int32], tuple[int, ...]]:
    """Number the ink of all words; gives the numbers, int32 (h, w), and each text's first one.

    Ink in the boxes of two words is the first one's; loose boxes take what no word has.
    """
    numbers = np.zeros(painting.coverage.shape, np.int32)
    firsts = []
    following = 1
    for text in texts:
        firsts.append(following)
        following += len(text.words)
    for loose in (False, True):
        for text, first in zip(texts, firsts, strict=True):
            if text.loose is loose:
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
        here[free] = first + offset


def is_pictograph(painting: Painting, mask: NDArray[np.bool_], area: tuple[slice, slice]) -> bool:
    """Tell whether most of a word's ink has colours of its own, as pictographs have."""
    own = painting.coverage[area][mask] == OWN_COLOURS
    return bool(own.size) and float(own.mean()) > 0.5
