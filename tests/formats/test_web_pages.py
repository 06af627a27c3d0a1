"""Links, states, controls, addresses and origins on web pages, shown by the real engine."""

from __future__ import annotations

import unittest

from PIL import ImageFont

from high_pair.formats.web.settings import WebSettings, parse_widths
from high_pair.measure.pairs import Pair
from high_pair.raster.fonts import FOLDER
from high_pair.review.measuring import PageBench
from high_pair.review.mending import remedies_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, pairs_of, ratio, text_pairs, whole

STATES = WebSettings()
LINKS = "<p>See the <a href=x>times</a> of all sailings on weekdays and at night.</p>"


def links(pairs: list[Pair]) -> list[Pair]:
    return [pair for pair in pairs if pair.subject is Subject.LINK]


class Links(PageFolder):
    """A link that only colour tells from the text around it has a second entry."""

    def entries(self, style: str, body: str = LINKS) -> list[Pair]:
        return links(self.pairs(whole(body, style)))

    def test_its_colour_is_measured_against_the_text_around_it(self) -> None:
        (entry,) = self.entries("a{color:#0a7;text-decoration:none}")
        self.assertEqual((entry.criterion, entry.required), ("1.4.1", 3.0))
        self.assertAlmostEqual(entry.ratio or 0, ratio("#00AA77", "#000000"), delta=0.01)
        self.assertEqual(entry.verdict, Verdict.PASSES)

    def test_one_too_like_the_text_falls_short(self) -> None:
        (entry,) = self.entries("a{color:#235;text-decoration:none}")
        self.assertEqual(entry.verdict, Verdict.FALLS_SHORT)

    def test_an_underline_tells_it(self) -> None:
        self.assertEqual(self.entries("a{color:#235}"), [])

    def test_so_do_a_border_a_fill_an_icon_and_weight(self) -> None:
        plain = "a{color:#235;text-decoration:none;"
        for more in (
            "border-bottom:1px solid}",
            "background:#ffd}",
            "font-weight:700}",
            "font-style:italic}",
            "}a::after{content:'\\2197'}",
        ):
            with self.subTest(more):
                self.assertEqual(self.entries(plain + more), [])

    def test_a_menu_of_links_has_no_text_around_them(self) -> None:
        menu = "<nav><a href=a>One</a> <a href=b>Two</a></nav>"
        self.assertEqual(self.entries("a{color:#235;text-decoration:none}", menu), [])

    def test_each_paragraph_counts_for_itself(self) -> None:
        body = LINKS + "<p class=blue>Read <a href=y>more</a> about it in the harbour office.</p>"
        style = "a{color:#46c;text-decoration:none}.blue{color:#36b}"
        found = {entry.text: entry.verdict for entry in self.entries(style, body)}
        self.assertEqual(
            found["times"],
            Verdict.PASSES if ratio("#4466CC", "#000000") >= 3 else Verdict.FALLS_SHORT,
        )
        self.assertEqual(found["more"], Verdict.FALLS_SHORT)

    def test_an_underline_is_offered_where_no_colour_serves(self) -> None:
        file = self.page(whole(LINKS, "body{color:#333}a{color:#235;text-decoration:none}"))
        bench = PageBench()
        (entry,) = links(list(bench.get(file, 0, Asked()).pairs))
        found = remedies_for([entry], file, bench, Asked(), file.edited).remedies
        self.assertIn("Underline the link", [remedy.label for remedy in found])


