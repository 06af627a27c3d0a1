"""A saved copy changes what was asked for and nothing else."""

import unittest
import zipfile
from pathlib import Path

from lxml import etree
from pptx import Presentation

from high_pair.edits.kinds import RecolourText
from high_pair.errors import EditError, UnreadableFile, UnwritableFile
from high_pair.formats import open_document
from high_pair.review.saving import save_copy
from high_pair.wcag.asked import Asked
from tests.decks import (
    THEME_COLOURS,
    DeckFolder,
    body,
    flat_picture,
    members,
    pack,
    pairs_of,
    ratio_by_hand,
    run,
    shape,
    solid,
)

SLIDE = "ppt/slides/slide1.xml"
EXTENSION = (
    '<a:extLst><a:ext uri="{unknown}"><keep xmlns="urn:made-up">me</keep></a:ext></a:extLst>'
)


def contents(path: Path) -> dict[str, bytes]:
    with zipfile.ZipFile(path) as package:
        return {info.filename: package.read(info) for info in package.infolist()}


class SavingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)
        self.target = self.folder.path / "copy.pptx"

    def save(self, source: Path, *edits: RecolourText) -> Path:
        document = open_document(source)
        try:
            document.edited(edits).save(self.target)
        finally:
            document.close()
        return self.target

    def test_all_other_members_are_byte_identical_with_place_and_date(self):
        more = {
            "ppt/media/image1.png": flat_picture((1, 2, 3)),
            "ppt/vbaProject.bin": bytes(range(256)) * 9,
            "ppt/notesSlides/notesSlide1.xml": b"<notes>kept  as it is</notes>",
            "customXml/item1.xml": b"<x   y='1'/>",
        }
        source = self.folder.deck(shape(body(run() + run(" more"))), more=more)
        before = source.read_bytes()
        self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (0, 0, 0)))
        self.assertEqual(source.read_bytes(), before)
        old, new = contents(source), contents(self.target)
        self.assertEqual(list(old), list(new))
        self.assertEqual({n for n in old if old[n] != new[n]}, {SLIDE})
        with zipfile.ZipFile(source) as one, zipfile.ZipFile(self.target) as other:
            for a, b in zip(one.infolist(), other.infolist(), strict=True):
                self.assertEqual(
                    (a.filename, a.date_time, a.compress_type),
                    (b.filename, b.date_time, b.compress_type),
                )

    def test_only_the_colour_changes_in_the_edited_part(self):
        rich = run("A", 'lang="de" sz="1400"', solid("777777") + '<a:latin typeface="Carlito"/>')
        source = self.folder.deck(shape(body(rich), name="Box &amp; more"), slide_tail=EXTENSION)
        self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (0x59, 0x59, 0x59)))
        old, new = contents(source)[SLIDE].decode(), contents(self.target)[SLIDE].decode()
        plain = [
            etree.tostring(etree.fromstring(text.encode()), method="c14n").decode()
            for text in (old, new)
        ]
        self.assertEqual(plain[1].replace("595959", "777777"), plain[0])
        self.assertIn('<keep xmlns="urn:made-up">me</keep>', new)
        self.assertIn('lang="de" sz="1400"', new)
        self.assertLess(new.index("595959"), new.index("a:latin"), "the schema's order")

    def test_a_colour_goes_where_the_schema_wants_it(self):
        """CT_TextCharacterProperties: the line, then the fill, then effects and fonts."""
        rich = run("A", inner='<a:ln/><a:effectLst/><a:latin typeface="Carlito"/>')
        source = self.folder.deck(shape(body(rich)))
        self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (0, 0, 0)))
        root = etree.fromstring(contents(self.target)[SLIDE])
        names = [etree.QName(each).localname for each in next(root.iter("{*}rPr"))]
        self.assertEqual(names, ["ln", "solidFill", "effectLst", "latin"])

    def test_it_measures_as_predicted(self):
        source = self.folder.deck(shape(body(run(inner=solid("AAAAAA")))))
        copy = self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (0x59, 0x59, 0x59)))
        (pair,) = pairs_of(copy)
        self.assertAlmostEqual(pair.numbers.ratio, ratio_by_hand("595959", "FFFFFF"), delta=0.001)

    def test_other_programs_open_the_copy(self):
        source = self.folder.path / "made.pptx"
        deck = Presentation()
        slide = deck.slides.add_slide(deck.slide_layouts[1])
        slide.shapes.title.text = "Muster"
        deck.save(str(source))
        self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (1, 2, 3)))
        found = (
            Presentation(str(self.target)).slides[0].shapes.title.text_frame.paragraphs[0].runs[0]
        )
        self.assertEqual(str(found.font.color.rgb), "010203")

    def test_a_span_of_runs_a_cell_and_a_bullet(self):
        bullet = (
            '<a:p><a:pPr><a:lnSpc><a:spcPct val="90000"/></a:lnSpc><a:buClr>'
            '<a:srgbClr val="CCCCCC"/></a:buClr><a:buChar char="•"/></a:pPr>'
            + run("One")
            + "</a:p>"
        )
        source = self.folder.deck(shape(body(run("A") + run("B"))) + shape(body(bullet)))
        copy = self.save(
            source,
            RecolourText(f"{SLIDE}#sp=1/p=1/r=1-2", (0x11, 0x22, 0x33)),
            RecolourText(f"{SLIDE}#sp=2/p=1/bullet=1", (0x44, 0x55, 0x66)),
        )
        found = {pair.text: pair.numbers.foreground for pair in pairs_of(copy)}
        self.assertEqual(found["AB"], "#112233")
        self.assertEqual(found["•"], "#445566")

    def test_a_recoloured_link_keeps_its_own_colour_in_other_programs(self):
        link = run("Read", inner='<a:hlinkClick r:id="rId5"/>')
        source = self.folder.deck(
            shape(body(link)), slide_rels={"rId5": ("hyperlink", "http://ferries.invalid/")}
        )
        (before,) = pairs_of(source)
        self.assertEqual(before.numbers.foreground, f"#{THEME_COLOURS['hlink']}")
        copy = self.save(source, RecolourText(before.address, (0x12, 0x34, 0x56)))
        (after,) = pairs_of(copy)
        self.assertEqual(after.numbers.foreground, "#123456")
        self.assertIn("{A12FA001-AC4F-418D-AE19-62706E023703}", contents(copy)[SLIDE].decode())

    def test_opacity_is_written(self):
        source = self.folder.deck(shape(body(run())))
        copy = self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (0, 0, 0), 0.5))
        self.assertEqual(pairs_of(copy)[0].numbers.foreground, "#808080")

    def test_a_strict_package_stays_strict(self):
        parts = members(shape(body(run(inner=solid("AAAAAA")))))
        strict = {
            name: data.replace(
                b"http://schemas.openxmlformats.org/drawingml/2006/main",
                b"http://purl.oclc.org/ooxml/drawingml/main",
            )
            .replace(
                b"http://schemas.openxmlformats.org/presentationml/2006/main",
                b"http://purl.oclc.org/ooxml/presentationml/main",
            )
            .replace(
                b"http://schemas.openxmlformats.org/officeDocument/2006/relationships",
                b"http://purl.oclc.org/ooxml/officeDocument/relationships",
            )
            for name, data in parts.items()
        }
        source = self.folder.write(pack(strict))
        copy = self.save(source, RecolourText(f"{SLIDE}#sp=1/p=1/r=1", (0, 0, 0)))
        written = contents(copy)[SLIDE]
        self.assertIn(b"http://purl.oclc.org/ooxml/presentationml/main", written)
        self.assertNotIn(b"schemas.openxmlformats.org/presentationml", written)
        self.assertEqual(pairs_of(copy)[0].numbers.foreground, "#000000")

    def test_an_address_that_is_not_there_changes_nothing(self):
        source = self.folder.deck(shape(body(run())))
        document = open_document(source)
        self.addCleanup(document.close)
        for address in (
            f"{SLIDE}#sp=9/p=1/r=1",
            f"{SLIDE}#sp=1/p=4/r=1",
            f"{SLIDE}#sp=1/p=1/r=7",
            f"{SLIDE}#nonsense",
            "ppt/slides/slide99.xml#sp=1",
        ):
            with self.subTest(address), self.assertRaises(EditError):
                document.edited([RecolourText(address, (0, 0, 0))])

    def test_the_source_is_never_the_target(self):
        source = self.folder.deck(shape(body(run())))
        document = open_document(source)
        self.addCleanup(document.close)
        with self.assertRaisesRegex(UnwritableFile, "another name"):
            save_copy(document, source, source, (), (), Asked())

    def test_a_folder_that_is_not_there(self):
        document = open_document(self.folder.deck(shape(body(run()))))
        self.addCleanup(document.close)
        with self.assertRaisesRegex(UnwritableFile, "nothing was changed"):
            document.save(self.folder.path / "none" / "copy.pptx")

    def test_nothing_is_left_behind_when_writing_fails(self):
        # A damaged member of no slide's: the deck can be measured, but not copied whole.
        parts = members(shape(body(run())), more={"docProps/thumbnail.bin": bytes(5000)})
        data = bytearray(pack(parts))
        at = data.find(b"docProps/thumbnail.bin") + 40
        data[at : at + 9] = b"\xff" * 9
        document = open_document(self.folder.write(bytes(data)))
        self.addCleanup(document.close)
        with self.assertRaises(UnreadableFile):
            document.save(self.target)
        self.assertEqual([p.name for p in self.folder.path.iterdir()], ["test.pptx"])

    def test_a_copy_has_the_access_rights_of_its_source(self):
        source = self.folder.deck(shape(body(run())))
        source.chmod(0o640)
        self.save(source)
        self.assertEqual(self.target.stat().st_mode & 0o777, 0o640)


if __name__ == "__main__":
    unittest.main()
