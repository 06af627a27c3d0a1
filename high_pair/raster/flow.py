"""Flowing a text document over pages: every paragraph, table and box gets a place.

The places are estimates. Where each program breaks lines and pages differs
with its fonts and its version; what is behind a text doesn't.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from high_pair.raster.layout import text_height
from high_pair.scene.flow import (
    PLAIN,
    Block,
    Edges,
    Float,
    Flow,
    FlowCell,
    FlowParagraph,
    FlowTable,
    From,
    Offset,
    Section,
    Surface,
    Wrap,
)
from high_pair.scene.geometry import IDENTITY, Affine, Box, line, rectangle
from high_pair.scene.page import Figure, Item, Obstacle, PictureText, StatedText, shifted
from high_pair.scene.paint import BLACK, Colour, Stroke
from high_pair.scene.text import Anchor, Paragraph, Run, TextBlock

# Points that must be left at the foot of a page for a paragraph to begin there.
LEAST_ROOM = 26.0
# Room for text to flow in, however narrow a column is.
LEAST_WIDTH = 12.0
# Boxes within boxes, and tables within tables, no deeper than this.
DEEPEST = 12
MOST_PAGES = 10_000
# How far text that stands near a picture may be from where another program puts it, in points.
LEEWAY = 28.0
DOUBT = "where this text stands on what lies behind it differs from program to program"
OVERFULL = "the text is longer than its box, and programs differ in what they show of it"
NOTE_RULE = 12.0
# Room between letters and the sides of what is behind them, in points.
EDGE = 2.0


@dataclass(frozen=True)
class FlowedPage:
    """A page: its items, lowest first; headings: level and words of those that begin on it."""

    width: float
    height: float
    items: tuple[Item, ...]
    headings: tuple[tuple[int, str], ...]
    paper: Colour


@dataclass(frozen=True)
class _Piece:
    """Something that isn't cut by the foot of a page, at its own corner.

    cut: gives the piece in two, the first no higher than so many points.
    """

    height: float
    items: tuple[Item, ...]
    behind: tuple[Item, ...] = ()
    before: float = 0.0
    after: float = 0.0
    source: FlowParagraph | None = None
    row: _Row | None = None
    headings: tuple[tuple[int, str], ...] = ()
    notes: tuple[Block, ...] = ()
    floats: tuple[Float, ...] = ()
    new_page: bool = False
    with_next: bool = False
    surface: Surface = PLAIN


@dataclass(frozen=True)
class _LaidCell:
    cell: FlowCell
    x: float
    width: float
    pieces: tuple[tuple[float, _Piece], ...]
    height: float
    first: bool
    last: bool


@dataclass(frozen=True)
class _Row:
    height: float
    cells: tuple[_LaidCell, ...]


def flow_pages(flow: Flow) -> tuple[FlowedPage, ...]:
    """Give the pages of a text document, one at least."""
    setter = _Setter()
    for section in flow.sections:
        setter.section(section)
    return setter.finished()


def with_count(pages: Sequence[FlowedPage], count: int) -> tuple[FlowedPage, ...]:
    """Give pages in a wanted number: what is too much stands below the last page.

    An edit that makes text larger may need one more page; the review of the
    file goes on with the pages that it began with.
    """
    if len(pages) <= count:
        last = pages[-1]
        empty = replace(last, items=(), headings=())
        return (*pages, *(empty for _ in range(count - len(pages))))
    kept, height = list(pages[:count]), pages[count - 1].height
    last = kept[-1]
    items = list(last.items)
    for page in pages[count:]:
        items += [shifted(item, 0.0, height) for item in page.items]
        height += page.height
    headings = tuple(each for page in pages[count - 1 :] for each in page.headings)
    kept[-1] = replace(last, items=tuple(items), height=height, headings=headings)
    return tuple(kept)


@dataclass
class _Sheet:
    """A page being filled. blocked: where floats keep lines away."""

    section: Section
    number: int
    behind: list[Item] = field(default_factory=list)
    main: list[Item] = field(default_factory=list)
    front: list[Item] = field(default_factory=list)
    notes: list[tuple[float, tuple[Item, ...]]] = field(default_factory=list)
    blocked: list[tuple[Box, Wrap]] = field(default_factory=list)
    headings: list[tuple[int, str]] = field(default_factory=list)
    header_bottom: float = 0.0
    footer_height: float = 0.0
    lowest: float = 0.0

    @property
    def top(self) -> float:
        return max(self.section.margins[1], self.header_bottom)

    @property
    def bottom(self) -> float:
        notes = sum(height for height, _ in self.notes)
        foot = max(self.section.margins[3], self.footer_height)
        return self.section.height - foot - notes - (NOTE_RULE if self.notes else 0.0)


class _Setter:
    """Fills page after page."""

    def __init__(self) -> None:
        self.done: list[_Sheet] = []
        self.sheet: _Sheet | None = None
        self.column = 0
        self.y = 0.0
        self.last: _Piece | None = None
        self.last_after = 0.0
        self.numbers = 0

    # Pages and columns

    def section(self, section: Section) -> None:
        """Set a section."""
        if section.first is not None:
            self.numbers = section.first - 1
        if self.sheet is None or not section.continues:
            self._new_sheet(section)
        else:
            # The margins and columns are the new one's from here on, the paper the old one's.
            self.sheet.section = replace(
                section,
                width=self.sheet.section.width,
                height=self.sheet.section.height,
                paper=self.sheet.section.paper,
            )
            self.column, self.last = 0, None
        for block in section.blocks:
            for piece in _pieces(block, self._width(section), 0):
                self._put(piece, section)

    def _width(self, section: Section) -> float:
        left, _, right, _ = section.margins
        gaps = section.gap * (section.columns - 1)
        whole = (section.width - left - right - gaps) / section.columns
        return max(LEAST_WIDTH, whole)

    def _left(self, section: Section) -> float:
        return section.margins[0] + self.column * (self._width(section) + section.gap)

    def _new_sheet(self, section: Section) -> None:
        if self.sheet is not None:
            self.done.append(self.sheet)
        self.numbers += 1
        sheet = _Sheet(section, self.numbers)
        self.sheet, self.column, self.last = sheet, 0, None
        left, _, right, _ = section.margins
        width = max(LEAST_WIDTH, section.width - left - right)
        if section.header is not None:
            pieces, height = _stacked(section.header(self.numbers), width, 0)
            sheet.header_bottom = section.header_at + height if pieces else 0.0
            self._standing(sheet, pieces, left, section.header_at, width)
        if section.footer is not None:
            pieces, height = _stacked(section.footer(self.numbers), width, 0)
            sheet.footer_height = section.footer_at + height if pieces else 0.0
            top = section.height - section.footer_at - height
            self._standing(sheet, pieces, left, top, width)
        self.y = sheet.top

    def _standing(
        self,
        sheet: _Sheet,
        pieces: Sequence[tuple[float, _Piece]],
        x: float,
        y: float,
        width: float,
    ) -> None:
        """Put a header or a footer on a page; what floats in it lies behind all of the page."""
        for top, piece in pieces:
            sheet.behind += [shifted(item, x, y + top) for item in piece.behind]
            for each in piece.floats:
                box = _float_box(each, sheet.section, Box(x, y + top, width, piece.height))
                place = 0 if each.behind else len(sheet.behind)
                sheet.behind[place:place] = [shifted(item, box.x, box.y) for item in each.items]
            sheet.behind += [shifted(item, x, y + top) for item in piece.items]

    def _advance(self, section: Section) -> None:
        """Go on in the next column, or on the next page."""
        if self.column + 1 < section.columns:
            self.column += 1
            sheet = self._current(section)
            self.y, self.last = sheet.top, None
        else:
            self._new_sheet(section)

    def _current(self, section: Section) -> _Sheet:
        if self.sheet is None:
            self._new_sheet(section)
        assert self.sheet is not None
        return self.sheet

    # Pieces

    def _put(self, piece: _Piece, section: Section) -> None:
        sheet = self._current(section)
        at_top = self.y <= sheet.top + 0.01
        if piece.new_page and not (at_top and self.column == 0 and not sheet.main):
            self._new_sheet(section)
            sheet, at_top = self._current(section), True
        before = 0.0 if at_top and not piece.new_page else piece.before
        y = self.y + before
        notes, notes_height = _stacked(piece.notes, self._width(section), 0)
        spare = LEAST_ROOM if piece.with_next else 0.0
        y = self._past_floats(sheet, y, section)
        if len(self.done) < MOST_PAGES and (
            y + piece.height + spare + notes_height > sheet.bottom + 0.01
        ):
            halves = _cut(piece, sheet.bottom - y - notes_height, self._width(section))
            if halves is not None and not (spare and not at_top):
                first, rest = halves
                self._place(first, section, y)
                self._advance(section)
                self._put(rest, section)
                return
            if not at_top:
                self._advance(section)
                self._put(replace(piece, new_page=False), section)
                return
        for _, note in notes:
            sheet.notes.append((note.height, note.items))
        self._place(piece, section, y)

    def _past_floats(self, sheet: _Sheet, y: float, section: Section) -> float:
        """Give the y below what lets no text beside it."""
        left, width = self._left(section), self._width(section)
        for box, wrap in sorted(sheet.blocked, key=lambda each: each[0].y):
            inside = box.y - 1.0 <= y < box.bottom
            across = box.x < left + width and box.right > left
            wide = box.width > width * 0.8
            if inside and across and (wrap is Wrap.BELOW or wide):
                y = box.bottom
        return y

    def _beside(
        self, sheet: _Sheet, y: float, height: float, section: Section
    ) -> tuple[float, float]:
        """Give the room left and right of what the text stands beside: x and width."""
        left, width = self._left(section), self._width(section)
        start, end = left, left + width
        for box, wrap in sheet.blocked:
            if wrap is Wrap.BESIDE and box.y < y + height and box.bottom > y:
                if box.x - start > end - box.right:
                    end = min(end, box.x)
                else:
                    start = max(start, box.right)
        if end - start < width * 0.2:
            return left, width
        return start, end - start

    def _place(self, piece: _Piece, section: Section, y: float) -> None:
        sheet = self._current(section)
        left, width = self._left(section), self._width(section)
        for each in piece.floats:
            box = _float_box(each, section, Box(left, y, width, piece.height))
            layer = sheet.behind if each.behind else sheet.front
            layer += [shifted(item, box.x, box.y) for item in each.items]
            if each.wrap is not Wrap.THROUGH:
                sheet.blocked.append((box, each.wrap))
        if piece.source is not None and sheet.blocked:
            y = self._past_floats(sheet, y, section)
            x, room = self._beside(sheet, y, piece.height, section)
            if (x, room) != (left, width):
                piece = replace(_paragraph_piece(piece.source, room), floats=())
                left, width = x, room
        last = self.last
        if last is not None and _joined(last.surface, piece.surface):
            gap = Box(left, self.y - last.after, width, max(0.0, y - self.y + last.after))
            if gap.height > 0:
                sheet.main.append(Figure(rectangle(gap), gap, IDENTITY, piece.surface.fill))
        sheet.behind += [shifted(item, left, y) for item in piece.behind]
        sheet.main += [shifted(item, left, y) for item in piece.items]
        sheet.headings += piece.headings
        self.y = y + piece.height + piece.after
        sheet.lowest = max(sheet.lowest, y + piece.height)
        self.last = piece

    def finished(self) -> tuple[FlowedPage, ...]:
        """Give all pages."""
        sheets = [*self.done, *([self.sheet] if self.sheet is not None else [])]
        return tuple(_page(sheet, count) for count, sheet in enumerate(sheets, start=1))


def _page(sheet: _Sheet, count: int) -> FlowedPage:
    section = sheet.section
    left, _, right, foot = section.margins
    # Rather a page that is too high than text that falls off it.
    height = max(section.height, sheet.lowest + min(foot, 36.0))
    notes: list[Item] = []
    y = sheet.bottom
    if sheet.notes:
        rule = Box(left, y + NOTE_RULE / 2, (section.width - left - right) / 3, 0.0)
        notes.append(_line((rule.x, rule.y), (rule.right, rule.y), BLACK))
        y += NOTE_RULE
    for each, items in sheet.notes:
        notes += [shifted(item, left, y) for item in items]
        y += each
    below = (*section.ground, *sheet.behind)
    body = [_doubted(item, below) for item in (*sheet.main, *notes)]
    items = tuple(_named(item, count) for item in (*below, *body, *sheet.front))
    return FlowedPage(section.width, height, items, tuple(sheet.headings), section.paper)


def _named(item: Item, page: int) -> Item:
    """Say of a text on which page it stands."""
    if not isinstance(item, TextBlock):
        return item
    return replace(item, where=f"Page {page} › {item.where}")


def _line(start: tuple[float, float], end: tuple[float, float], colour: Colour) -> Figure:
    box = Box(start[0], start[1], end[0] - start[0], end[1] - start[1])
    return Figure(line(start, end), box, IDENTITY, stroke=Stroke(colour, 0.5))


def _doubted(item: Item, below: Sequence[Item]) -> Item:
    """Say of text near something that lies behind the page's text that its place is a guess."""
    if not isinstance(item, TextBlock) or not below:
        return item
    own = item.transform.bounds(item.box).grown(LEEWAY)
    for each in below:
        if isinstance(each, PictureText | StatedText | TextBlock):
            continue
        extent = each.transform.bounds(each.box)
        if extent.overlaps(own):
            return replace(item, doubt=item.doubt or DOUBT, region=item.box.grown(LEEWAY))
    return item


