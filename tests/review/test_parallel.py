"""Pages measured in several processes are the same as pages measured in one."""

import os
import unittest
from unittest import mock

from pptx import Presentation
from pptx.util import Pt

from high_pair.app.window import DEMO
from high_pair.errors import Cancelled, UnreadableFile
from high_pair.formats import open_document
from high_pair.measure.pairs import Asked
from high_pair.remedy.edits import RecolourText
from high_pair.review.measuring import review_pages
from high_pair.review.parallel import (
    LONG_DOCUMENT,
    PagePool,
    PageTask,
    carry_out,
    review_long_document,
    version_of,
)
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest
from tests.decks import DeckFolder, body, run, shape, solid


class ParallelTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def test_same_pairs_in_the_same_order(self):
        document = open_document(DEMO)
        self.addCleanup(document.close)
        together = list(review_long_document(DEMO, document, Asked()))
        self.assertEqual(together, list(review_pages(document, Asked())))

    def test_edits_are_carried_out_there_too(self):
        path = self.folder.deck(shape(body(run(inner=solid("AAAAAA")))))
        edit = RecolourText("ppt/slides/slide1.xml#sp=1/p=1/r=1", (0, 0, 0))
        outcome = carry_out(PageTask(path, version_of(path), (edit,), 0, Asked(), 80))
        self.assertIs(outcome.review.pairs[0].verdict, Verdict.PASSES)
        self.assertEqual(outcome.thumbnail.shape, (45, 80, 3))

    def test_a_file_that_has_changed_is_refused(self):
        path = self.folder.deck(shape(body(run())), "changing.pptx")
        version = version_of(path)
        os.utime(path, ns=(1, 1))
        with self.assertRaisesRegex(UnreadableFile, "changed on disk"):
            carry_out(PageTask(path, version, (), 0, Asked()))
        path.unlink()
        with self.assertRaises(UnreadableFile):
            version_of(path)

    def test_it_can_be_stopped(self):
        document = open_document(DEMO)
        self.addCleanup(document.close)
        with self.assertRaises(Cancelled):
            list(review_long_document(DEMO, document, Asked(), lambda: True))

    def test_when_a_process_dies_the_rest_is_measured_here(self):
        document = open_document(DEMO)
        self.addCleanup(document.close)
        pool = PagePool(1)
        pool.submit(PageTask(DEMO, version_of(DEMO), (), 0, Asked())).result()
        for process in list(pool._executor._processes.values()):
            process.kill()
        with mock.patch("high_pair.review.parallel.PagePool", return_value=pool):
            found = list(review_long_document(DEMO, document, Asked()))
        self.assertEqual(len(found), len(document.pages))


class LongDeckInTheWindow(WindowTest):
    def test_a_long_deck_is_measured_whole_and_mended(self):
        deck = Presentation()
        for count in range(LONG_DOCUMENT + 2):
            slide = deck.slides.add_slide(deck.slide_layouts[6])
            box = slide.shapes.add_textbox(Pt(40), Pt(40), Pt(400), Pt(40))
            box.text_frame.text = f"Page {count}"
        path = self.folder / "long.pptx"
        deck.save(str(path))
        self.open(path)
        session = self.window.controller.session
        self.assertEqual(session.counts()[Verdict.PASSES], LONG_DOCUMENT + 2)
        rows = self.window.desk.strip.pages.rows
        self.assertFalse(any(row.thumbnail.isNull() for row in rows))


if __name__ == "__main__":
    unittest.main()
