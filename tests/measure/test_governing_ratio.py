"""The governing ratio: words, footprints, coverage, and what lies above (docs/review-format.md)."""

import unittest

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from high_pair.colour.ratio import contrast_ratio
from high_pair.measure.alike import alike_groups
from high_pair.measure.footprint import Footprint, grow, radius_of, ratios_of, reached_by
from high_pair.measure.page import measure_page
from high_pair.measure.pairs import numbers_of
from high_pair.measure.shortfall import shortfall_mask
from high_pair.raster.page import rasterise
from high_pair.raster.pictures import Pictures
from high_pair.scene.geometry import IDENTITY, Box, rectangle
from high_pair.scene.page import Figure, Scene
from high_pair.scene.paint import Colour, from_levels
from high_pair.scene.text import Paragraph, Run, TextBlock
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    DeckFolder,
    body,
    pairs_of,
    picture,
    png,
    ratio_by_hand,
    run,
    shape,
    solid,
    xfrm,
)

NO_PICTURES = Pictures(lambda name: b"")


def block(text: str, left: float, top: float, size: float = 20.0, **more: object) -> TextBlock:
    """Give a text block in a shipped font, black unless stated."""
    look = {"colour": Colour(0, 0, 0), "family": "Carlito", "size": size, "weight": 400}
    look.update(more)
    one = Run(text=text, origin="test", address="a#r=1", **look)  # type: ignore[arg-type]
    return TextBlock((Paragraph((one,)),), Box(left, top, 600, 60), IDENTITY, "test")


def field(box: Box, colour: Colour) -> Figure:
    """Give a filled rectangle."""
    return Figure(rectangle(box), box, IDENTITY, fill=colour)


def measured_scene(*items: object, asked: Asked = Asked()):
    scene = Scene(720.0, 405.0, tuple(items))  # type: ignore[arg-type]
    return measure_page(rasterise(scene, NO_PICTURES), NO_PICTURES, 1, asked)


class Coverage(unittest.TestCase):
    def test_95_percent_is_the_fifth_percentile(self):
        ratios = np.arange(1.0, 21.0)  # twenty pixels of 1 to 20
        counts = np.ones(20, np.int64)
        # 19 of 20 meet or beat 2.
        self.assertEqual(reached_by(ratios, counts, 0.95), 2.0)
        self.assertEqual(reached_by(ratios, counts, 1.0), 1.0)
        self.assertEqual(reached_by(ratios, counts, 0.5), 11.0)

    @given(
        st.lists(st.tuples(st.floats(1, 21), st.integers(1, 50)), min_size=1, max_size=30),
        st.floats(0.01, 1.0),
    )
    def test_it_is_what_counting_says(self, entries, coverage):
        ratios = np.array([ratio for ratio, _ in entries])
        counts = np.array([count for _, count in entries], np.int64)
        found = reached_by(ratios, counts, coverage)
        needed = coverage * counts.sum() * (1 - 1e-9)
        self.assertGreaterEqual(counts[ratios >= found].sum(), needed)
        higher = ratios[ratios > found]
        if higher.size:
            self.assertLess(counts[ratios >= higher.min()].sum(), coverage * counts.sum() + 1e-6)

    def test_the_weakest_word_governs(self):
        white, grey = (np.array([[v] * 3], np.uint8) for v in (255, 120))
        words = [
            Footprint("one", white, np.array([100], np.int64), (0, 0, 4, 4)),
            Footprint("two", grey, np.array([5], np.int64), (8, 0, 12, 4)),
        ]
        numbers = numbers_of(words, Colour(0, 0, 0), 4.5, 0.95, 1.0)
        self.assertEqual(numbers.weakest, "two")
        self.assertAlmostEqual(numbers.ratio, ratio_by_hand("000000", "787878"), places=6)
        self.assertEqual(numbers.background, "#787878")
        self.assertTrue(numbers.varied)
        self.assertAlmostEqual(numbers.highest, 21.0)


