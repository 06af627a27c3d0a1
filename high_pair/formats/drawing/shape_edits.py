"""Changing the text and the fill of shapes, by their addresses."""

from __future__ import annotations

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.edits.kinds import RecolourFill, RecolourStops, RecolourText, Restyle
from high_pair.errors import EditError
from high_pair.formats.drawing.numbering import numbered_shapes
from high_pair.formats.drawing.solid import solid_fill
from high_pair.formats.drawing.text import LINK_WITH_OWN_COLOUR, has_own_link_colour
from high_pair.formats.following import gone, nth
from high_pair.formats.schema_order import (
    DRAWING_PARAGRAPH,
    DRAWING_RUN,
    FILLS,
    SHAPE,
    TABLE_CELL,
    put_one_of,
)
from high_pair.formats.xml import NAMESPACES, Element, child, children, local_name, share, tag
from high_pair.scene.addresses import Address

_RUNS = ("r", "br", "fld")
# Stops whose places differ by less are at one place; a gradient has two at least (§20.1.8.37).
SAME_PLACE, LEAST_STOPS = 1e-5, 2
# Of a pattern, in the schema's order (§20.1.8.47).
PATTERN_COLOURS = ("fgClr", "bgClr")


def _find(address: Address, root: Element) -> tuple[str, Element]:
    """Follow an address; gives the last step's name and the element it leads to.

    For a bullet that is its paragraph.
    """
    element = root
    for step in address.steps:
        name = step.name
        if step.number is None:
            raise EditError(f"{address} is no address of a text in a slide")
        if name == "sp":
            tree = child(root, "p:cSld", "p:spTree")
            element = nth(numbered_shapes(tree if tree is not None else root), step, address)
        elif name == "row":
            element = nth(list(element.iter(tag("a:tr"))), step, address)
        elif name == "cell":
            element = nth(element.findall(tag("a:tc")), step, address)
        elif name == "p":
            bodies = [each for each in children(element) if local_name(each) == "txBody"]
            element = nth(bodies[0].findall(tag("a:p")) if bodies else [], step, address)
        elif name == "r":
            runs = [each for each in children(element) if local_name(each) in _RUNS]
            element = nth(runs, step, address)
        elif name != "bullet":
            raise EditError(f"{address} is no address of a text in a slide")
    return address.last.name, element


def recolour_fill(edit: RecolourFill, root: Element) -> None:
    """Give a shape a fill of one colour (§20.1.2.2.35: after its place and its outline)."""
    address = Address.of(edit.address)
    if address.last.name != "fill":
        raise EditError(f"{address} is no address of a fill in a slide")
    kind, element = _find(address.outer, root)
    if kind == "cell":
        properties = child(element, "a:tcPr")
        if properties is None:
            # §21.1.3.16: after the cell's text.
            properties = etree.SubElement(element, tag("a:tcPr"))
    else:
        properties = child(element, "p:spPr")
    if properties is None:
        raise gone(address)
    order = TABLE_CELL if kind == "cell" else SHAPE
    put_one_of(properties, solid_fill(edit.levels), order, FILLS)


def recolour_stops(edit: RecolourStops, root: Element) -> None:
    """Give the gradient or the pattern of a shape, a cell or a page other colours.

    Source: §20.1.8.36 (a:gs), §20.1.8.47 (a:pattFill). One that isn't stated here, as a theme's,
    is left with an error.
    """
    address = Address.of(edit.address)
    if address.last.name == "bg":
        properties = child(root, "p:cSld", "p:bg", "p:bgPr")
    else:
        kind, element = _find(address.up_to("fill"), root)
        properties = child(element, "a:tcPr" if kind == "cell" else "p:spPr")
    gradient, pattern = child(properties, "a:gradFill"), child(properties, "a:pattFill")
    if gradient is not None:
        _restop(gradient, edit)
    elif pattern is not None and len(edit.stops) == len(PATTERN_COLOURS):
        for name, (_, levels) in zip(PATTERN_COLOURS, edit.stops, strict=True):
            holder = child(pattern, f"a:{name}")
            if holder is None:
                holder = etree.Element(tag(f"a:{name}"))
                pattern.insert(PATTERN_COLOURS.index(name), holder)
            _put_colour(holder, levels)
    else:
        raise EditError(f"{address}: its gradient or pattern is stated elsewhere.")


