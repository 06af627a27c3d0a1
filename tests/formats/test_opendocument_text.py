"""OpenDocument text: colours rule by rule, where text stands, and changes in a copy."""

import time
import unittest
import zipfile

from odfdo import Document as OtherLibrary

from high_pair.edits.kinds import RecolourFill, RecolourOrigin, RecolourText, Restyle
from high_pair.errors import EditError
from high_pair.formats import open_document
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench, measured
from high_pair.review.mending import edits_for, remedies_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.decks import flat_picture, pairs_of
from tests.odf_files import OdfFileTest, cell, cells, p, paragraph, row, span, style, table, text

BLACK, WHITE = "000000", "FFFFFF"


class Colours(OdfFileTest):
    def test_automatic_text_is_dark_on_light_and_white_on_dark(self):
        self.assert_colours(self.only(p()), BLACK, WHITE)
        dark = style("D", "paragraph", paragraph('fo:background-color="#102030"'))
        self.assert_colours(self.only(p("Word", "D"), automatic=dark), WHITE, "102030")
        marked = style("M", "text", text('fo:background-color="#102030"'))
        self.assert_colours(self.only(p(span("Word", "M")), automatic=marked), WHITE, "102030")

    def test_a_span_beats_its_paragraph_and_both_their_parents(self):
        common = style("Base", "paragraph", text('fo:color="#aa0000"'))
        own = style("P", "paragraph", "", "Base")
        spans = style("S", "text", text('fo:color="#0000aa"'))
        self.assert_colours(
            self.only(p("Word", "P"), common=common, automatic=own), "AA0000", WHITE
        )
        pair = self.only(p(span("Word", "S"), "P"), common=common, automatic=own + spans)
        self.assert_colours(pair, "0000AA", WHITE)

    def test_cells_rows_and_nested_paragraphs(self):
        styles = style("C", "table-cell", cells('fo:background-color="#203040"'))
        styles += style("P", "paragraph", paragraph('fo:background-color="#ffeedd"'))
        styles += style(
            "R", "table-row", '<style:table-row-properties fo:background-color="#ddeeff"/>'
        )
        self.assert_colours(
            self.only(table(row(cell("Word", "C"))), automatic=styles), WHITE, "203040"
        )
        own = f'<table:table-cell table:style-name="C">{p("Word", "P")}</table:table-cell>'
        self.assert_colours(self.only(table(row(own)), automatic=styles), BLACK, "FFEEDD")
        banded = table(row(cell("Word"), more='table:style-name="R"'))
        self.assert_colours(self.only(banded, automatic=styles), BLACK, "DDEEFF")

    def test_the_pages_own_colour(self):
        pair = self.only(p(), layout='fo:background-color="#203040"')
        self.assert_colours(pair, WHITE, "203040")

    def test_a_percent_size_is_of_the_parents(self):
        common = style("Base", "paragraph", text('fo:font-size="20pt"'))
        own = style("P", "paragraph", text('fo:font-size="50%"'), "Base")
        self.assertEqual(self.only(p("Word", "P"), common=common, automatic=own).size, 10.0)


