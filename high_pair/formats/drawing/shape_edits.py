"""Changing the text and the fill of shapes, by their addresses."""

from __future__ import annotations

from collections.abc import Iterator

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.errors import EditError
from high_pair.formats.drawing.fills import FILLS
from high_pair.formats.drawing.numbering import numbered_shapes
from high_pair.formats.drawing.text import LINK_WITH_OWN_COLOUR, has_own_link_colour
from high_pair.formats.xml import NAMESPACES, Element, child, children, local_name, tag
from high_pair.remedy.edits import RecolourFill, RecolourText, Restyle

# Children of a:rPr that stand before its fill (§21.1.2.3.9, the schema's order).
BEFORE_FILL = ("ln",)
BEFORE_SHAPE_FILL = ("xfrm", "custGeom", "prstGeom")
# Children of a:tcPr that stand before its fill (§21.1.3.17).
BEFORE_CELL_FILL = ("lnL", "lnR", "lnT", "lnB", "lnTlToBr", "lnBlToTr", "cell3D")
# Children of a:pPr that stand before a bullet's colour (§21.1.2.2.7).
BEFORE_BULLET_COLOUR = ("lnSpc", "spcBef", "spcAft")
_RUNS = ("r", "br", "fld")


def _steps(address: str) -> Iterator[tuple[str, int]]:
    for step in address.partition("#")[2].split("/"):
        name, _, value = step.partition("=")
        if not value.isdecimal():
            raise EditError(f"{address} is no address of a text in a slide")
        yield name, int(value)


def _nth(found: list[Element], count: int, address: str) -> Element:
    if not 1 <= count <= len(found):
        raise EditError(
            f"{address} isn't in the file any more. Open the file again and repeat the change."
        )
    return found[count - 1]


def _find(address: str, root: Element) -> tuple[str, Element]:
    """Follow an address; gives the last step's name and the element it leads to.

    For a bullet that is its paragraph.
    """
    element, last = root, ""
    for name, count in _steps(address):
        last = name
        if name == "sp":
            tree = child(root, "p:cSld", "p:spTree")
            shapes = numbered_shapes(tree if tree is not None else root)
            element = _nth(shapes, count, address)
        elif name == "row":
            element = _nth(list(element.iter(tag("a:tr"))), count, address)
        elif name == "cell":
            element = _nth(element.findall(tag("a:tc")), count, address)
        elif name == "p":
            bodies = [each for each in children(element) if local_name(each) == "txBody"]
            found = bodies[0].findall(tag("a:p")) if bodies else []
            element = _nth(found, count, address)
        elif name == "r":
            runs = [each for each in children(element) if local_name(each) in _RUNS]
            element = _nth(runs, count, address)
        elif name not in ("bullet", "fill"):
            raise EditError(f"{address} is no address of a text in a slide")
    return last, element


def _solid(levels: tuple[int, int, int]) -> Element:
    fill = etree.Element(tag("a:solidFill"))
    etree.SubElement(fill, tag("a:srgbClr"), val=hex_of(levels)[1:])
    return fill


def recolour_fill(edit: RecolourFill, root: Element) -> None:
    """Give a shape a fill of one colour (§20.1.2.2.35: after its place and its outline)."""
    address = edit.address
    if not address.endswith("/fill"):
        raise EditError(f"{address} is no address of a fill in a slide")
    kind, element = _find(address.removesuffix("/fill"), root)
    if kind == "cell":
        properties = child(element, "a:tcPr")
        if properties is None:
            # §21.1.3.16: after the cell's text.
            properties = etree.SubElement(element, tag("a:tcPr"))
    else:
        properties = child(element, "p:spPr")
    if properties is None:
        raise EditError(f"{address} isn't in the file any more.")
    put_fill(properties, edit.levels, BEFORE_CELL_FILL if kind == "cell" else BEFORE_SHAPE_FILL)


def put_fill(properties: Element, levels: tuple[int, int, int], before: tuple[str, ...]) -> None:
    """Give properties a fill of one colour; before: the children that stand before it."""
    for each in list(children(properties)):
        if local_name(each) in FILLS:
            properties.remove(each)
    place = sum(1 for each in children(properties) if local_name(each) in before)
    properties.insert(place, _solid(levels))


def restyle(address: str, root: Element, edit: Restyle) -> None:
    """Set a run's own size and weight."""
    kind, run = _find(address, root)
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


def _fill(edit: RecolourText) -> Element:
    fill = etree.Element(tag("a:solidFill"))
    colour = etree.SubElement(fill, tag("a:srgbClr"), val=hex_of(edit.levels)[1:])
    if edit.opacity < 1:
        etree.SubElement(colour, tag("a:alpha"), val=str(round(edit.opacity * 100_000)))
    return fill


def recolour(address: str, root: Element, edit: RecolourText) -> None:
    """Give a run or a bullet another colour."""
    kind, element = _find(address, root)
    if kind == "bullet":
        _recolour_bullet(element, edit)
        return
    properties = child(element, "a:rPr")
    if properties is None:
        properties = etree.Element(tag("a:rPr"))
        element.insert(0, properties)
    for each in list(children(properties)):
        if local_name(each) in FILLS:
            properties.remove(each)
    place = sum(1 for each in properties if local_name(each) in BEFORE_FILL)
    properties.insert(place, _fill(edit))
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
    for each in list(children(properties)):
        if local_name(each) in ("buClr", "buClrTx"):
            properties.remove(each)
    place = sum(1 for each in properties if local_name(each) in BEFORE_BULLET_COLOUR)
    colour = etree.Element(tag("a:buClr"))
    colour.extend(children(_fill(edit)))
    properties.insert(place, colour)
