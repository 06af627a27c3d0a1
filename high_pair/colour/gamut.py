"""Bringing a colour into the sRGB gamut while its hue and lightness stay."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.oklab import linear_of, oklab_of_oklch, srgb_of
from high_pair.colour.srgb import Floats, decode

# How far past 0 or 1 a channel may be and still count as inside: a fortieth of
# an 8-bit level, which rounding takes away.
TOLERANCE = 1e-4
# Halvings of the chroma: 0.4 / 2**20 is far below one 8-bit level.
STEPS = 20
# More chroma than any colour of sRGB has (at most 0.323).
PAST_SRGB = 0.4
LEAST_LIGHT, MOST_LIGHT = (float(value) for value in decode([-TOLERANCE, 1 + TOLERANCE]))


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
    found = srgb_of(oklab_of_oklch(value))
    outside = ~in_gamut(found)
    if outside.any():
        found[outside] = _with_less_chroma(value[outside])
    return np.asarray(np.clip(found, 0.0, 1.0))


def _with_less_chroma(oklch: Floats) -> Floats:
    """Give the sRGB of colours (n, 3) outside the gamut with the most chroma that it has there."""
    angle = np.radians(oklch[:, 2])
    along = np.stack([np.cos(angle), np.sin(angle)], axis=-1)
    # From one place for all, so that what is found doesn't depend on how much was wanted.
    low, high = np.zeros(len(oklch)), np.maximum(oklch[:, 1], PAST_SRGB)
    lab = np.empty((len(oklch), 3))
    lab[:, 0] = oklch[:, 0]
    for _ in range(STEPS):
        middle = (low + high) / 2
        lab[:, 1:] = middle[:, None] * along
        # Inside by linear light is inside by encoded channels, and needs no powers.
        light = linear_of(lab)
        inside = ((light >= LEAST_LIGHT) & (light <= MOST_LIGHT)).all(axis=-1)
        low = np.where(inside, middle, low)
        high = np.where(inside, high, middle)
    lab[:, 1:] = low[:, None] * along
    return srgb_of(lab)
