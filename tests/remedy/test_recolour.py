"""A proposal passes, measured; it is the nearest of its hue; and where none serves, it is said."""

import unittest

import numpy as np
from coloraide import Color
from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.colour.oklab import oklch_of
from high_pair.colour.srgb import bytes_of, relative_luminance
from high_pair.measure.footprint import Footprint
from high_pair.remedy.recolour import Case, lightness_walk, passing, recolour_text
from high_pair.scene.paint import from_levels
from tests.decks import ratio_by_hand

levels = st.tuples(*[st.integers(0, 255)] * 3)


def case(*colours: str, required: float = 4.5, coverage: float = 0.95) -> Case:
    """Give a case of one word on backdrops of equal shares."""
    backdrops = np.array([bytes_of(code) for code in colours], np.uint8)
    counts = np.full(len(colours), 10, np.int64)
    return Case((Footprint("word", backdrops, counts, (0, 0, 1, 1)),), required, coverage)


def code_of(rgb: tuple[int, int, int]) -> str:
    return "{:02X}{:02X}{:02X}".format(*rgb)


class RecolourTest(unittest.TestCase):
    def test_the_known_grey_on_white(self):
        best = recolour_text([case("FFFFFF")], from_levels((0x77, 0x77, 0x77))).remedies[0]
        self.assertEqual(code_of(best.levels), "767676")
        self.assertEqual(best.direction, "darker")

    @settings(max_examples=40, deadline=None)
    @given(levels, levels, st.sampled_from([3.0, 4.5, 7.0]))
    def test_on_a_solid_backdrop_every_proposal_passes_by_hand(self, text, behind, required):
        proposals = recolour_text([case(code_of(behind), required=required)], from_levels(text))
        for remedy in proposals.remedies:
            ratio = ratio_by_hand(code_of(remedy.levels), code_of(behind))
            self.assertGreaterEqual(ratio, required - 1e-9)
            self.assertAlmostEqual(remedy.ratio, ratio, places=6)
        differences = [remedy.difference for remedy in proposals.remedies]
        self.assertEqual(differences, sorted(differences))
        black, white = (ratio_by_hand(c, code_of(behind)) for c in ("000000", "FFFFFF"))
        self.assertEqual(bool(proposals.remedies), max(black, white) >= required)
        self.assertEqual(bool(proposals.none), not proposals.remedies)

    def test_the_colour_one_step_nearer_does_not_pass(self):
        for text, behind in (("E0952B", "FFFFFF"), ("93A5AE", "F6F2E8"), ("2B3F66", "0A1020")):
            with self.subTest(text):
                best = recolour_text([case(behind)], from_levels(bytes_of(text))).remedies[0]
                walk = [tuple(int(v) for v in row) for row in lightness_walk(bytes_of(text))]
                place = walk.index(best.levels)
                nearer = walk[place + (1 if best.direction == "darker" else -1)]
                if relative_luminance(np.array(nearer, np.uint8)) != relative_luminance(
                    np.array(best.levels, np.uint8)
                ):
                    self.assertLess(ratio_by_hand(code_of(nearer), behind), 4.5)

    def test_the_hue_is_kept(self):
        text = bytes_of("E0952B")
        for remedy in recolour_text([case("FFFFFF")], from_levels(text)).remedies:
            if remedy.direction in ("darker", "lighter"):
                hues = [float(oklch_of(np.array(rgb) / 255)[2]) for rgb in (text, remedy.levels)]
                self.assertAlmostEqual(hues[0], hues[1], delta=4)
                reference = Color("srgb", [v / 255 for v in remedy.levels]).convert("oklch")["h"]
                self.assertAlmostEqual(hues[1], reference, delta=0.1)

    def test_both_directions_are_offered_where_both_pass(self):
        words = {
            r.direction
            for r in recolour_text(
                [case("757575", required=3.0)], from_levels((0x80, 0x60, 0x60))
            ).remedies
        }
        self.assertEqual(words, {"darker", "lighter", "black", "white"})

    def test_one_colour_serves_all_cases(self):
        cases = [case("FFFFFF"), case("D0D0D0", required=7.0)]
        best = recolour_text(cases, from_levels((0x99, 0x99, 0x99))).remedies[0]
        self.assertGreaterEqual(ratio_by_hand(code_of(best.levels), "D0D0D0"), 7.0)

    def test_light_and_dark_at_once_has_no_colour_and_says_so(self):
        proposals = recolour_text([case("FFFFFF", "000000", "888888")], from_levels((255,) * 3))
        self.assertEqual(proposals.remedies, ())
        self.assertIn("“word”", proposals.none)
        self.assertIn("light and dark at once", proposals.none)

    def test_two_places_that_need_different_colours_say_so(self):
        proposals = recolour_text([case("FFFFFF"), case("101010")], from_levels((0x80,) * 3))
        if not proposals.remedies:
            self.assertIn("each can have a colour of its own", proposals.none.lower())

    def test_few_pixels_may_stay_below(self):
        backdrops = np.array([[255] * 3, [0] * 3], np.uint8)
        counts = np.array([97, 3], np.int64)
        mostly_white = Case((Footprint("w", backdrops, counts, (0, 0, 1, 1)),), 4.5, 0.95)
        best = recolour_text([mostly_white], from_levels((0x99,) * 3)).remedies[0]
        self.assertEqual(code_of(best.levels), "767676")

    def test_see_through_text_keeps_its_opacity_if_it_can(self):
        best = recolour_text([case("FFFFFF")], from_levels((0x80,) * 3, 0.8)).remedies[0]
        self.assertEqual(best.opacity, 0.8)
        self.assertFalse(best.made_opaque)
        faint = recolour_text([case("FFFFFF")], from_levels((0x80,) * 3, 0.3)).remedies[0]
        self.assertEqual((faint.opacity, faint.made_opaque), (1.0, True))

    @settings(max_examples=25, deadline=None)
    @given(st.lists(levels, min_size=1, max_size=12), levels, st.sampled_from([3.0, 4.5]))
    def test_judging_many_colours_at_once_agrees_with_measuring_each(self, behind, text, required):
        one = case(*(code_of(rgb) for rgb in behind), required=required, coverage=0.8)
        walk = lightness_walk(text)[::7]
        at_once = passing([one], walk, 1.0)
        for levels_, outcome in zip(walk, at_once, strict=True):
            ratios = sorted(ratio_by_hand(code_of(levels_), code_of(rgb)) for rgb in behind)
            needed = int(np.ceil(0.8 * len(ratios) - 1e-9))
            governing = ratios[len(ratios) - needed]
            if abs(governing - required) > 1e-9:
                self.assertEqual(bool(outcome), governing >= required)


if __name__ == "__main__":
    unittest.main()