def _joined(one: Surface, other: Surface) -> bool:
    return one.fill is not None and one.fill == other.fill and one.edges == other.edges


# Floats


def _float_box(each: Float, section: Section, at: Box) -> Box:
    """Give a float's box on the page. at: its paragraph's place, as wide as its column."""
    left, top, right, bottom = section.margins
    page = Box(0.0, 0.0, section.width, section.height)
    margin = Box(left, top, max(0.0, section.width - left - right), section.height - top - bottom)
    column = Box(at.x, margin.y, at.width, margin.height)
    origins = {From.PAGE: page, From.MARGIN: margin, From.COLUMN: column, From.PARAGRAPH: at}

    def place(offset: Offset | None, upright: bool, size: float) -> float:
        chosen = offset or Offset(From.PARAGRAPH)
        origin = origins[chosen.origin]
        start, room = (origin.y, origin.height) if upright else (origin.x, origin.width)
        return start + (chosen.points if chosen.share is None else (room - size) * chosen.share)

    return Box(
        place(each.across, False, each.width),
        place(each.down, True, each.height),
        each.width,
        each.height,
    )


def boxed(
    blocks: Sequence[Block],
    inside: Box,
    anchor: Anchor = Anchor.TOP,
    transform: Affine = IDENTITY,
    grows: bool = False,
) -> tuple[list[Item], float]:
    """Let blocks flow in a box of their own; gives the items and the height that they fill.

    transform: leads from the box to where it stands; grows: the box is as high
    as its text, so that text past its foot is shown.
    """
    pieces, filled = _stacked(blocks, max(LEAST_WIDTH, inside.width), 1)
    spare = max(0.0, inside.height - filled)
    share = {Anchor.TOP: 0.0, Anchor.MIDDLE: 0.5, Anchor.BOTTOM: 1.0}[anchor]
    overfull = filled > inside.height + 1.0 and not grows
    found: list[Item] = []
    for top, piece in pieces:
        y = inside.y + top + spare * share
        floats = [item for each in piece.floats for item in _near(each)]
        for item in (*piece.behind, *piece.items, *floats):
            own = shifted(item, inside.x, y)
            if overfull and isinstance(own, TextBlock):
                own = replace(own, doubt=OVERFULL, region=own.box.grown(LEEWAY))
            if not isinstance(own, PictureText | StatedText):
                own = replace(own, transform=transform.after(own.transform))
            found.append(own)
    return found, filled


