"""A text is moved to the nearest calm place: the map is what measuring says, and nothing is covered."""

from __future__ import annotations

import io
import tempfile
import unittest
from pathlib import Path

import numpy as np
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from benchmarks.shift import compared, write_deck
from high_pair.formats import open_document
from high_pair.remedy.remedies import Moved
from high_pair.remedy.shift import Mover, mover_for, nearest
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.wcag.asked import Aim, Asked
from high_pair.wcag.verdicts import Verdict

WIDTH, HEIGHT = 960, 540


class TheMap(unittest.TestCase):
    def test_it_is_what_measuring_says_at_every_place_that_is_looked_at(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "deck.pptx"
            write_deck(path, 2)
            found = [compared(path, page, 22) for page in range(2)]
        count, passed, wrong = (sum(each[at] for each in found) for at in range(3))
        self.assertEqual(wrong, 0)
        self.assertTrue(0 < passed < count, (passed, count))


class OnHalves(unittest.TestCase):
    """White text on the light left half of a picture, whose right half is dark."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "deck.pptx"
        self.deck = Presentation()
        self.deck.slide_width, self.deck.slide_height = Pt(WIDTH), Pt(HEIGHT)
        self.slide = self.deck.slides.add_slide(self.deck.slide_layouts[6])
        pixels = np.full((HEIGHT, WIDTH, 3), 200, np.uint8)
        pixels[:, WIDTH // 2 :] = 20
        # So that it isn't one colour behind the text.
        pixels[::2, : WIDTH // 2] = 205
        data = io.BytesIO()
        Image.fromarray(pixels).save(data, "PNG")
        self.slide.shapes.add_picture(data, 0, 0, Pt(WIDTH), Pt(HEIGHT))

    def add(self, words: str, x: float, y: float, level: int = 255) -> None:
        box = self.slide.shapes.add_textbox(Pt(x), Pt(y), Pt(260), Pt(50))
        run = box.text_frame.paragraphs[0].add_run()
        run.text, run.font.size, run.font.name = words, Pt(24), "Carlito"
        run.font.color.rgb = RGBColor(level, level, level)

    def page(self, asked: Asked | None = None):
        self.deck.save(str(self.path))
        document = open_document(self.path)
        self.addCleanup(document.close)
        return document, measured(document, 0, asked or Asked())

    def mover(self) -> Mover:
        _, page = self.page()
        mover = mover_for(page, page.pairs[0], Asked().coverage)
        assert isinstance(mover, Mover), mover
        return mover

    def test_it_goes_across_to_the_dark_half_and_stays_on_its_line(self) -> None:
        self.add("All aboard", 330, 200)
        mover = self.mover()
        place = nearest(mover, mover.places())
        assert place is not None
        across, down = place
        self.assertEqual(down, 0)
        left = mover.ink[0] + across
        middle = WIDTH / 2 * mover.scale
        # Just past the middle: a grid's step, and one for safety.
        self.assertTrue(middle <= left <= middle + 12, (left, middle))
        self.assertGreater(mover.ratio_at(*place), 10.0)
        self.assertFalse(mover.passes_at(0, 0))

    def test_what_is_proposed_is_measured_and_the_rest_of_the_slide_stays(self) -> None:
        self.add("All aboard", 330, 200)
        self.add("Below it", 330, 400, level=0)
        document, page = self.page()
        bench = PageBench()
        found = remedies_for(page.pairs[:1], document, bench, Asked(), document.edited)
        (moved,) = (each for each in found.remedies if isinstance(each, Moved))
        after = measured(document.edited(edits_for(moved, page.pairs[:1])), 0, Asked()).pairs
        self.assertIs(after[0].verdict, Verdict.PASSES)
        self.assertEqual(after[1], page.pairs[1])
        self.assertAlmostEqual(after[0].bbox[0] - page.pairs[0].bbox[0], moved.across, delta=0.01)
        self.assertEqual(after[0].text_colour, page.pairs[0].text_colour)

    def test_it_covers_no_text_and_no_figure_and_keeps_the_margins(self) -> None:
        self.add("All aboard", 330, 200)
        self.add("In the way", 490, 195)
        figure = self.slide.shapes.add_shape(1, Pt(480), Pt(300), Pt(400), Pt(150))
        figure.fill.solid()
        figure.fill.fore_color.rgb = RGBColor(10, 10, 60)
        _, page = self.page()
        mover = mover_for(page, page.pairs[0], Asked().coverage)
        assert isinstance(mover, Mover)
        places = mover.places()
        self.assertTrue(places.good.any())
        place = nearest(mover, places)
        assert place is not None
        left, top, right, bottom = (
            (each + by) / mover.scale for each, by in zip(mover.ink, (*place, *place), strict=True)
        )
        for x, y, width, height in (page.pairs[1].bbox, (480, 300, 400, 150)):
            apart = right <= x or left >= x + width or bottom <= y or top >= y + height
            self.assertTrue(apart, (place, x, y))
        self.assertGreaterEqual(left, 0)
        self.assertLessEqual(right, WIDTH)

    def test_it_goes_past_another_text_only_where_that_is_much_nearer_and_says_so(self) -> None:
        self.add("All aboard", 330, 200)
        self.add("On the other side", 330, 280, level=0)
        mover = self.mover()
        place = nearest(mover, mover.places())
        assert place is not None
        self.assertEqual(mover.goes_past(place[1]), 0)
        self.assertEqual(mover.goes_past(round(160 * mover.scale)), 1)
        self.assertEqual(mover.goes_past(round(-160 * mover.scale)), 0)
        moved = Moved("s", 0.0, 160.0, 3.2, (0.0, 0.0, 1.0, 1.0), past=1)
        self.assertIn("comes below 1 other", moved.detail)

    def test_where_no_place_passes_none_is_proposed(self) -> None:
        self.add("Grey on both", 330, 200, level=90)
        _, page = self.page(Asked(aim=Aim(ratio=7.0)))
        mover = mover_for(page, page.pairs[0], Asked().coverage)
        assert isinstance(mover, Mover)
        self.assertIsNone(nearest(mover, mover.places()))

    def test_what_has_a_fill_of_its_own_stays_with_the_reason(self) -> None:
        self.add("On a panel", 330, 200)
        box = self.slide.shapes[-1]
        box.fill.solid()
        box.fill.fore_color.rgb = RGBColor(220, 220, 220)
        _, page = self.page()
        why = mover_for(page, page.pairs[0], Asked().coverage)
        self.assertIsInstance(why, str)
        self.assertIn("go with it", str(why))

    def test_all_texts_of_a_shape_move_together(self) -> None:
        self.add("All aboard", 330, 200)
        frame = self.slide.shapes[-1].text_frame
        run = frame.add_paragraph().add_run()
        run.text, run.font.size = "in white, too", Pt(14)
        run.font.color.rgb = RGBColor(255, 255, 255)
        document, page = self.page()
        found = remedies_for(page.pairs[:1], document, PageBench(), Asked(), document.edited)
        (moved,) = (each for each in found.remedies if isinstance(each, Moved))
        self.assertEqual(len(moved.serves), 2)
        after = measured(document.edited(edits_for(moved, page.pairs[:1])), 0, Asked()).pairs
        self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in after))


if __name__ == "__main__":
    unittest.main()
