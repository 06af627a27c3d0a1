"""The contrast ratio, and how it is shown."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.srgb import Floats, relative_luminance

# WCAG 2.2, definition of contrast ratio: (L1 + 0.05) / (L2 + 0.05).
FLARE = 0.05
# Of black and white.
HIGHEST_RATIO = (1.0 + FLARE) / FLARE


def ratio_of_luminances(one: ArrayLike, other: ArrayLike) -> Floats:
    """Give the contrast ratio (1 to 21) of relative luminances; the order doesn't matter.

    The two broadcast against each other.
    Source: WCAG 2.2, definition of contrast ratio.
    """
    first = np.asarray(one, dtype=np.float64)
    second = np.asarray(other, dtype=np.float64)
    return np.asarray((np.maximum(first, second) + FLARE) / (np.minimum(first, second) + FLARE))


def contrast_ratio(one: ArrayLike, other: ArrayLike) -> Floats:
    """Give the contrast ratio (1 to 21) of colours, uint8 or floats of 0 to 1.

    Both end in an axis of three channels and broadcast against each other.
    """
    return ratio_of_luminances(relative_luminance(one), relative_luminance(other))


def shown_ratio(ratio: float) -> str:
    """Write a ratio cut, never rounded up, to two decimals: 4.499 gives 4.49.

    A ratio of whole or half hundredths that floating point stores a hair low
    (4.3 as 4.2999999…) is written as what it is.
    """
    return f"{math.floor(ratio * 100 + 1e-9) / 100:.2f}"
