"""Pictures that are commands: metafiles built byte by byte here, and drawings."""

from __future__ import annotations

import struct
import time
import unittest
from unittest.mock import patch

from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from high_pair.raster.metafiles import is_metafile, metafile_size, painted_metafile
from high_pair.raster.metafiles.device import Unpainted
from high_pair.raster.pictures import PictureProblem, Pictures, vector_of
from high_pair.raster.svg import is_svg, painted_svg, svg_size
from high_pair.wcag.verdicts import Verdict
from tests.decks import body, run, shape, solid, xfrm
from tests.decks import picture as slide_picture
from tests.formats.test_slide_rules import SlideRules

RED, GREEN, BLUE, WHITE = (255, 0, 0), (0, 128, 0), (0, 0, 255), (255, 255, 255)


def record(kind: int, *values: int, more: bytes = b"") -> bytes:
    """Write an EMF record of whole numbers."""
    inside = struct.pack(f"<{len(values)}i", *values) + more
    inside += b"\0" * (-len(inside) % 4)
    return struct.pack("<II", kind, 8 + len(inside)) + inside


def colour(levels: tuple[int, int, int]) -> int:
    return levels[0] | levels[1] << 8 | levels[2] << 16


def emf(*records: bytes, frame: tuple[int, int, int, int] = (0, 0, 10_000, 5_000)) -> bytes:
    """Write an EMF on a device of ten pixels a millimetre, so that the frame has 1000 by 500."""
    header = struct.pack("<4i", 0, 0, 999, 499) + struct.pack("<4i", *frame)
    header += struct.pack("<4sIIIHHIII", b" EMF", 0x10000, 0, len(records) + 2, 4, 0, 0, 0, 0)
    header += struct.pack("<2i2i", 2000, 1000, 200, 100)
    ended = record(14, 0, 16, 20)
    return record(1, more=header) + b"".join(records) + ended


def brush(number: int, levels: tuple[int, int, int], kind: int = 0) -> bytes:
    return record(39, number, kind, colour(levels), 0) + record(37, number)


def pen(number: int, levels: tuple[int, int, int], width: int = 1, kind: int = 0) -> bytes:
    return record(38, number, kind, width, 0, colour(levels)) + record(37, number)


NO_PEN = record(37, -0x80000000 + 8)


class Painted(unittest.TestCase):
    def at(self, picture: Image.Image, x: float, y: float) -> tuple[int, ...]:
        """Give a pixel at shares of a picture."""
        place = int(x * (picture.width - 1)), int(y * (picture.height - 1))
        return tuple(picture.getpixel(place))  # type: ignore[arg-type]

    def assert_at(self, picture: Image.Image, x: float, y: float, levels: tuple[int, ...]) -> None:
        self.assertEqual(self.at(picture, x, y)[:3], levels)
        self.assertEqual(self.at(picture, x, y)[3], 255)

    def assert_nothing_at(self, picture: Image.Image, x: float, y: float) -> None:
        self.assertEqual(self.at(picture, x, y)[3], 0)


