"""Mends of web pages: what they say in CSS, and how a copy of a page is written."""

from __future__ import annotations

import io
import re
import tempfile
import unittest
from pathlib import Path

import tinycss2
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from high_pair.edits.kinds import RecolourFill, RecolourOrigin, RecolourText, Restyle
from high_pair.errors import EditError, UnwritableFile
from high_pair.formats import open_document
from high_pair.formats.location import WebAddress, location_of, name_of
from high_pair.formats.web.addresses import PagePlace, looks_like_page, place_of
from high_pair.formats.web.css_source import find, plain_selector, urls_in
from high_pair.formats.web.html_source import PageSource, moved_sheet, mover
from high_pair.formats.web.mends import hex_of
from high_pair.formats.web.origins import weight_of
from high_pair.formats.web.settings import WebSettings
from high_pair.measure.alike import alike_groups
from high_pair.review.measuring import PageBench, review_page
from high_pair.review.mending import edits_for, remedies_for
from high_pair.review.saving import save_copy
from high_pair.review.session import Session
from high_pair.simulated.site import SITE, SITE_PAGES, SiteServer
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.mending import mend_file
from tests.web_pages import QUICK, PageFolder, pairs_of, text_pairs, whole


class StyleSheets(unittest.TestCase):
    """A declaration is found where it stands, however the sheet is written."""

    def value(self, text: str, selector: str, nth: int = 0, prop: str = "color") -> str | None:
        found = find(text, selector, nth, prop)
        return text[found.start : found.stop] if found else None

    def test_the_value_is_found_and_nothing_round_it(self) -> None:
        self.assertEqual(self.value("p { color : #abc ; margin: 0 }", "p"), "#abc")
        self.assertEqual(self.value("p{color:rgb(1, 2, 3)!important}", "p"), "rgb(1, 2, 3)")
        self.assertEqual(self.value("p{color:var(--a, red)}", "p"), "var(--a, red)")

    def test_the_line_is_told(self) -> None:
        found = find("a {}\r\n\r\np {\r\n  color: red;\r\n}", "p", 0, "color")
        assert found is not None
        self.assertEqual(found.line, 4)

    def test_selectors_are_the_same_however_they_are_spelt(self) -> None:
        self.assertEqual(self.value("ul>li  a:before{color:red}", "ul > li a::before"), "red")
        self.assertEqual(self.value("a[href='x']{color:red}", 'a[href="x"]'), "red")

    def test_of_several_rules_the_one_asked_for(self) -> None:
        text = "p{color:red} @media print{p{color:lime}} p{color:blue}"
        self.assertEqual([self.value(text, "p", n) for n in range(3)], ["red", "lime", "blue"])
        self.assertIsNone(self.value(text, "p", 3))

    def test_rules_within_rules_are_found(self) -> None:
        self.assertEqual(self.value("main{color:red; a{color:blue}}", "a"), "blue")

    def test_the_last_declaration_of_a_rule_counts(self) -> None:
        self.assertEqual(self.value("p{color:red;color:blue}", "p"), "blue")

    def test_comments_and_strings_mislead_nobody(self) -> None:
        text = "/* p{color:red} */ q::before{content:'p{color:red}'} p{/*x*/color:/*y*/blue}"
        self.assertIn("blue", self.value(text, "p") or "")

    def test_broken_sheets_end_in_nothing(self) -> None:
        for text in ("p{color", "p{{{", "@media{", "", "}}}", "p{color:}"):
            with self.subTest(text):
                self.assertIsNone(self.value(text, "p"))

    @given(st.text(alphabet="p{}:;@color/*'\"()\\ \n#a1!", max_size=80))
    def test_no_text_breaks_the_search(self, text: str) -> None:
        found = find(text, "p", 0, "color")
        if found is not None:
            self.assertTrue(0 < found.start < found.stop <= len(text))

    @given(st.lists(st.sampled_from(["p", "a", "h1"]), min_size=1, max_size=6), st.data())
    def test_changing_a_value_changes_that_and_nothing_else(
        self, names: list[str], data: st.DataObject
    ) -> None:
        text = "".join(f"{name} {{ color: c{n}; top: 0 }}\n" for n, name in enumerate(names))
        place = data.draw(st.integers(0, len(names) - 1))
        nth = names[:place].count(names[place])
        found = find(text, names[place], nth, "color")
        assert found is not None
        self.assertEqual(text[found.start : found.stop], f"c{place}")
        changed = text[: found.start] + "new" + text[found.stop :]
        rules = tinycss2.parse_stylesheet(changed, True, True)
        said = [tinycss2.serialize(rule.content) for rule in rules]
        self.assertEqual(
            [("new" in each) for each in said], [n == place for n in range(len(names))]
        )

    def test_addresses_in_a_sheet_are_moved(self) -> None:
        text = "@import 'a.css';p{background:url(b.png),url( \"c d.png\" )}"
        found = urls_in(text)
        self.assertEqual([url for _, _, url in found], ["a.css", "b.png", "c d.png"])
        self.assertTrue(all(text[start:stop] == url for start, stop, url in found))
        moved = moved_sheet(text, lambda url: url if " " in url else f"../{url}")
        self.assertIn("@import '../a.css'", moved)
        self.assertIn("url(../b.png)", moved)

    def test_weights_of_selectors_follow_the_standard(self) -> None:
        # Selectors 4, §17, whose own examples these are.
        for selector, weight in (
            ("*", (0, 0, 0)),
            ("LI", (0, 0, 1)),
            ("UL LI", (0, 0, 2)),
            ("UL OL+LI", (0, 0, 3)),
            ("H1 + *[REL=up]", (0, 1, 1)),
            ("UL OL LI.red", (0, 1, 3)),
            ("LI.red.level", (0, 2, 1)),
            ("#x34y", (1, 0, 0)),
            ("a:hover", (0, 1, 1)),
            ("p::before", (0, 0, 2)),
        ):
            with self.subTest(selector):
                self.assertEqual(weight_of(selector), weight)

    def test_plain_selectors_are_a_fixed_point(self) -> None:
        for text in ("a > b", "p:after", "x[y='z'] ~ q"):
            self.assertEqual(plain_selector(plain_selector(text)), plain_selector(text))

    def test_colours_are_written_as_css_has_them(self) -> None:
        self.assertEqual(hex_of((1, 2, 255)), "#0102FF")
        self.assertEqual(hex_of((1, 2, 255), 0.5), "rgb(1 2 255 / 50%)")


