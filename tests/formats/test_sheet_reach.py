"""What else is behind a cell's text, or printed with it: bars, cells beside, dates, headers."""

import os
import time
import unittest
from datetime import date
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook as OtherLibrary
from openpyxl.chart import BarChart, Reference

from high_pair.formats.sheets.bars import Axis, Bar, Standing, reach, standing
from high_pair.formats.sheets.days import at_day, is_by_date, number_of, period_of, today
from high_pair.measure.pairs import Pair
from high_pair.scene.paint import BLACK, WHITE
from high_pair.wcag.verdicts import Verdict
from tests.decks import pairs_of, ratio_by_hand
from tests.formats.test_opendocument_sheets import SheetTest as OdfSheetTest
from tests.formats.test_opendocument_sheets import coloured
from tests.formats.test_sheet_rules import SheetTest, filled
from tests.odf_files import cell as odf_cell
from tests.odf_files import cells, style, table
from tests.odf_files import number as odf_number
from tests.odf_files import row as odf_row
from tests.workbooks import (
    cell,
    dxf,
    font,
    formatting,
    number,
    rgb,
    row,
    rule,
    solid,
)

DARK_BAR = "203040"
WIDE = '<cols><col min="1" max="1" width="40" customWidth="1"/></cols>'


def bar(code: str, more: str = "", identity: str = "{1}") -> str:
    """Write a data bar with a reference to its extension."""
    return (
        f'<cfRule type="dataBar" priority="1"><dataBar {more}><cfvo type="num" val="0"/>'
        f'<cfvo type="num" val="100"/><color {rgb(code)}/></dataBar><extLst>'
        f"<ext><x14:id>{identity}</x14:id></ext></extLst></cfRule>"
    )


def extension(more: str, inside: str = "", identity: str = "{1}") -> str:
    """Write what extends a data bar: that it doesn't fade, say."""
    return (
        "<extLst><ext><x14:conditionalFormattings><x14:conditionalFormatting>"
        f'<x14:cfRule type="dataBar" id="{identity}"><x14:dataBar {more}>'
        f'<x14:cfvo type="num"><xm:f>0</xm:f></x14:cfvo><x14:cfvo type="num"><xm:f>100</xm:f>'
        f"</x14:cfvo>{inside}</x14:dataBar></x14:cfRule><xm:sqref>A1:A9</xm:sqref>"
        "</x14:conditionalFormatting></x14:conditionalFormattings></ext></extLst>"
    )


PLAIN_BAR = extension('minLength="0" maxLength="100" gradient="0"')


class Bars(SheetTest):
    """A number of two digits at the right of a column 40 digits wide."""

    def measured(self, value: float, tail: str, colour: str = "000000") -> Pair:
        return self.only(
            row(1, number("A1", value, 1)),
            fonts=[font(rgb(colour))],
            styles=['fontId="1"'],
            before=WIDE,
            tail=tail,
        )

    def test_a_bar_that_ends_before_the_text_counts_for_nothing(self):
        pair = self.measured(40, formatting("A1", bar(DARK_BAR)) + PLAIN_BAR)
        self.assert_colours(pair, "000000", "FFFFFF")

    def test_a_bar_behind_all_of_the_text_is_what_it_stands_on(self):
        pair = self.measured(100, formatting("A1", bar(DARK_BAR)) + PLAIN_BAR)
        self.assert_colours(pair, "000000", DARK_BAR)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)

    def test_a_bar_that_ends_about_where_the_text_begins_needs_eyes_where_it_decides(self):
        pair = self.measured(93, formatting("A1", bar(DARK_BAR)) + PLAIN_BAR)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("data bar", pair.reason)

    def test_a_bar_that_fades_has_any_colour_on_its_way(self):
        fading = extension('minLength="0" maxLength="100"')
        pair = self.measured(100, formatting("A1", bar(DARK_BAR)) + fading)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        pair = self.measured(40, formatting("A1", bar(DARK_BAR)) + fading)
        self.assert_colours(pair, "000000", "FFFFFF")

    def test_without_an_extension_both_usual_lengths_are_possible(self):
        # 96 reaches 96 % or 87 %; two digits begin at about 95 %.
        pair = self.measured(96, formatting("A1", bar(DARK_BAR)))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assert_colours(self.measured(50, formatting("A1", bar(DARK_BAR))), "000000", "FFFFFF")

    def test_where_a_bar_stands_for_the_value_nothing_is_asked(self):
        pair = self.measured(100, formatting("A1", bar(DARK_BAR, 'showValue="0"')) + PLAIN_BAR)
        self.assertIs(pair.verdict, Verdict.EXEMPT)
        icons = (
            '<cfRule type="iconSet" priority="1"><iconSet showValue="0"><cfvo type="percent" '
            'val="0"/><cfvo type="percent" val="50"/></iconSet></cfRule>'
        )
        self.assertIs(self.measured(5, formatting("A1", icons)).verdict, Verdict.EXEMPT)
        shown = icons.replace('showValue="0"', "")
        self.assertIs(self.measured(5, formatting("A1", shown)).verdict, Verdict.PASSES)


