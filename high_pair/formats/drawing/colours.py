"""Colours of DrawingML: every form, through theme and colour map, with its transforms.

Source: ECMA-376 Part 1 §20.1.2.3 (colours), §20.1.6.2 (the theme's scheme),
§19.3.1.6 and §19.3.1.7 (colour maps).
"""

from __future__ import annotations

import colorsys
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from high_pair.colour.srgb import bytes_of, from_bytes
from high_pair.formats.drawing.transforms import (
    HUES,
    TRANSFORMS,
    Mixing,
    encoded_of,
    linear_of,
)
from high_pair.formats.xml import Element, children, local_name, number, share
from high_pair.scene.paint import Colour

UNITS_OF_A_TURN = 360 * 60_000  # ST_Angle, §20.1.10.3

# Names that pass by the colour map: they are the theme's own slots (§20.1.10.54).
THEME_SLOTS = frozenset(
    {"dk1", "lt1", "dk2", "lt2", "hlink", "folHlink", *(f"accent{n}" for n in range(1, 7))}
)
PLAIN_MAP: Mapping[str, str] = {
    "bg1": "lt1",
    "tx1": "dk1",
    "bg2": "lt2",
    "tx2": "dk2",
    **{f"accent{n}": f"accent{n}" for n in range(1, 7)},
    "hlink": "hlink",
    "folHlink": "folHlink",
}
# A theme for files that have lost theirs: black on white, greys for the rest.
PLAIN_SCHEME: Mapping[str, Colour] = {
    "dk1": Colour(0, 0, 0),
    "lt1": Colour(1, 1, 1),
    "dk2": Colour(0.2, 0.2, 0.2),
    "lt2": Colour(0.9, 0.9, 0.9),
    **{f"accent{n}": Colour(0.4, 0.4, 0.4) for n in range(1, 7)},
    "hlink": Colour(0, 0, 0.8),
    "folHlink": Colour(0.4, 0, 0.4),
}

# sysClr values whose lastClr is missing (§20.1.10.58): what a plain desktop has.
SYSTEM_COLOURS = {"windowText": (0, 0, 0), "window": (255, 255, 255)}

# §20.1.10.48 abbreviates CSS names; both spellings occur.
_ABBREVIATIONS = (("dk", "dark"), ("lt", "light"), ("med", "medium"))


@dataclass(frozen=True)
class Palette:
    """What scheme colours mean at one place: the theme's slots and the colour map.

    stand_in: what `phClr` means inside the theme's own formats.
    """

    scheme: Mapping[str, Colour] = field(default_factory=lambda: PLAIN_SCHEME)
    colour_map: Mapping[str, str] = field(default_factory=lambda: PLAIN_MAP)
    stand_in: Colour | None = None

    def slot(self, name: str) -> str | None:
        """Give the theme's slot that a scheme colour's name stands for; None for an unknown one."""
        slot = self.colour_map.get(name)
        if slot is None:
            slot = name if name in THEME_SLOTS else PLAIN_MAP.get(name)
        return slot

    def lookup(self, name: str) -> Colour | None:
        """Give a scheme colour by its name; None for an unknown one."""
        if name == "phClr":
            return self.stand_in
        slot = self.slot(name)
        # A slot's own name is mapped too where a map names it (accents, links);
        # dk1, lt1, dk2 and lt2 are in no map and so pass it by.
        return self.scheme.get(slot) if slot else None

    def with_stand_in(self, colour: Colour | None) -> Palette:
        """Give the palette in which phClr means a colour."""
        return Palette(self.scheme, self.colour_map, colour)


def preset_colour(name: str) -> Colour | None:
    """Give a colour of ST_PresetColorVal (§20.1.10.48), in either spelling; None if unknown."""
    candidates = [name]
    for short, long in _ABBREVIATIONS:
        if name.startswith(short) and name[len(short) : len(short) + 1].isupper():
            candidates.append(long + name[len(short) :])
    # It takes its time to load, and names of colours are rare.
    from coloraide import Color

    for candidate in candidates:
        if not candidate.isalpha():
            continue
        try:
            red, green, blue = Color(candidate).convert("srgb").coords()
        except ValueError:
            continue
        return Colour(red, green, blue)
    return None