class PagesAsText(unittest.TestCase):
    """A page's own bytes come back but for what is changed."""

    def test_every_byte_comes_back(self) -> None:
        for data in (
            "<p>Grüße — ✓".encode(),
            b"\xef\xbb\xbf<p>mark",
            b"<meta charset=iso-8859-1><p>Gr\xfc\xdfe\x80",
            b"<p>neither \xff\xfe one nor the other \x81",
            "<p>wide".encode("utf-16"),
        ):
            with self.subTest(data):
                self.assertEqual(PageSource(data).encoded({}), data)

    @given(st.binary(max_size=120))
    def test_whatever_the_bytes(self, data: bytes) -> None:
        try:
            source = PageSource(data)
        except UnicodeDecodeError:
            # What claims to be UTF-16 and isn't has no text that could be changed.
            self.assertTrue(data.startswith((b"\xff\xfe", b"\xfe\xff")))
            return
        if source.encoding != "utf-16":
            self.assertEqual(source.encoded({}), data)

    def test_a_style_element_goes_to_the_end_of_the_head(self) -> None:
        for text, before in (
            ("<html><head><title>x</title></head><body>", "</head>"),
            ("<html><body>y", "<body>"),
            ("<!doctype html><p>y", "<p>"),
            ("<!-- </head> --><head></head>", "</head><!-- end"),
            ("<head></head><style>p{}</style><p>y", "<p>"),
            ("<head></head><link rel=Stylesheet href=a.css><p>y", "<p>"),
            ("<head></head><noscript><style>p{}</style></noscript>", "</head>"),
        ):
            with self.subTest(text):
                source = PageSource(text.encode())
                out = source.encoded({(source.sheet_end, source.sheet_end): "NEW"}).decode()
                self.assertEqual(out.replace("NEW", ""), text)
                self.assertIn("NEW" + before.partition("<!--")[0], out)

    def test_addresses_of_other_folders_are_moved_and_fragments_stay(self) -> None:
        move = mover(Path("/a/b"), Path("/a/c"))
        self.assertEqual(move("x.html#y"), "../b/x.html#y")
        for same in ("#y", "http://z/", "/x", "data:,", "mailto:a@b", "//h/x", ""):
            self.assertEqual(move(same), same)

    def test_web_addresses_are_kept_letter_by_letter(self) -> None:
        for url in (
            "http://localhost:80/a/b.html?c=d",
            "https://host",
            "http://host/dir/",
            "http://host/?next=https://other//x",
            "http://host/a//b",
            "http://host/#/route/",
        ):
            self.assertEqual(location_of(f" {url} "), WebAddress(url))
        self.assertEqual(str(location_of("HTTPS://Host/A")), "https://Host/A")
        # As an earlier version kept them.
        self.assertEqual(location_of("http:/host/dir"), WebAddress("http://host/dir"))
        self.assertEqual(location_of("http.html"), Path("http.html"))
        self.assertEqual(name_of(location_of("http://localhost:80/a/b.html?c=d")), "b.html")
        self.assertEqual(name_of(location_of("http://host/")), "host")

    def test_selectors_are_told_from_what_else_an_address_says(self) -> None:
        self.assertEqual(place_of("page#main>p/text=1-2"), PagePlace("main>p", "/text=1-2"))
        self.assertEqual(place_of("page#a:hover::before"), PagePlace("a:hover::before"))
        self.assertEqual(
            place_of("page##a\\/b/icon=fill/laid=1"), PagePlace("#a\\/b", "/icon=fill", "fill")
        )
        self.assertIsNone(place_of("ppt/slides/slide1.xml#sp=1"))

    def test_a_state_goes_to_the_element_whatever_its_name(self) -> None:
        for target, hovered in (
            ("#nav>a/text=1", "#nav>a:hover/text=1"),
            ("#docs\\/intro/text=2", "#docs\\/intro:hover/text=2"),
            ("a::before", "a:hover::before"),
            ("a::after/text=1", "a:hover::after/text=1"),
        ):
            self.assertEqual(PagePlace.of(target).in_state("hover"), hovered)

    def test_pages_are_told_by_how_they_begin(self) -> None:
        self.assertTrue(looks_like_page(b"\xef\xbb\xbf\n<!DOCTYPE HTML><p>"))
        self.assertFalse(looks_like_page(b"PK\x03\x04"))


