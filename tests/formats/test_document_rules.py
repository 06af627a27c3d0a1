"""The colours of documents, one rule at a time, against arithmetic written out here."""

import unittest
from collections.abc import Mapping

import numpy as np

from high_pair.measure.pairs import Pair
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level
from high_pair.wcag.verdicts import Verdict
from tests.decks import flat_picture, mixed, pairs_of, png, ratio_by_hand
from tests.documents import (
    SPACES,
    DocumentFolder,
    anchored,
    cell,
    colour,
    document_pairs,
    paragraph,
    picture,
    rpr,
    run,
    shade,
    shape,
    style,
    table,
    text,
)

BLACK, WHITE = "000000", "FFFFFF"
SOLID = '<a:solidFill><a:srgbClr val="{}"/></a:solidFill>'


def coloured(name: str, code: str, kind: str = "paragraph", based: str = "") -> str:
    """Write a style with a colour."""
    return style(name, kind, rpr(colour(code)), based)


def styled(name: str) -> str:
    return f'<w:pStyle w:val="{name}"/>'


def worn(name: str) -> str:
    return f'<w:rStyle w:val="{name}"/>'


def tinted(name: str, more: str = "") -> str:
    return colour("123456", f'w:themeColor="{name}" {more}')


def look(*names: str) -> str:
    """Write the parts of its style that a table uses."""
    known = ("firstRow", "lastRow", "firstColumn", "lastColumn", "noHBand", "noVBand")
    parts = " ".join(f'w:{name}="{int(name in names)}"' for name in known)
    return f'<w:tblStyle w:val="Grid"/><w:tblLook {parts}/>'


def part(kind: str, fill: str = "", code: str = "", more: str = "") -> str:
    """Write a conditional part of a table's style."""
    inner = f"<w:tcPr>{shade(fill)}</w:tcPr>" if fill else ""
    own = rpr((colour(code) if code else "") + more)
    return f'<w:tblStylePr w:type="{kind}">{own}{inner}</w:tblStylePr>'


def grid(*parts: str, whole: str = "") -> str:
    return style("Grid", "table", whole + "".join(parts))


TWO_BY_THREE = [cell(text(f"r{row}c{column}")) for row in range(3) for column in range(2)]


def three_rows(properties: str) -> str:
    rows = ["".join(TWO_BY_THREE[row * 2 : row * 2 + 2]) for row in range(3)]
    return table(*rows, properties=properties)


