"""Charts of OpenDocument, written as those of the other family, whose reader then paints and
measures them.

Source: ODF 1.3 Part 3 §11 (charts) and §20.3 to §20.63 (their properties); ECMA-376 Part 1 §21.2.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from lxml import etree

from high_pair.colour.srgb import hex_of
from high_pair.formats.automatic_text import automatic_in_odf
from high_pair.formats.charts.reader import ChartReader
from high_pair.formats.charts.texts import ChartPlace
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.drawing.surround import Placed
from high_pair.formats.drawing.theme import Theme
from high_pair.formats.odf.cells import cells_in, words_of
from high_pair.formats.odf.fills import fill_of
from high_pair.formats.odf.lines import stroke_of
from high_pair.formats.odf.places import Place
from high_pair.formats.odf.styles import Styles, TextStyles, attribute
from high_pair.formats.odf.units import colour, length
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, children, local_name, number, tag, whole
from high_pair.scene.addresses import address_in
from high_pair.scene.geometry import Box
from high_pair.scene.grid import Area, read_area
from high_pair.scene.page import Item
from high_pair.scene.paint import WHITE, Colour, Fill

MOST_SERIES = 250
MOST_POINTS = 1_000
EMU_PER_POINT = 12_700
# §19.15: the classes of charts; what has none here isn't painted.
KINDS = {
    "bar": "barChart", "line": "lineChart", "area": "areaChart", "circle": "pieChart",
    "ring": "doughnutChart", "scatter": "scatterChart",
}  # fmt: skip
_POSITIONS = {"top": "t", "bottom": "b", "start": "l", "end": "r"}
# §20.25: where labels of data stand.
_LABELS = {
    "outside": "outEnd", "inside": "inEnd", "center": "ctr", "near-origin": "inBase", "top": "t",
    "bottom": "b", "left": "l", "right": "r", "avoid-overlap": "bestFit",
}  # fmt: skip
_RANGE = re.compile(r"\.?\$?([A-Za-z]{1,3})\$?(\d{1,7})")
# The chart's own table, in which the data stand.
_TABLE = "local-table"


def chart_in(root: Element | None) -> Element | None:
    """Give the chart that an embedded object is; None for another."""
    return child(root, "office:body", "office:chart", "chart:chart")


def chart_items(
    root: Element, words: str, place: Place, address: str, behind: Colour | None
) -> Iterator[Item]:
    """Give the items of a chart, lowest first.

    root: of the object; place: of its frame; behind: what is behind it, None where that isn't one
    colour.
    """
    space = _Writer(root, Styles(root, None), behind).space()
    part = Part("content.xml", space, {})
    setting = Setting(part, None, None, Theme(), Palette(), part, None)
    placed = Placed(place.box, place.transform, place.transform)
    at = ChartPlace(placed, words, address or address_in("content.xml", chart=1))
    yield from ChartReader(part, at, setting).items()


def _add(parent: Element, name: str, value: object = None, **attributes: object) -> Element:
    """Add an element; value: of its `val`."""
    element = etree.SubElement(parent, tag(name))
    if value is not None:
        element.set("val", str(value))
    for key, each in attributes.items():
        element.set(key, str(each))
    return element


def _solid(parent: Element, chosen: Colour) -> None:
    stated = _add(_add(parent, "a:solidFill"), "a:srgbClr", hex_of(chosen.levels)[1:])
    if chosen.opacity < 1:
        _add(stated, "a:alpha", round(chosen.opacity * 100_000))


@dataclass(frozen=True)
class _Table:
    """A chart's own table: its cells' words and numbers by row and column."""

    words: dict[tuple[int, int], str]
    numbers: dict[tuple[int, int], float]
    rows: int

    def cells(self, stated: str | None, fallback: int) -> list[tuple[int, int]]:
        """Give the places of a range; of one in another table those of a column in its place."""
        area = _area(stated)
        if area is None:
            return [(row, fallback) for row in range(1, self.rows)]
        columns = range(area.left, area.right + 1)
        places = ((row, column) for column in columns for row in range(area.top, area.bottom + 1))
        return list(itertools.islice(places, MOST_POINTS))


def _area(stated: str | None) -> Area | None:
    """Read a range of the chart's own table; None for one of another."""
    if not stated or not stated.lstrip("$'").startswith(_TABLE):
        return None
    corners = ["".join(match) for match in _RANGE.findall(stated.partition(_TABLE)[2])]
    return read_area(":".join(corners[:2])) if corners else None