class Mending(PageFolder):
    """Edits become rules, the engine tries them, and a copy measures as was shown."""

    PALE = whole("<main><p>Words</p><p class=b>Other</p></main>", "p{color:#999}.b{color:#aaa}")

    def test_a_colour_becomes_one_commented_rule(self) -> None:
        file = self.page(self.PALE)
        edited = file.edited([RecolourText("page#body>main>p:nth-of-type(1)/text=1", (1, 2, 3))])
        sheet = edited.style_sheet()
        self.assertEqual(sheet.count("/*"), 1)
        self.assertIn("Words", sheet)
        self.assertIn("body>main>p:nth-of-type(1) { color: #010203; }", sheet)
        pairs = pairs_of(edited)
        assert pairs[0].numbers is not None
        self.assertEqual(pairs[0].numbers.foreground, "#010203")
        self.assertEqual(pairs[0].origin, "changed here")
        self.assertEqual(pairs[1].verdict, Verdict.FALLS_SHORT)

    def test_it_wins_over_inline_styles_and_weightier_rules(self) -> None:
        style = "#a{color:#999!important}"
        html = whole('<p id=a>Words</p><p style="color:#999">Inline</p>', style)
        file = self.page(html)
        edits = [RecolourText(pair.address, (0, 0, 0)) for pair in pairs_of(file)]
        self.assertEqual({p.verdict for p in pairs_of(file.edited(edits))}, {Verdict.PASSES})

    def test_a_colour_on_hover_stays_where_the_text_is_recoloured(self) -> None:
        style = "nav a{color:#999}nav a:hover{color:#036}"
        file = self.page(whole("<nav><a href=x>Menu</a></nav>", style), WebSettings())
        edited = file.edited([RecolourText("page#body>nav>a/text=1", (0, 0, 0))])
        rest, hover = text_pairs(pairs_of(edited), "Menu")
        assert rest.numbers is not None and hover.numbers is not None
        self.assertEqual(
            (rest.numbers.foreground, hover.numbers.foreground), ("#000000", "#003366")
        )

    def test_links_are_fitted_to_the_text_around_them_as_it_becomes(self) -> None:
        style = "p{color:#999}a{color:#a86;text-decoration:none}nav a{color:#aaa}"
        body = "<nav><a href=x>Menu</a></nav><p>Words with a <a href=y>link</a> among them</p>"
        self.page(whole(body, style))
        outcome = mend_file(self.folder / "page.html", self.folder / "mended.html", Asked())
        self.assertEqual(outcome.left, ())
        mended = open_document(self.folder / "mended.html", QUICK)
        self.addCleanup(mended.close)
        pairs = pairs_of(mended)
        self.assertEqual({pair.verdict for pair in pairs}, {Verdict.PASSES})
        link = next((pair for pair in pairs if pair.subject is Subject.LINK), None)
        if link is not None:
            (words, *_) = text_pairs(pairs, "Words with a")
            assert link.numbers is not None and words.numbers is not None
            self.assertEqual(link.numbers.background, words.numbers.foreground)

    def test_bold_and_an_underline_on_one_text_are_both_written_in_any_order(self) -> None:
        file = self.page(whole("<p><a href=x>Link</a></p>"))
        at = "page#body>p>a/text=1"
        changes = [Restyle(at, bold=True), Restyle(at, underline=True), Restyle(at, size=18.0)]
        for edits in (changes, changes[::-1]):
            sheet = file.edited(edits).style_sheet()
            for words in ("font-weight: 700", "decoration-line: underline", "font-size: 24px"):
                self.assertIn(words, sheet)

    def test_what_is_too_see_through_for_any_colour_is_made_opaque(self) -> None:
        style = (
            "section{opacity:.4}i{opacity:.5}b{opacity:.6}p.a::before{content:'Mark';opacity:.3}"
        )
        html = whole(
            "<section><p>First</p><p>Second <i>twice</i></p></section><p class=a>"
            "<b style='color:#666'>Enough</b></p>",
            style,
        )
        self.page(html)
        outcome = mend_file(self.folder / "page.html", self.folder / "mended.html", Asked())
        self.assertEqual(outcome.left, ())
        mended = open_document(self.folder / "mended.html", QUICK)
        self.addCleanup(mended.close)
        pairs = pairs_of(mended)
        self.assertEqual({pair.verdict for pair in pairs}, {Verdict.PASSES})
        sheet = (self.folder / "mended.html").read_text()
        # A colour alone serves the last, and its opacity stays.
        self.assertIn("body>section { opacity: 1 !important; }", sheet)
        self.assertNotIn("b { opacity", sheet)

    def test_a_fill_and_a_size_are_changed(self) -> None:
        file = self.page(whole("<section><p>Words</p></section>", "section{background:#246}"))
        edited = file.edited(
            [
                RecolourFill("page#body>section", (255, 255, 255)),
                Restyle("page#body>section>p/text=1", 18.0, True),
            ]
        )
        (pair,) = pairs_of(edited)
        assert pair.numbers is not None
        self.assertEqual((pair.numbers.background, pair.size, pair.bold), ("#FFFFFF", 18.0, True))

    def test_the_rule_and_the_custom_property_are_changed_for_all_that_follow(self) -> None:
        html = whole("<p>One</p><p>Two</p>", ":root{--pale:#999}p{color:var(--pale)}")
        file = self.page(html)
        first = pairs_of(file)[0]
        (decider,) = first.deciders
        edited = file.edited([RecolourOrigin(decider.address, (0, 0, 0))])
        self.assertEqual({pair.verdict for pair in pairs_of(edited)}, {Verdict.PASSES})
        target = self.folder / "copy.html"
        edited.save(target)
        self.assertEqual(target.read_text(), html.replace("--pale:#999", "--pale:#000000"))

    def test_a_rule_in_a_linked_sheet_is_changed_in_a_copy_of_that(self) -> None:
        html = "<!doctype html><link rel=stylesheet href=look.css><p>Words"
        css = "/* kept */\np { color: #999; }\n"
        file = self.page(html, beside={"look.css": css})
        (decider,) = pairs_of(file)[0].deciders
        edited = file.edited([RecolourOrigin(decider.address, (0, 0, 0))])
        target = self.folder / "linked.html"
        edited.save(target)
        self.assertEqual((self.folder / "look.css").read_text(), css)
        self.assertEqual(
            (self.folder / "linked-look.css").read_text(), css.replace("#999", "#000000")
        )
        self.assertIn("href=linked-look.css", target.read_text())
        copy = open_document(target, QUICK)
        self.addCleanup(copy.close)
        self.assertEqual(pairs_of(copy)[0].verdict, Verdict.PASSES)

    def test_the_rest_of_the_page_stays_byte_for_byte(self) -> None:
        html = self.PALE.replace("<main>", "<main>\r\n<!-- kept -->\t<B>caf\u00e9</b>")
        file = self.page(html)
        edited = file.edited([RecolourText("page#body>main>p:nth-of-type(1)/text=1", (0, 0, 0))])
        target = self.folder / "rest.html"
        edited.save(target)
        without = re.sub(rb"<style>\n/\* Mends.*?</style>\n", b"", target.read_bytes(), flags=re.S)
        self.assertEqual(without, html.encode())

    def test_text_that_ends_a_style_element_ends_none(self) -> None:
        file = self.page(whole("<p>a &lt;/style&gt; b</p>", "p{color:#999}"))
        edited = file.edited([RecolourText(pairs_of(file)[0].address, (0, 0, 0))])
        target = self.folder / "ends.html"
        edited.save(target)
        copy = open_document(target, QUICK)
        self.addCleanup(copy.close)
        self.assertEqual([pair.verdict for pair in pairs_of(copy)], [Verdict.PASSES])

    def test_a_copy_in_another_folder_still_finds_its_pictures(self) -> None:
        html = whole("<p>Words</p>", "p{color:#999;background:url(dark.png)}")
        out = io.BytesIO()
        Image.new("RGB", (8, 8), "#102030").save(out, "PNG")
        file = self.page(html, beside={"dark.png": out.getvalue()})
        with tempfile.TemporaryDirectory() as other:
            target = Path(other) / "copy.html"
            file.edited([RecolourText(pairs_of(file)[0].address, (255, 255, 255))]).save(target)
            copy = file.opened_as_saved(target)
            self.addCleanup(copy.close)
            numbers = pairs_of(copy)[0].numbers
            assert numbers is not None
            self.assertEqual(numbers.background, "#102030")

    def test_a_page_in_a_latin_encoding_is_mended(self) -> None:
        page = whole("<p style='color:#999'>Grüße „Ostrel“</p>")
        file = self.page(page.replace("utf-8", "windows-1252").encode("windows-1252"))
        target = self.folder / "copy.html"
        file.edited([RecolourText(pairs_of(file)[0].address, (0, 0, 0))]).save(target)
        copy = file.opened_as_saved(target)
        self.addCleanup(copy.close)
        pair = pairs_of(copy)[0]
        self.assertEqual((pair.text, pair.verdict), ("Grüße „Ostrel“", Verdict.PASSES))

    def test_what_isnt_there_is_an_error(self) -> None:
        file = self.page(self.PALE)
        with self.assertRaises(EditError):
            file.edited([RecolourText("ppt/slides/slide1.xml#sp=1", (0, 0, 0))])
        with self.assertRaises(EditError):
            file.edited([RecolourOrigin("style#tree=0/sheet=9/rule=9/property=color", (0, 0, 0))])

    def test_the_mends_alone_are_a_style_sheet_that_is_measured(self) -> None:
        file = self.page(self.PALE)
        changed = pairs_of(file)
        edits = [RecolourText(pair.address, (0, 0, 0)) for pair in changed]
        target = self.folder / "mends.css"
        copy = save_copy(file.edited(edits), target, file.path, changed, [0], Asked())
        self.assertEqual((copy.changed, copy.passing), (2, 2))
        self.assertEqual(target.read_text().count("/*"), 2)


