"""The share of ink that is read of each pixel, against the masks that text was drawn with."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageFont
from scipy import signal

from high_pair.measure.ink_reader import _convolved, read_ink
from high_pair.raster.fonts import FOLDER
from tools import photographs

FONT = FOLDER / "liberation/LiberationSerif-Regular.ttf"


def drawn(
    words: str, size: int, text: tuple[int, ...], behind: np.ndarray | tuple[int, ...]
) -> tuple[np.ndarray, np.ndarray]:
    """Draw words in a box with a little room: pixels, and each pixel's share of ink."""
    font = ImageFont.truetype(str(FONT), size)
    left, top, right, bottom = (int(side) for side in font.getbbox(words))
    room = max(4, size // 3)
    mask = Image.new("L", (right - left + 2 * room, bottom - top + 2 * room))
    ImageDraw.Draw(mask).text((room - left, room - top), words, fill=255, font=font)
    share = np.asarray(mask, float) / 255
    under = np.broadcast_to(np.asarray(behind, float)[: share.shape[0], : share.shape[1]], (
        *share.shape, 3)) if np.ndim(behind) == 3 else np.asarray(behind, float)  # fmt: skip
    painted = under * (1 - share[..., None]) + np.array(text, float) * share[..., None]
    return (painted + 0.5).astype(np.uint8), share


class Shares(unittest.TestCase):
    def check(self, pixels: np.ndarray, share: np.ndarray, most: float) -> None:
        found = read_ink(pixels)
        self.assertEqual(found.shape, share.shape)
        self.assertTrue(((found >= 0) & (found <= 1)).all())
        self.assertLess(float(np.square(found - share).mean()), most)

    def test_of_text_of_many_sizes_on_one_colour(self):
        for size, most in ((12, 0.008), (24, 0.003), (60, 0.001)):
            self.check(*drawn("Last sailing 21:40", size, (30, 50, 80), (236, 240, 232)), most)

    def test_of_letters_larger_than_those_that_were_taught(self):
        for size in (140, 300):
            self.check(*drawn("Ferry", size, (250, 250, 240), (20, 60, 90)), 0.004)

    def test_on_photographs(self):
        random = np.random.default_rng(7)
        for picture in (photographs.quay(random), photographs.night_harbour(random)):
            self.check(*drawn("Foot passengers", 40, (250, 240, 90), picture[300:]), 0.004)

    def test_light_on_dark_is_read_as_dark_on_light_is(self):
        pixels, share = drawn("Mind the ramp", 30, (20, 20, 20), (230, 230, 230))
        self.check(255 - pixels, share, 0.003)

    @settings(max_examples=20, deadline=None)
    @given(st.integers(5, 40), st.integers(5, 90), st.integers(0, 2**32 - 1))
    def test_any_picture_gives_shares(self, height: int, width: int, seed: int):
        random = np.random.default_rng(seed)
        found = read_ink(random.integers(0, 256, (height, width, 3), dtype=np.uint8))
        self.assertEqual(found.shape, (height, width))
        self.assertTrue(np.isfinite(found).all())


class Convolving(unittest.TestCase):
    def test_a_layer_is_a_correlation_with_nothing_beyond_the_edges(self):
        random = np.random.default_rng(2)
        seen = random.normal(size=(3, 17, 23)).astype(np.float32)
        kernel = random.normal(size=(5, 3, 3, 3)).astype(np.float32)
        shift = random.normal(size=5).astype(np.float32)
        wanted = np.stack([
            sum(signal.correlate2d(seen[n], kernel[k, n], mode="same") for n in range(3)) + shift[k]
            for k in range(5)
        ])  # fmt: skip
        np.testing.assert_allclose(
            _convolved(seen, kernel, shift), np.maximum(wanted, 0), rtol=1e-4, atol=1e-4
        )


if __name__ == "__main__":
    unittest.main()
