"""Carrying out edits in the XML of slides, layouts and masters."""

from __future__ import annotations

from lxml import etree

from high_pair.errors import EditError
from high_pair.formats.drawing.origins import recolour_origin
from high_pair.formats.drawing.shape_edits import put_fill, recolour, recolour_fill, restyle
from high_pair.formats.slides.overlays import lay, take_off
from high_pair.formats.xml import Element, child, tag
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


def apply(edit: Edit, root: Element) -> None:
    """Carry out an edit in the parsed part that its address lies in.

    Raises EditError when the address isn't there.
    """
    if isinstance(edit, LayOver):
        lay(edit.address, edit.overlay, root)
        return
    if isinstance(edit, RecolourFill):
        if edit.address.endswith("#bg"):
            _recolour_background(edit, root)
        else:
            recolour_fill(edit, root)
        return
    if isinstance(edit, Restyle):
        for address in expand(edit.address):
            restyle(address, root, edit)
        return
    if isinstance(edit, RecolourOrigin):
        recolour_origin(edit.address, edit.levels, root)
        return
    if isinstance(edit, TakeOff):
        take_off(edit.address, root)
        return
    if not isinstance(edit, RecolourText):
        raise EditError(f"{edit.address}: a deck states its text, no boxes are drawn round it")
    for address in expand(edit.address):
        recolour(address, root, edit)


def _recolour_background(edit: RecolourFill, root: Element) -> None:
    """Give a page a background of one colour (§19.3.1.1, §19.3.1.2)."""
    common = child(root, "p:cSld")
    if common is None:
        raise EditError(f"{edit.address} isn't in the file any more.")
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
    put_fill(properties, edit.levels, ())
