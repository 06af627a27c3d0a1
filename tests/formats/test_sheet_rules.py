"""The colours of cells, one rule at a time, against arithmetic written out here."""

import unittest
from collections.abc import Mapping

from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.scene.geometry import Box
from high_pair.scene.text import TextBlock
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Level, Subject
from high_pair.wcag.verdicts import Verdict
from tests.decks import mixed, pairs_of, ratio_by_hand
from tests.workbooks import (
    SPACES,
    WorkbookFolder,
    cell,
    dxf,
    font,
    formatting,
    number,
    pattern,
    rgb,
    row,
    rule,
    sheet_pairs,
    solid,
)

BLACK, WHITE, DARK = "000000", "FFFFFF", "102030"
WORD = row(1, cell("A1", style=1))
Case = tuple[str, str, Mapping[str, object], str, str]


def fonted(colour: str, **more: object) -> dict[str, object]:
    """Give a style whose font has a colour (attributes)."""
    return {"fonts": [font(colour)], "styles": ['fontId="1"'], **more}


def filled(fill: str, colour: str = "", **more: object) -> dict[str, object]:
    """Give a style with a fill, and a font's colour."""
    return {
        "fonts": [font(colour or rgb(BLACK))],
        "fills": [fill],
        "styles": ['fontId="1" fillId="2"'],
        **more,
    }


