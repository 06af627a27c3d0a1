"""A chart as items of a page: its surfaces, marks and all its text (ECMA-376 Part 1 §21.2).

Where a program puts the parts of a chart is mostly its own affair, so their
places are estimated: a text has a verdict only where it is the same for all
that lies where the text may stand.
"""

from __future__ import annotations

from collections.abc import Iterator

from high_pair.formats.charts import marks as shapes
from high_pair.formats.charts.axes import (
    Axis,
    axes_of,
    field_of,
    label_block,
    scales_of,
)
from high_pair.formats.charts.data import (
    PAINTED,
    Group,
    Series,
    groups_of,
    is_on,
    value_of,
    words_of,
)
from high_pair.formats.charts.labels import label_blocks, unpainted_labels
from high_pair.formats.charts.looks import (
    fill_of_mark,
    look_of_line,
    look_of_surface,
    own_fill,
)
from high_pair.formats.charts.marks import Field, Mark
from high_pair.formats.charts.places import (
    LINE,
    PADDING,
    Needs,
    Places,
    arrange,
    size_of_words,
)
from high_pair.formats.charts.texts import ChartPlace, ChartTexts, centred
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.drawing.fills import fill_element, read_fill
from high_pair.formats.drawing.lines import read_line
from high_pair.formats.drawing.setting import Setting
from high_pair.formats.parts import Part
from high_pair.formats.xml import Element, child, tag, whole
from high_pair.scene.geometry import (
    Box,
    Outline,
    box_round_boxes,
    ellipse,
    line,
    rectangle,
    turned,
)
from high_pair.scene.page import Figure, Item, Obstacle
from high_pair.scene.paint import Stroke
from high_pair.scene.text import Align, Paragraph, Run, TextBlock

UNPAINTED_KIND = "charts of this kind aren't painted yet"
UNPAINTED_PART = "this part of a chart isn't measured yet"
GRIDLINE = "a chart's gridline has a colour that the file doesn't state"
SURFACE = "a picture in a chart isn't painted yet"
TITLE_GROWTH = 1.2
# §21.2.2.107: the size of an automatic marker, in points.
MARKER = 5
# The side of a legend's samples, in sizes of its text.
SAMPLE = 0.6
# A sample with the room beside it, in the same.
SAMPLE_ROOM = 1.2
MOST_ENTRIES = 100


