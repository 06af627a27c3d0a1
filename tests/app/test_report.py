"""The Report desk: figures that are the review's own, a way from each to its pairs, and out."""

from __future__ import annotations

import csv
import json
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from high_pair.app.actions import REPORT, REVIEW
from high_pair.app.report.source import DECISIONS, WriteOut, short_times
from high_pair.app.report.write_dialog import FORMS, WriteDialog
from high_pair.formats.web.settings import WebSettings
from high_pair.report.store import Store
from high_pair.review.auditing import AuditWishes, audit
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import AsideReason, Verdict
from tests.app.driver import WindowTest
from tests.review.test_audits import write_deck


class ReportTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.share = self.folder / "share"
        self.deck = self.share / "one.pptx"
        # The first two are alike; the last one passes.
        write_deck(self.deck, "AAAAAA", "AAAAAA", "BBBBBB", "000000")
        write_deck(self.share / "two.pptx", "999999")

    @property
    def report(self):
        return self.window.report

    @property
    def overview(self):
        found = self.report.source.overview
        assert found is not None
        return found

    def show_report(self) -> None:
        self.window.show_desk(REPORT)
        self.settle()

    def an_audit(self, name: str = "audit.sqlite") -> Path:
        path = self.folder / name
        store = Store(path)
        wishes = AuditWishes((str(self.share),), Asked(), WebSettings(), jobs=2)
        audit(wishes, store, lambda *_: None)
        store.close()
        return path

    def mend_first(self, apply) -> None:
        desk = self.window.desk
        desk.list.step(1)
        self.settle()
        desk.choose_remedy(1)
        self.settle()
        apply()
        self.settle()

    def set_first_aside(self, reason: AsideReason) -> None:
        desk = self.window.desk
        desk.list.step(1)
        self.settle()
        self.window.controller.set_aside(desk.file, [desk.pair], reason.value, "")
        self.settle()


class Reviews(ReportTest):
    def test_nothing_open_says_what_to_do(self) -> None:
        self.show_report()
        self.assertIs(self.report.stack.currentWidget(), self.report.nothing)
        self.assertTrue(self.report.open_audit.isVisible())

    def test_its_figures_are_the_reviews(self) -> None:
        self.open(self.deck, self.share / "two.pptx")
        self.show_report()
        counts = self.window.controller.session.counts()
        summary = self.overview.summary
        for verdict in Verdict:
            self.assertEqual(summary.number(verdict), counts[verdict])
        self.assertIn("4 fall short", self.window.status.text())
        self.assertEqual({each.path for each in self.overview.files},
                         {str(self.deck), str(self.share / "two.pptx")})  # fmt: skip
        self.assertFalse(self.overview.before)

    def test_a_decision_moves_pairs_along_the_ladder_and_undo_moves_them_back(self) -> None:
        self.open(self.deck)
        self.mend_first(self.window.desk.apply_to_alike)
        self.show_report()
        now = self.overview.summary.number(Verdict.FALLS_SHORT)
        self.assertLess(now, 3)
        self.assertEqual(self.overview.short_before, 3)
        self.assertIn("3 before", self.window.status.text())
        self.window.undo()
        self.settle()
        QTest.qWait(400)
        self.settle()
        self.assertEqual(self.overview.summary.number(Verdict.FALLS_SHORT), 3)

    def test_enter_on_where_it_is_decided_lists_its_pairs_alone_until_all_are_asked_for(
        self,
    ) -> None:
        self.open(self.deck, self.share / "two.pptx")
        self.show_report()
        self.assertIs(QApplication.focusWidget(), self.report.origins)
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.window.shown_desk, REVIEW)
        head = self.window.desk.head
        self.assertTrue(head.kept.isVisible())
        origin = head.listing.kept.origin
        session = self.window.controller.session
        scope = self.window.desk.scope
        self.assertTrue(all(
            pair.origin == origin
            for look in session.looks(Verdict.FALLS_SHORT, scope) for pair in look.group.pairs
        ))  # fmt: skip
        self.assertIsNotNone(self.window.desk.pair)
        head.kept.click()
        self.settle()
        self.assertFalse(head.kept.isVisible())
        self.assertIsNone(self.window.desk.scope.kept)

    def test_a_criterion_and_a_file_lead_to_their_pairs(self) -> None:
        self.open(self.deck, self.share / "two.pptx")
        self.show_report()
        self.report.criteria.setCurrentIndex(self.report.criteria.shown.index(0))
        self.press(Qt.Key.Key_Return, on=self.report.criteria)
        self.assertEqual(self.window.desk.head.listing.kept.criterion, "1.4.3")
        self.show_report()
        names = [Path(row.path).name for row in self.report.files.shown.rows]
        self.report.files.setCurrentIndex(self.report.files.shown.index(names.index("two.pptx")))
        self.press(Qt.Key.Key_Return, on=self.report.files)
        self.assertEqual(self.window.desk.file.name, "two.pptx")
        self.assertEqual(self.window.desk.head.listing.kept.words, "two.pptx")

    def test_arrow_keys_go_along_the_ladder_and_enter_shows_what_is_there(self) -> None:
        self.open(self.deck)
        self.show_report()
        ladders = self.report.ladders
        ladders.setFocus()
        self.press(Qt.Key.Key_Home, on=ladders)
        self.assertIn("of what is asked", ladders.accessibleDescription())
        first = ladders.at
        self.press(Qt.Key.Key_Right, on=ladders)
        self.assertGreater(ladders.at, first)
        self.press(Qt.Key.Key_Left, on=ladders)
        self.assertEqual(ladders.at, first)
        self.press(Qt.Key.Key_Return, on=ladders)
        self.assertEqual(self.window.shown_desk, REVIEW)
        looks = self.window.controller.session.looks(Verdict.FALLS_SHORT, self.window.desk.scope)
        # The palest grey is the weakest.
        self.assertEqual({pair.text for look in looks for pair in look.group.pairs}, {"Sailing 2"})

    def test_set_aside_is_told_with_its_reason(self) -> None:
        self.open(self.deck)
        self.set_first_aside(AsideReason.LOGOTYPE)
        self.show_report()
        self.assertEqual(self.overview.summary.number(Verdict.SET_ASIDE), 1)
        self.assertIn("logotype", self.report.work.text())