class States(PageFolder):
    """Links and controls are measured as they look in each state, by the engine's forced states."""

    def test_a_colour_on_hover_is_a_pair_that_appears(self) -> None:
        pairs = self.pairs(whole(LINKS, "a{color:#036}a:hover{color:#9cf}"), STATES)
        rest, hover = text_pairs(pairs, "times")
        self.assertEqual((rest.verdict, hover.verdict), (Verdict.PASSES, Verdict.FALLS_SHORT))
        self.assertAlmostEqual(hover.ratio or 0, ratio("#99CCFF", "#FFFFFF"), delta=0.01)
        self.assertIn("appears on hover", hover.where)
        self.assertIn(":hover", hover.address)

    def test_a_fill_on_hover_counts_too(self) -> None:
        style = (
            "button{color:#fff;background:#036;border:0;padding:9px}button:hover{background:#9cf}"
        )
        pairs = self.pairs(whole("<button>Press here</button>", style), STATES)
        _, hover = text_pairs(pairs, "Press here")
        assert hover.numbers is not None
        self.assertEqual(hover.numbers.background, "#99CCFF")

    def test_what_the_row_does_when_pointed_at_counts(self) -> None:
        style = "a{color:#036}p:hover{background:#036}"
        pairs = self.pairs(whole(LINKS, style), STATES)
        found = text_pairs(pairs, "times")
        self.assertEqual(len(found), 2, [pair.where for pair in found])
        self.assertEqual(found[1].verdict, Verdict.FALLS_SHORT)

    def test_pressed_and_visited_looks_are_measured(self) -> None:
        style = (
            "a{color:#036;font-size:40px;font-weight:700}a:active{color:#ccc}a:visited{color:#ddd}"
        )
        pairs = self.pairs(whole(LINKS, style), STATES)
        found = {pair.appears: pair for pair in text_pairs(pairs, "times")}
        self.assertIn("when pressed", found)
        pressed = found["when pressed"]
        self.assertAlmostEqual(pressed.ratio or 0, ratio("#CCCCCC", "#FFFFFF"), delta=0.01)
        self.assertIn("when visited", found)
        visited = found["when visited"]
        self.assertAlmostEqual(visited.ratio or 0, ratio("#DDDDDD", "#FFFFFF"), delta=0.03)

    def test_looks_that_no_state_changes_are_counted_once(self) -> None:
        pairs = self.pairs(whole(LINKS, "a{color:#036}a:hover{cursor:help}"), STATES)
        self.assertEqual(len(text_pairs(pairs, "times")), 1)

    def test_at_the_page_s_edges_nothing_else_gets_behind_the_words(self) -> None:
        # Parts of the page in a state lie side by side: these would lie against each other.
        style = (
            "body{margin:0;background:#fffbe0}a{color:#036;position:absolute;font-size:40px}"
            "a:hover{color:#679}.right{right:0}.under{left:0;top:200px}"
        )
        body = "<a href=#a>Left</a><a href=#b class=right>Right</a><a href=#c class=under>Under</a>"
        pairs = self.pairs(whole(body, style), STATES)
        hover = [pair for pair in pairs if pair.appears == "on hover"]
        self.assertEqual(len(hover), 3)
        for pair in hover:
            assert pair.numbers is not None
            self.assertEqual((pair.numbers.background, pair.numbers.varied), ("#FFFBE0", False))
            self.assertAlmostEqual(pair.ratio or 0, ratio("#667799", "#FFFBE0"), delta=0.01)

    def test_links_beyond_those_that_are_looked_at_in_states_are_counted(self) -> None:
        links = "".join(f"<a href=#{number}>{number}</a> " for number in range(1010))
        file = self.page(whole(f"<p>{links}</p>", "a{color:#036}a:hover{color:#9cf}"), STATES)
        self.assertIn("10 of its links and controls", " ".join(file.assumed()))
        hover = [pair for pair in pairs_of(file) if pair.appears == "on hover"]
        self.assertEqual(len(hover), 1000)
        self.assertTrue(all(pair.verdict is Verdict.FALLS_SHORT for pair in hover))

    def test_a_pale_ring_on_focus_falls_short(self) -> None:
        style = "button{color:#000;background:#fff;border:0}button:focus{outline:3px solid #ddd}"
        pairs = self.pairs(whole("<button>Press</button>", style), STATES)
        (ring,) = [pair for pair in pairs if pair.subject is Subject.GRAPHIC]
        self.assertEqual((ring.criterion, ring.required), ("1.4.11", 3.0))
        self.assertEqual(ring.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(ring.ratio or 0, ratio("#DDDDDD", "#FFFFFF"), delta=0.02)

    def test_a_strong_ring_passes_and_the_browsers_own_is_exempt(self) -> None:
        style = "button:focus{outline:3px solid #000}"
        pairs = self.pairs(whole("<button>Press</button><a href=x>Own</a>", style), STATES)
        rings = {pair.text: pair.verdict for pair in pairs if pair.subject is Subject.GRAPHIC}
        self.assertEqual(rings, {"Press": Verdict.PASSES, "Own": Verdict.EXEMPT})

    def test_a_control_without_any_sign_of_focus_needs_eyes(self) -> None:
        pairs = self.pairs(whole("<a href=x>Link</a>", "a:focus{outline:none}"), STATES)
        (ring,) = [pair for pair in pairs if pair.subject is Subject.GRAPHIC]
        self.assertEqual(ring.verdict, Verdict.NEEDS_EYES)
        self.assertIn("focus", ring.reason)


class Controls(PageFolder):
    """A field's border, or its fill, tells where it is."""

    def border(self, style: str, body: str = "<input>") -> Pair:
        (pair,) = [p for p in self.pairs(whole(body, style)) if p.subject is Subject.GRAPHIC]
        return pair

    def test_a_pale_border_falls_short(self) -> None:
        pair = self.border("input{border:1px solid #ddd;background:#fff}")
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(pair.ratio or 0, ratio("#DDDDDD", "#FFFFFF"), delta=0.01)

    def test_a_strong_border_passes(self) -> None:
        self.assertEqual(
            self.border("input{border:1px solid #555;background:#fff}").verdict, Verdict.PASSES
        )

    def test_so_does_a_strong_fill_without_a_border(self) -> None:
        self.assertEqual(self.border("input{border:0;background:#456}").verdict, Verdict.PASSES)

    def test_the_browsers_own_look_and_inactive_ones_are_exempt(self) -> None:
        self.assertEqual(self.border("").verdict, Verdict.EXEMPT)
        inactive = self.border("input{border:1px solid #eee}", "<input disabled>")
        self.assertEqual(inactive.verdict, Verdict.EXEMPT)

    def test_a_border_on_a_busy_picture_has_the_ratio_that_most_of_it_reaches(self) -> None:
        # Black stripes as wide as white ones: half of a white border can't be told from them.
        style = (
            "body{background:repeating-linear-gradient(90deg,#000 0 20px,#fff 20px 40px)}"
            "input{border:2px solid #fff;background:#fff;width:300px}"
        )
        pair = self.border(style)
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)
        assert pair.numbers is not None
        self.assertTrue(pair.numbers.varied)
        self.assertAlmostEqual(pair.numbers.ratio, 1.0, delta=0.01)

    def test_a_border_of_several_colours_without_a_fill_needs_eyes(self) -> None:
        style = "input{border:6px solid;border-color:#000 #fff #888 #c00;background:transparent}"
        self.assertEqual(self.border(style).verdict, Verdict.NEEDS_EYES)

    def test_another_colour_for_the_border_is_offered_and_passes(self) -> None:
        file = self.page(whole("<input>", "input{border:2px solid #ddd;background:#fff}"))
        bench = PageBench()
        (pair,) = [p for p in bench.get(file, 0, Asked()).pairs if p.subject is Subject.GRAPHIC]
        found = remedies_for([pair], file, bench, Asked(), file.edited).remedies
        self.assertTrue(found)
        self.assertTrue(all(remedy.ratio >= 3 for remedy in found))


