"""Keeping a review: saved by hand, kept while under way, taken up again; and setting aside."""

import json
import unittest
from pathlib import Path
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QMessageBox

from high_pair.app.differences import DifferencesDialog
from high_pair.edits.kinds import RecolourText
from high_pair.review.history import History
from high_pair.review.review_file import load_review
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import DeckFolder, body, run, shape, solid, xfrm

# Above the highest number that a process can have.
NO_PROCESS = 2**22 + 1


class KeepingTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.decks = DeckFolder()
        self.addCleanup(self.decks.close)
        pale = shape(body(run("Pale words", inner=solid("CCCCCC"))))
        logo = shape(body(run("Ostrel Bay", inner=solid("BBBBBB"))), place=xfrm(60, 250, 400, 60))
        self.path = self.decks.deck(pale + logo)
        self.open(self.path)

    def counts(self, window=None) -> dict[Verdict, int]:
        return (window or self.window).controller.session.counts()

    def mend_first(self) -> None:
        self.press(Qt.Key.Key_N)
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)

    def bring(self, text: str) -> None:
        for verdict in Verdict:
            for look in self.window.controller.session.looks(verdict):
                for pair in look.group.pairs:
                    if pair.text == text:
                        self.window.desk.show_pair(look.file, pair)
                        self.settle()
                        return


class Reviewers(KeepingTest):
    """Two reviewers decide about the same deck; the second's review is opened over the first's."""

    def decided(self, text: str, levels: tuple[int, int, int]) -> None:
        file = self.window.desk.file
        pairs = [pair for pair in self.window.controller.session.pairs_on(file.key, 0)
                 if pair.text == text]  # fmt: skip
        edits = [RecolourText(pair.address, levels, 1.0) for pair in pairs]
        self.window.controller.decide(file, f"{text} {levels[0]}", edits)
        self.settle()

    def colours(self) -> dict[str, str]:
        pairs = self.window.controller.session.pairs_on(self.window.desk.file.key, 0)
        return {pair.text: pair.numbers.foreground for pair in pairs}

    def theirs(self) -> Path:
        """Keep a review in which both texts were decided, and take it all back here."""
        self.decided("Pale words", (0, 0, 0))
        self.decided("Ostrel Bay", (64, 64, 64))
        target = self.decks.path / "ben.highpair"
        self.assertTrue(self.window.keeper.save(target))
        for _ in range(2):
            self.window.undo()
            self.settle()
        return target

    def merge(self, target: Path, take_theirs: bool) -> list[DifferencesDialog]:
        shown: list[DifferencesDialog] = []

        def answer(dialog: DifferencesDialog) -> int:
            shown.append(dialog)
            for _, theirs in dialog.choices:
                theirs.setChecked(take_theirs)
            return QDialog.DialogCode.Accepted

        with mock.patch.object(DifferencesDialog, "exec", answer):
            self.window.open_paths([target])
            self.settle()
        return shown

    def test_what_only_the_other_decided_is_added_and_differences_are_asked_about(self) -> None:
        target = self.theirs()
        self.decided("Pale words", (16, 16, 16))
        (dialog,) = self.merge(target, take_theirs=False)
        words = [button.accessibleName() for pair in dialog.choices for button in pair]
        self.assertEqual(words, ["This review: Pale words 16", "ben: Pale words 0"])
        self.assertEqual(self.colours(), {"Pale words": "#101010", "Ostrel Bay": "#404040"})

    def test_theirs_counts_where_it_is_chosen(self) -> None:
        target = self.theirs()
        self.decided("Pale words", (16, 16, 16))
        self.merge(target, take_theirs=True)
        self.assertEqual(self.colours(), {"Pale words": "#000000", "Ostrel Bay": "#404040"})

    def test_what_both_decided_alike_asks_nothing(self) -> None:
        target = self.theirs()
        self.decided("Pale words", (0, 0, 0))
        self.assertEqual(self.merge(target, take_theirs=True), [])
        self.assertEqual(self.colours(), {"Pale words": "#000000", "Ostrel Bay": "#404040"})
        self.window.undo()
        self.settle()
        self.assertEqual(self.colours()["Ostrel Bay"], "#BBBBBB")


