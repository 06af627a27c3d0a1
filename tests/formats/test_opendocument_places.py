"""Charts, backgrounds of several colours and numbers of headings in OpenDocument, by arithmetic."""

import unittest

from high_pair.formats import open_document
from high_pair.scene.text import TextBlock
from high_pair.wcag.verdicts import Verdict
from tests.decks import flat_picture, mixed, pairs_of, ratio_by_hand
from tests.odf_decks import SPACES, OdfTest, frame, graphic, pack, parts, style, text
from tests.odf_files import OdfFileTest, p, paragraph, row, table
from tests.odf_files import cell as odf_cell

BLACK, WHITE = "000000", "FFFFFF"
CHART_SPACES = SPACES + ' xmlns:chart="urn:oasis:names:tc:opendocument:xmlns:chart:1.0"'


def data(*rows: tuple[str, ...]) -> str:
    """Write a chart's own table; what is a number in words is one."""

    def cell(word: str) -> str:
        number = word.replace(".", "").isdecimal()
        kind = f'office:value-type="float" office:value="{word}"' if number else (
            'office:value-type="string"')  # fmt: skip
        return f"<table:table-cell {kind}><text:p>{word}</text:p></table:table-cell>"

    written = "".join(
        f"<table:table-row>{''.join(cell(word) for word in each)}</table:table-row>"
        for each in rows
    )
    return f'<table:table table:name="local-table">{written}</table:table>'


ROWS = (("", "Riders"), ("May", "20"), ("June", "40"))


def chart(styles: str, inside: str = "", kind: str = "bar", rows: object = ROWS) -> bytes:
    """Write a chart of one row of bars, its plot at a stated place."""
    return (
        f"<office:document-content {CHART_SPACES}><office:automatic-styles>{styles}"
        '</office:automatic-styles><office:body><office:chart><chart:chart svg:width="20cm" '
        f'svg:height="10cm" chart:class="chart:{kind}" chart:style-name="ch">{inside}'
        '<chart:plot-area chart:style-name="pl" svg:x="2cm" svg:y="2cm" svg:width="16cm" '
        'svg:height="7cm"><chart:axis chart:dimension="x" chart:style-name="ax">'
        '<chart:categories table:cell-range-address="local-table.$A$2:.$A$3"/></chart:axis>'
        '<chart:axis chart:dimension="y" chart:style-name="ax"/>'
        '<chart:series chart:style-name="se" chart:values-cell-range-address="local-table.$B$2:.$B$3" '
        'chart:label-cell-address="local-table.$B$1"/><chart:wall chart:style-name="wa"/>'
        f"</chart:plot-area>{data(*rows)}</chart:chart></office:chart></office:body>"
        "</office:document-content>"
    ).encode()


def look(name: str, fill: str = "", ink: str = "", more: str = "", size: str = "12pt") -> str:
    area = f'draw:fill="solid" draw:fill-color="#{fill}"' if fill else 'draw:fill="none"'
    colour = f'fo:color="#{ink}"' if ink else 'style:use-window-font-color="true"'
    letters = text(f'{colour} fo:font-size="{size}"')
    return style(name, "chart", f"<style:chart-properties {more}/>{graphic(area)}{letters}")


OBJECT = (
    '<draw:frame draw:name="Chart" svg:x="2cm" svg:y="2cm" svg:width="20cm" svg:height="10cm">'
    '<draw:object xlink:href="./Object 1"/></draw:frame>'
)
PLAIN = {"ch": "FFFFFF", "wa": ""}


