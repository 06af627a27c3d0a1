"""Mending a set: the least movement that holds all pairs, against brute force and arithmetic."""

import itertools
import time
import unittest
from dataclasses import replace

import numpy as np

from high_pair.colour.difference import ciede2000
from high_pair.colour.gamut import into_srgb
from high_pair.colour.oklab import oklch_of
from high_pair.colour.ratio import contrast_ratio
from high_pair.colour.srgb import from_bytes, to_bytes
from high_pair.colour.vision import Eyes, apart
from high_pair.errors import HighPairError
from high_pair.remedy.sets import FLOOR, Move, mend_set, ratio_of
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair

WHITE, BLACK = SetColour("white", (255, 255, 255)), SetColour("black", (0, 0, 0))


def no_children(_colour: SetColour, _levels: np.ndarray) -> np.ndarray:
    raise AssertionError("nothing is derived")


def a_set(*colours: SetColour, pairs: tuple[SetPair, ...]) -> ColourSet:
    return ColourSet("Quay", "tokens", "quay.json", colours, pairs)


def line_of(colour: SetColour, count: int = 400) -> np.ndarray:
    """Give the colour at many lightnesses, hue and chroma kept: uint8 (n, 3)."""
    _, chroma, hue = oklch_of(from_bytes(np.array(colour.levels, np.uint8)))
    steps = np.linspace(0, 1, count)
    line = np.stack([steps, np.full(count, chroma), np.full(count, hue)], axis=-1)
    return np.unique(np.concatenate([to_bytes(into_srgb(line)), [colour.levels]]), axis=0)


def squares(colours: ColourSet, found: dict[str, np.ndarray]) -> float:
    return sum(
        float(ciede2000(from_bytes(np.array(each.levels, np.uint8)), from_bytes(found[each.name])))
        ** 2
        for each in colours.colours
    )


class MendingTest(unittest.TestCase):
    def assert_holds(self, found, colours: ColourSet) -> None:
        for pair in colours.pairs:
            if pair not in found.given_up:
                self.assertGreaterEqual(ratio_of(found.colours, pair), pair.required, pair)
        before = from_bytes(np.array([each.levels for each in colours.colours], np.uint8))
        after = from_bytes(np.array([each.levels for each in found.colours.colours], np.uint8))
        for eyes in Eyes:
            least = np.minimum(apart(eyes, before), FLOOR) - 0.1
            self.assertTrue((apart(eyes, after) >= least).all(), eyes)


class OnePair(MendingTest):
    def test_the_backdrop_gets_darker_until_white_passes_and_no_further(self):
        orange = SetColour("accent1", (224, 149, 43))
        colours = a_set(
            replace(WHITE, leave=True), orange, pairs=(SetPair("white", "accent1", required=3.0),)
        )
        found = mend_set(colours, no_children)
        (change,) = found.changes
        self.assertEqual(change.name, "accent1")
        self.assert_holds(found, colours)
        # By brute force: of all lightnesses that pass, the one that is nearest.
        line = line_of(orange)
        passing = line[contrast_ratio(line, np.array(WHITE.levels, np.uint8)) >= 3.0]
        nearest = ciede2000(
            from_bytes(passing), from_bytes(np.array(orange.levels, np.uint8))
        ).min()
        self.assertLessEqual(change.delta_e, 1.02 * float(nearest))
        before, after = (
            oklch_of(from_bytes(np.array(levels, np.uint8)))
            for levels in (change.before, change.after)
        )
        self.assertAlmostEqual(before[2], after[2], delta=2.0)

    def test_what_passes_is_left_alone(self):
        colours = a_set(WHITE, BLACK, pairs=(SetPair("black", "white", required=7.0),))
        self.assertEqual(mend_set(colours, no_children).changes, ())

    def test_texts_or_backdrops_alone_are_moved_where_that_is_asked(self):
        grey, pale = SetColour("grey", (150, 150, 150)), SetColour("pale", (230, 230, 240))
        colours = a_set(grey, pale, pairs=(SetPair("grey", "pale", required=3.0),))
        for move, name in ((Move.TEXTS, "grey"), (Move.BACKDROPS, "pale")):
            found = mend_set(colours, no_children, move)
            self.assertEqual([change.name for change in found.changes], [name])
            self.assert_holds(found, colours)


class AgainstBruteForce(MendingTest):
    def test_the_total_is_within_two_percent_of_the_best(self):
        random = np.random.default_rng(11)
        for case in range(6):
            levels = random.integers(30, 226, (3, 3))
            one, two, three = (
                SetColour(name, (int(r), int(g), int(b)))
                for name, (r, g, b) in zip("abc", levels, strict=True)
            )
            colours = a_set(
                one, two, three,
                pairs=(SetPair("a", "b", required=3.0), SetPair("a", "c", required=4.5)),
            )  # fmt: skip
            found = mend_set(colours, no_children, floor=0.0)
            self.assert_holds_ratios(found, colours)
            moved = {each.name: np.array(each.levels, np.uint8) for each in found.colours.colours}
            best = self.brute_force(colours)
            self.assertLessEqual(squares(colours, moved) ** 0.5, 1.02 * best**0.5 + 0.3, case)

    def assert_holds_ratios(self, found, colours: ColourSet) -> None:
        self.assertEqual(found.given_up, ())
        for pair in colours.pairs:
            self.assertGreaterEqual(ratio_of(found.colours, pair), pair.required)

    def brute_force(self, colours: ColourSet) -> float:
        """Give the least sum of squares over all triples of a fine grid of lightnesses."""
        lines = [line_of(each, 160) for each in colours.colours]
        costs = [
            ciede2000(from_bytes(line), from_bytes(np.array(each.levels, np.uint8))) ** 2
            for line, each in zip(lines, colours.colours, strict=True)
        ]
        best = np.inf
        # a meets b and c, and those two don't meet: for each a the cheapest of each serves.
        for place, colour in enumerate(lines[0]):
            total = costs[0][place]
            for other, pair in ((1, colours.pairs[0]), (2, colours.pairs[1])):
                passing = contrast_ratio(lines[other], colour) >= pair.required
                total += costs[other][passing].min() if passing.any() else np.inf
            best = min(best, total)
        return float(best)


