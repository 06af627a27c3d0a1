"""Texts that lie over one another on a page: each is judged by its own ink. In the real engine."""

from __future__ import annotations

import html
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from high_pair.edits.kinds import RecolourText
from high_pair.engine.layers import LEAST_WIDTH, SHARE, meeting
from high_pair.formats.web.items import PARTLY
from high_pair.formats.web.settings import WebSettings
from high_pair.measure.pairs import Pair
from high_pair.raster.painted import shown_as_measured
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Exemption, Verdict
from tests.web_pages import PageFolder, pairs_of, ratio, text_pairs, whole

PANEL = "div{position:absolute;left:0;top:0;width:600px;height:200px;padding:22px;background:#222;color:#ccc}"


class TextsOverTexts(PageFolder):
    def only(self, pairs: list[Pair], text: str) -> Pair:
        (pair,) = text_pairs(pairs, text)
        return pair

    def assert_measured(self, pair: Pair, foreground: str, background: str) -> None:
        assert pair.numbers is not None, pair.reason
        self.assertEqual(
            (pair.numbers.foreground, pair.numbers.background), (foreground, background)
        )
        self.assertAlmostEqual(pair.numbers.ratio, ratio(foreground, background), delta=0.01)

    def test_what_a_panel_with_words_covers_is_exempt(self) -> None:
        body = "<p>Below the panel</p><p>Below it too</p><div>Panel words that cover what is below</div>"
        pairs = self.pairs(whole(body, f"p{{margin:0}}{PANEL}"))
        for text in ("Below the panel", "Below it too"):
            pair = self.only(pairs, text)
            self.assertEqual((pair.verdict, pair.reason), (Verdict.EXEMPT, str(Exemption.COVERED)))
        panel = self.only(pairs, "Panel words that cover what is below")
        self.assert_measured(panel, "#CCCCCC", "#222222")

    def test_so_it_is_whichever_comes_first_in_the_page(self) -> None:
        body = "<div style=z-index:2>Panel words that cover</div><p>Below the panel</p>"
        pairs = self.pairs(whole(body, f"p{{margin:0}}{PANEL}"))
        self.assertEqual(self.only(pairs, "Below the panel").verdict, Verdict.EXEMPT)
        self.assert_measured(self.only(pairs, "Panel words that cover"), "#CCCCCC", "#222222")

    def test_a_forms_value_in_a_panel_is_its_own(self) -> None:
        body = "<p>Below the panel</p><div><input value=Typed style='border:0;font:inherit;color:#888;background:#222'></div>"
        pairs = self.pairs(whole(body, f"p{{margin:0}}{PANEL}"))
        self.assertEqual(self.only(pairs, "Below the panel").verdict, Verdict.EXEMPT)
        self.assert_measured(self.only(pairs, "Typed"), "#888888", "#222222")

    def test_what_shows_beside_a_panel_is_measured_where_it_shows(self) -> None:
        body = "<p>Apart goes below</p><div>Panel words that cover</div>"
        pairs = self.pairs(whole(body, f"p{{margin:0}}{PANEL}div{{left:90px}}"))
        self.assert_measured(self.only(pairs, "Apart goes below"), "#000000", "#FFFFFF")

    def test_a_word_that_is_cut_is_measured_on_what_is_left_of_it(self) -> None:
        # The cut goes through the first letter; the dark box lies over the rest.
        style = "i{position:absolute;left:36px;top:0;width:300px;height:100px;background:#000}"
        pairs = self.pairs(whole("<p>MMMM</p><i></i>", f"p{{margin:0}}{style}"))
        self.assert_measured(self.only(pairs, "MMMM"), "#000000", "#FFFFFF")

    def test_a_text_in_a_drawing_that_something_crosses_keeps_its_footprint(self) -> None:
        # The dark edge is two pixels below the letters: beyond the ink, and within the footprint.
        style = (
            "svg{display:block}text{font-size:60px}i{position:absolute;left:0;top:70px;width:600px;"
            "height:60px;background:#000;z-index:-1}body{margin:0}"
        )
        body = "<svg width=600 height=90><text y=68>mmm</text></svg><i></i>"
        (pair,) = text_pairs(self.pairs(whole(body, style)), "mmm")
        assert pair.numbers is not None, pair.reason
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)

    def test_below_something_see_through_both_are_measured_as_seen(self) -> None:
        body = "<p>Dimmed</p><div>Panel words that lie over it</div>"
        style = f"p{{margin:0}}{PANEL}div{{background:rgb(0 0 0/.4);color:#fff;padding-left:140px}}"
        pairs = self.pairs(whole(body, style))
        self.assert_measured(self.only(pairs, "Dimmed"), "#000000", "#999999")
        self.assert_measured(self.only(pairs, "Panel words that lie over it"), "#FFFFFF", "#999999")

    def test_lines_that_nearly_touch_are_each_measured(self) -> None:
        body = "<p>Query gypsy</p><p class=b>Bdhkl Bdhkl</p>"
        pairs = self.pairs(whole(body, "p{margin:0;line-height:.8;color:#999}.b{color:#000}"))
        self.assert_measured(self.only(pairs, "Query gypsy"), "#999999", "#FFFFFF")
        self.assert_measured(self.only(pairs, "Bdhkl Bdhkl"), "#000000", "#FFFFFF")

    def test_what_a_panel_covers_has_no_states(self) -> None:
        body = "<p>See <a href=#a>Lower</a></p><div>Or rather <a href=#b>Upper</a></div>"
        style = f"p{{margin:0}}{PANEL}a{{color:#36c}}div a{{color:#fff}}a:hover{{color:#444}}"
        pairs = pairs_of(self.page(whole(body, style), WebSettings()))
        self.assertFalse([pair for pair in text_pairs(pairs, "Lower") if pair.appears])
        (upper,) = [pair for pair in text_pairs(pairs, "Upper") if pair.appears == "on hover"]
        self.assertEqual(upper.verdict, Verdict.FALLS_SHORT)


