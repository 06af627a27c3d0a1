"""OpenDocument slides: styles, automatic colours, fills, lists, masters, and edits."""

import base64
import io
import math
import unittest
import zipfile

from high_pair.edits.kinds import RecolourText
from high_pair.errors import EditError, UnreadableFile
from high_pair.formats import open_document
from high_pair.formats.odf.places import transform_of
from high_pair.formats.odf.units import colour, degrees, length, percent
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import measured
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Verdict
from tests.decks import flat_picture, mixed, pairs_of
from tests.mending import mend_file
from tests.odf_decks import CM, MIME, SPACES, OdfTest, by, frame, graphic, pack, parts, style, text


class Colours(OdfTest):
    def test_span_paragraph_and_shape_in_that_order(self):
        automatic = (
            style("T1", "text", text('fo:color="#112233"'))
            + style("P1", "paragraph", text('fo:color="#445566"'))
            + style("G1", "graphic", text('fo:color="#778899"'))
        )
        body = (
            '<text:p text:style-name="P1"><text:span text:style-name="T1">One</text:span> two</text:p>'
            "<text:p>three</text:p>"
        )
        pairs = self.pairs(frame(body, 'draw:style-name="G1"'), automatic=automatic)
        found = {pair.text: pair for pair in pairs}
        self.assert_colours(found["One"], "112233", "FFFFFF")
        self.assert_colours(found["two"], "445566", "FFFFFF")
        self.assert_colours(found["three"], "778899", "FFFFFF")
        self.assertEqual(found["One"].origin, "text style")

    def test_parents_in_any_file_order(self):
        common = style("B", "graphic", "", "A") + style("A", "graphic", text('fo:color="#884422"'))
        automatic = style("G1", "graphic", "", "B")
        pair = self.only(
            frame("<text:p>Word</text:p>", 'draw:style-name="G1"'),
            automatic=automatic,
            common=common,
        )
        self.assert_colours(pair, "884422", "FFFFFF")
        self.assertEqual(pair.origin, "style A")

    def test_a_loop_of_parents_ends(self):
        common = style("A", "graphic", "", "B") + style("B", "graphic", "", "A")
        automatic = style("G1", "graphic", "", "A")
        self.only(
            frame("<text:p>Word</text:p>", 'draw:style-name="G1"'),
            automatic=automatic,
            common=common,
        )

    def test_automatic_on_a_fill_that_is_seen_through_needs_eyes(self):
        fill = 'draw:fill="solid" draw:fill-color="#000000" draw:opacity="20%"'
        automatic = style("G1", "graphic", graphic(fill))
        body = frame("<text:p>Word</text:p>", 'draw:style-name="G1"')
        pair = self.only(body, automatic=automatic)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("automatic", pair.reason)

    def test_automatic_is_dark_on_light_and_white_on_dark(self):
        for fill, expected in (("#F0F0F0", "000000"), ("#102030", "FFFFFF")):
            automatic = style(
                "G1", "graphic", graphic(f'draw:fill="solid" draw:fill-color="{fill}"')
            )
            pair = self.only(
                frame("<text:p>Word</text:p>", 'draw:style-name="G1"'), automatic=automatic
            )
            self.assert_colours(pair, expected, fill[1:])

    def test_a_text_box_whose_fill_nothing_states_needs_eyes_since_programs_fill_it(self):
        words = frame('<text:p><text:span text:style-name="T">Word</text:span></text:p>')
        automatic = style("T", "text", text('fo:color="#fafafa" fo:font-size="20pt"'))
        pair = self.only(words, automatic=automatic, usual="")
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("colour isn't stated", pair.reason)
        named = self.only(words, automatic=automatic, usual='draw:fill-color="#003366"')
        self.assert_colours(named, "FAFAFA", "003366")

    def test_a_fill_that_nothing_names_is_as_see_through_as_stated(self):
        words = frame('<text:p><text:span text:style-name="T">Word</text:span></text:p>')
        automatic = style("T", "text", text('fo:color="#000000" fo:font-size="20pt"'))
        usual = 'draw:fill-color="#006633" draw:opacity="20%"'
        pair = self.only(words, automatic=automatic, usual=usual)
        # 255 − 0.2 · (255 − 0), 255 − 0.2 · (255 − 102), 255 − 0.2 · (255 − 51)
        self.assert_colours(pair, "000000", "CCE0D6")

    def test_automatic_looks_at_highlight_then_shape_then_page_and_not_at_shapes_below(self):
        dark = style(
            "D",
            "graphic",
            graphic('draw:fill="solid" draw:fill-color="#000000" draw:stroke="none"'),
        )
        below = '<draw:rect draw:style-name="D" svg:x="1cm" svg:y="1cm" svg:width="15cm" svg:height="8cm"/>'
        pair = self.only(below + frame("<text:p>Word</text:p>"), automatic=dark)
        self.assert_colours(pair, "000000", "000000")
        marked = style("T1", "text", text('fo:background-color="#101010"'))
        span = '<text:p><text:span text:style-name="T1">Word</text:span></text:p>'
        self.assert_colours(self.only(frame(span), automatic=marked), "FFFFFF", "101010")
        pair = self.only(
            frame("<text:p>Word</text:p>"), page_style='draw:fill="solid" draw:fill-color="#201010"'
        )
        self.assert_colours(pair, "FFFFFF", "201010")

    def on_fill(self, look: str, common: str, **options: object) -> Pair:
        automatic = style("G1", "graphic", graphic(look))
        words = frame("<text:p>Word</text:p>", 'draw:style-name="G1"')
        return self.only(words, automatic=automatic, common=common, **options)

    def test_automatic_looks_at_the_mean_of_a_gradients_ends_where_that_is_clear(self):
        look = 'draw:fill="gradient" draw:fill-gradient-name="g"'
        for end, expected in (("404040", "#FFFFFF"), ("909090", ""), ("ffffff", "#000000")):
            gradient = (
                '<draw:gradient draw:name="g" draw:style="linear" draw:start-color="#000000" '
                f'draw:end-color="#{end}" draw:angle="0deg"/>'
            )
            pair = self.on_fill(look, gradient)
            if expected:
                self.assertEqual(pair.numbers.foreground, expected)
            else:
                self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
                self.assertIn("automatic", pair.reason)

    def test_and_at_the_mean_of_a_picture_and_of_a_hatch(self):
        image = '<draw:fill-image draw:name="i" xlink:href="Pictures/a.png"/>'
        look = 'draw:fill="bitmap" draw:fill-image-name="i" style:repeat="stretch"'
        for level, expected in ((30, "#FFFFFF"), (120, "#000000")):
            more = {"Pictures/a.png": flat_picture((level, level, level))}
            self.assertEqual(self.on_fill(look, image, more=more).numbers.foreground, expected)
        hatch = '<draw:hatch draw:name="h" draw:style="single" draw:color="#000000"/>'
        look = (
            'draw:fill="hatch" draw:fill-hatch-name="h" draw:fill-hatch-solid="true" '
            'draw:fill-color="#303030"'
        )
        pair = self.on_fill(look, hatch)
        self.assertEqual(pair.numbers.foreground, "#FFFFFF")

    def test_on_a_see_through_fill_it_needs_eyes_where_the_page_below_says_otherwise(self):
        look = 'draw:fill="solid" draw:fill-color="#000000" draw:opacity="40%"'
        self.assertIs(self.on_fill(look, "").verdict, Verdict.NEEDS_EYES)
        page = 'draw:fill="solid" draw:fill-color="#101010"'
        self.assert_colours(self.on_fill(look, "", page_style=page), "FFFFFF", "0A0A0A")

    def test_the_opacity_of_a_fill_is_not_the_texts(self):
        automatic = style(
            "G1",
            "graphic",
            graphic('draw:fill="solid" draw:fill-color="#000000" draw:opacity="40%"'),
        )
        automatic += style("P", "paragraph", text('fo:color="#ff0000"'))
        pair = self.only(
            frame('<text:p text:style-name="P">Word</text:p>', 'draw:style-name="G1"'),
            automatic=automatic,
        )
        self.assert_colours(pair, "FF0000", mixed("000000", 0.4, "FFFFFF"))

    def test_a_texts_own_opacity_counts_beside_a_colour_of_its_own_alone(self):
        automatic = style("G1", "graphic", text('fo:color="#000000" loext:opacity="50%"'))
        pair = self.only(
            frame("<text:p>Word</text:p>", 'draw:style-name="G1"'), automatic=automatic
        )
        self.assert_colours(pair, "808080", "FFFFFF")
        window = style(
            "G1", "graphic", text('style:use-window-font-color="true" loext:opacity="0%"')
        )
        pair = self.only(frame("<text:p>Word</text:p>", 'draw:style-name="G1"'), automatic=window)
        self.assert_colours(pair, "000000", "FFFFFF")


