"""Documents and spreadsheets in the window: shown by their parts, mended, saved, undone."""

import threading
import unittest
import unittest.mock
from pathlib import Path

import docx
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from high_pair.app.demo import DEMOS
from high_pair.edits.kinds import SetAside
from high_pair.formats import open_document
from high_pair.formats.sheets.workbook import Workbook
from high_pair.measure.pairs import Pair
from high_pair.review.held import HeldDocument
from high_pair.review.parallel import LONG_DOCUMENT
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import pairs_of
from tests.workbooks import WorkbookFolder, cell, font, rgb, row

_, NOTICE, LOADS = DEMOS
PIXELS = 96 / 72


class OpenedTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.desk = self.window.desk

    def go_to(self, words: str) -> Pair:
        for verdict in (Verdict.FALLS_SHORT, Verdict.PASSES, Verdict.NEEDS_EYES):
            for look in self.window.controller.session.looks(verdict):
                for pair in look.group.pairs:
                    if pair.text.startswith(words):
                        self.desk.show_pair(look.file, pair)
                        self.settle()
                        return pair
        raise AssertionError(words)

    @property
    def file(self):
        (file,) = self.window.controller.session.files.values()
        return file


class Notice(OpenedTest):
    def setUp(self) -> None:
        super().setUp()
        self.open(NOTICE)

    def test_a_page_is_as_wide_as_the_view_and_its_headings_stand_below_its_small_picture(self):
        view = self.desk.view
        self.assertFalse(view.fits)
        self.assertLessEqual(view.canvas.page_box.width(), view.viewport().width())
        row = self.desk.strip.pages.rows[0]
        self.assertIn((1, "What changes"), row.headings)
        self.assertIn("What changes", row.words)

    def test_a_placeholder_is_recoloured_by_keys_and_undone(self):
        pair = self.go_to("enter the number")
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)
        self.assertEqual(self.desk.pair.address, pair.address)
        self.window.undo()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)

    def test_a_remedy_is_tried_and_shown_without_holding_the_window_up(self):
        threads: list[int] = []
        original = HeldDocument.run

        def run(document, *arguments, **further):
            threads.append(threading.get_ident())
            return original(document, *arguments, **further)

        with unittest.mock.patch.object(HeldDocument, "run", run):
            self.go_to("enter the number")
            self.press(Qt.Key.Key_1)
            self.settle()
        self.assertTrue(threads)
        self.assertNotIn(threading.get_ident(), threads)

    def test_a_heading_is_mended_in_its_style_with_what_else_that_changes(self):
        self.go_to("Sailings at a glance")
        self.assertTrue(any("Heading 1" in each.words for each in self.desk.panel.reaches))

    def test_all_that_falls_short_is_brought_to_a_pass_and_the_copy_measures_so(self):
        for _ in range(40):
            looks = self.window.controller.session.looks(Verdict.FALLS_SHORT)
            if not looks:
                break
            self.desk.show_pair(looks[0].file, looks[0].group.weakest)
            self.settle()
            self.assertTrue(self.desk.panel.remedies.cards.rows, self.desk.pair)
            self.desk.choose_remedy(1)
            self.desk.apply_to_alike()
            self.settle()
        target = self.folder / "mended.docx"
        self.window.controller.save_copy(self.file, target)
        self.settle()
        verdicts = {pair.verdict for pair in pairs_of(target)}
        self.assertEqual(verdicts, {Verdict.PASSES})

    def test_larger_letters_leave_the_number_of_pages_as_it_is(self):
        from high_pair.edits.kinds import Restyle

        document = open_document(self.file.location)
        self.addCleanup(document.close)
        edits = [Restyle(f"word/document.xml#p={n}/r=1", 60.0) for n in (3, 8)]
        self.assertEqual(len(document.edited(edits).pages), len(document.pages))


