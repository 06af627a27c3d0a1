"""Mends in frames and shadow trees: tried there, and written where those stand in the page's files."""

from __future__ import annotations

import html
import os
import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from high_pair.edits.kinds import Edit, RecolourFill, RecolourOrigin, RecolourText, Restyle
from high_pair.errors import EditError
from high_pair.formats.web.addresses import PagePlace
from high_pair.formats.web.html_source import PageSource, in_value, read_value
from high_pair.formats.web.source_files import SourceFiles, read_whole
from high_pair.formats.web.trees import Trees
from high_pair.formats.web.web_file import WebFile
from high_pair.measure.pairs import Pair
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, pairs_of, whole

PALE = "<style>p{color:#999}</style>"
INK = (0x20, 0x20, 0x20)


def card(inside: str, mode: str = "open") -> str:
    return f'<ferry-card><template shadowrootmode="{mode}">{inside}</template></ferry-card>'


def frame(inside: str) -> str:
    return f'<iframe width=500 height=120 srcdoc="{html.escape(inside)}"></iframe>'


class TreeTest(PageFolder):
    def found(self, file: WebFile, text: str) -> Pair:
        return next(pair for pair in pairs_of(file) if pair.text == text)

    def saved(self, file: WebFile, edits: list[Edit], target: Path | None = None) -> WebFile:
        target = target or self.folder / "copy.html"
        file.edited(edits).save(target)
        copy = file.opened_as_saved(target)
        self.addCleanup(copy.close)
        return copy

    def assert_mended(self, file: WebFile, text: str, target: Path | None = None) -> WebFile:
        """The text falls short, and passes with another colour, tried and in a copy."""
        before = self.found(file, text)
        self.assertIs(before.verdict, Verdict.FALLS_SHORT)
        self.assertEqual(before.fixed, "")
        edits: list[Edit] = [RecolourText(before.address, INK)]
        self.assertIs(self.found(file.edited(edits), text).verdict, Verdict.PASSES)
        copy = self.saved(file, edits, target)
        self.assertIs(self.found(copy, text).verdict, Verdict.PASSES)
        return copy


