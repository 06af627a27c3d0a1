"""From a part of a document to blocks that flow: paragraphs, lists, tables, boxes.

Source: ECMA-376 Part 1 §17.3.1 (paragraphs), §17.4 (tables), §17.6 (sections).
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from high_pair.formats.alternatives import chosen_children
from high_pair.formats.documents.boxes import BoxReader
from high_pair.formats.documents.colours import DocumentColours
from high_pair.formats.documents.edges import edges_of
from high_pair.formats.documents.frames import Stated, frame_of, framed
from high_pair.formats.documents.looks import Behind, LookReader
from high_pair.formats.documents.numbering import Counter, Level, Numbering
from high_pair.formats.documents.paragraphs import (
    TWENTIETHS,
    heading_level,
    indents_of,
    is_stated,
    line_spacing,
    plain_value,
    space_of,
    tabs_of,
    value_of,
)
from high_pair.formats.documents.runs import NOTE_NUMBER, Fields, Piece, pieces_of
from high_pair.formats.documents.styles import Layer, StyleSheet, is_on, style_of
from high_pair.formats.documents.table_styles import Spot, TableStyle, read_look
from high_pair.formats.documents.tables import (
    cells_of,
    filled_in,
    grid_of,
    is_gone,
    merge_of,
    row_height,
    rows_of,
    spans_of,
    width_of,
)
from high_pair.formats.drawing.bullets import number_label
from high_pair.formats.drawing.related import PackageParts
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.vml import vml_floats
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, local_name, number, tag, whole
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
    Surface,
    unread,
    with_runs,
)
from high_pair.scene.page import Figure, Item
from high_pair.scene.paint import Fill
from high_pair.scene.text import Align, Anchor, Paragraph, Run, within_reason

_ALIGNS = {
    "center": Align.CENTRE,
    "right": Align.RIGHT,
    "end": Align.RIGHT,
    "both": Align.JUSTIFY,
    "distribute": Align.JUSTIFY,
}
_ANCHORS = {"center": Anchor.MIDDLE, "bottom": Anchor.BOTTOM}
# §17.4.42 and its relatives: a cell's margins where nothing says others, in points.
_PADDING = (5.4, 0.0, 5.4, 0.0)
MARK = "the paragraph's mark"


@dataclass(frozen=True)
class Package:
    """What all parts of a document share. note_schemes: how notes of a kind are numbered."""

    styles: StyleSheet
    numbering: Numbering
    colours: DocumentColours
    looks: LookReader
    setting: Setting
    related: PackageParts
    tab_width: float = 36.0
    note_schemes: Mapping[str, str] = field(default_factory=dict)


ON_PAPER = Behind()


@dataclass(frozen=True)
class Place:
    """Where blocks are: in words, what is behind them, and what a table's style gives them."""

    words: str
    behind: Behind = ON_PAPER
    layers: tuple[Layer, ...] = ()
    paragraphs: tuple[Element, ...] = ()
    depth: int = 0


@dataclass
class Counts:
    """What is counted through a part."""

    lists: Counter
    fields: Fields = field(default_factory=Fields)
    tables: int = 0
    paragraphs: int = 0
    notes: dict[str, int] = field(default_factory=dict)


