"""Footprints as arrays, against SciPy's measures of the same things."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy import ndimage

from high_pair.measure.footprint import areas_of, grow

SIDES = st.tuples(st.integers(1, 24), st.integers(1, 24))


class Growing(unittest.TestCase):
    @given(SIDES.flatmap(lambda sides: arrays(np.bool_, sides)), st.floats(0.5, 12))
    def test_growth_takes_every_pixel_within_the_radius_and_no_other(self, mask, radius):
        wanted = ndimage.distance_transform_edt(~mask) <= radius if mask.any() else mask
        np.testing.assert_array_equal(grow(mask, radius), wanted)

    def test_a_single_pixel_grows_to_a_disc(self):
        mask = np.zeros((7, 7), bool)
        mask[3, 3] = True
        rows = grow(mask, 2.0).sum(axis=1)
        self.assertEqual(rows.tolist(), [0, 1, 3, 5, 3, 1, 0])


class Areas(unittest.TestCase):
    @given(SIDES.flatmap(lambda sides: arrays(np.int32, sides, elements=st.integers(0, 6))))
    def test_each_word_has_the_smallest_area_that_holds_its_pixels(self, numbers):
        wanted = ndimage.find_objects(numbers, max_label=6)
        self.assertEqual(areas_of(numbers, 6), wanted)
