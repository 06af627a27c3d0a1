"""One small page for each trouble of web pages, shown by the real engine.

Every expected colour is arithmetic on what the page says, and every expected
ratio follows from the two colours by the standard's own words.
"""

from __future__ import annotations

import base64
import io
import unittest
from dataclasses import dataclass

import numpy as np
from PIL import Image

from high_pair.formats.web.settings import WebSettings
from high_pair.measure.pairs import Pair
from high_pair.wcag.verdicts import Verdict
from tests.web_pages import QUICK, PageFolder, ratio, text_pairs, whole

PASSES, SHORT, EYES, EXEMPT = (
    Verdict.PASSES,
    Verdict.FALLS_SHORT,
    Verdict.NEEDS_EYES,
    Verdict.EXEMPT,
)


def picture(*colours: str, size: int = 40) -> str:
    """Give a picture of upright stripes as a data address."""
    stripes = [
        np.full((size, size, 3), [int(c[i : i + 2], 16) for i in (1, 3, 5)], np.uint8)
        for c in colours
    ]
    out = io.BytesIO()
    Image.fromarray(np.concatenate(stripes, axis=1)).save(out, "PNG")
    return "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()


def over(colour: str, opacity: float, below: str) -> str:
    """Lay one colour over another, as browsers do, in gamma-encoded values."""
    levels = [
        int(colour[i : i + 2], 16) * opacity + int(below[i : i + 2], 16) * (1 - opacity)
        for i in (1, 3, 5)
    ]
    return "#" + "".join(f"{round(level):02X}" for level in levels)


@dataclass(frozen=True)
class Rule:
    """A page, and what is said of the text «Words» on it. near: levels that colours may differ by."""

    name: str
    body: str
    verdict: Verdict
    foreground: str = ""
    background: str = ""
    style: str = ""
    reason: str = ""
    near: int = 1
    required: float = 0.0
    size: float = 0.0
    text: str = "Words"
    varied: bool = False
    settings: WebSettings = QUICK
    head: str = ""


W = "<p>Words</p>"
HALF = over("#000000", 0.5, "#FFFFFF")