class Charts(OdfTest):
    def measured(self, content: bytes, body: str = OBJECT, **options: str):
        path = self.folder.write(
            pack(*parts(body, **options), more={"Object 1/content.xml": content}), "chart.odp"
        )

        return {pair.text: pair for pair in pairs_of(path)}

    def styles(
        self, area: str = "FFFFFF", ink: str = BLACK, labels: str = "", bars: str = "203040"
    ):
        return (
            look("ch", area) + look("pl") + look("ax", ink=ink) + look("wa")
            + look("se", bars, WHITE, f'chart:data-label-number="{labels or "none"}" '
                   'chart:label-position="center" chart:gap-width="50"')
        )  # fmt: skip

    def test_each_text_has_its_own_colour_on_the_chart_s_area(self):
        title = '<chart:title chart:style-name="ti"><text:p>By month</text:p></chart:title>'
        legend = '<chart:legend chart:legend-position="bottom" chart:style-name="ti"/>'
        found = self.measured(
            chart(self.styles("FFEEDD", "555555") + look("ti", ink="336699"), title + legend)
        )
        self.assert_colours(found["By month"], "336699", "FFEEDD")
        self.assert_colours(found["Riders"], "336699", "FFEEDD")
        self.assert_colours(found["May June"], "555555", "FFEEDD")
        self.assertTrue(all(pair.fixed for pair in found.values()))

    def test_labels_lie_on_their_bars(self):
        found = self.measured(chart(self.styles(labels="value")))
        self.assert_colours(found["40"], WHITE, "203040")
        self.assertIs(found["40"].verdict, Verdict.PASSES)
        pale = self.measured(chart(self.styles(labels="value", bars="DDEEFF")))
        self.assertIs(pale["40"].verdict, Verdict.FALLS_SHORT)

    def test_automatic_letters_are_white_on_a_dark_chart(self):
        found = self.measured(chart(self.styles("102030", "")))
        self.assert_colours(found["May June"], WHITE, "102030")

    def test_a_chart_without_a_fill_shows_what_is_behind_it(self):
        styles = self.styles("FFFFFF", "336699").replace(
            'draw:fill="solid" draw:fill-color="#FFFFFF"', 'draw:fill="none"', 1
        )
        page = 'draw:fill="solid" draw:fill-color="#FFEEDD"'
        found = self.measured(chart(styles), page_style=page)
        self.assert_colours(found["May June"], "336699", "FFEEDD")

    def test_a_gradient_behind_it_needs_eyes_only_where_it_shows(self):
        styles = self.styles().replace('draw:fill="solid"', 'draw:fill="gradient"', 1)
        found = self.measured(chart(styles))
        self.assertIs(found["May June"].verdict, Verdict.NEEDS_EYES)

    def test_kinds_that_arent_painted_list_their_words(self):
        found = self.measured(chart(self.styles(labels="value"), kind="radar"))
        self.assertTrue(any("40" in text for text in found))

    def test_a_chart_in_a_flat_file_is_read_where_it_stands(self):
        content = chart(self.styles("FFEEDD", "336699")).decode()
        start = content.index("<office:automatic-styles>")
        inside = content[start:].replace("</office:document-content>", "")
        body = OBJECT.replace(
            '<draw:object xlink:href="./Object 1"/>',
            f"<draw:object><office:document {CHART_SPACES}>{inside}</office:document></draw:object>",
        )
        styles, contents = parts(body)
        from tests.odf_decks import MIME

        flat = (
            f'<office:document {SPACES} office:mimetype="{MIME}" office:version="1.2">{styles}'
            f"{contents}</office:document>"
        ).replace(
            "</office:automatic-styles><office:body>", "</office:automatic-styles><office:body>"
        )
        path = self.folder.write(flat.encode(), "chart.fodp")
        found = {pair.text: pair for pair in pairs_of(path)}
        self.assert_colours(found["May June"], "336699", "FFEEDD")

    def test_strange_tables_and_ranges_raise_nothing(self):
        for rows, change in (
            ((), ("local-table.$B$2:.$B$3", "Elsewhere.A1:Z99")),
            ((("",),), ("local-table.$B$2:.$B$3", "local-table.")),
            (ROWS, ("local-table.$A$2:.$A$3", "local-table.$XFD$1048576:.$A$1")),
            (ROWS, ("local-table.$B$2:.$B$3", "local-table.$A$1:.$XFD$1048576")),
            (ROWS, ('svg:width="20cm"', 'svg:width="-1cm"')),
            (ROWS, ('chart:style-name="se"', 'chart:style-name="nowhere"')),
        ):
            with self.subTest(change):
                content = chart(self.styles(labels="value"), rows=rows).decode().replace(*change)
                self.assertIsInstance(self.measured(content.encode()), dict)


