"""What a table's style gives to a cell: its parts by place, in their order of precedence.

Source: ECMA-376 Part 1 §17.7.6 (table styles), §17.4.55 (tblLook). The
conditional formatting that cells cache (w:cnfStyle) isn't asked.
"""

from __future__ import annotations

from dataclasses import dataclass

from high_pair.formats.documents.styles import Layer, StyleSheet
from high_pair.formats.xml import Element, child, tag, whole
from high_pair.scene.addresses import address_in

# §17.4.55: the bits of the old hexadecimal form.
_BITS = {
    "firstRow": 0x0020,
    "lastRow": 0x0040,
    "firstColumn": 0x0080,
    "lastColumn": 0x0100,
    "noHBand": 0x0200,
    "noVBand": 0x0400,
}


@dataclass(frozen=True)
class Look:
    """Which parts of its style a table uses."""

    first_row: bool
    last_row: bool
    first_column: bool
    last_column: bool
    bands: bool
    column_bands: bool


@dataclass(frozen=True)
class Spot:
    """Where a cell is: its row and column from 0, and how many there are."""

    row: int
    column: int
    rows: int
    columns: int
    last: int


def read_look(element: Element | None) -> Look:
    """Read w:tblLook; the written out attributes beat the hexadecimal one."""
    if element is None:
        return Look(False, False, False, False, True, True)
    try:
        bits = int(element.get(tag("w:val"), "0"), 16)
    except ValueError:
        bits = 0

    def flag(name: str) -> bool:
        stated = element.get(tag(f"w:{name}"))
        if stated is not None:
            return stated.lower() in ("1", "true", "on")
        return bool(bits & _BITS[name])

    return Look(
        flag("firstRow"),
        flag("lastRow"),
        flag("firstColumn"),
        flag("lastColumn"),
        not flag("noHBand"),
        not flag("noVBand"),
    )


class TableStyle:
    """A table's style with those that it is based on."""

    def __init__(self, sheet: StyleSheet, identifier: str | None, look: Look) -> None:
        """Find the style's parts."""
        self._sheet = sheet
        self._look = look
        self._chain = sheet.chain("table", identifier)
        self._row_band = self._band("w:tblStyleRowBandSize")
        self._column_band = self._band("w:tblStyleColBandSize")
        self._parts: dict[str, list[tuple[Element, Element]]] = {}
        for style in self._chain:
            for part in style.findall(tag("w:tblStylePr")):
                kind = part.get(tag("w:type"), "")
                self._parts.setdefault(kind, []).append((style, part))

    def _band(self, name: str) -> int:
        for style in self._chain:
            element = child(style, "w:tblPr", name)
            if element is not None:
                return max(1, whole(element, tag("w:val"), 1))
        return 1

    def conditions(self, spot: Spot) -> tuple[str, ...]:
        """List the conditional parts that a cell has, the strongest first."""
        look = self._look
        first_row = look.first_row and spot.row == 0
        last_row = look.last_row and spot.row == spot.rows - 1 and spot.rows > 1
        first_column = look.first_column and spot.column == 0
        last_column = look.last_column and spot.last == spot.columns - 1
        found = []
        corners = (
            ("nwCell", first_row and first_column),
            ("neCell", first_row and last_column),
            ("swCell", last_row and first_column),
            ("seCell", last_row and last_column),
        )
        found += [name for name, holds in corners if holds]
        edges = (
            ("firstCol", first_column),
            ("lastCol", last_column),
            ("firstRow", first_row),
            ("lastRow", last_row),
        )
        found += [name for name, holds in edges if holds]
        if look.bands and not first_row and not last_row:
            band = (spot.row - int(look.first_row)) // self._row_band
            found.append("band2Horz" if band % 2 else "band1Horz")
        if look.column_bands and not first_column and not last_column:
            band = (spot.column - int(look.first_column)) // self._column_band
            found.append("band2Vert" if band % 2 else "band1Vert")
        return tuple(found)

    def layers(self, spot: Spot) -> tuple[Layer, ...]:
        """Give the run properties of a cell's text, nearest first."""
        found = []
        for condition in self.conditions(spot):
            for style, part in self._parts.get(condition, ()):
                properties = child(part, "w:rPr")
                if properties is not None:
                    name = style.get(tag("w:styleId"), "")
                    address = address_in(self._sheet.member, style=name, part=condition)
                    words = f"style {self._sheet.name(style)}, {condition}"
                    found.append(Layer(words, "table", properties, address))
        for style in self._chain:
            properties = child(style, "w:rPr")
            if properties is not None:
                address = address_in(self._sheet.member, style=style.get(tag("w:styleId"), ""))
                words = f"style {self._sheet.name(style)}"
                found.append(Layer(words, "table", properties, address))
        return tuple(found)

    def paragraphs(self, spot: Spot) -> tuple[Element, ...]:
        """Give what states the properties of a cell's paragraphs, nearest first."""
        return self._found(spot, "w:pPr")

    def cells(self, spot: Spot, name: str) -> Element | None:
        """Give the strongest cell property of a name, such as w:shd."""
        for properties in self._found(spot, "w:tcPr"):
            element = properties.find(tag(name))
            if element is not None:
                return element
        return None

    def borders(self, spot: Spot) -> tuple[Element, ...]:
        """Give the cell borders that parts state, the strongest first."""
        found = self._found(spot, "w:tcPr")
        return tuple(each for p in found if (each := child(p, "w:tcBorders")) is not None)

    def table(self, name: str) -> Element | None:
        """Give the nearest table property of a name, such as w:tblBorders."""
        for style in self._chain:
            element = child(style, "w:tblPr", name)
            if element is not None:
                return element
        return None

    def _found(self, spot: Spot, name: str) -> tuple[Element, ...]:
        found = []
        for condition in self.conditions(spot):
            for _, part in self._parts.get(condition, ()):
                properties = child(part, name)
                if properties is not None:
                    found.append(properties)
        for style in self._chain:
            properties = child(style, name)
            if properties is not None:
                found.append(properties)
        return tuple(found)
