"""The colours of gradients as the engine tells a background (CSS Images 3, §3; CSSOM, §6.7.2)."""

from __future__ import annotations

import re
from collections.abc import Sequence

from high_pair.colour.srgb import hex_of
from high_pair.scene.paint import Colour, from_levels

# Colours of sRGB are told so, whatever they were written as.
_COLOUR = re.compile(
    r"rgba?\(\s*(\d+(?:\.\d+)?),\s*(\d+(?:\.\d+)?),\s*(\d+(?:\.\d+)?)"
    r"(?:,\s*(\d+(?:\.\d+)?))?\s*\)"
)
# Nothing else may have a colour of its own.
_OTHERS = re.compile(r"url\(|image-set\(|element\(|color\(|color-mix\(|(?:ok)?(?:lab|lch)\(")
_GRADIENT = re.compile(r"(?:repeating-)?(?:linear|radial|conic)-gradient\(")


def shades_of_gradients(image: str) -> tuple[Colour, ...]:
    """List the colours of a background's gradients in the order in which they are written.

    Empty where it has anything else, or colours that are told otherwise or are see-through.
    """
    if not _GRADIENT.match(image) or _OTHERS.search(image):
        return ()
    found = []
    for red, green, blue, opacity in _COLOUR.findall(image):
        if opacity and float(opacity) < 1:
            return ()
        levels = (round(float(red)), round(float(green)), round(float(blue)))
        found.append(from_levels(levels))
    return tuple(found)


def with_shades(image: str, shades: Sequence[tuple[int, int, int]]) -> str | None:
    """Give a background's gradients with other colours; None where there aren't so many."""
    colours = iter(shades)
    if len(_COLOUR.findall(image)) != len(shades):
        return None
    return _COLOUR.sub(lambda _: hex_of(next(colours)), image)
