"""The cells of an ODF sheet, and the looks that their styles give them (ODF 1.3 Part 3 §9.1)."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass

from high_pair.formats.xml import Element, children, local_name, tag, whole

# A sheet's last rows and columns are often repeated to its end; cells with words seldom.
MOST_REPEATS = 4_000
# Cells of a table that are gone through; rows and cells past it count once, however often they
# are repeated: their copies look the same.
MOST_COPIES = 100_000
MOST_COLUMNS, MOST_ROWS = 16_384, 1_048_576
_ROW_GROUPS = ("table-rows", "table-row-group", "table-header-rows")
_COLUMN_GROUPS = ("table-columns", "table-column-group", "table-header-columns")


@dataclass(frozen=True)
class PlacedCell:
    """A cell: its element, its place from 0, and the name of the style that it has."""

    element: Element
    row: int
    column: int
    style: str


def columns_of(table: Element) -> Iterator[tuple[Element, int]]:
    """Give a table's columns with how often each is repeated."""
    for each in children(table):
        name = local_name(each)
        if name == "table-column":
            yield each, max(1, whole(each, tag("table:number-columns-repeated"), 1))
        elif name in _COLUMN_GROUPS:
            yield from columns_of(each)


def rows_of(table: Element) -> Iterator[tuple[Element, int]]:
    """Give a table's rows with how often each is repeated."""
    for each in children(table):
        name = local_name(each)
        if name == "table-row":
            yield each, max(1, whole(each, tag("table:number-rows-repeated"), 1))
        elif name in _ROW_GROUPS:
            yield from rows_of(each)


def defaults_of(table: Element) -> list[tuple[int, str]]:
    """Give the columns' default cell styles: up to which column (not in it) each counts."""
    found = []
    end = 0
    for column, repeats in columns_of(table):
        end += repeats
        found.append((end, column.get(tag("table:default-cell-style-name"), "")))
    return found


def cells_in(table: Element, empty: bool = False) -> Iterator[PlacedCell]:
    """Give a table's cells, those with words in them or (empty) all that it writes down.

    A cell without a style has its row's default, or else its column's (§19.615).
    """
    defaults = defaults_of(table)
    top = given = 0
    for row, repeats in rows_of(table):
        row_default = row.get(tag("table:default-cell-style-name"), "")
        left = 0
        most_across = MOST_REPEATS if given < MOST_COPIES else 1
        found: list[tuple[Element, int, str]] = []
        for cell in children(row):
            across = max(1, whole(cell, tag("table:number-columns-repeated"), 1))
            if local_name(cell) == "table-cell" and (empty or has_words(cell)):
                shown = min(across, most_across)
                for column in range(left, min(left + shown, MOST_COLUMNS)):
                    name = cell.get(tag("table:style-name")) or row_default
                    found.append((cell, column, name or _default(defaults, column)))
            left += across
        copies = min(repeats, MOST_REPEATS, 1 + (MOST_COPIES - given) // max(1, len(found)))
        given += max(1, copies) * len(found)
        for copy in range(max(1, copies) if found else 0):
            for cell, column, name in found:
                if top + copy < MOST_ROWS:
                    yield PlacedCell(cell, top + copy, column, name)
        top += repeats


class StylesByPlace:
    """The names of the styles of a table's cells, however often they are repeated."""

    def __init__(self, table: Element) -> None:
        """Take a table; its rows are gone through when they are asked for."""
        self._defaults = defaults_of(table)
        self._starts: list[int] = []
        self._rows: list[Element] = []
        self._end = 0
        for row, repeats in rows_of(table):
            self._starts.append(self._end)
            self._rows.append(row)
            self._end += repeats
        # By a row's count: where its cells begin, and their styles.
        self._cells: dict[int, tuple[list[int], list[str]]] = {}

    def at(self, row: int, column: int) -> str:
        """Give the style of a cell; empty where none is stated."""
        if not row < self._end:
            return _default(self._defaults, column)
        count = bisect_right(self._starts, row) - 1
        if count not in self._cells:
            self._cells[count] = self._cells_of(self._rows[count])
        starts, names = self._cells[count]
        place = bisect_right(starts, column) - 1
        return (names[place] if place >= 0 else "") or _default(self._defaults, column)

    def _cells_of(self, row: Element) -> tuple[list[int], list[str]]:
        row_default = row.get(tag("table:default-cell-style-name"), "")
        starts, names, left = [], [], 0
        for cell in children(row):
            starts.append(left)
            names.append(cell.get(tag("table:style-name")) or row_default)
            left += max(1, whole(cell, tag("table:number-columns-repeated"), 1))
        return [*starts, left], [*names, row_default]


def _default(defaults: list[tuple[int, str]], column: int) -> str:
    return next((name for end, name in defaults if column < end), "")


def has_words(cell: Element) -> bool:
    """Tell whether a cell shows any text."""
    return any(
        "".join(str(part) for part in each.itertext()).strip()
        for each in children(cell)
        if local_name(each) in ("p", "h", "list")
    )


def words_of(cell: Element) -> str:
    """Give a cell's text as it is shown."""
    lines = [
        "".join(str(part) for part in each.itertext())
        for each in children(cell)
        if local_name(each) == "p"
    ]
    return "\n".join(lines)


def looks_in(table: Element) -> list[str]:
    """List the styles of a table's cells with words, as they first come: by these looks count."""
    return list(dict.fromkeys(cell.style for cell in cells_in(table)))


def tables_in(root: Element) -> list[Element]:
    """List the sheets of a spreadsheet."""
    body = root.find(f"{tag('office:body')}/{tag('office:spreadsheet')}")
    return [each for each in children(body) if local_name(each) == "table"]