def _read_table(chart: Element) -> _Table:
    words: dict[tuple[int, int], str] = {}
    numbers: dict[tuple[int, int], float] = {}
    table = child(chart, "table:table")
    rows = 0
    for cell in cells_in(table) if table is not None else ():
        place = (cell.row, cell.column)
        rows = max(rows, cell.row + 1)
        words[place] = words_of(cell.element)
        if cell.element.get(tag("office:value-type")) in ("float", "percentage", "currency"):
            numbers[place] = number(cell.element.get(tag("office:value")))
    return _Table(words, numbers, min(rows, MOST_POINTS))


class _Writer:
    """Writes one chart."""

    def __init__(self, root: Element, styles: Styles, behind: Colour | None) -> None:
        chart = chart_in(root)
        assert chart is not None
        self.chart = chart
        self.styles = styles
        self.plot = child(chart, "chart:plot-area")
        self.table = _read_table(chart)
        self.width = length(chart.get(tag("svg:width")))
        self.height = length(chart.get(tag("svg:height")))
        self.behind = behind
        own = self._fill(self.chain(chart))
        if isinstance(own, Colour) and own.opacity >= 1:
            self.behind = own

    def chain(self, element: Element | None) -> tuple[Element, ...]:
        """Give a part's styles."""
        name = element.get(tag("chart:style-name")) if element is not None else None
        return (*self.styles.chain("chart", name, "content"), *self.styles.default("chart"))

    def stated(self, element: Element | None, name: str) -> str:
        """Give a chart property of a part, empty where nothing states it."""
        return attribute(self.chain(element), "chart", name) or ""

    # Looks

    def _fill(self, chain: Sequence[Element]) -> Fill | str | None:
        """Give a fill; words for one that isn't known."""
        box = Box(0.0, 0.0, max(1.0, self.width), max(1.0, self.height))
        found = fill_of(chain, self.styles, box, bare_is_tenths=True)
        if attribute(chain, "graphic", "draw:fill-color") is None and not found.stated:
            # Where nothing is stated writers mean white.
            return WHITE
        if found.trouble or found.picture is not None:
            return found.trouble or "picture"
        return found.fill

    def _surface(self, parent: Element, chain: Sequence[Element], filled: bool = True) -> None:
        """Write the fill and the line of a part."""
        properties = _add(parent, "c:spPr")
        fill = self._fill(chain) if filled else None
        if isinstance(fill, Colour):
            _solid(properties, fill)
        elif fill is None:
            _add(properties, "a:noFill")
        else:
            # What the reader takes for a fill whose colours aren't known.
            _add(properties, "a:blipFill")
        self._line(properties, chain)

    def _line(self, properties: Element, chain: Sequence[Element]) -> None:
        stroke = stroke_of(chain, self.styles)
        if stroke is None and attribute(chain, "graphic", "svg:stroke-color") is not None:
            kind = attribute(chain, "graphic", "draw:stroke")
            stated = colour(attribute(chain, "graphic", "svg:stroke-color"))
            if kind != "none" and stated is not None:
                width = length(attribute(chain, "graphic", "svg:stroke-width"))
                _solid(_add(properties, "a:ln", w=round(max(width, 0.5) * EMU_PER_POINT)), stated)
                return
        drawn = _add(properties, "a:ln")
        if stroke is None or not isinstance(stroke.fill, Colour):
            _add(drawn, "a:noFill")
            return
        drawn.set("w", str(round(stroke.width * EMU_PER_POINT)))
        _solid(drawn, stroke.fill)

    def _letters(self, parent: Element, name: str, chain: Sequence[Element]) -> Element:
        """Write how a part's letters look; automatic ones by what is behind the whole chart."""
        styles = TextStyles(tuple((each.get(tag("style:name"), ""), each) for each in chain))
        sized = styles.get("fo:font-size") is not None
        size = {"sz": round(styles.size() * 100)} if sized else {}
        bold = int(styles.weight() >= 600)
        italic = int((styles.get("fo:font-style") or "normal") != "normal")
        letters = _add(parent, name, **size, b=bold, i=italic)
        source = styles.colour_source()
        own = source is not None and source[1].get(tag("style:use-window-font-color")) != "true"
        chosen = colour(source[1].get(tag("fo:color"))) if own and source is not None else None
        if chosen is None and self.behind is not None:
            chosen = automatic_in_odf(self.behind)
        if chosen is None:
            # Nobody knows which: letters of two colours need eyes.
            stops = _add(_add(letters, "a:gradFill"), "a:gsLst")
            for place, code in ((0, "000000"), (100_000, "FFFFFF")):
                _add(_add(stops, "a:gs", pos=place), "a:srgbClr", code)
        else:
            _solid(letters, chosen)
        face = styles.get("style:font-name")
        family = self.styles.face(face) if face else (styles.get("fo:font-family") or "")
        if family:
            _add(letters, "a:latin", typeface=family.split(",")[0].strip("'\" "))
        return letters

    def _text(self, parent: Element, chain: Sequence[Element]) -> None:
        properties = _add(parent, "c:txPr")
        _add(properties, "a:bodyPr")
        self._letters(_add(_add(properties, "a:p"), "a:pPr"), "a:defRPr", chain)

    def _title(self, parent: Element, *titles: Element | None) -> None:
        """Write a title, and what stands below it, paragraph by paragraph."""
        shown = [each for each in titles if each is not None]
        if not shown:
            return
        title = _add(parent, "c:title")
        rich = _add(_add(title, "c:tx"), "c:rich")
        _add(rich, "a:bodyPr")
        for each in shown:
            for line in each.findall(tag("text:p")):
                run = _add(_add(rich, "a:p"), "a:r")
                self._letters(run, "a:rPr", self.chain(each))
                _add(run, "a:t").text = "".join(str(part) for part in line.itertext())
        self._surface(title, self.chain(shown[0]))

    # The chart

    def space(self) -> Element:
        """Write the whole chart."""
        spaces = {prefix: tag(f"{prefix}:x")[1:-2] for prefix in ("c", "a")}
        space = etree.Element(tag("c:chartSpace"), nsmap=spaces)
        chart = _add(space, "c:chart")
        own = self.chart
        above = [child(own, f"chart:{name}") for name in ("title", "subtitle", "footer")]
        self._title(chart, *above)
        plot = _add(chart, "c:plotArea")
        self._layout(plot)
        axes = self._axes()
        groups = self._groups()
        for count, (kind, members) in enumerate(groups):
            self._group(plot, kind, members, axes, count)
        for name, axis in axes.items():
            self._axis(plot, name, axis, bool(groups) and groups[0][0] == "scatter")
        self._surface(plot, self.chain(child(self.plot, "chart:wall")))
        legend = child(own, "chart:legend")
        if legend is not None:
            written = _add(chart, "c:legend")
            side = legend.get(tag("chart:legend-position"), "end")
            _add(written, "c:legendPos", _POSITIONS.get(side, "r"))
            self._surface(written, self.chain(legend))
            self._text(written, self.chain(legend))
        self._surface(space, self.chain(own))
        self._text(space, self.chain(own))
        return space

    def _layout(self, plot: Element) -> None:
        """Write where the plot stands, which is stated within its axes or round them."""
        inner = next(
            (each for each in children(self.plot) if local_name(each) == "coordinate-region"), None
        )
        stated = inner if inner is not None else self.plot
        if stated is None or not self.width or not self.height:
            return
        sides = [length(stated.get(tag(f"svg:{name}"))) for name in ("x", "y", "width", "height")]
        if sides[2] <= 0 or sides[3] <= 0:
            return
        manual = _add(_add(plot, "c:layout"), "c:manualLayout")
        _add(manual, "c:layoutTarget", "inner" if inner is not None else "outer")
        _add(manual, "c:xMode", "edge")
        _add(manual, "c:yMode", "edge")
        whole_sides = (self.width, self.height, self.width, self.height)
        for name, side, of in zip("xywh", sides, whole_sides, strict=True):
            _add(manual, f"c:{name}", side / of)

    def _axes(self) -> dict[str, Element]:
        """Give the first axis of each direction."""
        found: dict[str, Element] = {}
        for each in children(self.plot):
            direction = each.get(tag("chart:dimension"), "")
            if local_name(each) == "axis" and direction in ("x", "y"):
                found.setdefault(direction, each)
        return found

    @property
    def lies(self) -> bool:
        """Whether bars run from left to right."""
        return self.stated(self.plot, "chart:vertical") == "true"

    def _groups(self) -> list[tuple[str, list[tuple[int, Element]]]]:
        """Give the series by the class that they are drawn as, with their numbers."""
        plain = self.chart.get(tag("chart:class"), "").rpartition(":")[2]
        found: dict[str, list[tuple[int, Element]]] = {}
        series = [each for each in children(self.plot) if local_name(each) == "series"]
        for count, each in enumerate(series[:MOST_SERIES]):
            kind = each.get(tag("chart:class"), "").rpartition(":")[2] or plain
            found.setdefault(kind, []).append((count, each))
        return list(found.items())

    def _group(
        self,
        plot: Element,
        kind: str,
        members: Sequence[tuple[int, Element]],
        axes: dict[str, Element],
        count: int,
    ) -> None:
        deep = self.stated(self.plot, "chart:three-dimensional") == "true"
        name = KINDS.get(kind, f"{kind or 'unknown'}Chart")
        group = _add(plot, f"c:{name.replace('Chart', '3DChart') if deep else name}")
        if name == "barChart":
            _add(group, "c:barDir", "bar" if self.lies else "col")
        shares = self.stated(self.plot, "chart:percentage") == "true"
        stacked = self.stated(self.plot, "chart:stacked") == "true"
        _add(
            group,
            "c:grouping",
            "percentStacked" if shares else ("stacked" if stacked else "clustered"),
        )
        by_point = name in ("pieChart", "doughnutChart")
        _add(group, "c:varyColors", int(by_point))
        for place, series in members:
            self._series(group, place, series, name)
        if name == "barChart":
            value = axes.get("y")
            _add(group, "c:gapWidth", round(number(self.stated(value, "chart:gap-width"), 100)))
            overlap = number(self.stated(value, "chart:overlap"), 100 if shares or stacked else 0)
            _add(group, "c:overlap", round(overlap))
        if name == "lineChart":
            _add(group, "c:marker", 1)
        if not by_point:
            _add(group, "c:axId", "x")
            _add(group, "c:axId", "y")

    def _axis(self, plot: Element, name: str, element: Element, is_scatter: bool) -> None:
        value = name == "y" or is_scatter
        axis = _add(plot, "c:valAx" if value else "c:catAx")
        _add(axis, "c:axId", name)
        scaling = _add(axis, "c:scaling")
        backwards = self.stated(element, "chart:reverse-direction") == "true"
        _add(scaling, "c:orientation", "maxMin" if backwards else "minMax")
        if self.stated(element, "chart:logarithmic") == "true":
            _add(scaling, "c:logBase", 10)
        for ours, theirs in (("max", "maximum"), ("min", "minimum")):
            if self.stated(element, f"chart:{theirs}"):
                _add(scaling, f"c:{ours}", self.stated(element, f"chart:{theirs}"))
        _add(axis, "c:delete", int(self.stated(element, "chart:visible") == "false"))
        upright = (name == "y") != self.lies
        _add(axis, "c:axPos", "l" if upright else "b")
        for grid in element.findall(tag("chart:grid")):
            if grid.get(tag("chart:class"), "major") == "major":
                self._surface(_add(axis, "c:majorGridlines"), self.chain(grid), filled=False)
        self._title(axis, child(element, "chart:title"))
        hidden = self.stated(element, "chart:display-label") == "false"
        _add(axis, "c:tickLblPos", "none" if hidden else "nextTo")
        self._surface(axis, self.chain(element), filled=False)
        self._text(axis, self.chain(element))
        _add(axis, "c:crossAx", "x" if name == "y" else "y")
        step = self.stated(element, "chart:interval-major")
        if step:
            _add(axis, "c:majorUnit", step)

    # Data

    def _series(self, group: Element, place: int, series: Element, kind: str) -> None:
        written = _add(group, "c:ser")
        _add(written, "c:idx", place)
        _add(written, "c:order", place)
        label = self.table.cells(series.get(tag("chart:label-cell-address")), place + 1)
        name = label[0] if _area(series.get(tag("chart:label-cell-address"))) else (0, place + 1)
        self._cache(_add(written, "c:tx"), "str", [self.table.words.get(name, "")])
        chain = self.chain(series)
        self._mark(written, chain, kind)
        symbol = attribute(chain, "chart", "chart:symbol-type") or "none"
        if kind in ("lineChart", "scatterChart"):
            marker = _add(written, "c:marker")
            _add(marker, "c:symbol", "none" if symbol == "none" else "circle")
        self._points(written, series, kind)
        self._labels(written, series)
        rows = self.table.cells(series.get(tag("chart:values-cell-range-address")), place + 1)
        categories = child(self._axes().get("x"), "chart:categories")
        stated = categories.get(tag("table:cell-range-address")) if categories is not None else None
        names = [self.table.words.get(cell, "") for cell in self.table.cells(stated, 0)]
        self._cache(_add(written, "c:cat"), "str", names)
        values = [self.table.numbers.get(cell) for cell in rows]
        domain = child(series, "chart:domain")
        if kind == "scatterChart":
            across = self.table.cells(
                domain.get(tag("table:cell-range-address")) if domain is not None else None, 0
            )
            places = [self.table.numbers.get(cell) for cell in across]
            self._cache(_add(written, "c:xVal"), "num", places)
        self._cache(_add(written, "c:yVal" if kind == "scatterChart" else "c:val"), "num", values)

    def _mark(self, parent: Element, chain: Sequence[Element], kind: str) -> None:
        """Write how marks are painted: by their line where they are one, else by their fill."""
        if kind not in ("lineChart", "scatterChart"):
            self._surface(parent, chain)
            return
        properties = _add(parent, "c:spPr")
        stated = colour(attribute(chain, "graphic", "svg:stroke-color"))
        if stated is not None:
            _solid(properties, stated)
        self._line(properties, chain)

    def _points(self, written: Element, series: Element, kind: str) -> None:
        """Write the points that look otherwise than their series."""
        place = 0
        for point in series.findall(tag("chart:data-point")):
            repeats = whole(point, tag("chart:repeated"), 1)
            if point.get(tag("chart:style-name")):
                chain = (*self.chain(point), *self.chain(series))
                for each in range(place, min(place + repeats, MOST_POINTS)):
                    own = _add(written, "c:dPt")
                    _add(own, "c:idx", each)
                    self._mark(own, chain, kind)
            place += max(1, repeats)

    def _labels(self, written: Element, series: Element) -> None:
        """Write what the labels of marks show, how they look and where they stand."""
        chain = (*self.chain(series), *self.chain(self.plot))

        def stated(name: str) -> str:
            return attribute(chain, "chart", f"chart:{name}") or ""

        shown = stated("data-label-number") or "none"
        switches = {
            "c:showVal": shown in ("value", "value-and-percentage"),
            "c:showPercent": shown in ("percentage", "value-and-percentage"),
            "c:showCatName": stated("data-label-text") == "true",
            "c:showSerName": stated("data-label-series") == "true",
        }
        if not any(switches.values()):
            return
        labels = _add(written, "c:dLbls")
        self._text(labels, self.chain(series))
        if stated("label-position") in _LABELS:
            _add(labels, "c:dLblPos", _LABELS[stated("label-position")])
        for name, on in switches.items():
            _add(labels, name, int(on))

    def _cache(self, parent: Element, kind: str, values: Sequence[object]) -> None:
        cache = _add(_add(parent, f"c:{kind}Ref"), f"c:{kind}Cache")
        for place, value in enumerate(values[:MOST_POINTS]):
            if value not in (None, ""):
                _add(_add(cache, "c:pt", idx=place), "c:v").text = str(value)
