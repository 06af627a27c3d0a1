"""Carrying out edits in ODF: a new automatic style, and a span or a list that uses it."""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.errors import EditError
from high_pair.formats.odf.cell_edits import change_cells
from high_pair.formats.odf.cells import tables_in
from high_pair.formats.odf.derived import (
    PREFIX,
    automatic_styles,
    free_name,
    restyle,
    restyle_shape,
)
from high_pair.formats.odf.origins import recolour_origin
from high_pair.formats.odf.overlays import ABOVE, lay, take_off
from high_pair.formats.odf.shapes import all_shapes, numbered_shapes
from high_pair.formats.odf.sheet_shapes import shapes_on
from high_pair.formats.odf.text import Segment, segments_of
from high_pair.formats.xml import NAMESPACES, Element, child, children, local_name, tag, whole
from high_pair.remedy.edits import (
    Edit,
    LayOver,
    RecolourFill,
    RecolourOrigin,
    RecolourText,
    Restyle,
    TakeOff,
)
from high_pair.scene.addresses import expand


def apply(edit: Edit, root: Element, styles: Element) -> None:
    """Carry out an edit in a parsed member.

    styles: the root of the member that holds the common styles, to which an
    overlay may add one. Raises EditError when the edit's address isn't there.
    """
    if isinstance(edit, LayOver | TakeOff):
        place, _, dimmed = edit.address.partition("/dim=")
        above = place.endswith(ABOVE)
        _, shape, _ = _find(place.removesuffix(ABOVE).removesuffix("/overlay=1"), root)
        if isinstance(edit, LayOver):
            lay(edit.overlay, shape, root, styles, above)
        else:
            take_off(shape, root, bool(dimmed), above)
        return
    if isinstance(edit, RecolourOrigin):
        recolour_origin(edit.address, edit.levels, root)
        return
    if "/look=" in edit.address or edit.address.partition("#")[2].startswith("style=table-cell:"):
        change_cells(edit, root)
        return
    if isinstance(edit, RecolourFill):
        _recolour_fill(edit, root)
        return
    if not isinstance(edit, RecolourText | Restyle):
        raise EditError(f"{edit.address}: a deck states its text, no boxes are drawn round it")
    for address in expand(edit.address):
        kind, paragraph, segment = _find(address, root)
        if kind == "bullet" and isinstance(edit, RecolourText):
            _recolour_label(paragraph, edit, root, address)
        elif segment is not None:
            _wrap(segment, _text_style(edit, root))


def _recolour_fill(edit: RecolourFill, root: Element) -> None:
    """Give a shape, a table's cell or a page a fill of one colour, by a style of its own."""
    if edit.address.endswith("/shade"):
        for address in expand(edit.address):
            _shade(address.removesuffix("/shade"), edit, root)
        return
    kind, element, _ = _find(edit.address.removesuffix("/fill"), root)
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


def _shade(address: str, edit: RecolourFill, root: Element) -> None:
    """Give a paragraph, a cell or a piece of text a background, by a style of its own."""
    kind, element, segment = _find(address, root)
    code = hex_of(edit.levels).lower()
    if segment is not None:
        _wrap(segment, _text_style(edit, root))
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


def _nth(found: list[Element], count: int, address: str) -> Element:
    if not 1 <= count <= len(found):
        raise EditError(
            f"{address} isn't in the file any more. Open the file again and repeat the change."
        )
    return found[count - 1]


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


def _find(address: str, root: Element) -> tuple[str, Element, Segment | None]:
    """Follow an address to its paragraph and piece of text."""
    element, segment, last = root, None, ""
    for step in address.partition("#")[2].split("/"):
        name, _, value = step.partition("=")
        if step == "shapes":
            last = step
            continue
        if not value.isdecimal():
            raise EditError(f"{address} is no address of a text in an OpenDocument file")
        count, previous, last = int(value), last, name
        listed = _listed(name, element, root, previous)
        if listed is not None:
            element = _nth(listed, count, address)
        elif name == "r":
            segments = segments_of(element, {})
            if not 1 <= count <= len(segments):
                raise EditError(f"{address} isn't in the file any more.")
            segment = segments[count - 1]
        elif name != "bullet":
            raise EditError(f"{address} is no address of a text in an OpenDocument file")
    return last, element, segment


