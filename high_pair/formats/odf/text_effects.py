"""Shadows and outlines of letters (ODF 1.3 Part 3 §20.213, §20.374).

A shadow's colour isn't stated: writers take light grey for black letters, and black for all others.
"""

from __future__ import annotations

from high_pair.formats.automatic_text import luma_of
from high_pair.formats.odf.styles import TextStyles
from high_pair.formats.odf.units import length
from high_pair.scene.paint import BLACK, Colour, Shadow, from_levels

NEARLY_BLACK = 8
SHADOW_OF_BLACK = from_levels((192, 192, 192))
PLAIN_OFFSET = 1.0


def shadow_of_letters(styles: TextStyles, colour: Colour) -> Shadow | None:
    """Give the shadow of letters of a colour; None where they have none."""
    stated = styles.get("fo:text-shadow") or "none"
    if stated == "none":
        return None
    across, down = [*(length(word, PLAIN_OFFSET) for word in stated.split()), PLAIN_OFFSET][:2]
    shade = SHADOW_OF_BLACK if luma_of(colour) < NEARLY_BLACK else BLACK
    return Shadow(shade, across, down, 0.0)


def is_outlined(styles: TextStyles) -> bool:
    """Tell whether only the outline of letters is painted."""
    return styles.get("style:text-outline") == "true"
