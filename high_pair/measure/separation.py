"""Telling ink from backdrop in a picture of text, where nothing but pixels is known.

A pixel of antialiased text is a mixture of the text's colour and of what is
behind it. What is behind is found from the pixels beside the strokes, and
carried on under them; the text's colour from the pixels in which there is most
of it. A JPEG keeps colour at half its size, so the lightness is read at the
cores of the strokes, and the hue and chroma from the sums over whole letters,
which no such smoothing changes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.oklab import oklab_of
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import Bytes, Floats, from_bytes, to_bytes
from high_pair.errors import HighPairError
from high_pair.measure.footprint import distinct, grow, reached_by

Mask = NDArray[np.bool_]
# ITU-R BT.601, in which JPEG (JFIF) splits lightness from colour.
YCC: Floats = np.array(
    [[0.299, 0.587, 0.114], [-0.168736, -0.331264, 0.5], [0.5, -0.418688, -0.081312]]
)
FROM_YCC = np.linalg.inv(YCC)
SMALLEST_SIDE = 5
MOST_PIXELS = 4_000_000
# Below this OKLab distance nothing stands out from what is behind.
LEAST_DIFFERENCE = 0.035
# From this share of ink on a pixel belongs to a letter, as where words are painted.
INK = 1 / 8
# Pixels with less ink than this, and so far from any, show what is behind.
CLEAN, AWAY = 0.08, 3
ROUNDS = 3
# Strokes of so much of the size and more are those of bold letters.
BOLD_STROKE = 0.125
# From how near what is behind is carried on, in pixels: for a first idea, and a smooth one.
CLOSE, SMOOTH = 1.2, 4.0
# Unrest of less than this median is a JPEG's own.
LEAST_GRAIN = 0.006
# How many times the median of the grain it may be.
MOST_GRAIN = 2.0
# How many of the fullest cells of colours may be the text's.
CELLS = 12
# How deep in a stroke no smearing of colour reaches, and how many such pixels are enough.
WHOLE, ENOUGH = 5.0, 12
# Fewer than this share of the letters' pixels aren't their cores, but something else's.
FAIR = 0.05
# How far a JPEG may smear colour, in pixels.
SMEAR = 4.0
# Below this way in lightness from behind to text, it doesn't tell the shares of ink.
LEAST_LIGHTNESS = 0.1
# From this share of ink on, the edge of a box shows the text's colour.
EDGE_INK = 0.3
# A line's letters reach over so much of its size. By sizes in pixels: which share of the fullest
# pixels of thin strokes is only partly ink, as rasterised text has it.
LETTERS = 0.85
PARTIAL = ((20.0, 25.0), (0.4, 0.25))


# By the largest size in pixels: how the logarithm of a thin stroke's contrast follows from those of
# the sums over it and of the size. Made by `python -m tests.measure.fit_strokes`.
THIN = (
    (12.0, (1.292, 0.560, 0.373, 0.037, -0.550, 0.162, 0.392, -0.484)),
    (15.0, (0.320, 0.521, 0.034, -0.586, -0.317, 0.057, 0.685, -0.075)),
    (20.0, (0.424, -0.055, -0.192, 0.119, -0.170, 1.090, 0.368, -0.148)),
)
LEAST_SUM = 1e-4


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
    the text's colour shows, as it doesn't in a box with room round its text.
    """

    colour: tuple[int, int, int]
    ink: Floats
    backdrop: Bytes
    stroke: float
    height: float
    outline: tuple[int, int, int] | None = None
    spills: float = 0.0


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
    lab = oklab_of(from_bytes(pixels))
    behind = _smooth_guess(ycc)
    text = _first_guess(ycc, lab, behind)
    ink = np.zeros((height, width))
    for _ in range(ROUNDS):
        ink = _letters_alone(_inked(ycc, behind, text))
        clean = _clean(ink)
        if not clean.any():
            raise NoText("The text fills the box. Draw the box a little larger.")
        behind = _carried_on(ycc, clean)
        text = _text_colour(ycc, behind, _letters_alone(_inked(ycc, behind, text)))
    ink = _letters_alone(_inked(ycc, behind, text))
    behind = _finally_behind(ycc, _clean(ink))
    solid = ink >= 0.5
    if not solid.any():
        raise NoText("Nothing in the box stands out as text.")
    colour = to_bytes(text @ FROM_YCC.T)
    return Separated(
        (int(colour[0]), int(colour[1]), int(colour[2])),
        ink,
        to_bytes(behind @ FROM_YCC.T),
        stroke_width(ink),
        line_height(ink),
        _outline(pixels, ink, to_bytes(behind @ FROM_YCC.T), colour),
        float((np.concatenate([ink[0], ink[-1], ink[:, 0], ink[:, -1]]) >= EDGE_INK).mean()),
    )


