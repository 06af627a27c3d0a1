"""Pictures, boxes, groups and charts that lie over a sheet's cells.

Their shapes are DrawingML under other names; renamed, they are read by the
code that reads those of slides.
Source: ECMA-376 Part 1 §20.5 (where they are anchored).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from lxml import etree

from high_pair.formats.alternatives import chosen_children
from high_pair.formats.drawing.fills import EMU_PER_POINT, NOTHING
from high_pair.formats.drawing.numbering import numbered_shapes
from high_pair.formats.drawing.related import PackageParts
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.shapes import ShapeReader
from high_pair.formats.parts import Part
from high_pair.formats.xml import NAMESPACES, Element, child, local_name, number, parse, tag, whole
from high_pair.scene.geometry import Box
from high_pair.scene.grid import Grid
from high_pair.scene.page import Figure, Item, Obstacle, Picture, PictureText, StatedText, extent
from high_pair.scene.text import TextBlock

ANCHORS = ("twoCellAnchor", "oneCellAnchor", "absoluteAnchor")
NOWHERE = Box(0.0, 0.0, 1.0, 1.0)
# Of a sheet that has no cells.
NO_GRID = Grid(np.zeros(1), np.zeros(1))


def as_slide_part(part: Part) -> Part:
    """Give a drawing with its shapes in the namespace of slides, as a copy."""
    return replace(part, root=as_slide_root(part.root))


def as_slide_root(root: Element) -> Element:
    """Give a drawing's root with its shapes in the namespace of slides, as a copy."""
    data = etree.tostring(root)
    own, slides = NAMESPACES["xdr"].encode(), NAMESPACES["p"].encode()
    return parse(data.replace(own + b'"', slides + b'"'), "", "drawing")


def drawn_extent(item: Item) -> Box:
    """Give the box that an item's paint can't leave."""
    if isinstance(item, Figure | Picture | Obstacle):
        return extent(item)
    if isinstance(item, TextBlock):
        return item.transform.bounds(item.box)
    assert isinstance(item, PictureText | StatedText)
    return NOWHERE


@dataclass(frozen=True)
class DrawingReader:
    """Reads a drawing's shapes.

    words: the sheet's name; whole: where its only shape is, whatever its anchor says.
    """

    part: Part
    setting: Setting
    related: PackageParts
    words: str
    grid: Grid
    whole: Box | None = None

    def items(self) -> Iterator[Item]:
        """Give everything that the drawing paints, lowest first."""
        listed = numbered_shapes(self.part.root)
        numbers = {shape: count for count, shape in enumerate(listed, start=1)}
        for anchor in self.part.root:
            if local_name(anchor) not in ANCHORS:
                continue
            box = self.whole or anchor_box(anchor, self.grid)
            for shape in chosen_children(anchor):
                self._put_at(shape, box)
            reader = ShapeReader(
                self.part,
                "slide",
                self.setting,
                self.words,
                0,
                NOTHING,
                self.related,
                anchor,
                numbers=numbers,
            )
            yield from reader.each()

    def _put_at(self, shape: Element, box: Box) -> None:
        """Put a shape where its anchor is: what it states itself may be stale (§20.5.2.33)."""
        holders = (child(shape, "p:spPr"), child(shape, "p:grpSpPr"))
        transform = next((t for h in holders if (t := child(h, "a:xfrm")) is not None), None)
        if transform is None:
            transform = child(shape, "p:xfrm")
        holder = next((each for each in holders if each is not None), None)
        if transform is None and holder is not None:
            transform = etree.Element(tag("a:xfrm"))
            holder.insert(0, transform)
        if transform is None or whole(transform, "rot"):
            return
        for element_name, names, sides in (
            ("a:off", ("x", "y"), (box.x, box.y)),
            ("a:ext", ("cx", "cy"), (box.width, box.height)),
        ):
            element = child(transform, element_name)
            if element is None:
                element = etree.SubElement(transform, tag(element_name))
            for name, side in zip(names, sides, strict=True):
                element.set(name, str(round(side * EMU_PER_POINT)))


def anchor_box(anchor: Element, grid: Grid) -> Box:
    """Give where an anchor stands, by the cells that it names (§20.5.2.33)."""
    start = _corner(child(anchor, "p:from"), grid)
    end = child(anchor, "p:to")
    size = child(anchor, "p:ext")
    if start is None:
        place = child(anchor, "p:pos")
        start = (_points(place, "x"), _points(place, "y"))
    if end is not None:
        right, bottom = _corner(end, grid) or start
        return Box(start[0], start[1], max(0.0, right - start[0]), max(0.0, bottom - start[1]))
    return Box(start[0], start[1], _points(size, "cx"), _points(size, "cy"))


def _corner(marker: Element | None, grid: Grid) -> tuple[float, float] | None:
    if marker is None:
        return None

    def value(name: str) -> float:
        element = child(marker, f"p:{name}")
        return number(element.text if element is not None else None)

    column, row = max(0, int(value("col"))), max(0, int(value("row")))
    x, y = grid.corner(row, column)
    return x + value("colOff") / EMU_PER_POINT, y + value("rowOff") / EMU_PER_POINT


def _points(element: Element | None, name: str) -> float:
    return number(element.get(name) if element is not None else None) / EMU_PER_POINT


def is_text(item: Item) -> bool:
    """Tell whether an item is text that is laid out."""
    return isinstance(item, TextBlock)