class ShapesOwnText(OdfTest):
    """What an automatic style of a shape says of its text, which some programs pass over."""

    def pair(self, own: str, generator: str = "", parent: str = "") -> Pair:
        automatic = style("G1", "graphic", graphic('draw:fill="none"') + own, parent)
        common = style("Base", "graphic", text('fo:color="#00aa00"'))
        words = frame("<text:p>Word</text:p>", 'draw:style-name="G1"')
        path = self.write(words, automatic=automatic, common=common, more=by(generator))
        return pairs_of(path)[0]

    def test_it_counts_where_it_makes_no_difference_to_the_verdict(self):
        dark = self.pair(text('fo:color="#660000"'))
        self.assertIs(dark.verdict, Verdict.PASSES)
        pale = self.pair(text('fo:color="#cccccc"'))
        self.assertIs(pale.verdict, Verdict.NEEDS_EYES)
        self.assertIn("shape's own style", pale.reason)
        # 20 points are large-scale, and 10 aren't.
        small = self.pair(text('fo:font-size="10pt"'))
        self.assertIs(small.verdict, Verdict.PASSES)

    def test_in_files_of_the_programs_that_pass_over_it_it_counts_for_nothing(self):
        pair = self.pair(text('fo:color="#cccccc"'), "SomeOffice/7.4")
        self.assert_colours(pair, "000000", "FFFFFF")

    def test_a_common_style_counts_everywhere(self):
        for generator in ("", "SomeOffice/7.4"):
            pair = self.pair("", generator, "Base")
            self.assert_colours(pair, "00AA00", "FFFFFF")

    def test_links_have_a_colour_of_the_program_s_own(self):
        def link(code: str, page: str) -> Pair:
            automatic = style("T", "text", text(f'fo:color="#{code}"'))
            words = (
                '<text:p><text:a xlink:href="#x"><text:span text:style-name="T">Word'
                "</text:span></text:a></text:p>"
            )
            shade = f'draw:fill="solid" draw:fill-color="#{page}"'
            return self.only(frame(words), automatic=automatic, page_style=shade)

        self.assertIs(link("000000", "ffffff").verdict, Verdict.PASSES)
        self.assertIs(link("eeeeee", "888888").verdict, Verdict.PASSES)
        on_dark = link("ffffff", "101010")
        self.assertIs(on_dark.verdict, Verdict.NEEDS_EYES)
        self.assertIn("links", on_dark.reason)


