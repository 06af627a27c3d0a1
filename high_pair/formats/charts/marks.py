"""The marks of a chart as outlines: bars, lines, areas, slices and points (§21.2.2)."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from high_pair.formats.charts.data import Group, Series, is_on, value_of
from high_pair.formats.charts.scales import Scale
from high_pair.formats.drawing.paths import Pen
from high_pair.formats.xml import number
from high_pair.scene.geometry import (
    Box,
    Outline,
    Step,
    box_round,
    mapped,
    moved,
    polygon,
    rectangle,
)

_UNITS_OF_A_DEGREE = 60_000


@dataclass(frozen=True)
class Mark:
    """What is drawn for one value, or for a whole row of them.

    point: which value, None for a line or an area; box: the outline's extent;
    anchor: where a label beside it begins, and outward: the way from the mark's
    inside to there, across and down; centre: of its body; filled: it is a
    surface, else a line.
    """

    series: Series
    point: int | None
    outline: Outline
    box: Box
    anchor: tuple[float, float]
    outward: tuple[float, float]
    centre: tuple[float, float]
    filled: bool = True


@dataclass(frozen=True)
class Field:
    """Where the marks of a group are drawn.

    count: of categories; category_backwards: they run from the far side;
    between: points lie in the middle of a category's room, not on ticks.
    """

    plot: Box
    scale: Scale
    count: int
    category_backwards: bool = False
    between: bool = True
    across: Scale | None = None

    def along(self, place: float) -> float:
        """Give the share of the category axis at which a place in categories lies."""
        share = place / max(1, self.count)
        return 1 - share if self.category_backwards else share

    def middle_of(self, point: int) -> float:
        """Give the share at which a category's point lies."""
        if self.between:
            return self.along(point + 0.5)
        share = point / max(1, self.count - 1)
        return 1 - share if self.category_backwards else share


def _value_at(series: Series, point: int) -> float | None:
    return series.values[point] if point < len(series.values) else None


def spans_of(group: Group, point: int, base: float) -> Iterator[tuple[Series, float, float]]:
    """Give from where to where each series reaches at a point, in stacking order."""
    values = [(series, _value_at(series, point)) for series in group.series]
    whole = sum(abs(value or 0.0) for _, value in values) or 1.0
    above = below = 0.0
    for series, value in values:
        if value is None:
            continue
        if not group.stacks:
            yield series, base, value
            continue
        if group.grouping == "percentStacked":
            value /= whole
        if value >= 0:
            yield series, above, above + value
            above += value
        else:
            yield series, below, below + value
            below += value


def bars(group: Group, field: Field) -> Iterator[Mark]:
    """Give the bars of a group, upright or lying (§21.2.2.16)."""
    rows = 1 if group.stacks else max(1, len(group.series))
    width = 1 / (rows - (rows - 1) * group.overlap + group.gap)
    for point in range(field.count):
        places = {id(series): place for place, series in enumerate(group.series)}
        for series, start, end in spans_of(group, point, field.scale.base):
            place = 0 if group.stacks else places[id(series)]
            near = point + width * (group.gap / 2 + place * (1 - group.overlap))
            sides = sorted((field.along(near), field.along(near + width)))
            yield _bar(group, field, series, point, (sides[0], sides[1]), (start, end))


def _bar(
    group: Group,
    field: Field,
    series: Series,
    point: int,
    sides: tuple[float, float],
    reach: tuple[float, float],
) -> Mark:
    plot = field.plot
    low, high = (field.scale.share(value) for value in reach)
    grows = 1.0 if high >= low else -1.0
    if group.horizontal:
        # The first category is at the bottom.
        box = Box(
            plot.x + min(low, high) * plot.width,
            plot.bottom - sides[1] * plot.height,
            abs(high - low) * plot.width,
            (sides[1] - sides[0]) * plot.height,
        )
        anchor = plot.x + high * plot.width, box.centre[1]
        outward = grows, 0.0
    else:
        box = Box(
            plot.x + sides[0] * plot.width,
            plot.bottom - max(low, high) * plot.height,
            (sides[1] - sides[0]) * plot.width,
            abs(high - low) * plot.height,
        )
        anchor = box.centre[0], plot.bottom - high * plot.height
        outward = 0.0, -grows
    return Mark(series, point, rectangle(box), box, anchor, outward, box.centre)


def _points(group: Group, field: Field, series: Series) -> list[tuple[int, float, float]]:
    """Give the places of a series' points: index, x, y; stacked where the group is."""
    plot, found = field.plot, []
    for point in range(len(series.values)):
        spans = spans_of(group, point, field.scale.base)
        end = next((end for own, _, end in spans if own is series), None)
        if group.kind == "scatterChart":
            place = series.places[point] if point < len(series.places) else float(point + 1)
            end = _value_at(series, point)
            if field.across is None or place is None:
                continue
            share = field.across.share(place)
        else:
            share = field.middle_of(point)
        if end is not None:
            x = plot.x + share * plot.width
            found.append((point, x, plot.bottom - field.scale.share(end) * plot.height))
    return found


