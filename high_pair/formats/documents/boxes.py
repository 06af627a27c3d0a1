"""Pictures, shapes, groups and charts in a document's text, as what floats beside it.

Their shapes are DrawingML in other wrappings: unwrapped, they are read by the
code that reads those of slides.
Source: ECMA-376 Part 1 §20.4 (where they stand), [MS-DOCX] §2.7 (shapes and groups).
"""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.formats.alternatives import chosen_children
from high_pair.formats.documents.styles import Layer
from high_pair.formats.drawing.colours import colour_element, origin_of, resolve
from high_pair.formats.drawing.fills import EMU_PER_POINT, NOTHING
from high_pair.formats.drawing.related import PackageParts
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.shapes import ShapeReader
from high_pair.formats.drawing.surround import Placed
from high_pair.formats.parts import Part
from high_pair.formats.xml import NAMESPACES, Element, child, children, local_name, number, tag
from high_pair.raster.pieces import boxed
from high_pair.scene.flow import Block, Float, From, Offset, Wrap
from high_pair.scene.geometry import Box, turned
from high_pair.scene.page import Item
from high_pair.scene.text import Anchor

_ORIGINS = {
    "page": From.PAGE,
    "margin": From.MARGIN,
    "leftMargin": From.PAGE,
    "topMargin": From.PAGE,
    "insideMargin": From.PAGE,
    "column": From.COLUMN,
    "character": From.COLUMN,
    "paragraph": From.PARAGRAPH,
    "line": From.PARAGRAPH,
}
_SHARES = {"left": 0.0, "inside": 0.0, "top": 0.0, "center": 0.5}
_WRAPS = {"wrapTopAndBottom": Wrap.BELOW, "wrapNone": Wrap.THROUGH}
_ANCHORS = {"t": Anchor.TOP, "ctr": Anchor.MIDDLE, "b": Anchor.BOTTOM}
_TURNS = {"vert": 90.0, "vert270": -90.0, "eaVert": 90.0}
# §21.1.2.1.1, in EMU.
_INSETS = {"lIns": 91_440, "tIns": 45_720, "rIns": 91_440, "bIns": 45_720}
LARGEST = 20_000.0
_FROM = "{urn:high-pair:from}number"

# Gives the blocks of a text box, for its name, what is right behind its text, and what its shape's
# style says of its text.
BlocksOf = Callable[[Element, str, Item | None, tuple[Layer, ...]], tuple[Block, ...]]


