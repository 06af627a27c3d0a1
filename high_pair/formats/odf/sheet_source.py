"""An ODF sheet as it is read: sizes, styles, conditions; see `sheets.sheet.Source`.

Source: ODF 1.3 Part 3 §9.1 (tables), §16.2 (style maps), §16.29 (number
styles); conditional formats in the extension that writers use beside them.
"""

from __future__ import annotations

import functools
import math
import re
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from high_pair.formats.number_formats import FIRST_DAY, holds
from high_pair.formats.odf.backgrounds import edges_of
from high_pair.formats.odf.cells import (
    MOST_COLUMNS,
    MOST_ROWS,
    StylesByPlace,
    cells_in,
    columns_of,
    looks_in,
    rows_of,
    words_of,
)
from high_pair.formats.odf.origins import deciders_of
from high_pair.formats.odf.styles import Styles, TextStyles, attribute
from high_pair.formats.odf.text import Segment, segments_of
from high_pair.formats.odf.text_effects import is_outlined, shadow_of_letters
from high_pair.formats.odf.units import colour, length
from high_pair.formats.sheets.bars import Axis, Bar
from high_pair.formats.sheets.cells import Cells, SharedText
from high_pair.formats.sheets.colours import Chosen
from high_pair.formats.sheets.conditional import (
    LAST,
    Condition,
    Rule,
    ScaleStop,
    condition_of,
)
from high_pair.formats.sheets.expressions import Reader
from high_pair.formats.sheets.sheet import RichPart, Section
from high_pair.formats.sheets.styles import Difference, Font, Style
from high_pair.formats.xml import Element, child, children, local_name, number, tag, whole
from high_pair.scene.addresses import address_below, address_in
from high_pair.scene.grid import Area, read_area
from high_pair.scene.paint import BLACK, Colour

PLAIN_WIDTH, PLAIN_HEIGHT = 64.0, 12.8
PLAIN_SIZE = 10.0
_SPAN, _PARAGRAPH = tag("text:span"), tag("text:p")
_HIDDEN = ("collapse", "filter")
_ALIGNS = {"start": "left", "end": "right", "center": "center", "justify": "justify"}
_ANCHORS = {"top": "top", "middle": "center", "bottom": "bottom", "automatic": "bottom"}
_SIGNS = {
    "<": "lessThan", "<=": "lessThanOrEqual", "=": "equal", "!=": "notEqual", "<>": "notEqual",
    ">=": "greaterThanOrEqual", ">": "greaterThan",
}  # fmt: skip
_COMPARED = re.compile(r"^(?:cell-content\(\)\s*)?(<=|>=|!=|<>|=|<|>)\s*(.+)$")
_CALLED = re.compile(r"^(?:cell-content-)?([a-z-]+)\((.*)\)$", re.DOTALL)
_VALUE = re.compile(r"^value\(\)\s*(<=|>=|!=|=|<|>)\s*(-?\d*\.?\d+)$")
_REFERENCE = re.compile(r"\[([^\]]*)\]")
_TIME = re.compile(r"^PT(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:\.\d+)?)S)?$")
_KINDS = {
    "begins-with": "beginsWith", "ends-with": "endsWith", "contains-text": "containsText",
    "not-contains-text": "notContainsText",
}  # fmt: skip


_STOPS = {
    "minimum": "min", "maximum": "max", "auto-minimum": "autoMin", "auto-maximum": "autoMax",
}  # fmt: skip


