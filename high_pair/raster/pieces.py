"""Blocks of a text document as pieces: what isn't cut by the foot of a page, and how it is cut.

A paragraph is a piece, and so is a table's row. Boxes and cells have pieces of their own.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from high_pair.raster.layout import text_height
from high_pair.scene.flow import (
    PLAIN,
    Block,
    Edges,
    Float,
    FlowCell,
    FlowParagraph,
    FlowTable,
    Surface,
)
from high_pair.scene.geometry import IDENTITY, Affine, Box, line, rectangle
from high_pair.scene.page import Figure, Item, placed, shifted
from high_pair.scene.paint import BLACK
from high_pair.scene.text import Anchor, Paragraph, Run, TextBlock
from high_pair.scene.unsure import unsure_fill

# Points that must be left at the foot of a page for a paragraph to begin there.
LEAST_ROOM = 26.0
# Room for text to flow in, however narrow a column is.
LEAST_WIDTH = 12.0
# How far text that stands near a picture may be from where another program puts it, in points.
LEEWAY = 28.0
OVERFULL = "the text is longer than its box, and programs differ in what they show of it"
# Room between letters and the sides of what is behind them, in points.
EDGE = 2.0


@dataclass(frozen=True)
class Piece:
    """Something that isn't cut by the foot of a page, at its own corner.

    cut: gives the piece in two, the first no higher than so many points.
    """

    height: float
    items: tuple[Item, ...]
    behind: tuple[Item, ...] = ()
    before: float = 0.0
    after: float = 0.0
    source: FlowParagraph | None = None
    row: Row | None = None
    headings: tuple[tuple[int, str], ...] = ()
    notes: tuple[Block, ...] = ()
    floats: tuple[Float, ...] = ()
    new_page: bool = False
    with_next: bool = False
    surface: Surface = PLAIN


@dataclass(frozen=True)
class LaidCell:
    """A cell with its pieces; first, last: whether its top and its foot are in it."""

    cell: FlowCell
    x: float
    width: float
    pieces: tuple[tuple[float, Piece], ...]
    height: float
    first: bool
    last: bool


@dataclass(frozen=True)
class Row:
    """A table's row, laid out."""

    height: float
    cells: tuple[LaidCell, ...]


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
    pieces, filled = stacked(blocks, max(LEAST_WIDTH, inside.width))
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
            found.append(placed(own, transform))
    return found, filled


def _near(each: Float) -> list[Item]:
    """Give the items of a float inside a box or a cell, near its paragraph."""
    across = each.across.points if each.across is not None else 0.0
    down = each.down.points if each.down is not None else 0.0
    return [shifted(item, across, down) for item in each.items]


def joined(one: Surface, other: Surface) -> bool:
    """Tell whether what is behind a paragraph goes on behind the next one."""
    return one.fill is not None and one.fill == other.fill and one.edges == other.edges


# Blocks


def pieces_of(block: Block, width: float) -> Iterator[Piece]:
    """Give a block's pieces in a column of a width."""
    if isinstance(block, FlowParagraph):
        yield from _paragraph_pieces(block, width)
    else:
        yield from _table_pieces(block, width)


def stacked(blocks: Sequence[Block], width: float) -> tuple[list[tuple[float, Piece]], float]:
    """Put blocks one below the other without any foot of a page; gives them and the height."""
    found: list[tuple[float, Piece]] = []
    y, after = 0.0, 0.0
    for block in blocks:
        for piece in pieces_of(block, width):
            y += after + (piece.before if found else 0.0)
            if found and joined(found[-1][1].surface, piece.surface):
                last_top, last = found[-1]
                gap = Box(0.0, last_top + last.height - y, width, y - last_top - last.height)
                if gap.height > 0:
                    between = Figure(rectangle(gap), gap, IDENTITY, piece.surface.fill)
                    piece = replace(piece, items=(between, *piece.items))
            found.append((y, piece))
            y += piece.height
            after = piece.after
    return found, y


def _paragraph_pieces(source: FlowParagraph, width: float) -> Iterator[Piece]:
    """Give a paragraph: what stands in its lines first, each thing for itself, and its text."""
    standing = [each for each in source.floats if each.across is None]
    for count, each in enumerate(standing):
        room = max(0.0, width - each.width)
        share = {"center": 0.5, "centre": 0.5, "right": 1.0}.get(source.paragraph.align.value, 0.0)
        x = source.paragraph.left + room * share if each.width < width else 0.0
        yield Piece(
            each.height,
            tuple(shifted(item, min(x, room), 0.0) for item in each.items),
            before=source.before if not count else 0.0,
            new_page=source.new_page and not count,
        )
    floating = tuple(each for each in source.floats if each.across is not None)
    texts = any(run.text.strip() for run in source.paragraph.runs)
    if standing and not texts:
        if floating or source.notes:
            yield Piece(0.0, (), floats=floating, notes=source.notes)
        return
    piece = paragraph_piece(source, width)
    yield replace(
        piece,
        floats=floating,
        before=source.before if not standing else 0.0,
        new_page=source.new_page and not standing,
    )


