"""Automatic styles of our own for a shape, made from the style that it has."""

from __future__ import annotations

import copy
from collections.abc import Mapping

from lxml import etree

from high_pair.formats.xml import Element, child, children, local_name, tag

PREFIX = "HighPair"


def automatic_styles(root: Element) -> Element:
    """Give the holder of a member's automatic styles, made if it isn't there."""
    holder = child(root, "office:automatic-styles")
    if holder is None:
        holder = etree.Element(tag("office:automatic-styles"))
        # They stand before the body and the master styles, after the common styles.
        place = 0
        for count, each in enumerate(root):
            if local_name(each) in ("scripts", "font-face-decls", "styles", "meta", "settings"):
                place = count + 1
        root.insert(place, holder)
    return holder


def free_name(holder: Element, kind: str) -> str:
    """Give a name for a style that no other of the holder has."""
    taken = {each.get(tag("style:name")) for each in children(holder)}
    count = 1
    while f"{PREFIX}{kind}{count}" in taken:
        count += 1
    return f"{PREFIX}{kind}{count}"


def restyle_shape(shape: Element, root: Element, changes: Mapping[str, str | None]) -> None:
    """Give a shape a style of its own: as it has, with some graphic properties changed.

    changes: the properties by their names; None takes one away.
    """
    own = next(
        (
            (attribute, family)
            for attribute, family in (
                ("presentation:style-name", "presentation"),
                ("draw:style-name", "graphic"),
            )
            if shape.get(tag(attribute))
        ),
        ("draw:style-name", "graphic"),
    )
    restyle(shape, root, own, "graphic", changes)


def restyle(
    element: Element,
    root: Element,
    own: tuple[str, str],
    kind: str,
    changes: Mapping[str, str | None],
) -> None:
    """Give an element a style of its own: as it has, with some properties changed.

    own: the attribute that names its style, and the style's family; kind: of
    the properties, such as graphic for style:graphic-properties.
    """
    attribute, family = own
    name = element.get(tag(attribute), "")
    holder = automatic_styles(root)
    original = next(
        (
            each
            for each in holder.findall(tag("style:style"))
            if each.get(tag("style:name")) == name and each.get(tag("style:family")) == family
        ),
        None,
    )
    if original is not None:
        style = copy.deepcopy(original)
    else:
        style = etree.Element(tag("style:style"))
        style.set(tag("style:family"), family)
        if name:
            style.set(tag("style:parent-style-name"), name)
    style.set(tag("style:name"), free_name(holder, "Shape"))
    properties = child(style, f"style:{kind}-properties")
    if properties is None:
        properties = etree.Element(tag(f"style:{kind}-properties"))
        style.insert(0, properties)
    # Writers of tables may state the same in an extension beside it.
    extended = child(style, f"loext:{kind}-properties")
    for holds in (properties, extended) if extended is not None else (properties,):
        for key, value in changes.items():
            if value is None:
                holds.attrib.pop(tag(key), "")
            else:
                holds.set(tag(key), value)
    background = changes.get("fo:background-color")
    beside = child(style, "loext:graphic-properties")
    if background and kind != "graphic" and beside is not None:
        # Where a writer states the background as a fill besides, it is the one that counts there.
        beside.set(tag("draw:fill"), "solid")
        beside.set(tag("draw:fill-color"), background)
    holder.append(style)
    element.set(tag(attribute), style.get(tag("style:name"), ""))
