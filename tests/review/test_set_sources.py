"""Sets of web pages, OpenDocument styles and pictures: read, met on pages, mended, written back."""

import io
import unittest
import zipfile

import numpy as np
from docx import Document
from docx.enum.dml import MSO_THEME_COLOR
from docx.oxml.ns import qn as docx_name
from docx.shared import Pt as DocxPt
from lxml import etree
from openpyxl import Workbook
from openpyxl.styles import Color as XlsxColor
from openpyxl.styles import Font, PatternFill
from PIL import Image

from high_pair.colour.srgb import hex_of
from high_pair.formats import open_document
from high_pair.formats.derived_colours import derived
from high_pair.remedy.sets import mend_set
from high_pair.review.colour_sets import (
    edits_between,
    effect_of,
    pages_of,
    sets_of,
    with_pairs,
)
from high_pair.scene.colour_set import ColourSet
from high_pair.wcag.asked import Asked
from tests.decks import ratio_by_hand
from tests.odf_decks import graphic, style
from tests.odf_files import OdfFileTest, cell, p, paragraph, row, table, text
from tests.web_pages import QUICK, PageFolder

PAGE = """<!doctype html><html lang=en><head><meta charset=utf-8><title>Quay</title><style>
:root { --quay: #E0952B; --paper: #fff; --ink: var(--deep); --deep: #13232E; --gap: 12px;
  --veil: rgb(0 0 0 / 40%) }
@media print { :root { --quay: #000 } }
body { background-color: var(--paper); color: var(--ink); font: 16px Arial; text-indent: 10px }
.note { background: var(--quay); color: var(--paper) } .hint { color: #999999 }
.other { color: #999; }
</style></head><body><p class=note>Boarding at nine</p><p class=hint>Small hint</p>
<p class=other>Other hint</p><p>Plain</p></body></html>"""


def met(colours: ColourSet) -> dict[tuple[str, str], tuple[int, float]]:
    return {(each.text, each.backdrop): (each.places, each.required) for each in colours.pairs}


class MendedTest(unittest.TestCase):
    def mended(self, document, target) -> tuple[ColourSet, ColourSet]:
        """Mend the document's set, write it to a file, and give the set before and after."""
        before = pages_of(document, Asked())
        (colours,) = with_pairs(sets_of(document), document, before, Asked())
        found = mend_set(colours, derived)
        self.assertEqual(found.given_up, ())
        document.edited(edits_between(colours, found.colours)).save(target)
        copy = open_document(target)
        self.addCleanup(copy.close)
        effect = effect_of(before, pages_of(copy, Asked()))
        self.assertEqual((effect.falls_short_after, effect.breaks), (0, 0))
        self.assertGreater(effect.mends, 0)
        (after,) = sets_of(copy)
        # Names of colours that styles and rules state may tell of the colour itself.
        self.assertLessEqual(
            {each.levels for each in found.colours.colours}, {each.levels for each in after.colours}
        )
        return colours, found.colours


class WebPages(PageFolder, MendedTest):
    def test_custom_properties_and_declared_colours_are_one_set(self) -> None:
        document = self.page(PAGE)
        (colours,) = sets_of(document)
        named = {each.name: hex_of(each.levels) for each in colours.colours}
        # A length, what shows through, and what holds on paper alone are none.
        self.assertEqual(
            named,
            {"quay": "#E0952B", "paper": "#FFFFFF", "deep": "#13232E", ".hint color +1": "#999999"},
        )

    def test_the_copy_says_the_mended_colours_where_the_page_said_them(self) -> None:
        document = self.page(PAGE)
        target = self.folder / "copy.html"
        before, after = self.mended(document, target)
        self.assertEqual(
            met(before),
            {
                ("paper", "quay"): (1, 4.5),
                ("deep", "paper"): (1, 4.5),
                (".hint color +1", "paper"): (2, 4.5),
            },
        )
        written = target.read_text()
        for name, old in (
            ("quay", "--quay: #E0952B"),
            (".hint color +1", ".hint { color: #999999"),
        ):
            new = after.colour(name)
            assert new is not None
            self.assertNotIn(old, written)
            self.assertIn(old.rpartition("#")[0] + hex_of(new.levels), written)
        self.assertIn("@media print { :root { --quay: #000 } }", written)

    def test_a_page_that_states_no_colours_has_no_set(self) -> None:
        self.assertEqual(sets_of(self.page("<p>Words", QUICK)), ())


