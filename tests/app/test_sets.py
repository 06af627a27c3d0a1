"""The Sets desk: a theme settled on one line, tried on the pages, applied, kept, and undone."""

import time
import unittest

from pptx.enum.dml import MSO_THEME_COLOR
from PySide6.QtCore import QPoint, QPointF, QSize, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from high_pair.app.actions import BENCH, REVIEW, SETS
from high_pair.app.bench.state import Side
from high_pair.app.sets.dialogs import ColoursDialog, MatchDialog
from high_pair.app.sets.line_layout import Role
from high_pair.app.sets.state import Key
from high_pair.app.window import Window
from high_pair.colour.srgb import hex_of
from high_pair.formats import open_document
from high_pair.formats.sets.files import read_set
from high_pair.review.colour_sets import pages_of
from high_pair.scene.colour_set import ColourSet, SetColour, SetPair, State
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import deck_on_an_accent, ratio_by_hand

LIGHT, ACCENT = MSO_THEME_COLOR.BACKGROUND_1, MSO_THEME_COLOR.ACCENT_1


class SetsTest(WindowTest):
    def show_deck(self) -> None:
        self.deck = deck_on_an_accent(self.folder / "deck.pptx", 2)
        self.open(self.deck)
        self.window.show_desk(SETS)
        # Whoever looks at proposals lets it go on.
        self.desk.settler.wake(False)
        self.settle()

    def look_for_mends(self) -> None:
        self.desk.settler.wake(True)
        self.settle()

    @property
    def desk(self):
        return self.window.sets

    @property
    def colours(self) -> ColourSet:
        found = self.desk.state.colours
        assert found is not None
        return found

    def level_of(self, name: str) -> str:
        found = self.colours.colour(name)
        assert found is not None
        return hex_of(found.levels)

    def chip(self, name: str, role: Role) -> QPoint:
        layout = self.desk.line.layout_now
        assert layout is not None
        chip = layout.chip(name, role)
        assert chip is not None
        return self.desk.line.box_of(chip).center().toPoint()

    def drag(self, name: str, role: Role, by: int) -> None:
        """Drag a chip sideways, as a hand does: in several steps."""
        line, start = self.desk.line, self.chip(name, role)
        QTest.mousePress(line, Qt.MouseButton.LeftButton, pos=start)
        for step in range(1, 6):
            QTest.mouseMove(line, start + QPoint(by * step // 5, 0))
            self.application.processEvents()
        end = start + QPoint(by, 0)
        QTest.mouseRelease(line, Qt.MouseButton.LeftButton, pos=end)
        self.settle()


class InAFile(SetsTest):
    def setUp(self) -> None:
        super().setUp()
        self.show_deck()

    def test_a_theme_is_shown_with_its_pairs_in_use_and_what_is_asked_of_them(self) -> None:
        pairs = {(each.text, each.backdrop): each for each in self.colours.pairs}
        self.assertEqual(pairs["lt1", "accent1"].places, 4)
        self.assertEqual(pairs["lt1", "accent1"].required, 4.5)
        shown = self.desk.pairs.pairs.rows[0]
        self.assertEqual(shown.words, "light 1 on accent 1")
        by_hand = ratio_by_hand("FFFFFF", self.level_of("accent1")[1:])
        self.assertAlmostEqual(shown.ratio, by_hand, delta=0.005)
        self.assertIn("1 fall", self.window.status.text())

    def test_a_way_to_mend_is_tried_on_the_pages_applied_undone_and_done_again(self) -> None:
        before = self.level_of("accent1")
        self.look_for_mends()
        self.press(Qt.Key.Key_1, on=self.desk.line)
        self.assertIsNotNone(self.desk.state.proposal)
        effect = self.desk.files.effect
        assert effect is not None
        self.assertEqual((effect.falls_short_after, effect.breaks), (0, 0))
        self.assertGreater(effect.mends, 0)
        self.desk.line.setFocus()
        self.press(Qt.Key.Key_Return)
        after = self.level_of("accent1")
        session = self.window.controller.session
        self.assertEqual(session.counts()[Verdict.FALLS_SHORT], 0)
        self.assertNotEqual((after, self.level_of("lt1")), (before, "#FFFFFF"))
        self.window.undo()
        self.settle()
        self.assertEqual((self.level_of("accent1"), session.history.taken), (before, ()))
        self.assertGreater(session.counts()[Verdict.FALLS_SHORT], 0)
        self.window.redo()
        self.settle()
        self.assertEqual(self.level_of("accent1"), after)
        self.assertEqual(session.counts()[Verdict.FALLS_SHORT], 0)

    def test_what_is_applied_is_in_the_saved_copy_as_other_readers_have_it(self) -> None:
        self.look_for_mends()
        self.desk.choose_proposal(1)
        self.settle()
        self.desk.apply()
        self.settle()
        copy = self.folder / "copy.pptx"
        (file,) = self.window.controller.session.files.values()
        self.window.controller.save_copy(file, copy)
        self.settle()
        document = open_document(copy)
        self.addCleanup(document.close)
        (colours,) = document.colour_sets()
        for each in self.colours.colours:
            written = colours.colour(each.name)
            assert written is not None
            self.assertEqual(written.levels, each.levels, each.name)
        short = [p for page in pages_of(document, Asked()) for p in page
                 if p.verdict is Verdict.FALLS_SHORT]  # fmt: skip
        self.assertEqual(short, [])

    def test_a_colour_is_dragged_along_the_line_and_the_drag_is_one_step_back(self) -> None:
        before = self.level_of("accent1")
        shade = self.level_of("accent1, lumMod 75%")
        self.drag("accent1", Role.BACKDROP, -90)
        moved = self.level_of("accent1")
        self.assertLess(ratio_by_hand(moved[1:], "000000"), ratio_by_hand(before[1:], "000000"))
        self.assertNotEqual(self.level_of("accent1, lumMod 75%"), shade)
        self.window.undo()
        self.settle()
        self.assertEqual(self.level_of("accent1"), before)
        self.assertEqual(self.window.controller.session.history.taken, ())

    def test_arrow_keys_move_the_colour_to_where_it_passes(self) -> None:
        self.desk.state.choose("accent1")
        self.desk.line.setFocus()
        self.press(Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
        ratio = ratio_by_hand("FFFFFF", self.level_of("accent1")[1:])
        self.assertTrue(4.5 <= ratio < 4.8, ratio)
        self.press(Qt.Key.Key_Right)
        self.assertLess(ratio_by_hand("FFFFFF", self.level_of("accent1")[1:]), ratio)

    def test_a_colour_keeps_its_hue_however_far_it_was_moved(self) -> None:
        before = self.level_of("accent1")
        self.desk.state.choose("accent1")
        self.desk.line.setFocus()
        for _ in range(30):
            QTest.keyClick(self.desk.line, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.level_of("accent1"), "#000000")
        self.desk.state.move("accent1", 1.0)
        self.assertEqual(self.level_of("accent1"), "#FFFFFF")
        tone = self.desk.state.tone("accent1")
        self.assertGreater(tone.chroma, 0.05)
        self.desk.state.as_it_was()
        self.assertEqual(self.level_of("accent1"), before)

    def test_a_colour_that_is_left_as_it_is_is_moved_by_no_way_to_mend(self) -> None:
        self.desk.state.choose("accent1")
        self.press(Qt.Key.Key_L, on=self.desk.line)
        self.assertTrue(self.desk.panel.colour.leave.isChecked())
        self.look_for_mends()
        self.assertTrue(self.desk.settler.proposals)
        for proposal in self.desk.settler.proposals:
            self.assertNotIn("accent1", [change.name for change in proposal.mended.changes])

    def test_a_possible_pair_is_wanted_and_wanted_no_more(self) -> None:
        self.desk.filters[State.POSSIBLE].click()
        rows = self.desk.pairs.pairs.rows
        place = next(
            number for number, row in enumerate(rows)
            if {row.pair.text, row.pair.backdrop} == {"accent2", "lt1"}
        )  # fmt: skip
        self.desk.pairs.setCurrentIndex(self.desk.pairs.pairs.index(place))
        self.press(Qt.Key.Key_W, on=self.desk.line)
        (wanted,) = [each for each in self.colours.pairs if each.state is State.WANTED]
        self.assertEqual({wanted.text, wanted.backdrop}, {"accent2", "lt1"})
        self.press(Qt.Key.Key_W, on=self.desk.line)
        self.assertFalse([each for each in self.colours.pairs if each.state is State.WANTED])

    def test_from_a_pairs_place_one_gets_to_it_on_the_review_desk(self) -> None:
        self.desk.pairs.setCurrentIndex(self.desk.pairs.pairs.index(0))
        self.settle()
        places = self.desk.panel.pair.places
        self.assertEqual(places.count(), 4)
        places.setFocus()
        places.setCurrentRow(3)
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.window.shown_desk, REVIEW)
        pair = self.window.desk.pair
        assert pair is not None
        self.assertTrue(pair.text.startswith("Boarding"))
        self.assertEqual(self.window.controller.session.history.taken, ())

    def test_another_level_asks_for_more(self) -> None:
        self.window.ask_level(Level.AAA)
        self.settle()
        pairs = {(each.text, each.backdrop): each for each in self.colours.pairs}
        self.assertEqual(pairs["lt1", "accent1"].required, 7.0)

    def test_a_click_on_a_line_chooses_the_pair_and_on_nothing_chooses_none(self) -> None:
        line = self.desk.line
        start, end = self.chip("lt1", Role.TEXT), self.chip("accent1", Role.BACKDROP)
        middle = (QPointF(start) + QPointF(end)) / 2
        QTest.mouseClick(line, Qt.MouseButton.LeftButton, pos=middle.toPoint())
        self.assertEqual(self.desk.state.pair, ("lt1", "accent1"))
        QTest.mouseClick(
            line, Qt.MouseButton.LeftButton, pos=QPoint(line.width() - 3, line.height() - 3)
        )
        self.assertEqual((self.desk.state.pair, self.desk.state.chosen), (None, ""))

    def test_a_file_that_is_closed_takes_its_sets_along(self) -> None:
        self.window.close_current()
        self.settle()
        self.assertIsNone(self.desk.state.colours)
        self.assertTrue(self.desk.empty.isVisible())


class Kept(SetsTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_desk(SETS)
        self.kept = self.settings.sets_folder

    def keep(self, **levels: tuple[int, int, int]) -> Key:
        colours = tuple(SetColour(name, each) for name, each in levels.items())
        return self.desk.state.keep(ColourSet("Quay", "kept", "", colours))

    def files(self) -> list[str]:
        self.desk.state.store()
        return sorted(path.name for path in self.kept.glob("*")) if self.kept.exists() else []

    def test_a_set_is_typed_kept_and_there_again_in_the_next_window(self) -> None:
        dialog = ColoursDialog(self.desk, "A new set", named=True)
        dialog.text.setPlainText("quay blue: #1B4F72\nsand: oklch(92% 0.03 90)\nno colour")
        self.assertEqual(dialog.colours, [])
        self.assertIn("no colour", dialog.said.text())
        dialog.text.setPlainText("quay blue: #1B4F72\nsand: oklch(92% 0.03 90)\n#fff")
        self.desk.dialogs._keep("Brand", dialog.colours)
        self.desk.state.want(("quay blue", "sand"), 7.0)
        self.desk.state.set_leave("sand", True)
        self.assertEqual(self.files(), ["brand.json"])
        other = Window(self.settings)
        self.addCleanup(self.close_window, other)
        (again,) = other.sets.state.kept_sets()
        self.assertEqual([each.name for each in again.colours], ["quay blue", "sand", "#FFFFFF"])
        self.assertEqual(again.pairs, (SetPair("quay blue", "sand", State.WANTED, 7.0),))
        self.assertEqual([each.leave for each in again.colours], [False, True, False])

    def test_what_is_done_to_a_kept_set_is_undone_in_its_file_too(self) -> None:
        self.keep(blue=(27, 79, 114), sand=(243, 227, 195))
        self.assertEqual(self.files(), ["quay.json"])
        self.desk.state.rename("Harbour")
        self.assertTrue(self.desk.state.rename_colour("blue", "deep"))
        self.assertFalse(self.desk.state.rename_colour("deep", "sand"))
        self.desk.dialogs.add([SetColour("sand", (1, 2, 3))])
        self.desk.state.remove_colour("deep")
        self.files()
        stored = read_set(self.kept / "quay.json")
        self.assertEqual(stored.name, "Harbour")
        self.assertEqual([each.name for each in stored.colours], ["sand", "sand 2"])
        self.assertEqual(self.desk.state.delete(), "Harbour")
        self.assertEqual(self.files(), [])
        for _ in range(5):
            self.window.undo()
        self.files()
        stored = read_set(self.kept / "quay.json")
        self.assertEqual((stored.name, [each.name for each in stored.colours]),
                         ("Quay", ["blue", "sand"]))  # fmt: skip
        self.window.undo()
        self.assertEqual(self.files(), [])

    def test_a_kept_set_is_mended_in_its_file(self) -> None:
        self.keep(text=(138, 147, 155), sand=(243, 227, 195))
        self.desk.state.want(("text", "sand"), 4.5)
        self.settle()
        self.press(Qt.Key.Key_1, on=self.desk.line)
        self.desk.line.setFocus()
        self.press(Qt.Key.Key_Return)
        self.files()
        stored = read_set(self.kept / "quay.json")
        text, sand = (hex_of(each.levels)[1:] for each in stored.colours)
        self.assertGreaterEqual(ratio_by_hand(text, sand), 4.5)

    def test_a_damaged_set_is_told_of_and_left_there(self) -> None:
        self.kept.mkdir(parents=True)
        (self.kept / "broken.json").write_text("{")
        (self.kept / "circle.json").write_text(
            '{"$type":"color","a":{"$value":"{b}"},"b":{"$value":"{a}"}}'
        )
        other = Window(self.settings)
        self.addCleanup(self.close_window, other)
        other.show()
        other.show_desk(SETS)
        assert other._problem_box is not None
        self.assertIn("broken.json", other._problem_box.text())
        self.assertIn("circle", other._problem_box.text())
        self.assertEqual(len(list(self.kept.glob("*.json"))), 2)

    def test_a_kept_set_is_put_on_the_files_own_with_a_match_that_can_be_changed(self) -> None:
        self.show_deck()
        theme = self.colours
        self.keep(ink=(10, 10, 30), accent1=(120, 40, 0), paper=(250, 250, 250))
        dialog = MatchDialog(self.desk, self.colours, [theme], self.window.theme)
        self.addCleanup(dialog.deleteLater)
        levels = dialog.levels
        self.assertEqual(levels["accent1"], (120, 40, 0))
        self.assertIn((250, 250, 250), levels.values())
        dialog.choices["accent1"].setCurrentIndex(0)
        self.assertNotIn("accent1", dialog.levels)
        self.desk.dialogs.put(0, levels)
        self.settle()
        self.assertFalse(self.desk.state.shows_kept)
        self.assertEqual(self.level_of("accent1"), "#782800")
        effect = self.desk.files.effect
        assert effect is not None
        self.assertGreater(effect.mends, 0)
        self.assertEqual(self.window.controller.session.history.taken, ())

    def test_a_set_in_use_stays_so_in_the_next_window(self) -> None:
        self.keep(blue=(27, 79, 114))
        self.desk.buttons["use"].click()
        self.assertEqual(self.settings.set_in_use, "quay.json")
        found = self.desk.colours_in_use()
        assert found is not None
        self.assertEqual([each.name for each in found.colours], ["blue"])


class Elsewhere(SetsTest):
    """What the Sets desk says of colours holds on the other desks."""

    def setUp(self) -> None:
        super().setUp()
        self.show_deck()

    def remedies(self) -> list:
        self.window.show_desk(REVIEW)
        self.window.desk.list.step(1)
        self.settle()
        return [card.remedy for card in self.window.desk.panel.remedies.cards.rows]

    def test_the_nearest_of_the_set_in_use_is_what_a_text_is_recoloured_to_first(self) -> None:
        colours = (SetColour("ink", (16, 24, 40)), SetColour("night", (0, 0, 60)),
                   SetColour("mist", (240, 240, 255)))  # fmt: skip
        self.desk.state.keep(ColourSet("Quay", "kept", "", colours))
        self.desk.buttons["use"].click()
        first = self.remedies()[0]
        self.assertEqual(first.direction, "set")
        self.assertIn(first.levels, [each.levels for each in colours])
        self.assertIn("set in use", first.detail)

    def test_a_colour_left_as_it_is_is_never_recoloured_on_the_review_desk(self) -> None:
        self.desk.state.choose("lt1")
        self.desk.change_leave()
        kinds = {remedy.kind for remedy in self.remedies()}
        self.assertTrue(kinds)
        self.assertNotIn("recolour", kinds)
        self.assertIn("left as it is", self.window.desk.panel.none.text())
        self.window.show_desk(SETS)
        self.settle()
        self.window.undo()
        self.assertIn("recolour", {remedy.kind for remedy in self.remedies()})

    def test_fields_and_the_bench_offer_the_set_in_use(self) -> None:
        card = self.window.bench.two.cards[Side.FOREGROUND]
        self.assertTrue(card.field.menu.isEmpty())
        self.desk.state.keep(ColourSet("Quay", "kept", "", (SetColour("ink", (16, 24, 40)),)))
        self.desk.buttons["use"].click()
        self.window.show_desk(BENCH)
        self.settle()
        (action,) = card.field.menu.actions()
        action.trigger()
        self.assertEqual(self.window.bench.state.pair.foreground.levels, (16, 24, 40))
        row = self.window.bench.two.set_row
        self.assertTrue(row.isVisible())
        held = Qt.KeyboardModifier.ShiftModifier
        QTest.mouseClick(row.buttons[0], Qt.MouseButton.LeftButton, held)
        self.window.show_desk(SETS)
        self.desk.buttons["use"].click()
        self.assertTrue(card.field.menu.isEmpty())
        self.assertFalse(row.isVisibleTo(self.window.bench.two))


class AtAnySize(SetsTest):
    def show_many(self, count: int) -> None:
        self.window.show_desk(SETS)
        colours = tuple(
            SetColour(f"colour {n}", ((n * 37) % 256, (n * 91) % 256, (n * 53) % 256))
            for n in range(count)
        )
        pairs = tuple(
            SetPair(f"colour {n % count}", f"colour {(n * 7 + 3) % count}", State.WANTED, 4.5)
            for n in range(200)
            if n % count != (n * 7 + 3) % count
        )
        unique = {(each.text, each.backdrop): each for each in pairs}
        self.desk.state.keep(ColourSet("Many", "kept", "", colours, tuple(unique.values())))

    def test_no_two_chips_lie_over_one_another_and_all_are_in_view(self) -> None:
        for count in (1, 2, 12, 30, 60):
            self.show_many(count)
            self.desk.settler.stop()
            line = self.desk.line
            layout = line.layout_now
            assert layout is not None
            boxes = [line.box_of(chip) for chip in layout.chips]
            for number, one in enumerate(boxes):
                self.assertTrue(line.rect().toRectF().contains(one), (count, one))
                self.assertFalse(any(one.intersects(other) for other in boxes[:number]), count)
            names = {chip.name for chip in layout.chips}
            self.assertEqual(len(names), count)

    def test_frames_keep_up_with_a_drag_of_thirty_colours_and_two_hundred_pairs(self) -> None:
        self.show_many(30)
        self.desk.settler.wake(False)
        self.desk.state.choose("colour 7")
        times = []
        for step in range(60):
            # Of this thread alone, whatever else the machine does.
            start = time.thread_time()
            self.desk.line.move_to("colour 7", 0.2 + step / 100)
            self.desk.line.repaint()
            times.append(time.thread_time() - start)
        # What is asked is 16 ms; on a slow machine a test allows several times that.
        self.assertLess(sorted(times)[57], 0.06)

    def test_the_narrow_desk_has_its_sets_in_a_list_to_choose_from(self) -> None:
        self.window.resize(QSize(640, 400))
        self.show_many(12)
        self.application.processEvents()
        self.assertFalse(self.desk.strip.isVisible())
        self.assertTrue(self.desk.set_choice.isVisible())
        self.assertGreater(self.desk.line.width(), 250)
        for button in self.desk.panel.findChildren(QPushButton):
            if button.isVisible():
                self.assertGreaterEqual(button.width(), button.minimumSizeHint().width() - 2)

    def test_five_hundred_colours_are_listed_without_their_possible_pairs(self) -> None:
        self.show_many(500)
        self.desk.settler.stop()
        self.desk.filters[State.POSSIBLE].click()
        self.assertFalse(self.desk.pairs.pairs.rows)
        self.assertIn("aren’t listed", self.desk.nothing.text())


if __name__ == "__main__":
    unittest.main()