class ControlsBelowOthers(PageFolder):
    """A control's border, and its sign of focus, count only where they show."""

    STYLE = "input{border:1px solid #aaa;background:#fff}:focus{outline:2px solid #ccc}"

    def graphics(self, body: str, style: str, states: bool = False) -> list[Pair]:
        file = self.page(whole(body, self.STYLE + style), WebSettings(states=states))
        return [pair for pair in pairs_of(file) if pair.subject is Subject.GRAPHIC]

    def test_a_control_that_a_panel_covers_is_none_that_is_seen(self) -> None:
        body = "<input name=Below><div>Panel</div><p style=margin-top:300px><input name=Free></p>"
        (free,) = self.graphics(body, PANEL)
        self.assertEqual((free.text, free.verdict), ("Free", Verdict.FALLS_SHORT))
        assert free.numbers is not None
        self.assertEqual(free.numbers.foreground, "#AAAAAA")

    def test_nor_is_one_that_is_wholly_see_through(self) -> None:
        body = "<label><input name=Clear style=opacity:0><b>Own look</b></label>"
        self.assertEqual(self.graphics(body, ""), [])

    def test_one_that_is_covered_in_part_needs_eyes(self) -> None:
        style = "i{position:absolute;left:20px;top:10px;width:60px;height:60px;background:#000}"
        (half,) = self.graphics("<input name=Half><i></i>", style)
        self.assertEqual((half.verdict, half.reason), (Verdict.NEEDS_EYES, PARTLY))

    def test_what_scrolling_cant_bring_into_view_is_left_out_and_said(self) -> None:
        # Nobody can scroll to what lies before the beginning.
        body = (
            "<div style=height:60px;overflow:auto><p>One<p><input style=margin-left:-400px></div>"
        )
        file = self.page(whole(body, self.STYLE))
        found = [pair for pair in pairs_of(file) if pair.subject is Subject.GRAPHIC]
        self.assertEqual(found, [])
        self.assertTrue(any("1 of its links and controls lies where" in n for n in file.assumed()))

    def test_what_its_box_cuts_in_part_needs_eyes(self) -> None:
        for overflow in ("hidden", "auto", "clip"):
            with self.subTest(overflow):
                cut = f"<div style='height:20px;overflow:{overflow}'><input name=Cut></div>"
                (half,) = self.graphics(cut, "")
                self.assertEqual((half.verdict, half.reason), (Verdict.NEEDS_EYES, PARTLY))

    def test_one_below_something_clear_is_measured(self) -> None:
        style = "i{position:absolute;left:0;top:0;width:600px;height:60px}"
        (found,) = self.graphics("<input name=Seen><i></i>", style)
        self.assertEqual(found.verdict, Verdict.FALLS_SHORT)

    def test_no_sign_of_focus_is_asked_of_what_cant_be_seen(self) -> None:
        body = (
            "<a href=#a>Below</a><div>Panel</div><p style=margin-top:300px><a href=#b>Free</a></p>"
        )
        rings = [pair for pair in self.graphics(body, PANEL, states=True) if pair.appears]
        self.assertEqual([ring.text for ring in rings], ["Free"])


