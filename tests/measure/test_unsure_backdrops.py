"""What lies behind a text somewhere between known ends: the worst and the best of it."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from high_pair.measure.footprint import Footprint, between, ratios_of
from high_pair.scene.paint import from_levels
from tests.decks import ratio_by_hand

LEVELS = st.tuples(*[st.integers(0, 255)] * 3)
AREA = (slice(0, 10), slice(0, 10))


def ends_of(*colours: tuple[int, int, int], count: int = 3) -> list[np.ndarray]:
    return [np.array([colour] * count, np.uint8) for colour in colours]


class Between(unittest.TestCase):
    def extremes(self, text, ends, sure=()) -> tuple[float, float]:
        known = np.array(sure, np.uint8).reshape(-1, 3)
        worst, best = between("word", known, ends, AREA, from_levels(text))
        self.assertEqual(worst.counts.sum(), len(known) + len(ends[0]))
        self.assertEqual(best.counts.sum(), worst.counts.sum())
        shade = from_levels(text)
        return float(ratios_of(worst, shade).min()), float(ratios_of(best, shade).max())

    @given(LEVELS, LEVELS, LEVELS, st.floats(0, 1))
    def test_nothing_on_the_way_is_worse_than_the_worst_or_better_than_the_best(
        self, text, first, last, share
    ) -> None:
        worst, best = self.extremes(text, ends_of(first, last))
        mix = np.rint(np.array(first) + (np.array(last) - np.array(first)) * share)
        print_of = Footprint("", mix.astype(np.uint8)[None], np.ones(1, np.int64), (0, 0, 1, 1))
        ratio = float(ratios_of(print_of, from_levels(text))[0])
        # Between two of the strengths that are tried colours differ by a few levels.
        self.assertLessEqual(worst, ratio * 1.15)
        self.assertGreaterEqual(best * 1.15, ratio)

    def test_the_way_goes_through_the_texts_own_lightness(self) -> None:
        worst, best = self.extremes((117, 117, 117), ends_of((0, 0, 0), (255, 255, 255)))
        self.assertLess(worst, 1.1)
        self.assertAlmostEqual(best, ratio_by_hand("757575", "FFFFFF"), delta=0.05)

    def test_of_several_ends_each_is_met_in_turn(self) -> None:
        ends = ends_of((255, 255, 255), (200, 200, 200), (120, 120, 120))
        worst, best = self.extremes((0, 0, 0), ends)
        self.assertAlmostEqual(worst, ratio_by_hand("000000", "787878"), delta=0.01)
        self.assertAlmostEqual(best, 21.0, delta=0.01)

    def test_what_is_sure_counts_as_it_is(self) -> None:
        worst, best = self.extremes((0, 0, 0), ends_of((255,) * 3, (200,) * 3), [(60, 60, 60)])
        self.assertAlmostEqual(worst, ratio_by_hand("000000", "3C3C3C"), delta=0.01)
        self.assertAlmostEqual(best, 21.0, delta=0.01)


if __name__ == "__main__":
    unittest.main()
