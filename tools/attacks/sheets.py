"""Workbooks that are made to do harm."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tests import decks, workbooks

Made = Callable[[], bytes]


def _workbook(rows: str = "", **options: object) -> Made:
    return lambda: decks.pack(workbooks.members(rows, **options))  # type: ignore[arg-type]


def _condition(formula: str, area: str = "A1:J1000") -> Made:
    rows = "".join(workbooks.row(n, workbooks.number(f"A{n}", n)) for n in range(1, 1001))
    return _workbook(
        rows,
        tail=workbooks.formatting(area, workbooks.rule("expression", 0, [formula])),
        differences=[workbooks.dxf(workbooks.rgb("AAAAAA"))],
    )


def sheets() -> Iterator[tuple[str, Made]]:
    """List workbooks, each with what is hostile in it."""
    row, cell, number = workbooks.row, workbooks.cell, workbooks.number
    for formula in (
        "SUM(MUNIT(20000))&gt;0", "SUM(SEQUENCE(20000,20000))&gt;0", "PERMUT(1000000,500000)&gt;1",
        "SUMPRODUCT(ROW(A1:A1048576)^2)&gt;0", "9^9^9^9&gt;0", "REPT(&quot;x&quot;,999999999)=1",
        "FACT(FACT(FACT(9)))&gt;0", "COMBIN(1000000,500000)&gt;0", "MMULT(MUNIT(2000),MUNIT(2000))&gt;0",
        "SUM(RANDARRAY(30000,30000))&gt;0", "LEN(BASE(9^99,2,2000000000))&gt;0", "A1" + "+A1" * 190 + "&gt;0",
        "(" * 190 + "A1" + ")" * 190, "IF(" * 60 + "A1" + ",1,0)" * 60, "-" * 390 + "A1",
        "MULTINOMIAL(170,170,170,170)&gt;0", "GCD(9^99,9^98)&gt;0", "FACTDOUBLE(99999999)&gt;0",
        "SUM(A1:J20000*A1:J20000)&gt;0", "1000000000!&gt;0", "DEC2BIN(9^99)=1", "SUM(ROW(INDIRECT(&quot;1:9999999&quot;)))",
        "BINOM.DIST(500000,1000000,0.5,TRUE)&gt;0", "ROMAN(10^9)=1", "ARABIC(REPT(&quot;M&quot;,10^8))=1", "2^99999999&gt;0",
        "LCM(99999989,99999971,99999959,99999941)&gt;0", "COMBINA(999999,99999)&gt;0", "PERMUTATIONA(999999,999999)&gt;0",
    ):  # fmt: skip
        yield f"a condition of {formula[:40]}", _condition(formula)
    yield (
        "ten thousand conditions",
        _workbook(
            "".join(row(n, number(f"A{n}", n)) for n in range(1, 101)),
            tail="".join(
                workbooks.formatting(
                    "A1:A100",
                    workbooks.rule("cellIs", 0, [str(n)], 'operator="greaterThan"', n + 1),
                )
                for n in range(10_000)
            ),
            differences=[workbooks.dxf(workbooks.rgb("AAAAAA"))],
        ),
    )
    yield (
        "a condition of ten thousand areas",
        _workbook(
            "".join(row(n, number(f"A{n}", n)) for n in range(1, 10_001)),
            tail=workbooks.formatting(
                " ".join(f"A{n}:B{n}" for n in range(1, 10_001)),
                workbooks.rule("duplicateValues", 0),
            ),
            differences=[workbooks.dxf(workbooks.rgb("AAAAAA"))],
        ),
    )
    yield (
        "a colour scale over a hundred thousand cells",
        _workbook(
            "".join(row(n, number(f"A{n}", n)) for n in range(1, 100_001)),
            tail='<conditionalFormatting sqref="A1:A100000"><cfRule type="colorScale" priority="1"><colorScale><cfvo type="min"/><cfvo type="max"/>'
            '<color rgb="FFFF0000"/><color rgb="FF00FF00"/></colorScale></cfRule></conditionalFormatting>',
        ),
    )
    yield (
        "a million cells",
        _workbook(
            "".join(
                row(n, "".join(number(f"{c}{n}", n) for c in "ABCDEFGHIJ"))
                for n in range(1, 100_001)
            )
        ),
    )
    yield (
        "half a million words",
        _workbook(
            "".join(
                row(n, "".join(cell(f"{c}{n}", f"w{n}") for c in "ABCDE"))
                for n in range(1, 100_001)
            )
        ),
    )
    yield (
        "two hundred thousand runs in shared words",
        _workbook(
            row(1, cell("A1", "0", 0, "s")),
            strings="<si>"
            + "<r><rPr><color rgb='FFAAAAAA'/></rPr><t>w </t></r>" * 200_000
            + "</si>",
        ),
    )
    yield (
        "two hundred thousand shared words of runs",
        _workbook(
            "".join(row(n, cell(f"A{n}", str(n - 1), 0, "s")) for n in range(1, 50_001)),
            strings="".join(
                f"<si><r><t>w{n}</t></r><r><rPr><color rgb='FF{n * 7919 % 2**24:06X}'/></rPr><t>w</t></r></si>"
                for n in range(50_000)
            ),
        ),
    )
    yield (
        "a hundred thousand styles",
        _workbook(
            "".join(row(n, cell(f"A{n}", "w", n % 65_000)) for n in range(1, 65_001)),
            fonts=[workbooks.font(workbooks.rgb(f"{n * 7919 % 2**24:06X}")) for n in range(65_000)],
            styles=[f'fontId="{n + 1}" fillId="0" xfId="0"' for n in range(65_000)],
        ),
    )
    yield (
        "a hundred thousand merged cells",
        _workbook(
            row(1, cell("A1")),
            tail="<mergeCells>"
            + "".join(f'<mergeCell ref="A{n * 2 + 1}:J{n * 2 + 2}"/>' for n in range(100_000))
            + "</mergeCells>",
        ),
    )
    yield (
        "cells merged over all",
        _workbook(
            row(1, cell("A1")), tail='<mergeCells><mergeCell ref="A1:XFD1048576"/></mergeCells>'
        ),
    )
    yield (
        "a number format of brackets",
        _workbook(
            row(1, number("A1", 5, 1)),
            formats=f'<numFmt numFmtId="200" formatCode="{"[" * 40_000}"/>',
            styles=['numFmtId="200" fontId="0" fillId="0" xfId="0"'],
        ),
    )
    yield (
        "a number format of a million digits",
        _workbook(
            row(1, number("A1", 5, 1)),
            formats=f'<numFmt numFmtId="200" formatCode="{"0" * 500_000}.{"0" * 500_000}"/>',
            styles=['numFmtId="200" fontId="0" fillId="0" xfId="0"'],
        ),
    )
    yield (
        "a number format of quotes",
        _workbook(
            row(1, number("A1", 5, 1)),
            formats=f'<numFmt numFmtId="200" formatCode="{"&quot;" * 40_001}"/>',
            styles=['numFmtId="200" fontId="0" fillId="0" xfId="0"'],
        ),
    )
    yield (
        "numbers without end",
        _workbook("".join(row(n, cell(f"A{n}", "9" * 4000, 0, "n")) for n in range(1, 500))),
    )
    yield (
        "rows out of order",
        _workbook("".join(row(n, cell(f"A{n}")) for n in range(50_000, 0, -1))),
    )
    yield "the last cell alone", _workbook(row(1_048_576, cell("XFD1048576")))
    yield (
        "columns of a hundred thousand",
        _workbook(
            row(1, cell("A1")),
            before="<cols>" + '<col min="1" max="16384" width="9"/>' * 100_000 + "</cols>",
        ),
    )
    yield "a cell of thirty million letters", _workbook(row(1, cell("A1", "w" * 30_000_000)))
    yield "a cell of a million lines", _workbook(row(1, cell("A1", "w&#10;" * 1_000_000)))
