"""What lies over an ODF sheet's cells: its shapes, those anchored in cells, and comments.

Source: ODF 1.3 Part 3 §9.1.2 (table:shapes), §9.1.4 (what cells hold), §14.1 (annotations).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from high_pair.formats.odf.cells import rows_of
from high_pair.formats.odf.shapes import SHAPES, PageContext, ShapeReader, numbered_shapes
from high_pair.formats.odf.styles import Styles
from high_pair.formats.xml import Element, child, children, local_name, tag, whole
from high_pair.scene.addresses import address_below
from high_pair.scene.grid import Area, Grid
from high_pair.scene.page import Figure, Item, StatedBackdrop, StatedText, shifted
from high_pair.scene.paint import WHITE, colours_of
from high_pair.scene.text import TextBlock

UNKNOWN_FILL = "what its comment is filled with isn't stated, or is seen through"
_CELLS = ("table-cell", "covered-table-cell")
NAMES = ("frame", "custom-shape", "rect", "ellipse", "circle", "line", "connector",
    "polyline", "polygon", "path", "regular-polygon", "caption", "measure", "control", "g", "a",
)  # fmt: skip


@dataclass(frozen=True)
class Anchored:
    """An element that holds shapes or a comment, and its cell; None for the sheet's own."""

    element: Element
    cell: Area | None


def holders_on(table: Element) -> list[Anchored]:
    """List what holds shapes on a sheet: table:shapes, then cells, in document order."""
    found = []
    own = child(table, "table:shapes")
    if own is not None:
        found.append(Anchored(own, None))
    if next(table.iter(*(tag(f"draw:{name}") for name in sorted(SHAPES))), None) is not None:
        found += [each for each in _cells(table) if numbered_shapes(each.element)]
    return found


def shapes_on(table: Element) -> list[Element]:
    """List a sheet's shapes as addresses number them from 1."""
    return [shape for each in holders_on(table) for shape in numbered_shapes(each.element)]


def paragraphs_on(table: Element) -> Iterator[Element]:
    """Give all paragraphs of a sheet, as addresses number them from 1."""
    return table.iter(tag("text:p"), tag("text:h"))


def _cells(table: Element) -> Iterator[Anchored]:
    """Give the cells that hold more than text; what stands in a repeated cell counts once."""
    top = 0
    for row, repeats in rows_of(table):
        left = 0
        for cell in children(row):
            if local_name(cell) in _CELLS:
                if any(local_name(each) not in ("p", "h") for each in children(cell)):
                    yield Anchored(cell, Area(top, left, top, left))
                left += max(1, whole(cell, tag("table:number-columns-repeated"), 1))
        top += repeats


class SheetShapes:
    """Reads what lies over one sheet's cells."""

    def __init__(self, table: Element, grid: Grid, styles: Styles, context: PageContext) -> None:
        """Take a sheet. context: its address ends in the sheet's own step."""
        self._table = table
        self._grid = grid
        self._styles = styles
        self._numbers: dict[Element, int] = {}
        self._context = replace(context, address_of=self._address_of)

    def _address_of(self, paragraph: Element) -> str:
        if not self._numbers:
            found = enumerate(paragraphs_on(self._table), start=1)
            self._numbers = {each: count for count, each in found}
        return address_below(self._context.address, para=self._numbers.get(paragraph, 0))

    def items(self) -> list[Item]:
        """Give everything that the shapes paint, lowest first."""
        found: list[Item] = []
        count = 0
        for holder in holders_on(self._table):
            reader = ShapeReader(holder.element, self._styles, self._context, first=count + 1)
            count += len(reader.numbers)
            x, y = self._corner(holder)
            found += [shifted(item, x, y) for item in reader.items(lambda _shape: True)]
        return found

    def _corner(self, holder: Anchored) -> tuple[float, float]:
        """Give where the positions of a holder's shapes are counted from (§19.573)."""
        if holder.cell is None:
            return 0.0, 0.0
        return self._grid.corner(holder.cell.top, holder.cell.left)

    def comments(self) -> Iterator[StatedText]:
        """Give the texts of the cells' comments, by run, on what their notes are filled with."""
        if next(self._table.iter(tag("office:annotation")), None) is None:
            return
        for holder in _cells(self._table):
            note = child(holder.element, "office:annotation")
            if note is not None and holder.cell is not None:
                yield from self._comment(note, holder.cell)

    def _comment(self, note: Element, cell: Area) -> Iterator[StatedText]:
        items = ShapeReader(note, self._styles, self._context).note(note)
        fills = [item.fill for item in items if isinstance(item, Figure) and item.fill is not None]
        fill = fills[0] if fills else WHITE
        seen_through = any(shade.opacity < 1 for shade in colours_of(fill))
        trouble = "" if fills and not seen_through else UNKNOWN_FILL
        behind = StatedBackdrop(fill, f"comment at {cell.words}", self._grid.box(cell))
        for block in (item for item in items if isinstance(item, TextBlock)):
            for run in (run for paragraph in block.paragraphs for run in paragraph.runs):
                if run.text.strip():
                    told = replace(run, trouble=run.trouble or trouble)
                    yield StatedText(told, (behind,), self._context.words)
