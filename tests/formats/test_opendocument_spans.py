"""A piece of OpenDocument text that gets another look keeps all else that it had."""

from __future__ import annotations

import re
import unittest
import zipfile

from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

from high_pair.edits.kinds import RecolourText, Restyle
from high_pair.formats import open_document
from high_pair.formats.odf.edits import apply
from high_pair.formats.odf.text import segments_of
from high_pair.formats.xml import NAMESPACES, Element, child, tag
from high_pair.wcag.asked import Asked
from tests.decks import pairs_of
from tests.mending import mend_file
from tests.odf_decks import OdfTest, frame, style, text
from tests.odf_files import OdfFileTest, p, span

LOOKS = {
    "Bold": 'fo:font-weight="bold"',
    "Large": 'fo:font-size="20pt"',
    "Marked": 'fo:background-color="#223344"',
    "Slanted": 'fo:font-style="italic" style:text-underline-style="solid"',
    "White": 'fo:color="#ffffff"',
    # A style of the common ones, which a style of ours is based on.
    "Strong": "",
}
SPACES = " ".join(
    f'xmlns:{prefix}="{NAMESPACES[prefix]}"'
    for prefix in ("office", "style", "text", "fo", "loext", "xlink")
)


def member(paragraph: str) -> Element:
    styles = "".join(style(name, "text", text(look)) for name, look in LOOKS.items() if look)
    return etree.fromstring(
        f"<office:document-content {SPACES}><office:automatic-styles>{styles}"
        f"</office:automatic-styles><office:body><office:text>{paragraph}</office:text>"
        "</office:body></office:document-content>"
    )


def looks_of(root: Element) -> list[tuple[str, dict[str, str]]]:
    """Give each piece of text with what the spans round it come to, the inner before the outer."""
    named = {each.get(tag("style:name")): each for each in root.iter(tag("style:style"))}
    paragraph = next(root.iter(tag("text:p")))
    found = []
    for segment in segments_of(paragraph, {}):
        look: dict[str, str] = {}
        for each in segment.spans:
            name = each.get(tag("text:style-name"), "")
            own = named.get(name)
            if own is None:
                look["parent"] = name or look.get("parent", "")
                continue
            look["parent"] = own.get(tag("style:parent-style-name")) or look.get("parent", "")
            properties = child(own, "style:text-properties")
            look.update(properties.attrib if properties is not None else {})
        found.append((segment.text, {key: value for key, value in look.items() if value}))
    return found


def content(depth: int) -> st.SearchStrategy[str]:
    piece = st.sampled_from(
        ["word", "two words", "<text:s/>", "<text:tab/>", "<text:page-number>3</text:page-number>",
         '<text:bookmark text:name="b"/>', "<text:line-break/>", "<loext:mark>odd</loext:mark>"]
    )  # fmt: skip
    if not depth:
        return piece
    inner = st.lists(content(depth - 1), min_size=1, max_size=3).map("".join)
    spanned = st.builds(lambda words, name: span(words, name), inner, st.sampled_from([*LOOKS]))
    linked = inner.map(lambda words: f'<text:a xlink:href="#x">{words}</text:a>')
    return st.one_of(piece, spanned, linked)


PARAGRAPHS = st.lists(content(3), min_size=1, max_size=4).map("".join)


class Pieces(unittest.TestCase):
    @settings(max_examples=400, deadline=None)
    @given(PARAGRAPHS, st.data())
    def test_one_piece_changes_and_nothing_else_does(self, words, data) -> None:
        root = member(f"<text:p>{words}</text:p>")
        before = looks_of(root)
        if not before:
            return
        chosen = data.draw(st.integers(1, len(before)))
        apply(RecolourText(f"content.xml#para=1/r={chosen}", (1, 2, 3)), root, root)
        after = looks_of(root)
        expected = [(text, dict(look)) for text, look in before]
        expected[chosen - 1][1].update(
            {tag("fo:color"): "#010203", tag("style:use-window-font-color"): "false"}
        )
        self.assertEqual(after, expected)

    @settings(max_examples=200, deadline=None)
    @given(PARAGRAPHS)
    def test_a_whole_paragraph_keeps_its_pieces_and_their_looks(self, words) -> None:
        root = member(f"<text:p>{words}</text:p>")
        before = looks_of(root)
        if not before:
            return
        apply(Restyle(f"content.xml#para=1/r=1-{len(before)}", bold=True), root, root)
        for (text_before, look), (text_after, now) in zip(before, looks_of(root), strict=True):
            self.assertEqual(text_after, text_before)
            self.assertEqual(now, {**look, tag("fo:font-weight"): "bold"})

    def test_a_span_that_holds_the_piece_alone_is_used_and_none_is_put_into_it(self) -> None:
        root = member(p(span("Word", "Bold")))
        apply(RecolourText("content.xml#para=1/r=1", (0, 0, 0)), root, root)
        (only,) = root.iter(tag("text:span"))
        self.assertEqual((only.text, len(only)), ("Word", 0))

    def test_of_a_span_with_more_in_it_a_part_is_taken_and_no_span_lies_in_another(self) -> None:
        root = member(p(span("One<text:tab/>two<text:s/>three", "Bold")))
        apply(RecolourText("content.xml#para=1/r=3", (0, 0, 0)), root, root)
        spans = list(root.iter(tag("text:span")))
        self.assertEqual([each.getparent().tag for each in spans], [tag("text:p")] * 3)
        self.assertEqual(["".join(each.itertext()) for each in spans], ["One", "two", "three"])

    def test_pieces_recoloured_together_share_one_span(self) -> None:
        root = member(p(span("One<text:tab/>two", "Bold")))
        apply(RecolourText("content.xml#para=1/r=1-3", (0, 0, 0)), root, root)
        (only,) = root.iter(tag("text:span"))
        self.assertEqual([only.text, only[0].tail], ["One", "two"])


