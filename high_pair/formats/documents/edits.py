"""Carrying out edits in the XML of documents."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.edits.kinds import Edit, RecolourFill, RecolourOrigin, RecolourText, Restyle
from high_pair.errors import EditError
from high_pair.formats.documents.runs import runs_of, runs_of_field
from high_pair.formats.drawing.origins import recolour_origin
from high_pair.formats.drawing.solid import solid_fill
from high_pair.formats.following import gone, nth
from high_pair.formats.schema_order import (
    CELL,
    FILLS,
    PARAGRAPH,
    RUN,
    SHAPE,
    STYLE,
    put,
    put_one_of,
)
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import Address, expand


def apply(edit: Edit, root: Element) -> None:
    """Carry out an edit in the parsed part that its address lies in.

    Raises EditError when the address isn't there.
    """
    carry_out = CARRIED_OUT.get(type(edit))
    if carry_out is None:
        raise EditError(f"{edit.address}: this can't be done in a text document")
    carry_out(edit, root)


def _recolour_origin(edit: RecolourOrigin, root: Element) -> None:
    if Address.of(edit.address).first.name == "slot":
        recolour_origin(edit.address, edit.levels, root)
    else:
        _colour(_style_runs(edit.address, root), edit.levels)


def _recolour_fill(edit: RecolourFill, root: Element) -> None:
    for address in expand(edit.address):
        _shade(address, edit.levels, root)


def _recolour_text(edit: RecolourText, root: Element) -> None:
    for address in expand(edit.address):
        for properties in _run_properties(address, root):
            _colour(properties, edit.levels)


def _restyle_text(edit: Restyle, root: Element) -> None:
    for address in expand(edit.address):
        for properties in _run_properties(address, root):
            _restyle(properties, edit)


def _made(parent: Element, name: str, order: Sequence[str]) -> Element:
    """Give a child, made where the schema wants it if it isn't there."""
    found = child(parent, f"w:{name}")
    if found is None:
        found = etree.Element(tag(f"w:{name}"))
        put(parent, found, order)
    return found


def _paragraph(address: Address, root: Element) -> Element:
    if address.first.name != "p":
        raise EditError(f"{address} is no address of a text in a document")
    return nth(list(root.iter(tag("w:p"))), address.first, address)


def _run_properties(text: str, root: Element) -> list[Element]:
    """Give the run properties at an address, made if they aren't there, and those of its field."""
    address = Address.of(text)
    if address.first.name in ("abs", "num"):
        return [_level_properties(address, root)]
    paragraph = _paragraph(address, root)
    if step := address.step("r"):
        run = nth(runs_of(paragraph), step, address)
        # §17.3.2.25: the first child of its run.
        return [_made(each, "rPr", ("rPr",)) for each in (run, *runs_of_field(paragraph, run))]
    if address.step("mark"):
        properties = _made(paragraph, "pPr", ("pPr",))
        return [_made(properties, "rPr", PARAGRAPH)]
    raise EditError(f"{address} is no address of a text in a document")


def _level_properties(address: Address, root: Element) -> Element:
    """Give the run properties of a list's level."""
    abstract = address.first.name == "abs"
    name, key = ("abstractNum", "abstractNumId") if abstract else ("num", "numId")
    for holder in root.findall(tag(f"w:{name}")):
        if holder.get(tag(f"w:{key}")) != address.first.value:
            continue
        for level in holder.iter(tag("w:lvl")):
            if level.get(tag("w:ilvl")) == address.last.value:
                found = child(level, "w:rPr")
                # §17.9.6: the last of a level's children.
                return found if found is not None else etree.SubElement(level, tag("w:rPr"))
    raise gone(address)


def _style_runs(address: str, root: Element) -> Element:
    """Give the run properties of a style, a part of it, or the document's defaults."""
    steps = {step.name: step.value for step in Address.of(address).steps}
    if "defaults" in steps:
        found = child(root, "w:docDefaults", "w:rPrDefault", "w:rPr")
        if found is None:
            raise gone(address)
        return found
    for style in root.findall(tag("w:style")):
        if style.get(tag("w:styleId")) != steps.get("style"):
            continue
        if "part" not in steps:
            return _made(style, "rPr", STYLE)
        for part in style.findall(tag("w:tblStylePr")):
            if part.get(tag("w:type")) == steps["part"]:
                return _made(part, "rPr", ("pPr", "rPr"))
    raise gone(address)


def _colour(properties: Element, levels: tuple[int, int, int]) -> None:
    """Give run properties a colour; a newer writer's fill beside it would hide that."""
    element = etree.Element(tag("w:color"))
    element.set(tag("w:val"), hex_of(levels)[1:])
    put(properties, element, RUN)
    filled = child(properties, "w14:textFill")
    if filled is not None:
        properties.remove(filled)


def _restyle(properties: Element, edit: Restyle) -> None:
    if edit.size is not None:
        for name in ("sz", "szCs"):
            element = etree.Element(tag(f"w:{name}"))
            element.set(tag("w:val"), str(round(edit.size * 2)))
            put(properties, element, RUN)
    if edit.bold is not None:
        element = etree.Element(tag("w:b"))
        if not edit.bold:
            element.set(tag("w:val"), "0")
        put(properties, element, RUN)


def _shade(text: str, levels: tuple[int, int, int], root: Element) -> None:
    """Give a run, a paragraph, a cell or a shape a fill of one colour."""
    address = Address.of(text)
    if address.first.name == "sp":
        shapes = [each for each in root.iter() if local_name(each) in ("wsp", "pic")]
        _fill_shape(nth(shapes, address.first, address), levels, address)
        return
    shading = etree.Element(tag("w:shd"))
    shading.set(tag("w:val"), "clear")
    shading.set(tag("w:color"), "auto")
    shading.set(tag("w:fill"), hex_of(levels)[1:])
    if address.first.name == "cell":
        cell = nth(list(root.iter(tag("w:tc"))), address.first, address)
        put(_made(cell, "tcPr", ("tcPr",)), shading, CELL)
        return
    paragraph = _paragraph(address, root)
    if step := address.step("r"):
        run = nth(runs_of(paragraph), step, address)
        properties = _made(run, "rPr", ("rPr",))
        mark = child(properties, "w:highlight")
        if mark is not None:
            # It would hide the shading (§17.3.2.15).
            properties.remove(mark)
        put(properties, shading, RUN)
    else:
        put(_made(paragraph, "pPr", ("pPr",)), shading, PARAGRAPH)


def _fill_shape(shape: Element, levels: tuple[int, int, int], address: Address) -> None:
    properties = next((e for e in children(shape) if local_name(e) == "spPr"), None)
    if properties is None:
        raise gone(address)
    put_one_of(properties, solid_fill(levels), SHAPE, FILLS)


CARRIED_OUT: Mapping[type[Edit], Callable[[Any, Element], None]] = {
    RecolourText: _recolour_text,
    RecolourOrigin: _recolour_origin,
    RecolourFill: _recolour_fill,
    Restyle: _restyle_text,
}
