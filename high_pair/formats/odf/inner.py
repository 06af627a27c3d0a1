"""Letters that are a shape's outline, and objects within a frame, such as charts (ODF 1.3 Part 3
§10.4.6, §19.235)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from lxml import etree

from high_pair.formats.odf.charts import chart_in, chart_items
from high_pair.formats.odf.fills import OdfFill
from high_pair.formats.odf.lines import stroke_of
from high_pair.formats.odf.places import Place
from high_pair.formats.odf.text import TextReader
from high_pair.formats.xml import Element, tag
from high_pair.scene.addresses import address_below
from high_pair.scene.page import Item, Obstacle
from high_pair.scene.paint import colours_of
from high_pair.scene.text import Run, TextBlock, with_each_run

if TYPE_CHECKING:
    from high_pair.formats.odf.shapes import ShapeReader

LETTERS_FILL = "its letters are filled as their shape is"
STRETCHED = "its letters are stretched over their shape, so their size and place aren't known"
UNMEASURED = "the text of embedded objects isn't measured yet"


def lettering_items(
    reader: ShapeReader, shape: Element, chain: Sequence[Element], fill: OdfFill, place: Place
) -> Iterator[Item]:
    """Give text whose letters are the shape: filled as it is, and stretched over its box."""
    holder = reader.holder(shape, place, place.box, chain, OdfFill())
    block = TextReader(reader.styles, holder, reader.context.fields).block(shape)
    if block is None:
        return
    shades = colours_of(fill.fill) if fill.fill is not None else fill.shades
    stroke = stroke_of(chain, reader.styles)
    if stroke is not None:
        shades += colours_of(stroke.fill)

    def change(run: Run) -> Run:
        if not shades or fill.picture is not None:
            return replace(run, trouble=LETTERS_FILL)
        return replace(
            run,
            colour=shades[0],
            shades=shades if len(set(shades)) > 1 else (),
            highlight=None,
            origin="the shape's fill",
            deciders=(),
            fixed=LETTERS_FILL,
            unsized=STRETCHED,
        )

    yield replace(with_each_run(block, change), doubt=STRETCHED, region=place.box)


def object_items(reader: ShapeReader, shape: Element, place: Place) -> Iterator[Item]:
    """Give what an embedded object paints: a chart by its own data, of another its words."""
    root = reader.context.object_root(shape)
    if root is not None and chart_in(root) is not None:
        name = shape.get(tag("draw:name")) or "chart"
        words = f"{reader.context.words} › {name}"
        address = address_below(reader.context.address, shape=reader.numbers.get(shape, 0))
        yield from chart_items(root, words, place, address, reader.context.background)
        return
    yield Obstacle(place.box, place.transform, "embedded objects aren't painted yet")
    words = _words_of(root)
    if words:
        body = etree.Element(tag("draw:text-box"))
        etree.SubElement(body, tag("text:p")).text = words
        for item in reader.text(shape, body, place, place.box, (), OdfFill()):
            if isinstance(item, TextBlock):
                yield with_each_run(item, lambda run: replace(run, trouble=UNMEASURED))


def _words_of(root: Element | None) -> str:
    """Give the words of an embedded object."""
    paragraphs = root.iter(tag("text:p")) if root is not None else ()
    words = ["".join(str(part) for part in each.itertext()).strip() for each in paragraphs]
    return " · ".join(dict.fromkeys(word for word in words if word))
