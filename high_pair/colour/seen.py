"""A picture as it is seen from a seat: flare added in light, other eyes, and without what is too
fine or too faint to be seen there.

What is below the eyes' threshold is taken away band by band, each an octave of spatial
frequencies, by the contrast that it has against its own surroundings: Peli, «Contrast in
complex images», Journal of the Optical Society of America A 7 (1990); Thompson, Legge,
Kersten, Shakespeare and Lei, «Simulating visibility under reduced acuity and contrast
sensitivity», Journal of the Optical Society of America A 34 (2017). The octaves are those
of a Laplacian pyramid: Burt and Adelson, IEEE Transactions on Communications 31 (1983), by
OpenCV.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from high_pair.colour.sight import PEAK, sensitivity
from high_pair.colour.srgb import LUMINANCE_WEIGHTS, Bytes, decode, encode
from high_pair.colour.vision import Eyes, seen_with

Light = NDArray[np.float32]
# The middle of the finest octave, in cycles a pixel: of 1/4 to 1/2.
FINEST = 0.35
# An octave whose pixels would be fewer than this isn't looked at.
LEAST_SIDE = 4
MOST_OCTAVES = 8
# What has so many times the least contrast begins to be seen, and is wholly seen.
BEGINS, WHOLE = 0.7, 1.3
_DECODED = np.asarray(decode(np.arange(256) / 255.0), np.float32)[None]
# Encoding by a table of linear light in so many steps: the darkest level has twenty of them.
_STEPS = 65535
_LEVELS = np.round(255.0 * np.asarray(encode(np.arange(_STEPS + 1) / _STEPS)))
_ENCODED = _LEVELS.astype(np.uint8)[None]
_WEIGHTS = np.asarray(LUMINANCE_WEIGHTS, np.float32)[None]


@dataclass(frozen=True)
class Octaves:
    """A picture taken apart. bands: of each octave, finest first, linear light (h, w, 3);
    strength: how far its luminance (h, w) is from what is round it, and behind: the luminance
    there, coarser than the octave; rest: what is coarser than all."""

    bands: tuple[Light, ...]
    strength: tuple[Light, ...]
    behind: tuple[Light, ...]
    rest: Light


def octaves_of(picture: Bytes, eyes: Eyes = Eyes.NORMAL, grey: bool = False) -> Octaves:
    """Take a picture, uint8 (h, w, 3), apart, as some eyes have its colours, or without any."""
    if eyes is not Eyes.NORMAL:
        picture = np.round(255.0 * seen_with(eyes, picture / 255.0)).astype(np.uint8)
    light = np.asarray(cv2.LUT(np.ascontiguousarray(picture), _DECODED), np.float32)
    if grey:
        light = _on_all_channels(_luminance(light))
    bands: list[Light] = []
    strength: list[Light] = []
    behind: list[Light] = []
    while len(bands) < MOST_OCTAVES and min(light.shape[:2]) >= 2 * LEAST_SIDE:
        coarser = np.asarray(cv2.pyrDown(light), np.float32)
        smooth = _as_large(coarser, light)
        bands.append(np.asarray(cv2.subtract(light, smooth), np.float32))
        strength.append(np.abs(_luminance(bands[-1])))
        behind.append(_luminance(smooth))
        light = coarser
    return Octaves(tuple(bands), tuple(strength), tuple(behind), light)


def seen_from(
    octaves: Octaves, pixels_a_degree: float, flare: float, acuity: float, loss: float
) -> Bytes:
    """Put a picture together as it is seen, uint8 (h, w, 3).

    pixels_a_degree: how many of its pixels a degree has there; flare: light over all of it, as
    a share of what its white adds; acuity: logMAR; loss: of contrast sensitivity, log units.
    """
    light = octaves.rest
    for number in reversed(range(len(octaves.bands))):
        band = octaves.bands[number]
        light = _as_large(light, band)
        seen = float(sensitivity(FINEST / 2**number * pixels_a_degree, acuity, loss))
        if seen >= PEAK * (1 - 1e-9):
            # As sensitive as eyes get: nothing is taken away.
            light += band
        elif seen > BEGINS:
            share = octaves.strength[number] * np.float32(seen / (WHOLE - BEGINS))
            share /= octaves.behind[number] + np.float32(flare)
            share -= np.float32(BEGINS / (WHOLE - BEGINS))
            np.clip(share, 0.0, 1.0, out=share)
            cv2.accumulateProduct(band, _on_all_channels(share), light)
    # Washed, and rounded to the steps of the table; what lies beyond them is cut.
    scale = _STEPS / (1.0 + flare)
    steps = cv2.addWeighted(light, scale, light, 0.0, scale * flare, dtype=cv2.CV_16U)
    return np.asarray(cv2.LUT(steps, _ENCODED), np.uint8)


def _luminance(light: Light) -> Light:
    return np.asarray(cv2.transform(light, _WEIGHTS), np.float32)


def _on_all_channels(plane: Light) -> Light:
    return np.asarray(cv2.merge([plane, plane, plane]), np.float32)


def _as_large(coarser: Light, model: Light) -> Light:
    """Bring light to the size of what is finer by an octave, smoothly."""
    height, width = model.shape[:2]
    return np.asarray(cv2.pyrUp(coarser, dstsize=(width, height)), np.float32)
