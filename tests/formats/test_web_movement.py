"""What moves on a page: brought to its end, held there, or said to move. Shown by the real engine."""

from __future__ import annotations

import base64
import io
import unittest

from PIL import Image

from high_pair.engine.moving import moves
from high_pair.formats.web.items import RESTLESS, scene_of
from high_pair.formats.web.settings import WebSettings
from high_pair.measure.pairs import Pair
from high_pair.scene.painted import PaintedText
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import PageFolder, pairs_of, text_pairs, whole

RUNNING = "@keyframes run{from{color:#000;translate:0}to{color:#999;translate:200px}}"


def film(*colours: str, kind: str = "GIF") -> bytes:
    """Give a picture file that shows colours one after another, a tenth of a second each."""
    frames = [Image.new("RGB", (200, 60), colour) for colour in colours]
    out = io.BytesIO()
    if len(frames) == 1:
        frames[0].save(out, kind)
    else:
        frames[0].save(
            out, kind, save_all=True, append_images=frames[1:], duration=100, loop=0
        )  # fmt: skip
    return out.getvalue()


MOVING = film("#fff", "#000")


class Movement(PageFolder):
    """Animations of every kind are brought to their end, wherever they are."""

    pairs_by_text: dict[str, list[Pair]]

    def verdict_of(self, pairs: list[Pair], text: str) -> tuple[Verdict, str]:
        (pair,) = text_pairs(pairs, text)
        return pair.verdict, pair.numbers.foreground if pair.numbers else pair.reason

    def test_animations_in_frames_and_shadow_trees_are_brought_to_their_end(self) -> None:
        style = f"<style>{RUNNING}p{{animation:run 30s forwards}}</style>"
        body = (
            f'<div id=host></div><iframe width=600 height=80 srcdoc="{style}<p>Framed"></iframe>'
            "<script>host.attachShadow({mode:'open'}).innerHTML="
            f"'{style}<p>Shadowed</p>'</script>"
        )
        pairs = self.pairs(whole(body))
        for text in ("Framed", "Shadowed"):
            with self.subTest(text):
                self.assertEqual(self.verdict_of(pairs, text), (Verdict.FALLS_SHORT, "#999999"))

    def test_a_drawings_own_animations_are_brought_to_their_end(self) -> None:
        def text(words: str, inner: str) -> str:
            return f"<svg width=500 height=40><text y=30 fill=#555>{words}{inner}</text></svg>"

        fade = "<animate attributeName={} from={} to={} dur={} fill=freeze />"
        move = "<animateTransform attributeName=transform type=translate to=300 dur=.3s repeatCount=indefinite />"
        body = (
            text("Later", fade.format("fill", "#000", "#999", "30s"))
            + text("Earlier", fade.format("fill", "#999", "#000", ".1s"))
            + text("Always", move)
        )
        pairs = self.pairs(whole(body))
        self.assertEqual(self.verdict_of(pairs, "Later"), (Verdict.FALLS_SHORT, "#999999"))
        self.assertEqual(self.verdict_of(pairs, "Earlier"), (Verdict.PASSES, "#000000"))
        self.assertEqual(self.verdict_of(pairs, "Always"), (Verdict.PASSES, "#555555"))

    def test_running_text_is_measured_where_it_would_stay(self) -> None:
        body = "<marquee>Right to left</marquee><marquee behavior=alternate>To and fro</marquee>"
        pairs = self.pairs(whole(body, "marquee{color:#999}"))
        for text in ("Right to left", "To and fro"):
            self.assertEqual(self.verdict_of(pairs, text), (Verdict.FALLS_SHORT, "#999999"))

    def test_a_frames_timers_stop(self) -> None:
        script = (
            "let x=0;setInterval(()=>{const s=document.body.firstChild.style;"
            "x=(x+40)%400;s.paddingLeft=x+'px';s.color=x%80?'#999':'#888'},20)"
        )
        body = f'<iframe width=700 height=60 srcdoc="<p>Ticking</p><script>{script}</script>"></iframe>'
        # Where there is a canvas, which needs scripts to be shown, timers are stopped one by one.
        for more in ("", "<canvas width=100 height=40></canvas>"):
            (pair,) = text_pairs(self.pairs(whole(body + more)), "Ticking")
            self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)
            assert pair.numbers is not None
            self.assertIn(pair.numbers.foreground, ("#999999", "#888888"))

    def test_what_goes_with_scrolling_stands_as_on_the_whole_page(self) -> None:
        style = (
            "@keyframes out{to{opacity:0}}p{color:#555;animation:out linear both;"
            "animation-timeline:view();animation-range:exit}"
        )
        pairs = self.pairs(whole("<p>Words</p><div style=height:2000px></div>", style))
        self.assertEqual(self.verdict_of(pairs, "Words"), (Verdict.PASSES, "#555555"))

    def test_what_a_state_sets_in_motion_is_brought_to_its_end(self) -> None:
        style = (
            "@keyframes fade{from{color:#fff}to{color:#777}}a{color:#036}"
            ".once:hover{animation:fade 30s forwards}.ever:hover{animation:fade 1s infinite}"
        )
        body = "<p>See <a class=once href=#a>Once</a> or <a class=ever href=#b>Ever</a> now</p>"
        file = self.page(whole(body, style), WebSettings())
        (once,) = [p for p in text_pairs(pairs_of(file), "Once") if p.appears == "on hover"]
        assert once.numbers is not None
        self.assertEqual(once.numbers.foreground, "#777777")
        # An animation that begins again and again ends in no look of its own.
        self.assertFalse([p for p in text_pairs(pairs_of(file), "Ever") if p.appears])


