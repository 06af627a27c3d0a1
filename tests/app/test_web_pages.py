"""Web pages in the window: by file and by address, in widths and states, mended and saved."""

import socket
import time
import unittest
import unittest.mock
from dataclasses import replace

from PySide6.QtCore import QMimeData, QPoint, Qt, QTimer, QUrl
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from high_pair.app.copies import suggested_copy
from high_pair.app.web_dialog import NO_ADDRESS, WebDialog
from high_pair.app.window import dropped_paths
from high_pair.formats.location import location_of
from high_pair.formats.web.settings import WebSettings
from high_pair.review.review_file import load_review
from high_pair.simulated.site import SITE, SITE_PAGES, SiteServer
from high_pair.wcag.verdicts import Verdict
from tests.app.test_documents_and_sheets import OpenedTest

AT_REST = WebSettings(states=False)


class PagesInTheWindow(OpenedTest):
    def show(self, name: str, shown: WebSettings = AT_REST) -> None:
        self.window.controller.open([SITE / name], shown)
        self.settle()

    @property
    def remedies(self):
        return [card.remedy for card in self.desk.panel.remedies.cards.rows]

    def test_widths_are_pages_in_the_strip_as_wide_as_the_view(self):
        self.show("news.html", WebSettings((320, 1280), states=False))
        self.assertEqual(len(self.desk.strip.pages.rows), 2)
        self.desk.strip.step(1)
        self.settle()
        view = self.desk.view
        self.assertLessEqual(view.canvas.page_box.width(), view.viewport().width())
        self.assertIn("news.html", self.window.bar.file_label.text())

    def test_clicking_text_finds_its_pair(self):
        self.show("news.html")
        pair = next(
            p
            for p in self.window.controller.session.pairs_on(self.file.key, 0)
            if p.text == "Booking"
        )
        box = self.desk.view.canvas.page_box
        factor = box.width() / self.desk.view.canvas.page_size[0]
        x, y, width, height = pair.bbox
        place = QPoint(
            round(box.x() + (x + width / 2) * factor), round(box.y() + (y + height / 2) * factor)
        )
        QTest.mouseClick(self.desk.view.canvas, Qt.MouseButton.LeftButton, pos=place)
        self.settle()
        self.assertEqual(self.desk.pair.address, pair.address)

    def test_a_text_is_mended_by_keys_undone_and_done_again(self):
        self.show("news.html")
        pair = self.go_to("News from")
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)
        self.assertEqual(self.desk.pair.address, pair.address)
        self.window.undo()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.FALLS_SHORT)
        self.window.redo()
        self.settle()
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)

    def test_the_page_shows_a_remedy_and_what_it_was_before(self):
        self.show("news.html")
        self.go_to("News from")
        before = self.desk.view.canvas.image.copy()
        self.desk.choose_remedy(2)
        self.settle()
        self.assertNotEqual(self.desk.view.canvas.image, before)
        self.assertFalse(self.desk.view.canvas.before.isNull())

    def test_a_ramp_is_fitted_over_the_true_picture(self):
        self.show("news.html")
        self.go_to("News from")
        kinds = [remedy.kind for remedy in self.remedies]
        self.desk.choose_remedy(1 + kinds.index("ramp"))
        self.settle()
        layers = self.desk.panel.fitting.fitting.layers
        # The sea below the words, and the words above it.
        self.assertGreater(layers.below[..., :3].std(), 10)
        self.assertTrue((layers.above[..., 3] > 200).any())
        self.assertTrue(self.desk.panel.apply.isEnabled())
        self.press(Qt.Key.Key_Return)
        self.assertIs(self.desk.pair.verdict, Verdict.PASSES)

    def test_each_shortfall_of_a_page_is_brought_to_a_pass_and_the_copy_measures_so(self):
        self.show("booking.html", WebSettings())
        session = self.window.controller.session
        for _ in range(40):
            looks = session.looks(Verdict.FALLS_SHORT)
            if not looks:
                break
            pair = looks[0].group.weakest
            self.desk.show_pair(looks[0].file, pair)
            self.settle()
            self.assertTrue(self.remedies, (pair.where, pair.text))
            self.desk.choose_remedy(1)
            self.settle()
            if len(looks[0].group.pairs) > 1:
                self.desk.apply_to_alike()
            else:
                self.desk.apply()
            self.settle()
        self.assertEqual(session.counts()[Verdict.FALLS_SHORT], 0)
        copies = []
        self.window.controller.saved.connect(copies.append)
        self.window.copies.save(self.file, self.folder / "copy.html")
        self.settle()
        (copy,) = copies
        self.assertGreater(copy.changed, 5)
        self.assertEqual(copy.passing, copy.changed)
        short = [p for page in copy.pages for p in page.pairs if p.verdict is Verdict.FALLS_SHORT]
        self.assertEqual(short, [])

    def test_how_a_link_looks_on_hover_is_shown_when_its_pair_is_at_hand(self):
        self.show("news.html", WebSettings())
        link = next(
            pair
            for look in self.window.controller.session.looks(Verdict.FALLS_SHORT)
            for pair in look.group.pairs
            if pair.appears == "on hover" and pair.text == "plan of the piers"
        )
        self.desk.show_pair(self.file.key, link)
        self.settle()
        image = self.desk.panel.sample.image
        colours = {
            (
                image.pixelColor(x, y).red(),
                image.pixelColor(x, y).green(),
                image.pixelColor(x, y).blue(),
            )
            for x in range(0, image.width(), 1)
            for y in range(0, image.height(), 2)
        }
        near = min(
            sum(abs(a - b) for a, b in zip(c, (127, 183, 207), strict=True)) for c in colours
        )
        self.assertLess(near, 24)

    def test_the_mends_are_copied_as_a_style_sheet(self):
        self.show("news.html")
        self.window.web_pages.copy_sheet()
        self.settle()
        self.assertIn("Nothing is mended", self.window.status.text())
        self.go_to("News from")
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        self.window.web_pages.copy_sheet()
        self.settle()
        self.assertIn("body>header>div>h1", QGuiApplication.clipboard().text())

    def test_a_review_goes_on_with_the_page_as_it_was_shown(self):
        shown = WebSettings((320, 700), True, 1.0, 15.0, False)
        self.show("news.html", shown)
        target = self.folder / "work.highpair"
        self.assertTrue(self.window.keeper.save(target))
        self.assertEqual(load_review(target).files[0].web, shown)
        self.window.controller.close_file(self.file.key)
        self.open(target)
        self.assertEqual(self.file.web, shown)

    def test_a_folder_is_allowed_for_one_page_and_kept_nowhere(self):
        dialog = WebDialog(self.window, WebSettings(), False, local=True)
        self.addCleanup(dialog.deleteLater)
        dialog.show()
        dialog.folder.setText(f"{self.folder}; {self.folder}/none")
        dialog.accept()
        self.assertTrue(dialog.isVisible())
        self.assertIn("no folder", dialog.problem.text())
        dialog.folder.setText(str(self.folder))
        dialog.accept()
        self.assertFalse(dialog.isVisible())
        self.assertEqual(dialog.shown.folders, (str(self.folder),))
        self.settings.web = dialog.shown
        self.assertEqual(self.settings.web.folders, ())
        self.show("news.html", replace(WebSettings(states=False), folders=dialog.shown.folders))
        target = self.folder / "work.highpair"
        self.assertTrue(self.window.keeper.save(target))
        self.assertNotIn("folders", target.read_text())
        self.assertEqual(load_review(target).files[0].web.folders, ())

    def test_a_page_that_isnt_there_is_said(self):
        told = []
        self.window.controller.failed.connect(told.append)
        self.open(location_of("http://127.0.0.1:9/none.html"))
        self.assertTrue(told and "none.html" in told[0])
        self.assertEqual(self.window.controller.session.files, {})