def paragraph_piece(source: FlowParagraph, width: float) -> Piece:
    """Lay out a paragraph in a column of a width, with what is behind it."""
    block = _block_of(source, width)
    padding = source.padding
    height = _height(source.paragraph, block.box.width) + 2 * padding
    box = Box(0.0, 0.0, width, height)
    # Letters at a fill's very edge would be measured against what lies beside it.
    padding = max(padding, EDGE)
    left = max(0.0, source.paragraph.left + min(0.0, source.paragraph.first))
    shaded = Box(left - padding, 0.0, max(1.0, width - left - source.paragraph.right), height)
    shaded = Box(shaded.x, 0.0, shaded.width + 2 * padding, height)
    items = [
        *painted_surface(source.surface, shaded),
        replace(block, box=replace_height(block, height)),
    ]
    text = "".join(run.text for run in source.paragraph.runs).strip()
    headings = ((source.heading, text),) if source.heading and text else ()
    return Piece(
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


def painted_surface(surface: Surface, box: Box, edges: Edges | None = None) -> list[Item]:
    """Give what paints a surface in a box: its fill, and its lines, or others instead of them."""
    found: list[Item] = []
    if surface.unpainted:
        found += unsure_fill(rectangle(box), box, IDENTITY, surface.shades, surface.unpainted)
    elif surface.picture_in is not None:
        found.append(surface.picture_in(box))
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


def _table_pieces(table: FlowTable, width: float) -> Iterator[Piece]:
    total = sum(table.columns)
    left = table.left + max(0.0, width - total) * table.share
    lefts = [left]
    for each in table.columns:
        lefts.append(lefts[-1] + each)
    rows = _rows(table, lefts)
    for number, row in enumerate(rows):
        piece = _row_piece(row)
        yield replace(piece, new_page=table.new_page and not number)


def _rows(table: FlowTable, lefts: Sequence[float]) -> list[Row]:
    """Lay out the rows: a cell that spans several is painted in each, and its text in the first."""
    laid: list[list[LaidCell]] = [[] for _ in table.rows]
    heights = [row.height for row in table.rows]
    spanning: list[tuple[int, int, float]] = []
    for number, row in enumerate(table.rows):
        for cell in row.cells:
            start = min(cell.column, len(lefts) - 1)
            end = min(cell.column + max(1, cell.columns), len(lefts) - 1)
            x, width = lefts[start], max(1.0, lefts[end] - lefts[start])
            left, top, right, bottom = _padding(cell)
            pieces, filled = stacked(cell.blocks, max(LEAST_WIDTH, width - left - right))
            needed = filled + top + bottom
            span = max(1, min(cell.rows, len(table.rows) - number))
            if span > 1:
                spanning.append((number, span, needed))
            elif not row.exact:
                heights[number] = max(heights[number], needed)
            for part in range(span):
                own = tuple(pieces) if part == 0 else ()
                laid[number + part].append(
                    LaidCell(cell, x, width, own, filled, part == 0, part == span - 1)
                )
    for number, span, needed in spanning:
        missing = needed - sum(heights[number : number + span])
        if missing > 0:
            heights[number + span - 1] += missing
    found = []
    for number, cells in enumerate(laid):
        placed = tuple(_anchored(each, number, heights) for each in cells)
        found.append(Row(heights[number], placed))
    return found


def _padding(cell: FlowCell) -> tuple[float, float, float, float]:
    left, top, right, bottom = cell.padding
    return max(left, EDGE), top, max(right, EDGE), bottom


def _anchored(laid: LaidCell, number: int, heights: Sequence[float]) -> LaidCell:
    """Move a cell's text to where it stands between the top and the bottom of all its rows."""
    cell = laid.cell
    _, top, _, bottom = _padding(cell)
    room = sum(heights[number : number + max(1, cell.rows)]) - top - bottom
    spare = max(0.0, room - laid.height)
    share = {Anchor.TOP: 0.0, Anchor.MIDDLE: 0.5, Anchor.BOTTOM: 1.0}[cell.anchor]
    pieces = tuple((y + top + spare * share, piece) for y, piece in laid.pieces)
    return replace(laid, pieces=pieces)


def _row_piece(row: Row) -> Piece:
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
        fills += painted_surface(replace(surface, edges=Edges()), box)
        shown = Edges(
            edges.top if laid.first else None,
            edges.right,
            edges.bottom if laid.last else None,
            edges.left,
        )
        lines += painted_surface(PLAIN, box, shown)
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
    return Piece(
        row.height,
        items,
        tuple(behind),
        row=row,
        headings=tuple(headings),
        notes=tuple(notes),
    )


# Cutting at the foot of a page


def cut(piece: Piece, room: float, width: float) -> tuple[Piece, Piece] | None:
    """Give a piece in two, the first no higher than the room; None where it isn't cut."""
    if piece.row is not None:
        return _cut_row(piece, piece.row, room)
    if piece.source is None or room < LEAST_ROOM:
        return None
    return _cut_paragraph(piece, piece.source, room, width)


def _cut_row(piece: Piece, row: Row, room: float) -> tuple[Piece, Piece] | None:
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
    one = _row_piece(Row(room, tuple(first)))
    other = _row_piece(Row(max(left_over, row.height - room), tuple(rest)))
    return one, replace(other, headings=())


def _cut_paragraph(
    piece: Piece, source: FlowParagraph, room: float, width: float
) -> tuple[Piece, Piece] | None:
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
    one = paragraph_piece(replace(source, paragraph=first, after=0.0, floats=()), width)
    other = paragraph_piece(
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