class Reaching(unittest.TestCase):
    """By hand, in shares of the cell."""

    def test_a_bar_s_length_is_its_number_s_share_of_the_room(self):
        one = Bar(BLACK, BLACK, ((0.1, 0.9),), axis=Axis.SIDE)
        surely, maybe = reach(one, 50.0, 0.0, 100.0) or ((0, 0), (0, 0))
        # 0.1 + 0.5 · 0.8, give and take 0.03.
        self.assertAlmostEqual(surely[1], 0.47)
        self.assertAlmostEqual(maybe[1], 0.53)

    def test_numbers_below_zero_go_the_other_way_from_the_axis(self):
        one = Bar(BLACK, WHITE, ((0.0, 1.0),), axis=Axis.ZERO)
        surely, _ = reach(one, -20.0, -20.0, 80.0) or ((0, 0), (0, 0))
        # Zero stands at a fifth; the least number's bar goes from there to the left side.
        self.assertAlmostEqual(surely[0], 0.0)
        self.assertAlmostEqual(surely[1], 0.17)
        surely, _ = reach(one, 80.0, -20.0, 80.0) or ((0, 0), (0, 0))
        self.assertAlmostEqual(surely[0], 0.23)
        self.assertAlmostEqual(surely[1], 1.0)
        self.assertEqual(one.colour_for(-1.0), WHITE)

    def test_below_zero_without_an_axis_stated_nobody_knows(self):
        self.assertIsNone(reach(Bar(BLACK, BLACK), -1.0, -5.0, 5.0))
        self.assertIs(standing(((0.0, 0.1), (0.0, 0.2)), None), Standing.UNSURE)

    @given(
        st.floats(-1e6, 1e6), st.floats(-1e6, 1e6), st.floats(-1e6, 1e6),
        st.sampled_from(list(Axis)), st.booleans(),
    )  # fmt: skip
    def test_whatever_the_numbers_a_bar_stays_in_its_cell(self, value, one, other, axis, turned):
        found = reach(
            Bar(BLACK, BLACK, axis=axis, from_right=turned), value, min(one, other), max(one, other)
        )
        if found is not None:
            (sure_from, sure_to), (maybe_from, maybe_to) = found
            self.assertGreaterEqual(maybe_from, -0.031)
            self.assertLessEqual(maybe_to, 1.031)
            self.assertLessEqual(maybe_from, sure_from)
            self.assertLessEqual(sure_to, maybe_to + 1e-9)


LONG = "Foot passengers board by the lower gangway"


