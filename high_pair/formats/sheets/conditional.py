"""Conditional formats: which rules hold for which cells today, and what each would show.

Source: ECMA-376 Part 1 §18.3.1.10 (cfRule), §18.3.1.16 (colorScale),
§18.3.1.28 (dataBar), §18.18.12 (types).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from high_pair.formats.sheets.bars import Axis, Bar
from high_pair.formats.sheets.cells import Cells
from high_pair.formats.sheets.days import at_day, is_by_date, number_of, period_of, today
from high_pair.formats.sheets.expressions import MOST_READ, Compiled, Reader, compiled
from high_pair.formats.sheets.styles import Difference, StyleTable
from high_pair.formats.xml import Element, child, children, flag, local_name, number, tag, whole
from high_pair.scene.grid import Area, read_areas
from high_pair.scene.paint import Colour, mixed

Mask = NDArray[np.bool_]
# An expression is worked out for no more cells than this; past that it is measured as one
# that may appear.
MOST_WORKED_OUT = 3_000
LAST = 1 << 31
# When a rule holds that asks for no words at all.
EMPTY = "when it is empty"
_LOWEST, _HIGHEST = ("min", "autoMin"), ("max", "autoMax")
_SIGNS = {
    "lessThan": "below {0}",
    "lessThanOrEqual": "at most {0}",
    "equal": "{0}",
    "notEqual": "not {0}",
    "greaterThanOrEqual": "at least {0}",
    "greaterThan": "above {0}",
    "between": "from {0} to {1}",
    "notBetween": "outside {0} to {1}",
}


@dataclass(frozen=True)
class ScaleStop:
    """A point of a colour scale: its kind, its value (nan where a formula says it), its colour."""

    kind: str
    value: float
    colour: Colour

    @property
    def is_known(self) -> bool:
        """Whether its place on the scale can be told."""
        return self.kind in (*_LOWEST, *_HIGHEST) or math.isfinite(self.value)


@dataclass(frozen=True)
class Rule:
    """A rule: where it holds, what it shows, and in which order it is asked.

    words: when it holds; holds: which cells of its areas (their entries) it
    holds for, None where that can't be worked out; scale: its colours, for a
    colour scale, or the least and the greatest number of a data bar; bar: the data
    bar; alone: the bar or an icon stands for the value, which isn't shown; style: it
    is for the cells of this style, in place of areas.
    """

    areas: tuple[Area, ...]
    priority: int
    stops: bool
    difference: Difference | None
    words: str
    holds: Callable[[Cells, NDArray[np.int64]], Mask | None]
    scale: tuple[ScaleStop, ...] = ()
    bar: Bar | None = None
    alone: bool = False
    style: int | None = None

    def entries(self, cells: Cells) -> NDArray[np.int64]:
        """Give the entries of the cells in its areas."""
        if self.style is not None:
            return np.flatnonzero(cells.styles == self.style)
        inside = np.zeros(len(cells.values), bool)
        for area in self.areas:
            inside |= (
                (cells.rows >= area.top)
                & (cells.rows <= area.bottom)
                & (cells.columns >= area.left)
                & (cells.columns <= area.right)
            )
        return np.flatnonzero(inside)


def read_rules(
    sheet: Element, styles: StyleTable, reader: Reader, from_1904: bool = False
) -> list[Rule]:
    """Read a sheet's rules in the order of their priority, those of newer writers too."""
    found = []
    extended = {each.get("id", ""): each for each in sheet.iter(tag("x14:cfRule"))}
    for formatting in sheet.findall(tag("x:conditionalFormatting")):
        areas = read_areas(formatting.get("sqref", ""))
        for rule in formatting.findall(tag("x:cfRule")):
            difference = styles.difference(whole(rule, "dxfId", -1))
            made = _rule(rule, areas, difference, styles, reader, from_1904)
            more = next((extended.get((each.text or "").strip()) for each in rule.iter(_ID)), None)
            if made.bar is not None and more is not None:
                made = _extended(made, more, styles)
            found.append(made)
    for formatting in sheet.iter(tag("x14:conditionalFormatting")):
        where = child(formatting, "xm:sqref")
        areas = read_areas(where.text or "") if where is not None else ()
        for rule in formatting.findall(tag("x14:cfRule")):
            own = child(rule, "x14:dxf")
            difference = styles.read_difference(own, -1) if own is not None else None
            # What extends a data bar of the older kind has no place among the rules of its own.
            if difference is not None or rule.get("type") != "dataBar":
                found.append(_rule(rule, areas, difference, styles, reader, from_1904))
    return sorted((rule for rule in found if rule.areas), key=lambda rule: rule.priority)


