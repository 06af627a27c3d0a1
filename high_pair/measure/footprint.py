"""The pixels round a word's glyphs, and the ratios they give.

docs/review-format.md, «The governing ratio», steps 2 to 4 and 6.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.compositing import over, over_bytes
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, Floats, from_bytes, relative_luminance, to_bytes
from high_pair.raster.page import Over
from high_pair.scene.paint import Colour

# A footprint is the ink grown by this share of an em, and by a pixel at least.
GROWTH = 1 / 12
# What is above a text hides a pixel of it when less than one level of 255 comes through.
HIDDEN_FROM = 1 - 1 / 255
# The strengths that are tried of what shows in an unknown one; see `between`.
STRENGTHS = np.linspace(0.0, 1.0, 33)


@dataclass(frozen=True)
class Above:
    """What is painted over a footprint's text, pixel by pixel.

    below: (n, 3), what the text lies on, 0 to 1; colour: (n, 3), what is over
    it, opacity multiplied in; opacity: (n,).
    """

    below: Floats
    colour: Floats
    opacity: Floats


@dataclass(frozen=True)
class Footprint:
    """The distinct backdrops of one word's footprint.

    backdrops: uint8 (n, 3), as seen where there is no text; counts: (n,), the
    pixels of each; box: left, top, right, bottom on the raster; above: only
    where something is painted over the text.
    """

    word: str
    backdrops: Bytes
    counts: NDArray[np.int64]
    box: tuple[int, int, int, int]
    above: Above | None = None

    @property
    def is_solid(self) -> bool:
        """Whether the backdrop is one colour, and nothing of varying strength lies above."""
        return len(self.backdrops) == 1


def grow(mask: NDArray[np.bool_], radius: float) -> NDArray[np.bool_]:
    """Add all pixels within a distance (in pixels) of a mask's.

    A disc is a stack of rows; the rows at a distance of so many pixels up and
    down reach as far to both sides as the circle is wide there.
    """
    height, width = mask.shape
    grown = mask.copy()
    wide = mask.copy()
    reach = 0
    for away in range(min(int(radius), height - 1), -1, -1):
        across = int(math.sqrt(radius * radius - away * away) + 1e-9)
        for step in range(reach + 1, min(across, width - 1) + 1):
            wide[:, step:] |= mask[:, :-step]
            wide[:, :-step] |= mask[:, step:]
        reach = max(reach, across)
        if away:
            grown[away:] |= wide[:-away]
            grown[:-away] |= wide[away:]
        else:
            grown |= wide
    return grown


def radius_of(size_points: float, scale: float) -> float:
    """Give by how many pixels the ink of a text of that size grows."""
    return max(1.0, size_points * scale * GROWTH)


def grown_area(
    area: tuple[slice, slice], radius: float, shape: tuple[int, int]
) -> tuple[slice, slice]:
    """Give the part of a raster that holds an area grown by a radius."""
    room = math.ceil(radius)
    rows, columns = area
    return (
        slice(max(0, rows.start - room), min(shape[0], rows.stop + room)),
        slice(max(0, columns.start - room), min(shape[1], columns.stop + room)),
    )


def areas_of(numbers: NDArray[np.int32], count: int) -> list[tuple[slice, slice] | None]:
    """Give the smallest part of a raster that holds each of the words 1 to `count`; None for none.

    numbers: (h, w), the word that each pixel belongs to, 0 for none.
    """
    # Without a count `find_objects` would look for words of its own.
    found = ndimage.find_objects(numbers, count) if count else []
    return [None if area is None else (area[0], area[1]) for area in found]


def distinct(colours: Bytes) -> tuple[Bytes, NDArray[np.int64]]:
    """Give the distinct colours of (n, 3) and how often each occurs."""
    packed = (
        colours[:, 0].astype(np.uint32) << 16 | colours[:, 1].astype(np.uint32) << 8 | colours[:, 2]
    )
    values, counts = np.unique(packed, return_counts=True)
    unpacked = np.stack([values >> 16 & 255, values >> 8 & 255, values & 255], axis=-1)
    return unpacked.astype(np.uint8), counts.astype(np.int64)


def one_colour(part: Bytes) -> Bytes | None:
    """Give the colour of a part of a page, uint8 (1, 3), where it is the same all over."""
    if part.strides[:2] == (0, 0):
        return part[0, :1].copy()
    # Channel by channel NumPy compares many times faster than along an axis of three.
    if all((part[..., channel] == part[0, 0, channel]).all() for channel in range(3)):
        return part[0, :1].copy()
    return None


def footprint_of(
    word: str,
    mask: NDArray[np.bool_],
    area: tuple[slice, slice],
    backdrop: Bytes,
    highlight: Colour | None = None,
    above: Over | None = None,
) -> Footprint | None:
    """Collect a word's footprint.

    mask: the footprint's pixels in `area` of the page; backdrop: the whole
    page's, uint8 (h, w, 3). Gives None when what is above hides every pixel.
    """
    rows, columns = area
    box = (columns.start, rows.start, columns.stop, rows.stop)
    colours = backdrop[area][mask]
    if above is None:
        if highlight:
            colours = over_bytes(np.array(highlight.levels, np.uint8), highlight.opacity, colours)
        backdrops, counts = distinct(colours)
        return Footprint(word, backdrops, counts, box)
    inner = (
        slice(rows.start - above.area[0].start, rows.stop - above.area[0].start),
        slice(columns.start - above.area[1].start, columns.stop - above.area[1].start),
    )
    opacity = above.opacity[inner][mask].astype(np.float64)
    shows = opacity < HIDDEN_FROM
    if not shows.any():
        return None
    opacity = opacity[shows]
    colour = above.colour[inner][mask][shows].astype(np.float64)
    below = above.below[inner][mask][shows].astype(np.float64)
    if highlight:
        below = over(highlight.rgb, highlight.opacity, below)
    seen = to_bytes(colour + (1 - opacity)[:, None] * below)
    # Pixels alike in all respects are one, as they are without anything above.
    rows_alike = np.concatenate(
        [np.rint(values * 4080).reshape(len(seen), -1) for values in (below, colour, opacity)],
        axis=1,
    )
    _, first, counts = np.unique(rows_alike, axis=0, return_index=True, return_counts=True)
    return Footprint(
        word,
        seen[first],
        counts.astype(np.int64),
        box,
        Above(below[first], colour[first], opacity[first]),
    )


def between(
    word: str,
    sure: Bytes,
    ends: Sequence[Bytes],
    area: tuple[slice, slice],
    text: Colour,
) -> tuple[Footprint, Footprint]:
    """Collect a word's footprint where what is behind some of it isn't known.

    sure: uint8 (n, 3), behind the rest; ends: (m, 3) each: what is behind a pixel lies between two
    neighbours of them. Gives the footprint on the worst and on the best of it for a text's colour.
    """
    rows, columns = area
    box = (columns.start, rows.start, columns.stop, rows.stop)
    mixes, counts = mixed_between(ends)
    flat = Footprint(word, mixes.reshape(-1, 3), np.ones(mixes.size // 3, np.int64), box)
    ratios = ratios_of(flat, text).reshape(mixes.shape[:2])
    found = []
    for chosen in (ratios.argmin(axis=1), ratios.argmax(axis=1)):
        unsure = np.repeat(mixes[np.arange(len(mixes)), chosen], counts, axis=0)
        found.append(Footprint(word, *distinct(np.concatenate([sure, unsure])), box))
    return found[0], found[1]


def through(
    footprint: Footprint, haze: Sequence[Colour], area: tuple[slice, slice], text: Colour
) -> tuple[Footprint, Footprint]:
    """Give a footprint on the worst and on the best of what may lie between it and the letters."""
    behind = np.repeat(footprint.backdrops, footprint.counts, axis=0)
    ends = [behind]
    for colour in haze:
        ends.append(over_bytes(np.array(colour.levels, np.uint8), colour.opacity, behind))
    return between(footprint.word, behind[:0], ends, area, text)


def mixed_between(ends: Sequence[Bytes]) -> tuple[Bytes, NDArray[np.int64]]:
    """Give what may be behind pixels of which each lies between two neighbours of `ends`.

    ends: (m, 3) each. Gives uint8 (n, k, 3), the k mixes of each different pixel, and how many
    pixels are so, (n,).
    """
    _, places, counts = np.unique(
        np.concatenate(ends, axis=1), axis=0, return_index=True, return_counts=True
    )
    levels = [end[places].astype(np.float64)[:, None] for end in ends]
    ways = [a + (b - a) * STRENGTHS[:, None] for a, b in itertools.pairwise(levels)]
    return np.rint(np.concatenate(ways, axis=1)).astype(np.uint8), counts


def seen_text(footprint: Footprint, text: Colour) -> Bytes:
    """Give the text's colour as seen on each of a footprint's backdrops: uint8 (n, 3) or (1, 3)."""
    levels = np.array(text.levels, np.uint8)
    if footprint.above is None:
        if text.opacity >= 1:
            return levels[None, :]
        return over_bytes(levels, text.opacity, footprint.backdrops)
    above = footprint.above
    painted = over(from_bytes(levels), text.opacity, above.below)
    return to_bytes(above.colour + (1 - above.opacity)[:, None] * painted)


def ratios_of(footprint: Footprint, text: Colour) -> Floats:
    """Give the contrast ratio on each of a footprint's backdrops, (n,)."""
    ratios = contrast_ratio(seen_text(footprint, text), footprint.backdrops)
    return np.broadcast_to(ratios, (len(footprint.backdrops),))


def reached_by(ratios: Floats, counts: NDArray[np.int64], coverage: float) -> float:
    """Give the highest ratio that a share `coverage` (0 to 1) of the pixels meets or beats."""
    order = np.argsort(ratios, kind="stable")[::-1]
    so_far = np.cumsum(counts[order])
    needed = coverage * so_far[-1] * (1 - 1e-12)
    return float(ratios[order][int(np.searchsorted(so_far, needed, side="left"))])


def median_backdrop(footprint: Footprint) -> Bytes:
    """Give the backdrop in the middle of a footprint's luminances, uint8 (3,)."""
    luminances = relative_luminance(footprint.backdrops)
    order = np.argsort(luminances, kind="stable")
    so_far = np.cumsum(footprint.counts[order])
    middle = int(np.searchsorted(so_far, so_far[-1] / 2, side="left"))
    return np.asarray(footprint.backdrops[order][middle])