class ShadowTrees(TreeTest):
    def test_a_tree_of_the_page_s_text_gets_a_sheet_of_its_own(self) -> None:
        page = whole(f"<p>Outer</p>{card(PALE + '<p>Inner</p>')}")
        copy = self.assert_mended(self.page(page), "Inner")
        written = (self.folder / "copy.html").read_text()
        start, block, end = written.partition("<style>\n/* Mends")
        block, _, end = (block + end).partition("</style>\n")
        self.assertEqual(start + end, page)
        self.assertTrue(end.startswith("</template>"))
        self.assertIs(self.found(copy, "Outer").verdict, Verdict.PASSES)

    def test_each_of_several_trees_is_changed_by_itself(self) -> None:
        page = whole(card(PALE + "<p>First</p>") + card(PALE + "<p>Second</p>"))
        copy = self.assert_mended(self.page(page), "Second")
        self.assertIs(self.found(copy, "First").verdict, Verdict.FALLS_SHORT)

    def test_a_tree_within_a_tree(self) -> None:
        inner = card(PALE + "<p>Deep</p>")
        self.assert_mended(self.page(whole(card(f"<p>Above</p>{inner}<p>Below</p>"))), "Deep")

    def test_a_tree_that_a_script_makes_is_left_alone(self) -> None:
        script = (
            "<div id=a></div><script>a.attachShadow({mode:'open'}).innerHTML="
            f"'{PALE}<p>Made</p>'</script>"
        )
        file = self.page(whole(script))
        made = self.found(file, "Made")
        self.assertIn("isn't written in the page's own files", made.fixed)
        with self.assertRaises(EditError):
            file.edited([RecolourText(made.address, INK)])

    def test_a_tree_that_a_script_fills_anew_is_left_alone(self) -> None:
        script = (
            "<script>document.querySelector('ferry-card').shadowRoot.innerHTML="
            f"'{PALE}<p>Anew</p>'</script>"
        )
        file = self.page(whole(card(PALE + "<p>Stated</p>") + script))
        self.assertTrue(self.found(file, "Anew").fixed)

    def test_hosts_that_a_script_adds_leave_none_of_that_name_sure(self) -> None:
        script = (
            "<script>const a=document.createElement('ferry-card');"
            f"a.attachShadow({{mode:'open'}}).innerHTML='{PALE}<p>Added</p>';"
            "document.body.prepend(a)</script>"
        )
        file = self.page(whole(card(PALE + "<p>Stated</p>") + script))
        self.assertTrue(self.found(file, "Added").fixed)
        self.assertTrue(self.found(file, "Stated").fixed)

    def test_a_border_and_an_icon_in_a_tree_are_changed_too(self) -> None:
        inside = (
            "<style>input{border:2px solid #aaa}svg{fill:#bbb}button{border:0;background:#fff}"
            "</style><input name=Ship><button aria-label=Search><svg width=20 height=20>"
            "<rect width=20 height=20 /></svg></button>"
        )
        for page in (whole(card(inside)), whole(frame(inside))):
            file = self.page(page)
            names = ("Ship", "Search")
            before = [self.found(file, name) for name in names]
            self.assertEqual([pair.verdict for pair in before], [Verdict.FALLS_SHORT] * 2)
            edits: list[Edit] = [RecolourText(pair.address, INK) for pair in before]
            copy = self.saved(file, edits)
            for name in names:
                self.assertIs(self.found(file.edited(edits), name).verdict, Verdict.PASSES, name)
                self.assertIs(self.found(copy, name).verdict, Verdict.PASSES, name)

    def test_sizes_and_fills_in_a_tree_are_changed_too(self) -> None:
        inside = "<style>p{color:#999;background:#eee}</style><p>Inner</p>"
        file = self.page(whole(card(inside)))
        address = self.found(file, "Inner").address
        element = address.removesuffix("/text=1")
        copy = self.saved(
            file,
            [RecolourFill(element, (0, 0, 0), serves=(address,)), Restyle(address, size=30.0)],
        )
        pair = self.found(copy, "Inner")
        assert pair.numbers is not None
        self.assertEqual(pair.numbers.background, "#000000")
        self.assertAlmostEqual(pair.size, 30.0, places=1)

    def test_a_rule_of_the_page_is_found_whatever_sheets_stand_before_it(self) -> None:
        # Those of trees, of what shows without scripts, and those that scripts put in.
        script = (
            "<script>const s=document.createElement('style');s.textContent='p{margin:0}';"
            "document.head.prepend(s)</script><noscript><style>p{color:red}</style></noscript>"
        )
        page = (
            f"<!doctype html><html><head><title>x</title>{script}</head><body>"
            f"{card('<style>p{color:#888}</style><p>Inner</p>')}"
            "<style>p{color:#999}</style><p>Outer</p></body></html>"
        )
        file = self.page(page)
        outer = self.found(file, "Outer")
        self.assertEqual([each.line for each in outer.deciders], [1])
        edits: list[Edit] = [RecolourOrigin(outer.deciders[0].address, INK)]
        copy = self.saved(file, edits)
        self.assertIs(self.found(copy, "Outer").verdict, Verdict.PASSES)
        written = (self.folder / "copy.html").read_text()
        self.assertEqual(written, page.replace("p{color:#999}", "p{color:#202020}"))


