"""Tables on slides (ECMA-376 Part 1 §21.1.3)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from high_pair.formats.drawing.fills import (
    EMU_PER_POINT,
    Fill,
    fill_element,
    read_fill,
)
from high_pair.formats.drawing.lines import read_line
from high_pair.formats.drawing.placeholders import Lineage
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.table_styles import (
    BORDER_WIDTH,
    CellPlace,
    TableStyle,
    table_style_of,
)
from high_pair.formats.drawing.text import Place, text_block
from high_pair.formats.drawing.text_styles import sources_of
from high_pair.formats.xml import Element, child, flag, number, tag, whole
from high_pair.raster.layout import text_height
from high_pair.scene.addresses import address_below
from high_pair.scene.geometry import Affine, Box, line, rectangle
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.paint import Stroke
from high_pair.scene.text import Anchor, TextBlock

# §21.1.3.17: the margins of a cell that states none, in EMU.
MARGINS = {"marL": 91_440, "marT": 45_720, "marR": 91_440, "marB": 45_720}
_ANCHORS = {"t": Anchor.TOP, "ctr": Anchor.MIDDLE, "b": Anchor.BOTTOM}
_TURNED = {"vert": 90.0, "vert270": -90.0}
MOST_CELLS = 20_000


@dataclass(frozen=True)
class Cell:
    """A cell that isn't merged into another, with the rows and columns it spans."""

    element: Element
    place: CellPlace
    rows: int
    columns: int

    @property
    def end(self) -> CellPlace:
        """The last place that it covers."""
        row, column = self.place.row + self.rows - 1, self.place.column + self.columns - 1
        return replace(self.place, row=row, column=column)

    @property
    def words(self) -> str:
        """Its place in words."""
        return f"row {self.place.row + 1}, cell {self.place.column + 1}"


def _cells(rows: list[Element], columns: int) -> Iterator[Cell]:
    for row, element in enumerate(rows):
        for column, cell in enumerate(element.findall(tag("a:tc"))[:columns]):
            if flag(cell, "hMerge") or flag(cell, "vMerge"):
                continue
            place = CellPlace(row, column, len(rows), columns)
            spans_down = min(max(1, whole(cell, "rowSpan", 1)), len(rows) - row)
            spans_right = min(max(1, whole(cell, "gridSpan", 1)), columns - column)
            yield Cell(cell, place, spans_down, spans_right)


def _edges(start: float, sizes: list[float]) -> list[float]:
    edges = [start]
    for size in sizes:
        edges.append(edges[-1] + size)
    return edges


