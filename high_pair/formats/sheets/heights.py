"""Heights of rows that nobody has set: as high as the tallest text in them needs.

Programs work them out when they open a file, with their own fonts; these are near.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from high_pair.formats.sheets.cells import Cells
from high_pair.formats.sheets.styles import Style
from high_pair.scene.grid import MOST_COLUMNS, Area

Floats = NDArray[np.float64]

# A line's height, in sizes of the font.
LINE = 1.25
# A letter's width, in the same.
LETTER = 0.52
# Room at both sides of a cell's text together, in points.
ROOM = 6.0
HIGHEST = 409.0
# Of more cells whose text wraps, the rest counts as one line.
MOST_WRAPPED = 20_000


def fitted(
    cells: Cells,
    style_of: Callable[[int], Style],
    text_of: Callable[[int], str],
    merged: Sequence[Area],
    sizes: tuple[Floats, Floats],
    free: NDArray[np.bool_],
) -> Floats:
    """Give the heights of rows in points, where `free` raised to what their cells need.

    sizes: widths of columns and heights of rows; hidden rows (0) stay hidden.
    Merged cells raise no row.
    """
    widths, heights = sizes
    if not len(cells.values) or not free.any():
        return heights
    kinds, places = np.unique(cells.styles, return_inverse=True)
    styles = [style_of(int(kind)) for kind in kinds]
    needed = np.array([style.font.size * LINE for style in styles])[places]
    counts = free[cells.rows] & (heights[cells.rows] > 0)
    corners = [area.top * MOST_COLUMNS + area.left for area in merged]
    counts &= ~np.isin(cells.rows.astype(np.int64) * MOST_COLUMNS + cells.columns, corners)
    wrapped = np.array([style.wraps for style in styles])[places] & counts
    for entry in np.flatnonzero(wrapped)[:MOST_WRAPPED].tolist():
        size = styles[places[entry]].font.size
        room = max(size, float(widths[cells.columns[entry]]) - ROOM)
        lines = sum(
            max(1, math.ceil(len(line) * LETTER * size / room))
            for line in text_of(entry).splitlines() or [""]
        )
        needed[entry] = lines * size * LINE
    raised = heights.copy()
    np.maximum.at(raised, cells.rows[counts], np.minimum(needed[counts], HIGHEST))
    return raised
