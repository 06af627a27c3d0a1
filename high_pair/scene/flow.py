"""Text that flows over pages: paragraphs and tables, before anything has a place on a page."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

from high_pair.scene.geometry import Box
from high_pair.scene.page import Item
from high_pair.scene.paint import BLACK, WHITE, Colour, Fill, Stroke
from high_pair.scene.text import Anchor, Paragraph, Run, TextBlock, with_each_run

# Tables within tables, and boxes within boxes, are read no deeper than this.
DEEPEST = 12
TOO_DEEP = f"it is in more than {DEEPEST} tables or boxes within each other, which aren't read"


@dataclass(frozen=True)
class Edges:
    """The lines round a paragraph, a cell or a table."""

    top: Stroke | None = None
    right: Stroke | None = None
    bottom: Stroke | None = None
    left: Stroke | None = None

    def __bool__(self) -> bool:
        """Tell whether there is any."""
        return any((self.top, self.right, self.bottom, self.left))


@dataclass(frozen=True)
class Surface:
    """What lies behind a paragraph or a cell.

    address: where the fill can be changed; unpainted: why it can't be painted,
    empty when it can; shades: then, the colours between which every place's lies, from
    one to the next; picture_in: gives the picture that lies in its box.
    """

    fill: Fill | None = None
    address: str = ""
    edges: Edges = Edges()
    unpainted: str = ""
    shades: tuple[Colour, ...] = ()
    picture_in: Callable[[Box], Item] | None = None


PLAIN = Surface()


class From(StrEnum):
    """What the place of something that floats counts from."""

    PAGE = "page"
    MARGIN = "margin"
    COLUMN = "column"
    PARAGRAPH = "paragraph"


@dataclass(frozen=True)
class Offset:
    """A place on one axis: points from an origin's start, or a share of the room left.

    share: 0 for the start, 0.5 for the middle, 1 for the end, None to count points.
    """

    origin: From
    points: float = 0.0
    share: float | None = None


class Wrap(StrEnum):
    """What the lines of text do that come near something that floats."""

    THROUGH = "through"
    BESIDE = "beside"
    BELOW = "below"


@dataclass(frozen=True)
class Float:
    """A picture, a shape or a box of text that stands at a place of its own.

    items: what it paints, counted from its own top left corner; behind: it lies
    below the text of the page; across, down: None for one that stands in the
    line, above the rest of its paragraph.
    """

    width: float
    height: float
    items: tuple[Item, ...] = ()
    behind: bool = False
    across: Offset | None = None
    down: Offset | None = None
    wrap: Wrap = Wrap.THROUGH


@dataclass(frozen=True)
class FlowParagraph:
    """A paragraph.

    before, after: points above and below it; surface: what lies behind it, over
    the room of its neighbours too where theirs is the same; padding: between
    its text and the edges; notes: at the foot of its page; heading: its level
    from 1, 0 for none; new_page: it begins one; contextual: by which it leaves
    out the room towards others of the same, None where it doesn't.
    """

    paragraph: Paragraph
    where: str
    before: float = 0.0
    after: float = 0.0
    surface: Surface = PLAIN
    padding: float = 0.0
    floats: tuple[Float, ...] = ()
    notes: tuple[Block, ...] = ()
    heading: int = 0
    new_page: bool = False
    with_next: bool = False
    contextual: str | None = None


@dataclass(frozen=True)
class FlowCell:
    """A table's cell; padding: left, top, right, bottom."""

    column: int
    columns: int
    rows: int
    blocks: tuple[Block, ...]
    surface: Surface = PLAIN
    padding: tuple[float, float, float, float] = (5.4, 0.0, 5.4, 0.0)
    anchor: Anchor = Anchor.TOP
    turned: bool = False


@dataclass(frozen=True)
class FlowRow:
    """A table's row; height: the least, or the very one; repeats: on every page of the table."""

    cells: tuple[FlowCell, ...]
    height: float = 0.0
    exact: bool = False
    repeats: bool = False


@dataclass(frozen=True)
class FlowTable:
    """A table; columns: widths in points; left: its indent; share: of the room, 0 for its left."""

    columns: tuple[float, ...]
    rows: tuple[FlowRow, ...]
    left: float = 0.0
    share: float = 0.0
    new_page: bool = False


Block = FlowParagraph | FlowTable


def with_runs(blocks: Iterable[Block], change: Callable[[Run], Run]) -> tuple[Block, ...]:
    """Give blocks with every run of theirs changed, in tables and tables in those too."""

    def changed(block: Block) -> Block:
        if isinstance(block, FlowParagraph):
            runs = tuple(change(run) for run in block.paragraph.runs)
            floats = tuple(_with_runs_of(each, change) for each in block.floats)
            if all(new is old for new, old in zip(runs, block.paragraph.runs, strict=True)):
                return replace(block, floats=floats) if floats else block
            return replace(block, paragraph=replace(block.paragraph, runs=runs), floats=floats)
        rows = []
        for row in block.rows:
            cells = [replace(cell, blocks=with_runs(cell.blocks, change)) for cell in row.cells]
            rows.append(replace(row, cells=tuple(cells)))
        return replace(block, rows=tuple(rows))

    return tuple(changed(block) for block in blocks)


def _with_runs_of(each: Float, change: Callable[[Run], Run]) -> Float:
    items = (
        with_each_run(item, change) if isinstance(item, TextBlock) else item for item in each.items
    )
    return replace(each, items=tuple(items))


@dataclass(frozen=True)
class Band:
    """What stands at the head or at the foot of a page, as wide as its text.

    surface: behind it; padding: left, top, right, bottom; least: its least height; apart: the
    room between it and the page's text; all in points.
    """

    blocks: tuple[Block, ...]
    surface: Surface = PLAIN
    padding: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    least: float = 0.0
    apart: float = 0.0


# Gives the header or the footer for a page's number, and for the first page of its section.
Repeated = Callable[[int, bool], Band]


@dataclass(frozen=True)
class Section:
    """Blocks on pages of one kind.

    margins: left, top, right, bottom; header, footer: what stands on each of
    its pages; header_at, footer_at: their distances from the page's edges;
    columns: how many, with a gap; continues: it goes on where the last one
    ended; first: the number of its first page, None to count on.
    """

    blocks: tuple[Block, ...]
    width: float
    height: float
    margins: tuple[float, float, float, float]
    header: Repeated | None = None
    footer: Repeated | None = None
    header_at: float = 36.0
    footer_at: float = 36.0
    columns: int = 1
    gap: float = 36.0
    continues: bool = False
    first: int | None = None
    paper: Colour = WHITE
    ground: tuple[Item, ...] = ()


@dataclass(frozen=True)
class Flow:
    """A whole text document."""

    sections: tuple[Section, ...]


def unread(words: str, where: str, address: str) -> FlowParagraph:
    """Give words of whose look nothing is known, because they are nested too deeply."""
    run = Run(" ".join(words.split()), BLACK, "", 12.0, 400, "", address, trouble=TOO_DEEP)
    return FlowParagraph(Paragraph((run,)), where)