class Enhanced(Painted):
    def test_its_size_is_its_frame(self) -> None:
        data = emf()
        self.assertTrue(is_metafile(data))
        # 100 by 50 millimetres.
        width, height = metafile_size(data)
        self.assertAlmostEqual(width, 100 / 25.4 * 72, delta=0.01)
        self.assertAlmostEqual(height, 50 / 25.4 * 72, delta=0.01)

    def test_fills_lines_and_what_is_left_see_through(self) -> None:
        found = painted_metafile(
            emf(
                brush(1, RED), pen(2, BLUE, 40), record(43, 100, 100, 500, 400),
                NO_PEN, brush(3, GREEN), record(42, 600, 100, 900, 400),
            )
        )  # fmt: skip
        self.assert_at(found, 0.3, 0.5, RED)
        self.assert_at(found, 0.1, 0.5, BLUE)
        self.assert_at(found, 0.75, 0.5, GREEN)
        # The corner of an ellipse's box, and what nothing covers.
        self.assert_nothing_at(found, 0.61, 0.22)
        self.assert_nothing_at(found, 0.95, 0.95)

    def test_polygons_by_the_even_odd_rule_and_by_winding(self) -> None:
        outer = struct.pack("<8h", 100, 100, 900, 100, 900, 400, 100, 400)
        inner = struct.pack("<8h", 300, 200, 700, 200, 700, 300, 300, 300)
        bounds = (0, 0, 0, 0)
        two = record(91, *bounds, 2, 8, 4, 4, more=outer + inner)
        found = painted_metafile(emf(NO_PEN, brush(1, RED), record(19, 1), two))
        self.assert_at(found, 0.2, 0.5, RED)
        self.assert_nothing_at(found, 0.5, 0.5)
        found = painted_metafile(emf(NO_PEN, brush(1, RED), record(19, 2), two))
        self.assert_at(found, 0.5, 0.5, RED)

    def test_windows_viewports_and_worlds(self) -> None:
        window = record(17, 8) + record(9, 10, 10) + record(11, 1000, 500)
        found = painted_metafile(emf(window, NO_PEN, brush(1, RED), record(43, 5, 0, 10, 10)))
        self.assert_nothing_at(found, 0.25, 0.5)
        self.assert_at(found, 0.75, 0.5, RED)
        world = record(35, more=struct.pack("<6f", 1, 0, 0, 1, 500, 0))
        found = painted_metafile(emf(world, NO_PEN, brush(1, RED), record(43, 0, 0, 500, 500)))
        self.assert_nothing_at(found, 0.25, 0.5)
        self.assert_at(found, 0.75, 0.5, RED)

    def test_what_was_saved_comes_back_and_clips_cut(self) -> None:
        found = painted_metafile(
            emf(
                NO_PEN, brush(1, RED), record(33), record(30, 0, 0, 500, 500), brush(2, BLUE),
                record(43, 0, 0, 1000, 250), record(34, -1), record(43, 0, 250, 1000, 500),
            )
        )  # fmt: skip
        self.assert_at(found, 0.25, 0.25, BLUE)
        self.assert_nothing_at(found, 0.75, 0.25)
        self.assert_at(found, 0.75, 0.75, RED)

    def test_paths_are_filled_and_clip(self) -> None:
        triangle = record(27, 0, 0) + record(54, 1000, 0) + record(54, 0, 500) + record(61)
        found = painted_metafile(
            emf(NO_PEN, brush(1, RED), record(59), triangle, record(60), record(62, 0, 0, 0, 0))
        )
        self.assert_at(found, 0.2, 0.2, RED)
        self.assert_nothing_at(found, 0.8, 0.8)
        found = painted_metafile(
            emf(NO_PEN, brush(1, RED), record(59), triangle, record(60), record(67, 5),
                record(43, 0, 0, 1000, 500))
        )  # fmt: skip
        self.assert_at(found, 0.2, 0.2, RED)
        self.assert_nothing_at(found, 0.8, 0.8)

    def test_bitmaps_stand_upright(self) -> None:
        # Two rows of two pixels, from the bottom up: green below, blue above.
        rows = bytes([0, 128, 0, 0, 128, 0, 0, 0]) + bytes([255, 0, 0, 255, 0, 0, 0, 0])
        info = struct.pack("<IiiHHIIiiII", 40, 2, 2, 1, 24, 0, len(rows), 0, 0, 0, 0)
        stretch = record(
            81, 0, 0, 0, 0, 0, 0, 0, 0, 2, 2, 80, 40, 120, len(rows), 0, 0xCC0020, 1000, 500,
            more=info + rows,
        )  # fmt: skip
        found = painted_metafile(emf(stretch))
        self.assert_at(found, 0.5, 0.1, BLUE)
        self.assert_at(found, 0.5, 0.9, GREEN)

    def test_words_have_their_colour_and_a_ground_where_it_is_asked_for(self) -> None:
        words = "HHHH".encode("utf-16-le")
        font = record(
            82, 1, -300, 0, 0, 0, 700, 0, 0,
            more="Liberation Sans".encode("utf-16-le").ljust(64, b"\0"),
        )  # fmt: skip
        text = record(84, 0, 0, 0, 0, 1, 0, 0, 0, 100, 50, 4, 76, 0, 0, 0, 0, 0, 0, more=words)
        picture = emf(font, record(37, 1), record(24, colour(RED)), record(25, colour(BLUE)),
                      record(18, 2), text)  # fmt: skip
        found = painted_metafile(picture)
        counted = {levels for _, levels in found.getcolors(1 << 24) or ()}
        self.assertIn((*RED, 255), counted)
        self.assertIn((*BLUE, 255), counted)

    def test_what_isnt_painted_makes_the_whole_one_that_isnt(self) -> None:
        hatched = brush(1, RED, kind=2) + record(43, 0, 0, 10, 10)
        mixing = record(20, 7) + record(43, 0, 0, 10, 10)
        plus = record(70, 28, more=b"EMF+" + struct.pack("<HHIIIII", 0x4001, 0, 28, 16, 1, 0, 96))
        for data, words in (
            (emf(hatched), "hatches"),
            (emf(mixing), "mixes"),
            (emf(record(116, 0)), "aren't painted yet"),
            (emf(plus), "EMF+"),
            (emf(record(115, 1)), "mirrored"),
            (emf(frame=(0, 0, 0, 0)), "size"),
            (emf(brush(1, RED))[:-20], "end"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Unpainted, words):
                painted_metafile(data)

    @settings(max_examples=60)
    @given(st.binary(max_size=200), st.integers(0, 130), st.integers(0, 60))
    def test_whatever_its_bytes_nothing_else_is_raised(self, junk, kind, size) -> None:
        damaged = struct.pack("<II", kind, 8 + size) + junk
        try:
            painted_metafile(emf(damaged))
        except Unpainted:
            pass


def wmf_record(kind: int, *values: int, more: bytes = b"") -> bytes:
    inside = struct.pack(f"<{len(values)}h", *values) + more
    inside += b"\0" * (len(inside) % 2)
    return struct.pack("<IH", 3 + len(inside) // 2, kind) + inside


def wmf(*records: bytes, placeable: bool = True) -> bytes:
    start = b""
    if placeable:
        start = b"\xd7\xcd\xc6\x9a" + struct.pack("<H4hHIH", 0, 0, 0, 1000, 500, 500, 0, 0)
    return (
        start + struct.pack("<HHHIHIH", 1, 9, 0x300, 0, 8, 0, 0) + b"".join(records)
        + wmf_record(0)
    )  # fmt: skip


WINDOW = wmf_record(0x020B, 0, 0) + wmf_record(0x020C, 500, 1000)


def wmf_brush(levels: tuple[int, int, int], number: int) -> bytes:
    made = wmf_record(0x02FC, 0, more=struct.pack("<Ih", colour(levels), 0))
    return made + wmf_record(0x012D, number)


BARE_PEN = wmf_record(0x02FA, 5, 0, 0, more=struct.pack("<I", 0)) + wmf_record(0x012D, 0)


class Windows(Painted):
    def test_boxes_and_polygons(self) -> None:
        data = wmf(
            WINDOW, BARE_PEN, wmf_brush(RED, 1), wmf_record(0x041B, 500, 500, 0, 0),
            wmf_brush(BLUE, 2), wmf_record(0x0324, 3, 500, 0, 1000, 0, 1000, 500),
        )  # fmt: skip
        found = painted_metafile(data)
        self.assertEqual(metafile_size(data), (144.0, 72.0))
        self.assert_at(found, 0.25, 0.5, RED)
        self.assert_at(found, 0.9, 0.2, BLUE)
        self.assert_nothing_at(found, 0.6, 0.8)

    def test_without_a_header_of_its_own_the_first_window_is_its_size(self) -> None:
        data = wmf(WINDOW, BARE_PEN, wmf_brush(GREEN, 1), wmf_record(0x0418, 500, 1000, 0, 0),
                   placeable=False)  # fmt: skip
        self.assertTrue(is_metafile(data))
        self.assertEqual(metafile_size(data), (50.0, 25.0))
        self.assert_at(painted_metafile(data), 0.5, 0.5, GREEN)

    def test_numbers_of_objects_are_used_again(self) -> None:
        data = wmf(
            WINDOW, BARE_PEN, wmf_brush(RED, 1), wmf_record(0x01F0, 1), wmf_brush(BLUE, 1),
            wmf_record(0x041B, 500, 1000, 0, 0),
        )  # fmt: skip
        self.assert_at(painted_metafile(data), 0.5, 0.5, BLUE)

    def test_a_ground_and_what_mixes(self) -> None:
        white = wmf_record(0x061D, more=struct.pack("<I4h", 0xFF0062, 500, 1000, 0, 0))
        self.assert_at(painted_metafile(wmf(WINDOW, white)), 0.5, 0.5, WHITE)
        turned = wmf_record(0x061D, more=struct.pack("<I4h", 0x550009, 500, 1000, 0, 0))
        with self.assertRaisesRegex(Unpainted, "mixes"):
            painted_metafile(wmf(WINDOW, turned))

    def test_many_objects_are_made_in_no_time(self) -> None:
        pens = [wmf_record(0x02FA, 5, 0, 0, more=struct.pack("<I", 0))] * 60_000
        began = time.monotonic()
        painted_metafile(wmf(WINDOW, *pens))
        # Looking through all those before for a free number would take minutes.
        self.assertLess(time.monotonic() - began, 8.0)

    def test_very_many_cuts_are_refused(self) -> None:
        cut = wmf_record(0x0416, 500, 900, 0, 0)
        red = [BARE_PEN, wmf_brush(RED, 1), wmf_record(0x041B, 500, 1000, 0, 0)]
        found = painted_metafile(wmf(WINDOW, *[cut] * 100, *red))
        self.assert_at(found, 0.5, 0.5, RED)
        self.assert_nothing_at(found, 0.95, 0.5)
        with self.assertRaisesRegex(Unpainted, "very often"):
            painted_metafile(wmf(WINDOW, *[cut] * 1_000, *red))

    def test_what_takes_too_long_is_given_up(self) -> None:
        box = wmf_record(0x041B, 500, 1000, 0, 0)
        with (
            patch("high_pair.raster.metafiles.records.MOST_SECONDS", 0.2),
            self.assertRaisesRegex(Unpainted, "too long"),
        ):
            painted_metafile(wmf(WINDOW, wmf_brush(RED, 1), *[box] * 100_000))

    @settings(max_examples=60)
    @given(
        st.binary(max_size=200), st.sampled_from([0x0324, 0x0538, 0x0A32, 0x0F43, 0x02FB, 0x0521])
    )
    def test_whatever_its_bytes_nothing_else_is_raised(self, junk, kind) -> None:
        try:
            painted_metafile(wmf(WINDOW, wmf_record(kind, more=junk)))
        except Unpainted:
            pass


def svg(inside: str, more: str = 'viewBox="0 0 100 50"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {more}>{inside}</svg>'.encode()


class Drawings(Painted):
    def test_styles_gradients_and_what_is_left_see_through(self) -> None:
        data = svg(
            "<style>.a{fill:#f00}</style><rect class='a' width='50' height='25'/>"
            "<defs><linearGradient id='g'><stop offset='0' stop-color='#000'/>"
            "<stop offset='1' stop-color='#fff'/></linearGradient></defs>"
            "<rect y='25' width='100' height='25' fill='url(#g)'/>"
        )
        self.assertTrue(is_svg(data))
        found = painted_svg(data)
        self.assert_at(found, 0.25, 0.25, RED)
        self.assert_nothing_at(found, 0.75, 0.25)
        # In the middle of its way from black to white.
        self.assertAlmostEqual(self.at(found, 0.5, 0.75)[0], 127.5, delta=2)

    def test_its_size_in_points(self) -> None:
        for more, size in (
            ('width="100" height="50"', (75, 37.5)),
            ('width="1in" viewBox="0 0 100 50"', (72, 36)),
            ('viewBox="0 0 100 50"', (75, 37.5)),
            ('width="100%" height="100%" viewBox="0 0 40 20"', (30, 15)),
            ("", (225, 112.5)),
        ):
            with self.subTest(more):
                width, height = svg_size(svg("", more))
                self.assertAlmostEqual(width, size[0], places=3)
                self.assertAlmostEqual(height, size[1], places=3)

    def test_nothing_is_fetched_or_read_from_elsewhere(self) -> None:
        for inside in (
            '<image href="https://example.org/a.png" width="9" height="9"/>',
            '<image href="/etc/hostname" width="9" height="9"/>',
            '<image xmlns:x="http://www.w3.org/1999/xlink" x:href="file:///a.png" width="9"/>',
            '<use href="other.svg#a"/>',
        ):
            with self.subTest(inside), self.assertRaisesRegex(Unpainted, "isn't in it"):
                painted_svg(svg(inside))
        link = svg('<a href="https://example.org/"><rect width="100" height="50" fill="#f00"/></a>')
        self.assert_at(painted_svg(link), 0.5, 0.5, RED)

    def test_entities_and_damage_are_refused(self) -> None:
        bomb = b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>' + svg("&b;")
        for data in (bomb, svg("<rect"), svg("", 'viewBox="0 0 0 0"'), b"<svg>"):
            with self.assertRaises(Unpainted):
                painted_svg(data)

    def test_a_short_one_that_asks_for_endless_painting_is_given_up(self) -> None:
        # Ten times the one before, eight times over.
        used = "".join(
            f"<g id='g{level}'>" + f"<use href='#g{level - 1}'/>" * 10 + "</g>"
            for level in range(1, 9)
        )
        data = svg(f"<defs><rect id='g0' width='9' height='9'/>{used}</defs><use href='#g8'/>")
        began = time.monotonic()
        with (
            patch("high_pair.raster.svg.MOST_SECONDS", 1.0),
            self.assertRaisesRegex(Unpainted, "too long|too much memory"),
        ):
            painted_svg(data)
        self.assertLess(time.monotonic() - began, 5.0)

    def test_a_document_type_without_entities_is_usual(self) -> None:
        data = (
            b'<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" '
            b'"http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">'
            + svg('<rect width="100" height="50" fill="#f00"/>')
        )
        self.assert_at(painted_svg(data), 0.5, 0.5, RED)


class InFiles(SlideRules):
    def measured(self, data: bytes, name: str):
        blip = slide_picture("rId9", xfrm(40, 40, 400, 200))
        words = shape(body(run(inner=solid("FFFFFF"))), place=xfrm(60, 60, 300, 60))
        return self.only(
            blip + words,
            slide_rels={"rId9": ("image", f"../media/{name}")},
            more={f"ppt/media/{name}": data},
        )

    def test_text_over_them_is_measured_on_what_they_paint(self) -> None:
        metafile = emf(NO_PEN, brush(1, (0x20, 0x30, 0x40)), record(43, 0, 0, 1000, 500))
        self.assert_colours(self.measured(metafile, "a.emf"), "FFFFFF", "203040")
        drawing = svg('<rect width="100" height="50" fill="#203040"/>')
        self.assert_colours(self.measured(drawing, "a.svg"), "FFFFFF", "203040")

    def test_text_over_what_isnt_painted_needs_eyes_with_the_reason(self) -> None:
        hatched = emf(brush(1, RED, kind=2), record(43, 0, 0, 1000, 500))
        pair = self.measured(hatched, "a.emf")
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("hatches", pair.reason)

    def test_after_many_slow_ones_no_further_ones_are_painted(self) -> None:
        pictures = Pictures(lambda _name: svg("<rect width='100' height='50' fill='#f00'/>"))
        with (
            patch("high_pair.raster.pictures.USUAL_SECONDS", 0.0),
            patch("high_pair.raster.pictures.MOST_SECONDS", 0.01),
        ):
            pictures.decoded("first.svg")
            with self.assertRaisesRegex(PictureProblem, "took too long"):
                pictures.decoded("second.svg")
            pictures.decoded("first.svg")

    def test_their_size_in_points_is_known(self) -> None:
        pictures = Pictures(lambda _name: svg("", 'width="1in" height="2in"'))
        self.assertEqual(pictures.size_in_points("a.svg"), (72.0, 144.0))
        self.assertIsNone(vector_of(b"\x89PNG"))
        with self.assertRaises(PictureProblem):
            Pictures(lambda _name: b"<svg").size_in_points("a.svg")


if __name__ == "__main__":
    unittest.main()