# A rule, the body, what else the document has, the foreground and the background: of the
# text "Word", or of the cell that a fifth entry names.
Case = tuple[str, str, Mapping[str, object], str, str]
RUNS: list[Case] = [
    ("text without any colour is automatic: black on the page", text(), {}, BLACK, WHITE),
    ("a run's own colour", text("Word", colour("336699")), {}, "336699", WHITE),
    ("a colour of auto is automatic", text("Word", colour("auto")), {}, BLACK, WHITE),
    (
        "auto on a run takes back a style's colour",
        text("Word", colour("auto"), styled("S")),
        {"styles": coloured("S", "AA0000")},
        BLACK,
        WHITE,
    ),
    (
        "a theme's colour beats the stale one beside it",
        text("Word", tinted("accent1")),
        {},
        "4472C4",
        WHITE,
    ),
    ("text1 goes through the mapping to dark 1", text("Word", tinted("text1")), {}, "102030", WHITE),
    (
        "a mapping changes what text1 means",
        text("Word", tinted("text1")),
        {"settings": '<w:clrSchemeMapping w:t1="accent2" w:bg1="light1"/>'},
        "ED7D31",
        WHITE,
    ),
    ("dark1 passes the mapping by", text("Word", tinted("dark1")),
     {"settings": '<w:clrSchemeMapping w:t1="accent2"/>'}, "102030", WHITE),
    ("a tint of a grey: L·t + 1 − t", text("Word", tinted("accent3", 'w:themeTint="99"')), {},
     "C9C9C9", WHITE),
    # By hand: lightness 132/255 becomes 0.7106, chroma 0.3012, so 220, 170 and 143.
    ("a tint of a colour keeps its hue and saturation",
     text("Word", tinted("accent1", 'w:themeTint="99"')), {}, "8FAADC", WHITE),
    ("a shade of a colour, as its writer worked it out", text("Word", tinted("accent1", 'w:themeShade="BF"')),
     {}, "2F5496", WHITE),
    ("a highlight is the backdrop", text("Word", '<w:highlight w:val="yellow"/>'), {}, BLACK, "FFFF00"),
    ("automatic text on a dark highlight is white", text("Word", '<w:highlight w:val="darkBlue"/>'), {},
     WHITE, "000080"),
    ("a run's shading is the backdrop", text("Word", shade("FFE0E0")), {}, BLACK, "FFE0E0"),
    ("a highlight hides the run's shading",
     text("Word", '<w:highlight w:val="cyan"/>' + shade("102030")), {}, BLACK, "00FFFF"),
    ("automatic text on dark run shading is white", text("Word", shade("1F2F3F")), {}, WHITE, "1F2F3F"),
    ("text1 never turns over on the dark", text("Word", tinted("text1") + shade("404040")), {},
     "102030", "404040"),
    ("a solid pattern shows its own colour", text("Word", shade("FFFFFF", "solid", "203040")), {},
     WHITE, "203040"),
    ("pct25 mixes a quarter of the pattern's colour in",
     text("Word", colour("000000") + shade("FFFFFF", "pct25", "000000")), {}, BLACK,
     mixed("000000", 0.25, "FFFFFF")),
    ("pct12 stands for 12.5 percent",
     text("Word", colour("000000") + shade("FFFFFF", "pct12", "FF0000")), {}, BLACK,
     mixed("FF0000", 0.125, "FFFFFF")),
    ("a shading of nil is none", text("Word", shade("FF0000", "nil")), {}, BLACK, WHITE),
    ("a themed fill with a shade of its own",
     text("Word", colour(WHITE) + shade("123456", more='w:themeFill="accent1" w:themeFillShade="BF"')),
     {}, WHITE,
     "2F5496"),
]  # fmt: skip
STYLES: list[Case] = [
    ("a paragraph style's colour", text("Word", "", styled("S")), {"styles": coloured("S", "AA0000")},
     "AA0000", WHITE),
    ("a style inherits from the one it is based on", text("Word", "", styled("B")),
     {"styles": style("B", "paragraph", "", "A") + coloured("A", "00AA00")}, "00AA00", WHITE),
    ("the default style holds where a paragraph names none", text(),
     {"styles": style("N", "paragraph", rpr(colour("445566")), default=True)}, "445566", WHITE),
    ("a character style beats the paragraph's", text("Word", worn("C"), styled("S")),
     {"styles": coloured("S", "AA0000") + coloured("C", "0000AA", "character")}, "0000AA", WHITE),
    ("the run itself beats its character style", text("Word", worn("C") + colour("123456")),
     {"styles": coloured("C", "0000AA", "character")}, "123456", WHITE),
    ("the document's defaults hold where no style speaks", text(), {"defaults": colour("667788")},
     "667788", WHITE),
    ("a paragraph style beats the defaults", text("Word", "", styled("S")),
     {"defaults": colour("667788"), "styles": coloured("S", "112233")}, "112233", WHITE),
    ("a circle of styles ends", text("Word", "", styled("A")),
     {"styles": coloured("A", "101010", based="B") + style("B", "paragraph", "", "A")}, "101010", WHITE),
    ("a style of an unknown name falls back to the default", text("Word", "", styled("Nowhere")),
     {"styles": style("N", "paragraph", rpr(colour("445566")), default=True)}, "445566", WHITE),
    ("a paragraph's shading is the backdrop", text("Word", "", shade("E0E0FF")), {}, BLACK, "E0E0FF"),
    ("a style's shading is the backdrop", text("Word", "", styled("S")),
     {"styles": style("S", "paragraph", f"<w:pPr>{shade('203040')}</w:pPr>")}, WHITE, "203040"),
    ("a clear shading of auto takes a style's back", text("Word", "", styled("S") + shade("auto")),
     {"styles": style("S", "paragraph", f"<w:pPr>{shade('203040')}</w:pPr>")}, BLACK, WHITE),
    ("the page's colour shows where the settings say so", text(),
     {"background": '<w:background w:color="203040"/>', "settings": "<w:displayBackgroundShape/>"},
     WHITE, "203040"),
    ("else it doesn't", text(), {"background": '<w:background w:color="203040"/>'}, BLACK, WHITE),
]  # fmt: skip
TABLES: list[Case] = [
    ("a cell's shading", table(cell(text(), shade("D0E0F0"))), {}, BLACK, "D0E0F0"),
    ("automatic text in a dark cell is white", table(cell(text(), shade("203040"))), {}, WHITE, "203040"),
    ("a paragraph's own shading lies above the cell's",
     table(cell(text("Word", "", shade("FFEEDD")), shade("203040"))), {}, BLACK, "FFEEDD"),
    ("a nested table shows the outer cell", table(cell(table(cell(text())) + text(""), shade("203040"))), {},
     WHITE, "203040"),
    ("a nested table's own cell lies above",
     table(cell(table(cell(text(), shade("FFEEDD"))) + text(""), shade("203040"))), {}, BLACK, "FFEEDD"),
    ("a table's style shades the whole table", table(cell(text()), properties=look()),
     {"styles": grid(whole=f"<w:tcPr>{shade('C0D0C0')}</w:tcPr>")}, BLACK, "C0D0C0"),
    ("a cell's own shading beats the style's", table(cell(text(), shade("FFEEDD")), properties=look()),
     {"styles": grid(whole=f"<w:tcPr>{shade('C0D0C0')}</w:tcPr>")}, BLACK, "FFEEDD"),
    ("a table style's text colour", table(cell(text()), properties=look()),
     {"styles": grid(whole=rpr(colour("225522")))}, "225522", WHITE),
    ("a paragraph style beats the table style's colour", table(cell(text("Word", "", styled("S"))),
     properties=look()),
     {"styles": grid(whole=rpr(colour("225522"))) + coloured("S", "AA0000")}, "AA0000", WHITE),
    ("a pattern of lines has both its colours",
     table(cell(text("Word", colour("FFFFFF")), shade("203040", "thinHorzStripe", "102030"))), {},
     WHITE, "203040"),
]  # fmt: skip
# The parts of a table's style: the cell asked for stands in the third place of the options.
BY_PLACE: list[tuple[str, str, str, str, str]] = [
    ("the first row", look("firstRow", "noHBand", "noVBand"), "r0c1", part("firstRow", "203040"), "203040"),
    ("the last row", look("lastRow", "noHBand", "noVBand"), "r2c0", part("lastRow", "203040"), "203040"),
    ("the first column", look("firstColumn", "noHBand", "noVBand"), "r1c0", part("firstCol", "203040"), "203040"),
    ("the last column", look("lastColumn", "noHBand", "noVBand"), "r1c1", part("lastCol", "203040"), "203040"),
    ("the first band comes after the header", look("firstRow", "noVBand"), "r1c0",
     part("band1Horz", "203040") + part("band2Horz", "FFEEDD"), "203040"),
    ("the second band", look("firstRow", "noVBand"), "r2c0",
     part("band1Horz", "203040") + part("band2Horz", "FFEEDD"), "FFEEDD"),
    ("without a header the bands begin at once", look("noVBand"), "r0c0", part("band1Horz", "203040"), "203040"),
    ("bands of columns", look("noHBand"), "r1c1", part("band2Vert", "203040"), "203040"),
    ("row bands lie above column bands", look(), "r0c0",
     part("band1Vert", "FFEEDD") + part("band1Horz", "203040"), "203040"),
    ("the header lies above bands", look("firstRow"), "r0c0",
     part("firstRow", "203040") + part("band1Vert", "FFEEDD"), "203040"),
    ("the first column lies above the header", look("firstRow", "firstColumn"), "r0c0",
     part("firstRow", "FFEEDD") + part("firstCol", "203040"), "203040"),
    ("a corner lies above both", look("firstRow", "firstColumn"), "r0c0",
     part("firstRow", "FFEEDD") + part("firstCol", "CCCCCC") + part("nwCell", "203040"), "203040"),
    ("a part that the table doesn't use shows nothing", look("noHBand", "noVBand"), "r0c0",
     part("firstRow", "203040"), WHITE),
    ("the old hexadecimal look says the same",
     '<w:tblStyle w:val="Grid"/><w:tblLook w:val="0620"/>', "r0c0", part("firstRow", "203040"), "203040"),
]  # fmt: skip


class DocumentTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = DocumentFolder()
        self.addCleanup(self.folder.close)

    def pairs(self, body: str, **options: object) -> tuple[Pair, ...]:
        return document_pairs(self.folder.document(body, **options))

    def only(self, body: str, **options: object) -> Pair:
        (pair,) = self.pairs(body, **options)
        return pair

    def assert_colours(self, pair: Pair, foreground: str, background: str) -> None:
        self.assertIsNotNone(pair.numbers, (pair.verdict, pair.reason))
        self.assertEqual(pair.numbers.foreground, f"#{foreground}")
        self.assertEqual(pair.numbers.background, f"#{background}")
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(foreground, background), delta=0.01)


class Rules(DocumentTest):
    def check(self, cases: list[Case]) -> None:
        for rule, body, options, foreground, background in cases:
            with self.subTest(rule):
                pair = self.only(body, **options)
                self.assertEqual(pair.text, "Word")
                self.assert_colours(pair, foreground, background)

    def test_colours_shadings_and_highlights_of_runs(self):
        self.check(RUNS)

    def test_styles_defaults_and_the_page(self):
        self.check(STYLES)

    def test_tables_and_their_cells(self):
        self.check(TABLES)

    def test_tables_nested_too_deeply_need_eyes_and_are_not_left_out(self):
        for depth, verdict in ((12, Verdict.PASSES), (13, Verdict.NEEDS_EYES)):
            inner = text()
            for _ in range(depth):
                inner = table(cell(inner + text("")))
            pair = self.only(inner)
            self.assertEqual((pair.text, pair.verdict), ("Word", verdict), depth)

    def test_parts_of_a_tables_style_by_place_and_precedence(self):
        for rule, properties, name, parts, background in BY_PLACE:
            with self.subTest(rule):
                pairs = self.pairs(three_rows(properties), styles=grid(parts))
                pair = next(pair for pair in pairs if pair.text == name)
                dark = ratio_by_hand(background, WHITE) > 7
                self.assert_colours(pair, WHITE if dark else BLACK, background)

    def test_there_are_at_least_sixty_rules(self):
        self.assertGreaterEqual(len(RUNS) + len(STYLES) + len(TABLES) + len(BY_PLACE), 60)


