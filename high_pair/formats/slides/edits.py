"""Carrying out edits in the XML of slides, layouts and masters."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from lxml import etree

from high_pair.edits.kinds import (
    Edit,
    LayOver,
    MoveShape,
    RecolourFill,
    RecolourOrigin,
    RecolourStops,
    RecolourText,
    Restyle,
    TakeOff,
)
from high_pair.errors import EditError
from high_pair.formats.drawing.origins import recolour_origin
from high_pair.formats.drawing.shape_edits import recolour, recolour_fill, recolour_stops, restyle
from high_pair.formats.drawing.solid import solid_fill
from high_pair.formats.following import gone
from high_pair.formats.schema_order import BACKGROUND, FILLS, put_one_of
from high_pair.formats.slides.moving import move_shape
from high_pair.formats.slides.overlays import lay, take_off
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.addresses import Address, expand


def apply(edit: Edit, root: Element) -> None:
    """Carry out an edit in the parsed part that its address lies in.

    Raises EditError when the address isn't there.
    """
    carry_out = CARRIED_OUT.get(type(edit))
    if carry_out is None:
        raise EditError(f"{edit.address}: a deck states its text, no boxes are drawn round it")
    carry_out(edit, root)


def _recolour_texts(edit: RecolourText, root: Element) -> None:
    for address in expand(edit.address):
        recolour(address, root, edit)


def _restyle_texts(edit: Restyle, root: Element) -> None:
    for address in expand(edit.address):
        restyle(address, root, edit)


def _recolour_fill(edit: RecolourFill, root: Element) -> None:
    if Address.of(edit.address).last.name == "bg":
        _recolour_background(edit, root)
    else:
        recolour_fill(edit, root)


def _recolour_background(edit: RecolourFill, root: Element) -> None:
    """Give a page a background of one colour (§19.3.1.1, §19.3.1.2)."""
    common = child(root, "p:cSld")
    if common is None:
        raise gone(edit.address)
    background = child(common, "p:bg")
    if background is None:
        background = etree.Element(tag("p:bg"))
        common.insert(0, background)
    properties = child(background, "p:bgPr")
    if properties is None:
        for each in list(background):
            background.remove(each)
        properties = etree.SubElement(background, tag("p:bgPr"))
        etree.SubElement(properties, tag("a:effectLst"))
    put_one_of(properties, solid_fill(edit.levels), BACKGROUND, FILLS)


CARRIED_OUT: Mapping[type[Edit], Callable[[Any, Element], None]] = {
    RecolourText: _recolour_texts,
    RecolourOrigin: lambda edit, root: recolour_origin(edit.address, edit.levels, root),
    RecolourFill: _recolour_fill,
    RecolourStops: recolour_stops,
    Restyle: _restyle_texts,
    LayOver: lambda edit, root: lay(edit.address, edit.overlay, root),
    TakeOff: lambda edit, root: take_off(edit.address, root),
    MoveShape: move_shape,
}
