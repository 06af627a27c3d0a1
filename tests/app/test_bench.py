"""The Bench, driven as a user would: by keyboard, by mouse, and with bad input."""

import json
import unittest

from PySide6.QtCore import QPoint, QPointF, QSize, Qt
from PySide6.QtGui import QDropEvent, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QLineEdit, QWidget

from high_pair.app.bench.log_panel import entry_in, entry_mime
from high_pair.app.bench.many_sheet import colours_in
from high_pair.app.bench.outcome_ladder import missing_words
from high_pair.app.bench.state import Side
from high_pair.errors import NotationError
from high_pair.measure.by_hand import HandPair
from high_pair.remedy.by_hand import STEPS, Channel
from high_pair.review.log import load
from high_pair.scene.paint import from_levels
from tests.app.driver import WindowTest
from tests.decks import ratio_by_hand

CONTROL, ALT, SHIFT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ShiftModifier,
)


class BenchTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.press(Qt.Key.Key_B, ALT)
        self.bench = self.window.bench
        self.state = self.bench.state

    def type_in(self, side: Side, text: str) -> QLineEdit:
        field = self.bench.two.cards[side].field
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        self.settle()
        return field

    def type_pair(self, foreground: str, backdrop: str) -> None:
        self.type_in(Side.FOREGROUND, foreground)
        self.type_in(Side.BACKDROP, backdrop)
        # Away from the fields, where letters are keys.
        self.bench.two.cards[Side.FOREGROUND].sliders[Channel.HUE].setFocus()

    @property
    def codes(self) -> tuple[str, str]:
        pair = self.state.pair
        return (
            bytes(pair.foreground.levels).hex().upper(),
            bytes(pair.backdrop.levels).hex().upper(),
        )

    @property
    def clipboard(self) -> str:
        return QGuiApplication.clipboard().text()


