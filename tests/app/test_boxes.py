"""Boxes round text in a picture: drawn by mouse and by keyboard, described, taken away."""

import sys
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from high_pair.app.actions import BENCH, REVIEW
from high_pair.measure import text_finder
from high_pair.measure.text_finder import NoFinder
from high_pair.review.held import HeldDocument
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.measure.test_text_finder import LINES, poster


class Boxes(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        pixels = np.full((120, 240, 3), 255, np.uint8)
        for left in range(40, 140, 20):
            pixels[40:76, left : left + 6] = 190
        self.path: Path = self.folder / "poster.png"
        Image.fromarray(pixels).save(self.path)
        self.window.open_paths([self.path])
        self.settle()
        self.desk = self.window.desk

    def drag(self, left: int, top: int, right: int, bottom: int) -> None:
        """Drag over pixels of the picture."""
        canvas = self.desk.view.canvas
        box, scale = canvas.page_box, canvas.zoom

        def place(x: int, y: int) -> QPoint:
            return QPoint(round(box.x() + x * scale), round(box.y() + y * scale))

        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=place(left, top))
        QTest.mouseMove(canvas, place(right, bottom))
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=place(right, bottom))
        self.settle()

    def test_a_picture_opens_for_review_and_says_that_it_needs_a_box(self):
        self.assertEqual(self.window.shown_desk, REVIEW)
        self.assertEqual(self.window.controller.session.counts()[Verdict.NEEDS_EYES], 1)
        self.assertIn("T", self.window.foot.hints.text())
        self.assertIn("1 picture", self.window.bar.file_label.text())

    def test_a_box_dragged_by_mouse_is_a_pair_at_hand_with_its_verdict(self):
        self.drag(24, 24, 156, 92)
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)
        self.assertEqual(self.desk.pair.numbers.foreground, "#BEBEBE")
        self.assertEqual(self.desk.shown_verdict, Verdict.FALLS_SHORT)
        self.assertTrue(self.desk.panel.box.isVisible())
        # A click, which goes to a text, draws nothing.
        self.drag(60, 50, 61, 51)
        self.assertEqual(self.window.controller.session.history.boxes_of(self.desk.file.key), 1)

    def test_its_letters_are_repainted_in_a_copy_that_is_read_again(self):
        self.drag(24, 24, 156, 92)
        rows = [card.remedy for card in self.desk.panel.remedies.cards.rows]
        self.assertIn("letters in the picture", [remedy.kind for remedy in rows])
        before = self.path.read_bytes()
        shown = self.desk.view.canvas.image.copy()
        self.desk.choose_remedy(1)
        self.settle()
        self.assertIn("not applied yet", self.desk.view.canvas.caption)
        self.assertNotEqual(self.desk.view.canvas.image, shown)
        self.desk.apply()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)
        target = self.folder / "mended.png"
        self.window.copies.save(self.desk.file, target)
        self.settle()
        self.assertIn("1 of 1 changed pair passes in the saved file", self.window.status.text())
        self.assertEqual(self.path.read_bytes(), before)
        self.window.undo()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)

    def test_a_box_drawn_by_keyboard_does_the_same(self):
        QTest.keyClick(self.window, Qt.Key.Key_T)
        self.settle()
        canvas = self.window.bench.picking.canvas
        self.assertTrue(canvas.boxing)
        # The cross hair begins in the middle, at 120, 60.
        for key, count in ((Qt.Key.Key_Left, 10), (Qt.Key.Key_Up, 4)):
            for _ in range(count):
                QTest.keyClick(canvas, key, Qt.KeyboardModifier.ShiftModifier)
        QTest.keyClick(canvas, Qt.Key.Key_Return)
        for key, count in ((Qt.Key.Key_Right, 14), (Qt.Key.Key_Down, 7)):
            for _ in range(count):
                QTest.keyClick(canvas, key, Qt.KeyboardModifier.ShiftModifier)
        QTest.keyClick(canvas, Qt.Key.Key_Return)
        self.settle()
        self.assertEqual(self.window.shown_desk, REVIEW)
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)
        self.assertEqual(self.desk.pair.bbox, (30.0, 30.0, 64.5, 27.0))

    def test_leaving_the_box_goes_back_to_the_review(self):
        QTest.keyClick(self.window, Qt.Key.Key_T)
        self.settle()
        canvas = self.window.bench.picking.canvas
        QTest.keyClick(canvas, Qt.Key.Key_Escape)
        QTest.keyClick(canvas, Qt.Key.Key_Escape)
        self.settle()
        self.assertEqual(self.window.shown_desk, REVIEW)

    def test_what_is_known_of_the_text_is_set_beside_it_and_undone(self):
        self.drag(24, 24, 156, 92)
        form = self.desk.panel.box
        form.words.setText("Mind the gap")
        form.words.editingFinished.emit()
        self.settle()
        self.assertEqual(self.desk.pair.text, "Mind the gap")
        form.size_box.setValue(12.0)
        self.settle()
        self.assertEqual((self.desk.pair.size, self.desk.pair.required), (12.0, 4.5))
        form.bold.setChecked(True)
        form.size_box.setValue(14.0)
        self.settle()
        self.assertEqual((self.desk.pair.weight, self.desk.pair.required), (700, 3.0))
        for _ in range(4):
            self.window.undo()
        self.settle()
        self.assertEqual(self.desk.pair.text, "box 1")

    def test_a_box_is_taken_away_with_a_key_and_brought_back(self):
        self.drag(24, 24, 156, 92)
        QTest.keyClick(self.window, Qt.Key.Key_Delete)
        self.settle()
        self.assertIsNone(self.desk.decisions.box)
        self.assertEqual(self.window.controller.session.counts()[Verdict.FALLS_SHORT], 0)
        self.window.undo()
        self.settle()
        self.assertEqual(self.window.controller.session.counts()[Verdict.FALLS_SHORT], 1)

    def test_on_the_bench_a_picture_is_picked_from(self):
        self.window.show_desk("bench")
        self.window.open_paths([self.path])
        self.settle()
        self.assertEqual(self.window.shown_desk, BENCH)
        self.assertTrue(self.window.bench.is_picking)

    def test_a_deck_takes_no_boxes(self):
        self.window.open_demo()
        self.settle()
        self.assertFalse(self.desk.decisions.takes_boxes)
        self.assertFalse(self.window.commands["draw_box"].isEnabled())
        QTest.keyClick(self.window, Qt.Key.Key_T)
        self.assertEqual(self.window.shown_desk, REVIEW)


