"""Make the demo's notice and workbook, each in two families of formats.

    python -m tools.make_office [FOLDER]

The made-up Ostrel Bay Ferries announce a winter timetable and count their
loads. The same seed gives the same files, to the byte.
"""

from __future__ import annotations

import io
import random
import re
import sys
import zipfile
from datetime import datetime
from pathlib import Path

from docx import Document
from docx.enum.text import WD_ALIGN_PARAGRAPH, WD_COLOR_INDEX
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls, qn
from docx.shared import Pt, RGBColor
from openpyxl import Workbook
from openpyxl.chart import BarChart, Reference
from openpyxl.comments import Comment
from openpyxl.formatting.rule import CellIsRule, ColorScaleRule, FormulaRule
from openpyxl.styles import Alignment, Font, NamedStyle, PatternFill
from openpyxl.worksheet.table import Table, TableStyleInfo

SEED = 20_260_402
DATE = (2026, 4, 2, 9, 0, 0)
FOLDER = Path(__file__).resolve().parent.parent / "high_pair" / "data" / "demo"
NOTICE, LOADS = "service-notice", "fares-and-loading"
ROUTES = ("Ostrel – Haven", "Ostrel – Skerry", "Haven – Outer Mole", "Skerry – Lantern Point")
FARES = (("Foot passenger", 6.5), ("Bicycle", 2.0), ("Car up to 5 m", 24.0), ("Van", 38.5))
TEAL, ORANGE, SAND, DARK = "2F7F8C", "E0952B", "F6F2E8", "13232E"


