"""The lightness of letters so small that few of their pixels are ink through and through.

Least squares over the shares of ink fall short of it, since a JPEG, and the reader of
ink, blur what is so thin. By how much, figures of the picture tell, by a quadratic of
them for each range of sizes, fitted to pictures whose truth is known
(`tools/fit_strokes.py`).
"""

from __future__ import annotations

import math
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from high_pair.colour.srgb import Floats
from high_pair.measure.behind import CLEAN
from high_pair.measure.letters import LETTER, LETTERS, line_height

FITTED = Path(__file__).parent.parent / "data" / "thin-strokes.npz"
LEAST = 1e-4
# Factors by which such strokes' shares of ink may be off.
FACTORS = (0.6, 1.6)
# And those by which their contrast may.
CONTRASTS = (0.8, 1.8)
# A figure that is so far out, in its usual deviations, counts as if it were no farther.
FARTHEST = 2.5
# Less ink than this is none.
SOME = 0.05
# Pixels round the letters that show a JPEG's unrest.
UNREST = 7
# Pixels round the letters that show the blur of their edges.
BLUR = 3


def thin_lightness(channel: Floats, behind: Floats, ink: Floats) -> tuple[float, float]:
    """Give the lightness of text whose strokes are too thin to have a core.

    Also the factor by which the shares of ink are then to be multiplied.
    """
    found = least_squares(channel, behind, ink)
    fitted = _fitted()
    size = line_height(ink) / LETTERS
    place = int(np.searchsorted(fitted["largest"], size, side="right"))
    if place == len(fitted["largest"]):
        return found, 1.0
    figures, sign, around = stroke_figures(channel, behind, ink)
    usual = (figures - fitted["middle"][place]) / fitted["spread"][place]
    terms = quadratic(np.clip(usual, -FARTHEST, FARTHEST))
    blurred = max(abs(found - around), LEAST)
    more = math.exp(float(terms @ fitted["factors"][place])) / blurred
    contrast = min(1.0, blurred * float(np.clip(more, *CONTRASTS)))
    factor = blurred / max(contrast, LEAST)
    return around + sign * contrast, float(np.clip(factor, *FACTORS))


@cache
def _fitted() -> dict[str, Floats]:
    with np.load(FITTED) as kept:
        return {name: kept[name].astype(np.float64) for name in kept.files}


def quadratic(figures: Floats) -> Floats:
    """Give one, the figures (…, n), and their products, (…, (n + 1)(n + 2) / 2)."""
    first, second = np.triu_indices(figures.shape[-1])
    ones = np.ones((*figures.shape[:-1], 1))
    products = figures[..., first] * figures[..., second]
    return np.concatenate([ones, figures, products], axis=-1)


def stroke_figures(
    channel: Floats, behind: Floats, ink: Floats
) -> tuple[NDArray[np.float64], float, float]:
    """Give what tells the contrast of thin strokes; its sign; and the lightness round them.

    Fourteen figures, as logarithms: the contrast by least squares, the ratios of the
    sums of its powers and of its slopes over the letters, which blur and a pixel's place
    change little; four quantiles of it; the size, the letters' share of ink; and how much
    unrest is round them, how sharp they are, and their edges, and the most ink.
    """
    letters = ink >= LETTER
    around = float(np.median(behind[letters]))
    contrast = least_squares(channel, behind, ink) - around
    sign = 1.0 if contrast > 0 else -1.0
    near = ndimage.binary_dilation(letters, iterations=2)
    full = np.where(near, np.maximum(sign * (channel - behind), 0.0), 0.0)
    first, second, third = (float((full**power).sum()) for power in (1, 2, 3))
    slope = float(np.hypot(*np.gradient(full)).sum())
    figures = [abs(contrast), second / max(first, LEAST), third / max(second, LEAST)]
    figures += [slope / max(first, LEAST), *np.quantile(full[letters], (0.5, 0.75, 0.9, 0.97))]
    figures += [line_height(ink) / LETTERS, float(ink[letters].mean())]
    fine = channel - ndimage.gaussian_filter(channel, 1.0)
    beside = ndimage.binary_dilation(letters, iterations=UNREST)
    beside &= ~ndimage.binary_dilation(ink >= CLEAN, iterations=2)
    edges = ndimage.binary_dilation(letters, iterations=BLUR) & ~letters
    figures += [_strength(fine[beside]), _strength(fine[edges])]
    some = ink[ink > SOME]
    figures += [float((some * (1 - some)).mean()), float(np.quantile(ink, 0.99))]
    return np.log(np.maximum(figures, LEAST)), sign, around


def _strength(values: Floats) -> float:
    """Give the root mean square, of no values that of a level of 255."""
    return float(np.sqrt(np.square(values).mean())) if values.size else 1 / 255


def least_squares(channel: Floats, behind: Floats, ink: Floats) -> float:
    """Give the value of the text that, mixed by its shares of ink, comes nearest to what is seen.

    Where the shares are the expected ones, it is right on the average.
    """
    near = ndimage.binary_dilation(ink >= LETTER, iterations=2)
    shares = np.where(near, ink, 0.0)
    seen = channel - behind * (1.0 - shares)
    return float((shares * seen).sum() / np.square(shares).sum())
