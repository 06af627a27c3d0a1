"""The fonts that ship with High Pair, and which of them stands in for another.

Only these fonts are used, so that a text is laid out alike on every machine.
"""

from __future__ import annotations

import functools
from dataclasses import dataclass
from pathlib import Path

import skia

FOLDER = Path(__file__).resolve().parent.parent / "data" / "fonts"

SANS, SERIF, MONO = "Liberation Sans", "Liberation Serif", "Liberation Mono"
SHIPPED = ("Atkinson Hyperlegible", "Caladea", "Carlito", MONO, SANS, SERIF)

# Stand-ins with the same advance widths, so that lines break at the same words.
METRIC_COMPATIBLE = {
    "calibri": "Carlito",
    "cambria": "Caladea",
    "arial": SANS,
    "helvetica": SANS,
    "times new roman": SERIF,
    "times": SERIF,
    "courier new": MONO,
    "courier": MONO,
}
_SERIF_WORDS = ("serif", "roman", "georgia", "garamond", "book", "palatino", "century", "baskerv")
_MONO_WORDS = ("mono", "courier", "consol", "typewriter", "code", "terminal")


@dataclass(frozen=True)
class Face:
    """A shipped family chosen for a wanted one; exact when it is the wanted one itself.

    same_widths: its letters are as wide as the wanted one's.
    """

    family: str
    exact: bool
    same_widths: bool = True


@functools.cache
def face_for(wanted: str) -> Face:
    """Choose the shipped family for a family name: itself, a metric twin, or one of its class."""
    name = wanted.strip()
    for family in SHIPPED:
        if family.lower() == name.lower():
            return Face(family, exact=True)
    lowered = name.lower()
    twin = METRIC_COMPATIBLE.get(lowered)
    if twin:
        return Face(twin, exact=False)
    if any(word in lowered for word in _MONO_WORDS):
        return Face(MONO, exact=False, same_widths=False)
    if "sans" not in lowered and any(word in lowered for word in _SERIF_WORDS):
        return Face(SERIF, exact=False, same_widths=False)
    return Face(SANS, exact=False, same_widths=False)


@functools.cache
def provider() -> skia.textlayout.TypefaceFontProvider:
    """Give the shipped fonts as Skia's text layout wants them."""
    maker = skia.FontMgr.New_Custom_Empty()
    fonts = skia.textlayout.TypefaceFontProvider()
    for path in sorted(FOLDER.glob("*/*.ttf")):
        fonts.registerTypeface(maker.makeFromFile(str(path)))
    return fonts


@functools.cache
def collection() -> skia.textlayout.FontCollection:
    """Give the collection that paragraphs are built with."""
    fonts = skia.textlayout.FontCollection()
    fonts.setDefaultFontManager(provider())
    return fonts


def font_style(weight: int, italic: bool) -> skia.FontStyle:
    """Give Skia's word for a weight (1 to 1000) and a slant."""
    slant = skia.FontStyle.kItalic_Slant if italic else skia.FontStyle.kUpright_Slant
    return skia.FontStyle(weight, skia.FontStyle.kNormal_Width, slant)


@functools.cache
def typeface(family: str, weight: int, italic: bool) -> skia.Typeface:
    """Give the shipped typeface of a family that `face_for` named."""
    return provider().matchFamilyStyle(family, font_style(weight, italic))


@functools.cache
def natural_height(family: str, weight: int, italic: bool) -> float:
    """Give a line's natural height as a share of the font size: ascent, descent and leading."""
    metrics = skia.Font(typeface(family, weight, italic), 1000.0).getMetrics()
    return float(metrics.fDescent - metrics.fAscent + metrics.fLeading) / 1000.0


@functools.cache
def blank_width(family: str, weight: int, italic: bool) -> float:
    """Give the width of a space, no-break ones too, as a share of the font size."""
    font = skia.Font(typeface(family, weight, italic), 1000.0)
    return float(font.measureText(" ")) / 1000.0


@functools.cache
def x_height(wanted: str, weight: int, italic: bool) -> float:
    """Give the height of the x in the face for a family, as a share of the font size."""
    font = skia.Font(typeface(face_for(wanted).family, weight, italic), 1000.0)
    return float(font.getMetrics().fXHeight) / 1000.0


@functools.lru_cache(maxsize=4096)
def lacks_glyphs(family: str, weight: int, italic: bool, text: str) -> bool:
    """Tell whether the typeface misses a character of the text that has a shape."""
    drawn = "".join(character for character in text if character.isprintable())
    glyphs = skia.Font(typeface(family, weight, italic), 12.0).textToGlyphs(drawn)
    return any(glyph == 0 for glyph in glyphs)