class LongPages(PageFolder):
    """A page longer than the engine's view is painted in parts, and must stand still meanwhile."""

    def test_what_answers_to_scrolling_moves_nothing(self) -> None:
        # A head that shrinks once the page is scrolled, parts that are laid out when they come
        # into view, and one that a script shows only then.
        style = (
            "header{position:sticky;top:0;height:90px;background:#eee}header.small{height:30px}"
            "section{content-visibility:auto;contain-intrinsic-size:auto 300px}"
            "section div{height:1500px}.late{color:#fff}.late.seen{color:#444}p{color:#999}"
        )
        parts = "".join(f"<section><p>Part {n}</p><div></div></section>" for n in range(14))
        script = (
            "addEventListener('scroll',()=>document.querySelector('header').className="
            "scrollY>50?'small':'');new IntersectionObserver(all=>all.forEach(e=>"
            "e.isIntersecting&&e.target.classList.add('seen'))).observe(document.querySelector('.late'))"
        )
        body = f"<header>Head</header>{parts}<h2 class=late>Late</h2><script>{script}</script>"
        pairs = self.pairs(whole(body, style))
        for number in range(14):
            (pair,) = text_pairs(pairs, f"Part {number}")
            self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)
            assert pair.numbers is not None
            self.assertEqual(
                (pair.numbers.foreground, pair.numbers.background), ("#999999", "#FFFFFF")
            )
        (late,) = text_pairs(pairs, "Late")
        assert late.numbers is not None, late.reason
        self.assertEqual(late.numbers.foreground, "#444444")

    def test_below_the_whole_painting_a_page_wider_than_the_view_is_measured_too(self) -> None:
        # Such a page scrolls across, and its texts count as a scroller's.
        body = (
            "<div style='height:21000px'>Top</div><p style='color:#767676'>Passes</p>"
            "<p style='color:#999'>Short</p><div style='width:1500px'>Wide</div>"
        )
        found = {pair.text: pair for pair in self.pairs(whole(body))}
        self.assertIs(found["Passes"].verdict, Verdict.PASSES, found["Passes"].reason)
        self.assertIs(found["Short"].verdict, Verdict.FALLS_SHORT, found["Short"].reason)
        self.assertIs(found["Wide"].verdict, Verdict.PASSES, found["Wide"].reason)

    def test_a_page_of_the_old_kind_is_no_longer_than_what_is_in_it(self) -> None:
        # Without a document type the body is as high as the view, however high that is made.
        pairs = pairs_of(
            self.page("<style>a:hover{color:#999}</style><p>See <a href=#a>this</a>", WebSettings())
        )
        (hover,) = [pair for pair in text_pairs(pairs, "this") if pair.appears == "on hover"]
        self.assertEqual(hover.verdict, Verdict.FALLS_SHORT)

    def test_what_is_said_to_those_without_scripts_isnt_shown_to_those_with_them(self) -> None:
        body = "<noscript>Scripts are off</noscript><p>Words</p>"
        self.assertEqual([pair.text for pair in self.pairs(whole(body))], ["Words"])

    def test_rules_for_pages_with_and_without_scripts_hold_as_they_did(self) -> None:
        style = (
            "p{color:#555}@media (scripting:none){p{color:#999}}@media (scripting){b{color:#333}}"
        )
        pairs = self.pairs(whole("<p>Words</p><b>Bold</b>", style))
        self.assertEqual(
            [pair.numbers.foreground for pair in pairs if pair.numbers], ["#555555", "#333333"]
        )

    def test_texts_of_a_page_that_doesnt_keep_still_need_eyes(self) -> None:
        file = self.page(whole("<p>Words</p>"))
        taken = file._taken(0)
        taken.told["restless"] = True
        (text,) = [item for item in scene_of(taken).items if isinstance(item, PaintedText)]
        self.assertEqual(text.run.trouble, RESTLESS)


