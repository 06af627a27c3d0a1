"""Changing the cells of ODF sheets: all that have one look, or a style that conditions apply."""

from __future__ import annotations

import copy

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.edits.kinds import Edit, RecolourFill, RecolourText
from high_pair.errors import EditError
from high_pair.formats.following import gone, nth
from high_pair.formats.odf.cells import cells_in, looks_in, tables_in
from high_pair.formats.odf.derived import automatic_styles, free_name
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.addresses import Address, expand

FAMILY = "table-cell"


def change_cells(edit: Edit, root: Element) -> None:
    """Recolour the text or the background of cells. Raises EditError when they aren't there."""
    if not isinstance(edit, RecolourText | RecolourFill):
        raise EditError(f"{edit.address}: this can't be done to cells")
    for address in expand(edit.address):
        found = Address.of(address)
        if found.first.name == "style":
            _dress(_common_style(found, root), edit)
        else:
            _change_look(found, edit, root)


def _common_style(address: Address, root: Element) -> Element:
    name = address.first.value.partition(":")[2]
    for holder in (child(root, "office:styles"), child(root, "office:automatic-styles")):
        for style in holder.findall(tag("style:style")) if holder is not None else ():
            same = style.get(tag("style:family")) == FAMILY
            if same and style.get(tag("style:name")) == name:
                return style
    raise gone(address)


def _change_look(address: Address, edit: RecolourText | RecolourFill, root: Element) -> None:
    """Give all cells of a sheet that have one look a style of their own, made from theirs."""
    table = nth(tables_in(root), address.step("sheet"), address)
    names = looks_in(table)
    look = address.step("look")
    number = look.number if look is not None else None
    if number is None or number >= len(names):
        raise gone(address)
    name = names[number]
    holder = automatic_styles(root)
    original = next(
        (
            each
            for each in holder.findall(tag("style:style"))
            if each.get(tag("style:name")) == name and each.get(tag("style:family")) == FAMILY
        ),
        None,
    )
    if original is not None:
        style = copy.deepcopy(original)
    else:
        style = etree.Element(tag("style:style"))
        style.set(tag("style:family"), FAMILY)
        style.set(tag("style:parent-style-name"), name or "Default")
    style.set(tag("style:name"), free_name(holder, "Cell"))
    _dress(style, edit)
    holder.append(style)
    new = style.get(tag("style:name"), "")
    for cell in [each.element for each in cells_in(table) if each.style == name]:
        cell.set(tag("table:style-name"), new)


def _dress(style: Element, edit: RecolourText | RecolourFill) -> None:
    """Write a colour into a style; properties stand in the schema's order (§16.2)."""
    kind = "table-cell" if isinstance(edit, RecolourFill) else "text"
    properties = child(style, f"style:{kind}-properties")
    if properties is None:
        properties = etree.Element(tag(f"style:{kind}-properties"))
        before = ("table-cell-properties", "paragraph-properties")
        place = 0
        for count, each in enumerate(style):
            name = str(each.tag).rpartition("}")[2]
            if kind == "text" and name in before:
                place = count + 1
        style.insert(place, properties)
    code = hex_of(edit.levels).lower()
    if isinstance(edit, RecolourFill):
        properties.set(tag("fo:background-color"), code)
    else:
        properties.set(tag("fo:color"), code)
        properties.set(tag("style:use-window-font-color"), "false")
