"""Overlays as shapes of a slide, a layout or a master: written, found again, taken off.

An overlay is an ordinary shape that every program shows and edits, or else the
fill of the text's own shape, which goes where that goes. An
extension in it says that it is one, and how it was made, so that it is
changed instead of stacked, and isn't counted among the shapes that addresses
number.
Source: ECMA-376 Part 1 §19.3.1.43 (p:sp), §20.1.8.33 (a:gradFill), §20.1.8.53
(a:softEdge), and Part 3 for extensions.
"""

from __future__ import annotations

import copy
from dataclasses import replace

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.errors import EditError
from high_pair.formats.drawing.fills import EMU_PER_POINT
from high_pair.formats.drawing.numbering import OVERLAY, mark_of, numbered_shapes
from high_pair.formats.drawing.solid import solid_fill
from high_pair.formats.drawing.surround import Surround, page_surround
from high_pair.formats.following import gone, nth
from high_pair.formats.schema_order import FILLS, SHAPE, put_one_of
from high_pair.formats.xml import Element, child, children, local_name, tag, whole
from high_pair.scene.addresses import Address, Step, address_below
from high_pair.scene.geometry import Affine, Box
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.scene.soft_edge import REACH

# The extension by which office programs know a shape as decorative.
DECORATIVE = "{C183D7F6-B498-43B3-948B-1728B52AA6E4}"
OWN = "urn:high-pair:overlay:1"
DECORATIVE_NAMESPACE = "http://schemas.microsoft.com/office/drawing/2017/decorative"
WHOLE = 100_000
DIMMED, ABOVE = "dim", "above"
UNITS_OF_A_DEGREE = 60_000
# Points an EMU, below which a group shows nothing.
SMALLEST_SCALE = 1e-9


def above_address(address: str) -> str | None:
    """Give the address of an overlay right above a picture; None where none can go."""
    possible = Address.of(address).first.name in ("bg", "sp")
    return address_below(address, above=1) if possible else None


def overlay_address(address: str) -> str | None:
    """Give the address of the overlay below the text at an address; None where none can go."""
    found = Address.of(address)
    own = Address(found.member, (*found.steps[:1], Step("overlay", "1")))
    return str(own) if found.first.name == "sp" else None


def anchor_of(address: Address, root: Element) -> Element:
    """Find the shape that an address of an overlay is about."""
    if address.first.name != "sp":
        raise EditError(f"{address} is no address of a shape on a slide")
    return nth(numbered_shapes(child(root, "p:cSld", "p:spTree")), address.first, address)


def _holder(shape: Element, tree: Element) -> Element:
    """Give what stands in the tree, or in an upright group, in place of a shape.

    A shape in a turned or mirrored group stands for the group: an overlay is
    upright. One in an alternate content stands for all of that.
    """
    lineage = [shape]
    for ancestor in shape.iterancestors():
        if ancestor is tree:
            break
        lineage.append(ancestor)
    found = shape
    for each in lineage[1:]:
        if local_name(each) != "grpSp" or not _is_upright(each):
            found = each
    return found


def _is_upright(group: Element) -> bool:
    transform = child(group, "p:grpSpPr", "a:xfrm")
    if transform is None:
        return True
    turned = any(transform.get(name, "0") not in ("0", "false") for name in ("flipH", "flipV"))
    return not turned and whole(transform, "rot") == 0


def surround_of(element: Element, tree: Element) -> Surround:
    """Give the coordinates in which an element of the tree stands."""
    groups = []
    for ancestor in element.iterancestors():
        if ancestor is tree:
            break
        if local_name(ancestor) == "grpSp":
            groups.append(ancestor)
    surround = page_surround()
    for group in reversed(groups):
        surround = surround.inside(child(group, "p:grpSpPr", "a:xfrm"), None)
    return surround


def _existing(address: Address, holder: Element) -> Element | None:
    """Find the overlay of the text at an address, among those right below what holds the text.

    Texts of one turned group have theirs side by side; grounds of dimmed pictures and overlays
    over a picture may stand there too, and are others' own.
    """
    before = holder.getprevious()
    while before is not None and (mark := mark_of(before)) is not None:
        if mark.get("below") == _mark_of(address):
            return before
        before = before.getprevious()
    return None


_NO_SHAPES = ("nvGrpSpPr", "grpSpPr", "extLst")


def _mark_of(address: Address) -> str:
    return f"{address.first.name}={address.first.value}"


def lay(text: str, overlay: Overlay, root: Element) -> None:
    """Write an overlay into a parsed part at an address, or change the one that is there.

    Raises EditError when the address isn't there.
    """
    address = Address.of(text)
    tree = child(root, "p:cSld", "p:spTree")
    if tree is None:
        raise gone(address)
    if overlay.kind is OverlayKind.DIM:
        _dim(address, overlay, tree, root)
        return
    if address.last.name == ABOVE:
        _lay_above(address, overlay, tree, root)
        return
    anchor = anchor_of(address, root)
    holder = _holder(anchor, tree)
    old = _existing(address, holder)
    properties = child(anchor, "p:spPr")
    if overlay.bound and properties is not None:
        _remove(old)
        fill = solid_fill(overlay.levels, overlay.percent / 100)
        put_one_of(properties, fill, SHAPE, FILLS)
        return
    number = _number_of(old) if old is not None else _free_number(root)
    shape = _shape(overlay, surround_of(holder, tree), number)
    _note(shape, "below", _mark_of(address))
    if old is not None:
        _replace(old, shape)
    else:
        holder.addprevious(shape)


