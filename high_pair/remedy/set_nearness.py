"""How near any two colours of a set may come."""

from __future__ import annotations

import numpy as np

from high_pair.colour.srgb import from_bytes
from high_pair.colour.vision import Eyes, apart
from high_pair.scene.colour_set import ColourSet

# ΔE2000 by which rounding may bring two colours nearer.
TOLERANCE = 0.05


class Nearness:
    """How near any two colours of a set may come, for four kinds of eyes.

    What is derived is a shade of its parent, and isn't told apart from others by itself.
    """

    def __init__(self, colours: ColourSet, floor: float) -> None:
        own = [colour for colour in colours.colours if not colour.parent]
        self.names = [colour.name for colour in own]
        levels = [colour.levels for colour in own]
        before = from_bytes(np.array(levels, np.uint8).reshape(-1, 3))
        self.least = {eyes: np.minimum(apart(eyes, before), floor) - TOLERANCE for eyes in Eyes}