def _rule(
    element: Element,
    areas: tuple[Area, ...],
    difference: Difference | None,
    styles: StyleTable,
    reader: Reader,
    from_1904: bool,
) -> Rule:
    kind = element.get("type", "")
    formulas = [
        (each.text or "").strip() for each in element if local_name(each) in ("formula", "f")
    ]
    top = min((area.top for area in areas), default=0)
    left = min((area.left for area in areas), default=0)
    stated = _attributes(element)
    words, holds = condition_of(kind, stated, formulas, (top, left), reader, from_1904)
    scale: tuple[ScaleStop, ...] = ()
    bar, alone = None, False
    if kind == "colorScale":
        scale = _scale(child(element, "x:colorScale"), styles)
    elif kind in ("dataBar", "iconSet"):
        shown = next((e for e in children(element) if local_name(e) == kind), None)
        alone = not flag(shown, "showValue", default=True)
        chosen = styles.colours.read(child(shown, "x:color"))
        if kind == "dataBar" and chosen is not None:
            bar = Bar(chosen.colour, chosen.colour)
            scale = _ends(shown, chosen.colour)
    return Rule(
        areas,
        whole(element, "priority", LAST),
        flag(element, "stopIfTrue"),
        difference,
        words,
        holds,
        scale,
        bar,
        alone,
    )


_ID = tag("x14:id")
_AXES = {"automatic": Axis.ZERO, "middle": Axis.MIDDLE, "none": Axis.SIDE}


def _ends(bar: Element | None, colour: Colour) -> tuple[ScaleStop, ...]:
    """Read the least and the greatest number of a data bar."""
    found = []
    for point in children(bar):
        if local_name(point) == "cfvo":
            formula = next((each for each in children(point) if local_name(each) == "f"), None)
            stated = point.get("val") if formula is None else formula.text
            found.append(ScaleStop(point.get("type", "num"), number(stated, math.nan), colour))
    return tuple(found) if len(found) == 2 else ()


def _extended(rule: Rule, element: Element, styles: StyleTable) -> Rule:
    """Give a data bar as its extension states it."""
    stated = child(element, "x14:dataBar")
    if stated is None or rule.bar is None:
        return rule
    below = styles.colours.read(child(stated, "x14:negativeFillColor"))
    same = flag(stated, "negativeBarColorSameAsPositive")
    lengths = number(stated.get("minLength"), 10) / 100, number(stated.get("maxLength"), 90) / 100
    bar = Bar(
        rule.bar.colour,
        below.colour if below is not None and not same else rule.bar.colour,
        (lengths,),
        flag(stated, "gradient", default=True),
        _AXES.get(stated.get("axisPosition", "automatic"), Axis.ZERO),
        stated.get("direction") == "rightToLeft",
    )
    return replace(rule, bar=bar, scale=_ends(stated, bar.colour) or rule.scale)


def _attributes(element: Element) -> dict[str, str]:
    return {str(key): str(value) for key, value in element.attrib.items()}


def _is_on(stated: Mapping[str, str], name: str) -> bool:
    return stated.get(name, "0") in ("1", "true")


def _unknown(_cells: Cells, _entries: NDArray[np.int64]) -> Mask | None:
    return None


