"""OpenDocument spreadsheets: colours rule by rule, conditions, and changes in a copy."""

import unittest

from odfdo import Document as OtherLibrary

from high_pair.edits.kinds import RecolourFill, RecolourOrigin, RecolourText
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import pairs_of
from tests.odf_files import (
    SHEET,
    OdfFileTest,
    cell,
    cells,
    number,
    p,
    row,
    span,
    style,
    table,
    text,
)

BLACK, WHITE = "000000", "FFFFFF"
CALC = 'xmlns:calcext="urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0"'


def coloured(name: str, code: str, parent: str = "") -> str:
    return style(name, "table-cell", text(f'fo:color="#{code}"'), parent)


def filled(name: str, code: str, more: str = "") -> str:
    return style(name, "table-cell", cells(f'fo:background-color="#{code}"') + more)


def extended(condition: str, applied: str, area: str = "Fares.A1:Fares.A3") -> str:
    """Write a conditional format of the extension."""
    return (
        f"<calcext:conditional-formats {CALC}><calcext:conditional-format "
        f'calcext:target-range-address="{area}"><calcext:condition calcext:value="{condition}" '
        f'calcext:apply-style-name="{applied}" calcext:base-cell-address="Fares.A1"/>'
        "</calcext:conditional-format></calcext:conditional-formats>"
    )


class SheetTest(OdfFileTest):
    kind = SHEET


class Colours(SheetTest):
    def test_automatic_text_turns_white_on_the_dark(self):
        self.assert_colours(self.only(table(row(cell()))), BLACK, WHITE)
        pair = self.only(table(row(cell("Word", "C"))), automatic=filled("C", "102030"))
        self.assert_colours(pair, WHITE, "102030")
        # A luma of 113: the writers of such files go on with black up to one of 62.
        pair = self.only(table(row(cell("Word", "C"))), automatic=filled("C", "0099cc"))
        self.assert_colours(pair, BLACK, "0099CC")

    def test_a_style_its_parent_and_the_default(self):
        options = {
            "common": coloured("Base", "aa0000"),
            "automatic": style("C", "table-cell", "", "Base"),
        }
        self.assert_colours(self.only(table(row(cell("Word", "C"))), **options), "AA0000", WHITE)

    def test_a_cell_without_a_style_has_the_rows_and_then_the_columns(self):
        styles = coloured("R", "00aa00") + coloured("K", "0000aa")
        columns = '<table:table-column table:default-cell-style-name="K"/>'
        by_row = table(row(cell(), more='table:default-cell-style-name="R"'), columns=columns)
        self.assert_colours(self.only(by_row, automatic=styles), "00AA00", WHITE)
        by_column = table(row(cell()), columns=columns)
        self.assert_colours(self.only(by_column, automatic=styles), "0000AA", WHITE)

    def test_repeated_cells_and_rows_are_counted(self):
        body = table(row(cell("x", "", 'table:number-columns-repeated="3"'),
                         more='table:number-rows-repeated="2"'))  # fmt: skip
        self.assertEqual(self.only(body).where, "Sheet 1, Fares › A1:C2")

    def test_number_styles_give_colours_by_value(self):
        numbers = (
            '<number:number-style style:name="N1" xmlns:number="urn:oasis:names:tc:opendocument:'
            'xmlns:datastyle:1.0"><number:number/></number:number-style><number:number-style '
            'style:name="N2" xmlns:number="urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0">'
            '<style:text-properties fo:color="#ff0000"/><number:number/>'
            '<style:map style:condition="value()&gt;=0" style:apply-style-name="N1"/>'
            "</number:number-style>"
        )
        own = '<style:style style:name="C" style:family="table-cell" style:data-style-name="N2"/>'
        body = table(row(number(-5, "C"), number(5, "C"), cell("Total", "C")))
        pairs = self.pairs(body, automatic=numbers + own)
        found = {pair.text: pair for pair in pairs}
        # It says nothing of words: they keep the cell's colour, and are one look with "5".
        self.assertNotIn("Total", found)
        self.assertEqual(found["5"].where, "Sheet 1, Fares › B1:C1")
        self.assert_colours(found["-5"], "FF0000", WHITE)
        self.assert_colours(found["5"], BLACK, WHITE)

    def test_hidden_rows_columns_and_sheets_are_exempt(self):
        hidden = table(row(cell(), more='table:visibility="collapse"'))
        self.assertIs(self.only(hidden).verdict, Verdict.EXEMPT)
        columns = '<table:table-column table:visibility="collapse"/>'
        self.assertIs(self.only(table(row(cell()), columns=columns)).verdict, Verdict.EXEMPT)


