"""How the shapes of a part are numbered for their addresses, overlays left out."""

from __future__ import annotations

from high_pair.formats.xml import Element, child, children, tag

SHAPES = tuple(tag(f"p:{name}") for name in ("sp", "pic", "graphicFrame", "cxnSp", "contentPart"))
#: The extension that says of a shape that it is an overlay.
OVERLAY = "{5E0F2C6B-3A77-4B7E-9B1D-6C1A0F7D2E41}"


def numbered_shapes(tree: Element | None) -> list[Element]:
    """List the shapes of a tree that addresses number from 1: all but overlays."""
    if tree is None:
        return []
    return [shape for shape in tree.iter(*SHAPES) if mark_of(shape) is None]


def mark_of(shape: Element) -> Element | None:
    """Give what says of a shape that it is an overlay; None for any other."""
    named = child(shape, "p:nvSpPr", "p:cNvPr")
    extensions = child(named, "a:extLst")
    for extension in children(extensions):
        if extension.get("uri") == OVERLAY:
            return next(iter(children(extension)), None)
    return None