class Where(OdfFileTest):
    def test_headers_footers_and_page_numbers(self):
        pale = style("F", "paragraph", text('fo:color="#999999"'))
        master = (
            f"<style:header>{p('Ostrel Bay', 'F')}</style:header><style:footer>"
            f"{p('Page <text:page-number>9</text:page-number>')}</style:footer>"
        )
        pairs = self.pairs(p("Body"), master=master, common=pale)
        self.assertEqual([pair.text for pair in pairs], ["Ostrel Bay", "Page 1", "Body"])
        self.assert_colours(pairs[0], "999999", WHITE)
        self.assertTrue(pairs[0].address.startswith("styles.xml#para=1"))

    def test_left_pages_and_the_first_one_may_have_headers_of_their_own(self):
        master = "".join(
            f"<{name}>{p(words)}</{name}>"
            for name, words in (
                ("style:header", "Usual"),
                ("style:header-left", "Left"),
                ("loext:header-first", "First"),
            )
        )
        breaks = style("N", "paragraph", paragraph('fo:break-before="page"'))
        body = p("One") + p("Two", "N") + p("Three", "N")
        path = self.write(body, master=master, automatic=breaks)
        found = [[pair.text for pair in pairs_of(path, page=page)] for page in range(3)]
        self.assertEqual(found, [["First", "One"], ["Left", "Two"], ["Usual", "Three"]])

    def test_a_pages_number_is_told_in_a_table_of_the_footer_too(self):
        number = p("Page <text:page-number>9</text:page-number>")
        row = f"<table:table-row><table:table-cell>{number}</table:table-cell></table:table-row>"
        master = (
            f"<style:footer><table:table><table:table-column/>{row}</table:table></style:footer>"
        )
        new_page = style("N", "paragraph", paragraph('fo:break-before="page"'))
        document = open_document(
            self.write(p("Body") + p("More", "N"), master=master, automatic=new_page)
        )
        self.addCleanup(document.close)
        for page in (0, 1):
            texts = [pair.text for pair in measured(document, page, Asked()).pairs]
            self.assertIn(f"Page {page + 1}", texts)

    def test_lists_headings_notes_fields_and_indexes(self):
        body = (
            '<text:h text:outline-level="2">Sailings</text:h>'
            f"<text:list><text:list-item>{p('Item')}</text:list-item></text:list>"
            f"<text:table-of-content><text:index-body>{p('Contents')}</text:index-body>"
            "</text:table-of-content>"
            + p("Table <text:sequence>3</text:sequence>: fares")
            + p(
                'Fares<text:note text:note-class="footnote"><text:note-citation>1'
                f"</text:note-citation><text:note-body>{p('Not on Sundays')}</text:note-body>"
                "</text:note>"
            )
        )
        texts = [pair.text for pair in self.pairs(body)]
        for words in ("Sailings", "Item", "Contents", "Table 3: fares", "Fares1", "Not on Sundays"):
            self.assertIn(words, texts)
        document = open_document(self.write(body))
        self.addCleanup(document.close)
        self.assertEqual(document.pages[0].headings, ((2, "Sailings"),))

    def test_deleted_text_is_gone(self):
        tracked = (
            "<text:tracked-changes><text:changed-region><text:deletion>"
            f"{p('Old')}</text:deletion></text:changed-region></text:tracked-changes>"
        )
        self.assertEqual(self.only(tracked + p("New")).text, "New")

    def test_a_link_told_by_colour_alone_has_a_second_entry(self):
        styles = style("L", "text", text('fo:color="#2266aa"'))
        link = f'<text:a xlink:href="x">{span("timetable", "L")}</text:a>'
        pairs = self.pairs(p(f"See the {link}"), automatic=styles)
        self.assertEqual([pair.subject for pair in pairs].count(Subject.LINK), 1)

    def test_a_box_and_a_picture_beside_the_text(self):
        styles = style(
            "G",
            "graphic",
            '<style:graphic-properties draw:fill="solid" draw:fill-color="#203040"/>',
        )
        box = (
            '<draw:frame draw:style-name="G" text:anchor-type="paragraph" svg:width="6cm" '
            f'svg:height="2cm"><draw:text-box>{p("Inside")}</draw:text-box></draw:frame>'
        )
        picture = (
            '<draw:frame text:anchor-type="as-char" svg:width="3cm" svg:height="2cm">'
            '<draw:image xlink:href="Pictures/p.png"/></draw:frame>'
        )
        pairs = self.pairs(
            p(f"Body{box}{picture}"),
            automatic=styles,
            more={"Pictures/p.png": flat_picture((10, 20, 30))},
        )
        by_words = {pair.text: pair for pair in pairs}
        self.assert_colours(by_words["Inside"], WHITE, "203040")
        self.assertIn("#para=2/r=1", by_words["Inside"].address)
        self.assertEqual(by_words["Body"].numbers.background, "#FFFFFF")

    def test_a_break_begins_a_page(self):
        broken = style("B", "paragraph", paragraph('fo:break-before="page"'))
        path = self.write(p("One") + p("Two", "B"), automatic=broken)
        self.assertEqual([pair.text for pair in pairs_of(path, page=1)], ["Two"])


def framed(content: str, more: str = "") -> str:
    return (
        '<draw:frame draw:style-name="G" text:anchor-type="paragraph" svg:width="8cm">'
        f'<draw:text-box fo:min-height="3cm">{content}</draw:text-box></draw:frame>{more}'
    )