class TheDemoSite(unittest.TestCase):
    """The ferry line's site is brought to a pass, by file and by address."""

    def test_every_page_of_it_is_mended_in_a_copy(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            for name in SITE_PAGES:
                with self.subTest(name):
                    mended = mend_file(SITE / name, Path(folder) / name, Asked())
                    left = [f"{pair.where}: {pair.text} {why}" for pair, why in mended.left]
                    self.assertEqual((mended.short, left), (0, []))

    def test_the_picture_behind_the_menu_can_be_kept(self) -> None:
        file = open_document(SITE / "news.html", QUICK)
        self.addCleanup(file.close)
        bench = PageBench()
        pairs = bench.get(file, 0, Asked()).pairs
        heading = next(p for p in pairs if p.text == "News from the harbour")
        found = remedies_for([heading], file, bench, Asked(), file.edited).remedies
        kinds = {remedy.kind for remedy in found}
        self.assertTrue({"veil", "ramp", "plate", "soft plate", "recolour"} <= kinds, kinds)
        for remedy in found:
            with self.subTest(remedy.label):
                after = pairs_of(file.edited(edits_for(remedy, [heading])))
                now = next(p for p in after if p.address == heading.address)
                self.assertEqual(now.verdict, Verdict.PASSES)
                # An overlay that serves several texts has the ratio of the weakest.
                self.assertGreaterEqual(now.ratio or 0, remedy.ratio - 0.05)

    def test_served_it_measures_as_the_files_do(self) -> None:
        server = SiteServer()
        self.addCleanup(server.close)
        served = open_document(location_of(server.address + "fares.html"), QUICK)
        self.addCleanup(served.close)
        local = open_document(SITE / "fares.html", QUICK)
        self.addCleanup(local.close)
        told = [
            [(p.address, p.verdict, p.ratio) for p in pairs_of(each)] for each in (served, local)
        ]
        self.assertEqual(*told)
        with tempfile.TemporaryDirectory() as folder, self.assertRaises(UnwritableFile):
            served.save(Path(folder) / "copy.html")

    def test_a_review_of_it_goes_on_in_a_session(self) -> None:
        session = Session()
        file = session.add(SITE / "news.html", open_document(SITE / "news.html", QUICK), QUICK)
        self.addCleanup(lambda: session.remove(file.key))
        for due in session.due():
            session.take(due, review_page(due.document, due.page, due.asked))
        groups = alike_groups(session.pairs_on(file.key, 0))
        short = groups[0].weakest
        session.decide(file.key, "test", [RecolourText(short.address, (0, 0, 0))])
        self.assertEqual(len(session.due()), 1)
        self.assertEqual(session.kept_review({}).files[0].web, QUICK)


if __name__ == "__main__":
    unittest.main()
