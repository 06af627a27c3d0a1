"""Two colours by hand: their ratio, what each target asks, and what links must reach."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.measure.by_hand import TARGETS, HandPair, LinkColours, OneAndMany, link_outcomes
from high_pair.scene.paint import WHITE, from_levels
from tests.decks import mixed, ratio_by_hand

LEVELS = st.tuples(*[st.integers(0, 255)] * 3)


def colour(code: str, opacity: float = 1.0):
    return from_levels(tuple(int(code[i : i + 2], 16) for i in (0, 2, 4)), opacity)


def code_of(levels: tuple[int, int, int]) -> str:
    return bytes(levels).hex().upper()


class Pairs(unittest.TestCase):
    def test_the_ratio_is_wcags_and_its_targets_follow(self):
        # 3.34 misses 4.5 by 1.16 and 7 by 3.66: the sketch's own pair.
        pair = HandPair(colour("3F8C86"), colour("E7F0EE"))
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("3F8C86", "E7F0EE"), places=9)
        by_words = {outcome.target.words: outcome for outcome in pair.outcomes}
        self.assertEqual(
            [words for words, outcome in by_words.items() if outcome.passes],
            ["large-scale AA", "graphics, controls"],
        )
        self.assertAlmostEqual(by_words["normal text AA"].missing, 4.5 - pair.ratio)
        self.assertEqual(by_words["graphics, controls"].missing, 0.0)

    @given(LEVELS, LEVELS)
    def test_which_is_first_makes_no_difference(self, one, other):
        there = HandPair(from_levels(one), from_levels(other)).ratio
        self.assertEqual(there, HandPair(from_levels(other), from_levels(one)).ratio)
        self.assertTrue(1.0 <= there <= 21.0 + 1e-9)

    def test_what_is_see_through_is_laid_over_what_is_behind(self):
        pair = HandPair(colour("000000", 0.5), colour("FFCC00"))
        self.assertEqual(code_of(pair.seen), mixed("000000", 0.5, "FFCC00"))
        on_paper = HandPair(colour("000000"), colour("FF0000", 0.25))
        self.assertEqual(code_of(on_paper.behind), mixed("FF0000", 0.25, "FFFFFF"))

    def test_one_against_many(self):
        many = (colour("777777"), colour("000000", 0.5))
        under = OneAndMany(WHITE, many, one_is_text=False)
        self.assertEqual(
            [round(pair.ratio, 6) for pair in under.pairs],
            [
                round(ratio_by_hand("FFFFFF", "777777"), 6),
                round(ratio_by_hand("FFFFFF", mixed("000000", 0.5, "FFFFFF")), 6),
            ],
        )
        self.assertEqual(under.weakest, 1)
        self.assertIsNone(OneAndMany(WHITE).weakest)
        # A see-through backdrop lies on white paper, whatever the text.
        (pair,) = OneAndMany(colour("000000"), (colour("FF0000", 0.25),)).pairs
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("000000", mixed("FF0000", 0.25, "FFFFFF")))


class Links(unittest.TestCase):
    def outcomes(self, underlined: bool = False, target=TARGETS[0], states=()):
        colours = LinkColours(
            colour("3366CC"), colour("222222"), colour("FFFFFF"), states, underlined
        )
        return {each.words: each for each in link_outcomes(colours, target)}

    def test_three_ratios_and_what_each_must_reach(self):
        found = self.outcomes()
        self.assertEqual(
            list(found),
            ["link on the backdrop", "link beside the body text", "body text on the backdrop"],
        )
        beside = found["link beside the body text"]
        self.assertAlmostEqual(beside.ratio, ratio_by_hand("3366CC", "222222"))
        self.assertEqual((beside.criterion, beside.required), ("1.4.1", 3.0))
        self.assertFalse(beside.passes)
        self.assertEqual(found["link on the backdrop"].required, 4.5)
        self.assertEqual(self.outcomes(target=TARGETS[1])["link on the backdrop"].required, 7.0)

    def test_underlined_links_needn_t_differ_by_colour_and_it_says_so(self):
        beside = self.outcomes(underlined=True)["link beside the body text"]
        self.assertIsNone(beside.required)
        self.assertTrue(beside.passes)
        self.assertIn("underlined", beside.why)

    def test_further_states_have_rows_of_their_own(self):
        states = (("visited", colour("551A8B")), ("hover", colour("999999")))
        found = self.outcomes(states=states)
        self.assertIn("visited link beside the body text", found)
        self.assertFalse(found["hover link on the backdrop"].passes)
        self.assertNotIn("hover link beside the body text", found)


if __name__ == "__main__":
    unittest.main()
