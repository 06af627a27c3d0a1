"""Bringing a colour into the sRGB gamut while its hue and lightness stay."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.oklab import oklab_of_oklch, srgb_of
from high_pair.colour.srgb import Floats

# How far past 0 or 1 a channel may be and still count as inside: a fortieth of
# an 8-bit level, which rounding takes away.
TOLERANCE = 1e-4
# Halvings of the chroma: 0.4 / 2**20 is far below one 8-bit level.
STEPS = 20


def in_gamut(colours: ArrayLike, tolerance: float = TOLERANCE) -> np.ndarray:
    """Tell of gamma-encoded sRGB (…, 3) whether each colour is one that sRGB has."""
    value = np.asarray(colours, dtype=np.float64)
    return np.asarray(np.all((value >= -tolerance) & (value <= 1 + tolerance), axis=-1))


def into_srgb(oklch: ArrayLike) -> Floats:
    """Turn OKLCH (…, 3) into sRGB inside the gamut, giving up chroma and nothing else.

    Lightness and hue stay; the chroma is the largest that sRGB has there, found
    by bisection. Lightness outside 0 to 1 gives black or white. Gives
    gamma-encoded channels of 0 to 1.
    """
    value = np.array(oklch, dtype=np.float64)
    value[..., 0] = np.clip(value[..., 0], 0.0, 1.0)
    wanted = srgb_of(oklab_of_oklch(value))
    outside = ~in_gamut(wanted)
    low = np.zeros(value.shape[:-1])
    high = np.where(outside, value[..., 1], 0.0)
    for _ in range(STEPS):
        middle = (low + high) / 2
        trial = np.stack([value[..., 0], middle, value[..., 2]], axis=-1)
        inside = in_gamut(srgb_of(oklab_of_oklch(trial)))
        low = np.where(inside, middle, low)
        high = np.where(inside, high, middle)
    fitted = srgb_of(oklab_of_oklch(np.stack([value[..., 0], low, value[..., 2]], axis=-1)))
    return np.asarray(np.clip(np.where(outside[..., None], fitted, wanted), 0.0, 1.0))