def standing(kind: str, attributes: str) -> str:
    """Write the style of a page's header or footer."""
    properties = f"<style:header-footer-properties {attributes}/>"
    return f"<style:{kind}-style>{properties}</style:{kind}-style>"


class Grounds(OdfFileTest):
    """What lies behind a whole header, a section, a table, a page."""

    GREY = style("G", "paragraph", text('fo:color="#777777"'))
    PICTURE = '<style:background-image xlink:href="Pictures/p.png"/>'

    def test_headers_and_footers_have_backgrounds_of_their_own(self):
        master = f"<style:header>{p('Head', 'G')}</style:header>"
        master += f"<style:footer>{p('Foot')}</style:footer>"
        style_of_header = standing("header", 'fo:background-color="#303030" fo:min-height="1cm"')
        style_of_footer = standing("footer", 'fo:background-color="#102030" fo:padding="0.2cm"')
        head, foot, body = self.pairs(
            p("Body"),
            master=master,
            common=self.GREY,
            standing=style_of_header + style_of_footer,
        )
        self.assert_colours(head, "777777", "303030")
        self.assert_colours(foot, WHITE, "102030")
        self.assert_colours(body, BLACK, WHITE)

    def test_a_picture_that_is_missing_behind_a_header_needs_eyes(self):
        properties = (
            f"<style:header-footer-properties>{self.PICTURE}</style:header-footer-properties>"
        )
        head, body = self.pairs(
            p("Body"),
            master=f"<style:header>{p('Head', 'G')}</style:header>",
            common=self.GREY,
            standing=f"<style:header-style>{properties}</style:header-style>",
        )
        self.assertIs(head.verdict, Verdict.NEEDS_EYES)
        self.assertIn("picture is missing", head.reason)
        self.assertIs(body.verdict, Verdict.PASSES)

    def test_a_section_and_a_table_lie_behind_what_has_no_background(self):
        shade = 'fo:background-color="#202020"'
        styles = style("S", "section", f"<style:section-properties {shade}/>")
        styles += style("T", "table", f"<style:table-properties {shade}/>")
        styles += style("C", "table-cell", cells('fo:background-color="transparent"'))
        styles += style("P", "paragraph", paragraph('fo:background-color="#ffeedd"'))
        body = (
            f'<text:section text:style-name="S">{p("In a section")}{p("Own", "P")}</text:section>'
        )
        body += table(row(cell("In a table"), cell("See-through", "C"))).replace(
            "<table:table ", '<table:table table:style-name="T" ', 1
        )
        found = {pair.text: pair for pair in self.pairs(body, automatic=styles)}
        for words in ("In a section", "In a table", "See-through"):
            self.assert_colours(found[words], WHITE, "202020")
        self.assert_colours(found["Own"], BLACK, "FFEEDD")

    def test_a_see_through_background_is_blended(self):
        half = 'fo:background-color="#000000" style:background-transparency="60%"'
        styles = style("P", "paragraph", paragraph(half) + text('fo:color="#000000"'))
        # 40% of black over white: 0.6 · 255
        self.assert_colours(self.only(p("Word", "P"), automatic=styles), BLACK, "999999")

    def test_fills_of_paragraphs_and_cells_that_are_not_painted_need_eyes(self):
        picture = f"<style:paragraph-properties>{self.PICTURE}</style:paragraph-properties>"
        gradient = paragraph('draw:fill="gradient" draw:fill-gradient-name="g"')
        in_cell = f"<style:table-cell-properties>{self.PICTURE}</style:table-cell-properties>"
        for name, look in (("picture", picture), ("gradient", gradient)):
            look += text('fo:color="#ffffff"')
            pair = self.only(p("Word", "P"), automatic=style("P", "paragraph", look))
            self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
            self.assertIn(name, pair.reason)
        body = table(row(cell("Word", "C")))
        pair = self.only(body, automatic=style("C", "table-cell", in_cell))
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)

    def test_a_page_may_have_a_gradient_or_a_picture(self):
        gradient = (
            '<draw:gradient draw:name="g" draw:style="linear" draw:start-color="#000000" '
            'draw:end-color="#333333"/>'
        )
        pale = style("P", "paragraph", text('fo:color="#ffffff"'))
        look = 'draw:fill="gradient" draw:fill-gradient-name="g"'
        pair = self.only(p("Word", "P"), layout=look, common=gradient + pale)
        self.assertIs(pair.verdict, Verdict.PASSES)
        self.assertEqual(pair.numbers.foreground, "#FFFFFF")
        # Its mean is clearly dark, so automatic text is white.
        automatic = self.only(p(), layout=look, common=gradient)
        self.assertEqual(automatic.numbers.foreground, "#FFFFFF")
        fill = '<draw:fill-image draw:name="i" xlink:href="Pictures/p.png"/>'
        options = {
            "layout": 'draw:fill="bitmap" draw:fill-image-name="i" style:repeat="stretch"',
            "common": fill + style("P", "paragraph", text('fo:color="#111111"')),
            "more": {"Pictures/p.png": flat_picture((32, 32, 32))},
        }
        dark = self.only(p("Word", "P"), **options)
        self.assertIs(dark.verdict, Verdict.FALLS_SHORT)
        self.assertEqual(dark.numbers.background, "#202020")

    def test_a_page_may_have_a_picture_in_the_older_way(self):
        def on(level: int, how: str, code: str = "") -> Pair:
            image = f'<style:background-image xlink:href="Pictures/p.png" {how}/>'
            ink = text(f'fo:color="#{code}"') if code else ""
            return self.only(
                p("Word", "P"),
                page=image,
                common=style("P", "paragraph", ink),
                more={"Pictures/p.png": flat_picture((level, level, level), (400, 400))},
            )

        for how in ("", 'style:repeat="stretch"', 'style:repeat="repeat"'):
            pair = on(48, how, "111111")
            self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
            self.assertEqual(pair.numbers.background, "#303030")
        # Automatic text looks at the picture's mean, and at the paper where that may show.
        self.assertEqual(on(200, "").numbers.foreground, "#000000")
        self.assertEqual(on(10, "").numbers.foreground, "#FFFFFF")
        once = 'style:repeat="no-repeat" style:position="center center"'
        self.assertIs(on(10, once).verdict, Verdict.NEEDS_EYES)
        self.assertEqual(on(200, once).numbers.foreground, "#000000")


