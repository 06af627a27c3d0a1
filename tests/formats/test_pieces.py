"""The readers' pieces: XML helpers, relationships, transforms, gradients, paths, effects."""

import math
import unittest
import zipfile
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st
from lxml import etree

from high_pair.errors import UnwritableFile
from high_pair.formats.alternatives import chosen_children
from high_pair.formats.drawing.bullets import Numbering, number_label
from high_pair.formats.drawing.colours import Palette, preset_colour, resolve
from high_pair.formats.drawing.effects import Effects, read_effects
from high_pair.formats.drawing.gradients import stops_of
from high_pair.formats.drawing.paths import Pen
from high_pair.formats.drawing.surround import Position, page_surround
from high_pair.formats.drawing.theme import read_theme
from high_pair.formats.drawing.transforms import TRANSFORMS, Mixing, encoded_of, linear_of
from high_pair.formats.package import Package
from high_pair.formats.relationships import content_type_of, relationships_of
from high_pair.formats.writing import write_whole
from high_pair.formats.xml import (
    flag,
    is_strict,
    local_name,
    number,
    parse,
    serialise,
    share,
    whole,
)
from tests.decks import NS, DeckFolder, members, pack, theme_xml

unit = st.floats(0, 1)


def element(xml: str):
    """Parse a snippet in the usual namespaces."""
    return etree.fromstring(f"<root {NS}>{xml}</root>")[0]


class XmlHelpers(unittest.TestCase):
    def test_numbers_are_read_leniently(self):
        for text, expected in (
            ("12", 12),
            ("-3.5", -3.5),
            ("", 7),
            (None, 7),
            ("x", 7),
            ("1e999", 7),
            ("nan", 7),
        ):
            self.assertEqual(number(text, 7), expected)
        self.assertEqual(whole(etree.fromstring("<a n='12.9'/>"), "n"), 12)
        self.assertEqual(whole(None, "n", 5), 5)

    def test_percentages_in_both_notations(self):
        for text, expected in (
            ("50000", 0.5),
            ("50%", 0.5),
            ("-100000", -1.0),
            (None, 0.25),
            ("x", 0.25),
        ):
            self.assertAlmostEqual(share(text, 0.25), expected)

    def test_flags(self):
        for text, expected in (
            ("1", True),
            ("true", True),
            ("on", True),
            ("0", False),
            ("false", False),
            ("off", False),
        ):
            self.assertEqual(flag(etree.fromstring(f"<a f='{text}'/>"), "f"), expected)
        self.assertTrue(flag(etree.fromstring("<a/>"), "f", default=True))

    def test_comments_and_instructions_have_no_name(self):
        root = etree.fromstring("<a><!-- c --><?p i?><b/></a>")
        self.assertEqual([local_name(each) for each in root], ["", "", "b"])

    def test_a_parsed_part_is_written_as_it_was(self):
        data = b"<?xml version='1.0' encoding='UTF-8' standalone='yes'?>\n<a b=\"1\"><c>\xc3\xa9 &amp;</c></a>"
        self.assertEqual(serialise(parse(data, "f", "m")), data)
        self.assertTrue(is_strict(b'<a xmlns="http://purl.oclc.org/ooxml/drawingml/main"/>'))