class Toggles(DocumentTest):
    BOLD = "<w:b/>"

    def weight(self, properties: str = "", own: str = "", **options: object) -> int:
        return self.only(text("Word", properties, own), **options).weight

    def test_bold_in_both_styles_cancels_itself(self):
        styles = style("S", "paragraph", rpr(self.BOLD)) + style("C", "character", rpr(self.BOLD))
        self.assertEqual(self.weight("", styled("S"), styles=styles), 700)
        self.assertEqual(self.weight(worn("C"), "", styles=styles), 700)
        self.assertEqual(self.weight(worn("C"), styled("S"), styles=styles), 400)

    def test_the_runs_own_word_counts_as_it_is(self):
        styles = style("S", "paragraph", rpr(self.BOLD))
        self.assertEqual(self.weight(self.BOLD, styled("S"), styles=styles), 700)
        self.assertEqual(self.weight('<w:b w:val="0"/>', styled("S"), styles=styles), 400)

    def test_within_one_kind_the_nearest_counts(self):
        styles = style("A", "paragraph", rpr(self.BOLD)) + style(
            "B", "paragraph", rpr('<w:b w:val="false"/>'), "A"
        )
        self.assertEqual(self.weight("", styled("B"), styles=styles), 400)

    def test_on_in_the_defaults_stays_on(self):
        self.assertEqual(self.weight("", "", defaults=self.BOLD), 700)
        styles = style("S", "paragraph", rpr(self.BOLD))
        self.assertEqual(self.weight("", styled("S"), styles=styles, defaults=self.BOLD), 700)

    def test_a_table_styles_bold_makes_fourteen_points_large_scale(self):
        styles = grid(part("firstRow", more="<w:b/>"))
        body = table(
            cell(text("Head", '<w:sz w:val="28"/>')),
            cell(text("Body", '<w:sz w:val="28"/>')),
            properties=look("firstRow", "noHBand", "noVBand"),
        )
        found = {pair.text: pair for pair in self.pairs(body, styles=styles)}
        self.assertEqual(found["Head"].required, 3.0)
        self.assertEqual(found["Body"].required, 4.5)

    def test_hidden_text_is_exempt(self):
        pair = self.only(text("Word", "<w:vanish/>"))
        self.assertIs(pair.verdict, Verdict.EXEMPT)