class Labels(OdfFileTest):
    """Writers of text take a label's colour from its text style alone."""

    def listed(self, inner: str, named: str = 'text:style-name="L"') -> tuple[Pair, ...]:
        level = (
            f'<text:list-style style:name="N"><text:list-level-style-number text:level="1" {named} '
            f'style:num-format="1" style:num-suffix="."><style:list-level-properties '
            f'text:min-label-width="1cm"/>{inner}</text:list-level-style-number></text:list-style>'
        )
        self.path = self.write(
            f'<text:list text:style-name="N"><text:list-item>{p()}</text:list-item></text:list>',
            automatic=level,
            common=style("L", "text", text('fo:color="#aaaaaa" fo:font-weight="bold"')),
        )
        return pairs_of(self.path)

    def test_a_label_has_the_colour_of_its_text_style(self):
        label, word = self.listed("")
        self.assertEqual((label.text, label.weight), ("1.", 700))
        self.assert_colours(label, "AAAAAA", WHITE)
        self.assert_colours(word, BLACK, WHITE)
        document = open_document(self.path)
        self.addCleanup(document.close)
        target = self.folder.path / "label.odt"
        document.edited([RecolourText(label.address, (0x44, 0x44, 0x44))]).save(target)
        label, word = pairs_of(target)
        self.assert_colours(label, "444444", WHITE)
        self.assert_colours(word, BLACK, WHITE)

    def test_it_counts_more_than_the_list_s_own_colour(self):
        self.assert_colours(self.listed(text('fo:color="#0000ff"'))[0], "AAAAAA", WHITE)

    def test_where_only_the_list_states_a_colour_programs_differ(self):
        pale, word = self.listed(text('fo:color="#cccccc"'), "")
        self.assertIs(pale.verdict, Verdict.NEEDS_EYES)
        self.assertIn("programs differ", pale.reason)
        dark, _ = self.listed(text('fo:color="#0000aa"'), "")
        self.assertIs(dark.verdict, Verdict.PASSES)
        self.assert_colours(word, BLACK, WHITE)


