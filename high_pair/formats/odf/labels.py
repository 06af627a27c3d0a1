"""Giving the labels of lists another colour: a list style of the list's own."""

from __future__ import annotations

import copy
from collections.abc import Iterator, Mapping

from lxml import etree

from high_pair.errors import EditError
from high_pair.formats.odf.derived import automatic_styles, free_name
from high_pair.formats.odf.styles import Styles
from high_pair.formats.xml import Element, child, children, local_name, tag, whole

# Where a list's level begins to be counted: what holds its text.
HOLDERS = ("text-box", "table-cell", "page", "text", "header", "footer")
DEEPEST_LEVEL = 10


def dress_labels(
    paragraph: Element, changes: Mapping[str, str], root: Element, styles: Element, address: str
) -> None:
    """Give the labels of a paragraph's list, at its level, some text properties.

    The list gets a style of its own, in the member where it stands (root), made from
    the one it has, which may stand in the member of the common styles (styles).
    Raises EditError where the list has none.
    """
    lists = list(_lists_round(paragraph))
    owner = next((each for each in lists if each.get(tag("text:style-name"))), None)
    original = _list_style(owner, lists, root, styles)
    if not lists or original is None:
        raise EditError(f"{address}: the list's own style isn't in the file. Change it by hand.")
    owner = owner if owner is not None else lists[-1]
    changed = copy.deepcopy(original)
    holder = automatic_styles(root)
    changed.set(tag("style:name"), free_name(holder, "List"))
    for entry in children(changed):
        if whole(entry, tag("text:level")) == min(len(lists), DEEPEST_LEVEL):
            properties = child(entry, "style:text-properties")
            if properties is None:
                properties = etree.SubElement(entry, tag("style:text-properties"))
            for key, value in changes.items():
                properties.set(tag(key), value)
    holder.append(changed)
    owner.set(tag("text:style-name"), changed.get(tag("style:name"), ""))


def _lists_round(paragraph: Element) -> Iterator[Element]:
    """Give the lists that a paragraph is in, the innermost first."""
    for ancestor in paragraph.iterancestors():
        if ancestor.tag == tag("text:list"):
            yield ancestor
        elif local_name(ancestor) in HOLDERS:
            return


def _list_style(
    owner: Element | None, lists: list[Element], root: Element, styles: Element
) -> Element | None:
    known = Styles(root, styles if styles is not root else None)
    if owner is not None:
        found = known.find("list", owner.get(tag("text:style-name")), "content")
        if found is not None:
            return found
    # A shape's style may bring the list style with it.
    for shape in lists[-1].iterancestors() if lists else ():
        for family, attribute in (("presentation", "presentation"), ("graphic", "draw")):
            name = shape.get(tag(f"{attribute}:style-name"))
            for style in known.chain(family, name, "content"):
                inner = next(style.iter(tag("text:list-style")), None)
                if inner is not None:
                    return inner
    return None
