"""Where beyond a text its colour is decided: a style of its layout, its master, or the theme.

The address of a style is the way to its run properties from the part's root,
by the places of elements; that of a theme's colour names its slot.
"""

from __future__ import annotations

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.solid import solid_fill
from high_pair.formats.drawing.text_styles import TextColour
from high_pair.formats.following import gone
from high_pair.formats.schema_order import DRAWING_RUN, FILLS, put_one_of
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import Address, address_in
from high_pair.scene.text import Decider


def deciders_of(parts: Setting, colour: TextColour) -> tuple[Decider, ...]:
    """List where a text's colour is decided, nearest first; the run itself isn't listed."""
    found = []
    if colour.element is not None:
        address = _style_address(parts, colour.element)
        if address:
            found.append(Decider(f"in the {colour.style}", address))
    if colour.slot and parts.theme_member:
        address = address_in(parts.theme_member, slot=colour.slot)
        found.append(Decider(f"in the theme, {colour.slot}", address))
    return tuple(found)


def _style_address(parts: Setting, element: Element) -> str:
    root = element.getroottree().getroot()
    for part in (parts.own, parts.layout, parts.master, parts.presentation):
        if part is not None and part.root is root:
            return address_in(part.member, style=_way(element))
    return ""


def _way(element: Element) -> str:
    """Write the way from the root to an element: the places of elements among their siblings."""
    places = []
    while (parent := element.getparent()) is not None:
        places.append(str(list(children(parent)).index(element)))
        element = parent
    return ".".join(reversed(places))


def recolour_origin(address: str, levels: tuple[int, int, int], root: Element) -> None:
    """Give a style or a slot of the theme another colour. Raises EditError when it isn't there."""
    first = Address.of(address).first
    where = first.value
    if first.name == "slot":
        slot = child(root, "a:themeElements", "a:clrScheme", f"a:{where}")
        if slot is None:
            raise gone(address)
        for each in list(slot):
            slot.remove(each)
        etree.SubElement(slot, tag("a:srgbClr"), val=hex_of(levels)[1:])
        return
    element = root
    for place in where.split("."):
        below = list(children(element))
        if not place.isdecimal() or int(place) >= len(below):
            raise gone(address)
        element = below[int(place)]
    if local_name(element) not in ("defRPr", "rPr", "endParaRPr"):
        raise gone(address)
    put_one_of(element, solid_fill(levels), DRAWING_RUN, FILLS)