def _smooth_guess(ycc: Floats) -> Floats:
    """Give what is behind at first sight: the median round each pixel.

    Worked out on a smaller picture, which is much faster and smooth anyway.
    """
    height, width = ycc.shape[:2]
    factor = max(1, max(height, width) // 96)
    small = ycc[::factor, ::factor]
    side = max(5, min(small.shape[0], small.shape[1], 25))
    found = np.stack(
        [ndimage.median_filter(small[..., n], size=side, mode="nearest") for n in range(3)], axis=-1
    )
    rows = np.minimum(np.arange(height) // factor, found.shape[0] - 1)
    columns = np.minimum(np.arange(width) // factor, found.shape[1] - 1)
    return np.asarray(found[rows][:, columns])


def _first_guess(ycc: Floats, lab: Floats, behind: Floats) -> Floats:
    """Give the colour, of those that stand out, whose pixels are most like text."""
    their = oklab_of(np.clip(behind @ FROM_YCC.T, 0.0, 1.0))
    difference = np.linalg.norm(lab - their, axis=-1)
    most = float(np.quantile(difference, 0.99))
    if most < LEAST_DIFFERENCE:
        raise NoText("Nothing in the box stands out as text.")
    far = difference >= max(LEAST_DIFFERENCE, 0.35 * most)
    # Letters are of one colour, what else stands out of many: it is looked for in small cells.
    cells = np.floor(lab[far] / 0.05).astype(np.int64)
    keys = (cells + 512) @ np.array([1 << 20, 1 << 10, 1])
    values, counts = np.unique(keys, return_counts=True)
    candidates = [
        np.median(ycc[far][keys == values[place]], axis=0)
        for place in np.argsort(counts)[::-1][:CELLS]
    ]
    scores = [_likeness(ycc, behind, candidate, difference) for candidate in candidates]
    return np.asarray(candidates[int(np.argmax(scores))])


def _likeness(ycc: Floats, behind: Floats, text: Floats, difference: Floats) -> float:
    """Tell how much the pixels near a colour are like text in a box drawn round it.

    Text goes through the whole box and keeps off its edges; its strokes are
    narrow; and it is most of what stands out.
    """
    ink = _inked(ycc, behind, text)
    solid = ink >= 0.6
    if not solid.any():
        return 0.0
    height, width = solid.shape
    across = max(4, min(24, round(2 * width / height)))
    parts = np.array_split(solid.any(axis=0), across)
    spread = float(np.mean([part.any() for part in parts]))
    edges = np.concatenate([solid[0], solid[-1], solid[:, 0], solid[:, -1]])
    depth = float(ndimage.distance_transform_edt(np.pad(solid, 1)).max())
    narrow = 1.0 / (1.0 + (depth / (0.16 * height + 1.0)) ** 4)
    explained = float((difference * np.clip(ink, 0.0, 1.0)).sum() / difference.sum())
    off_edges = max(0.0, 1.0 - 4.0 * float(edges.mean()))
    return float(spread**2 * off_edges * narrow * explained)


def _inked(ycc: Floats, behind: Floats, text: Floats) -> Floats:
    """Give the shares of text, none where a pixel is no mixture of the two colours."""
    ink = _shares(ycc, behind, text)
    mixed = behind + np.clip(ink, 0.0, 1.0)[..., None] * (text - behind)
    aside = np.abs(ycc - mixed) @ np.array([1.0, 0.5, 0.5])
    length = np.abs(text - behind) @ np.array([1.0, 0.5, 0.5])
    return np.where(aside > 0.35 * length + 0.04, 0.0, ink)


def _letters_alone(ink: Floats) -> Floats:
    """Leave out what looks like thin ink and belongs to no letter."""
    labels, count = ndimage.label(ink >= INK, structure=np.ones((3, 3)))
    if not count:
        return ink
    fullest = np.asarray(ndimage.maximum(ink, labels, np.arange(count + 1)))
    fullest[0] = 0.0
    return np.where((fullest >= 0.6)[labels], ink, np.minimum(ink, INK / 2))


def _shares(ycc: Floats, behind: Floats, text: Floats) -> Floats:
    """Give the share of text in each pixel: how far it is on the way from behind to text."""
    way = text - behind
    # Lightness is exact in a JPEG, colour is smeared: it counts where lightness says little.
    weights = np.array([1.0, 0.35, 0.35])
    length = np.maximum((way * way * weights).sum(axis=-1), 1e-6)
    return np.asarray(((ycc - behind) * way * weights).sum(axis=-1) / length)


def _clean(ink: Floats) -> Mask:
    """Tell where what is behind shows with no ink, and none near."""
    inked = ndimage.binary_dilation(np.abs(ink) >= CLEAN * 2.5, iterations=1)
    near = ndimage.binary_dilation(ink >= 0.25, iterations=AWAY)
    clean = ~(inked | near)
    # Text that leaves no such place: the least inked pixels will do.
    if clean.mean() < 0.05:
        clean = ink <= np.quantile(ink, 0.2)
    return np.asarray(clean)


def _carried_on(ycc: Floats, clean: Mask, sigma: float = CLOSE) -> Floats:
    """Give what is behind everywhere: from the clean pixels near, or else farther ones."""
    found = np.zeros_like(ycc)
    missing = np.ones(clean.shape, bool)
    weight = clean.astype(np.float64)
    reach = max(clean.shape) * 2.0
    while missing.any() and sigma < reach:
        total = ndimage.gaussian_filter(weight, sigma, mode="constant")
        good = missing & (total > 0.08)
        if good.any():
            for channel in range(3):
                summed = ndimage.gaussian_filter(ycc[..., channel] * weight, sigma, mode="constant")
                found[..., channel][good] = summed[good] / total[good]
            missing &= ~good
        sigma *= 2.0
    if missing.any():
        found[missing] = ycc[clean].mean(axis=0)
    return found


def _off_the_edges(letters: Mask) -> Mask:
    """Leave out what goes over the box's edge, as text doesn't, if enough is left."""
    labels, _ = ndimage.label(letters, structure=np.ones((3, 3)))
    edges = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    kept = letters & ~np.isin(labels, edges[edges > 0])
    return kept if kept.sum() >= 0.3 * letters.sum() else letters


def _finally_behind(ycc: Floats, clean: Mask) -> Floats:
    """Give what is behind: smooth where it is smooth, with its grain where it has any.

    A smooth one is carried on from so far that a JPEG's own unrest is averaged
    away; under the text, grain is that of the nearest clean pixel.
    """
    smooth = _carried_on(ycc, clean, SMOOTH)
    unrest = np.abs(ycc[..., 0] - smooth[..., 0])[clean]
    if float(np.median(unrest)) < LEAST_GRAIN:
        return smooth
    behind = _carried_on(ycc, clean)
    rows, columns = ndimage.distance_transform_edt(
        ~clean, return_distances=False, return_indices=True
    )
    grain = ycc - behind
    # What stands out of the grain is an edge or a lamp, which isn't carried on.
    most = MOST_GRAIN * np.median(np.abs(grain[clean]), axis=0)
    return np.asarray(behind + np.clip(grain, -most, most)[rows, columns])


def _text_colour(ycc: Floats, behind: Floats, ink: Floats) -> Floats:
    """Give the text's colour from the cores of its strokes and the sums over its letters."""
    letters = _off_the_edges(ink >= 0.5)
    if not letters.any():
        raise NoText("Nothing in the box stands out as text.")
    depth = ndimage.distance_transform_edt(letters)
    enough = max(ENOUGH, FAIR * letters.sum())
    cores = depth >= WHOLE
    if cores.sum() >= enough:
        # Strokes so wide that no smearing of colour reaches their middle.
        return np.asarray(np.median(ycc[cores], axis=0))
    found = np.empty(3)
    found[0] = _lightness(ycc[..., 0], behind[..., 0], letters, depth)
    way = found[0] - behind[..., 0]
    shares = np.where(
        np.abs(way) > LEAST_LIGHTNESS,
        (ycc[..., 0] - behind[..., 0]) / np.where(way == 0, 1.0, way),
        ink,
    )
    thin = int((depth >= 2.0).sum()) < enough
    near = ndimage.binary_dilation(letters, iterations=5 if thin else 3)
    total = max(float(shares[near].sum()), 1e-6)
    for channel in (1, 2):
        seen, back = ycc[..., channel], behind[..., channel]
        if thin:
            # Too little ink for a fit: the sums over whole letters.
            found[channel] = float((seen - back * (1 - shares))[near].sum()) / total
        else:
            kept = np.clip(np.where(near, shares, 0.0), 0.0, 1.1)
            found[channel] = _smeared(seen, back, kept)
    return found


def _smeared(channel: Floats, behind: Floats, shares: Floats) -> float:
    """Give the text's value in a channel that a JPEG has smeared.

    Both what is seen and the model of it (text by its shares over what is
    behind) are smeared so much more that the JPEG's part makes no difference;
    then least squares give the text's value, and a slope by which the guess of
    what is behind, which is smeared too, was off.
    """

    def smeared(values: Floats) -> Floats:
        return np.asarray(ndimage.gaussian_filter(values, SMEAR, mode="nearest")).ravel()

    height, width = channel.shape
    down, across = np.mgrid[0:height, 0:width]
    bare = 1.0 - shares
    columns = [smeared(shares), smeared(bare)]
    columns += [smeared(bare * (down / height - 0.5)), smeared(bare * (across / width - 0.5))]
    seen = smeared(channel) - smeared(behind * bare)
    solved, *_ = np.linalg.lstsq(np.stack(columns, axis=-1), seen, rcond=None)
    return float(solved[0])


def _lightness(lightness: Floats, behind: Floats, letters: Mask, depth: Floats) -> float:
    """Give the lightness that the pixels reach which are wholly in a stroke."""
    cores = depth >= 2.0
    if cores.sum() >= max(ENOUGH, FAIR * letters.sum()):
        return float(np.median(lightness[cores]))
    size = line_height(letters.astype(np.float64)) / LETTERS
    thin = next((factors for largest, factors in THIN if size < largest), None)
    if thin is not None:
        sums, sign = stroke_sums(lightness, behind, letters)
        logarithms = np.array([1.0, *np.log(sums), math.log(max(size, 1.0))])
        contrast = math.exp(float(np.dot(thin, logarithms)))
        return float(np.median(behind[letters])) + sign * min(1.0, contrast)
    way = lightness - behind
    sign = 1.0 if np.median(way[letters]) > 0 else -1.0
    full = sign * way
    peaks = letters & (full >= ndimage.maximum_filter(full, size=3))
    if not peaks.any():
        peaks = letters
    # The smaller the letters, the fewer of their pixels are whole.
    reached = np.quantile(sign * lightness[peaks], np.interp(size, *PARTIAL))
    return float(sign * reached)


def stroke_sums(lightness: Floats, behind: Floats, letters: Mask) -> tuple[Floats, float]:
    """Give what tells the contrast of strokes too thin to have a core, and its sign.

    Six figures, each as large as the contrast is: the ratios of the sums of its
    powers over the letters and of its slopes, which blur and a pixel's place
    change little, and three quantiles.
    """
    way = lightness - behind
    sign = 1.0 if np.median(way[letters]) > 0 else -1.0
    near = ndimage.binary_dilation(letters, iterations=2)
    full = np.where(near, np.maximum(sign * way, 0.0), 0.0)
    first, second, third = (float((full**power).sum()) for power in (1, 2, 3))
    slope = float(np.hypot(*np.gradient(full)).sum())
    sums = [second / max(first, LEAST_SUM), third / max(second, LEAST_SUM)]
    sums += [slope / max(first, LEAST_SUM), *np.quantile(full[letters], (0.5, 0.75, 0.9))]
    return np.maximum(np.array(sums), LEAST_SUM), sign


def stroke_width(ink: Floats) -> float:
    """Give the width of the strokes in pixels, to about half a pixel, from their middle lines."""
    solid = ink >= 0.5
    if not solid.any():
        return 0.0
    depth = ndimage.distance_transform_edt(np.pad(solid, 1))[1:-1, 1:-1]
    ridge = solid & (depth >= ndimage.maximum_filter(depth, size=3))
    # A stroke of an odd number of pixels is 2 d - 1 wide, of an even number 2 d.
    return 2.0 * float(np.median(depth[ridge])) - 0.5


def line_height(ink: Floats) -> float:
    """Give the height of the text's lines in pixels, the median of several."""
    rows = (ink >= 0.4).any(axis=1)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], rows.astype(np.int8), [0]])))
    heights = edges[1::2] - edges[::2]
    tall = heights[heights >= 0.4 * heights.max()] if len(heights) else heights
    return float(np.median(tall)) if len(tall) else 0.0


def _outline(
    pixels: Bytes, ink: Floats, behind: Bytes, colour: Bytes
) -> tuple[int, int, int] | None:
    """Give the third colour that lies close round the letters, if there is one."""
    letters = ink >= 0.5
    if ndimage.distance_transform_edt(letters).max() < 2.0:
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
