"""Source-over compositing in gamma-encoded sRGB, as office programs and browsers do it."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from high_pair.colour.srgb import Bytes, Floats, from_bytes, to_bytes


def over(source: ArrayLike, opacity: ArrayLike, backdrop: ArrayLike) -> Floats:
    """Lay a colour of an opacity (0 to 1) over an opaque backdrop.

    `source` and `backdrop` end in three channels of 0 to 1; `opacity` has no
    channel axis. All broadcast.
    Source: W3C Compositing and Blending 1, §5.1 (source over, opaque backdrop).
    """
    alpha = np.asarray(opacity, dtype=np.float64)[..., None]
    above = np.asarray(source, dtype=np.float64)
    below = np.asarray(backdrop, dtype=np.float64)
    return np.asarray(alpha * above + (1.0 - alpha) * below)


def over_bytes(source: ArrayLike, opacity: ArrayLike, backdrop: ArrayLike) -> Bytes:
    """Do the same as `over` for 8-bit colours, rounding once at the end."""
    return to_bytes(over(from_bytes(source), opacity, from_bytes(backdrop)))


def on_white(rgba: Bytes) -> Bytes:
    """Lay pixels of four channels, uint8 (h, w, 4), on white; rounded as compositing is."""
    wide = rgba.astype(np.uint16)
    alpha = wide[..., 3:]
    mixed = (wide[..., :3] * alpha + 255 * (255 - alpha) + 127) // 255
    return np.asarray(mixed, np.uint8)