def _note(shape: Element, key: str, value: str) -> None:
    mark = mark_of(shape)
    if mark is not None:
        mark.set(key, value)


def _remove(element: Element | None) -> None:
    parent = element.getparent() if element is not None else None
    if element is not None and parent is not None:
        parent.remove(element)


def _replace(old: Element, new: Element) -> None:
    parent = old.getparent()
    if parent is not None:
        parent.replace(old, new)


def _above(address: Address, tree: Element, root: Element) -> tuple[int, Element | None]:
    """Give the place in the tree right above a picture, and the overlay that is there already."""
    if address.first.name == "bg":
        at = sum(1 for each in children(tree) if local_name(each) in _NO_SHAPES[:2])
    else:
        at = tree.index(_holder(anchor_of(address, root), tree)) + 1
    there = tree[at] if at < len(tree) else None
    mark = mark_of(there) if there is not None else None
    return at, there if mark is not None and mark.get("above") else None


def _lay_above(address: Address, overlay: Overlay, tree: Element, root: Element) -> None:
    """Write an overlay right above a picture, for all pages that show it."""
    if overlay.kind is OverlayKind.DIM:
        raise EditError(f"{address}: a picture is dimmed where it is.")
    place, old = _above(address, tree, root)
    number = _number_of(old) if old is not None else _free_number(root)
    shape = _shape(overlay, page_surround(), number)
    _note(shape, "above", "1")
    if old is not None:
        _replace(old, shape)
    else:
        tree.insert(place, shape)


def _dim(address: Address, overlay: Overlay, tree: Element, root: Element) -> None:
    """Make a picture see-through over a ground of one colour (§20.1.8.4, a:alphaModFix)."""
    picture = anchor_of(address, root)
    blip = child(picture, "p:blipFill", "a:blip")
    transform = child(picture, "p:spPr", "a:xfrm")
    if blip is None or transform is None:
        raise EditError(f"{address}: the picture states no place or no pixels of its own.")
    old = _ground_of(picture)
    seen_through = [each for each in children(blip) if local_name(each).startswith("alpha")]
    if old is None and seen_through:
        raise EditError(f"{address}: the picture is see-through already.")
    for each in seen_through:
        blip.remove(each)
    amount = str(round((100 - overlay.percent) * WHOLE / 100))
    blip.insert(0, etree.Element(tag("a:alphaModFix"), amt=amount))
    number = _number_of(old) if old is not None else _free_number(root)
    ground = _shape(replace(overlay, percent=100), surround_of(picture, tree), number)
    properties = child(ground, "p:spPr")
    own = child(ground, "p:spPr", "a:xfrm")
    if properties is not None and own is not None:
        # Just where the picture is, turned as it is.
        properties.replace(own, copy.deepcopy(transform))
    _note(ground, "percent", str(overlay.percent))
    if old is not None:
        _replace(old, ground)
    else:
        picture.addprevious(ground)


def _ground_of(picture: Element) -> Element | None:
    """Give the ground that a dimmed picture lets through, None where it isn't dimmed."""
    before = picture.getprevious()
    mark = mark_of(before) if before is not None else None
    return before if mark is not None and mark.get("kind") == OverlayKind.DIM.value else None


def _undim(address: Address, root: Element) -> None:
    picture = anchor_of(address, root)
    ground = _ground_of(picture)
    blip = child(picture, "p:blipFill", "a:blip")
    if ground is None or blip is None:
        return
    _remove(ground)
    for each in list(children(blip)):
        if local_name(each) == "alphaModFix":
            blip.remove(each)


def take_off(text: str, root: Element) -> None:
    """Take the overlay at an address away; where there is none, nothing changes."""
    address = Address.of(text)
    tree = child(root, "p:cSld", "p:spTree")
    if tree is None:
        return
    if address.last.name == DIMMED:
        _undim(address, root)
        return
    if address.last.name == ABOVE:
        _remove(_above(address, tree, root)[1])
        return
    _remove(_existing(address, _holder(anchor_of(address, root), tree)))


def _number_of(shape: Element) -> int:
    return whole(child(shape, "p:nvSpPr", "p:cNvPr"), "id")


def _free_number(root: Element) -> int:
    return 1 + max((whole(each, "id") for each in root.iter(tag("p:cNvPr"))), default=0)