class ShownInAStateAlone(PageFolder):
    """What only a state brings into view is measured as it looks when its own control is in it."""

    def in_state(self, body: str, style: str, words: str, state: str) -> Pair:
        pairs = pairs_of(self.page(whole(body, style), WebSettings()))
        (pair,) = [pair for pair in text_pairs(pairs, words) if pair.appears == state]
        assert pair.numbers is not None, pair.reason
        return pair

    def assert_measured(self, pair: Pair, foreground: str, background: str) -> None:
        assert pair.numbers is not None
        self.assertEqual(
            (pair.numbers.foreground, pair.numbers.background), (foreground, background)
        )

    # Three links at one place, each hidden in a way of its own.
    SKIP = (
        ".l,.c,.t{position:absolute;top:0;left:0;padding:9px}.l{left:-9999px}"
        ".c:not(:focus){width:1px;height:1px;overflow:hidden;clip:rect(0 0 0 0);padding:0}"
        ".t{transform:translateY(-300%)}.l:focus{left:0;background:#eee;color:#999}"
        ".c:focus{background:#222;color:#777}.t:focus{transform:none;background:#fff;color:#333}"
    )
    LINKS = "<a class=l href=#a>To the words</a><a class=c href=#b>To the menu</a><a class=t href=#c>To the end</a><p>Words</p>"

    def test_links_that_the_focus_brings_to_one_place_are_each_measured_alone(self) -> None:
        pairs = pairs_of(self.page(whole(self.LINKS, self.SKIP), WebSettings()))
        for words, foreground, background in (
            ("To the words", "#999999", "#EEEEEE"),
            ("To the menu", "#777777", "#222222"),
            ("To the end", "#333333", "#FFFFFF"),
        ):
            with self.subTest(words):
                (pair,) = [p for p in text_pairs(pairs, words) if p.appears == "on focus"]
                self.assert_measured(pair, foreground, background)
                (rest,) = [p for p in text_pairs(pairs, words) if not p.appears]
                self.assertEqual(rest.verdict, Verdict.EXEMPT)
        # What they lie over in that state looks as it did.
        self.assertFalse([p for p in text_pairs(pairs, "Words") if p.appears])

    def test_a_note_that_appears_is_measured(self) -> None:
        style = (
            "a{position:relative;color:#036}a b{position:absolute;top:100%;left:0;background:#333;"
            "color:#666;opacity:0}a:hover b{opacity:1}"
        )
        body = "<p>See <a href=#a>this<b>Note</b></a> and more</p>"
        self.assert_measured(self.in_state(body, style, "Note", "on hover"), "#666666", "#333333")

    def test_so_is_one_that_is_generated(self) -> None:
        style = (
            "a{position:relative;color:#036}a::after{content:'Note';position:absolute;top:100%;"
            "left:0;background:#333;color:#666;visibility:hidden}a:focus::after{visibility:visible}"
        )
        body = "<p>See <a href=#a>this</a> and more</p>"
        self.assert_measured(self.in_state(body, style, "Note", "on focus"), "#666666", "#333333")