class OpenDocument(OdfFileTest, MendedTest):
    automatic = (
        style("Note", "paragraph", paragraph('fo:background-color="#1B4F72"')
              + text('fo:color="#335577" style:use-window-font-color="false"'))
        + style("Hint", "paragraph", text('fo:color="#aabbcc"'))
    )  # fmt: skip
    common = style("Lead", "paragraph", text('fo:color="#AABBCC"')) + style(
        "Box", "graphic", graphic('draw:fill-color="#123"')
    )

    def test_all_that_have_one_colour_are_one_in_every_part_and_style(self) -> None:
        path = self.write(p("Note", "Note") + p("Hint", "Hint") + p("Lead", "Lead"),
                          automatic=self.automatic, common=self.common)  # fmt: skip
        document = open_document(path)
        self.addCleanup(document.close)
        (colours,) = sets_of(document)
        named = {each.name: hex_of(each.levels) for each in colours.colours}
        self.assertEqual(named, {"Lead": "#AABBCC", "#1B4F72": "#1B4F72", "#335577": "#335577"})

    def test_a_mended_set_is_in_the_copys_styles(self) -> None:
        # A page colour of the file's own, on which the lighter texts stand.
        layout = 'fo:background-color="#FAFAF0"'
        path = self.write(p("Note", "Note") + p("Hint", "Hint") + p("Lead", "Lead"),
                          automatic=self.automatic, common=self.common, layout=layout)  # fmt: skip
        before = path.read_bytes()
        document = open_document(path)
        self.addCleanup(document.close)
        target = path.with_name("copy.odt")
        old, new = self.mended(document, target)
        self.assertEqual(path.read_bytes(), before)
        self.assertEqual(met(old)["Lead", "#FAFAF0"][0], 2)
        lead, page = new.colour("Lead"), new.colour("#FAFAF0")
        assert lead is not None and page is not None
        self.assertGreaterEqual(
            ratio_by_hand(hex_of(lead.levels)[1:], hex_of(page.levels)[1:]), 4.5
        )
        with zipfile.ZipFile(target) as package:
            content = etree.fromstring(package.read("content.xml"))
            styles = etree.fromstring(package.read("styles.xml"))
        code = hex_of(lead.levels).lower()
        colour = "{urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0}color"
        hint = content.xpath("//*[@*[local-name()='name']='Hint']/*")[0]
        common = styles.xpath("//*[@*[local-name()='name']='Lead']/*")[0]
        self.assertEqual((hint.get(colour), common.get(colour)), (code, code))

    def test_colours_that_change_places_stay_two(self) -> None:
        path = self.write(p("Note", "Note"), automatic=self.automatic)
        document = open_document(path)
        self.addCleanup(document.close)
        (colours,) = sets_of(document)
        one, other = colours.colour("#1B4F72"), colours.colour("#335577")
        assert one is not None and other is not None
        swapped = tuple(
            {one.name: other.levels, other.name: one.levels}.get(each.name, each.levels)
            for each in colours.colours
        )
        after = ColourSet(
            colours.name, colours.kind, colours.source,
            tuple(type(each)(each.name, levels, addresses=each.addresses)
                  for each, levels in zip(colours.colours, swapped, strict=True)),
        )  # fmt: skip
        edited = document.edited(edits_between(colours, after))
        (pair,) = [each for each in pages_of(edited, Asked())[0] if each.text == "Note"]
        assert pair.numbers is not None
        self.assertEqual((pair.numbers.foreground, pair.numbers.background), ("#1B4F72", "#335577"))


