"""The axes of a chart: their scales, their labels, and where these stand (§21.2.2.25)."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from high_pair.formats.charts.data import Group, is_on, value_of
from high_pair.formats.charts.marks import Field
from high_pair.formats.charts.places import LINE, Places, size_of_words
from high_pair.formats.charts.scales import Scale, extremes, scale_of
from high_pair.formats.charts.texts import ChartTexts
from high_pair.formats.number_formats import shown
from high_pair.formats.xml import Element, child
from high_pair.scene.geometry import Box, box_round_boxes
from high_pair.scene.text import Align, Anchor, Paragraph, Spacing, TabStop, TextBlock

TICK = 4.0
# Where a line of a stated height has its baseline, as a share of it.
BASELINE = 0.72
# Half a capital's height, as a share of the size.
HALF_CAPITAL = 0.33
OPPOSITE = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}
_POSITIONS = {"l": "left", "r": "right", "t": "top", "b": "bottom"}


@dataclass(frozen=True)
class Axis:
    """An axis.

    side: of the plot where its labels stand; labels: their words, with the
    shares of the axis, from the left or from the bottom, at which they stand;
    ticks: those shares, of hidden labels too; size: of the labels' text;
    inside: they may lie in the plot, where the other axis crosses this one;
    lies: it runs from left to right; shown: it isn't deleted, which leaves its
    gridlines alone.
    """

    element: Element
    words: str
    side: str
    labels: tuple[tuple[float, str], ...]
    ticks: tuple[float, ...]
    size: float
    inside: bool
    lies: bool
    shown: bool

    @property
    def depth(self) -> float:
        """How much room the labels take beside the plot, in points."""
        if not self.labels:
            return TICK if self.shown else 0.0
        if self.lies:
            return self.size * LINE + TICK
        return max(size_of_words(word, self.size)[0] for _, word in self.labels) + TICK


def scales_of(groups: Sequence[Group]) -> dict[Element, Scale]:
    """Work out the scale of each value axis, over all groups that share it."""
    reached: dict[Element, list[tuple[float, float]]] = {}
    for group in groups:
        if group.value is not None:
            reached.setdefault(group.value, []).append(extremes(group))
        if group.kind == "scatterChart" and group.category is not None:
            places = [place for s in group.series for place in s.places if place is not None]
            longest = max((len(series.values) for series in group.series), default=1)
            ends = (min(places, default=1.0), max(places, default=float(longest)))
            reached.setdefault(group.category, []).append(ends)
    scales = {axis: scale_of(axis, ends) for axis, ends in reached.items()}
    return {axis: scale for axis, scale in scales.items() if scale is not None}


def axes_of(
    groups: Sequence[Group], scales: dict[Element, Scale], texts: ChartTexts
) -> Iterator[Axis]:
    """Give the axes, each once."""
    seen: set[Element] = set()
    for group in groups:
        for element in (group.category, group.value):
            if element is None or element in seen:
                continue
            seen.add(element)
            yield _axis(group, element, scales, texts)


def _axis(group: Group, element: Element, scales: dict[Element, Scale], texts: ChartTexts) -> Axis:
    is_value = element is group.value
    lies = is_value == group.horizontal
    side = _POSITIONS.get(value_of(element, "c:axPos") or "", "bottom" if lies else "left")
    position = value_of(element, "c:tickLblPos") or "nextTo"
    shown = not is_on(element, "c:delete")
    crossed = scales.get(group.value) if group.value is not None and not is_value else None
    if position == "high":
        side = OPPOSITE[side]
    if element in scales:
        labels = _value_labels(group, element, scales[element])
    elif is_value:
        labels = ()
    else:
        labels = _category_labels(group, element)
    return Axis(
        element,
        "value axis" if is_value else "category axis",
        side,
        labels if shown and position != "none" else (),
        tuple(share for share, _ in labels),
        texts.cascade(child(element, "c:txPr")).size(None),
        group.kind == "radarChart"
        or (position == "nextTo" and crossed is not None and crossed.low < 0),
        lies,
        shown,
    )


def _value_labels(group: Group, element: Element, scale: Scale) -> tuple[tuple[float, str], ...]:
    code = child(element, "c:numFmt")
    pattern = code.get("formatCode", "General") if code is not None else "General"
    if code is None or code.get("sourceLinked", "0") in ("1", "true"):
        pattern = next((series.format for series in group.series), pattern)
    if group.grouping == "percentStacked" and element is group.value:
        pattern = "0%"
    return tuple((scale.share(tick), shown(pattern, tick)) for tick in scale.ticks)


def field_of(group: Group, scales: dict[Element, Scale], plot: Box) -> Field | None:
    """Give where a group's marks are drawn; None when its scale isn't known."""
    if group.value is None or group.value not in scales:
        return None
    across = scales.get(group.category) if group.category is not None else None
    if group.kind == "scatterChart" and across is None:
        return None
    count = max((len(series.values) for series in group.series), default=0)
    return Field(
        plot, scales[group.value], count, _is_backwards(group), _lies_between(group), across
    )


def _is_backwards(group: Group) -> bool:
    return value_of(group.category, "c:scaling", "c:orientation") == "maxMin"


def _lies_between(group: Group) -> bool:
    return value_of(group.value, "c:crossBetween") != "midCat" or group.kind == "barChart"


def _category_labels(group: Group, element: Element) -> tuple[tuple[float, str], ...]:
    names = next((series.categories for series in group.series if series.categories), ())
    count = max([len(names), *(len(series.values) for series in group.series)])
    words = names or tuple(str(number + 1) for number in range(count))
    nowhere = Box(0.0, 0.0, 1.0, 1.0)
    field = Field(
        nowhere, Scale(0.0, 1.0, 1.0), len(words), _is_backwards(group), _lies_between(group)
    )
    return tuple((field.middle_of(place), word) for place, word in enumerate(words))


def label_block(axis: Axis, places: Places, texts: ChartTexts) -> TextBlock | None:
    """Give an axis's labels as one block, each at its tick where they have room."""
    if not axis.labels:
        return None
    cascade = texts.cascade(child(axis.element, "c:txPr"))
    band = places.band(axis.side, axis.depth)
    region = box_round_boxes((places.plot, band)) if axis.inside else places.beyond(axis.side)
    found = _in_a_row(axis, band) if axis.lies else _one_below_another(axis, band)
    if found is None:
        # Programs then turn, break or leave out labels, each in its way.
        run = texts.run("  ".join(word for _, word in axis.labels), cascade)
        paragraph = Paragraph((run,), Align.CENTRE)
        return texts.block([paragraph], band, axis.words, region, Anchor.TOP)
    words, paragraph, box = found
    filled = Paragraph(
        (texts.run(words, cascade),),
        paragraph.align,
        spacing=paragraph.spacing,
        tabs=paragraph.tabs,
    )
    return texts.block([filled], box, axis.words, region, Anchor.TOP, wraps=False)