class Spans(SheetTest):
    """Pieces of a cell's text may have a look of their own."""

    STYLES = (
        style("Pale", "text", text('fo:color="#cccccc"'))
        + style("Bold", "text", text('fo:font-weight="bold" fo:font-size="14pt"'))
        + style("Mark", "text", text('fo:color="#333333" fo:background-color="#404040"'))
        + coloured("Green", "006600")
    )

    def of(self, *words: str) -> dict[str, Pair]:
        body = table(row(*(cell(each, "Green") for each in words)))
        self.path = self.write(body, automatic=self.STYLES)
        return {pair.text: pair for pair in pairs_of(self.path)}

    def test_each_piece_is_measured_and_the_rest_is_the_cell_s(self):
        found = self.of(f"Adults {span('free', 'Pale')} on {span('Sundays', 'Bold')}", "Children")
        self.assert_colours(found["free"], "CCCCCC", WHITE)
        self.assert_colours(found["Sundays"], "006600", WHITE)
        self.assertEqual((found["Sundays"].size, found["Sundays"].weight), (14.0, 700))
        self.assert_colours(found["Children"], "006600", WHITE)
        self.assertIn("Adults", found)
        self.assertEqual(found["free"].cells, ("A1",))

    def test_a_piece_s_own_background_is_behind_it(self):
        self.assert_colours(self.of(span("Marked", "Mark"))["Marked"], "333333", "404040")

    def test_a_piece_is_recoloured_alone(self):
        found = self.of(f"Adults {span('free', 'Pale')}")
        document = open_document(self.path)
        self.addCleanup(document.close)
        target = self.folder.path / "copy.ods"
        document.edited([RecolourText(found["free"].address, (0x44, 0x44, 0x44))]).save(target)
        after = {pair.text: pair for pair in pairs_of(target)}
        self.assert_colours(after["free"], "444444", WHITE)
        self.assert_colours(after["Adults"], "006600", WHITE)


class Effects(SheetTest):
    """Letters with a shadow, or of which only the outline is painted."""

    def of(self, look: str, code: str, fill: str = "ffffff") -> Pair:
        own = style("C", "table-cell", cells(f'fo:background-color="#{fill}"')
                    + text(f'fo:color="#{code}" {look}'))  # fmt: skip
        return self.only(table(row(cell("Word", "C"))), automatic=own)

    def test_a_shadow_counts_where_it_makes_a_difference(self):
        shadow = 'fo:text-shadow="1pt 1pt"'
        # Black letters have a light grey one, all others a black one.
        self.assertIs(self.of(shadow, "000000").verdict, Verdict.PASSES)
        dark = self.of(shadow, "330000")
        self.assertIs(dark.verdict, Verdict.NEEDS_EYES)
        self.assertIn("shadow", dark.reason)
        self.assertIs(self.of(shadow, "888888", "999999").verdict, Verdict.NEEDS_EYES)
        self.assertIs(self.of(shadow, "333333", "444444").verdict, Verdict.FALLS_SHORT)

    def test_an_outline_needs_eyes(self):
        pair = self.of('style:text-outline="true"', "000000")
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("outline", pair.reason)


