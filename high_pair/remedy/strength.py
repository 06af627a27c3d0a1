"""The least strength of an overlay at which every pair over it passes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.compositing import over_bytes
from high_pair.colour.ratio import FLARE
from high_pair.colour.srgb import Bytes, Floats, relative_luminance
from high_pair.measure.footprint import Footprint, ratios_of, reached_by
from high_pair.scene.paint import Colour

FULL = 100
Levels = tuple[int, int, int]


@dataclass(frozen=True)
class Covered:
    """A pair that an overlay lies under.

    words: for each, its backdrops, uint8 (n, 3), the pixels of each (n,), and
    the share (n,) of the overlay's strength there; served: it must come to
    pass; one that isn't must only not be broken.
    """

    words: tuple[tuple[Bytes, NDArray[np.int64], Floats], ...]
    text: Colour
    required: float
    coverage: float
    served: bool = True


def ratio_with(pair: Covered, levels: Levels, percent: int) -> float:
    """Give a pair's governing ratio over an overlay of a strength; as the finding is measured."""
    colour = np.array(levels, np.uint8)
    found = []
    for backdrops, counts, shares in pair.words:
        seen = over_bytes(colour, percent / FULL * shares, backdrops)
        footprint = Footprint("", seen, counts, (0, 0, 0, 0))
        found.append(reached_by(ratios_of(footprint, pair.text), counts, pair.coverage))
    return min(found)


def least_percent(levels: Levels, pairs: Sequence[Covered]) -> int | None:
    """Give the least whole percent at which all served pairs pass and no other is broken.

    None where none does. No lower percent serves either.
    """
    served = [pair for pair in pairs if pair.served]
    kept = [pair for pair in pairs if not pair.served and passes_with(pair, levels, 0)]

    def serves(percent: int) -> bool:
        return all(passes_with(pair, levels, percent) for pair in (*served, *kept))

    if not kept and all(_only_helps(pair, levels) for pair in served):
        return _bisected(serves)
    return next((percent for percent in range(FULL + 1) if serves(percent)), None)


def passes_with(pair: Covered, levels: Levels, percent: int) -> bool:
    """Tell whether a pair passes over an overlay of a strength: `ratio_with`, without the ratio."""
    colour = np.array(levels, np.uint8)
    for backdrops, counts, shares in pair.words:
        seen = over_bytes(colour, percent / FULL * shares, backdrops)
        ratios = ratios_of(Footprint("", seen, counts, (0, 0, 0, 0)), pair.text)
        needed = pair.coverage * float(counts.sum()) * (1 - 1e-12)
        if float(counts[ratios >= pair.required].sum()) < needed:
            return False
    return True


def _bisected(serves: Callable[[int], bool]) -> int | None:
    if not serves(FULL):
        return None
    fails, passes = -1, FULL
    while passes - fails > 1:
        middle = (fails + passes) // 2
        if serves(middle):
            passes = middle
        else:
            fails = middle
    # Rounding to 8 bits can make a step go back by one.
    while passes and serves(passes - 1):
        passes -= 1
    return passes


def _only_helps(pair: Covered, levels: Levels) -> bool:
    """Tell whether a pixel that passes at one strength passes at every higher one.

    So it is with a dark overlay under a lighter text: the colours darker than a
    luminance are a convex set in gamma-encoded values, since luminance is a
    convex function of them, and the way from inside it to the overlay's colour,
    inside as well, doesn't leave it. And with white under a darker text, since
    every channel rises. Pixels that pass from the other side spoil both.
    """
    if pair.text.opacity < 1:
        return False
    own = float(relative_luminance(np.array(pair.text.levels, np.uint8)))
    overlay = float(relative_luminance(np.array(levels, np.uint8)))
    above = pair.required * (own + FLARE) - FLARE
    below = (own + FLARE) / pair.required - FLARE
    luminances = [relative_luminance(backdrops) for backdrops, _, _ in pair.words]
    if overlay <= below:
        return all(float(each.max()) < above for each in luminances)
    if levels == (255, 255, 255):
        return all(float(each.min()) > below for each in luminances)
    return False