def packed(data: bytes) -> bytes:
    """Give a package with the same date for all members, so that it is the same every time."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(out, "w") as target:
        for info in source.infolist():
            entry = zipfile.ZipInfo(info.filename, DATE)
            entry.compress_type = zipfile.ZIP_STORED if info.filename == "mimetype" else 8
            entry.external_attr = 0o644 << 16
            content = source.read(info.filename)
            if info.filename == "docProps/core.xml":
                # Writers put the time of saving there.
                content = re.sub(
                    rb"(<dcterms:modified[^>]*>)[^<]*", rb"\g<1>2026-04-02T09:00:00Z", content
                )
            target.writestr(entry, content)
    return out.getvalue()


# The notice


def shaded(cell, fill: str) -> None:  # type: ignore[no-untyped-def]
    """Shade a cell."""
    properties = cell._tc.get_or_add_tcPr()
    properties.append(
        parse_xml(f'<w:shd {nsdecls("w")} w:val="clear" w:color="auto" w:fill="{fill}"/>')
    )


def notice() -> bytes:
    """Make the notice as a text document."""
    document = Document()
    core = document.core_properties
    core.author = core.last_modified_by = "Ostrel Bay Ferries"
    core.created = core.modified = datetime(*DATE)
    section = document.sections[0]
    section.page_width, section.page_height = Pt(595.3), Pt(841.9)
    section.left_margin = section.right_margin = Pt(64)
    styles = document.styles
    styles["Normal"].font.name = "Carlito"
    styles["Normal"].font.size = Pt(11)
    styles["Heading 1"].font.color.rgb = RGBColor.from_string("5FA8B5")
    styles["Heading 1"].font.name = "Carlito"
    styles["Heading 1"].font.size = Pt(15)
    styles["Heading 2"].font.color.rgb = RGBColor.from_string(TEAL)
    styles["Caption"].font.color.rgb = RGBColor.from_string("A6A6A6")
    styles["Caption"].font.size = Pt(9)
    header = section.header.paragraphs[0]
    run = header.add_run("Ostrel Bay Ferries · service notice 14")
    run.font.color.rgb = RGBColor.from_string("B4BEC4")
    title = document.add_paragraph(style="Title")
    title.add_run("Winter sailings from 3 November").font.color.rgb = RGBColor.from_string(DARK)
    document.add_heading("What changes", 1)
    text = document.add_paragraph("Fewer sailings run in the dark months. ")
    marked = text.add_run("The 06:10 from Skerry does not run.")
    marked.font.highlight_color = WD_COLOR_INDEX.YELLOW
    marked.font.color.rgb = RGBColor.from_string("D9822B")
    text.add_run(" All others call at every quay. The full times are in the ")
    _link(text, "winter timetable")
    text.add_run(", which is on board and at every ticket window.")
    for words in ("Be at the quay ten minutes before.", "Cars board last in wind.",
                  "Dogs travel on the open deck."):  # fmt: skip
        document.add_paragraph(words, style="List Bullet")
    document.add_heading("Sailings at a glance", 1)
    _status_table(document)
    document.add_paragraph(
        "Table 1: sailings on weekdays, and how they stand today", style="Caption"
    )
    document.add_heading("If you travel with a car", 2)
    warning = document.add_paragraph("Height above 2.1 m only on the large ship.")
    warning.paragraph_format.space_before = Pt(4)
    properties = warning._p.get_or_add_pPr()
    properties.append(
        parse_xml(f'<w:shd {nsdecls("w")} w:val="clear" w:color="auto" w:fill="{ORANGE}"/>')
    )
    warning.runs[0].font.color.rgb = RGBColor.from_string("FFFFFF")
    warning.runs[0].font.size = Pt(12)
    _field(document)
    document.add_heading("Further help", 1)
    closing = document.add_paragraph("The office on the quay answers questions from 8 to 17. ")
    closing.add_run("Lost property is kept for a month.").font.color.rgb = RGBColor.from_string(
        "9AA7AE"
    )
    _box(document)
    footer = section.footer.paragraphs[0]
    footer.alignment = WD_ALIGN_PARAGRAPH.CENTER
    footer.add_run("Printed on board · page ").font.color.rgb = RGBColor.from_string("8A979E")
    _page_number(footer)
    out = io.BytesIO()
    document.save(out)
    return packed(out.getvalue())


def _link(paragraph, words: str) -> None:  # type: ignore[no-untyped-def]
    paragraph._p.append(
        parse_xml(
            f'<w:hyperlink {nsdecls("w")} w:anchor="times"><w:r><w:rPr><w:color w:val="2F7F8C"/>'
            f"</w:rPr><w:t>{words}</w:t></w:r></w:hyperlink>"
        )
    )


def _status_table(document) -> None:  # type: ignore[no-untyped-def]
    rows = (
        ("06:40", ROUTES[0], "on time", "C6E5C3", "1E5631"),
        ("07:15", ROUTES[1], "late", "F7D774", "FFFFFF"),
        ("08:05", ROUTES[2], "cancelled", "E8A0A0", "D03030"),
        ("09:30", ROUTES[3], "on time", "C6E5C3", "1E5631"),
    )
    table = document.add_table(rows=1 + len(rows), cols=3)
    table.style = document.styles["Table Grid"]
    for cell, words in zip(table.rows[0].cells, ("Departs", "Route", "Today"), strict=True):
        shaded(cell, DARK)
        # Automatic text, which turns white on the dark.
        cell.paragraphs[0].add_run(words).bold = True
    for row, (time, route, status, fill, colour) in zip(table.rows[1:], rows, strict=True):
        row.cells[0].text, row.cells[1].text = time, route
        shaded(row.cells[2], fill)
        run = row.cells[2].paragraphs[0].add_run(status)
        run.font.color.rgb = RGBColor.from_string(colour)
        if time == "08:05":
            for cell in row.cells[:2]:
                shaded(cell, "EEEEEE")
                cell.paragraphs[0].runs[0].font.color.rgb = RGBColor.from_string("A0A0A0")


def _field(document) -> None:  # type: ignore[no-untyped-def]
    paragraph = document.add_paragraph("Your booking: ")
    paragraph._p.append(
        parse_xml(
            f"<w:sdt {nsdecls('w')}><w:sdtPr><w:showingPlcHdr/></w:sdtPr><w:sdtContent><w:r><w:rPr>"
            '<w:color w:val="BFBFBF"/></w:rPr><w:t>enter the number on your ticket</w:t></w:r>'
            "</w:sdtContent></w:sdt>"
        )
    )


def _box(document) -> None:  # type: ignore[no-untyped-def]
    paragraph = document.add_paragraph()
    spaces = (
        'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" '
        'xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" '
        'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" '
        'xmlns:wps="http://schemas.microsoft.com/office/word/2010/wordprocessingShape"'
    )
    width, height = 460 * 12_700, 64 * 12_700
    paragraph._p.append(
        parse_xml(
            f'<w:r {spaces}><w:drawing><wp:inline><wp:extent cx="{width}" cy="{height}"/>'
            '<wp:docPr id="40" name="Storm line"/><a:graphic><a:graphicData uri="http://schemas.'
            'microsoft.com/office/word/2010/wordprocessingShape"><wps:wsp><wps:cNvSpPr/><wps:spPr>'
            f'<a:xfrm><a:off x="0" y="0"/><a:ext cx="{width}" cy="{height}"/></a:xfrm>'
            '<a:prstGeom prst="roundRect"><a:avLst/></a:prstGeom><a:gradFill><a:gsLst>'
            '<a:gs pos="0"><a:srgbClr val="1E3D4F"/></a:gs><a:gs pos="100000">'
            '<a:srgbClr val="9CC3CC"/></a:gs></a:gsLst><a:lin ang="0"/></a:gradFill></wps:spPr>'
            '<wps:txbx><w:txbxContent><w:p><w:r><w:rPr><w:color w:val="FFFFFF"/><w:sz w:val="26"/>'
            "</w:rPr><w:t>In a storm call the quay before you set out: the board beside the ramp "
            "tells which ships stay in harbour.</w:t></w:r></w:p></w:txbxContent></wps:txbx>"
            '<wps:bodyPr anchor="ctr"/></wps:wsp></a:graphicData></a:graphic></wp:inline>'
            "</w:drawing></w:r>"
        )
    )


def _page_number(paragraph) -> None:  # type: ignore[no-untyped-def]
    for kind, text in (("begin", ""), ("", " PAGE "), ("separate", ""), ("text", "1"), ("end", "")):
        run = paragraph.add_run()
        run.font.color.rgb = RGBColor.from_string("8A979E")
        if kind in ("begin", "separate", "end"):
            mark = parse_xml(f'<w:fldChar {nsdecls("w")} w:fldCharType="{kind}"/>')
            run._r.append(mark)
        elif kind == "text":
            run.text = text
        else:
            run._r.append(parse_xml(f"<w:instrText {nsdecls('w')}>{text}</w:instrText>"))
    assert paragraph._p.findall(qn("w:r"))


# The workbook


def loads() -> bytes:
    """Make the workbook."""
    chance = random.Random(SEED)
    book = Workbook()
    book.properties.creator = "Ostrel Bay Ferries"
    book.properties.created = book.properties.modified = datetime(*DATE)
    _fares(book.active)
    _loading(book.create_sheet("Loading"), chance)
    hidden = book.create_sheet("Lists")
    hidden["A1"] = "Routes"
    hidden.sheet_state = "hidden"
    out = io.BytesIO()
    book.save(out)
    return packed(out.getvalue())


def _fares(sheet) -> None:  # type: ignore[no-untyped-def]
    sheet.title = "Fares"
    sheet.column_dimensions["A"].width = 24
    for letter in "BCDE":
        sheet.column_dimensions[letter].width = 15
    sheet.merge_cells("A1:E1")
    # Merged cells raise no row by themselves.
    sheet.row_dimensions[1].height = 28
    sheet["A1"] = "Fares from 3 November"
    sheet["A1"].font = Font(name="Carlito", size=20, bold=True, color=f"FF{TEAL}")
    sheet["A2"] = "in coins of the bay, a single crossing"
    sheet["A2"].font = Font(name="Carlito", size=10, italic=True, color="FFB4BEC4")
    note = NamedStyle("Footnote")
    note.font = Font(name="Carlito", size=9, color="FFA6A6A6")
    sheet.append([])
    sheet.append(["Passage", *(route.split(" – ")[1] for route in ROUTES)])
    for cell in sheet[4]:
        cell.fill = PatternFill("solid", fgColor=f"FF{DARK}")
        cell.font = Font(name="Carlito", bold=True, color="FF5C7A8A")
        cell.alignment = Alignment(horizontal="center")
    for count, (name, fare) in enumerate(FARES):
        sheet.append([name, *(round(fare * (1 + 0.35 * step), 2) for step in range(4))])
        for cell in sheet[5 + count]:
            cell.font = Font(name="Carlito", size=11, color=f"FF{DARK}")
            if count % 2:
                cell.fill = PatternFill("solid", fgColor="FFE3EEF0")
            if cell.column > 1:
                cell.number_format = "0.00"
    sheet["A10"] = "Children under six travel free."
    sheet["A11"] = "Groups of ten pay for nine."
    for cell in (sheet["A10"], sheet["A11"]):
        cell.style = note
    sheet["C7"].comment = Comment("Ask the purser for vans above 2.1 m.", "Purser")


def _loading(sheet, chance: random.Random) -> None:  # type: ignore[no-untyped-def]
    heads = ("Day", *ROUTES, "Change", "State")
    sheet.append(heads)
    for letter, width in zip("ABCDEFG", (12, 17, 17, 20, 22, 10, 12), strict=True):
        sheet.column_dimensions[letter].width = width
    for day in range(1, 29):
        shares = [round(min(1.0, max(0.05, chance.gauss(0.62, 0.2))), 2) for _ in ROUTES]
        change = round(chance.gauss(0, 0.12), 2)
        worst = max(shares)
        state = "full" if worst > 0.9 else "busy" if worst > 0.75 else "calm"
        sheet.append([f"Nov {day:02d}", *shares, change, state])
    last = sheet.max_row
    for row in sheet.iter_rows(min_row=2, max_row=last):
        for cell in row:
            cell.font = Font(name="Carlito", size=11, color=f"FF{DARK}")
        for cell in row[1:5]:
            cell.number_format = "0%"
        row[5].number_format = "0%;[Red]-0%"
    table = Table(displayName="Loads", ref=f"A1:G{last}")
    table.tableStyleInfo = TableStyleInfo("TableStyleMedium5", showRowStripes=True)
    sheet.add_table(table)
    sheet.conditional_formatting.add(
        f"B2:D{last}",
        ColorScaleRule("num", 0.2, "F6F2E8", "num", 0.6, "E0952B", "num", 1.0, "7A1E14"),
    )
    sheet.conditional_formatting.add(
        f"E2:E{last}",
        CellIsRule("greaterThan", ["0.9"], font=Font(color="FFFF9C9C"),
                   fill=PatternFill(bgColor="FFFFE0E0")),
    )  # fmt: skip
    for word, colour, fill in (("full", "FFFFFFFF", "FFE8A0A0"), ("calm", "FF8CC08A", "FFEAF6E8")):
        sheet.conditional_formatting.add(
            f"G2:G{last}",
            FormulaRule([f'$G2="{word}"'], font=Font(color=colour), fill=PatternFill(bgColor=fill)),
        )
    sheet.conditional_formatting.add(
        f"F2:F{last}", CellIsRule("lessThan", ["-0.5"], font=Font(color="FFFFC000"))
    )
    chart = BarChart()
    chart.title = "Loads in the first week"
    chart.add_data(
        Reference(sheet, min_col=2, max_col=5, min_row=1, max_row=8), titles_from_data=True
    )
    chart.set_categories(Reference(sheet, min_col=1, min_row=2, max_row=8))
    sheet.add_chart(chart, "I2")


# The same as OpenDocument

_SPACES = " ".join(
    f'xmlns:{prefix}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"'
    for prefix, name in (
        ("office", "office"), ("style", "style"), ("text", "text"), ("table", "table"),
        ("draw", "drawing"), ("fo", "xsl-fo-compatible"), ("svg", "svg-compatible"),
        ("number", "datastyle"),
    )
) + ' xmlns:xlink="http://www.w3.org/1999/xlink"'  # fmt: skip
_CALC = "urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0"


def _style(name: str, family: str, inner: str, parent: str = "") -> str:
    mark = f' style:parent-style-name="{parent}"' if parent else ""
    return f'<style:style style:name="{name}" style:family="{family}"{mark}>{inner}</style:style>'


def _text(colour: str = "", more: str = "") -> str:
    own = f'fo:color="#{colour.lower()}"' if colour else ""
    return f"<style:text-properties {own} {more}/>"


def opendocument(kind: str, body: str, automatic: str, common: str, master: str) -> bytes:
    """Pack an OpenDocument file. kind: text or spreadsheet."""
    media = f"application/vnd.oasis.opendocument.{kind}"
    default = "".join(
        f'<style:default-style style:family="{family}"><style:text-properties style:font-name='
        '"Carlito" fo:font-size="11pt" style:use-window-font-color="true"/></style:default-style>'
        for family in ("paragraph", "table-cell")
    )
    parts = {
        "mimetype": media,
        "content.xml": (
            f'<office:document-content {_SPACES} office:version="1.3"><office:automatic-styles>'
            f"{automatic}</office:automatic-styles><office:body><office:{kind}>{body}"
            f"</office:{kind}></office:body></office:document-content>"
        ),
        "styles.xml": (
            f'<office:document-styles {_SPACES} office:version="1.3"><office:font-face-decls>'
            '<style:font-face style:name="Carlito" svg:font-family="Carlito"/>'
            f"</office:font-face-decls><office:styles>{default}{common}</office:styles>"
            '<office:automatic-styles><style:page-layout style:name="L"><style:page-layout-properties '
            'fo:page-width="21cm" fo:page-height="29.7cm" fo:margin="2.2cm"/></style:page-layout>'
            '</office:automatic-styles><office:master-styles><style:master-page style:name="Standard" '
            f'style:page-layout-name="L">{master}</style:master-page></office:master-styles>'
            "</office:document-styles>"
        ),
        "META-INF/manifest.xml": (
            '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" '
            f'manifest:version="1.3"><manifest:file-entry manifest:full-path="/" '
            f'manifest:media-type="{media}"/><manifest:file-entry manifest:full-path="content.xml" '
            'manifest:media-type="text/xml"/><manifest:file-entry manifest:full-path="styles.xml" '
            'manifest:media-type="text/xml"/></manifest:manifest>'
        ),
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for name, content in parts.items():
            package.writestr(name, content)
    return packed(out.getvalue())


def notice_as_opendocument() -> bytes:
    """Make the notice as OpenDocument text."""
    common = (
        _style(
            "Heading1", "paragraph", _text("5FA8B5", 'fo:font-size="15pt" fo:font-weight="bold"')
        )
        + _style("Caption", "paragraph", _text("A6A6A6", 'fo:font-size="9pt"'))
        + _style("Small", "paragraph", _text("B4BEC4"))
    )
    shade = '<style:paragraph-properties fo:background-color="#{}" fo:padding="0.1cm"/>'
    fill = '<style:table-cell-properties fo:background-color="#{}" fo:padding="0.1cm"/>'
    automatic = (
        _style(
            "Warn",
            "paragraph",
            shade.format(ORANGE.lower()) + _text("FFFFFF", 'fo:font-size="12pt"'),
        )
        + _style("Mark", "text", _text("D9822B", 'fo:background-color="#ffff00"'))
        + _style("Link", "text", _text(TEAL))
        + _style("Pale", "text", _text("9AA7AE"))
        + _style("Dark", "table-cell", fill.format(DARK.lower()))
        + _style("Ok", "table-cell", fill.format("c6e5c3"))
        + _style("Late", "table-cell", fill.format("f7d774"))
        + _style("Off", "table-cell", fill.format("e8a0a0"))
        + _style("White", "text", _text("FFFFFF"))
        + _style("Red", "text", _text("D03030"))
        + _style("Col", "table-column", '<style:table-column-properties style:column-width="5cm"/>')
    )

    def span(words: str, name: str) -> str:
        return f'<text:span text:style-name="{name}">{words}</text:span>'

    def cell(words: str, name: str = "") -> str:
        mark = f' table:style-name="{name}"' if name else ""
        return f"<table:table-cell{mark}><text:p>{words}</text:p></table:table-cell>"

    rows = (
        ("06:40", ROUTES[0], "on time", "Ok", ""),
        ("07:15", ROUTES[1], "late", "Late", "White"),
        ("08:05", ROUTES[2], "cancelled", "Off", "Red"),
    )
    body = (
        '<text:h text:style-name="Heading1" text:outline-level="1">Winter sailings from 3 November</text:h>'
        f"<text:p>Fewer sailings run in the dark months. {span('The 06:10 from Skerry does not run.', 'Mark')}"
        f' The full times are in the <text:a xlink:href="#times">{span("winter timetable", "Link")}</text:a>'
        ', which is on board.</text:p><table:table table:name="Sailings"><table:table-column '
        'table:style-name="Col" table:number-columns-repeated="3"/><table:table-row>'
        + "".join(cell(words, "Dark") for words in ("Departs", "Route", "Today"))
        + "</table:table-row>"
        + "".join(
            "<table:table-row>"
            + cell(time)
            + cell(route)
            + cell(span(state, own) if own else state, name)
            + "</table:table-row>"
            for time, route, state, name, own in rows
        )
        + '</table:table><text:p text:style-name="Caption">Table 1: sailings on weekdays</text:p>'
        '<text:p text:style-name="Warn">Height above 2.1 m only on the large ship.</text:p>'
        f"<text:p>{span('Lost property is kept for a month.', 'Pale')}</text:p>"
    )
    master = (
        '<style:header><text:p text:style-name="Small">Ostrel Bay Ferries · service notice 14</text:p>'
        "</style:header>"
    )
    return opendocument("text", body, automatic, common, master)


def loads_as_opendocument() -> bytes:
    """Make the workbook as an OpenDocument spreadsheet."""
    chance = random.Random(SEED)

    def cells_style(name: str, fill: str, colour: str, more: str = "") -> str:
        own = (
            f'<style:table-cell-properties fo:background-color="#{fill.lower()}"/>' if fill else ""
        )
        return _style(name, "table-cell", own + _text(colour, more))

    common = cells_style("Full", "E8A0A0", "FFFFFF") + cells_style("Calm", "EAF6E8", "8CC08A")
    red = (
        '<number:percentage-style style:name="P0"><number:number number:decimal-places="0"/>'
        "<number:text>%</number:text></number:percentage-style>"
        '<number:percentage-style style:name="P1"><style:text-properties fo:color="#ff0000"/>'
        '<number:text>-</number:text><number:number number:decimal-places="0"/><number:text>%'
        '</number:text><style:map style:condition="value()&gt;=0" style:apply-style-name="P0"/>'
        "</number:percentage-style>"
    )
    automatic = (
        red
        + cells_style("Head", DARK, "5C7A8A", 'fo:font-weight="bold"')
        + cells_style("Note", "", "A6A6A6", 'fo:font-size="9pt"')
        + '<style:style style:name="Change" style:family="table-cell" style:data-style-name="P1"/>'
        + _style(
            "Col", "table-column", '<style:table-column-properties style:column-width="3.6cm"/>'
        )
    )

    def words(text: str, name: str = "") -> str:
        mark = f' table:style-name="{name}"' if name else ""
        return f'<table:table-cell{mark} office:value-type="string"><text:p>{text}</text:p></table:table-cell>'

    def share(value: float, name: str = "") -> str:
        mark = f' table:style-name="{name}"' if name else ""
        return (
            f'<table:table-cell{mark} office:value-type="percentage" office:value="{value}">'
            f"<text:p>{value:.0%}</text:p></table:table-cell>"
        )

    rows = ["".join(words(each, "Head") for each in ("Day", *ROUTES[:3], "Change", "State"))]
    for day in range(1, 15):
        shares = [round(min(1.0, max(0.05, chance.gauss(0.62, 0.2))), 2) for _ in range(3)]
        state = "full" if max(shares) > 0.9 else "busy" if max(shares) > 0.75 else "calm"
        change = round(chance.gauss(0, 0.12), 2)
        rows.append(
            words(f"Nov {day:02d}")
            + "".join(share(each) for each in shares)
            + share(change, "Change")
            + words(state)
        )
    rows.append(words("Counted at the ramp.", "Note"))
    scale = "".join(
        f'<calcext:color-scale-entry calcext:type="number" calcext:value="{value}" '
        f'calcext:color="#{colour}"/>'
        for value, colour in ((0.2, "f6f2e8"), (0.6, "e0952b"), (1.0, "7a1e14"))
    )
    states = "".join(
        f'<calcext:condition calcext:value="=&quot;{word}&quot;" calcext:apply-style-name="{name}" '
        'calcext:base-cell-address="Loading.F2"/>'
        for word, name in (("full", "Full"), ("calm", "Calm"))
    )
    body = (
        '<table:table table:name="Loading"><table:table-column table:style-name="Col" '
        'table:number-columns-repeated="6"/>'
        + "".join(f"<table:table-row>{row}</table:table-row>" for row in rows)
        + f'<calcext:conditional-formats xmlns:calcext="{_CALC}"><calcext:conditional-format '
        'calcext:target-range-address="Loading.B2:Loading.D15"><calcext:color-scale>'
        f"{scale}</calcext:color-scale></calcext:conditional-format><calcext:conditional-format "
        f'calcext:target-range-address="Loading.F2:Loading.F15">{states}'
        "</calcext:conditional-format></calcext:conditional-formats></table:table>"
    )
    return opendocument("spreadsheet", body, automatic, common, "")


def main(folder: Path) -> None:
    """Write the four files."""
    for name, data in (
        (f"{NOTICE}.docx", notice()),
        (f"{NOTICE}.odt", notice_as_opendocument()),
        (f"{LOADS}.xlsx", loads()),
        (f"{LOADS}.ods", loads_as_opendocument()),
    ):
        (folder / name).write_bytes(data)


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER)