class Sizes(DocumentTest):
    def test_a_size_counts_half_points(self):
        self.assertEqual(self.only(text("Word", '<w:sz w:val="37"/>')).size, 18.5)

    def test_without_any_word_it_is_ten_points(self):
        bare = f"<w:styles {SPACES}/>".encode()
        self.assertEqual(self.only(text(), more={"word/styles.xml": bare}).size, 10.0)

    def test_superscripts_are_smaller(self):
        size = self.only(text("Word", '<w:vertAlign w:val="superscript"/>')).size
        self.assertAlmostEqual(size, 11 * 2 / 3)


class Where(DocumentTest):
    """Text that stands elsewhere than in the body's paragraphs."""

    def test_headers_and_footers(self):
        header = f"<w:hdr {SPACES}>{text('Head', colour('AA0000'))}</w:hdr>".encode()
        footer = paragraph(
            run("Page ")
            + '<w:r><w:fldChar w:fldCharType="begin"/><w:instrText> PAGE </w:instrText>'
            + '<w:fldChar w:fldCharType="separate"/><w:t>9</w:t><w:fldChar w:fldCharType="end"/></w:r>'
        )
        pairs = self.pairs(
            text("Body"),
            relationships={"rId8": ("header", "header1.xml"), "rId9": ("footer", "footer1.xml")},
            section='<w:headerReference w:type="default" r:id="rId8"/>'
            '<w:footerReference w:type="default" r:id="rId9"/>',
            more={
                "word/header1.xml": header,
                "word/footer1.xml": f"<w:ftr {SPACES}>{footer}</w:ftr>".encode(),
            },
        )
        self.assertEqual([pair.text for pair in pairs], ["Head", "Page 1", "Body"])
        self.assert_colours(pairs[0], "AA0000", WHITE)
        self.assertEqual(pairs[0].where, "Page 1 › Header")
        self.assertTrue(pairs[0].address.startswith("word/header1.xml#p=1/r=1"))

    def test_footnotes_stand_at_the_foot_with_their_number(self):
        reference = '<w:r><w:footnoteReference w:id="2"/></w:r>'
        note = paragraph("<w:r><w:footnoteRef/></w:r>" + run(" Not on Sundays", colour("777777")))
        pairs = self.pairs(
            paragraph(run("Every hour") + reference),
            footnotes=f'<w:footnote w:id="2">{note}</w:footnote>',
        )
        self.assertEqual(
            [pair.text.strip() for pair in pairs], ["Every hour1", "1", "Not on Sundays"]
        )
        self.assert_colours(pairs[2], "777777", WHITE)
        self.assertGreater(pairs[2].bbox[1], 600)

    def test_a_lists_number_has_a_look_of_its_own(self):
        numbering = (
            '<w:abstractNum w:abstractNumId="7"><w:lvl w:ilvl="0"><w:start w:val="3"/>'
            '<w:numFmt w:val="lowerLetter"/><w:lvlText w:val="%1)"/>'
            f"{rpr(colour('BBBBBB'))}</w:lvl></w:abstractNum>"
            '<w:num w:numId="4"><w:abstractNumId w:val="7"/></w:num>'
        )
        listed = '<w:numPr><w:ilvl w:val="0"/><w:numId w:val="4"/></w:numPr>'
        pairs = self.pairs(
            text("First", "", listed) + text("Second", "", listed), numbering=numbering
        )
        self.assertEqual([p.text for p in pairs], ["c)", "First", "d)", "Second"])
        self.assert_colours(pairs[0], "BBBBBB", WHITE)
        self.assertEqual(pairs[0].address, "word/numbering.xml#abs=7/lvl=0")

    def test_results_of_fields_are_text_and_their_instructions_are_not(self):
        field = (
            '<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText>TOC \\o</w:instrText>'
            '</w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>' + run("Sailings")
        )
        ends = run("Fares") + '<w:r><w:fldChar w:fldCharType="end"/></w:r>'
        pairs = self.pairs(paragraph(field) + paragraph(ends))
        self.assertEqual([pair.text for pair in pairs], ["Sailings", "Fares"])

    def test_deleted_text_is_gone_and_inserted_text_is_there(self):
        deleted = '<w:del w:id="1"><w:r><w:delText>Old</w:delText></w:r></w:del>'
        inserted = f'<w:ins w:id="2">{run("New")}</w:ins>'
        self.assertEqual([p.text for p in self.pairs(paragraph(deleted + inserted))], ["New"])

    def test_content_controls_and_their_prompts_are_text(self):
        control = (
            "<w:sdt><w:sdtPr><w:showingPlcHdr/></w:sdtPr><w:sdtContent>"
            + run("Enter a date", colour("808080"))
            + "</w:sdtContent></w:sdt>"
        )
        pair = self.only(paragraph(control))
        self.assert_colours(pair, "808080", WHITE)
        block = f"<w:sdt><w:sdtContent>{text('Inside')}</w:sdtContent></w:sdt>"
        self.assertEqual(self.only(block).text, "Inside")

    def test_a_link_told_by_colour_alone_has_a_second_entry(self):
        link = f'<w:hyperlink r:id="rId9">{run("timetable", colour("2266AA"))}</w:hyperlink>'
        pairs = self.pairs(paragraph(run("See the ", colour("222222")) + link))
        links = [pair for pair in pairs if pair.subject.value == "link"]
        self.assertEqual(len(links), 1)
        self.assertAlmostEqual(links[0].ratio, ratio_by_hand("2266AA", "222222"), delta=0.01)
        underlined = link.replace("<w:color", '<w:u w:val="single"/><w:color')
        pairs = self.pairs(paragraph(run("See the ") + underlined))
        self.assertFalse([pair for pair in pairs if pair.subject.value == "link"])

    def test_one_branch_of_alternate_content_is_read(self):
        box = anchored(shape(text("Once")))
        old = '<w:r><w:pict><v:rect style="width:90pt;height:40pt"><v:textbox><w:txbxContent>'
        old += text("Once") + "</w:txbxContent></v:textbox></v:rect></w:pict></w:r>"
        drawn, fallback = box[5:-6], old[5:-6]
        both = (
            f'<w:r><mc:AlternateContent><mc:Choice Requires="wps">{drawn}</mc:Choice>'
            f"<mc:Fallback>{fallback}</mc:Fallback></mc:AlternateContent></w:r>"
        )
        self.assertEqual(self.only(paragraph(both)).text, "Once")

    def test_text_above_other_text_is_half_as_large(self):
        ruby = (
            f"<w:r><w:ruby><w:rt>{run('reading')}</w:rt><w:rubyBase>{run('Base')}</w:rubyBase>"
            "</w:ruby></w:r>"
        )
        sizes = {pair.text: pair.size for pair in self.pairs(paragraph(ruby))}
        self.assertEqual(sizes, {"reading": 5.5, "Base": 11.0})

    def test_an_equation_is_measured_run_by_run(self):
        pale = f"<w:rPr>{colour('CCCCCC')}</w:rPr>"
        power = (
            f"<m:sSup><m:e><m:r>{pale}<m:t>x</m:t></m:r></m:e><m:sup><m:r><m:t>2</m:t></m:r></m:sup>"
            "</m:sSup>"
        )
        body = paragraph(f"<m:oMath>{power}<m:r><m:t>+1</m:t></m:r></m:oMath>")
        found = {pair.text: pair for pair in self.pairs(body)}
        self.assert_colours(found["x"], "CCCCCC", WHITE)
        self.assert_colours(found["+1"], BLACK, WHITE)
        self.assertLess(found["2"].size, found["+1"].size)
        self.assertTrue(all(pair.fixed for pair in found.values()))

    def test_a_page_break_begins_a_page(self):
        body = paragraph(run("One") + '<w:r><w:br w:type="page"/></w:r>' + run("Two"))
        path = self.folder.document(body)
        self.assertEqual([pair.text for pair in pairs_of(path, page=0)], ["One"])
        self.assertEqual([pair.text for pair in pairs_of(path, page=1)], ["Two"])


