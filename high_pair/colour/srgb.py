"""sRGB and linear light, and relative luminance."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]

# WCAG 2.2, definition of relative luminance, which takes these from IEC 61966-2-1.
LUMINANCE_WEIGHTS: Floats = np.array([0.2126, 0.7152, 0.0722])


def decode(encoded: ArrayLike) -> Floats:
    """Turn gamma-encoded sRGB channels (0 to 1) into linear light (0 to 1).

    Values below zero are mirrored, as CSS Color 4 §10.2 does, so that colours
    outside the gamut survive the way there and back.
    Source: IEC 61966-2-1; the threshold 0.04045 is WCAG 2.2's own.
    """
    value = np.asarray(encoded, dtype=np.float64)
    size = np.abs(value)
    linear = np.where(size <= 0.04045, size / 12.92, ((size + 0.055) / 1.055) ** 2.4)
    return np.asarray(np.copysign(linear, value))


def encode(linear: ArrayLike) -> Floats:
    """Turn linear light (0 to 1) into gamma-encoded sRGB channels; undoes `decode`."""
    value = np.asarray(linear, dtype=np.float64)
    size = np.abs(value)
    encoded = np.where(size <= 0.0031308, size * 12.92, 1.055 * size ** (1 / 2.4) - 0.055)
    return np.asarray(np.copysign(encoded, value))


def to_bytes(encoded: ArrayLike) -> Bytes:
    """Round channels of 0 to 1 to 8 bits; what lies outside is clipped per channel."""
    value = np.clip(np.asarray(encoded, dtype=np.float64), 0.0, 1.0)
    return np.asarray(np.floor(value * 255.0 + 0.5), dtype=np.uint8)


def from_bytes(levels: ArrayLike) -> Floats:
    """Turn 8-bit channels into channels of 0 to 1."""
    return np.asarray(levels, dtype=np.float64) / 255.0


def _luminance_tables() -> Floats:
    return np.asarray(LUMINANCE_WEIGHTS[:, None] * decode(np.arange(256) / 255.0)[None, :])


# One row a channel: what each 8-bit level adds to the luminance.
LUMINANCE_TABLES = _luminance_tables()


def relative_luminance(colours: ArrayLike) -> Floats:
    """Give the relative luminance (0 black to 1 white) of colours.

    `colours` ends in an axis of three channels: uint8 from 0 to 255, which is
    looked up in a table, or floats from 0 to 1.
    Source: WCAG 2.2, definition of relative luminance.
    """
    array = np.asarray(colours)
    if array.dtype == np.uint8:
        red, green, blue = LUMINANCE_TABLES
        return np.asarray(red[array[..., 0]] + green[array[..., 1]] + blue[array[..., 2]])
    return np.asarray(decode(np.clip(array, 0.0, 1.0)) @ LUMINANCE_WEIGHTS)


def hex_of(levels: Sequence[int] | NDArray[Any]) -> str:
    """Write one 8-bit colour as #RRGGBB."""
    red, green, blue = (int(level) for level in levels)
    return f"#{red:02X}{green:02X}{blue:02X}"


def bytes_of(hexadecimal: str) -> tuple[int, int, int]:
    """Read one 8-bit colour from RRGGBB, with or without a leading #.

    Raises ValueError for anything else; for what users type, see `notation`.
    """
    digits = hexadecimal.removeprefix("#")
    if len(digits) != 6:
        raise ValueError(f"not six hexadecimal digits: {hexadecimal!r}")
    value = int(digits, 16)
    return value >> 16, value >> 8 & 255, value & 255
