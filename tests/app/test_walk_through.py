"""The demo deck, all that falls short over its photographs brought to a pass, as a user does it."""

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from high_pair.app.demo import DEMO
from high_pair.measure.pairs import Pair
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import pairs_of

OVERLAYS = {"plate", "soft plate", "veil", "ramp", "dim"}
# More rounds than the deck has texts: a walk that goes round in circles ends.
MOST_ROUNDS = 40


class WalkThrough(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.open(DEMO)
        self.desk = self.window.desk

    def over_photographs(self) -> list[Pair]:
        """List what falls short where the backdrop varies, in the order of the list."""
        return [
            pair
            for look in self.window.controller.session.looks(Verdict.FALLS_SHORT)
            for pair in look.group.pairs
            if pair.subject is Subject.TEXT and pair.numbers is not None and pair.numbers.varied
        ]

    def overlay_at_hand(self) -> int | None:
        """Give the number of the first overlay among the remedies shown; None without any."""
        kinds = [card.remedy.kind for card in self.desk.panel.remedies.cards.rows]
        return next((n for n, kind in enumerate(kinds, start=1) if kind in OVERLAYS), None)

    def assert_mended(self, before: set[str]) -> None:
        self.assertTrue(before, "the demo has text that falls short over photographs")
        left = [pair.text for pair in self.over_photographs()]
        self.assertEqual(left, [])
        session = self.window.controller.session
        (key,) = session.files
        pages = range(len(session.files[key].pages))
        after = {pair.address: pair for page in pages for pair in session.pairs_on(key, page)}
        for address in before:
            self.assertIs(after[address].verdict, Verdict.PASSES, after[address].text)
        target = self.folder / "mended.pptx"
        self.window.controller.save_copy(session.files[key], target)
        self.settle()
        saved = {pair.address: pair for page in pages for pair in pairs_of(target, page=page)}
        for address in before:
            self.assertIs(saved[address].verdict, Verdict.PASSES, saved[address].text)

    def test_by_keys_alone(self):
        before = {pair.address for pair in self.over_photographs()}
        for _ in range(MOST_ROUNDS):
            waiting = self.over_photographs()
            if not waiting:
                break
            for _ in range(len(self.desk.list.looks.rows)):
                pair = self.desk.pair
                if pair is not None and pair.id in {each.id for each in waiting}:
                    break
                self.press(Qt.Key.Key_N)
            number = self.overlay_at_hand()
            assert number is not None and number <= 9, self.desk.pair
            self.press(Qt.Key(Qt.Key.Key_0.value + number))
            self.press(Qt.Key.Key_Return)
        self.assert_mended(before)

    def test_by_mouse_alone(self):
        before = {pair.address for pair in self.over_photographs()}
        for _ in range(MOST_ROUNDS):
            waiting = {pair.id for pair in self.over_photographs()}
            if not waiting:
                break
            looks = self.desk.list.looks.rows
            row = next(
                n for n, look in enumerate(looks) if {p.id for p in look.group.pairs} & waiting
            )
            self.click_row(self.desk.list, row)
            number = self.overlay_at_hand()
            assert number is not None, self.desk.pair
            self.click_row(self.desk.panel.remedies, number - 1)
            QTest.mouseClick(self.desk.panel.apply, Qt.MouseButton.LeftButton)
            self.settle()
        self.assert_mended(before)

    def click_row(self, view, row: int) -> None:
        index = view.model().index(row, 0)
        view.scrollTo(index)
        QTest.mouseClick(
            view.viewport(), Qt.MouseButton.LeftButton, pos=view.visualRect(index).center()
        )
        self.settle()


if __name__ == "__main__":
    unittest.main()