def _in_a_row(axis: Axis, band: Box) -> tuple[str, Paragraph, Box] | None:
    """Give the words with tabs between them, and the tabs' stops."""
    labels = sorted(axis.labels)
    extents = [
        (share * band.width, size_of_words(word, axis.size)[0] / 2) for share, word in labels
    ]
    for (one, half), (other, other_half) in itertools.pairwise(extents):
        if one + half > other - other_half:
            return None
    # Tabs at the outer edge would lie outside the box: it is made wider by half a label.
    room = max(half for _, half in extents)
    stops = tuple(TabStop(place + room, "centre") for place, _ in extents)
    top = band.y + (TICK if axis.side == "bottom" else 0.0)
    box = Box(band.x - room, top, band.width + 2 * room, band.height)
    return "".join(f"\t{word}" for _, word in labels), Paragraph((), tabs=stops), box


def _one_below_another(axis: Axis, band: Box) -> tuple[str, Paragraph, Box] | None:
    """Give the words line by line, with the lines as far apart as the ticks."""
    labels = sorted(axis.labels, reverse=True)
    if len(labels) == 1:
        distance = axis.size * LINE
    else:
        distance = (labels[0][0] - labels[-1][0]) * band.height / (len(labels) - 1)
    if distance < axis.size * LINE:
        return None
    align = Align.RIGHT if axis.side == "left" else Align.LEFT
    first = band.bottom - labels[0][0] * band.height
    left = band.x + (TICK if axis.side == "right" else 0.0)
    middle = distance * BASELINE - axis.size * HALF_CAPITAL
    box = Box(left, first - middle, band.width - TICK, distance * len(labels))
    words = "\n".join(word for _, word in labels)
    return words, Paragraph((), align, spacing=Spacing(points=distance)), box