class Families(MendingTest):
    def test_derived_colours_move_with_theirs_and_their_pairs_count(self):
        # Half-way to black, as a shade of a theme is.
        def derive(_colour: SetColour, levels: np.ndarray) -> np.ndarray:
            return np.asarray(levels // 2, np.uint8)

        sky = SetColour("sky", (120, 180, 230))
        shade = SetColour("shade", (60, 90, 115), parent="sky", change="half as light")
        colours = a_set(
            replace(WHITE, leave=True), sky, shade, pairs=(SetPair("white", "shade", required=9.0),)
        )
        found = mend_set(colours, derive, floor=0.0)
        new_sky, new_shade = found.colours.colour("sky"), found.colours.colour("shade")
        assert new_sky is not None and new_shade is not None
        self.assertEqual(tuple(level // 2 for level in new_sky.levels), new_shade.levels)
        self.assertGreaterEqual(ratio_of(found.colours, colours.pairs[0]), 9.0)
        self.assertEqual({change.name for change in found.changes}, {"sky", "shade"})

    def test_what_is_left_as_it_is_does_not_move(self):
        colours = a_set(
            SetColour("a", (150, 150, 150), leave=True),
            SetColour("b", (160, 160, 200)),
            pairs=(SetPair("a", "b", required=3.0),),
        )
        found = mend_set(colours, no_children)
        self.assertEqual([change.name for change in found.changes], ["b"])
        self.assert_holds(found, colours)

    def test_where_not_all_can_be_held_the_least_used_is_given_up_and_named(self):
        grey = SetColour("grey", (128, 128, 128))
        # Nothing has 7 with both black and white.
        often = SetPair("white", "grey", required=7.0, places=9)
        seldom = SetPair("black", "grey", required=7.0, places=1)
        colours = a_set(
            replace(WHITE, leave=True), replace(BLACK, leave=True), grey, pairs=(often, seldom)
        )
        found = mend_set(colours, no_children)
        self.assertEqual(found.given_up, (seldom,))
        self.assert_holds(found, colours)

    def test_two_colours_that_are_moved_alike_stay_apart(self):
        sand, rust = SetColour("sand", (235, 190, 90)), SetColour("rust", (215, 120, 60))
        colours = a_set(
            replace(WHITE, leave=True),
            sand,
            rust,
            pairs=(SetPair("white", "sand", required=4.5), SetPair("white", "rust", required=4.5)),
        )
        self.assert_holds(mend_set(colours, no_children), colours)

    def test_sets_of_no_and_of_one_colour_come_back_as_they_are(self):
        for colours in (a_set(pairs=()), a_set(WHITE, pairs=())):
            self.assertEqual(mend_set(colours, no_children).colours, colours)


class Speed(MendingTest):
    def crowd(self, count: int, pairs: int) -> ColourSet:
        random = np.random.default_rng(count)
        colours = tuple(
            SetColour(f"c{number}", tuple(int(level) for level in random.integers(0, 256, 3)))
            for number in range(count)
        )
        every = list(itertools.combinations(range(count), 2))
        chosen = random.permutation(len(every))[:pairs]
        return a_set(
            *colours,
            pairs=tuple(
                SetPair(f"c{every[n][0]}", f"c{every[n][1]}", required=3.0, places=int(n) % 7 + 1)
                for n in chosen
            ),
        )

    def test_a_themes_twelve_colours_with_forty_pairs_are_settled_soon(self):
        colours = self.crowd(12, 40)
        start = time.monotonic()
        found = mend_set(colours, no_children)
        self.assertLess(time.monotonic() - start, 30)
        self.assert_holds(found, colours)

    def test_a_crowd_of_forty_colours_that_cant_all_be_held_ends_in_time_and_says_so(self):
        colours = self.crowd(40, 200)
        start = time.monotonic()
        found = mend_set(colours, no_children)
        self.assertLess(time.monotonic() - start, 45)
        self.assertTrue(found.given_up)
        self.assert_holds(found, colours)


class Large(MendingTest):
    def test_of_a_large_set_only_what_is_in_pairs_moves(self):
        rng = np.random.default_rng(5)
        others = tuple(
            SetColour(f"other {n}", tuple(int(x) for x in rng.integers(0, 256, 3)))
            for n in range(300)
        )
        colours = a_set(
            WHITE,
            SetColour("accent1", (224, 149, 43)),
            *others,
            pairs=(SetPair("white", "accent1"),),
        )
        # Among so many there is hardly room, unless they may come near each other.
        found = mend_set(colours, no_children, floor=0.0)
        self.assertEqual(found.given_up, ())
        self.assertGreaterEqual(ratio_of(found.colours, colours.pairs[0]), 4.5)
        self.assertLessEqual({change.name for change in found.changes}, {"white", "accent1"})

    def test_more_colours_than_anybody_follows_are_refused(self):
        many = tuple(SetColour(f"c{n}", (n, n, n)) for n in range(200))
        pairs = tuple(SetPair(f"c{n}", f"c{n + 1}") for n in range(199))
        with self.assertRaisesRegex(HighPairError, "200 of its colours would move"):
            mend_set(a_set(*many, pairs=pairs), no_children)


if __name__ == "__main__":
    unittest.main()
