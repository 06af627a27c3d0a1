"""Mending a whole file: what is chosen, what goes together, and what is left."""

import io
import unittest
import unittest.mock
from dataclasses import replace
from pathlib import Path

import numpy as np
from lxml import etree
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from high_pair.edits.kinds import LayOver, RecolourFill, RecolourText
from high_pair.formats import open_document
from high_pair.measure.alike import alike_groups
from high_pair.remedy.recolour import governing_ratio
from high_pair.remedy.wishes import PLATES, VEILS, Preference, Wishes
from high_pair.review.measuring import PageBench, measured, review_page
from high_pair.review.mending import cases_of, in_order, remedies_for
from high_pair.review.options import State, overlay
from high_pair.review.planning import plan
from high_pair.review.shop import Work
from high_pair.review.tasks import apply_to_alike
from high_pair.scene.overlay import OverlayKind
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    NS,
    THEME_COLOURS,
    DeckFolder,
    body,
    luminance,
    ratio_by_hand,
    run,
    shape,
    solid,
    xfrm,
)
from tests.formats.test_overlays import clouds

WHITE, ORANGE = solid("FFFFFF"), solid("E0952B")


def text(words: str, colour: str, top: float, size: int = 1400, fill: str = "") -> str:
    inner = body(run(words, f'sz="{size}"', solid(colour)))
    return shape(inner, fill=fill, place=xfrm(40, top, 500, 50))


class PlanningTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def planned(self, path: Path, wishes: Wishes | None = None):
        document = open_document(path)
        self.addCleanup(document.close)
        pages = [review_page(document, page, Asked()) for page in range(len(document.pages))]
        found = plan(document, pages, Asked(), wishes or Wishes())
        mended = document.edited(found.edits) if found.edits else document
        after = {}
        for page in range(len(document.pages)):
            for pair in measured(mended, page, Asked()).pairs:
                after[pair.text] = pair
        return found, after

    def on_a_photograph(self, *slides: str) -> Path:
        deck = Presentation()
        for shapes in slides:
            slide = deck.slides.add_slide(deck.slide_layouts[6])
            slide.shapes.add_picture(io.BytesIO(clouds()), 0, 0, Pt(720), Pt(540))
            slide.shapes._spTree.extend(list(etree.fromstring(f"<tree {NS}>{shapes}</tree>")))
        path = self.folder.path / "photo.pptx"
        deck.save(str(path))
        return path


class WhatIsAlike(PlanningTest):
    def test_texts_over_one_picture_are_alike_and_over_another_they_are_not(self):
        deck = Presentation()
        white = text("White", "FFFFFF", 40, 2800)
        for seed in (1, 1, 2):
            slide = deck.slides.add_slide(deck.slide_layouts[6])
            noise = np.random.default_rng(seed).integers(120, 255, (60, 80, 3), np.uint8)
            data = io.BytesIO()
            Image.fromarray(noise).save(data, "PNG")
            slide.shapes.add_picture(data, 0, 0, Pt(720), Pt(540))
            slide.shapes._spTree.extend(list(etree.fromstring(f"<tree {NS}>{white}</tree>")))
        path = self.folder.path / "noise.pptx"
        deck.save(str(path))
        document = open_document(path)
        self.addCleanup(document.close)
        pairs = [pair for page in range(3) for pair in review_page(document, page, Asked()).pairs]
        groups = alike_groups(pairs)
        pages = sorted(sorted(pair.page for pair in group.pairs) for group in groups)
        self.assertEqual(pages, [[1, 2], [3]])