class Frames(TreeTest):
    def test_a_document_that_a_frame_states_is_changed_in_its_attribute(self) -> None:
        page = whole(frame(f'{PALE}<p title="a & b">Framed</p>'))
        self.assert_mended(self.page(page), "Framed")
        start, block, end = (
            (self.folder / "copy.html").read_text().partition("&lt;style&gt;\n/* Mends")
        )
        block, _, end = (block + end).partition("&lt;/style&gt;\n")
        self.assertEqual(start + end, page)

    def test_a_frame_without_quotes_gets_them(self) -> None:
        page = whole("<iframe width=500 height=120 srcdoc=&lt;i/style=color:#999&gt;Bare></iframe>")
        self.assert_mended(self.page(page), "Bare")

    def test_pages_in_other_encodings_keep_their_bytes(self) -> None:
        inner = html.escape("<style>p{color:#999}</style><p>Fähre — „Ostrel“</p>")
        inner = inner.encode("ascii", "xmlcharrefreplace").decode()
        page = whole(f"<p>Grüße</p><iframe width=500 height=120 srcdoc='{inner}'></iframe>")
        data = page.replace("charset=utf-8", "charset=windows-1252").encode("windows-1252")
        file = self.page(data)
        self.assertEqual(self.found(file, "Grüße").verdict, Verdict.PASSES)
        copy = self.assert_mended(file, "Fähre — „Ostrel“")
        self.assertEqual(self.found(copy, "Grüße").verdict, Verdict.PASSES)
        written = (self.folder / "copy.html").read_bytes()
        start, block, end = written.partition(b"&lt;style&gt;\n/* Mends")
        self.assertEqual(start + (block + end).partition(b"&lt;/style&gt;\n")[2], data)

    def test_a_sheet_further_down_doesn_t_win(self) -> None:
        self.assert_mended(
            self.page(whole("<style>body>p{color:#999}</style><p>Outer</p>")), "Outer"
        )

    def test_a_frame_s_own_file_is_changed_in_a_copy_beside(self) -> None:
        inner = f"<!doctype html><html><head>{PALE}</head><body><p>Inside</p></body></html>"
        page = whole('<iframe width=500 height=120 src="inner.html?a=1#top"></iframe>')
        self.assert_mended(self.page(page, beside={"inner.html": inner}), "Inside")
        self.assertEqual((self.folder / "inner.html").read_text(), inner)
        self.assertIn("p", (self.folder / "copy-inner.html").read_text())
        self.assertIn('src="copy-inner.html?a=1#top"', (self.folder / "copy.html").read_text())

    def test_a_tree_in_a_frame_in_a_frame(self) -> None:
        inner = whole(frame(f"<p>Between</p>{card(PALE + '<p>Deep</p>')}"))
        page = whole('<iframe width=600 height=300 src="inner.html"></iframe>')
        file = self.page(page, beside={"inner.html": inner})
        with tempfile.TemporaryDirectory() as other:
            self.assert_mended(file, "Deep", Path(other) / "copy.html")

    def test_a_rule_of_a_frame_is_changed_for_all_that_follow_it(self) -> None:
        # Important as it is, since no other rule could take its place.
        inside = "<style>p{color:#999!important}</style><p>One</p><p>Two</p>"
        file = self.page(whole(frame(inside)))
        decider = self.found(file, "One").deciders[0]
        copy = self.saved(file, [RecolourOrigin(decider.address, INK)])
        found = [self.found(copy, each).verdict for each in ("One", "Two")]
        self.assertEqual(found, [Verdict.PASSES] * 2)

    def test_the_same_frame_twice_is_changed_twice(self) -> None:
        page = whole(frame(PALE + "<p>Twin</p>") * 2)
        copy = self.assert_mended(self.page(page), "Twin")
        twins = [pair.verdict for pair in pairs_of(copy) if pair.text == "Twin"]
        self.assertEqual(twins, [Verdict.PASSES] * 2)

    def test_what_a_frame_states_finds_its_pictures_from_another_folder(self) -> None:
        page = whole(frame("<style>p{color:#999}</style><p>Framed</p><img src=ferry.png>"))
        with tempfile.TemporaryDirectory() as other:
            target = Path(other) / "copy.html"
            self.assert_mended(self.page(page), "Framed", target)
            self.assertRegex(html.unescape(target.read_text()), r"<img src=\.\./\S+/ferry\.png>")

    def test_a_sheet_says_what_it_can_t_hold(self) -> None:
        file = self.page(whole("<p style='color:#999'>Outer</p>" + frame(PALE + "<p>Framed</p>")))
        edits = [RecolourText(self.found(file, each).address, INK) for each in ("Outer", "Framed")]
        sheet = file.edited(edits).style_sheet()
        self.assertIn("Not here: Text “Framed”", sheet)
        self.assertEqual(sheet.count("#202020"), 1)