class TableReader:
    """Reads one table into items."""

    def __init__(
        self,
        table: Element,
        box: Box,
        transform: Affine,
        words: str,
        address: str,
        page: int,
        parts: Setting,
    ) -> None:
        self.table = table
        self.box = box
        self.transform = transform
        self.words = words
        self.address = address
        self.page = page
        self.parts = parts
        self.style: TableStyle = table_style_of(child(table, "a:tblPr"), parts.table_styles)
        self.rows = table.findall(tag("a:tr"))
        grid = child(table, "a:tblGrid")
        columns = grid.findall(tag("a:gridCol")) if grid is not None else []
        self.widths = [max(0.0, whole(column, "w") / EMU_PER_POINT) for column in columns]

    def items(self) -> list[Item]:
        """Give the table's fills, lines and texts, lowest first.

        A row is as high as it states or as its text needs, whichever is more.
        """
        if len(self.rows) * len(self.widths) > MOST_CELLS:
            return [Obstacle(self.box, self.transform, "the table is too large to be painted")]
        cells = list(_cells(self.rows, len(self.widths)))
        lefts = _edges(self.box.x, self.widths)
        heights = [max(0.0, whole(row, "h") / EMU_PER_POINT) for row in self.rows]
        blocks: dict[int, TextBlock] = {}
        for index, cell in enumerate(cells):
            width = lefts[cell.place.column + cell.columns] - lefts[cell.place.column]
            block = self._block(cell, Box(0.0, 0.0, width, 1.0))
            if block is None:
                continue
            blocks[index] = block
            if cell.rows == 1 and not self._turn(cell):
                needed = (
                    text_height(block) + self._margin(cell, "marT") + self._margin(cell, "marB")
                )
                row = cell.place.row
                heights[row] = max(heights[row], needed)
        tops = _edges(self.box.y, heights)
        fills: list[Item] = list(self._whole_fill(lefts, tops))
        lines: list[Item] = []
        texts: list[Item] = []
        for index, cell in enumerate(cells):
            box = self._box_of(cell, lefts, tops)
            fills.extend(self._fill(cell, box))
            lines.extend(self._borders(cell, box))
            if index in blocks:
                block = self._block(cell, box)
                if block is not None:
                    texts.append(block)
        return fills + lines + texts

    def _box_of(self, cell: Cell, lefts: list[float], tops: list[float]) -> Box:
        left, right = lefts[cell.place.column], lefts[cell.place.column + cell.columns]
        top, bottom = tops[cell.place.row], tops[cell.place.row + cell.rows]
        return Box(left, top, right - left, bottom - top)

    def _whole_fill(self, lefts: list[float], tops: list[float]) -> Iterator[Item]:
        """Paint the table's own background, from its properties or its style (§20.1.4.2.25)."""
        palette = self.parts.palette
        fill = read_fill(fill_element(child(self.table, "a:tblPr")), palette)
        if fill == Fill():
            background = child(self.style.style, "a:tblBg")
            fill = read_fill(fill_element(child(background, "a:fill")), palette)
        box = Box(lefts[0], tops[0], lefts[-1] - lefts[0], tops[-1] - tops[0])
        yield from self._painted(fill, box)

    def _fill(self, cell: Cell, box: Box) -> Iterator[Item]:
        element = fill_element(child(cell.element, "a:tcPr"))
        if element is not None:
            fill = read_fill(element, self.parts.palette)
        else:
            fill = self.style.fill_for(cell.place, self.parts.palette, self.parts.theme)
        yield from self._painted(fill, box, address_below(self._address_of(cell), fill=""))

    def _address_of(self, cell: Cell) -> str:
        return address_below(self.address, row=cell.place.row + 1, cell=cell.place.column + 1)

    def _painted(self, fill: Fill, box: Box, address: str = "") -> Iterator[Item]:
        painted = fill.for_shape(box, self.transform)
        if fill.picture:
            painted = "a picture in a table cell isn't painted yet"
        if isinstance(painted, str):
            yield Obstacle(box, self.transform, painted)
        elif painted is not None:
            yield Figure(rectangle(box), box, self.transform, fill=painted, address=address)

    def _borders(self, cell: Cell, box: Box) -> Iterator[Item]:
        """Paint a cell's borders: its own (a:lnL and its relatives), else its style's."""
        properties = child(cell.element, "a:tcPr")
        palette, theme = self.parts.palette, self.parts.theme
        corners = ((box.x, box.y), (box.right, box.y), (box.x, box.bottom), (box.right, box.bottom))
        sides = {"left": (0, 2), "right": (1, 3), "top": (0, 1), "bottom": (2, 3)}
        for side, (one, other) in sides.items():
            start, end = corners[one], corners[other]
            element = child(properties, f"a:ln{side[0].upper()}")
            if element is not None:
                read = read_line([(element, palette)], BORDER_WIDTH)
            else:
                # A merged cell's far sides are those of the last cell that it covers.
                far = side in ("right", "bottom")
                read = self.style.border_for(cell.end if far else cell.place, side, palette, theme)
            stroke = read.stroke(box, self.transform) if read is not None else None
            if isinstance(stroke, Stroke):
                yield Figure(line(start, end), box, self.transform, stroke=stroke)

    def _margin(self, cell: Cell, name: str) -> float:
        properties = child(cell.element, "a:tcPr")
        stated = properties.get(name) if properties is not None else None
        return number(stated, MARGINS[name]) / EMU_PER_POINT

    def _turn(self, cell: Cell) -> float:
        properties = child(cell.element, "a:tcPr")
        direction = properties.get("vert", "horz") if properties is not None else "horz"
        return _TURNED.get(direction, 0.0 if direction == "horz" else 90.0)

    def _block(self, cell: Cell, box: Box) -> TextBlock | None:
        body = child(cell.element, "a:txBody")
        if body is None:
            return None
        inner = Box(
            box.x + self._margin(cell, "marL"),
            box.y + self._margin(cell, "marT"),
            max(1.0, box.width - self._margin(cell, "marL") - self._margin(cell, "marR")),
            max(1.0, box.height - self._margin(cell, "marT") - self._margin(cell, "marB")),
        )
        override = self.style.text_for(cell.place, self.parts.palette, self.parts.theme)
        sources = sources_of(Lineage((), (), None), self.parts, body, override)
        place = Place(
            inner,
            self.transform,
            f"{self.words} › {cell.words}",
            self._address_of(cell),
            self.page,
        )
        block = text_block(body, (), place, sources, self.parts)
        if block is None:
            return None
        properties = child(cell.element, "a:tcPr")
        anchor = properties.get("anchor", "t") if properties is not None else "t"
        doubt = "the place of turned text in a table is only estimated" if self._turn(cell) else ""
        # A cell's margins and anchor are its own; the body's insets mean nothing here.
        return replace(
            block,
            box=inner,
            transform=self.transform,
            anchor=_ANCHORS.get(anchor, Anchor.TOP),
            wraps=True,
            doubt=block.doubt or doubt,
        )
