"""Text in a picture has a verdict only where what is read from pixels leaves no doubt."""

import unittest

import numpy as np

from high_pair.measure.pairs import Pair
from high_pair.measure.picture_text import measure_picture_text
from high_pair.raster.page import PageRaster
from high_pair.scene.geometry import Box
from high_pair.scene.page import PictureText, Scene
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.measure.text_pictures import make

SCALE = 96 / 72


def measured(pixels: np.ndarray, size: float | None = None, weight: int | None = None) -> Pair:
    height, width = pixels.shape[:2]
    scene = Scene(width / SCALE, height / SCALE, ())
    raster = PageRaster(scene, SCALE, pixels, np.zeros((height, width), np.int32), ())
    box = Box(0.0, 0.0, scene.width, scene.height)
    text = PictureText(box, "Picture › box 1", "picture#page=1/box=1", "", size, weight)
    return measure_picture_text(raster, text, 1, Asked())[0]


class Verdicts(unittest.TestCase):
    def test_on_generated_pictures_a_verdict_that_is_given_is_right(self):
        given = 0
        for picture in make(14, seed=21, smallest=14):
            pair = measured(picture.pixels)
            if pair.verdict is Verdict.NEEDS_EYES:
                self.assertTrue(pair.reason)
                continue
            given += 1
            large = picture.size >= (18.66 if picture.bold else 24)
            truth = (
                Verdict.PASSES if picture.ratio >= (3 if large else 4.5) else Verdict.FALLS_SHORT
            )
            self.assertIs(pair.verdict, truth, picture)
        self.assertGreaterEqual(given, 7)

    def test_letters_that_the_box_cuts_need_eyes(self):
        pixels = np.full((80, 200, 3), 20, np.uint8)
        for left in range(40, 160, 20):
            pixels[25:55, left : left + 6] = (240, 220, 120)
        self.assertIs(measured(pixels).verdict, Verdict.PASSES)
        # Letters that the box cuts.
        pair = measured(np.ascontiguousarray(pixels[:, 42:]))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("edge of its box", pair.reason)

    def test_a_streak_of_the_texts_colour_is_what_lies_behind(self):
        random = np.random.default_rng(4)
        pixels = np.full((80, 200, 3), 20, np.uint8)
        # As a lamp throws on water: from edge to edge, through the middle of the letters.
        pixels[36:44] = (240, 220, 120)
        pixels = np.uint8(np.clip(pixels + random.normal(0, 4, (80, 200, 1)), 0, 255))
        for left in range(40, 160, 20):
            pixels[25:55, left : left + 6] = (240, 220, 120)
        self.assertIsNot(measured(pixels).verdict, Verdict.PASSES)

    def test_a_size_near_the_limit_needs_to_be_set(self):
        pixels = np.full((80, 200, 3), 255, np.uint8)
        # 20 pixels from top to foot: about 17.6 pt; the grey is 3.54 to 1 on white.
        for left in range(40, 160, 12):
            pixels[25:45, left : left + 3] = 135
        pair = measured(pixels)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("size", pair.reason)
        self.assertIs(measured(pixels, 20.0, 400).verdict, Verdict.PASSES)
        self.assertIs(measured(pixels, 12.0, 400).verdict, Verdict.FALLS_SHORT)
        self.assertIs(measured(pixels, 14.0, 700).verdict, Verdict.PASSES)


if __name__ == "__main__":
    unittest.main()
