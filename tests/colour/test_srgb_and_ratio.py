"""Luminance and ratio agree with the standard's arithmetic and with coloraide."""

import unittest

import numpy as np
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.compositing import over, over_bytes
from high_pair.colour.ratio import (
    contrast_ratio,
    shown_ratio,
)
from high_pair.colour.srgb import bytes_of, decode, encode, hex_of, relative_luminance, to_bytes

colours = st.tuples(*[st.integers(0, 255)] * 3)


def luminance_by_hand(rgb: tuple[int, int, int]) -> float:
    """WCAG 2.2's definition, written out once more and independently."""
    total = 0.0
    for level, weight in zip(rgb, (0.2126, 0.7152, 0.0722), strict=True):
        value = level / 255
        total += weight * (value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4)
    return total


class LuminanceTest(unittest.TestCase):
    @given(colours)
    def test_follows_the_definition_of_wcag(self, rgb):
        expected = luminance_by_hand(rgb)
        self.assertAlmostEqual(
            float(relative_luminance(np.array(rgb, np.uint8))), expected, places=12
        )
        self.assertAlmostEqual(float(relative_luminance(np.array(rgb) / 255)), expected, places=12)

    @given(colours)
    def test_agrees_with_coloraide(self, rgb):
        reference = Color("srgb", [level / 255 for level in rgb]).luminance()
        self.assertAlmostEqual(luminance_by_hand(rgb), reference, delta=2e-4)

    def test_keeps_the_shape_of_a_picture(self):
        picture = np.zeros((4, 6, 3), np.uint8)
        self.assertEqual(relative_luminance(picture).shape, (4, 6))

    @given(st.floats(-0.5, 1.5))
    def test_decoding_and_encoding_undo_each_other(self, value):
        self.assertAlmostEqual(float(encode(decode(value))), value, places=6)

    @given(colours)
    def test_hexadecimal_there_and_back(self, rgb):
        self.assertEqual(bytes_of(hex_of(rgb)), rgb)

    def test_hexadecimal_refuses_other_lengths(self):
        for text in ("#fff", "", "12345678", "#xyzxyz"):
            with self.subTest(text), self.assertRaises(ValueError):
                bytes_of(text)


class RatioTest(unittest.TestCase):
    # Worked by hand from the definition, and widely published.
    PUBLISHED = (
        ("#000000", "#FFFFFF", 21.0),
        ("#777777", "#FFFFFF", 4.478),
        ("#767676", "#FFFFFF", 4.542),
        ("#FF0000", "#FFFFFF", 3.998),
        ("#0000FF", "#FFFFFF", 8.592),
        ("#00FF00", "#FFFFFF", 1.372),
    )

    def test_published_pairs(self):
        for one, other, expected in self.PUBLISHED:
            with self.subTest(one):
                pair = [np.array(bytes_of(code), np.uint8) for code in (one, other)]
                self.assertAlmostEqual(float(contrast_ratio(*pair)), expected, places=3)

    @given(colours, colours)
    def test_order_never_matters_and_range_is_1_to_21(self, one, other):
        first, second = np.array(one, np.uint8), np.array(other, np.uint8)
        ratio = float(contrast_ratio(first, second))
        self.assertEqual(ratio, float(contrast_ratio(second, first)))
        self.assertGreaterEqual(ratio, 1.0)
        self.assertLessEqual(ratio, 21.0 + 1e-9)

    def test_shown_ratio_is_cut_never_rounded_up(self):
        for ratio, shown in ((4.499, "4.49"), (4.5, "4.50"), (2.999999, "2.99"), (4.3, "4.30")):
            self.assertEqual(shown_ratio(ratio), shown)
        self.assertEqual(shown_ratio(21.0), "21.00")


class CompositingTest(unittest.TestCase):
    @given(colours, st.floats(0, 1), colours)
    def test_source_over_is_a_weighted_mean_rounded_once(self, above, opacity, below):
        expected = [
            int(np.floor(opacity * a + (1 - opacity) * b + 0.5))
            for a, b in zip(above, below, strict=True)
        ]
        result = over_bytes(np.array(above, np.uint8), opacity, np.array(below, np.uint8))
        self.assertLessEqual(int(np.max(np.abs(result.astype(int) - expected))), 1)

    def test_broadcasts_one_colour_over_a_picture(self):
        picture = np.zeros((2, 3, 3))
        self.assertEqual(over([1.0, 0.5, 0.0], 0.5, picture).shape, (2, 3, 3))
        self.assertEqual(to_bytes(over([1.0, 0.5, 0.0], 0.5, picture))[0, 0].tolist(), [128, 64, 0])


if __name__ == "__main__":
    unittest.main()
