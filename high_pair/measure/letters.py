"""What the shares of ink tell of letters: how wide their strokes are, how high their lines."""

from __future__ import annotations

import numpy as np
from scipy import ndimage

from high_pair.colour.srgb import Floats

# From this share of ink on a pixel is a letter's.
LETTER = 0.5
# A line's letters reach over so much of its size.
LETTERS = 0.85


def stroke_width(ink: Floats) -> float:
    """Give the width of the strokes in pixels, to about half a pixel, from their middle lines."""
    solid = ink >= 0.5
    if not solid.any():
        return 0.0
    depth = ndimage.distance_transform_edt(np.pad(solid, 1))[1:-1, 1:-1]
    ridge = solid & (depth >= ndimage.maximum_filter(depth, size=3))
    # A stroke of an odd number of pixels is 2 d - 1 wide, of an even number 2 d.
    return 2.0 * float(np.median(depth[ridge])) - 0.5


def line_height(ink: Floats) -> float:
    """Give the height of the text's lines in pixels, the median of several."""
    rows = (ink >= 0.4).any(axis=1)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], rows.astype(np.int8), [0]])))
    heights = edges[1::2] - edges[::2]
    tall = heights[heights >= 0.4 * heights.max()] if len(heights) else heights
    return float(np.median(tall)) if len(tall) else 0.0
