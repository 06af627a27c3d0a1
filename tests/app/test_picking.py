"""Colours are picked from pages, pictures and the screen, by keyboard alone."""

import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QColor, QDropEvent, QGuiApplication, QImage
from PySide6.QtTest import QTest

from high_pair.app.actions import REVIEW
from high_pair.app.bench.state import Side
from high_pair.app.picking.portal import NoPortal, pick_colour
from high_pair.app.picking.screen import NO_WAY, ScreenWay, way_to_screen
from high_pair.app.picking.source import pixels_of
from tests.app.driver import WindowTest
from tests.decks import DeckFolder, body, flat_picture, run, shape, solid, xfrm

ALT, SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier
PATIENCE = 30.0


@contextlib.contextmanager
def session_bus(*colours: str):
    """Run a session bus with the simulated portal on it; the environment names the bus."""
    with tempfile.TemporaryDirectory() as folder:
        address = f"unix:path={folder}/bus"
        # A configuration of its own, so that it starts anywhere and starts nothing else.
        configuration = Path(folder) / "bus.conf"
        configuration.write_text(
            "<busconfig><type>session</type>"
            f"<listen>{address}</listen><auth>EXTERNAL</auth><policy context='default'>"
            "<allow send_destination='*' eavesdrop='true'/><allow own='*'/>"
            "<allow eavesdrop='true'/></policy></busconfig>"
        )
        daemon = subprocess.Popen(
            ["dbus-daemon", f"--config-file={configuration}", "--nofork", "--print-address"],
            stderr=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            text=True,
        )
        environment = {**os.environ, "DBUS_SESSION_BUS_ADDRESS": address}
        portal = None
        try:
            assert daemon.stdout is not None
            daemon.stdout.readline()
            portal = subprocess.Popen(
                [sys.executable, "-m", "high_pair.simulated.portal", *colours],
                stdout=subprocess.PIPE,
                text=True,
                env=environment,
            )
            assert portal.stdout is not None
            ready = portal.stdout.readline()
            assert ready == "ready\n", ready
            with mock.patch.dict(os.environ, {"DBUS_SESSION_BUS_ADDRESS": address}):
                yield
        finally:
            for process in (portal, daemon):
                if process is not None:
                    process.terminate()
                    process.wait()
                    if process.stdout is not None:
                        process.stdout.close()


class PickingTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.bench = self.window.bench
        self.view = self.bench.picking

    @property
    def codes(self) -> tuple[str, str]:
        pair = self.bench.state.pair
        return (
            bytes(pair.foreground.levels).hex().upper(),
            bytes(pair.backdrop.levels).hex().upper(),
        )

    def wait_for(self, condition) -> None:
        end = time.monotonic() + PATIENCE
        while not condition():
            self.application.processEvents()
            time.sleep(0.01)
            self.assertLess(time.monotonic(), end)


class FromAPage(PickingTest):
    def setUp(self) -> None:
        super().setUp()
        decks = DeckFolder()
        self.addCleanup(decks.close)
        # A box of one colour under the letter I, whose stem is a column of its own colour.
        text = body(run("I", 'sz="20000"', solid("884400")), properties='<a:bodyPr lIns="0"/>')
        deck = decks.deck(shape(text, solid("DDEEFF"), place=xfrm(100, 50, 300, 300)))
        self.open(deck)
        self.window.desk.list.setFocus()
        self.press(Qt.Key.Key_I)

    def find(self, code: str) -> tuple[int, int]:
        """Give the middle of a colour's pixels."""
        assert self.view.source is not None
        wanted = np.array(list(bytes.fromhex(code)), np.uint8)
        rows, columns = np.nonzero((self.view.source.shown == wanted).all(axis=-1))
        self.assertTrue(len(rows), code)
        place = len(rows) // 2
        return int(columns[place]), int(rows[place])

    def walk_to(self, x: int, y: int) -> None:
        """Go there by arrow keys, ten pixels at a time and then one."""
        canvas = self.view.canvas
        for wanted, at, less, more in (
            (x, lambda: canvas.at.x(), Qt.Key.Key_Left, Qt.Key.Key_Right),
            (y, lambda: canvas.at.y(), Qt.Key.Key_Up, Qt.Key.Key_Down),
        ):
            while wanted != at():
                way = more if wanted > at() else less
                far = (SHIFT,) if abs(wanted - at()) >= 10 else ()
                self.press(way, *far, on=canvas)

    def test_foreground_then_backdrop_by_keyboard_alone(self):
        self.assertTrue(self.bench.is_picking)
        self.walk_to(*self.find("884400"))
        self.assertEqual(self.view.code.text(), "#884400")
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.view.wanted, [Side.BACKDROP])
        # Below the letter lies the box's colour, at the same pixel.
        self.press(Qt.Key.Key_T)
        self.assertEqual(self.view.code.text(), "#DDEEFF")
        self.press(Qt.Key.Key_Return)
        self.assertFalse(self.bench.is_picking)
        self.assertEqual(self.codes, ("884400", "DDEEFF"))
        self.bench.keep()
        self.assertIn("slide 1", self.bench.state.now.log.entries[0].source)

    def test_an_average_is_of_the_square_that_the_magnifier_shows(self):
        self.press(Qt.Key.Key_S)
        self.press(Qt.Key.Key_S)
        self.assertEqual((self.view.side, self.view.magnifier.side), (5, 5))
        self.press(Qt.Key.Key_S)
        self.press(Qt.Key.Key_S)
        self.assertEqual(self.view.side, 1)

    def test_escape_leaves_and_changes_nothing(self):
        before = self.codes
        self.press(Qt.Key.Key_Escape)
        self.assertFalse(self.bench.is_picking)
        self.assertEqual(self.codes, before)

    def test_a_click_takes_what_lies_there(self):
        x, y = self.find("DDEEFF")
        canvas, place = self.view.canvas, self.view.canvas.place
        point = QPointF(
            place.left() + (x + 0.5) * place.width() / canvas.image.width(),
            place.top() + (y + 0.5) * place.height() / canvas.image.height(),
        )
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=point.toPoint())
        self.assertEqual(self.codes[0], "DDEEFF")


