"""Automatic text: white on what is dark, black on what is light.

The standards leave open where that turns, and programs differ in it. OpenDocument's writers
agree on one luma; for others the colour is sure only where all that are known agree.
Source: ECMA-376 Part 1 §17.3.2.6; ODF 1.3 Part 3 §20.384.
"""

from __future__ import annotations

from high_pair.scene.paint import BLACK, WHITE, Colour

# Lumas of 0 to 255. OpenDocument text is white up to this one.
TURNS_IN_ODF = 62
# Text is surely white up to this luma,
SURELY_DARK = 60
# and surely black from this one on.
SURELY_LIGHT = 130
# Said of outlined letters.
OUTLINED = "its letters are an outline in some programs, and filled in others"


def luma_of(backdrop: Colour) -> int:
    """Give a colour's luma, 0 to 255, in the whole numbers by which programs reckon."""
    red, green, blue = backdrop.levels
    return (red * 76 + green * 151 + blue * 29) >> 8


def automatic_in_odf(backdrop: Colour) -> Colour:
    """Give the colour of automatic text in an OpenDocument file."""
    return WHITE if luma_of(backdrop) <= TURNS_IN_ODF else BLACK


def automatic(backdrop: Colour, turns: bool = True) -> tuple[Colour, ...]:
    """Give the colour of automatic text elsewhere, two where programs differ.

    turns: the file says of itself that its text turns white on what is dark.
    """
    luma = luma_of(backdrop)
    if luma <= SURELY_DARK and turns:
        return (WHITE,)
    return (BLACK,) if luma >= SURELY_LIGHT else (BLACK, WHITE)
