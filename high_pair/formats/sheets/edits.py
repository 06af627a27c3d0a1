"""Carrying out edits in the XML of workbooks.

Cells share styles: when cells of one sheet change, they get a style of their
own, made from the one that they have, and all other users keep theirs.
Source: ECMA-376 Part 1 §18.8.
"""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.edits.kinds import Edit, RecolourFill, RecolourOrigin, RecolourText, Restyle
from high_pair.errors import EditError
from high_pair.formats.drawing.origins import recolour_origin
from high_pair.formats.drawing.shape_edits import recolour, recolour_fill, restyle
from high_pair.formats.following import gone
from high_pair.formats.schema_order import DIFFERENCE, FONT, drop, put
from high_pair.formats.sheets.cells import Cells
from high_pair.formats.xml import Element, child, children, tag, whole
from high_pair.scene.addresses import Address, expand, member_of

Levels = tuple[int, int, int]


@dataclass
class Restyled:
    """The styles that cells of a sheet have in place of the ones that the file gives them.

    moved: by sheet and the file's style; back: by sheet and the new style.
    """

    moved: dict[tuple[str, int], int] = field(default_factory=dict)
    back: dict[tuple[str, int], int] = field(default_factory=dict)

    def cells(self, member: str, cells: Cells) -> Cells:
        """Give a sheet's cells with the styles that they have now: nothing else of them changes."""
        styles = cells.styles.copy()
        for (sheet, old), new in self.moved.items():
            if sheet == member:
                styles[cells.styles == old] = new
        return replace(cells, styles=styles)


RootOf = Callable[[str], Element]


def apply(edit: Edit, root_of: RootOf, styles: str, restyled: Restyled) -> None:
    """Carry out an edit. root_of: gives a part's root, to be changed; styles: the styles' part.

    Raises EditError when its address isn't there.
    """
    if isinstance(edit, RecolourOrigin):
        _recolour_origin(edit, root_of(member_of(edit.address)))
        return
    if not isinstance(edit, RecolourText | RecolourFill | Restyle):
        raise EditError(f"{edit.address}: this can't be done in a workbook")
    for address in expand(edit.address):
        steps = {step.name: step.value for step in Address.of(address).steps}
        root = root_of(member_of(address))
        if "sp" in steps:
            _change_shape(edit, address, root)
        elif "xf" in steps:
            _change_cells(edit, address, steps["xf"], root, root_of(styles), restyled)
        elif "dxf" in steps:
            _change_difference(edit, address, steps["dxf"], root)
        elif isinstance(edit, RecolourText) and ("si" in steps or "comment" in steps):
            _change_run(edit.levels, address, steps, root)
        else:
            raise EditError(f"{address} is no address of a text in a workbook")


def _number(text: str, address: str) -> int:
    if not text.isdecimal():
        raise EditError(f"{address} is no address in a workbook")
    return int(text)


def _change_shape(edit: RecolourText | RecolourFill | Restyle, address: str, root: Element) -> None:
    if isinstance(edit, RecolourFill):
        recolour_fill(edit, root)
    elif isinstance(edit, RecolourText):
        recolour(address, root, edit)
    else:
        restyle(address, root, edit)


# Cells


def _change_cells(
    edit: RecolourText | RecolourFill | Restyle,
    address: str,
    index: str,
    sheet: Element,
    styles: Element,
    restyled: Restyled,
) -> None:
    """Give all cells of a sheet that have a style one of their own with another font or fill."""
    old = _number(index, address)
    key = (member_of(address), old)
    listed = child(styles, "x:cellXfs")
    entries = list(children(listed))
    if listed is None or old >= len(entries):
        raise gone(address)
    new = restyled.moved.get(key)
    if new is None:
        entry = copy.deepcopy(entries[old])
        listed.append(entry)
        _count(listed)
        new = len(entries)
        found = 0
        for cell in sheet.iter(tag("x:c")):
            if whole(cell, "s") == old:
                cell.set("s", str(new))
                found += 1
        if not found:
            raise gone(address)
        restyled.moved[key] = new
        restyled.back[(key[0], new)] = old
    entry = list(children(listed))[new]
    if isinstance(edit, RecolourFill):
        fills = _needed(styles, "x:fills", address)
        fills.append(_solid("patternFill", edit.levels, differential=False))
        entry.set("fillId", str(_count(fills) - 1))
        entry.set("applyFill", "1")
        return
    fonts = _needed(styles, "x:fonts", address)
    known = list(children(fonts))
    place = whole(entry, "fontId")
    font = copy.deepcopy(known[place]) if place < len(known) else etree.Element(tag("x:font"))
    _change_font(font, edit)
    fonts.append(font)
    entry.set("fontId", str(_count(fonts) - 1))
    entry.set("applyFont", "1")