class Boxes(DocumentTest):
    def test_text_in_a_filled_box(self):
        box = anchored(shape(text("Word", colour("FFFFFF")), SOLID.format("4472C4")))
        self.assert_colours(self.only(paragraph(box)), WHITE, "4472C4")

    def test_automatic_text_in_a_dark_box_is_white(self):
        box = anchored(shape(text(), SOLID.format("203040")))
        self.assert_colours(self.only(paragraph(box)), WHITE, "203040")

    def test_a_fill_from_the_shapes_style(self):
        style_xml = (
            '<wps:style><a:lnRef idx="0"><a:srgbClr val="000000"/></a:lnRef><a:fillRef idx="1">'
            '<a:schemeClr val="accent1"/></a:fillRef><a:effectRef idx="0"><a:srgbClr val="000000"/>'
            "</a:effectRef></wps:style>"
        )
        box = anchored(shape(text("Word", colour("FFFFFF")), "", style_xml))
        self.assert_colours(self.only(paragraph(box)), WHITE, "4472C4")

    def test_text_takes_the_colour_of_its_shapes_style_unless_a_style_of_its_own_has_one(self):
        def box(content: str, font: str, fill: str = "4472C4") -> str:
            style_xml = f'<wps:style><a:fontRef idx="minor">{font}</a:fontRef></wps:style>'
            return paragraph(anchored(shape(content, SOLID.format(fill), style_xml)))

        light = '<a:schemeClr val="lt1"/>'
        pair = self.only(box(text(), light))
        self.assert_colours(pair, WHITE, "4472C4")
        self.assertIn("shape style", pair.origin)
        self.assert_colours(self.only(box(text(), '<a:srgbClr val="AA0000"/>')), "AA0000", "4472C4")
        self.assert_colours(
            self.only(box(text("Word", colour("123456")), light)), "123456", "4472C4"
        )
        automatic = box(text("Word", colour("auto")), light, "D0E0F0")
        self.assert_colours(self.only(automatic), BLACK, "D0E0F0")
        two = box(text(), '<a:srgbClr val="AA0000"/>') + box(
            text("Two"), '<a:srgbClr val="00AA00"/>'
        )
        found = {pair.text: pair.numbers.foreground for pair in self.pairs(two)}
        self.assertEqual(found, {"Word": "#AA0000", "Two": "#00AA00"})

    def test_a_box_of_an_old_kind(self):
        box = (
            '<w:r><w:pict><v:rect fillcolor="#203040 [3204]" style="position:absolute;width:200pt;'
            f'height:60pt"><v:textbox><w:txbxContent>{text()}</w:txbxContent></v:textbox></v:rect>'
            "</w:pict></w:r>"
        )
        self.assert_colours(self.only(paragraph(box)), WHITE, "203040")

    def test_a_box_of_an_old_kind_is_white_where_it_says_nothing(self):
        box = (
            '<w:r><w:pict><v:shape style="width:200pt;height:60pt"><v:textbox><w:txbxContent>'
            f"{text('Word', colour('777777'))}</w:txbxContent></v:textbox></v:shape></w:pict></w:r>"
        )
        self.assert_colours(self.only(paragraph(box)), "777777", WHITE)

    def test_a_picture_behind_the_text_is_its_backdrop(self):
        place = (
            '<wp:positionH relativeFrom="page"><wp:posOffset>0</wp:posOffset></wp:positionH>'
            '<wp:positionV relativeFrom="page"><wp:posOffset>0</wp:posOffset></wp:positionV>'
        )
        drawing = anchored(picture("rId9"), place, 'behindDoc="1"', (612, 792))
        pair = self.only(
            paragraph(drawing + run("Word", colour("FFFFFF"))),
            relationships={"rId9": ("image", "media/p.png")},
            more={"word/media/p.png": flat_picture((0x20, 0x60, 0x80))},
        )
        self.assert_colours(pair, WHITE, "206080")
        self.assertTrue(pair.estimated)

    def test_near_a_picture_of_light_and_dark_the_place_decides_so_it_needs_eyes(self):
        half = np.full((100, 100, 3), 255, np.uint8)
        half[8:] = 0
        place = (
            '<wp:positionH relativeFrom="page"><wp:posOffset>0</wp:posOffset></wp:positionH>'
            '<wp:positionV relativeFrom="page"><wp:posOffset>0</wp:posOffset></wp:positionV>'
        )
        drawing = anchored(picture("rId9"), place, 'behindDoc="1"', (612, 792))
        pair = self.only(
            paragraph(drawing + run("Word", colour("FFFFFF"))),
            relationships={"rId9": ("image", "media/p.png")},
            more={"word/media/p.png": png(half)},
        )
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("differs from program to program", pair.reason)

    def test_a_group_of_shapes(self):
        inner = shape(text("Word", colour("FFFFFF")), SOLID.format("4472C4"))
        start, end = inner.index("<wps:wsp>"), inner.index("</wps:wsp>") + len("</wps:wsp>")
        wsp = inner[start:end].replace('cx="1" cy="1"', 'cx="1270000" cy="635000"')
        group = (
            '<a:graphic><a:graphicData uri="http://schemas.microsoft.com/office/word/2010/'
            'wordprocessingGroup"><wpg:wgp><wpg:cNvGrpSpPr/><wpg:grpSpPr><a:xfrm><a:off x="0" y="0"/>'
            '<a:ext cx="2540000" cy="1270000"/><a:chOff x="0" y="0"/><a:chExt cx="2540000" '
            f'cy="1270000"/></a:xfrm></wpg:grpSpPr>{wsp}</wpg:wgp></a:graphicData></a:graphic>'
        )
        self.assert_colours(self.only(paragraph(anchored(group))), WHITE, "4472C4")


class Automatic(DocumentTest):
    def test_between_dark_and_light_programs_differ_so_it_needs_eyes(self):
        pair = self.only(text("Word", shade("696969")))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("automatic", pair.reason)

    def test_where_neither_black_nor_white_passes_aaa_it_falls_short(self):
        path = self.folder.document(text("Word", shade("707070")))
        (pair,) = pairs_of(path, Asked(level=Level.AAA))
        self.assertLess(ratio_by_hand("707070", BLACK), 7)
        self.assertLess(ratio_by_hand("707070", WHITE), 7)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)


if __name__ == "__main__":
    unittest.main()