class Sizes(OdfTest):
    def test_percentages_are_of_the_next_style(self):
        automatic = style("T1", "text", text('fo:font-size="50%"')) + style(
            "P1", "paragraph", text('fo:font-size="30pt" fo:font-weight="bold"')
        )
        body = (
            '<text:p text:style-name="P1"><text:span text:style-name="T1">Word</text:span></text:p>'
        )
        pair = self.only(frame(body), automatic=automatic)
        self.assertEqual((pair.size, pair.bold), (15.0, True))

    def test_an_outlines_level_takes_the_masters_outline_style(self):
        common = style(
            "Plain-outline2", "presentation", text('fo:font-size="16pt" fo:color="#335577"')
        )
        nested = (
            "<text:list><text:list-item><text:list><text:list-item><text:p>Deep</text:p></text:list-item>"
            "</text:list></text:list-item></text:list>"
        )
        pair = self.only(frame(nested, 'presentation:class="outline"'), common=common)
        self.assertEqual(pair.size, 16.0)
        self.assert_colours(pair, "335577", "FFFFFF")

    def shrunk(self, lines: int, code: str, size: int = 20) -> tuple[Pair, ...]:
        automatic = style("G1", "graphic", graphic('draw:fit-to-size="shrink-to-fit"'))
        automatic += style("P", "paragraph", text(f'fo:font-size="{size}pt" fo:color="#{code}"'))
        words = "".join(f'<text:p text:style-name="P">Line {n}</text:p>' for n in range(lines))
        return self.pairs(frame(words, 'draw:style-name="G1"'), automatic=automatic)

    def test_text_is_shrunk_until_it_fits(self):
        for pair in self.shrunk(20, "000000"):
            self.assertIs(pair.verdict, Verdict.PASSES)
            # Twenty lines in 4 cm, less the padding: 113 points by 20.
            self.assertLess(pair.size, 113 / 20)
            self.assertGreater(pair.size, 113 / 20 / 1.4)
        (pair,) = self.shrunk(1, "000000")
        self.assertEqual(pair.size, 20.0)

    def test_where_a_step_decides_whether_it_is_large_it_needs_eyes(self):
        # Grey of 3.5:1 is enough for large letters alone: 60 points are shrunk to 18 or so.
        grey = {pair.verdict for pair in self.shrunk(5, "888888", 60)}
        self.assertEqual(grey, {Verdict.NEEDS_EYES})
        small = {pair.verdict for pair in self.shrunk(12, "888888", 60)}
        self.assertEqual(small, {Verdict.FALLS_SHORT})
        large = {pair.verdict for pair in self.shrunk(2, "888888", 60)}
        self.assertEqual(large, {Verdict.PASSES})


