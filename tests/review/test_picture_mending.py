"""Text that is part of a picture gets other letters or a plate, in a copy that keeps all else."""

from __future__ import annotations

import functools
import io
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
from PIL import Image, ImageCms, ImageDraw, ImageFont, PngImagePlugin
from scipy import ndimage

from high_pair.edits.as_json import edit_in, edit_out
from high_pair.edits.kinds import MarkText, Repaint
from high_pair.errors import EditError, UnwritableFile
from high_pair.formats import open_document
from high_pair.formats.document import Document
from high_pair.formats.opening import copy_suffixes, open_saved
from high_pair.formats.picture.repainting import patch_of
from high_pair.measure.pairs import Pair
from high_pair.raster.fonts import FOLDER
from high_pair.remedy.remedies import Proposals, Repainted
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.saving import save_copy
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict

# In points: 28 to 316, and 52 to 132, in pixels.
BOX = (21.0, 39.0, 216.0, 60.0)
ROWS, COLUMNS = slice(52, 132), slice(28, 316)
FONT = ImageFont.truetype(str(FOLDER / "carlito/Carlito-Bold.ttf"), 40)


@functools.cache
def _sky() -> np.ndarray:
    """Paint something like a bright sky: soft blots, and a camera's noise."""
    random = np.random.default_rng(3)
    blots = ndimage.gaussian_filter(random.normal(0, 1, (200, 600, 3)), (30, 60, 0))
    pixels = np.array([150.0, 180.0, 215.0]) + 1500 * blots + random.normal(0, 2, (200, 600, 3))
    return np.clip(pixels, 0, 255).astype(np.uint8)


def poster(behind: str = "photograph", mode: str = "RGB") -> Image.Image:
    pixels = np.full((200, 600, 3), (210, 200, 180), np.uint8) if behind == "flat" else _sky()
    picture = Image.fromarray(pixels)
    ImageDraw.Draw(picture).text((40, 70), "Mind the ramp", font=FONT, fill=(255, 255, 255))
    return picture.convert(mode)


def decoded(path: Path) -> Any:
    picture = Image.open(io.BytesIO(path.read_bytes()))
    picture.load()
    return picture