class Grounds(OdfFileTest):
    """What lies behind paragraphs and cells of a text, of more than one colour."""

    GRADIENT = (
        '<draw:gradient draw:name="g" draw:style="linear" draw:start-color="#{}" '
        'draw:end-color="#{}" draw:angle="0"/>'
    )

    def behind(self, start: str, end: str, ink: str):
        own = style(
            "P",
            "paragraph",
            paragraph('draw:fill="gradient" draw:fill-gradient-name="g"')
            + text(f'fo:color="#{ink}"'),
        )
        return self.only(p("Word", "P"), automatic=own, common=self.GRADIENT.format(start, end))

    def test_a_gradient_behind_a_paragraph_counts_with_all_its_colours(self):
        pair = self.behind("102030", "303030", "ffffff")
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertAlmostEqual(pair.ratio, ratio_by_hand(WHITE, "303030"), delta=0.1)
        self.assertIs(self.behind("102030", "DDDDDD", "ffffff").verdict, Verdict.NEEDS_EYES)
        self.assertIs(self.behind("CCCCCC", "DDDDDD", "ffffff").verdict, Verdict.FALLS_SHORT)

    def test_a_picture_behind_a_paragraph_or_a_cell_is_painted(self):
        image = '<style:background-image xlink:href="Pictures/p.png" style:repeat="stretch"/>'
        more = {"Pictures/p.png": flat_picture((0x20, 0x60, 0x80))}
        ink = text('fo:color="#ffffff"')
        inside = f"<style:paragraph-properties>{image}</style:paragraph-properties>{ink}"
        pair = self.only(p("Word", "P"), automatic=style("P", "paragraph", inside), more=more)
        self.assert_colours(pair, WHITE, "206080")
        of_cell = f"<style:table-cell-properties>{image}</style:table-cell-properties>"
        own = style("C", "table-cell", of_cell) + style("P", "paragraph", ink)
        body = table(row(odf_cell("Word", "C").replace("<text:p ", '<text:p text:style-name="P" ')))
        pair = self.only(body, automatic=own, more=more)
        self.assert_colours(pair, WHITE, "206080")

    def test_a_repeated_picture_is_repeated(self):
        image = '<style:background-image xlink:href="Pictures/p.png"/>'
        more = {"Pictures/p.png": flat_picture((0x20, 0x60, 0x80))}
        inside = f"<style:paragraph-properties>{image}</style:paragraph-properties>" + text(
            'fo:color="#ffffff"'
        )
        pair = self.only(p("Word", "P"), automatic=style("P", "paragraph", inside), more=more)
        self.assert_colours(pair, WHITE, "206080")

    def test_a_section_s_picture_needs_eyes_since_its_place_isnt_known(self):
        image = '<style:background-image xlink:href="Pictures/p.png"/>'
        own = style("S", "section", f"<style:section-properties>{image}</style:section-properties>")
        pair = self.only(
            f'<text:section text:style-name="S">{p("Word")}</text:section>',
            automatic=own,
            more={"Pictures/p.png": flat_picture((0x20, 0x60, 0x80))},
        )
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)


