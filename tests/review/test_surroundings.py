"""Remedies beside another text colour: the fill behind it, both shared, weight and size."""

import unittest
from dataclasses import replace

from high_pair.edits.kinds import RecolourFill, Restyle
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for
from high_pair.review.surroundings import around, backdrops_for, restyles_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.decks import DeckFolder, body, ratio_by_hand, run, shape, solid, xfrm


class SurroundingsTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def opened(self, shapes: str):
        document = open_document(self.folder.deck(shapes))
        self.addCleanup(document.close)
        return document, PageBench().get(document, 0, Asked())

    def after(self, document, edits) -> dict[str, Pair]:
        return {p.text: p for p in measured(document.edited(edits), 0, Asked()).pairs}


class Backdrops(SurroundingsTest):
    def test_the_fill_behind_a_text_gets_the_nearest_colour_that_passes(self):
        document, page = self.opened(
            shape(body(run("Words", inner=solid("FFFFFF"))), fill=solid("E0952B"))
        )
        pair = page.pairs[0]
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("FFFFFF", "E0952B"), places=2)
        found = backdrops_for(pair, page, Asked(), document.edited)
        plain = next(remedy for remedy in found if remedy.text is None)
        code = "%02X%02X%02X" % plain.levels  # noqa: UP031
        self.assertGreaterEqual(ratio_by_hand("FFFFFF", code), pair.required)
        after = self.after(document, edits_for(plain, [pair]))["Words"]
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertEqual(after.ratio, plain.ratio)
        self.assertEqual(after.numbers.background, f"#{code}")
        self.assertEqual(after.address, pair.address)

    def test_shared_between_the_two_both_change_by_less(self):
        document, page = self.opened(
            shape(body(run("Words", inner=solid("FFD0D0"))), fill=solid("E0952B"))
        )
        pair = page.pairs[0]
        found = backdrops_for(pair, page, Asked(), document.edited)
        alone = min(r.difference for r in found if r.text is None)
        shared = next(remedy for remedy in found if remedy.text is not None)
        self.assertLess(shared.difference, alone)
        after = self.after(document, edits_for(shared, [pair]))["Words"]
        self.assertIs(after.verdict, Verdict.PASSES)

    def test_a_text_that_passes_on_the_same_fill_still_does(self):
        mid = shape(fill=solid("909090"), place=xfrm(50, 50, 500, 250))
        white = shape(body(run("White", inner=solid("FFFFFF"))), place=xfrm(60, 60, 300, 60))
        black = shape(body(run("Black", inner=solid("000000"))), place=xfrm(60, 160, 300, 60))
        document, page = self.opened(mid + white + black)
        pair = next(pair for pair in page.pairs if pair.text == "White")
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT if pair.ratio < 3 else Verdict.PASSES)
        for remedy in backdrops_for(pair, page, Asked(), document.edited):
            after = self.after(document, edits_for(remedy, [pair]))
            self.assertTrue(all(each.verdict is Verdict.PASSES for each in after.values()))

    def test_over_a_gradient_or_a_see_through_fill_nothing_is_offered(self):
        see_through = solid("E0952B", '<a:alpha val="50000"/>')
        document, page = self.opened(
            shape(body(run("Words", inner=solid("FFFFFF"))), fill=see_through)
        )
        self.assertEqual(backdrops_for(page.pairs[0], page, Asked(), document.edited), [])

    def test_a_link_told_by_colour_alone_is_not_helped_by_what_is_behind_it(self):
        document, page = self.opened(
            shape(body(run("Words", inner=solid("FFFFFF"))), fill=solid("E0952B"))
        )
        link = replace(page.pairs[0], subject=Subject.LINK)
        self.assertEqual(around(link, document, page, Asked(), document.edited), [])

    def test_the_outline_and_the_effects_of_the_shape_stay(self):
        line = f'<a:ln w="12700">{solid("112233")}</a:ln>'
        document, page = self.opened(
            shape(body(run("Words", inner=solid("FFFFFF"))), fill=solid("E0952B") + line)
        )
        address = page.pairs[0].address.partition("/")[0]
        address = page.pairs[0].address.split("/p=")[0] + "/fill"
        edited = document.edited([RecolourFill(address, (1, 2, 3))])
        figures = [item for item in edited.scene(0).items if hasattr(item, "stroke")]
        stroked = [figure for figure in figures if figure.stroke is not None]
        self.assertEqual(stroked[0].stroke.fill.levels, (0x11, 0x22, 0x33))


class WeightAndSize(SurroundingsTest):
    # 3.54 to 1 on white: enough for large-scale text alone.
    GREY = solid("878787")

    def proposed(self, size: str, place: str | None = None, bold: str = ""):
        text = run("Mind the ramp", f'sz="{size}" {bold}', self.GREY)
        document, page = self.opened(shape(body(text), place=place))
        pair = page.pairs[0]
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        return document, pair, restyles_for(pair, page, Asked(), document.edited)

    def test_bold_is_enough_from_14_points_and_passes_when_applied(self):
        document, pair, found = self.proposed("1400")
        self.assertEqual([(r.size, r.bold) for r in found], [(None, True), (18.0, None)])
        for remedy in found:
            after = self.after(document, edits_for(remedy, [pair]))["Mind the ramp"]
            self.assertIs(after.verdict, Verdict.PASSES)
            self.assertEqual(after.required, 3.0)

    def test_bold_text_is_enough_at_14_points(self):
        _, _, found = self.proposed("1200", bold='b="1"')
        self.assertEqual([(r.size, r.bold) for r in found], [(14.0, None)])

    def test_far_smaller_text_is_left_alone(self):
        self.assertEqual(self.proposed("900")[2], [])

    def test_a_text_that_would_not_fit_its_box_is_not_made_larger(self):
        # One line of 14 points fits; at 18 points the words need two.
        place = xfrm(60, 60, 95, 24)
        text = body(
            run("Mind the ramp", 'sz="1400"', self.GREY),
            properties='<a:bodyPr lIns="0" rIns="0" tIns="0" bIns="0"/>',
        )
        document, page = self.opened(shape(text, place=place))
        found = restyles_for(page.pairs[0], page, Asked(), document.edited)
        self.assertEqual([(r.size, r.bold) for r in found], [(None, True)])

    def test_where_the_ratio_is_too_low_for_large_text_too_nothing_is_offered(self):
        document, page = self.opened(
            shape(body(run("Mind the ramp", 'sz="1400"', solid("AAAAAA"))))
        )
        self.assertEqual(restyles_for(page.pairs[0], page, Asked(), document.edited), [])

    def test_size_and_weight_are_written_as_the_runs_own(self):
        document, page = self.opened(shape(body(run("Mind the ramp", "", self.GREY))))
        edited = document.edited([Restyle(page.pairs[0].address, 21.5, True)])
        (pair,) = measured(edited, 0, Asked()).pairs
        self.assertEqual((pair.size, pair.bold), (21.5, True))


if __name__ == "__main__":
    unittest.main()
