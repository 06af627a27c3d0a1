"""Slides that are made to do harm."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tests import decks

Made = Callable[[], bytes]


def _deck(shapes: str = "", **options: object) -> Made:
    return lambda: decks.pack(decks.members(shapes, **options))  # type: ignore[arg-type]


def words_on_slide(words: str, **properties: str) -> str:
    """Write a shape of words."""
    return decks.shape(decks.body(decks.run(words, **properties)))


def _paragraphs(inner: str, count: int) -> str:
    return decks.shape(decks.body(f"<a:p>{inner}</a:p>" * count))


def _group(depth: int) -> str:
    begin = "<p:grpSp><p:nvGrpSpPr/><p:grpSpPr/>"
    return begin * depth + words_on_slide("deep") + "</p:grpSp>" * depth


def _path(commands: str) -> str:
    outline = (
        '<a:custGeom><a:avLst/><a:gdLst/><a:pathLst><a:path w="1000" h="1000">'
        f"{commands}</a:path></a:pathLst></a:custGeom>" + decks.solid("336699")
    )
    return decks.shape(decks.body(decks.run("on it")), outline, geometry="")


def _guides(count: int) -> str:
    guides = "".join(f'<a:gd name="g{n + 1}" fmla="*/ g{n} g{n} 2"/>' for n in range(count))
    outline = (
        f'<a:custGeom><a:avLst/><a:gdLst><a:gd name="g0" fmla="val 3"/>{guides}</a:gdLst><a:pathLst>'
        '<a:path><a:moveTo><a:pt x="0" y="0"/></a:moveTo></a:path></a:pathLst></a:custGeom>'
    )
    return decks.shape(decks.body(decks.run("on it")), outline, geometry="")


def _stops(count: int) -> str:
    stops = "".join(
        f'<a:gs pos="{n * 100_000 // count}"><a:srgbClr val="{n * 7919 % 2**24:06X}"/></a:gs>'
        for n in range(count)
    )
    return f'<a:gradFill><a:gsLst>{stops}</a:gsLst><a:lin ang="0"/></a:gradFill>'


def _slide_table(rows: int, columns: int) -> str:
    cell = (
        "<a:tc><a:txBody><a:bodyPr/><a:p><a:r><a:t>w</a:t></a:r></a:p></a:txBody><a:tcPr/></a:tc>"
    )
    grid = '<a:gridCol w="90000"/>' * columns
    row = f'<a:tr h="90000">{cell * columns}</a:tr>'
    return (
        f'<p:graphicFrame><p:nvGraphicFramePr/><p:xfrm><a:off x="0" y="0"/><a:ext cx="9000000" cy="5000000"/></p:xfrm>'
        '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/table">'
        f"<a:tbl><a:tblPr/><a:tblGrid>{grid}</a:tblGrid>{row * rows}</a:tbl></a:graphicData></a:graphic></p:graphicFrame>"
    )


def _listed(times: int) -> bytes:
    parts = decks.members(words_on_slide("again"))
    listed = "".join(f'<p:sldId id="{256 + n}" r:id="rId2"/>' for n in range(times))
    presentation = parts["ppt/presentation.xml"].decode()
    parts["ppt/presentation.xml"] = presentation.replace(
        '<p:sldId id="256" r:id="rId2"/>', listed
    ).encode()
    return decks.pack(parts)


def picture_deck(data: bytes, count: int = 1, blip: str = "", suffix: str = "png") -> Made:
    """Give a deck with a picture."""
    shapes = "".join(
        decks.picture("rId9", decks.xfrm(n % 300, n % 200, 400, 300), blip) for n in range(count)
    ) + words_on_slide("on it")
    return _deck(
        shapes,
        slide_rels={"rId9": ("image", f"../media/a.{suffix}")},
        more={f"ppt/media/a.{suffix}": data},
    )


def _chart(series: int, points: int) -> Made:
    numbers = "".join(f'<c:pt idx="{n}"><c:v>{n * 37 % 101}</c:v></c:pt>' for n in range(points))
    entry = (
        '<c:ser><c:idx val="{n}"/><c:order val="{n}"/><c:tx><c:v>Series {n}</c:v></c:tx>'
        f"<c:val><c:numLit><c:ptCount val='{points}'/>{numbers}</c:numLit></c:val></c:ser>"
    )
    entries = "".join(entry.replace("{n}", str(n)) for n in range(series))
    chart = (
        '<c:chartSpace xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" '
        'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><c:chart><c:plotArea><c:layout/>'
        f'<c:barChart><c:barDir val="col"/><c:grouping val="clustered"/>{entries}<c:dLbls><c:showVal val="1"/></c:dLbls>'
        '<c:axId val="1"/><c:axId val="2"/></c:barChart><c:catAx><c:axId val="1"/><c:crossAx val="2"/></c:catAx>'
        '<c:valAx><c:axId val="2"/><c:crossAx val="1"/></c:valAx></c:plotArea><c:legend/></c:chart></c:chartSpace>'
    )
    frame = (
        '<p:graphicFrame><p:nvGraphicFramePr/><p:xfrm><a:off x="0" y="0"/><a:ext cx="9000000" cy="5000000"/></p:xfrm>'
        '<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/chart">'
        '<c:chart xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" r:id="rId9"/></a:graphicData></a:graphic></p:graphicFrame>'
    )
    return _deck(
        frame,
        slide_rels={"rId9": ("chart", "../charts/chart1.xml")},
        more={"ppt/charts/chart1.xml": chart.encode()},
    )


def slides() -> Iterator[tuple[str, Made]]:
    """List slides, each with what is hostile in it."""
    yield "a word of a million letters", _deck(words_on_slide("w" * 1_000_000))
    yield "a word of a million ideographs", _deck(words_on_slide("\u6f22" * 1_000_000))
    yield "a million words", _deck(words_on_slide("w " * 1_000_000))
    yield "a million blanks", _deck(words_on_slide(" " * 1_000_000 + "w"))
    yield "a million right-to-left letters", _deck(words_on_slide("\u05d0 " * 500_000))
    yield "a million combining marks", _deck(words_on_slide("a" + "\u0301" * 1_000_000))
    yield "a million joiners", _deck(words_on_slide("a\u200d" * 500_000))
    yield "a million marks of direction", _deck(words_on_slide("\u202ea\u202c" * 300_000))
    yield "fifty thousand runs", _deck(decks.shape(decks.body(decks.run("w ") * 50_000)))
    yield (
        "fifty thousand looks",
        _deck(
            decks.shape(
                decks.body(
                    "".join(
                        decks.run("w ", inner=decks.solid(f"{n * 7919 % 2**24:06X}"))
                        for n in range(50_000)
                    )
                )
            )
        ),
    )
    yield "a hundred thousand tabs", _deck(words_on_slide("\t" * 100_000 + "w"))
    yield (
        "a hundred thousand breaks",
        _deck(decks.shape(decks.body("<a:br/>" * 100_000 + decks.run()))),
    )
    yield "fifty thousand paragraphs", _deck(_paragraphs(decks.run(), 50_000))
    yield (
        "a hundred thousand empty paragraphs",
        _deck(_paragraphs("", 100_000) + words_on_slide("w")),
    )
    yield "twenty thousand shapes", _deck(words_on_slide("w") * 20_000)
    yield (
        "twenty thousand fills",
        _deck(decks.shape(fill=decks.solid("336699")) * 20_000 + words_on_slide("w")),
    )
    yield (
        "twenty thousand see-through fills",
        _deck(
            decks.shape(fill=decks.solid("336699", '<a:alpha val="1000"/>')) * 20_000
            + words_on_slide("w")
        ),
    )
    yield "groups two hundred deep", _deck(_group(200))
    yield "groups five thousand deep", _deck(_group(5_000))
    yield (
        "a path of two hundred thousand curves",
        _deck(
            _path(
                '<a:moveTo><a:pt x="0" y="0"/></a:moveTo>'
                + "".join(
                    f'<a:cubicBezTo><a:pt x="{n * 7 % 1000}" y="{n * 13 % 1000}"/><a:pt x="{n * 17 % 1000}" y="{n * 3 % 1000}"/>'
                    f'<a:pt x="{n * 5 % 1000}" y="{n * 11 % 1000}"/></a:cubicBezTo>'
                    for n in range(200_000)
                )
                + "<a:close/>"
            )
        ),
    )
    yield (
        "a hundred thousand arcs",
        _deck(
            _path(
                '<a:moveTo><a:pt x="0" y="0"/></a:moveTo>'
                + '<a:arcTo wR="9" hR="9" stAng="0" swAng="999999999"/>' * 100_000
            )
        ),
    )
    yield "guides that square each other", _deck(_guides(200))
    yield "ten thousand guides", _deck(_guides(10_000))
    yield (
        "a gradient of fifty thousand stops",
        _deck(decks.shape(decks.body(decks.run()), _stops(50_000))),
    )
    yield (
        "letters with a gradient of fifty thousand stops",
        _deck(words_on_slide("w", inner=_stops(50_000))),
    )
    yield "a table of 300 by 300", _deck(_slide_table(300, 300))
    yield "a table of 90000 rows", _deck(_slide_table(90_000, 1))
    yield "a table of 90000 columns", _deck(_slide_table(1, 90_000))
    yield "a slide listed ten thousand times", lambda: _listed(10_000)
    yield "a slide listed a million times", lambda: _listed(1_000_000)
    yield (
        "a slide a million points wide",
        _deck(words_on_slide("w"), size='cx="12700000000" cy="12700"'),
    )
    yield "a slide of no size", _deck(words_on_slide("w"), size='cx="0" cy="0"')
    yield "letters of four thousand points", _deck(words_on_slide("w", properties='sz="400000"'))
    yield (
        "letters of a hundredth of a point",
        _deck(words_on_slide("w " * 100_000, properties='sz="1"')),
    )
    yield (
        "a font with a long name",
        _deck(words_on_slide("w", inner=f'<a:latin typeface="{"f" * 1_000_000}"/>')),
    )
    yield (
        "ten thousand fonts",
        _deck(
            decks.shape(
                decks.body(
                    "".join(
                        decks.run("w ", inner=f'<a:latin typeface="f{n}"/>') for n in range(10_000)
                    )
                )
            )
        ),
    )
    yield (
        "a hundred thousand columns of text",
        _deck(
            decks.shape(
                decks.body(
                    decks.run("w " * 1000), properties='<a:bodyPr numCol="100000" spcCol="1"/>'
                )
            )
        ),
    )
    yield (
        "ten thousand pictures of one file",
        picture_deck(decks.flat_picture((9, 9, 9), (64, 64)), 10_000),
    )
    yield (
        "a picture with two thousand effects",
        picture_deck(
            decks.flat_picture((9, 9, 9), (2000, 2000)),
            1,
            '<a:lum bright="1000"/><a:grayscl/>' * 1_000,
        ),
    )
    yield (
        "a tile of one pixel",
        _deck(
            decks.shape(
                decks.body(decks.run()),
                place=decks.xfrm(0, 0, 20000, 20000),
                fill='<a:blipFill><a:blip r:embed="rId9"/><a:tile sx="100" sy="100"/></a:blipFill>',
            ),
            slide_rels={"rId9": ("image", "../media/a.png")},
            more={"ppt/media/a.png": decks.flat_picture((9, 9, 9), (1, 1))},
        ),
    )
    yield "two thousand series", _chart(2_000, 5)
    yield "a hundred thousand points", _chart(1, 100_000)
    yield "four hundred thousand points in series", _chart(400, 1_000)
    yield (
        "shadows a million points wide",
        _deck(
            decks.shape(
                decks.body(decks.run()),
                decks.solid("336699")
                + '<a:effectLst><a:outerShdw blurRad="99999999999" dist="99999999" dir="0"><a:srgbClr val="000000"/></a:outerShdw></a:effectLst>',
            )
            * 50
        ),
    )
    yield (
        "soft edges a million points wide",
        _deck(
            decks.shape(
                decks.body(decks.run()),
                decks.solid("336699")
                + '<a:effectLst><a:softEdge rad="99999999999"/></a:effectLst>',
            )
            * 50
        ),
    )
    yield (
        "lines a million points wide",
        _deck(
            decks.shape(
                decks.body(decks.run()),
                '<a:ln w="2147483647"><a:solidFill><a:srgbClr val="336699"/></a:solidFill><a:prstDash val="sysDot"/></a:ln>',
            )
            * 50
        ),
    )
    yield (
        "dashes a hundredth of a point long",
        _deck(
            decks.shape(
                decks.body(decks.run()),
                '<a:ln w="1"><a:solidFill><a:srgbClr val="336699"/></a:solidFill><a:custDash><a:ds d="1" sp="1"/></a:custDash></a:ln>',
                place=decks.xfrm(0, 0, 100000, 100000),
            )
        ),
    )
    yield (
        "fifty thousand transforms of a colour",
        _deck(
            words_on_slide("w", inner=decks.solid("accent1", '<a:lumMod val="99000"/>' * 50_000))
        ),
    )
    yield (
        "attributes of a megabyte",
        _deck(decks.shape(decks.body(decks.run()), name="n" * 1_000_000)),
    )
    yield (
        "alternatives in alternatives",
        _deck(
            "<mc:AlternateContent xmlns:mc='http://schemas.openxmlformats.org/markup-compatibility/2006'>"
            "<mc:Choice Requires='none'/><mc:Fallback>"
            * 200
            + words_on_slide("w")
            + "</mc:Fallback></mc:AlternateContent>" * 200
        ),
    )
    yield (
        "relationships of a hundred thousand",
        _deck(
            words_on_slide("w"),
            slide_rels={f"rId{n}": ("image", f"../media/{n}.png") for n in range(9, 100_000)},
        ),
    )
    yield (
        "a theme of a hundred thousand fills",
        _deck(
            words_on_slide("w"),
            theme=decks.theme_xml().replace(
                "<a:fillStyleLst>", "<a:fillStyleLst>" + decks.solid("336699") * 100_000
            ),
        ),
    )