class TwoColours(BenchTest):
    def test_typed_in_any_notation_and_measured_at_once(self):
        self.type_pair("rgb(119 119 119)", "C0 M0 Y0 K0")
        self.assertEqual(self.codes, ("777777", "FFFFFF"))
        ladder = self.bench.two.ladder
        self.assertAlmostEqual(ladder.ratio, ratio_by_hand("777777", "FFFFFF"))
        self.assertIn("Ratio 4.47", ladder.accessibleName())
        self.assertIn("normal text AA, 4.5: falls short, 0.03 short", ladder.accessibleName())
        self.assertIn("large-scale AA, 3: passes", ladder.accessibleName())

    def test_a_see_through_foreground_is_laid_over_the_backdrop(self):
        self.type_pair("rgb(0 0 0 / 50%)", "white")
        self.assertAlmostEqual(self.state.pair.ratio, ratio_by_hand("808080", "FFFFFF"), delta=0.05)

    def test_bad_input_is_said_beside_the_field_and_the_last_colour_stays(self):
        self.type_pair("#336699", "#FFFFFF")
        card = self.bench.two.cards[Side.FOREGROUND]
        for text in ("#12", "rgb(300)", "nonsense"):
            self.type_in(Side.FOREGROUND, text)
            self.assertIn("not a colour", card.said.text(), text)
            self.assertTrue(card.said.isVisible())
            self.assertEqual(self.codes[0], "336699")
        card.field.clear()
        QTest.keyClicks(card.field, " ")
        self.assertIn("Empty", card.said.text())
        self.assertEqual(self.codes[0], "336699")
        self.bench.two.cards[Side.BACKDROP].field.setFocus()
        self.settle()
        self.assertEqual(card.field.text(), "#336699")
        self.assertFalse(card.said.isVisible())

    def test_what_was_changed_in_reading_is_said(self):
        self.type_in(Side.FOREGROUND, "color(display-p3 0 1 0)")
        self.assertIn("Outside sRGB", self.bench.two.cards[Side.FOREGROUND].said.text())
        self.type_in(Side.FOREGROUND, "C70 M30 Y0 K0")
        self.assertIn("without a profile", self.bench.two.cards[Side.FOREGROUND].said.text())

    def test_by_keyboard_alone_swap_copy_adjust_keep_and_undo(self):
        self.type_pair("#8FB8B4", "#FFFFFF")
        self.press(Qt.Key.Key_X)
        self.assertEqual(self.codes, ("FFFFFF", "8FB8B4"))
        self.press(Qt.Key.Key_X)
        self.press(Qt.Key.Key_C)
        self.assertEqual(self.clipboard, "#8FB8B4")
        self.press(Qt.Key.Key_2)
        self.assertEqual(self.clipboard, "rgb(143 184 180)")
        self.press(Qt.Key.Key_1, ALT)
        self.assertEqual(self.clipboard, "#FFFFFF")
        self.press(Qt.Key.Key_F)
        self.assertGreaterEqual(self.state.pair.ratio, 4.5)
        self.assertLess(self.state.pair.ratio, 4.6)
        self.press(Qt.Key.Key_Return)
        self.assertEqual(len(self.state.now.log.entries), 1)
        self.press(Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.state.now.log.entries, ())
        self.press(Qt.Key.Key_Z, CONTROL)
        self.assertEqual(self.codes[0], "8FB8B4")
        self.press(Qt.Key.Key_Z, CONTROL, SHIFT)
        self.assertGreaterEqual(self.state.pair.ratio, 4.5)

    def test_the_backdrop_or_both_may_change_to_the_nearest_pass(self):
        self.type_pair("#3F8C86", "#E7F0EE")
        self.press(Qt.Key.Key_H)
        self.assertGreaterEqual(self.state.pair.ratio, 4.5)
        both = self.codes
        self.assertNotEqual(both[0], "3F8C86")
        self.assertNotEqual(both[1], "E7F0EE")
        self.type_pair("#555555", "#999999")
        self.press(Qt.Key.Key_F, SHIFT)
        self.assertEqual(self.codes[0], "555555")
        self.assertGreaterEqual(self.state.pair.ratio, 4.5)

    def test_where_none_passes_it_says_so(self):
        self.type_pair("#777777", "#777777")
        self.bench.asked.setCurrentIndex(1)
        self.press(Qt.Key.Key_F)
        self.assertIn("No foreground of this hue reaches 7", self.window.status.text())
        self.assertEqual(self.codes[0], "777777")

    def test_letters_may_be_turned_off_as_keys(self):
        self.window.set_single_keys(False)
        self.type_pair("#111111", "#EEEEEE")
        self.press(Qt.Key.Key_X)
        self.assertEqual(self.codes, ("111111", "EEEEEE"))
        self.press(Qt.Key.Key_Return)
        self.assertEqual(len(self.state.now.log.entries), 1)

    def test_letters_of_the_other_desk_do_nothing_here(self):
        for name in ("next", "apply", "stripes", "remedy_1", "copy"):
            self.assertFalse(self.window.commands[name].isEnabled(), name)
        self.press(Qt.Key.Key_R, ALT)
        for name in ("swap", "keep", "share", "copy_foreground_2"):
            self.assertFalse(self.window.commands[name].isEnabled(), name)
        self.assertTrue(self.window.commands["next"].isEnabled())

    def test_missing_is_never_said_smaller_than_it_is(self):
        self.assertEqual(missing_words(0.001), "0.01 short")
        self.assertEqual(missing_words(1.16), "1.16 short")


class Sliders(BenchTest):
    def test_the_track_shows_where_it_passes_to_the_step(self):
        self.type_pair("#3F8C86", "#E7F0EE")
        slider = self.bench.two.cards[Side.FOREGROUND].sliders[Channel.LIGHTNESS]
        edge = max(place for place, good in enumerate(slider.passing) if good)
        self.assertEqual(slider.accessibleDescription(), "falls short here")
        slider.setValue(edge)
        self.settle()
        self.assertGreaterEqual(self.state.pair.ratio, 4.5)
        self.assertEqual(slider.accessibleDescription(), "passes here")
        slider.setValue(edge + 1)
        self.settle()
        self.assertLess(self.state.pair.ratio, 4.5)

    def test_ctrl_and_an_arrow_go_to_where_passing_begins(self):
        self.type_pair("#3F8C86", "#E7F0EE")
        slider = self.bench.two.cards[Side.FOREGROUND].sliders[Channel.LIGHTNESS]
        slider.setFocus()
        self.press(Qt.Key.Key_Left, CONTROL)
        self.assertGreaterEqual(self.state.pair.ratio, 4.5)
        self.press(Qt.Key.Key_Right)
        self.assertLess(self.state.pair.ratio, 4.5)

    def test_a_drag_is_one_step_back(self):
        self.type_pair("#3F8C86", "#E7F0EE")
        slider = self.bench.two.cards[Side.BACKDROP].sliders[Channel.LIGHTNESS]
        middle = slider.height() // 2
        QTest.mousePress(slider, Qt.MouseButton.LeftButton, pos=QPoint(slider.width() - 20, middle))
        for x in range(slider.width() - 20, 60, -15):
            QTest.mouseMove(slider, QPoint(x, middle))
            slider.setValue(round(STEPS[Channel.LIGHTNESS] * x / slider.width()))
        QTest.mouseRelease(slider, Qt.MouseButton.LeftButton, pos=QPoint(60, middle))
        self.settle()
        self.assertNotEqual(self.codes[1], "E7F0EE")
        self.state.undo()
        self.assertEqual(self.codes, ("3F8C86", "E7F0EE"))

    def test_the_hue_of_a_grey_can_be_chosen_before_its_chroma(self):
        self.type_pair("#808080", "#FFFFFF")
        self.state.set_channel(Side.FOREGROUND, Channel.HUE, 250.0)
        self.state.set_channel(Side.FOREGROUND, Channel.CHROMA, 0.1)
        red, _, blue = self.state.pair.foreground.levels
        self.assertGreater(blue, red)


