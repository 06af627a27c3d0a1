"""Colours of word-processing documents: text, shading and highlights.

Source: ECMA-376 Part 1 §17.3.2.6 (color, with tint and shade), §17.3.5
(shading), §17.18.40 (highlight colours), §17.15.1.20 (the theme's mapping).
"""

from __future__ import annotations

import colorsys
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from high_pair.formats.drawing.colour_sets import Shade
from high_pair.formats.drawing.colours import PLAIN_SCHEME
from high_pair.formats.drawing.patterns import rows_of
from high_pair.formats.xml import Element, child, digits, tag
from high_pair.scene.paint import BLACK, WHITE, Colour, Fill, Pattern, from_levels, mixed

_HEX = re.compile(r"^[0-9A-Fa-f]{6}$")

# §17.18.97: names of the theme's colours. Those that go through the document's mapping, by
# the attribute of w:clrSchemeMapping, and what the mapping's own words mean.
_MAPPED = {
    "background1": "bg1",
    "text1": "t1",
    "background2": "bg2",
    "text2": "t2",
    **{f"accent{n}": f"accent{n}" for n in range(1, 7)},
    "hyperlink": "hyperlink",
    "followedHyperlink": "followedHyperlink",
}
_SLOTS = {
    "dark1": "dk1",
    "light1": "lt1",
    "dark2": "dk2",
    "light2": "lt2",
    **{f"accent{n}": f"accent{n}" for n in range(1, 7)},
    "hyperlink": "hlink",
    "followedHyperlink": "folHlink",
}
_PLAIN_MAPPING = {"bg1": "light1", "t1": "dark1", "bg2": "light2", "t2": "dark2"}

# §17.18.40
HIGHLIGHTS = {
    "black": (0, 0, 0),
    "blue": (0, 0, 255),
    "cyan": (0, 255, 255),
    "darkBlue": (0, 0, 128),
    "darkCyan": (0, 128, 128),
    "darkGray": (128, 128, 128),
    "darkGreen": (0, 128, 0),
    "darkMagenta": (128, 0, 128),
    "darkRed": (128, 0, 0),
    "darkYellow": (128, 128, 0),
    "green": (0, 255, 0),
    "lightGray": (192, 192, 192),
    "magenta": (255, 0, 255),
    "red": (255, 0, 0),
    "white": (255, 255, 255),
    "yellow": (255, 255, 0),
}
# §17.18.78: patterns of lines, by the preset patterns that look like them.
_STRIPES = {
    "horzStripe": "dkHorz",
    "vertStripe": "dkVert",
    "reverseDiagStripe": "dkDnDiag",
    "diagStripe": "dkUpDiag",
    "horzCross": "smGrid",
    "diagCross": "diagCross",
    "thinHorzStripe": "ltHorz",
    "thinVertStripe": "ltVert",
    "thinReverseDiagStripe": "ltDnDiag",
    "thinDiagStripe": "ltUpDiag",
    "thinHorzCross": "lgGrid",
    "thinDiagCross": "openDmnd",
}
# Names of percentages that stand for a half more: pct12 is 12.5 %.
_HALVES = (12, 37, 62, 87)


@dataclass(frozen=True)
class Tinted:
    """A colour, and the theme's slot that it shows as it is, if so; words: for the report."""

    colour: Colour
    slot: str = ""
    words: str = "own colour"


