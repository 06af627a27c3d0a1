"""Colours of workbooks: themes with tint, indexed colours, and the fills of cells.

Source: ECMA-376 Part 1 §18.8.3 (bgColor), §18.8.19 (fgColor and its tint),
§18.8.27 (indexedColors), §18.18.55 (patterns), §18.8.24 (gradients).
"""

from __future__ import annotations

import colorsys
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from high_pair.formats.drawing.colour_sets import Shade
from high_pair.formats.drawing.colours import PLAIN_SCHEME
from high_pair.formats.drawing.patterns import rows_of
from high_pair.formats.xml import Element, child, children, digits, local_name, number, tag
from high_pair.scene.geometry import Box
from high_pair.scene.paint import (
    BLACK,
    WHITE,
    Colour,
    Fill,
    LinearGradient,
    NestedGradient,
    Pattern,
    Stop,
    from_levels,
)

# The order in which theme="n" counts: not that of the theme's XML (§18.8.3).
THEME_ORDER = (
    "lt1",
    "dk1",
    "lt2",
    "dk2",
    *(f"accent{n}" for n in range(1, 7)),
    "hlink",
    "folHlink",
)
# §18.8.27: the palette of files that bring none of their own; the first eight twice.
_BASIC = ("000000", "FFFFFF", "FF0000", "00FF00", "0000FF", "FFFF00", "FF00FF", "00FFFF")
PALETTE = (
    *_BASIC, *_BASIC,
    "800000", "008000", "000080", "808000", "800080", "008080", "C0C0C0", "808080",
    "9999FF", "993366", "FFFFCC", "CCFFFF", "660066", "FF8080", "0066CC", "CCCCFF",
    "000080", "FF00FF", "FFFF00", "00FFFF", "800080", "800000", "008080", "0000FF",
    "00CCFF", "CCFFFF", "CCFFCC", "FFFF99", "99CCFF", "FF99CC", "CC99FF", "FFCC99",
    "3366FF", "33CCCC", "99CC00", "FFCC00", "FF9900", "FF6600", "666699", "969696",
    "003366", "339966", "003300", "333300", "993300", "993366", "333399", "333333",
)  # fmt: skip
# §18.18.55, by the preset patterns of DrawingML that look like them.
PATTERNS = {
    "gray0625": "pct5",
    "gray125": "pct10",
    "lightGray": "pct25",
    "mediumGray": "pct50",
    "darkGray": "pct75",
    "darkHorizontal": "dkHorz",
    "darkVertical": "dkVert",
    "darkDown": "dkDnDiag",
    "darkUp": "dkUpDiag",
    "darkGrid": "smCheck",
    "darkTrellis": "trellis",
    "lightHorizontal": "ltHorz",
    "lightVertical": "ltVert",
    "lightDown": "ltDnDiag",
    "lightUp": "ltUpDiag",
    "lightGrid": "smGrid",
    "lightTrellis": "diagCross",
}


@dataclass(frozen=True)
class Chosen:
    """A colour; slot: of the theme, where it shows one as it is; words: for the report."""

    colour: Colour
    words: str = "own colour"
    slot: str = ""


