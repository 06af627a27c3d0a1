"""Icons of controls that have no words (WCAG 2.2, 1.4.11), in the real engine.

Every expected ratio follows from the two colours by the standard's own words.
"""

from __future__ import annotations

import base64
import io
import unittest

import numpy as np
from PIL import Image

from high_pair.formats.web.settings import WebSettings
from high_pair.measure.pairs import Pair
from high_pair.review.measuring import PageBench
from high_pair.review.mending import edits_for, remedies_for
from high_pair.wcag.asked import Asked
from high_pair.wcag.criteria import Subject
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, pairs_of, ratio, whole

PALE_FILL = 'fill="#dddddd"'
SQUARE = '<path d="M4 4h16v16H4z" {0}/>'
LINES = '<path d="M4 6h16M4 12h16M4 18h16" fill="none" stroke-width="2" {0}/>'


def button(drawing: str, more: str = "aria-label='Menu'", size: int = 24) -> str:
    """Give a button with a drawing in it, whose box reaches two units round the shapes."""
    return f"<button {more}><svg width={size} height={size} viewBox='0 0 24 24'>{drawing}</svg></button>"


def picture(inside: tuple[int, ...], around: tuple[int, ...]) -> str:
    """Give a square on a ground of another colour, 20 pixels wide, as a data address."""
    pixels = np.empty((20, 20, 4), np.uint8)
    pixels[:] = around
    pixels[5:15, 5:15] = inside
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()


PALE = f"<svg width=24 height=24 viewBox='0 0 24 24'>{SQUARE.format(PALE_FILL)}</svg>"
BARE = "button,a{border:0;padding:8px;background:#fff;display:inline-block}"