def _always(_cells: Cells, entries: NDArray[np.int64]) -> Mask:
    return np.ones(len(entries), bool)


Condition = tuple[str, Callable[[Cells, NDArray[np.int64]], Mask | None]]


def condition_of(
    kind: str,
    stated: Mapping[str, str],
    formulas: list[str],
    corner: tuple[int, int],
    reader: Reader,
    from_1904: bool = False,
) -> Condition:
    """Give when a rule holds, in words and as a function.

    kind: of §18.18.12; stated: the rule's attributes; corner: the first cell of
    its areas, to which its formulas are relative; from_1904: days count from there.
    """
    as_stated = [f"{each}, {today()} being today" if is_by_date(each) else each
                 for each in formulas]  # fmt: skip
    formulas = [at_day(each, from_1904) for each in formulas]
    if kind in _BY_VALUES:
        return _BY_VALUES[kind]
    if kind == "cellIs" and formulas:
        sign = stated.get("operator", "equal")
        words = _SIGNS.get(sign, "{0}").format(*as_stated, *[""])
        return f"when the value is {words}", _compared(sign, formulas, corner, reader)
    if kind in _TEXTS:
        said = stated.get("text", "")
        return f"when the text {_TEXTS[kind][0]} “{said}”", _text(kind, said)
    if kind == "top10":
        return _top(stated)
    if kind == "aboveAverage":
        return _average(stated)
    if kind == "timePeriod":
        return _in_period(stated.get("timePeriod", ""), from_1904)
    if kind == "expression" and formulas:
        return f"when {as_stated[0]}", _expression(formulas[0], corner, reader)
    return f"by a rule of the kind “{kind or 'unknown'}”", _unknown


def _in_period(name: str, from_1904: bool) -> Condition:
    """Give the days of a period, as they are today."""
    day = today()
    words = f"when the date is in the period “{name}”, {day} being today"
    period = period_of(name, day)
    if period is None:
        return words, _unknown
    first, last = (number_of(day, from_1904) for day in period)

    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask:
        with np.errstate(invalid="ignore"):
            days = np.floor(cells.numbers[entries])
            return np.asarray((days >= first) & (days <= last))

    return words, holds


def _none(_cells: Cells, entries: NDArray[np.int64]) -> Mask:
    return np.zeros(len(entries), bool)


def _numeric(cells: Cells, entries: NDArray[np.int64]) -> Mask:
    return np.isfinite(cells.numbers[entries])


_TEXTS: dict[str, tuple[str, Callable[[str, str], bool]]] = {
    "containsText": ("contains", lambda text, said: said in text),
    "notContainsText": ("doesn't contain", lambda text, said: said not in text),
    "beginsWith": ("begins with", lambda text, said: text.startswith(said)),
    "endsWith": ("ends with", lambda text, said: text.endswith(said)),
}


def as_words(value: float | str) -> str:
    """Give a value as words are compared with it."""
    return value if isinstance(value, str) else f"{value:.15g}"


def _text(kind: str, said: str) -> Callable[[Cells, NDArray[np.int64]], Mask | None]:
    test = _TEXTS[kind][1]
    lowered = said.lower()

    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask:
        found = [test(as_words(cells.values[place]).lower(), lowered) for place in entries.tolist()]
        return np.array(found, bool)

    return holds


def _errors(wrong: bool) -> Callable[[Cells, NDArray[np.int64]], Mask | None]:
    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask:
        found = [
            isinstance(value := cells.values[place], str) and value.startswith("#")
            for place in entries.tolist()
        ]
        return np.asarray(np.array(found, bool) == wrong)

    return holds


def _occurring(twice: bool) -> Callable[[Cells, NDArray[np.int64]], Mask | None]:
    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask:
        words = [as_words(cells.values[place]).lower() for place in entries.tolist()]
        counts: dict[str, int] = {}
        for word in words:
            counts[word] = counts.get(word, 0) + 1
        return np.array([(counts[word] > 1) == twice for word in words], bool)

    return holds


