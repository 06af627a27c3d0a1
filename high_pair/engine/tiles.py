"""Where paintings of parts of a page lie below the page's own: side by side, in little room."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from high_pair.engine.frames import Pixels

# Round a part its outermost pixels are repeated so far, so that what is looked at a little beyond
# it is more of the same, and nothing of its neighbour's.
MARGIN = 12


@dataclass(frozen=True)
class Place:
    """The corner of a part below the page, in pixels of the whole, its margin aside."""

    left: int
    top: int


def packed(sizes: Sequence[tuple[int, int]], width: int, rows: int) -> tuple[list[Place], int]:
    """Find places for parts in a width, from a row on; gives them and the rows of the whole.

    sizes: the rows and columns of each; none is wider than the width.
    """
    places = [Place(0, 0)] * len(sizes)
    top, left, below = rows, 0, rows
    # In order of their heights, so that those of about one height share a shelf.
    for number in sorted(range(len(sizes)), key=lambda each: sizes[each]):
        high, wide = sizes[number]
        before, after = _margins(wide, width)
        if left + before + wide + after > width:
            top, left = below, 0
        places[number] = Place(left + before, top + MARGIN)
        left += before + wide + after
        below = max(below, top + high + 2 * MARGIN)
    return places, below


def _margins(columns: int, width: int) -> tuple[int, int]:
    """Give the margins before and after a part: whole ones, or all that the width leaves."""
    spare = width - columns
    before = min(MARGIN, spare // 2)
    return before, min(MARGIN, spare - before)


def put(whole: Pixels, part: Pixels, place: Place, repeated: bool = True) -> None:
    """Write a part into the whole, with its margin, which is nothing where none is repeated."""
    before, after = _margins(part.shape[1], whole.shape[1])
    room = [(MARGIN, MARGIN), (before, after), *[(0, 0)] * (part.ndim - 2)]
    part = np.pad(part, room, mode="edge" if repeated else "constant")
    top, left = place.top - MARGIN, place.left - before
    whole[top : top + part.shape[0], left : left + part.shape[1]] = part
