"""The Review desk, driven with the keyboard and the mouse."""

import sys
import time
import unittest
from pathlib import Path
from typing import Any

from PySide6.QtCore import QCoreApplication, QMimeData, QPoint, QPointF, QSize, Qt, QUrl
from PySide6.QtGui import QDropEvent, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QFileDialog,
    QToolButton,
    QWidget,
)

from high_pair.app.demo import DEMO
from high_pair.app.window import Window
from high_pair.measure.pairs import Pair
from high_pair.review.listing import Order, Reach
from high_pair.wcag.asked import Aim
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import PATIENCE, WindowTest
from tests.decks import (
    DeckFolder,
    body,
    members,
    pack,
    pairs_of,
    ratio_by_hand,
    run,
    shape,
    solid,
    xfrm,
)

ALT = Qt.KeyboardModifier.AltModifier
CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


def two_pale() -> str:
    """Two pale texts that are alike, and a third of another look."""
    return (
        shape(body(run("Pale one", inner=solid("AAAAAA"))))
        + shape(body(run("Pale two", inner=solid("AAAAAA"))), place=xfrm(60, 200, 400, 60))
        + shape(body(run("Paler", inner=solid("CCCCCC"))), place=xfrm(60, 300, 400, 60))
    )


class DeskTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.decks = DeckFolder()
        self.addCleanup(self.decks.close)
        self.desk = self.window.desk
        self.session = self.window.controller.session

    def pale(self, name: str = "pale.pptx") -> Path:
        return self.decks.deck(two_pale(), name)

    def verdicts(self) -> dict[str, Verdict]:
        (file,) = self.session.files.values()
        return {pair.text: pair.verdict for pair in self.session.pairs_on(file.key, 0)}

    def chosen_pair(self) -> Pair:
        pair = self.desk.pair
        assert pair is not None
        return pair


class Bindings(WindowTest):
    def test_qt_calls_do_not_wear_None_away(self):
        """A binding that gives back None once too often ends the program after a while."""
        before = sys.getrefcount(None)
        for _ in range(200):
            self.application.processEvents()
        self.assertGreater(sys.getrefcount(None), before - 100)