def _near(each: Float) -> list[Item]:
    """Give the items of a float inside a box or a cell, near its paragraph."""
    across = each.across.points if each.across is not None else 0.0
    down = each.down.points if each.down is not None else 0.0
    return [shifted(item, across, down) for item in each.items]


# Blocks


def _pieces(block: Block, width: float, depth: int) -> Iterator[_Piece]:
    if isinstance(block, FlowParagraph):
        yield from _paragraph_pieces(block, width)
    elif depth <= DEEPEST:
        yield from _table_pieces(block, width, depth)


def _stacked(
    blocks: Sequence[Block], width: float, depth: int
) -> tuple[list[tuple[float, _Piece]], float]:
    """Put blocks one below the other without any foot of a page; gives them and the height."""
    found: list[tuple[float, _Piece]] = []
    y, after = 0.0, 0.0
    for block in blocks:
        for piece in _pieces(block, width, depth):
            y += after + (piece.before if found else 0.0)
            if found and _joined(found[-1][1].surface, piece.surface):
                last_top, last = found[-1]
                gap = Box(0.0, last_top + last.height - y, width, y - last_top - last.height)
                if gap.height > 0:
                    between = Figure(rectangle(gap), gap, IDENTITY, piece.surface.fill)
                    piece = replace(piece, items=(between, *piece.items))
            found.append((y, piece))
            y += piece.height
            after = piece.after
    return found, y


