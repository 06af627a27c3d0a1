"""The shapes of a page and of its master page as items in z order (ODF 1.3 Part 3 §10)."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from lxml import etree

from high_pair.formats.odf.fills import OdfFill, fill_of, has_shadow, stroke_of
from high_pair.formats.odf.places import Place, line_of, place_of
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.text import ANCHORS, Holder, TextReader
from high_pair.formats.odf.units import colour, length, percent
from high_pair.formats.picture_members import RASTERS
from high_pair.formats.xml import Element, child, children, local_name, tag, whole
from high_pair.raster.layout import text_height
from high_pair.scene.geometry import Box, Outline, ellipse, line, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, Picture
from high_pair.scene.paint import Colour
from high_pair.scene.text import Anchor, TextBlock

SHAPES = frozenset(
    {
        "frame", "custom-shape", "rect", "ellipse", "circle", "line", "connector", "polyline",
        "polygon", "path", "regular-polygon", "caption", "measure", "control", "page-thumbnail",
    }
)  # fmt: skip
# Names of custom shapes that are a box or the ellipse in it.
BOXES = frozenset({"rectangle", "ooxml-rect", "flowchart-process", "mso-spt202"})
ELLIPSES = frozenset({"ellipse", "ooxml-ellipse", "circle", "flowchart-connector"})
# A master's own frames that a page may show with words of its own.
SHOWN_ON_PAGES = {
    "footer": "presentation:display-footer",
    "date-time": "presentation:display-date-time",
    "page-number": "presentation:display-page-number",
    "header": "presentation:display-header",
}
ELLIPSE_MARGIN = 0.146_446_6
# Changes to a picture's colours that aren't painted yet, with the value that changes nothing.
PICTURE_CHANGES = {
    "draw:luminance": "0%",
    "draw:contrast": "0%",
    "draw:red": "0%",
    "draw:green": "0%",
    "draw:blue": "0%",
    "draw:gamma": "100%",
    "draw:color-mode": "standard",
}
DEEPEST_GROUP = 64
MOST_CELLS = 20_000


def shapes_in(page: Element) -> list[Element]:
    """List a page's shapes in document order, those in groups too; by this they are numbered."""
    found: list[Element] = []

    def walk(holder: Element, depth: int) -> None:
        for each in children(holder):
            name = local_name(each)
            if name in SHAPES:
                found.append(each)
            elif name in ("g", "a") and depth < DEEPEST_GROUP:
                walk(each, depth + 1)

    walk(page, 0)
    return found


@dataclass(frozen=True)
class PageContext:
    """What all shapes of a page share.

    words: the page's name; address: the prefix of its shapes' addresses;
    scope: whose automatic styles count; background: what automatic colours
    look at where a shape has no fill, None when it isn't one colour;
    fields: what the page's fields say; picture_name: turns a draw:image into
    the name under which the document gives its bytes, empty when it has none;
    object_text: gives the words of an embedded object.
    """

    words: str
    address: str
    scope: str
    background: Colour | None
    fields: dict[str, str]
    bare_is_tenths: bool
    picture_name: Callable[[Element], str]
    object_text: Callable[[Element], str]


