"""A fill of one colour, as DrawingML writes it (ECMA-376 Part 1, §20.1.8.54)."""

from __future__ import annotations

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.formats.xml import Element, tag

WHOLE = 100_000


def solid_fill(levels: tuple[int, int, int], opacity: float = 1.0) -> Element:
    """Make one. levels: 8-bit sRGB; opacity: 0 to 1."""
    fill = etree.Element(tag("a:solidFill"))
    colour = etree.SubElement(fill, tag("a:srgbClr"), val=hex_of(levels)[1:])
    if opacity < 1:
        etree.SubElement(colour, tag("a:alpha"), val=str(round(opacity * WHOLE)))
    return fill
