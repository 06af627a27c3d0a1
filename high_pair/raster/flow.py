"""Flowing a text document over pages: every paragraph, table and box gets a place.

The places are estimates. Where each program breaks lines and pages differs
with its fonts and its version; what is behind a text doesn't.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from high_pair.raster.layout import width_of
from high_pair.raster.pieces import (
    LEAST_ROOM,
    LEAST_WIDTH,
    LEEWAY,
    Piece,
    cut,
    joined,
    painted_surface,
    paragraph_piece,
    pieces_of,
    stacked,
)
from high_pair.scene.flow import (
    Band,
    Float,
    Flow,
    From,
    Offset,
    Section,
    Wrap,
)
from high_pair.scene.geometry import IDENTITY, Box, line, rectangle
from high_pair.scene.page import Figure, Item, Painted, PictureText, StatedText, shifted
from high_pair.scene.paint import BLACK, Colour, Stroke
from high_pair.scene.text import Align, TextBlock

MOST_PAGES = 10_000
DOUBT = "where this text stands on what lies behind it differs from program to program"
NOTE_RULE = 12.0
# How much wider another font may set a text, and the share of a line that it then has for itself.
OTHER_FONT, ONE_LINE = 1.12, 0.9


@dataclass(frozen=True)
class FlowedPage:
    """A page: its items, lowest first; headings: level and words of those that begin on it."""

    width: float
    height: float
    items: tuple[Item, ...]
    headings: tuple[tuple[int, str], ...]
    paper: Colour


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
    """A page being filled.

    bands: what lies behind its header and footer, where no text of the page comes; blocked: where
    floats keep lines away.
    """

    section: Section
    number: int
    bands: list[Item] = field(default_factory=list)
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
        self.last: Piece | None = None
        self.numbers = 0

    # Pages and columns

    def section(self, section: Section) -> None:
        """Set a section."""
        if section.first is not None:
            self.numbers = section.first - 1
        if self.sheet is None or not section.continues:
            self._new_sheet(section, first=True)
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
            for piece in pieces_of(block, self._width(section)):
                self._put(piece, section)

    def _width(self, section: Section) -> float:
        left, _, right, _ = section.margins
        gaps = section.gap * (section.columns - 1)
        whole = (section.width - left - right - gaps) / section.columns
        return max(LEAST_WIDTH, whole)

    def _left(self, section: Section) -> float:
        return section.margins[0] + self.column * (self._width(section) + section.gap)

    def _new_sheet(self, section: Section, first: bool = False) -> None:
        if self.sheet is not None:
            self.done.append(self.sheet)
        self.numbers += 1
        sheet = _Sheet(section, self.numbers)
        self.sheet, self.column, self.last = sheet, 0, None
        if section.header is not None:
            band = section.header(self.numbers, first)
            height = self._band(sheet, band, section.header_at, 0.0)
            sheet.header_bottom = section.header_at + height + band.apart if height else 0.0
        if section.footer is not None:
            band = section.footer(self.numbers, first)
            height = self._band(sheet, band, section.height - section.footer_at, 1.0)
            sheet.footer_height = section.footer_at + height + band.apart if height else 0.0
        self.y = sheet.top

    def _band(self, sheet: _Sheet, band: Band, at: float, above: float) -> float:
        """Put a header or a footer on a page, and give its height, 0 where there is none.

        at: the place of its top, or of its foot where `above` is 1. What floats in it lies behind
        all of the page.
        """
        left, _, right, _ = sheet.section.margins
        box_width = max(LEAST_WIDTH, sheet.section.width - left - right)
        start, head, end, foot = band.padding
        width = max(LEAST_WIDTH, box_width - start - end)
        pieces, filled = stacked(band.blocks, width)
        if not pieces:
            return 0.0
        height = max(band.least, filled + head + foot)
        box = Box(left, at - above * height, box_width, height)
        sheet.bands += painted_surface(band.surface, box)
        x, y = left + start, box.y + head
        for top, piece in pieces:
            sheet.behind += [shifted(item, x, y + top) for item in piece.behind]
            for each in piece.floats:
                box = _float_box(each, sheet.section, Box(x, y + top, width, piece.height))
                place = 0 if each.behind else len(sheet.behind)
                sheet.behind[place:place] = [shifted(item, box.x, box.y) for item in each.items]
            sheet.behind += [shifted(item, x, y + top) for item in piece.items]
        return height

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

    def _put(self, piece: Piece, section: Section) -> None:
        sheet = self._current(section)
        at_top = self.y <= sheet.top + 0.01
        if piece.new_page and not (at_top and self.column == 0 and not sheet.main):
            self._new_sheet(section)
            sheet, at_top = self._current(section), True
        before = 0.0 if at_top and not piece.new_page else piece.before
        y = self.y + before
        notes, notes_height = stacked(piece.notes, self._width(section))
        spare = LEAST_ROOM if piece.with_next else 0.0
        y = self._past_floats(sheet, y, section)
        if len(self.done) < MOST_PAGES and (
            y + piece.height + spare + notes_height > sheet.bottom + 0.01
        ):
            halves = cut(piece, sheet.bottom - y - notes_height, self._width(section))
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

    def _place(self, piece: Piece, section: Section, y: float) -> None:
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
                piece = replace(paragraph_piece(piece.source, room), floats=())
                left, width = x, room
        last = self.last
        if last is not None and joined(last.surface, piece.surface):
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
    painted = (*section.ground, *sheet.bands, *sheet.behind, *body, *sheet.front)
    items = tuple(_named(item, count) for item in painted)
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
    reach = _reach_of(item)
    own = item.transform.bounds(reach)
    for each in below:
        if isinstance(each, PictureText | StatedText | TextBlock | Painted):
            continue
        extent = each.transform.bounds(each.box)
        if extent.overlaps(own):
            return replace(item, doubt=item.doubt or DOUBT, region=reach)
    return item


def _reach_of(block: TextBlock) -> Box:
    """Give where a text may stand in another program: near its box, or near its one line, where it
    has no more in any."""
    paragraph = block.paragraphs[0]
    starts = paragraph.align is Align.LEFT and not paragraph.right_to_left
    text = "".join(run.text for run in paragraph.runs)
    box = block.box
    if len(block.paragraphs) == 1 and starts and not set("\t\n") & set(text):
        indent = max(0.0, paragraph.left) + max(0.0, paragraph.first)
        width = indent + OTHER_FONT * width_of([(run, run.text) for run in paragraph.runs])
        if width < box.width * ONE_LINE:
            box = Box(box.x, box.y, width, box.height)
    return box.grown(LEEWAY)


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
