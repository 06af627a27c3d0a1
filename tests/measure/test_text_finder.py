"""Lines of text are found in pictures drawn here, whose words and places are known."""

import socket
import sys
import unittest
from unittest import mock

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from high_pair.measure import text_finder
from high_pair.measure.text_finder import NoFinder, find_lines
from high_pair.raster.fonts import FOLDER

LINES = (("Last sailing 21:40", 40, 40), ("Foot passengers only", 40, 130), ("Gate C", 420, 220))
SIZE = 34


def poster() -> tuple[np.ndarray, list[tuple[float, float, float, float]]]:
    """Draw the lines dark on light; gives the pixels and each line's box."""
    image = Image.new("RGB", (640, 320), (236, 240, 232))
    font = ImageFont.truetype(str(FOLDER / "carlito/Carlito-Regular.ttf"), SIZE)
    draw = ImageDraw.Draw(image)
    boxes = []
    for words, x, y in LINES:
        draw.text((x, y), words, fill=(30, 50, 80), font=font)
        boxes.append(draw.textbbox((x, y), words, font=font))
    return np.asarray(image), boxes


class Finding(unittest.TestCase):
    def test_each_line_is_found_with_its_words_and_all_its_ink(self):
        pixels, boxes = poster()
        found = find_lines(pixels)
        self.assertEqual([line.words for line in found], [words for words, _, _ in LINES])
        for line, (left, top, right, bottom) in zip(found, boxes, strict=True):
            self.assertLessEqual(line.box[0], left + 1)
            self.assertLessEqual(line.box[1], top + 1)
            self.assertGreaterEqual(line.box[2], right - 1)
            self.assertGreaterEqual(line.box[3], bottom - 1)
            self.assertLess(line.box[3] - line.box[1], 2.2 * SIZE)

    def test_no_box_cuts_a_line_close_above_or_below(self):
        image = Image.new("RGB", (700, 300), (16, 22, 40))
        draw, tops = ImageDraw.Draw(image), []
        for words, size, y in (
            ("Night sailings", 90, 30),
            ("to Ostrel Bay and the islands", 40, 136),
        ):
            font = ImageFont.truetype(str(FOLDER / "carlito/Carlito-Bold.ttf"), size)
            draw.text((30, y), words, fill=(240, 240, 240), font=font)
            tops.append(draw.textbbox((30, y), words, font=font))
        first, second = find_lines(np.asarray(image))
        # Between the foot of the large line's letters and the top of the small one's.
        self.assertGreaterEqual(first.box[3], tops[0][3] - 1)
        self.assertLessEqual(first.box[3], tops[1][1] + 1)
        self.assertLessEqual(second.box[1], tops[1][1] + 1)

    def test_a_picture_without_text_has_no_lines(self):
        self.assertEqual(find_lines(np.full((200, 300, 3), 90, np.uint8)), ())

    def test_text_that_stands_upright_on_its_side_gets_no_box(self):
        pixels, _ = poster()
        slanted = Image.fromarray(pixels).rotate(40, fillcolor=(236, 240, 232))
        self.assertEqual(find_lines(np.asarray(slanted)), ())

    def test_nothing_is_fetched(self):
        text_finder._engine.cache_clear()
        with mock.patch.object(socket, "socket", side_effect=AssertionError("a socket")):
            self.assertEqual(len(find_lines(poster()[0])), len(LINES))

    def test_without_the_library_it_says_what_to_install(self):
        text_finder._engine.cache_clear()
        self.addCleanup(text_finder._engine.cache_clear)
        with (
            mock.patch.dict(sys.modules, {"rapidocr": None}),
            self.assertRaisesRegex(NoFinder, r"high-pair\[find-text\]"),
        ):
            find_lines(poster()[0])


if __name__ == "__main__":
    unittest.main()