class Boxes(OdfFileTest):
    GRAPHIC = style(
        "G",
        "graphic",
        '<style:graphic-properties draw:fill="solid" draw:fill-color="#102030" fo:padding="1mm"/>',
    )
    DRESS = style("T", "table-cell", cells('fo:background-color="#aa0000"')) + style(
        "Q", "paragraph", text('fo:color="#8090a0"')
    )

    def found(self, content: str) -> dict[str, Pair]:
        body = p(framed(content))
        pairs = self.pairs(body, automatic=self.GRAPHIC + self.DRESS)
        return {pair.text: pair for pair in pairs}

    def test_a_table_in_a_box_is_measured_on_its_cells(self):
        pairs = self.found(p("Above", "Q") + table(row(cell("Work:", "T"), cell("Home:"))))
        self.assert_colours(pairs["Above"], "8090A0", "102030")
        # Automatic text: white is further from both.
        self.assert_colours(pairs["Work:"], WHITE, "AA0000")
        self.assert_colours(pairs["Home:"], WHITE, "102030")

    def test_a_section_in_a_box_is_measured(self):
        inner = f'<text:section text:name="Sender">{p("The quay office", "Q")}</text:section>'
        self.assert_colours(self.found(inner)["The quay office"], "8090A0", "102030")

    def test_a_box_in_a_box_is_measured_with_its_caption(self):
        inner = framed(p("In the inner box", "Q")).replace('draw:style-name="G"', "")
        pairs = self.found(p(f"{inner}Picture 1: the quay", "Q"))
        self.assertEqual(set(pairs), {"In the inner box", "Picture 1: the quay"})
        self.assert_colours(pairs["Picture 1: the quay"], "8090A0", "102030")

    def test_a_box_without_a_height_is_as_high_as_its_text(self):
        for content in (p("Word", "Q") * 9, table(*[row(cell("Word", "T"))] * 9, columns="")):
            pairs = self.pairs(p(framed(content)), automatic=self.GRAPHIC + self.DRESS)
            for pair in pairs:
                assert pair.numbers is not None, pair.reason
                self.assertIn(pair.numbers.background, ("#102030", "#AA0000"))

    def test_boxes_in_boxes_in_boxes_are_read_once_each(self):
        inner = p("Innermost", "Q")
        for _ in range(11):
            inner = p(framed(inner))
        start = time.monotonic()
        (pair,) = self.pairs(inner, automatic=self.GRAPHIC + self.DRESS)
        self.assertLess(time.monotonic() - start, 5)
        self.assert_colours(pair, "8090A0", "102030")

    def test_what_fills_a_box_is_changed_and_no_other_box(self):
        pale = self.GRAPHIC.replace("102030", "909090") + self.DRESS
        boxes = p(framed(p("First", "Q"))) + p(framed(p("Second", "Q")))
        inline = boxes.replace('"paragraph"', '"as-char"')
        document = open_document(self.write(inline, automatic=pale))
        self.addCleanup(document.close)
        pairs = {pair.text: pair for pair in measured(document, 0, Asked()).pairs}
        found = remedies_for([pairs["Second"]], document, PageBench(), Asked(), document.edited)
        remedies = [r for r in found.remedies if r.kind == "recolour the backdrop"]
        self.assertTrue(remedies)
        for remedy in remedies:
            target = self.folder.path / "copy.odt"
            document.edited(edits_for(remedy, [pairs["Second"]])).save(target)
            after = {pair.text: pair for pair in pairs_of(target)}
            self.assertIs(after["Second"].verdict, Verdict.PASSES)
            self.assertNotEqual(after["Second"].numbers.background, "#909090")
            self.assert_colours(after["First"], "8090A0", "909090")

    def test_a_box_s_background_in_the_older_way(self):
        def box(attributes: str, parent: str = "") -> Pair:
            own = f"<style:graphic-properties {attributes}/>"
            styles = style("G", "graphic", own, parent) + self.DRESS
            return self.only(p(framed(p("Word", "Q"))), automatic=styles, common=older)

        older = style("Frame", "graphic", '<style:graphic-properties draw:fill="none"/>')
        self.assert_colours(box('fo:background-color="#102030"'), "8090A0", "102030")
        # The nearest style counts, and in one style the newer way.
        self.assert_colours(box('fo:background-color="#102030"', "Frame"), "8090A0", "102030")
        both = 'fo:background-color="#102030" draw:fill="solid" draw:fill-color="#203010"'
        self.assert_colours(box(both), "8090A0", "203010")
        self.assert_colours(box('fo:background-color="transparent"'), "8090A0", WHITE)
        faint = 'fo:background-color="#000000" style:background-transparency="80%"'
        self.assert_colours(box(faint), "8090A0", "CCCCCC")

    def test_what_is_nested_too_deeply_needs_eyes_and_is_not_left_out(self):
        for wrap in (lambda inner: p(framed(inner)), lambda inner: table(row(
            f"<table:table-cell>{inner}</table:table-cell>"))):  # fmt: skip
            inner = p("Innermost")
            for _ in range(14):
                inner = wrap(inner)
            (pair,) = self.pairs(inner, automatic=self.GRAPHIC)
            self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
            self.assertEqual(pair.text, "Innermost")
            self.assertIn("within each other", pair.reason)

    def test_text_of_a_box_s_table_is_changed_in_a_copy(self):
        body = p(framed(table(row(cell("Work:", "T")))))
        path = self.write(body, automatic=self.GRAPHIC + self.DRESS)
        document = open_document(path)
        self.addCleanup(document.close)
        (pair,) = measured(document, 0, Asked()).pairs
        target = self.folder.path / "copy.odt"
        document.edited([RecolourText(pair.address, (0xFF, 0xFF, 0))]).save(target)
        (after,) = pairs_of(target)
        self.assert_colours(after, "FFFF00", "AA0000")


