"""Drawings and web pages that are made to do harm."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tests import web_pages

Made = Callable[[], bytes]


def _svg(inner: str, attributes: str = 'width="400" height="200"', before: str = "") -> Made:
    space = 'xmlns="http://www.w3.org/2000/svg"'
    return lambda: f"{before}<svg {space} {attributes}>{inner}</svg>".encode()


def drawings() -> Iterator[tuple[str, Made]]:
    """List drawings, each with what is hostile in it."""
    words = '<text x="9" y="50">Words</text>'
    yield "roots without end", lambda: b"<svg " * 200_000
    yield "comments without end", lambda: b"<!--" * 250_000
    yield "comments that close late", _svg(words, before="<!-- " * 100_000 + "-->")
    yield "attributes without end", lambda: b"<svg " + b"a='" * 300_000
    yield "numbers without end", _svg(words, f'viewBox="{"1" * 500_000}"')
    yield "a size of dots", _svg(words, f'width="{"." * 500_000}"')
    yield "a size of exponents", _svg(words, 'width="1e308" height="1e308"')
    yield (
        "uses of uses",
        _svg(
            "<g id='a0'><rect width='1' height='1'/></g>"
            + "".join(f"<g id='a{n + 1}'>" + f"<use href='#a{n}'/>" * 10 + "</g>" for n in range(9))
            + words
        ),
    )
    yield (
        "filters of filters",
        _svg(
            "<filter id='f'>" + "<feGaussianBlur stdDeviation='500'/>" * 400 + "</filter>"
            f"<g filter='url(#f)'>{words}</g>"
        ),
    )
    yield (
        "patterns of patterns",
        _svg(
            "<pattern id='p0' width='1' height='1'/>"
            + "".join(
                f"<pattern id='p{n + 1}' width='.01' height='.01'><rect width='9' height='9' fill='url(#p{n})'/></pattern>"
                for n in range(12)
            )
            + "<rect width='400' height='200' fill='url(#p12)'/>"
            + words
        ),
    )
    yield (
        "an entity of entities",
        _svg(
            "&j;" + words,
            before='<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">'
            + "".join(f'<!ENTITY {chr(98 + n)} "{f"&{chr(97 + n)};" * 10}">' for n in range(9))
            + "]>",
        ),
    )
    yield (
        "a hundred thousand texts",
        _svg("".join(f'<text x="{n % 400}" y="{n // 400}">w</text>' for n in range(100_000))),
    )


def pages() -> Iterator[tuple[str, Made]]:
    """List web pages, each with what is hostile in it."""

    def page(body: str, style: str = "") -> Made:
        return lambda: web_pages.whole(f"<p>Words</p>{body}", style).encode()

    def script(code: str) -> Made:
        return page(f"<script>{code}</script>")

    yield (
        "canvases of gigabytes",
        script(
            "for(let i=0;i<200;i++){const c=document.createElement('canvas');"
            "c.width=c.height=4000;c.getContext('2d').fillRect(0,0,4000,4000);document.body.append(c)}"
        ),
    )
    yield (
        "a heap of gigabytes",
        script("const a=[];for(;;)a.push(new Array(1e6).fill(Math.random()))"),
    )
    yield (
        "buffers of gigabytes",
        script("const a=[];for(let i=0;i<100;i++)a.push(new Uint8Array(1e8).fill(1))"),
    )
    yield (
        "words of gigabytes",
        script("let s='w';for(;;){s+=s;document.body.append(s.slice(0,1e6))}"),
    )
    yield (
        "a million parts",
        script(
            "const p=[];for(let i=0;i<1000000;i++)p.push('<p>w</p>');document.body.innerHTML=p.join('')"
        ),
    )
    yield "a thousand frames", page("<iframe srcdoc='<p>x</p>'></iframe>" * 1_000)
    yield (
        "frames in frames",
        script(
            "if(location.href!='about:srcdoc')0;let d=document;for(let i=0;i<400;i++){"
            "const f=d.createElement('iframe');d.body.append(f);d=f.contentDocument;if(!d)break}"
        ),
    )
    yield "elements ten thousand deep", page("<div>" * 10_000 + "deep")
    yield (
        "uses of uses",
        page(
            "<svg><g id=a0><rect width=1 height=1 /></g>"
            + "".join(f"<g id=a{n + 1}>" + f"<use href='#a{n}'/>" * 10 + "</g>" for n in range(9))
            + "</svg>"
        ),
    )
    yield "a word of a million letters", page("<p>" + "w" * 1_000_000)
    yield "a million words", page("<p>" + "w " * 500_000)
    yield "a loop without end", script("for(;;){}")
    yield (
        "workers without end",
        script(
            "const u=URL.createObjectURL(new Blob(['for(;;){}']));for(let i=0;i<50;i++)new Worker(u)"
        ),
    )
    yield (
        "messages without end",
        script(
            "const c=new MessageChannel();c.port1.onmessage=()=>c.port2.postMessage(1);c.port2.onmessage=()=>c.port1.postMessage(1);c.port1.start();c.port2.start();c.port1.postMessage(1)"
        ),
    )
    yield (
        "blurs of the whole page",
        page("<div></div>" * 100, "div{height:500px;backdrop-filter:blur(200px)}"),
    )
    yield "a page of ten million pixels", page("", "body{height:10000000px;width:10000000px}")
    yield (
        "selectors without end",
        page(
            "<p class=a>w</p>" * 500,
            "".join(f":not(:not(.a{n} ~ * ~ * ~ *)) *{{color:#999}}" for n in range(3_000)),
        ),
    )
    yield (
        "variables of variables",
        page(
            "",
            ":root{--a0:w w w w w w w w;"
            + "".join(f"--a{n + 1}:" + f"var(--a{n})" * 10 + ";" for n in range(12))
            + "}p{font-family:var(--a12)}",
        ),
    )
    yield (
        "a picture of gigabytes",
        page(
            "<img width=300 src='data:image/svg+xml,<svg xmlns=%22http://www.w3.org/2000/svg%22 width=%2230000%22 height=%2230000%22><rect width=%2230000%22 height=%2230000%22/></svg>'>"
        ),
    )