class Audits(ReportTest):
    def test_a_store_is_shown_with_what_changed_and_its_files_open_from_it(self) -> None:
        self.an_audit()
        write_deck(self.deck, "000000", "AAAAAA", "BBBBBB", "777777")
        store = self.an_audit()
        self.show_report()
        self.report.source.show_file(store)
        self.settle()
        trend = self.overview.trend
        self.assertEqual((trend.new, trend.gone, trend.still), (1, 1, 3))
        self.assertTrue(self.report.trend.isVisible())
        self.assertIn("1 new", self.report.trend.words.text())
        self.assertIn("audit.sqlite", self.window.bar.file_label.text())
        self.press(Qt.Key.Key_Return, on=self.report.origins)
        self.settle()
        self.assertEqual(self.window.shown_desk, REVIEW)
        self.assertEqual(self.window.desk.file.name, "one.pptx")
        self.assertIsNotNone(self.window.desk.head.listing.kept)

    def test_a_file_that_is_gone_says_so(self) -> None:
        store = self.an_audit()
        self.show_report()
        self.report.source.show_file(store)
        self.settle()
        self.deck.unlink()
        with mock.patch.object(self.window, "show_problem") as told:
            self.window.way.go(None, str(self.deck), Verdict.FALLS_SHORT)
        self.assertIn("isn't there any more", told.call_args.args[0])

    def test_a_store_that_is_dropped_is_shown_on_this_desk(self) -> None:
        store = self.an_audit()
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(store))])
        self.window.dropEvent(
            QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                       Qt.KeyboardModifier.NoModifier)
        )  # fmt: skip
        self.settle()
        self.assertEqual(self.window.shown_desk, REPORT)
        self.assertEqual(self.overview.summary.files, 2)

    def test_what_is_no_store_is_told_and_what_was_shown_stays(self) -> None:
        self.open(self.deck)
        self.show_report()
        bad = self.folder / "bad.sqlite"
        bad.write_bytes(b"SQLite format 3\0 and nonsense" * 100)
        with mock.patch.object(self.window, "show_problem") as told:
            self.report.source.failed.disconnect()
            self.report.source.failed.connect(told)
            self.report.source.show_file(bad)
            self.settle()
        self.assertIn("bad.sqlite", told.call_args.args[0])
        self.assertTrue(self.report.source.is_review)
        self.assertEqual(self.overview.summary.files, 1)

    def test_a_review_is_held_against_an_audit(self) -> None:
        store = self.an_audit()
        write_deck(self.deck, "000000", "000000", "BBBBBB", "000000")
        self.open(self.deck, self.share / "two.pptx")
        self.show_report()
        self.report.source.compare_with(store)
        self.settle()
        self.assertEqual((self.overview.trend.gone, self.overview.trend.new), (2, 0))