class RunningOn(SheetTest):
    """Words too long for their cell run on over empty ones, whose fill is then behind them."""

    OPTIONS = filled(solid(rgb(DARK_BAR)), rgb("FFFFFF"))

    def test_on_another_fill_they_are_measured_there_too(self):
        pair = self.only(row(1, cell("A1", LONG, 1)), **self.OPTIONS)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(pair.ratio, 1.0, delta=0.01)
        self.assertEqual(pair.numbers.background, "#FFFFFF")

    def test_over_cells_of_the_same_fill_nothing_changes(self):
        filled_cells = "".join(f'<c r="{letter}1" s="1"/>' for letter in "BCDEFG")
        pair = self.only(row(1, cell("A1", LONG, 1) + filled_cells), **self.OPTIONS)
        self.assert_colours(pair, "FFFFFF", DARK_BAR)

    def test_a_row_s_or_a_column_s_own_style_is_that_of_cells_that_arent_written(self):
        of_row = row(1, cell("A1", LONG, 1), 's="1" customFormat="1"')
        self.assert_colours(self.only(of_row, **self.OPTIONS), "FFFFFF", DARK_BAR)
        columns = '<cols><col min="1" max="9" width="9" style="1"/></cols>'
        pair = self.only(row(1, cell("A1", LONG, 1)), before=columns, **self.OPTIONS)
        self.assert_colours(pair, "FFFFFF", DARK_BAR)

    def test_a_rule_that_fills_whole_rows_fills_empty_cells_too(self):
        # As bands are made.
        options = {
            "fonts": [font(rgb("FFFFFF"))],
            "styles": ['fontId="1"'],
            "differences": [dxf(fill=rgb(DARK_BAR))],
        }
        for formula, verdict in (
            ("MOD(ROW(),2)=1", Verdict.PASSES),
            ("COLUMN()=1", Verdict.FALLS_SHORT),
            # Nobody works this one out, neither here nor there.
            ("INDIRECT(A1)=1", Verdict.FALLS_SHORT),
        ):
            rules = formatting("A1:G9", rule("expression", 0, [formula]))
            pairs = self.pairs(row(1, cell("A1", LONG, 1)), tail=rules, **options)
            now = next(pair for pair in pairs if "appears" not in pair.where)
            self.assertIs(now.verdict, verdict, formula)

    def test_what_a_rule_may_do_to_empty_cells_may_decide(self):
        rules = formatting("B1:G9", rule("containsBlanks", 0))
        options = {**self.OPTIONS, "differences": [dxf(fill=rgb("FFFFFF"))]}
        filled_cells = "".join(f'<c r="{letter}1" s="1"/>' for letter in "BCDEFG")
        pairs = self.pairs(row(1, cell("A1", LONG, 1) + filled_cells), tail=rules, **options)
        now = next(pair for pair in pairs if "appears" not in pair.where)
        self.assertIs(now.verdict, Verdict.NEEDS_EYES)
        self.assertIn("runs on", now.reason)

    def test_words_in_the_way_end_them(self):
        pairs = self.pairs(row(1, cell("A1", LONG, 1) + cell("B1", "Here")), **self.OPTIONS)
        self.assert_colours(next(p for p in pairs if p.text == LONG), "FFFFFF", DARK_BAR)

    def test_wrapped_shrunk_and_merged_words_stay_in_their_cell(self):
        for inside in ('wrapText="1"', 'shrinkToFit="1"'):
            style = f'fontId="1" fillId="2" applyAlignment="1"><alignment {inside}/>'
            pair = self.only(row(1, cell("A1", LONG, 1)), **{**self.OPTIONS, "styles": [style]})
            self.assert_colours(pair, "FFFFFF", DARK_BAR)
        merged = '<mergeCells><mergeCell ref="A1:F1"/></mergeCells>'
        pair = self.only(row(1, cell("A1", LONG, 1)), tail=merged, **self.OPTIONS)
        self.assert_colours(pair, "FFFFFF", DARK_BAR)

    def test_words_in_the_middle_run_on_to_both_sides(self):
        style = 'fontId="1" fillId="2" applyAlignment="1"><alignment horizontal="center"/>'
        own = row(1, '<c r="D1" s="1"/>' + '<c r="E1" s="1"/>' + cell("C1", LONG, 1))
        pair = self.only(own, **{**self.OPTIONS, "styles": [style]})
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)

    def test_styles_of_rows_and_columns_count_in_large_sheets_too(self):
        # Whose rows aren't kept as elements.
        with mock.patch("high_pair.formats.sheets.workbook.LARGE_SHEET", 0):
            self.test_a_row_s_or_a_column_s_own_style_is_that_of_cells_that_arent_written()
            pair = self.only(
                row(1, cell("A1", LONG, 2), 's="1" customFormat="1"'),
                fonts=[font(rgb("000000"))],
                fills=[solid(rgb(DARK_BAR))],
                styles=['fillId="2"', 'fontId="1"'],
            )
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("000000", DARK_BAR), delta=0.01)

    def test_styled_columns_of_a_sheet_as_wide_as_can_be_take_no_time(self):
        columns = '<cols><col min="1" max="16384" width="9" style="1"/></cols>'
        rows = [row(n, cell(f"A{n}", f"{LONG} {n}", 1)) for n in range(1, 200)]
        began = time.monotonic()
        pairs = self.pairs("".join(rows) + row(300, cell("XFD300", "End", 1)), before=columns,
                           **self.OPTIONS)  # fmt: skip
        self.assertLess(time.monotonic() - began, 10.0)
        self.assert_colours(pairs[0], "FFFFFF", DARK_BAR)

    def test_of_very_many_rules_and_cells_nobody_is_sure(self):
        rules = formatting("B1:G9", rule("expression", 0, ["B1=7"]))
        options = {**self.OPTIONS, "differences": [dxf(fill=rgb("FFFFFF"))]}
        filled_cells = "".join(f'<c r="{letter}1" s="1"/>' for letter in "BCDEFG")
        for most, verdict in ((999, Verdict.PASSES), (0, Verdict.NEEDS_EYES)):
            with mock.patch("high_pair.formats.sheets.backdrops.MOST_EFFORT", most):
                pairs = self.pairs(
                    row(1, cell("A1", LONG, 1) + filled_cells), tail=rules, **options
                )
            now = next(pair for pair in pairs if "appears" not in pair.where)
            self.assertIs(now.verdict, verdict)


