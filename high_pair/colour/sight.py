"""What eyes make of a picture at a distance: flare, angles, and the least contrast they see.

The contrast sensitivity of eyes is one curve over spatial frequency, a parabola in the
logarithms of both with a wing for each side; eyes that see less have the same curve,
shifted along frequency by their acuity and along sensitivity by their loss of contrast.
Sources: Chung and Legge, «Comparing the shape of contrast sensitivity functions for normal
and low vision», Investigative Ophthalmology & Visual Science 57 (2016); Thurman, Davey,
McCray, Paronian and Seitz, «Predicting individual contrast sensitivity functions from
acuity and letter contrast sensitivity measurements», Journal of Vision 16 (2016), whose
widths, peak and peak frequency are these.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.srgb import Floats

# Of usual eyes: the highest sensitivity, and its frequency in cycles a degree.
PEAK, PEAK_FREQUENCY = 166.0, 2.5
# How narrow the curve's wing of high frequencies is, in decades of both.
HIGH_WING = 1.28
# The band of frequencies by which letters are told has its middle at so many cycles a letter:
# Solomon and Pelli, «The visual filter mediating letter identification», Nature 369 (1994).
CYCLES_A_LETTER = 3.0
MINUTES = 60.0
# Nothing shows more contrast than this.
WHOLE = 1.0


def flare_of(lux: float, reflectance: float, peak: float, black: float) -> float:
    """Give the light that lies over a whole picture, as a share of what its white adds.

    lux: on the screen; reflectance: the share of it that the screen throws back, evenly to all
    sides (Lambert), 0 to 1; peak, black: the screen's own luminances in cd/m², in the dark.
    """
    return (black + lux * reflectance / math.pi) / (peak - black)


def ratio_there(one: ArrayLike, other: ArrayLike, flare: float) -> Floats:
    """Give the ratio of relative luminances under a flare: (L1 + F) / (L2 + F), from 1.

    With a flare of 0.05 it is WCAG's contrast ratio.
    """
    first, second = np.asarray(one, np.float64), np.asarray(other, np.float64)
    return np.asarray((np.maximum(first, second) + flare) / (np.minimum(first, second) + flare))


def michelson(ratio: ArrayLike) -> Floats:
    """Turn ratios of luminances into Michelson contrasts, 0 to 1: (r − 1) / (r + 1)."""
    ratios = np.asarray(ratio, np.float64)
    return np.asarray((ratios - 1.0) / (ratios + 1.0))


def angle_of(size: ArrayLike, distance: float) -> Floats:
    """Give the visual angle in arc minutes of sizes at a distance, both in metres."""
    return np.asarray(
        2.0 * np.degrees(np.arctan2(np.asarray(size, np.float64) / 2.0, distance)) * MINUTES
    )


def distance_for(size: float, angle: float) -> float:
    """Give the distance in metres from which a size in metres has an angle in arc minutes."""
    return size / (2.0 * math.tan(math.radians(angle / MINUTES) / 2.0))


def sensitivity(frequency: ArrayLike, acuity: float = 0.0, loss: float = 0.0) -> Floats:
    """Give how sensitive eyes are to contrast at frequencies in cycles a degree.

    acuity: in logMAR, 0 of usual eyes; loss: of contrast sensitivity, in log units. Below its
    peak the curve is level: a page's large parts aren't taken away. 1 over it is the
    least Michelson contrast that is seen.
    """
    shifted = np.log10(np.maximum(np.asarray(frequency, np.float64), 1e-12)) + acuity
    over = np.maximum(shifted - math.log10(PEAK_FREQUENCY), 0.0)
    return np.asarray(10.0 ** (math.log10(PEAK) - loss - (HIGH_WING * over) ** 2))


def letters_frequency(angle: ArrayLike) -> Floats:
    """Give the frequency, in cycles a degree, by which letters of an x-height are read.

    angle: of the x-height, in arc minutes.
    """
    return np.asarray(CYCLES_A_LETTER * MINUTES / np.asarray(angle, np.float64))


def reserve_of(
    contrast: ArrayLike, angle: ArrayLike, acuity: float = 0.0, loss: float = 0.0
) -> Floats:
    """Give how many times as strong a text's contrast is as the least that is seen of letters so
    small. contrast: Michelson's; angle: of the x-height, in arc minutes."""
    seen = sensitivity(letters_frequency(angle), acuity, loss)
    return np.asarray(np.asarray(contrast, np.float64) * seen)


def least_angle(contrast: float, needed: float, acuity: float = 0.0, loss: float = 0.0) -> float:
    """Give the least x-height, in arc minutes, at which a contrast has the reserve that is needed.

    Infinite where no size has it.
    """
    if contrast <= 0.0:
        return math.inf
    room = math.log10(PEAK) - loss - math.log10(needed / contrast)
    if room < 0.0:
        return math.inf
    highest: float = 10.0 ** (math.log10(PEAK_FREQUENCY) - acuity + math.sqrt(room) / HIGH_WING)
    return CYCLES_A_LETTER * MINUTES / highest