class Heights(SheetTest):
    def test_only_rows_of_optimal_height_are_as_high_as_their_text(self):
        large = style("C", "table-cell", text('fo:font-size="30pt"'))
        for optimal, least, most in (("true", 36, 45), ("false", 20, 20)):
            height = style(
                "R",
                "table-row",
                '<style:table-row-properties style:row-height="20pt" '
                f'style:use-optimal-row-height="{optimal}"/>',
            )
            body = table(
                row(cell("Large", "C"), more='table:style-name="R"')
                + row(cell("Below", "D"), more='table:style-name="R"')
            )
            pairs = self.pairs(body, automatic=large + height + coloured("D", "333333"))
            top = next(pair.bbox[1] for pair in pairs if pair.text == "Below")
            self.assertTrue(least <= top <= most, (optimal, top))


class Conditions(SheetTest):
    ROWS = (row(number(5)), row(number(10)), row(number(20)))
    BAD = coloured("Bad", "aa0000") + filled("Marked", "ffffcc")

    def last(self, tail: str = "", rows: tuple[str, ...] = ROWS, **options: object) -> Pair:
        pairs = self.pairs(table(*rows, tail=tail), common=self.BAD, **options)
        return next(p for p in pairs if "A3" in p.where and "appears" not in p.where)

    def test_conditions_of_the_extension(self):
        for condition in (
            "&gt;15", "=20", "between(15,25)", "not-between(0,19)", "top-elements(1)",
            "above-average", "unique", "formula-is([.A1]&gt;15)", "formula-is(AND([.A1]&gt;15;[.$A$2]=10))",
        ):  # fmt: skip
            with self.subTest(condition):
                self.assert_colours(self.last(extended(condition, "Bad")), "AA0000", WHITE)
        self.assert_colours(self.last(extended("&gt;15", "Marked")), BLACK, "FFFFCC")

    def test_maps_of_the_cells_style_hold_where_there_is_no_extension(self):
        mapped = style(
            "C",
            "table-cell",
            '<style:map style:condition="cell-content()&gt;15" style:apply-style-name="Bad" '
            'style:base-cell-address="Fares.A1"/>',
        )
        rows = tuple(row(number(value, "C")) for value in (5, 10, 20))
        self.assert_colours(self.last("", rows, automatic=mapped), "AA0000", WHITE)
        # Where the extension stands, its writer ignores the maps.
        other = extended("&gt;100", "Marked")
        self.assert_colours(self.last(other, rows, automatic=mapped), BLACK, WHITE)

    def test_a_condition_that_holds_for_nothing_is_measured_as_it_would_appear(self):
        pairs = self.pairs(table(*self.ROWS, tail=extended("&gt;100", "Bad")), common=self.BAD)
        (appearing,) = (pair for pair in pairs if "appears" in pair.where)
        self.assert_colours(appearing, "AA0000", WHITE)

    def test_a_colour_scale(self):
        scale = (
            f"<calcext:conditional-formats {CALC}><calcext:conditional-format "
            'calcext:target-range-address="Fares.A1:Fares.A3"><calcext:color-scale>'
            '<calcext:color-scale-entry calcext:type="minimum" calcext:color="#ffffff"/>'
            '<calcext:color-scale-entry calcext:type="maximum" calcext:color="#000000"/>'
            "</calcext:color-scale></calcext:conditional-format></calcext:conditional-formats>"
        )
        rows = tuple(row(number(value, "C")) for value in (5, 10, 20))
        pairs = self.pairs(table(*rows, tail=scale), automatic=coloured("C", "000000"))
        falling = [pair for pair in pairs if pair.verdict is Verdict.FALLS_SHORT]
        self.assertIn("A3", falling[0].where)
        # Automatic text may turn white there, or not.
        automatic = self.pairs(table(*self.ROWS, tail=scale))
        self.assertEqual({pair.verdict for pair in automatic}, {Verdict.NEEDS_EYES})

    def test_a_condition_names_a_style_by_what_users_see(self):
        named = coloured("Bad_5f_1", "aa0000").replace(
            "<style:style ", '<style:style style:display-name="Bad_1" '
        )
        pairs = self.pairs(table(*self.ROWS, tail=extended("&gt;15", "Bad_1")), common=named)
        self.assert_colours(next(p for p in pairs if "A3" in p.where), "AA0000", WHITE)


