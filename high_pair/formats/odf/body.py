"""From an ODF text document to blocks that flow (ODF 1.3 Part 3 §5, §9, §10.4)."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from high_pair.colour.compositing import over
from high_pair.formats.odf.backgrounds import padding_of, surface_of
from high_pair.formats.odf.shapes import SHAPES, PageContext, ShapeReader, all_shapes
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.text import Holder, TextReader
from high_pair.formats.odf.units import length
from high_pair.formats.xml import Element, child, children, local_name, tag, whole
from high_pair.raster.pieces import boxed
from high_pair.scene.addresses import address_below, address_in
from high_pair.scene.flow import (
    DEEPEST,
    PLAIN,
    Block,
    Edges,
    Float,
    FlowCell,
    FlowParagraph,
    FlowRow,
    FlowTable,
    From,
    Offset,
    Surface,
    Wrap,
    unread,
)
from high_pair.scene.geometry import IDENTITY, Box
from high_pair.scene.page import Item, shifted
from high_pair.scene.paint import WHITE, Colour
from high_pair.scene.text import Anchor, Spacing

# What holds blocks, and is itself no more than a wrapping (§5.4, §8).
WRAPPINGS = frozenset(
    {
        "section", "index-body", "table-of-content", "illustration-index", "table-index",
        "object-index", "user-index", "alphabetical-index", "bibliography", "index-title",
        "table-rows", "table-row-group", "table-header-rows", "numbered-paragraph",
    }
)  # fmt: skip
_ANCHORS = {"middle": Anchor.MIDDLE, "bottom": Anchor.BOTTOM}
_WRAPS = {"none": Wrap.BELOW, "run-through": Wrap.THROUGH}
VARIED = "its colour is automatic, and what it looks at isn't one colour"
PICTURED = "which part of the picture behind it all is behind this text isn't known"
MOST_COLUMNS, MOST_REPEATS = 200, 200
PLAIN_WIDTH = 72.0


@dataclass(frozen=True)
class Behind:
    """What automatic colours look at: the nearest background."""

    colour: Colour = WHITE
    varied: str = ""

    def over(self, own: Surface) -> Behind:
        """Give what they look at on a further background."""
        if own.unpainted or own.picture_in is not None:
            return Behind(self.colour, VARIED)
        if not isinstance(own.fill, Colour):
            return self
        seen = over(own.fill.rgb, own.fill.opacity, self.colour.rgb)
        return Behind(Colour(*(float(level) for level in seen)), self.varied)


@dataclass(frozen=True)
class Place:
    """Where blocks are.

    around: the background of what holds them, which each paints that has none of its own.
    """

    words: str
    behind: Behind
    depth: int = 0
    around: Surface = PLAIN

    def on(self, surface: Surface) -> Place:
        """Give the place on a further background that reaches round all that stands in it."""
        pictured = surface.picture_in is not None
        if surface.fill is None and not surface.unpainted and not pictured:
            return self
        around = replace(surface, address="", edges=Edges(), picture_in=None)
        if pictured:
            # Which part of it is behind what stands in it, nobody knows before that has a place.
            around = replace(around, unpainted=PICTURED)
        return replace(self, behind=self.behind.over(surface), around=around)

    def backed(self, own: Surface, address: str) -> Surface:
        """Give a surface what is behind it here where it paints nothing itself.

        address: where a background of its own can be written.
        """
        around = self.around
        if own.fill is not None or own.unpainted or around is PLAIN:
            return own
        shown = replace(own, fill=around.fill, address=address, shades=around.shades)
        return replace(shown, unpainted=around.unpainted)


@dataclass
class Counts:
    """What is counted through a document."""

    tables: int = 0
    notes: int = 0
    numbers: dict[int, int] = field(default_factory=dict)
    headings: dict[int, int] = field(default_factory=dict)


class BodyReader:
    """Reads the blocks of one member.

    member: its name; scope: whose automatic styles count; fields: what fields
    say; context: how shapes are read, for an address.
    """

    def __init__(
        self,
        root: Element,
        member: str,
        scope: str,
        styles: Styles,
        context: Callable[[str], PageContext],
    ) -> None:
        self.member = member
        self.scope = scope
        self.styles = styles
        self._context = context
        self._paragraphs = {
            each: count
            for count, each in enumerate(root.iter(tag("text:p"), tag("text:h")), start=1)
        }
        self._cells = {
            each: count for count, each in enumerate(root.iter(tag("table:table-cell")), start=1)
        }
        self._shapes = {each: count for count, each in enumerate(all_shapes(root), start=1)}
        self._boxes: dict[Element, tuple[Block, ...]] = {}
        self.counts = Counts()

    def address_of(self, paragraph: Element) -> str:
        """Give a paragraph's address: its number among all of its member."""
        return address_in(self.member, para=self._paragraphs.get(paragraph, 0))

    def blocks(self, holder: Element, place: Place) -> Iterator[Block]:
        """Give the blocks of a body, a cell, a header or a box."""
        yield from self.blocks_among(children(holder), place, 0, None)

    def blocks_among(
        self, elements: Iterable[Element], place: Place, level: int, list_style: str | None
    ) -> Iterator[Block]:
        """Give the blocks of some elements. level: of the list that they are in."""
        for element in elements:
            name = local_name(element)
            if name in ("p", "h"):
                yield from self._paragraph(element, place, level, list_style)
            elif name == "list":
                own = element.get(tag("text:style-name")) or list_style
                if level == 0 and element.get(tag("text:continue-numbering")) != "true":
                    self.counts.numbers.clear()
                for item in children(element):
                    if local_name(item) in ("list-item", "list-header"):
                        yield from self.blocks_among(children(item), place, level + 1, own)
            elif name == "table":
                deep = place.depth >= DEEPEST
                yield self._unread(element, place) if deep else self._table(element, place)
            elif name in WRAPPINGS:
                shown = element.get(tag("text:display"), "true")
                if shown != "none":
                    section = element.get(tag("text:style-name"))
                    chain = self.styles.chain("section", section, self.scope)
                    inner = place.on(self._surface(chain, "section"))
                    yield from self.blocks_among(children(element), inner, level, list_style)
            elif name in SHAPES:
                # Anchored to the page: it stands beside the first text.
                yield FlowParagraph(
                    self._reader(place).paragraph(element, 0, None),
                    place.words,
                    floats=tuple(self._floats([element], place, PLAIN_WIDTH)),
                )

    def _surface(self, chain: Sequence[Element], kind: str, address: str = "") -> Surface:
        context = self._context(address_in(self.member, shapes=""))
        return surface_of(chain, kind, self.styles, context, address)

    # Paragraphs

    def _reader(self, place: Place) -> TextReader:
        holder = Holder(
            Box(0.0, 0.0, 0.0, 0.0),
            IDENTITY,
            place.words,
            self.member,
            Anchor.TOP,
            True,
            tuple(("default style", style) for style in self.styles.default("paragraph")),
            "",
            place.behind.colour,
            place.behind.varied,
            self.scope,
            address_of=self.address_of,
        )
        reader = TextReader(self.styles, holder, {"page-number": "1"})
        reader.numbers, reader.headings = self.counts.numbers, self.counts.headings
        return reader

    def chain_of(self, paragraph: Element) -> tuple[Element, ...]:
        """Give a paragraph's styles, nearest first, the default last."""
        name = paragraph.get(tag("text:style-name"))
        own = self.styles.chain("paragraph", name, self.scope)
        return (*own, *self.styles.default("paragraph"))

    def _paragraph(
        self, element: Element, place: Place, level: int, list_style: str | None
    ) -> Iterator[FlowParagraph]:
        chain = self.chain_of(element)

        def stated(name: str) -> str | None:
            return attribute(chain, "paragraph", name)

        address = address_below(self.address_of(element), shade="")
        own = self._surface(chain, "paragraph", address)
        inner = replace(place, behind=place.behind.over(own))
        paragraph = self._reader(inner).paragraph(element, level, list_style)
        surface = place.backed(own, address)
        padding = max(padding_of(chain, "paragraph")) if own != PLAIN else 0.0
        before, after = _points(paragraph.before), _points(paragraph.after)
        heading = 0
        if local_name(element) == "h":
            heading = max(1, whole(element, tag("text:outline-level"), 1))
        notes = list(self._notes(element))
        yield FlowParagraph(
            replace(paragraph, before=Spacing(0.0), after=Spacing(0.0)),
            place.words,
            before,
            after,
            surface,
            min(30.0, padding),
            tuple(self._floats(_shapes_in(element), inner, PLAIN_WIDTH)),
            tuple(notes),
            heading,
            new_page=stated("fo:break-before") == "page",
            with_next=stated("fo:keep-with-next") == "always",
        )

    def _notes(self, paragraph: Element) -> Iterator[Block]:
        for note in paragraph.iter(tag("text:note")):
            body = child(note, "text:note-body")
            if body is None:
                continue
            self.counts.notes += 1
            kind = note.get(tag("text:note-class"), "footnote").capitalize()
            words = f"{kind} {self.counts.notes}"
            yield from self.blocks(body, Place(words, Behind()))

    # Floats

    def _floats(self, shapes: Sequence[Element], place: Place, _width: float) -> Iterator[Float]:
        for shape in shapes:
            context = replace(
                self._context(address_in(self.member, shapes="")),
                words=place.words,
                background=place.behind.colour if not place.behind.varied else None,
                flow_of=functools.partial(self._flow, depth=place.depth + 1),
            )
            reader = ShapeReader(_alone(shape), self.styles, context, numbers=self._shapes)
            items = reader.items_of(shape)
            chain = reader.chain(shape)
            box = reader.place(shape).box
            yield _float(shape, chain, tuple(items), box.width, box.height)

    def _flow(self, container: Element, holder: Holder, depth: int) -> tuple[list[Item], float]:
        """Let what a box holds flow in it: its tables, sections and further boxes too."""
        place = Place(holder.where, Behind(holder.backdrop, holder.varied), depth)
        # Read once: how high a box gets is asked for before what it paints.
        if container not in self._boxes:
            deep = depth > DEEPEST
            self._boxes[container] = (
                (self._unread(container, place),) if deep else tuple(self.blocks(container, place))
            )
        blocks = self._boxes[container]
        parent = container.getparent()
        fixed = parent is not None and parent.get(tag("svg:height")) is not None
        return boxed(blocks, holder.box, holder.anchor, holder.transform, grows=not fixed)

    def _unread(self, holder: Element, place: Place) -> FlowParagraph:
        """Give the words of a table or a box that is nested too deeply to be read."""
        words = " ".join(str(part) for part in holder.itertext())
        paragraph = next(holder.iter(tag("text:p"), tag("text:h")), None)
        nowhere = address_in(self.member, para=0)
        first = self.address_of(paragraph) if paragraph is not None else nowhere
        return unread(words, place.words, address_below(first, r=0))

    # Tables

    def _table(self, element: Element, place: Place) -> FlowTable:
        self.counts.tables += 1
        words = f"Table {self.counts.tables}"
        if place.depth:
            words = f"{place.words} › table"
        widths = self._widths(element)
        of_table = self.styles.chain("table", element.get(tag("table:style-name")), self.scope)
        place = place.on(self._surface(of_table, "table"))
        rows = []
        for number_of_row, (row, header) in enumerate(_rows_in(element)):
            chain = self.styles.chain("table-row", row.get(tag("table:style-name")), self.scope)
            exact = length(attribute(chain, "table-row", "style:row-height"))
            height = exact or length(attribute(chain, "table-row", "style:min-row-height"))
            on_row = place.on(self._surface(chain, "table-row"))
            default = row.get(tag("table:default-cell-style-name"))
            cells = []
            column = 0
            for cell in children(row):
                repeats = max(1, whole(cell, tag("table:number-columns-repeated"), 1))
                if local_name(cell) == "table-cell" and column < MOST_COLUMNS:
                    spot = (words, number_of_row, column)
                    cells.append(self._cell(cell, default, on_row, spot))
                column += min(repeats, MOST_COLUMNS)
            rows.append(FlowRow(tuple(cells), height, bool(exact), header))
        align = attribute(of_table, "table", "table:align") or "margins"
        share = {"center": 0.5, "right": 1.0}.get(align, 0.0)
        left = length(attribute(of_table, "table", "fo:margin-left"))
        page = attribute(of_table, "table", "fo:break-before") == "page"
        return FlowTable(tuple(widths), tuple(rows), left, share, page)

    def _widths(self, table: Element) -> list[float]:
        widths: list[float] = []
        for column in table.iter(tag("table:table-column")):
            if column.getparent() is not table and _owner(column) is not table:
                continue
            chain = self.styles.chain(
                "table-column", column.get(tag("table:style-name")), self.scope
            )
            width = length(attribute(chain, "table-column", "style:column-width"), PLAIN_WIDTH)
            repeats = max(1, whole(column, tag("table:number-columns-repeated"), 1))
            widths += [max(4.0, width)] * min(repeats, MOST_COLUMNS)
        return widths[:MOST_COLUMNS] or [PLAIN_WIDTH]

    def _cell(
        self,
        cell: Element,
        default: str | None,
        place: Place,
        spot: tuple[str, int, int],
    ) -> FlowCell:
        words, number_of_row, column = spot
        name = cell.get(tag("table:style-name")) or default
        chain = self.styles.chain("table-cell", name, self.scope)
        address = address_in(self.member, tc=self._cells.get(cell, 0), shade="")
        own = self._surface(chain, "table-cell", address)
        behind = place.behind.over(own)
        vertical = attribute(chain, "table-cell", "style:vertical-align") or "top"
        inner = Place(
            f"{words} › row {number_of_row + 1}, cell {column + 1}", behind, place.depth + 1
        )
        return FlowCell(
            column,
            max(1, whole(cell, tag("table:number-columns-spanned"), 1)),
            max(1, whole(cell, tag("table:number-rows-spanned"), 1)),
            tuple(self.blocks(cell, inner)),
            place.backed(own, address),
            padding_of(chain, "table-cell"),
            _ANCHORS.get(vertical, Anchor.TOP),
        )