class Shades(PageFolder, MendedTest):
    """Shades that documents and workbooks derive from a theme's slots move with them."""

    def test_a_documents_shades(self) -> None:
        document = Document()
        for words, attribute, value in (
            ("Plain", None, None), ("Shaded", "themeShade", "BF"), ("Tinted", "themeTint", "99")
        ):  # fmt: skip
            run = document.add_paragraph().add_run(words)
            run.font.size = DocxPt(11)
            run.font.color.theme_color = MSO_THEME_COLOR.ACCENT_1
            if attribute:
                run._r.rPr.find(docx_name("w:color")).set(docx_name(f"w:{attribute}"), value)
            shade = run._r.get_or_add_rPr().makeelement(
                docx_name("w:shd"),
                {docx_name("w:val"): "clear", docx_name("w:themeFill"): "background2"},
            )
            run._r.rPr.append(shade)
        path = self.folder / "shades.docx"
        document.save(str(path))
        opened = open_document(path)
        self.addCleanup(opened.close)
        before, _ = self.mended(opened, self.folder / "copy.docx")
        self.assertEqual(
            set(met(before)),
            {("accent1", "lt2"), ("accent1, lumMod 74.9%", "lt2"),
             ("accent1, lumMod 60%, lumOff 40%", "lt2")},
        )  # fmt: skip
        derived_one = before.colour("accent1, lumMod 74.9%")
        assert derived_one is not None
        self.assertEqual(derived_one.parent, "accent1")

    def test_a_workbooks_tints(self) -> None:
        workbook = Workbook()
        sheet = workbook.active
        for place, tint in enumerate((0.0, -0.25, 0.4), start=1):
            cell_ = sheet.cell(place, 1, f"Fare {place}")
            cell_.font = Font(color=XlsxColor(theme=4, tint=tint), size=11)
            cell_.fill = PatternFill("solid", fgColor=XlsxColor(theme=2))
        path = self.folder / "tints.xlsx"
        workbook.save(path)
        opened = open_document(path)
        self.addCleanup(opened.close)
        before, _ = self.mended(opened, self.folder / "copy.xlsx")
        self.assertEqual(
            set(met(before)),
            {("accent1", "lt2"), ("accent1, lumMod 75%", "lt2"),
             ("accent1, lumMod 60%, lumOff 40%", "lt2")},
        )  # fmt: skip


class Spreadsheets(OdfFileTest, MendedTest):
    kind = "application/vnd.oasis.opendocument.spreadsheet"

    def test_cells_styles_are_mended(self) -> None:
        styles = style("Full", "table-cell",
                       '<style:table-cell-properties fo:background-color="#E8A0A0"/>'
                       + text('fo:color="#ffffff"'))  # fmt: skip
        path = self.write(table(row(cell("Full", "Full"))), automatic=styles)
        document = open_document(path)
        self.addCleanup(document.close)
        self.mended(document, path.with_name("copy.ods"))


class Pictures(PageFolder):
    def test_a_pictures_main_colours_are_a_set_that_nothing_changes(self) -> None:
        pixels = np.zeros((400, 640, 3), np.uint8)
        pixels[:, :320], pixels[:, 320:] = (20, 60, 90), (240, 230, 200)
        out = io.BytesIO()
        Image.fromarray(pixels).save(out, "PNG")
        path = self.folder / "quay.png"
        path.write_bytes(out.getvalue())
        document = open_document(path)
        self.addCleanup(document.close)
        (colours,) = with_pairs(sets_of(document), document, pages_of(document, Asked()), Asked())
        self.assertEqual(colours.kind, "picture")
        found = sorted(each.levels for each in colours.colours)
        for levels, wanted in zip(found, [(20, 60, 90), (240, 230, 200)], strict=True):
            self.assertLessEqual(max(abs(a - b) for a, b in zip(levels, wanted, strict=True)), 4)
        self.assertEqual([each.addresses for each in colours.colours], [(), ()])


if __name__ == "__main__":
    unittest.main()