class Pages(OdfTest):
    def test_sizes_names_and_hidden_pages(self):
        hidden = style(
            "dp",
            "drawing-page",
            '<style:drawing-page-properties presentation:visibility="hidden"/>',
        )
        path = self.write(
            frame("<text:p>Word</text:p>"), automatic=hidden, page='draw:style-name="dp"'
        )
        document = open_document(path)
        self.addCleanup(document.close)
        (page,) = document.pages
        self.assertAlmostEqual(page.width, 24 * CM)
        self.assertTrue(page.hidden)
        self.assertIs(measured(document, 0, Asked()).pairs[0].verdict, Verdict.EXEMPT)

    def test_a_masters_shapes_lie_below_and_its_prompts_are_not_shown(self):
        master = (
            '<draw:rect draw:style-name="M1" svg:x="0cm" svg:y="0cm" svg:width="24cm" svg:height="13cm"/>'
            + frame("<text:p>Click here</text:p>", 'presentation:class="title"')
        )
        m1 = style(
            "M1",
            "graphic",
            graphic('draw:fill="solid" draw:fill-color="#ddccbb" draw:stroke="none"'),
        )
        pair = self.only(frame("<text:p>Word</text:p>"), master=master, master_automatic=m1)
        self.assert_colours(pair, "000000", "DDCCBB")

    def test_footers_come_from_the_declaration_where_the_page_shows_them(self):
        footer = frame("<text:p><presentation:footer/></text:p>", 'presentation:class="footer"')
        declared = (
            '<presentation:footer-decl presentation:name="f">Ostrel Bay</presentation:footer-decl>'
        )
        shown = style(
            "dp",
            "drawing-page",
            '<style:drawing-page-properties presentation:display-footer="true"/>',
        )
        options = {"master": footer, "declarations": declared, "automatic": shown}
        page = 'draw:style-name="dp" presentation:use-footer-name="f"'
        pair = self.only("", page=page, **options)
        self.assertEqual((pair.text, pair.where), ("Ostrel Bay", "Slide 1 › master › Box"))
        self.assertTrue(pair.address.startswith("styles.xml#master=1/shape=1/"))
        self.assertEqual(self.pairs("", page='presentation:use-footer-name="f"', **options), ())

    def test_empty_placeholders_make_no_entry(self):
        prompt = frame("<text:p>Prompt</text:p>", 'presentation:placeholder="true"')
        self.assertEqual(self.pairs(prompt), ())