@dataclass(frozen=True)
class BoxReader:
    """Reads what floats in one part; blocks_of: reads the text of boxes."""

    part: Part
    setting: Setting
    related: PackageParts
    blocks_of: BlocksOf
    numbers: dict[Element, int]

    def floats(self, drawing: Element) -> Iterator[Float]:
        """Give what a w:drawing shows."""
        for holder in children(drawing):
            if local_name(holder) not in ("inline", "anchor"):
                continue
            extent = child(holder, "wp:extent")
            width, height = (_points(extent, name) for name in ("cx", "cy"))
            named = child(holder, "wp:docPr")
            if named is not None and named.get("hidden", "0") in ("1", "true"):
                continue
            name = named.get("name", "") if named is not None else ""
            data = child(holder, "a:graphic", "a:graphicData")
            items = self._items(data, width, height, name or "shape")
            if local_name(holder) == "inline":
                yield Float(width, height, items)
                continue
            wrap = next((each for each in children(holder) if "wrap" in local_name(each)), None)
            kind = local_name(wrap) if wrap is not None else "wrapNone"
            yield Float(
                width,
                height,
                items,
                behind=holder.get("behindDoc", "0") in ("1", "true"),
                across=_offset(child(holder, "wp:positionH"), From.COLUMN),
                down=_offset(child(holder, "wp:positionV"), From.PARAGRAPH),
                wrap=_WRAPS.get(kind, Wrap.BESIDE),
            )

    def _items(
        self, data: Element | None, width: float, height: float, name: str
    ) -> tuple[Item, ...]:
        tree = etree.Element(tag("p:spTree"), nsmap={"p": NAMESPACES["p"], "a": NAMESPACES["a"]})
        sources: dict[int, Element] = {}
        for each in chosen_children(data):
            shape = self._unwrapped(each, sources, name)
            if shape is not None:
                _put_at(shape, width, height)
                tree.append(shape)
        if not len(tree) and data is not None and len(data):
            tree.append(_frame(data, width, height, name))

        def text_of(shape: Element, placed: Placed, box: Box) -> Iterator[Item]:
            source = sources.get(int(shape.get(_FROM, "-1")))
            if source is not None:
                yield from self._text(source, name, placed, box, items)

        items: list[Item] = []
        reader = ShapeReader(
            self.part,
            "slide",
            self.setting,
            "",
            0,
            NOTHING,
            self.related,
            tree,
            text_of=text_of,
            numbers={
                shape: self.numbers.get(sources[int(shape.get(_FROM, "-1"))], 0)
                for shape in tree.iter(tag("p:sp"), tag("p:pic"))
                if int(shape.get(_FROM, "-1")) in sources
            },
        )
        for item in reader.each():
            items.append(item)
        return tuple(items)

    def _unwrapped(
        self, element: Element, sources: dict[int, Element], name: str
    ) -> Element | None:
        """Give a shape of a document as a slide would hold it; None for what is none."""
        kind = local_name(element)
        if kind == "wsp":
            shape = _named(element, "p:sp", "p:nvSpPr", "p:cNvSpPr", name)
            _move(shape, child(element, "wps:spPr"), "p:spPr")
            _move(shape, child(element, "wps:style"), "p:style")
            sources[len(sources)] = element
            shape.set(_FROM, str(len(sources) - 1))
            return shape
        if kind == "pic":
            shape = _named(element, "p:pic", "p:nvPicPr", "p:cNvPicPr", name)
            _move(shape, child(element, "pic:blipFill"), "p:blipFill")
            _move(shape, child(element, "pic:spPr"), "p:spPr")
            sources[len(sources)] = element
            shape.set(_FROM, str(len(sources) - 1))
            return shape
        if kind in ("wgp", "grpSp", "wpc"):
            group = _named(element, "p:grpSp", "p:nvGrpSpPr", "p:cNvGrpSpPr", name)
            _move(group, child(element, "wpg:grpSpPr"), "p:grpSpPr")
            for each in chosen_children(element):
                inner = self._unwrapped(each, sources, name)
                if inner is not None:
                    group.append(inner)
            return group
        if kind == "graphicFrame":
            frame = _named(element, "p:graphicFrame", "p:nvGraphicFramePr", "", name)
            _move(frame, child(element, "wpg:xfrm"), "p:xfrm")
            graphic = child(element, "a:graphic")
            if graphic is not None:
                frame.append(copy.deepcopy(graphic))
            return frame
        return None

    def _text(
        self, source: Element, name: str, placed: Placed, box: Box, below: list[Item]
    ) -> Iterator[Item]:
        """Let a shape's text flow in the box that its outline leaves for it."""
        content = child(source, "wps:txbx", "w:txbxContent")
        if content is None:
            return
        body = child(source, "wps:bodyPr")
        left, top, right, bottom = (
            number(body.get(side) if body is not None else None, plain) / EMU_PER_POINT
            for side, plain in _INSETS.items()
        )
        inside = Box(
            box.x + left,
            box.y + top,
            max(1.0, box.width - left - right),
            max(1.0, box.height - top - bottom),
        )
        transform = placed.upright
        turn = _TURNS.get(body.get("vert", "horz") if body is not None else "horz", 0.0)
        if turn:
            x, y = inside.centre
            inside = Box(x - inside.height / 2, y - inside.width / 2, inside.height, inside.width)
            transform = transform.after(turned(turn, (x, y)))
        anchor = _ANCHORS.get(body.get("anchor", "t") if body is not None else "t", Anchor.TOP)
        grows = child(body, "a:spAutoFit") is not None
        lowest = below[-1] if below else None
        blocks = self.blocks_of(content, name, lowest, self._font_layers(source))
        yield from boxed(blocks, inside, anchor, transform, grows)[0]

    def _font_layers(self, shape: Element) -> tuple[Layer, ...]:
        """Give the colour of a shape style's font reference as run properties (§20.1.4.1.17).

        It stands where a table style's does: above the document's defaults alone.
        """
        chosen = colour_element(child(shape, "wps:style", "a:fontRef"))
        colour = resolve(chosen, self.setting.palette)
        if colour is None:
            return ()
        properties = etree.Element(tag("w:rPr"))
        stated = etree.SubElement(properties, tag("w:color"))
        stated.set(tag("w:val"), hex_of(colour.levels).removeprefix("#"))
        return (Layer(f"shape style, {origin_of(chosen)}", "font reference", properties),)