class WhatIsChosen(PlanningTest):
    def test_grey_on_white_stays_grey_and_gets_no_darker_than_it_has_to(self):
        found, after = self.planned(self.folder.deck(text("Grey", "AAAAAA", 40)))
        (edit,) = found.edits
        self.assertIsInstance(edit, RecolourText)
        self.assertEqual(len(set(edit.levels)), 1)
        code = "%02X" % (edit.levels[0] + 1) * 3
        self.assertLess(ratio_by_hand(code, "FFFFFF"), 4.5)
        self.assertIs(after["Grey"].verdict, Verdict.PASSES)

    def test_white_on_a_panel_stays_white_and_the_panel_gets_darker(self):
        found, after = self.planned(self.folder.deck(text("White", "FFFFFF", 40, fill=ORANGE)))
        self.assertIsInstance(found.edits[0], RecolourFill)
        self.assertEqual(after["White"].numbers.foreground, "#FFFFFF")
        self.assertIs(after["White"].verdict, Verdict.PASSES)

    def test_a_fill_that_would_become_another_colour_stays_and_the_text_changes(self):
        yellow = solid("FCD975")
        _, after = self.planned(self.folder.deck(text("White", "FFFFFF", 40, fill=yellow)))
        self.assertEqual(after["White"].numbers.background, "#FCD975")
        self.assertLess(luminance(after["White"].numbers.foreground[1:]), 0.1)

    def test_white_over_a_photograph_stays_white_over_something_laid(self):
        found, after = self.planned(self.on_a_photograph(text("White", "FFFFFF", 40, 2800)))
        self.assertTrue(all(isinstance(edit, LayOver) for edit in found.edits), found.edits)
        self.assertNotIn(found.edits[0].overlay.levels, [(0, 0, 0), (255, 255, 255)])
        self.assertIs(after["White"].verdict, Verdict.PASSES)

    def test_without_overlays_it_takes_the_files_own_dark_and_no_muddy_grey(self):
        wishes = Wishes(overlays=frozenset())
        path = self.on_a_photograph(text("White", "FFFFFF", 40, 2800))
        found, after = self.planned(path, wishes)
        (edit,) = found.edits
        document = open_document(path)
        self.addCleanup(document.close)
        self.assertIn(edit.levels, document.colours(0))
        self.assertLess(luminance(after["White"].numbers.foreground[1:]), 0.1)

    def test_a_preference_comes_first_where_it_serves(self):
        path = self.folder.deck(text("White", "FFFFFF", 40, fill=ORANGE))
        kinds = {}
        for prefer in Preference:
            found, after = self.planned(path, Wishes(prefer))
            kinds[prefer] = type(found.edits[0])
            self.assertIs(after["White"].verdict, Verdict.PASSES)
        self.assertEqual(
            kinds,
            {
                Preference.LEAST: RecolourFill,
                Preference.TEXT: RecolourText,
                Preference.BACKDROP: RecolourFill,
                # Its own fill hides whatever lies behind the shape.
                Preference.OVERLAY: RecolourFill,
            },
        )

    def test_only_the_overlays_that_are_wanted_are_laid(self):
        path = self.on_a_photograph(text("White", "FFFFFF", 40, 2800))
        for wanted in (PLATES, VEILS, frozenset({OverlayKind.RAMP})):
            found, _ = self.planned(path, Wishes(overlays=wanted))
            laid = [edit.overlay.kind for edit in found.edits if isinstance(edit, LayOver)]
            self.assertTrue(laid and set(laid) <= wanted, laid)

    def test_a_colour_that_is_kept_is_not_changed_and_what_is_left_says_so(self):
        two = text("Kept", "AAAAAA", 40) + text("Grey", "999999", 120)
        wishes = Wishes(kept=frozenset({(0xAA, 0xAA, 0xAA)}), overlays=frozenset())
        found, after = self.planned(self.folder.deck(two), wishes)
        self.assertEqual(after["Kept"].numbers.foreground, "#AAAAAA")
        self.assertIs(after["Grey"].verdict, Verdict.PASSES)
        ((pair, why),) = found.left
        self.assertEqual(pair.text, "Kept")
        self.assertIn("to be kept", why)


