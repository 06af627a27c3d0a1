"""A picture as it is seen from a seat: flare added in light, other eyes, and without what is too
fine or too faint to be seen there.

What is below the eyes' threshold is taken away band by band, each an octave of spatial
frequencies, by the contrast that it has against its own surroundings: Peli, «Contrast in
complex images», Journal of the Optical Society of America A 7 (1990); Thompson, Legge,
Kersten, Shakespeare and Lei, «Simulating visibility under reduced acuity and contrast
sensitivity», Journal of the Optical Society of America A 34 (2017). The octaves are those
of a Laplacian pyramid: Burt and Adelson, IEEE Transactions on Communications 31 (1983).
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.sight import PEAK, sensitivity
from high_pair.colour.srgb import LUMINANCE_WEIGHTS, Bytes, decode, encode
from high_pair.colour.vision import Eyes, seen_with

Planes = NDArray[np.float32]
# The middle of the finest octave, in cycles a pixel: of 1/4 to 1/2.
FINEST = 0.35
# An octave whose pixels would be fewer than this isn't looked at.
LEAST_SIDE = 4
MOST_OCTAVES = 8
# What has so many times the least contrast begins to be seen, and is wholly seen.
BEGINS, WHOLE = 0.7, 1.3
_DECODED = np.asarray(decode(np.arange(256) / 255.0), np.float32)
# Encoding by a table over the roots of linear light, fine enough for 8 bits.
_STEPS = 8191
_ENCODED = np.round(255.0 * np.asarray(encode((np.arange(_STEPS + 1) / _STEPS) ** 2))).astype(
    np.uint8
)
_WEIGHTS = np.asarray(LUMINANCE_WEIGHTS, np.float32)


@dataclass(frozen=True)
class Octaves:
    """A picture taken apart. bands: of each octave, finest first, linear light (3, h, w);
    strength: how far its luminance (h, w) is from what is round it, and behind: the luminance
    there, coarser than the octave; rest: what is coarser than all."""

    bands: tuple[Planes, ...]
    strength: tuple[NDArray[np.float32], ...]
    behind: tuple[NDArray[np.float32], ...]
    rest: Planes


def octaves_of(picture: Bytes, eyes: Eyes = Eyes.NORMAL, grey: bool = False) -> Octaves:
    """Take a picture, uint8 (h, w, 3), apart, as some eyes have its colours, or without any."""
    if eyes is not Eyes.NORMAL:
        picture = np.round(255.0 * seen_with(eyes, picture / 255.0)).astype(np.uint8)
    planes = np.ascontiguousarray(np.moveaxis(_DECODED[picture], -1, 0))
    if grey:
        planes = np.repeat(_luminance(planes)[None], 3, axis=0)
    bands: list[Planes] = []
    strength: list[NDArray[np.float32]] = []
    behind: list[NDArray[np.float32]] = []
    while len(bands) < MOST_OCTAVES and min(planes.shape[1:]) >= 2 * LEAST_SIDE:
        coarser = _reduced(planes)
        smooth = _expanded(coarser, planes.shape[1:])
        bands.append(planes - smooth)
        strength.append(np.abs(_luminance(bands[-1])))
        behind.append(_luminance(smooth))
        planes = coarser
    return Octaves(tuple(bands), tuple(strength), tuple(behind), planes)


def seen_from(
    octaves: Octaves, pixels_a_degree: float, flare: float, acuity: float, loss: float
) -> Bytes:
    """Put a picture together as it is seen, uint8 (h, w, 3).

    pixels_a_degree: how many of its pixels a degree has there; flare: light over all of it, as
    a share of what its white adds; acuity: logMAR; loss: of contrast sensitivity, log units.
    """
    shares: list[NDArray[np.float32] | float] = []
    for number, behind in enumerate(octaves.behind):
        frequency = FINEST / 2**number * pixels_a_degree
        seen = float(sensitivity(frequency, acuity, loss))
        if seen >= PEAK * (1 - 1e-9):
            # As sensitive as eyes get: nothing is taken away.
            shares.append(1.0)
        elif seen <= BEGINS:
            shares.append(0.0)
        else:
            shares.append(_shown(octaves.strength[number] / (behind + np.float32(flare)), seen))

    def together(channel: int) -> Bytes:
        plane = octaves.rest[channel : channel + 1].copy()
        for band, share in zip(reversed(octaves.bands), reversed(shares), strict=True):
            plane = _expanded(plane, band.shape[1:])
            if isinstance(share, float):
                plane += band[channel] * np.float32(share)
            else:
                plane += band[channel] * share
        return _encoded(plane[0], flare)

    # NumPy lets go of the interpreter, so that the channels are put together side by side.
    with ThreadPoolExecutor(3) as channels:
        return np.stack(list(channels.map(together, range(3))), axis=-1)


def _shown(contrast: NDArray[np.float32], seen: float) -> NDArray[np.float32]:
    """Give the share, 0 to 1, of what has a contrast that is seen. seen: the eyes' sensitivity."""
    contrast *= np.float32(seen / (WHOLE - BEGINS))
    contrast -= np.float32(BEGINS / (WHOLE - BEGINS))
    return np.clip(contrast, 0.0, 1.0, out=contrast)


