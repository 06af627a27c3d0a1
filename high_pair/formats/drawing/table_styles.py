"""Table styles: what each part of a table gives its cells (ECMA-376 Part 1 §20.1.4.2).

The built-in styles' identifiers are often used without the style being in the
file. The commonest are here as data, in the same XML that a file would hold;
a cell under any other unknown style takes nothing from it, and says so.
"""

from __future__ import annotations

import functools
from collections.abc import Iterable
from dataclasses import dataclass

from high_pair.formats.drawing.colours import Palette, colour_element, origin_of, resolve
from high_pair.formats.drawing.fills import NOTHING, Fill, fill_element, read_fill
from high_pair.formats.drawing.lines import Line, read_line
from high_pair.formats.drawing.text_styles import Override
from high_pair.formats.drawing.theme import Theme
from high_pair.formats.xml import NAMESPACES, Element, child, children, flag, parse, whole
from high_pair.scene.paint import Colour

# A line's width in EMU where a border states none.
BORDER_WIDTH = 12_700
ALL_SIDES = ("left", "right", "top", "bottom", "insideH", "insideV")
NO_STYLE = "{2D5ABB26-0587-4C30-8999-92F81FD0307C}"
NO_STYLE_WITH_GRID = "{5940675A-B579-460E-94D1-54222C63F5DA}"
# The second medium style: on its own colour and on the six accents.
_MEDIUM_2 = {
    "{073A0DAA-6AF3-43AB-8588-CEC1D06C72B9}": "dk1",
    "{5C22544A-7EE6-4342-B048-85BDC9FD1C3A}": "accent1",
    "{21E4AEA4-8DFA-4A89-87EB-49C32662AFE0}": "accent2",
    "{F5AB1C69-6EDB-4FF4-983F-18BD219EF322}": "accent3",
    "{00A15C55-8517-42AA-B614-E9B94910E393}": "accent4",
    "{7DF18680-E054-41AD-8BC1-D1AEF772440D}": "accent5",
    "{93296810-A885-4BE3-A3E7-6D5BEEA58F35}": "accent6",
}


def _bordered(colour: str, width: int, sides: Iterable[str]) -> str:
    """Write lines of one colour and of a width in EMU at sides of cells."""
    fill = f'<a:solidFill><a:schemeClr val="{colour}"/></a:solidFill>'
    lines = "".join(f'<a:{side}><a:ln w="{width}">{fill}</a:ln></a:{side}>' for side in sides)
    return f"<a:tcBdr>{lines}</a:tcBdr>"


def _medium_2(colour: str) -> str:
    """Write the second medium style on a theme colour."""

    def dressed(tint: str = "", borders: str = "") -> str:
        transform = f'<a:tint val="{tint}"/>' if tint else ""
        scheme = f'<a:schemeClr val="{colour}">{transform}</a:schemeClr>'
        fill = f"<a:fill><a:solidFill>{scheme}</a:solidFill></a:fill>"
        return f"<a:tcStyle>{borders}{fill}</a:tcStyle>"

    def text(of: str, bold: str = "") -> str:
        inner = f'<a:fontRef idx="minor"/><a:schemeClr val="{of}"/>'
        return f"<a:tcTxStyle{bold}>{inner}</a:tcTxStyle>"

    bold = text("lt1", ' b="on"')
    heading = bold + dressed()
    parts = {
        "wholeTbl": text("dk1") + dressed("20000", _bordered("lt1", BORDER_WIDTH, ALL_SIDES)),
        "band1H": dressed("40000"),
        "band1V": dressed("40000"),
        "lastCol": heading,
        "firstCol": heading,
        "lastRow": bold + dressed("", _bordered("lt1", 3 * BORDER_WIDTH, ["top"])),
        "firstRow": bold + dressed("", _bordered("lt1", 3 * BORDER_WIDTH, ["bottom"])),
    }
    body = "".join(f"<a:{name}>{inner}</a:{name}>" for name, inner in parts.items())
    return f'<a:tblStyle xmlns:a="{NAMESPACES["a"]}">{body}</a:tblStyle>'


@functools.cache
def _built_in(identifier: str) -> Element | None:
    if identifier in _MEDIUM_2:
        return parse(_medium_2(_MEDIUM_2[identifier]).encode(), "High Pair", "table style")
    if identifier in (NO_STYLE, NO_STYLE_WITH_GRID):
        grid = _bordered("tx1", BORDER_WIDTH, ALL_SIDES) if identifier != NO_STYLE else ""
        whole_table = f"<a:wholeTbl><a:tcStyle>{grid}</a:tcStyle></a:wholeTbl>"
        plain = f'<a:tblStyle xmlns:a="{NAMESPACES["a"]}">{whole_table}</a:tblStyle>'
        return parse(plain.encode(), "High Pair", "table style")
    return None


@dataclass(frozen=True)
class CellPlace:
    """A cell's row and column, counted from 0, and the table's size."""

    row: int
    column: int
    rows: int
    columns: int