class OdfSheetSource:
    """What a table says of its cells."""

    def __init__(self, table: Element, styles: Styles, common: str, address: str = "") -> None:
        """Read the cells.

        common: the member that holds the common styles; address: of the table.
        """
        self.table = table
        self._address = address
        self.file_styles = styles
        self._common = common
        self._names = looks_in(table)
        self._texts: list[str] = []
        self.cells = self._read()

    def _read(self) -> Cells:
        numbers_of_styles = {name: count for count, name in enumerate(self._names)}
        rows, columns, styles = [], [], []
        values: list[float | str] = []
        rich: dict[int, SharedText] = {}
        for cell in cells_in(self.table):
            rows.append(cell.row)
            columns.append(cell.column)
            styles.append(numbers_of_styles[cell.style])
            words = words_of(cell.element)
            if _has_spans(cell.element):
                rich[len(values)] = SharedText(words, cell.element)
            values.append(_value(cell.element, words))
            self._texts.append(words)
        numbers = np.array([v if isinstance(v, float) else np.nan for v in values], np.float64)
        return Cells(
            np.array(rows, np.int32),
            np.array(columns, np.int32),
            np.array(styles, np.int32),
            values,
            numbers,
            rich,
        )

    # Sizes

    @functools.cached_property
    def merged(self) -> tuple[Area, ...]:
        """The merged cells."""
        found = []
        for cell in cells_in(self.table):
            across = whole(cell.element, tag("table:number-columns-spanned"), 1)
            down = whole(cell.element, tag("table:number-rows-spanned"), 1)
            if across > 1 or down > 1:
                found.append(
                    Area(cell.row, cell.column, min(cell.row + down, MOST_ROWS) - 1,
                         min(cell.column + across, MOST_COLUMNS) - 1)
                )  # fmt: skip
        return tuple(found)

    def sizes(self, used: Area) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Give the widths of columns and the heights of rows in points; 0 for hidden ones."""
        widths = np.full(used.right + 1, PLAIN_WIDTH)
        heights = np.full(used.bottom + 1, PLAIN_HEIGHT)
        start = 0
        for column, repeats in columns_of(self.table):
            chain = self._chain("table-column", column.get(tag("table:style-name")))
            width = length(attribute(chain, "table-column", "style:column-width"), PLAIN_WIDTH)
            hidden = column.get(tag("table:visibility")) in _HIDDEN
            widths[start : start + repeats] = 0.0 if hidden else max(0.0, width)
            start += repeats
            if start > used.right:
                break
        start = 0
        for row, repeats in rows_of(self.table):
            chain = self._chain("table-row", row.get(tag("table:style-name")))
            height = length(attribute(chain, "table-row", "style:row-height"), PLAIN_HEIGHT)
            hidden = row.get(tag("table:visibility")) in _HIDDEN
            heights[start : start + repeats] = 0.0 if hidden else max(0.0, height)
            start += repeats
            if start > used.bottom:
                break
        return widths, heights

    def fitting_rows(self, used: Area) -> NDArray[np.bool_]:
        """Tell of the rows which are as high as their text (§20.383)."""
        free = np.ones(used.bottom + 1, bool)
        start = 0
        for row, repeats in rows_of(self.table):
            chain = self._chain("table-row", row.get(tag("table:style-name")))
            stated = attribute(chain, "table-row", "style:row-height") is not None
            optimal = attribute(chain, "table-row", "style:use-optimal-row-height")
            free[start : start + repeats] = optimal == "true" or (not stated and optimal is None)
            start += repeats
            if start > used.bottom:
                break
        return free

    def _chain(self, family: str, name: str | None) -> tuple[Element, ...]:
        return self.file_styles.chain(family, name, "content")

    # Styles

    def _style_chain(self, name: str) -> tuple[Element, ...]:
        own = self._chain("table-cell", name or "Default")
        return (*own, *self.file_styles.default("table-cell"))

    @functools.cached_property
    def default_font(self) -> Font:
        """The font of cells that no style speaks of."""
        return self._font(self._style_chain(""))[0]

    def _font(self, chain: Sequence[Element]) -> tuple[Font, Element | None]:
        """Give a style's font, and the text properties that decide its colour."""
        styles = TextStyles(tuple((each.get(tag("style:name"), ""), each) for each in chain))
        source = styles.colour_source()
        chosen = None
        if source is not None and source[1].get(tag("style:use-window-font-color")) != "true":
            stated = colour(source[1].get(tag("fo:color")))
            chosen = Chosen(stated) if stated is not None else None
        shadow = shadow_of_letters(styles, chosen.colour if chosen is not None else BLACK)
        sized = styles.get("fo:font-size") is not None
        face = styles.get("style:font-name")
        family = self.file_styles.face(face) if face else (styles.get("fo:font-family") or "")
        font = Font(
            family.split(",")[0].strip("'\" ") or "Liberation Sans",
            styles.size() if sized else PLAIN_SIZE,
            styles.weight() >= 600,
            (styles.get("fo:font-style") or "normal") != "normal",
            (styles.get("style:text-underline-style") or "none") != "none",
            (styles.get("style:text-line-through-style") or "none") != "none",
            0.0,
            chosen,
            shadow.colour if shadow is not None else None,
            is_outlined(styles),
        )
        return font, source[1] if source is not None and chosen is not None else None

    @functools.cache  # noqa: B019 - a source lives as long as its sheet
    def style(self, index: int) -> Style:
        """Give the style of a look."""
        name = self._names[index] if index < len(self._names) else ""
        return self._made(name, index)

    def _made(self, name: str, index: int) -> Style:
        chain = self._style_chain(name)
        font, decided = self._font(chain)
        fill = colour(attribute(chain, "table-cell", "fo:background-color"))
        deciders = deciders_of(decided) if decided is not None else ()
        aligned = attribute(chain, "paragraph", "fo:text-align") or ""
        return Style(
            index,
            font,
            fill,
            "",
            edges_of(chain, "table-cell"),
            _ALIGNS.get(aligned, "general"),
            _ANCHORS.get(attribute(chain, "table-cell", "style:vertical-align") or "", "bottom"),
            attribute(chain, "table-cell", "fo:wrap-option") == "wrap",
            named=deciders[0].words.removeprefix("in the style ") if deciders else "",
            own_font=not deciders,
            decider=deciders[0] if deciders else None,
        )

    # Number styles

    @functools.cache  # noqa: B019 - a source lives as long as its sheet
    def _number_style(self, index: int) -> Element | None:
        name = self._names[index] if index < len(self._names) else ""
        for each in self._style_chain(name):
            data = each.get(tag("style:data-style-name"))
            if data:
                return self.file_styles.number_style(data)
        return None

    def has_sections(self, style: Style) -> bool:
        """Tell whether a style's number format has colours."""
        return self._number_style(style.index) is not None

    def section(self, style: Style, value: float | str) -> Section:
        """Give the colour that the number format gives a value."""
        element = self._number_style(style.index)
        if element is None:
            return None, False
        if isinstance(value, float):
            for each in element.findall(tag("style:map")):
                match = _VALUE.match(each.get(tag("style:condition"), "").strip())
                applied = self.file_styles.number_style(each.get(tag("style:apply-style-name"), ""))
                if match is not None and holds(value, match.group(1), float(match.group(2))):
                    element = applied if applied is not None else element
                    break
        elif local_name(element) != "text-style":
            # Formats of numbers say nothing of words (§16.29).
            return None, False
        properties = child(element, "style:text-properties")
        chosen = colour(properties.get(tag("fo:color"))) if properties is not None else None
        return (chosen.levels if chosen is not None else None), False

    def text(self, entry: int) -> str:
        """Give a cell's text as it is shown."""
        return self._texts[entry]

    def parts(self, text: SharedText, style: Style) -> Sequence[RichPart]:
        """Give the pieces of a cell whose spans may differ in look, those alike as one."""
        of_cell = self._style_chain(self._names[style.index])
        found: list[RichPart] = []
        for paragraph in text.element.findall(_PARAGRAPH) if text.element is not None else ():
            address = address_below(self._address, para=self._paragraphs[paragraph])
            for count, piece in enumerate(segments_of(paragraph, {}), start=1):
                part = self._part(piece, of_cell, style, address_below(address, r=count))
                last = found[-1] if found else None
                if last is not None and replace(last, words="", address="") == replace(
                    part, words="", address=""
                ):
                    both = " ".join(each for each in (last.address, part.address) if each)
                    found[-1] = replace(last, words=last.words + part.words, address=both)
                elif piece.text.strip():
                    found.append(part)
        return found

    def _part(
        self, piece: Segment, of_cell: tuple[Element, ...], style: Style, address: str
    ) -> RichPart:
        names = [span.get(tag("text:style-name")) for span in reversed(piece.spans)]
        own = [style for name in names for style in self._chain("text", name)]
        font, _ = self._font((*own, *of_cell))
        mark = colour(attribute(own, "text", "fo:background-color"))
        states = any(each.find(tag("style:text-properties")) is not None for each in own)
        if not states:
            return RichPart(piece.text, style.font)
        return RichPart(piece.text, font, address, highlight=mark)

    @functools.cached_property
    def _paragraphs(self) -> dict[Element, int]:
        """The paragraphs of the table as addresses number them, from 1."""
        every = self.table.iter(_PARAGRAPH, tag("text:h"))
        return {each: count for count, each in enumerate(every, start=1)}

    def dressed(self, area: Area) -> dict[tuple[int, int], Style]:
        """Give the styles of an area's cells that have fills or borders, empty cells too."""
        found: dict[tuple[int, int], Style] = {}
        for cell in cells_in(self.table, empty=True):
            if cell.row > area.bottom:
                break
            if not area.holds(cell.row, cell.column):
                continue
            style = self._named(cell.style)
            if style.fill is not None or style.edges:
                found[(cell.row, cell.column)] = style
        return found

    def style_at(self, row: int, column: int) -> Style:
        """Give the style of a cell, an empty one too."""
        return self._named(self._styles_by_place.at(row, column))

    @functools.cached_property
    def _styles_by_place(self) -> StylesByPlace:
        return StylesByPlace(self.table)

    @functools.cache  # noqa: B019 - a source lives as long as its sheet
    def _named(self, name: str) -> Style:
        return self._made(name, -1)

    # Conditions

    def rules(self, value_at: Reader) -> list[Rule]:
        """Give the conditional formats: those of the extension, or else the styles' maps."""
        formats = [each for each in self.table.iter() if local_name(each) == "conditional-format"]
        found: list[Rule] = []
        for each in formats:
            found += self._extended(each, value_at)
        return found if formats else self._mapped(value_at)

    def _extended(self, element: Element, value_at: Reader) -> list[Rule]:
        target = _local(element, "target-range-address")
        areas = tuple(
            area
            for part in target.split(" ")
            if (area := read_area(_without_sheet(part))) is not None
        )
        found = []
        for count, entry in enumerate(children(element)):
            kind = local_name(entry)
            if not areas:
                break
            if kind == "condition":
                base = _local(entry, "base-cell-address")
                corner = read_area(_without_sheet(base)) or areas[0]
                rule = self._rule(
                    areas,
                    _local(entry, "value"),
                    _local(entry, "apply-style-name"),
                    (corner.top, corner.left),
                    count,
                    value_at,
                )
                found.append(rule)
            elif kind == "date-is":
                period = _in_capitals(_local(entry, "date"))
                condition = condition_of("timePeriod", {"timePeriod": period}, [], (0, 0), value_at)
                name = _local(entry, "style")
                found.append(self._applying(areas, condition, name, count))
            elif kind in ("color-scale", "data-bar", "icon-set"):
                found.append(_scale(entry, areas, count, kind))
        return [rule for rule in found if rule is not None]

    def _mapped(self, value_at: Reader) -> list[Rule]:
        """Give the maps of the cells' styles (§16.2): each holds for its style's cells."""
        found = []
        for index, name in enumerate(self._names):
            entries = np.flatnonzero(self.cells.styles == index)
            maps = next(
                (m for each in self._style_chain(name) if (m := each.findall(tag("style:map")))), []
            )
            for count, entry in enumerate(maps if len(entries) else []):
                first = int(entries[0])
                corner = (int(self.cells.rows[first]), int(self.cells.columns[first]))
                base = read_area(_without_sheet(entry.get(tag("style:base-cell-address"), "")))
                rule = self._rule(
                    (),
                    entry.get(tag("style:condition"), ""),
                    entry.get(tag("style:apply-style-name"), ""),
                    (base.top, base.left) if base is not None else corner,
                    count,
                    value_at,
                    index,
                )
                if rule is not None:
                    found.append(rule)
        return found

    def _rule(
        self,
        areas: tuple[Area, ...],
        condition: str,
        name: str,
        corner: tuple[int, int],
        priority: int,
        value_at: Reader,
        style: int | None = None,
    ) -> Rule | None:
        kind, attributes, formulas = _read_condition(condition)
        found = condition_of(kind, attributes, formulas, corner, value_at)
        if style is not None:
            areas = tuple(self._areas_of(style))
        return self._applying(areas, found, name, priority, style)

    def _applying(
        self,
        areas: tuple[Area, ...],
        condition: Condition,
        name: str,
        priority: int,
        style: int | None = None,
    ) -> Rule | None:
        """Give a rule that applies a style where a condition holds."""
        applied = self.file_styles.find("table-cell", name, "content")
        if applied is None:
            return None
        words, holds = condition
        name = applied.get(tag("style:name"), name)
        # Of several that hold the first counts, and no other.
        return Rule(
            areas, priority, True, self._difference(applied, name), words, holds, style=style
        )

    def _areas_of(self, style: int) -> list[Area]:
        entries = np.flatnonzero(self.cells.styles == style)
        rows, columns = self.cells.rows[entries], self.cells.columns[entries]
        return [
            Area(row, column, row, column)
            for row, column in zip(rows.tolist(), columns.tolist(), strict=True)
        ]

    def _difference(self, applied: Element, name: str) -> Difference:
        """Give what a style changes: what it and its parents state, but for the default."""
        chain = [
            each
            for each in self._chain("table-cell", applied.get(tag("style:name")))
            if each.get(tag("style:name")) != "Default"
        ]
        font, _ = self._font(chain)
        stated = attribute(chain, "table-cell", "fo:background-color")
        bold = attribute(chain, "text", "fo:font-weight")
        return Difference(
            LAST,
            font.colour,
            None if bold is None else font.bold,
            fill=colour(stated),
            fills=stated is not None,
            address=address_in(self._common, style=f"table-cell:{name}"),
        )