FILL = 'draw:fill="solid" draw:fill-color="#102030"'
INK = style("Ink", "paragraph", text('fo:color="#607080"'))
DARK = style("F", "graphic", f'<style:graphic-properties {FILL} fo:padding="0.1cm"/>') + INK
BARE = style("G", "graphic", "") + INK


LOWER = 'svg:y="3cm"'


def box(words: str, place: str) -> str:
    return (
        f'<draw:frame draw:style-name="F" {place} svg:width="4cm" svg:height="1cm">'
        f"<draw:text-box>{p(words, 'Ink')}</draw:text-box></draw:frame>"
    )


def note(words: str, name: str = "F") -> str:
    return f'<office:annotation draw:style-name="{name}">{p(words, "Ink")}</office:annotation>'


def holding(content: str, words: str = "") -> str:
    return f"<table:table-cell>{content}{p(words) if words else ''}</table:table-cell>"


class WhatLiesOverCells(SheetTest):
    def test_a_box_in_a_cell_stands_where_its_cell_does(self):
        own = holding(box("In a cell", 'svg:x="1cm" svg:y="0.5cm"'))
        columns = '<table:table-column table:style-name="K" table:number-columns-repeated="3"/>'
        wide = style(
            "K", "table-column", '<style:table-column-properties style:column-width="5cm"/>'
        )
        body = table(row(cell("A"), cell("B"), own), columns=columns)
        pairs = {pair.text: pair for pair in self.pairs(body, automatic=DARK + wide)}
        self.assert_colours(pairs["In a cell"], "607080", "102030")
        # Two columns of 5 cm and 1 cm more: 11 cm are 311.8 points.
        self.assertAlmostEqual(pairs["In a cell"].bbox[0], 11 / 2.54 * 72, delta=5)

    def test_boxes_of_the_sheet_and_of_cells_are_changed_at_their_own_addresses(self):
        over = f"<table:shapes>{box('Of the sheet', LOWER)}</table:shapes>"
        body = table(
            over + row(cell("A", "", ""), holding(box("In a cell", 'svg:y="5cm"'), "Words"))
        )
        document = open_document(self.write(body, automatic=DARK))
        self.addCleanup(document.close)
        pairs = {pair.text: pair for pair in measured(document, 0, Asked()).pairs}
        target = self.folder.path / "copy.ods"
        for words, other in (("Of the sheet", "In a cell"), ("In a cell", "Of the sheet")):
            edit = RecolourText(pairs[words].address, (0xFF, 0xFF, 0xFF))
            document.edited([edit]).save(target)
            after = {pair.text: pair for pair in pairs_of(target)}
            self.assert_colours(after[words], WHITE, "102030")
            self.assert_colours(after[other], "607080", "102030")
        found = remedies_for([pairs["In a cell"]], document, PageBench(), Asked(), document.edited)
        self.assertTrue(found.remedies)
        for remedy in found.remedies:
            document.edited(edits_for(remedy, [pairs["In a cell"]])).save(target)
            after = {pair.text: pair for pair in pairs_of(target)}
            self.assertIs(after["In a cell"].verdict, Verdict.PASSES, remedy.label)

    def test_a_comment_is_measured_on_its_note_and_changed(self):
        body = table(row(cell("", "F"), holding(note("Ask the purser"), "Vans")))
        document = open_document(self.write(body, automatic=DARK))
        self.addCleanup(document.close)
        pairs = {pair.text: pair for pair in measured(document, 0, Asked()).pairs}
        pair = pairs["Ask the purser"]
        self.assert_colours(pair, "607080", "102030")
        self.assertEqual(pair.where, "Sheet 1, Fares › comment at B1")
        self.assert_colours(pairs["Vans"], BLACK, WHITE)
        target = self.folder.path / "copy.ods"
        document.edited([RecolourText(pair.address, (0xFF, 0xFF, 0xFF))]).save(target)
        after = {each.text: each for each in pairs_of(target)}
        self.assert_colours(after["Ask the purser"], WHITE, "102030")

    def test_a_comment_whose_fill_nothing_states_needs_eyes(self):
        body = table(row(holding(note("Ask the purser", "G"), "Vans")))
        pairs = {pair.text: pair for pair in self.pairs(body, automatic=BARE)}
        self.assertIs(pairs["Ask the purser"].verdict, Verdict.NEEDS_EYES)
        self.assertIn("filled with", pairs["Ask the purser"].reason)