@dataclass(frozen=True)
class DocumentColours:
    """What theme colours mean in a document."""

    scheme: Mapping[str, Colour] = field(default_factory=lambda: PLAIN_SCHEME)
    mapping: Mapping[str, str] = field(default_factory=lambda: _PLAIN_MAPPING)

    def slot(self, name: str) -> str:
        """Give the theme's slot for a colour's name; empty for none."""
        mapped = _MAPPED.get(name)
        if mapped is not None:
            name = self.mapping.get(mapped, mapped)
        return _SLOTS.get(name, "")

    def read(self, element: Element | None, prefix: str = "") -> Tinted | None:
        """Read a stated colour; None where it is automatic or can't be read.

        prefix: of the attributes, as in w:themeFill; empty for w:val and w:themeColor.
        """
        if element is None:
            return None
        theme = {"": "themeColor", "fill": "themeFill", "color": "themeColor"}[prefix]
        name = element.get(tag(f"w:{theme}"), "none")
        slot = self.slot(name)
        if slot and slot in self.scheme:
            tint = _byte(element.get(tag(f"w:{theme.replace('Color', '')}Tint")))
            shade = _byte(element.get(tag(f"w:{theme.replace('Color', '')}Shade")))
            colour = _toned(self.scheme[slot], tint, shade)
            changed = tint is not None or shade is not None
            words = f"theme {name}" + (", changed" if changed else "")
            return Tinted(colour, "" if changed else slot, words)
        value = element.get(tag(f"w:{prefix or 'val'}"), "auto")
        if _HEX.match(value):
            levels = (int(value[0:2], 16), int(value[2:4], 16), int(value[4:6], 16))
            return Tinted(from_levels(levels))
        return None

    def shading(self, element: Element | None) -> Fill | None:
        """Read a w:shd: a colour, a pattern, or None for nothing (§17.3.5)."""
        if element is None:
            return None
        kind = element.get(tag("w:val"), "clear")
        fill = self.read(element, "fill")
        if kind == "nil":
            return None
        if kind == "clear":
            return fill.colour if fill else None
        pattern = self.read(element, "color")
        foreground = pattern.colour if pattern else BLACK
        if kind == "solid":
            return foreground
        background = fill.colour if fill else WHITE
        percent = digits(kind[3:]) if kind.startswith("pct") else None
        if percent is not None:
            share = (percent + (0.5 if percent in _HALVES else 0.0)) / 100
            return mixed(background, foreground, min(1.0, share))
        rows = rows_of(_STRIPES.get(kind, ""))
        if rows is not None:
            return Pattern(rows, foreground, background)
        return fill.colour if fill else None


def shades_in(root: Element, colours: DocumentColours) -> Iterator[Shade]:
    """List which of the theme's slots a part takes lighter or darker, and by which transforms."""
    for element in root.iter():
        for theme in ("themeColor", "themeFill"):
            slot = colours.slot(element.get(tag(f"w:{theme}"), "none"))
            start = theme.replace("Color", "")
            tint, shade = (
                _byte(element.get(tag(f"w:{start}{kind}"))) for kind in ("Tint", "Shade")
            )
            steps = [("lumMod", shade)] if shade is not None else []
            if tint is not None:
                steps += [("lumMod", tint), ("lumOff", 1 - tint)]
            if slot and steps:
                yield slot, tuple(steps)


def read_mapping(settings: Element | None) -> Mapping[str, str]:
    """Read w:clrSchemeMapping."""
    element = child(settings, "w:clrSchemeMapping")
    stated = element.attrib.items() if element is not None else ()
    own = {str(key).rpartition("}")[2]: str(value) for key, value in stated}
    return {**_PLAIN_MAPPING, **own}


def _byte(text: str | None) -> float | None:
    try:
        return int(text, 16) / 255 if text else None
    except ValueError:
        return None


def _toned(colour: Colour, tint: float | None, shade: float | None) -> Colour:
    """Tint and shade, on the lightness of HSL (§17.3.2.6): L·t + 1 − t, and L·t."""
    if tint is None and shade is None:
        return colour
    hue, lightness, saturation = colorsys.rgb_to_hls(*colour.rgb)
    if shade is not None:
        lightness *= shade
    if tint is not None:
        lightness = lightness * tint + 1 - tint
    return Colour(*colorsys.hls_to_rgb(hue, min(1.0, max(0.0, lightness)), saturation))


def highlight(element: Element | None) -> Colour | None:
    """Read a w:highlight; None for none."""
    levels = HIGHLIGHTS.get(element.get(tag("w:val"), "")) if element is not None else None
    return from_levels(levels) if levels else None
