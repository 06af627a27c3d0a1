"""Carrying out edits in ODF: a new automatic style, and a span or a list that uses it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from high_pair.colour.srgb import hex_of
from high_pair.edits.kinds import (
    Edit,
    LayOver,
    MoveShape,
    RecolourFill,
    RecolourOrigin,
    RecolourText,
    Restyle,
    TakeOff,
)
from high_pair.errors import EditError
from high_pair.formats.following import gone, nth
from high_pair.formats.odf.cell_edits import change_cells
from high_pair.formats.odf.cells import tables_in
from high_pair.formats.odf.colour_sets import COLOURED, recolour_stated
from high_pair.formats.odf.derived import (
    restyle,
    restyle_shape,
)
from high_pair.formats.odf.labels import dress_labels
from high_pair.formats.odf.origins import recolour_origin
from high_pair.formats.odf.overlays import lay, take_off
from high_pair.formats.odf.shapes import all_shapes, numbered_shapes
from high_pair.formats.odf.sheet_shapes import shapes_on
from high_pair.formats.odf.spans import dress, join_alike
from high_pair.formats.odf.text import Segment, segments_of
from high_pair.formats.odf.units import length
from high_pair.formats.xml import Element, child, children, local_name, tag
from high_pair.scene.addresses import Address, expand


def apply(edit: Edit, root: Element, styles: Element) -> None:
    """Carry out an edit in a parsed member.

    styles: the root of the member that holds the common styles, to which an
    overlay may add one. Raises EditError when the edit's address isn't there.
    """
    carry_out = CARRIED_OUT.get(type(edit))
    if carry_out is None:
        raise EditError(f"{edit.address}: a deck states its text, no boxes are drawn round it")
    carry_out(edit, root, styles)


def _lay(edit: LayOver, root: Element, styles: Element) -> None:
    shape, above, _ = _place_of_overlay(edit.address, root)
    lay(edit.overlay, shape, root, styles, above)


def _take_off(edit: TakeOff, root: Element, _styles: Element) -> None:
    shape, above, dimmed = _place_of_overlay(edit.address, root)
    take_off(shape, root, dimmed, above)


def _place_of_overlay(text: str, root: Element) -> tuple[Element, bool, bool]:
    """Give the shape that an overlay is about, whether it lies above it, or dims it."""
    address = Address.of(text)
    _, shape, _ = _find(address.up_to("dim", "above", "overlay"), root)
    return shape, address.last.name == "above", address.last.name == "dim"


def _move(edit: MoveShape, root: Element, _styles: Element) -> None:
    """Move a shape: its box, or what its transform leads to (ODF 1.3 Part 3 §19.228)."""
    _, shape, _ = _find(Address.of(edit.address), root)
    transform = shape.get(tag("draw:transform"))
    if transform is not None:
        step = f"translate ({edit.across:.3f}pt {edit.down:.3f}pt)"
        shape.set(tag("draw:transform"), f"{transform} {step}")
        return
    for name, by in (("svg:x", edit.across), ("svg:y", edit.down)):
        shape.set(tag(name), f"{length(shape.get(tag(name))) + by:.3f}pt")


def _is_of_cells(text: str) -> bool:
    address = Address.of(text)
    styled = address.first.name == "style" and address.first.value.startswith("table-cell:")
    return styled or address.step("look") is not None


def _recolour_origin(edit: RecolourOrigin, root: Element, _styles: Element) -> None:
    for address in map(Address.of, expand(edit.address)):
        if address.first.name == COLOURED:
            recolour_stated(address, edit.levels, root)
        else:
            recolour_origin(str(address), edit.levels, root)


def _change_text(edit: RecolourText | Restyle, root: Element, styles: Element) -> None:
    if _is_of_cells(edit.address):
        change_cells(edit, root)
        return
    paragraphs: dict[Element, None] = {}
    for address in expand(edit.address):
        if Address.of(address).first.name == "style" and isinstance(edit, RecolourText):
            recolour_origin(address, edit.levels, root)
            continue
        kind, paragraph, segment = _find(Address.of(address), root)
        if kind == "bullet" and isinstance(edit, RecolourText):
            dress_labels(paragraph, _text_changes(edit), root, styles, address)
        elif segment is not None:
            dress(segment, _text_changes(edit), root)
            paragraphs[paragraph] = None
    for paragraph in paragraphs:
        join_alike(paragraph)


def _recolour_fill(edit: RecolourFill, root: Element, _styles: Element) -> None:
    """Give a shape, a table's cell or a page a fill of one colour, by a style of its own."""
    if _is_of_cells(edit.address):
        change_cells(edit, root)
        return
    if Address.of(edit.address).last.name == "shade":
        for address in expand(edit.address):
            _shade(Address.of(address).outer, edit, root)
        return
    kind, element, _ = _find(Address.of(edit.address).up_to("fill"), root)
    fill = {"draw:fill": "solid", "draw:fill-color": hex_of(edit.levels).lower()}
    changes = {**fill, "draw:opacity": None, "draw:opacity-name": None}
    if kind == "page":
        restyle(element, root, ("draw:style-name", "drawing-page"), "drawing-page", changes)
    elif kind == "cell":
        row = element.getparent()
        inherited = row.get(tag("table:default-cell-style-name")) if row is not None else None
        if inherited and not element.get(tag("table:style-name")):
            element.set(tag("table:style-name"), inherited)
        restyle(element, root, ("table:style-name", "table-cell"), "graphic", changes)
    else:
        if child(element, "draw:text-box") is not None and _is_text(root):
            # Frames of text state the colour here too, and some readers ask nowhere else.
            changes["fo:background-color"] = fill["draw:fill-color"]
        restyle_shape(element, root, changes)