def _paragraph_pieces(source: FlowParagraph, width: float) -> Iterator[_Piece]:
    """Give a paragraph: what stands in its lines first, each thing for itself, and its text."""
    standing = [each for each in source.floats if each.across is None]
    for count, each in enumerate(standing):
        room = max(0.0, width - each.width)
        share = {"center": 0.5, "centre": 0.5, "right": 1.0}.get(source.paragraph.align.value, 0.0)
        x = source.paragraph.left + room * share if each.width < width else 0.0
        yield _Piece(
            each.height,
            tuple(shifted(item, min(x, room), 0.0) for item in each.items),
            before=source.before if not count else 0.0,
            new_page=source.new_page and not count,
        )
    floating = tuple(each for each in source.floats if each.across is not None)
    texts = any(run.text.strip() for run in source.paragraph.runs)
    if standing and not texts:
        if floating or source.notes:
            yield _Piece(0.0, (), floats=floating, notes=source.notes)
        return
    piece = _paragraph_piece(source, width)
    yield replace(
        piece,
        floats=floating,
        before=source.before if not standing else 0.0,
        new_page=source.new_page and not standing,
    )


def _paragraph_piece(source: FlowParagraph, width: float) -> _Piece:
    block = _block_of(source, width)
    padding = source.padding
    height = _height(source.paragraph, block.box.width) + 2 * padding
    box = Box(0.0, 0.0, width, height)
    # Letters at a fill's very edge would be measured against what lies beside it.
    padding = max(padding, EDGE)
    left = max(0.0, source.paragraph.left + min(0.0, source.paragraph.first))
    shaded = Box(left - padding, 0.0, max(1.0, width - left - source.paragraph.right), height)
    shaded = Box(shaded.x, 0.0, shaded.width + 2 * padding, height)
    items = [*_surface(source.surface, shaded), replace(block, box=replace_height(block, height))]
    text = "".join(run.text for run in source.paragraph.runs).strip()
    headings = ((source.heading, text),) if source.heading and text else ()
    return _Piece(
        box.height,
        tuple(items),
        before=source.before,
        after=source.after,
        source=source,
        headings=headings,
        notes=source.notes,
        new_page=source.new_page,
        with_next=source.with_next,
        surface=source.surface,
    )


