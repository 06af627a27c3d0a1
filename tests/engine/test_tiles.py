"""Paintings of parts of a page lie side by side below it, apart, and whole."""

import math
import unittest
from unittest import mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.engine.forcing import STATES
from high_pair.engine.paintings import MOST_TILE_PIXELS, Paintings, Taken
from high_pair.engine.states import _add
from high_pair.engine.tiles import MARGIN, packed, put

WIDTH, ROWS = 320, 50
SIZES = st.lists(st.tuples(st.integers(1, 60), st.integers(1, WIDTH)), max_size=20)


class Packed(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(SIZES)
    def test_each_part_is_found_where_it_is_told_and_none_reaches_into_another(self, sizes):
        places, rows = packed(sizes, WIDTH, ROWS)
        whole = np.zeros((rows, WIDTH, 3), np.uint8)
        parts = [np.full((*size, 3), number + 1, np.uint8) for number, size in enumerate(sizes)]
        for part, place in zip(parts, places, strict=True):
            put(whole, part, place)
        self.assertFalse(whole[:ROWS].any())
        for part, place in zip(parts, places, strict=True):
            high, wide = part.shape[:2]
            found = whole[place.top : place.top + high, place.left : place.left + wide]
            self.assertTrue(np.array_equal(found, part))
            # Close round it is more of the same.
            left, right = max(0, place.left - MARGIN), min(WIDTH, place.left + wide + MARGIN)
            near = whole[place.top - MARGIN : place.top + high + MARGIN, left:right]
            self.assertEqual(set(np.unique(near)), {part[0, 0, 0]})

    def test_small_parts_share_rows(self):
        places, rows = packed([(20, 40)] * 8, WIDTH, ROWS)
        self.assertEqual(len({place.top for place in places}), 2)
        self.assertEqual(rows, ROWS + 2 * (20 + 2 * MARGIN))

    def test_without_parts_there_is_nothing_below(self):
        self.assertEqual(packed([], WIDTH, ROWS), ([], ROWS))

    def test_ink_is_not_repeated(self):
        places, rows = packed([(10, 10)], WIDTH, 0)
        whole = np.zeros((rows, WIDTH), np.uint8)
        put(whole, np.full((10, 10), 250, np.uint8), places[0], repeated=False)
        self.assertEqual(np.count_nonzero(whole), 100)


class Room(unittest.TestCase):
    def test_parts_are_kept_until_their_room_is_taken_up_and_then_counted(self):
        side = math.isqrt(MOST_TILE_PIXELS // 4) + 1
        blank = np.zeros((side, side, 3), np.uint8)
        paintings = Paintings(blank, blank, blank[..., 0])
        told = {"texts": [], "without_states": 0}
        taken = Taken(mock.Mock(), mock.Mock(zoom=1.0), told, main=paintings)
        text = {"words": [["words", 5.0, 5.0, side - 10.0, side - 10.0]], "look": {}}
        for _ in range(7):
            _add(taken, paintings, text, STATES[0])
        self.assertTrue(taken.full)
        # Four, of a quarter each.
        self.assertEqual((len(told["texts"]), told["without_states"]), (4, 3))
        self.assertEqual(len(taken.tiles), 4)


if __name__ == "__main__":
    unittest.main()
