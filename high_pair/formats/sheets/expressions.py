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
# The functions that are worked out: those that give a value in time that grows with what they
# are given, and no more. The library works constants out while it translates, so nothing else
# reaches it.
KNOWN = frozenset(
    """
    ABS ACOS AND ASIN ATAN ATAN2 AVERAGE AVERAGEA AVERAGEIF AVERAGEIFS CEILING CHAR CHOOSE CODE
    COLUMN COLUMNS CONCAT CONCATENATE COS COUNT COUNTA COUNTBLANK COUNTIF COUNTIFS DATE DATEDIF
    DATEVALUE DAY DAYS DEGREES EDATE EOMONTH EVEN EXACT EXP FALSE FIND FLOOR HLOOKUP HOUR IF IFERROR
    IFNA IFS INDEX INT ISBLANK ISERR ISERROR ISEVEN ISLOGICAL ISNA ISNONTEXT ISNUMBER ISODD ISREF
    ISTEXT LARGE LEFT LEN LN LOG LOG10 LOOKUP LOWER MATCH MAX MAXA MAXIFS MEDIAN MID MIN MINA MINIFS
    MINUTE MOD MODE MONTH MROUND N NA NETWORKDAYS NOT NOW NUMBERVALUE ODD OR PERCENTILE PI POWER
    PRODUCT PROPER QUARTILE QUOTIENT RADIANS RANK REPLACE RIGHT ROUND ROUNDDOWN ROUNDUP ROW ROWS
    SEARCH SECOND SIGN SIN SMALL SQRT STDEV STDEVP SUBSTITUTE SUBTOTAL SUM SUMIF SUMIFS SUMPRODUCT
    SUMSQ SWITCH T TAN TEXT TIME TIMEVALUE TODAY TRIM TRUE TRUNC UPPER VALUE VAR VARP VLOOKUP
    WEEKDAY WEEKNUM WORKDAY XOR YEAR YEARFRAC
    """.split()  # noqa: SIM905 - a hundred lines of one word each are harder to read
)
_FUNCTION = re.compile(r"([A-Za-z_][\w.]*)\s*\(")
_WORDS = re.compile(r'"(?:[^"]|"")*"')
# So deep a formula's brackets may stand in one another.
MOST_OPEN = 40
# So many signs may stand before one value.
MOST_SIGNS = 20
_SIGNS = re.compile(rf"[-+\s]{{{MOST_SIGNS},}}")
# A rule for many cells, each of which reads much, isn't worked out.
MOST_READ = 2_000_000


@dataclass(frozen=True)
class Reference:
    """A reference of a formula: its corners, and which of their parts move with the cell."""

    sheet: str | None
    corners: tuple[tuple[int, bool, int, bool], ...]


Truth = Callable[[tuple[int, int], tuple[int, int], Reader], bool | None]


@dataclass(frozen=True)
class Compiled:
    """A formula that can be worked out for a cell. reads: how many cells it reads for each."""

    truth: Truth
    reads: int


@functools.lru_cache(maxsize=512)
def compiled(formula: str) -> Compiled | None:
    """Translate a formula; None for one that can't be worked out."""
    text = formula.strip().removeprefix("=")
    if not text or len(text) > LONGEST or not _is_plain(text):
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

    return Compiled(work_out, sum(_cells_of(each) for each in references))


def _is_plain(text: str) -> bool:
    """Tell whether a formula has nothing in it that takes long or grows without end."""
    bare = _WORDS.sub("", text)
    names = {match.group(1).upper().removeprefix("_XLFN.") for match in _FUNCTION.finditer(bare)}
    depth = deepest = 0
    for character in bare:
        depth += (character == "(") - (character == ")")
        deepest = max(deepest, depth)
    # A factorial, for which the library has a sign of its own.
    grows = "!" in _PIECES.sub("", bare)
    return names <= KNOWN and deepest <= MOST_OPEN and not _SIGNS.search(bare) and not grows


def _cells_of(reference: Reference) -> int:
    (top, _, left, _), (bottom, _, right, _) = reference.corners[0], reference.corners[-1]
    return (abs(bottom - top) + 1) * (abs(right - left) + 1)


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
