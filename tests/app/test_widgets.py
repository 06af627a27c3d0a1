"""The window's own drawings and words, each by itself."""

import math
import unittest

import numpy as np
from PySide6.QtCore import QByteArray, QRectF
from PySide6.QtGui import QImage, QPainter

from high_pair.app.controller import crop_box
from high_pair.app.images import image_of, stripes_of
from high_pair.app.keys import keys_of
from high_pair.app.ladder import HIGHEST, LOWEST, RUNGS, paint_small_ladder, place_of
from high_pair.app.look_list import place_words, text_of
from high_pair.app.marks import paint_mark
from high_pair.app.page_strip import PageRow
from high_pair.app.pair_panel import share_words, verdict_words
from high_pair.app.settings import MOST_RECENT, Settings
from high_pair.app.theme import LIGHT, THEMES
from high_pair.measure.alike import Alike
from high_pair.measure.pairs import Numbers, Pair
from high_pair.review.session import Look
from high_pair.scene.paint import BLACK
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.app.driver import WindowTest


def numbers(ratio: float, lowest: float | None = None, highest: float | None = None) -> Numbers:
    low, high = lowest or ratio, highest or ratio
    return Numbers("#FFFFFF", "#777777", low != high, ratio, low, ratio, high, 0.5, "word")


def pair(**more: object) -> Pair:
    content: dict = {
        "id": "p1-0001",
        "page": 1,
        "where": "Slide 1 › Box",
        "address": "a#r=1",
        "subject": Subject.TEXT,
        "text": "Muster stations",
        "size": 12.0,
        "weight": 400,
        "text_colour": BLACK,
        "criterion": "1.4.3",
        "required": 4.5,
        "verdict": Verdict.FALLS_SHORT,
        "reason": "",
        "bbox": (100.0, 50.0, 80.0, 12.0),
        "origin": "run",
        "estimated": False,
        "numbers": numbers(3.0),
    }
    content.update(more)
    return Pair(**content)


class LadderTest(unittest.TestCase):
    def test_the_scale_is_logarithmic_from_1_to_21(self):
        self.assertEqual((place_of(LOWEST), place_of(HIGHEST)), (0.0, 1.0))
        self.assertAlmostEqual(place_of(math.sqrt(21)), 0.5)
        places = [place_of(rung) for rung in RUNGS]
        self.assertEqual(places, sorted(places))
        self.assertEqual((place_of(0.2), place_of(99)), (0.0, 1.0))


class Drawings(WindowTest):
    def drawn(self, paint) -> np.ndarray:
        image = QImage(48, 48, QImage.Format.Format_Grayscale8)
        image.fill(128)
        painter = QPainter(image)
        paint(painter)
        painter.end()
        return np.frombuffer(bytes(image.constBits()), np.uint8).reshape(48, 48).copy()

    def test_verdicts_are_told_apart_by_shape_in_grey(self):
        box = QRectF(4, 4, 40, 40)
        for theme in THEMES.values():
            seen = {
                verdict: self.drawn(lambda p, v=verdict, t=theme: paint_mark(p, box, v, t)) != 128
                for verdict in (
                    Verdict.FALLS_SHORT,
                    Verdict.PASSES,
                    Verdict.NEEDS_EYES,
                    Verdict.EXEMPT,
                )
            }
            for one, first in seen.items():
                self.assertGreater(first.sum(), 50, one)
                for other, second in seen.items():
                    if one is not other:
                        self.assertGreater((first ^ second).mean(), 0.05, f"{one} {other}")
            # A wedge points down: wide above, narrow below. A ring is open in the middle.
            wedge, ring = seen[Verdict.FALLS_SHORT], seen[Verdict.PASSES]
            self.assertGreater(wedge[8].sum(), 3 * wedge[38].sum())
            self.assertFalse(ring[24, 24])
            lens = seen[Verdict.NEEDS_EYES]
            self.assertGreater(lens[:, 6:24].sum(), 1.5 * lens[:, 24:42].sum())

    def test_the_small_ladder_shows_spread_and_what_is_asked(self):
        def paint(painter):
            paint_small_ladder(painter, QRectF(0, 8, 48, 24), numbers(3.0, 2.0, 9.0), 4.5, LIGHT)

        drawn = self.drawn(paint)
        track = drawn[20]
        asked = int(place_of(4.5) * 48)
        self.assertLess(int(drawn[10, asked - 1 : asked + 2].min()), 60, "the rung asked for")
        inside, outside = int(place_of(6.0) * 48), int(place_of(18.0) * 48)
        self.assertLess(int(track[inside]), int(track[outside]))

    def test_stripes_are_black_and_white_and_let_the_page_through(self):
        mask = np.zeros((16, 16), bool)
        mask[4:12, 4:12] = True
        image = stripes_of(mask)
        colours = {
            (image.pixelColor(x, y).name(), image.pixelColor(x, y).alpha())
            for x in range(4, 12)
            for y in range(4, 12)
        }
        self.assertEqual(colours, {("#000000", 255), ("#ffffff", 255), ("#000000", 0)})
        self.assertEqual(image.pixelColor(0, 0).alpha(), 0)

    def test_pixels_become_images_of_their_own(self):
        pixels = np.zeros((3, 5, 3), np.uint8)
        pixels[1, 2] = (10, 20, 30)
        image = image_of(pixels, 2.0)
        pixels[:] = 255
        self.assertEqual(image.pixelColor(2, 1).getRgb()[:3], (10, 20, 30))
        self.assertEqual(image.devicePixelRatio(), 2.0)


