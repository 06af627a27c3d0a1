"""The text of charts: what it looks like and what is behind it (ECMA-376 Part 1 §21.2).

A chart's marks aren't painted yet: its plot is an obstacle. Its title, axes
and legend stand beside the plot at places that are only estimated, so they are
measured where one colour lies behind all of the chart there. A label inside a
bar or a slice is measured against that mark's own colour; one beside a mark
needs eyes.
"""

from __future__ import annotations

import copy
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from lxml import etree

from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.fills import fill_element, read_fill
from high_pair.formats.slides.parts import Part, SlideParts
from high_pair.formats.slides.surround import Placed
from high_pair.formats.slides.text_styles import Cascade
from high_pair.formats.xml import Element, child, children, local_name, number, tag
from high_pair.scene.geometry import Box, rectangle
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.paint import Colour
from high_pair.scene.text import Align, Anchor, Paragraph, Run, TextBlock

DOUBT = "the place of a chart's text is only estimated"
FIXED = "The colours of a chart's text come from the chart. Change them there."
BESIDE = "a label beside a chart's mark isn't measured yet"
NO_SIZE = "the size of a chart's text isn't stated in the file"
AXES = ("catAx", "valAx", "dateAx", "serAx")
INSIDE = ("ctr", "inEnd", "inBase")
# Where a label stands when nothing says so: inside in stacked bars, areas and rings.
STACKED = ("stacked", "percentStacked")
TITLE_GROWTH = 1.2
# Shares of the chart's frame for what has no stated place: title, plot, legend.
TITLE_BOX, PLOT_BOX = (0.05, 0.02, 0.9, 0.12), (0.12, 0.2, 0.6, 0.6)
LEGEND_BOX = (0.78, 0.3, 0.2, 0.4)
CATEGORY_BOX, VALUE_BOX = (0.12, 0.84, 0.6, 0.12), (0.01, 0.2, 0.1, 0.6)
MOST_POINTS = 60


@dataclass(frozen=True)
class ChartPlace:
    """Where a chart stands: its place, the words for the report, and its addresses' prefix."""

    placed: Placed
    words: str
    address: str


def _value(element: Element | None, *path: str) -> str | None:
    found = child(element, *path)
    return found.get("val") if found is not None else None


def _on(element: Element | None, name: str) -> bool:
    """Read a c: on-off child; one without a value is on (§21.2.2)."""
    found = child(element, name)
    return found is not None and found.get("val", "1") in ("1", "true")


def _points(reference: Element | None) -> list[str]:
    """Give the cached words or numbers of a reference."""
    if reference is None:
        return []
    values = (value for value in reference.iter(tag("c:v")))
    return [(value.text or "").strip() for value in values][:MOST_POINTS]