def colour_element(parent: Element | None) -> Element | None:
    """Give the first colour among an element's children."""
    for each in children(parent):
        if local_name(each) in _FORMS:
            return each
    return None


def _hex(element: Element, _palette: Palette) -> Colour | None:
    return _from_hex(element.get("val", ""))


def _from_hex(text: str) -> Colour | None:
    try:
        red, green, blue = from_bytes(bytes_of(text))
    except ValueError:
        return None
    return Colour(float(red), float(green), float(blue))


def _linear(element: Element, _palette: Palette) -> Colour | None:
    """scRGB: percentages of linear light (§20.1.2.3.30)."""
    red, green, blue = (min(1.0, max(0.0, share(element.get(name)))) for name in "rgb")
    return Colour(*encoded_of((red, green, blue)))


def _hsl(element: Element, _palette: Palette) -> Colour | None:
    """HSL of gamma-encoded values (§20.1.2.3.13)."""
    hue = number(element.get("hue")) / UNITS_OF_A_TURN
    saturation, lightness = share(element.get("sat")), share(element.get("lum"))
    rgb = colorsys.hls_to_rgb(
        hue % 1.0, min(1.0, max(0.0, lightness)), min(1.0, max(0.0, saturation))
    )
    return Colour(*rgb)


def _system(element: Element, _palette: Palette) -> Colour | None:
    """A system colour as its writer last saw it (§20.1.2.3.33)."""
    stored = _from_hex(element.get("lastClr", ""))
    if stored:
        return stored
    levels = SYSTEM_COLOURS.get(element.get("val", ""))
    return Colour(*(level / 255 for level in levels)) if levels else None


def _preset(element: Element, _palette: Palette) -> Colour | None:
    return preset_colour(element.get("val", ""))


def _scheme(element: Element, palette: Palette) -> Colour | None:
    return palette.lookup(element.get("val", ""))


_FORMS = {
    "srgbClr": _hex,
    "scrgbClr": _linear,
    "hslClr": _hsl,
    "sysClr": _system,
    "prstClr": _preset,
    "schemeClr": _scheme,
}


def resolve(element: Element | None, palette: Palette) -> Colour | None:
    """Give the colour that a colour element means; None for none or an unknown name.

    Transforms are carried out in document order; channels are clipped to sRGB.
    """
    if element is None:
        return None
    form = _FORMS.get(local_name(element))
    base = form(element, palette) if form else None
    return None if base is None else transformed(base, steps_of(element))


def steps_of(element: Element) -> tuple[tuple[str, float], ...]:
    """List a colour element's transforms in document order: names and values, hues in turns."""
    found = []
    for step in children(element):
        name, value = local_name(step), step.get("val")
        if name in HUES:
            found.append((name, number(value) / UNITS_OF_A_TURN))
        elif name in TRANSFORMS:
            found.append((name, share(value)))
    return tuple(found)


def transformed(base: Colour, steps: Sequence[tuple[str, float]]) -> Colour:
    """Carry transforms out on a colour, one after another; see `steps_of`."""
    if not steps:
        return base
    mixing = Mixing(linear_of(base.rgb), base.opacity)
    for name, value in steps:
        mixing = TRANSFORMS[name](mixing, value)
    return Colour(*encoded_of(mixing.linear), mixing.opacity)


def plain_slot(element: Element | None, palette: Palette) -> str:
    """Give the theme's slot that a colour element shows as it is; empty for any other colour."""
    if element is None or local_name(element) != "schemeClr":
        return ""
    if any(local_name(each) in TRANSFORMS for each in children(element)):
        return ""
    return palette.slot(element.get("val", "")) or ""


def origin_of(element: Element | None) -> str:
    """Say in words where a colour element gets its colour, for the report."""
    if element is None:
        return ""
    if local_name(element) == "schemeClr":
        changed = any(local_name(each) in TRANSFORMS for each in children(element))
        return f"theme {element.get('val', '')}" + (", changed" if changed else "")
    return "own colour"
