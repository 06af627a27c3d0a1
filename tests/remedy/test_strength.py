"""The least strength of an overlay, against brute force over every percent."""

import unittest

import numpy as np

from high_pair.colour.compositing import over_bytes
from high_pair.colour.ratio import contrast_ratio
from high_pair.measure.footprint import distinct
from high_pair.remedy.strength import Covered, covered_words, least_percent, ratio_with
from high_pair.scene.paint import from_levels

BLACK, WHITE = (0, 0, 0), (255, 255, 255)


def photograph(random: np.random.Generator, side: int = 24) -> np.ndarray:
    """Make a picture of soft lights, uint8 (side * side, 3)."""
    corners = random.integers(0, 256, (4, 4, 3)).astype(float)
    grid = np.linspace(0, 2.999, side)
    low = grid.astype(int)
    share = (grid - low)[:, None]
    rows = corners[low] * (1 - share[..., None]) + corners[low + 1] * share[..., None]
    columns = rows[:, low] * (1 - share[None]) + rows[:, low + 1] * share[None]
    noisy = columns + random.normal(0, 6, columns.shape)
    return np.uint8(np.clip(noisy, 0, 255)).reshape(-1, 3)


def covered(
    pixels: np.ndarray, text: tuple[int, int, int], required: float, served: bool = True
) -> Covered:
    backdrops, counts = distinct(pixels)
    words = [(backdrops, counts, np.ones(len(backdrops)))]
    return covered_words(words, from_levels(text), required, 0.95, served)


def passes_by_hand(pixels: np.ndarray, text, required: float, levels, percent: int) -> bool:
    """Count the pixels that pass, one by one, by the contract's words."""
    seen = over_bytes(np.array(levels, np.uint8), percent / 100, pixels)
    ratios = contrast_ratio(np.array(text, np.uint8), seen)
    return bool((ratios >= required).mean() >= 0.95)


class Least(unittest.TestCase):
    def test_for_200_photographs_the_percent_passes_and_none_below_does(self):
        random = np.random.default_rng(11)
        found = 0
        for _ in range(200):
            pixels = photograph(random)
            text = tuple(int(v) for v in random.integers(0, 256, 3))
            levels = (BLACK, WHITE, tuple(int(v) for v in random.integers(0, 256, 3)))[
                random.integers(3)
            ]
            required = (3.0, 4.5, 7.0)[random.integers(3)]
            truth = next(
                (p for p in range(101) if passes_by_hand(pixels, text, required, levels, p)), None
            )
            self.assertEqual(least_percent(levels, [covered(pixels, text, required)]), truth)
            found += truth is not None
        self.assertGreater(found, 60)

    def test_several_pairs_all_pass_at_the_percent_and_not_at_one_less(self):
        random = np.random.default_rng(12)
        found = 0
        for _ in range(40):
            places = [photograph(random, 12) for _ in range(3)]
            texts = [tuple(int(v) for v in random.integers(200, 256, 3)) for _ in places]
            pairs = [covered(*each, 4.5) for each in zip(places, texts, strict=True)]
            percent = least_percent(BLACK, pairs)
            if not percent:
                continue
            found += 1

            def all_pass(at: int, places=places, texts=texts) -> bool:
                return all(
                    passes_by_hand(place, text, 4.5, BLACK, at)
                    for place, text in zip(places, texts, strict=True)
                )

            self.assertTrue(all_pass(percent))
            self.assertFalse(all_pass(percent - 1))
        self.assertGreater(found, 20)

    def test_a_pair_that_it_would_break_is_kept(self):
        grey = np.full((10, 3), 150, np.uint8)
        white_text = covered(grey, WHITE, 4.5)
        dark_text = covered(np.full((10, 3), 160, np.uint8), BLACK, 4.5, served=False)
        alone = least_percent(BLACK, [white_text])
        self.assertIsNotNone(alone)
        # What makes the grey dark enough for white text leaves too little for black text.
        together = least_percent(BLACK, [white_text, dark_text])
        if together is not None:
            self.assertGreaterEqual(ratio_with(dark_text, BLACK, together), 4.5)
        lighter = covered(grey, WHITE, 3.0)
        percent = least_percent(BLACK, [lighter, dark_text])
        self.assertGreaterEqual(ratio_with(lighter, BLACK, percent), 3.0)
        self.assertGreaterEqual(ratio_with(dark_text, BLACK, percent), 4.5)

    def test_what_falls_short_already_and_is_not_served_asks_for_nothing(self):
        served = covered(np.full((10, 3), 150, np.uint8), WHITE, 4.5)
        hopeless = covered(np.full((10, 3), 20, np.uint8), BLACK, 4.5, served=False)
        self.assertEqual(least_percent(BLACK, [served, hopeless]), least_percent(BLACK, [served]))

    def test_no_strength_serves_where_the_overlay_has_the_texts_own_lightness(self):
        pixels = np.full((10, 3), 240, np.uint8)
        self.assertIsNone(least_percent((250, 250, 250), [covered(pixels, WHITE, 4.5)]))

    def test_of_several_words_the_weakest_governs(self):
        words = [
            (np.full((1, 3), level, np.uint8), np.array([10]), np.ones(1)) for level in (20, 150)
        ]
        pair = covered_words(words, from_levels(WHITE), 4.5, 0.95)
        alone = covered_words(words[1:], from_levels(WHITE), 4.5, 0.95)
        self.assertEqual(ratio_with(pair, BLACK, 0), ratio_with(alone, BLACK, 0))
        self.assertEqual(least_percent(BLACK, [pair]), least_percent(BLACK, [alone]))

    def test_less_of_the_overlay_where_it_fades(self):
        backdrops = np.full((1, 3), 150, np.uint8)
        counts = np.array([10])
        half, whole = (
            covered_words([(backdrops, counts, np.array([share]))], from_levels(WHITE), 4.5, 0.95)
            for share in (0.5, 1.0)
        )
        percent = least_percent(BLACK, [half])
        self.assertEqual((percent + 1) // 2, least_percent(BLACK, [whole]))


if __name__ == "__main__":
    unittest.main()
