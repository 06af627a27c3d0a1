"""Seats on the Review desk: the page as seen from there, and what its texts are like."""

import json
import time
import unittest
from dataclasses import replace

import numpy as np
from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialogButtonBox

from high_pair.app.actions import BENCH
from high_pair.app.images import pixels_of as pixels
from high_pair.app.seats.dialog import SeatDialog
from high_pair.app.window import Window
from high_pair.measure.seat_numbers import Reading
from high_pair.review.seats import BUILT_IN, read_seats
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import DeckFolder, body, deck_on_an_accent, run, shape, solid, xfrm


class FromASeat(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.open(deck_on_an_accent(self.folder / "deck.pptx", 2))
        self.desk = self.window.desk
        self.desk.list.step(1)
        self.settle()

    def look_from(self, name: str) -> None:
        action = next(each for each in self.desk.seats.menu.actions() if each.text() == name)
        action.trigger()
        self.settle()

    def test_the_page_is_shown_as_seen_and_as_authored_while_v_is_held(self) -> None:
        canvas = self.desk.view.canvas
        self.assertTrue(canvas.seen.isNull())
        self.look_from("washed-out projector")
        authored, seen = pixels(canvas.image), pixels(canvas.seen)
        self.assertEqual(authored.shape, seen.shape)
        # Under so much light nothing is as dark as it was.
        self.assertGreater(int(seen.min()), int(authored.min()) + 60)
        self.assertIn("washed-out projector", canvas.caption)
        for kind, held in ((QEvent.Type.KeyPress, True), (QEvent.Type.KeyRelease, False)):
            event = QKeyEvent(kind, Qt.Key.Key_V, Qt.KeyboardModifier.NoModifier)
            self.application.sendEvent(self.desk.list, event)
            self.assertEqual(canvas.showing_authored, held)
        self.look_from("as authored")
        self.assertTrue(canvas.seen.isNull())
        self.assertEqual(canvas.caption, "")

    def test_colours_are_as_other_eyes_have_them(self) -> None:
        self.look_from("red-weak eyes")
        canvas = self.desk.view.canvas
        self.assertFalse(np.array_equal(pixels(canvas.image), pixels(canvas.seen)))

    def test_the_numbers_of_the_text_at_hand_and_the_reach_of_all(self) -> None:
        box = self.desk.panel.seat_box
        self.assertFalse(box.isVisible())
        self.look_from("last row")
        self.assertTrue(box.isVisible())
        pair = self.desk.pair
        assert pair is not None
        self.assertIn("last row", box.heading.text())
        numbers = self.desk.viewing.numbers(pair)
        assert numbers is not None
        self.assertEqual(box.values["Height of x"].text(), f"{numbers.angle:.1f}′")
        self.assertIn("of 14.0 m", box.notes["Reads to"].text())
        self.assertEqual(len(box.bars.reaches), 4)
        self.assertTrue(box.bars.reaches[0].at_hand)
        self.assertIn("Boarding", box.bars.accessibleName())

    def test_no_verdict_changes_by_a_seat(self) -> None:
        before = self.window.controller.session.counts()
        self.look_from("low vision, severe")
        self.assertEqual(self.window.controller.session.counts(), before)
        self.assertGreater(before[Verdict.FALLS_SHORT], 0)

    def test_a_chosen_remedy_is_seen_from_the_seat_too(self) -> None:
        self.look_from("grey print")
        before = pixels(self.desk.view.canvas.seen).copy()
        self.desk.choose_remedy(1)
        self.settle()
        self.assertFalse(np.array_equal(before, pixels(self.desk.view.canvas.seen)))

    def test_what_makes_a_text_read_there_is_proposed_as_advice_and_applied(self) -> None:
        desk = self.desk
        pair = next(
            each
            for each in self.window.controller.session.pairs_on(desk.file.key, 0)
            if each.verdict is Verdict.PASSES and each.text.startswith("In a colour")
        )
        desk.show_pair(desk.file.key, pair)
        self.settle()
        self.assertFalse(desk.panel.remedies.cards.rows)
        # From 12 metres its 18 points are too small on a picture of 2 metres, and 23 would do.
        own = replace(BUILT_IN[0], name="middle row", distance=12.0)
        self.window.own_seats.keep([own])
        self.settle()
        rows = [card.remedy for card in desk.panel.remedies.cards.rows]
        self.assertTrue(rows)
        self.assertTrue(all(remedy.detail == "advice: reads there" for remedy in rows))
        desk.choose_remedy(1)
        desk.apply()
        self.settle()
        again = next(
            each
            for each in self.window.controller.session.pairs_on(desk.file.key, 0)
            if each.text == pair.text
        )
        numbers = desk.viewing.numbers(again)
        assert numbers is not None
        self.assertIs(numbers.reading, Reading.READS)
        self.assertGreater(again.size, pair.size)

    def test_alike_texts_that_it_does_not_serve_stay_and_their_number_is_told(self) -> None:
        inner = body(run("Low", 'sz="1800"', solid("000000")))
        boxes = [
            shape(inner, fill=solid("FFFFFF"), place=xfrm(40, top, 500, height))
            # Into the lowest box larger letters don't fit.
            for top, height in ((40, 60), (140, 60), (240, 20))
        ]
        folder = DeckFolder()
        self.addCleanup(folder.close)
        self.open(folder.deck("".join(boxes), "alike.pptx"))
        desk, session = self.desk, self.window.controller.session
        key = max(session.files)
        pairs = sorted(session.pairs_on(key, 0), key=lambda pair: pair.bbox[1])
        desk.show_pair(key, pairs[0])
        self.settle()
        self.window.own_seats.keep([replace(BUILT_IN[0], name="middle row", distance=15.0)])
        self.settle()
        desk.choose_remedy(1)
        desk.apply_to_alike()
        self.settle()
        sizes = [pair.size for pair in sorted(session.pairs_on(key, 0), key=lambda p: p.bbox[1])]
        self.assertGreater(sizes[0], 18.0)
        self.assertEqual(sizes[1:], [sizes[0], 18.0])
        assert self.window._problem_box is not None
        self.assertIn("1 of 3 alike texts stay as they are", self.window._problem_box.text())

    def test_the_benchs_samples_are_seen_from_a_seat(self) -> None:
        self.window.show_desk(BENCH)
        two = self.window.bench.two
        before = pixels(two.sample.grab().toImage()).copy()
        place = two.seats.findText("washed-out projector")
        two.seats.setCurrentIndex(place)
        seen = pixels(two.sample.grab().toImage())
        inside = (slice(2, -2), slice(2, -2))
        self.assertGreater(int(seen[inside].min()), int(before[inside].min()) + 40)
        own = replace(BUILT_IN[0], name="balcony")
        self.window.own_seats.keep([own])
        self.assertGreater(two.seats.findText("balcony"), 0)
        self.assertEqual(two.seats.currentText(), "washed-out projector")
        two.seats.setCurrentIndex(0)
        again = pixels(two.sample.grab().toImage())
        self.assertTrue(np.array_equal(again[inside], before[inside]))

    def test_a_seat_is_made_changed_kept_and_removed(self) -> None:
        own = self.window.own_seats
        dialog = SeatDialog(self.window, BUILT_IN[0], self.window.theme)
        self.addCleanup(dialog.deleteLater)
        self.assertEqual(dialog.seat, BUILT_IN[0])
        save = dialog.buttons.button(QDialogButtonBox.StandardButton.Save)
        dialog.name.setText(" ")
        self.assertFalse(save.isEnabled())
        dialog.name.setText("balcony")
        dialog.numbers["black"].setValue(500.0)
        dialog.numbers["peak"].setValue(200.0)
        self.assertFalse(save.isEnabled())
        dialog.numbers["black"].setValue(1.0)
        dialog.numbers["distance"].setValue(31.0)
        self.assertTrue(save.isEnabled())
        own.keep([dialog.seat])
        self.settle()
        self.assertEqual(self.desk.viewing.seat, dialog.seat)
        self.assertEqual(read_seats(self.settings.seats_file), (dialog.seat,))
        written = self.folder / "mine.json"
        own.write(written)
        own.remove("last row")
        self.assertEqual(read_seats(self.settings.seats_file), (dialog.seat,))
        own.remove("balcony")
        self.settle()
        self.assertIsNone(self.desk.viewing.seat)
        self.assertEqual(read_seats(self.settings.seats_file), ())
        own.bring_in(written)
        self.settle()
        self.assertEqual(self.desk.viewing.seat, dialog.seat)
        written.write_text("{")
        own.bring_in(written)
        assert self.window._problem_box is not None
        self.assertIn("mine.json", self.window._problem_box.text())

    def test_a_seat_that_is_changed_is_seen_at_once_and_not_kept_unless_saved(self) -> None:
        self.look_from("last row")
        seen = pixels(self.desk.view.canvas.seen).copy()
        former = self.desk.viewing.seat
        box = self.desk.panel.seat_box
        reach = box.values["Height of x"].text()
        dialog = SeatDialog(self.window, BUILT_IN[0], self.window.theme)
        self.addCleanup(dialog.deleteLater)
        dialog.changed.connect(self.desk.seats.try_out)
        took = []
        for place in (330, 500):
            start = time.perf_counter()
            dialog.rows["distance"].slider.setValue(place)
            self.settle()
            took.append(time.perf_counter() - start)
            # A share of the way to its third power, from 1 cm to 1 km.
            self.assertAlmostEqual(
                dialog.seat.distance, 0.01 + (place / 1000) ** 3 * 999.99, delta=0.006
            )
            self.assertEqual(self.desk.viewing.seat, dialog.seat)
        far = pixels(self.desk.view.canvas.seen)
        self.assertLess(float(far.std()), float(seen.std()))
        self.assertNotEqual(box.values["Height of x"].text(), reach)
        # Without the machine's own load a fifth of this; a page that is painted anew takes longer.
        self.assertLess(min(took), 0.25)
        dialog.numbers["distance"].setValue(14.0)
        self.assertEqual(
            dialog.rows["distance"].slider.value(), round(1000 * 0.01399014 ** (1 / 3))
        )
        self.desk.seats.take(former)
        self.settle()
        self.assertTrue(np.array_equal(pixels(self.desk.view.canvas.seen), seen))
        self.assertFalse(self.settings.seats_file.exists())

    def test_changes_of_ones_own_seats_are_undone(self) -> None:
        own = self.window.own_seats
        first, second = (replace(BUILT_IN[0], name=name) for name in ("balcony", "pit"))
        own.keep([first])
        own.keep([second])
        own.remove("balcony")
        self.assertEqual(own.own(), (second,))
        own.undo()
        self.assertEqual(own.own(), (first, second))
        own.undo()
        own.undo()
        self.assertEqual(own.own(), ())
        own.undo()
        self.assertIn("None of your own seats", self.window.status.text())

    def test_the_list_says_how_far_texts_read_and_lists_what_doesnt_read(self) -> None:
        desk = self.desk
        self.assertFalse(desk.head.advised.isVisible())
        self.look_from("last row")
        self.assertTrue(desk.head.advised.isVisible())
        look = desk.list.looks.rows[0]
        advice = desk.viewing.advice(look)
        assert advice is not None
        self.assertIn("reads to", advice.words)
        said = desk.list.looks.data(desk.list.looks.index(0))
        self.assertIn("reads to", str(said))
        desk.head.advised.click()
        self.settle()
        self.assertTrue(desk.head.advised.isChecked())
        reaches = []
        for each in desk.list.looks.rows:
            numbers = desk.viewing.numbers(each.group.weakest)
            assert numbers is not None
            self.assertLess(numbers.reach, 14.0)
            reaches.append(numbers.reach)
        self.assertEqual(reaches, sorted(reaches))
        # Text that passes may not read there.
        self.assertIn(Verdict.PASSES, {each.group.weakest.verdict for each in desk.list.looks.rows})
        self.look_from("as authored")
        self.assertFalse(desk.head.advised.isVisible())
        self.assertFalse(desk.head.advised.isChecked())

    def test_the_strip_takes_no_room_from_the_panel(self) -> None:
        width = self.desk.panel.width()
        self.look_from("low vision, moderate")
        self.assertEqual(self.desk.panel.width(), width)
        self.window.resize(QSize(640, 400))
        self.settle()
        self.assertFalse(any(each.isVisible() for each in self.desk.seats.buttons.values()))
        self.assertIn("low vision, moderate", self.desk.seats.more.text())

    def test_a_persons_own_seats_are_there_and_what_is_wrong_with_them_is_said(self) -> None:
        own = {"format": "high-pair-seats", "seats": [{"name": "balcony", "distance": 30}]}
        self.settings.seats_file.write_text(json.dumps(own))
        other = Window(self.settings)
        self.addCleanup(self.close_window, other)
        self.assertIn("balcony", [seat.name for seat in other.desk.seats.seats])
        self.settings.seats_file.write_text("{")
        broken = Window(self.settings)
        self.addCleanup(self.close_window, broken)
        assert broken._problem_box is not None
        self.assertIn("seats.json", broken._problem_box.text())


if __name__ == "__main__":
    unittest.main()