class Edits(SheetTest):
    def opened(self, body: str, **options: object):
        document = open_document(self.write(body, **options))  # type: ignore[arg-type]
        self.addCleanup(document.close)
        return document

    def after(self, document, *edits) -> dict[str, Pair]:
        target = self.folder.path / "copy.ods"
        document.edited(edits).save(target)
        return {pair.text: pair for pair in pairs_of(target)}

    def test_cells_of_a_look_change_and_another_library_reads_them(self):
        body = table(row(cell("One", "C"), cell("Two", "C"), cell("Plain")))
        document = self.opened(body, automatic=coloured("C", "aaaaaa"))
        address = "content.xml#sheet=1/look=0"
        after = self.after(
            document,
            RecolourText(address, (0xFF, 0xFF, 0xFF)),
            RecolourFill(f"{address}/fill", (0x20, 0x30, 0x40)),
        )
        self.assert_colours(after["One"], WHITE, "203040")
        self.assertEqual(after["One"].where, "Sheet 1, Fares › A1:B1")
        self.assert_colours(after["Plain"], BLACK, WHITE)
        again = OtherLibrary(str(self.folder.path / "copy.ods"))
        self.assertEqual(again.body.get_table(0).get_value("A1"), "One")

    def test_a_condition_s_style_and_a_common_one(self):
        common = coloured("Bad", "ff9999") + coloured("Pale", "aaaaaa")
        body = table(
            row(number(20)), row(cell("Word", "Pale")), tail=extended("&gt;15", "Bad", "Fares.A1")
        )
        document = self.opened(body, common=common)
        pairs = {pair.text: pair for pair in measured(document, 0, Asked()).pairs}
        after = self.after(document, RecolourText(pairs["20"].address, (0x66, 0, 0)))
        self.assert_colours(after["20"], "660000", WHITE)
        decider = pairs["Word"].deciders[0]
        after = self.after(document, RecolourOrigin(decider.address, (0x22, 0x22, 0x22)))
        self.assert_colours(after["Word"], "222222", WHITE)

    def test_each_remedy_offered_passes_in_the_saved_copy(self):
        own = style(
            "C", "table-cell", cells('fo:background-color="#e8a0a0"') + text('fo:color="#ffffff"')
        )
        document = self.opened(table(row(cell("Cancelled", "C"))), automatic=own)
        (pair,) = measured(document, 0, Asked()).pairs
        found = remedies_for([pair], document, PageBench(), Asked(), document.edited)
        self.assertEqual({r.kind for r in found.remedies}, {"recolour", "recolour the backdrop"})
        for remedy in found.remedies:
            after = self.after(document, *edits_for(remedy, [pair]))["Cancelled"]
            self.assertIs(after.verdict, Verdict.PASSES, remedy.label)

    def test_what_is_not_there_is_refused(self):
        document = self.opened(table(row(cell())))
        for steps in ("sheet=2/look=0", "sheet=1/look=9", "style=table-cell:None"):
            with self.assertRaises(EditError, msg=steps):
                document.edited([RecolourText(f"content.xml#{steps}", (1, 2, 3))])


if __name__ == "__main__":
    unittest.main()
