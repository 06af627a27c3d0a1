"""The labels of a chart's marks: their words and where they stand (§21.2.2.47, §21.2.2.49)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from high_pair.formats.charts.data import Group, Series, is_on, value_of
from high_pair.formats.charts.looks import own_fill
from high_pair.formats.charts.marks import Mark
from high_pair.formats.charts.places import size_of_words, stated_box
from high_pair.formats.charts.texts import ChartTexts, centred
from high_pair.formats.drawing.colours import Palette
from high_pair.formats.number_formats import shown
from high_pair.formats.xml import Element, child, tag
from high_pair.scene.geometry import Box, box_round_boxes
from high_pair.scene.text import TextBlock

UNPAINTED = "a label in a chart of this kind isn't measured yet"
MOST_LABELS = 500
SWITCHES = ("c:showSerName", "c:showCatName", "c:showVal", "c:showPercent", "c:showBubbleSize")
GAP = 3.0
# A bar whose length is only estimated may be so much shorter than it is drawn.
CAUTION = 1.3
# Where a label stands when nothing says so (§21.2.3.12).
_USUAL = {"barChart": "outEnd", "lineChart": "r", "scatterChart": "r", "pieChart": "bestFit"}


@dataclass(frozen=True)
class Label:
    """A label of one mark: what states it, nearest first, and the mark itself."""

    mark: Mark
    sources: tuple[Element, ...]

    def stated(self, name: str) -> Element | None:
        """Give the nearest child of a name."""
        return next((c for each in self.sources if (c := child(each, name)) is not None), None)

    def shows(self, name: str) -> bool:
        """Tell whether a switch is on."""
        switch = self.stated(name)
        return switch is not None and switch.get("val", "1") in ("1", "true")


def _labels_of(group: Group, marks: Sequence[Mark]) -> Iterator[Label]:
    for mark in marks:
        own = child(mark.series.element, "c:dLbls")
        labels = own if own is not None else child(group.element, "c:dLbls")
        if labels is None or mark.point is None or is_on(labels, "c:delete"):
            continue
        single = next(
            (e for e in labels.findall(tag("c:dLbl")) if value_of(e, "c:idx") == str(mark.point)),
            None,
        )
        if single is not None and is_on(single, "c:delete"):
            continue
        label = Label(mark, (single, labels) if single is not None else (labels,))
        if any(label.shows(switch) for switch in SWITCHES):
            yield label


def _words(label: Label) -> str:
    series, point = label.mark.series, label.mark.point or 0
    value = series.values[point] if point < len(series.values) else None
    code = label.stated("c:numFmt")
    linked = code is None or code.get("sourceLinked", "0") in ("1", "true")
    pattern = series.format if linked or code is None else code.get("formatCode", "General")
    found = []
    if label.shows("c:showSerName"):
        found.append(series.name)
    if label.shows("c:showCatName") and point < len(series.categories):
        found.append(series.categories[point])
    if label.shows("c:showVal") and value is not None:
        found.append(shown(pattern, value))
    if label.shows("c:showPercent") and value is not None:
        whole = sum(abs(each) for each in series.values if each is not None) or 1.0
        found.append(shown(pattern if "%" in pattern else "0%", abs(value) / whole))
    separator = label.stated("c:separator")
    between = (separator.text or "") if separator is not None else ", "
    return between.join(word for word in found if word)


def _beside(mark: Mark, size: tuple[float, float], away: tuple[float, float]) -> Box:
    """Give the box beside a mark's anchor, on the side to which `away` points."""
    width, height = size
    reach = abs(away[0]) * width / 2 + abs(away[1]) * height / 2 + GAP
    x, y = mark.anchor[0] + away[0] * reach, mark.anchor[1] + away[1] * reach
    return Box(x - width / 2, y - height / 2, width, height)


def places_of(mark: Mark, position: str, size: tuple[float, float]) -> list[Box]:
    """Give where a label may stand, the likeliest first."""
    width, height = size
    across, down = mark.outward
    inside = _beside(mark, size, (-across, -down))
    centre = Box(mark.centre[0] - width / 2, mark.centre[1] - height / 2, width, height)
    if position == "inEnd":
        return [inside]
    if position == "inBase":
        base = 2 * mark.centre[0] - mark.anchor[0], 2 * mark.centre[1] - mark.anchor[1]
        shift = base[0] - mark.anchor[0], base[1] - mark.anchor[1]
        out = _beside(mark, size, mark.outward)
        return [Box(out.x + shift[0], out.y + shift[1], width, height)]
    if position == "outEnd":
        return [_beside(mark, size, mark.outward)]
    if position == "bestFit":
        return [inside, _beside(mark, size, mark.outward)]
    sides = {"t": (0.0, -1.0), "b": (0.0, 1.0), "l": (-1.0, 0.0), "r": (1.0, 0.0)}
    return [_beside(mark, size, sides[position])] if position in sides else [centre]


