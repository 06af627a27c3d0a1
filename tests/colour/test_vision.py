"""Colours as colour-blind eyes have them, against another library and what papers say of them."""

import unittest

import numpy as np
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.difference import ciede2000
from high_pair.colour.vision import Eyes, apart, closest, seen_with

CHANNELS = st.tuples(*[st.floats(0, 1)] * 3)
METHODS = {Eyes.PROTAN: "machado", Eyes.DEUTAN: "machado", Eyes.TRITAN: "brettel"}


class Seen(unittest.TestCase):
    @given(CHANNELS)
    def test_another_library_has_the_same(self, colour):
        for eyes, method in METHODS.items():
            other = Color("srgb", colour).filter(str(eyes), method=method).convert("srgb").coords()
            np.testing.assert_allclose(
                seen_with(eyes, colour), np.clip(other, 0, 1), atol=0.002, err_msg=str(eyes)
            )

    @given(st.floats(0, 1))
    def test_greys_stay_as_they_are_and_normal_eyes_change_nothing(self, grey):
        for eyes in Eyes:
            np.testing.assert_allclose(seen_with(eyes, [grey] * 3), [grey] * 3, atol=2e-3)
        colour = np.array([grey, 0.2, 0.9])
        np.testing.assert_array_equal(seen_with(Eyes.NORMAL, colour), colour)

    def test_red_and_green_of_one_lightness_are_nearly_one_to_red_green_blind_eyes(self):
        red, green = np.array([200, 85, 60]) / 255, np.array([120, 125, 40]) / 255
        normal = float(ciede2000(red, green))
        for eyes in (Eyes.PROTAN, Eyes.DEUTAN):
            seen = float(ciede2000(seen_with(eyes, red), seen_with(eyes, green)))
            self.assertLess(seen, normal / 2, eyes)

    def test_many_colours_at_once_are_each_as_they_are_alone(self):
        colours = np.random.default_rng(3).random((4, 5, 3))
        for eyes in Eyes:
            together = seen_with(eyes, colours)
            np.testing.assert_allclose(together[2, 3], seen_with(eyes, colours[2, 3]), atol=1e-12)


class Apart(unittest.TestCase):
    def test_the_closest_two_are_named(self):
        colours = [(0.1, 0.1, 0.1), (0.9, 0.2, 0.2), (0.88, 0.22, 0.2), (0.1, 0.3, 0.9)]
        one, other, distance = closest(Eyes.NORMAL, colours)
        self.assertEqual((one, other), (1, 2))
        self.assertAlmostEqual(distance, float(ciede2000(colours[1], colours[2])))

    def test_distances_are_the_same_both_ways_and_none_to_itself(self):
        distances = apart(Eyes.DEUTAN, np.random.default_rng(5).random((6, 3)))
        np.testing.assert_allclose(distances, distances.T, atol=1e-9)
        np.testing.assert_allclose(np.diag(distances), 0, atol=1e-9)


if __name__ == "__main__":
    unittest.main()
