"""A text is moved to a calm place: seen on the page, dragged, nudged, applied and undone."""

import io
import unittest

import numpy as np
from PIL import Image
from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from high_pair.app.shifting.live import LiveShift
from high_pair.remedy.remedies import Moved
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest

WIDTH, HEIGHT = 960, 540
SHIFT = Qt.KeyboardModifier.ShiftModifier


class Shifting(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        deck = Presentation()
        deck.slide_width, deck.slide_height = Pt(WIDTH), Pt(HEIGHT)
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        # Light at the left, dark at the right.
        pixels = np.full((HEIGHT, WIDTH, 3), 200, np.uint8)
        pixels[::2] = 206
        pixels[:, WIDTH // 2 :] = 20
        data = io.BytesIO()
        Image.fromarray(pixels).save(data, "PNG")
        slide.shapes.add_picture(data, 0, 0, Pt(WIDTH), Pt(HEIGHT))
        box = slide.shapes.add_textbox(Pt(330), Pt(200), Pt(260), Pt(50))
        run = box.text_frame.paragraphs[0].add_run()
        run.text, run.font.size = "All aboard", Pt(24)
        run.font.color.rgb = RGBColor(255, 255, 255)
        path = self.folder / "halves.pptx"
        deck.save(str(path))
        self.open(path)
        self.desk = self.window.desk
        self.window.step(1)
        self.settle()
        rows = [card.remedy for card in self.desk.panel.remedies.cards.rows]
        self.number = 1 + next(at for at, each in enumerate(rows) if isinstance(each, Moved))
        self.desk.choose_remedy(self.number)
        self.settle()

    @property
    def live(self) -> LiveShift:
        live = self.desk.view.canvas.live
        assert isinstance(live, LiveShift)
        return live

    @property
    def moved(self) -> Moved:
        chosen = self.desk.panel.remedies.chosen
        assert isinstance(chosen, Moved)
        return chosen

    def test_chosen_the_text_is_at_the_place_and_where_it_passes_is_hatched(self) -> None:
        live, places = self.live, self.live.shifting.places
        self.assertEqual(live.at, live.shifting.proposed)
        self.assertTrue(places.good.any())
        self.assertFalse(live.hatching.isNull())
        self.assertIn("passes here", self.desk.view.canvas.caption)
        self.assertTrue(self.desk.panel.apply.isEnabled())
        self.desk.choose_remedy(1 if self.number > 1 else 2)
        self.settle()
        self.assertNotIsInstance(self.desk.view.canvas.live, LiveShift)

    def test_arrow_keys_nudge_it_and_where_it_falls_short_it_isnt_applied(self) -> None:
        view, start = self.desk.view, self.moved
        view.setFocus()
        QTest.keyClick(view, Qt.Key.Key_Down)
        self.assertEqual(self.live.at[1], self.live.shifting.proposed[1] + 1)
        self.assertAlmostEqual(self.moved.down - start.down, 0.75)
        self.assertTrue(self.desk.panel.apply.isEnabled())
        for _ in range(30):
            QTest.keyClick(view, Qt.Key.Key_Left, SHIFT)
        self.assertIn("falls short here", view.canvas.caption)
        self.assertFalse(self.desk.panel.apply.isEnabled())
        self.assertLess(self.moved.ratio, 3.0)
        for _ in range(300):
            QTest.keyClick(view, Qt.Key.Key_Left, SHIFT)
        self.assertGreaterEqual(self.live.ink.left(), 0.0)
        self.desk.snap()
        self.assertEqual(self.moved, start)
        self.assertTrue(self.desk.panel.apply.isEnabled())

    def test_it_is_dragged_with_the_ratio_at_every_step(self) -> None:
        canvas = self.desk.view.canvas
        box, factor = canvas.page_box, canvas.zoom * 96 / 72

        def place(x: float, y: float) -> QPoint:
            return QPoint(round(box.x() + x * factor), round(box.y() + y * factor))

        middle = self.live.ink.center()
        before = self.live.at
        start = place(middle.x(), middle.y())
        end = place(middle.x() + 90, middle.y() - 60)
        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(canvas, (start + end) / 2)
        QTest.mouseMove(canvas, end)
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=end)
        across, down = (now - then for now, then in zip(self.live.at, before, strict=True))
        self.assertAlmostEqual(across, 120, delta=3)
        self.assertAlmostEqual(down, -80, delta=3)
        self.assertAlmostEqual(self.moved.ratio, self.live.shifting.mover.ratio_at(*self.live.at))
        self.assertTrue(self.desk.panel.apply.isEnabled())
        self.desk.apply()
        self.settle()
        pair = self.desk.pair
        assert pair is not None
        self.assertIs(pair.verdict, Verdict.PASSES)

    def test_applied_undone_and_moved_again_it_stands_where_it_was_to_go(self) -> None:
        pair, moved = self.desk.pair, self.moved
        assert pair is not None
        self.desk.apply()
        self.settle()
        now = self.desk.pair
        assert now is not None
        self.assertIs(now.verdict, Verdict.PASSES)
        self.assertAlmostEqual(now.bbox[0] - pair.bbox[0], moved.across, delta=0.8)
        self.assertAlmostEqual(now.ratio or 0.0, moved.ratio)
        self.window.undo()
        self.settle()
        self.assertEqual(self.desk.pair, pair)


if __name__ == "__main__":
    unittest.main()