class MovingPictures(PageFolder):
    """What stands over a film or a moving picture needs eyes; a still one is measured."""

    def test_what_stands_over_something_that_moves_needs_eyes(self) -> None:
        address = "data:image/gif;base64," + base64.b64encode(MOVING).decode()
        drawing = (
            '<svg xmlns="http://www.w3.org/2000/svg" width="200" height="60"><rect width="200" height="60">'
            '<animate attributeName="fill" values="#fff;#000" dur=".4s" repeatCount="indefinite"/></rect></svg>'
        )
        style = (
            "div{width:200px;height:60px;position:relative}p{margin:0;position:relative}"
            ".gif,.side::before{background:url(moving.gif)}.png{background:url(moving.png)}"
            f".webp{{background:url(moving.webp)}}.data{{background:url({address})}}"
            ".side::before{content:'';position:absolute;inset:0}.svg{background:url(moving.svg)}"
            "img,video{position:absolute;inset:0;width:200px;height:60px}.still{background:url(still.gif)}"
            ".panel{background:#eee}"
        )
        body = (
            "<div class=gif><p>Gif</div><div class=png><p>Png</div><div class=webp><p>Webp</div>"
            "<div class=data><p>Data</div><div class=side><p>Side</div><div class=svg><p>Svg</div>"
            "<div><img src=moving.gif><p>Image</div><div><video></video><p>Film</div>"
            '<iframe srcdoc="<body style=margin:0;background:url(moving.gif)><p>Framed"></iframe>'
            "<div><img src=moving.gif><p class=panel>Panel</div><div class=still><p>Still</div>"
            "<p>Apart</p><img src=moving.gif style=position:static>"
        )
        beside = {
            "moving.gif": MOVING,
            "moving.png": film("#fff", "#000", kind="PNG"),
            "moving.webp": film("#fff", "#000", kind="WEBP"),
            "moving.svg": drawing,
            "still.gif": film("#fff"),
        }
        pairs = pairs_of(self.page(whole(body, style), beside=beside))
        over = ("Gif", "Png", "Webp", "Data", "Side", "Svg", "Image", "Film", "Framed")
        for text in over:
            with self.subTest(text):
                verdict, reason = self.verdict_of(pairs, text)
                self.assertEqual(verdict, Verdict.NEEDS_EYES)
                self.assertIn("moving picture", reason)
        for text in ("Panel", "Still", "Apart"):
            with self.subTest(text):
                self.assertEqual(self.verdict_of(pairs, text), (Verdict.PASSES, "#000000"))
        # Nothing that moves is taken for letters: all else that is told of is the film itself.
        self.assertEqual(len(pairs), len(over) + 3 + 1)

    verdict_of = Movement.verdict_of

    def test_only_pictures_of_several_moments_move(self) -> None:
        for kind in ("GIF", "PNG", "WEBP"):
            with self.subTest(kind):
                self.assertTrue(moves(film("#fff", "#000", kind=kind)))
                self.assertFalse(moves(film("#fff", kind=kind)))
        self.assertTrue(moves(b"<svg><set attributeName='x'/></svg>"))
        self.assertTrue(moves(b" <svg:svg><svg:animateMotion/></svg:svg>"))
        self.assertFalse(moves(b"<svg><settings/></svg>"))

    def test_a_broken_picture_doesnt_move(self) -> None:
        for data in (b"", b"GIF89a", MOVING[:40], b"\x89PNG\r\n\x1a\n" + b"\0" * 64):
            self.assertFalse(moves(data))


class Folded(PageFolder):
    """What is folded away has a place on the page, and is seen by nobody."""

    def test_what_is_folded_is_exempt_and_what_is_unfolded_isnt(self) -> None:
        body = (
            "<details><summary>Front</summary><p>Inner</p></details><p>After</p>"
            "<details><summary>Other front</summary>Bare</details>"
            "<details open><summary>Open front</summary><p>Shown</p></details>"
        )
        pairs = self.pairs(whole(body, "p{color:#999}"))
        for text in ("Inner", "Bare"):
            (pair,) = text_pairs(pairs, text)
            self.assertEqual(pair.verdict, Verdict.EXEMPT)
        for text in ("After", "Shown"):
            (pair,) = text_pairs(pairs, text)
            self.assertEqual(pair.verdict, Verdict.FALLS_SHORT)


if __name__ == "__main__":
    unittest.main()