def _fits(box: Box, mark: Mark, upright: bool) -> bool:
    """Tell whether a label lies in a bar, even in one somewhat shorter than it is drawn."""
    length, breadth = (
        (mark.box.height, mark.box.width) if upright else (mark.box.width, mark.box.height)
    )
    own_length, own_breadth = (box.height, box.width) if upright else (box.width, box.height)
    return own_length * CAUTION + 2 * GAP <= length and own_breadth + 2 <= breadth


def label_blocks(
    group: Group, marks: Sequence[Mark], frame: Box, texts: ChartTexts, palette: Palette
) -> Iterator[TextBlock | None]:
    """Give the labels of a group's marks, each where its mark is."""
    usual = "ctr" if group.stacks else _USUAL.get(group.kind, "ctr")
    for count, label in enumerate(_labels_of(group, marks)):
        if count >= MOST_LABELS:
            return
        position = label.stated("c:dLblPos")
        place = position.get("val", usual) if position is not None else usual
        yield _block(group, label, place, frame, texts, palette)


def _block(
    group: Group, label: Label, position: str, frame: Box, texts: ChartTexts, palette: Palette
) -> TextBlock | None:
    mark = label.mark
    behind = next(
        (
            fill
            for each in label.sources
            if (fill := own_fill(each, palette)) != own_fill(None, palette)
        ),
        own_fill(None, palette),
    )
    around = label.stated("c:txPr")
    rich = child(label.stated("c:tx"), "c:rich")
    if rich is not None:
        lines = texts.rich(rich, around, 1.0, behind)
    else:
        words = _words(label)
        cascade = texts.cascade(around)
        lines = [[texts.run(line, cascade, None, 1.0, behind)] for line in words.split("\n")]
    runs = [run for line in lines for run in line]
    if not runs:
        return None
    size = max(run.size for run in runs)
    sizes = [size_of_words("".join(run.text for run in line), size) for line in lines]
    extent = max(width for width, _ in sizes), sum(height for _, height in sizes)
    boxes = places_of(mark, position, extent)
    moved = stated_box(label.stated("c:layout"), boxes[0], frame)
    if moved != boxes[0]:
        boxes = [Box(moved.x, moved.y, *extent)]
    region = _region(group, mark, position, boxes, size)
    return texts.block(
        centred(lines), boxes[0], f"label of {_name(mark.series)}", region, wraps=False
    )


def _region(group: Group, mark: Mark, position: str, boxes: Sequence[Box], size: float) -> Box:
    """Give where a label may stand: in its bar, beyond it, or round the places it may have."""
    upright = mark.outward[0] == 0
    inside = position in ("ctr", "inEnd", "inBase")
    if group.kind == "barChart" and inside and all(_fits(box, mark, upright) for box in boxes):
        return mark.box.grown(-GAP / 2)
    if group.kind == "barChart" and position == "outEnd":
        # It may lie further out, never nearer to its bar.
        across, down = mark.outward[0] * size / 2, mark.outward[1] * size / 2
        further = [Box(box.x + across, box.y + down, box.width, box.height) for box in boxes]
        return box_round_boxes([*boxes, *further])
    return box_round_boxes(boxes).grown(size / 2)


def _name(series: Series) -> str:
    return series.name or f"series {series.order + 1}"


def unpainted_labels(group: Group, plot: Box, texts: ChartTexts) -> Iterator[TextBlock | None]:
    """List the words of labels whose marks aren't painted, so that none is passed over."""
    point_marks = [
        Mark(series, point, (), plot, plot.centre, (0.0, -1.0), plot.centre)
        for series in group.series
        for point in range(len(series.values))
    ]
    lines = []
    for label in list(_labels_of(group, point_marks))[:MOST_LABELS]:
        cascade = texts.cascade(label.stated("c:txPr"))
        lines.append(texts.run(_words(label) + "  ", cascade, trouble=UNPAINTED))
    if lines:
        yield texts.block(centred([lines]), plot, "labels", plot)
