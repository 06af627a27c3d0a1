"""Working out the formulas of conditional formats, by a library that knows the functions.

The library is given a formula in which every reference is a name of its own,
so that one translation serves all cells of a range: each cell fills the names
with the values that its own shifted references lead to.
"""

from __future__ import annotations

import functools
import logging
import re
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from high_pair.scene.grid import MOST_COLUMNS, MOST_ROWS, column_number

# Gives the value of a cell of a sheet (None for the one at hand): a number, words, or None.
Reader = Callable[[str | None, int, int], float | str | None]
_PIECES = re.compile(
    r'"(?:[^"]|"")*"'  # words
    r"|(?:(?:'((?:[^']|'')+)'|([A-Za-z_][\w.]*))!)?"
    r"(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)(\d{1,7}))?(?![\w(])"
    r"|\b(ROW|COLUMN)\(\s*\)"
)
# A range of more cells than this isn't gathered anew for every cell.
MOST_IN_RANGE = 20_000
LONGEST = 400
# What would take a formula beyond the sheet, or grow without end.
_REFUSED = re.compile(
    r"\b(INDIRECT|OFFSET|WEBSERVICE|HYPERLINK|CALL|REGISTER|REPT|FACT|COMBIN)\s*\(", re.IGNORECASE
)


@dataclass(frozen=True)
class Reference:
    """A reference of a formula: its corners, and which of their parts move with the cell."""

    sheet: str | None
    corners: tuple[tuple[int, bool, int, bool], ...]


Compiled = Callable[[tuple[int, int], tuple[int, int], Reader], bool | None]


@functools.lru_cache(maxsize=512)
def compiled(formula: str) -> Compiled | None:
    """Translate a formula; None for one that can't be worked out."""
    text = formula.strip().removeprefix("=")
    if not text or len(text) > LONGEST or _REFUSED.search(text):
        return None
    references: list[Reference] = []

    def replaced(match: re.Match[str]) -> str:
        if match.group(11):
            return f"HP_{match.group(11).upper()}"
        if match.group(4) is None:
            return match.group()
        sheet = match.group(1) or match.group(2)
        corners = [(match.group(6), match.group(5), match.group(4), match.group(3))]
        if match.group(8):
            corners.append((match.group(10), match.group(9), match.group(8), match.group(7)))
        references.append(
            Reference(
                sheet.replace("''", "'") if sheet else None,
                tuple(
                    (int(row) - 1, not row_fixed, column_number(column), not column_fixed)
                    for row, row_fixed, column, column_fixed in corners
                ),
            )
        )
        return f"HP_REF{len(references)}"

    named = _PIECES.sub(replaced, text)
    function = _translated(named)
    if function is None:
        return None
    inputs, call = function

    def work_out(shift: tuple[int, int], cell: tuple[int, int], reader: Reader) -> bool | None:
        given = []
        for name in inputs:
            if name == "HP_ROW":
                given.append(_array([[float(cell[0] + 1)]]))
            elif name == "HP_COLUMN":
                given.append(_array([[float(cell[1] + 1)]]))
            elif name.startswith("HP_REF"):
                values = _values(references[int(name[6:]) - 1], shift, reader)
                if values is None:
                    return None
                given.append(_array(values))
            else:
                return None
        return _truth(call, given)

    return work_out


def _translated(text: str) -> tuple[list[str], Callable[..., object]] | None:
    # The library takes a while to load, and few files need it.
    import formulas

    logging.getLogger("schedula").setLevel(logging.ERROR)
    try:
        call = formulas.Parser().ast(f"={text}")[1].compile()
    except Exception:
        return None
    return [str(name) for name in call.inputs], call


def _array(values: list[list[float | str | None]]) -> np.ndarray:
    import schedula

    found = np.empty((len(values), len(values[0])), object)
    for row, entries in enumerate(values):
        for column, value in enumerate(entries):
            found[row, column] = schedula.EMPTY if value is None else value
    return found


def _values(
    reference: Reference, shift: tuple[int, int], reader: Reader
) -> list[list[float | str | None]] | None:
    """Gather what a reference leads to, shifted with the cell; None where that leaves the sheet."""
    cells = []
    for row, row_moves, column, column_moves in reference.corners:
        at = (row + shift[0] * row_moves, column + shift[1] * column_moves)
        if not (0 <= at[0] < MOST_ROWS and 0 <= at[1] < MOST_COLUMNS):
            return None
        cells.append(at)
    (top, left), (bottom, right) = cells[0], cells[-1]
    top, bottom = min(top, bottom), max(top, bottom)
    left, right = min(left, right), max(left, right)
    if (bottom - top + 1) * (right - left + 1) > MOST_IN_RANGE:
        return None
    return [
        [reader(reference.sheet, row, column) for column in range(left, right + 1)]
        for row in range(top, bottom + 1)
    ]


def _truth(call: Callable[..., object], given: list[np.ndarray]) -> bool | None:
    """Work a formula out; an error holds for nothing, and what can't be told gives None."""
    try:
        result = np.asarray(call(*given), object).ravel()
    except Exception:
        return None
    if not len(result):
        return None
    value = result[0]
    if isinstance(value, bool | np.bool_):
        return bool(value)
    if isinstance(value, int | float | np.number):
        return bool(value != 0)
    return False if str(value).startswith("#") else None
