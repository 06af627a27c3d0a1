"""Fitting an overlay by hand: beside the page, on the page, and by keyboard alone."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from high_pair.app.actions import BENCH, REVIEW
from high_pair.app.demo import DEMO
from high_pair.app.fitting.handles import dragged, half_way, handles_of, middle_for, nearest
from high_pair.scene.geometry import Box
from high_pair.scene.overlay import Overlay, OverlayKind
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest

PLATE = Overlay(OverlayKind.PLATE, Box(100, 50, 200, 80), (0, 0, 0), 40, rounding=6)
RAMP = Overlay(OverlayKind.RAMP, Box(0, 0, 400, 300), (0, 0, 0), 40, towards=90, full=0.3, none=0.9)


class Handles(unittest.TestCase):
    def test_a_plate_has_eight_and_a_ramp_three(self):
        self.assertEqual(len(handles_of(PLATE)), 8)
        places = {handle.name: (handle.x, handle.y) for handle in handles_of(RAMP)}
        self.assertEqual(places["full"], (200.0, 90.0))
        self.assertEqual(places["none"], (200.0, 270.0))
        np.testing.assert_allclose(places["middle"], (200.0, 180.0))

    def test_an_edge_follows_the_pointer_and_never_passes_the_other(self):
        self.assertEqual(dragged(PLATE, "right", 350, 0).box, Box(100, 50, 250, 80))
        self.assertEqual(dragged(PLATE, "topleft", 90, 40).box, Box(90, 40, 210, 90))
        self.assertGreater(dragged(PLATE, "left", 900, 0).box.width, 0)

    def test_of_a_turned_plate_the_other_edges_stay_where_they_are(self):
        turned_plate = replace(PLATE, turn=30.0)
        before = {handle.name: (handle.x, handle.y) for handle in handles_of(turned_plate)}
        x, y = before["right"]
        # Along the plate's own way, 50 points further.
        way = math.radians(30)
        wider = dragged(turned_plate, "right", x + 50 * math.cos(way), y + 50 * math.sin(way))
        self.assertAlmostEqual(wider.box.width, 250)
        self.assertAlmostEqual(wider.box.height, 80)
        after = {handle.name: (handle.x, handle.y) for handle in handles_of(wider)}
        for name in ("topleft", "left", "bottomleft"):
            np.testing.assert_allclose(after[name], before[name])

    def test_a_ramps_ends_stay_in_order(self):
        self.assertAlmostEqual(dragged(RAMP, "full", 0, 150).full, 0.5)
        moved = dragged(RAMP, "full", 0, 299)
        self.assertLess(moved.full, moved.none)
        moved = dragged(RAMP, "none", 0, 0)
        self.assertLess(moved.full, moved.none)

    def test_the_nearest_within_reach_is_taken(self):
        self.assertEqual(nearest(PLATE, 101, 51, 5), "topleft")
        self.assertEqual(nearest(PLATE, 200, 90, 5), "")

    @given(st.floats(0.25, 0.75))
    @settings(max_examples=50)
    def test_half_the_strength_is_where_the_middle_handle_stands(self, half):
        ramp = Overlay(
            OverlayKind.RAMP,
            Box(0, 0, 100, 100),
            (0, 0, 0),
            100,
            towards=0,
            full=0.0,
            none=1.0,
            middle=middle_for(half),
        )
        self.assertAlmostEqual(half_way(ramp), half, places=6)
        share = ramp.shares_at(np.array([half * 100]), np.array([50.0]))
        self.assertAlmostEqual(float(share[0]), 0.5, places=6)


class InTheWindow(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.open(DEMO)
        self.desk = self.window.desk
        self.form = self.desk.panel.fitting
        self.go_to("Mind the gap between ship")

    def go_to(self, text: str) -> None:
        for look in self.window.controller.session.looks(Verdict.FALLS_SHORT):
            for pair in look.group.pairs:
                if pair.text.startswith(text) and pair.page == 7:
                    self.desk.show_pair(look.file, pair)
                    self.settle()
                    return
        self.fail(text)

    def choose(self, kind: str) -> None:
        kinds = [card.remedy.kind for card in self.desk.panel.remedies.cards.rows]
        self.desk.choose_remedy(kinds.index(kind) + 1)
        self.settle()

    def test_choosing_an_overlay_shows_its_form_and_handles_and_another_takes_them_away(self):
        self.assertFalse(self.form.isVisible())
        self.choose("plate")
        self.assertTrue(self.form.isVisible())
        self.assertIsNotNone(self.desk.view.canvas.live)
        self.desk.choose_remedy(0)
        self.settle()
        self.assertFalse(self.form.isVisible())
        self.assertIsNone(self.desk.view.canvas.live)

    def test_the_track_passes_from_the_least_percent_on(self):
        self.choose("plate")
        least = self.form.overlay.percent
        passing = self.form.strength.passing
        self.assertFalse(passing[:least].any())
        self.assertTrue(passing[least:].all())

    def test_too_little_is_shown_and_can_not_be_applied_and_the_least_is_a_key_away(self):
        self.choose("plate")
        least = self.form.overlay.percent
        self.form.strength.setValue(least - 10)
        self.assertFalse(self.desk.panel.apply.isEnabled())
        self.assertIn("falls short", self.form.said.text())
        self.desk.fitter.take_in()
        self.assertIn(f"{least - 10}%", self.desk.view.canvas.caption)
        self.press(Qt.Key.Key_Return)
        self.assertFalse(self.window.controller.session.history.taken)
        self.press(Qt.Key.Key_M)
        self.assertEqual(self.form.overlay.percent, least)
        self.assertTrue(self.desk.panel.apply.isEnabled())

    def test_what_was_fitted_is_what_is_applied_and_measured(self):
        self.choose("plate")
        self.form.strength.setValue(80)
        self.form.room.setValue(20.0)
        shown = self.form.fitting.ratio(self.form.overlay)[0]
        self.desk.apply()
        self.settle()
        pair = self.desk.pair
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertAlmostEqual(pair.ratio, shown, delta=0.05)
        self.window.undo()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)

    def test_an_overlay_that_was_laid_is_fitted_anew_and_taken_off(self):
        self.choose("plate")
        self.desk.apply()
        self.settle()
        self.assertEqual(self.desk.panel.remedies_heading.text(), "Laid behind it")
        self.press(Qt.Key.Key_1)
        least = self.form.overlay.percent
        # It is fitted as if it didn't lie there: less of it falls short.
        self.form.strength.setValue(least - 1)
        self.assertIn("falls short", self.form.said.text())
        self.form.strength.setValue(70)
        self.desk.apply()
        self.settle()
        (file,) = self.window.controller.session.files.values()
        (edit,) = self.window.controller.session.history.edits_of(file.key)
        self.assertEqual(edit.overlay.percent, 70)
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)
        self.press(Qt.Key.Key_Delete)
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)
        self.assertEqual(self.desk.panel.remedies_heading.text(), "Remedies")
        self.window.undo()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)

    def test_a_handle_dragged_on_the_page_changes_the_overlay_and_its_ratio(self):
        self.choose("plate")
        canvas = self.desk.view.canvas
        box = canvas.page_box
        factor = canvas.zoom * 96 / 72
        handle = next(h for h in handles_of(self.form.overlay) if h.name == "right")
        start = QPoint(round(box.x() + handle.x * factor), round(box.y() + handle.y * factor))
        before = self.form.overlay.box
        ratio = self.form.fitting.ratio(self.form.overlay)[0]
        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
        QTest.mouseMove(canvas, start - QPoint(330, 0))
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start - QPoint(330, 0))
        self.settle()
        after = self.form.overlay.box
        self.assertLess(after.width, before.width - 300)
        self.assertAlmostEqual(after.x, before.x, delta=0.01)
        self.assertIsNotNone(self.desk.pair)
        # Words are left without it, over the pale side.
        self.assertLessEqual(self.form.fitting.ratio(self.form.overlay)[0], ratio)

    def test_colour_side_and_ends_of_a_ramp(self):
        self.choose("ramp")
        self.assertEqual(self.form.side.count(), 8)
        for place in range(8):
            self.form.side.setCurrentIndex(place)
            self.form.side.activated.emit(place)
            ratio, required = self.form.fitting.ratio(self.form.overlay)
            self.assertGreaterEqual(ratio, required - 0.05)
        self.form.field.textEdited.emit("#000000")
        self.settle()
        self.assertEqual(self.form.overlay.levels, (0, 0, 0))
        self.form.full.setValue(10)
        self.assertAlmostEqual(self.form.overlay.full, 0.1)

    def test_a_colour_of_the_theme_is_taken(self):
        self.choose("veil")
        codes = [action.text() for action in self.form.theme_menu.actions()]
        self.assertIn("#1E3D4F", codes)
        self.form.theme_menu.actions()[codes.index("#1E3D4F")].trigger()
        self.assertEqual(self.form.overlay.levels, (0x1E, 0x3D, 0x4F))

    def test_a_colour_is_picked_from_the_page_and_fitting_goes_on(self):
        self.choose("plate")
        self.form.theme_menu.actions()[-1].trigger()
        self.settle()
        self.assertEqual(self.window.shown_desk, BENCH)
        canvas = self.window.bench.picking.canvas
        canvas.move_to(20, 20)
        levels = self.window.bench.picking.source.shown[20, 20].tolist()
        QTest.keyClick(canvas, Qt.Key.Key_Return)
        self.settle()
        self.assertEqual(self.window.shown_desk, REVIEW)
        self.assertEqual(list(self.form.overlay.levels), levels)
        self.assertTrue(self.form.isVisible())

    def test_no_strength_of_white_behind_white_passes_and_it_says_so(self):
        self.choose("plate")
        self.form.near[1].click()
        self.form.refresh_track()
        self.assertFalse(self.form.least.isEnabled())
        self.assertIn("No strength", self.form.said.text())
        self.assertFalse(self.desk.panel.apply.isEnabled())

    def test_the_wipe_shows_before_at_its_left(self):
        self.choose("veil")
        self.press(Qt.Key.Key_W)
        canvas = self.desk.view.canvas
        image = canvas.grab().toImage()
        box = canvas.page_box
        y = round(box.y() + box.height() * 0.9)

        def light(share: float) -> float:
            return image.pixelColor(round(box.x() + box.width() * share), y).lightnessF()

        # Over the pale side, which the veil darkens.
        bare = light(0.3)
        self.desk.view.setFocus()
        for _ in range(15):
            QTest.keyClick(self.desk.view, Qt.Key.Key_Left)
        self.assertAlmostEqual(canvas.wipe, 0.2)
        image = canvas.grab().toImage()
        self.assertGreater(bare - light(0.3), 0.1)
        self.press(Qt.Key.Key_W)
        self.assertIsNone(canvas.wipe)


if __name__ == "__main__":
    unittest.main()