class Extensions(OdfFileTest):
    def test_text_within_an_extension_s_element_is_measured_and_changed(self):
        control = (
            '<x:content-control xmlns:x="urn:made-up:extension" x:placeholder="true">'
            f"{span('enter your number', 'S')}</x:content-control>"
        )
        own = style("S", "text", text('fo:color="#808080"'))
        path = self.write(p(f"Your booking: {control} please"), automatic=own)
        document = open_document(path)
        self.addCleanup(document.close)
        pairs = {pair.text: pair for pair in measured(document, 0, Asked()).pairs}
        self.assert_colours(pairs["enter your number"], "808080", WHITE)
        target = self.folder.path / "copy.odt"
        document.edited([RecolourText(pairs["please"].address, (0, 0, 0xAA))]).save(target)
        after = {pair.text: pair for pair in pairs_of(target)}
        self.assert_colours(after["please"], "0000AA", WHITE)
        self.assert_colours(after["enter your number"], "808080", WHITE)


class EarlyWriters(OdfFileTest):
    """Before ODF 1.0 was done its writers had other namespaces for the same."""

    def test_they_are_read_and_mended_as_later_ones(self):
        styles = style("C", "table-cell", cells('fo:background-color="#203040"'))
        styles += style("P", "paragraph", text('fo:color="#445566"'))
        inner = f'<table:table-cell table:style-name="C">{p("Word", "P")}</table:table-cell>'
        path = self.write(table(row(inner)), automatic=styles)
        early = self.folder.path / "early.odt"
        with zipfile.ZipFile(path) as old, zipfile.ZipFile(early, "w") as new:
            for name in old.namelist():
                data = old.read(name)
                for later, sooner in (
                    (b"urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0",
                     b"http://www.w3.org/1999/XSL/Format"),
                    (b"urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0",
                     b"http://www.w3.org/2000/svg"),
                ):  # fmt: skip
                    data = data.replace(later, sooner)
                new.writestr(name, data)
        (pair,) = pairs_of(early)
        self.assert_colours(pair, "445566", "203040")
        document = open_document(early)
        self.addCleanup(document.close)
        target = self.folder.path / "mended.odt"
        document.edited([RecolourText(pair.address, (0xFF, 0xFF, 0xFF))]).save(target)
        self.assert_colours(pairs_of(target)[0], WHITE, "203040")
        self.assertIn("Word", OtherLibrary(str(target)).body.serialize())