class FromPictures(PickingTest):
    def test_a_pasted_picture(self):
        image = QImage(40, 30, QImage.Format.Format_RGB32)
        image.fill(QColor(10, 120, 200))
        QGuiApplication.clipboard().setImage(image)
        self.press(Qt.Key.Key_B, ALT)
        self.window.commands["paste"].trigger()
        self.settle()
        self.press(Qt.Key.Key_Return)
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.codes, ("0A78C8", "0A78C8"))

    def test_nothing_on_the_clipboard_is_said(self):
        QGuiApplication.clipboard().setText("no picture")
        self.window.guide.pick([Side.BACKDROP])
        self.assertIn("Choose the screen", self.view.said.text())
        self.view.paste.click()
        self.assertIn("no picture on the clipboard", self.view.said.text())
        self.view.page.setEnabled(True)
        self.view.page.click()
        self.assertIn("No page is open", self.view.said.text())

    def test_a_picture_dropped_on_the_bench(self):
        path = self.folder / "sea.png"
        path.write_bytes(flat_picture((1, 2, 3)))
        self.press(Qt.Key.Key_B, ALT)
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        self.window.dropEvent(
            QDropEvent(
                QPointF(9, 9),
                Qt.DropAction.CopyAction,
                data,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            )
        )
        self.settle()
        self.assertIn("sea.png", self.view.heading.text())
        self.press(Qt.Key.Key_Return)
        self.assertEqual(self.codes[0], "010203")

    def test_a_picture_opened_on_the_bench_is_picked_from(self):
        path = self.folder / "sea.PNG"
        path.write_bytes(flat_picture((200, 100, 50)))
        self.press(Qt.Key.Key_B, ALT)
        self.open(path)
        self.assertTrue(self.bench.is_picking)
        self.assertEqual(self.view.code.text(), "#C86432")
        self.assertFalse(self.view.below.isVisible())

    def test_of_several_pictures_one_is_shown_and_it_says_so(self):
        paths = [self.folder / name for name in ("one.png", "two.png")]
        for path in paths:
            path.write_bytes(flat_picture((1, 2, 3)))
        self.press(Qt.Key.Key_B, ALT)
        self.open(*paths)
        assert self.window._problem_box is not None
        self.assertIn("one.png is shown", self.window._problem_box.text())
        self.window._problem_box.close()

    def test_a_deck_opened_from_the_bench_shows_the_review(self):
        decks = DeckFolder()
        self.addCleanup(decks.close)
        self.press(Qt.Key.Key_B, ALT)
        self.open(decks.deck(shape(body(run()))))
        self.assertEqual(self.window.shown_desk, REVIEW)
        self.assertTrue(self.window.desk.isVisible())

    def test_a_file_that_is_no_picture_is_told_by_its_name(self):
        path = self.folder / "broken.jpg"
        path.write_bytes(b"no picture at all")
        self.press(Qt.Key.Key_B, ALT)
        self.open(path, self.folder / "absent.png")
        assert self.window._problem_box is not None
        self.assertIn("broken.jpg: it can't be read as a picture", self.window._problem_box.text())
        self.window._problem_box.close()
        self.assertFalse(self.bench.is_picking)
        self.open(self.folder / "absent.png")
        assert self.window._problem_box is not None
        self.assertIn("absent.png: it can't be opened", self.window._problem_box.text())
        self.window._problem_box.close()

    def test_see_through_pixels_lie_on_white(self):
        image = QImage(2, 1, QImage.Format.Format_RGBA8888)
        image.setPixelColor(0, 0, QColor(0, 0, 0, 128))
        image.setPixelColor(1, 0, QColor(9, 8, 7, 255))
        self.assertEqual(pixels_of(image)[0].tolist(), [[127, 127, 127], [9, 8, 7]])


