"""Where beyond a text its colour is decided: a common style, which other texts follow too."""

from __future__ import annotations

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.formats.following import gone
from high_pair.formats.xml import Element, child, local_name, tag
from high_pair.scene.addresses import Address, address_in
from high_pair.scene.text import Decider

CONTENT, STYLES = "content.xml", "styles.xml"


def deciders_of(properties: Element) -> tuple[Decider, ...]:
    """List the common style that text properties belong to; an automatic one is the text's own."""
    style = properties.getparent()
    holder = style.getparent() if style is not None else None
    if style is None or holder is None or local_name(holder) != "styles":
        return ()
    family, name = style.get(tag("style:family"), ""), style.get(tag("style:name"), "")
    if local_name(style) != "style" or not family or not name:
        return ()
    root = properties.getroottree().getroot()
    member = STYLES if local_name(root) == "document-styles" else CONTENT
    shown = style.get(tag("style:display-name")) or name
    return (Decider(f"in the style {shown}", address_in(member, style=f"{family}:{name}")),)


def recolour_origin(address: str, levels: tuple[int, int, int], root: Element) -> None:
    """Give a common style another colour of text. Raises EditError when it isn't there."""
    family, _, name = Address.of(address).first.value.partition(":")
    holder = child(root, "office:styles")
    for style in holder.findall(tag("style:style")) if holder is not None else ():
        same = style.get(tag("style:family")) == family and style.get(tag("style:name")) == name
        if not same:
            continue
        properties = child(style, "style:text-properties")
        if properties is None:
            properties = etree.SubElement(style, tag("style:text-properties"))
        properties.set(tag("fo:color"), hex_of(levels).lower())
        properties.set(tag("style:use-window-font-color"), "false")
        return
    raise gone(address)