class Packages(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def package(self, more: dict[str, bytes]) -> Package:
        package = Package(self.folder.write(pack({**members(), **more})))
        self.addCleanup(package.close)
        return package

    def test_the_names_of_members_are_gathered_once(self):
        # Gathering them at each question makes opening quadratic in the number of slides.
        package = self.package({"extra.bin": b""})
        self.assertIn("extra.bin", package.members)
        self.assertIs(package.members, package.members)

    def test_targets_resolve_against_their_folder_and_never_past_the_root(self):
        space = "http://schemas.openxmlformats.org/package/2006/relationships"
        entries = {
            "a": ("../media/x.png", "", "ppt/media/x.png", False),
            "b": ("/ppt/media/x.png", "", "ppt/media/x.png", False),
            "c": ("../../../../etc/passwd", "", "etc/passwd", False),
            "d": ("../media/a%20b.png", "", "ppt/media/a b.png", False),
            "e": (
                "http://ferries.invalid/",
                'TargetMode="External"',
                "http://ferries.invalid/",
                True,
            ),
        }
        inner = "".join(
            f'<Relationship Id="{k}" Type="x/image" Target="{target}" {mode}/>'
            for k, (target, mode, _, _) in entries.items()
        )
        package = self.package(
            {
                "ppt/slides/_rels/s.xml.rels": f'<Relationships xmlns="{space}">{inner}</Relationships>'.encode()
            }
        )
        found = relationships_of(package, "ppt/slides/s.xml")
        for key, (_, _, target, external) in entries.items():
            self.assertEqual(
                (found[key].kind, found[key].target, found[key].external),
                ("image", target, external),
            )
        self.assertEqual(relationships_of(package, "ppt/slides/none.xml"), {})

    def test_content_types_by_name_and_by_ending(self):
        package = self.package({})
        self.assertIn("presentation.main", content_type_of(package, "ppt/presentation.xml"))
        self.assertEqual(content_type_of(package, "ppt/media/image1.png"), "image/png")
        self.assertEqual(content_type_of(package, "x.unknown"), "")

    def test_a_failed_write_leaves_the_target_and_nothing_beside_it(self):
        target = self.folder.path / "copy.bin"
        target.write_bytes(b"before")

        def fail(out) -> None:
            out.write(b"half")
            raise OSError(28, "No space left on device")

        with self.assertRaisesRegex(UnwritableFile, "No space left"):
            write_whole(target, target, fail)
        self.assertEqual(target.read_bytes(), b"before")
        self.assertEqual([p.name for p in self.folder.path.iterdir()], ["copy.bin"])

    def test_a_copy_keeps_the_comment_of_the_archive(self):
        path = self.folder.path / "c.zip"
        with zipfile.ZipFile(path, "w") as out:
            out.comment = b"kept"
            out.writestr("a.bin", b"1")
        package = Package(path)
        self.addCleanup(package.close)
        package.write_copy(Path(self.folder.path / "d.zip"), {"a.bin": b"2"})
        with zipfile.ZipFile(self.folder.path / "d.zip") as copy:
            self.assertEqual((copy.comment, copy.read("a.bin")), (b"kept", b"2"))


class Transforms(unittest.TestCase):
    @given(st.tuples(unit, unit, unit))
    def test_those_that_change_nothing(self, rgb):
        mixing = Mixing(linear_of(rgb))
        for name in (
            "tint",
            "shade",
            "lumMod",
            "satMod",
            "hueMod",
            "redMod",
            "greenMod",
            "blueMod",
            "alphaMod",
        ):
            found = encoded_of(TRANSFORMS[name](mixing, 1.0).linear)
            for a, b in zip(found, rgb, strict=True):
                self.assertAlmostEqual(a, b, delta=1e-5)

    @given(st.tuples(unit, unit, unit), st.sampled_from(sorted(TRANSFORMS)), st.floats(-3, 3))
    def test_every_one_stays_within_srgb(self, rgb, name, value):
        found = TRANSFORMS[name](Mixing(linear_of(rgb), 0.5), value)
        self.assertTrue(all(-1e-9 <= channel <= 1 + 1e-9 for channel in encoded_of(found.linear)))
        self.assertTrue(0 <= found.opacity <= 1)

    @given(st.tuples(unit, unit, unit))
    def test_the_inverse_undoes_itself(self, rgb):
        mixing = Mixing(linear_of(rgb))
        twice = TRANSFORMS["inv"](TRANSFORMS["inv"](mixing, 0), 0)
        for a, b in zip(twice.linear, mixing.linear, strict=True):
            self.assertAlmostEqual(a, b)

    def test_unknown_forms_give_nothing(self):
        for xml in (
            '<a:srgbClr val="xyz"/>',
            '<a:prstClr val="no"/>',
            '<a:schemeClr val="phClr"/>',
            "<a:other/>",
        ):
            self.assertIsNone(resolve(element(xml), Palette()))
        self.assertIsNone(preset_colour("rgb(1,2,3)"))


class Themes(unittest.TestCase):
    def test_slots_fonts_and_lists(self):
        theme = read_theme(etree.fromstring(theme_xml()))
        self.assertEqual(theme.scheme["accent1"].levels, (0x44, 0x72, 0xC4))
        self.assertEqual(
            (theme.font("+mj-lt"), theme.font("+mn-ea"), theme.font("Caladea")),
            ("Carlito", "Carlito", "Caladea"),
        )
        self.assertEqual(
            (len(theme.fills), len(theme.lines), len(theme.effects), len(theme.backgrounds)),
            (3, 3, 3, 2),
        )
        self.assertTrue(read_theme(None).missing)


class Gradients(unittest.TestCase):
    def test_stops_are_ordered_completed_and_clipped(self):
        xml = (
            '<a:gradFill><a:gsLst><a:gs pos="150000"><a:srgbClr val="FFFFFF"/></a:gs><a:gs pos="20000">'
            '<a:srgbClr val="000000"/></a:gs><a:gs pos="50000"><a:schemeClr val="nosuch"/></a:gs></a:gsLst></a:gradFill>'
        )
        stops = stops_of(element(xml), Palette())
        self.assertEqual([stop.place for stop in stops], [0.0, 0.2, 1.0])
        self.assertEqual(stops[0].colour, stops[1].colour)


class Paths(unittest.TestCase):
    @given(
        st.floats(0, 21_600_000),
        st.floats(-21_600_000, 21_600_000),
        st.floats(1, 500),
        st.floats(1, 500),
    )
    def test_arcs_stay_on_their_ellipse_and_end_where_asked(self, start, sweep, width, height):
        def at(angle: float) -> tuple[float, float]:
            turn = angle / 21_600_000 * 2 * math.pi
            t = math.atan2(width * math.sin(turn), height * math.cos(turn))
            return width * math.cos(t), height * math.sin(t)

        pen = Pen()
        pen.move(*at(start))
        pen.arc(width, height, start, sweep)
        for step in pen.steps:
            x, y = step.points[-2:]
            self.assertAlmostEqual((x / width) ** 2 + (y / height) ** 2, 1.0, delta=1e-3)
        if abs(sweep) < 21_599_000 and sweep:
            for found, wanted in zip(pen.steps[-1].points[-2:], at(start + sweep), strict=True):
                self.assertAlmostEqual(found, wanted, delta=1e-3 * max(width, height))

    def test_a_path_that_does_not_begin_begins_at_the_corner(self):
        pen = Pen(2.0, 3.0)
        pen.line(4, 5)
        pen.close()
        pen.close()
        self.assertEqual(
            [(s.kind, s.points) for s in pen.steps],
            [("M", (0.0, 0.0)), ("L", (8.0, 15.0)), ("Z", ())],
        )


class EffectLists(unittest.TestCase):
    def test_what_is_painted_and_what_is_not(self):
        xml = (
            '<a:effectLst><a:outerShdw blurRad="127000" dist="127000" dir="5400000"><a:srgbClr val="000000"/>'
            '</a:outerShdw><a:glow rad="63500"/><a:softEdge rad="12700"/></a:effectLst>'
        )
        found = read_effects(element(xml), Palette())
        assert found.shadow is not None
        self.assertAlmostEqual(found.shadow.shadow.down, 10.0)
        self.assertAlmostEqual(found.shadow.shadow.across, 0.0)
        self.assertEqual((found.around, found.words, found.soft), (5.0, "glow", 1.0))
        self.assertFalse(found.inside)
        self.assertEqual(read_effects(element("<a:effectLst/>"), Palette()), Effects())


class Bullets(unittest.TestCase):
    def test_numbers_in_words_of_the_schemes(self):
        for scheme, count, label in (
            ("arabicPeriod", 3, "3."),
            ("arabicPlain", 3, "3"),
            ("arabicParenBoth", 3, "(3)"),
            ("alphaLcParenR", 28, "bb)"),
            ("alphaUcPeriod", 26, "Z."),
            ("romanUcPeriod", 1994, "MCMXCIV."),
            ("romanLcParenR", 4, "iv)"),
            ("thaiNumPeriod", 2, "2."),
        ):
            self.assertEqual(number_label(scheme, count), label)

    def test_counting_starts_anew_below_and_after_a_break(self):
        numbering = Numbering()
        counts = [numbering.next(0, "a", 1), numbering.next(0, "a", 1), numbering.next(1, "a", 1)]
        counts += [numbering.next(0, "a", 1), numbering.next(1, "a", 1)]
        self.assertEqual(counts, [1, 2, 1, 3, 1])
        numbering.skip(0)
        self.assertEqual(numbering.next(0, "a", 5), 5)


class Surrounds(unittest.TestCase):
    def test_text_is_turned_with_its_shape_and_never_mirrored(self):
        for flip_h, flip_v, turn in ((True, False, 0), (False, True, 180), (True, True, 180)):
            placed = page_surround().place(Position(0, 0, 25_400, 12_700, 0, flip_h, flip_v))
            upright = placed.upright
            determinant = upright.a * upright.d - upright.b * upright.c
            self.assertAlmostEqual(determinant, 1.0)
            self.assertAlmostEqual(upright.a, math.cos(math.radians(turn)))


class Alternatives(unittest.TestCase):
    def test_nothing_is_lost_when_no_branch_is_understood(self):
        xml = f'<a:x {NS}><mc:AlternateContent><mc:Choice Requires="zz"><a:y/></mc:Choice></mc:AlternateContent></a:x>'
        self.assertEqual(
            [local_name(each) for each in chosen_children(etree.fromstring(xml))], ["y"]
        )


if __name__ == "__main__":
    unittest.main()
