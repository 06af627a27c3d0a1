"""Text stands where fonts, insets and spacing say."""

import unittest

import numpy as np
import skia
from PIL import ImageFont

from high_pair.raster.fonts import FOLDER, face_for, natural_height, typeface, x_height
from high_pair.raster.layout import SMALL_CAPITALS, is_estimated, lay_out, pieces, words_of
from high_pair.raster.page import rasterise
from high_pair.raster.pictures import Pictures
from high_pair.scene.geometry import IDENTITY, Affine, Box, flipped, moved, scaled, turned
from high_pair.scene.page import Scene
from high_pair.scene.paint import BLACK
from high_pair.scene.text import Align, Anchor, Paragraph, Run, Spacing, TabStop, TextBlock

FAMILY, SIZE = "Carlito", 24.0


def one(text: str, **more: object) -> Run:
    look = {
        "colour": BLACK,
        "family": FAMILY,
        "size": SIZE,
        "weight": 400,
        "origin": "",
        "address": "",
    }
    look.update(more)
    return Run(text=text, **look)  # type: ignore[arg-type]


def ink(*paragraphs: Paragraph, box: Box = Box(40, 40, 300, 200), **more: object) -> Box:
    """Give the ink's box in points, as painted."""
    block = TextBlock(paragraphs, box, IDENTITY, "", **more)  # type: ignore[arg-type]
    raster = rasterise(Scene(480, 360, (block,)), Pictures(lambda _: b""))
    rows, columns = np.nonzero(raster.numbers)
    scale = raster.scale
    return Box(
        columns.min() / scale,
        rows.min() / scale,
        (columns.max() + 1 - columns.min()) / scale,
        (rows.max() + 1 - rows.min()) / scale,
    )


def advance(text: str, size: float = SIZE, weight: int = 400) -> float:
    """Give a text's width by the font's own advances, without the layout engine."""
    return float(skia.Font(typeface(FAMILY, weight, False), size).measureText(text))


PIXEL = 0.75


class Placement(unittest.TestCase):
    def test_left_centre_and_right(self):
        width = advance("Hullo")
        bearing = 2.0  # H has about this much room at its sides
        for align, left in (
            (Align.LEFT, 40),
            (Align.CENTRE, 40 + (300 - width) / 2),
            (Align.RIGHT, 340 - width),
        ):
            with self.subTest(align):
                box = ink(Paragraph((one("Hullo"),), align))
                self.assertAlmostEqual(box.x, left + bearing, delta=PIXEL + 0.6)

    def test_lines_are_a_natural_height_apart(self):
        one_line = ink(Paragraph((one("H"),)))
        two_lines = ink(Paragraph((one("H\nH"),)))
        expected = SIZE * natural_height(FAMILY, 400, False)
        self.assertAlmostEqual(two_lines.height - one_line.height, expected, delta=PIXEL)

    def test_line_spacing_in_percent_and_points(self):
        one_line = ink(Paragraph((one("H"),)))
        natural = SIZE * natural_height(FAMILY, 400, False)
        for spacing, expected in ((Spacing(1.5), natural * 1.5), (Spacing(points=40.0), 40.0)):
            with self.subTest(spacing):
                two = ink(Paragraph((one("H\nH"),), spacing=spacing))
                self.assertAlmostEqual(two.height - one_line.height, expected, delta=PIXEL)

    def test_room_before_a_paragraph(self):
        close = ink(Paragraph((one("H"),)), Paragraph((one("H"),)))
        apart = ink(Paragraph((one("H"),)), Paragraph((one("H"),), before=Spacing(points=18.0)))
        self.assertAlmostEqual(apart.height - close.height, 18.0, delta=PIXEL)

    def test_anchors(self):
        top = ink(Paragraph((one("H"),)))
        natural = SIZE * natural_height(FAMILY, 400, False)
        middle = ink(Paragraph((one("H"),)), anchor=Anchor.MIDDLE)
        bottom = ink(Paragraph((one("H"),)), anchor=Anchor.BOTTOM)
        self.assertAlmostEqual(middle.y - top.y, (200 - natural) / 2, delta=PIXEL)
        self.assertAlmostEqual(bottom.y - top.y, 200 - natural, delta=PIXEL)

    def test_lines_break_where_the_widths_say(self):
        words = ["muster", "station", "on", "the", "nearest", "landing"]
        room = advance("muster station on ") + 2
        lines, current = 1, ""
        for word in words:
            if current and advance(f"{current} {word}") > room:
                lines, current = lines + 1, word
            else:
                current = f"{current} {word}".strip()
        box = ink(Paragraph((one(" ".join(words)),)), box=Box(40, 40, room, 200))
        natural = SIZE * natural_height(FAMILY, 400, False)
        self.assertEqual(round(box.height / natural), lines)

    def test_text_that_does_not_wrap_stays_on_one_line(self):
        box = ink(Paragraph((one("muster station on deck"),)), box=Box(40, 40, 60, 40), wraps=False)
        self.assertAlmostEqual(box.width, advance("muster station on deck"), delta=4)

    def test_a_hanging_bullet_and_its_text(self):
        label = one("•")
        box = ink(Paragraph((one("Hull"),), left=30, first=-20, bullet=label))
        self.assertAlmostEqual(box.x, 40 + 10, delta=3)
        self.assertAlmostEqual(box.right, 40 + 30 + advance("Hull"), delta=3)

    def test_a_smaller_label_stands_on_the_same_line(self):
        plain = ink(Paragraph((one("H"),), left=30, first=-20))
        label = one("H", size=SIZE / 2)
        both = ink(Paragraph((one("H"),), left=30, first=-20, bullet=label))
        self.assertAlmostEqual(both.bottom, plain.bottom, delta=PIXEL)
        self.assertAlmostEqual(both.y, plain.y, delta=PIXEL)

    def test_bold_is_wider(self):
        self.assertGreater(
            ink(Paragraph((one("Hull", weight=700),))).width, ink(Paragraph((one("Hull"),))).width
        )


