"""Workbooks for tests, written as compact XML."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path

from high_pair.measure.pairs import Pair
from tests.decks import DeckFolder, pack, pairs_of, theme_xml

MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
SPACES = (
    f'xmlns="{MAIN}" xmlns:r="{OFFICE}" '
    'xmlns:xdr="http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing" '
    'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" '
    'xmlns:x14="http://schemas.microsoft.com/office/spreadsheetml/2009/9/main" '
    'xmlns:xm="http://schemas.microsoft.com/office/excel/2006/main"'
)
_TYPES = "application/vnd.openxmlformats-officedocument.spreadsheetml"
PLAIN_FONT = '<font><sz val="11"/><color theme="1"/><name val="Carlito"/></font>'
NO_FILLS = '<fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill>'


def font(colour: str = "", more: str = "", size: str = "11") -> str:
    """Write a font; colour: the attributes of its colour, none for a plain one."""
    inside = f"<color {colour}/>" if colour else ""
    return f'<font>{more}<sz val="{size}"/>{inside}<name val="Carlito"/></font>'


def rgb(code: str, alpha: str = "FF") -> str:
    """Write the attribute of a colour."""
    return f'rgb="{alpha}{code}"'


def solid(colour: str) -> str:
    """Write a solid fill of a cell; colour: attributes."""
    return (
        f'<fill><patternFill patternType="solid"><fgColor {colour}/><bgColor indexed="64"/>'
        "</patternFill></fill>"
    )


def pattern(kind: str, front: str, back: str) -> str:
    """Write a patterned fill."""
    return (
        f'<fill><patternFill patternType="{kind}"><fgColor {front}/><bgColor {back}/>'
        "</patternFill></fill>"
    )


def dxf(colour: str = "", fill: str = "", more: str = "") -> str:
    """Write what a conditional format changes; colour, fill: attributes of colours."""
    own = (
        f"<font>{more}<color {colour}/></font>"
        if colour
        else (f"<font>{more}</font>" if more else "")
    )
    filled = f"<fill><patternFill><bgColor {fill}/></patternFill></fill>" if fill else ""
    return f"<dxf>{own}{filled}</dxf>"


def cell(reference: str, value: str = "Word", style: int = 0, kind: str = "inlineStr") -> str:
    """Write a cell: of words, or with another kind of a stored value."""
    mark = f's="{style}"' if style else ""
    if kind == "inlineStr":
        return f'<c r="{reference}" {mark} t="inlineStr"><is><t>{value}</t></is></c>'
    return f'<c r="{reference}" {mark} t="{kind}"><v>{value}</v></c>'


def number(reference: str, value: float, style: int = 0) -> str:
    """Write a cell with a number."""
    return cell(reference, f"{value:g}", style, "n")


def row(count: int, cells: str, more: str = "") -> str:
    """Write a row."""
    return f'<row r="{count}" {more}>{cells}</row>'


def rule(
    kind: str, difference: int = 0, formulas: Sequence[str] = (), more: str = "", priority: int = 1
) -> str:
    """Write a rule of a conditional format."""
    inside = "".join(f"<formula>{formula}</formula>" for formula in formulas)
    return (
        f'<cfRule type="{kind}" dxfId="{difference}" priority="{priority}" {more}>{inside}</cfRule>'
    )


def formatting(area: str, *rules: str) -> str:
    """Write a conditional format."""
    return f'<conditionalFormatting sqref="{area}">{"".join(rules)}</conditionalFormatting>'


def members(
    rows: str = "",
    *,
    fonts: Sequence[str] = (),
    fills: Sequence[str] = (),
    styles: Sequence[str] = (),
    named: str = "",
    named_list: str = "",
    formats: str = "",
    differences: Sequence[str] = (),
    colours: str = "",
    tables: str = "",
    tail: str = "",
    before: str = "",
    state: str = "",
    strings: str = "",
    relationships: Mapping[str, tuple[str, str]] | None = None,
    theme: str | None = None,
    more: Mapping[str, bytes] | None = None,
) -> dict[str, bytes]:
    """Give the members of a workbook of one sheet.

    fonts, fills: after the plain ones, so the first is font 1 and fill 2;
    styles: the attributes and insides of further cell styles, the first is 1.
    """
    package = "http://schemas.openxmlformats.org/package/2006"
    entries = "".join(f"<xf {each}</xf>" if ">" in each else f"<xf {each}/>" for each in styles)
    links = "".join(
        f'<Relationship Id="{key}" Type="{OFFICE}/{kind}" Target="{target}"/>'
        for key, (kind, target) in (relationships or {}).items()
    )
    listed = {
        "rId1": ("worksheet", "worksheets/sheet1.xml"),
        "rId2": ("styles", "styles.xml"),
        "rId3": ("theme", "theme/theme1.xml"),
        "rId4": ("sharedStrings", "sharedStrings.xml"),
    }
    book_links = "".join(
        f'<Relationship Id="{key}" Type="{OFFICE}/{kind}" Target="{target}"/>'
        for key, (kind, target) in listed.items()
    )
    parts = {
        "[Content_Types].xml": (
            f'<Types xmlns="{package}/content-types">'
            '<Default Extension="rels" ContentType="application/xml"/>'
            '<Default Extension="xml" ContentType="application/xml"/>'
            f'<Override PartName="/xl/workbook.xml" ContentType="{_TYPES}.sheet.main+xml"/></Types>'
        ),
        "_rels/.rels": (
            f'<Relationships xmlns="{package}/relationships"><Relationship Id="rId1" '
            f'Type="{OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>'
        ),
        "xl/workbook.xml": (
            f'<workbook {SPACES}><sheets><sheet name="Fares" sheetId="1" {state} r:id="rId1"/>'
            "</sheets></workbook>"
        ),
        "xl/_rels/workbook.xml.rels": (
            f'<Relationships xmlns="{package}/relationships">{book_links}</Relationships>'
        ),
        "xl/worksheets/sheet1.xml": (
            f"<worksheet {SPACES}>{before}<sheetData>{rows}</sheetData>{tail}</worksheet>"
        ),
        "xl/worksheets/_rels/sheet1.xml.rels": (
            f'<Relationships xmlns="{package}/relationships">{links}</Relationships>'
        ),
        "xl/sharedStrings.xml": f"<sst {SPACES}>{strings}</sst>",
        "xl/styles.xml": (
            f"<styleSheet {SPACES}><numFmts>{formats}</numFmts>"
            f'<fonts count="{1 + len(fonts)}">{PLAIN_FONT}{"".join(fonts)}</fonts>'
            f'<fills count="{2 + len(fills)}">{NO_FILLS}{"".join(fills)}</fills>'
            "<borders><border/></borders>"
            f'<cellStyleXfs><xf fontId="0" fillId="0"/>{named}</cellStyleXfs>'
            f'<cellXfs count="{1 + len(styles)}"><xf xfId="0"/>{entries}</cellXfs>'
            f'<cellStyles><cellStyle name="Normal" xfId="0" builtinId="0"/>{named_list}</cellStyles>'
            f"<dxfs>{''.join(differences)}</dxfs>{tables}{colours}</styleSheet>"
        ),
        "xl/theme/theme1.xml": theme_xml() if theme is None else theme,
    }
    found = {name: content.encode() for name, content in parts.items()}
    found.update(more or {})
    return found


class WorkbookFolder(DeckFolder):
    """A folder for a test's workbooks."""

    def workbook(self, rows: str = "", name: str = "test.xlsx", **options: object) -> Path:
        """Write a workbook."""
        return self.write(pack(members(rows, **options)), name)  # type: ignore[arg-type]


def sheet_pairs(path: Path) -> tuple[Pair, ...]:
    """Measure the first sheet of a workbook."""
    return pairs_of(path)