class Edits(OdfFileTest):
    PALE = style("S", "text", text('fo:color="#aaaaaa"'))

    def opened(self, body: str, **options: object):
        document = open_document(self.write(body, **options))  # type: ignore[arg-type]
        self.addCleanup(document.close)
        return document

    def after(self, document, *edits) -> dict[str, Pair]:
        target = self.folder.path / "copy.odt"
        document.edited(edits).save(target)
        return {pair.text: pair for pair in pairs_of(target)}

    def test_a_piece_of_text_gets_a_colour_and_another_library_reads_it(self):
        document = self.opened(p("Plain " + span("pale", "S")), automatic=self.PALE)
        (pair,) = (x for x in measured(document, 0, Asked()).pairs if x.text == "pale")
        after = self.after(document, RecolourText(pair.address, (0x22, 0x44, 0x66)))
        self.assert_colours(after["pale"], "224466", WHITE)
        self.assert_colours(after["Plain"], BLACK, WHITE)
        again = OtherLibrary(str(self.folder.path / "copy.odt"))
        self.assertIn("Plain pale", again.body.get_paragraph(0).inner_text)

    def test_paragraph_cell_and_piece_get_backgrounds(self):
        styles = self.PALE + style("C", "table-cell", cells('fo:background-color="#dddddd"'))
        document = self.opened(
            p("One", "X") + table(row(cell("Two", "C"))) + p("Three"), automatic=styles
        )
        after = self.after(
            document,
            RecolourFill("content.xml#para=1/shade", (0x20, 0x30, 0x40)),
            RecolourFill("content.xml#tc=1/shade", (0x20, 0x30, 0x41)),
            RecolourFill("content.xml#para=3/r=1/shade", (0x20, 0x30, 0x42)),
        )
        for words, code in (("One", "203040"), ("Two", "203041"), ("Three", "203042")):
            self.assert_colours(after[words], WHITE, code)

    def test_a_common_style_a_size_and_what_is_not_there(self):
        common = style("P", "paragraph", text('fo:color="#aaaaaa"'))
        document = self.opened(p("Word", "P"), common=common)
        (pair,) = measured(document, 0, Asked()).pairs
        after = self.after(document, RecolourOrigin(pair.deciders[0].address, (1, 2, 3)))
        self.assert_colours(after["Word"], "010203", WHITE)
        after = self.after(document, Restyle("content.xml#para=1/r=1", 18.0, True))
        self.assertEqual((after["Word"].size, after["Word"].required), (18.0, 3.0))
        with self.assertRaises(EditError):
            document.edited([RecolourText("content.xml#para=7/r=1", (1, 2, 3))])

    def test_each_remedy_offered_passes_in_the_saved_copy(self):
        styles = self.PALE + style("C", "table-cell", cells('fo:background-color="#dddddd"'))
        inside = f'<table:table-cell table:style-name="C">{p(span("Late", "S"))}</table:table-cell>'
        document = self.opened(table(row(inside)), automatic=styles)
        (pair,) = measured(document, 0, Asked()).pairs
        found = remedies_for([pair], document, PageBench(), Asked(), document.edited)
        kinds = {remedy.kind for remedy in found.remedies}
        self.assertTrue({"recolour", "recolour the backdrop", "plate"} <= kinds, kinds)
        for remedy in found.remedies:
            after = self.after(document, *edits_for(remedy, [pair]))["Late"]
            self.assertIs(after.verdict, Verdict.PASSES, remedy.label)
            self.assertAlmostEqual(after.ratio, remedy.ratio, delta=0.05)

    def test_every_other_member_stays_as_it_was_to_the_byte(self):
        others = {"Object 1/content.xml": b"<a/>", "Basic/x.bin": bytes(range(200))}
        path = self.write(p(span("pale", "S")), automatic=self.PALE, more=others)
        document = open_document(path)
        self.addCleanup(document.close)
        self.after(document, RecolourText("content.xml#para=1/r=1", (1, 2, 3)))
        with zipfile.ZipFile(path) as one, zipfile.ZipFile(self.folder.path / "copy.odt") as other:
            for name in one.namelist():
                self.assertEqual(one.read(name) == other.read(name), name != "content.xml", name)


if __name__ == "__main__":
    unittest.main()
