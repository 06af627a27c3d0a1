"""Picking a colour from pixels: a single one, or the average of a square of them."""

from __future__ import annotations

import numpy as np

from high_pair.colour.srgb import Bytes, decode, encode, from_bytes, to_bytes

SIDES = (1, 3, 5, 11)


def picked(pixels: Bytes, x: int, y: int, side: int = 1) -> tuple[int, int, int]:
    """Give the average colour of a square of pixels round one, cut at the picture's edges.

    pixels: uint8 (h, w, 3); side: odd. The average is of light, as the eye sees
    it from afar, so that its luminance is the average of theirs. Raises
    IndexError for a place outside.
    """
    height, width = pixels.shape[:2]
    if not (0 <= x < width and 0 <= y < height):
        raise IndexError(f"there is no pixel at {x}, {y}")
    reach = side // 2
    rows = slice(max(0, y - reach), y + reach + 1)
    columns = slice(max(0, x - reach), x + reach + 1)
    part = pixels[rows, columns, :3].reshape(-1, 3)
    if (part == part[0]).all():
        red, green, blue = (int(level) for level in part[0])
    else:
        light = decode(from_bytes(part)).mean(axis=0)
        red, green, blue = (int(level) for level in to_bytes(encode(np.asarray(light))))
    return red, green, blue