def _points(spacing: Spacing) -> float:
    return spacing.points or 0.0


def _owner(element: Element) -> Element | None:
    return next((e for e in element.iterancestors() if e.tag == tag("table:table")), None)


def _rows_in(holder: Element, header: bool = False) -> Iterator[tuple[Element, bool]]:
    """Give a table's rows, those in groups too, and whether they repeat on every page."""
    for each in children(holder):
        name = local_name(each)
        if name == "table-row":
            repeats = max(1, whole(each, tag("table:number-rows-repeated"), 1))
            for _ in range(min(repeats, MOST_REPEATS)):
                yield each, header
        elif name in ("table-rows", "table-row-group", "table-header-rows"):
            yield from _rows_in(each, name == "table-header-rows")


def _shapes_in(paragraph: Element) -> list[Element]:
    """List the shapes that are anchored in a paragraph, those in spans and links too."""
    found: list[Element] = []

    def walk(element: Element) -> None:
        for each in children(element):
            name = local_name(each)
            if name in SHAPES or name == "g":
                found.append(each)
            elif name in ("span", "a", "meta", "ruby", "ruby-base"):
                walk(each)

    walk(paragraph)
    return found


def _alone(shape: Element) -> Element:
    """Give what holds a shape, whose numbering counts its shapes."""
    parent = shape.getparent()
    return parent if parent is not None else shape


