"""The cells of a sheet: where they are, what they hold, and which style they have.

A sheet may have a million of them, so they are kept as arrays. A cell uses its
own style and no other (§18.3.1.4): one that names none has the first.
"""

from __future__ import annotations

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
    """A text of the workbook's list: its words, and its runs when they differ in look.

    element: the si with the runs; None for plain words.
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


def read_cells(data: Element | None, shared: list[SharedText]) -> Cells:
    """Read a sheetData; cells without any text are left out."""
    rows: list[int] = []
    columns: list[int] = []
    styles: list[int] = []
    values: list[float | str] = []
    rich: dict[int, SharedText] = {}
    letters: dict[str, int] = {}
    next_row = 0
    for row in data.iter(_ROW) if data is not None else ():
        stated = digits(row.get("r"))
        here = stated - 1 if stated is not None else next_row
        if not 0 <= here < MOST_ROWS:
            continue
        next_row = here + 1
        next_column = 0
        for cell in row:
            if cell.tag != _CELL:
                continue
            name = cell.get("r")
            if name is not None:
                column_letters = name.rstrip("0123456789")
                column = letters.get(column_letters, -1)
                if column < 0:
                    alphabetic = column_letters.isalpha() and len(column_letters) <= 3
                    column = column_number(column_letters) if alphabetic else next_column
                    letters[column_letters] = column
            else:
                column = next_column
            next_column = column + 1
            value = _value(cell, shared)
            if value is None or len(values) >= MOST_CELLS:
                continue
            if isinstance(value, SharedText):
                if value.element is not None:
                    rich[len(values)] = value
                value = value.words
            if isinstance(value, str) and not value.strip():
                continue
            if column >= MOST_COLUMNS:
                continue
            style = digits(cell.get("s")) or 0
            rows.append(here)
            columns.append(column)
            styles.append(min(style, MOST_STYLES))
            values.append(value)
    numbers = np.array([v if isinstance(v, float) else np.nan for v in values], np.float64)
    return Cells(
        np.array(rows, np.int32),
        np.array(columns, np.int32),
        np.array(styles, np.int32),
        values,
        numbers,
        {place: text for place, text in rich.items() if place < len(values)},
    )


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