def replace_height(block: TextBlock, height: float) -> Box:
    """Give a block's box with another height."""
    return Box(block.box.x, block.box.y, block.box.width, height)


def _block_of(source: FlowParagraph, width: float) -> TextBlock:
    box = Box(0.0, source.padding, max(LEAST_WIDTH, width), 0.0)
    return TextBlock((source.paragraph,), box, IDENTITY, source.where, estimated=True)


def _height(paragraph: Paragraph, width: float) -> float:
    """Give the height of a paragraph's text, whatever its colours are."""
    bullet = paragraph.bullet
    plain = replace(
        paragraph,
        runs=tuple(_plain(run) for run in paragraph.runs),
        bullet=_plain(bullet) if bullet is not None else None,
    )
    return _height_of_plain(plain, width)


def _plain(run: Run) -> Run:
    """Give a run with nothing but what its height depends on."""
    return Run(
        run.text,
        BLACK,
        run.family,
        run.size,
        run.weight,
        "",
        "",
        run.italic,
        spacing=run.spacing,
        baseline=run.baseline,
        small_capitals=run.small_capitals,
    )


@functools.lru_cache(maxsize=20_000)
def _height_of_plain(paragraph: Paragraph, width: float) -> float:
    block = TextBlock((paragraph,), Box(0.0, 0.0, width, 0.0), IDENTITY, "")
    return text_height(block)