class FromABox(PickingTest):
    def setUp(self) -> None:
        super().setUp()
        pixels = np.full((90, 160, 3), (240, 240, 230), np.uint8)
        for left in range(40, 120, 16):
            pixels[30:60, left : left + 5] = (20, 30, 60)
        height, width, _ = pixels.shape
        image = QImage(pixels.tobytes(), width, height, width * 3, QImage.Format.Format_RGB888)
        self.press(Qt.Key.Key_B, ALT)
        self.window.guide.show_picture(image.copy(), "a poster")
        self.settle()

    def test_both_colours_are_read_by_keyboard_alone(self):
        canvas = self.view.canvas
        canvas.move_to(26, 18)
        self.press(Qt.Key.Key_B)
        self.assertIn("first corner", self.view.said.text())
        self.press(Qt.Key.Key_Return)
        for _ in range(11):
            self.press(Qt.Key.Key_Right, SHIFT)
        for _ in range(5):
            self.press(Qt.Key.Key_Down, SHIFT)
        self.press(Qt.Key.Key_Return)
        self.settle()
        self.assertEqual(self.codes, ("141E3C", "F0F0E6"))
        self.assertFalse(self.bench.is_picking)
        self.assertIn("near the truth", self.window.status.text())
        self.bench.keep()
        self.assertEqual(self.bench.state.now.log.entries[0].source, "read from a poster")

    def test_by_dragging_with_the_mouse(self):
        canvas = self.view.canvas
        self.view.box_button.click()

        def point(x: int, y: int):
            place = canvas.place
            across, down = place.width() / 160, place.height() / 90
            return QPointF(place.left() + x * across, place.top() + y * down).toPoint()

        QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=point(26, 18))
        QTest.mouseMove(canvas, point(80, 40))
        QTest.mouseMove(canvas, point(136, 72))
        QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=point(136, 72))
        self.settle()
        self.assertEqual(self.codes, ("141E3C", "F0F0E6"))

    def test_a_box_without_text_says_so_and_escape_gives_it_up(self):
        before = self.codes
        canvas = self.view.canvas
        canvas.move_to(2, 2)
        self.press(Qt.Key.Key_B)
        self.press(Qt.Key.Key_Return)
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self.press(key, SHIFT)
        self.press(Qt.Key.Key_Return)
        self.settle()
        self.assertIn("stands out as text", self.view.said.text())
        self.press(Qt.Key.Key_B)
        self.press(Qt.Key.Key_Escape)
        self.assertTrue(self.bench.is_picking)
        self.assertFalse(canvas.boxing)
        self.assertEqual(self.codes, before)


class FromTheScreen(PickingTest):
    def test_without_a_way_it_says_what_to_do(self):
        with mock.patch.dict(os.environ):
            os.environ.pop("DBUS_SESSION_BUS_ADDRESS", None)
            self.assertIs(way_to_screen(), ScreenWay.NONE)
            self.window.guide.pick([Side.FOREGROUND])
            self.view.screen_button.click()
        self.assertEqual(self.view.said.text(), NO_WAY)

    @unittest.skipUnless(shutil.which("dbus-daemon"), "no D-Bus daemon")
    def test_through_the_desktops_portal(self):
        with session_bus("#123456", "#FEDCBA"):
            self.window.guide.pick([Side.FOREGROUND, Side.BACKDROP])
            self.view.screen_button.click()
            self.wait_for(lambda: not self.bench.is_picking)
        self.assertEqual(self.codes, ("123456", "FEDCBA"))
        self.bench.keep()
        self.assertEqual(self.bench.state.now.log.entries[0].source, "picked from the screen")

    @unittest.skipUnless(shutil.which("dbus-daemon"), "no D-Bus daemon")
    def test_a_user_who_picks_nothing_changes_nothing(self):
        before = self.codes
        with session_bus("cancel"):
            self.window.guide.pick([Side.FOREGROUND])
            self.view.screen_button.click()
            self.wait_for(lambda: not self.window.guide.asking_desktop)
        self.assertEqual(self.view.said.text(), "Nothing was picked.")
        self.assertEqual(self.codes, before)

    def test_a_bus_that_is_not_there_says_what_to_do(self):
        with mock.patch.dict(os.environ, {"DBUS_SESSION_BUS_ADDRESS": "unix:path=/nowhere/bus"}):
            with self.assertRaises(NoPortal) as caught:
                pick_colour()
            self.assertIn("Ctrl+V", str(caught.exception))
            self.window.guide.pick([Side.FOREGROUND])
            self.view.screen_button.click()
            self.wait_for(lambda: not self.window.guide.asking_desktop)
        self.assertIn("Ctrl+V", self.view.said.text())


if __name__ == "__main__":
    unittest.main()
