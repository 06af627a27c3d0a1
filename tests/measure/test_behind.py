"""What lies behind text in a picture is carried on under the letters as it goes on beside them."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.measure.behind import behind_text, clean_pixels

HEIGHT, WIDTH = 60, 160
LEVEL = 1 / 255


def letters() -> np.ndarray:
    """Give ink in strokes of four pixels, with room all round: (h, w), 0 to 1."""
    ink = np.zeros((HEIGHT, WIDTH))
    for left in range(24, WIDTH - 24, 16):
        ink[18:42, left : left + 4] = 1.0
    return ink


def on(behind: np.ndarray, ink: np.ndarray, text: tuple[float, float, float]) -> np.ndarray:
    return behind * (1 - ink[..., None]) + np.array(text) * ink[..., None]


class CarriedOn(unittest.TestCase):
    ink = letters()
    inked = ink > 0

    @settings(max_examples=25, deadline=None)
    @given(
        st.tuples(*[st.floats(0.2, 0.8)] * 3),
        st.tuples(*[st.floats(-0.3, 0.3)] * 3),
        st.tuples(*[st.floats(-0.3, 0.3)] * 3),
    )
    def test_a_gradient_in_any_direction_goes_on_under_the_letters(self, middle, across, down):
        rows, columns = np.mgrid[-0.5 : 0.5 : HEIGHT * 1j, -0.5 : 0.5 : WIDTH * 1j]
        behind = middle + columns[..., None] * across + rows[..., None] * np.array(down)
        found = behind_text(on(behind, self.ink, (0.9, 0.1, -0.1)), self.ink)
        self.assertLess(np.abs(found - behind).max(), LEVEL / 4)

    def test_of_a_bent_surface_the_way_it_bends_goes_on(self):
        rows, columns = np.mgrid[0:HEIGHT, 0:WIDTH]
        # Too much of a wave for one surface: planes of what lies near follow it.
        wave = 0.5 + 0.15 * np.sin(columns / 14.0) + 0.1 * np.sin(rows / 9.0)
        behind = np.repeat(wave[..., None], 3, axis=2)
        found = behind_text(on(behind, self.ink, (0.95, 0.95, 0.95)), self.ink)
        apart = np.abs(found - behind)[self.inked]
        self.assertLess(apart.mean(), 0.015)
        # An average of the clean pixels would be this far off.
        flat = np.abs(behind - behind[clean_pixels(self.ink)].mean(axis=0))[self.inked]
        self.assertLess(apart.mean(), flat.mean() / 4)

    def test_grain_far_from_the_letters_goes_on_under_them_as_strong(self):
        random = np.random.default_rng(2)
        grain = random.normal(0, 4 * LEVEL, (HEIGHT, WIDTH, 1))
        behind = np.full((HEIGHT, WIDTH, 3), (0.4, 0.1, -0.1)) + grain * np.array([1.0, 0, 0])
        found = behind_text(on(behind, self.ink, (0.9, 0.0, 0.0)), self.ink)
        own = found[self.inked][:, 0]
        self.assertAlmostEqual(own.std(), 4 * LEVEL, delta=0.6 * LEVEL)
        self.assertAlmostEqual(own.mean(), 0.4, delta=LEVEL)

    def test_a_lamp_beside_the_letters_stays_what_it_is(self):
        behind = np.full((HEIGHT, WIDTH, 3), (0.2, 0.0, 0.0))
        behind[4:10, 150:156, 0] = 0.9
        found = behind_text(on(behind, self.ink, (0.6, 0.1, 0.1)), self.ink)
        self.assertTrue(np.allclose(found[5:9, 151:155, 0], 0.9, atol=0.1))
        self.assertTrue(np.allclose(found[self.inked][:, 0], 0.2, atol=LEVEL))

    def test_unrest_round_the_letters_alone_is_a_jpegs_and_no_grain(self):
        random = np.random.default_rng(3)
        near = ~clean_pixels(self.ink, away=7)
        behind = np.full((HEIGHT, WIDTH, 3), 0.4)
        behind[near, 0] += random.normal(0, 4 * LEVEL, int(near.sum()))
        found = behind_text(on(behind, self.ink, (0.9, 0.0, 0.0)), self.ink)
        self.assertLess(found[self.inked][:, 0].std(), LEVEL / 2)

    def test_under_wide_letters_it_comes_from_farther_away(self):
        ink = np.zeros((HEIGHT * 4, WIDTH * 4))
        ink[60:180, 200:440] = 1.0
        rows, columns = np.mgrid[0 : ink.shape[0], 0 : ink.shape[1]]
        wave = 0.5 + 0.1 * np.sin(columns / 25.0) * np.sin(rows / 30.0)
        behind = np.repeat(wave[..., None], 3, axis=2)
        found = behind_text(on(behind, ink, (0.9, 0.9, 0.9)), ink)
        self.assertTrue(np.isfinite(found).all())
        self.assertGreaterEqual(found.min(), 0.0)
        self.assertLessEqual(found.max(), 1.0)
        # No seams: what is carried on changes little from pixel to pixel.
        steps = np.abs(np.diff(found[90:150, 240:400, 0], axis=1))
        self.assertLess(np.quantile(steps, 0.99), 0.03)


class Clean(unittest.TestCase):
    def test_pixels_near_ink_are_not_clean(self):
        clean = clean_pixels(letters())
        self.assertTrue(clean[2, 2])
        self.assertFalse(clean[30, 24 - 4])
        self.assertTrue(clean[30, 24 - 6])

    def test_text_that_fills_its_box_still_has_its_least_inked_pixels(self):
        ink = np.full((20, 40), 0.5)
        ink[::2, ::2] = 0.1
        clean = clean_pixels(ink)
        self.assertTrue(clean.any())
        self.assertFalse(clean.all())
        found = behind_text(np.full((20, 40, 3), 0.3), ink)
        self.assertTrue(np.allclose(found, 0.3))


if __name__ == "__main__":
    unittest.main()
