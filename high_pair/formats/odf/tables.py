"""The cells of a table: their places and the styles that govern them (ODF 1.3 Part 3 §9.1)."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from lxml import etree

from high_pair.formats.odf.fills import OdfFill, fill_of
from high_pair.formats.odf.styles import Styles, attribute
from high_pair.formats.odf.units import length
from high_pair.formats.xml import Element, child, children, local_name, tag, whole
from high_pair.scene.geometry import Box

MOST_COLUMNS = 1000
BANDS = "where a table template's bands begin isn't known"
# §16.20: the parts of a template that go before its bands and its body, first come, first served,
# with the attribute of a table by which each is used.
_EDGES = {
    "first-row": "table:use-first-row-styles",
    "last-row": "table:use-last-row-styles",
    "first-column": "table:use-first-column-styles",
    "last-column": "table:use-last-column-styles",
}
_BANDS = {
    ("even-rows", "odd-rows"): "table:use-banding-rows-styles",
    ("even-columns", "odd-columns"): "table:use-banding-columns-styles",
}


@dataclass(frozen=True)
class Cell:
    """A cell that isn't covered by another.

    box: in the table's coordinates; chain: its styles, nearest first, the
    template's last; other: what they are if the template's bands begin elsewhere, the
    same where that makes no difference; doubt: why what the template gives it isn't known.
    """

    element: Element
    row: int
    column: int
    box: Box
    chain: tuple[Element, ...]
    other: tuple[Element, ...]
    doubt: str = ""


def size_of(table: Element) -> tuple[int, int]:
    """Count a table's rows and columns."""
    columns = sum(_repeats(column) for column in table.iter(tag("table:table-column")))
    return len(list(table.iter(tag("table:table-row")))), min(columns, MOST_COLUMNS)


def cells_of(
    table: Element, box: Box, styles: Styles, scope: str, from_zero: bool
) -> Iterator[Cell]:
    """Give a table's cells, row by row.

    box: the table's; from_zero: the file's writer counts rows and columns from zero, the heading's
    too, so that its first band is an even one; else nobody knows.
    """
    rows = list(table.iter(tag("table:table-row")))
    widths = _widths(table, styles, scope)
    template = _Template(table, styles, (len(rows), len(widths)), from_zero)
    top = box.y
    for row_number, row in enumerate(rows):
        row_styles = styles.chain("table-row", row.get(tag("table:style-name")), scope)
        height = length(
            attribute(row_styles, "table-row", "style:row-height")
            or attribute(row_styles, "table-row", "style:min-row-height")
        )
        left = box.x
        default = row.get(tag("table:default-cell-style-name"))
        # A spanned column has a covered cell of its own, so cells count as columns do.
        for column, cell in enumerate(children(row)):
            if column >= len(widths):
                break
            spans = max(1, whole(cell, tag("table:number-columns-spanned"), 1))
            width = sum(widths[column : column + spans])
            if local_name(cell) == "table-cell":
                place = Box(left, top, width, height)
                own = styles.chain(
                    "table-cell", cell.get(tag("table:style-name")) or default, scope
                )
                given, other, doubt = template.chains(row_number, column)
                chains = (*own, *given), (*own, *other)
                yield Cell(cell, row_number + 1, column + 1, place, *chains, doubt)
            left += widths[column]
        top += height


def _repeats(column: Element) -> int:
    return min(MOST_COLUMNS, max(1, whole(column, tag("table:number-columns-repeated"), 1)))


def _widths(table: Element, styles: Styles, scope: str) -> list[float]:
    widths: list[float] = []
    for column in table.iter(tag("table:table-column")):
        chain = styles.chain("table-column", column.get(tag("table:style-name")), scope)
        width = length(attribute(chain, "table-column", "style:column-width"))
        widths += [width] * _repeats(column)
    return widths[:MOST_COLUMNS]


class _Template:
    """What a table's template gives its cells."""

    def __init__(
        self, table: Element, styles: Styles, size: tuple[int, int], from_zero: bool
    ) -> None:
        self._styles = styles
        self._rows, self._columns = size
        self._from_zero = from_zero
        self._name = table.get(tag("table:template-name"), "")
        self._element = styles.template(self._name)
        self._edges = [part for part, use in _EDGES.items() if table.get(tag(use)) == "true"]
        self._bands = [parts for parts, use in _BANDS.items() if table.get(tag(use)) == "true"]

    def chains(self, row: int, column: int) -> tuple[tuple[Element, ...], tuple[Element, ...], str]:
        """Give the styles for a cell (counted from 0), nearest first, in both ways in which bands
        may begin, and a doubt about them."""
        if not self._name:
            return (), (), ""
        if self._element is None:
            return (), (), "the table's template isn't defined in the file"
        at_edge = {
            "first-row": row == 0,
            "last-row": row == self._rows - 1,
            "first-column": column == 0,
            "last-column": column == self._columns - 1,
        }
        found = [self._part(part) for part in self._edges if at_edge[part]]
        styled = [chain for chain in found if chain]
        if styled:
            edges = tuple(style for chain in styled for style in chain)
            return edges, edges, ""
        for parts in self._bands:
            even, odd = (self._part(part) for part in parts)
            if even != odd and not self._from_zero:
                # The standard doesn't say which one is the first.
                return odd, even, BANDS
            if even or odd:
                place = row if parts[0] == "even-rows" else column
                own = odd if place % 2 else even
                return own, own, ""
        return self._part("body"), self._part("body"), ""

    def _part(self, name: str) -> tuple[Element, ...]:
        part = child(self._element, f"table:{name}")
        style = part.get(tag("table:style-name")) if part is not None else None
        return self._styles.chain("table-cell", style, "master")


def cell_fill(chain: Sequence[Element], styles: Styles, box: Box, bare_is_tenths: bool) -> OdfFill:
    """Read a cell's fill, which writers put into graphic properties inside the cell's style."""
    fill = fill_of(chain, styles, box, bare_is_tenths)
    if fill.stated:
        return fill
    merged: dict[str, str] = {}
    for style in reversed(chain):
        # Each property counts by itself: the kind may be the template's, the colour the cell's.
        extended = child(style, "loext:graphic-properties")
        merged |= {str(k): str(v) for k, v in extended.items()} if extended is not None else {}
    kind = merged.get(tag("draw:fill"))
    if kind == "none":
        return OdfFill()
    return fill_of((_as_graphic(merged),), styles, box, bare_is_tenths) if kind else fill


def _as_graphic(properties: Mapping[str, str]) -> Element:
    """Give a style whose graphic properties are those that an extension states."""
    style = etree.Element(tag("style:style"))
    wrapped = etree.SubElement(style, tag("style:graphic-properties"))
    for name, value in properties.items():
        wrapped.set(name, value)
    return style