class BodyReader:
    """Reads the blocks of one part.

    notes: gives the blocks of the note that a reference names; endnotes: those that were named so
    far, and stand nowhere yet.
    """

    def __init__(
        self, part: Part, shared: Package, notes: Mapping[str, Mapping[str, Element]] | None = None
    ) -> None:
        self.part = part
        self.shared = shared
        self.notes = notes or {}
        self.note_readers: dict[str, BodyReader] = {}
        self.endnotes: list[Block] = []
        root = part.root
        self.paragraph_numbers = _numbered(root, "w:p")
        self.cell_numbers = _numbered(root, "w:tc")
        shapes = [each for each in root.iter() if local_name(each) in ("wsp", "pic")]
        numbers = {shape: count for count, shape in enumerate(shapes, start=1)}
        setting = replace(shared.setting, own=part)
        self.boxes = BoxReader(part, setting, shared.related, self._boxed, numbers)
        self.counts = Counts(Counter(shared.numbering))

    def blocks(self, holder: Element, place: Place) -> Iterator[Block]:
        """Give the blocks of a body, a cell, a header, a note or a box."""
        yield from self.blocks_among(chosen_children(holder), place)

    def blocks_among(self, elements: Iterable[Element], place: Place) -> Iterator[Block]:
        """Give the blocks of some elements."""
        previous: FlowParagraph | None = None
        frames: dict[Stated, list[FlowParagraph]] = {}
        for element in elements:
            name = local_name(element)
            if name == "p":
                own = child(element, "w:pPr")
                frame = frame_of(list(self.shared.styles.paragraph_layers(own)))
                for block in self._paragraph(element, place):
                    if frame:
                        frames.setdefault(frame, []).append(block)
                        continue
                    joined = _contextual(previous, block)
                    previous = block
                    if frames:
                        beside = tuple(framed(each, held) for each, held in frames.items())
                        joined = replace(joined, floats=(*beside, *joined.floats))
                        frames = {}
                    yield joined
            elif name == "tbl":
                yield from itertools.chain(*frames.values())
                previous, frames = None, {}
                deep = place.depth >= DEEPEST
                yield self._unread(element, place) if deep else self._table(element, place)
            elif name in ("sdt", "sdtContent", "customXml", "ins", "moveTo", "smartTag"):
                content = child(element, "w:sdtContent") if name == "sdt" else element
                if content is not None:
                    yield from self.blocks(content, place)
        # Without a paragraph that they could stand beside, they stand in the text.
        yield from itertools.chain(*frames.values())

    def _boxed(
        self, content: Element, name: str, below: Item | None, layers: tuple[Layer, ...] = ()
    ) -> tuple[Block, ...]:
        """Read the text of a box, which knows the fill of its own shape alone."""
        behind = ON_PAPER
        if isinstance(below, Figure):
            behind = behind.over(below.fill)
        elif below is not None:
            behind = Behind(None)
        return tuple(self.blocks(content, Place(f"Text box “{name}”", behind, layers)))

    # Paragraphs

    def _paragraph(self, element: Element, place: Place) -> Iterator[FlowParagraph]:
        """Give a paragraph, in parts where pages are broken within it."""
        shared = self.shared
        own = child(element, "w:pPr")
        style = style_of(own, "w:pStyle")
        if _is_removed(own) and not _text_left(element):
            return
        properties = list(shared.styles.paragraph_layers(own))
        level, number_id, depth = self._list_level(properties)
        # A list's indents stand between the paragraph's own and its style's (§17.9.23).
        listed = level.paragraph if level is not None else None
        direct = child(own, "w:numPr") is not None
        at = (1 if own is not None else 0) if direct else len(properties)
        if listed is not None and not direct:
            at = next(
                (n + 1 for n, p in enumerate(properties) if child(p, "w:numPr") is not None), at
            )
        if listed is not None:
            properties.insert(at, listed)
        if place.paragraphs:
            # A table's style stands above the document's defaults alone (§17.7.2).
            last = len(properties) - (1 if _has_defaults(shared.styles, properties) else 0)
            properties[last:last] = place.paragraphs
        surface, behind = self._surface(element, properties, place.behind)
        around = (
            *shared.styles.style_layers("paragraph", style),
            *place.layers,
            *shared.styles.default_layers(),
        )
        self.counts.paragraphs += 1
        address = address_in(self.part.member, p=self.paragraph_numbers[element])
        where = place.words
        runs: list[Run] = []
        floats: list[Float] = []
        notes: list[Block] = []
        parts: list[tuple[list[Run], list[Float], list[Block], bool]] = []
        new_page = is_stated(properties, "w:pageBreakBefore")
        for piece in pieces_of(element, self.counts.fields):
            if piece.breaks_page:
                if any(run.text.strip() for run in runs) or floats:
                    parts.append((runs, floats, notes, new_page))
                    runs, floats, notes = [], [], []
                new_page = True
            elif piece.drawing is not None:
                floats += self._floats(piece.drawing)
            elif piece.note is not None:
                run, blocks = self._note(piece, around, behind, address)
                if run is not None:
                    runs.append(run)
                notes += blocks
            else:
                runs.append(self._run(piece, around, behind, address))
        parts.append((runs, floats, notes, new_page))
        label = self._label(element, own, level, number_id, depth, around, behind)
        for count, (text, floating, below, breaks) in enumerate(parts):
            paragraph = self._laid(
                properties, text, label if not count else None, own, around, behind, address
            )
            first, last = count == 0, count == len(parts) - 1
            yield FlowParagraph(
                paragraph,
                where,
                before=space_of(properties, "before") if first else 0.0,
                after=space_of(properties, "after") if last else 0.0,
                surface=surface,
                padding=_border_room(surface.edges),
                floats=tuple(floating),
                notes=tuple(below),
                heading=heading_level(properties, shared.styles, style) if first else 0,
                new_page=breaks,
                with_next=is_stated(properties, "w:keepNext"),
                contextual=style or "" if is_stated(properties, "w:contextualSpacing") else None,
            )

    def _run(self, piece: Piece, around: Sequence[Layer], behind: Behind, address: str) -> Run:
        layers = self._layers(piece.run, around)
        own = address_below(address, r=piece.number)
        run = self.shared.looks.run(piece.text, layers, behind, own, piece.link)
        if not piece.number:
            run = replace(run, fixed="High Pair doesn't recolour equations.")
        return replace(run, size=run.size / 2) if piece.small else run

    def _layers(self, run: Element, around: Sequence[Layer]) -> tuple[Layer, ...]:
        own = child(run, "w:rPr")
        direct = (Layer("run", "direct", own),) if own is not None else ()
        character = self.shared.styles.style_layers("character", style_of(own, "w:rStyle"))
        return (*direct, *character, *around)

    def _laid(
        self,
        properties: Sequence[Element],
        runs: list[Run],
        label: Run | None,
        own: Element | None,
        around: Sequence[Layer],
        behind: Behind,
        address: str,
    ) -> Paragraph:
        if not runs:
            mark = child(own, "w:rPr")
            layers = (Layer(MARK, "direct", mark), *around) if mark is not None else around
            runs = [self.shared.looks.run("", layers, behind, address_below(address, mark=1))]
        indents = indents_of(properties)
        right_to_left = is_stated(properties, "w:bidi")
        align = value_of(properties, "w:jc", "left")
        shown = _ALIGNS.get(align, Align.LEFT)
        if right_to_left and align in ("left", "start", "right", "end"):
            shown = Align.LEFT if align in ("right", "end") else Align.RIGHT
        return Paragraph(
            within_reason(tuple(runs)),
            shown,
            left=indents[0],
            right=indents[1],
            first=indents[2],
            spacing=line_spacing(properties, max(run.size for run in runs)),
            bullet=label,
            right_to_left=right_to_left,
            tabs=tabs_of(properties),
            tab_width=self.shared.tab_width,
        )

    def _surface(
        self, element: Element, properties: Sequence[Element], behind: Behind
    ) -> tuple[Surface, Behind]:
        """Give a paragraph's shading and borders, and what is behind its text with them."""
        shading = next((s for p in properties if (s := child(p, "w:shd")) is not None), None)
        fill = self.shared.colours.shading(shading)
        borders = next((b for p in properties if (b := child(p, "w:pBdr")) is not None), None)
        edges = edges_of(borders, self.shared.colours)
        if fill is None and not edges:
            return PLAIN, behind
        address = address_in(self.part.member, p=self.paragraph_numbers[element], shd=1)
        return Surface(fill, address if fill is not None else "", edges), behind.over(fill)

    # Lists

    def _list_level(self, properties: Sequence[Element]) -> tuple[Level | None, str, int]:
        """Give the level of the list that a paragraph is in; None for none."""
        number_id, depth = "", None
        for each in properties:
            numbered = child(each, "w:numPr")
            if numbered is None:
                continue
            if depth is None and child(numbered, "w:ilvl") is not None:
                depth = whole(child(numbered, "w:ilvl"), tag("w:val"))
            identifier = child(numbered, "w:numId")
            if identifier is not None:
                number_id = identifier.get(tag("w:val"), "")
                break
        if not number_id or number_id == "0":
            return None, "", 0
        depth = min(8, max(0, depth or 0))
        return self.shared.numbering.level(number_id, depth), number_id, depth

    def _label(
        self,
        element: Element,
        own: Element | None,
        level: Level | None,
        number_id: str,
        depth: int,
        around: Sequence[Layer],
        behind: Behind,
    ) -> Run | None:
        """Give a list's label: the paragraph mark's look, then the level's (§17.9.24)."""
        if level is None or not _text_left(element):
            return None
        text = self.counts.lists.label(number_id, depth)
        if not text:
            return None
        layers: list[Layer] = list(around)
        mark = child(own, "w:rPr")
        address = address_in(self.part.member, p=self.paragraph_numbers[element], mark=1)
        if mark is not None:
            character = self.shared.styles.style_layers("character", style_of(mark, "w:rStyle"))
            layers = [Layer(MARK, "direct", mark), *character, *layers]
        if level.run is not None:
            layers.insert(0, Layer("list", "direct", level.run, level.address))
            if child(level.run, "w:color") is not None:
                address = level.address
        run = self.shared.looks.run(text, layers, behind, address)
        return replace(run, underline=False, strike=False, highlight=None, baseline=0.0)

    # Notes and floats

    def _note(
        self, piece: Piece, around: Sequence[Layer], behind: Behind, address: str
    ) -> tuple[Run | None, list[Block]]:
        """Give the number of a note, and its blocks for the foot of the page; those of endnotes are
        kept for the end of the document or the section (§17.11.3)."""
        assert piece.note is not None
        kind = "footnotes" if local_name(piece.note) == "footnoteReference" else "endnotes"
        body = self.notes.get(kind, {}).get(piece.note.get(tag("w:id"), ""))
        words = "Footnote" if kind == "footnotes" else "Endnote"
        label = ""
        if piece.note.get(tag("w:customMarkFollows"), "0") in ("0", "false", "off"):
            count = self.counts.notes.get(kind, 0) + 1
            self.counts.notes[kind] = count
            label = number_label(f"{self.shared.note_schemes.get(kind, 'arabic')}Plain", count)
            words = f"{words} {label}"
        layers = self._layers(piece.run, around)
        own = address_below(address, r=piece.number)
        run = self.shared.looks.run(label, layers, behind, own, piece.link) if label else None
        reader = self.note_readers.get(kind)
        if body is None or reader is None:
            return run, []
        reader.counts.notes = self.counts.notes
        blocks = with_sign(reader.blocks(body, Place(words)), NOTE_NUMBER, label)
        if kind == "endnotes":
            self.endnotes += blocks
            return run, []
        return run, list(blocks)

    def _floats(self, drawing: Element) -> Iterator[Float]:
        if local_name(drawing) == "drawing":
            yield from self.boxes.floats(drawing)
        else:
            yield from vml_floats(drawing, self.part, self._boxed)

    # Tables

    def _unread(self, table: Element, place: Place) -> FlowParagraph:
        """Give the words of a table that is nested too deeply to be read."""
        words = " ".join(each.text or "" for each in table.iter(tag("w:t")))
        first = next((self.paragraph_numbers[each] for each in table.iter(tag("w:p"))), 0)
        return unread(words, place.words, address_in(self.part.member, p=first, r=0))

    def _table(self, element: Element, place: Place) -> FlowTable:
        shared = self.shared
        properties = child(element, "w:tblPr")
        look = read_look(child(properties, "w:tblLook"))
        style = TableStyle(shared.styles, style_of(properties, "w:tblStyle"), look)
        self.counts.tables += 1
        words = f"Table {self.counts.tables}"
        if place.depth:
            words = f"{place.words} › table"
        rows = [row for row in rows_of(element) if not is_gone(row)]
        grid = grid_of(element, rows)
        found = []
        spans = spans_of(rows)
        for row_number, row in enumerate(rows):
            cells = []
            for cell, column, columns in cells_of(row):
                merged = merge_of(cell)
                if merged == "continue":
                    continue
                last = column + columns - 1
                spot = Spot(row_number, column, len(rows), len(grid), last)
                height = spans.get((row_number, column), 1)
                cells.append(
                    self._cell(
                        cell, (column, columns, height), spot, style, properties, words, place
                    )
                )
            least, exact = row_height(row)
            header = child(row, "w:trPr", "w:tblHeader")
            repeats = header is not None and is_on(header)
            found.append(FlowRow(tuple(cells), least, exact, repeats))
        align = plain_value(child(properties, "w:jc"))
        share = {"center": 0.5, "right": 1.0, "end": 1.0}.get(align, 0.0)
        indent = width_of(child(properties, "w:tblInd")) or 0.0
        return FlowTable(grid, tuple(found), indent, share)

    def _cell(
        self,
        cell: Element,
        place_in_grid: tuple[int, int, int],
        spot: Spot,
        style: TableStyle,
        table: Element | None,
        words: str,
        place: Place,
    ) -> FlowCell:
        column, columns, height = place_in_grid
        own = child(cell, "w:tcPr")
        fill = self._cell_fill(own, spot, style, table)
        address = address_in(self.part.member, cell=self.cell_numbers[cell], shd=1)
        edges = self._cell_edges(own, spot, style, table, height)
        surface = Surface(fill, address if fill is not None else "", edges)
        inner = Place(
            f"{words} › row {spot.row + 1}, cell {spot.column + 1}",
            place.behind.over(fill),
            style.layers(spot),
            style.paragraphs(spot),
            place.depth + 1,
        )
        direction = plain_value(child(own, "w:textDirection"))
        anchor = plain_value(child(own, "w:vAlign"))
        return FlowCell(
            column,
            columns,
            height,
            tuple(self.blocks(cell, inner)),
            surface,
            self._padding(own, style, table),
            _ANCHORS.get(anchor, Anchor.TOP),
            turned=direction in ("tbRl", "btLr", "tbRlV", "tbLrV"),
        )

    def _cell_fill(
        self, own: Element | None, spot: Spot, style: TableStyle, table: Element | None
    ) -> Fill | None:
        """Give a cell's shading: its own, its style's by place, the table's (§17.4.33)."""
        for element in (child(own, "w:shd"), style.cells(spot, "w:shd"), child(table, "w:shd")):
            if element is not None:
                return self.shared.colours.shading(element)
        return self.shared.colours.shading(style.table("w:shd"))

    def _cell_edges(
        self,
        own: Element | None,
        spot: Spot,
        style: TableStyle,
        table: Element | None,
        height: int,
    ) -> Edges:
        """Give a cell's borders; the table's inner and outer ones by where the cell is."""
        colours = self.shared.colours
        direct = child(own, "w:tcBorders")
        stated = [direct] if direct is not None else []
        found = edges_of(direct, colours)
        for borders in style.borders(spot):
            found = filled_in(found, edges_of(borders, colours), stated)
            stated.append(borders)
        for outer in (child(table, "w:tblBorders"), style.table("w:tblBorders")):
            if outer is None:
                continue
            sides = {
                "top": "top" if spot.row == 0 else "insideH",
                "bottom": "bottom" if spot.row + height >= spot.rows else "insideH",
                "left": "left" if spot.column == 0 else "insideV",
                "right": "right" if spot.last >= spot.columns - 1 else "insideV",
            }
            return filled_in(found, edges_of(outer, colours, sides), stated)
        return found

    def _padding(
        self, own: Element | None, style: TableStyle, table: Element | None
    ) -> tuple[float, float, float, float]:
        """Give a cell's margins: its own, the table's, its style's (§17.4.42, §17.4.43)."""
        sources = (
            child(own, "w:tcMar"),
            child(table, "w:tblCellMar"),
            style.table("w:tblCellMar"),
        )
        found = []
        for names, plain in zip(
            (("left", "start"), ("top",), ("right", "end"), ("bottom",)), _PADDING, strict=True
        ):
            value = plain
            for source in sources:
                stated = next(
                    (e for n in names if (e := child(source, f"w:{n}")) is not None), None
                )
                if stated is not None:
                    value = max(0.0, min(200.0, number(stated.get(tag("w:w"))) / TWENTIETHS))
                    break
            found.append(value)
        left, top, right, bottom = found
        return left, top, right, bottom


