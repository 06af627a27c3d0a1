"""A sheet of a workbook as it is read: sizes, merged cells, styles, number formats."""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from high_pair.formats.number_formats import has_colours, section_for, shown
from high_pair.formats.sheets.cells import CellReader, Cells, SharedText, Written, read_cells
from high_pair.formats.sheets.conditional import Rule, read_rules
from high_pair.formats.sheets.expressions import Reader
from high_pair.formats.sheets.looks import Place
from high_pair.formats.sheets.sheet import RichPart, Section
from high_pair.formats.sheets.styles import Font, Style, StyleTable
from high_pair.formats.xml import Element, child, children, digits, flag, number, tag, whole
from high_pair.scene.addresses import address_in
from high_pair.scene.grid import MOST_COLUMNS, Area, Cell, read_areas

# §18.3.1.13: a column's width counts digits of the default font, 7 pixels each at 96 dpi.
DIGIT = 7.0
PIXEL = 0.75
PLAIN_WIDTH, PLAIN_HEIGHT = 8.43, 15.0
INLINE = "This text stands in the cell itself, in parts."


class WorkbookSource:
    """What a worksheet's part says; see `sheet.Source`."""

    def __init__(
        self,
        root: Element,
        place: Place,
        styles: StyleTable,
        shared: list[SharedText],
        from_1904: bool = False,
        styles_of_file: Mapping[int, int] | None = None,
        cells: Cells | None = None,
        written: Written | None = None,
    ) -> None:
        """Read the cells.

        styles_of_file: for styles that edits have made, the ones that their cells
        have in the file, by which addresses name them; cells: of this root, where
        they were read before; written: all cells, where the root doesn't hold them.
        """
        self.root = root
        self.place = place
        self.styles = styles
        self.from_1904 = from_1904
        self._styles_of_file = styles_of_file or {}
        self._shared = shared
        self._given = written
        self.cells = cells or read_cells(child(root, "x:sheetData"), shared)

    @property
    def default_font(self) -> Font:
        """The font of cells that no style speaks of."""
        return self.styles.default_font

    @functools.cached_property
    def merged(self) -> tuple[Area, ...]:
        """The merged cells."""
        found: list[Area] = []
        for each in children(child(self.root, "x:mergeCells")):
            found += read_areas(each.get("ref", ""))
        return tuple(found)

    def sizes(self, used: Area) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """The widths of all columns and the heights of all rows in points; 0 for hidden ones."""
        plain = child(self.root, "x:sheetFormatPr")
        width = number(plain.get("defaultColWidth") if plain is not None else None, PLAIN_WIDTH)
        height = number(plain.get("defaultRowHeight") if plain is not None else None, PLAIN_HEIGHT)
        hidden_rows = flag(plain, "zeroHeight")
        widths = np.full(used.right + 1, _points(width))
        for each in children(child(self.root, "x:cols")):
            first, last = whole(each, "min", 1) - 1, whole(each, "max", 1) - 1
            own = 0.0 if flag(each, "hidden") else _points(number(each.get("width"), width))
            if 0 <= first <= last:
                widths[first : min(last, used.right) + 1] = own
        heights = np.full(used.bottom + 1, 0.0 if hidden_rows else min(409.0, max(0.0, height)))
        for row, element in self.rows.items():
            if row <= used.bottom:
                stated = element.get("ht")
                if flag(element, "hidden"):
                    heights[row] = 0.0
                elif stated is not None:
                    heights[row] = min(409.0, max(0.0, number(stated, height)))
        return widths, heights

    def fitting_rows(self, used: Area) -> NDArray[np.bool_]:
        """Tell of the rows which are as high as their text: those without a height (§18.3.1.73)."""
        free = np.ones(used.bottom + 1, bool)
        for row, element in self.rows.items():
            if row <= used.bottom:
                free[row] = element.get("ht") is None
        return free

    @functools.cached_property
    def rows(self) -> dict[int, Element]:
        """The rows' elements by their numbers, from 0."""
        found: dict[int, Element] = {}
        here = 0
        data = child(self.root, "x:sheetData")
        for row in data.findall(tag("x:row")) if data is not None else ():
            stated = digits(row.get("r"))
            here = stated - 1 if stated is not None else here
            found[here] = row
            here += 1
        return found

    def rules(self, value_at: Reader) -> list[Rule]:
        """The conditional formats, in order."""
        return read_rules(self.root, self.styles, value_at, self.from_1904)

    def style(self, index: int) -> Style:
        """Give a style under the number that the file has for it."""
        style = self.styles.style(index)
        return replace(style, index=self._styles_of_file.get(index, style.index))

    def has_sections(self, style: Style) -> bool:
        """Tell whether a style's number format has colours, or shows nothing of some values."""
        return bool(style.format) and has_colours(style.format)

    def section(self, style: Style, value: float | str) -> Section:
        """Give the colour that the number format gives a value, and whether it shows nothing."""
        found = section_for(style.format, value)
        colour = found.colour if found is not None else None
        if isinstance(colour, int):
            colour = self._indexed(colour)
        return colour, found is not None and not found.code.strip()

    def _indexed(self, index: int) -> tuple[int, int, int] | None:
        palette = self.styles.colours.palette
        if not 0 <= index < len(palette):
            return None
        try:
            levels = bytes.fromhex(palette[index][-6:])
        except ValueError:
            return None
        return levels[0], levels[1], levels[2]

    def text(self, entry: int) -> str:
        """Give a cell's text about as it is shown."""
        value = self.cells.values[entry]
        code = self.styles.style(int(self.cells.styles[entry])).format
        found = shown(code, value, self.from_1904)
        return found or (value if isinstance(value, str) else f"{value:.10g}")

    @functools.cached_property
    def _numbers(self) -> dict[int, int]:
        return {id(each.element): count for count, each in enumerate(self._shared, start=1)}

    def parts(self, text: SharedText, style: Style) -> Sequence[RichPart]:
        """Give the runs of a cell whose runs differ in look."""
        if text.element is None:
            return ()
        index = self._numbers.get(id(text.element))
        found = []
        for count, run in enumerate(text.element.findall(tag("x:r")), start=1):
            words = "".join(each.text or "" for each in run.findall(tag("x:t")))
            properties = child(run, "x:rPr")
            if not words.strip():
                continue
            if properties is None:
                # It follows the cell's own font.
                found.append(RichPart(words, style.font))
                continue
            font = self.styles.font(properties, replace(style.font, colour=None))
            address = address_in(self.place.strings, si=index, r=count) if index else ""
            found.append(RichPart(words, font, address, "" if index else INLINE))
        return found

    def dressed(self, area: Area) -> dict[Cell, Style]:
        """Give the styles of an area's cells that have fills or borders, empty cells too."""
        written = self._written
        inside = (written.rows >= area.top) & (written.rows <= area.bottom)
        inside &= (written.columns >= area.left) & (written.columns <= area.right)
        places = zip(written.rows[inside].tolist(), written.columns[inside].tolist(), strict=True)
        styles = dict(zip(places, written.styles[inside].tolist(), strict=True))
        by_column = self._column_styles[area.left : area.right + 1].tolist()
        styled = [(area.left + place, index) for place, index in enumerate(by_column) if index]
        for row in range(area.top, area.bottom + 1):
            across = self._row_style(row)
            if across is None:
                unwritten = styled
            else:
                unwritten = [(column, across) for column in range(area.left, area.right + 1)]
            for column, index in unwritten:
                styles.setdefault((row, column), index)
        made = {index: self.styles.style(index) for index in set(styles.values())}
        return {
            place: made[index]
            for place, index in styles.items()
            if made[index].fill is not None or made[index].edges
        }

    def style_at(self, row: int, column: int) -> Style:
        """Give the style of a cell: its own, or of one that isn't written its row's or column's."""
        key = row * MOST_COLUMNS + column
        keys, styles = self._written_in_order
        place = int(np.searchsorted(keys, key, side="right")) - 1
        if place >= 0 and keys[place] == key:
            return self.styles.style(int(styles[place]))
        across = self._row_style(row)
        index = self._column_styles[column] if across is None else across
        return self.styles.style(int(index))

    @functools.cached_property
    def _written(self) -> Written:
        """All cells that are written down."""
        if self._given is not None:
            return self._given
        reader = CellReader(self._shared)
        for row in self.rows.values():
            reader.row(row)
        return reader.written()

    @functools.cached_property
    def _written_in_order(self) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
        """Where all written cells are, in order, and their styles."""
        keys = self._written.rows.astype(np.int64) * MOST_COLUMNS + self._written.columns
        order = np.argsort(keys, kind="stable")
        return keys[order], self._written.styles[order]

    def _row_style(self, row: int) -> int | None:
        """Give the style that a row states for cells that aren't written (§18.3.1.73)."""
        element = self.rows.get(row)
        return whole(element, "s") if flag(element, "customFormat") else None

    @functools.cached_property
    def _column_styles(self) -> NDArray[np.int64]:
        """The styles that columns state for such cells (§18.3.1.13)."""
        found = np.zeros(MOST_COLUMNS, np.int64)
        for each in children(child(self.root, "x:cols")):
            first, last = whole(each, "min", 1) - 1, whole(each, "max", 1)
            if 0 <= first < last:
                found[first:last] = whole(each, "style")
        return found


def _points(width: float) -> float:
    """Give a column's width in points from its width in digits (§18.3.1.13)."""
    pixels = int((256 * min(255.0, max(0.0, width)) + int(128 / DIGIT)) / 256 * DIGIT)
    return pixels * PIXEL