class InTheText(unittest.TestCase):
    """Trees are found in a page's text as browsers find them."""

    @given(st.text(alphabet="ab&<>\"'#;xé\r\n", max_size=30))
    def test_what_an_attribute_says_is_written_where_it_is_told(self, value: str) -> None:
        said, places = read_value(value)
        self.assertEqual(said, html.unescape(value.replace("\r\n", "\n").replace("\r", "\n")))
        self.assertEqual(len(places), len(said) + 1)
        self.assertEqual(places[-1], len(value))
        self.assertEqual(places, sorted(places))
        # Whatever is put in somewhere is said there, and all else as it was.
        quote = next((each for each in "\"'" if each not in value), None)
        if quote is not None:
            source = PageSource.stated(f"<iframe srcdoc={quote}{value}{quote}></iframe>")
            attribute = source.attributes[0]
            for at in (0, len(said)):
                changed = source.changed(in_value(source, attribute, {(at, at): "<“&”>"}))
                again = PageSource.stated(changed).attributes[0]
                self.assertEqual(read_value(again.value)[0], said[:at] + "<“&”>" + said[at:])

    def hosts(self, text: str) -> list[tuple[str, str]]:
        source = PageSource.stated(text)
        self.assertTrue(
            all(source.text.startswith("</template", each.stop) for each in source.templates)
        )
        return [(each.host, each.text) for each in source.templates]

    def test_hosts_and_their_text(self) -> None:
        one = (
            "<a-b><template shadowrootmode=open><p>x &amp; &#121;<br>z</template><i>slot</i></a-b>"
        )
        self.assertEqual(self.hosts(one), [("a-b", "x & yz")])
        inner = "<c-d><template shadowrootmode=open>in</template></c-d>"
        both = f"<a-b><template shadowrootmode=open>out{inner}</template></a-b>"
        self.assertEqual(self.hosts(both), [("a-b", "out"), ("c-d", "in")])

    def test_no_trees(self) -> None:
        for text in (
            "<a-b><template>plain</template></a-b>",
            "<a-b><template shadowrootmode=closed>closed</template></a-b>",
            "<a-b><template shadowrootmode=open>never ends",
            "<template><a-b><template shadowrootmode=open>inert</template></a-b></template>",
            "<template shadowrootmode=open>no host</template>",
            "<!-- <a-b><template shadowrootmode=open>x</template></a-b> -->",
        ):
            with self.subTest(text):
                self.assertEqual(self.hosts(text), [])

    def test_the_first_template_of_a_host_counts(self) -> None:
        text = "<a-b>" + 2 * "<template shadowrootmode=open>x</template>" + "</a-b>"
        self.assertEqual(len(self.hosts(text * 2)), 2)

    def test_a_page_without_ends_is_read_in_no_time(self) -> None:
        source = PageSource.stated("<div>" * 50_000 + "</p>" * 50_000 + "</main>" * 50_000)
        self.assertEqual(source.templates, [])

    def test_a_pipe_or_a_device_that_a_page_names_is_not_waited_for(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            pipe, sound = Path(folder) / "pipe.css", Path(folder) / "sound.css"
            os.mkfifo(pipe)
            sound.write_text("a{color:#999}")
            self.assertEqual(read_whole(sound), b"a{color:#999}")
            for each in (pipe, Path("/dev/zero"), Path(folder), Path(folder) / "nowhere.css"):
                self.assertIsNone(read_whole(each))

    def test_a_page_from_the_web_has_no_files(self) -> None:
        trees = Trees([], SourceFiles(None))
        self.assertTrue(trees.reaches(""))
        self.assertFalse(trees.reaches("body>a-b//shadow//"))

    def test_a_place_is_told_with_its_tree(self) -> None:
        place = PagePlace.of("body>iframe//frame//#a//shadow//p:nth-of-type(2)/text=1")
        self.assertEqual(place.tree, "body>iframe//frame//#a//shadow//")
        self.assertEqual((place.own, place.part), ("p:nth-of-type(2)", "/text=1"))
        self.assertEqual(PagePlace.of("body>p/text=1").tree, "")


if __name__ == "__main__":
    unittest.main()