class Texts(OdfFileTest):
    def test_white_on_a_highlight_keeps_the_highlight(self) -> None:
        automatic = style(
            "Marked", "text", text('fo:background-color="#d0d0d0" fo:color="#ffffff"')
        )
        path = self.write(p(span("Word", "Marked")), automatic=automatic)
        target = self.folder.path / "copy.odt"
        mend_file(path, target, Asked())
        (pair,) = pairs_of(target)
        self.assertEqual(pair.numbers.background, "#D0D0D0")
        self.assertGreaterEqual(pair.ratio, 4.5)

    def test_text_without_any_size_is_as_large_as_writers_make_it(self) -> None:
        path = self.write(p("Word"))
        bare = self.folder.path / "bare.odt"
        with zipfile.ZipFile(path) as old, zipfile.ZipFile(bare, "w") as new:
            for info in old.infolist():
                new.writestr(info, re.sub(rb' fo:font-size="[^"]*"', b"", old.read(info)))
        self.assertEqual(pairs_of(bare)[0].size, 12.0)


class Decks(OdfTest):
    def test_every_property_of_a_span_stays_where_its_text_is_mended(self) -> None:
        for name, look in LOOKS.items():
            if name in ("White", "Strong", "Marked"):
                continue
            with self.subTest(name):
                pale = style("T", "text", text(f'{look} fo:color="#fafafa"'))
                words = span("Word", "T")
                path = self.write(frame(p(words)), automatic=pale)
                target = self.folder.path / "copy.odp"
                mend_file(path, target, Asked())
                (before,), (after,) = pairs_of(path), pairs_of(target)
                self.assertNotEqual(after.numbers.foreground, before.numbers.foreground)
                self.assertEqual(
                    (after.size, after.weight, after.numbers.background),
                    (before.size, before.weight, before.numbers.background),
                )

    LIST = (
        '<text:list-style style:name="L1"><text:list-level-style-bullet text:level="1" '
        'text:bullet-char="●"><style:text-properties fo:color="#cccccc"/>'
        "</text:list-level-style-bullet></text:list-style>"
    )

    def mended_label(self, path) -> str:
        label, _item = pairs_of(path)
        self.assertEqual((label.text, label.numbers.foreground), ("●", "#CCCCCC"))
        document = open_document(path)
        self.addCleanup(document.close)
        target = self.folder.path / "labels.odp"
        document.edited([RecolourText(label.address, (0x44, 0x44, 0x44))]).save(target)
        return pairs_of(target)[0].numbers.foreground

    def test_a_label_whose_style_is_a_common_one_is_recoloured_here_alone(self) -> None:
        listed = "<text:list{}><text:list-item><text:p>Item</text:p></text:list-item></text:list>"
        path = self.write(frame(listed.format(' text:style-name="L1"')), common=self.LIST)
        self.assertEqual(self.mended_label(path), "#444444")

    def test_and_one_whose_style_comes_with_the_shapes(self) -> None:
        listed = "<text:list{}><text:list-item><text:p>Item</text:p></text:list-item></text:list>"
        held = f"<style:graphic-properties>{self.LIST}</style:graphic-properties>"
        path = self.write(
            frame(listed.format(""), 'presentation:style-name="outline"'),
            common=style("outline", "presentation", held),
        )
        self.assertEqual(self.mended_label(path), "#444444")


if __name__ == "__main__":
    unittest.main()