THEME: list[Case] = [
    (f"theme {n} is {slot}", WORD, fonted(f'theme="{n}"'), code, WHITE)
    for n, (slot, code) in enumerate(
        (
            ("light 1", "FFFFFF"), ("dark 1", "102030"), ("light 2", "E8E0D0"), ("dark 2", "304050"),
            ("accent 1", "4472C4"), ("accent 2", "ED7D31"), ("accent 3", "A5A5A5"),
            ("accent 4", "FFC000"), ("accent 5", "5B9BD5"), ("accent 6", "70AD47"),
            ("hyperlink", "0563C1"), ("followed hyperlink", "954F72"),
        )
    )
]  # fmt: skip
FONTS: list[Case] = [
    ("a colour of its own", WORD, fonted(rgb("336699")), "336699", WHITE),
    ("the alpha byte is passed over", WORD, fonted(rgb("336699", "00")), "336699", WHITE),
    ("no style means the first", row(1, cell("A1")), {}, DARK, WHITE),
    ("a style past the list means the first", row(1, cell("A1", style=9)), {}, DARK, WHITE),
    # By hand: 165 + (255 - 165) · 0.4 = 201.
    ("a tint lightens towards white", WORD, fonted('theme="6" tint="0.4"'), "C9C9C9", WHITE),
    # By hand: 165 · 0.5 = 82.5.
    ("a negative tint darkens towards black", WORD, fonted('theme="6" tint="-0.5"'), "535353", WHITE),
    # By hand: lightness 132/255 becomes 0.3882, chroma 0.4040: 47, 85, 151.
    ("a tint keeps hue and saturation", WORD, fonted('theme="4" tint="-0.25"'), "2F5597", WHITE),
    ("palette 10 is red", WORD, fonted('indexed="10"'), "FF0000", WHITE),
    ("palette 23 is grey", WORD, fonted('indexed="23"'), "808080", WHITE),
    (
        "a file's own palette counts",
        WORD,
        fonted('indexed="1"', colours='<colors><indexedColors><rgbColor rgb="00112233"/>'
               '<rgbColor rgb="00445566"/></indexedColors></colors>'),
        "445566",
        WHITE,
    ),
    ("a font without a colour is automatic", WORD, {"fonts": [font()], "styles": ['fontId="1"']}, BLACK,
     WHITE),
    ("palette 64 is the system's text", WORD, fonted('indexed="64"'), BLACK, WHITE),
    ("a row's own style changes nothing for its cells", row(1, cell("A1"), 's="1" customFormat="1"'),
     fonted(rgb("FF0000")), DARK, WHITE),
]  # fmt: skip
FILLS: list[Case] = [
    ("a solid fill shows its foreground", WORD, filled(solid(rgb("FFEEDD"))), BLACK, "FFEEDD"),
    ("a themed fill", WORD, filled(solid('theme="4"'), rgb(WHITE)), WHITE, "4472C4"),
    ("a themed fill with a tint", WORD, filled(solid('theme="6" tint="0.4"')), BLACK, "C9C9C9"),
    ("a pattern of none fills nothing", WORD, filled(pattern("none", rgb("FF0000"), rgb("00FF00"))), BLACK,
     WHITE),
    # Of a pattern the colour that the text meets with less contrast governs.
    ("a pattern has both its colours", WORD, filled(pattern("lightGray", rgb("808080"), rgb("FFFFFF"))),
     BLACK, "808080"),
    ("stripes have both their colours", WORD,
     filled(pattern("darkHorizontal", rgb("203040"), rgb("405060")), rgb(WHITE)), WHITE, "405060"),
    ("a dark fill", WORD, filled(solid(rgb("203040")), rgb(WHITE)), WHITE, "203040"),
    ("a fill of the system's colours is white", WORD, filled(solid('indexed="65"')), BLACK, WHITE),
    ("a palette's fill", WORD, filled(solid('indexed="13"')), BLACK, "FFFF00"),
]  # fmt: skip
FORMATS: list[Case] = [
    ("[Red] for what is negative", row(1, number("A1", -3, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="0;[Red]-0"/>', "styles": ['numFmtId="164"']},
     "FF0000", WHITE),
    ("the positive section keeps the font", row(1, number("A1", 3, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="0;[Red]-0"/>', "styles": ['numFmtId="164"']}, DARK,
     WHITE),
    ("a zero has a section of its own", row(1, number("A1", 0, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="0;-0;[Blue]0"/>', "styles": ['numFmtId="164"']},
     "0000FF", WHITE),
    ("text has the fourth section", row(1, cell("A1", style=1)),
     {"formats": '<numFmt numFmtId="164" formatCode="0;-0;0;[Magenta]@"/>', "styles": ['numFmtId="164"']},
     "FF00FF", WHITE),
    ("a section's own condition", row(1, number("A1", 120, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="[Green][&gt;100]0;[Red]0"/>',
      "styles": ['numFmtId="164"']}, "00FF00", WHITE),
    ("and where it doesn't hold", row(1, number("A1", 20, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="[Green][&gt;100]0;[Red]0"/>',
      "styles": ['numFmtId="164"']}, "FF0000", WHITE),
    ("[Color10] is palette 17", row(1, number("A1", 1, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="[Color10]0"/>', "styles": ['numFmtId="164"']},
     "008000", WHITE),
    ("a semicolon in quotes is none", row(1, number("A1", -1, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="&quot;a;b&quot;0;[Cyan]-0"/>',
      "styles": ['numFmtId="164"']}, "00FFFF", WHITE),
    ("a built-in format with red", row(1, number("A1", -1, 1)), {"styles": ['numFmtId="38"']}, "FF0000", WHITE),
    ("a format's colour beats the font's", row(1, number("A1", -3, 1)),
     {"formats": '<numFmt numFmtId="164" formatCode="0;[Red]-0"/>', "fonts": [font(rgb("00AA00"))],
      "styles": ['numFmtId="164" fontId="1"']}, "FF0000", WHITE),
]  # fmt: skip
# Conditional formats on A1:A3 with the values 5, 10 and 20; the last is asked for.
ON_TEXT = (dxf(rgb("AA0000")), dxf(fill=rgb("FFFFCC")), dxf(rgb("0000AA"), rgb("CCFFCC")))
RULES: list[tuple[str, str, str, str]] = [
    ("greater than", rule("cellIs", 0, ["10"], 'operator="greaterThan"'), "AA0000", WHITE),
    ("not greater: untouched", rule("cellIs", 0, ["20"], 'operator="greaterThan"'), DARK, WHITE),
    ("between", rule("cellIs", 0, ["15", "25"], 'operator="between"'), "AA0000", WHITE),
    ("outside", rule("cellIs", 0, ["1", "19"], 'operator="notBetween"'), "AA0000", WHITE),
    ("equal", rule("cellIs", 0, ["20"], 'operator="equal"'), "AA0000", WHITE),
    ("against another cell", rule("cellIs", 0, ["$A$2"], 'operator="greaterThan"'), "AA0000", WHITE),
    ("the highest one", rule("top10", 0, more='rank="1"'), "AA0000", WHITE),
    ("the highest third", rule("top10", 0, more='rank="34" percent="1"'), "AA0000", WHITE),
    ("the lowest two: untouched", rule("top10", 0, more='rank="2" bottom="1"'), DARK, WHITE),
    ("above the average", rule("aboveAverage", 0), "AA0000", WHITE),
    ("below it: untouched", rule("aboveAverage", 0, more='aboveAverage="0"'), DARK, WHITE),
    ("unique values", rule("uniqueValues", 0), "AA0000", WHITE),
    ("duplicates: untouched", rule("duplicateValues", 0), DARK, WHITE),
    ("not empty", rule("notContainsBlanks", 0), "AA0000", WHITE),
    ("an expression, shifted from the first cell", rule("expression", 0, ["A1&gt;15"]), "AA0000", WHITE),
    ("an expression with a fixed row", rule("expression", 0, ["A$2&lt;15"]), "AA0000", WHITE),
    ("an expression with functions", rule("expression", 0, ["AND(A1=MAX($A$1:$A$3),ROW()=3)"]), "AA0000",
     WHITE),
    ("in a dxf a solid fill is the background", rule("cellIs", 1, ["10"], 'operator="greaterThan"'), DARK,
     "FFFFCC"),
    ("text and fill", rule("cellIs", 2, ["10"], 'operator="greaterThan"'), "0000AA", "CCFFCC"),
    ("what doesn't conflict combines",
     rule("cellIs", 0, ["10"], 'operator="greaterThan"', 1)
     + rule("cellIs", 1, ["10"], 'operator="greaterThan"', 2), "AA0000", "FFFFCC"),
    ("the first in priority wins, not in the file",
     rule("cellIs", 2, ["10"], 'operator="greaterThan"', 2)
     + rule("cellIs", 0, ["10"], 'operator="greaterThan"', 1), "AA0000", "CCFFCC"),
    ("stop if true ends the matter",
     rule("cellIs", 0, ["10"], 'operator="greaterThan" stopIfTrue="1"', 1)
     + rule("cellIs", 1, ["10"], 'operator="greaterThan"', 2), "AA0000", WHITE),
]  # fmt: skip


class SheetTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = WorkbookFolder()
        self.addCleanup(self.folder.close)

    def pairs(self, rows: str, **options: object) -> tuple[Pair, ...]:
        return sheet_pairs(self.folder.workbook(rows, **options))

    def only(self, rows: str, **options: object) -> Pair:
        (pair,) = self.pairs(rows, **options)
        return pair

    def assert_colours(self, pair: Pair, foreground: str, background: str) -> None:
        self.assertIsNotNone(pair.numbers, (pair.verdict, pair.reason))
        self.assertEqual(pair.numbers.foreground, f"#{foreground}")
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(foreground, background), delta=0.01)
        if not pair.numbers.varied:
            self.assertEqual(pair.numbers.background, f"#{background}")


class Rules(SheetTest):
    def check(self, cases: list[Case]) -> None:
        for said, rows, options, foreground, background in cases:
            with self.subTest(said):
                self.assert_colours(self.only(rows, **options), foreground, background)

    def test_colours_of_the_theme_in_the_order_of_sheets(self):
        self.check(THEME)

    def test_fonts(self):
        self.check(FONTS)

    def test_fills(self):
        self.check(FILLS)

    def test_number_formats(self):
        self.check(FORMATS)

    def test_conditional_formats(self):
        rows = "".join(row(n, number(f"A{n}", value)) for n, value in ((1, 5), (2, 10), (3, 20)))
        for said, rules, foreground, background in RULES:
            with self.subTest(said):
                pairs = self.pairs(rows, differences=ON_TEXT, tail=formatting("A1:A3", rules))
                now = [pair for pair in pairs if "appears" not in pair.where]
                pair = next(pair for pair in now if "A3" in pair.where or "A1:A3" in pair.where)
                self.assert_colours(pair, foreground, background)

    def test_there_are_at_least_sixty_rules(self):
        count = sum(len(cases) for cases in (THEME, FONTS, FILLS, FORMATS, RULES))
        self.assertGreaterEqual(count, 60)


class Conditions(SheetTest):
    def test_text_rules(self):
        rows = "".join(
            row(n, cell(f"A{n}", word)) for n, word in ((1, "late"), (2, "Fog, LATE"), (3, "on"))
        )
        for kind, said, wanted in (
            ("containsText", "late", "A1:A2"),
            ("notContainsText", "late", "A3"),
            ("beginsWith", "fog", "A2"),
            ("endsWith", "n", "A3"),
        ):
            with self.subTest(kind):
                tail = formatting("A1:A3", rule(kind, 0, more=f'text="{said}"'))
                pairs = self.pairs(rows, differences=ON_TEXT, tail=tail)
                red = [p for p in pairs if p.numbers.foreground == "#AA0000"]
                self.assertEqual([p.where for p in red], [f"Sheet 1, Fares › {wanted}"])

    def test_a_rule_that_holds_for_nothing_today_is_measured_as_it_would_appear(self):
        tail = formatting("B2:B9", rule("cellIs", 1, ["100"], 'operator="greaterThan"'))
        pairs = self.pairs(row(2, number("B2", 5)), differences=ON_TEXT, tail=tail)
        appearing = [pair for pair in pairs if "appears" in pair.where]
        self.assertEqual(len(appearing), 1)
        self.assertEqual(
            appearing[0].where, "Sheet 1, Fares › B2:B9, appears when the value is above 100"
        )
        self.assert_colours(appearing[0], DARK, "FFFFCC")

    def test_what_may_appear_is_measured_on_the_colour_scale_that_is_there(self):
        # From white at 1 to black at 9; the rule's dark red on the darkest falls short.
        scale = (
            '<cfRule type="colorScale" priority="2"><colorScale><cfvo type="min"/><cfvo type="max"/>'
            '<color rgb="FFFFFFFF"/><color rgb="FF000000"/></colorScale></cfRule>'
        )
        rows = row(1, number("A1", 1, 1)) + row(2, number("A2", 9, 1))
        options = fonted(rgb("808080"))
        rules = rule("cellIs", 0, ["100"], 'operator="greaterThan"') + scale
        pairs = self.pairs(rows, differences=ON_TEXT, tail=formatting("A1:A2", rules), **options)
        found = {p.verdict: p for p in pairs if "appears" in p.where}
        self.assertEqual(set(found), {Verdict.PASSES, Verdict.FALLS_SHORT})
        self.assert_colours(found[Verdict.FALLS_SHORT], "AA0000", "000000")

    def test_an_expression_that_nobody_can_work_out_is_measured_as_it_would_appear(self):
        for formula in ("INDIRECT(A1)&gt;3", "NOSUCHFUNCTION(A1)", "A1&gt;(", "[1]Other!A1=2"):
            with self.subTest(formula):
                tail = formatting("A1", rule("expression", 0, [formula]))
                pairs = self.pairs(row(1, number("A1", 5)), differences=ON_TEXT, tail=tail)
                self.assertEqual(sorted("appears" in pair.where for pair in pairs), [False, True])

    def test_a_colour_scale_is_linear_in_srgb_and_told_by_colour(self):
        stops = (
            '<cfRule type="colorScale" priority="1"><colorScale><cfvo type="min"/><cfvo type="max"/>'
            f"<color {rgb('000000')}/><color {rgb('FFFFFF')}/></colorScale></cfRule>"
        )
        rows = "".join(row(n, number(f"A{n}", value)) for n, value in ((1, 0), (2, 50), (3, 100)))
        rows += row(4, number("A4", 50))
        pairs = self.pairs(rows, tail=formatting("A1:A4", stops))
        found = {pair.cells: pair for pair in pairs}
        middle = mixed("FFFFFF", 0.5, "000000")
        expected = {("A1",): "000000", ("A2", "A4"): middle, ("A3",): "FFFFFF"}
        self.assertEqual(set(found), set(expected))
        for cells, behind in expected.items():
            self.assertAlmostEqual(found[cells].ratio, ratio_by_hand(DARK, behind), delta=0.01)
            self.assertIn(cells[0], found[cells].where)
        self.assertEqual(found[("A3",)].text, "100")
        self.assertIs(found[("A1",)].verdict, Verdict.FALLS_SHORT)

    def test_cells_of_very_many_colours_are_told_by_verdict_and_none_is_left_out(self):
        stops = (
            '<cfRule type="colorScale" priority="1"><colorScale><cfvo type="min"/><cfvo type="max"/>'
            f"<color {rgb('000000')}/><color {rgb('FFFFFF')}/></colorScale></cfRule>"
        )
        count = 400
        rows = "".join(row(n, number(f"A{n}", n)) for n in range(1, count + 1))
        pairs = self.pairs(rows, tail=formatting(f"A1:A{count}", stops))
        self.assertEqual({pair.verdict for pair in pairs}, {Verdict.FALLS_SHORT, Verdict.PASSES})
        ends = [each.partition(":") for pair in pairs for each in pair.cells]
        told = [n for a, _, b in ends for n in range(int(a[1:]), int((b or a)[1:]) + 1)]
        self.assertEqual(sorted(told), list(range(1, count + 1)))

    def test_a_percentile_and_a_number_as_stops(self):
        stops = (
            '<cfRule type="colorScale" priority="1"><colorScale><cfvo type="num" val="0"/>'
            '<cfvo type="percentile" val="50"/><cfvo type="num" val="100"/>'
            f"<color {rgb('FFFFFF')}/><color {rgb('FFEEDD')}/><color {rgb('FFFFFF')}/>"
            "</colorScale></cfRule>"
        )
        rows = "".join(row(n, number(f"A{n}", value)) for n, value in ((1, 10), (2, 30), (3, 90)))
        pairs = {pair.cells: pair for pair in self.pairs(rows, tail=formatting("A1:A3", stops))}
        self.assertAlmostEqual(pairs[("A2",)].ratio, ratio_by_hand(DARK, "FFEEDD"), delta=0.01)

    def test_under_a_data_bar_the_text_needs_eyes_where_the_bar_decides(self):
        def bar(code: str) -> str:
            return (
                '<cfRule type="dataBar" priority="1"><dataBar><cfvo type="min"/><cfvo type="max"/>'
                f"<color {rgb(code)}/></dataBar></cfRule>"
            )

        rows = row(1, number("A1", 5))
        self.assertIs(
            self.only(rows, tail=formatting("A1", bar("203040"))).verdict, Verdict.NEEDS_EYES
        )
        self.assertIs(self.only(rows, tail=formatting("A1", bar("CCDDEE"))).verdict, Verdict.PASSES)

    def test_a_rule_of_a_newer_kind_is_read_too(self):
        tail = (
            "<extLst><ext><x14:conditionalFormattings><x14:conditionalFormatting><x14:cfRule "
            'type="cellIs" priority="1" operator="greaterThan"><xm:f>3</xm:f><x14:dxf><font>'
            f"<color {rgb('AA0000')}/></font></x14:dxf></x14:cfRule><xm:sqref>A1</xm:sqref>"
            "</x14:conditionalFormatting></x14:conditionalFormattings></ext></extLst>"
        )
        pair = self.only(row(1, number("A1", 5)), tail=tail)
        self.assert_colours(pair, "AA0000", WHITE)
        self.assertTrue(pair.fixed)


class Unknown(SheetTest):
    def test_a_scale_whose_ends_a_formula_says_needs_eyes(self):
        for kind, value, known in (
            ("num", "5", True),
            ("formula", "5", True),
            ("num", "$D$1", False),
        ):
            scale = (
                f'<cfRule type="colorScale" priority="1"><colorScale><cfvo type="{kind}" '
                f'val="{value}"/><cfvo type="max"/><color rgb="FFFFFFFF"/><color rgb="FFFFFFFF"/>'
                "</colorScale></cfRule>"
            )
            rows = row(1, number("A1", 5)) + row(2, number("A2", 9))
            pair = self.only(rows, tail=formatting("A1:A2", scale), **fonted(rgb("000000")))
            self.assertEqual(pair.verdict is Verdict.NEEDS_EYES, not known, (kind, value))
            self.assertEqual("scale" in pair.reason, not known)

    def test_endless_digits_and_broken_numbers_are_passed_over(self):
        endless = "9" * 5_000
        options = {
            "formats": '<numFmt numFmtId="164" formatCode="[&gt;1.2.3]0;[Red]0"/>',
            "styles": ['numFmtId="164"'],
        }
        rows = (
            row(1, number("A1", -5, 1)) + f'<row r="{endless}"><c s="{endless}"><v>1</v></c></row>'
        )
        self.assertTrue(self.pairs(rows, **options))
        shared = f'<row r="3"><c r="A3" t="s"><v>{endless}</v></c></row>'
        self.assertEqual(self.pairs(shared), ())


class Looks(SheetTest):
    def test_pairs_are_counted_by_look_and_name_their_cells_as_ranges(self):
        cells = "".join(
            row(n, cell(f"A{n}") + cell(f"B{n}", style=1) + cell(f"C{n}", style=1))
            for n in range(1, 51)
        )
        pairs = self.pairs(cells, **fonted(rgb("999999")))
        self.assertEqual(
            {pair.where for pair in pairs}, {"Sheet 1, Fares › A1:A50", "Sheet 1, Fares › B1:C50"}
        )
        self.assertTrue(all(pair.subject is Subject.TEXT for pair in pairs))

    def test_hidden_rows_columns_and_sheets_are_exempt(self):
        hidden_row = row(1, cell("A1"), 'hidden="1"') + row(2, cell("A2", "Shown"))
        found = {pair.text: pair.verdict for pair in self.pairs(hidden_row)}
        self.assertEqual(found, {"Word": Verdict.EXEMPT, "Shown": Verdict.PASSES})
        columns = '<cols><col min="1" max="1" width="9" hidden="1"/></cols>'
        self.assertIs(self.only(row(1, cell("A1")), before=columns).verdict, Verdict.EXEMPT)
        pair = self.only(row(1, cell("A1")), state='state="hidden"')
        self.assertIs(pair.verdict, Verdict.EXEMPT)

    def test_rows_without_a_height_are_as_high_as_their_tallest_text(self):
        large = {"fonts": [font(size="30")], "styles": ['fontId="1" applyFont="1"']}
        below = row(2, cell("A2", "Below"))

        def top_of_the_second_row(first: str, **options: object) -> float:
            pairs = self.pairs(first + below, **large, **options)
            return next(pair.bbox[1] for pair in pairs if pair.text == "Below")

        raised = top_of_the_second_row(row(1, cell("A1", style=1)))
        self.assertGreaterEqual(raised, 30 * 1.2)
        self.assertLess(raised, 30 * 1.5)
        stated = row(1, cell("A1", style=1), 'ht="20" customHeight="1"')
        self.assertEqual(top_of_the_second_row(stated), 20)
        # Merged cells raise none.
        tail = '<mergeCells count="1"><mergeCell ref="A1:B1"/></mergeCells>'
        self.assertEqual(top_of_the_second_row(row(1, cell("A1", style=1)), tail=tail), 15)

    def test_words_are_painted_as_far_as_there_is_room(self):
        centred = {"styles": ['applyAlignment="1"><alignment horizontal="center"/>']}
        words = "Lantern Point and back"

        def painted(before: str, after: str, style: int = 0) -> str:
            cells = before + cell("B1", words, style) + after
            document = open_document(self.folder.workbook(row(1, cells), **centred))
            self.addCleanup(document.close)
            items = document.part_of(0, Box(0, 0, 400, 40)).items
            texts = [
                item.paragraphs[0].runs[0].text for item in items if isinstance(item, TextBlock)
            ]
            return max(texts, key=len)

        # Over the empty cells beside it all is shown.
        self.assertEqual(painted("", ""), words)
        # Between two that are not empty, words in the middle lose both ends, others the last.
        taken = cell("A1", "x"), cell("C1", "x")
        cut = painted(*taken)
        self.assertTrue(words.startswith(cut) and len(cut) < len(words), cut)
        middle = painted(*taken, 1)
        self.assertIn(middle, words)
        self.assertFalse(words.startswith(middle) or words.endswith(middle), middle)

    def test_numbers_too_wide_for_their_column_are_shown_as_they_are_there(self):
        narrow = '<cols><col min="1" max="1" width="7" customWidth="1"/></cols>'
        options = {"before": narrow, "formats": '<numFmt numFmtId="170" formatCode="#,##0.00"/>',
                   "styles": ['numFmtId="170" applyNumberFormat="1"']}  # fmt: skip

        def painted(value: str, style: int) -> str:
            path = self.folder.workbook(row(1, cell("A1", value, style, "n")), **options)
            document = open_document(path)
            self.addCleanup(document.close)
            items = document.part_of(0, Box(0, 0, 400, 40)).items
            (text,) = (item for item in items if isinstance(item, TextBlock))
            return text.paragraphs[0].runs[0].text

        self.assertEqual(painted("12.5", 1), "12.50")
        self.assertRegex(painted("1234567.5", 1), "^#{3,9}$")
        # Without a format of its own it loses digits after the point.
        self.assertRegex(painted("3.14159265358979", 0), r"^3\.1\d{1,6}$")
        # What is in the cell is what is listed.
        (pair,) = self.pairs(row(1, cell("A1", "1234567.5", 1, "n")), **options)
        self.assertEqual(pair.text, "1,234,567.50")

    def test_a_row_is_as_high_as_the_lines_that_its_text_wraps_to(self):
        wrapped = {"styles": ['applyAlignment="1"><alignment wrapText="1"/>', 'fontId="0"']}

        def top_of_the_second_row(style: int) -> float:
            # A colour of its own tells the second row's look from the first's.
            rows = row(1, cell("A1", "ferry " * 30, style)) + row(2, cell("A2", "Below", 3))
            own = {"fonts": [font(rgb("333333"))], "styles": [*wrapped["styles"], 'fontId="1"']}
            pairs = self.pairs(rows, **own)
            return next(pair.bbox[1] for pair in pairs if pair.text == "Below")

        self.assertEqual(top_of_the_second_row(2), 15)
        # 180 letters of about 5.7 points in a column 48 points wide: 24 lines at least.
        self.assertGreater(top_of_the_second_row(1), 20 * 11)

    def test_a_format_that_shows_nothing_is_exempt(self):
        options = {
            "formats": '<numFmt numFmtId="164" formatCode=";;;"/>',
            "styles": ['numFmtId="164"'],
        }
        self.assertIs(self.only(row(1, number("A1", 3, 1)), **options).verdict, Verdict.EXEMPT)

    def test_runs_within_a_cell_are_texts_of_their_own(self):
        strings = (
            f'<si><r><t>Plain </t></r><r><rPr><sz val="11"/><color {rgb("999999")}/></rPr>'
            "<t>pale</t></r></si>"
        )
        pairs = self.pairs(row(1, cell("A1", "0", kind="s")), strings=strings)
        found = {pair.text: pair for pair in pairs}
        self.assert_colours(found["pale"], "999999", WHITE)
        self.assert_colours(found["Plain"], DARK, WHITE)
        self.assertEqual(found["pale"].address, "xl/sharedStrings.xml#si=1/r=2")

    def test_runs_without_a_colour_have_that_of_their_cell(self):
        strings = (
            f'<si><r><t>Plain </t></r><r><rPr><sz val="11"/><color {rgb("999999")}/></rPr>'
            "<t>pale</t></r></si>"
        )
        table = (
            f'<table {SPACES} ref="A1:A2"><tableStyleInfo name="TableStyleMedium2"/></table>'
        ).encode()
        options = {
            "strings": strings,
            "relationships": {"rId1": ("table", "../tables/table1.xml")},
            "more": {"xl/tables/table1.xml": table},
        }
        found = {p.text: p for p in self.pairs(row(1, cell("A1", "0", kind="s")), **options)}
        self.assert_colours(found["Plain"], WHITE, "4472C4")
        self.assert_colours(found["pale"], "999999", "4472C4")
        # Where a conditional format gives one too, programs differ for the run's own.
        tail = formatting("A1", rule("expression", 0, ["TRUE"]))
        rows = row(1, cell("A1", "0", kind="s"))
        pairs = self.pairs(rows, strings=strings, differences=ON_TEXT, tail=tail)
        found = {pair.text: pair for pair in pairs if "appears" not in pair.where}
        self.assert_colours(found["Plain"], "AA0000", WHITE)
        self.assertIs(found["pale"].verdict, Verdict.NEEDS_EYES)

    def test_bold_at_fourteen_points_is_large_scale(self):
        options = {"fonts": [font(rgb("888888"), "<b/>", "14")], "styles": ['fontId="1"']}
        self.assertEqual(self.only(WORD, **options).required, 3.0)

    def test_automatic_text_on_the_dark_needs_eyes(self):
        options = {"fonts": [font()], "fills": [solid(rgb("203040"))],
                   "styles": ['fontId="1" fillId="2"']}  # fmt: skip
        pair = self.only(WORD, **options)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("automatic", pair.reason)

    def test_a_gradient_counts_with_all_its_colours(self):
        gradient = (
            '<fill><gradientFill degree="90"><stop position="0">'
            f'<color {rgb("FFFFFF")}/></stop><stop position="1"><color {rgb("888888")}/></stop>'
            "</gradientFill></fill>"
        )
        pair = self.only(WORD, **filled(gradient))
        self.assertAlmostEqual(pair.numbers.highest, 21.0, delta=0.01)
        self.assertAlmostEqual(pair.numbers.lowest, ratio_by_hand(BLACK, "888888"), delta=0.01)

    def test_a_table_style_shows_where_the_cell_says_nothing(self):
        table = (
            f'<table {SPACES} ref="A1:B3" totalsRowCount="0"><tableStyleInfo '
            'name="TableStyleMedium2" showRowStripes="1"/></table>'
        ).encode()
        options = {
            "relationships": {"rId1": ("table", "../tables/table1.xml")},
            "more": {"xl/tables/table1.xml": table},
            **fonted(rgb("AA0000")),
        }
        rows = "".join(
            row(n, cell(f"A{n}", f"a{n}") + cell(f"B{n}", f"b{n}", style=int(n == 2)))
            for n in (1, 2, 3)
        )
        found = self.pairs(rows, **options)
        by_cells = {pair.where.rpartition(" › ")[2]: pair for pair in found}
        self.assert_colours(by_cells["A1:B1"], WHITE, "4472C4")
        # accent 1 lightened by 0.8, by hand: 218, 227, 243.
        self.assert_colours(by_cells["A2"], DARK, "DAE3F3")
        self.assert_colours(by_cells["B2"], "AA0000", "DAE3F3")
        self.assert_colours(by_cells["A3:B3"], DARK, WHITE)

    def test_a_table_style_of_the_file(self):
        table = (
            f'<table {SPACES} ref="A1:A2"><tableStyleInfo name="Ours" showRowStripes="1"/></table>'
        ).encode()
        found = self.pairs(
            row(1, cell("A1", "Head")) + row(2, cell("A2", "Body")),
            differences=[dxf(rgb("DDDDDD"), rgb("203040"))],
            tables='<tableStyles><tableStyle name="Ours"><tableStyleElement type="headerRow" '
            'dxfId="0"/></tableStyle></tableStyles>',
            relationships={"rId1": ("table", "../tables/table1.xml")},
            more={"xl/tables/table1.xml": table},
        )
        by_words = {pair.text: pair for pair in found}
        self.assert_colours(by_words["Head"], "DDDDDD", "203040")
        self.assertEqual(by_words["Head"].deciders[0].address, "xl/styles.xml#dxf=0")
        self.assert_colours(by_words["Body"], DARK, WHITE)

    def test_comments_are_measured_on_their_notes(self):
        comments = (
            f'<comments {SPACES}><commentList><comment ref="B3"><text><r><rPr><sz val="9"/>'
            f"<color {rgb('AAAAAA')}/></rPr><t>Ask the quay</t></r></text></comment></commentList>"
            "</comments>"
        ).encode()
        pairs = self.pairs(
            row(1, cell("A1")),
            relationships={"rId1": ("comments", "../comments1.xml")},
            more={"xl/comments1.xml": comments},
        )
        pair = next(pair for pair in pairs if pair.text == "Ask the quay")
        self.assert_colours(pair, "AAAAAA", "FFFFE1")
        self.assertIn("comment at B3", pair.where)

    def test_text_boxes_are_measured_over_the_cells_below_them(self):
        box = (
            "<xdr:twoCellAnchor><xdr:from><xdr:col>0</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>0"
            "</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:from><xdr:to><xdr:col>2</xdr:col><xdr:colOff>0"
            "</xdr:colOff><xdr:row>3</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:to><xdr:sp><xdr:nvSpPr>"
            '<xdr:cNvPr id="2" name="Note"/><xdr:cNvSpPr/></xdr:nvSpPr><xdr:spPr><a:xfrm><a:off x="0" '
            'y="0"/><a:ext cx="1" cy="1"/></a:xfrm><a:prstGeom prst="rect"/><a:noFill/></xdr:spPr>'
            '<xdr:txBody><a:bodyPr/><a:p><a:r><a:rPr sz="1100"><a:solidFill><a:srgbClr val="FFFFFF"/>'
            "</a:solidFill></a:rPr><a:t>Over</a:t></a:r></a:p></xdr:txBody></xdr:sp><xdr:clientData/>"
            "</xdr:twoCellAnchor>"
        )
        rows = "".join(
            row(n, "".join(cell(f"{column}{n}", "x", 1) for column in "ABC")) for n in range(1, 5)
        )
        pairs = self.pairs(
            rows,
            **filled(solid(rgb("203040")), rgb("EEEEEE")),
            tail='<drawing r:id="rId1"/>',
            relationships={"rId1": ("drawing", "../drawings/drawing1.xml")},
            more={"xl/drawings/drawing1.xml": f"<xdr:wsDr {SPACES}>{box}</xdr:wsDr>".encode()},
        )
        pair = next(pair for pair in pairs if pair.text == "Over")
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("FFFFFF", "203040"), delta=0.2)

    def test_aaa_asks_more(self):
        path = self.folder.workbook(WORD, **fonted(rgb("707070")))
        self.assertIs(pairs_of(path)[0].verdict, Verdict.PASSES)
        self.assertIs(pairs_of(path, Asked(level=Level.AAA))[0].verdict, Verdict.FALLS_SHORT)


if __name__ == "__main__":
    unittest.main()
