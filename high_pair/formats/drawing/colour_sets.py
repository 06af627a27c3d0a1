"""A theme's colours as a set, with the shades that shapes derive from its slots."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from high_pair.formats.drawing.colours import THEME_SLOTS, Palette, steps_of, transformed
from high_pair.formats.drawing.theme import read_theme
from high_pair.formats.drawing.transforms import HUES
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import address_in
from high_pair.scene.colour_set import ColourSet, SetColour

KIND = "theme"
# A theme with more shades than this is listed as far.
MOST_SHADES = 200
# No program writes more transforms of one colour.
MOST_STEPS = 12
# A slot, and the transforms by which something is derived from it.
Shade = tuple[str, tuple[tuple[str, float], ...]]


def theme_set(member: str, root: Element, source: str, shades: Iterable[Shade] = ()) -> ColourSet:
    """Give a theme's slots as a set, with shades that are derived from them."""
    scheme = child(root, "a:themeElements", "a:clrScheme")
    stated = [name for each in children(scheme) if (name := local_name(each)) in THEME_SLOTS]
    colours = read_theme(root).scheme
    slots = [
        SetColour(slot, colours[slot].levels, addresses=(address_in(member, slot=slot),))
        for slot in stated
    ]
    found: dict[str, SetColour] = {}
    for slot, steps in shades:
        if slot in stated and len(found) < MOST_SHADES:
            words = _in_words(steps)
            name = f"{slot}, {words}"
            levels = transformed(colours[slot], steps).levels
            found.setdefault(name, SetColour(name, levels, slot, steps, words))
    name = scheme.get("name", "") if scheme is not None else ""
    listed = sorted(found.values(), key=lambda each: each.name)
    return ColourSet(name or "Theme", KIND, source, (*slots, *listed))


def shades_in(root: Element, palette: Palette) -> Iterator[Shade]:
    """List which slots a part's shapes take otherwise than they are, and by which transforms."""
    for element in root.iter(tag("a:schemeClr")):
        # How see-through a colour is makes it no other one.
        steps = tuple(step for step in steps_of(element) if not step[0].startswith("alpha"))
        slot = palette.slot(element.get("val", ""))
        if slot and 0 < len(steps) <= MOST_STEPS:
            yield slot, steps


def _in_words(steps: Sequence[tuple[str, float]]) -> str:
    return ", ".join(
        f"{name} {value * 360:g}°" if name in HUES else f"{name} {value * 100:.4g}%"
        for name, value in steps
    )