class WritingOut(ReportTest):
    def test_forms_are_written_and_agree_with_what_is_shown(self) -> None:
        self.open(self.deck)
        self.set_first_aside(AsideReason.OTHER)
        self.show_report()
        forms = ("csv", "json", "html", DECISIONS)
        targets = {form: self.folder / f"out{FORMS[form][0]}" for form in forms}
        self.report.source.write_out(WriteOut(targets, "Winter"))
        self.settle()
        self.assertIn("out.csv", self.window.status.text())
        short = self.overview.summary.number(Verdict.FALLS_SHORT)
        with targets["csv"].open(encoding="utf-8", newline="") as stream:
            rows = list(csv.DictReader(stream))
        self.assertEqual(sum(row["verdict"] == "falls_short" for row in rows), short)
        pairs = json.loads(targets["json"].read_text("utf-8"))["files"][0]["pairs"]
        self.assertEqual(len(pairs), self.overview.summary.pairs)
        page = targets["html"].read_text("utf-8")
        self.assertIn("<h1>Winter</h1>", page)
        self.assertIn("<img", page)
        (decision,) = json.loads(targets[DECISIONS].read_text("utf-8"))["decisions"]
        self.assertEqual(decision["path"], "share/one.pptx")

    def test_what_was_mended_is_shown_as_it_is_with_what_was_decided(self) -> None:
        self.open(self.deck)
        self.mend_first(self.window.desk.apply)
        self.show_report()
        target = self.folder / "out.html"
        self.report.source.write_out(WriteOut({"html": target}, "Winter"))
        self.settle()
        page = target.read_text("utf-8")
        self.assertIn("Before: 3 fall short", page)
        self.assertIn("Now: 2 fall short", page)
        self.assertNotIn("has changed since", page)

    def test_it_can_be_stopped_and_writes_nothing_then(self) -> None:
        self.open(self.deck)
        self.show_report()
        target = self.folder / "out.html"
        self.report.source.write_out(WriteOut({"html": target}, "Winter"))
        self.assertTrue(self.report.source.under_way)
        self.window.stop_or_clear()
        self.settle()
        QTest.qWait(500)
        self.assertFalse(target.exists())

    def test_where_it_cant_be_written_is_told(self) -> None:
        self.open(self.deck)
        self.show_report()
        told: list[str] = []
        self.report.source.failed.connect(told.append)
        with mock.patch.object(self.window, "show_problem"):
            self.report.source.write_out(
                WriteOut({"csv": self.folder / "no folder" / "out.csv"}, "Winter")
            )
            self.settle()
        self.assertIn("can't be written", told[0])

    def test_the_dialog_offers_names_and_says_what_would_be_replaced(self) -> None:
        dialog = WriteDialog("one/two?.pptx", self.folder, self.window)
        self.addCleanup(dialog.deleteLater)
        self.assertEqual(dialog.name.text(), "two contrast")
        self.assertEqual(set(dialog.wanted.targets), {"html", "csv"})
        (self.folder / "two contrast.csv").write_text("x")
        dialog.boxes["json"].setChecked(True)
        self.assertIn("two contrast.csv", dialog.there.text())
        self.assertTrue(dialog.write.isEnabled())
        dialog.folder.setText(str(self.folder / "gone"))
        self.assertFalse(dialog.write.isEnabled())
        dialog.folder.setText(str(self.folder))
        for box in dialog.boxes.values():
            box.setChecked(False)
        self.assertFalse(dialog.write.isEnabled())


class Words(WindowTest):
    def test_times_are_as_short_as_tells_them_apart(self) -> None:
        one, other = "2026-10-03T12:00:00+00:00", "2026-10-03T14:30:00+00:00"
        self.assertEqual(len(set(short_times([one, other]))), 2)
        self.assertNotIn(":", short_times([one, "2026-11-05T12:00:00+00:00"])[0])
        self.assertEqual(short_times(["then"]), ["then"])


del ReportTest, WindowTest