class ShapeReader:
    """Reads the shapes of one page or master page."""

    def __init__(self, page: Element, styles: Styles, context: PageContext) -> None:
        self.page = page
        self.styles = styles
        self.context = context
        self.numbers = {shape: count for count, shape in enumerate(shapes_in(page), start=1)}

    def items(self, wanted: Callable[[Element], bool]) -> list[Item]:
        """Give the items of the shapes that `wanted` accepts, lowest first."""
        found: list[Item] = []
        for shape in self.numbers:
            if wanted(shape):
                found.extend(self._shape(shape))
        return found

    # Styles

    def chain(self, shape: Element) -> tuple[Element, ...]:
        """Give the styles of a shape, nearest first, the default last."""
        presentation = shape.get(tag("presentation:style-name"))
        if presentation:
            own = self.styles.chain("presentation", presentation, self.context.scope)
        else:
            name = shape.get(tag("draw:style-name"))
            own = self.styles.chain("graphic", name, self.context.scope)
        return (*own, *self.styles.default("graphic"))

    def _text_styles(self, shape: Element) -> tuple[tuple[str, Element], ...]:
        name = shape.get(tag("draw:text-style-name"))
        own = self.styles.chain("paragraph", name, self.context.scope)
        found = [("shape's text style", style) for style in own]
        for style in self.chain(shape):
            name = style.get(tag("style:name"))
            found.append((f"style {name}" if name else "default style", style))
        return tuple(found)

    def _outline_prefix(self, shape: Element) -> str:
        """Give the name to which list levels add, for an outline's text."""
        if shape.get(tag("presentation:class")) != "outline":
            return ""
        master = self.page.get(tag("draw:master-page-name")) or self.page.get(tag("style:name"))
        return master or ""

    # Shapes

    def _shape(self, shape: Element) -> Iterator[Item]:
        name = local_name(shape)
        place = place_of(shape)
        chain = self.chain(shape)
        if name in ("line", "connector", "measure"):
            yield from self._line(shape, chain, place)
        elif name == "frame":
            yield from self._frame(shape, chain, place)
        elif name in ("page-thumbnail", "control"):
            if name == "control":
                yield Obstacle(place.box, place.transform, "form controls aren't painted yet")
        else:
            outline, text_box = _outline(shape, place.box)
            fill = fill_of(chain, self.styles, place.box, self.context.bare_is_tenths)
            if not fill.stated:
                fill = _unstated(chain)
            yield from self._surface(place, chain, fill, outline)
            yield from self._text(shape, shape, place, text_box, chain, fill)

    def _line(self, shape: Element, chain: Sequence[Element], place: Place) -> Iterator[Item]:
        start, end = line_of(shape)
        box = Box(
            min(start[0], end[0]),
            min(start[1], end[1]),
            abs(end[0] - start[0]),
            abs(end[1] - start[1]),
        )
        if local_name(shape) != "line" and shape.get(tag("draw:type")) not in (None, "line"):
            yield Obstacle(box, place.transform, "bent connectors aren't painted yet")
            return
        stroke = stroke_of(chain)
        if stroke is not None:
            yield Figure(line(start, end), box, place.transform, stroke=stroke)

    def _surface(
        self, place: Place, chain: Sequence[Element], fill: OdfFill, outline: Outline | None
    ) -> Iterator[Item]:
        stroke = stroke_of(chain)
        paints = fill.fill is not None or fill.picture is not None or bool(fill.trouble)
        if has_shadow(chain) and (paints or stroke is not None):
            shifts = [
                abs(length(attribute(chain, "graphic", f"draw:shadow-offset-{axis}")))
                for axis in "xy"
            ]
            reach = max(shifts) + length(attribute(chain, "graphic", "loext:shadow-blur"))
            yield Obstacle(place.box.grown(reach), place.transform, "a shadow isn't painted yet")
        if outline is None:
            if paints or stroke is not None:
                reason = "the outline of this shape isn't painted yet"
                yield Obstacle(place.box, place.transform, reason)
            return
        if fill.trouble:
            yield Obstacle(place.box, place.transform, fill.trouble)
        if fill.picture is not None:
            yield self._filled_with_picture(place, fill, outline)
        if fill.fill is not None or stroke is not None:
            yield Figure(outline, place.box, place.transform, fill.fill, stroke)

    def _filled_with_picture(self, place: Place, fill: OdfFill, outline: Outline) -> Item:
        name = self.context.picture_name(fill.picture) if fill.picture is not None else ""
        if not name:
            return Obstacle(place.box, place.transform, "a picture is missing from the file")
        return Picture(name, place.box, place.transform, opacity=fill.opacity, clip=outline)

    def _frame(self, shape: Element, chain: Sequence[Element], place: Place) -> Iterator[Item]:
        fill = fill_of(chain, self.styles, place.box, self.context.bare_is_tenths)
        table = child(shape, "table:table")
        images = shape.findall(tag("draw:image"))
        box = child(shape, "draw:text-box")
        if box is not None:
            own = fill if fill.stated else OdfFill()
            yield from self._surface(place, chain, own, rectangle(place.box))
            yield from self._text(shape, box, place, place.box, chain, own)
        elif table is not None:
            yield from self._table(shape, table, place)
        elif images and child(shape, "draw:object") is None:
            yield self._picture(images, chain, place)
        elif any(local_name(each) == "object" for each in children(shape)):
            yield from self._object(shape, place)
        else:
            yield Obstacle(place.box, place.transform, "objects of this kind aren't painted yet")

    def _picture(self, images: list[Element], chain: Sequence[Element], place: Place) -> Item:
        names = [name for name in map(self.context.picture_name, images) if name]
        rasters = [name for name in names if name.lower().endswith(RASTERS)]
        if not names:
            return Obstacle(place.box, place.transform, "a picture is missing from the file")
        for attribute_name, nothing in PICTURE_CHANGES.items():
            stated = attribute(chain, "graphic", attribute_name)
            if stated not in (None, nothing):
                reason = "a change to a picture's colours isn't painted yet"
                return Obstacle(place.box, place.transform, reason)
        clip = attribute(chain, "graphic", "fo:clip")
        if clip and any(length(word) for word in _clip_words(clip)):
            return Obstacle(place.box, place.transform, "a cropped picture isn't painted yet")
        opacity = percent(attribute(chain, "graphic", "draw:image-opacity"), 1.0)
        return Picture((rasters or names)[0], place.box, place.transform, opacity=opacity)

    def _object(self, shape: Element, place: Place) -> Iterator[Item]:
        yield Obstacle(place.box, place.transform, "charts and objects aren't painted yet")
        words = self.context.object_text(shape)
        if words:
            body = etree.Element(tag("draw:text-box"))
            etree.SubElement(body, tag("text:p")).text = words
            for item in self._text(shape, body, place, place.box, (), OdfFill()):
                if isinstance(item, TextBlock):
                    yield _troubled(item, "the text of charts and objects isn't measured yet")

    # Text

    def _holder(
        self,
        shape: Element,
        place: Place,
        box: Box,
        chain: Sequence[Element],
        fill: OdfFill,
    ) -> Holder:
        sides = {}
        for side in ("left", "top", "right", "bottom"):
            stated = attribute(chain, "graphic", f"fo:padding-{side}")
            stated = stated or attribute(chain, "graphic", "fo:padding")
            sides[side] = length(stated)
        inner = Box(
            box.x + sides["left"],
            box.y + sides["top"],
            max(1.0, box.width - sides["left"] - sides["right"]),
            max(1.0, box.height - sides["top"] - sides["bottom"]),
        )
        backdrop, varied = self._automatic_backdrop(fill)
        is_frame = local_name(shape) == "frame"
        grows = attribute(chain, "graphic", "draw:auto-grow-width") == "true"
        unwrapped = attribute(chain, "graphic", "fo:wrap-option") == "no-wrap"
        vertical = attribute(chain, "graphic", "draw:textarea-vertical-align") or "top"
        name = shape.get(tag("draw:name")) or shape.get(tag("presentation:class")) or "shape"
        columns = attribute(chain, "graphic", "fo:column-count") or "1"
        mode = attribute(chain, "paragraph", "style:writing-mode") or "lr-tb"
        doubts = []
        if columns not in ("0", "1"):
            doubts.append("the place of text in columns is only estimated")
        if mode.startswith("tb"):
            doubts.append("the place of vertical text is only estimated")
        return Holder(
            inner,
            place.transform,
            f"{self.context.words} › {name}",
            f"{self.context.address}/shape={self.numbers.get(shape, 0)}",
            ANCHORS.get(vertical, Anchor.TOP),
            not grows and (is_frame or not unwrapped),
            self._text_styles(shape),
            self._outline_prefix(shape),
            backdrop,
            varied,
            self.context.scope,
            "; ".join(doubts),
        )

    def _automatic_backdrop(self, fill: OdfFill) -> tuple[Colour, str]:
        """Give what an automatic colour looks at: the shape's own fill, else the page."""
        if isinstance(fill.fill, Colour):
            return fill.fill, ""
        nothing = fill.fill is None and fill.picture is None and not fill.trouble
        if nothing and self.context.background is not None:
            return self.context.background, ""
        reason = "its colour is automatic, and what it looks at isn't one colour"
        return Colour(1.0, 1.0, 1.0), reason

    def _text(
        self,
        shape: Element,
        container: Element,
        place: Place,
        box: Box,
        chain: Sequence[Element],
        fill: OdfFill,
    ) -> Iterator[Item]:
        holder = self._holder(shape, place, box, chain, fill)
        block = TextReader(self.styles, holder, self.context.fields).block(container)
        if block is None:
            return
        fit = attribute(chain, "graphic", "draw:fit-to-size") or "false"
        shrinks = fit != "false" or attribute(chain, "graphic", "style:shrink-to-fit") == "true"
        if shrinks and text_height(block) > block.box.height:
            block = _troubled(block, "its size is shrunk to fit, which isn't worked out yet")
        yield block

    # Tables

    def _table(self, shape: Element, table: Element, place: Place) -> Iterator[Item]:
        widths = self._column_widths(table)
        rows = list(table.iter(tag("table:table-row")))
        if len(rows) * max(1, len(widths)) > MOST_CELLS:
            yield Obstacle(place.box, place.transform, "the table is too large to be painted")
            return
        template = bool(table.get(tag("table:template-name")))
        top = place.box.y
        for row_number, row in enumerate(rows, start=1):
            styles = self.styles.chain(
                "table-row", row.get(tag("table:style-name")), self.context.scope
            )
            height = length(
                attribute(styles, "table-row", "style:row-height")
                or attribute(styles, "table-row", "style:min-row-height")
            )
            left = place.box.x
            default = row.get(tag("table:default-cell-style-name"))
            # A spanned column has a covered cell of its own, so cells count as columns do.
            for column, cell in enumerate(children(row)):
                if column >= len(widths):
                    break
                spans = max(1, whole(cell, tag("table:number-columns-spanned"), 1))
                width = sum(widths[column : column + spans])
                if local_name(cell) == "table-cell":
                    box = Box(left, top, width, height)
                    name = cell.get(tag("table:style-name")) or default
                    step = f"/row={row_number}/cell={column + 1}"
                    yield from self._cell(shape, cell, place, box, name, step, template)
                left += widths[column]
            top += height

    def _column_widths(self, table: Element) -> list[float]:
        widths: list[float] = []
        for column in table.iter(tag("table:table-column")):
            chain = self.styles.chain(
                "table-column", column.get(tag("table:style-name")), self.context.scope
            )
            width = length(attribute(chain, "table-column", "style:column-width"))
            repeats = min(1000, max(1, whole(column, tag("table:number-columns-repeated"), 1)))
            widths += [width] * repeats
        return widths[:1000]

    def _cell(
        self,
        shape: Element,
        cell: Element,
        place: Place,
        box: Box,
        style: str | None,
        step: str,
        template: bool,
    ) -> Iterator[Item]:
        chain = self.styles.chain("table-cell", style, self.context.scope)
        fill = _cell_fill(chain, self.styles, box, self.context.bare_is_tenths)
        if not fill.stated:
            reason = "the table's template isn't painted yet"
            fill = OdfFill(trouble=reason) if template else OdfFill()
        at = Place(box, place.transform)
        if fill.trouble:
            yield Obstacle(box, place.transform, fill.trouble)
        elif fill.picture is not None:
            yield self._filled_with_picture(at, fill, rectangle(box))
        elif fill.fill is not None:
            yield Figure(rectangle(box), box, place.transform, fill.fill)
        holder = self._holder(shape, at, box, chain, fill)
        words = step.strip("/").replace("=", " ").replace("/", ", ")
        styles = [(f"style {s.get(tag('style:name'), '')}", s) for s in chain]
        styles += [("default style", s) for s in self.styles.default("graphic")]
        holder = replace(
            holder,
            where=f"{holder.where} › {words}",
            address=holder.address + step,
            shape_styles=tuple(styles),
            outline_prefix="",
            wraps=True,
        )
        block = TextReader(self.styles, holder, self.context.fields).block(cell)
        if block is not None:
            yield block