class Dates(SheetTest):
    """Rules by date, with the day given as reproducible builds give it: 30 November 2026, a Monday."""

    GIVEN = {"SOURCE_DATE_EPOCH": "1796034600"}
    DAY = date(2026, 11, 30)

    def test_periods_by_the_calendar(self):
        expected = {
            "today": ("2026-11-30", "2026-11-30"),
            "yesterday": ("2026-11-29", "2026-11-29"),
            "tomorrow": ("2026-12-01", "2026-12-01"),
            "last7Days": ("2026-11-24", "2026-11-30"),
            "thisWeek": ("2026-11-29", "2026-12-05"),
            "lastWeek": ("2026-11-22", "2026-11-28"),
            "nextWeek": ("2026-12-06", "2026-12-12"),
            "thisMonth": ("2026-11-01", "2026-11-30"),
            "lastMonth": ("2026-10-01", "2026-10-31"),
            "nextMonth": ("2026-12-01", "2026-12-31"),
        }
        for name, (first, last) in expected.items():
            with self.subTest(name):
                found = period_of(name, self.DAY)
                self.assertEqual(found, (date.fromisoformat(first), date.fromisoformat(last)))
        self.assertIsNone(period_of("someday", self.DAY))

    def test_day_numbers_are_those_of_the_standard(self):
        # §18.17.4.3 gives 1 for 1 January 1900 and counts a day that never was; 43,831 is 2020.
        self.assertEqual(number_of(date(2020, 1, 1)), 43_831)
        self.assertEqual(number_of(date(2020, 1, 1), from_1904=True), 43_831 - 1_462)

    def test_words_that_only_look_like_the_question_stay_words(self):
        self.assertFalse(is_by_date('A1="TODAY()"'))
        with mock.patch.dict(os.environ, self.GIVEN):
            self.assertEqual(
                at_day('A1&"NOW()"=TODAY()', False), f'A1&"NOW()"={number_of(self.DAY)}'
            )

    def test_a_day_so_late_that_no_year_follows_isnt_taken(self):
        # The last second of the year 9999.
        with mock.patch.dict(os.environ, {"SOURCE_DATE_EPOCH": "253402300799"}):
            self.assertIsNotNone(period_of("nextYear", today()))

    def test_a_rule_holds_for_the_cells_of_its_period(self):
        due, other = number_of(self.DAY), number_of(date(2026, 9, 1))
        rows = row(1, number("A1", due + 0.4)) + row(2, number("A2", other))
        options = {"differences": [dxf(rgb("AA0000"))]}
        today = rule("timePeriod", 0, (), 'timePeriod="today"')
        formula = rule("expression", 0, ["INT(A1)=TODAY()"])
        for each in (today, formula):
            with mock.patch.dict(os.environ, self.GIVEN):
                pairs = self.pairs(rows, tail=formatting("A1:A2", each), **options)
            found = {pair.cells: pair for pair in pairs}
            self.assert_colours(found[("A1",)], "AA0000", "FFFFFF")
            self.assertNotEqual(found[("A2",)].numbers.foreground, "#AA0000")

    def test_what_would_show_on_another_day_says_by_which_day_that_was_told(self):
        rows = row(1, number("A1", 40_000))
        tail = formatting("A1", rule("timePeriod", 0, (), 'timePeriod="today"'))
        with mock.patch.dict(os.environ, self.GIVEN):
            pairs = self.pairs(rows, tail=tail, differences=[dxf(rgb("AA0000"))])
        self.assertTrue(any("2026-11-30 being today" in pair.where for pair in pairs))