class InScrollers(PageFolder):
    def test_all_of_a_list_is_measured_where_each_line_has_a_box_that_cuts(self) -> None:
        lines = "".join(f"<li><a href=#{n}>Line {n}</a>" for n in range(40))
        style = (
            "ul{height:150px;overflow-y:auto;margin:0;padding:0}li{display:block;height:28px;"
            "overflow:hidden}a{color:#999}"
        )
        pairs = self.pairs(whole(f"<ul>{lines}</ul>", style))
        for number in range(40):
            (pair,) = text_pairs(pairs, f"Line {number}")
            self.assertEqual(pair.verdict, Verdict.FALLS_SHORT, f"{number}: {pair.reason}")

    STYLE = (
        "body{margin:0}div{height:120px;overflow:auto;background:#fff}p{margin:0 0 90px}"
        "input{border:2px solid #aaa;background:#fff}a{color:#036}a:hover{color:#999}"
        "button{border:0;background:#fff;padding:4px}button svg{fill:#bbb;display:block}"
        "button:hover svg{fill:#ddd}:focus{outline:4px solid #ccc}"
    )
    BODY = (
        "<div><p>Tides<p>Berths<p>Fares <a href=#a>Timetable</a><p><input name=Ship>"
        "<p><button aria-label=Search><svg width=20 height=20><rect width=20 height=20 /></svg></button>"
        "<p>End</div><p>After it"
    )

    def assert_numbers(self, pair: Pair, foreground: str, background: str) -> None:
        assert pair.numbers is not None, pair.reason
        self.assertEqual(
            (pair.numbers.foreground, pair.numbers.background), (foreground, background)
        )
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)

    def test_borders_icons_and_states_are_looked_at_where_it_is_scrolled_to_them(self) -> None:
        file = self.page(whole(self.BODY, self.STYLE), WebSettings())
        pairs = pairs_of(file)
        self.assertFalse([note for note in file.assumed() if "no scrolling brought" in note])
        (hover,) = [p for p in text_pairs(pairs, "Timetable") if p.appears]
        self.assertEqual(hover.appears, "on hover")
        self.assert_numbers(hover, "#999999", "#FFFFFF")
        graphics = [pair for pair in pairs if pair.subject is Subject.GRAPHIC]
        border = [pair for pair in graphics if pair.where.endswith("border")]
        self.assertEqual([pair.text for pair in border], ["Ship"])
        self.assert_numbers(border[0], "#AAAAAA", "#FFFFFF")
        icons = {pair.appears: pair for pair in graphics if "› icon" in pair.where}
        self.assertEqual(set(icons), {"", "on hover"})
        self.assert_numbers(icons[""], "#BBBBBB", "#FFFFFF")
        self.assert_numbers(icons["on hover"], "#DDDDDD", "#FFFFFF")
        rings = [pair for pair in graphics if pair.appears == "on focus"]
        self.assertEqual({pair.text for pair in rings}, {"Timetable", "input", "Search"})
        for ring in rings:
            self.assert_numbers(ring, "#CCCCCC", "#FFFFFF")

    def test_a_link_whose_words_show_before_the_whole_of_it_has_no_state_for_that(self) -> None:
        # At one stop of the scrolling its words are seen first, and at the next the whole of it.
        links = "".join(f"<a href=#{n}>Quay {n}</a>" for n in range(9))
        style = (
            "div{height:120px;overflow:auto}a{display:block;padding:26px 0;color:#036}"
            "b:hover{color:#999}"
        )
        pairs = pairs_of(self.page(whole(f"<div>{links}</div><b>Tides</b>", style), WebSettings()))
        for number in range(9):
            (rest,) = text_pairs(pairs, f"Quay {number}")
            self.assertEqual(rest.appears, "")

    def test_what_was_scrolled_to_is_shown_as_it_is_there(self) -> None:
        file = self.page(whole(self.BODY, self.STYLE), WebSettings())
        (border,) = [pair for pair in pairs_of(file) if pair.where.endswith("border")]
        scene = file.scene(0)
        # Its upper border, in pixels, of which there are four in three points.
        x, y = (round(side * 4 / 3) for side in border.bbox[:2])
        for shown, colour in (
            (scene, False),
            (shown_as_measured(scene, border.address), True),
        ):
            assert shown.painting is not None
            found = bytes(shown.painting.seen[y + 1, x + 20]).hex() == "aaaaaa"
            self.assertIs(found, colour)

    def test_a_page_that_is_measured_again_is_as_it_was(self) -> None:
        scroll = "<script>document.querySelector('div').scrollTop = 150</script>"
        file = self.page(whole(self.BODY + scroll, self.STYLE), WebSettings())
        again = file.edited([RecolourText("page#body>p:nth-of-type(1)", (0, 0, 0))])
        places = [
            {
                (pair.where, pair.text, pair.appears): (pair.bbox, pair.verdict)
                for pair in pairs_of(each)
            }
            for each in (file, again)
        ]
        self.assertEqual(*places)

    def test_a_scroller_within_another_is_brought_into_view_first(self) -> None:
        inner = "<div><p>Decks<p>Cabins<p>Lounge<p><a href=#b>Saloon</a><p><input></div>"
        body = f"<div><p>Tides<p>Berths<p>Fares{inner}</div>"
        pairs = pairs_of(self.page(whole(body, self.STYLE), WebSettings()))
        for pair in text_pairs(pairs, "Saloon"):
            if pair.appears:
                self.assert_numbers(pair, "#999999", "#FFFFFF")
            else:
                self.assertIs(pair.verdict, Verdict.PASSES)
        (border,) = [pair for pair in pairs if "› border" in pair.where]
        self.assert_numbers(border, "#AAAAAA", "#FFFFFF")
        self.assertEqual(len(text_pairs(pairs, "Saloon")), 2)

    def test_what_cannot_be_seen_to_differ_is_no_state_of_its_own(self) -> None:
        body = self.BODY.replace("href=#a", "href=#a style=color:#036")
        pairs = pairs_of(self.page(whole(body, self.STYLE), WebSettings()))
        self.assertFalse([p for p in text_pairs(pairs, "Timetable") if p.appears])