def _cell_fill(chain: Sequence[Element], styles: Styles, box: Box, bare_is_tenths: bool) -> OdfFill:
    """Read a cell's fill, which writers put into graphic properties inside the cell's style."""
    fill = fill_of(chain, styles, box, bare_is_tenths)
    if fill.stated:
        return fill
    for style in chain:
        extended = child(style, "loext:graphic-properties")
        kind = extended.get(tag("draw:fill")) if extended is not None else None
        if kind == "none":
            return OdfFill()
        if extended is not None and kind is not None:
            wrapped = _as_graphic(extended)
            return fill_of((wrapped,), styles, box, bare_is_tenths)
    return fill


def _as_graphic(properties: Element) -> Element:
    """Give a style whose graphic properties are those of an extension's element."""
    style = etree.Element(tag("style:style"))
    wrapped = etree.SubElement(style, tag("style:graphic-properties"))
    for name, value in properties.attrib.items():
        wrapped.set(name, value)
    return style


def _unstated(chain: Sequence[Element]) -> OdfFill:
    """Give the fill of a shape for which no style states one: programs then fill it.

    With the colour that a style names, if one does; else nobody can know it.
    """
    chosen = colour(attribute(chain, "graphic", "draw:fill-color"))
    return OdfFill(chosen) if chosen else OdfFill(trouble="its fill isn't stated in the file")


