"""Text that is found in a picture becomes boxes beside those that a person has drawn."""

import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image

from high_pair.edits.kinds import MarkText
from high_pair.errors import Cancelled
from high_pair.formats import open_document
from high_pair.measure import text_finder
from high_pair.measure.text_finder import NoFinder
from high_pair.process.host import Host
from high_pair.review.finding import boxes_found
from high_pair.review.measuring import review_page
from high_pair.wcag.asked import Asked
from tests.command import call
from tests.measure.test_text_finder import LINES, poster


class Found(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "poster.png"
        self.pixels, self.boxes = poster()
        Image.fromarray(self.pixels).save(self.path)

    def test_each_line_is_a_pair_with_its_words(self):
        document = open_document(self.path)
        edits = boxes_found(document, document.edited, [0])
        self.assertEqual([edit.address for edit in edits],
                         [f"picture#page=1/box={number}" for number in (1, 2, 3)])  # fmt: skip
        pairs = review_page(document.edited(edits), 0, Asked()).pairs
        self.assertEqual([pair.text for pair in pairs], [words for words, _, _ in LINES])
        self.assertEqual({str(pair.verdict) for pair in pairs}, {"passes"})

    def test_what_a_person_has_drawn_stays_and_is_not_drawn_again(self):
        left, top, right, bottom = (side * 0.75 for side in self.boxes[1])
        own = MarkText("picture#page=1/box=1", (left, top, right - left, bottom - top), "mine")
        whole = open_document(self.path)
        document = whole.edited([own])
        edits = boxes_found(document, lambda more: whole.edited([own, *more]), [0])
        self.assertEqual([edit.words for edit in edits], [LINES[0][0], LINES[2][0]])
        self.assertEqual([edit.address[-5:] for edit in edits], ["box=2", "box=3"])

    def test_it_can_be_stopped(self):
        document = open_document(self.path)
        with self.assertRaises(Cancelled):
            boxes_found(document, document.edited, [0], lambda: True)

    def test_the_command_line_measures_what_it_finds(self):
        status, out, _ = call("review", str(self.path), "--find-text")
        self.assertEqual(status, 0, out)
        self.assertIn("3 passes", out)
        self.assertEqual(call("review", str(self.path))[0], 0)

    def test_the_command_line_says_what_is_missing(self):
        text_finder._engine.cache_clear()
        self.addCleanup(text_finder._engine.cache_clear)
        lost = mock.patch.dict(sys.modules, {"rapidocr": None})
        with lost, self.assertRaises(NoFinder) as missing:
            text_finder.find_lines(np.full((20, 20, 3), 255, np.uint8))
        with mock.patch.object(Host, "call", side_effect=missing.exception):
            status, out, err = call("review", str(self.path), "--find-text")
        self.assertEqual((status, out), (2, ""))
        self.assertIn("high-pair[find-text]", err)


if __name__ == "__main__":
    unittest.main()