class ReviewFiles(KeepingTest):
    def test_saved_closed_and_opened_again_everything_is_there(self):
        self.mend_first()
        target = self.decks.path / "work.highpair"
        self.assertEqual(len(self.window.controller.session.unsaved()), 1)
        self.assertTrue(self.window.keeper.save(target))
        self.assertEqual(self.window.controller.session.unsaved(), [])
        self.assertTrue(load_review(target).files[0].digest.startswith("sha256:"))
        before = self.counts()
        other = self.make_window()
        other.open_paths([target])
        self.window = other
        self.settle()
        self.assertEqual(self.counts(), before)
        self.assertEqual(before[Verdict.FALLS_SHORT], 1)
        self.assertEqual(other.controller.session.unsaved(), [])
        self.assertEqual(other.settings.recent[0], target)
        other.undo()
        self.settle()
        self.assertEqual(self.counts()[Verdict.FALLS_SHORT], 2)
        # Saving goes on in the same file.
        other.reviews.save()
        self.assertEqual(load_review(target).decisions, ())

    def test_a_changed_source_is_noticed_and_measured_anew(self):
        self.mend_first()
        target = self.decks.path / "work.highpair"
        self.window.keeper.save(target)
        self.decks.deck(shape(body(run("Other words", inner=solid("AAAAAA")))))
        other = self.make_window()
        other.open_paths([target])
        self.window = other
        self.settle()
        self.assertIn("has changed since", other._problem_box.text())
        other._problem_box.close()

    def test_a_source_that_is_gone_is_told_by_its_name(self):
        target = self.decks.path / "work.highpair"
        self.window.keeper.save(target)
        contents = json.loads(target.read_text())
        contents["files"][0]["path"] = "gone.pptx"
        target.write_text(json.dumps(contents))
        other = self.make_window()
        other.open_paths([target])
        self.window = other
        self.settle()
        self.assertIn("gone.pptx", other._problem_box.text())
        other._problem_box.close()

    def test_a_window_that_ended_without_closing_left_its_review(self):
        self.mend_first()
        keeper = self.window.keeper
        keeper.autosave()
        self.assertTrue(keeper.own_autosave.is_file())
        # As if its process were gone.
        left = keeper.own_autosave.with_name(f"{NO_PROCESS}.highpair")
        keeper.own_autosave.rename(left)
        before = self.counts()
        other = self.make_window()
        other.reviews.offer_left_behind()
        box = other.reviews.box
        assert isinstance(box, QMessageBox)
        self.window = other
        next(b for b in box.buttons() if b.text() == "Go on with it").click()
        self.settle()
        self.assertEqual(self.counts(), before)
        self.assertFalse(left.exists())
        self.assertTrue(other.keeper.own_autosave.is_file())
        self.assertIsNone(other.keeper.path)

    def test_what_was_left_behind_stays_while_its_source_is_missing(self):
        self.mend_first()
        self.window.keeper.autosave()
        own = self.window.keeper.own_autosave
        left = own.with_name(f"{NO_PROCESS}.highpair")
        own.rename(left)
        self.path.rename(self.path.with_name("away.pptx"))
        other = self.make_window()
        other.reviews.offer_left_behind()
        self.window = other
        next(b for b in other.reviews.box.buttons() if b.text() == "Go on with it").click()
        self.settle()
        other._problem_box.close()
        self.assertTrue(left.exists())
        self.assertEqual(other.keeper.left_behind(), [left])

    def test_closing_as_one_should_leaves_nothing_behind(self):
        self.mend_first()
        self.window.keeper.autosave()
        kept = self.window.keeper.own_autosave
        self.window.controller.session.history = History()
        self.window.close()
        self.assertFalse(kept.exists())


class AtTheOrigin(KeepingTest):
    def test_recoloured_in_the_theme_every_text_of_that_colour_passes(self):
        themed = '<a:solidFill><a:schemeClr val="accent3"/></a:solidFill>'
        two = shape(body(run("One", inner=themed))) + shape(
            body(run("Two", inner=themed)), place=xfrm(60, 250, 400, 60)
        )
        self.open(self.decks.deck(two, "themed.pptx"))
        self.bring("One")
        panel = self.window.desk.panel
        words = [panel.reach.itemText(place) for place in range(panel.reach.count())]
        self.assertEqual(words, ["here", "in the theme, accent3"])
        panel.reach.setCurrentIndex(1)
        panel.reach.activated.emit(1)
        self.settle()
        self.press(Qt.Key.Key_1)
        self.assertIn("Changes 2 texts on 1 page", panel.none.text())
        before = self.counts()[Verdict.FALLS_SHORT]
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.counts()[Verdict.FALLS_SHORT], before - 2)
        target = self.decks.path / "mended.pptx"
        file = self.window.desk.file
        self.window.copies.save(file, target)
        self.settle()
        self.assertIn("2 of 2 changed pairs pass", self.window.status.text())
        self.window.undo()
        self.settle()
        self.assertEqual(self.counts()[Verdict.FALLS_SHORT], before)


class SettingAside(KeepingTest):
    def test_a_logotype_is_set_aside_with_its_reason_listed_and_judged_again(self):
        self.bring("Ostrel Bay")
        button = self.window.desk.panel.aside
        self.assertEqual(button.text(), "Set aside…")
        button.reasons.actions()[0].trigger()
        self.settle()
        self.assertEqual(self.counts()[Verdict.SET_ASIDE], 1)
        self.assertEqual(self.counts()[Verdict.FALLS_SHORT], 1)
        self.bring("Ostrel Bay")
        self.assertIn("logotype", self.window.desk.panel.none.text())
        self.press(Qt.Key.Key_A)
        self.assertEqual(self.counts()[Verdict.FALLS_SHORT], 2)
        self.window.undo()
        self.settle()
        self.assertEqual(self.counts()[Verdict.SET_ASIDE], 1)

    def test_what_is_set_aside_stays_so_in_the_measured_copy(self):
        self.mend_first()
        self.bring("Ostrel Bay")
        self.window.desk.panel.aside.reasons.actions()[1].trigger()
        self.settle()
        (file,) = self.window.controller.session.files.values()
        self.window.copies.save(file, self.decks.path / "copy.pptx")
        self.settle()
        self.assertEqual(self.counts()[Verdict.SET_ASIDE], 1)

    def test_what_passes_is_not_to_be_set_aside(self):
        self.mend_first()
        self.bring("Pale words")
        self.assertFalse(self.window.desk.panel.aside.isVisible())


if __name__ == "__main__":
    unittest.main()
