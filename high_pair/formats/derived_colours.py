"""What colours that are derived from others in a set become when those change."""

from __future__ import annotations

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.formats.drawing.colours import transformed
from high_pair.scene.colour_set import SetColour
from high_pair.scene.paint import from_levels


def derived(colour: SetColour, levels: Bytes) -> Bytes:
    """Give what a derived colour becomes for levels (n, 3) of its parent."""
    found = [
        transformed(from_levels((int(red), int(green), int(blue))), colour.steps).levels
        for red, green, blue in levels
    ]
    return np.array(found, np.uint8).reshape(-1, 3)