class Words(unittest.TestCase):
    def test_shares_are_never_rounded_to_a_false_end(self):
        for share, words in (
            (1.0, "all of it"),
            (0.999, "over 99%"),
            (0.5, "50%"),
            (0.001, "under 1%"),
            (0.0, "0%"),
        ):
            self.assertEqual(share_words(share), words)

    def test_verdicts_say_what_was_asked(self):
        self.assertEqual(verdict_words(pair()), "falls short of 4.5 · normal size, 12 pt · 1.4.3")
        large = pair(size=24.0, weight=700, required=3.0, verdict=Verdict.PASSES)
        self.assertEqual(verdict_words(large), "passes 3 · large-scale, 24 pt bold · 1.4.3")
        link = pair(subject=Subject.LINK, criterion="1.4.1", required=3.0)
        self.assertIn("link told by colour alone", verdict_words(link))
        self.assertTrue(verdict_words(pair(verdict=Verdict.NEEDS_EYES)).startswith("needs eyes"))

    def test_places_of_alike_texts(self):
        def look(*pages: int) -> Look:
            return Look(1, Alike(tuple(pair(id=f"p{n}-{i}", page=n) for i, n in enumerate(pages))))

        self.assertEqual(place_words(look(3)), "slide 3")
        self.assertEqual(place_words(look(3, 3)), "slide 3 · alike 2")
        self.assertEqual(place_words(look(3, 7)), "slides 3 and 7 · alike 2")
        self.assertEqual(place_words(look(3, 7, 9, 9)), "3 slides from 3 · alike 4")
        self.assertEqual(place_words(look(3), "a.pptx"), "a.pptx, slide 3")

    def test_of_what_a_state_alone_shows_the_row_says_which(self):
        def look(*states: str) -> Look:
            return Look(1, Alike(tuple(pair(id=f"p{n}", appears=a) for n, a in enumerate(states))))

        self.assertEqual(place_words(look("on hover")), "slide 1 · on hover")
        words = place_words(look("on hover", "on focus"))
        self.assertEqual(words, "slide 1 · on focus and on hover · alike 2")
        self.assertEqual(place_words(look("", "on hover")), "slide 1 · alike 2")

    def test_a_bullet_does_not_stand_for_its_look(self):
        group = Alike((pair(text="•"), pair(text="Real words")))
        self.assertEqual(text_of(Look(1, group)), "Real words")

    def test_a_pages_marks_tell_the_gravest_first(self):
        counts = dict.fromkeys(Verdict, 0)
        counts[Verdict.PASSES] = 4
        row = PageRow(1, 0, "Slide 1", counts=counts)
        self.assertEqual(row.marks, [(Verdict.PASSES, 4)])
        counts[Verdict.NEEDS_EYES], counts[Verdict.FALLS_SHORT] = 1, 2
        self.assertEqual(row.marks, [(Verdict.FALLS_SHORT, 2), (Verdict.NEEDS_EYES, 1)])
        self.assertEqual(row.words, "Slide 1, 2 falls short, 1 needs eyes")
        self.assertEqual(PageRow(1, 0, "Slide 1").words, "Slide 1, not measured yet")

    def test_a_crop_shows_the_whole_text_or_its_start(self):
        whole = crop_box(pair(), (320, 88))
        self.assertLessEqual(whole.x, 100)
        self.assertGreaterEqual(whole.right, 180)
        long = crop_box(pair(bbox=(100.0, 50.0, 900.0, 12.0)), (320, 88))
        self.assertLess(long.x, 100)
        self.assertLess(long.right, 1000)
        for box in (whole, long):
            self.assertAlmostEqual(box.width / box.height, 320 / 88)


class Memory(WindowTest):
    def test_settings_last(self):
        self.settings.theme, self.settings.level = "dark", "AAA"
        self.settings.single_keys = False
        self.settings.keep_state("window", QByteArray(b"abc"))
        paths = []
        for count in range(MOST_RECENT + 3):
            path = self.folder / f"{count}.pptx"
            path.write_bytes(b"x")
            self.settings.note_recent(path)
            paths.append(path.resolve())
        self.settings.flush()
        again = Settings(self.folder / "window.ini")
        self.assertEqual((again.theme, again.level, again.single_keys), ("dark", "AAA", False))
        self.assertEqual(again.state("window"), QByteArray(b"abc"))
        self.assertEqual(again.recent, paths[::-1][:MOST_RECENT])
        self.assertIsNone(again.state("nothing"))

    def test_the_list_of_keys_names_every_key_once(self):
        listed = keys_of(self.window.commands.by_name)
        keys = {desk: [key for key, _ in rows] for desk, rows in listed.items()}
        for desk in ("Review", "Bench", "Sets", "Report"):
            both = keys[desk] + keys["On all desks"]
            self.assertEqual(len(both), len(set(both)))
        for key in ("B, held", "N", "K", "L", "1 to 9"):
            self.assertIn(key, keys["Review"])
        for key in ("X", "F", "1 to 6", "Return"):
            self.assertIn(key, keys["Bench"])
        for key in ("W", "1 to 3", "Ctrl+Left, Ctrl+Right"):
            self.assertIn(key, keys["Sets"])
        for key in ("W", "G", "Left, Right, Home, End"):
            self.assertIn(key, keys["Report"])
        self.assertIn("F1", keys["On all desks"])


if __name__ == "__main__":
    unittest.main()
