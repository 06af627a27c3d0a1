"""A theme's colours as a set, with the shades that shapes derive from its slots."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from high_pair.colour.srgb import Bytes
from high_pair.formats.drawing.colours import THEME_SLOTS, Palette, steps_of, transformed
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.theme import read_theme
from high_pair.formats.drawing.transforms import HUES
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import address_in
from high_pair.scene.colour_set import ColourSet, SetColour
from high_pair.scene.paint import from_levels

KIND = "theme"
# A theme with more shades than this is listed as far.
MOST_SHADES = 200


def theme_set(
    member: str, root: Element, source: str, settings: Iterable[Setting] = ()
) -> ColourSet:
    """Give a theme's slots as a set; settings: of the pages whose shapes derive shades of them."""
    scheme = child(root, "a:themeElements", "a:clrScheme")
    stated = [name for each in children(scheme) if (name := local_name(each)) in THEME_SLOTS]
    colours = read_theme(root).scheme
    slots = [
        SetColour(slot, colours[slot].levels, address=address_in(member, slot=slot))
        for slot in stated
    ]
    shades: dict[str, SetColour] = {}
    for slot, steps in _shades(settings):
        if slot in stated and len(shades) < MOST_SHADES:
            words = _in_words(steps)
            name = f"{slot}, {words}"
            levels = transformed(colours[slot], steps).levels
            shades.setdefault(name, SetColour(name, levels, slot, steps, words))
    name = scheme.get("name", "") if scheme is not None else ""
    listed = sorted(shades.values(), key=lambda each: each.name)
    return ColourSet(name or "Theme", KIND, source, (*slots, *listed))


def _shades(settings: Iterable[Setting]) -> Iterator[tuple[str, tuple[tuple[str, float], ...]]]:
    """List which slots shapes take otherwise than they are, and by which transforms."""
    seen: set[tuple[int, int]] = set()
    for setting in settings:
        for part in (setting.own, setting.layout, setting.master):
            if part is None:
                continue
            key = id(part.root), id(setting.master.root if setting.master else None)
            if key not in seen:
                seen.add(key)
                yield from _shades_in(part.root, setting.palette)


def _shades_in(
    root: Element, palette: Palette
) -> Iterator[tuple[str, tuple[tuple[str, float], ...]]]:
    for element in root.iter(tag("a:schemeClr")):
        # How see-through a colour is makes it no other one.
        steps = tuple(step for step in steps_of(element) if not step[0].startswith("alpha"))
        slot = palette.slot(element.get("val", ""))
        if slot and steps:
            yield slot, steps


def _in_words(steps: Sequence[tuple[str, float]]) -> str:
    return ", ".join(
        f"{name} {value * 360:g}°" if name in HUES else f"{name} {value * 100:g}%"
        for name, value in steps
    )


def derived(colour: SetColour, levels: Bytes) -> Bytes:
    """Give what a derived colour becomes for levels (n, 3) of its parent."""
    found = [
        transformed(from_levels((int(red), int(green), int(blue))), colour.steps).levels
        for red, green, blue in levels
    ]
    return np.array(found, np.uint8).reshape(-1, 3)