def _points(element: Element | None, name: str) -> float:
    value = number(element.get(name) if element is not None else None) / EMU_PER_POINT
    return min(LARGEST, max(0.0, value))


def _offset(position: Element | None, plain: From) -> Offset:
    """Read a wp:positionH or wp:positionV (§20.4.2.10, §20.4.2.11)."""
    origin = plain
    if position is not None:
        origin = _ORIGINS.get(position.get("relativeFrom", ""), plain)
    aligned = child(position, "wp:align")
    if aligned is not None and aligned.text:
        return Offset(origin, share=_SHARES.get(aligned.text.strip(), 1.0))
    stated = child(position, "wp:posOffset")
    points = number(stated.text if stated is not None else None) / EMU_PER_POINT
    return Offset(origin, points if abs(points) < LARGEST else 0.0)


def _named(element: Element, outer: str, naming: str, locks: str, name: str) -> Element:
    shape = etree.Element(tag(outer))
    holder = etree.SubElement(shape, tag(naming))
    etree.SubElement(holder, tag("p:cNvPr"), id="0", name=name)
    if locks:
        etree.SubElement(holder, tag(locks))
    etree.SubElement(holder, tag("p:nvPr"))
    return shape


def _move(shape: Element, source: Element | None, name: str) -> None:
    """Give a shape a copy of what a source holds, under another name."""
    if source is None:
        return
    holder = etree.SubElement(shape, tag(name))
    for key, value in source.attrib.items():
        holder.set(key, value)
    for each in children(source):
        holder.append(copy.deepcopy(each))


def _put_at(shape: Element, width: float, height: float) -> None:
    """Put a shape into its float's box: its own offset counts for nothing there (§20.4.2.7)."""
    for holder in ("p:spPr", "p:grpSpPr"):
        properties = child(shape, holder)
        if properties is None:
            continue
        transform = child(properties, "a:xfrm")
        if transform is None:
            transform = etree.Element(tag("a:xfrm"))
            properties.insert(0, transform)
        for name, sides in (("a:off", (0.0, 0.0)), ("a:ext", (width, height))):
            element = child(transform, name)
            if element is None:
                element = etree.SubElement(transform, tag(name))
            keys = ("x", "y") if name == "a:off" else ("cx", "cy")
            for key, side in zip(keys, sides, strict=True):
                element.set(key, str(round(side * EMU_PER_POINT)))


def _frame(data: Element, width: float, height: float, name: str) -> Element:
    """Give a chart, a diagram or another object as a slide would hold it."""
    frame = _named(data, "p:graphicFrame", "p:nvGraphicFramePr", "", name)
    transform = etree.SubElement(frame, tag("p:xfrm"))
    etree.SubElement(transform, tag("a:off"), x="0", y="0")
    sides = (str(round(side * EMU_PER_POINT)) for side in (width, height))
    across, down = sides
    etree.SubElement(transform, tag("a:ext"), cx=across, cy=down)
    graphic = etree.SubElement(frame, tag("a:graphic"))
    graphic.append(copy.deepcopy(data))
    return frame
