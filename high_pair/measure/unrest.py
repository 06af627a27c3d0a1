"""Unrest: how strong the patterns behind a text are, at the fineness of its letters.

Source: after Scharff, Hill and Ahumada, «Discriminability measures for predicting readability
of text on textured backgrounds», Optics Express 6 (2000): what hinders reading is the
contrast of the backdrop within the band of frequencies by which letters are told.
"""

from __future__ import annotations

import math

import numpy as np
from scipy.ndimage import gaussian_filter

from high_pair.colour.sight import CYCLES_A_LETTER
from high_pair.colour.srgb import Bytes, Floats, relative_luminance

# The band reaches an octave to both sides of its middle.
OCTAVE = 2.0
# A Gaussian of this many periods lets half of a frequency's amplitude through: √(ln 2 / 2) / π.
HALF = math.sqrt(math.log(2.0) / 2.0) / math.pi
# So much of a backdrop is looked at, in pixels of each direction.
MOST_PIXELS = 1024


def band_of(luminance: Floats, x_height: float) -> Floats:
    """Give the part of a picture within the letters' band. x_height: in pixels."""
    period = max(x_height, 1.0) / CYCLES_A_LETTER
    fine, coarse = HALF * period / OCTAVE, HALF * period * OCTAVE
    return np.asarray(
        gaussian_filter(luminance, fine, mode="nearest")
        - gaussian_filter(luminance, coarse, mode="nearest")
    )


def unrest_of(backdrop: Bytes, x_height: float) -> float:
    """Give the RMS contrast of what is behind a text within the letters' band, 0 on one colour.

    backdrop: uint8 (h, w, 3); x_height: in its pixels. Relative to its mean luminance.
    """
    part = backdrop[:MOST_PIXELS, :MOST_PIXELS]
    if part.size == 0:
        return 0.0
    luminance = relative_luminance(part)
    mean = float(luminance.mean())
    if mean <= 0.0:
        return 0.0
    return float(np.sqrt(np.mean(band_of(luminance, x_height) ** 2)) / mean)