RULES = [
    # What is behind
    Rule("plain text", W, PASSES, "#000000", "#FFFFFF"),
    Rule("pale text", W, SHORT, "#999999", "#FFFFFF", "p{color:#999}"),
    Rule("the body's fill", W, PASSES, "#000000", "#FFEE88", "body{background:#fe8}"),
    Rule(
        "the root's fill where the body has none",
        W,
        SHORT,
        "#000000",
        "#224466",
        "html{background:#246}body{background:none}",
    ),
    Rule(
        "a box of its own", "<div>Words</div>", SHORT, "#000000", "#224466", "div{background:#246}"
    ),
    Rule(
        "a see-through box on another",
        "<section><p>Words</p></section>",
        SHORT,
        "#000000",
        over("#000000", 0.6, "#FFFFFF"),
        "section{background:#fff}p{background:rgb(0 0 0/.6)}",
    ),
    Rule(
        "a sibling that lies behind",
        "<i></i><p>Words</p>",
        SHORT,
        "#000000",
        "#223344",
        "i{position:absolute;left:0;top:0;width:600px;height:200px;background:#234}p{position:relative}",
    ),
    Rule(
        "a later sibling pulled under it",
        "<p>Words</p><i></i>",
        SHORT,
        "#000000",
        "#223344",
        "p{position:relative;z-index:1}i{display:block;height:200px;margin-top:-100px;background:#234}",
    ),
    Rule(
        "a later block's fill painted before an earlier one's text",
        "<p>Words</p><div></div>",
        SHORT,
        "#000000",
        "#223344",
        "p{margin:0;height:60px}div{height:100px;margin-top:-60px;background:#234}",
    ),
    Rule(
        "a see-through box over the text",
        "<p>Words</p><i></i>",
        PASSES,
        over("#FFFFFF", 0.3, "#000000"),
        "#FFFFFF",
        "p{margin:0}i{position:absolute;left:0;top:0;width:600px;height:200px;background:rgb(255 255 255/.3)}",
        near=2,
    ),
    Rule(
        "a gradient whose weak end lies behind",
        "<p>Words</p>",
        SHORT,
        style="p{background:linear-gradient(90deg,#111,#111 50px,#fff 400px);width:500px}",
        varied=True,
    ),
    Rule(
        "a gradient that is light everywhere",
        "<p>Words</p>",
        PASSES,
        style="p{background:linear-gradient(#fff,#ddd)}",
        varied=True,
    ),
    Rule(
        "a picture in a style sheet",
        W,
        SHORT,
        "#000000",
        "#203040",
        f"p{{background:url({picture('#203040')})}}",
    ),
    Rule(
        "the place of a sprite",
        W,
        SHORT,
        "#000000",
        "#203040",
        f"p{{text-indent:0;font-size:9px;padding:6px 4px;width:32px;height:28px;white-space:nowrap;overflow:hidden;background:url({picture('#ffffff', '#203040')}) -40px 0}}",
    ),
    Rule(
        "a picture element behind",
        f"<img src={picture('#203040', size=300)}><p>Words</p>",
        SHORT,
        "#000000",
        "#203040",
        "img{position:absolute;left:0;top:0}p{position:relative}",
    ),
    Rule(
        "several pictures in one background",
        W,
        SHORT,
        "#000000",
        "#203040",
        f"p{{background:url({picture('#203040')}),url({picture('#ffffff')})}}",
    ),
    Rule(
        "an inset shadow as a fill",
        W,
        SHORT,
        "#000000",
        "#203040",
        "p{box-shadow:inset 0 0 0 300px #203040}",
    ),
    Rule(
        "a wide border under the text",
        "<p><b>Words</b></p>",
        SHORT,
        "#000000",
        "#203040",
        "p{border-left:300px solid #203040}b{font-weight:400;margin-left:-280px}",
    ),
    Rule(
        "a fill that an outline paints",
        "<div></div><p>Words</p>",
        SHORT,
        "#000000",
        "#203040",
        "div{position:absolute;left:0;top:0;width:1px;height:1px;outline:400px solid #203040}p{position:relative}",
    ),
    Rule(
        "generated content as a box",
        W,
        SHORT,
        "#000000",
        "#203040",
        "p{position:relative;z-index:0}p::before{content:'';position:absolute;inset:0;background:#203040;z-index:-1}",
    ),
    Rule(
        "a blend mode of what is behind",
        "<section><i></i><p>Words</p></section>",
        SHORT,
        "#000000",
        "#203040",
        "section{background:#203040;isolation:isolate;position:relative}i{position:absolute;inset:0;background:#fff;mix-blend-mode:multiply}p{position:relative}",
    ),
    Rule(
        "a filter over what is behind",
        "<div><i></i></div><p>Words</p>",
        SHORT,
        "#000000",
        "#000000",
        "i{position:absolute;left:0;top:0;width:600px;height:200px;background:#fff;filter:invert(1)}p{position:relative}",
    ),
    Rule(
        "a backdrop filter",
        "<i></i><p>Words</p>",
        SHORT,
        "#000000",
        "#000000",
        "p{position:relative;backdrop-filter:invert(1);height:60px;width:300px}",
        near=2,
    ),
    Rule(
        "a cell's fill over its row's",
        "<table><tr><td>Words</table>",
        SHORT,
        "#000000",
        "#203040",
        "tr{background:#fff}td{background:#203040}",
    ),
    Rule(
        "a row's fill over its table's",
        "<table><tr><td>Words</table>",
        SHORT,
        "#000000",
        "#203040",
        "table{background:#fff}tr{background:#203040}",
    ),
    Rule(
        "a column's fill",
        "<table><colgroup><col style='background:#203040'></colgroup><tr><td>Words</table>",
        SHORT,
        "#000000",
        "#203040",
    ),
    Rule(
        "a fill that ends before the text does",
        "<p>Words that run far beyond it</p>",
        SHORT,
        style="p{color:#fff;background:linear-gradient(#000,#000) no-repeat;background-size:120px 100%;white-space:nowrap}",
        text="Words that run far beyond it",
        varied=True,
    ),
    Rule(
        "a mask over the fill",
        W,
        PASSES,
        "#000000",
        "#FFFFFF",
        "p{position:relative}p::before{content:'';position:absolute;inset:0;background:#203040;mask:linear-gradient(transparent,transparent);z-index:-1}",
    ),
    # The text's own colour
    Rule("see-through text", W, SHORT, HALF, "#FFFFFF", "p{color:rgb(0 0 0/.5)}"),
    Rule(
        "nested opacity",
        "<section><p>Words</p></section>",
        SHORT,
        over("#000000", 0.25, "#FFFFFF"),
        "#FFFFFF",
        "section{opacity:.5}p{opacity:.5}",
        near=2,
    ),
    Rule(
        "opacity of a group with a fill of its own",
        "<section><p>Words</p></section>",
        SHORT,
        HALF,
        over("#AAAAAA", 0.5, "#FFFFFF"),
        "section{opacity:.5;background:#aaa;padding:9px}",
        near=2,
    ),
    Rule(
        "a see-through group on a dark page",
        "<section><p>Words</p></section>",
        PASSES,
        over("#000000", 0.5, "#203040"),
        over("#FFFFFF", 0.5, "#203040"),
        "body{background:#203040}section{opacity:.5;background:#fff;padding:9px}p{margin:0}",
        near=2,
    ),
    Rule(
        "the fill colour of text",
        W,
        SHORT,
        "#BBBBBB",
        "#FFFFFF",
        "p{color:#000;-webkit-text-fill-color:#bbb}",
    ),
    Rule(
        "a custom property",
        W,
        SHORT,
        "#AABBCC",
        "#FFFFFF",
        ":root{--pale:#aabbcc}p{color:var(--pale)}",
    ),
    Rule(
        "a custom property's stand-in", W, SHORT, "#AABBCC", "#FFFFFF", "p{color:var(--none,#abc)}"
    ),
    Rule("oklch", W, PASSES, "#000000", "#FFFFFF", "p{color:oklch(0 0 0)}"),
    Rule(
        "a wide-gamut colour is clipped to the screen",
        W,
        SHORT,
        "#00FF00",
        "#FFFFFF",
        "p{color:color(display-p3 0 1 0)}",
    ),
    Rule("lab", W, SHORT, "#777777", "#FFFFFF", "p{color:lab(50.03% 0 0)}"),
    Rule("a mixed colour", W, SHORT, "#808080", "#FFFFFF", "p{color:color-mix(in srgb,#000,#fff)}"),
    Rule(
        "currentcolor in a child",
        "<p><span>Words</span></p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999}span{color:currentcolor}",
    ),
    Rule(
        "light and dark by scheme",
        W,
        SHORT,
        "#DDDDDD",
        "#FFFFFF",
        ":root{color-scheme:light dark}p{color:light-dark(#ddd,#fff)}",
    ),
    Rule(
        "the dark scheme",
        W,
        PASSES,
        "#EEEEEE",
        "#101010",
        "@media(prefers-color-scheme:dark){body{background:#101010}p{color:#eee}}",
        settings=WebSettings(states=False, dark=True),
    ),
    Rule(
        "an important rule over an inline style",
        '<p style="color:#000">Words</p>',
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999!important}",
    ),
    Rule(
        "a layer's rule under a plain one",
        W,
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999}@layer a{p{color:#000}}",
    ),
    Rule("an old font element", "<font color=#999999>Words</font>", SHORT, "#999999", "#FFFFFF"),
    Rule(
        "a filter over the text",
        W,
        PASSES,
        "#000000",
        "#FFFFFF",
        "p{color:#fff;background:#000;filter:invert(1);font-size:40px}",
        near=2,
    ),
    Rule(
        "text that is blended",
        W,
        PASSES,
        "#000000",
        "#FFFFFF",
        "p{color:#fff;mix-blend-mode:difference;font-size:40px;font-weight:700}",
        near=3,
    ),
    Rule(
        "letters that show a gradient, all of it strong",
        W,
        PASSES,
        style="p{background:linear-gradient(90deg,#000,#333);-webkit-background-clip:text;background-clip:text;color:transparent;font-size:48px;font-weight:700}",
    ),
    Rule(
        "letters that show a gradient, part of it weak",
        W,
        EYES,
        style="p{background:linear-gradient(90deg,#000,#fff 200px);background-clip:text;color:transparent;font-size:48px;font-weight:700;width:200px}",
        reason="background of their element",
    ),
    Rule(
        "letters that show a picture, all of it pale",
        W,
        SHORT,
        "#DDDDDD",
        "#FFFFFF",
        f"p{{background:url({picture('#dddddd')});background-clip:text;color:transparent;font-size:48px;font-weight:700}}",
        near=2,
    ),
    Rule(
        "a shadow as a halo",
        W,
        PASSES,
        "#FFFFFF",
        style="p{color:#fff;background:#777;text-shadow:0 0 3px #000,0 0 3px #000,0 0 3px #000,0 0 3px #000,0 0 4px #000,0 0 4px #000;font-size:40px;font-weight:700}",
        varied=True,
    ),
    Rule(
        "a border made of shadows",
        W,
        EYES,
        style="p{color:#fff;font-size:40px;text-shadow:-2px -2px #000,2px -2px #000,2px 2px #000,-2px 2px #000,-2px 0 #000,2px 0 #000,0 2px #000,0 -2px #000}",
        reason="border of their own",
    ),
    Rule(
        "a shadow to one side is no border",
        W,
        SHORT,
        "#FFFFFF",
        style="p{color:#fff;font-size:40px;text-shadow:0 2px 4px #000}",
        varied=True,
    ),
    Rule(
        "a pale border doesn't serve",
        W,
        SHORT,
        "#FFFFFF",
        style="p{color:#fff;font-size:40px;text-shadow:-1px -1px #aaa,1px -1px #aaa,1px 1px #aaa,-1px 1px #aaa}",
        varied=True,
    ),
    Rule(
        "a faint shadow beside something dark is no border",
        W,
        SHORT,
        style="p{font-size:40px;line-height:26px;height:26px;margin:0;background:#fff;text-shadow:0 0 4px rgb(0 0 0/.15)}body{background:#000}",
        varied=True,
    ),
    Rule(
        "a shadow in the letters' own colour belongs to them",
        W,
        PASSES,
        "#333333",
        "#FFFFFF",
        "p{color:#333;text-shadow:0 0 1px #333,1px 0 0 #333}",
    ),
    Rule(
        "letters of which only a shadow shows",
        W,
        EYES,
        style="p{color:transparent;text-shadow:0 0 3px #999}",
        reason="but a shadow",
    ),
    Rule(
        "a filter that casts a shadow",
        W,
        EYES,
        style="p{color:#fff;filter:drop-shadow(0 0 2px #000)}",
        reason="a filter",
    ),
    Rule(
        "an outline round letters",
        W,
        EYES,
        style="p{color:#fff;-webkit-text-stroke:2px #000;font-size:48px;font-weight:700;background:#fff}",
        reason="outline",
    ),
    Rule("white on white", W, SHORT, "#FFFFFF", "#FFFFFF", "p{color:#fff}"),
    Rule(
        "white text over a picture with white in it",
        W,
        SHORT,
        style=f"p{{color:#fff;font-size:40px;width:80px;background:url({picture('#203040', '#ffffff', size=60)})}}",
        varied=True,
    ),
    # Size and weight
    Rule(
        "24 px is large-scale",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:24px}",
        required=3.0,
        size=18.0,
    ),
    Rule(
        "23 px isn't",
        W,
        SHORT,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:23px}",
        required=4.5,
        size=17.25,
    ),
    Rule(
        "18.66 px in weight 700 is",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:18.66px;font-weight:700}",
        required=3.0,
    ),
    Rule(
        "in weight 600 it isn't",
        W,
        SHORT,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:20px;font-weight:600}",
        required=4.5,
    ),
    Rule(
        "bolder counts",
        "<p><b>Words</b></p>",
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:20px}",
        required=3.0,
    ),
    Rule(
        "zoom in a style",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:12px;zoom:2}",
        required=3.0,
        size=18.0,
    ),
    Rule(
        "a scaling transform",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:12px;transform:scale(2);transform-origin:0 0}",
        required=3.0,
        size=18.0,
    ),
    Rule(
        "a shrinking transform",
        W,
        SHORT,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:30px;transform:scale(.5);transform-origin:0 0}",
        required=4.5,
        size=11.25,
    ),
    Rule(
        "the scale property",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:12px;scale:2;transform-origin:0 0}",
        required=3.0,
        size=18.0,
    ),
    Rule(
        "the page's own zoom",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:12px}",
        required=3.0,
        size=18.0,
        settings=WebSettings(states=False, zoom=2.0),
    ),
    Rule(
        "a share of the view's width",
        W,
        PASSES,
        "#777777",
        "#FFFFFF",
        "p{color:#777;font-size:2vw}",
        required=3.0,
        size=19.2,
    ),
    Rule(
        "turned text",
        W,
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999;transform:rotate(20deg);width:200px}",
    ),
    # Where text is
    Rule(
        "generated text before",
        "<p></p>",
        SHORT,
        "#AAAAAA",
        "#FFFFFF",
        "p::before{content:'Words';color:#aaa}",
    ),
    Rule(
        "generated text after",
        "<p>Other</p>",
        SHORT,
        "#AAAAAA",
        "#FFFFFF",
        "p::after{content:' Words';color:#aaa}",
    ),
    Rule(
        "a list's number",
        "<ol><li>Item</ol>",
        SHORT,
        "#AAAAAA",
        "#FFFFFF",
        "li::marker{color:#aaa}",
        text="1.",
    ),
    Rule(
        "a placeholder",
        "<input placeholder=Words>",
        SHORT,
        "#BBBBBB",
        "#FFFFFF",
        "input::placeholder{color:#bbb}",
    ),
    Rule(
        "a field's value", "<input value=Words>", SHORT, "#BBBBBB", "#FFFFFF", "input{color:#bbb}"
    ),
    Rule(
        "a text area's value",
        "<textarea>Words</textarea>",
        SHORT,
        "#BBBBBB",
        "#FFFFFF",
        "textarea{color:#bbb}",
    ),
    Rule(
        "a choice that is shown",
        "<select><option>Words<option>Other</select>",
        SHORT,
        "#BBBBBB",
        "#FFFFFF",
        "select{color:#bbb;background:#fff;appearance:none;border:0;padding:8px}",
    ),
    Rule(
        "a choice in a list",
        "<select multiple><option selected>Other<option class=pale>Words<option>More</select>",
        SHORT,
        "#999999",
        "#FFFFFF",
        ".pale{color:#999}select{background:#fff}",
    ),
    Rule(
        "a button's label",
        "<input type=submit value=Words>",
        SHORT,
        "#FFFFFF",
        "#CCCCCC",
        "input{color:#fff;background:#ccc;border:0}",
    ),
    Rule(
        "a first letter",
        "<p>Wonder</p>",
        SHORT,
        "#AAAAAA",
        "#FFFFFF",
        "p::first-letter{color:#aaa;font-size:20px}",
        text="W",
    ),
    Rule("a first line", "<p>Words</p>", SHORT, "#AAAAAA", "#FFFFFF", "p::first-line{color:#aaa}"),
    Rule(
        "text in a drawing",
        "<svg width=300 height=60><rect width=300 height=60 fill=#203040 /><text x=10 y=40 font-size=30 fill=#304050>Words</text></svg>",
        SHORT,
        "#304050",
        "#203040",
        required=3.0,
    ),
    Rule(
        "a drawing's scale",
        "<svg width=600 height=120 viewBox='0 0 300 60'><text x=10 y=40 font-size=12 fill=#777>Words</text></svg>",
        PASSES,
        "#777777",
        "#FFFFFF",
        required=3.0,
        size=18.0,
    ),
    Rule(
        "a see-through fill in a drawing",
        "<svg width=300 height=60><text x=10 y=40 font-size=20 fill=#000 fill-opacity=.5>Words</text></svg>",
        SHORT,
        HALF,
        "#FFFFFF",
    ),
    Rule(
        "a frame's text",
        "<iframe srcdoc='<body style=background:#203040;color:#000>Words'></iframe>",
        SHORT,
        "#000000",
        "#203040",
    ),
    Rule(
        "a frame without a fill shows the page",
        "<iframe srcdoc='<body style=color:#000>Words'></iframe>",
        SHORT,
        "#000000",
        "#203040",
        "body{background:#203040}",
    ),
    Rule(
        "a frame in a frame",
        "<iframe srcdoc='<iframe srcdoc=\"<body style=color:#999>Words\"></iframe>'></iframe>",
        SHORT,
        "#999999",
        "#FFFFFF",
    ),
    Rule(
        "an open shadow tree",
        "<x-card></x-card><script>const r=document.querySelector('x-card').attachShadow({mode:'open'});r.innerHTML='<style>p{color:#999}</style><p>Words</p>'</script>",
        SHORT,
        "#999999",
        "#FFFFFF",
    ),
    Rule(
        "text put into a shadow tree's slot",
        "<x-card>Words</x-card><script>const r=document.querySelector('x-card').attachShadow({mode:'open'});r.innerHTML='<style>div{background:#203040}</style><div><slot></slot></div>'</script>",
        SHORT,
        "#000000",
        "#203040",
    ),
    Rule(
        "a closed shadow tree",
        "<x-card></x-card><script>const r=document.querySelector('x-card').attachShadow({mode:'closed'});r.innerHTML='<p>Words</p>'</script>",
        EYES,
        text="text that isn't told",
        reason="keeps to itself",
    ),
    Rule(
        "late text by a script",
        "<p></p><script>setTimeout(()=>{document.querySelector('p').textContent='Words'},300)</script>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999}",
    ),
    Rule(
        "the end of a transition",
        "<p>Words</p><script>setTimeout(()=>{document.querySelector('p').style.color='#999'},50)</script>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{transition:color 5s}",
    ),
    Rule(
        "the end of an animation",
        W,
        SHORT,
        "#999999",
        "#FFFFFF",
        "@keyframes a{from{color:#000}to{color:#999}}p{animation:a 30s forwards}",
    ),
    Rule(
        "a ruby's note",
        "<ruby>Main<rt>Words</rt></ruby>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "rt{color:#999}",
    ),
    Rule(
        "a column's second part",
        "<div><p>Other</p><p style='break-before:column'>Words</p></div>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "div{columns:2}p{color:#999}",
    ),
    Rule(
        "beyond the view's right",
        "<p>Words</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999;margin-left:1000px}",
    ),
    Rule(
        "where the page has to be scrolled across",
        "<p>Words</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999;margin-left:1900px;width:200px}",
    ),
    Rule(
        "where the page can't be scrolled across",
        "<p>Words</p>",
        EXEMPT,
        style="p{color:#999;margin-left:1900px;width:200px}html{overflow-x:hidden}",
        reason="outside what its box shows",
    ),
    Rule(
        "in part beyond what the view shows",
        "<p>Words</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999;margin-left:1250px;width:200px}",
    ),
    Rule(
        "far down the page",
        "<div style=height:3000px></div><p>Words</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "p{color:#999}",
    ),
    Rule(
        "below the view in a scroller",
        "<div><div style=height:900px></div><p>Words</p></div>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "body>div{height:200px;overflow:auto}p{color:#999}",
    ),
    Rule(
        "a fixed bar's own text",
        "<header>Words</header><p>Other</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "header{position:fixed;top:0;left:0;right:0;background:#fff;color:#999}",
    ),
    Rule(
        "under a fixed bar",
        "<header>Bar</header><p>Words</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "header{position:fixed;top:0;left:0;right:0;height:90px;background:#203040;color:#fff}p{color:#999;margin:0}",
    ),
    Rule(
        "a part as high as the view",
        "<div></div><p>Words</p>",
        SHORT,
        "#999999",
        "#FFFFFF",
        "div{height:100vh;background:#203040}p{color:#999;margin-top:-60px;position:relative;top:70px}",
    ),
    Rule("a canvas", "<canvas width=300 height=60></canvas>", EYES, text="", reason="canvas"),
    Rule(
        "a picture that has a name",
        f"<img alt='Fares' width=200 height=50 src={picture('#203040')}>",
        EYES,
        text="Fares",
        reason="picture",
    ),
    Rule(
        "a fixed picture behind scrolling text, of which each place counts",
        W,
        SHORT,
        style=f"body{{background:url({picture('#203040', '#ffffff')}) fixed}}p{{width:70px}}",
        reason="stays in place",
        varied=True,
    ),
    Rule(
        "a fixed gradient on which text passes all the way",
        W,
        PASSES,
        "#000000",
        "#C0C0C0",
        style="body{height:3000px;background:linear-gradient(#c0c0c0,#fff) fixed}p{margin-top:1500px}",
        reason="worst on its way",
        near=4,
        varied=True,
    ),
    Rule(
        "a fixed gradient on which it passes at one end alone",
        W,
        SHORT,
        style="body{height:3000px;background:linear-gradient(#000 50%,#fff 50%) fixed}"
        "p{margin-top:1500px;color:#fff}",
        reason="worst on its way",
        varied=True,
    ),
    Rule(
        "a fixed gradient of which text at the head of the page only meets the beginning",
        W,
        PASSES,
        "#FFFFFF",
        "#000000",
        style="body{height:3000px;background:linear-gradient(#000 50%,#fff 50%) fixed}p{color:#fff}",
        reason="worst on its way",
    ),
    Rule(
        "a fixed picture that covers the view, behind a box of its own",
        "<section><p>Words</p></section>",
        SHORT,
        "#FFFFFF",
        "#FFFFFF",
        style="body{height:3000px}section{margin:1400px 0 0 780px;width:200px;"
        # It is made as high as the view, 800 pixels, and so is each of its stripes wide.
        f"background:url({picture('#000000', '#ffffff', '#000000', '#000000')}) 0 0/cover fixed}}"
        "p{color:#fff;margin:0;text-indent:40px}",
        reason="worst on its way",
    ),
    Rule(
        "text that is blended into a gradient, each letter on what is behind it",
        "<section><p>Words Words Words</p></section>",
        PASSES,
        style="section{background:linear-gradient(90deg,#000,#222)}p{color:#fff;mix-blend-mode:difference;margin:0}",
        text="Words Words Words",
        varied=True,
    ),
    Rule(
        "small text that is blended",
        "<section><p>Words</p></section>",
        SHORT,
        # CSS Compositing 1, overlay of white on (0.2, 0.4, 0.6): 2·0.2, 2·0.4, and white.
        "#66CCFF",
        "#336699",
        "section{background:#369}p{color:#fff;mix-blend-mode:overlay;font-size:12px;margin:0}",
        near=3,
    ),
    Rule(
        "multiplied text, which is darker than its colour",
        "<section><p>Words</p></section>",
        PASSES,
        "#404040",
        "#C0C0C0",
        "section{background:#c0c0c0}p{color:#555;mix-blend-mode:multiply;font-size:20px;margin:0}",
        near=2,
    ),
    Rule(
        "what a list's marker generates, in a colour of its own",
        "<ul><li>Item</li></ul>",
        SHORT,
        "#CCCCCC",
        "#FFFFFF",
        "li::marker{content:'Words ';color:#ccc}",
    ),
    Rule(
        "a string as the marker of a list",
        "<ul><li>Item</li></ul>",
        SHORT,
        "#CCCCCC",
        "#FFFFFF",
        "ul{list-style-type:'Words '}li::marker{color:#ccc}",
    ),
    Rule(
        "a bar at the foot of the view, over what it covers at first",
        "<section></section><div></div><footer>Words</footer>",
        PASSES,
        "#FFFFFF",
        over("#FFFFFF", 0.1, "#202020"),
        "body{margin:0}section{height:1000px;background:#202020}div{height:1500px}"
        "footer{position:fixed;bottom:0;left:0;right:0;background:rgb(255 255 255/.1);color:#fff}",
    ),
    Rule(
        "a sticky bar at the foot of the view, likewise",
        "<section></section><div></div><footer>Words</footer>",
        PASSES,
        "#FFFFFF",
        over("#FFFFFF", 0.1, "#202020"),
        "body{margin:0}section{height:1000px;background:#202020}div{height:1500px}"
        "footer{position:sticky;bottom:0;background:rgb(255 255 255/.1);color:#fff}",
    ),
    Rule(
        "a sticky bar that isn't reached at first, where it stands",
        "<section></section><div><footer>Words</footer></div>",
        SHORT,
        "#FFFFFF",
        "#FFFFFF",
        "body{margin:0}section{height:2000px;background:#202020}div{height:600px}"
        "footer{position:sticky;top:0;color:#fff}",
    ),
    # What is exempt
    Rule("a disabled control", "<button disabled>Words</button>", EXEMPT, reason="inactive"),
    Rule("a disabled field's value", "<input disabled value=Words>", EXEMPT, reason="inactive"),
    Rule(
        "a disabled control's label",
        "<label>Words <input disabled></label>",
        EXEMPT,
        reason="inactive",
    ),
    Rule(
        "a label that names a disabled control",
        "<label for=a>Words</label><input id=a disabled>",
        EXEMPT,
        reason="inactive",
    ),
    Rule(
        "a group that is disabled",
        "<fieldset disabled><button>Words</button></fieldset>",
        EXEMPT,
        reason="inactive",
    ),
    Rule(
        "a control said to be disabled",
        "<a role=button aria-disabled=true>Words</a>",
        EXEMPT,
        reason="inactive",
    ),
    Rule("hidden text", W, EXEMPT, style="p{visibility:hidden}", reason="invisible"),
    Rule("text without opacity", W, EXEMPT, style="p{opacity:0}", reason="transparent"),
    Rule("transparent text", W, EXEMPT, style="p{color:transparent}", reason="transparent"),
    Rule(
        "text for screen readers by a clip",
        W,
        EXEMPT,
        style="p{position:absolute;width:1px;height:1px;overflow:hidden;clip:rect(0 0 0 0)}",
        reason="screen readers",
    ),
    Rule(
        "text for screen readers off the page",
        W,
        EXEMPT,
        style="p{position:absolute;left:-9999px}",
        reason="off the page",
    ),
    Rule(
        "text cut away by a clip path",
        W,
        EXEMPT,
        style="p{clip-path:inset(50%)}",
        reason="covers it",
    ),
    Rule(
        "text that something covers",
        "<p>Words</p><i></i>",
        EXEMPT,
        style="i{position:absolute;left:0;top:0;width:600px;height:300px;background:#fff}",
        reason="covers it",
    ),
    Rule(
        "text outside what its box shows",
        "<div><p>Words</p></div>",
        EXEMPT,
        style="div{height:100px;overflow:hidden}p{margin-top:200px}",
        reason="outside",
    ),
]


class TroublesOfPages(PageFolder):
    """Each rule's page gives the pair and the verdict that follow from it."""

    def check(self, rule: Rule) -> None:
        pairs = self.pairs(whole(rule.body, rule.style, rule.head), rule.settings)
        found = text_pairs(pairs, rule.text)
        self.assertTrue(found, [(p.text, p.verdict, p.reason) for p in pairs])
        pair = found[0]
        self.assertEqual(pair.verdict, rule.verdict, self._told(pair))
        if rule.reason:
            self.assertIn(rule.reason, pair.reason)
        if rule.required:
            self.assertEqual(pair.required, rule.required, self._told(pair))
        if rule.size:
            self.assertAlmostEqual(pair.size, rule.size, delta=0.02)
        if pair.numbers is None:
            return
        self.assertEqual(pair.numbers.varied, rule.varied, self._told(pair))
        for expected, shown in (
            (rule.foreground, pair.numbers.foreground),
            (rule.background, pair.numbers.background),
        ):
            if expected:
                for place in (1, 3, 5):
                    apart = int(expected[place : place + 2], 16) - int(shown[place : place + 2], 16)
                    self.assertLessEqual(abs(apart), rule.near, self._told(pair))
        if rule.foreground and rule.background and not rule.varied:
            shown = ratio(pair.numbers.foreground, pair.numbers.background)
            self.assertAlmostEqual(pair.numbers.ratio, shown, delta=0.01)
            if rule.near == 1:
                self.assertAlmostEqual(
                    pair.numbers.ratio, ratio(rule.foreground, rule.background), delta=0.2
                )

    @staticmethod
    def _told(pair: Pair) -> str:
        numbers = pair.numbers
        seen = (numbers.foreground, numbers.background, numbers.ratio) if numbers else None
        return f"{pair.verdict} {pair.reason!r} {seen} {pair.size} {pair.required}"


def _add(rule: Rule, number: int) -> None:
    def test(self: TroublesOfPages) -> None:
        self.check(rule)

    test.__doc__ = rule.name
    words = "".join(c if c.isalnum() else "_" for c in rule.name)
    setattr(TroublesOfPages, f"test_{number:03d}_{words}", test)


for _number, _rule in enumerate(RULES, 1):
    _add(_rule, _number)


if __name__ == "__main__":
    unittest.main()