def _surface(surface: Surface, box: Box, edges: Edges | None = None) -> list[Item]:
    found: list[Item] = []
    if surface.unpainted:
        found.append(Obstacle(box, IDENTITY, surface.unpainted))
    elif surface.fill is not None:
        found.append(Figure(rectangle(box), box, IDENTITY, surface.fill, address=surface.address))
    lines = surface.edges if edges is None else edges
    corners = {
        "top": ((box.x, box.y), (box.right, box.y)),
        "right": ((box.right, box.y), (box.right, box.bottom)),
        "bottom": ((box.x, box.bottom), (box.right, box.bottom)),
        "left": ((box.x, box.y), (box.x, box.bottom)),
    }
    for side, (start, end) in corners.items():
        stroke = getattr(lines, side)
        if stroke is not None:
            found.append(Figure(line(start, end), box, IDENTITY, stroke=stroke))
    return found


# Tables


def _table_pieces(table: FlowTable, width: float, depth: int) -> Iterator[_Piece]:
    total = sum(table.columns)
    left = table.left + max(0.0, width - total) * table.share
    lefts = [left]
    for each in table.columns:
        lefts.append(lefts[-1] + each)
    rows = _rows(table, lefts, depth)
    for number, row in enumerate(rows):
        piece = _row_piece(row)
        yield replace(piece, new_page=table.new_page and not number)


def _rows(table: FlowTable, lefts: Sequence[float], depth: int) -> list[_Row]:
    """Lay out the rows: a cell that spans several is painted in each, and its text in the first."""
    laid: list[list[_LaidCell]] = [[] for _ in table.rows]
    heights = [row.height for row in table.rows]
    spanning: list[tuple[int, int, float]] = []
    for number, row in enumerate(table.rows):
        for cell in row.cells:
            start = min(cell.column, len(lefts) - 1)
            end = min(cell.column + max(1, cell.columns), len(lefts) - 1)
            x, width = lefts[start], max(1.0, lefts[end] - lefts[start])
            left, top, right, bottom = _padding(cell)
            pieces, filled = _stacked(
                cell.blocks, max(LEAST_WIDTH, width - left - right), depth + 1
            )
            needed = filled + top + bottom
            span = max(1, min(cell.rows, len(table.rows) - number))
            if span > 1:
                spanning.append((number, span, needed))
            elif not row.exact:
                heights[number] = max(heights[number], needed)
            for part in range(span):
                own = tuple(pieces) if part == 0 else ()
                laid[number + part].append(
                    _LaidCell(cell, x, width, own, filled, part == 0, part == span - 1)
                )
    for number, span, needed in spanning:
        missing = needed - sum(heights[number : number + span])
        if missing > 0:
            heights[number + span - 1] += missing
    found = []
    for number, cells in enumerate(laid):
        placed = tuple(_anchored(each, number, heights) for each in cells)
        found.append(_Row(heights[number], placed))
    return found


def _padding(cell: FlowCell) -> tuple[float, float, float, float]:
    left, top, right, bottom = cell.padding
    return max(left, EDGE), top, max(right, EDGE), bottom


def _anchored(laid: _LaidCell, number: int, heights: Sequence[float]) -> _LaidCell:
    """Move a cell's text to where it stands between the top and the bottom of all its rows."""
    cell = laid.cell
    _, top, _, bottom = _padding(cell)
    room = sum(heights[number : number + max(1, cell.rows)]) - top - bottom
    spare = max(0.0, room - laid.height)
    share = {Anchor.TOP: 0.0, Anchor.MIDDLE: 0.5, Anchor.BOTTOM: 1.0}[cell.anchor]
    pieces = tuple((y + top + spare * share, piece) for y, piece in laid.pieces)
    return replace(laid, pieces=pieces)