class InOtherTrees(PageFolder):
    """Links and controls of frames and shadow trees are looked at as those of the page."""

    STYLE = (
        "<style>body{margin:0}p{margin:0}a{color:#036}a:hover{color:#999}"
        "input{border:2px solid #aaa;background:#fff}:focus{outline:4px solid #ccc}"
        "button{border:0;background:#fff;padding:4px}button svg{fill:#bbb;display:block}</style>"
    )
    BODY = (
        "<p><a href=#a>Timetable</a></p><input name=Ship><button aria-label=Search>"
        "<svg width=20 height=20><rect width=20 height=20 /></svg></button>"
    )

    def assert_all_measured(self, page: str) -> None:
        pairs = pairs_of(self.page(page, WebSettings()))
        (hover,) = [p for p in text_pairs(pairs, "Timetable") if p.appears == "on hover"]
        assert hover.numbers is not None, hover.reason
        self.assertEqual(hover.numbers.foreground, "#999999")
        graphics = [pair for pair in pairs if pair.subject is Subject.GRAPHIC]
        found = {
            pair.where.rpartition(" › ")[2].partition(",")[0]: pair
            for pair in graphics
            if pair.text in ("Ship", "Search", "Timetable")
        }
        colours = {"border": "#AAAAAA", "icon": "#BBBBBB", "sign of focus": "#CCCCCC"}
        self.assertEqual(set(found), set(colours))
        for kind, colour in colours.items():
            pair = found[kind]
            assert pair.numbers is not None, pair.reason
            self.assertEqual(
                (pair.numbers.foreground, pair.numbers.background), (colour, "#FFFFFF")
            )

    def test_of_a_frame(self) -> None:
        inner = html.escape(self.STYLE + self.BODY)
        frame = f"<iframe width=400 height=140 srcdoc='{inner}'></iframe>"
        self.assert_all_measured(whole(f"<div style=height:90px></div>{frame}"))

    def test_of_a_frame_that_is_scrolled_to_them(self) -> None:
        inner = html.escape(f"{self.STYLE}<div style=height:400px></div>{self.BODY}")
        self.assert_all_measured(whole(f"<iframe width=400 height=140 srcdoc='{inner}'></iframe>"))

    def test_of_a_frame_in_a_scroller_that_has_to_be_scrolled_too(self) -> None:
        inner = html.escape(f"{self.STYLE}<div style=height:400px></div>{self.BODY}")
        frame = f"<iframe width=400 height=140 srcdoc='{inner}'></iframe>"
        outer = (
            f"<div style='height:160px;overflow:auto'><p style=height:500px>Tides</p>{frame}</div>"
        )
        self.assert_all_measured(whole(outer))

    def test_of_a_shadow_tree(self) -> None:
        inner = f"<template shadowrootmode=open>{self.STYLE}{self.BODY}</template>"
        self.assert_all_measured(whole(f"<ferry-card>{inner}</ferry-card>"))

    def test_of_a_scroller_in_a_shadow_tree(self) -> None:
        scroller = f"<div style='height:120px;overflow:auto'><p style=height:500px>Tides</p>{self.BODY}</div>"
        inner = f"<template shadowrootmode=open>{self.STYLE}{scroller}</template>"
        self.assert_all_measured(whole(f"<ferry-card>{inner}</ferry-card>"))

    def test_of_what_a_shadow_tree_scrolls_for_the_page(self) -> None:
        # The page's own links and controls, painted where the tree has its slot.
        inner = "<template shadowrootmode=open><div style='height:120px;overflow:auto'><slot></slot></div></template>"
        light = f"<p style=height:500px>Tides</p>{self.BODY}"
        self.assert_all_measured(whole(f"{self.STYLE}<ferry-card>{inner}{light}</ferry-card>"))

    def test_what_lies_over_a_frame_covers_what_is_in_it(self) -> None:
        inner = html.escape(self.STYLE + "<input name=Ship>")
        frame = f"<iframe width=400 height=140 srcdoc='{inner}'></iframe>"
        panel = "<i style='position:absolute;inset:0 0 0 0;height:400px;background:#222'></i>"
        pairs = pairs_of(self.page(whole(frame + panel), WebSettings()))
        self.assertFalse([pair for pair in pairs if pair.subject is Subject.GRAPHIC])


