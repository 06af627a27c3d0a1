"""OpenDocument files that are made to do harm."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tests import decks, odf_decks, odf_files

Made = Callable[[], bytes]


def _odp(body: str = "", **options: str) -> Made:
    return lambda: odf_decks.pack(*odf_decks.parts(body, **options))


def _odf(kind: str, body: str, automatic: str = "", common: str = "") -> Made:
    element = "text" if kind == odf_files.TEXT else "spreadsheet"
    styles = (
        f"<office:styles>{common}</office:styles><office:automatic-styles>"
        '<style:page-layout style:name="L"><style:page-layout-properties fo:page-width="15cm" '
        'fo:page-height="20cm" fo:margin="2cm"/></style:page-layout></office:automatic-styles>'
        '<office:master-styles><style:master-page style:name="Standard" style:page-layout-name="L"/></office:master-styles>'
    )
    content = (
        f"<office:automatic-styles>{automatic}</office:automatic-styles><office:body>"
        f"<office:{element}>{body}</office:{element}></office:body>"
    )
    return lambda: odf_decks.pack(styles, content, mime=kind)


def flat_text(pictures: int) -> bytes:
    """Give a flat text with pictures in it."""
    import base64

    data = base64.b64encode(decks.flat_picture((9, 9, 9), (40, 40))).decode()
    frames = (
        '<text:p>w<draw:frame text:anchor-type="as-char" svg:width="1cm" svg:height="1cm"><draw:image><office:binary-data>'
        f"{data}</office:binary-data></draw:image></draw:frame></text:p>"
    ) * pictures
    return (
        f'<?xml version="1.0"?><office:document {odf_decks.SPACES} office:mimetype="{odf_files.TEXT}"><office:styles/>'
        f"<office:body><office:text>{frames}</office:text></office:body></office:document>"
    ).encode()


def decks_of_odf() -> Iterator[tuple[str, Made]]:
    """List OpenDocument slides, each with what is hostile in it."""
    frame, p = odf_decks.frame, odf_files.p
    yield "a word of a million letters", _odp(frame(p("w" * 1_000_000)))
    yield (
        "spans five hundred deep",
        _odp(frame(p("<text:span>" * 200 + "w" + "</text:span>" * 200))),
    )
    yield (
        "spans five thousand deep",
        _odp(frame(p("<text:span>" * 5_000 + "w" + "</text:span>" * 5_000))),
    )
    yield "fifty thousand spans", _odp(frame(p("<text:span>w </text:span>" * 50_000)))
    yield (
        "lists eighty deep",
        _odp(
            frame("<text:list><text:list-item>" * 80 + p() + "</text:list-item></text:list>" * 80)
        ),
    )
    yield "twenty thousand frames", _odp(frame(p()) * 20_000)
    yield "groups four hundred deep", _odp("<draw:g>" * 100 + frame(p()) + "</draw:g>" * 100)
    yield "a million blanks in one element", _odp(frame(p('w<text:s text:c="999999999"/>w')))
    yield (
        "a path of a megabyte",
        _odp(
            '<draw:path svg:width="9cm" svg:height="9cm" svg:viewBox="0 0 100 100" svg:d="M0 0'
            + "".join(
                f"C{n % 97} {n % 89} {n % 83} {n % 79} {n % 73} {n % 71}" for n in range(60_000)
            )
            + '"/>'
            + frame(p())
        ),
    )
    yield (
        "a path of letters",
        _odp(
            f'<draw:path svg:width="9cm" svg:height="9cm" svg:viewBox="0 0 100 100" svg:d="{"M" * 1_000_000}"/>'
            + frame(p())
        ),
    )
    yield (
        "a shape of formulas",
        _odp(
            '<draw:custom-shape svg:width="9cm" svg:height="9cm"><text:p>w</text:p><draw:enhanced-geometry '
            'svg:viewBox="0 0 100 100" draw:enhanced-path="M 0 0 L ?f500 ?f500 Z">'
            + "".join(
                f'<draw:equation draw:name="f{n + 1}" draw:formula="?f{n}*?f{n}+1"/>'
                for n in range(500)
            )
            + "</draw:enhanced-geometry></draw:custom-shape>"
        ),
    )
    yield (
        "styles in a chain of twenty thousand",
        _odp(
            frame(p("w", "s19999")),
            automatic="".join(
                odf_decks.style(
                    f"s{n}", "paragraph", odf_decks.text('fo:color="#999999"'), f"s{n - 1}"
                )
                for n in range(20_000)
            ),
        ),
    )
    yield (
        "a table of a million repeated cells",
        _odp(
            '<draw:frame svg:width="9cm" svg:height="9cm"><table:table>'
            '<table:table-column table:number-columns-repeated="1000"/><table:table-row table:number-rows-repeated="1000">'
            '<table:table-cell table:number-columns-repeated="1000"><text:p>w</text:p></table:table-cell></table:table-row></table:table></draw:frame>'
        ),
    )
    yield (
        "an outline of a megabyte of points",
        _odp(
            '<draw:polygon svg:width="9cm" svg:height="9cm" svg:viewBox="0 0 100 100" draw:points="'
            + "".join(f"{n * 7 % 100},{n * 13 % 100} " for n in range(200_000))
            + '"/>'
            + frame(p())
        ),
    )


def texts_of_odf() -> Iterator[tuple[str, Made]]:
    """List OpenDocument texts, each with what is hostile in it."""
    p = odf_files.p
    text = odf_files.TEXT
    yield "a word of a million letters", _odf(text, p("w" * 1_000_000))
    yield "a hundred thousand paragraphs", _odf(text, p("w") * 100_000)
    yield "fifty thousand spans", _odf(text, p("<text:span>w </text:span>" * 50_000))
    yield "spans two hundred deep", _odf(text, p("<text:span>" * 200 + "w" + "</text:span>" * 200))
    yield (
        "ten thousand named styles",
        _odf(
            text,
            "".join(p("w", f"s{n}") for n in range(10_000)),
            "".join(
                odf_decks.style(f"s{n}", "paragraph", odf_decks.text(f'fo:color="#{n:06x}"'))
                for n in range(10_000)
            ),
        ),
    )
    yield (
        "a long text of real shape",
        _odf(
            text,
            "".join(
                p(
                    f"Sailing {n} leaves the quay at dawn and "
                    + odf_files.span("returns", f"t{n % 50}")
                    + " with the tide, wind and weather permitting, on every working day of the week.",
                    f"p{n % 50}",
                )
                for n in range(4_000)
            ),
            "".join(
                odf_decks.style(
                    f"p{n}", "paragraph", odf_decks.text('fo:color="#777777"'), "Standard"
                )
                + odf_decks.style(f"t{n}", "text", odf_decks.text('fo:color="#999999"'))
                for n in range(50)
            ),
            odf_decks.style("Standard", "paragraph", odf_decks.text('fo:font-size="11pt"')),
        ),
    )
    yield (
        "lists eighty deep",
        _odf(text, "<text:list><text:list-item>" * 80 + p() + "</text:list-item></text:list>" * 80),
    )
    yield (
        "a table of fifty thousand rows",
        _odf(text, odf_files.table(*[odf_files.row(odf_files.cell())] * 50_000)),
    )
    yield (
        "a table of repeated rows and columns",
        _odf(
            text,
            odf_files.table(
                odf_files.row(
                    odf_files.cell("w", more='table:number-columns-repeated="5000"'),
                    more='table:number-rows-repeated="5000"',
                )
            ),
        ),
    )
    yield (
        "sections two hundred deep",
        _odf(text, "<text:section>" * 100 + p() + "</text:section>" * 100),
    )
    yield (
        "twenty thousand notes",
        _odf(
            text,
            p(
                "".join(
                    "w<text:note><text:note-citation>1</text:note-citation><text:note-body><text:p>note</text:p></text:note-body></text:note>"
                    for _ in range(20_000)
                )
            ),
        ),
    )
    yield "a hundred thousand breaks", _odf(text, p("<text:line-break/>" * 100_000 + "w"))
    yield "a hundred thousand tabs", _odf(text, p("<text:tab/>" * 100_000 + "w"))


def sheets_of_odf() -> Iterator[tuple[str, Made]]:
    """List OpenDocument spreadsheets, each with what is hostile in it."""
    sheet, row, cell, table = odf_files.SHEET, odf_files.row, odf_files.cell, odf_files.table
    yield (
        "rows and columns repeated with words",
        _odf(
            sheet,
            table(
                row(
                    cell("w", more='table:number-columns-repeated="16000"'),
                    more='table:number-rows-repeated="1000000"',
                )
            ),
        ),
    )
    yield (
        "rows repeated, each of its look",
        _odf(
            sheet,
            table(
                *[
                    row(
                        cell("w", more='table:number-columns-repeated="4000"'),
                        more='table:number-rows-repeated="4000"',
                    )
                ]
                * 200
            ),
        ),
    )
    yield "a hundred thousand cells", _odf(sheet, table(*[row(cell("w") * 10)] * 10_000))
    yield (
        "a hundred thousand columns",
        _odf(sheet, table(row(cell("w")), columns="<table:table-column/>" * 100_000)),
    )
    yield (
        "columns of a hundred thousand defaults",
        _odf(
            sheet,
            table(
                *[row(cell("w") * 200)] * 100,
                columns="".join(
                    f'<table:table-column table:default-cell-style-name="c{n}"/>'
                    for n in range(20_000)
                ),
            ),
        ),
    )
    for condition in (
        "(" * 30_000,
        "cell-content()>" + "1" * 100_000,
        "is-true-formula(" + "(" * 5_000,
        'cell-content()="' + '""' * 30_000,
        "cell-content-is-between(" + " " * 100_000,
        "and " * 20_000,
        "is-true-formula(PERMUT(1000000;500000)>1)",
        "is-true-formula(SUM(MUNIT(20000))>1)",
    ):
        yield (
            f"a condition of {condition[:20]}",
            _odf(
                sheet,
                table(row(odf_files.number(5, "c"))),
                (
                    f'<style:style style:name="c" style:family="table-cell"><style:map style:condition="{condition.replace(chr(34), "&quot;")}" '
                    'style:apply-style-name="d" style:base-cell-address="Fares.A1"/></style:style>'
                ),
                odf_decks.style("d", "table-cell", odf_decks.text('fo:color="#aaaaaa"')),
            ),
        )
