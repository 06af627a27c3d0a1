"""Changing workbooks: cells, their styles, tables, conditions, the theme; and nothing else."""

import unittest
import zipfile

import openpyxl

from high_pair.edits.kinds import RecolourFill, RecolourOrigin, RecolourText
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.origins import remedies_at
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.workbooks import (
    WorkbookFolder,
    cell,
    dxf,
    font,
    formatting,
    number,
    rgb,
    row,
    rule,
    sheet_pairs,
    solid,
)

SHEET, STYLES = "xl/worksheets/sheet1.xml", "xl/styles.xml"
PALE = {"fonts": [font(rgb("AAAAAA"))], "styles": ['fontId="1"']}
OTHERS = {
    "xl/charts/chart1.xml": b"<c:chartSpace xmlns:c='x'/>",
    "xl/vbaProject.bin": bytes(range(256)),
    "xl/pivotTables/pivotTable1.xml": b"<pivotTableDefinition/>",
    "xl/unknown/part7.data": b"anything \x00 at all",
}


class Edits(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = WorkbookFolder()
        self.addCleanup(self.folder.close)

    def opened(self, rows: str, **options: object):
        document = open_document(self.folder.workbook(rows, **options))
        self.addCleanup(document.close)
        return document

    def pairs(self, document) -> dict[str, Pair]:
        return {pair.text: pair for pair in measured(document, 0, Asked()).pairs}

    def after(self, document, *edits) -> dict[str, Pair]:
        """Give the pairs of the saved copy by their words."""
        target = self.folder.path / "copy.xlsx"
        document.edited(edits).save(target)
        return {pair.text: pair for pair in sheet_pairs(target)}


class Cells(Edits):
    TWO = row(1, cell("A1", "Pale", 1) + cell("B1", "Also", 1) + cell("C1", "Plain"))

    def test_all_cells_of_a_look_get_a_style_of_their_own_and_others_keep_theirs(self):
        document = self.opened(self.TWO, **PALE)
        edit = RecolourText(f"{SHEET}#xf=1", (0x22, 0x44, 0x66))
        after = self.after(document, edit)
        self.assertEqual(after["Pale"].where, "Sheet 1, Fares › A1:B1")
        self.assertEqual(after["Pale"].numbers.foreground, "#224466")
        self.assertEqual(after["Plain"].numbers.foreground, "#102030")

    def test_font_and_fill_of_one_look_change_one_after_the_other(self):
        document = self.opened(self.TWO, **PALE)
        after = self.after(
            document,
            RecolourText(f"{SHEET}#xf=1", (0xFF, 0xFF, 0xFF)),
            RecolourFill(f"{SHEET}#xf=1/fill", (0x20, 0x30, 0x40)),
        )
        numbers = after["Pale"].numbers
        self.assertEqual((numbers.foreground, numbers.background), ("#FFFFFF", "#203040"))

    def test_before_saving_its_address_stays_as_it_was(self):
        document = self.opened(self.TWO, **PALE)
        address = self.pairs(document)["Pale"].address
        edited = document.edited([RecolourText(address, (1, 2, 3))])
        self.assertEqual(self.pairs(edited)["Pale"].address, address)

    def test_another_library_reads_the_copy_and_sees_font_and_values(self):
        document = self.opened(self.TWO, **PALE)
        self.after(document, RecolourText(f"{SHEET}#xf=1", (0x22, 0x44, 0x66)))
        sheet = openpyxl.load_workbook(self.folder.path / "copy.xlsx").active
        self.assertEqual(sheet["A1"].value, "Pale")
        self.assertEqual(sheet["A1"].font.color.rgb, "FF224466")
        self.assertEqual(sheet["A1"].font.name, "Carlito")
        self.assertEqual(sheet["C1"].font.color.theme, 1)

    def test_every_other_member_stays_as_it_was_to_the_byte(self):
        path = self.folder.workbook(self.TWO, **PALE, more=OTHERS)
        document = open_document(path)
        self.addCleanup(document.close)
        self.after(document, RecolourText(f"{SHEET}#xf=1", (1, 2, 3)))
        with zipfile.ZipFile(path) as one, zipfile.ZipFile(self.folder.path / "copy.xlsx") as other:
            self.assertEqual(one.namelist(), other.namelist())
            for name in one.namelist():
                same = one.read(name) == other.read(name)
                self.assertEqual(same, name not in (SHEET, STYLES), name)

    def test_an_address_that_is_not_there_is_refused(self):
        document = self.opened(self.TWO, **PALE)
        for address in (
            f"{SHEET}#xf=7",
            f"{SHEET}#xf=x",
            f"{STYLES}#dxf=3",
            f"{SHEET}#nothing=1",
            "xl/sharedStrings.xml#si=4/r=1",
            "xl/nowhere.xml#xf=1",
        ):
            with self.assertRaises(EditError, msg=address):
                document.edited([RecolourText(address, (1, 2, 3))])
        with self.assertRaises(EditError):
            document.edited([RecolourOrigin(f"{STYLES}#cellstyle=8", (1, 2, 3))])


class Origins(Edits):
    def test_a_run_within_a_cell(self):
        strings = f"<si><r><t>Plain </t></r><r><rPr><b/><color {rgb('AAAAAA')}/></rPr><t>pale</t></r></si>"
        document = self.opened(row(1, cell("A1", "0", kind="s")), strings=strings)
        address = self.pairs(document)["pale"].address
        after = self.after(document, RecolourText(address, (0x22, 0x44, 0x66)))
        self.assertEqual(after["pale"].numbers.foreground, "#224466")
        self.assertEqual(after["pale"].weight, 700)

    def test_a_conditional_formats_text_and_fill(self):
        document = self.opened(
            row(1, number("A1", 30)),
            differences=[dxf(rgb("FF9999"), rgb("FFFFCC"))],
            tail=formatting("A1", rule("cellIs", 0, ["10"], 'operator="greaterThan"')),
        )
        after = self.after(document, RecolourText(f"{STYLES}#dxf=0", (0x66, 0, 0)))
        self.assertEqual(after["30"].numbers.foreground, "#660000")
        after = self.after(document, RecolourFill(f"{STYLES}#dxf=0/fill", (0x20, 0x20, 0x20)))
        self.assertEqual(after["30"].numbers.background, "#202020")

    def test_a_named_style_with_the_cells_that_follow_it(self):
        document = self.opened(
            row(1, cell("A1", "Follows", 1) + cell("B1", "Own", 2)),
            fonts=[font(rgb("AAAAAA")), font(rgb("BBBBBB"))],
            named='<xf fontId="1" fillId="0"/>',
            named_list='<cellStyle name="Note" xfId="1"/>',
            styles=['fontId="1" xfId="1"', 'fontId="2" xfId="1"'],
        )
        pairs = self.pairs(document)
        self.assertEqual(pairs["Follows"].deciders[0].words, "in the cell style Note")
        self.assertEqual(pairs["Own"].deciders, ())
        after = self.after(
            document, RecolourOrigin(pairs["Follows"].deciders[0].address, (0x22, 0x44, 0x66))
        )
        self.assertEqual(after["Follows"].numbers.foreground, "#224466")
        self.assertEqual(after["Own"].numbers.foreground, "#BBBBBB")

    def test_the_theme_and_what_it_changes_elsewhere(self):
        options = {
            "fonts": [font('theme="6"')],
            "fills": [solid(rgb("222222"))],
            "styles": ['fontId="1"', 'fontId="1" fillId="2"'],
        }
        document = self.opened(row(1, cell("A1", "Light", 1) + cell("B1", "Dark", 2)), **options)
        decider = self.pairs(document)["Light"].deciders[-1]
        self.assertEqual(decider.address, "xl/theme/theme1.xml#slot=accent3")
        found = remedies_at(decider, document, Asked(), document.edited)
        self.assertEqual((found.remedies[0].mended, found.remedies[0].changed), (1, 2))
        self.assertEqual([words for words, _ in found.remedies[0].broken], ["Dark"])


class Remedies(Edits):
    def test_each_one_offered_passes_in_the_saved_copy_with_the_ratio_shown(self):
        document = self.opened(
            row(1, cell("A1", "Cancelled", 1)) + row(2, cell("A2", "Plain")),
            fonts=[font(rgb("FFFFFF"))],
            fills=[solid(rgb("E8A0A0"))],
            styles=['fontId="1" fillId="2"'],
        )
        pair = self.pairs(document)["Cancelled"]
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        found = remedies_for([pair], document, PageBench(), Asked(), document.edited)
        kinds = {remedy.kind for remedy in found.remedies}
        self.assertEqual(kinds, {"recolour", "recolour the backdrop"})
        for remedy in found.remedies:
            after = self.after(document, *edits_for(remedy, [pair]))
            self.assertIs(after["Cancelled"].verdict, Verdict.PASSES, remedy.label)
            self.assertAlmostEqual(after["Cancelled"].ratio, remedy.ratio, delta=0.05)
            self.assertIs(after["Plain"].verdict, Verdict.PASSES)


if __name__ == "__main__":
    unittest.main()