class Icons(PageFolder):
    def icons(self, body: str, style: str = "") -> list[Pair]:
        return [
            pair
            for pair in self.pairs(whole(body, BARE + style))
            if pair.subject is Subject.GRAPHIC and pair.where.endswith("icon")
        ]

    def check(self, body: str, style: str, verdict: Verdict, colour: str, ground: str) -> Pair:
        (pair,) = self.icons(body, style)
        self.assertIs(pair.verdict, verdict, pair)
        self.assertEqual((pair.numbers.foreground, pair.numbers.background), (colour, ground))
        self.assertAlmostEqual(pair.ratio, ratio(colour, ground), delta=0.01)
        self.assertEqual((pair.criterion, pair.required), ("1.4.11", 3.0))
        return pair

    def test_a_filled_drawing_on_a_button(self):
        body = button(SQUARE.format('fill="#bbbbbb"'))
        pair = self.check(body, "", Verdict.FALLS_SHORT, "#BBBBBB", "#FFFFFF")
        self.assertEqual(pair.text, "Menu")
        body = button(SQUARE.format('fill="#777777"'))
        self.check(body, "button{background:#eee}", Verdict.PASSES, "#777777", "#EEEEEE")

    def test_a_drawing_of_lines_in_the_control_s_own_colour(self):
        body = button(LINES.format('stroke="currentColor"'))
        self.check(body, "button{color:#c0c8d0}", Verdict.FALLS_SHORT, "#C0C8D0", "#FFFFFF")

    def test_thin_slanting_lines_whose_smoothed_edges_are_other_colours(self):
        body = button('<path d="M3 4L21 20M21 4L3 20" fill="none" stroke="#335577"/>')
        (pair,) = self.icons(body)
        self.assertIs(pair.verdict, Verdict.PASSES, pair)

    def test_a_picture_with_a_see_through_ground(self):
        image = picture((0x99, 0xAA, 0xBB, 255), (0, 0, 0, 0))
        self.check(f"<a href=#x><img alt=Search src='{image}'></a>",
                   "a{background:#203040}", Verdict.PASSES, "#99AABB", "#203040")  # fmt: skip

    def test_a_picture_with_a_ground_of_its_own(self):
        image = picture((0xCC, 0xCC, 0xCC, 255), (255, 255, 240, 255))
        self.check(f"<a href=#x><img alt=Search src='{image}'></a>",
                   "a{background:#203040}", Verdict.FALLS_SHORT, "#CCCCCC", "#FFFFF0")  # fmt: skip

    def test_a_picture_in_the_style_sheet(self):
        image = picture((0x66, 0x66, 0x66, 255), (0, 0, 0, 0))
        style = f"i{{display:block;width:20px;height:20px;background:url({image})}}"
        self.check("<button title=Save><i></i></button>", style,
                   Verdict.PASSES, "#666666", "#FFFFFF")  # fmt: skip

    def test_of_several_colours_all_must_pass_or_a_person_looks(self):
        two = SQUARE.format('fill="{0}"') + '<circle cx="12" cy="12" r="4" fill="{1}"/>'
        for colours, verdict in (
            (("#224466", "#aa2222"), Verdict.PASSES),
            (("#ccddee", "#ffdddd"), Verdict.FALLS_SHORT),
            (("#224466", "#ffdddd"), Verdict.NEEDS_EYES),
        ):
            (pair,) = self.icons(button(two.format(*colours)))
            self.assertIs(pair.verdict, verdict, colours)
        self.assertIn("several colours", pair.reason)

    def test_on_a_gradient_it_needs_eyes(self):
        style = "button{background:linear-gradient(90deg,#fff,#88a)}"
        (pair,) = self.icons(button(SQUARE.format('fill="#123"')), style)
        self.assertIs(pair.verdict, Verdict.NEEDS_EYES)
        self.assertIn("several colours", pair.reason)

    def test_beside_words_an_icon_is_not_needed(self):
        self.assertEqual(self.icons(f"<button>{PALE} Search</button>"), [])

    def test_words_for_screen_readers_alone_don_t_count(self):
        style = ".sr{position:absolute;width:1px;height:1px;overflow:hidden;clip:rect(0,0,0,0)}"
        pair = self.check(f"<button>{PALE}<span class=sr>Search</span></button>", style,
                          Verdict.FALLS_SHORT, "#DDDDDD", "#FFFFFF")  # fmt: skip
        self.assertEqual(pair.text, "Search")

    def test_of_a_disabled_control_nothing_is_asked(self):
        body = button(SQUARE.format('fill="#eeeeee"'), "aria-label=Menu disabled")
        (pair,) = self.icons(body)
        self.assertIs(pair.verdict, Verdict.EXEMPT)

    def in_states(self, body: str, style: str) -> list[Pair]:
        found = [
            pair
            for pair in self.pairs(whole(body, BARE + style), WebSettings())
            if " › icon" in pair.where
        ]
        self.assertEqual(found[0].appears, "")
        return found[1:]

    def test_on_hover_an_icon_is_measured_as_it_looks_then(self):
        body = button(SQUARE.format("")) + "<p>Some words.</p>"
        style = "svg{fill:#234}button:hover svg{fill:#bbb}"
        (pair,) = self.in_states(body, style)
        self.assertEqual(pair.appears, "on hover")
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        self.assertEqual((pair.numbers.foreground, pair.numbers.background), ("#BBBBBB", "#FFFFFF"))
        self.assertAlmostEqual(pair.ratio, ratio("#BBBBBB", "#FFFFFF"), delta=0.01)

    def test_another_ground_on_focus_makes_another_pair(self):
        body = button(SQUARE.format('fill="#777"'))
        style = "button:focus{background:#888;outline:0}"
        (pair,) = [each for each in self.in_states(body, style) if each.appears == "on focus"]
        self.assertEqual((pair.numbers.foreground, pair.numbers.background), ("#777777", "#888888"))
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)

    def test_one_that_looks_as_at_rest_makes_none(self):
        body = button(SQUARE.format('fill="#777"')) + "<p><a href=#x>A link</a></p>"
        self.assertEqual(self.in_states(body, "a:hover{color:#c00}"), [])

    def test_one_that_shows_on_hover_alone_is_measured_there(self):
        body = (
            button(SQUARE.format('fill="#246"'))
            + "<p class=row>Row "
            + button(SQUARE.format('fill="#ccc"'), "aria-label=Remove class=quiet")
            + "</p>"
        )
        style = ".quiet svg{visibility:hidden}.quiet:hover svg{visibility:visible}"
        (pair,) = self.in_states(body, style)
        self.assertEqual((pair.text, pair.appears), ("Remove", "on hover"))
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)

    def test_a_large_picture_in_a_link_is_no_icon(self):
        image = picture((0x99, 0x99, 0x99, 255), (255, 255, 255, 255))
        self.assertEqual(self.icons(f"<a href=#x><img width=200 src='{image}'></a>"), [])

    def test_one_that_something_covers_is_not_measured(self):
        style = ".over{position:absolute;left:0;top:0;width:200px;height:200px;background:#fff}"
        body = button(SQUARE.format('fill="#bbb"')) + "<div class=over></div>"
        self.assertEqual(self.icons(body, style), [])


