"""Tables in a sheet: which part of their style each cell has (ECMA-376 Part 1 §18.5, §18.8.40)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from high_pair.formats.sheets.colours import Chosen, tinted
from high_pair.formats.sheets.styles import Difference, StyleTable
from high_pair.formats.sheets.table_looks import Part, built_in
from high_pair.formats.xml import Element, child, children, flag, whole
from high_pair.scene.addresses import address_in
from high_pair.scene.grid import Area, read_area

BUILT_IN = "the built-in look of the table"


@dataclass(frozen=True)
class Given:
    """What a table's style gives a cell: fill, text colour and weight; words: which part."""

    difference: Difference
    words: str
    address: str = ""


@dataclass(frozen=True)
class SheetTable:
    """A table: its area, and what its parts show, the strongest first by place."""

    area: Area
    header: int
    totals: int
    first_column: bool
    last_column: bool
    row_stripes: bool
    column_stripes: bool
    parts: Mapping[str, tuple[Given, int]]

    def parts_at(self, row: int, column: int) -> tuple[str, ...]:
        """List the parts that a cell has, the strongest first."""
        area = self.area
        in_header = row < area.top + self.header
        in_totals = row > area.bottom - self.totals
        found = []
        if in_totals:
            found.append("totalRow")
        if in_header:
            found.append("headerRow")
        if self.first_column and column == area.left:
            found.append("firstColumn")
        if self.last_column and column == area.right:
            found.append("lastColumn")
        if not in_header and not in_totals:
            if self.row_stripes:
                found.append(self._stripe("RowStripe", row - area.top - self.header))
            if self.column_stripes:
                found.append(self._stripe("ColumnStripe", column - area.left))
        return (*found, "wholeTable")

    def _stripe(self, name: str, place: int) -> str:
        sizes = [
            self.parts[f"{which}{name}"][1] if f"{which}{name}" in self.parts else 1
            for which in ("first", "second")
        ]
        return f"{'first' if place % sum(sizes) < sizes[0] else 'second'}{name}"

    def given(self, row: int, column: int) -> tuple[Given, ...]:
        """Give what a cell has from the table's style, the strongest first."""
        if not self.area.holds(row, column):
            return ()
        return tuple(
            self.parts[part][0] for part in self.parts_at(row, column) if part in self.parts
        )


def read_table(root: Element, styles: StyleTable, member: str) -> SheetTable | None:
    """Read a table's part; None when it has no area or no look. member: the styles' part."""
    area = read_area(root.get("ref", ""))
    info = child(root, "x:tableStyleInfo")
    name = info.get("name", "") if info is not None else ""
    if area is None or not name:
        return None
    parts = _own_parts(styles, name, member) or _built_in_parts(styles, name)
    return SheetTable(
        area,
        max(0, whole(root, "headerRowCount", 1)),
        max(0, whole(root, "totalsRowCount", 0)),
        flag(info, "showFirstColumn"),
        flag(info, "showLastColumn"),
        flag(info, "showRowStripes"),
        flag(info, "showColumnStripes"),
        parts,
    )


def _own_parts(styles: StyleTable, name: str, member: str) -> dict[str, tuple[Given, int]]:
    """Read a table style that the file defines."""
    found = {}
    for element in children(styles.table_styles.get(name)):
        kind = element.get("type", "")
        difference = styles.difference(whole(element, "dxfId", -1))
        if difference is not None:
            words = f"table style {name}, {kind}"
            address = address_in(member, dxf=difference.index)
            size = max(1, whole(element, "size", 1))
            found[kind] = (Given(difference, words, address), size)
    return found


def _built_in_parts(styles: StyleTable, name: str) -> dict[str, tuple[Given, int]]:
    looks = built_in(name) or {}
    return {
        kind: (Given(_as_difference(part, styles), BUILT_IN), 1) for kind, part in looks.items()
    }


def _as_difference(part: Part, styles: StyleTable) -> Difference:
    scheme = styles.colours.scheme
    text = fill = None
    if part.text is not None:
        slot, tint = part.text
        words = f"theme {slot}" + (", changed" if tint else "")
        text = Chosen(tinted(scheme[slot], tint), words, "" if tint else slot)
    if part.fill is not None:
        fill = tinted(scheme[part.fill[0]], part.fill[1])
    return Difference(-1, text, part.bold or None, fill=fill, fills=fill is not None)