@dataclass(frozen=True)
class TableStyle:
    """A table's style and the flags that say which of its parts apply (a:tblPr)."""

    style: Element | None
    flags: frozenset[str]
    lost: str = ""

    def parts_for(self, cell: CellPlace) -> list[tuple[str, Element]]:
        """Give the style's parts that dress a cell, strongest first.

        Corners beat first and last row, which beat first and last column,
        which beat row bands, which beat column bands, which beat the whole.
        """
        head, foot = "firstRow" in self.flags, "lastRow" in self.flags
        first, last = "firstCol" in self.flags, "lastCol" in self.flags
        on_head = head and cell.row == 0
        on_foot = foot and cell.row == cell.rows - 1 and not on_head
        on_first = first and cell.column == 0
        on_last = last and cell.column == cell.columns - 1 and not on_first
        names = []
        for row_part, side in ((on_head, "n"), (on_foot, "s")):
            if row_part and on_first:
                names.append(f"{side}wCell")
            if row_part and on_last:
                names.append(f"{side}eCell")
        names += ["firstRow"] * on_head + ["lastRow"] * on_foot
        names += ["firstCol"] * on_first + ["lastCol"] * on_last
        if not (on_head or on_foot):
            if "bandRow" in self.flags and not (on_first or on_last):
                # The row after the header is the first band.
                names.append("band1H" if (cell.row - head) % 2 == 0 else "band2H")
            if "bandCol" in self.flags and not (on_first or on_last):
                names.append("band1V" if (cell.column - first) % 2 == 0 else "band2V")
        names.append("wholeTbl")
        found = ((name, child(self.style, f"a:{name}")) for name in names)
        return [(name, part) for name, part in found if part is not None]

    def fill_for(self, cell: CellPlace, palette: Palette, theme: Theme) -> Fill:
        """Give the fill that the style paints a cell with."""
        if self.lost:
            return Fill(trouble=self.lost)
        for _, part in self.parts_for(cell):
            dressed = child(part, "a:tcStyle")
            reference = child(dressed, "a:fillRef")
            if reference is not None:
                colour = resolve(colour_element(reference), palette)
                index = int(reference.get("idx", "0") or 0)
                if 1 <= index <= len(theme.fills):
                    return read_fill(theme.fills[index - 1], palette.with_stand_in(colour))
            fill = fill_element(child(dressed, "a:fill"))
            if fill is not None:
                return read_fill(fill, palette)
        return NOTHING

    def border_for(self, cell: CellPlace, side: str, palette: Palette, theme: Theme) -> Line | None:
        """Give the line that the style draws at a side of a cell: left, right, top or bottom."""
        for name, part in self.parts_for(cell):
            border = child(part, "a:tcStyle", "a:tcBdr", f"a:{_border_name(name, cell, side)}")
            if border is None:
                continue
            reference = child(border, "a:lnRef")
            index = whole(reference, "idx")
            if 1 <= index <= len(theme.lines):
                colour = resolve(colour_element(reference), palette)
                return read_line([(theme.lines[index - 1], palette.with_stand_in(colour))])
            own = child(border, "a:ln")
            return read_line([(own, palette)], BORDER_WIDTH) if own is not None else None
        return None

    def text_for(self, cell: CellPlace, palette: Palette, theme: Theme) -> Override:
        """Give the text properties of a cell, each from the strongest part that states it."""
        colour: Colour | None = None
        origin = font = ""
        bold: bool | None = None
        italic: bool | None = None
        for _name, part in self.parts_for(cell):
            style = child(part, "a:tcTxStyle")
            if style is None:
                continue
            if bold is None and style.get("b") in ("on", "off"):
                bold = style.get("b") == "on"
            if italic is None and style.get("i") in ("on", "off"):
                italic = style.get("i") == "on"
            reference = child(style, "a:fontRef")
            chosen = colour_element(style)
            if chosen is None:
                chosen = colour_element(reference)
            if colour is None and chosen is not None:
                colour, origin = resolve(chosen, palette), origin_of(chosen)
            if not font and reference is not None:
                fonts = {"major": theme.major, "minor": theme.minor}
                font = fonts.get(reference.get("idx", ""), "")
        return Override(
            "table style",
            colour=colour,
            colour_origin=origin,
            font=font,
            bold=bold,
            italic=italic,
            trouble=self.lost,
        )


# The directions in which a style's part reaches over all of the table.
_WIDE = ("wholeTbl", "firstRow", "lastRow", "band1H", "band2H")
_TALL = ("wholeTbl", "firstCol", "lastCol", "band1V", "band2V")


def _border_name(part: str, cell: CellPlace, side: str) -> str:
    """Name a part's border at a side of a cell: the part's own edge, or one inside it."""
    if side in ("left", "right"):
        edge = 0 if side == "left" else cell.columns - 1
        return side if part not in _WIDE or cell.column == edge else "insideV"
    edge = 0 if side == "top" else cell.rows - 1
    return side if part not in _TALL or cell.row == edge else "insideH"


_FLAGS = ("firstRow", "lastRow", "firstCol", "lastCol", "bandRow", "bandCol")


def table_style_of(properties: Element | None, listed: Element | None) -> TableStyle:
    """Find the style of a table by its a:tblPr, in the file's list or among the built-in ones."""
    flags = frozenset(name for name in _FLAGS if flag(properties, name))
    inline = child(properties, "a:tableStyle")
    if inline is not None:
        return TableStyle(inline, flags)
    reference = child(properties, "a:tableStyleId")
    identifier = (reference.text or "").strip() if reference is not None else ""
    if not identifier:
        return TableStyle(None, flags)
    for style in children(listed):
        if style.get("styleId") == identifier:
            return TableStyle(style, flags)
    built_in = _built_in(identifier)
    if built_in is not None:
        return TableStyle(built_in, flags)
    return TableStyle(None, flags, lost="the table's style isn't defined in the file")