class Addresses(OpenedTest):
    def setUp(self) -> None:
        super().setUp()
        self.server = SiteServer()
        self.addCleanup(self.server.close)

    def test_an_address_is_typed_and_opened_with_its_widths(self):
        address = self.server.address + "news.html"

        def answer() -> None:
            dialog = QApplication.activeModalWidget()
            assert isinstance(dialog, WebDialog)
            dialog.states.setChecked(False)
            dialog.widths.setText("wide")
            dialog.accept()
            self.assertIn("no width", dialog.problem.text())
            dialog.widths.setText("320, 900")
            dialog.accept()
            self.assertEqual(dialog.problem.text(), NO_ADDRESS)
            dialog.address.setText(address)
            dialog.accept()

        QTimer.singleShot(0, answer)
        self.window.web_pages.ask_address()
        self.settle()
        self.assertEqual(
            [page.name for page in self.file.base.pages], ["Page 320 wide", "Page 900 wide"]
        )
        self.assertEqual(self.file.name, "news.html")
        self.assertEqual(self.window.settings.web.widths, (320, 900))
        # An address on this machine is the demo's, and isn't offered again.
        self.assertEqual(suggested_copy(self.file).suffix, ".css")

    def test_it_is_shown_anew_in_other_widths(self):
        self.window.controller.open([location_of(self.server.address + "news.html")], AT_REST)
        self.settle()
        self.window.web_pages.show_anew(WebSettings((400,), states=False))
        self.settle()
        self.assertEqual([page.width for page in self.file.base.pages], [300.0])

    def test_opening_is_told_and_can_be_stopped(self):
        # Nobody listens long enough here to answer: the page is waited for until it is stopped.
        with socket.create_server(("127.0.0.1", 0)) as silent:
            address = f"http://127.0.0.1:{silent.getsockname()[1]}/slow.html"
            self.window.open_paths([location_of(address)])
            end = time.monotonic() + 3
            while time.monotonic() < end:
                self.application.processEvents()
                time.sleep(0.01)
            self.assertIn("Opening slow.html", self.window.status.text())
            self.assertTrue(self.window.foot.stop_button.isVisible())
            start = time.monotonic()
            self.press(Qt.Key.Key_Escape)
            self.assertLess(time.monotonic() - start, 5)
        self.assertEqual(self.window.controller.session.files, {})
        self.assertFalse(self.window.foot.stop_button.isVisible())
        # And the engine goes on with the next page.
        self.window.controller.open([location_of(self.server.address + "news.html")], AT_REST)
        self.settle()
        self.assertEqual(self.file.name, "news.html")

    def test_addresses_and_files_are_dropped(self):
        data = QMimeData()
        data.setUrls(
            [
                QUrl(self.server.address),
                QUrl.fromLocalFile(str(self.folder / "a.html")),
                QUrl("ftp://x/"),
            ]
        )
        self.assertEqual(
            dropped_paths(data), [location_of(self.server.address), self.folder / "a.html"]
        )

    def test_the_mends_of_a_served_page_are_saved_as_a_style_sheet_and_measured(self):
        self.window.controller.open([location_of(self.server.address + "news.html")], AT_REST)
        self.settle()
        self.go_to("News from")
        self.press(Qt.Key.Key_1)
        self.press(Qt.Key.Key_Return)
        copies = []
        self.window.controller.saved.connect(copies.append)
        self.window.copies.save(self.file, self.folder / "mends.css")
        self.settle()
        self.assertEqual((copies[0].changed, copies[0].passing), (1, 1))

    def test_of_several_files_the_first_stays_shown_while_others_come(self):
        first, second = SITE / "news.html", SITE / "fares.html"
        self.window.settings.web = AT_REST
        self.window.open_paths([first, second])
        self.settle()
        self.assertEqual(len(self.window.controller.session.files), 2)
        self.assertEqual(self.desk.file.location, first)
        self.open(second)
        self.assertEqual(self.desk.file.location, second)

    def test_the_demo_opens_the_site_by_its_address(self):
        with unittest.mock.patch.object(self.window.controller, "open") as opened:
            self.window.open_demo()
        paths = opened.call_args.args[0]
        served = [path for path in paths if "127.0.0.1" in str(path)]
        self.assertEqual(len(served), len(SITE_PAGES))


if __name__ == "__main__":
    unittest.main()