def _is_text(root: Element) -> bool:
    return (
        next(root.iter(tag("office:text"), tag("style:header"), tag("style:footer")), None)
        is not None
    )


def _shade(address: Address, edit: RecolourFill, root: Element) -> None:
    """Give a paragraph, a cell or a piece of text a background, by a style of its own."""
    kind, element, segment = _find(address, root)
    code = hex_of(edit.levels).lower()
    if segment is not None:
        dress(segment, _text_changes(edit), root)
        return
    own = {
        "para": ("text:style-name", "paragraph", "paragraph"),
        "tc": ("table:style-name", "table-cell", "table-cell"),
    }.get(kind)
    if own is None:
        raise EditError(f"{address} is no address of a background in a document")
    named, family, properties = own
    restyle(element, root, (named, family), properties, {"fo:background-color": code})


def pages_of(root: Element) -> list[Element]:
    """List the pages of the body."""
    return list(root.iter(tag("draw:page")))


def masters_of(root: Element) -> list[Element]:
    """List the master pages."""
    return list(root.iter(tag("style:master-page")))


def paragraphs_in(container: Element) -> Iterator[Element]:
    """List a text's paragraphs as the reader counts them: those in lists too."""
    for each in children(container):
        name = local_name(each)
        if name in ("p", "h"):
            yield each
        elif name == "list":
            for item in children(each):
                if local_name(item) in ("list-item", "list-header"):
                    yield from paragraphs_in(item)


def _listed(name: str, element: Element, root: Element, previous: str) -> list[Element] | None:
    """List what a step of an address counts; None for a step that counts no elements."""
    if name == "shape":
        listed = {"sheet": shapes_on, "shapes": all_shapes}.get(previous, numbered_shapes)
        return listed(element)
    if name == "p":
        box = child(element, "draw:text-box")
        return list(paragraphs_in(box if box is not None else element))
    lists: dict[str, Callable[[], list[Element]]] = {
        "page": lambda: pages_of(root),
        "master": lambda: masters_of(root),
        "sheet": lambda: tables_in(root),
        "para": lambda: list(element.iter(tag("text:p"), tag("text:h"))),
        "tc": lambda: list(element.iter(tag("table:table-cell"))),
        "row": lambda: list(element.iter(tag("table:table-row"))),
        "cell": lambda: list(children(element)),
    }
    return lists[name]() if name in lists else None


def _find(address: Address, root: Element) -> tuple[str, Element, Segment | None]:
    """Follow an address to its paragraph and piece of text."""
    element, segment, last = root, None, ""
    for step in address.steps:
        previous, last = last, step.name
        if last == "shapes":
            continue
        listed = _listed(last, element, root, previous)
        if listed is not None:
            element = nth(listed, step, address)
        elif last == "r":
            segments = segments_of(element, {})
            number = step.number or 0
            if not 1 <= number <= len(segments):
                raise gone(address)
            segment = segments[number - 1]
        elif last != "bullet":
            raise EditError(f"{address} is no address of a text in an OpenDocument file")
    return last, element, segment


def _text_changes(edit: RecolourText | RecolourFill | Restyle) -> dict[str, str]:
    """Give the text properties that an edit changes."""
    if isinstance(edit, RecolourFill):
        return {"fo:background-color": hex_of(edit.levels).lower()}
    if isinstance(edit, Restyle):
        found = {}
        if edit.size is not None:
            found["fo:font-size"] = f"{edit.size:.2f}pt"
        if edit.bold is not None:
            found["fo:font-weight"] = "bold" if edit.bold else "normal"
        return found
    see_through = {"loext:opacity": f"{round(edit.opacity * 100)}%"} if edit.opacity < 1 else {}
    return {
        "fo:color": hex_of(edit.levels).lower(),
        "style:use-window-font-color": "false",
        **see_through,
    }


CARRIED_OUT: Mapping[type[Edit], Callable[[Any, Element, Element], None]] = {
    RecolourText: _change_text,
    RecolourOrigin: _recolour_origin,
    RecolourFill: _recolour_fill,
    Restyle: _change_text,
    LayOver: _lay,
    MoveShape: _move,
    TakeOff: _take_off,
}