def _has_spans(cell: Element) -> bool:
    """Tell whether a cell's own words, not those of shapes in it, have spans."""
    if next(cell.iter(_SPAN), None) is None:
        return False
    pieces = (segments_of(each, {}) for each in cell.findall(_PARAGRAPH))
    return any(piece.spans for found in pieces for piece in found)


def _value(cell: Element, words: str) -> float | str:
    kind = cell.get(tag("office:value-type"), "")
    if kind in ("float", "percentage", "currency"):
        stated = cell.get(tag("office:value"))
        if stated is not None:
            return number(stated, 0.0)
    if kind == "date":
        day = _moment(cell.get(tag("office:date-value"), ""))
        return words if day is None else day
    if kind == "time":
        parts = _TIME.match(cell.get(tag("office:time-value"), ""))
        if parts is not None:
            hours, minutes, seconds = (float(part or 0) for part in parts.groups())
            return (hours + minutes / 60 + seconds / 3_600) / 24
        return words
    if kind == "boolean":
        return "TRUE" if cell.get(tag("office:boolean-value")) == "true" else "FALSE"
    return words


def _moment(text: str) -> float | None:
    """Give the number of a date, with its part of a day; None for what is none."""
    try:
        moment = datetime.fromisoformat(text).replace(tzinfo=None)
    except ValueError:
        return None
    return (moment - FIRST_DAY) / timedelta(days=1)