class Tabs(unittest.TestCase):
    """Where the text after a tab stands, by the stops and the font's own widths."""

    def left_of_second(self, text: str, **more: object) -> Box:
        return ink(Paragraph((one(text),), **more))  # type: ignore[arg-type]

    def right_edge(self, text: str, **more: object) -> float:
        return self.left_of_second(text, **more).right - 40

    def test_the_next_multiple_of_the_usual_distance(self):
        for text, stop in (("A\tH", 72), ("\tH", 72), ("A\t\tH", 144)):
            with self.subTest(text):
                edge = self.right_edge(text)
                self.assertAlmostEqual(edge, stop + advance("H") - 2.0, delta=PIXEL + 0.6)

    def test_a_distance_of_its_own(self):
        edge = self.right_edge("A\tH", tab_width=100.0)
        self.assertAlmostEqual(edge, 100 + advance("H") - 2.0, delta=PIXEL + 0.6)

    def test_stops_of_each_alignment(self):
        wide = advance("H")
        for align, expected in (("left", 150 + wide), ("right", 150), ("centre", 150 + wide / 2)):
            with self.subTest(align):
                edge = self.right_edge("A\tH", tabs=(TabStop(150.0, align),))
                self.assertAlmostEqual(edge, expected - 2.0, delta=PIXEL + 0.6)

    def test_a_decimal_point_stands_on_its_stop(self):
        edge = self.right_edge("A\t12.5", tabs=(TabStop(150.0, "decimal"),))
        self.assertAlmostEqual(edge, 150 + advance(".5") - 1.0, delta=PIXEL + 0.6)

    def test_after_the_last_stop_come_the_usual_ones(self):
        edge = self.right_edge("A\tB\tH", tabs=(TabStop(20.0),))
        self.assertAlmostEqual(edge, 72 + advance("H") - 2.0, delta=PIXEL + 0.6)

    def test_a_line_break_begins_anew(self):
        box = ink(Paragraph((one("AAAA\nA\tH"),)))
        self.assertAlmostEqual(box.right - 40, 72 + advance("H") - 2.0, delta=PIXEL + 0.6)

    def test_single_lines_are_exact_and_wrapped_ones_are_not(self):
        for text, estimated in (("A\tH", False), ("A\tH " * 20, True)):
            block = TextBlock((Paragraph((one(text),)),), Box(40, 40, 300, 200), IDENTITY, "")
            self.assertIs(is_estimated(block), estimated)