class Mending(PageFolder):
    def mended(self, drawing: str, style: str = "") -> tuple[Pair, str]:
        """Apply the first remedy of the only icon; gives its pair after, and the copy's text."""
        file = self.page(whole(button(drawing), BARE + style))
        (pair,) = (each for each in pairs_of(file) if each.where.endswith("icon"))
        self.assertIs(pair.verdict, Verdict.FALLS_SHORT)
        remedy = remedies_for([pair], file, PageBench(), Asked(), file.edited).remedies[0]
        changed = file.edited(edits_for(remedy, [pair]))
        target = self.folder / "copy.html"
        changed.save(target)
        copy = self.page(target.read_text(), name="again.html")
        (after,) = (each for each in pairs_of(copy) if each.where.endswith("icon"))
        self.assertAlmostEqual(after.ratio, remedy.ratio, delta=0.05)
        return after, target.read_text()

    def test_the_fill_of_a_drawing_is_recoloured(self):
        after, text = self.mended(SQUARE.format('fill="#bbbbbb"'))
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertIn("fill: #", text)

    def test_shapes_without_a_fill_keep_none(self):
        frame = '<path d="M0 0h24v24H0z" fill="none"/>'
        after, _ = self.mended(frame + SQUARE.format('fill="#bbbbbb"'))
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertEqual(after.numbers.background, "#FFFFFF")

    def test_the_lines_of_a_drawing_are_recoloured(self):
        after, text = self.mended(LINES.format('stroke="#cccccc"'))
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertIn("stroke: #", text)

    def test_the_look_on_hover_alone_is_recoloured(self):
        style = "svg{fill:#234}button:hover svg{fill:#bbb}"
        file = self.page(whole(button(SQUARE.format("")), BARE + style), WebSettings())
        rest, hover = (each for each in pairs_of(file) if " › icon" in each.where)
        remedy = remedies_for([hover], file, PageBench(), Asked(), file.edited).remedies[0]
        target = self.folder / "copy.html"
        file.edited(edits_for(remedy, [hover])).save(target)
        copy = self.page(target.read_text(), WebSettings(), name="again.html")
        rest_after, after = (each for each in pairs_of(copy) if " › icon" in each.where)
        self.assertEqual(rest_after.numbers.foreground, rest.numbers.foreground)
        self.assertIs(after.verdict, Verdict.PASSES)
        self.assertAlmostEqual(after.ratio, remedy.ratio, delta=0.05)

    def test_a_drawing_of_several_colours_says_where_to_change_it(self):
        two = SQUARE.format('fill="#ccddee"') + '<circle cx="12" cy="12" r="4" fill="#ffdddd"/>'
        file = self.page(whole(button(two), BARE))
        (pair,) = (each for each in pairs_of(file) if each.where.endswith("icon"))
        self.assertIn("where it is made", pair.fixed)
        self.assertEqual(remedies_for([pair], file, PageBench(), Asked(), file.edited).remedies, ())


if __name__ == "__main__":
    unittest.main()