class WhatGoesTogether(PlanningTest):
    def test_one_grey_on_two_grounds_becomes_one_other_grey(self):
        ground = shape(fill=solid("DDEEEE"), place=xfrm(30, 110, 600, 60))
        both = text("On white", "999999", 40) + ground + text("On a panel", "999999", 120)
        _, after = self.planned(self.folder.deck(both))
        one, other = after["On white"], after["On a panel"]
        self.assertEqual(one.numbers.foreground, other.numbers.foreground)
        self.assertIs(one.verdict, Verdict.PASSES)
        self.assertIs(other.verdict, Verdict.PASSES)

    def test_a_heading_never_ends_paler_than_the_text_that_it_heads(self):
        both = text("Heading", "B9904F", 40, 3200) + text("Text", "C8B48C", 120, 1400)
        _, after = self.planned(self.folder.deck(both))
        self.assertIs(after["Text"].verdict, Verdict.PASSES)
        self.assertGreaterEqual(after["Heading"].ratio, after["Text"].ratio - 0.1)

    def test_texts_side_by_side_over_a_photograph_share_one_plate(self):
        both = text("Title", "FFFFFF", 40, 3200) + text("Subtitle", "FFFFFF", 90, 1800)
        found, after = self.planned(self.on_a_photograph(both))
        self.assertEqual(sum(isinstance(edit, LayOver) for edit in found.edits), 1)
        self.assertIs(after["Title"].verdict, Verdict.PASSES)
        self.assertIs(after["Subtitle"].verdict, Verdict.PASSES)

    def test_one_plate_colour_a_page(self):
        far = text("Above", "FFFFFF", 30, 2400) + text("Below", "FFFFFF", 470, 2400)
        found, _ = self.planned(self.on_a_photograph(far), Wishes(overlays=PLATES))
        colours = {edit.overlay.levels for edit in found.edits if isinstance(edit, LayOver)}
        self.assertEqual(len(colours), 1)

    def test_an_overlay_that_just_falls_short_when_painted_is_tried_a_little_stronger(self):
        document = open_document(self.on_a_photograph(text("White", "FFFFFF", 40, size=3200)))
        self.addCleanup(document.close)
        bench = PageBench()
        page = bench.get(document, 0, Asked())
        state = State(
            document, lambda _: page, Asked(), document.edited, Wishes(overlays=PLATES), {}, {}
        )
        found = [option.edits[0].overlay for option in overlay(page.pairs, state)]
        self.assertEqual(len(found), 4)
        for least, stronger in zip(found[::2], found[1::2], strict=True):
            self.assertGreater(stronger.percent, least.percent)
            self.assertEqual(replace(stronger, percent=least.percent), least)

    def test_where_what_is_behind_varies_it_holds_a_little_round_the_letters_too(self):
        path = self.on_a_photograph(text("Words of grey", "9A9A9A", 40, 2400))
        document = open_document(path)
        self.addCleanup(document.close)
        page = measured(document, 0, Asked())
        (pair,) = page.pairs
        (case,) = cases_of(pair, page, Asked().coverage)
        own = page.footprints[pair.id]
        self.assertGreater(len(case.footprints), len(own))
        for footprint, wide in zip(own, case.footprints[len(own) :], strict=True):
            self.assertGreater(wide.counts.sum(), footprint.counts.sum())
        found, _ = self.planned(path, Wishes(Preference.TEXT))
        (edit,) = found.edits
        colour = pair.text_colour.__class__(*(level / 255 for level in edit.levels))
        self.assertGreaterEqual(governing_ratio(case, colour), pair.required)


