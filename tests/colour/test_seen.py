"""Pictures as seen from a seat: what is too fine or faint goes, all else stays."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.colour.seen import octaves_of, seen_from
from high_pair.colour.sight import sensitivity
from high_pair.colour.srgb import decode
from high_pair.colour.vision import Eyes, seen_with


def stripes(period: int, low: int, high: int, size: int = 128) -> np.ndarray:
    row = np.where(np.arange(size) % period < period // 2, low, high).astype(np.uint8)
    return np.repeat(np.repeat(row[None, :, None], size, 0), 3, 2)


def contrast(picture: np.ndarray) -> float:
    """Give the RMS contrast of a picture's middle in linear light."""
    light = np.asarray(decode(picture[32:-32, 32:-32, 1] / 255.0))
    return float(light.std() / light.mean())


class Seen(unittest.TestCase):
    @settings(max_examples=25)
    @given(st.integers(1, 70), st.integers(1, 70), st.integers(0, 2**32 - 1))
    def test_at_no_distance_in_the_dark_usual_eyes_see_all(self, height, width, seed) -> None:
        picture = np.random.default_rng(seed).integers(0, 256, (height, width, 3), np.uint8)
        seen = seen_from(octaves_of(picture), 0.0, 0.0, 0.0, 0.0)
        self.assertLessEqual(int(np.abs(seen.astype(int) - picture).max()), 1)

    def test_flare_washes_black_and_leaves_white(self) -> None:
        picture = np.zeros((16, 16, 3), np.uint8)
        picture[:, 8:] = 255
        seen = seen_from(octaves_of(picture), 0.0, 0.25, 0.0, 0.0)
        # (0 + 0.25) / 1.25 of light is 0.2, and sRGB has 0.2 at 124.
        self.assertEqual((seen[0, 0].tolist(), seen[0, -1].tolist()), ([124] * 3, [255] * 3))

    def test_fine_stripes_go_with_distance_and_coarse_ones_stay(self) -> None:
        fine, coarse = stripes(4, 110, 150), stripes(64, 110, 150)
        for picture, stays in ((fine, False), (coarse, True)):
            near = contrast(seen_from(octaves_of(picture), 30.0, 0.01, 0.0, 0.0))
            far = contrast(seen_from(octaves_of(picture), 200.0, 0.01, 0.0, 0.0))
            self.assertGreater(near, 0.9 * contrast(picture) / 1.05)
            if stays:
                self.assertGreater(far, 0.6 * near)
            else:
                self.assertLess(far, 0.05 * near)

    def test_what_is_taken_away_is_what_the_eyes_threshold_says(self) -> None:
        # Stripes of 4 pixels lie in the octave round 0.35 cycles a pixel, at 60 pixels a degree
        # about 15 to 21 cycles a degree.
        for low, high in ((124, 132), (90, 170)):
            picture = stripes(4, low, high)
            light = np.asarray(decode(np.array([low, high]) / 255.0))
            michelson = float((light[1] - light[0]) / light.sum())
            seen = contrast(seen_from(octaves_of(picture), 60.0, 0.0, 0.0, 0.0))
            least = 1.0 / float(sensitivity(0.35 * 60.0))
            if michelson < 0.5 * least:
                self.assertLess(seen, 0.1 * contrast(picture))
            elif michelson > 3 * least:
                self.assertGreater(seen, 0.7 * contrast(picture))

    def test_less_acuity_and_less_contrast_take_more_away(self) -> None:
        picture = stripes(8, 100, 160)
        whole, blurred, faint = (
            contrast(seen_from(octaves_of(picture), 40.0, 0.0, acuity, loss))
            for acuity, loss in ((0.0, 0.0), (0.9, 0.0), (0.0, 1.9))
        )
        self.assertLess(blurred, 0.2 * whole)
        self.assertLess(faint, 0.2 * whole)

    def test_other_eyes_and_grey(self) -> None:
        picture = np.full((16, 16, 3), (200, 40, 60), np.uint8)
        seen = seen_from(octaves_of(picture, Eyes.PROTAN), 0.0, 0.0, 0.0, 0.0)
        by_model = np.round(255 * seen_with(Eyes.PROTAN, np.array([200, 40, 60]) / 255.0))
        self.assertLessEqual(float(np.abs(seen[3, 3] - by_model).max()), 1.0)
        grey = seen_from(octaves_of(picture, grey=True), 0.0, 0.0, 0.0, 0.0)[3, 3]
        self.assertEqual(len(set(grey.tolist())), 1)

    def test_the_smallest_pictures_are_seen_too(self) -> None:
        for shape in ((1, 1, 3), (1, 40, 3), (7, 9, 3)):
            picture = np.full(shape, 90, np.uint8)
            np.testing.assert_array_equal(
                seen_from(octaves_of(picture), 50.0, 0.0, 0.3, 0.3), picture
            )


if __name__ == "__main__":
    unittest.main()