def _dress(properties: Element, edit: RecolourText | RecolourFill | Restyle) -> None:
    if isinstance(edit, RecolourFill):
        properties.set(tag("fo:background-color"), hex_of(edit.levels).lower())
        return
    if isinstance(edit, Restyle):
        if edit.size is not None:
            properties.set(tag("fo:font-size"), f"{edit.size:.2f}pt")
        if edit.bold is not None:
            properties.set(tag("fo:font-weight"), "bold" if edit.bold else "normal")
        return
    properties.set(tag("fo:color"), hex_of(edit.levels).lower())
    properties.set(tag("style:use-window-font-color"), "false")
    if edit.opacity < 1:
        properties.set(tag("loext:opacity"), f"{round(edit.opacity * 100)}%")


def _text_style(edit: RecolourText | RecolourFill | Restyle, root: Element) -> str:
    """Give the name of an automatic text style for an edit, made if it isn't there."""
    holder = automatic_styles(root)
    see_through = isinstance(edit, RecolourText) and edit.opacity < 1
    extension = {"loext": NAMESPACES["loext"]} if see_through else None
    wanted = etree.Element(tag("style:text-properties"), nsmap=extension)
    _dress(wanted, edit)
    for style in holder.findall(tag("style:style")):
        name = style.get(tag("style:name"), "")
        properties = child(style, "style:text-properties")
        ours = name.startswith(PREFIX) and properties is not None
        if ours and properties is not None and properties.items() == wanted.items():
            return name
    name = free_name(holder, "Text")
    style = etree.SubElement(holder, tag("style:style"))
    style.set(tag("style:name"), name)
    style.set(tag("style:family"), "text")
    style.append(wanted)
    return name


def _wrap(segment: Segment, style: str) -> None:
    """Put a piece of text into a span of its own."""
    span = etree.Element(tag("text:span"))
    span.set(tag("text:style-name"), style)
    node = segment.node
    parent = node.getparent()
    if segment.tail:
        if parent is None:
            return
        span.text, node.tail = node.tail, None
        parent.insert(parent.index(node) + 1, span)
    elif local_name(node) in ("p", "h", "span", "a"):
        span.text, node.text = node.text, None
        node.insert(0, span)
    elif parent is not None:
        # A field, or blanks: the whole element goes into the span, its tail stays outside.
        place = parent.index(node)
        span.tail, node.tail = node.tail, None
        parent.remove(node)
        span.append(node)
        parent.insert(place, span)


def _recolour_label(paragraph: Element, edit: RecolourText, root: Element, address: str) -> None:
    """Give the labels of a paragraph's list, at its level, another colour."""
    level, owner = 0, None
    for ancestor in paragraph.iterancestors():
        if ancestor.tag == tag("text:list"):
            level += 1
            if owner is None and ancestor.get(tag("text:style-name")):
                owner = ancestor
        elif local_name(ancestor) in ("text-box", "table-cell", "page"):
            break
    name = owner.get(tag("text:style-name")) if owner is not None else None
    original = next(
        (
            style
            for style in root.iter(tag("text:list-style"))
            if name and style.get(tag("style:name")) == name
        ),
        None,
    )
    if owner is None or original is None:
        raise EditError(f"{address}: the bullet's style lies in another part, and stays as it is.")
    changed = copy.deepcopy(original)
    holder = automatic_styles(root)
    changed.set(tag("style:name"), free_name(holder, "List"))
    for entry in children(changed):
        if whole(entry, tag("text:level")) == level:
            properties = child(entry, "style:text-properties")
            if properties is None:
                properties = etree.SubElement(entry, tag("style:text-properties"))
            _dress(properties, edit)
    holder.append(changed)
    owner.set(tag("text:style-name"), changed.get(tag("style:name"), ""))