class FindingText(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.path: Path = self.folder / "poster.png"
        Image.fromarray(poster()[0]).save(self.path)
        self.window.open_paths([self.path])
        self.settle()
        self.desk = self.window.desk

    def boxes(self) -> int:
        return self.window.controller.session.history.boxes_of(self.desk.file.key)

    def test_a_key_draws_a_box_round_each_line_and_undo_takes_all_away(self):
        QTest.keyClick(self.window, Qt.Key.Key_T, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.window.status.text(), "Looking for text in the picture…")
        self.assertTrue(self.window.foot.stop_button.isVisible())
        self.settle()
        self.assertFalse(self.window.foot.stop_button.isVisible())
        self.assertEqual(self.boxes(), len(LINES))
        # The first of them has come to hand.
        self.assertEqual(self.desk.pair.text, LINES[0][0])
        self.window.undo()
        self.settle()
        self.assertEqual(self.boxes(), 0)

    def test_a_second_search_finds_nothing_more(self):
        for _ in range(2):
            self.desk.search.begin()
            self.settle()
        self.assertEqual(self.boxes(), len(LINES))

    def test_it_can_be_stopped(self):
        self.desk.search.begin()
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        self.settle()
        self.assertEqual(self.boxes(), 0)
        self.assertFalse(self.desk.search.under_way)

    def test_without_the_library_the_window_says_what_to_install(self):
        told: list[str] = []
        self.window.controller.failed.connect(told.append)
        text_finder._engine.cache_clear()
        self.addCleanup(text_finder._engine.cache_clear)
        lost = mock.patch.dict(sys.modules, {"rapidocr": None})
        with lost, self.assertRaises(NoFinder) as missing:
            text_finder.find_lines(np.full((20, 20, 3), 255, np.uint8))
        with mock.patch.object(HeldDocument, "run", side_effect=missing.exception):
            self.desk.search.begin()
            self.settle()
        self.assertIn("high-pair[find-text]", told[0])


if __name__ == "__main__":
    unittest.main()