def _numbered(root: Element, name: str) -> dict[Element, int]:
    return {each: count for count, each in enumerate(root.iter(tag(name)), start=1)}


def _has_defaults(styles: StyleSheet, properties: Sequence[Element]) -> bool:
    defaults = styles.paragraph_defaults
    return defaults is not None and bool(properties) and properties[-1] is defaults


def _is_removed(own: Element | None) -> bool:
    """Tell whether a paragraph's mark was deleted under revision (§17.13.5.15)."""
    return child(own, "w:rPr", "w:del") is not None


def _text_left(element: Element) -> bool:
    """Tell whether a paragraph shows anything at all."""
    return any(
        local_name(each) in ("t", "drawing", "pict", "sym", "object", "footnoteReference")
        for each in element.iter()
        if each.tag != tag("w:delText")
    )


def _contextual(previous: FlowParagraph | None, block: FlowParagraph) -> FlowParagraph:
    """Leave out the room between paragraphs of one style that say so (§17.3.1.9).

    The room below the one before is the reader's to take off, so it counts against
    the room above this one.
    """
    if previous is None or block.contextual is None or previous.contextual != block.contextual:
        return block
    return replace(block, before=-previous.after)


def with_sign(blocks: Iterable[Block], sign: str, label: str) -> tuple[Block, ...]:
    """Put the number of a page or a note in place of the sign that stands for it."""

    def change(run: Run) -> Run:
        return replace(run, text=run.text.replace(sign, label)) if sign in run.text else run

    return with_runs(blocks, change)


def _border_room(edges: Edges) -> float:
    return 2.0 if edges else 0.0