class ChartReader:
    """Reads one chart part."""

    def __init__(self, part: Part, place: ChartPlace, parts: Setting) -> None:
        self.root = part.root
        self.chart = child(part.root, "c:chart")
        self.place = place
        override = child(part.root, "c:clrMapOvr")
        colour_map = {str(k): str(v) for k, v in override.items()} if override is not None else {}
        base = parts.palette
        self.palette = Palette(base.scheme, {**base.colour_map, **colour_map})
        self.texts = ChartTexts(part.root, place, parts, self.palette)
        self.plot = child(self.chart, "c:plotArea")
        self.groups = groups_of(self.plot)
        self.scales = scales_of(self.groups)
        self.axes = list(axes_of(self.groups, self.scales, self.texts))

    def items(self) -> list[Item]:
        """Give the chart's items, lowest first."""
        frame = self.place.placed.box
        places = self._places(frame)
        found: list[Item] = [
            *self._surface(self.root, frame),
            *self._surface(self.plot, places.plot),
            *self._gridlines(places.plot),
        ]
        texts: list[TextBlock | None] = [self._title(places)]
        for group in self.groups:
            field = field_of(group, self.scales, places.plot)
            if group.kind not in PAINTED or (field is None and group.value is not None):
                found.append(self._obstacle(places.plot, UNPAINTED_KIND))
                texts += unpainted_labels(group, places.plot, self.texts)
                continue
            marks = list(_marks_of(group, field, places.plot))
            for mark in marks:
                found += self._mark(group, mark)
            if group.kind == "areaChart":
                # An area is one mark, and where the labels of its points stand isn't worked out.
                texts += unpainted_labels(group, places.plot, self.texts)
            texts += label_blocks(group, marks, frame, self.texts, self.palette)
        found += self._axis_lines(places.plot)
        for axis in self.axes:
            texts += [label_block(axis, places, self.texts), self._axis_title(axis, places)]
        found += self._samples(places)
        texts += [self._legend(places), *self._unmeasured(places)]
        return found + [block for block in texts if block is not None]

    def _obstacle(self, box: Box, reason: str) -> Obstacle:
        return Obstacle(box, self.place.placed.transform, reason)

    # Surfaces and lines

    def _surface(self, holder: Element | None, box: Box) -> Iterator[Item]:
        """Paint the fill and the line of the chart's area or its plot area."""
        properties = child(holder, "c:spPr")
        fill = read_fill(fill_element(properties), self.palette)
        transform = self.place.placed.transform
        painted = fill.for_shape(box, transform)
        if isinstance(painted, str) or fill.picture is not None:
            yield self._obstacle(box, painted if isinstance(painted, str) else SURFACE)
        elif painted is not None:
            yield Figure(rectangle(box), box, transform, painted)
        stroke = self._stroke(properties, box)
        if stroke is not None:
            yield Figure(rectangle(box), box, transform, stroke=stroke)

    def _stroke(self, properties: Element | None, box: Box) -> Stroke | None:
        """Give a stated line; None for none, or for one that isn't stated."""
        element = child(properties, "a:ln")
        read = read_line([(element, self.palette)]) if element is not None else None
        stroke = read.stroke(box, self.place.placed.transform) if read is not None else None
        return stroke if isinstance(stroke, Stroke) else None

    def _gridlines(self, plot: Box) -> Iterator[Item]:
        if any(group.kind not in PAINTED for group in self.groups):
            return
        for axis in self.axes:
            lines = child(axis.element, "c:majorGridlines")
            if lines is None:
                continue
            properties = child(lines, "c:spPr")
            element = child(properties, "a:ln")
            stated = element is not None and fill_element(element) is not None
            stroke = self._stroke(properties, plot)
            for share in axis.ticks:
                outline, box = _across(plot, share, upright=axis.lies)
                if stroke is not None:
                    transform = self.place.placed.transform
                    yield Figure(outline, box, transform, stroke=stroke)
                elif not stated:
                    yield self._obstacle(box.grown(0.5), GRIDLINE)

    def _axis_lines(self, plot: Box) -> Iterator[Item]:
        for axis in self.axes:
            stroke = self._stroke(child(axis.element, "c:spPr"), plot)
            if stroke is None or not axis.shown:
                continue
            share = {"left": 0.0, "bottom": 0.0, "right": 1.0, "top": 1.0}[axis.side]
            outline, box = _across(plot, share, upright=not axis.lies)
            yield Figure(outline, box, self.place.placed.transform, stroke=stroke)

    # Marks

    def _mark(self, group: Group, mark: Mark) -> Iterator[Item]:
        transform = self.place.placed.transform
        if not mark.filled:
            look = look_of_line(group, mark.series, self.palette, mark.box, transform)
        elif mark.outline:
            look = look_of_surface(
                group, mark.series, mark.point, self.palette, mark.box, transform
            )
        else:
            yield from self._marker(group, mark)
            return
        if look.trouble:
            yield self._obstacle(mark.box, look.trouble)
        elif look.fill is not None or look.stroke is not None:
            yield Figure(mark.outline, mark.box, transform, look.fill, look.stroke)

    def _marker(self, group: Group, mark: Mark) -> Iterator[Item]:
        """Paint the marker of a point: a round or a square one (§21.2.2.105)."""
        marker = child(mark.series.element, "c:marker")
        symbol = value_of(marker, "c:symbol") or "auto"
        switched = group.kind == "scatterChart" or is_on(group.element, "c:marker")
        if symbol == "none" or (symbol == "auto" and not switched):
            return
        size = min(72, max(2, whole(child(marker, "c:size"), "val", MARKER)))
        x, y = mark.anchor
        box = Box(x - size / 2, y - size / 2, size, size)
        transform = self.place.placed.transform
        stated = fill_element(child(marker, "c:spPr"))
        fill = (
            read_fill(stated, self.palette)
            if stated is not None
            else fill_of_mark(group, mark.series, mark.point, self.palette)
        )
        painted = fill.for_shape(box, transform)
        if isinstance(painted, str):
            yield self._obstacle(box, painted)
            return
        outline = rectangle(box) if symbol == "square" else ellipse(box)
        stroke = self._stroke(child(marker, "c:spPr"), box)
        yield Figure(outline, box, transform, painted, stroke)

    # The places of all parts

    def _places(self, frame: Box) -> Places:
        depths = dict.fromkeys(("left", "top", "right", "bottom"), 0.0)
        for axis in self.axes:
            depths[axis.side] += axis.depth if not axis.inside else 0.0
            title = child(axis.element, "c:title")
            if title is not None and axis.shown:
                depths[axis.side] += self._title_size(title, 1.0) * LINE
        title = child(self.chart, "c:title")
        shown = title is not None and not is_on(self.chart, "c:autoTitleDeleted")
        over = is_on(title, "c:overlay")
        height = self._title_size(title, TITLE_GROWTH) * LINE * self._title_lines(title)
        legend = child(self.chart, "c:legend")
        side = value_of(legend, "c:legendPos") or "r"
        side = "r" if side == "tr" else side
        needs = Needs(
            height if shown and not over else 0.0,
            side if legend is not None and not is_on(legend, "c:overlay") else "",
            self._legend_size(side),
            (depths["left"], depths["top"], depths["right"], depths["bottom"]),
        )
        return arrange(
            frame,
            needs,
            child(title, "c:layout"),
            child(legend, "c:layout"),
            child(self.plot, "c:layout"),
        )

    def _title_size(self, title: Element | None, growth: float) -> float:
        rich = child(title, "c:tx", "c:rich")
        runs = rich.iter(tag("a:rPr"), tag("a:defRPr")) if rich is not None else ()
        sizes = [whole(each, "sz") / 100 for each in runs if each.get("sz")]
        plain = self.texts.cascade(child(title, "c:txPr")).size(None) * growth
        return min(400.0, max(sizes, default=plain))

    @staticmethod
    def _title_lines(title: Element | None) -> int:
        rich = child(title, "c:tx", "c:rich")
        return max(1, len(rich.findall(tag("a:p")))) if rich is not None else 1

    # Titles

    def _title(self, places: Places) -> TextBlock | None:
        title = child(self.chart, "c:title")
        if title is None or is_on(self.chart, "c:autoTitleDeleted"):
            return None
        names = [series.name for group in self.groups for series in group.series]
        lines = self._title_runs(title, TITLE_GROWTH, names[0] if len(names) == 1 else "")
        height = self._title_size(title, TITLE_GROWTH) * LINE * max(1, len(lines))
        box = places.title
        box = Box(box.x, box.y, box.width, max(box.height, height))
        region = places.frame if is_on(title, "c:overlay") else places.beyond("top")
        return self.texts.block(centred(lines), box, "title", box_round_boxes((region, box)))

    def _title_runs(self, title: Element, growth: float, fallback: str = "") -> list[list[Run]]:
        behind = own_fill(title, self.palette)
        rich = child(title, "c:tx", "c:rich")
        if rich is not None:
            return self.texts.rich(rich, child(title, "c:txPr"), growth, behind)
        text = " ".join(words_of(child(title, "c:tx"))) or fallback
        cascade = self.texts.cascade(child(title, "c:txPr"))
        return [[self.texts.run(text, cascade, None, growth, behind)]]

    def _axis_title(self, axis: Axis, places: Places) -> TextBlock | None:
        title = child(axis.element, "c:title")
        if title is None or not axis.shown:
            return None
        runs = self._title_runs(title, 1.0)
        height = self._title_size(title, 1.0) * LINE * max(1, len(runs))
        band = places.band(axis.side, axis.depth + height)
        words = f"{axis.words} title"
        region = places.beyond(axis.side)
        properties = child(title, "c:tx", "c:rich", "a:bodyPr")
        if axis.lies or (properties is not None and properties.get("rot") == "0"):
            top = band.bottom - height if axis.side == "bottom" else band.y
            box = Box(band.x, top, band.width, height) if axis.lies else band
            return self.texts.block(centred(runs), box, words, box_round_boxes((region, box)))
        # Beside the plot, a title is turned: it reads from the bottom up.
        x = band.x + height / 2 if axis.side == "left" else band.right - height / 2
        y = band.centre[1]
        box = Box(x - band.height / 2, y - height / 2, band.height, height)
        upright = self.place.placed.upright.after(turned(-90.0, (x, y)))
        # The region, in the turned coordinates.
        beyond = turned(90.0, (x, y)).bounds(region)
        return self.texts.block(
            centred(runs), box, words, box_round_boxes((beyond, box)), transform=upright
        )

    # Legend

    def _entries(self) -> list[tuple[Group, Series, int | None, str]]:
        """Give the legend's entries: the series or the point that each stands for, its words."""
        removed = {
            value_of(entry, "c:idx") for entry in self._legend_entries() if is_on(entry, "c:delete")
        }
        found: list[tuple[Group, Series, int | None, str]] = []
        for group in self.groups:
            if group.by_point and group.value is None and group.series:
                series = group.series[0]
                found += [(group, series, at, name) for at, name in enumerate(series.categories)]
            else:
                found += [(group, series, None, series.name) for series in group.series]
        kept = [entry for place, entry in enumerate(found) if str(place) not in removed]
        return kept[:MOST_ENTRIES]

    def _legend_entries(self) -> list[Element]:
        legend = child(self.chart, "c:legend")
        return legend.findall(tag("c:legendEntry")) if legend is not None else []

    def _legend_text_size(self) -> float:
        return self.texts.cascade(child(self.chart, "c:legend", "c:txPr")).size(None)

    def _legend_size(self, side: str) -> tuple[float, float]:
        size = self._legend_text_size()
        widths = [size_of_words(name, size)[0] + SAMPLE_ROOM * size for *_, name in self._entries()]
        if side in ("t", "b"):
            return sum(widths) + size * len(widths), size * LINE
        return max(widths, default=1.0), size * LINE * max(1, len(widths))

    def _stands_in_column(self) -> bool:
        return (value_of(self.chart, "c:legend", "c:legendPos") or "r") not in ("t", "b")

    def _samples(self, places: Places) -> Iterator[Item]:
        """Paint the legend's fill and, in a column, the sample of colour beside each entry."""
        legend = child(self.chart, "c:legend")
        if legend is None:
            return
        yield from self._surface(legend, places.legend)
        entries = self._entries()
        if not self._stands_in_column() or not entries:
            return
        size, box = self._legend_text_size(), places.legend
        pitch = box.height / len(entries)
        for row, (group, series, point, _) in enumerate(entries):
            y = box.y + (row + 0.5) * pitch - size * SAMPLE / 2
            sample = Box(box.x, y, size * SAMPLE, size * SAMPLE)
            fill = fill_of_mark(group, series, point, self.palette)
            painted = fill.for_shape(sample, self.place.placed.transform)
            if painted is not None and not isinstance(painted, str):
                transform = self.place.placed.transform
                yield Figure(rectangle(sample), sample, transform, painted)

    def _legend(self, places: Places) -> TextBlock | None:
        legend = child(self.chart, "c:legend")
        if legend is None:
            return None
        names = [name for *_, name in self._entries()]
        behind = own_fill(legend, self.palette)
        cascade = self.texts.cascade(child(legend, "c:txPr"))
        box = places.legend
        region = box.grown(PADDING)
        if not self._stands_in_column():
            run = self.texts.run("   ".join(name for name in names if name), cascade, behind=behind)
            return self.texts.block([Paragraph((run,), Align.CENTRE)], box, "legend", region)
        room = self._legend_text_size() * SAMPLE_ROOM
        inner = Box(box.x + room, box.y, max(1.0, box.width - room), box.height)
        lines = [
            Paragraph((self.texts.run(name, cascade, behind=behind),)) for name in names if name
        ]
        # No program paints an entry's sample below its words.
        beside = Box(inner.x, region.y, region.right - inner.x, region.height)
        return self.texts.block(lines, inner, "legend", beside, wraps=False)

    # What isn't measured

    def _unmeasured(self, places: Places) -> Iterator[TextBlock | None]:
        """List the words of the parts that aren't painted, so that none is passed over."""
        plot = places.plot
        for name in ("c:trendlineLbl", "c:dispUnitsLbl"):
            for part in self.root.iter(tag(name)):
                rich = child(part, "c:tx", "c:rich")
                cascade = self.texts.cascade(child(part, "c:txPr"))
                words = (
                    "".join(each.text or "" for each in rich.iter(tag("a:t")))
                    if (rich is not None)
                    else name.removeprefix("c:")
                )
                run = self.texts.run(words, cascade, trouble=UNPAINTED_PART)
                yield self.texts.block(centred([[run]]), plot, "further text", plot)
        table = child(self.plot, "c:dTable")
        if table is not None:
            names = [word for axis in self.axes for _, word in axis.labels]
            run = self.texts.run(
                "  ".join(names),
                self.texts.cascade(child(table, "c:txPr")),
                trouble=UNPAINTED_PART,
            )
            band = places.beyond("bottom")
            yield self.texts.block(centred([[run]]), band, "data table", band)


def _marks_of(group: Group, field: Field | None, plot: Box) -> Iterator[Mark]:
    if field is None:
        return shapes.slices(group, plot)
    if group.kind == "barChart":
        return shapes.bars(group, field)
    if group.kind == "areaChart":
        return shapes.areas(group, field)
    return shapes.lines(group, field)


def _across(plot: Box, share: float, upright: bool) -> tuple[Outline, Box]:
    """Give the line across the plot at a share from its left or its bottom, and its extent."""
    if upright:
        x = plot.x + share * plot.width
        return line((x, plot.y), (x, plot.bottom)), Box(x, plot.y, 0.0, plot.height)
    y = plot.bottom - share * plot.height
    return line((plot.x, y), (plot.right, y)), Box(plot.x, y, plot.width, 0.0)