class Paint(OdfTest):
    def gradient(self, attributes: str):
        common = f'<draw:gradient draw:name="g" draw:start-color="#000000" draw:end-color="#ffffff" {attributes}/>'
        automatic = style(
            "G1",
            "graphic",
            graphic('draw:fill="gradient" draw:fill-gradient-name="g" draw:stroke="none"'),
        )
        rect = '<draw:rect draw:style-name="G1" svg:x="2cm" svg:y="2cm" svg:width="10cm" svg:height="5cm"/>'
        return self.pixels(rect, automatic=automatic, common=common)

    def at(self, pixels, scale, across: float, down: float) -> int:
        return pixels[int((2 + 5 * down) * CM * scale), int((2 + 10 * across) * CM * scale)][0]

    def test_linear_runs_down_and_turns_against_the_clock(self):
        pixels, scale = self.gradient('draw:style="linear" draw:angle="0"')
        for share in (0.2, 0.5, 0.8):
            self.assertAlmostEqual(self.at(pixels, scale, 0.5, share), 255 * share, delta=3)
        for angle in ("900", "90deg"):
            pixels, scale = self.gradient(f'draw:style="linear" draw:angle="{angle}"')
            self.assertAlmostEqual(self.at(pixels, scale, 0.2, 0.5), 255 * 0.2, delta=3)

    def test_a_border_keeps_the_first_colour(self):
        pixels, scale = self.gradient('draw:style="linear" draw:angle="0deg" draw:border="50%"')
        self.assertAlmostEqual(self.at(pixels, scale, 0.5, 0.4), 0, delta=2)
        self.assertAlmostEqual(self.at(pixels, scale, 0.5, 0.75), 127, delta=4)

    def test_radial_has_its_end_colour_at_the_centre(self):
        pixels, scale = self.gradient('draw:style="radial" draw:cx="50%" draw:cy="50%"')
        self.assertAlmostEqual(self.at(pixels, scale, 0.5, 0.5), 255, delta=3)
        radius = math.hypot(10, 5) / 2
        self.assertAlmostEqual(self.at(pixels, scale, 0.7, 0.5), 255 * (1 - 2 / radius), delta=4)

    def test_other_gradients_and_hatches_need_eyes(self):
        for fill in ('draw:fill="hatch"', 'draw:fill="gradient" draw:fill-gradient-name="lost"'):
            automatic = style("G1", "graphic", graphic(fill) + text('fo:color="#000000"'))
            pair = self.only(
                frame("<text:p>Word</text:p>", 'draw:style-name="G1"'), automatic=automatic
            )
            self.assertIs(pair.verdict, Verdict.NEEDS_EYES)

    def test_a_picture_and_a_turned_shape(self):
        picture = (
            '<draw:frame svg:x="0cm" svg:y="0cm" svg:width="24cm" svg:height="13cm">'
            '<draw:image xlink:href="Pictures/a.png"/></draw:frame>'
        )
        pixels, _ = self.pixels(picture, more={"Pictures/a.png": flat_picture((10, 20, 30))})
        self.assertEqual(pixels[50, 50].tolist(), [10, 20, 30])

    def test_a_shape_without_a_known_outline_counts_with_and_without_its_fill(self):
        automatic = style("G1", "graphic", graphic('draw:fill="solid" draw:fill-color="#eeeeee"'))
        dark = automatic.replace("eeeeee", "555555")
        cloud = (
            '<draw:custom-shape draw:style-name="G1" svg:x="2cm" svg:y="2cm" svg:width="9cm" svg:height="4cm">'
            '<text:p>Word</text:p><draw:enhanced-geometry draw:type="cloud"/></draw:custom-shape>'
        )
        self.assertIs(self.only(cloud, automatic=dark).verdict, Verdict.NEEDS_EYES)
        self.assertIs(self.only(cloud, automatic=automatic).verdict, Verdict.PASSES)
        box = cloud.replace('"cloud"', '"rectangle"')
        self.assert_colours(self.only(box, automatic=automatic), "000000", "EEEEEE")

    def test_table_cells(self):
        automatic = (
            style("co", "table-column", '<style:table-column-properties style:column-width="6cm"/>')
            + style("ro", "table-row", '<style:table-row-properties style:row-height="2cm"/>')
            + style(
                "ce",
                "table-cell",
                '<loext:graphic-properties draw:fill="solid" draw:fill-color="#113355"/>'
                + text('fo:color="#ffffff"'),
            )
        )
        table = (
            '<draw:frame svg:x="2cm" svg:y="2cm" svg:width="12cm" svg:height="2cm"><table:table>'
            '<table:table-column table:style-name="co" table:number-columns-repeated="2"/>'
            '<table:table-row table:style-name="ro"><table:table-cell table:style-name="ce"><text:p>One</text:p>'
            "</table:table-cell><table:table-cell><text:p>Two</text:p></table:table-cell></table:table-row>"
            "</table:table></draw:frame>"
        )
        pairs = self.pairs(table, automatic=automatic)
        self.assert_colours(pairs[0], "FFFFFF", "113355")
        self.assert_colours(pairs[1], "000000", "FFFFFF")
        self.assertIn("row 1, cell 2", pairs[1].where)


