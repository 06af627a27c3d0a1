"""Hostile and damaged files give one clear line, quickly; nothing is fetched, nothing unpacked."""

import io
import random
import resource
import socket
import struct
import time
import unittest
import zipfile
import zlib
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.errors import HighPairError, UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.xml import parse
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    NS,
    DeckFolder,
    body,
    flat_picture,
    members,
    pack,
    pairs_of,
    picture,
    run,
    shape,
    solid,
    xfrm,
)

SECONDS = 5.0


def huge_png(width: int, height: int) -> bytes:
    """Give a small PNG file that says it is enormous."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        check = struct.pack(">I", zlib.crc32(kind + data))
        return struct.pack(">I", len(data)) + kind + data + check

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    pixels = zlib.compress(b"\0" * 100_000)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", pixels) + chunk(b"IEND", b"")
    )


class HostileFiles(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def assert_refused(self, data: bytes, words: str, name: str = "bad.pptx") -> None:
        path = self.folder.write(data, name)
        start = time.monotonic()
        with self.assertRaises(UnreadableFile) as caught:
            document = open_document(path)
            try:
                measured(document, 0, Asked())
            finally:
                document.close()
        self.assertLess(time.monotonic() - start, SECONDS)
        message = str(caught.exception)
        self.assertTrue(message.startswith(f"{name}: "), message)
        self.assertIn(words, message)
        self.assertNotIn("\n", message)

    def test_what_is_no_slide_file(self):
        self.assert_refused(b"%PDF-1.7 and so on", "it is no deck")
        self.assert_refused(b"", "empty")
        self.assert_refused(pack({"mimetype": b"application/zip"}), "without a deck")

    def test_a_deck_that_says_it_is_a_document_is_refused(self):
        parts = members()
        parts["[Content_Types].xml"] = (
            parts["[Content_Types].xml"]
            .replace(b"presentationml.presentation.main", b"wordprocessingml.document.main")
            .replace(b"officedocument.presentationml", b"officedocument.wordprocessingml")
        )
        self.assert_refused(pack(parts), "no text document")

    def test_decks_of_every_kind_are_told_by_their_content(self):
        for kind in (
            "vnd.openxmlformats-officedocument.presentationml.template.main+xml",
            "vnd.openxmlformats-officedocument.presentationml.slideshow.main+xml",
            "vnd.ms-powerpoint.presentation.macroEnabled.main+xml",
            "vnd.ms-powerpoint.template.macroEnabled.main+xml",
        ):
            parts = members(shape(body(run())))
            parts["[Content_Types].xml"] = parts["[Content_Types].xml"].replace(
                b"vnd.openxmlformats-officedocument.presentationml.presentation.main+xml",
                kind.encode(),
            )
            with self.subTest(kind):
                self.assertEqual(len(pairs_of(self.folder.write(pack(parts)))), 1)

    def test_an_encrypted_or_binary_file(self):
        self.assert_refused(bytes.fromhex("D0CF11E0A1B11AE1") + b"\0" * 600, "encrypted")

    def test_a_missing_file_and_a_folder(self):
        for path in (self.folder.path / "none.pptx", self.folder.path):
            with self.subTest(path.name), self.assertRaises(UnreadableFile):
                open_document(path)

    def test_a_broken_zip(self):
        whole = pack(members(shape(body(run()))))
        self.assert_refused(whole[: len(whole) // 2], "damaged")

    def test_broken_xml(self):
        for member in ("ppt/slides/slide1.xml", "ppt/presentation.xml", "_rels/.rels"):
            parts = members(shape(body(run())))
            parts[member] = parts[member][:-20]
            with self.subTest(member):
                self.assert_refused(pack(parts), "broken XML")

    def test_an_xml_bomb(self):
        bomb = (
            '<!DOCTYPE b [<!ENTITY a "aaaaaaaaaa">'
            + "".join(f'<!ENTITY {chr(98 + n)} "{f"&{chr(97 + n)};" * 10}">' for n in range(9))
            + f"]><p:sld {NS}>&j;</p:sld>"
        )
        parts = members()
        parts["ppt/slides/slide1.xml"] = bomb.encode()
        self.assert_refused(pack(parts), "ppt/slides/slide1.xml")

    def test_a_document_type_even_without_entities(self):
        with self.assertRaisesRegex(UnreadableFile, "document type"):
            parse(b"<!DOCTYPE a SYSTEM 'http://example.invalid/a.dtd'><a/>", "f", "m")

    def test_a_zip_bomb(self):
        parts = members()
        parts["ppt/slides/slide1.xml"] = b"<a>" + b" " * (60 * 1024 * 1024)
        self.assert_refused(pack(parts), "unpack to")

    def test_a_member_that_lies_about_its_size(self):
        parts = members()
        parts["ppt/slides/slide1.xml"] = b"<a>" + b" " * (70 * 1024 * 1024)
        data = bytearray(pack(parts))
        real = struct.pack("<I", len(parts["ppt/slides/slide1.xml"]))
        said = struct.pack("<I", 4000)
        at = data.find(real)
        while at >= 0:
            data[at : at + 4] = said
            at = data.find(real)
        self.assert_refused(bytes(data), "ppt/slides/slide1.xml")

    def test_names_that_point_outside(self):
        for name in ("../../evil.xml", "/etc/evil.xml", "ppt/..\\..\\evil.xml"):
            with self.subTest(name):
                self.assert_refused(pack({**members(), name: b"<a/>"}), "outside")

    def test_two_members_of_one_name(self):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as package, mock.patch("warnings.warn"):
            for name, data in members().items():
                package.writestr(name, data)
            package.writestr("ppt/slides/slide1.xml", b"<a/>")
        self.assert_refused(out.getvalue(), "two parts")

    def test_a_giant_picture(self):
        before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        data = pack(
            members(
                picture("rId5", xfrm(0, 0, 720, 405)),
                slide_rels={"rId5": ("image", "../media/image1.png")},
                more={"ppt/media/image1.png": huge_png(50_000, 50_000)},
            )
        )
        self.assert_refused(data, "ppt/media/image1.png")
        grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before
        self.assertLess(grown, 1024 * 1024, "kibibytes")

    def test_very_deep_nesting(self):
        deep = "<p:grpSp>" * 3000 + "</p:grpSp>" * 3000
        parts = members(deep)
        with self.assertRaises(UnreadableFile):
            pairs_of(self.folder.write(pack(parts)))

    def test_opening_and_measuring_makes_no_network_request(self):
        path = self.folder.deck(
            shape(body(run(inner='<a:hlinkClick r:id="rId5"/>')))
            + picture("rId6", xfrm(0, 0, 9, 9)),
            slide_rels={
                "rId5": ("hyperlink", "http://ferries.invalid/"),
                "rId6": ("image", "http://ferries.invalid/picture.png"),
            },
        )
        with mock.patch.object(socket, "socket", side_effect=AssertionError("network")):
            self.assertEqual(len(pairs_of(path)), 1)


class LostParts(unittest.TestCase):
    """A missing part: what is there is read, and what was assumed is said."""

    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def without(self, *names: str) -> tuple:
        parts = members(shape(body(run(inner=solid("336699")))))
        for name in names:
            del parts[name]
        document = open_document(self.folder.write(pack(parts)))
        self.addCleanup(document.close)
        return measured(document, 0, Asked()).pairs, document.assumed()

    def test_no_theme(self):
        pairs, assumed = self.without("ppt/theme/theme1.xml")
        self.assertEqual(pairs[0].numbers.foreground, "#336699")
        self.assertTrue(any("theme is missing" in sentence for sentence in assumed))

    def test_no_layout(self):
        pairs, assumed = self.without("ppt/slideLayouts/slideLayout1.xml")
        self.assertEqual(len(pairs), 1)
        self.assertTrue(any("no layout" in sentence for sentence in assumed))

    def test_no_master(self):
        pairs, assumed = self.without("ppt/slideMasters/slideMaster1.xml")
        self.assertEqual(len(pairs), 1)
        self.assertTrue(any("no master" in sentence for sentence in assumed))

    def test_a_slide_that_is_listed_and_not_there(self):
        parts = members()
        del parts["ppt/slides/slide1.xml"]
        document = open_document(self.folder.write(pack(parts)))
        self.addCleanup(document.close)
        self.assertEqual(document.pages, ())
        self.assertTrue(any("left out" in sentence for sentence in document.assumed()))

    def test_text_over_a_picture_that_is_lost_or_damaged_needs_eyes(self):
        shapes = picture("rId5", xfrm(0, 0, 720, 405)) + shape(body(run()))
        rels = {"rId5": ("image", "../media/image1.png")}
        damaged = flat_picture((1, 2, 3), (200, 200))[:60]
        for more in ({}, {"ppt/media/image1.png": damaged}, {"ppt/media/image1.png": b"EMF?"}):
            with self.subTest(len(more)):
                (pair,) = pairs_of(self.folder.deck(shapes, slide_rels=rels, more=more))
                self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
                self.assertIn("picture", pair.reason)


class Mutations(unittest.TestCase):
    """Seeded damage: a file is read or refused, never a crash."""

    def test_flipped_bytes_and_odd_numbers(self):
        rng = random.Random(7)
        folder = DeckFolder()
        self.addCleanup(folder.close)
        shapes = shape(body(run(inner=solid("336699"))), fill=solid("accent1")) + picture(
            "rId5", xfrm(10, 10, 100, 100)
        )
        options = {
            "slide_rels": {"rId5": ("image", "../media/image1.png")},
            "more": {"ppt/media/image1.png": flat_picture((9, 9, 9))},
        }
        whole = members(shapes, **options)
        odd = [b"-1", b"99999999999999999999", b"", b"NaN", b"1e309", b"0", b"\xff", b"x"]
        for count in range(120):
            parts = dict(whole)
            name = rng.choice(sorted(parts))
            data = bytearray(parts[name])
            if count % 3 == 0:
                for _ in range(rng.randint(1, 5)):
                    data[rng.randrange(len(data))] = rng.randrange(256)
            elif count % 3 == 1:
                pieces = bytes(data).split(b'"')
                for at in range(1, len(pieces), 2):
                    if rng.random() < 0.2:
                        pieces[at] = rng.choice(odd)
                data = bytearray(b'"'.join(pieces))
            else:
                del data[rng.randrange(len(data)) :]
            parts[name] = bytes(data)
            with self.subTest(count):
                self.read_or_refuse(folder.write(pack(parts)))

    def read_or_refuse(self, path) -> None:
        try:
            document = open_document(path)
        except HighPairError:
            return
        try:
            for page in range(len(document.pages)):
                measured(document, page, Asked())
        except HighPairError:
            pass
        finally:
            document.close()

    @settings(max_examples=60, deadline=None)
    @given(st.binary(max_size=300))
    def test_any_bytes_are_parsed_or_refused(self, data):
        try:
            parse(data, "file", "member")
        except UnreadableFile:
            pass


if __name__ == "__main__":
    unittest.main()
