"""What a chart's part says of its data and its axes (ECMA-376 Part 1 §21.2)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from high_pair.formats.number_formats import shown
from high_pair.formats.xml import Element, child, children, local_name, number, tag, whole

MOST_POINTS = 1000
AXES = ("catAx", "valAx", "dateAx", "serAx")
STACKED = ("stacked", "percentStacked")
# Kinds whose marks are painted; in the others they are faces of bodies, or forms of their own.
PAINTED = ("barChart", "lineChart", "areaChart", "pieChart", "doughnutChart", "scatterChart")
BY_POINT = ("pieChart", "doughnutChart", "pie3DChart", "ofPieChart")
PLAIN_GAP = 150


def value_of(element: Element | None, *path: str) -> str | None:
    """Give the `val` of a child."""
    found = child(element, *path)
    return found.get("val") if found is not None else None


def is_on(element: Element | None, name: str) -> bool:
    """Read a c: on-off child; one without a value is on (§21.2.2)."""
    found = child(element, name)
    return found is not None and found.get("val", "1") in ("1", "true")


def _cache(reference: Element | None) -> dict[int, str]:
    """Give a reference's cached points by their index."""
    found: dict[int, str] = {}
    for point in reference.iter(tag("c:pt")) if reference is not None else ():
        index = whole(point, "idx", -1)
        value = child(point, "c:v")
        # Of several levels of categories, the first is the one beside the axis.
        if 0 <= index < MOST_POINTS and value is not None and index not in found:
            found[index] = (value.text or "").strip()
    return found


def words_of(reference: Element | None) -> list[str]:
    """Give a reference's cached words, those that are missing empty."""
    found = _cache(reference)
    if not found and reference is not None:
        literal = child(reference, "c:v")
        return [(literal.text or "").strip()] if literal is not None else []
    return [found.get(index, "") for index in range(max(found, default=-1) + 1)]


def _numbers(reference: Element | None) -> tuple[float | None, ...]:
    found = _cache(reference)
    numbers = {index: number(word, math.nan) for index, word in found.items()}
    return tuple(
        value if math.isfinite(value := numbers.get(index, math.nan)) else None
        for index in range(max(found, default=-1) + 1)
    )


def _format_of(reference: Element | None) -> str:
    code = next(reference.iter(tag("c:formatCode")), None) if reference is not None else None
    return (code.text or "General") if code is not None else "General"


@dataclass(frozen=True)
class Series:
    """One row of data.

    values: None where there is none; places: of a scatter's points across;
    format: the number format of its values; order: by which automatic colours go.
    """

    element: Element
    name: str
    categories: tuple[str, ...]
    values: tuple[float | None, ...]
    places: tuple[float | None, ...]
    format: str
    order: int


@dataclass(frozen=True)
class Group:
    """The series that are drawn one way over one pair of axes.

    gap: between two clusters of bars, overlap: of the bars in one, in shares of
    a bar; category, value: their axes, None for a pie.
    """

    element: Element
    kind: str
    series: tuple[Series, ...]
    category: Element | None
    value: Element | None
    grouping: str
    horizontal: bool
    gap: float
    overlap: float

    @property
    def stacks(self) -> bool:
        """Whether its marks stand on one another."""
        return self.grouping in STACKED

    @property
    def by_point(self) -> bool:
        """Whether every point has a colour of its own (§21.2.2.227)."""
        return is_on(self.element, "c:varyColors") and (
            self.kind in BY_POINT or len(self.series) == 1
        )


def _categories(reference: Element | None) -> tuple[str, ...]:
    """Give the words of a series' categories; numbers and dates as their format says."""
    words = words_of(reference)
    code = _format_of(reference)
    if child(reference, "c:numRef") is None or code == "General":
        return tuple(words)
    numbers = [number(word, math.nan) for word in words]
    return tuple(
        shown(code, value) if math.isfinite(value) else word
        for value, word in zip(numbers, words, strict=True)
    )


def _series(element: Element, place: int) -> Series:
    values = child(element, "c:val")
    values = values if values is not None else child(element, "c:yVal")
    return Series(
        element,
        " ".join(words_of(child(element, "c:tx"))),
        _categories(child(element, "c:cat")),
        _numbers(values),
        _numbers(child(element, "c:xVal")),
        _format_of(values),
        whole(child(element, "c:idx"), "val", place),
    )


def groups_of(plot: Element | None) -> tuple[Group, ...]:
    """Read the groups of a plot area, lowest first."""
    axes = {
        value_of(axis, "c:axId") or "": axis for axis in children(plot) if local_name(axis) in AXES
    }
    found: list[Group] = []
    place = 0
    for element in children(plot):
        kind = local_name(element)
        if not kind.endswith("Chart"):
            continue
        series = []
        for each in element.findall(tag("c:ser")):
            series.append(_series(each, place))
            place += 1
        own = [axes.get(each.get("val", "")) for each in element.findall(tag("c:axId"))]
        named = [axis for axis in own if axis is not None]
        if kind not in BY_POINT and kind != "doughnutChart":
            # Where a group doesn't say which axes it has, they are all that there are.
            named = named or list(axes.values())
        value = next((axis for axis in reversed(named) if local_name(axis) == "valAx"), None)
        category = next((axis for axis in named if axis is not value), None)
        found.append(
            Group(
                element,
                kind,
                tuple(series),
                category,
                value,
                value_of(element, "c:grouping") or "clustered",
                value_of(element, "c:barDir") == "bar",
                min(500, max(0, whole(child(element, "c:gapWidth"), "val", PLAIN_GAP))) / 100,
                min(100, max(-100, whole(child(element, "c:overlap"), "val", 0))) / 100,
            )
        )
    return tuple(found)