def _in_capitals(name: str) -> str:
    """Write a name as the other family of formats has it: last-7-days is last7Days."""
    first, *rest = name.split("-")
    return first + "".join(part.capitalize() for part in rest)


def _local(element: Element, name: str) -> str:
    """Give an attribute by its name, in whatever namespace of an extension."""
    for key, value in element.attrib.items():
        if str(key).rpartition("}")[2] == name:
            return str(value)
    return ""


def _without_sheet(address: str) -> str:
    """Give a cell's or a range's address without the names of sheets: Fares.A1:Fares.B9."""
    return ":".join(part.rpartition(".")[2] for part in address.strip().split(":"))


def _plain_formula(text: str) -> str:
    """Write a formula of OpenFormula as other programs write it: [.A1] is A1."""

    def replaced(match: re.Match[str]) -> str:
        parts = []
        for part in match.group(1).split(":"):
            sheet, _, cell = part.rpartition(".")
            parts.append(f"{sheet.lstrip('$')}!{cell}" if sheet else cell)
        return ":".join(parts)

    plain = _REFERENCE.sub(replaced, text.removeprefix("of:").removeprefix("="))
    return re.sub(r";(?=(?:[^\"]*\"[^\"]*\")*[^\"]*$)", ",", plain)


def _read_condition(text: str) -> tuple[str, dict[str, str], list[str]]:
    """Give a condition as workbooks state the same: its kind, its attributes, its formulas."""
    text = text.strip()
    called = _CALLED.match(text)
    name, inside = (called.group(1), called.group(2)) if called is not None else ("", "")
    if name in ("is-true-formula", "formula-is"):
        return "expression", {}, [_plain_formula(inside)]
    if name in ("is-between", "is-not-between", "between", "not-between"):
        sign = "notBetween" if "not" in name else "between"
        return "cellIs", {"operator": sign}, [_plain_formula(p) for p in inside.split(",", 1)]
    if name in _KINDS:
        return _KINDS[name], {"text": inside.strip().strip('"')}, []
    if name in ("top-elements", "bottom-elements", "top-percent", "bottom-percent"):
        found = {"rank": inside.strip() or "10"}
        if "percent" in name:
            found["percent"] = "1"
        if "bottom" in name:
            found["bottom"] = "1"
        return "top10", found, []
    plain = {
        "duplicate": "duplicateValues", "unique": "uniqueValues", "is-error": "containsErrors",
        "is-no-error": "notContainsErrors",
    }  # fmt: skip
    if text in plain:
        return plain[text], {}, []
    if text.endswith("-average"):
        found = {} if text.startswith("above") else {"aboveAverage": "0"}
        return "aboveAverage", {**found, **({"equalAverage": "1"} if "equal" in text else {})}, []
    compared = _COMPARED.match(text)
    if compared is not None:
        return (
            "cellIs",
            {"operator": _SIGNS[compared.group(1)]},
            [_plain_formula(compared.group(2))],
        )
    return text or "unknown", {}, []