class Edits(OdfTest):
    BODY = frame('<text:p>Plain <text:span text:style-name="T1">red</text:span> tail</text:p>')
    RED = style("T1", "text", text('fo:color="#ff9999"'))

    def recoloured(self, path, *edits: RecolourText):
        document = open_document(path)
        target = self.folder.path / ("copy" + path.suffix)
        try:
            document.edited(edits).save(target)
        finally:
            document.close()
        return target

    def test_a_piece_of_text_gets_a_span_and_all_else_stays_byte_for_byte(self):
        more = {"Pictures/a.png": flat_picture((1, 2, 3)), "settings.xml": b"<x   />"}
        path = self.write(self.BODY, more=more, automatic=self.RED)
        addresses = {pair.text: pair.address for pair in pairs_of(path)}
        copy = self.recoloured(path, RecolourText(addresses["red"], (0x99, 0, 0)))
        found = {pair.text: pair.numbers.foreground for pair in pairs_of(copy)}
        self.assertEqual(found, {"Plain": "#000000", "red": "#990000", "tail": "#000000"})
        with zipfile.ZipFile(path) as old, zipfile.ZipFile(copy) as new:
            self.assertEqual(old.namelist(), new.namelist())
            changed = {n for n in old.namelist() if old.read(n) != new.read(n)}
        self.assertEqual(changed, {"content.xml"})

    def test_every_piece_of_a_paragraph_can_be_recoloured(self):
        path = self.write(self.BODY, automatic=self.RED)
        edits = [
            RecolourText(pair.address, (0x10 * n, 0, 0))
            for n, pair in enumerate(pairs_of(path), start=1)
        ]
        found = [pair.numbers.foreground for pair in pairs_of(self.recoloured(path, *edits))]
        self.assertEqual(found, ["#100000", "#200000", "#300000"])

    def test_a_field_in_a_master_and_a_bullet(self):
        footer = frame(
            "<text:p>Page <text:page-number/></text:p>", 'presentation:class="page-number"'
        )
        shown = style(
            "dp",
            "drawing-page",
            '<style:drawing-page-properties presentation:display-page-number="true"/>',
        )
        path = self.write("", master=footer, automatic=shown, page='draw:style-name="dp"')
        (pair,) = pairs_of(path)
        self.assertEqual(pair.text, "Page 1")
        copy = self.recoloured(path, RecolourText(pair.address, (0x33, 0x33, 0x33)))
        self.assertEqual(pairs_of(copy)[0].numbers.foreground, "#333333")
        bullets = (
            '<text:list-style style:name="L1"><text:list-level-style-bullet text:level="1" text:bullet-char="●">'
            '<style:list-level-properties text:min-label-width="0.6cm"/><style:text-properties fo:color="#cccccc"/>'
            "</text:list-level-style-bullet></text:list-style>"
        )
        listed = '<text:list text:style-name="L1"><text:list-item><text:p>Item</text:p></text:list-item></text:list>'
        path = self.write(frame(listed), automatic=bullets)
        label, _item = pairs_of(path)
        self.assertEqual((label.text, label.numbers.foreground), ("●", "#CCCCCC"))
        copy = self.recoloured(path, RecolourText(label.address, (0x44, 0x44, 0x44)))
        self.assertEqual(pairs_of(copy)[0].numbers.foreground, "#444444")

    def test_flat_files_are_read_and_mended(self):
        styles, content = parts(self.BODY, automatic=self.RED)
        image = base64.b64encode(flat_picture((200, 210, 220))).decode()
        picture = (
            '<draw:frame svg:x="0cm" svg:y="0cm" svg:width="24cm" svg:height="13cm"><draw:image>'
            f"<office:binary-data>{image}</office:binary-data></draw:image></draw:frame>"
        )
        body = content.replace(
            'draw:master-page-name="Plain" >', f'draw:master-page-name="Plain" >{picture}'
        )
        root = (
            f'<office:document {SPACES} office:mimetype="{MIME}">{styles}{body}</office:document>'
        )
        path = self.folder.write(root.encode(), "flat.fodp")
        found = {pair.text: pair for pair in pairs_of(path)}
        self.assertEqual(found["Plain"].numbers.background, "#C8D2DC")
        target = self.folder.path / "mended.fodp"
        mended = mend_file(path, target, Asked())
        self.assertEqual((mended.short, mended.left), (0, ()))
        self.assertGreaterEqual(min(pair.ratio for pair in pairs_of(target)), 3.0)

    def test_addresses_that_are_not_there(self):
        document = open_document(self.write(self.BODY, automatic=self.RED))
        self.addCleanup(document.close)
        for address in (
            "content.xml#page=9/shape=1/p=1/r=1",
            "content.xml#page=1/shape=1/p=1/r=9",
            "x.xml#page=1",
        ):
            with self.subTest(address), self.assertRaises(EditError):
                document.edited([RecolourText(address, (0, 0, 0))])