class WhatIsLeft(PlanningTest):
    def test_one_text_that_cannot_be_changed_does_not_keep_the_others_from_it(self):
        path = self.folder.deck(text("One", "AAAAAA", 40) + text("Two", "BBBBBB", 120))
        document = open_document(path)
        self.addCleanup(document.close)
        pages = [review_page(document, 0, Asked())]
        stuck = next(pair.address for pair in pages[0].pairs if pair.text == "One")
        plain = type(document).edited

        def edited(self, edits):
            from high_pair.errors import EditError

            if any(isinstance(e, RecolourText) and e.address == stuck for e in edits):
                raise EditError("It is stuck.")
            return plain(self, edits)

        with unittest.mock.patch.object(type(document), "edited", edited):
            found = plan(document, pages, Asked(), Wishes(overlays=frozenset()))
        self.assertTrue(found.edits)
        self.assertEqual([(pair.text, why) for pair, why in found.left], [("One", "It is stuck.")])

    def test_what_a_change_breaks_on_another_page_keeps_it_from_being_made(self):
        deck = Presentation()
        layout = deck.slide_layouts[6]
        words = text("Of the layout", "999999", 40)
        layout.shapes._spTree.extend(list(etree.fromstring(f"<tree {NS}>{words}</tree>")))
        for colour in ("FFFFFF", "1A1A1A"):
            fill = deck.slides.add_slide(layout).background.fill
            fill.solid()
            fill.fore_color.rgb = RGBColor.from_string(colour)
        path = self.folder.path / "layout.pptx"
        deck.save(str(path))
        document = open_document(path)
        self.addCleanup(document.close)
        pages = [review_page(document, page, Asked()) for page in range(2)]
        (light,), (dark,) = (page.pairs for page in pages)
        self.assertEqual(light.address, dark.address)
        self.assertIs(light.verdict, Verdict.FALLS_SHORT)
        self.assertIs(dark.verdict, Verdict.PASSES)
        found = plan(document, pages, Asked(), Wishes(overlays=frozenset()))
        mended = document.edited(found.edits) if found.edits else document
        (still,) = measured(mended, 1, Asked()).pairs
        self.assertIs(still.verdict, Verdict.PASSES)
        self.assertEqual([pair.page for pair, _ in found.left], [1])

    def test_what_passes_is_never_broken(self):
        # The panel can't get darker for the white text, since black stands on it too.
        panel = shape(fill=solid("9A9A9A"), place=xfrm(30, 30, 600, 300))
        both = panel + text("White", "FFFFFF", 40) + text("Black", "000000", 120)
        _, after = self.planned(self.folder.deck(both))
        self.assertEqual({pair.verdict for pair in after.values()}, {Verdict.PASSES})


class OrderOfRemedies(PlanningTest):
    def test_what_turns_polarity_over_comes_after_what_keeps_the_text(self):
        document = open_document(self.folder.deck(text("White", "FFFFFF", 40, fill=ORANGE)))
        self.addCleanup(document.close)
        bench = PageBench()
        (pair,) = bench.get(document, 0, Asked()).pairs
        found = remedies_for([pair], document, bench, Asked(), document.edited).remedies
        kinds = [each.kind for each in found]
        self.assertLess(kinds.index("recolour the backdrop"), kinds.index("recolour"))
        own = [each for each in found if getattr(each, "direction", "") == "own"]
        self.assertTrue(own)
        theme = {tuple(bytes.fromhex(code)) for code in THEME_COLOURS.values()}
        self.assertIn(own[0].levels, theme)
        self.assertEqual(in_order(found, pair), found)

    def test_a_colour_of_the_files_own_is_carried_to_all_alike(self):
        two = text("One", "FFFFFF", 40, fill=ORANGE) + text("Two", "FFFFFF", 140, fill=ORANGE)
        document = open_document(self.folder.deck(two))
        self.addCleanup(document.close)
        bench = PageBench()
        pairs = bench.get(document, 0, Asked()).pairs
        found = remedies_for(pairs, document, bench, Asked(), document.edited).remedies
        own = next(each for each in found if getattr(each, "direction", "") == "own")
        work = Work(document, document, (), document.edited, bench, None)
        edits = apply_to_alike(work, own, pairs, False, Asked())
        self.assertEqual([edit.levels for edit in edits], [own.levels, own.levels])


if __name__ == "__main__":
    unittest.main()