CALC = 'xmlns:calcext="urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0"'


def odf_formats(inside: str, area: str = "Fares.A1:Fares.A9") -> str:
    return (
        f"<calcext:conditional-formats {CALC}><calcext:conditional-format "
        f'calcext:target-range-address="{area}">{inside}</calcext:conditional-format>'
        "</calcext:conditional-formats>"
    )


class OpenDocument(OdfSheetTest):
    def test_a_bar_reaches_as_far_as_it_says(self):
        tail = odf_formats(
            '<calcext:data-bar calcext:positive-color="#203040" calcext:gradient="false" '
            'calcext:max-length="100"><calcext:formatting-entry calcext:value="0" '
            'calcext:type="number"/><calcext:formatting-entry calcext:value="100" '
            'calcext:type="number"/></calcext:data-bar>'
        )
        body = table(odf_row(odf_number(20)), odf_row(odf_number(100)), tail=tail)
        found = {pair.text: pair for pair in self.pairs(body)}
        self.assert_colours(found["20"], "000000", "FFFFFF")
        self.assert_colours(found["100"], "000000", "203040")

    def test_dates_are_told_by_their_period(self):
        tail = odf_formats('<calcext:date-is calcext:style="Bad" calcext:date="last-7-days"/>')

        def day(written: str, words: str) -> str:
            return (
                f'<table:table-cell office:value-type="date" office:date-value="{written}">'
                f"<text:p>{words}</text:p></table:table-cell>"
            )

        body = table(
            odf_row(day("2026-11-26", "Thursday")), odf_row(day("2026-11-02", "Monday")), tail=tail
        )
        with mock.patch.dict(os.environ, Dates.GIVEN):
            pairs = self.pairs(body, common=coloured("Bad", "aa0000"))
        found = {p.text: p for p in pairs if "appears" not in p.where}
        self.assert_colours(found["Thursday"], "AA0000", "FFFFFF")
        self.assert_colours(found["Monday"], "000000", "FFFFFF")

    def test_where_icons_stand_for_values_nothing_is_asked(self):
        tail = odf_formats('<calcext:icon-set calcext:show-value="false"/>')
        (pair,) = self.pairs(table(odf_row(odf_number(4)), tail=tail))
        self.assertIs(pair.verdict, Verdict.EXEMPT)

    def test_words_run_on_over_cells_of_another_fill(self):
        own = coloured("C", "ffffff").replace(
            "<style:text-properties", '<style:table-cell-properties fo:background-color="#203040"/>'
            "<style:text-properties", 1,
        )  # fmt: skip
        (pair,) = self.pairs(table(odf_row(odf_cell(LONG, "C"))), automatic=own)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)

    def test_repeated_cells_count_however_many_a_sheet_has(self):
        # An empty one, and six dark ones after it that are written once.
        beside = (
            '<table:table-cell/><table:table-cell table:style-name="C" '
            'table:number-columns-repeated="6"/>'
        )
        dark = style("C", "table-cell", cells('fo:background-color="#203040"'))
        body = table(odf_row(odf_cell("Word"), more='table:number-rows-repeated="3"'),
                     odf_row(odf_cell(LONG) + beside), odf_row(odf_cell("End")))  # fmt: skip
        with mock.patch("high_pair.formats.odf.cells.MOST_COPIES", 0):
            pairs = self.pairs(body, automatic=dark)
        pair = next(each for each in pairs if each.text == LONG)
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand("000000", DARK_BAR), delta=0.01)