class Footprints(unittest.TestCase):
    def test_ink_grows_by_a_twelfth_of_an_em_and_a_pixel_at_least(self):
        self.assertAlmostEqual(radius_of(36.0, 96 / 72), 4.0)
        self.assertEqual(radius_of(3.0, 96 / 72), 1.0)
        mask = np.zeros((21, 21), bool)
        mask[10, 10] = True
        grown = grow(mask, 4.0)
        rows, columns = np.nonzero(grown)
        distance = np.hypot(rows - 10, columns - 10)
        self.assertLessEqual(distance.max(), 4.0)
        self.assertEqual(
            grown.sum(), sum(np.hypot(y, x) <= 4 for y in range(-9, 10) for x in range(-9, 10))
        )

    def test_labels_tell_words_apart(self):
        raster = rasterise(
            Scene(720, 405, (block("Go to the muster station", 40, 40),)), NO_PICTURES
        )
        self.assertEqual(sorted(np.unique(raster.numbers).tolist()), [0, 1, 2, 3, 4, 5])
        starts = [np.nonzero((raster.numbers == n).any(axis=0))[0][0] for n in range(1, 6)]
        self.assertEqual(starts, sorted(starts))

    def test_a_long_page_of_words_keeps_its_numbers(self):
        text = " ".join(f"w{n}" for n in range(700))
        raster = rasterise(Scene(720, 900, (block(text, 10, 10, 6.0),)), NO_PICTURES)
        self.assertEqual(len(np.unique(raster.numbers)), 701)

    def test_far_from_the_text_nothing_counts(self):
        near = block("Word", 40, 40)
        far = field(Box(400, 200, 100, 100), Colour(0.1, 0.1, 0.1))
        (pair,) = measured_scene(far, near).pairs
        self.assertFalse(pair.numbers.varied)
        self.assertAlmostEqual(pair.numbers.ratio, 21.0)

    def test_half_of_a_word_on_dark_makes_it_varied(self):
        text = block("Wordwordword", 40, 40)
        (pair,) = measured_scene(field(Box(0, 0, 90, 400), Colour(0, 0, 0)), text).pairs
        self.assertTrue(pair.numbers.varied)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(pair.numbers.lowest, 1.0)
        self.assertAlmostEqual(pair.numbers.highest, 21.0)
        self.assertTrue(0.3 < pair.numbers.share_below < 0.7, pair.numbers.share_below)

    def test_less_than_a_twentieth_below_passes_unless_every_pixel_is_asked_for(self):
        # A dark line one pixel wide behind a long word.
        line = field(Box(60, 0, 0.75, 400), Colour(0, 0, 0))
        text = block("WordwordwordWordwordword", 40, 40, 24.0)
        (pair,) = measured_scene(line, text).pairs
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertLess(pair.numbers.share_below, 0.05)
        (strict,) = measured_scene(line, text, asked=Asked(Level.AA, 1.0)).pairs
        self.assertIs(strict.verdict, Verdict.FALLS_SHORT)


class Shortfall(unittest.TestCase):
    def test_only_footprint_pixels_under_what_is_asked_are_marked(self):
        page = measured_scene(
            field(Box(0, 0, 90, 400), Colour(0, 0, 0)), block("Wordwordword", 40, 40)
        )
        mask = shortfall_mask(page)
        border = round(90 * page.raster.scale)
        self.assertTrue(mask[:, : border - 1].any())
        self.assertFalse(mask[:, border + 1 :].any())
        share = page.pairs[0].numbers.share_below
        (footprint,) = page.footprints[page.pairs[0].id]
        self.assertAlmostEqual(mask.sum() / footprint.counts.sum(), share, delta=0.01)


