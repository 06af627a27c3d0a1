"""Moving a shape of a slide: a placeholder gets a place of its own, one in a group moves within it.

Source: ECMA-376 Part 1 §20.1.7.6 (a:xfrm), §20.1.7.5 (the coordinates of groups).
"""

from __future__ import annotations

from lxml import etree

from high_pair.edits.kinds import MoveShape
from high_pair.errors import EditError
from high_pair.formats.drawing.fills import EMU_PER_POINT
from high_pair.formats.following import gone
from high_pair.formats.schema_order import SHAPE, put
from high_pair.formats.slides.overlays import anchor_of, surround_of
from high_pair.formats.xml import Element, child, local_name, tag, whole
from high_pair.scene.addresses import Address

UNITS_OF_A_DEGREE = 60_000
# A group whose units are so small on the page, in points an EMU, shows nothing.
SMALLEST_SCALE = 1e-9


def move_shape(edit: MoveShape, root: Element) -> None:
    """Move a shape on its slide. Raises EditError where that can't be done."""
    address = Address.of(edit.address)
    tree = child(root, "p:cSld", "p:spTree")
    if tree is None:
        raise gone(address)
    shape = anchor_of(address, root)
    if local_name(shape) not in ("sp", "pic"):
        raise EditError(f"{address}: only a shape with its text is moved.")
    if any(local_name(each) == "AlternateContent" for each in shape.iterancestors()):
        # Part 3, §10.2.1: programs that take the other branch would show it where it was.
        raise EditError(f"{address}: the shape is written in two ways, of which one would stay.")
    properties = child(shape, "p:spPr")
    if properties is None:
        raise gone(address)
    transform = child(properties, "a:xfrm")
    offset = child(transform, "a:off")
    if offset is None:
        _place(properties, transform, edit)
        return
    across, down = _in_units(edit, shape, tree)
    offset.set("x", str(whole(offset, "x") + across))
    offset.set("y", str(whole(offset, "y") + down))


def _in_units(edit: MoveShape, shape: Element, tree: Element) -> tuple[int, int]:
    """Give a way on the page in the units of the group that a shape stands in."""
    way = surround_of(shape, tree).transform
    area = way.a * way.d - way.b * way.c
    if abs(area) < SMALLEST_SCALE**2:
        raise EditError(f"{edit.address}: its group shows nothing.")
    across = (way.d * edit.across - way.c * edit.down) / area
    down = (way.a * edit.down - way.b * edit.across) / area
    return round(across), round(down)


def _place(properties: Element, transform: Element | None, edit: MoveShape) -> None:
    """Give a placeholder that stands where its layout says a place of its own (§19.7.10)."""
    if transform is None:
        transform = etree.Element(tag("a:xfrm"))
        put(properties, transform, SHAPE)
    if edit.turn:
        transform.set("rot", str(round(edit.turn * UNITS_OF_A_DEGREE)))
    x, y, width, height = edit.box
    for name, values in (
        ("off", {"x": x + edit.across, "y": y + edit.down}),
        ("ext", {"cx": width, "cy": height}),
    ):
        part = etree.SubElement(transform, tag(f"a:{name}"))
        for key, value in values.items():
            part.set(key, str(round(value * EMU_PER_POINT)))