def _needed(styles: Element, name: str, address: str) -> Element:
    found = child(styles, name)
    if found is None:
        raise gone(address)
    return found


def _count(listed: Element) -> int:
    """Write down how many entries a list has."""
    count = sum(1 for _ in children(listed))
    if listed.get("count") is not None:
        listed.set("count", str(count))
    return count


def _change_font(font: Element, edit: RecolourText | Restyle) -> None:
    if isinstance(edit, RecolourText):
        _colour(font, edit.levels)
        return
    if edit.bold is not None:
        drop(font, "b")
        if edit.bold:
            put(font, etree.Element(tag("x:b")), FONT)
    if edit.size is not None:
        put(font, etree.Element(tag("x:sz"), val=f"{edit.size:g}"), FONT)


def _colour(font: Element, levels: Levels) -> None:
    put(font, etree.Element(tag("x:color"), rgb=f"FF{hex_of(levels)[1:]}"), FONT)


def _solid(name: str, levels: Levels, differential: bool) -> Element:
    """Give a fill of one colour: of a cell the foreground's, in a dxf the background's."""
    fill = etree.Element(tag("x:fill"))
    pattern = etree.SubElement(fill, tag(f"x:{name}"), patternType="solid")
    colour = f"FF{hex_of(levels)[1:]}"
    if differential:
        etree.SubElement(pattern, tag("x:bgColor"), rgb=colour)
    else:
        etree.SubElement(pattern, tag("x:fgColor"), rgb=colour)
        etree.SubElement(pattern, tag("x:bgColor"), indexed="64")
    return fill


# Conditional formats, table styles, named styles, runs


def _change_difference(
    edit: RecolourText | RecolourFill | Restyle, address: str, index: str, styles: Element
) -> None:
    listed = list(children(child(styles, "x:dxfs")))
    place = _number(index, address)
    if place >= len(listed):
        raise gone(address)
    difference = listed[place]
    if isinstance(edit, RecolourFill):
        put(difference, _solid("patternFill", edit.levels, differential=True), DIFFERENCE)
        return
    font = child(difference, "x:font")
    if font is None:
        font = etree.Element(tag("x:font"))
        put(difference, font, DIFFERENCE)
    _change_font(font, edit)


def _recolour_origin(edit: RecolourOrigin, root: Element) -> None:
    address = edit.address
    steps = {step.name: step.value for step in Address.of(address).steps}
    if "slot" in steps:
        recolour_origin(address, edit.levels, root)
    elif "dxf" in steps:
        _change_difference(RecolourText(address, edit.levels), address, steps["dxf"], root)
    elif "cellstyle" in steps:
        _recolour_named(_number(steps["cellstyle"], address), edit.levels, root, address)
    else:
        raise EditError(f"{address} is no address in a workbook")


def _recolour_named(index: int, levels: Levels, styles: Element, address: str) -> None:
    """Give a named style another font, and with it the cells whose font is the style's."""
    named = list(children(child(styles, "x:cellStyleXfs")))
    fonts = child(styles, "x:fonts")
    if index >= len(named) or fonts is None:
        raise gone(address)
    known = list(children(fonts))
    old = whole(named[index], "fontId")
    font = copy.deepcopy(known[old]) if old < len(known) else etree.Element(tag("x:font"))
    _colour(font, levels)
    fonts.append(font)
    new = str(_count(fonts) - 1)
    named[index].set("fontId", new)
    for entry in children(child(styles, "x:cellXfs")):
        if whole(entry, "xfId") == index and whole(entry, "fontId") == old:
            entry.set("fontId", new)


def _change_run(levels: Levels, address: str, steps: dict[str, str], root: Element) -> None:
    """Give a run within a cell's text or a comment another colour."""
    name, key = ("x:si", "si") if "si" in steps else ("x:comment", "comment")
    holders = list(root.iter(tag(name)))
    place = _number(steps[key], address)
    if not 1 <= place <= len(holders):
        raise gone(address)
    holder = holders[place - 1]
    if key == "comment":
        text = child(holder, "x:text")
        holder = text if text is not None else holder
    runs = holder.findall(tag("x:r"))
    count = _number(steps.get("r", ""), address)
    if not 1 <= count <= len(runs):
        raise gone(address)
    properties = child(runs[count - 1], "x:rPr")
    if properties is None:
        properties = etree.Element(tag("x:rPr"))
        runs[count - 1].insert(0, properties)
    _colour(properties, levels)
