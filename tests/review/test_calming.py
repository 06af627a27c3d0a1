"""Gradients and patterns behind texts become so much calmer that the texts pass, and no more."""

from __future__ import annotations

import unittest

from pptx import Presentation

from high_pair.colour.oklab import oklch_of
from high_pair.edits.as_json import edit_in, edit_out
from high_pair.edits.kinds import RecolourStops
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.formats.document import Document
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import Calmed
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.shop import Work
from high_pair.review.tasks import apply_to_alike
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import background, body, run, shape, solid, xfrm
from tests.review.test_planning import PlanningTest


def gradient(*stops: tuple[int, str], angle: int = 0) -> str:
    listed = "".join(
        f'<a:gs pos="{place * 1000}"><a:srgbClr val="{code}"/></a:gs>' for place, code in stops
    )
    return f'<a:gradFill><a:gsLst>{listed}</a:gsLst><a:lin ang="{angle}"/></a:gradFill>'


def pattern(foreground: str, back: str) -> str:
    return (
        f'<a:pattFill prst="pct50"><a:fgClr><a:srgbClr val="{foreground}"/></a:fgClr>'
        f'<a:bgClr><a:srgbClr val="{back}"/></a:bgClr></a:pattFill>'
    )


def on(fill: str, words: str = "Words across all of it", top: float = 40, size: int = 1600) -> str:
    inner = body(run(words, f'sz="{size}"', solid("FFFFFF")))
    return shape(inner, fill=fill, place=xfrm(40, top, 180, 60))


