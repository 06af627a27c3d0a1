"""Where another font stands in for the file's own, a verdict holds for other widths too."""

from __future__ import annotations

import unittest

import numpy as np

from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.raster.layout import has_stand_ins, text_height, with_widths
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import remedies_for
from high_pair.scene.text import TextBlock
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import DeckFolder, body, pairs_of, picture, png, run, shape, solid, xfrm

UNKNOWN = '<a:latin typeface="Nobody Has This Sans"/>'
KNOWN = '<a:latin typeface="Carlito"/>'
TWIN = '<a:latin typeface="Calibri"/>'
WORDS = "Go to the muster station at once"


class OnAPanel(unittest.TestCase):
    """White words that begin on a dark panel, on a white page."""

    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def words(self, font: str, ink: str = "FFFFFF", text: str = WORDS, width: float = 500) -> str:
        inner = solid(ink) + font
        return shape(body(run(text, inner=inner)), place=xfrm(40, 40, width, 60))

    def on_panel(self, width: float, font: str, ink: str = "FFFFFF") -> Pair:
        panel = shape(fill=solid("202020"), place=xfrm(30, 30, width, 90))
        (pair,) = pairs_of(self.folder.deck(panel + self.words(font, ink)))
        return pair

    def width_of(self, font: str) -> float:
        (pair,) = pairs_of(self.folder.deck(self.words(font, "000000")))
        return pair.bbox[0] + pair.bbox[2] - 30

    def test_what_only_just_stays_on_its_panel_does_not_pass_by_luck(self) -> None:
        reach = self.width_of(UNKNOWN)
        just = self.on_panel(reach + 6, UNKNOWN)
        self.assertIs(just.verdict, Verdict.NEEDS_EYES)
        self.assertIn("wider or narrower", just.reason)
        self.assertIs(self.on_panel(reach * 1.14 + 10, UNKNOWN).verdict, Verdict.PASSES)
        self.assertIs(self.on_panel(reach * 0.7, UNKNOWN).verdict, Verdict.FALLS_SHORT)

    def test_nor_does_it_fall_short_by_bad_luck(self) -> None:
        pair = self.on_panel(self.width_of(UNKNOWN) - 6, UNKNOWN)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)

    def test_a_font_of_the_same_widths_is_measured_as_it_stands(self) -> None:
        for font in (KNOWN, TWIN):
            reach = self.width_of(font)
            self.assertIs(self.on_panel(reach + 6, font).verdict, Verdict.PASSES)
            self.assertIs(self.on_panel(reach - 6, font).verdict, Verdict.FALLS_SHORT)

    def test_text_that_passes_on_the_page_and_on_the_panel_passes_however_wide(self) -> None:
        panel = shape(fill=solid("DDDDDD"), place=xfrm(30, 30, 120, 90))
        (pair,) = pairs_of(self.folder.deck(panel + self.words(UNKNOWN, "000000")))
        self.assertIs(pair.verdict, Verdict.PASSES)

    def test_one_line_more_may_leave_the_panel_below(self) -> None:
        reach = self.width_of(UNKNOWN)
        # The box's insets and a little less than the words would need if they were wider.
        words = self.words(UNKNOWN, width=reach - 10 + 14.4 + 6)
        panel = shape(fill=solid("202020"), place=xfrm(30, 30, 640, 45))
        (pair,) = pairs_of(self.folder.deck(panel + words))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)

    def test_remedies_are_offered_that_hold_for_other_widths(self) -> None:
        noise = np.random.default_rng(1).integers(0, 255, (90, 160, 3), np.uint8)
        kinds = []
        for font in (KNOWN, UNKNOWN):
            path = self.folder.deck(
                picture("rId9", xfrm(0, 0, 720, 405)) + self.words(font, "AAAAAA"),
                slide_rels={"rId9": ("image", "../media/noise.png")},
                more={"ppt/media/noise.png": png(noise)},
            )
            document = open_document(path)
            self.addCleanup(document.close)
            (pair,) = measured(document, 0, Asked()).pairs
            self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
            found = remedies_for([pair], document, PageBench(), Asked(), document.edited)
            kinds.append({remedy.kind for remedy in found.remedies})
            for remedy in found.remedies:
                self.assertGreaterEqual(remedy.ratio, pair.required)
        self.assertEqual(kinds[0], kinds[1])
        self.assertIn("plate", kinds[1])


class Widths(unittest.TestCase):
    def test_letters_grow_by_the_share_and_lines_with_them(self) -> None:
        folder = DeckFolder()
        self.addCleanup(folder.close)
        for font, changes in ((UNKNOWN, True), (KNOWN, False), (TWIN, False)):
            words = shape(
                body(run(" ".join([WORDS] * 6), inner=solid("000000") + font)),
                place=xfrm(40, 40, 400, 200),
            )
            document = open_document(folder.deck(words))
            self.addCleanup(document.close)
            (block,) = (x for x in document.scene(0).items if isinstance(x, TextBlock))
            self.assertEqual(has_stand_ins(block), changes)
            heights = [text_height(with_widths(block, share)) for share in (-0.3, 0.0, 0.3)]
            self.assertEqual(heights[0] < heights[1] < heights[2], changes)


if __name__ == "__main__":
    unittest.main()