class DownLongPages(PageFolder):
    """A page longer than a view, or than its painting, is looked at a view at a time."""

    STYLE = (
        "body{margin:0;font:16px/1.5 sans-serif}p{margin:0}section{height:9900px}a{color:#036}"
        "a:hover{color:#999}input{border:2px solid #aaa;background:#fff;display:block}"
        "button{border:0;background:#fff;padding:4px}button svg{fill:#bbb;display:block}"
    )
    ICON = "<button aria-label=Search{0}><svg width=20 height=20><rect width=20 height=20 /></svg></button>"

    def test_borders_icons_and_states_are_measured_all_the_way_down(self) -> None:
        # At 0, 9,930, 19,860 and 29,790 pixels; a view reaches to 16,000, the painting to 20,300.
        places = range(4)
        body = "".join(
            f"<p><a href=#a>Quay {n}</a></p><input name=Ship{n}>{self.ICON.format(n)}<section></section>"
            for n in places
        )
        file = self.page(whole(body, self.STYLE), WebSettings())
        pairs = pairs_of(file)
        for n in places:
            with self.subTest(n):
                (rest,) = [p for p in text_pairs(pairs, f"Quay {n}") if not p.appears]
                self.assertEqual(rest.verdict, Verdict.PASSES)
                (hover,) = [p for p in text_pairs(pairs, f"Quay {n}") if p.appears == "on hover"]
                assert hover.numbers is not None, hover.reason
                self.assertEqual(hover.numbers.foreground, "#999999")
                (border,) = [p for p in pairs if p.text == f"Ship{n}" and not p.appears]
                assert border.numbers is not None, border.reason
                self.assertEqual(border.numbers.foreground, "#AAAAAA")
                (icon,) = [p for p in pairs if p.text == f"Search{n}" and not p.appears]
                assert icon.numbers is not None, icon.reason
                self.assertEqual(icon.numbers.foreground, "#BBBBBB")
        self.assertFalse([note for note in file.assumed() if "on hover" in note])


