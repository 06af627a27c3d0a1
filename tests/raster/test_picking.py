"""A colour is picked from one pixel or as the average of the light of several."""

import unittest

import numpy as np

from high_pair.colour.srgb import relative_luminance
from high_pair.raster.picking import SIDES, picked


class Picking(unittest.TestCase):
    def setUp(self) -> None:
        self.pixels = np.zeros((20, 30, 3), np.uint8)
        self.pixels[:, 15:] = 255

    def test_one_pixel_is_itself(self):
        self.pixels[4, 7] = (1, 2, 3)
        self.assertEqual(picked(self.pixels, 7, 4), (1, 2, 3))

    def test_an_average_has_the_average_luminance(self):
        for side in SIDES[1:]:
            level = picked(self.pixels, 15, 10, side)
            share = (side // 2 + 1) / side
            found = float(relative_luminance(np.array(level, np.uint8)))
            self.assertAlmostEqual(found, share, delta=0.005)

    def test_at_the_edge_only_what_is_there_counts(self):
        self.assertEqual(picked(self.pixels, 0, 0, 11), (0, 0, 0))
        self.assertEqual(picked(self.pixels, 29, 19, 11), (255, 255, 255))

    def test_outside_there_is_nothing(self):
        for x, y in ((-1, 0), (0, -1), (30, 0), (0, 20)):
            with self.assertRaises(IndexError):
                picked(self.pixels, x, y)


if __name__ == "__main__":
    unittest.main()