class Links(BenchTest):
    def setUp(self) -> None:
        super().setUp()
        self.bench.show_sheet("Link trio")
        self.sheet = self.bench.links

    def words(self) -> list[str]:
        return [line[2].text() for line in self.sheet.lines if not line[2].isHidden()]

    def test_states_come_and_go(self):
        self.assertEqual(len(self.words()), 3)
        self.sheet.adders["visited"].click()
        self.assertIn("visited link beside the body text", self.words())
        self.sheet.removers["visited"].click()
        self.assertEqual(len(self.words()), 3)

    def test_underlined_the_link_rule_falls_away_and_it_says_so(self):
        self.sheet.underlined.click()
        said = [line[3].text() for line in self.sheet.lines]
        self.assertTrue(any("underlined" in words for words in said))

    def test_the_nearest_link_that_passes_all(self):
        field = self.sheet.rows["link"].field
        field.selectAll()
        QTest.keyClicks(field, "#9AB4E6")
        self.assertTrue(self.sheet.mend.isEnabled())
        self.sheet.mend.click()
        links = self.state.now.links
        self.assertGreaterEqual(HandPair(links.link, links.backdrop).ratio, 4.5)
        self.assertGreaterEqual(HandPair(links.link, links.body).ratio, 3.0)
        self.assertFalse(self.sheet.mend.isEnabled())

    def test_where_none_passes_all_it_says_so(self):
        for name, text in (("body", "#595959"), ("link", "#4477CC")):
            field = self.sheet.rows[name].field
            field.setFocus()
            field.selectAll()
            QTest.keyClicks(field, text)
        self.bench.asked.setCurrentIndex(1)
        self.sheet.mend.click()
        self.assertIn("No lightness", self.sheet.none.text())


class Many(BenchTest):
    def setUp(self) -> None:
        super().setUp()
        self.bench.show_sheet("One against many")
        self.sheet = self.bench.many

    def add(self, text: str) -> None:
        self.sheet.add_field.setFocus()
        self.sheet.add_field.setText(text)
        self.press(Qt.Key.Key_Return)

    def test_the_weakest_is_marked_and_one_colour_found_that_serves_all(self):
        self.add("#E7F0EE, #C0D8FF #FFD8A0")
        self.sheet.one.field.setFocus()
        self.sheet.one.field.selectAll()
        QTest.keyClicks(self.sheet.one.field, "#3F8C86")
        rows = [
            self.sheet.list.item(row).data(Qt.ItemDataRole.AccessibleTextRole)
            for row in range(self.sheet.list.count())
        ]
        self.assertEqual([row for row in rows if "the weakest" in row], [rows[1]])
        self.assertEqual(self.sheet.summary.text(), "3 of 3 fall short of 4.5")
        self.sheet.serve.click()
        self.assertTrue(all(pair.ratio >= 4.5 for pair in self.state.now.many.pairs))
        self.state.undo()
        self.assertEqual(self.state.now.many.one, from_levels((0x3F, 0x8C, 0x86)))

    def test_bad_input_is_said_and_nothing_is_lost(self):
        self.add("#E7F0EE")
        self.add("#12")
        self.assertIn("not a colour", self.sheet.said.text())
        self.assertEqual(self.sheet.add_field.text(), "#12")
        self.add("  ")
        self.assertIn("at least one", self.sheet.said.text())
        self.assertEqual(self.sheet.list.count(), 1)

    def test_where_none_serves_it_says_so(self):
        self.add("#000000 #FFFFFF")
        self.bench.asked.setCurrentIndex(1)
        self.sheet.serve.click()
        self.assertIn("No lightness", self.sheet.said.text())

    def test_a_row_is_removed_with_delete(self):
        self.add("#000000 #FFFFFF")
        self.sheet.list.setFocus()
        self.sheet.list.setCurrentRow(0)
        self.press(Qt.Key.Key_Delete)
        self.assertEqual(self.state.now.many.others, (from_levels((255, 255, 255)),))

    def test_several_colours_are_cut_apart(self):
        self.assertEqual(len(colours_in("#abc #def\nrgb(1, 2, 3); navy")), 4)
        with self.assertRaises(NotationError):
            colours_in("#abc; nothing")