_AXES = {"none": Axis.SIDE, "middle": Axis.MIDDLE}


def _scale(element: Element, areas: tuple[Area, ...], priority: int, kind: str) -> Rule | None:
    """Read a colour scale, a data bar or a set of icons, all in the extension's own words."""
    words, holds = condition_of("colorScale", {}, [], (0, 0), lambda *_: None)
    alone = _local(element, "show-value") == "false"
    if kind == "icon-set":
        return Rule(areas, priority, False, None, words, holds, alone=alone)
    positive = colour(_local(element, "positive-color"))
    stops = []
    for entry in children(element):
        chosen: Colour | None = colour(_local(entry, "color")) or positive
        if local_name(entry) in ("color-scale-entry", "formatting-entry") and chosen is not None:
            said = _local(entry, "type")
            named = _STOPS.get(said, said)
            stops.append(
                ScaleStop(named or "num", number(_local(entry, "value"), math.nan), chosen)
            )
    if kind == "data-bar":
        bar = None if positive is None else _bar(element, positive)
        return Rule(areas, priority, False, None, words, holds, tuple(stops[:2]), bar, alone)
    return (
        Rule(areas, priority, False, None, words, holds, tuple(stops)) if len(stops) > 1 else None
    )


def _bar(element: Element, positive: Colour) -> Bar:
    lengths = number(_local(element, "min-length"), 0), number(_local(element, "max-length"), 100)
    return Bar(
        positive,
        colour(_local(element, "negative-color")) or positive,
        ((lengths[0] / 100, lengths[1] / 100),),
        _local(element, "gradient") != "false",
        _AXES.get(_local(element, "axis-position"), Axis.ZERO),
    )