def _shape(overlay: Overlay, surround: Surround, number: int) -> Element:
    shape = etree.Element(tag("p:sp"))
    naming = etree.SubElement(shape, tag("p:nvSpPr"))
    name = f"{overlay.kind.value.capitalize()} {number}"
    named = etree.SubElement(naming, tag("p:cNvPr"), id=str(number), name=name)
    extensions = etree.SubElement(named, tag("a:extLst"))
    extension = etree.SubElement(extensions, tag("a:ext"), uri=DECORATIVE)
    decorative = f"{{{DECORATIVE_NAMESPACE}}}decorative"
    etree.SubElement(extension, decorative, nsmap={"adec": DECORATIVE_NAMESPACE}, val="1")
    extension = etree.SubElement(extensions, tag("a:ext"), uri=OVERLAY)
    mark = etree.SubElement(extension, f"{{{OWN}}}overlay", nsmap={"hp": OWN})
    for key, value in _written(overlay).items():
        mark.set(key, value)
    etree.SubElement(naming, tag("p:cNvSpPr"))
    etree.SubElement(naming, tag("p:nvPr"))
    properties = etree.SubElement(shape, tag("p:spPr"))
    box = _inside(overlay.box, surround)
    transform = etree.SubElement(properties, tag("a:xfrm"))
    if overlay.turn:
        transform.set("rot", str(round(overlay.turn * UNITS_OF_A_DEGREE)))
    etree.SubElement(transform, tag("a:off"), x=str(round(box.x)), y=str(round(box.y)))
    etree.SubElement(transform, tag("a:ext"), cx=str(round(box.width)), cy=str(round(box.height)))
    _outline(properties, overlay)
    _fill(properties, overlay)
    etree.SubElement(etree.SubElement(properties, tag("a:ln")), tag("a:noFill"))
    if overlay.kind is OverlayKind.SOFT_PLATE:
        # A gradient along a rectangle's path would do as well by the standard, and yet other
        # programs paint it as a ridge, with its full strength in the middle alone.
        effects = etree.SubElement(properties, tag("a:effectLst"))
        radius = str(round(overlay.feather / REACH * EMU_PER_POINT))
        etree.SubElement(effects, tag("a:softEdge"), rad=radius)
    return shape


def _inside(box: Box, surround: Surround) -> Box:
    """Give a box of the page in the units of a surround, which is upright."""
    to_page: Affine = surround.transform
    if min(abs(to_page.a), abs(to_page.d)) < SMALLEST_SCALE:
        raise EditError("The text's group has no extent, so nothing can be laid in it.")
    return Box(
        (box.x - to_page.e) / to_page.a,
        (box.y - to_page.f) / to_page.d,
        box.width / to_page.a,
        box.height / to_page.d,
    )


def _outline(properties: Element, overlay: Overlay) -> None:
    rounded = overlay.kind is OverlayKind.PLATE and overlay.rounding > 0
    preset = "roundRect" if rounded else "rect"
    geometry = etree.SubElement(properties, tag("a:prstGeom"), prst=preset)
    adjusted = etree.SubElement(geometry, tag("a:avLst"))
    if rounded:
        share = overlay.rounding / max(1e-6, min(overlay.box.width, overlay.box.height))
        value = min(WHOLE // 2, round(share * WHOLE))
        etree.SubElement(adjusted, tag("a:gd"), name="adj", fmla=f"val {value}")


def _colour(parent: Element, overlay: Overlay, share: float) -> None:
    colour = etree.SubElement(parent, tag("a:srgbClr"), val=hex_of(overlay.levels)[1:])
    etree.SubElement(colour, tag("a:alpha"), val=str(round(overlay.percent / 100 * share * WHOLE)))


def _fill(properties: Element, overlay: Overlay) -> None:
    if overlay.kind is not OverlayKind.RAMP:
        _colour(etree.SubElement(properties, tag("a:solidFill")), overlay, 1.0)
        return
    gradient = etree.SubElement(properties, tag("a:gradFill"), rotWithShape="1")
    stops = etree.SubElement(gradient, tag("a:gsLst"))
    for place, share in overlay.stops:
        stop = etree.SubElement(stops, tag("a:gs"), pos=str(round(place * WHOLE)))
        _colour(stop, overlay, share)
    angle = str(round(overlay.towards % 360 * UNITS_OF_A_DEGREE))
    etree.SubElement(gradient, tag("a:lin"), ang=angle, scaled="0")


def _written(overlay: Overlay) -> dict[str, str]:
    """Give what an overlay is made of as attributes, for those who change it later."""
    box = overlay.box
    return {
        "kind": overlay.kind.value,
        "percent": str(overlay.percent),
        "colour": hex_of(overlay.levels),
        "box": " ".join(f"{side:.3f}" for side in (box.x, box.y, box.width, box.height)),
        "rounding": f"{overlay.rounding:.3f}",
        "feather": f"{overlay.feather:.3f}",
        "turn": f"{overlay.turn:.1f}",
        "ramp": " ".join(
            f"{value:.4f}"
            for value in (overlay.towards, overlay.full, overlay.none, overlay.middle)
        ),
    }