def _restop(gradient: Element, edit: RecolourStops) -> None:
    """Recolour the stops that stay, and take the others away; two at least must."""
    listed = child(gradient, "a:gsLst")
    own = [each for each in children(listed) if local_name(each) == "gs"]
    own.sort(key=lambda each: min(1.0, max(0.0, share(each.get("pos")))))
    wanted = list(edit.stops)
    kept = []
    for each in own:
        place = min(1.0, max(0.0, share(each.get("pos"))))
        at = next((n for n, stop in enumerate(wanted) if abs(stop[0] - place) < SAME_PLACE), None)
        if at is not None:
            kept.append((each, wanted.pop(at)[1]))
    if len(kept) < LEAST_STOPS or listed is None:
        raise EditError(f"{edit.address}: a gradient has two stops at least.")
    for each in own:
        levels = next((colour for stop, colour in kept if stop is each), None)
        if levels is None:
            listed.remove(each)
        else:
            _put_colour(each, levels)


def _put_colour(holder: Element, levels: tuple[int, int, int]) -> None:
    for each in list(children(holder)):
        holder.remove(each)
    etree.SubElement(holder, tag("a:srgbClr"), val=hex_of(levels)[1:])


def restyle(address: str, root: Element, edit: Restyle) -> None:
    """Set a run's own size and weight."""
    kind, run = _find(Address.of(address), root)
    if kind != "r":
        raise EditError(f"{address}: the size of a bullet follows that of its text")
    properties = child(run, "a:rPr")
    if properties is None:
        properties = etree.Element(tag("a:rPr"))
        run.insert(0, properties)
    if edit.size is not None:
        properties.set("sz", str(round(edit.size * 100)))
    if edit.bold is not None:
        properties.set("b", "1" if edit.bold else "0")


def recolour(address: str, root: Element, edit: RecolourText) -> None:
    """Give a run or a bullet another colour."""
    kind, element = _find(Address.of(address), root)
    if kind == "bullet":
        _recolour_bullet(element, edit)
        return
    properties = child(element, "a:rPr")
    if properties is None:
        properties = etree.Element(tag("a:rPr"))
        element.insert(0, properties)
    put_one_of(properties, solid_fill(edit.levels, edit.opacity), DRAWING_RUN, FILLS)
    link = child(properties, "a:hlinkClick")
    if link is not None and not has_own_link_colour(link):
        _free_link(link)


def _free_link(link: Element) -> None:
    """Say of a link that it keeps the run's own colour instead of the theme's."""
    extensions = child(link, "a:extLst")
    if extensions is None:
        extensions = etree.SubElement(link, tag("a:extLst"))
    for extension in list(children(extensions)):
        if extension.get("uri") == LINK_WITH_OWN_COLOUR:
            extensions.remove(extension)
    extension = etree.SubElement(extensions, tag("a:ext"), uri=LINK_WITH_OWN_COLOUR)
    etree.SubElement(extension, tag("ahyp:hlinkClr"), nsmap={"ahyp": NAMESPACES["ahyp"]}, val="tx")


def _recolour_bullet(paragraph: Element, edit: RecolourText) -> None:
    properties = child(paragraph, "a:pPr")
    if properties is None:
        properties = etree.Element(tag("a:pPr"))
        paragraph.insert(0, properties)
    colour = etree.Element(tag("a:buClr"))
    colour.extend(children(solid_fill(edit.levels, edit.opacity)))
    put_one_of(properties, colour, DRAWING_PARAGRAPH, ("buClr", "buClrTx"))