class Printed(SheetTest):
    def test_each_look_of_a_header_is_a_text_of_its_own(self):
        head = (
            '<headerFooter><oddHeader>&amp;LFares&amp;C&amp;"Carlito,Bold"&amp;16&amp;KBBBBBBHarbour'
            "&amp;R&amp;K04+000Page &amp;P of &amp;N</oddHeader>"
            "<evenHeader>&amp;LNever</evenHeader></headerFooter>"
        )
        pairs = {pair.text: pair for pair in self.pairs(row(1, cell("A1")), tail=head)}
        self.assertEqual(set(pairs), {"Word", "Fares", "Harbour", "Page [page] of [pages]"})
        self.assert_colours(pairs["Fares"], "000000", "FFFFFF")
        self.assert_colours(pairs["Harbour"], "BBBBBB", "FFFFFF")
        # Bold, of 16 points: large-scale.
        self.assertEqual(pairs["Harbour"].required, 3.0)
        self.assert_colours(pairs["Page [page] of [pages]"], "4472C4", "FFFFFF")
        self.assertIn("printed header, middle, appears when it is printed", pairs["Harbour"].where)
        self.assertTrue(pairs["Harbour"].fixed)

    def test_pages_of_their_own_count_where_the_sheet_says_so(self):
        head = (
            '<headerFooter differentOddEven="1" differentFirst="1"><oddFooter>Tides &amp;&amp; fares'
            "</oddFooter><evenFooter>Even</evenFooter><firstFooter>First</firstFooter></headerFooter>"
        )
        texts = {pair.text for pair in self.pairs(row(1, cell("A1")), tail=head)}
        self.assertEqual(texts, {"Word", "Tides & fares", "Even", "First"})

    @given(st.text('&LCRKBI"0123456789+- ,aP', max_size=40))
    def test_no_codes_whatever_raise(self, text: str):
        from high_pair.formats.sheets.colours import SheetColours
        from high_pair.formats.sheets.printed import pieces_of
        from high_pair.formats.sheets.styles import Font

        for piece in pieces_of(text, Font(), SheetColours()):
            self.assertTrue(piece.words)


class ChartSheets(SheetTest):
    def test_a_sheet_that_is_a_chart_has_its_texts(self):
        book = OtherLibrary()
        sheet = book.active
        for entry in (["Month", "Riders"], ["May", 20], ["June", 40]):
            sheet.append(entry)
        chart = BarChart()
        chart.title = "Riders by month"
        chart.add_data(Reference(sheet, min_col=2, min_row=1, max_row=3), titles_from_data=True)
        own = book.create_chartsheet("Riders")
        own.add_chart(chart)
        path = Path(self.folder.path) / "chart.xlsx"
        book.save(path)
        found = [pair for page in (0, 1) for pair in pairs_of(path, page=page)]
        title = next(pair for pair in found if pair.text == "Riders by month")
        self.assertEqual(title.where.partition(" › ")[0], "Sheet 2, Riders")
        self.assertIsNot(title.verdict, Verdict.NEEDS_EYES)
        self.assertAlmostEqual(title.ratio or 0, ratio_by_hand("000000", "FFFFFF"), delta=0.1)


if __name__ == "__main__":
    unittest.main()