class LongDocument(OpenedTest):
    """A document of so many pages takes long to flow: the window stays awake meanwhile."""

    def setUp(self) -> None:
        super().setUp()
        document = docx.Document()
        for number in range(LONG_DOCUMENT + 1):
            document.add_page_break()
            run = document.add_paragraph().add_run(f"Part {number} in pale grey")
            run.font.color.rgb = docx.shared.RGBColor(0xBB, 0xBB, 0xBB)
        path = self.folder / "long.docx"
        document.save(str(path))
        self.open(path)

    def history(self):
        return self.window.controller.session.history.taken

    def apply(self, words: str) -> None:
        self.go_to(words)
        self.press(Qt.Key.Key_1)
        QTest.keyClick(self.window, Qt.Key.Key_Return)

    def test_a_remedy_is_carried_out_on_the_worker_and_says_so_meanwhile(self):
        self.apply("Part 3 ")
        self.assertIn("flows anew", self.window.status.text())
        self.assertTrue(self.window.foot.stop_button.isVisible())
        self.assertEqual(self.history(), ())
        self.settle()
        self.assertEqual(len(self.history()), 1)
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)
        self.assertNotIn("flows", self.window.status.text())

    def test_what_is_asked_for_meanwhile_is_done_in_turn(self):
        self.apply("Part 3 ")
        self.window.undo()
        self.window.redo()
        self.assertEqual(self.history(), ())
        self.settle()
        self.assertEqual(len(self.history()), 1)
        self.window.undo()
        self.settle()
        self.assertEqual(self.history(), ())
        self.assertIs(self.file.document, self.file.base)

    def test_a_file_closed_meanwhile_takes_its_decisions_along(self):
        long = self.desk.file
        self.open(NOTICE)
        other = self.desk.file
        pair = self.go_to("enter the number")
        self.window.controller.set_aside(other, (pair,), "a note")
        self.settle()
        self.apply("Part 3 ")
        self.window.controller.close_file(other.key)
        self.settle()
        self.assertEqual([decision.file for decision in self.history()], [long.key])

    def test_escape_leaves_all_as_it_was(self):
        self.apply("Part 3 ")
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        self.assertIn("nothing has changed", self.window.status.text())
        self.settle()
        self.assertEqual(self.history(), ())
        self.assertIs(self.file.document, self.file.base)

    def kept(self) -> Path:
        """Decide, save the review, and give its file and a new window without any."""
        self.apply("Part 3 ")
        self.settle()
        target = self.folder / "work.highpair"
        self.assertTrue(self.window.keeper.save(target))
        self.window = self.make_window()
        self.desk = self.window.desk
        return target

    def test_a_kept_review_is_taken_up_on_the_worker_and_says_so_meanwhile(self):
        target = self.kept()
        threads = set()
        session = self.window.controller.session
        restored = session.restored
        session.restored = lambda decisions: (
            threads.add(threading.get_ident()),
            restored(decisions),
        )[1]
        self.window.open_paths([target])
        self.assertIn("Opening work.highpair", self.window.status.text())
        self.assertTrue(self.window.foot.stop_button.isVisible())
        self.settle()
        self.assertEqual(len(self.history()), 1)
        self.assertNotIn("Opening", self.window.status.text())
        self.assertFalse(threads & {threading.get_ident()})
        self.assertTrue(threads)

    def test_escape_leaves_a_kept_review_unopened_and_its_file_as_it_was(self):
        target = self.kept()
        before = target.read_bytes()
        self.window.open_paths([target])
        QTest.keyClick(self.window, Qt.Key.Key_Escape)
        self.assertIn("isn't opened", self.window.status.text())
        self.settle()
        self.assertEqual(self.window.controller.session.files, {})
        self.assertIsNone(self.window.keeper.path)
        self.assertEqual(target.read_bytes(), before)

    def test_what_is_decided_while_a_kept_review_opens_stays(self):
        target = self.kept()
        self.open(NOTICE)
        other, session = self.desk.file, self.window.controller.session
        pair = self.go_to("enter the number")
        restored = session.restored

        def late(decisions):
            found = restored(decisions)
            if len(session.history.taken) == 0:
                session.decide(other.key, "a note", [SetAside(pair.address, "text", "a note")])
            return found

        session.restored = late
        self.window.open_paths([target])
        self.settle()
        self.assertEqual(session.history.taken[0].words, "a note")
        self.assertEqual(len(session.history.taken), 2)


class Loads(OpenedTest):
    def setUp(self) -> None:
        super().setUp()
        self.open(LOADS)

    def test_a_click_on_any_cell_finds_its_look(self):
        pair = self.go_to("calm")
        workbook = open_document(LOADS)
        self.addCleanup(workbook.close)
        assert isinstance(workbook, Workbook)
        sheet = workbook._sheet(pair.page - 1)
        entry = sheet.cells.at(9, 6)
        box = sheet.box_of(entry)
        view, canvas = self.desk.view, self.desk.view.canvas
        factor = canvas.zoom * PIXELS
        page = canvas.page_box
        place = QPoint(
            round(page.x() + (box.x + 4) * factor), round(page.y() + (box.y + 4) * factor)
        )
        view.ensureVisible(place.x(), place.y())
        self.desk.show_no_pair("")
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=place)
        self.settle()
        self.assertIsNotNone(self.desk.pair)
        self.assertEqual(self.desk.pair.address, sheet.address_at(box.x + 4, box.y + 4))

    def test_a_condition_s_look_is_mended_and_the_copy_measures_so(self):
        pair = self.go_to("full")
        self.assertIn("#dxf=", pair.address)
        self.desk.choose_remedy(1)
        self.desk.apply()
        self.settle()
        target = self.folder / "mended.xlsx"
        self.window.controller.save_copy(self.file, target)
        self.settle()
        found = [p for p in pairs_of(target, page=1) if p.address == pair.address]
        self.assertTrue(found)
        self.assertTrue(all(p.verdict is Verdict.PASSES for p in found))

    def test_hidden_sheets_are_marked_in_the_strip(self):
        self.assertTrue(self.desk.strip.pages.rows[2].hidden)


class LargeSheets(OpenedTest):
    def test_of_a_very_long_sheet_the_part_that_is_seen_is_painted(self):
        folder = WorkbookFolder()
        self.addCleanup(folder.close)
        rows = "".join(
            row(n, cell(f"A{n}", f"row {n}", 1 if n == 9_000 else 0)) for n in range(1, 10_001)
        )
        options = {"fonts": [font(rgb("AAAAAA"))], "styles": ['fontId="1"']}
        self.open(folder.workbook(rows, **options))
        view = self.desk.view
        self.go_to("row 9000")
        part = view.canvas.part
        self.assertIsNotNone(part)
        self.assertLess(part.height(), 3_000)
        box = self.desk.pair.bbox
        self.assertLess(part.top(), box[1])
        self.assertGreater(part.bottom(), box[1] + box[3])
        self.assertFalse(view.canvas.image.isNull())
        view.verticalScrollBar().setValue(0)
        self.settle()
        self.assertEqual(view.canvas.part.top(), 0.0)


if __name__ == "__main__":
    unittest.main()