class Opening(DeskTest):
    def test_without_a_file_the_window_invites(self):
        self.assertIs(self.window.stack.currentWidget(), self.window.welcome)
        self.assertTrue(self.window.welcome.open.hasFocus())

    def test_an_opened_deck_is_measured_and_listed_worst_first(self):
        self.open(self.pale())
        self.assertIs(self.window.stack.currentWidget(), self.desk)
        looks = self.desk.list.looks.rows
        self.assertEqual([look.group.weakest.text for look in looks], ["Paler", "Pale one"])
        self.assertIn("2 looks, 3 places", self.desk.head.heading.text())
        self.assertIn("3 pairs measured, 3 fall short", self.window.status.text())
        self.assertFalse(self.desk.view.canvas.image.isNull())

    def test_the_list_is_kept_to_a_file_or_a_page_and_its_order_is_remembered(self):
        self.open(self.pale(), self.decks.deck(shape(body(run("Black"))), "black.pptx"))
        desk, listing = self.desk, self.desk.head.listing
        self.assertIn("3", desk.head.filters[Verdict.FALLS_SHORT].text())
        first, second = self.session.files
        desk.show_page(second, 0)
        self.press(Qt.Key.Key_P, SHIFT)
        self.assertIs(listing.reach, Reach.FILE)
        self.assertEqual(len(desk.list.looks.rows), 0)
        desk.show_page(first, 0)
        self.assertEqual(len(desk.list.looks.rows), 2)
        self.press(Qt.Key.Key_P, SHIFT)
        self.assertIn("this page", listing.text())
        self.press(Qt.Key.Key_P, SHIFT)
        self.assertIs(listing.reach, Reach.EVERYTHING)
        self.press(Qt.Key.Key_O)
        self.assertIs(listing.order, Order.SHORTFALL)
        self.window.close()
        self.assertIs(self.settings.list_order, Order.SHORTFALL)
        self.assertIs(self.make_window().desk.head.listing.order, Order.SHORTFALL)

    def test_dropped_files_are_opened(self):
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.pale()))])
        event = QDropEvent(
            QPointF(50, 50),
            Qt.DropAction.CopyAction,
            data,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        self.window.dropEvent(event)
        self.settle()
        self.assertEqual(len(self.session.files), 1)

    def test_a_broken_file_is_told_and_the_others_are_opened(self):
        broken = self.decks.write(b"no deck", "broken.pptx")
        self.open(broken, self.pale())
        box = self.window._problem_box
        self.assertIsNotNone(box)
        self.assertIn("broken.pptx: it is no deck", box.text())
        self.assertFalse(box.isModal())
        self.assertEqual([file.name for file in self.session.files.values()], ["pale.pptx"])
        box.close()

    def test_a_deck_without_slides_is_told(self):
        parts = members()
        del parts["ppt/slides/slide1.xml"]
        self.open(self.decks.write(pack(parts), "none.pptx"))
        self.assertIn("none.pptx: it has no pages", self.window._problem_box.text())
        self.assertEqual(self.session.files, {})
        self.window._problem_box.close()

    def test_a_file_is_opened_once(self):
        path = self.pale()
        self.open(path, path)
        self.open(path)
        self.assertEqual(len(self.session.files), 1)

    def test_a_file_is_opened_once_though_it_is_asked_for_while_it_comes_in(self):
        path = self.pale()
        self.window.open_paths([path])
        end = time.monotonic() + PATIENCE
        while not self.window.controller.opener.has_ready:
            self.assertLess(time.monotonic(), end)
            # Its signals are heard, and timers not yet.
            QCoreApplication.sendPostedEvents()
            time.sleep(0.01)
        self.open(path)
        self.assertEqual(len(self.session.files), 1)

    def test_several_files_share_the_strip_under_their_names(self):
        self.open(self.pale("one.pptx"), self.pale("two.pptx"))
        rows = self.desk.strip.pages.rows
        self.assertEqual([row.name for row in rows if row.is_heading], ["one.pptx", "two.pptx"])
        words = self.desk.list.looks.index(0).data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertIn("one.pptx, slide 1", words)
        self.window.close_current()
        self.settle()
        self.assertEqual(len(self.desk.strip.pages.rows), 1)

    def test_recent_files_are_remembered(self):
        path = self.pale()
        self.open(path)
        self.assertEqual(self.settings.recent, [path.resolve()])
        path.unlink()
        self.assertEqual(self.settings.recent, [])

    def test_a_text_of_one_file_does_not_stay_at_hand_in_the_next_file(self):
        self.open(DEMO)
        (demo,) = self.session.files
        last = max(
            (pair for look in self.session.looks(Verdict.FALLS_SHORT) for pair in look.group.pairs),
            key=lambda pair: pair.page,
        )
        self.desk.show_pair(demo, last)
        self.settle()
        self.assertGreater(last.page, 1)
        before = self.session.files[demo].document
        path = self.pale()
        self.open(path)
        self.assertEqual(self.desk.file.location, path)
        self.assertIsNone(self.desk.pair)
        self.assertIsNone(self.desk.panel.pair)
        self.press(Qt.Key.Key_Return)
        self.assertIs(self.session.files[demo].document, before)
        self.assertEqual(self.session.history.taken, ())

    def test_the_bar_names_the_file_of_the_page_that_is_shown(self):
        path = self.pale()
        self.open(DEMO, path)
        for file in self.session.files.values():
            # Chosen in the strip, and not in the list of what falls short.
            self.desk.strip.page_chosen.emit(file.key, 0)
            self.settle()
            self.assertIn(file.name, self.window.bar.file_label.text())
            self.assertIn(file.name, self.window.windowTitle())

    def test_measuring_can_be_stopped_and_gone_on_with(self):
        self.window.open_paths([DEMO])
        for _ in range(2000):
            self.application.processEvents()
            if self.window.controller.measuring and self.window.controller._done >= 1:
                break
            time.sleep(0.005)
        self.window.commands["stop"].trigger()
        self.settle()
        left = len(self.session.due())
        self.assertGreater(left, 0)
        self.assertFalse(self.window.foot.progress.isVisible())
        self.window.commands["go_on"].trigger()
        self.settle()
        self.assertEqual(self.session.due(), [])


class Choosing(DeskTest):
    def test_next_and_previous_by_key(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.assertEqual(self.chosen_pair().text, "Paler")
        self.press(Qt.Key.Key_N)
        self.assertEqual(self.chosen_pair().text, "Pale one")
        self.press(Qt.Key.Key_P)
        self.assertEqual(self.chosen_pair().text, "Paler")
        marked = self.desk.view.canvas.marked
        assert marked is not None
        self.assertEqual(marked.box, self.chosen_pair().bbox)

    def test_alike_places_by_key(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_N)
        self.assertIn("1 of 2 places", self.desk.panel.facts["Alike"].text())
        self.press(Qt.Key.Key_Right, ALT)
        self.assertEqual(self.chosen_pair().text, "Pale two")

    def test_a_click_on_the_page_chooses_the_text_there(self):
        self.open(self.pale())
        (file,) = self.session.files.values()
        pair = next(p for p in self.session.pairs_on(file.key, 0) if p.text == "Pale two")
        canvas = self.desk.view.canvas
        x, y, width, height = pair.bbox
        factor = canvas.zoom * 96 / 72
        point = canvas.page_box.topLeft() + QPointF(
            (x + width / 2) * factor, (y + height / 2) * factor
        )
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=point.toPoint())
        self.settle()
        self.assertEqual(self.chosen_pair().text, "Pale two")
        chosen = self.desk.list.currentIndex()
        self.assertEqual(self.desk.list.looks.rows[chosen.row()].group.weakest.text, "Pale one")

    def test_the_panel_tells_ratio_verdict_and_origin(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        panel = self.desk.panel
        self.assertEqual(panel.ratio.text(), "1.60")
        self.assertIn("falls short of 3", panel.verdict.text())
        self.assertEqual(panel.facts["Colour from"].text(), "run → own colour")
        self.assertIn("#CCCCCC on #FFFFFF", panel.facts["Colours"].text())
        self.assertFalse(panel.sample.image.isNull())

    def test_the_other_verdicts_can_be_listed(self):
        self.open(self.decks.deck(shape(body(run("Fine")))))
        self.assertEqual(self.desk.list.looks.rows, [])
        self.desk.head.filters[Verdict.PASSES].click()
        self.settle()
        self.assertEqual(len(self.desk.list.looks.rows), 1)
        self.press(Qt.Key.Key_N)
        expected = f"{ratio_by_hand('102030', 'FFFFFF'):.4f}"[:5]
        self.assertEqual(self.desk.panel.ratio.text(), expected)

    def test_colours_are_copied(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.window.commands["copy"].trigger()
        self.assertEqual(QGuiApplication.clipboard().text(), "#CCCCCC on #FFFFFF")


class Pixels(DeskTest):
    def test_one_key_marks_the_pixels_that_fall_short(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_K)
        stripes = self.desk.view.canvas.stripes
        self.assertEqual((stripes.width(), stripes.height()), (960, 540))
        (file,) = self.session.files.values()
        x, y, width, height = self.session.pairs_on(file.key, 0)[0].bbox
        scale = 960 / 720
        inside = {
            stripes.pixelColor(px, py).name()
            for px in range(int(x * scale), int((x + width) * scale))
            for py in range(int(y * scale), int((y + height) * scale))
            if stripes.pixelColor(px, py).alpha()
        }
        self.assertEqual(inside, {"#000000", "#ffffff"})
        self.assertEqual(stripes.pixelColor(5, 5).alpha(), 0)
        self.press(Qt.Key.Key_K)
        self.assertTrue(self.desk.view.canvas.stripes.isNull())

    def test_a_remedy_takes_its_texts_stripes_away(self):
        self.open(self.decks.deck(shape(body(run("Pale", inner=solid("AAAAAA"))))))
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_K)
        self.press(Qt.Key.Key_1)
        stripes = self.desk.view.canvas.stripes
        marked = any(
            stripes.pixelColor(x, y).alpha() for x in range(0, 960, 2) for y in range(0, 540, 2)
        )
        self.assertFalse(marked)


class Mending(DeskTest):
    def test_a_chosen_remedy_shows_at_once_and_is_not_applied(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        before = self.desk.view.canvas.image.copy()
        self.assertFalse(self.desk.panel.apply.isEnabled())
        self.press(Qt.Key.Key_1)
        self.assertNotEqual(self.desk.view.canvas.image, before)
        self.assertIn("not applied yet", self.desk.view.canvas.caption)
        self.assertTrue(self.desk.panel.apply.isEnabled())
        self.assertEqual(self.session.history.taken, ())
        self.press(Qt.Key.Key_Escape)
        self.assertEqual(self.desk.view.canvas.image, before)

    def test_a_number_keyed_while_remedies_are_looked_for_is_chosen_when_they_are_there(self):
        self.open(DEMO)
        look = self.session.looks(Verdict.FALLS_SHORT)[0]
        self.desk.show_pair(look.file, look.group.pairs[0])
        self.assertTrue(self.desk.looking)
        QTest.keyClick(self.window, Qt.Key.Key_2)
        self.assertIn("Number 2", self.desk.panel.none.text())
        self.settle()
        chosen = self.desk.panel.remedies.chosen
        self.assertIs(chosen, self.desk.panel.remedies.cards.rows[1].remedy)
        # For the next text it isn't chosen any more.
        other = self.session.looks(Verdict.FALLS_SHORT)[1]
        self.desk.show_pair(other.file, other.group.pairs[0])
        self.settle()
        self.assertIsNone(self.desk.panel.remedies.chosen)

    def test_a_remedy_chosen_for_one_pair_is_not_shown_for_the_next(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_N)
        self.assertIsNone(self.desk.panel.remedies.chosen)
        self.assertEqual(self.desk.view.canvas.caption, "")

    def test_every_remedy_has_its_small_picture(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        cards = self.desk.panel.remedies.cards.rows
        self.assertGreaterEqual(len(cards), 2)
        for card in cards:
            self.assertFalse(card.picture.isNull(), card.words)

    def test_apply_undo_and_redo_by_key(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        self.assertIs(self.verdicts()["Paler"], Verdict.PASSES)
        self.assertIn("passes 3", self.desk.panel.verdict.text())
        self.press(Qt.Key.Key_Z, CTRL)
        self.assertIs(self.verdicts()["Paler"], Verdict.FALLS_SHORT)
        self.press(Qt.Key.Key_Z, CTRL, SHIFT)
        self.assertIs(self.verdicts()["Paler"], Verdict.PASSES)

    def test_apply_to_all_alike_by_key(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return, SHIFT)
        self.assertIs(self.verdicts()["Pale one"], Verdict.PASSES)
        self.assertIs(self.verdicts()["Pale two"], Verdict.PASSES)
        self.assertIs(self.verdicts()["Paler"], Verdict.FALLS_SHORT)

    def test_before_is_shown_while_the_key_is_held(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_1)
        QTest.keyPress(self.desk.list, Qt.Key.Key_B)
        self.assertTrue(self.desk.view.canvas.showing_before)
        self.assertFalse(self.desk.view.canvas.before.isNull())
        QTest.keyRelease(self.desk.list, Qt.Key.Key_B)
        self.assertFalse(self.desk.view.canvas.showing_before)

    def test_the_level_can_be_changed(self):
        self.open(self.decks.deck(shape(body(run("Grey", inner=solid("8A8A8A"))))))
        self.assertEqual(self.session.counts()[Verdict.FALLS_SHORT], 0)
        self.press(Qt.Key.Key_L)
        self.assertIs(self.session.asked.level, Level.AAA)
        self.assertTrue(self.window.bar.level_buttons[Level.AAA].isChecked())
        self.assertEqual(self.session.counts()[Verdict.FALLS_SHORT], 1)

    def test_a_saved_copy_shows_its_own_measurement(self):
        self.open(self.pale())
        for _ in range(2):
            self.press(Qt.Key.Key_N)
            self.press(Qt.Key.Key_1)
            self.press(
                Qt.Key.Key_Return,
                SHIFT if len(self.desk.alike) > 1 else Qt.KeyboardModifier.NoModifier,
            )
        (file,) = self.session.files.values()
        self.assertEqual(self.session.unsaved(), [file])
        target = self.folder / "copy.pptx"
        self.window.copies.save(file, target)
        self.settle()
        self.assertIn("3 of 3 changed pairs pass in the saved file", self.window.status.text())
        self.assertEqual(self.session.unsaved(), [])
        self.assertNotIn("still", self.window.status.text())
        self.assertTrue(all(pair.verdict is Verdict.PASSES for pair in pairs_of(target)))

    def test_a_saved_copy_says_what_still_falls_short(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        (file,) = self.session.files.values()
        self.window.copies.save(file, self.folder / "copy.pptx")
        self.settle()
        said = self.window.status.text()
        self.assertIn("1 of 1 changed pair passes in the saved file. 2 still fall short", said)
        self.assertIn("“Pale one”: nothing was changed", said)

    def test_an_aim_is_chosen_shown_on_the_ladder_and_remembered(self):
        self.open(self.pale())
        desk = self.window.desk
        before = self.window.controller.session.counts()
        self.window.bar.aim.choices.actions()[2].trigger()
        self.settle()
        self.assertEqual(self.window.bar.aim.text(), "Aim ×1.2")
        self.assertEqual(self.settings.aim, Aim(1.2))
        self.assertEqual(self.window.controller.session.counts(), before)
        self.window.step(1)
        self.settle()
        pair = desk.pair
        self.assertAlmostEqual(desk.panel.ladder.aim, 1.2 * pair.required)
        self.assertIn("the aim is", desk.panel.ladder.accessibleName())
        rows = desk.panel.remedies.cards.rows
        self.assertTrue(rows)
        for row in rows:
            asked = getattr(row.remedy, "required", pair.required)
            self.assertGreaterEqual(row.remedy.ratio, 1.2 * asked)
        self.window.bar.aim.take("7:1")
        self.assertEqual(self.settings.aim, Aim(ratio=7.0))
        self.window.bar.aim.take("")
        self.assertEqual(self.window.bar.aim.text(), "Aim")

    def test_where_no_colour_serves_it_says_so_and_offers_overlays(self):
        dark = shape(fill=solid("000000"), place=xfrm(60, 60, 60, 120))
        mid = shape(fill=solid("777777"), place=xfrm(120, 60, 20, 120))
        text = shape(body(run("Wordwordwordword", 'sz="1400"', solid("FFFFFF"))))
        self.open(self.decks.deck(dark + mid + text))
        self.window.ask_level(Level.AAA)
        self.settle()
        self.press(Qt.Key.Key_N)
        self.assertIn("No text colour serves", self.desk.panel.none.text())
        kinds = [card.remedy.kind for card in self.desk.panel.remedies.cards.rows]
        self.assertIn("plate", kinds)
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        self.assertIs(self.chosen_pair().verdict, Verdict.PASSES)
        self.window.undo()
        self.settle()
        self.assertIs(self.chosen_pair().verdict, Verdict.FALLS_SHORT)


class Leaving(DeskTest):
    def test_a_decision_just_being_taken_counts_as_unsaved(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        (file,) = self.session.files.values()
        self.window.controller.set_aside(file, [self.chosen_pair()], "logo")
        self.assertEqual(self.session.unsaved(), [])
        self.assertEqual(self.window.controller.unsaved(), [file])
        self.settle()
        self.assertEqual(self.window.controller.unsaved(), [file])


class DemoByKeyboard(DeskTest):
    def test_the_whole_deck_is_mended_by_keyboard_alone(self):
        self.open(DEMO)
        for _ in range(60):
            if not self.session.looks(Verdict.FALLS_SHORT):
                break
            self.press(Qt.Key.Key_N)
            self.assertTrue(self.desk.panel.remedies.cards.rows, self.chosen_pair().text)
            self.press(Qt.Key.Key_1)
            alike = len(self.desk.alike) > 1
            self.press(Qt.Key.Key_Return, SHIFT if alike else Qt.KeyboardModifier.NoModifier)
        self.assertEqual(self.session.counts()[Verdict.FALLS_SHORT], 0)
        (file,) = self.session.files.values()
        target = self.folder / "mended.pptx"
        self.window.copies.save(file, target)
        self.settle()
        changed = self.session.history.changed_addresses(file.key)
        self.assertGreaterEqual(len(changed), 25)
        words = self.window.status.text()
        counts = [int(word) for word in words.split() if word.isdecimal()]
        self.assertEqual(counts[0], counts[1], words)


class LooksOfTheWindow(DeskTest):
    def test_zoom_and_fit(self):
        self.open(self.pale())
        fitted = self.desk.view.zoom
        self.window.commands["actual"].trigger()
        self.assertEqual(self.desk.view.zoom, 1.0)
        self.window.commands["zoom_in"].trigger()
        self.assertEqual(self.desk.view.zoom, 1.25)
        self.window.commands["fit"].trigger()
        self.assertAlmostEqual(self.desk.view.zoom, fitted)
        self.settle()

    def test_themes_change_at_once(self):
        self.open(self.pale())
        self.window.set_theme("dark")
        self.assertEqual(self.desk.view.canvas.theme.name, "dark")
        delegate: Any = self.desk.list.itemDelegate()
        self.assertEqual(delegate.theme.name, "dark")
        self.assertEqual(self.settings.theme, "dark")

    def test_every_control_has_a_name_and_can_be_reached(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        kinds = (QAbstractButton, QAbstractItemView, QComboBox)
        for widget in self.window.findChildren(QWidget):
            if isinstance(widget, kinds) and widget.isVisible() and widget.window() is self.window:
                name = widget.accessibleName() or getattr(widget, "text", lambda: "")()
                inside_combo = isinstance(widget.parentWidget(), QComboBox)
                self.assertTrue(name or inside_combo, f"{type(widget).__name__} has no name")
                if not inside_combo:
                    policy = widget.focusPolicy()
                    self.assertTrue(policy & Qt.FocusPolicy.TabFocus, f"{name} can't be reached")

    def test_boxes_of_choices_have_an_arrow_and_tool_buttons_a_sign(self):
        dialog = QFileDialog(self.window)
        self.addCleanup(dialog.deleteLater)
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        dialog.show()
        self.application.processEvents()
        boxes = [*self.window.findChildren(QComboBox), *dialog.findChildren(QComboBox)]
        buttons = dialog.findChildren(QToolButton)
        self.assertGreater(len(boxes), 3)
        self.assertGreater(len(buttons), 3)
        for widget in (*boxes, *buttons):
            widget.resize(widget.sizeHint().expandedTo(QSize(28, 28)))
            # The first one lays out what has never been shown.
            widget.grab()
            picture = widget.grab().toImage()
            # Of a box the end, where the arrow is; of a button all but its border.
            left = picture.width() - 22 if widget in boxes else 5
            inside = [
                picture.pixelColor(x, y)
                for x in range(left, picture.width() - 5)
                for y in range(5, picture.height() - 5)
            ]
            lights = [each.lightness() for each in inside]
            telling = sum(max(lights) - light > 60 for light in lights)
            self.assertGreater(telling, 8, widget.accessibleName() or widget.objectName())

    def test_tab_walks_through_the_window(self):
        self.open(self.pale())
        seen = set()
        for _ in range(40):
            QTest.keyClick(QApplication.focusWidget() or self.window, Qt.Key.Key_Tab)
            seen.add(QApplication.focusWidget())
        for widget in (
            self.window.bar.menu_button,
            self.desk.strip,
            self.desk.list,
            self.window.bar.save_button,
        ):
            self.assertIn(widget, seen)

    def test_single_letters_can_be_turned_off(self):
        self.open(self.pale())
        self.window.commands.single_keys.setChecked(False)
        self.press(Qt.Key.Key_N)
        self.assertIsNone(self.desk.pair)
        self.window.commands.single_keys.setChecked(True)

    def test_rows_can_be_heard(self):
        self.open(self.pale())
        index = self.desk.list.looks.index(0)
        words = index.data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertEqual(words, "falls short, 1.60 of 3, Paler, slide 1")
        page = self.desk.strip.pages.index(0).data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertEqual(page, "Slide 1, 3 falls short")

    def test_the_window_is_remembered(self):
        self.window.resize(720, 560)
        self.window._remember()
        again = self.make_window()
        again._restore()
        self.assertEqual(again.size(), QSize(720, 560))


class SmallWindow(DeskTest):
    size = QSize(640, 400)

    def test_it_opens_no_larger_than_the_screen(self):
        window = Window(self.settings)
        self.addCleanup(self.close_window, window)
        room = window.screen().availableSize()
        # The screen of the tests is narrower than the usual window.
        self.assertLess(room.width(), 1280)
        self.assertEqual(window.size().boundedTo(room), window.size())

    def test_at_twice_the_scale_everything_stays_inside(self):
        self.open(self.pale())
        self.press(Qt.Key.Key_N)
        self.assertEqual(self.window.size(), self.size)
        for widget in (self.desk.panel.apply, self.desk.head.choice, self.window.bar.save_button):
            corner = widget.mapTo(self.window, QPoint(widget.width(), widget.height()))
            self.assertTrue(widget.isVisible())
            self.assertLessEqual(corner.x(), 640)
            self.assertLessEqual(corner.y(), 400)
            self.assertGreaterEqual(widget.width(), widget.minimumSizeHint().width())


if __name__ == "__main__":
    unittest.main()