def _float(
    shape: Element, chain: Sequence[Element], items: tuple[Item, ...], width: float, height: float
) -> Float:
    """Say where a shape stands, by how it is anchored (§19.759, §20.339 to §20.342)."""
    anchor = shape.get(tag("text:anchor-type"), "paragraph")
    x, y = length(shape.get(tag("svg:x"))), length(shape.get(tag("svg:y")))
    if anchor == "as-char":
        return Float(width, height, tuple(_moved(items, -x, -y)))
    origin = From.PAGE if anchor == "page" else From.PARAGRAPH
    across = attribute(chain, "graphic", "style:horizontal-pos") or "from-left"
    down = attribute(chain, "graphic", "style:vertical-pos") or "from-top"
    rel_across = attribute(chain, "graphic", "style:horizontal-rel") or ""
    rel_down = attribute(chain, "graphic", "style:vertical-rel") or ""
    shares = {"left": 0.0, "center": 0.5, "right": 1.0, "top": 0.0, "middle": 0.5, "bottom": 1.0}
    wrap = attribute(chain, "graphic", "style:wrap") or "parallel"
    through = attribute(chain, "graphic", "style:run-through") or "foreground"
    return Float(
        width,
        height,
        tuple(_moved(items, -x, -y)),
        behind=through == "background",
        across=Offset(
            From.PAGE if rel_across.startswith("page") else
            (From.COLUMN if origin is From.PARAGRAPH else origin),
            x,
            shares.get(across),
        ),
        down=Offset(From.PAGE if rel_down.startswith("page") else origin, y, shares.get(down)),
        wrap=_WRAPS.get(wrap, Wrap.BESIDE),
    )  # fmt: skip


def _moved(items: Iterable[Item], x: float, y: float) -> Iterator[Item]:
    for item in items:
        yield shifted(item, x, y)
