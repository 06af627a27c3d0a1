"""A theme part: its colours, its fonts, and its lists of fills, lines and effects (§20.1.6)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from high_pair.formats.drawing.colours import PLAIN_SCHEME, Palette, colour_element, resolve
from high_pair.formats.xml import Element, child, children, local_name
from high_pair.scene.paint import Colour

FALLBACK_FONT = "Calibri"


@dataclass(frozen=True)
class Theme:
    """What a theme part says.

    major, minor: the heading and body font; the lists hold the elements in
    order, first index 1.
    """

    scheme: Mapping[str, Colour] = field(default_factory=lambda: PLAIN_SCHEME)
    major: str = FALLBACK_FONT
    minor: str = FALLBACK_FONT
    fills: tuple[Element, ...] = ()
    lines: tuple[Element, ...] = ()
    effects: tuple[Element, ...] = ()
    backgrounds: tuple[Element, ...] = ()
    missing: bool = True

    def font(self, name: str) -> str:
        """Turn a theme font's name (+mj-lt, +mn-lt and their like) into a family (§20.1.4.1.24)."""
        if name.startswith("+mj"):
            return self.major
        if name.startswith("+mn"):
            return self.minor
        return name


def scheme_of(colour_scheme: Element | None) -> dict[str, Colour]:
    """Give a colour scheme's slots; one that can't be read has the plain theme's colour."""
    found = dict(PLAIN_SCHEME)
    for slot in children(colour_scheme):
        colour = resolve(colour_element(slot), Palette())
        if colour is not None:
            found[local_name(slot)] = colour
    return found


def read_theme(root: Element | None) -> Theme:
    """Read a theme part, leniently; None gives the plain theme, marked as missing."""
    if root is None:
        return Theme()
    elements = child(root, "a:themeElements")
    fonts = child(elements, "a:fontScheme")
    formats = child(elements, "a:fmtScheme")
    return Theme(
        scheme=scheme_of(child(elements, "a:clrScheme")),
        major=_latin(child(fonts, "a:majorFont")),
        minor=_latin(child(fonts, "a:minorFont")),
        fills=tuple(children(child(formats, "a:fillStyleLst"))),
        lines=tuple(children(child(formats, "a:lnStyleLst"))),
        effects=tuple(children(child(formats, "a:effectStyleLst"))),
        backgrounds=tuple(children(child(formats, "a:bgFillStyleLst"))),
        missing=elements is None,
    )


def _latin(font: Element | None) -> str:
    latin = child(font, "a:latin")
    name = latin.get("typeface", "") if latin is not None else ""
    return name or FALLBACK_FONT