class FirstLines(unittest.TestCase):
    def test_a_first_line_hangs_out_of_its_margin(self):
        box = ink(Paragraph((one("H"),), left=40.0, first=-30.0))
        self.assertAlmostEqual(box.x, 50 + 2.0, delta=PIXEL + 0.6)

    def test_a_tab_leads_back_to_the_margin(self):
        box = ink(Paragraph((one("\tH"),), left=40.0, first=-30.0))
        self.assertAlmostEqual(box.x, 80 + 2.0, delta=PIXEL + 0.6)

    def test_an_indented_first_line(self):
        box = ink(Paragraph((one("H"),), first=30.0))
        self.assertAlmostEqual(box.x, 70 + 2.0, delta=PIXEL + 0.6)


class SmallCapitals(unittest.TestCase):
    def test_lower_case_letters_are_smaller_capitals(self):
        box = ink(Paragraph((one("Deck", small_capitals=True),)))
        expected = advance("D") + advance("ECK", SIZE * SMALL_CAPITALS)
        self.assertAlmostEqual(box.width, expected - 2.5, delta=PIXEL + 1)

    def test_a_word_in_two_sizes_is_still_one_word(self):
        block = TextBlock(
            (Paragraph((one("Deck", small_capitals=True),)),), Box(40, 40, 300, 200), IDENTITY, ""
        )
        raster = rasterise(Scene(480, 360, (block,)), Pictures(lambda _: b""))
        self.assertEqual(np.unique(raster.numbers).tolist(), [0, 1])
        self.assertEqual([word.text for word in words_of(block)], ["Deck"])


class RightToLeft(unittest.TestCase):
    HEBREW = "\u05e9\u05dc\u05d5\u05dd"

    def places(self, text: str, right_to_left: bool) -> list[float]:
        """Give the x of each word of a paragraph."""
        paragraph = Paragraph((one(text, family="Liberation Sans"),), right_to_left=right_to_left)
        block = TextBlock((paragraph,), Box(40, 40, 400, 200), IDENTITY, "")
        raster = rasterise(Scene(480, 360, (block,)), Pictures(lambda _: b""))
        count = len(words_of(block))
        return [float(np.nonzero(raster.numbers == n)[1].min()) for n in range(1, count + 1)]

    def test_words_follow_each_other_from_the_right(self):
        for text in (f"one {self.HEBREW}", f"{self.HEBREW} one", "one two"):
            with self.subTest(text):
                first, second = self.places(text, right_to_left=True)
                wanted = first < second if text == "one two" else first > second
                self.assertTrue(wanted, (first, second))

    def test_the_base_direction_decides_the_order_of_mixed_words(self):
        left_to_right = self.places(f"one {self.HEBREW}", right_to_left=False)
        self.assertLess(*left_to_right)

    def test_each_line_has_the_direction(self):
        first, second, third, fourth = self.places(
            f"one {self.HEBREW}\ntwo {self.HEBREW}", right_to_left=True
        )
        self.assertGreater(first, second)
        self.assertGreater(third, fourth)

    def test_a_label_stands_at_the_right(self):
        label = one("•")
        box = ink(Paragraph((one("H"),), right=30.0, first=-30.0, bullet=label, right_to_left=True))
        self.assertAlmostEqual(box.right, 340, delta=5)


class InkBoxes(unittest.TestCase):
    """Ten text boxes in shipped fonts: their ink stands where the font's own numbers say."""

    BOXES = (
        ("Carlito", 24.0, 400, "Hull", 1.0),
        ("Carlito", 11.0, 700, "Quay", 1.0),
        ("Caladea", 20.0, 400, "Muster", 1.5),
        ("Caladea", 36.0, 700, "Bell", 0.9),
        ("Liberation Sans", 18.0, 400, "Ferry", 1.0),
        ("Liberation Sans", 14.0, 700, "Ramp", 1.2),
        ("Liberation Serif", 28.0, 400, "Pier", 1.0),
        ("Liberation Serif", 16.0, 700, "Tide", 1.0),
        ("Liberation Mono", 22.0, 400, "Bay 7", 1.0),
        ("Atkinson Hyperlegible", 26.0, 400, "Deck", 1.0),
    )

    def test_left_right_top_and_bottom(self):
        for family, size, weight, text, spacing in self.BOXES:
            with self.subTest(f"{family} {size:g}"):
                # At a thousand units, since bounds come in whole ones.
                large = skia.Font(typeface(family, weight, False), 1000)
                rect = skia.Rect()
                large.measureText(text, skia.TextEncoding.kUTF8, rect)
                left, top, right, bottom = (
                    value * size / 1000
                    for value in (rect.left(), rect.top(), rect.right(), rect.bottom())
                )
                metrics = large.getMetrics()
                ascent = -metrics.fAscent * size / 1000
                descent = metrics.fDescent * size / 1000
                leading = metrics.fLeading * size / 1000
                # Room beyond the natural line is shared out in the ratio of ascent and descent.
                line = natural_height(family, weight, False) * size * spacing
                if spacing == 1.0:
                    baseline = 40 + ascent + leading / 2
                else:
                    baseline = 40 + line * ascent / (ascent + descent)
                found = ink(
                    Paragraph(
                        (one(text, family=family, size=size, weight=weight),),
                        spacing=Spacing(spacing),
                    )
                )
                self.assertAlmostEqual(found.x, 40 + left, delta=PIXEL)
                self.assertAlmostEqual(found.right, 40 + right, delta=PIXEL)
                self.assertAlmostEqual(found.y, baseline + top, delta=PIXEL)
                self.assertAlmostEqual(found.bottom, baseline + bottom, delta=PIXEL)