@dataclass(frozen=True)
class SheetColours:
    """What colours mean in a workbook."""

    scheme: Mapping[str, Colour] = field(default_factory=lambda: PLAIN_SCHEME)
    palette: Sequence[str] = PALETTE

    def read(self, element: Element | None) -> Chosen | None:
        """Read a colour; None where there is none, or the system's own is meant.

        The alpha byte of rgb is passed over: writers leave it at 00.
        """
        if element is None or element.get("auto") in ("1", "true"):
            return None
        return self.stated({str(key): str(value) for key, value in element.attrib.items()})

    def stated(self, stated: Mapping[str, str]) -> Chosen | None:
        """Give the colour that a colour's attributes state (§18.8.3)."""
        tint = max(-1.0, min(1.0, number(stated.get("tint"))))
        rgb = stated.get("rgb")
        theme, index = digits(stated.get("theme")), digits(stated.get("indexed"))
        if theme is not None and theme < len(THEME_ORDER):
            slot = THEME_ORDER[theme]
            base = self.scheme.get(slot, BLACK)
            words = f"theme {slot}" + (", changed" if tint else "")
            return Chosen(tinted(base, tint), words, "" if tint else slot)
        if rgb is not None:
            found = _from_hex(rgb[-6:])
            return Chosen(tinted(found, tint)) if found is not None else None
        if index is not None and index < len(self.palette):
            found = _from_hex(self.palette[index][-6:])
            if found is not None:
                return Chosen(tinted(found, tint), f"palette {index}")
        return None

    def fill(self, element: Element | None, differential: bool = False) -> Fill | None:
        """Read a fill; None for nothing.

        differential: in a dxf a solid fill's colour is the background's, and no
        pattern named means solid (§18.8.14, §18.8.20).
        """
        pattern = child(element, "x:patternFill")
        if pattern is not None:
            return self._pattern(pattern, differential)
        gradient = child(element, "x:gradientFill")
        return self._gradient(gradient) if gradient is not None else None

    def _pattern(self, pattern: Element, differential: bool) -> Fill | None:
        kind = pattern.get("patternType", "solid" if differential else "none")
        front = self.read(child(pattern, "x:fgColor"))
        back = self.read(child(pattern, "x:bgColor"))
        if kind == "none":
            return None
        if kind == "solid":
            chosen = (back or front) if differential else front
            if chosen is not None:
                return chosen.colour
            # A solid fill of the system's colours: that of windows, else of their text.
            return None if differential else WHITE
        foreground = front.colour if front else BLACK
        background = back.colour if back else WHITE
        rows = rows_of(PATTERNS.get(kind, ""))
        return Pattern(rows, foreground, background) if rows is not None else background

    def _gradient(self, gradient: Element) -> Fill | None:
        stops = []
        for stop in children(gradient):
            chosen = self.read(child(stop, "x:color"))
            if local_name(stop) == "stop" and chosen is not None:
                place = min(1.0, max(0.0, number(stop.get("position"))))
                stops.append(Stop(place, chosen.colour))
        if not stops:
            return None
        stops.sort(key=lambda stop: stop.place)
        unit = Box(0.0, 0.0, 1.0, 1.0)
        if gradient.get("type", "linear") == "path":
            sides = [min(1.0, max(0.0, number(gradient.get(side)))) for side in
                     ("left", "top", "right", "bottom")]  # fmt: skip
            focus = Box(sides[0], sides[1], max(0.0, sides[2] - sides[0]),
                        max(0.0, sides[3] - sides[1]))  # fmt: skip
            return NestedGradient(tuple(stops), unit, focus)
        angle = number(gradient.get("degree")) % 360
        ends = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}
        across, down = ends.get(angle, (1.0, 1.0))
        start = (0.0 if across >= 0 else 1.0, 0.0 if down >= 0 else 1.0)
        return LinearGradient(tuple(stops), start, (start[0] + across, start[1] + down))


def shades_in(root: Element) -> Iterator[Shade]:
    """List which of the theme's slots a part takes with a tint, and by which transforms."""
    for element in root.iter():
        theme, tint = digits(element.get("theme")), number(element.get("tint"))
        if theme is not None and theme < len(THEME_ORDER) and tint:
            tint = max(-1.0, min(1.0, tint))
            lighter = (("lumMod", 1 - tint), ("lumOff", tint))
            yield THEME_ORDER[theme], lighter if tint > 0 else (("lumMod", 1 + tint),)


def tinted(colour: Colour, tint: float) -> Colour:
    """Lighten or darken on the lightness of HSL (§18.8.19): L·(1 + t), or L·(1 − t) + t."""
    if not tint:
        return colour
    hue, lightness, saturation = colorsys.rgb_to_hls(*colour.rgb)
    lightness = lightness * (1 + tint) if tint < 0 else lightness * (1 - tint) + tint
    return Colour(*colorsys.hls_to_rgb(hue, min(1.0, max(0.0, lightness)), saturation))


def _from_hex(text: str) -> Colour | None:
    try:
        levels = bytes.fromhex(text)
    except ValueError:
        return None
    return from_levels((levels[0], levels[1], levels[2])) if len(levels) == 3 else None


def read_palette(styles: Element | None) -> Sequence[str]:
    """Read the workbook's own indexed colours; the standard's where it has none."""
    listed = child(styles, "x:colors", "x:indexedColors")
    own = [each.get("rgb", "") for each in children(listed) if each.tag == tag("x:rgbColor")]
    return (*own, *PALETTE[len(own) :]) if own else PALETTE
