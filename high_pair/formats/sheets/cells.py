"""The cells of a sheet: where they are, what they hold, and which style they have.

A sheet may have a million of them, so they are kept as arrays. A cell uses its
own style and no other (§18.3.1.4): one that names none has the first.
"""

from __future__ import annotations

from array import array
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from high_pair.formats.xml import Element, digits, tag
from high_pair.scene.grid import MOST_COLUMNS, MOST_ROWS, Cell, column_number

_CELL, _VALUE, _INLINE = tag("x:c"), tag("x:v"), tag("x:is")
_TEXT, _ROW, _RUN = tag("x:t"), tag("x:row"), tag("x:r")
MOST_CELLS = 5_000_000
# More than any program writes; what is past it isn't there either.
MOST_STYLES = 1_000_000


@dataclass(frozen=True)
class SharedText:
    """A text of a cell, or of a workbook's list of texts, and its runs when they differ in look.

    element: what holds the runs; None for plain words.
    """

    words: str
    element: Element | None = None


@dataclass
class Cells:
    """Cells with something in them: arrays of one entry each, and what they hold.

    values: numbers, words, truth values as words; numbers: the same, nan for
    what is none; rich: cells whose runs differ in look.
    """

    rows: NDArray[np.int32]
    columns: NDArray[np.int32]
    styles: NDArray[np.int32]
    values: list[float | str]
    numbers: NDArray[np.float64]
    rich: dict[int, SharedText] = field(default_factory=dict)
    places: dict[Cell, int] | None = None

    def at(self, row: int, column: int) -> int | None:
        """Give the entry of a cell; None for an empty one."""
        if self.places is None:
            cells = zip(self.rows.tolist(), self.columns.tolist(), strict=True)
            self.places = {cell: place for place, cell in enumerate(cells)}
        return self.places.get((row, column))


@dataclass(frozen=True)
class Written:
    """All cells that a sheet writes down, empty ones too: arrays of one entry each."""

    rows: NDArray[np.int32]
    columns: NDArray[np.int32]
    styles: NDArray[np.int32]


class CellReader:
    """Reads the cells of a sheet row by row; those without any text are left out."""

    def __init__(self, shared: list[SharedText]) -> None:
        self._shared = shared
        self._rows, self._columns, self._styles = array("i"), array("i"), array("i")
        self._values: list[float | str] = []
        self._rich: dict[int, SharedText] = {}
        self._letters: dict[str, int] = {}
        self._next_row = 0
        self._written = tuple(array("i") for _ in range(3))

    def row(self, row: Element) -> None:
        """Read a row."""
        stated = digits(row.get("r"))
        here = stated - 1 if stated is not None else self._next_row
        if not 0 <= here < MOST_ROWS:
            return
        self._next_row = here + 1
        next_column = 0
        for cell in row:
            if cell.tag != _CELL:
                continue
            column = self._column(cell.get("r"), next_column)
            next_column = column + 1
            style = min(digits(cell.get("s")) or 0, MOST_STYLES)
            if column < MOST_COLUMNS:
                for values, each in zip(self._written, (here, column, style), strict=True):
                    values.append(each)
                self._take(cell, here, column, style)

    def _column(self, name: str | None, usual: int) -> int:
        if name is None:
            return usual
        letters = name.rstrip("0123456789")
        column = self._letters.get(letters, -1)
        if column < 0:
            alphabetic = letters.isalpha() and len(letters) <= 3
            column = column_number(letters) if alphabetic else usual
            self._letters[letters] = column
        return column

    def _take(self, cell: Element, row: int, column: int, style: int) -> None:
        value = _value(cell, self._shared)
        if value is None or len(self._values) >= MOST_CELLS:
            return
        words = value.words if isinstance(value, SharedText) else value
        if isinstance(words, str) and not words.strip():
            return
        if isinstance(value, SharedText) and value.element is not None:
            self._rich[len(self._values)] = value
        self._rows.append(row)
        self._columns.append(column)
        self._styles.append(style)
        self._values.append(words)

    def cells(self) -> Cells:
        """Give the cells that were read."""
        numbers = (v if isinstance(v, float) else np.nan for v in self._values)
        return Cells(
            np.array(self._rows, np.int32),
            np.array(self._columns, np.int32),
            np.array(self._styles, np.int32),
            self._values,
            np.fromiter(numbers, np.float64, len(self._values)),
            self._rich,
        )

    def written(self) -> Written:
        """Give all cells that were there."""
        return Written(*(np.array(each, np.int32) for each in self._written))


def read_cells(data: Element | None, shared: list[SharedText]) -> Cells:
    """Read a sheetData; cells without any text are left out."""
    reader = CellReader(shared)
    for row in data.iter(_ROW) if data is not None else ():
        reader.row(row)
    return reader.cells()


def _value(cell: Element, shared: list[SharedText]) -> float | str | SharedText | None:
    """Give what a cell holds (§18.18.11); None for nothing."""
    kind = cell.get("t", "n")
    for each in cell:
        if each.tag == _VALUE:
            text = each.text or ""
            if kind == "s":
                place = digits(text)
                return shared[place] if place is not None and place < len(shared) else None
            if kind == "b":
                return "TRUE" if text.strip() == "1" else "FALSE"
            if kind in ("str", "e", "d"):
                return text
            try:
                return float(text)
            except ValueError:
                return text or None
        if each.tag == _INLINE:
            return shared_text(each)
    return None


def shared_text(element: Element) -> SharedText:
    """Read an si or an is; phonetic runs aren't shown (§18.4.8)."""
    if len(element) == 1 and element[0].tag == _TEXT:
        return SharedText(element[0].text or "")
    runs = element.findall(_RUN)
    if not runs:
        return SharedText("".join(each.text or "" for each in element.findall(_TEXT)))
    words = "".join(each.text or "" for run in runs for each in run.findall(_TEXT))
    return SharedText(words, element)