class Words(unittest.TestCase):
    def test_words_are_cut_at_white_space_and_at_each_ideograph(self):
        found = [text for text, is_word in pieces("Go to 甲板 now!") if is_word]
        self.assertEqual(found, ["Go", "to", "甲", "板", "now!"])
        self.assertEqual("".join(text for text, _ in pieces(" a  b ")), " a  b ")

    def test_layout_numbers_words_as_they_are_listed(self):
        block = TextBlock(
            (
                Paragraph((one("One two"), one(" three")), bullet=one("1.")),
                Paragraph((one("four"),)),
            ),
            Box(0, 0, 300, 100),
            IDENTITY,
            "",
        )
        seen: list[int] = []

        def choose(number, _run):
            if number is not None:
                seen.append(number)
            return skia.Paint()

        lay_out(block, choose)
        self.assertEqual(seen, list(range(5)))
        self.assertEqual([w.text for w in words_of(block)], ["1.", "One", "two", "three", "four"])


class Faces(unittest.TestCase):
    def test_stand_ins(self):
        for wanted, family, exact in (
            ("Carlito", "Carlito", True),
            ("Calibri", "Carlito", False),
            ("Cambria", "Caladea", False),
            ("Arial", "Liberation Sans", False),
            ("Times New Roman", "Liberation Serif", False),
            ("Courier New", "Liberation Mono", False),
            ("Somebody's Serif", "Liberation Serif", False),
            ("Nobody Sans", "Liberation Sans", False),
            ("", "Liberation Sans", False),
        ):
            with self.subTest(wanted):
                face = face_for(wanted)
                self.assertEqual((face.family, face.exact), (family, exact))

    def test_the_height_of_the_x_is_as_another_library_draws_it(self):
        for wanted, name in (
            ("Carlito", "carlito/Carlito-Regular.ttf"),
            ("Georgia", "liberation/LiberationSerif-Regular.ttf"),
            ("Courier New", "liberation/LiberationMono-Regular.ttf"),
        ):
            drawn = ImageFont.truetype(str(FOLDER / name), 1000)
            _, top, _, bottom = drawn.getbbox("x")
            with self.subTest(wanted):
                self.assertAlmostEqual(
                    x_height(wanted, 400, False), (bottom - top) / 1000, delta=0.01
                )


class Geometry(unittest.TestCase):
    def assert_maps(self, transform: Affine, point: tuple, expected: tuple) -> None:
        for found, wanted in zip(transform.apply(*point), expected, strict=True):
            self.assertAlmostEqual(found, wanted)

    def test_turning_is_clockwise_on_the_screen(self):
        self.assert_maps(turned(90, (10, 10)), (20, 10), (10, 20))

    def test_mirroring_about_a_point(self):
        self.assert_maps(flipped(True, False, (10, 10)), (12, 15), (8, 15))

    def test_the_inner_map_comes_first(self):
        self.assert_maps(moved(5, 0).after(scaled(2, 2)), (3, 4), (11, 8))

    def test_bounds_of_a_turned_box(self):
        box = turned(90, (0, 0)).bounds(Box(0, 0, 10, 20))
        self.assertAlmostEqual(box.x, -20)
        self.assertAlmostEqual(box.width, 20)


if __name__ == "__main__":
    unittest.main()