class BelowSomethingSeeThrough(PageFolder):
    """Text below a scrim has the colour that shows, whatever its style states."""

    def test_thin_text_below_a_dark_scrim(self) -> None:
        style = "p{color:#222;font-size:13px}i{position:fixed;inset:0;background:rgb(0 0 0/.6)}"
        (pair,) = text_pairs(self.pairs(whole("<p>Dimmed words</p><i></i>", style)), "Dimmed words")
        assert pair.numbers is not None, pair.reason
        self.assertEqual(pair.numbers.background, "#666666")
        # 0x22 = 34, and two fifths of it are 13.6.
        self.assertIn(pair.numbers.foreground, ("#0D0D0D", "#0E0E0E"))

    def test_thin_text_below_a_pale_veil_doesnt_pass_by_what_its_style_states(self) -> None:
        style = "p{font-size:13px}i{position:absolute;inset:0;height:200px;background:rgb(255 255 255/.7)}"
        (pair,) = text_pairs(self.pairs(whole("<p>Paled words</p><i></i>", style)), "Paled words")
        self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)
        assert pair.numbers is not None
        # Seven tenths of white over black: 178.5.
        self.assertIn(pair.numbers.foreground, ("#B2B2B2", "#B3B3B3"))

    def test_what_lies_over_the_scrim_is_as_its_style_states(self) -> None:
        style = (
            "i{position:fixed;inset:0;background:rgb(0 0 0/.5)}p{color:#444;font-size:13px}"
            "div{position:fixed;left:100px;top:60px;background:#fff}"
        )
        body = "<p>Lower words</p><i></i><div><p>Upper words</p></div>"
        pairs = self.pairs(whole(body, style))
        (upper,) = text_pairs(pairs, "Upper words")
        (lower,) = text_pairs(pairs, "Lower words")
        assert upper.numbers is not None and lower.numbers is not None
        self.assertEqual(upper.numbers.foreground, "#444444")
        self.assertEqual(lower.numbers.foreground, "#222222")


class SignsOfFocus(PageFolder):
    def signs(self, body: str, style: str) -> list[Pair]:
        pairs = pairs_of(self.page(whole(body, style), WebSettings()))
        return [p for p in pairs if p.subject is Subject.GRAPHIC and p.appears == "on focus"]

    def test_a_fill_that_comes_with_the_focus_is_its_sign_whatever_the_letters_become(self) -> None:
        style = "a{color:#3e7a38}a:focus{outline:none;color:#fff;background:#3e7a38}"
        (sign,) = self.signs("<p>See <a href=#a>this long link</a></p>", style)
        assert sign.numbers is not None, sign.reason
        self.assertEqual(sign.verdict, Verdict.PASSES)
        self.assertAlmostEqual(sign.numbers.ratio, ratio("#3E7A38", "#FFFFFF"), delta=0.01)

    def test_that_a_link_appears_is_sign_enough(self) -> None:
        style = (
            "a{position:absolute;left:-999px}a:focus{left:0;background:#fff;color:#000;outline:0}"
        )
        self.assertEqual(self.signs("<a href=#a>Skip</a><p>Words</p>", style), [])


WORD = st.tuples(
    st.integers(1, 6), st.floats(0, 90), st.floats(0, 90), st.floats(2, 40), st.floats(2, 40)
)


class Meeting(unittest.TestCase):
    @settings(deadline=None)
    @given(st.lists(WORD, max_size=25))
    def test_all_that_meet_are_found_and_no_others(self, words: list[tuple[Any, ...]]) -> None:
        texts = [
            {
                "kind": "text", "exempt": "", "clip": None, "element": element, "region": None,
                "words": [["x", x, y, width, height]],
            }
            for element, x, y, width, height in words
        ]  # fmt: skip
        expected: dict[int, set[int]] = {}
        for one, x, y, width, height in words:
            for other, left, top, wide, high in words:
                across = min(x + width, left + wide) - max(x, left)
                down = min(y + height, top + high) - max(y, top)
                far = across >= LEAST_WIDTH + 1e-6 and down >= SHARE * min(height, high) + 1e-6
                if one != other and far:
                    expected.setdefault(one, set()).add(other)
        found = meeting(texts)
        for element, others in expected.items():
            self.assertLessEqual(others, found[element])
        for element, others in found.items():
            for other in others:
                self.assertIn(element, found[other])


if __name__ == "__main__":
    unittest.main()
