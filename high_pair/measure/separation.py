"""Telling ink from backdrop in a picture of text, where nothing but pixels is known.

A pixel of antialiased text is a mixture of the text's colour and of what is
behind it. How much of it is text, `ink_reader.py` reads off the picture. What
is behind, `behind.py` carries on under the letters; the text's colour is the
one that, mixed so, comes nearest to what is seen. A JPEG keeps colour at half
its size, so hue and chroma are fitted to both sides smoothed, which no such
smearing changes.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.oklab import oklab_of
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, Floats, from_bytes, to_bytes
from high_pair.errors import HighPairError
from high_pair.measure.behind import CLEAN, behind_text, clean_pixels
from high_pair.measure.footprint import distinct, grow, reached_by
from high_pair.measure.ink_reader import YCC, read_ink
from high_pair.measure.letters import LETTER, LETTERS, line_height, stroke_width
from high_pair.measure.thin_strokes import thin_lightness

Mask = NDArray[np.bool_]
FROM_YCC = np.linalg.inv(YCC)
SMALLEST_SIDE = 5
MOST_PIXELS = 1_500_000
# Below this OKLab distance nothing stands out from what is behind.
LEAST_DIFFERENCE = 0.035
# From this share of ink on a pixel belongs to a letter, as where words are painted.
INK = 1 / 8
# Strokes of so much of the size and more are those of bold letters.
BOLD_STROKE = 0.125
# Pixels deep in a stroke that no smearing of colour by a JPEG reaches.
UNSMEARED = 5.0
# Pixels deep in a stroke that no antialiasing reaches.
UNSMOOTHED = 2.0
# So many such pixels are enough to tell the text's colour.
LEAST_CORES = 12
# Fewer than this share of the letters' pixels aren't their cores, but something else's.
LEAST_CORE_SHARE = 0.05
# Pixels from the letters in which a JPEG leaves its unrest.
UNREST_REACH = 8
# Where so large a share of those is of one colour, there was no JPEG.
ONE_COLOUR_SHARE = 0.97
# So small a share of the letters' pixels may stand out more than the text's colour does.
MOST_BEYOND = 0.02
# How far a JPEG may smear colour, in pixels.
SMEAR = 4.0
# A smaller difference in a channel is divided by this one instead.
LEAST_CONTRAST = 1e-4
# Shares of ink above 1 come of a JPEG's unrest; larger ones than this are cut.
MOST_SHARE = 1.2
# Text that differs from what is behind it by so much luma tells its shares of ink by luma as well.
LEAST_LIGHTNESS = 0.08
# What such shares may come to, by a JPEG's unrest.
SHARES_BY_LIGHTNESS = (-0.3, 1.3)
# How much they count beside those that the colour tells.
WEIGHT_OF_LIGHTNESS = 0.25
# A pixel between these shares of ink that lies at no edge of a letter is doubtful.
DOUBT = (0.15, 0.85)
# Thinner strokes than this, in pixels, are edges all over.
SURE_STROKE = 2.0
# Pixels this near to the text's colour, as a share of how far what is behind is, are of its colour.
ALIKE = 0.3
NOTHING = "Nothing in the box stands out as text."


class NoText(HighPairError):
    """Nothing in the box stands out as text."""


@dataclass(frozen=True)
class Separated:
    """Text and what is behind it.

    colour: of the text, 8-bit; ink: (h, w), the share of text in each pixel;
    backdrop: uint8 (h, w, 3), carried on under the text; stroke: the width of
    its strokes in pixels; height: of its lines from the top of the ascenders to
    the foot of the descenders, in pixels; outline: a third colour round the
    letters, None when there is none; spills: the share of the box's edge where
    the text's colour shows, as it doesn't in a box with room round its text;
    unsure: of what may be letters, the share that may as well lie behind them.
    """

    colour: tuple[int, int, int]
    ink: Floats
    backdrop: Bytes
    stroke: float
    height: float
    outline: tuple[int, int, int] | None = None
    spills: float = 0.0
    unsure: float = 0.0


@dataclass(frozen=True)
class ReadText:
    """What was read of a text in a box.

    colour, backdrop: the text's, and what is behind it where that governs, 8-bit;
    size: estimated, in pixels; bold: its strokes are wide for its size;
    outline: as in `Separated`.
    """

    colour: tuple[int, int, int]
    backdrop: tuple[int, int, int]
    size: float
    bold: bool
    outline: tuple[int, int, int] | None


def read_text(pixels: Bytes, coverage: float = 0.95) -> ReadText:
    """Read the two colours of a text in a box, by the governing ratio. Raises NoText."""
    found = separate(pixels)
    size = found.height / LETTERS
    footprint = grow(found.ink >= INK, max(1.0, size / 12))
    colours, counts = distinct(found.backdrop[footprint])
    ratios = contrast_ratio(np.array(found.colour, np.uint8), colours)
    governing = reached_by(ratios, counts, coverage)
    red, green, blue = (int(level) for level in colours[int(np.argmin(np.abs(ratios - governing)))])
    bold = size > 0 and found.stroke >= BOLD_STROKE * size
    return ReadText(found.colour, (red, green, blue), size, bold, found.outline)


def separate(pixels: Bytes) -> Separated:
    """Separate the text in a box from what is behind it.

    pixels: uint8 (h, w, 3) of the box, with a little room round the text.
    Raises NoText.
    """
    height, width = pixels.shape[:2]
    if min(height, width) < SMALLEST_SIDE:
        raise NoText("The box is too small. Draw it round a whole word.")
    if height * width > MOST_PIXELS:
        raise NoText("The box is too large. Draw it round a line or a paragraph.")
    ycc = from_bytes(pixels) @ YCC.T
    ink = read_ink(pixels)
    clean = clean_pixels(ink)
    if not clean.any():
        raise NoText("The text fills the box. Draw the box a little larger.")
    if not (ink >= LETTER).any():
        raise NoText(NOTHING)
    behind = behind_text(ycc, ink)
    backdrop = to_bytes(behind @ FROM_YCC.T)
    colour = _exact_colour(pixels, ink, clean)
    if colour is None:
        colour = to_bytes(_text_colour(ycc, behind, ink) @ FROM_YCC.T)
    apart = oklab_of(from_bytes(colour)) - oklab_of(from_bytes(backdrop[ink >= LETTER]))
    difference = float(np.median(np.linalg.norm(apart, axis=-1)))
    if difference < LEAST_DIFFERENCE:
        raise NoText(NOTHING)
    own = np.linalg.norm(oklab_of(from_bytes(pixels)) - oklab_of(from_bytes(colour)), axis=-1)
    alike = own <= ALIKE * difference
    stroke = stroke_width(ink)
    return Separated(
        (int(colour[0]), int(colour[1]), int(colour[2])),
        ink,
        backdrop,
        stroke,
        line_height(ink),
        _outline(pixels, alike & (ink >= LETTER), backdrop, colour),
        _spilled(alike, ink >= LETTER),
        _unsure(ink, stroke),
    )


def _spilled(alike: Mask, letters: Mask) -> float:
    """Give the share of the box's edge where something of the text's colour begins.

    It counts where it goes on to the letters without a gap: they are cut, or what
    lies behind them is of their colour.
    """
    labels, _ = ndimage.label(alike | letters, structure=np.ones((3, 3)))
    ends = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    return float(np.isin(ends, np.unique(labels[letters])).mean())


def _unsure(ink: Floats, stroke: float) -> float:
    """Give the share of what may be letters of which ink is told with no certainty.

    Smoothed edges aside, and thin strokes, which are nothing but edges.
    """
    if stroke < SURE_STROKE:
        return 0.0
    doubtful = ndimage.binary_erosion((ink > DOUBT[0]) & (ink < DOUBT[1]), np.ones((3, 3), bool))
    return float(
        ndimage.binary_dilation(doubtful, np.ones((3, 3), bool)).sum() / (ink >= LETTER).sum()
    )


def _exact_colour(pixels: Bytes, ink: Floats, clean: Mask) -> Bytes | None:
    """Give the colour that many letters' pixels share, uint8 (3,), where no JPEG has changed any.

    None where one has, as the unrest beside the letters tells.
    """
    near = clean & ndimage.binary_dilation(ink >= CLEAN, iterations=UNREST_REACH)
    letters = pixels[ink >= LETTER]
    if not near.any() or not len(letters):
        return None
    grounds, counts = distinct(pixels[near])
    ground = grounds[int(counts.argmax())].astype(np.float64)
    if counts.max() < ONE_COLOUR_SHARE * counts.sum():
        return None
    colours, counts = distinct(letters)
    away = np.linalg.norm(colours - ground, axis=-1)
    often = counts >= max(LEAST_CORES / 3, LEAST_CORE_SHARE * len(letters))
    if not often.any():
        return None
    place = int(np.argmax(np.where(often, away, -1.0)))
    beyond = counts[away > away[place] + 2.0].sum()
    return colours[place] if beyond <= MOST_BEYOND * len(letters) else None


def _text_colour(ycc: Floats, behind: Floats, ink: Floats) -> Floats:
    """Give the text's colour: at the cores of its strokes, else as its shares of ink tell."""
    letters = ink >= LETTER
    depth = ndimage.distance_transform_edt(letters)
    enough = max(LEAST_CORES, LEAST_CORE_SHARE * letters.sum())
    cores = depth >= UNSMEARED
    if cores.sum() >= enough:
        # Strokes so wide that no smearing of colour reaches their middle.
        return np.asarray(np.median(ycc[cores], axis=0))
    solid, shares = depth >= UNSMOOTHED, ink
    found = np.empty(3)
    if solid.sum() >= enough:
        found[0] = np.median(ycc[..., 0][solid])
    else:
        found[0], factor = thin_lightness(ycc[..., 0], behind[..., 0], ink)
        shares = np.minimum(ink * factor, MOST_SHARE)
    by_lightness = _shares_by_lightness(ycc[..., 0], behind[..., 0], ink, float(found[0]))
    if by_lightness is not None:
        # Each errs in its own way: the network by blurring, lightness by the JPEG's unrest.
        shares = (1 - WEIGHT_OF_LIGHTNESS) * shares + WEIGHT_OF_LIGHTNESS * by_lightness
    for channel in (1, 2):
        found[channel] = _smeared(ycc[..., channel], behind[..., channel], shares)
    return found