class Headings(OdfFileTest):
    OUTLINE = (
        '<text:outline-style style:name="Outline"><text:outline-level-style text:level="1" '
        'style:num-format="1" style:num-suffix="." text:style-name="Number"/>'
        '<text:outline-level-style text:level="2" style:num-format="1" text:display-levels="2"/>'
        '<text:outline-level-style text:level="3" style:num-format=""/></text:outline-style>'
    )

    def labels(self, body: str, common: str = "") -> list[str]:
        document = open_document(self.write(body, common=self.OUTLINE + common))
        self.addCleanup(document.close)
        blocks = [i for i in document.scene(0).items if isinstance(i, TextBlock)]
        bullets = [paragraph.bullet for block in blocks for paragraph in block.paragraphs]
        return [bullet.text if bullet is not None else "" for bullet in bullets]

    def heading(self, words: str, level: int, more: str = "") -> str:
        return f'<text:h text:outline-level="{level}" {more}>{words}</text:h>'

    def test_numbers_count_by_level(self):
        body = (
            self.heading("Tides", 1) + self.heading("High", 2) + self.heading("Low", 2)
            + self.heading("Deep", 3) + self.heading("Fares", 1) + self.heading("Bikes", 2)
        )  # fmt: skip
        self.assertEqual(self.labels(body), ["1.", "1.1", "1.2", "", "2.", "2.1"])

    def test_a_heading_that_says_so_has_none(self):
        plain = self.heading("Preface", 1, 'text:is-list-header="true"')
        self.assertEqual(self.labels(plain + self.heading("Tides", 1)), ["", "1."])

    def test_a_number_has_the_look_of_its_text_style(self):
        number = style("Number", "text", text('fo:color="#bbbbbb"'))
        pairs = self.pairs(self.heading("Tides", 1), common=self.OUTLINE + number)
        found = {pair.text: pair for pair in pairs}
        self.assert_colours(found["1."], "BBBBBB", WHITE)
        self.assert_colours(found["Tides"], BLACK, WHITE)


class TwoGradients(OdfTest):
    def filled(self, gradient: str, opacity: str, ink: str):
        common = (
            f'<draw:gradient draw:name="g" draw:style="linear" {gradient}/>'
            f'<draw:opacity draw:name="o" draw:style="linear" {opacity}/>'
        )
        own = style(
            "F",
            "graphic",
            graphic('draw:fill="gradient" draw:fill-gradient-name="g" draw:opacity-name="o"')
            + text(f'fo:color="#{ink}"'),
        ) + style("P", "paragraph", text(f'fo:color="#{ink}" fo:font-size="14pt"'))
        words = '<text:p text:style-name="P">Word</text:p>'
        return self.only(frame(words, 'draw:style-name="F"'), automatic=own, common=common)

    def test_the_same_way_each_place_has_the_one_s_colour_and_the_other_s_opacity(self):
        # Down from black, whole, to grey, wholly see-through: the text stands at the top.
        pair = self.filled(
            'draw:angle="0" draw:start-color="#000000" draw:end-color="#808080"',
            'draw:angle="0" draw:start="100%" draw:end="0%"',
            "ffffff",
        )
        self.assertIsNotNone(pair.numbers, pair.reason)
        self.assertTrue(pair.numbers.varied)
        # A tenth of the way down, more or less: nearly black, and nearly whole.
        tenth = mixed("0D0D0D", 0.9, WHITE)
        self.assertLess(pair.numbers.lowest, ratio_by_hand(WHITE, tenth))
        self.assertGreater(pair.numbers.highest, 15)

    def test_another_way_a_verdict_holds_for_all_of_both(self):
        pair = self.filled(
            'draw:angle="0" draw:start-color="#FFEEDD" draw:end-color="#EEEEEE"',
            'draw:angle="45" draw:start="100%" draw:end="50%"',
            "000000",
        )
        self.assertIs(pair.verdict, Verdict.PASSES)
        pair = self.filled(
            'draw:angle="0" draw:start-color="#000000" draw:end-color="#303030"',
            'draw:angle="45" draw:start="100%" draw:end="0%"',
            "ffffff",
        )
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)


if __name__ == "__main__":
    unittest.main()
