"""A picture is a document: its frames are pages, its text is in boxes that a person draws."""

import io
import tempfile
import unittest
from pathlib import Path

import numpy as np
from PIL import Image

from high_pair.cli import main
from high_pair.edits.kinds import MarkText, RecolourText, UnmarkText
from high_pair.errors import EditError, UnreadableFile
from high_pair.formats import open_document
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

# Strokes of letters, six pixels wide and 36 high, on a plain ground of 240 by 120 pixels.
STROKES = range(40, 140, 20)
BOX = (15.0, 15.0, 105.0, 60.0)


def lettered(ink: tuple[int, int, int], paper: tuple[int, int, int]) -> Image.Image:
    pixels = np.empty((120, 240, 3), np.uint8)
    pixels[:] = paper
    for left in STROKES:
        pixels[40:76, left : left + 6] = ink
    return Image.fromarray(pixels)


class Pictures(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def saved(self, name: str, picture: Image.Image, **options: object) -> Path:
        path = self.folder / name
        picture.save(path, **options)
        return path

    def test_every_format_is_told_by_its_content_whatever_its_name(self):
        picture = lettered((0, 0, 0), (255, 255, 255))
        for kind in ("PNG", "JPEG", "WEBP", "GIF", "BMP", "TIFF"):
            path = self.saved(f"poster-{kind}.dat", picture, format=kind)
            document = open_document(path)
            self.assertEqual(document.kind, "picture")
            page = document.pages[0]
            self.assertEqual((page.width, page.height), (180.0, 90.0))

    def test_a_picture_that_is_none_is_refused_with_its_name(self):
        path = self.folder / "poster.png"
        path.write_bytes(b"\x89PNG\r\n\x1a\n" + b"no picture" * 20)
        with self.assertRaisesRegex(UnreadableFile, r"poster\.png: it can't be read as a picture"):
            open_document(path)

    def test_pages_of_a_tiff_are_pages_and_a_moving_picture_is_its_first_frame(self):
        one = lettered((0, 0, 0), (255, 255, 255))
        other = one.resize((480, 240))
        path = self.saved("scan.tif", one, save_all=True, append_images=[other])
        document = open_document(path)
        self.assertEqual([page.width for page in document.pages], [180.0, 360.0])
        self.assertEqual(measured(document, 1, Asked()).raster.backdrop.shape, (240, 480, 3))
        path = self.saved("moving.gif", one, save_all=True, append_images=[other.resize(one.size)])
        document = open_document(path)
        self.assertEqual(len(document.pages), 1)
        self.assertIn("first frame", " ".join(document.assumed()))

    def test_a_photograph_taken_on_its_side_stands_upright(self):
        exif = Image.Exif()
        exif[0x0112] = 6
        out = io.BytesIO()
        wide = Image.fromarray(np.zeros((40, 80, 3), np.uint8))
        wide.paste((255, 0, 0), (0, 0, 20, 40))
        wide.save(out, "PNG", exif=exif)
        path = self.folder / "turned.png"
        path.write_bytes(out.getvalue())
        document = open_document(path)
        self.assertEqual((document.pages[0].width, document.pages[0].height), (30.0, 60.0))
        # Turned by a quarter clockwise, what was at the left is at the top.
        backdrop = measured(document, 0, Asked()).raster.backdrop
        self.assertEqual(backdrop[2, 20].tolist(), [255, 0, 0])
        self.assertEqual(backdrop[-2, 20].tolist(), [0, 0, 0])

    def test_a_page_shows_its_pixels_unchanged(self):
        pixels = np.random.default_rng(2).integers(0, 256, (37, 53, 3), dtype=np.uint8)
        path = self.saved("noise.png", Image.fromarray(pixels))
        np.testing.assert_array_equal(
            measured(open_document(path), 0, Asked()).raster.backdrop, pixels
        )

    def test_without_a_box_it_needs_eyes_and_with_one_there_is_a_verdict(self):
        path = self.saved("poster.png", lettered((119, 119, 119), (255, 255, 255)))
        document = open_document(path)
        (pair,) = measured(document, 0, Asked()).pairs
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("no box", pair.reason)
        address = document.new_box_address(0)
        small = document.edited([MarkText(address, BOX, "Foot passengers", 12.0, 400)])
        (pair,) = measured(small, 0, Asked()).pairs
        # 4.48, as every table of greys on white has it: too near 4.5 for what is read.
        self.assertAlmostEqual(pair.ratio, 4.478, places=2)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("too near 4.5", pair.reason)
        self.assertEqual(pair.text, "Foot passengers")
        large = document.edited([MarkText(address, BOX, "", 30.0, 400)])
        (pair,) = measured(large, 0, Asked()).pairs
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertEqual((pair.required, pair.size), (3.0, 30.0))

    def test_pale_text_falls_short_and_the_box_is_that_of_its_ink(self):
        path = self.saved("poster.png", lettered((190, 190, 190), (255, 255, 255)))
        document = open_document(path)
        (pair,) = measured(
            document.edited([MarkText(document.new_box_address(0), BOX)]), 0, Asked()
        ).pairs
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assertEqual((pair.numbers.foreground, pair.numbers.background), ("#BEBEBE", "#FFFFFF"))
        self.assertEqual(pair.bbox, (30.0, 30.0, 64.5, 27.0))
        self.assertTrue(pair.estimated)

    def test_of_several_words_the_weakest_governs(self):
        picture = lettered((255, 255, 255), (0, 0, 0))
        # The last stroke alone stands on a mid grey, which white falls short of.
        picture.paste((140, 140, 140), (112, 20, 160, 100))
        picture.paste((255, 255, 255), (120, 40, 126, 76))
        document = open_document(self.saved("poster.png", picture))
        (pair,) = measured(
            document.edited([MarkText(document.new_box_address(0), BOX, "", 24.0, 400)]), 0, Asked()
        ).pairs
        self.assertLess(pair.ratio, 6.0)
        self.assertGreater(pair.numbers.highest, 15.0)

    def test_a_box_off_the_page_or_without_text_needs_eyes_in_words(self):
        path = self.saved("poster.png", lettered((0, 0, 0), (255, 255, 255)))
        document = open_document(path)
        address = document.new_box_address(0)
        for box, words in (((500.0, 500.0, 50.0, 20.0), "off the page"), ((0, 0, 15, 15), "text")):
            (pair,) = measured(document.edited([MarkText(address, box)]), 0, Asked()).pairs
            self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
            self.assertIn(words, pair.reason)

    def test_addresses_of_boxes_stay_when_others_go(self):
        document = open_document(self.saved("poster.png", lettered((0, 0, 0), (255, 255, 255))))
        first = document.new_box_address(0)
        with_one = document.edited([MarkText(first, BOX)])
        second = with_one.new_box_address(0)
        self.assertNotEqual(first, second)
        without = document.edited([UnmarkText(first), MarkText(second, BOX)])
        self.assertIsNone(without.box_at(first))
        self.assertEqual(without.box_at(second), MarkText(second, BOX))
        self.assertEqual(without.pages_touched([UnmarkText(first)]), {0})
        for wrong in (
            RecolourText(first, (0, 0, 0)),
            MarkText("picture#page=9/box=1", BOX),
            MarkText("ppt/slides/slide1.xml#sp=2", BOX),
        ):
            with self.assertRaises(EditError):
                document.edited([wrong])

    def test_a_copy_is_the_same_to_the_byte(self):
        path = self.saved("poster.jpg", lettered((0, 0, 0), (255, 255, 255)))
        target = self.folder / "copy.jpg"
        document = open_document(path)
        document.edited([MarkText(document.new_box_address(0), BOX)]).save(target)
        self.assertEqual(target.read_bytes(), path.read_bytes())

    def test_the_command_line_reviews_a_picture(self):
        path = self.saved("poster.png", lettered((0, 0, 0), (255, 255, 255)))
        out = self.folder / "out.json"
        self.assertEqual(main(["review", str(path), "--format", "json", "-o", str(out)]), 0)
        self.assertIn('"kind": "picture"', out.read_text())
        self.assertIn('"needs_eyes"', out.read_text())


if __name__ == "__main__":
    unittest.main()