class TheLog(BenchTest):
    def keep(self, foreground: str, backdrop: str) -> None:
        self.type_pair(foreground, backdrop)
        self.press(Qt.Key.Key_Return)

    def test_it_is_there_in_the_next_run(self):
        self.keep("#336699", "#FFFFFF")
        self.keep("#111111", "#EEEEEE")
        self.window.close()
        again = self.make_window()
        self.assertEqual(
            [entry.foreground for entry in again.bench.state.now.log.entries],
            ["#111111", "#336699"],
        )
        self.assertEqual(again.bench.state.pair.foreground.levels, (0x11, 0x11, 0x11))

    def test_entries_go_back_to_the_bench_and_are_deleted_with_undo(self):
        self.keep("#336699", "#FFFFFF")
        self.keep("#111111", "#EEEEEE")
        panel = self.bench.log
        panel.list.setFocus()
        panel.list.setCurrentRow(1)
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.codes, ("336699", "FFFFFF"))
        self.press(Qt.Key.Key_Delete)
        self.assertEqual(len(self.state.now.log.entries), 1)
        self.assertEqual(len(load(self.state.log_path).entries), 1)
        self.press(Qt.Key.Key_Z, CONTROL)
        self.assertEqual(len(load(self.state.log_path).entries), 2)

    def test_an_entry_can_be_dropped_on_the_bench(self):
        self.keep("#336699", "#FFFFFF")
        self.type_pair("#000000", "#FFFFFF")
        data = entry_mime(self.state.now.log.entries[0])
        self.assertEqual(data.text(), "#336699 on #FFFFFF")
        event = QDropEvent(
            QPointF(50, 50),
            Qt.DropAction.CopyAction,
            data,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        self.bench.dropEvent(event)
        self.assertEqual(self.codes, ("336699", "FFFFFF"))
        data.setData("application/x-high-pair-entry", b"[1]")
        self.assertIsNone(entry_in(data))

    def test_export_and_where_it_fails(self):
        self.keep("#336699", "#FFFFFF")
        self.state.describe(0, "Timetable", "on the quay")
        self.bench.export_to(self.folder / "pairs.json")
        (entry,) = json.loads((self.folder / "pairs.json").read_text())["entries"]
        self.assertEqual((entry["name"], entry["note"]), ("Timetable", "on the quay"))
        self.bench.export_to(self.folder / "pairs")
        self.assertIn("Timetable", (self.folder / "pairs.csv").read_text())
        told = []
        self.state.failed.connect(told.append)
        self.bench.export_to(self.folder / "pairs.doc")
        self.assertIn(".csv or .json", told[0])

    def test_a_damaged_log_is_said_when_the_bench_is_opened(self):
        self.window.close()
        (self.folder / "log.json").write_text("{")
        again = self.make_window()
        again.show_desk("bench")
        assert again._problem_box is not None
        self.assertIn("set aside", again._problem_box.text())
        again._problem_box.close()


class Looks(BenchTest):
    size = QSize(640, 400)

    def test_at_twice_the_scale_nothing_is_cut_off(self):
        for name in self.bench.buttons:
            self.bench.show_sheet(name)
            self.settle()
            for widget in self.window.findChildren(QAbstractButton):
                if widget.isVisible() and widget.text() and not widget.property("copies"):
                    self.assertGreaterEqual(
                        widget.width() + 1, widget.minimumSizeHint().width(), widget.text()
                    )

    def test_the_log_is_shown_on_demand_where_there_is_little_room(self):
        self.assertFalse(self.bench.log.isVisible())
        self.bench.log_button.click()
        self.assertTrue(self.bench.log.isVisible())
        self.window.resize(QSize(1280, 800))
        self.settle()
        self.assertTrue(self.bench.log.isVisible())
        self.assertFalse(self.bench.log_button.isVisible())

    def test_everything_that_takes_the_focus_has_a_name(self):
        for name in self.bench.buttons:
            self.bench.show_sheet(name)
            for widget in self.bench.findChildren(QWidget):
                if widget.isVisible() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
                    text = widget.text() if isinstance(widget, QAbstractButton) else ""
                    named = widget.accessibleName() or text
                    self.assertTrue(named, f"{name}: {widget!r}")


if __name__ == "__main__":
    unittest.main()
