"""The least strength of an overlay at which every pair over it passes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.compositing import over_bytes
from high_pair.colour.ratio import FLARE, ratio_of_luminances
from high_pair.colour.srgb import (
    LUMINANCE_TABLES,
    Bytes,
    Floats,
    from_bytes,
    relative_luminance,
    to_bytes,
)
from high_pair.measure.footprint import Footprint, ratios_of, reached_by
from high_pair.scene.paint import Colour

FULL = 100
Levels = tuple[int, int, int]


@dataclass(frozen=True)
class Covered:
    """A pair that an overlay lies under: all its words' pixels in a row.

    backdrops: uint8 (n, 3); counts: the pixels of each (n,); shares: of the
    overlay's strength there (n,); starts: where each word begins; served: it
    must come to pass; one that isn't must only not be broken.
    """

    backdrops: Bytes
    counts: NDArray[np.int64]
    shares: Floats
    starts: NDArray[np.int64]
    text: Colour
    required: float
    coverage: float
    served: bool = True


Word = tuple[Bytes, NDArray[np.int64], Floats]


def covered_words(
    words: Sequence[Word], text: Colour, required: float, coverage: float, served: bool = True
) -> Covered:
    """Put a pair together of its words: each its backdrops, their pixels, and the shares there."""
    backdrops, counts, shares = (np.concatenate(each) for each in zip(*words, strict=True))
    lengths = [len(word[1]) for word in words]
    starts = np.concatenate([[0], np.cumsum(lengths[:-1])]).astype(np.int64)
    return Covered(backdrops, counts, shares, starts, text, required, coverage, served)


def _ratios(pair: Covered, levels: Levels, percent: int) -> Floats:
    colour = np.array(levels, np.uint8)
    seen = over_bytes(colour, percent / FULL * pair.shares, pair.backdrops)
    return ratios_of(Footprint("", seen, pair.counts, (0, 0, 0, 0)), pair.text)


def ratio_with(pair: Covered, levels: Levels, percent: int) -> float:
    """Give a pair's governing ratio over an overlay of a strength; as the finding is measured."""
    ratios = _ratios(pair, levels, percent)
    ends = [*pair.starts[1:], len(ratios)]
    return min(
        reached_by(ratios[start:end], pair.counts[start:end], pair.coverage)
        for start, end in zip(pair.starts, ends, strict=True)
    )


Known = dict[tuple[int, Levels], NDArray[np.bool_]]


def least_percent(
    levels: Levels, pairs: Sequence[Covered], known: Known | None = None
) -> int | None:
    """Give the least whole percent at which all served pairs pass and no other is broken.

    None where none does. No lower percent serves either. known: what was
    worked out before for the same pairs, by their identity, and a colour.
    """
    known = {} if known is None else known
    asked = [pair for pair in pairs if pair.served or passes_with(pair, levels, 0)]
    alike = [pair for pair in asked if is_alike(pair)]
    varied = [pair for pair in asked if not is_alike(pair)]
    if not alike and all(pair.served and _only_helps(pair, levels) for pair in varied):
        return _bisected(lambda percent: all(passes_with(p, levels, percent) for p in varied))
    serves = np.ones(FULL + 1, bool)
    for pair in alike:
        key = (id(pair), levels)
        if key not in known:
            known[key] = passing_percents(pair, levels)
        serves &= known[key]
    for percent in np.flatnonzero(serves):
        if all(passes_with(pair, levels, int(percent)) for pair in varied):
            return int(percent)
    return None


def is_alike(pair: Covered) -> bool:
    """Tell whether an overlay is whole under all of an opaque text."""
    return pair.text.opacity >= 1 and bool((pair.shares == 1.0).all())


def passing_percents(pair: Covered, levels: Levels) -> NDArray[np.bool_]:
    """Tell for every percent (101,) whether a pair passes over an overlay whole under all of it.

    A channel's level over the overlay depends on that channel alone, so what it
    adds to the luminance stands in a table of percents and levels.
    """
    percents = np.arange(FULL + 1)[:, None] / FULL
    luminances = np.zeros((FULL + 1, len(pair.backdrops)))
    below = from_bytes(np.arange(256))
    for channel, level in enumerate(levels):
        seen = to_bytes(percents * (level / 255.0) + (1.0 - percents) * below)
        luminances += LUMINANCE_TABLES[channel][seen][:, pair.backdrops[:, channel]]
    own = relative_luminance(np.array(pair.text.levels, np.uint8))
    passing = np.where(ratio_of_luminances(own, luminances) >= pair.required, pair.counts, 0)
    needed = pair.coverage * np.add.reduceat(pair.counts, pair.starts) * (1 - 1e-12)
    return np.asarray((np.add.reduceat(passing, pair.starts, axis=1) >= needed).all(axis=1))


def passes_with(pair: Covered, levels: Levels, percent: int) -> bool:
    """Tell whether a pair passes over an overlay of a strength: `ratio_with`, without the ratio."""
    passing = np.where(_ratios(pair, levels, percent) >= pair.required, pair.counts, 0)
    needed = pair.coverage * np.add.reduceat(pair.counts, pair.starts) * (1 - 1e-12)
    return bool((np.add.reduceat(passing, pair.starts) >= needed).all())


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
    luminances = relative_luminance(pair.backdrops)
    if overlay <= below:
        return float(luminances.max()) < above
    return levels == (255, 255, 255) and float(luminances.min()) > below
