"""OKLab and its polar form OKLCH.

Source: Björn Ottosson, «A perceptual color space for image processing» (2020),
with the matrices of CSS Color 4 §9.3, which are derived for the D65 white of sRGB.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.srgb import Floats, decode, encode

# CSS Color 4 §10.2 (linear sRGB → XYZ D65) multiplied by §9.3's XYZ D65 → LMS,
# and XYZ-free so that one product does it. Rows: long, medium, short.
LINEAR_SRGB_TO_LMS: Floats = np.array(
    [
        [0.4122214694707629, 0.5363325372617349, 0.0514459932675022],
        [0.2119034958178251, 0.6806995506452344, 0.1073969535369405],
        [0.0883024591900564, 0.2817188391361215, 0.6299787016738221],
    ]
)
LMS_TO_OKLAB: Floats = np.array(
    [
        [0.2104542683093140, 0.7936177747023054, -0.0040720430116193],
        [1.9779985324311684, -2.4285922420485799, 0.4505937096174110],
        [0.0259040424655478, 0.7827717124575296, -0.8086757549230774],
    ]
)
LMS_TO_LINEAR_SRGB = np.linalg.inv(LINEAR_SRGB_TO_LMS)
OKLAB_TO_LMS = np.linalg.inv(LMS_TO_OKLAB)


def oklab_of(colours: ArrayLike) -> Floats:
    """Turn gamma-encoded sRGB (…, 3) of 0 to 1 into OKLab: L 0 to 1, a and b about ±0.4."""
    lms = decode(colours) @ LINEAR_SRGB_TO_LMS.T
    return np.asarray(np.cbrt(lms) @ LMS_TO_OKLAB.T)


def srgb_of(oklab: ArrayLike) -> Floats:
    """Turn OKLab (…, 3) into gamma-encoded sRGB; colours outside the gamut pass 0 or 1."""
    return encode(linear_of(oklab))


def linear_of(oklab: ArrayLike) -> Floats:
    """Turn OKLab (…, 3) into linear sRGB light; colours outside the gamut pass 0 or 1."""
    lms = np.asarray(oklab, dtype=np.float64) @ OKLAB_TO_LMS.T
    return np.asarray((lms * lms * lms) @ LMS_TO_LINEAR_SRGB.T)


def oklch_of(colours: ArrayLike) -> Floats:
    """Turn gamma-encoded sRGB (…, 3) into OKLCH: L 0 to 1, chroma 0 to about 0.4, hue in degrees.

    The hue of a grey has no meaning and is whatever rounding gives.
    """
    lab = oklab_of(colours)
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360.0
    return np.stack([lab[..., 0], chroma, hue], axis=-1)


def oklab_of_oklch(oklch: ArrayLike) -> Floats:
    """Turn OKLCH (…, 3), hue in degrees, into OKLab."""
    value = np.asarray(oklch, dtype=np.float64)
    angle = np.radians(value[..., 2])
    return np.stack(
        [value[..., 0], value[..., 1] * np.cos(angle), value[..., 1] * np.sin(angle)], axis=-1
    )
