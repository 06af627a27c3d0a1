"""Colours are read from what people paste, and written back as themselves."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from high_pair.colour.notation import NOTATIONS, read, write
from high_pair.errors import NotationError


class ReadingTest(unittest.TestCase):
    KNOWN = (
        ("#abc", (170, 187, 204), 1.0),
        ("#abcd", (170, 187, 204), 221 / 255),
        ("  #AABBCC ;", (170, 187, 204), 1.0),
        ("aabbcc80", (170, 187, 204), 128 / 255),
        ("rgb(20 40 60 / 50%)", (20, 40, 60), 0.5),
        ("rgba(20, 40, 60, 0.25)", (20, 40, 60), 0.25),
        ("hsl(120 100% 25%)", (0, 128, 0), 1.0),
        ("hwb(0 0% 0%)", (255, 0, 0), 1.0),
        ("lab(100% 0 0)", (255, 255, 255), 1.0),
        ("lch(0% 0 0)", (0, 0, 0), 1.0),
        ("oklab(0% 0 0)", (0, 0, 0), 1.0),
        ("oklch(62.796% 0.25768 29.234)", (255, 0, 0), 1.0),
        ("color(srgb 0.2 0.4 0.6)", (51, 102, 153), 1.0),
        ("navy", (0, 0, 128), 1.0),
        ("rebeccapurple", (102, 51, 153), 1.0),
    )

    def test_notations_of_css(self):
        for text, rgb, opacity in self.KNOWN:
            with self.subTest(text):
                found = read(text)
                self.assertEqual(found.rgb, rgb)
                self.assertAlmostEqual(found.opacity, opacity, places=6)
                self.assertFalse(found.naive)

    def test_cmyk_is_the_naive_conversion_and_says_so(self):
        # CSS Color 5 §10: 1 - min(1, c (1 - k) + k); 255 x 0.3 x 0.5 = 38.25.
        for text in ("C70 M30 Y0 K50", "c 70% m 30% y 0% k 50%", "device-cmyk(70% 30% 0% 50%)"):
            with self.subTest(text):
                found = read(text)
                self.assertEqual(found.rgb, (38, 89, 128))
                self.assertTrue(found.naive)
        self.assertEqual(read("cmyk(0 1 0 0 / 40%)").opacity, 0.4)

    def test_a_colour_outside_srgb_is_brought_in_and_says_so(self):
        self.assertTrue(read("color(display-p3 0 1 0)").mapped)
        self.assertFalse(read("color(display-p3 0.5 0.5 0.5)").mapped)

    def test_what_is_no_colour_gets_an_error_with_an_example(self):
        for text in ("", "   ", "#12345", "rgb(1,2)", "bluish", "C120 M0 Y0 K0", "x" * 5000):
            with self.subTest(text[:20]), self.assertRaisesRegex(NotationError, "write it like"):
                read(text)

    @given(st.text(max_size=30))
    def test_any_text_is_read_or_refused(self, text):
        try:
            found = read(text)
        except NotationError:
            return
        self.assertTrue(all(0 <= level <= 255 for level in found.rgb))
        self.assertTrue(0 <= found.opacity <= 1)


class WritingTest(unittest.TestCase):
    @given(st.tuples(*[st.integers(0, 255)] * 3), st.sampled_from(NOTATIONS))
    def test_reads_back_as_the_same_colour(self, rgb, notation):
        # CMYK is written in whole percents, which hold fewer colours than 8 bits.
        step = 3 if notation == "cmyk" else 1
        back = read(write(rgb, notation)).rgb
        self.assertLessEqual(max(abs(a - b) for a, b in zip(rgb, back, strict=True)), step)

    def test_exact_texts(self):
        self.assertEqual(write((27, 79, 114), "hex"), "#1B4F72")
        self.assertEqual(write((27, 79, 114), "hex", 0.5), "#1B4F7280")
        self.assertEqual(write((20, 40, 60), "rgb", 0.5), "rgb(20 40 60 / 50%)")
        self.assertEqual(write((255, 0, 0), "cmyk"), "C0 M100 Y100 K0")
        self.assertEqual(write((0, 0, 0), "cmyk"), "C0 M0 Y0 K100")

    def test_an_unknown_notation_is_refused(self):
        with self.assertRaises(ValueError):
            write((0, 0, 0), "paint")


if __name__ == "__main__":
    unittest.main()