def _encoded(plane: NDArray[np.float32], flare: float) -> Bytes:
    """Wash linear light, which it uses up, and encode it, 0 to 255."""
    if flare > 0.0:
        plane += np.float32(flare)
        plane /= np.float32(1.0 + flare)
    np.clip(plane, 0.0, 1.0, out=plane)
    np.sqrt(plane, out=plane)
    plane *= np.float32(_STEPS)
    plane += np.float32(0.5)
    return np.take(_ENCODED, plane.astype(np.int16), mode="clip")


def _luminance(planes: Planes) -> NDArray[np.float32]:
    found: NDArray[np.float32] = planes[0] * _WEIGHTS[0]
    found += planes[1] * _WEIGHTS[1]
    found += planes[2] * _WEIGHTS[2]
    return found


def _along(axis: int, part: slice) -> tuple[slice, ...]:
    """Give the index of a part of planes along one of their axes."""
    return (slice(None), part, slice(None)) if axis == 1 else (slice(None), slice(None), part)


def _reduced(planes: Planes) -> Planes:
    """Smooth planes (3, h, w) and leave out every second row and column."""
    for axis in (1, 2):
        sides = [(0, 0), (0, 0), (0, 0)]
        sides[axis] = (2, 2)
        padded = np.pad(planes, sides, "edge")
        last = planes.shape[axis]
        taps = [padded[_along(axis, slice(start, start + last, 2))] for start in range(5)]
        found = taps[0] + taps[4]
        found *= np.float32(0.25)
        found += taps[1]
        found += taps[3]
        found *= np.float32(0.25)
        found += taps[2] * np.float32(0.375)
        planes = found
    return planes


def _expanded(planes: Planes, shape: tuple[int, ...]) -> Planes:
    """Bring planes (3, h, w) to a size of twice as many rows and columns, smoothly."""
    for axis, size in ((2, shape[1]), (1, shape[0])):
        sides = [(0, 0), (0, 0), (0, 0)]
        sides[axis] = (1, 1)
        padded = np.pad(planes, sides, "edge")
        own = padded[_along(axis, slice(1, -1))]
        after = padded[_along(axis, slice(2, None))]
        before = padded[_along(axis, slice(None, -2))]
        wide = list(planes.shape)
        wide[axis] = size
        found = np.empty(wide, np.float32)
        evens, odds = found[_along(axis, slice(0, None, 2))], found[_along(axis, slice(1, None, 2))]
        between = before + after
        between *= np.float32(0.125)
        between += own * np.float32(0.75)
        evens[...] = between[_along(axis, slice(0, evens.shape[axis]))]
        np.add(own, after, out=between)
        between *= np.float32(0.5)
        odds[...] = between[_along(axis, slice(0, odds.shape[axis]))]
        planes = found
    return planes
