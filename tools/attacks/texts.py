"""Documents that are made to do harm."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tests import decks, documents

Made = Callable[[], bytes]


def _document(body: str = "", **options: object) -> Made:
    return lambda: decks.pack(documents.members(body, **options))  # type: ignore[arg-type]


def _nested_tables(depth: int) -> str:
    body = documents.text()
    for _ in range(depth):
        body = documents.table(documents.cell(body + documents.paragraph()), columns=1)
    return body


def _header(content: str) -> dict[str, object]:
    return {
        "section": '<w:headerReference w:type="default" r:id="rId9"/><w:pgSz w:w="8000" w:h="8000"/>',
        "relationships": {"rId9": ("header", "header1.xml")},
        "more": {"word/header1.xml": f"<w:hdr {documents.SPACES}>{content}</w:hdr>".encode()},
    }


def texts() -> Iterator[tuple[str, Made]]:
    """List documents, each with what is hostile in it."""
    text, run = documents.text, documents.run
    yield "a word of a million letters", _document(text("w" * 1_000_000))
    yield "a million words", _document(text("w " * 1_000_000))
    yield (
        "a million words in large letters",
        _document(text("w " * 300_000, '<w:sz w:val="3276"/>')),
    )
    yield "fifty thousand runs", _document(documents.paragraph(run("w ") * 50_000))
    yield (
        "fifty thousand looks",
        _document(
            documents.paragraph(
                "".join(
                    run("w ", documents.colour(f"{n * 7919 % 2**24:06X}")) for n in range(50_000)
                )
            )
        ),
    )
    yield (
        "a hundred thousand tabs",
        _document(documents.paragraph("<w:r>" + "<w:tab/>" * 100_000 + "</w:r>")),
    )
    yield (
        "a hundred thousand tab stops",
        _document(
            text(
                "\tw",
                "",
                "<w:tabs>"
                + "".join(f'<w:tab w:val="left" w:pos="{n}"/>' for n in range(100_000))
                + "</w:tabs>",
            )
            * 20
        ),
    )
    yield "a hundred thousand paragraphs", _document(text("w") * 100_000)
    yield "a hundred thousand empty paragraphs", _document(documents.paragraph() * 100_000 + text())
    yield (
        "a hundred thousand page breaks",
        _document(documents.paragraph('<w:r><w:br w:type="page"/></w:r>' * 100_000)),
    )
    yield "a header taller than its page", _document(text("w") * 100, **_header(text("head") * 400))
    yield (
        "a header of a hundred thousand paragraphs",
        _document(text("w") * 3000, **_header(text("head") * 100_000)),
    )
    yield "tables sixty deep", _document(_nested_tables(60))
    yield "tables four hundred deep", _document(_nested_tables(400))
    yield (
        "a table of fifty thousand rows",
        _document(documents.table(*[documents.cell(text("w"))] * 50_000, columns=1)),
    )
    yield (
        "a table of five thousand columns",
        _document(documents.table(documents.cell(text("w")) * 5_000, columns=5_000)),
    )
    yield (
        "cells that span all",
        _document(
            documents.table(*[documents.cell(text("w"), '<w:gridSpan w:val="999999999"/>')] * 200)
        ),
    )
    yield (
        "rows that go on for ever",
        _document(documents.table(*[documents.cell(text("w"), "<w:vMerge/>")] * 20_000, columns=1)),
    )
    yield (
        "ten thousand sections",
        _document(
            "".join(
                documents.paragraph(
                    run("w"), '<w:sectPr><w:pgSz w:w="8000" w:h="8000"/></w:sectPr>'
                )
                for _ in range(10_000)
            )
        ),
    )
    yield "a page of a point", _document(text("w " * 2000), section='<w:pgSz w:w="20" w:h="20"/>')
    yield (
        "a page of a million points",
        _document(text("w"), section='<w:pgSz w:w="20000000" w:h="20000000"/>'),
    )
    yield (
        "margins larger than the page",
        _document(
            text("w " * 2000),
            section='<w:pgSz w:w="8000" w:h="8000"/><w:pgMar w:top="9000" w:bottom="9000" w:left="9000" w:right="9000"/>',
        ),
    )
    yield "a thousand columns", _document(text("w " * 2000), section='<w:cols w:num="1000"/>')
    yield (
        "indents beyond the page",
        _document(text("w " * 3000, "", '<w:ind w:left="999999" w:right="999999"/>')),
    )
    yield (
        "lines of no height",
        _document(text("w " * 20_000, "", '<w:spacing w:line="0" w:lineRule="exact"/>')),
    )
    yield (
        "spaces of a million points",
        _document(text("w", "", '<w:spacing w:before="20000000"/>') * 300),
    )
    yield (
        "twenty thousand styles in a chain",
        _document(
            text("w", "", '<w:pStyle w:val="s19999"/>') * 50,
            styles="".join(
                documents.style(f"s{n}", "paragraph", "", f"s{n - 1}") for n in range(20_000)
            ),
        ),
    )
    yield (
        "styles in a circle",
        _document(
            text("w", "", '<w:pStyle w:val="a"/>') * 50,
            styles=documents.style("a", "paragraph", "", "b")
            + documents.style("b", "paragraph", "", "a"),
        ),
    )
    yield (
        "twenty thousand notes",
        _document(
            documents.paragraph(
                "".join(
                    f'<w:r><w:t>w</w:t><w:footnoteReference w:id="{n}"/></w:r>'
                    for n in range(20_000)
                )
            ),
            footnotes="".join(
                f'<w:footnote w:id="{n}">{text("note")}</w:footnote>' for n in range(20_000)
            ),
        ),
    )
    yield (
        "a note longer than a page",
        _document(
            text("w") + documents.paragraph('<w:r><w:footnoteReference w:id="2"/></w:r>'),
            footnotes=f'<w:footnote w:id="2">{text("note ") * 20_000}</w:footnote>',
        ),
    )
    yield (
        "five thousand floating boxes",
        _document(documents.paragraph(documents.anchored(documents.shape(text("box"))) * 5_000)),
    )
    yield "boxes in boxes", _document(documents.paragraph(_boxes_in_boxes(100)))
    yield (
        "twenty thousand numbers",
        _document(
            "".join(
                documents.paragraph(
                    run("w"), '<w:numPr><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr>'
                )
                for _ in range(20_000)
            ),
            numbering='<w:abstractNum w:abstractNumId="0"><w:lvl w:ilvl="0"><w:start w:val="999999999"/><w:numFmt w:val="lowerRoman"/><w:lvlText w:val="%1."/></w:lvl></w:abstractNum><w:num w:numId="1"><w:abstractNumId w:val="0"/></w:num>',
        ),
    )
    yield (
        "letters as numbers without end",
        _document(
            "".join(
                documents.paragraph(
                    run("w"), '<w:numPr><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr>'
                )
                for _ in range(50)
            ),
            numbering='<w:abstractNum w:abstractNumId="0"><w:lvl w:ilvl="0"><w:start w:val="2147483000"/><w:numFmt w:val="upperLetter"/><w:lvlText w:val="%1."/></w:lvl></w:abstractNum><w:num w:numId="1"><w:abstractNumId w:val="0"/></w:num>',
        ),
    )
    yield (
        "fields in fields",
        _document(
            documents.paragraph(
                '<w:r><w:fldChar w:fldCharType="begin"/></w:r>' * 20_000
                + run("w")
                + '<w:r><w:fldChar w:fldCharType="end"/></w:r>' * 20_000
            )
        ),
    )
    yield (
        "ten thousand page numbers",
        _document(
            documents.paragraph(
                '<w:fldSimple w:instr="PAGE"><w:r><w:t>1</w:t></w:r></w:fldSimple>' * 10_000
            )
        ),
    )


def _boxes_in_boxes(depth: int) -> str:
    content = documents.text("deep")
    for _ in range(depth):
        content = documents.paragraph(documents.anchored(documents.shape(content)))
    return content.removeprefix("<w:p><w:pPr></w:pPr>").removesuffix("</w:p>")