_BY_VALUES: dict[str, Condition] = {
    "containsBlanks": (EMPTY, _none),
    "notContainsBlanks": ("when it isn't empty", _always),
    "containsErrors": ("when it is an error", _errors(True)),
    "notContainsErrors": ("when it is no error", _errors(False)),
    "duplicateValues": ("when the value occurs more than once", _occurring(True)),
    "uniqueValues": ("when the value occurs once", _occurring(False)),
    "colorScale": ("", _numeric),
    "dataBar": ("", _numeric),
    "iconSet": ("", _numeric),
}


def _top(stated: Mapping[str, str]) -> Condition:
    rank = int(number(stated.get("rank"), 10))
    percent, bottom = _is_on(stated, "percent"), _is_on(stated, "bottom")
    words = f"when it is among the {'lowest' if bottom else 'highest'} {rank}"

    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask:
        values = cells.numbers[entries]
        known = np.sort(values[np.isfinite(values)])
        if not len(known):
            return np.zeros(len(entries), bool)
        count = max(1, int(len(known) * rank / 100)) if percent else rank
        count = min(max(1, count), len(known))
        limit = known[count - 1] if bottom else known[-count]
        with np.errstate(invalid="ignore"):
            return np.asarray((values <= limit) if bottom else (values >= limit))

    return words + (" percent" if percent else ""), holds


def _average(stated: Mapping[str, str]) -> Condition:
    above = stated.get("aboveAverage", "1") in ("1", "true")
    equal = _is_on(stated, "equalAverage")
    deviations = int(number(stated.get("stdDev")))
    words = f"when it is {'above' if above else 'below'} the average"

    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask:
        values = cells.numbers[entries]
        known = values[np.isfinite(values)]
        if not len(known):
            return np.zeros(len(entries), bool)
        limit = known.mean()
        if deviations:
            spread = known.std(ddof=1) if len(known) > 1 else 0.0
            limit += (deviations if above else -deviations) * spread
        with np.errstate(invalid="ignore"):
            better = (values > limit) if above else (values < limit)
            return np.asarray(better | (equal & (values == limit)))

    return words, holds


def _constant(formula: str) -> float | str | None:
    """Give what a formula says when it is a plain value; None for another."""
    text = formula.strip()
    if len(text) >= 2 and text[0] == text[-1] == '"':
        return text[1:-1].replace('""', '"')
    try:
        return float(text)
    except ValueError:
        return None


def _compared(
    sign: str, formulas: list[str], corner: tuple[int, int], reader: Reader
) -> Callable[[Cells, NDArray[np.int64]], Mask | None]:
    constants = [_constant(formula) for formula in formulas[:2]]
    if all(isinstance(each, float) for each in constants):
        limits = [each for each in constants if isinstance(each, float)]

        def against(cells: Cells, entries: NDArray[np.int64]) -> Mask:
            values = cells.numbers[entries]
            with np.errstate(invalid="ignore"):
                kept = np.isfinite(values) | (sign in ("notEqual", "notBetween"))
                return np.asarray(_by_sign(sign, values, limits) & kept)

        return against
    if isinstance(constants[0], str) and sign in ("equal", "notEqual"):
        wanted = constants[0].lower()

        def same(cells: Cells, entries: NDArray[np.int64]) -> Mask:
            found = [as_words(cells.values[place]).lower() == wanted for place in entries.tolist()]
            return np.asarray(np.array(found, bool) == (sign == "equal"))

        return same
    return _expression(_as_expression(sign, formulas, corner), corner, reader)


def _by_sign(sign: str, values: NDArray[np.float64], limits: Sequence[float]) -> Mask:
    first = limits[0]
    last = limits[1] if len(limits) > 1 else first
    low, high = min(first, last), max(first, last)
    found = {
        "lessThan": values < first,
        "lessThanOrEqual": values <= first,
        "equal": values == first,
        "notEqual": values != first,
        "greaterThanOrEqual": values >= first,
        "greaterThan": values > first,
        "between": (values >= low) & (values <= high),
        "notBetween": (values < low) | (values > high),
    }.get(sign, np.zeros(len(values), bool))
    return np.asarray(found)


