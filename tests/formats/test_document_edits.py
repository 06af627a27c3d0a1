"""Changing documents: at the run, the style, the list, the theme; and nothing else in the file."""

import unittest
import zipfile

from docx import Document as OtherLibrary
from lxml import etree

from high_pair.edits.kinds import RecolourFill, RecolourOrigin, RecolourText, Restyle
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import Backdrop, Recolour, Restyled
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.origins import remedies_at
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import ratio_by_hand
from tests.documents import (
    MAIN,
    DocumentFolder,
    anchored,
    cell,
    colour,
    document_pairs,
    paragraph,
    rpr,
    run,
    shade,
    shape,
    style,
    table,
    text,
)

PALE = colour("AAAAAA")
OTHERS = {
    "word/charts/chart1.xml": b"<c:chartSpace xmlns:c='x'/>",
    "word/vbaProject.bin": bytes(range(256)),
    "word/unknown/part7.data": b"anything \x00 at all",
}


def w(name: str) -> str:
    return f"{{{MAIN}}}{name}"


class Edits(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DocumentFolder()
        self.addCleanup(self.folder.close)

    def opened(self, body: str, **options: object):
        document = open_document(self.folder.document(body, **options))
        self.addCleanup(document.close)
        return document

    def after(self, document, *edits) -> dict[str, Pair]:
        """Give the pairs of the saved copy by their words."""
        target = self.folder.path / "copy.docx"
        document.edited(edits).save(target)
        return {pair.text.strip(): pair for pair in document_pairs(target)}

    def part(self, member: str) -> etree._Element:
        with zipfile.ZipFile(self.folder.path / "copy.docx") as copy:
            return etree.fromstring(copy.read(member))

    def pairs(self, document) -> dict[str, Pair]:
        return {p.text.strip(): p for p in measured(document, 0, Asked()).pairs}


class Recolouring(Edits):
    def test_a_run_gets_a_colour_where_the_schema_wants_it_and_loses_the_themes(self):
        mark = '<w:color w:val="AAAAAA" w:themeColor="accent3"/><w:sz w:val="24"/>'
        document = self.opened(text("Word", "<w:b/>" + mark))
        pair = self.pairs(document)["Word"]
        after = self.after(document, RecolourText(pair.address, (0x22, 0x44, 0x66)))
        self.assertEqual(after["Word"].numbers.foreground, "#224466")
        properties = self.part("word/document.xml").find(f".//{w('r')}/{w('rPr')}")
        self.assertEqual([each.tag for each in properties], [w("b"), w("color"), w("sz")])
        self.assertEqual(dict(properties[1].attrib), {w("val"): "224466"})

    def test_neighbouring_runs_of_one_look_change_together_and_others_stay(self):
        body = paragraph(run("Pale ", PALE) + run("words", PALE) + run(" dark", colour("111111")))
        document = self.opened(body)
        pair = self.pairs(document)["Pale words"]
        self.assertEqual(pair.address, "word/document.xml#p=1/r=1-2")
        after = self.after(document, RecolourText(pair.address, (0x22, 0x44, 0x66)))
        self.assertEqual(after["Pale words"].numbers.foreground, "#224466")
        self.assertEqual(after["dark"].numbers.foreground, "#111111")

    def test_all_runs_of_a_field_take_the_colour_of_its_result(self):
        mark = '<w:r>{}<w:fldChar w:fldCharType="{}"/></w:r>'
        pale = rpr(PALE)

        def field(code: str, result: str) -> str:
            return (
                mark.format(pale, "begin")
                + f"<w:r>{pale}<w:instrText>{code}</w:instrText></w:r>"
                + mark.format(pale, "separate")
                + result
                + mark.format(pale, "end")
            )

        inner = field("PAGEREF a", run("Nine", PALE))
        body = paragraph(
            field("REF b", run("Outer", colour("111111")) + inner) + run(" tail", colour("BBBBBB"))
        )
        document = self.opened(body)
        pair = self.pairs(document)["Nine"]
        self.after(document, RecolourText(pair.address, (0x22, 0x44, 0x66)))
        colours = [
            run.find(f"{w('rPr')}/{w('color')}").get(w("val"))
            for run in self.part("word/document.xml").iter(w("r"))
        ]
        outer, own = ["AAAAAA"] * 3 + ["111111"], ["224466"] * 5
        self.assertEqual(colours, [*outer, *own, "AAAAAA", "BBBBBB"])

    def test_every_other_member_stays_as_it_was_to_the_byte(self):
        path = self.folder.document(text("Word", PALE), more=OTHERS)
        document = open_document(path)
        self.addCleanup(document.close)
        self.after(document, RecolourText("word/document.xml#p=1/r=1", (1, 2, 3)))
        with zipfile.ZipFile(path) as one, zipfile.ZipFile(self.folder.path / "copy.docx") as other:
            self.assertEqual(one.namelist(), other.namelist())
            for name in one.namelist():
                same = one.read(name) == other.read(name)
                self.assertEqual(same, name != "word/document.xml", name)

    def test_another_library_reads_the_copy_and_sees_the_colour(self):
        original = OtherLibrary()
        written = original.add_paragraph("Sailings may be late")
        path = self.folder.path / "other.docx"
        original.save(str(path))
        document = open_document(path)
        self.addCleanup(document.close)
        address = self.pairs(document)["Sailings may be late"].address
        target = self.folder.path / "copy.docx"
        document.edited([RecolourText(address, (0x22, 0x44, 0x66))]).save(target)
        again = OtherLibrary(str(target))
        self.assertEqual(again.paragraphs[0].text, written.text)
        self.assertEqual(str(again.paragraphs[0].runs[0].font.color.rgb), "224466")

    def test_a_style_a_part_of_a_tables_style_and_the_defaults(self):
        styles = style("S", "paragraph", rpr(PALE))
        styles += style(
            "Grid",
            "table",
            f'<w:tblStylePr w:type="firstRow">{rpr(colour("BBBBBB"))}</w:tblStylePr>',
        )
        look = '<w:tblStyle w:val="Grid"/><w:tblLook w:firstRow="1" w:noHBand="1" w:noVBand="1"/>'
        body = (
            text("Styled", "", '<w:pStyle w:val="S"/>')
            + text("Plain")
            + table(cell(text("Head")), cell(text("Below")), properties=look, columns=1)
        )
        document = self.opened(body, styles=styles, defaults=colour("999999"))
        pairs = self.pairs(document)
        for words, code in (("Styled", "AAAAAA"), ("Head", "BBBBBB"), ("Plain", "999999")):
            decider = pairs[words].deciders[0]
            self.assertEqual(pairs[words].numbers.foreground, f"#{code}")
            after = self.after(document, RecolourOrigin(decider.address, (0x11, 0x22, 0x33)))
            self.assertEqual(after[words].numbers.foreground, "#112233", decider)

    def test_the_theme_and_a_list(self):
        numbering = (
            '<w:abstractNum w:abstractNumId="7"><w:lvl w:ilvl="0"><w:numFmt w:val="decimal"/>'
            f'<w:lvlText w:val="%1."/>{rpr(PALE)}</w:lvl></w:abstractNum>'
            '<w:num w:numId="4"><w:abstractNumId w:val="7"/></w:num>'
        )
        listed = '<w:numPr><w:ilvl w:val="0"/><w:numId w:val="4"/></w:numPr>'
        body = text("Item", '<w:color w:val="0" w:themeColor="accent3"/>', listed)
        document = self.opened(body, numbering=numbering)
        pairs = self.pairs(document)
        after = self.after(document, RecolourText(pairs["1."].address, (0x11, 0x22, 0x33)))
        self.assertEqual(after["1."].numbers.foreground, "#112233")
        decider = pairs["Item"].deciders[-1]
        self.assertEqual(decider.address, "word/theme/theme1.xml#slot=accent3")
        after = self.after(document, RecolourOrigin(decider.address, (0x44, 0x22, 0x33)))
        self.assertEqual(after["Item"].numbers.foreground, "#442233")

    def test_what_a_change_in_a_style_does_elsewhere_is_measured_before(self):
        styles = style("S", "paragraph", rpr(PALE))
        own = '<w:pStyle w:val="S"/>'
        body = (
            text("One", "", own) + text("Two", "", own) + text("On dark", "", own + shade("222222"))
        )
        document = self.opened(body, styles=styles)
        pair = self.pairs(document)["One"]
        found = remedies_at(pair.deciders[0], document, Asked(), document.edited)
        self.assertTrue(found.remedies)
        darker = found.remedies[0]
        self.assertEqual((darker.mended, darker.changed), (2, 3))
        self.assertEqual([words for words, _ in darker.broken], ["On dark"])


class Fills(Edits):
    def test_of_a_paragraph_a_cell_a_run_and_a_shape(self):
        grey = colour("FFFFFF")
        box = anchored(
            shape(text("Box", grey), '<a:solidFill><a:srgbClr val="BBBBBB"/></a:solidFill>')
        )
        body = (
            text("Para", grey, shade("BBBBBB"))
            + table(cell(text("Cell", grey), shade("BBBBBB")))
            + text("Run", grey + '<w:highlight w:val="lightGray"/>')
            + paragraph(box)
        )
        document = self.opened(body)
        member = "word/document.xml"
        wanted = {
            "Para": f"{member}#p=1/shd=1",
            "Cell": f"{member}#cell=1/shd=1",
            "Run": f"{member}#p=3/r=1/shd=1",
            "Box": f"{member}#sp=1/fill",
        }
        edits = [RecolourFill(address, (0x20, 0x30, 0x40)) for address in wanted.values()]
        after = self.after(document, *edits)
        for words in wanted:
            self.assertEqual(after[words].numbers.background, "#203040", words)
            self.assertIs(after[words].verdict, Verdict.PASSES)

    def test_bold_and_larger(self):
        document = self.opened(text("Word", PALE))
        edit = Restyle("word/document.xml#p=1/r=1", 18.0, True)
        after = self.after(document, edit)["Word"]
        self.assertEqual((after.size, after.weight, after.required), (18.0, 700, 3.0))

    def test_an_address_that_is_not_there_is_refused(self):
        document = self.opened(text("Word"))
        for steps in ("p=9/r=1", "p=1/r=9", "p=x", "cell=1/shd=1", "sp=3/fill", "q=1"):
            address = f"word/document.xml#{steps}"
            kind = RecolourFill if steps.endswith(("shd=1", "fill")) else RecolourText
            with self.assertRaises(EditError, msg=steps):
                document.edited([kind(address, (1, 2, 3))])
        for address in ("word/styles.xml#style=None", "word/numbering.xml#abs=1/lvl=0"):
            kind = RecolourOrigin if "style" in address else RecolourText
            with self.assertRaises(EditError):
                document.edited([kind(address, (1, 2, 3))])


class Remedies(Edits):
    def proposed(self, body: str, words: str, **options: object):
        document = self.opened(body, **options)
        pair = self.pairs(document)[words]
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        found = remedies_for([pair], document, PageBench(), Asked(), document.edited)
        return document, pair, found.remedies

    def test_each_one_offered_passes_in_the_saved_copy_with_the_ratio_shown(self):
        body = table(cell(text("Cancelled", colour("FFFFFF")), shade("E8A0A0")))
        document, pair, remedies = self.proposed(body, "Cancelled")
        kinds = {remedy.kind for remedy in remedies}
        self.assertTrue({"recolour", "recolour the backdrop", "plate"} <= kinds, kinds)
        for remedy in remedies:
            after = self.after(document, *edits_for(remedy, [pair]))["Cancelled"]
            self.assertIs(after.verdict, Verdict.PASSES, remedy.label)
            self.assertAlmostEqual(after.ratio, remedy.ratio, delta=0.05)

    def test_a_plate_is_the_runs_own_shading_and_the_nearest_that_passes(self):
        document, pair, remedies = self.proposed(text("Word", PALE), "Word")
        plates = [r for r in remedies if isinstance(r, Backdrop) and r.plate]
        self.assertEqual(len(plates), 1)
        code = "%02X%02X%02X" % plates[0].levels  # noqa: UP031
        self.assertGreaterEqual(ratio_by_hand("AAAAAA", code), 4.5)
        lighter = "%02X%02X%02X" % tuple(level + 2 for level in plates[0].levels)  # noqa: UP031
        self.assertLess(ratio_by_hand("AAAAAA", lighter), 4.5)
        after = self.after(document, *edits_for(plates[0], [pair]))["Word"]
        self.assertEqual(after.numbers.background, f"#{code}")

    def test_bold_where_that_alone_is_enough(self):
        _, _, remedies = self.proposed(
            text("Word", colour("888888") + '<w:sz w:val="28"/>'), "Word"
        )
        self.assertTrue([r for r in remedies if isinstance(r, Restyled) and r.bold])
        self.assertTrue([r for r in remedies if isinstance(r, Recolour)])


if __name__ == "__main__":
    unittest.main()