def _outline(shape: Element, box: Box) -> tuple[Outline | None, Box]:
    """Give a shape's outline (None when it isn't known) and its text's rectangle."""
    name = local_name(shape)
    if name == "custom-shape":
        geometry = child(shape, "draw:enhanced-geometry")
        name = geometry.get(tag("draw:type"), "") if geometry is not None else ""
    if name in BOXES or name in ("rect", "caption"):
        rounded_by = length(shape.get(tag("draw:corner-radius")))
        return (rectangle(box) if rounded_by == 0 else None), box
    if name in ELLIPSES or name == "ellipse":
        across, down = box.width * ELLIPSE_MARGIN, box.height * ELLIPSE_MARGIN
        inner = Box(box.x + across, box.y + down, box.width - 2 * across, box.height - 2 * down)
        return (None if shape.get(tag("draw:kind"), "full") != "full" else ellipse(box)), inner
    return None, box


def _clip_words(clip: str) -> list[str]:
    inside = clip.partition("(")[2].partition(")")[0]
    return inside.replace(",", " ").split()


def _troubled(block: TextBlock, reason: str) -> TextBlock:
    """Say of all a block's text why it can't be measured."""
    return replace(
        block,
        paragraphs=tuple(
            replace(
                paragraph,
                runs=tuple(replace(run, trouble=run.trouble or reason) for run in paragraph.runs),
                bullet=replace(paragraph.bullet, trouble=reason) if paragraph.bullet else None,
            )
            for paragraph in block.paragraphs
        ),
    )
