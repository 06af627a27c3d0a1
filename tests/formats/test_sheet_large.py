"""Sheets of a million cells are read without holding an element for each."""

import unittest
from pathlib import Path
from unittest import mock

from high_pair.edits.kinds import RecolourText
from high_pair.errors import UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.document import shown_part
from high_pair.formats.xml import parse
from high_pair.raster.page import paint_exactly
from high_pair.review.measuring import review_page
from high_pair.wcag.asked import Asked
from tests.workbooks import WorkbookFolder, cell, font, rgb, row

DEMO = Path(__file__).resolve().parents[2] / "high_pair/data/demo/fares-and-loading.xlsx"


class LargeSheets(unittest.TestCase):
    """A sheet whose part is large isn't held as elements, and is measured and painted the same."""

    def setUp(self):
        self.folder = WorkbookFolder()
        self.addCleanup(self.folder.close)

    def both(self, path, look):
        """Give what is seen of a workbook, with its sheets as elements and without."""
        found = []
        for limit in (1 << 30, 0):
            with mock.patch("high_pair.formats.sheets.workbook.LARGE_SHEET", limit):
                document = open_document(path)
                try:
                    found.append(look(document))
                finally:
                    document.close()
        return found

    @staticmethod
    def pairs(document):
        return [
            (pair.text, pair.where, pair.ratio, pair.verdict, pair.address)
            for page in range(len(document.pages))
            for pair in review_page(document, page, Asked()).pairs
        ]

    def test_its_pairs_and_its_paint_are_the_same(self):
        path = DEMO
        small, large = self.both(path, self.pairs)
        self.assertTrue(small)
        self.assertEqual(small, large)

        def painted(document):
            part = shown_part(document.pages[0])
            scene = document.part_of(0, part)
            return paint_exactly(scene, document.pictures, part, 450, 320)

        small, large = self.both(path, painted)
        self.assertTrue((small == large).all())

    def test_so_they_are_after_edits_of_cells_and_of_shared_words(self):
        rich = "<si><r><t>plain </t></r><r><rPr><color rgb='FFAAAAAA'/></rPr><t>pale</t></r></si>"
        rows = row(1, cell("A1", "0", 0, "s") + cell("B1", "Word", 1)) + row(
            2, cell("A2", "More", 1)
        )
        path = self.folder.workbook(
            rows,
            strings=rich,
            fonts=[font(rgb("BBBBBB"))],
            styles=['fontId="1" fillId="0" xfId="0"'],
        )

        def mended(document):
            found = [self.pairs(document)]
            for pair in review_page(document, 0, Asked()).pairs:
                edits = [RecolourText(pair.address, (0, 0, 0))] if pair.address else []
                edited = document.edited(edits)
                found.append(self.pairs(edited))
                found.append(self.pairs(edited.edited(edits)))
            return found

        small, large = self.both(path, mended)
        self.assertGreater(len(small), 3)
        self.assertEqual(small, large)

    def test_a_bomb_in_it_is_refused_too(self):
        for data, words in (
            (b"<!DOCTYPE a [<!ENTITY e 'x'>]><worksheet/>", "document type"),
            (b"<worksheet><sheetData><row>", "broken XML"),
        ):
            with self.assertRaisesRegex(UnreadableFile, words):
                parse(data, "f", "m", "x:row", lambda _row: None)


if __name__ == "__main__":
    unittest.main()