class XHeights(PageFolder):
    def test_a_text_has_the_x_height_of_the_font_that_it_is_painted_with(self) -> None:
        name = "AtkinsonHyperlegible_700Bold.ttf"
        font = FOLDER / "atkinson-hyperlegible" / name
        html = whole(
            "<p>Mind the gap", "@font-face{font-family:own;src:url(own.ttf)}p{font-family:own}"
        )
        (pair,) = text_pairs(
            self.pairs(html, beside={"own.ttf": font.read_bytes()}), "Mind the gap"
        )
        _, top, _, bottom = ImageFont.truetype(str(font), 1000).getbbox("x")
        self.assertAlmostEqual(pair.x_height, (bottom - top) / 1000, delta=0.01)


class AddressesAndOrigins(PageFolder):
    """A pair says where it is, and what decides its colour."""

    def test_an_address_is_a_selector_and_a_text_node(self) -> None:
        body = "<main><p>One</p><p>Two <b>bold</b> words</p></main>"
        pairs = {pair.text: pair.address for pair in self.pairs(whole(body))}
        self.assertEqual(pairs["One"], "page#body>main>p:nth-of-type(1)/text=1")
        self.assertEqual(pairs["bold"], "page#body>main>p:nth-of-type(2)>b/text=1")
        self.assertEqual(pairs["words"], "page#body>main>p:nth-of-type(2)/text=2")

    def test_an_identity_begins_the_address_anew(self) -> None:
        pairs = self.pairs(whole("<main><div id=fares><p>Words</p></div></main>"))
        self.assertEqual(pairs[0].address, "page##fares>p/text=1")

    def test_neighbours_of_one_look_are_one_entry(self) -> None:
        (pair,) = self.pairs(whole("<p>Foot <span>passengers</span> pay</p>"))
        self.assertEqual(pair.text, "Foot passengers pay")

    def test_the_place_is_said_in_words(self) -> None:
        body = (
            "<main><table><tr><td>A</td></tr></table><table><tr><th>Sails</th></tr></table>"
            "<ul><li>Item</li></ul></main><footer><p>Foot</p></footer>"
        )
        pairs = {pair.text: pair.where for pair in self.pairs(whole(body))}
        self.assertEqual(pairs["Sails"], "main › second table › header cell")
        self.assertEqual(pairs["Item"], "main › list › item")
        self.assertEqual(pairs["Foot"], "footer › paragraph")

    def origin(self, html: str, **more: object) -> str:
        return text_pairs(self.pairs(html, **more), "Words")[0].origin

    def test_the_rule_is_named_with_its_file_and_line(self) -> None:
        html = "<!doctype html><style>\n\np,\nli { color: #999 }</style><p>Words"
        self.assertEqual(self.origin(html), "rule p, li (page.html:4)")

    def test_a_rule_in_another_file_is_found_there(self) -> None:
        html = "<!doctype html><link rel=stylesheet href=look.css><p class=pale>Words"
        css = "/* first */\n@media screen {\n  .pale {\n    color: #999;\n  }\n}\n"
        self.assertEqual(self.origin(html, beside={"look.css": css}), "rule .pale (look.css:4)")

    def test_the_weightier_rule_is_the_one_that_decides(self) -> None:
        style = "p{color:#111}#a{color:#999}p.b{color:#222}@layer x{p{color:#333!important}}"
        self.assertIn("rule p (", self.origin(whole("<p id=a class=b>Words</p>", style)))

    def test_an_inherited_colour_names_the_rule_it_comes_from(self) -> None:
        self.assertIn(
            "rule main", self.origin(whole("<main><p>Words</p></main>", "main{color:#999}"))
        )

    def test_a_custom_property_is_named_with_its_rule(self) -> None:
        html = whole("<p>Words</p>", ":root{--pale:#999}p{color:var(--pale)}")
        self.assertIn("→ custom property --pale", self.origin(html))

    def test_inline_styles_and_the_browsers_own_are_told(self) -> None:
        self.assertEqual(self.origin(whole('<p style="color:#999">Words</p>')), "inline style")
        self.assertEqual(self.origin("<!doctype html><p>Words"), "the browser's own colour")

    def test_pages_written_as_xml_are_read_likewise(self) -> None:
        page = (
            '<?xml version="1.0"?><!DOCTYPE html><html xmlns="http://www.w3.org/1999/xhtml"><head>'
            "<title>X</title><style>p{color:#999}</style></head><body><main><p>Words</p>"
            '<img alt="Fares" src="a.png" width="100" height="40"/></main></body></html>'
        )
        found = {pair.text: pair for pair in self.pairs(page, name="page.xhtml")}
        self.assertEqual(found["Words"].where, "main › paragraph")
        self.assertEqual(found["Words"].verdict, Verdict.FALLS_SHORT)
        self.assertEqual(found["Fares"].verdict, Verdict.NEEDS_EYES)

    def test_asking_for_origins_leaves_the_page_as_it_was(self) -> None:
        file = self.page(whole("<p>Words</p>", ":root{--a:#123}p{color:var(--a)!important}"))
        first = pairs_of(file)[0].numbers
        again = pairs_of(file.edited([]))[0].numbers
        self.assertEqual(first, again)


