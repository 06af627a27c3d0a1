"""An ODF spreadsheet as a document: its sheets as pages, edits, and the saved copy."""

from __future__ import annotations

from high_pair.errors import UnreadableFile
from high_pair.formats.document import PageInfo, Shown
from high_pair.formats.odf.cells import tables_in
from high_pair.formats.odf.document import OdfDocument
from high_pair.formats.odf.file import CONTENT, OdfFile
from high_pair.formats.odf.shapes import PageContext
from high_pair.formats.odf.sheet_shapes import SheetShapes
from high_pair.formats.odf.sheet_source import OdfSheetSource
from high_pair.formats.odf.styles import attribute
from high_pair.formats.sheets.drawings import drawn_extent, is_text
from high_pair.formats.sheets.looks import Place
from high_pair.formats.sheets.painting import cell_items
from high_pair.formats.sheets.sheet import Sheet
from high_pair.formats.xml import tag
from high_pair.scene.addresses import address_in
from high_pair.scene.geometry import Box
from high_pair.scene.page import Item, Scene
from high_pair.scene.paint import WHITE

KIND = "spreadsheet"
MOST_SHEETS = 2_000
ROUND = 24.0


class OdfSpreadsheet(OdfDocument):
    """An open ODF spreadsheet; see `formats.document.Document`, whose methods it has."""

    kind = KIND
    page_step = "sheet"

    def _take(self, file: OdfFile, before: int | None) -> None:
        super()._take(file, before)
        self._tables = tables_in(file.content)
        if len(self._tables) > MOST_SHEETS:
            raise UnreadableFile(self.name, f"it has {len(self._tables):,} sheets.")
        self._sheets: dict[int, Sheet] = {}
        self.pages = tuple(self._info(count) for count in range(len(self._tables)))

    def _sheet(self, count: int) -> Sheet:
        if count not in self._sheets:
            table = self._tables[count]
            place = Place(CONTENT, self._file.styles_member, "", number=count + 1, turns=True)
            address = address_in(CONTENT, sheet=count + 1)
            source = OdfSheetSource(table, self._file.styles, self._file.styles_member, address)
            self._sheets[count] = Sheet(
                source, self._words(count), place, read_other=self._value_at
            )
        return self._sheets[count]

    def _words(self, count: int) -> str:
        return f"Sheet {count + 1}, {self._tables[count].get(tag('table:name'), '')}"

    def _value_at(self, sheet: str | None, row: int, column: int) -> float | str | None:
        for count, table in enumerate(self._tables):
            name = table.get(tag("table:name"), "")
            if sheet is not None and name.lower() == sheet.strip("'$").lower():
                return self._sheet(count).value_at(None, row, column)
        return None

    def _info(self, count: int) -> PageInfo:
        table, sheet = self._tables[count], self._sheet(count)
        chain = self._file.styles.chain("table", table.get(tag("table:style-name")), "content")
        hidden = attribute(chain, "table", "table:display") == "false"
        width, height = max(1.0, sheet.grid.width), max(1.0, sheet.grid.height)
        for item in self._drawings(count):
            extent = drawn_extent(item)
            width, height = max(width, extent.right + ROUND), max(height, extent.bottom + ROUND)
        return PageInfo(self._words(count), width, height, hidden, shown=Shown.SHEET)

    def _drawings(self, count: int) -> list[Item]:
        return self._shapes(count).items()

    def _shapes(self, count: int) -> SheetShapes:
        """Read what lies over a sheet's cells: its own shapes, those in cells, and comments."""
        file = self._file
        context = PageContext(
            self._words(count),
            address_in(CONTENT, sheet=count + 1),
            "content",
            WHITE,
            {},
            file.bare_is_tenths,
            file.picture_name,
            file.picture_size,
            file.picture_mean,
            file.object_root,
            file.skips_shapes_text,
        )
        return SheetShapes(self._tables[count], self._sheet(count).grid, file.styles, context)

    def scene(self, page: int) -> Scene:
        """Describe a sheet for measuring: what it states, and its drawings with the cells below."""
        info, sheet = self.pages[page], self._sheet(page)
        items: list[Item] = [*sheet.stated(), *self._shapes(page).comments()]
        drawings = self._drawings(page)
        width, height = info.width, info.height
        if drawings:
            boxes = [drawn_extent(item) for item in drawings]
            width = min(width, max(box.right for box in boxes) + ROUND)
            height = min(height, max(box.bottom for box in boxes) + ROUND)
            below = cell_items(sheet, sheet.grid.area_in(Box(0.0, 0.0, width, height)))
            items += [item for item in below if not is_text(item)]
            items += drawings
        return Scene(max(1.0, width), max(1.0, height), tuple(items), hidden=info.hidden)

    def part_of(self, page: int, box: Box) -> Scene:
        """Describe what a part of a sheet shows, for painting."""
        info, sheet = self.pages[page], self._sheet(page)
        items = [*cell_items(sheet, sheet.grid.area_in(box)), *self._drawings(page)]
        return Scene(info.width, info.height, tuple(items), hidden=info.hidden)

    def address_at(self, page: int, x: float, y: float) -> str:
        """Give the address of the look that the cell at a point has."""
        return self._sheet(page).address_at(x, y)