def _runs(points: list[tuple[int, float, float]]) -> list[list[tuple[float, float]]]:
    """Cut points into rows without a gap between them."""
    found: list[list[tuple[float, float]]] = []
    last = None
    for point, x, y in points:
        if last is None or point != last + 1:
            found.append([])
        found[-1].append((x, y))
        last = point
    return found


def _through(points: list[tuple[float, float]], smooth: bool) -> Outline:
    """Give the line through points, straight or smooth (by the slopes of their neighbours)."""
    steps = [Step("M", points[0])]
    for place in range(1, len(points)):
        one, two = points[place - 1], points[place]
        if smooth:
            before = points[max(0, place - 2)]
            after = points[min(len(points) - 1, place + 1)]
            first = one[0] + (two[0] - before[0]) / 6, one[1] + (two[1] - before[1]) / 6
            second = two[0] - (after[0] - one[0]) / 6, two[1] - (after[1] - one[1]) / 6
            steps.append(Step("C", (*first, *second, *two)))
        else:
            steps.append(Step("L", two))
    return tuple(steps)


def lines(group: Group, field: Field) -> Iterator[Mark]:
    """Give the lines of a group, then the points on them, each with its marker's place."""
    for series in group.series:
        points = _points(group, field, series)
        smooth = is_on(series.element, "c:smooth")
        for row in _runs(points):
            if len(row) > 1:
                outline = _through(row, smooth)
                yield Mark(
                    series,
                    None,
                    outline,
                    box_round(row),
                    row[-1],
                    (0.0, -1.0),
                    row[0],
                    filled=False,
                )
        for point, x, y in points:
            # A point has an extent of its own only where a marker is drawn.
            yield Mark(series, point, (), Box(x, y, 0.0, 0.0), (x, y), (0.0, -1.0), (x, y))


def areas(group: Group, field: Field) -> Iterator[Mark]:
    """Give the areas between each series and what it stands on (§21.2.2.2)."""
    plot = field.plot
    for series in group.series:
        upper, lower = [], []
        for point in range(field.count):
            x = plot.x + field.middle_of(point) * plot.width
            spans = spans_of(group, point, field.scale.base)
            start, end = next(
                ((s, e) for own, s, e in spans if own is series), (field.scale.base,) * 2
            )
            upper.append((x, plot.bottom - field.scale.share(end) * plot.height))
            lower.append((x, plot.bottom - field.scale.share(start) * plot.height))
        if len(upper) > 1:
            outline = polygon(*upper, *reversed(lower))
            box = box_round(upper + lower)
            yield Mark(series, None, outline, box, upper[-1], (0.0, -1.0), box.centre)


def slices(group: Group, plot: Box) -> Iterator[Mark]:
    """Give the slices of a pie, or of rings from the inside out (§21.2.2.141, §21.2.2.50)."""
    side = min(plot.width, plot.height)
    centre = plot.centre
    first = number(value_of(group.element, "c:firstSliceAng"), 0.0)
    hole = 0.0
    if group.kind == "doughnutChart":
        hole = min(0.9, max(0.01, number(value_of(group.element, "c:holeSize"), 10.0) / 100))
    rows = group.series if hole else group.series[:1]
    for row, series in enumerate(rows):
        depth = (1 - hole) / len(rows)
        inner, outer = (side / 2 * (hole + depth * each) for each in (row, row + 1))
        if not hole:
            inner = 0.0
        total = sum(abs(value) for value in series.values if value is not None)
        angle = first - 90.0
        for point, value in enumerate(series.values):
            if not value or total <= 0:
                continue
            sweep = abs(value) / total * 360.0
            yield _slice(series, point, centre, (inner, outer), angle, sweep)
            angle += sweep


def _slice(
    series: Series,
    point: int,
    centre: tuple[float, float],
    radii: tuple[float, float],
    start: float,
    sweep: float,
) -> Mark:
    """Give one slice; angles in degrees clockwise from the right."""
    inner, outer = radii

    def at(radius: float, degrees: float) -> tuple[float, float]:
        angle = math.radians(degrees)
        return radius * math.cos(angle), radius * math.sin(angle)

    pen = Pen()
    pen.move(*at(inner, start))
    pen.line(*at(outer, start))
    pen.arc(outer, outer, start * _UNITS_OF_A_DEGREE, sweep * _UNITS_OF_A_DEGREE)
    pen.line(*at(inner, start + sweep))
    if inner > 0:
        end = (start + sweep) * _UNITS_OF_A_DEGREE
        pen.arc(inner, inner, end, -sweep * _UNITS_OF_A_DEGREE)
    pen.close()
    middle = start + sweep / 2
    x, y = centre
    body = at((inner + outer) / 2 if inner else outer * 0.6, middle)
    edge = at(outer, middle)
    return Mark(
        series,
        point,
        mapped(tuple(pen.steps), moved(x, y)),
        Box(x - outer, y - outer, 2 * outer, 2 * outer),
        (x + edge[0], y + edge[1]),
        at(1.0, middle),
        (x + body[0], y + body[1]),
    )