class ChartReader:
    """Reads one chart part."""

    def __init__(self, part: Part, place: ChartPlace, parts: SlideParts) -> None:
        self.root = part.root
        self.chart = child(part.root, "c:chart")
        self.place = place
        self.parts = parts
        override = child(part.root, "c:clrMapOvr")
        colour_map = {str(k): str(v) for k, v in override.items()} if override is not None else {}
        base = parts.palette
        self.palette = Palette(base.scheme, {**base.colour_map, **colour_map})
        self.plot = child(self.chart, "c:plotArea")
        self.count = 0

    def items(self) -> list[Item]:
        """Give the chart's area, its plot as an obstacle, and its texts."""
        placed = self.place.placed
        found: list[Item] = []
        area = read_fill(fill_element(child(self.root, "c:spPr")), self.palette)
        painted = area.for_shape(placed.box, placed.transform)
        if isinstance(painted, str) or area.picture is not None:
            reason = painted if isinstance(painted, str) else "a picture in a chart isn't painted"
            found.append(Obstacle(placed.box, placed.transform, reason))
        elif painted is not None:
            outline = rectangle(placed.box)
            found.append(Figure(outline, placed.box, placed.transform, painted))
        plot = self._box(child(self.plot, "c:layout"), PLOT_BOX)
        found.append(Obstacle(plot, placed.transform, "charts aren't painted yet"))
        texts = [*self._titles(), *self._axes(), *self._legend(), *self._labels(plot)]
        return found + [block for block in texts if block is not None]

    def _box(self, layout: Element | None, plain: tuple[float, float, float, float]) -> Box:
        """Give a part's place: as stated, else as usual (§21.2.2.95)."""
        frame = self.place.placed.box
        manual = child(layout, "c:manualLayout")
        shares = list(plain)
        for place, name in enumerate(("x", "y", "w", "h")):
            stated = _value(manual, f"c:{name}")
            if stated is not None and (place > 1 or _value(manual, f"c:{name}Mode") == "edge"):
                shares[place] = min(1.0, max(0.0, number(stated, plain[place])))
        x, y, width, height = shares
        return Box(
            frame.x + x * frame.width,
            frame.y + y * frame.height,
            max(1.0, width * frame.width),
            max(1.0, height * frame.height),
        )

    # Text

    def _cascade(self, *holders: Element | None) -> Cascade:
        """Put the text properties of a part and of the whole chart together, nearest first."""
        runs: list[tuple[str, Element]] = []
        paragraphs: list[Element] = []
        words = ["chart's part"] * len(holders) + ["chart's text"]
        for name, holder in zip(words, (*holders, child(self.root, "c:txPr")), strict=True):
            properties = child(holder, "a:p", "a:pPr")
            if properties is None:
                continue
            paragraphs.append(properties)
            defaults = child(properties, "a:defRPr")
            if defaults is not None:
                runs.append((name, defaults))
        return Cascade(tuple(paragraphs), tuple(runs))

    def _run(
        self,
        text: str,
        cascade: Cascade,
        own: Element | None = None,
        growth: float = 1.0,
        behind: Colour | None = None,
        trouble: str = "",
    ) -> Run:
        self.count += 1
        chosen = cascade.colour(own, self.palette)
        stated = cascade.run_attribute(own, "sz")
        stated_here = own is not None and own.get("sz") is not None
        size = cascade.size(own) * (1.0 if stated_here else growth)
        return Run(
            text=text,
            colour=chosen.colour,
            family=cascade.family(own, self.parts.theme),
            size=size,
            weight=700 if cascade.style(own, "b") else 400,
            origin=chosen.origin,
            address=f"{self.place.address}/text={self.count}",
            italic=cascade.style(own, "i"),
            highlight=behind,
            trouble=trouble or chosen.trouble or ("" if stated else NO_SIZE),
            invisible=chosen.invisible,
            fixed=FIXED,
        )

    def _block(
        self, lines: Sequence[Sequence[Run]], box: Box, words: str, doubt: str = DOUBT
    ) -> TextBlock | None:
        paragraphs = tuple(Paragraph(tuple(runs), Align.CENTRE) for runs in lines if runs)
        if not any(run.text.strip() for paragraph in paragraphs for run in paragraph.runs):
            return None
        return TextBlock(
            paragraphs,
            box,
            self.place.placed.upright,
            f"{self.place.words} › {words}",
            Anchor.MIDDLE,
            doubt=doubt,
            region=self.place.placed.box,
        )

    def _title(
        self, element: Element | None, box: Box, words: str, growth: float, fallback: str = ""
    ) -> TextBlock | None:
        if element is None:
            return None
        rich = child(element, "c:tx", "c:rich")
        lines: list[list[Run]] = []
        for paragraph in rich.findall(tag("a:p")) if rich is not None else ():
            cascade = self._cascade(_only(paragraph), child(element, "c:txPr"))
            runs = []
            for each in children(paragraph):
                holder = child(each, "a:t")
                if local_name(each) in ("r", "fld") and holder is not None:
                    own = child(each, "a:rPr")
                    runs.append(self._run(holder.text or "", cascade, own, growth))
            lines.append(runs)
        if rich is None:
            text = " ".join(_points(child(element, "c:tx"))) or fallback
            cascade = self._cascade(child(element, "c:txPr"))
            lines.append([self._run(text, cascade, None, growth)])
        return self._block(lines, self._box(child(element, "c:layout"), _shares(box, self)), words)

    def _titles(self) -> Iterator[TextBlock | None]:
        series = self._series()
        names = [" ".join(_points(child(each, "c:tx"))) for each in series]
        title = child(self.chart, "c:title")
        fallback = names[0] if len(names) == 1 else ""
        box = self._box(None, TITLE_BOX)
        if not _on(self.chart, "c:autoTitleDeleted"):
            yield self._title(title, box, "title", TITLE_GROWTH, fallback)

    def _axes(self) -> Iterator[TextBlock | None]:
        for axis in children(self.plot):
            name = local_name(axis)
            if name not in AXES or _on(axis, "c:delete"):
                continue
            category = name != "valAx"
            box = self._box(None, CATEGORY_BOX if category else VALUE_BOX)
            words = "category axis" if category else "value axis"
            yield self._title(child(axis, "c:title"), box, f"{words} title", 1.0)
            if _value(axis, "c:tickLblPos") == "none":
                continue
            text = self._category_words() if category else self._value_words(axis)
            cascade = self._cascade(child(axis, "c:txPr"))
            yield self._block([[self._run(text, cascade)]], box, words)

    def _category_words(self) -> str:
        series = self._series()
        return " · ".join(_points(child(series[0], "c:cat"))) if series else ""

    def _value_words(self, axis: Element) -> str:
        words = [word for each in self._series() for word in _points(child(each, "c:val"))]
        known = [value for value in (number(word, math.nan) for word in words) if value == value]
        if not known:
            return ""
        low = number(_value(axis, "c:scaling", "c:min"), min(0.0, *known))
        high = number(_value(axis, "c:scaling", "c:max"), max(known))
        return f"{low:g} … {high:g}"

    def _legend(self) -> Iterator[TextBlock | None]:
        legend = child(self.chart, "c:legend")
        if legend is None:
            return
        series = self._series()
        names = [" ".join(_points(child(each, "c:tx"))) for each in series]
        if len(series) == 1 and self._varies(series[0]):
            names = _points(child(series[0], "c:cat"))
        cascade = self._cascade(child(legend, "c:txPr"))
        lines = [[self._run(name, cascade)] for name in names if name]
        yield self._block(lines, self._box(child(legend, "c:layout"), LEGEND_BOX), "legend")

    # Marks and their labels

    def _series(self) -> list[Element]:
        return list(self.plot.iter(tag("c:ser"))) if self.plot is not None else []

    def _varies(self, series: Element) -> bool:
        """Tell whether every point has a colour of its own (§21.2.2.227)."""
        group = series.getparent()
        kind = local_name(group) if group is not None else ""
        return _on(group, "c:varyColors") and kind in ("pieChart", "doughnutChart", "pie3DChart")

    def _mark_colour(self, series: Element, index: int, point: int) -> Colour | None:
        """Give a mark's colour: its own, its series', or the next accent; None if unknown."""
        own = next(
            (each for each in series.findall(tag("c:dPt")) if _value(each, "c:idx") == str(point)),
            None,
        )
        for holder in (own, series):
            properties = child(holder, "c:spPr")
            element = fill_element(properties)
            if element is not None:
                return read_fill(element, self.palette).colour
        place = point if self._varies(series) else index
        # Past six, programs vary the accents in ways that the file doesn't say.
        return self.palette.lookup(f"accent{place + 1}") if place < 6 else None

    def _labels(self, plot: Box) -> Iterator[TextBlock | None]:
        labelled = []
        for index, series in enumerate(self._series()):
            group = series.getparent()
            own = child(series, "c:dLbls")
            labels = own if own is not None else child(group, "c:dLbls")
            shown = ("c:showVal", "c:showPercent", "c:showCatName", "c:showSerName")
            if labels is None or _on(labels, "c:delete") or not any(_on(labels, s) for s in shown):
                continue
            labelled.append((series, index, labels, group))
        for row, (series, index, labels, group) in enumerate(labelled):
            # Each series' labels get a strip of their own, so that none hides another's.
            height = plot.height / len(labelled)
            strip = Box(plot.x, plot.y + row * height, plot.width, height)
            yield self._series_labels(series, index, labels, group, strip)

    def _series_labels(
        self, series: Element, index: int, labels: Element, group: Element | None, strip: Box
    ) -> TextBlock | None:
        stated = _value(labels, "c:dLblPos")
        stacked = _value(group, "c:grouping") in STACKED
        ring = group is not None and local_name(group) == "doughnutChart"
        inside = stated in INSIDE or (stated is None and (stacked or ring))
        cascade = self._cascade(child(labels, "c:txPr"))
        values, names = _points(child(series, "c:val")), _points(child(series, "c:cat"))
        runs = []
        for point, value in enumerate(values):
            text = value
            if _on(labels, "c:showCatName") and point < len(names):
                text = f"{names[point]} {value}" if _on(labels, "c:showVal") else names[point]
            colour = self._mark_colour(series, index, point) if inside else None
            trouble = "" if colour is not None and colour.opacity >= 1 else BESIDE
            runs.append(self._run(f"{text}  ", cascade, None, 1.0, colour, trouble))
        words = " ".join(_points(child(series, "c:tx"))) or f"series {index + 1}"
        # What is behind such a label is its mark, wherever the mark stands: no doubt.
        return self._block([runs], strip, f"labels of {words}", doubt="")


def _only(paragraph: Element) -> Element:
    """Give something whose first paragraph is this one, as text properties have it."""
    holder = etree.Element(tag("c:txPr"))
    copied = etree.SubElement(holder, tag("a:p"))
    properties = child(paragraph, "a:pPr")
    if properties is not None:
        copied.append(copy.deepcopy(properties))
    return holder


def _shares(box: Box, reader: ChartReader) -> tuple[float, float, float, float]:
    frame = reader.place.placed.box
    return (
        (box.x - frame.x) / max(1e-6, frame.width),
        (box.y - frame.y) / max(1e-6, frame.height),
        box.width / max(1e-6, frame.width),
        box.height / max(1e-6, frame.height),
    )