class Mending(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def marked(self, picture: Image.Image, name: str, **options: object) -> tuple[Path, Document]:
        path = self.folder / name
        picture.save(path, **options)
        document = open_document(path)
        self.addCleanup(document.close)
        address = document.new_box_address(0)
        assert address is not None
        self.mark = MarkText(address, BOX, "Mind the ramp")
        return path, document

    def remedies(self, document: Document) -> tuple[Pair, Proposals]:
        boxed = document.edited([self.mark])
        (pair,) = measured(boxed, 0, Asked()).pairs
        found = remedies_for(
            [pair], boxed, PageBench(), Asked(), lambda edits: document.edited([self.mark, *edits])
        )
        return pair, found

    def mended(self, document: Document, number: int = 0) -> Document:
        pair, found = self.remedies(document)
        return document.edited([self.mark, *edits_for(found.remedies[number], [pair])])

    def test_letters_and_plates_are_proposed_and_pass_when_read_again_in_the_copy(self) -> None:
        for name, options in (
            ("poster.png", {}),
            ("poster.jpg", {"quality": 90}),
            ("poster.webp", {"quality": 90}),
        ):
            with self.subTest(name):
                path, document = self.marked(poster(), name, **options)
                pair, found = self.remedies(document)
                self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
                self.assertEqual(
                    {each.kind for each in found.remedies},
                    {"letters in the picture", "plate in the picture"},
                )
                before = path.read_bytes()
                for number, remedy in enumerate(found.remedies[:2]):
                    assert isinstance(remedy, Repainted)
                    edited = document.edited([self.mark, *edits_for(remedy, [pair])])
                    target = self.folder / f"copy {number}{path.suffix}"
                    copy = save_copy(edited, target, path, [pair], [0], Asked())
                    self.assertEqual((copy.changed, copy.passing), (1, 1), remedy.label)
                    self.assertEqual(decoded(target).format, decoded(path).format)
                self.assertEqual(path.read_bytes(), before)

    def test_outside_of_its_box_not_a_pixel_changes_and_inside_the_backdrop_stays(self) -> None:
        path, document = self.marked(poster(), "poster.png")
        pair, found = self.remedies(document)
        letters = next(each for each in found.remedies if each.kind.startswith("letters"))
        edited = document.edited([self.mark, *edits_for(letters, [pair])])
        target = self.folder / "copy.png"
        edited.save(target)
        before, after = (np.asarray(decoded(each)).astype(int) for each in (path, target))
        changed = (before != after).any(axis=-1)
        self.assertTrue(changed.any())
        changed[ROWS, COLUMNS] = False
        self.assertFalse(changed.any())
        # Where the words aren't, the photograph is what it was.
        self.assertTrue((before[ROWS, COLUMNS][:10] == after[ROWS, COLUMNS][:10]).all())

    def test_a_new_colour_is_as_a_drawing_with_it_would_be(self) -> None:
        _, document = self.marked(poster("flat"), "poster.png")
        pair, found = self.remedies(document)
        letters = next(each for each in found.remedies if each.kind.startswith("letters"))
        assert isinstance(letters, Repainted)
        edited = document.edited([self.mark, *edits_for(letters, [pair])])
        target = self.folder / "copy.png"
        edited.save(target)
        drawn = Image.new("RGB", (600, 200), (210, 200, 180))
        ImageDraw.Draw(drawn).text((40, 70), "Mind the ramp", font=FONT, fill=letters.levels)
        apart = np.abs(np.asarray(drawn).astype(int) - np.asarray(decoded(target)).astype(int))
        self.assertLess(float(apart.mean()), 1.0)
        self.assertLess(float(np.percentile(apart, 99.5)), 30.0)

    def test_profile_resolution_words_and_date_are_kept(self) -> None:
        text = PngImagePlugin.PngInfo()
        text.add_text("Title", "Muster notice")
        text.add_itxt("Author", "Ostrel Bay Ferries ⚓")
        profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        exif = Image.Exif()
        exif[0x010E] = "On the quay"
        options = {"dpi": (96, 96), "icc_profile": profile, "exif": exif}
        for name, more in (("a.png", {"pnginfo": text}), ("a.jpg", {"quality": 83})):
            with self.subTest(name):
                path, document = self.marked(poster(), name, **options, **more)
                target = self.folder / f"copy-{name}"
                self.mended(document).save(target)
                source, copy = decoded(path), decoded(target)
                self.assertEqual(copy.info["icc_profile"], profile)
                self.assertAlmostEqual(copy.info["dpi"][0], source.info["dpi"][0], places=2)
                self.assertEqual(copy.getexif()[0x010E], "On the quay")
                if name.endswith("png"):
                    self.assertEqual(copy.text["Title"], "Muster notice")
                    self.assertEqual(copy.text["Author"], "Ostrel Bay Ferries ⚓")
                else:
                    self.assertEqual(copy.quantization, source.quantization)

    def test_a_picture_stored_on_its_side_is_mended_as_it_is_shown(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6
        stored = poster().transpose(Image.Transpose.ROTATE_90)
        _, document = self.marked(stored, "side.jpg", exif=exif, quality=95)
        target = self.folder / "copy.jpg"
        edited = self.mended(document)
        edited.save(target)
        again = open_saved(target, edited)
        self.addCleanup(again.close)
        (pair,) = measured(again, 0, Asked()).pairs
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertEqual(decoded(target).size, (600, 200))

    def test_palettes_and_greys_are_saved_as_png(self) -> None:
        for mode, name in (("P", "poster.gif"), ("L", "grey.png")):
            with self.subTest(name):
                path, document = self.marked(poster("flat", mode), name)
                self.assertIn(".png", copy_suffixes(document, path))
                edited = self.mended(document)
                target = self.folder / "as.png"
                edited.save(target)
                again = open_saved(target, edited)
                self.addCleanup(again.close)
                (pair,) = measured(again, 0, Asked()).pairs
                self.assertIs(pair.verdict, Verdict.PASSES)
                if name.endswith("gif"):
                    with self.assertRaisesRegex(UnwritableFile, "PNG"):
                        edited.save(self.folder / "other.gif")

    def test_what_would_lose_something_is_left_with_the_reason(self) -> None:
        pages = [poster("flat"), poster("flat")]
        deep = Image.fromarray(np.asarray(poster("flat", "L")).astype(np.uint16) * 257)
        for picture, name, options in (
            (pages[0], "pages.tiff", {"save_all": True, "append_images": pages[1:]}),
            (deep, "deep.png", {}),
            (poster("flat").convert("CMYK"), "print.jpg", {}),
        ):
            with self.subTest(name):
                _, document = self.marked(picture, name, **options)
                pair, found = self.remedies(document)
                self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
                self.assertEqual(found.remedies, ())
                self.assertIn("where it was made", found.none)

    def test_letters_that_arent_told_surely_are_left(self) -> None:
        _, document = self.marked(poster("flat"), "poster.png")
        with mock.patch("high_pair.review.picture_mending.MOST_UNSURE", -1.0):
            _, found = self.remedies(document)
        self.assertEqual(found.remedies, ())
        self.assertIn("surely", found.none)


class Edits(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "poster.png"
        poster("flat").save(path)
        self.document = open_document(path)
        self.addCleanup(self.document.close)

    def test_it_is_kept_in_json_with_its_pixels(self) -> None:
        edit = Repaint("picture#page=1/box=1", BOX, patch_of(np.zeros((80, 288, 3), np.uint8)))
        self.assertEqual(edit_in(edit_out(edit)), edit)
        with self.assertRaises(ValueError):
            edit_in({**edit_out(edit), "patch": "A" * 13_000_000})

    def test_a_strangers_patch_that_is_none_or_doesnt_fit_is_refused(self) -> None:
        giant = io.BytesIO()
        Image.new("RGB", (4000, 10)).save(giant, "PNG")
        small = patch_of(np.zeros((4, 4, 3), np.uint8))
        whole = patch_of(np.zeros((80, 288, 3), np.uint8))
        for box, patch in (
            (BOX, "no pixels at all"),
            (BOX, ""),
            (BOX, small),
            ((420.0, 39.0, 216.0, 60.0), whole),
            ((-3.0, 39.0, 216.0, 60.0), whole),
        ):
            with self.subTest(patch[:12]), self.assertRaises(EditError):
                self.document.edited([Repaint("picture#page=1/box=1", box, patch)])


if __name__ == "__main__":
    unittest.main()
