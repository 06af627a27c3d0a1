"""OKLab, ΔE and gamut mapping agree with coloraide and with published tables."""

import unittest

import numpy as np
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.difference import ciede2000, ciede2000_of_lab, cielab_of, delta_e_ok
from high_pair.colour.gamut import in_gamut, into_srgb
from high_pair.colour.oklab import oklab_of, oklab_of_oklch, oklch_of, srgb_of

channels = st.tuples(*[st.floats(0, 1)] * 3)

# From the table of Sharma, Wu and Dalal (2005): L1 a1 b1 L2 a2 b2 ΔE00.
SHARMA = (
    (50.0, 2.6772, -79.7751, 50.0, 0.0, -82.7485, 2.0425),
    (50.0, 3.1571, -77.2803, 50.0, 0.0, -82.7485, 2.8615),
    (50.0, -1.3802, -84.2814, 50.0, 0.0, -82.7485, 1.0),
    (50.0, 0.0, 0.0, 50.0, -1.0, 2.0, 2.3669),
    (50.0, 2.49, -0.001, 50.0, -2.49, 0.0009, 7.1792),
    (50.0, 2.49, -0.001, 50.0, -2.49, 0.0011, 7.2195),
    (50.0, 2.5, 0.0, 73.0, 25.0, -18.0, 27.1492),
    (50.0, 2.5, 0.0, 58.0, 24.0, 15.0, 19.4535),
    (60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644),
    (22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373),
    (90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441),
    (2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082),
)


class OklabTest(unittest.TestCase):
    @given(channels)
    def test_agrees_with_coloraide(self, rgb):
        reference = Color("srgb", list(rgb)).convert("oklab").coords()
        np.testing.assert_allclose(oklab_of(rgb), reference, atol=2e-6)

    @given(channels)
    def test_there_and_back(self, rgb):
        np.testing.assert_allclose(srgb_of(oklab_of(rgb)), rgb, atol=1e-6)
        np.testing.assert_allclose(srgb_of(oklab_of_oklch(oklch_of(rgb))), rgb, atol=1e-6)

    def test_published_values(self):
        # CSS Color 4's example: red is oklch(62.8% 0.2577 29.23).
        np.testing.assert_allclose(oklch_of([1.0, 0, 0]), [0.62796, 0.25768, 29.234], atol=2e-3)


class DifferenceTest(unittest.TestCase):
    def test_ciede2000_reproduces_the_published_table(self):
        table = np.array(SHARMA)
        np.testing.assert_allclose(
            ciede2000_of_lab(table[:, :3], table[:, 3:6]), table[:, 6], atol=5e-5
        )

    @given(channels, channels)
    def test_agrees_with_coloraide(self, one, other):
        first, second = Color("srgb", list(one)), Color("srgb", list(other))
        np.testing.assert_allclose(cielab_of(one), first.convert("lab-d65").coords(), atol=1e-3)
        self.assertAlmostEqual(
            float(ciede2000(one, other)), first.delta_e(second, method="2000"), delta=0.001
        )
        self.assertAlmostEqual(
            float(delta_e_ok(one, other)), first.delta_e(second, method="ok"), delta=1e-5
        )


class GamutTest(unittest.TestCase):
    @given(st.floats(0, 1), st.floats(0, 0.5), st.floats(0, 360))
    def test_keeps_hue_and_lightness_and_lands_inside(self, lightness, chroma, hue):
        fitted = into_srgb([lightness, chroma, hue])
        self.assertTrue(bool(in_gamut(fitted, 0.0)))
        found = oklch_of(fitted)
        # Near black a quarter of an 8-bit level is a long way in OKLab's cube root.
        self.assertAlmostEqual(float(found[0]), lightness, delta=0.05 if lightness < 0.1 else 0.01)
        if found[1] > 0.03 and lightness > 0.1:
            turn = (float(found[2]) - hue + 180) % 360 - 180
            self.assertLess(abs(turn), 2.5)

    def test_leaves_a_colour_inside_as_it_is(self):
        colour = [0.2, 0.5, 0.7]
        np.testing.assert_allclose(into_srgb(oklch_of(colour)), colour, atol=1e-6)

    def test_agrees_with_coloraides_mapping_that_reduces_chroma(self):
        for lightness in (0.3, 0.6, 0.9):
            for hue in range(0, 360, 45):
                reference = Color("oklch", [lightness, 0.35, hue]).convert("srgb")
                reference = reference.fit(method="oklch-chroma", jnd=0).coords()
                fitted = into_srgb([lightness, 0.35, hue])
                self.assertLess(float(delta_e_ok(fitted, np.clip(reference, 0, 1))), 0.003)


if __name__ == "__main__":
    unittest.main()