class BadInput(OdfTest):
    def assert_refused(self, data: bytes, words: str, name: str = "bad.odp") -> None:
        with self.assertRaisesRegex(UnreadableFile, words):
            open_document(self.folder.write(data, name)).close()

    def test_other_kinds_encrypted_and_broken_files(self):
        styles, content = parts("")
        self.assert_refused(
            pack(styles, content, mime="application/vnd.oasis.opendocument.formula"), "another kind"
        )
        locked = (
            b'<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">'
            b"<manifest:encryption-data/></manifest:manifest>"
        )
        self.assert_refused(pack(styles, content, {"META-INF/manifest.xml": locked}), "encrypted")
        self.assert_refused(pack(styles, content + "<"), "broken XML")
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as package:
            package.writestr("mimetype", MIME)
            package.writestr("styles.xml", "<a/>")
        self.assert_refused(out.getvalue(), "styles alone")
        self.assert_refused(b"<?xml version='1.0'?><a/>", "no flat OpenDocument file", "bad.fodp")

    def test_a_manifest_of_the_first_edition_declares_its_prefix_elsewhere(self):
        styles, content = parts(frame("<text:p>Word</text:p>"))
        manifest = (
            b'<!DOCTYPE manifest:manifest PUBLIC "-//Made up//DTD Manifest 1.0//EN" "Manifest.dtd">'
            b'<manifest:manifest><manifest:file-entry manifest:full-path="/"/></manifest:manifest>'
        )
        data = pack(styles, content, {"META-INF/manifest.xml": manifest})
        document = open_document(self.folder.write(data, "first.odp"))
        self.addCleanup(document.close)
        self.assertEqual(len(measured(document, 0, Asked()).pairs), 1)

    def test_without_styles_it_is_said(self):
        _, content = parts(frame("<text:p>Word</text:p>"))
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as package:
            package.writestr("mimetype", MIME)
            package.writestr(
                "content.xml",
                f"<office:document-content {SPACES}>{content}</office:document-content>",
            )
        document = open_document(self.folder.write(out.getvalue(), "bare.odp"))
        self.addCleanup(document.close)
        self.assertTrue(document.assumed())
        self.assertEqual(len(measured(document, 0, Asked()).pairs), 1)

    def test_units(self):
        self.assertAlmostEqual(length("2.54cm"), 72.0)
        self.assertAlmostEqual(length("10mm"), 72 / 2.54)
        self.assertEqual((length("x", 5.0), length(None), length("1e9cm", 7.0)), (5.0, 0.0, 7.0))
        self.assertEqual((percent("40%"), percent("x", 0.5)), (0.4, 0.5))
        self.assertEqual(
            (degrees("300", True), degrees("30", False), degrees("30deg", True)), (30, 30, 30)
        )
        self.assertIsNone(colour("transparent"))
        x, y = transform_of("rotate (1.5707963267949) translate (1in 2in)").apply(72, 0)
        self.assertAlmostEqual(x, 72)
        self.assertAlmostEqual(y, 144 - 72)


if __name__ == "__main__":
    unittest.main()
