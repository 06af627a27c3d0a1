"""The grid of a sheet: where its cells are, and how they are named."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from high_pair.scene.geometry import Box

_REFERENCE = re.compile(r"^\$?([A-Za-z]{1,3})\$?(\d{1,7})$")
MOST_COLUMNS, MOST_ROWS = 16_384, 1_048_576
# The width and the height of cells past those in use, in points.
PLAIN_CELL = (48.0, 15.0)

# A cell: row and column, from 0.
Cell = tuple[int, int]


@dataclass(frozen=True)
class Area:
    """A block of cells: its first and last row and column, from 0, both within it."""

    top: int
    left: int
    bottom: int
    right: int

    def holds(self, row: int, column: int) -> bool:
        """Tell whether a cell is in it."""
        return self.top <= row <= self.bottom and self.left <= column <= self.right

    @property
    def words(self) -> str:
        """The block as sheets name it: A1:B9."""
        start = f"{column_name(self.left)}{self.top + 1}"
        end = f"{column_name(self.right)}{self.bottom + 1}"
        return start if start == end else f"{start}:{end}"


def column_name(column: int) -> str:
    """Give a column's letters: 0 is A, 26 is AA."""
    letters = ""
    column += 1
    while column > 0:
        column, rest = divmod(column - 1, 26)
        letters = chr(ord("A") + rest) + letters
    return letters


def column_number(letters: str) -> int:
    """Give a column from its letters, from 0."""
    number = 0
    for letter in letters.upper():
        number = number * 26 + ord(letter) - ord("A") + 1
    return number - 1


def read_cell(text: str) -> Cell | None:
    """Read a reference such as B7 or $B$7; None when it is none."""
    match = _REFERENCE.match(text.strip())
    if match is None:
        return None
    row, column = int(match.group(2)) - 1, column_number(match.group(1))
    return (row, column) if 0 <= row < MOST_ROWS and column < MOST_COLUMNS else None


def read_area(text: str) -> Area | None:
    """Read A1:B9, a single cell, whole columns (A:C) or rows (1:3); None when it is none."""
    first, colon, last = text.replace("$", "").partition(":")
    if colon and first.isalpha() and last.isalpha() and max(len(first), len(last)) <= 3:
        return Area(0, column_number(first), MOST_ROWS - 1, column_number(last))
    if colon and first.isdecimal() and last.isdecimal():
        return Area(int(first) - 1, 0, int(last) - 1, MOST_COLUMNS - 1)
    start, end = read_cell(first), read_cell(last or first)
    if start is None or end is None:
        return None
    rows, columns = sorted((start[0], end[0])), sorted((start[1], end[1]))
    return Area(rows[0], columns[0], rows[1], columns[1])


def read_areas(text: str) -> tuple[Area, ...]:
    """Read areas with blanks between them; what is none is left out."""
    return tuple(area for each in text.split() if (area := read_area(each)) is not None)


def areas_of(cells: Iterable[Cell]) -> list[Area]:
    """Join cells to blocks: down each column first, then columns of the same rows."""
    columns: dict[int, list[int]] = {}
    for row, column in cells:
        columns.setdefault(column, []).append(row)
    open_areas: dict[tuple[int, int], Area] = {}
    found: list[Area] = []
    for column in sorted(columns):
        rows = np.unique(np.array(columns[column], np.int64))
        breaks = np.flatnonzero(np.diff(rows) > 1)
        starts = rows[np.concatenate(([0], breaks + 1))]
        ends = rows[np.concatenate((breaks, [len(rows) - 1]))]
        now: dict[tuple[int, int], Area] = {}
        for top, bottom in zip(starts.tolist(), ends.tolist(), strict=True):
            before = open_areas.pop((top, bottom), None)
            if before is not None and before.right == column - 1:
                now[(top, bottom)] = Area(top, before.left, bottom, column)
            else:
                if before is not None:
                    found.append(before)
                now[(top, bottom)] = Area(top, column, bottom, column)
        found += open_areas.values()
        open_areas = now
    found += open_areas.values()
    return sorted(found, key=lambda area: (area.top, area.left))


def words_for(areas: Sequence[Area], most: int = 6) -> str:
    """Name blocks of cells: B2:B9, D5 and 3 more."""
    shown = [area.words for area in areas[:most]]
    rest = len(areas) - len(shown)
    return ", ".join(shown) + (f" and {rest} more" if rest else "")


@dataclass(frozen=True)
class Grid:
    """Where the columns and rows of a sheet begin, in points; one more entry than there are."""

    columns: NDArray[np.float64]
    rows: NDArray[np.float64]

    @property
    def width(self) -> float:
        """The width of all columns."""
        return float(self.columns[-1])

    @property
    def height(self) -> float:
        """The height of all rows."""
        return float(self.rows[-1])

    def box(self, area: Area) -> Box:
        """Give the place of a block of cells, as far as it is in the grid."""
        left, right = self._at(self.columns, area.left), self._at(self.columns, area.right + 1)
        top, bottom = self._at(self.rows, area.top), self._at(self.rows, area.bottom + 1)
        return Box(left, top, right - left, bottom - top)

    def corner(self, row: int, column: int) -> tuple[float, float]:
        """Give a cell's top left corner; past the grid cells go on at a plain size."""
        past = max(0, column - len(self.columns) + 1), max(0, row - len(self.rows) + 1)
        x = self._at(self.columns, column) + past[0] * PLAIN_CELL[0]
        return x, self._at(self.rows, row) + past[1] * PLAIN_CELL[1]

    def _at(self, edges: NDArray[np.float64], place: int) -> float:
        return float(edges[min(max(place, 0), len(edges) - 1)])

    def area_in(self, box: Box) -> Area:
        """Give the cells that a part of the page shows."""
        return Area(
            max(0, bisect_right(self.rows, box.y) - 1),
            max(0, bisect_right(self.columns, box.x) - 1),
            min(len(self.rows) - 2, max(0, bisect_right(self.rows, box.bottom) - 1)),
            min(len(self.columns) - 2, max(0, bisect_right(self.columns, box.right) - 1)),
        )