def _shares_by_lightness(
    channel: Floats, behind: Floats, ink: Floats, text: float
) -> Floats | None:
    """Give the shares of ink that the picture's lightness tells, None where there is little of it.

    text: the text's lightness. A JPEG keeps lightness at its full size, and its sums.
    """
    contrast = text - behind
    if float(np.median(np.abs(contrast[ink >= LETTER]))) < LEAST_LIGHTNESS:
        return None
    near = ndimage.binary_dilation(ink >= CLEAN, iterations=2)
    least = np.where(contrast < 0, -LEAST_CONTRAST, LEAST_CONTRAST)
    shares = (channel - behind) / np.where(np.abs(contrast) < LEAST_CONTRAST, least, contrast)
    return np.where(near, np.clip(shares, *SHARES_BY_LIGHTNESS), 0.0)


def _smeared(channel: Floats, behind: Floats, shares: Floats) -> float:
    """Give the text's value in a channel that a JPEG has smeared.

    Both what is seen and the model of it (text by its shares over what is
    behind) are smeared so much more that the JPEG's part makes no difference;
    then the text's value is that of least squares.
    """

    def smeared(values: Floats) -> Floats:
        return np.asarray(ndimage.gaussian_filter(values, SMEAR, mode="nearest"))

    ink = smeared(shares)
    seen = smeared(channel) - smeared(behind * (1.0 - shares))
    return float((ink * seen).sum() / np.square(ink).sum())


def _outline(
    pixels: Bytes, letters: Mask, behind: Bytes, colour: Bytes
) -> tuple[int, int, int] | None:
    """Give the third colour that lies close round the letters, if there is one."""
    if not letters.any() or ndimage.distance_transform_edt(letters).max() < 2.0:
        return None
    ring = ndimage.binary_dilation(letters, iterations=2) & ~ndimage.binary_dilation(letters)
    if not ring.any():
        return None
    own = oklab_of(from_bytes(pixels))[ring]
    text, back = oklab_of(from_bytes(colour)), oklab_of(from_bytes(behind))[ring]
    way = text - back
    length = np.maximum((way * way).sum(axis=-1, keepdims=True), 1e-6)
    along = np.clip(((own - back) * way).sum(axis=-1, keepdims=True) / length, 0.0, 1.0)
    aside = np.linalg.norm(own - back - along * way, axis=-1)
    if np.median(aside) < 0.12:
        return None
    found = np.median(pixels[ring], axis=0)
    return int(found[0]), int(found[1]), int(found[2])
