"""Another colour for what is behind a text: a table's cell, a page, in both families of decks."""

import unittest

from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.util import Pt

from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for
from high_pair.review.surroundings import backdrops_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import (
    DeckFolder,
    background,
    body,
    pairs_of,
    ratio_by_hand,
    run,
    shape,
    solid,
)
from tests.odf_decks import OdfTest, frame, graphic, style, text

WHITE = solid("FFFFFF")


def table(cells: str, style_properties: str = "<a:tblPr/>") -> str:
    """Write a frame with a table of one row."""
    return (
        '<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="4" name="Fares"/>'
        "<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr><p:xfrm>"
        '<a:off x="635000" y="635000"/><a:ext cx="5080000" cy="900000"/></p:xfrm><a:graphic>'
        '<a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/table">'
        f'<a:tbl>{style_properties}<a:tblGrid><a:gridCol w="2540000"/><a:gridCol w="2540000"/>'
        f'</a:tblGrid><a:tr h="900000">{cells}</a:tr></a:tbl></a:graphicData></a:graphic>'
        "</p:graphicFrame>"
    )


def cell(words: str, colour: str, fill: str) -> str:
    text_body = body(run(words, inner=solid(colour))).replace("p:txBody", "a:txBody")
    return f'<a:tc>{text_body}<a:tcPr marL="50000"><a:lnB w="9525"/>{fill}</a:tcPr></a:tc>'


class FillsBehind(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DeckFolder()
        self.addCleanup(self.folder.close)

    def mended(self, document, words: str) -> tuple[Pair, dict[str, Pair]]:
        """Recolour what is behind a text; gives its pair and the page's pairs after."""
        self.addCleanup(document.close)
        page = PageBench().get(document, 0, Asked())
        pair = next(pair for pair in page.pairs if pair.text == words)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        remedy = next(
            r for r in backdrops_for(pair, page, Asked(), document.edited) if r.text is None
        )
        edited = document.edited(edits_for(remedy, [pair]))
        target = self.folder.path / "mended.pptx"
        edited.save(target)
        again = open_document(target)
        self.addCleanup(again.close)
        after = {each.text: each for each in measured(again, 0, Asked()).pairs}
        self.assertIs(after[words].verdict, Verdict.PASSES)
        self.assertAlmostEqual(after[words].ratio, remedy.ratio, delta=0.05)
        return pair, after

    def test_a_cell_of_a_table_alone_gets_another_fill(self):
        shapes = table(
            cell("Bicycle", "FFFFFF", solid("E0952B")) + cell("Dog", "FFFFFF", solid("E0952B"))
        )
        document = open_document(self.folder.deck(shapes))
        _, after = self.mended(document, "Bicycle")
        self.assertIs(after["Dog"].verdict, Verdict.FALLS_SHORT)

    def test_a_cell_whose_fill_is_its_tables_style_gets_one_of_its_own(self):
        deck = Presentation()
        slide = deck.slides.add_slide(deck.slide_layouts[6])
        table = slide.shapes.add_table(2, 2, Pt(50), Pt(50), Pt(400), Pt(120)).table
        for row in range(2):
            for column in range(2):
                cell = table.cell(row, column)
                cell.text = f"Cell {row}{column}"
                font = cell.text_frame.paragraphs[0].runs[0].font
                font.size, font.color.rgb = Pt(14), RGBColor(0xFF, 0xFF, 0xFF)
        path = self.folder.path / "styled.pptx"
        deck.save(str(path))
        # The bands of the usual style are pale, and have lines between their cells.
        _, after = self.mended(open_document(path), "Cell 10")
        self.assertIs(after["Cell 11"].verdict, Verdict.FALLS_SHORT)
        written = Presentation(str(self.folder.path / "mended.pptx")).slides[0].shapes[0].table
        own = written.cell(1, 0).fill.fore_color.rgb
        self.assertGreaterEqual(ratio_by_hand(str(own), "FFFFFF"), 4.5)
        self.assertEqual(written.cell(1, 1)._tc.tcPr.find(".//{*}solidFill"), None)

    def test_the_background_of_a_slide_takes_the_place_of_the_masters(self):
        document = open_document(
            self.folder.deck(
                shape(body(run("Quay 2", inner=WHITE))),
                master_background=background(solid("E0952B")),
            )
        )
        pair, after = self.mended(document, "Quay 2")
        self.assertEqual(pair.numbers.background, "#E0952B")
        self.assertNotEqual(after["Quay 2"].numbers.background, "#E0952B")

    def test_a_background_by_reference_to_the_theme_is_replaced(self):
        document = open_document(
            self.folder.deck(
                shape(body(run("Quay 2", inner=solid("F0F0F0")))),
                slide_background=f'<p:bg><p:bgRef idx="1001">{solid("D0D0D0")[13:-14]}</p:bgRef></p:bg>',
            )
        )
        self.mended(document, "Quay 2")


class FillsBehindInOpenDocument(OdfTest):
    def check(self, body_xml: str, words: str, **options: str) -> dict[str, Pair]:
        path = self.write(body_xml, **options)
        document = open_document(path)
        self.addCleanup(document.close)
        page = PageBench().get(document, 0, Asked())
        pair = next(pair for pair in page.pairs if pair.text == words)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        remedies = backdrops_for(pair, page, Asked(), document.edited)
        remedy = next(each for each in remedies if each.text is None)
        target = path.with_name("mended.odp")
        document.edited(edits_for(remedy, [pair])).save(target)
        after = {each.text: each for each in pairs_of(target)}
        self.assertIs(after[words].verdict, Verdict.PASSES)
        return after

    def test_a_cell_of_a_table_alone_gets_another_fill(self):
        white = style("w", "text", text('fo:color="#ffffff"'))
        orange = style("ce", "table-cell", graphic('draw:fill="solid" draw:fill-color="#e0952b"'))
        sizes = style(
            "co", "table-column", '<style:table-column-properties style:column-width="5cm"/>'
        )
        sizes += style("ro", "table-row", '<style:table-row-properties style:row-height="2cm"/>')
        one, other = (
            f'<table:table-cell><text:p><text:span text:style-name="w">{word}</text:span></text:p>'
            "</table:table-cell>"
            for word in ("Bicycle", "Dog")
        )
        after = self.check(
            '<draw:frame svg:x="2cm" svg:y="2cm" svg:width="10cm" svg:height="2cm"><table:table>'
            '<table:table-column table:style-name="co" table:number-columns-repeated="2"/>'
            '<table:table-row table:style-name="ro" table:default-cell-style-name="ce">'
            f"{one}{other}</table:table-row></table:table></draw:frame>",
            "Bicycle",
            automatic=white + orange + sizes,
        )
        self.assertIs(after["Dog"].verdict, Verdict.FALLS_SHORT)
        self.assertEqual(after["Dog"].numbers.background, "#E0952B")

    def test_a_page_takes_a_background_of_its_own(self):
        white = style("w", "text", text('fo:color="#ffffff"'))
        self.check(
            frame('<text:p><text:span text:style-name="w">Quay 2</text:span></text:p>'),
            "Quay 2",
            automatic=white,
            page_style='draw:fill="solid" draw:fill-color="#e0952b"',
        )


if __name__ == "__main__":
    unittest.main()