def _row_piece(row: _Row) -> _Piece:
    """Give a row as a piece: fills first, then lines, then what is in the cells."""
    fills: list[Item] = []
    lines: list[Item] = []
    contents: list[Item] = []
    behind: list[Item] = []
    headings: list[tuple[int, str]] = []
    notes: list[Block] = []
    for laid in row.cells:
        box = Box(laid.x, 0.0, laid.width, row.height)
        surface = laid.cell.surface
        edges = surface.edges
        fills += _surface(replace(surface, edges=Edges()), box)
        shown = Edges(
            edges.top if laid.first else None,
            edges.right,
            edges.bottom if laid.last else None,
            edges.left,
        )
        lines += _surface(PLAIN, box, shown)
        left = laid.x + _padding(laid.cell)[0]
        for y, piece in laid.pieces:
            behind += [shifted(item, left, y) for item in piece.behind]
            floats = [item for each in piece.floats for item in _near(each)]
            for item in (*piece.items, *floats):
                found = shifted(item, left, y)
                if laid.cell.turned and isinstance(found, TextBlock):
                    found = replace(found, doubt="the place of turned text is only estimated")
                contents.append(found)
            headings += piece.headings
            notes += piece.notes
    items = (*fills, *lines, *contents)
    return _Piece(
        row.height,
        items,
        tuple(behind),
        row=row,
        headings=tuple(headings),
        notes=tuple(notes),
    )


# Cutting at the foot of a page


def _cut(piece: _Piece, room: float, width: float) -> tuple[_Piece, _Piece] | None:
    """Give a piece in two, the first no higher than the room; None where it isn't cut."""
    if piece.row is not None:
        return _cut_row(piece, piece.row, room)
    if piece.source is None or room < LEAST_ROOM:
        return None
    return _cut_paragraph(piece, piece.source, room, width)


def _cut_row(piece: _Piece, row: _Row, room: float) -> tuple[_Piece, _Piece] | None:
    """Cut a row where every cell begins on this page; what doesn't fit goes on on the next."""
    first, rest, left_over = [], [], 0.0
    for laid in row.cells:
        fitting = tuple((y, each) for y, each in laid.pieces if y + each.height <= room)
        others = laid.pieces[len(fitting) :]
        if laid.pieces and not fitting:
            return None
        shift = others[0][0] if others else 0.0
        moved_up = tuple((y - shift, each) for y, each in others)
        left_over = max([left_over, *(y + each.height for y, each in moved_up)])
        first.append(replace(laid, pieces=fitting, last=False))
        rest.append(replace(laid, pieces=moved_up, first=False))
    if left_over <= 0:
        return None
    one = _row_piece(_Row(room, tuple(first)))
    other = _row_piece(_Row(max(left_over, row.height - room), tuple(rest)))
    return one, replace(other, headings=())


def _cut_paragraph(
    piece: _Piece, source: FlowParagraph, room: float, width: float
) -> tuple[_Piece, _Piece] | None:
    """Cut a paragraph between two words, by halving the number of words on the first page."""
    paragraph = source.paragraph
    places = _word_ends(paragraph)
    low, high = 0, len(places) - 1
    while low < high:
        middle = (low + high + 1) // 2
        first, _ = _parted(paragraph, places[middle])
        if _height(first, max(LEAST_WIDTH, width)) + 2 * source.padding <= room:
            low = middle
        else:
            high = middle - 1
    if low == 0 or low == len(places) - 1:
        return None
    first, rest = _parted(paragraph, places[low])
    one = _paragraph_piece(replace(source, paragraph=first, after=0.0, floats=()), width)
    other = _paragraph_piece(
        replace(source, paragraph=rest, before=0.0, floats=(), heading=0, notes=(), new_page=False),
        width,
    )
    return replace(one, floats=piece.floats, new_page=False), other


def _word_ends(paragraph: Paragraph) -> list[int]:
    """List the places between the words of a paragraph, counted in characters, 0 first."""
    text = "".join(run.text for run in paragraph.runs)
    found = [0]
    found += [
        place
        for place in range(1, len(text))
        if text[place - 1].isspace() and not text[place].isspace()
    ]
    return found


def _parted(paragraph: Paragraph, place: int) -> tuple[Paragraph, Paragraph]:
    """Give a paragraph in two, cut after so many characters."""
    first: list[Run] = []
    rest: list[Run] = []
    for run in paragraph.runs:
        length = len(run.text)
        if place >= length:
            first.append(run)
        elif place <= 0:
            rest.append(run)
        else:
            first.append(replace(run, text=run.text[:place]))
            rest.append(replace(run, text=run.text[place:]))
        place -= length
    return (
        replace(paragraph, runs=tuple(first)),
        replace(paragraph, runs=tuple(rest), first=0.0, bullet=None),
    )