class Scrolling(PageFolder):
    """What lies outside the view in a scroller or a frame is scrolled to, word by word."""

    def test_a_text_longer_than_its_scroller_is_measured_whole(self) -> None:
        words = " ".join(f"word{number}" for number in range(120))
        style = "div{height:70px;width:300px;overflow:auto;background:#fff}p{color:#999;margin:0}"
        (pair,) = text_pairs(self.pairs(whole(f"<div><p>{words}</p></div>", style)), words)
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)
        self.assertAlmostEqual(pair.ratio or 0, ratio("#999999", "#FFFFFF"), delta=0.01)

    def test_what_it_comes_to_lie_on_far_down_counts(self) -> None:
        body = "<div><p>Top</p><section></section><p id=a>Words</p></div>"
        style = (
            "div{height:90px;overflow:auto;background:linear-gradient(#fff,#fff)}"
            "section{height:700px}#a{background:#203040;color:#111}"
        )
        found = {pair.text: pair.verdict for pair in self.pairs(whole(body, style))}
        self.assertEqual(found, {"Top": Verdict.PASSES, "Words": Verdict.FALLS_SHORT})

    def test_a_wide_line_is_followed_sideways(self) -> None:
        line = " ".join(f"part{number}" for number in range(60))
        style = "pre{width:400px;overflow-x:auto;color:#999;background:#fff;font:16px monospace}"
        pairs = self.pairs(whole(f"<pre>{line}</pre>", style))
        self.assertEqual([pair.verdict for pair in pairs], [Verdict.FALLS_SHORT])

    def test_a_frame_is_scrolled_too(self) -> None:
        inner = "<body style='color:#999;background:#fff'><div style=height:900px></div><p>Words"
        page = whole(f'<iframe width=300 height=90 srcdoc="{inner}"></iframe>')
        (pair,) = text_pairs(self.pairs(page), "Words")
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)

    def test_words_that_an_ellipsis_cuts_off_are_no_loss(self) -> None:
        style = (
            "div{height:60px;overflow:auto}p{width:120px;overflow:hidden;white-space:nowrap;"
            "text-overflow:ellipsis;color:#999}"
        )
        body = (
            "<div><p>First words that run on and on</p><p>Other words that run on and on</p></div>"
        )
        verdicts = {pair.verdict for pair in self.pairs(whole(body, style))}
        self.assertEqual(verdicts, {Verdict.FALLS_SHORT})

    def test_of_a_text_partly_under_a_bar_every_word_is_measured(self) -> None:
        words = " ".join(f"word{number}" for number in range(200))
        style = (
            "header{position:fixed;top:0;left:0;right:0;height:60px;background:#203040;color:#fff}"
            "p{color:#999;margin:0}"
        )
        page = whole(f"<header>Bar</header><p>{words}</p>", style)
        pairs = self.pairs(page)
        (pair,) = text_pairs(pairs, words)
        self.assertAlmostEqual(pair.ratio or 0, ratio("#999999", "#FFFFFF"), delta=0.01)
        # From the first line, under the bar, to the last.
        self.assertLess(pair.bbox[1], 60 * 0.75)
        self.assertGreater(pair.bbox[1] + pair.bbox[3], 150 * 0.75)
        self.assertEqual([each.reason for each in pairs if each.verdict is Verdict.NEEDS_EYES], [])

    def test_ink_is_told_from_backdrops_of_its_odd_colour_in_scrollers_too(self) -> None:
        style = (
            "div{height:60px;overflow:auto}section{height:500px}#a{background:#03fa83;color:#111}"
        )
        page = whole("<div><p>Top</p><section></section><p id=a>Words</p></div>", style)
        (pair,) = text_pairs(self.pairs(page), "Words")
        self.assertAlmostEqual(pair.ratio or 0, ratio("#111111", "#03FA83"), delta=0.05)

    def test_a_scroller_stays_where_its_page_put_it(self) -> None:
        body = (
            "<div><p>Top</p><section></section><p>End</p></div>"
            "<script>document.querySelector('div').scrollTop=9999</script>"
        )
        style = "div{height:90px;overflow:auto}section{height:700px}p{color:#999}"
        file = self.page(whole(body, style))
        told = {pair.text: pair.verdict for pair in pairs_of(file)}
        self.assertEqual(told, {"Top": Verdict.FALLS_SHORT, "End": Verdict.FALLS_SHORT})
        end = next(text for text in file.told(0)["texts"] if text["text"] == "End")
        self.assertFalse(end.get("placed"))

    def test_pictures_in_generated_content_are_no_text(self) -> None:
        style = "p::before{content:url('data:image/svg+xml,<svg xmlns=\"a\"/>')}"
        pairs = self.pairs(whole("<p>Words</p>", style))
        self.assertEqual([pair.text for pair in pairs], ["Words"])


class Widths(PageFolder):
    """Each width is a page."""

    def test_widths_are_pages_and_rules_for_them_hold(self) -> None:
        style = "p{color:#000}@media(max-width:500px){p{color:#999}}"
        file = self.page(whole("<p>Words</p>", style), WebSettings((320, 1280), states=False))
        self.assertEqual([page.name for page in file.pages], ["Page 320 wide", "Page 1280 wide"])
        self.assertEqual([page.width for page in file.pages], [240.0, 960.0])
        self.assertEqual(pairs_of(file, 0)[0].verdict, Verdict.FALLS_SHORT)
        self.assertEqual(pairs_of(file, 1)[0].verdict, Verdict.PASSES)

    def test_widths_are_read_as_people_write_them(self) -> None:
        self.assertEqual(parse_widths("320, 768 1280px;320"), (320, 768, 1280))

    def test_what_is_no_width_is_said(self) -> None:
        for words in ("", "wide", "12", "99999", "320,-4", "1,2,3"):
            with self.subTest(words), self.assertRaises(ValueError):
                parse_widths(words)


if __name__ == "__main__":
    unittest.main()