class Calming(PlanningTest):
    def calmed(self, shapes: str, **options: str) -> tuple[Document, list[Pair], list[Calmed]]:
        document = open_document(self.folder.deck(shapes, **options))
        self.addCleanup(document.close)
        bench = PageBench()
        pairs = list(bench.get(document, 0, Asked()).pairs)
        found = remedies_for(pairs[:1], document, bench, Asked(), document.edited).remedies
        return document, pairs, [each for each in found if isinstance(each, Calmed)]

    def assert_mends(self, document, pairs: list[Pair], calmed: Calmed) -> list[Pair]:
        after = list(measured(document.edited(edits_for(calmed, pairs[:1])), 0, Asked()).pairs)
        for pair in after:
            if pair.address in calmed.serves:
                self.assertIs(pair.verdict, Verdict.PASSES)
                # By the least: it is no darker than it has to be.
                self.assertLess(pair.ratio or 99.0, pair.required * 1.12)
        return after

    def test_light_stops_get_darker_hues_kept_and_dark_ones_stay(self) -> None:
        document, pairs, (calmed,) = self.calmed(on(gradient((0, "102030"), (100, "F0B070"))))
        self.assert_mends(document, pairs, calmed)
        (_, dark), (_, light) = calmed.stops
        self.assertEqual(dark, (0x10, 0x20, 0x30))
        before, after = (oklch_of(tuple(v / 255 for v in c)) for c in ((0xF0, 0xB0, 0x70), light))
        self.assertLess(float(after[0]), float(before[0]))
        self.assertAlmostEqual(float(after[2]), float(before[2]), delta=6.0)

    def test_a_text_on_its_dark_part_alone_asks_for_less(self) -> None:
        fill = gradient((0, "102030"), (100, "F0B070"))
        _, _, (whole,) = self.calmed(on(fill))
        _, _, (part,) = self.calmed(on(fill, "Words across all"))
        self.assertLess(part.difference, whole.difference)

    def test_a_pale_stop_is_left_out_where_that_is_less(self) -> None:
        # Without the middle stop it is dark as far as the text goes.
        fill = gradient((0, "102030"), (12, "E8E0D0"), (100, "F8F4F0"))
        document, pairs, (calmed,) = self.calmed(on(fill, "Words"))
        self.assert_mends_at_all(document, pairs, calmed)
        self.assertEqual(calmed.left_out, 1)
        self.assertEqual(
            [levels for _, levels in calmed.stops], [(0x10, 0x20, 0x30), (0xF8, 0xF4, 0xF0)]
        )
        self.assertIn("left out", calmed.detail)

    def test_a_stop_that_no_text_reaches_stays(self) -> None:
        fill = gradient((0, "D0A070"), (50, "D0A070"), (60, "F8F4F0"), (100, "F8F4F0"))
        document, pairs, (calmed,) = self.calmed(on(fill, "Words"))
        self.assert_mends(document, pairs, calmed)
        self.assertEqual([levels for _, levels in calmed.stops[2:]], [(0xF8, 0xF4, 0xF0)] * 2)

    def assert_mends_at_all(self, document, pairs: list[Pair], calmed: Calmed) -> None:
        after = measured(document.edited(edits_for(calmed, pairs[:1])), 0, Asked()).pairs
        self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in after))

    def test_a_patterns_two_colours_come_nearer(self) -> None:
        document, pairs, (calmed,) = self.calmed(on(pattern("E0C090", "203040")))
        self.assertTrue(calmed.pattern)
        self.assert_mends(document, pairs, calmed)
        self.assertEqual(calmed.stops[1][1], (0x20, 0x30, 0x40))
        self.assertLess(max(calmed.stops[0][1]), 0xE0)

    def test_a_slides_own_gradient_serves_all_texts_on_it(self) -> None:
        back = background(gradient((0, "304050"), (100, "D0D8E0"), angle=5_400_000))
        texts = "".join(
            shape(body(run(words, 'sz="1600"', solid("FFFFFF"))), place=xfrm(40, top, 420, 40))
            for words, top in (("Lower", 340), ("Middle", 200), ("Top", 20))
        )
        document, pairs, (calmed,) = self.calmed(texts, slide_background=back)
        falling = [pair for pair in pairs if pair.verdict is Verdict.FALLS_SHORT]
        self.assertEqual(len(calmed.serves), len(falling))
        self.assertGreater(len(falling), 1)
        self.assert_mends_at_all(document, pairs, calmed)

    def test_the_copy_keeps_the_gradients_way_and_another_library_reads_its_stops(self) -> None:
        deck = Presentation()
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        box = slide.shapes.add_textbox(3_000_000, 1_000_000, 4_000_000, 800_000)
        box.fill.gradient()
        box.fill.gradient_angle = 30
        box.text_frame.text = "Words across all of it"
        path, target = (self.folder.path / name for name in ("deck.pptx", "copy.pptx"))
        deck.save(str(path))
        document = open_document(path)
        self.addCleanup(document.close)
        (pair,) = measured(document, 0, Asked()).pairs
        fill = next(
            each for each in document.scene(0).items if "sp=" in getattr(each, "address", "")
        )
        edit = RecolourStops(fill.address, ((0.0, (1, 2, 3)), (1.0, (4, 5, 6))), (pair.address,))
        self.assertEqual(edit_in(edit_out(edit)), edit)
        document.edited([edit]).save(target)
        found = Presentation(str(target)).slides[0].shapes[0].fill
        self.assertEqual(
            [str(stop.color.rgb) for stop in found.gradient_stops], ["010203", "040506"]
        )
        self.assertEqual(found.gradient_angle, 30)

    def test_what_is_stated_elsewhere_is_not_changed(self) -> None:
        document, _, _ = self.calmed(on(solid("F0B070")))
        for address in ("ppt/slides/slide1.xml#sp=1/fill", "ppt/slides/slide1.xml#bg"):
            with self.assertRaises(EditError):
                document.edited([RecolourStops(address, ((0.0, (0, 0, 0)), (1.0, (9, 9, 9))))])
        gradual = on(gradient((0, "102030"), (100, "F0B070")))
        document, _, _ = self.calmed(gradual)
        with self.assertRaises(EditError):
            document.edited([RecolourStops("ppt/slides/slide1.xml#sp=1/fill", ((0.0, (0, 0, 0)),))])

    def test_alike_texts_get_as_much_as_each_needs(self) -> None:
        fills = (gradient((0, "102030"), (100, "F0B070")), gradient((0, "102030"), (100, "E0E0E0")))
        shapes = "".join(on(fill, top=40 + 100 * at) for at, fill in enumerate(fills))
        document, pairs, (calmed,) = self.calmed(shapes)
        work = Work(document, document, (), document.edited, PageBench(), None)
        edits = apply_to_alike(work, calmed, pairs, False, Asked())
        self.assertEqual(len(edits), 2)
        after = measured(document.edited(edits), 0, Asked()).pairs
        self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in after))


if __name__ == "__main__":
    unittest.main()