def _as_expression(sign: str, formulas: list[str], corner: tuple[int, int]) -> str:
    """Write a comparison with formulas as one expression about the range's first cell."""
    own = Area(corner[0], corner[1], corner[0], corner[1]).words
    signs = {
        "lessThan": "<", "lessThanOrEqual": "<=", "equal": "=", "notEqual": "<>",
        "greaterThanOrEqual": ">=", "greaterThan": ">",
    }  # fmt: skip
    if sign in signs:
        return f"{own}{signs[sign]}({formulas[0]})"
    low, high = formulas[0], formulas[-1]
    within = f"AND({own}>=({low}),{own}<=({high}))"
    return within if sign == "between" else f"NOT({within})"


def _expression(
    formula: str, corner: tuple[int, int], reader: Reader
) -> Callable[[Cells, NDArray[np.int64]], Mask | None]:
    """Work a formula out for every cell; it is relative to the range's first (§18.3.1.43)."""
    ready: list[Compiled | None] = []

    def holds(cells: Cells, entries: NDArray[np.int64]) -> Mask | None:
        if not ready:
            ready.append(compiled(formula))
        function = ready[0]
        if function is None or len(entries) > MOST_WORKED_OUT:
            return None
        if function.reads * len(entries) > MOST_READ:
            return None
        found = []
        for place in entries.tolist():
            shift = (int(cells.rows[place]) - corner[0], int(cells.columns[place]) - corner[1])
            truth = function.truth(
                shift, (int(cells.rows[place]), int(cells.columns[place])), reader
            )
            if truth is None:
                return None
            found.append(truth)
        return np.array(found, bool)

    return holds


# Colour scales


def _scale(scale: Element | None, styles: StyleTable) -> tuple[ScaleStop, ...]:
    points = [each for each in children(scale) if local_name(each) == "cfvo"]
    colours = [each for each in children(scale) if local_name(each) == "color"]
    found = []
    for point, colour in zip(points, colours, strict=False):
        chosen = styles.colours.read(colour)
        if chosen is not None:
            kind = point.get("type", "num")
            found.append(ScaleStop(kind, number(point.get("val"), math.nan), chosen.colour))
    return tuple(found) if len(found) >= 2 else ()


def scale_colours(
    stops: Sequence[ScaleStop], values: NDArray[np.float64], known: NDArray[np.float64]
) -> list[Colour]:
    """Give the colours of values on a scale, linear in each channel of sRGB.

    known: all numbers of the range, from which its least, greatest and
    percentiles are taken.
    """
    places = [place_of(stop, known) for stop in stops]
    found = []
    for value in values.tolist():
        if value <= places[0]:
            found.append(stops[0].colour)
            continue
        chosen = stops[-1].colour
        for number_of_stop in range(1, len(stops)):
            low, high = places[number_of_stop - 1], places[number_of_stop]
            if value <= high:
                share = (value - low) / (high - low) if high > low else 1.0
                chosen = mixed(
                    stops[number_of_stop - 1].colour, stops[number_of_stop].colour, share
                )
                break
        found.append(chosen)
    return found


def place_of(stop: ScaleStop, known: NDArray[np.float64]) -> float:
    """Give the number at a point of a scale or at an end of a data bar, by all known numbers."""
    low, high = float(known.min()), float(known.max())
    if stop.kind in _LOWEST:
        return min(0.0, low) if stop.kind.startswith("auto") else low
    if stop.kind in _HIGHEST:
        return max(0.0, high) if stop.kind.startswith("auto") else high
    if stop.kind == "percent":
        return low + (high - low) * stop.value / 100
    if stop.kind == "percentile":
        return float(np.percentile(known, min(100.0, max(0.0, stop.value))))
    return stop.value
