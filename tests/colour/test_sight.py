"""What eyes see at a distance: flare, angles and contrast, against arithmetic and published values."""

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.ratio import FLARE, contrast_ratio
from high_pair.colour.sight import (
    angle_of,
    distance_for,
    flare_of,
    least_angle,
    letters_frequency,
    michelson,
    ratio_there,
    reserve_of,
    sensitivity,
)
from high_pair.colour.srgb import relative_luminance

SHARE = st.floats(0.0, 1.0)
DISTANCE = st.floats(0.1, 100.0)


class Light(unittest.TestCase):
    def test_reflected_light_is_lamberts(self) -> None:
        # 500 lx on a screen that throws back 4%: 500 · 0.04 / π = 6.366 cd/m².
        self.assertAlmostEqual(flare_of(500.0, 0.04, 250.5, 0.5), (0.5 + 6.3662) / 250, places=4)
        self.assertAlmostEqual(flare_of(0.0, 0.9, 101.0, 1.0), 0.01)

    def test_with_the_standards_flare_it_is_the_standards_ratio(self) -> None:
        one, other = np.array([119, 119, 119], np.uint8), np.array([255, 255, 255], np.uint8)
        there = ratio_there(relative_luminance(one), relative_luminance(other), FLARE)
        self.assertAlmostEqual(float(there), float(contrast_ratio(one, other)), places=12)

    @given(SHARE, SHARE, st.floats(1e-4, 5.0), st.floats(0.0, 5.0))
    def test_more_flare_never_raises_a_ratio(self, one, other, flare, more) -> None:
        less = float(ratio_there(one, other, flare + more))
        self.assertLessEqual(less, float(ratio_there(one, other, flare)) + 1e-9)
        self.assertGreaterEqual(less, 1.0)

    def test_michelson_of_ratios(self) -> None:
        np.testing.assert_allclose(michelson([1.0, 3.0, 21.0]), [0.0, 0.5, 20 / 22])


class Angles(unittest.TestCase):
    def test_a_thumb_at_arms_length(self) -> None:
        # 1 cm at 57.3 cm is one degree, to within a part of ten thousand.
        self.assertAlmostEqual(float(angle_of(0.01, 0.573)), 60.0, delta=0.02)

    @given(st.floats(1e-4, 0.5), st.floats(0.5, 200.0))
    def test_the_distance_for_an_angle_has_that_angle(self, size, angle) -> None:
        self.assertAlmostEqual(float(angle_of(size, distance_for(size, angle))), angle, places=6)

    @given(st.floats(1e-4, 0.5), DISTANCE, st.floats(0.0, 50.0))
    def test_more_distance_never_makes_anything_larger(self, size, distance, more) -> None:
        self.assertLessEqual(
            float(angle_of(size, distance + more)), float(angle_of(size, distance)) + 1e-9
        )


class Contrast(unittest.TestCase):
    def test_usual_eyes_peak_where_it_was_published(self) -> None:
        # Thurman et al. 2016: a peak of 166 at 2.5 cycles a degree, a width of 1.28.
        self.assertAlmostEqual(float(sensitivity(2.5)), 166.0)
        self.assertAlmostEqual(float(sensitivity(0.1)), 166.0)
        ten = 10 ** (math.log10(166) - (1.28 * math.log10(10 / 2.5)) ** 2)
        self.assertAlmostEqual(float(sensitivity(10.0)), ten, places=6)

    def test_usual_eyes_resolve_what_a_letter_of_normal_acuity_asks(self) -> None:
        # At 30 cycles a degree, 20/20, something is still seen; at twice that nothing is.
        self.assertGreater(float(sensitivity(30.0)), 1.0)
        self.assertLess(float(sensitivity(60.0)), 1.0)

    def test_acuity_and_loss_shift_one_curve(self) -> None:
        frequencies = np.geomspace(0.3, 20.0, 40)
        np.testing.assert_allclose(
            sensitivity(frequencies, 0.5), sensitivity(frequencies * 10**0.5)
        )
        np.testing.assert_allclose(
            sensitivity(frequencies, 0.0, 0.7), sensitivity(frequencies) / 10**0.7
        )

    def test_letters_of_twelve_minutes_are_read_at_fifteen_cycles_a_degree(self) -> None:
        self.assertAlmostEqual(float(letters_frequency(12.0)), 15.0)

    @given(st.floats(0.01, 1.0), st.floats(1.0, 20.0), st.floats(0.0, 1.3), st.floats(0.0, 1.5))
    def test_the_least_angle_has_just_the_reserve(self, contrast, needed, acuity, loss) -> None:
        angle = least_angle(contrast, needed, acuity, loss)
        if math.isinf(angle):
            self.assertLess(float(reserve_of(contrast, 1e6, acuity, loss)), needed)
        else:
            self.assertAlmostEqual(
                float(reserve_of(contrast, angle, acuity, loss)) / needed, 1.0, places=6
            )

    def test_no_contrast_reads_nowhere(self) -> None:
        self.assertEqual(least_angle(0.0, 10.0), math.inf)


if __name__ == "__main__":
    unittest.main()