class Pictured(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def over(self, pixels: np.ndarray, blip: str = "", fill: str = "<a:stretch/>", more: str = ""):
        shapes = picture("rId5", xfrm(0, 0, 720, 405, more), blip, fill) + shape(
            body(run("Words over it", inner=solid("FFFFFF")))
        )
        return pairs_of(
            self.folder.deck(
                shapes,
                slide_rels={"rId5": ("image", "../media/image1.png")},
                more={"ppt/media/image1.png": png(pixels)},
            )
        )[0]

    def test_a_flat_picture_is_a_solid_backdrop(self):
        pair = self.over(np.full((40, 40, 3), (0x22, 0x44, 0x66), np.uint8))
        self.assertEqual(pair.numbers.background, "#224466")
        self.assertFalse(pair.numbers.varied)

    def test_opacity_lets_the_page_through(self):
        dark = np.zeros((40, 40, 3), np.uint8)
        pair = self.over(dark, '<a:alphaModFix amt="60000"/>')
        self.assertEqual(pair.numbers.background, "#666666")

    def test_crop_takes_its_part_and_flip_its_side(self):
        halves = np.zeros((40, 40, 3), np.uint8)
        halves[:, 20:] = (0, 0, 0x99)
        crop = '<a:srcRect l="60000"/><a:stretch><a:fillRect/></a:stretch>'
        self.assertEqual(self.over(halves, fill=crop).numbers.background, "#000099")
        # The text stands at the left; mirrored, the right half lies there.
        self.assertEqual(self.over(halves).numbers.background, "#000000")
        self.assertEqual(self.over(halves, more='flipH="1"').numbers.background, "#000099")

    def test_half_a_turn_brings_the_other_end(self):
        halves = np.zeros((40, 40, 3), np.uint8)
        halves[:20] = (0x33, 0, 0)
        self.assertEqual(self.over(halves).numbers.background, "#330000")
        self.assertEqual(self.over(halves, more='rot="10800000"').numbers.background, "#000000")

    def test_an_effect_that_is_not_painted_yet_needs_eyes(self):
        pair = self.over(np.zeros((8, 8, 3), np.uint8), "<a:duotone/>")
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("duotone", pair.reason)


class AlikeTest(unittest.TestCase):
    def test_same_look_origin_and_backdrop_are_one_group(self):
        pale = {"colour": from_levels((200, 200, 200))}
        pairs = measured_scene(
            block("One", 40, 40, **pale), block("Two", 40, 140, **pale), block("Three", 40, 240)
        ).pairs
        groups = alike_groups(pairs)
        self.assertEqual([len(group.pairs) for group in groups], [2, 1])
        self.assertIs(groups[0].weakest.verdict, Verdict.FALLS_SHORT)

    def test_the_weakest_comes_first(self):
        pairs = measured_scene(
            block("One", 40, 40, colour=from_levels((150, 150, 150))),
            block("Two", 40, 140, colour=from_levels((220, 220, 220))),
        ).pairs
        self.assertEqual([g.weakest.text for g in alike_groups(pairs)], ["Two", "One"])


class Above(unittest.TestCase):
    @given(st.integers(0, 255), st.floats(0.05, 0.9))
    def test_ratios_are_those_of_what_is_seen(self, level, opacity):
        """A veil of a colour over black text on white, by arithmetic."""
        from high_pair.measure.footprint import Above as Veil

        veil = level / 255
        exact = (255 * (opacity * veil + (1 - opacity)), 255 * opacity * veil)
        # A value halfway between two levels may be rounded either way.
        assume(all(abs(value % 1 - 0.5) > 1e-9 for value in exact))
        seen_white = int(255 * (opacity * veil + (1 - opacity)) + 0.5)
        seen_black = int(255 * opacity * veil + 0.5)
        footprint = Footprint(
            "word",
            np.array([[seen_white] * 3], np.uint8),
            np.array([1], np.int64),
            (0, 0, 1, 1),
            Veil(np.ones((1, 3)), np.full((1, 3), opacity * veil), np.array([opacity])),
        )
        expected = contrast_ratio(
            np.array([seen_black] * 3, np.uint8), np.array([seen_white] * 3, np.uint8)
        )
        self.assertAlmostEqual(float(ratios_of(footprint, Colour(0, 0, 0))[0]), float(expected))


if __name__ == "__main__":
    unittest.main()
