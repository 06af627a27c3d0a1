"""The scale of a value axis: its ends, its ticks, and where a value lies (§21.2.2.171)."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from high_pair.formats.charts.data import Group, value_of
from high_pair.formats.xml import Element, number

MOST_TICKS = 50
# How many steps an automatic axis has at the most.
STEPS = 8


@dataclass(frozen=True)
class Scale:
    """From `low` to `high` in steps; backwards: from right to left, or from the top down."""

    low: float
    high: float
    step: float
    backwards: bool = False

    def share(self, value: float) -> float:
        """Give how far along the axis a value lies, 0 to 1 and cut there."""
        along = (min(self.high, max(self.low, value)) - self.low) / (self.high - self.low)
        return 1 - along if self.backwards else along

    @property
    def ticks(self) -> tuple[float, ...]:
        """The values that have a tick."""
        first = math.ceil(self.low / self.step - 1e-9)
        last = math.floor(self.high / self.step + 1e-9)
        count = min(MOST_TICKS, max(0, last - first + 1))
        return tuple((first + index) * self.step for index in range(count))

    @property
    def base(self) -> float:
        """The value on which bars stand."""
        return min(self.high, max(self.low, 0.0))


def round_step(span: float) -> float:
    """Give the step of 1, 2 or 5 times a power of ten that cuts a span into few steps."""
    rough = span / STEPS
    power = 10.0 ** math.floor(math.log10(rough))
    return next(power * digit for digit in (1, 2, 5, 10) if power * digit >= rough * (1 - 1e-9))


def extremes(group: Group) -> tuple[float, float]:
    """Give the lowest and the highest value that a group's marks reach."""
    if group.grouping == "percentStacked":
        return 0.0, 1.0
    rows = [series.values for series in group.series]
    if not group.stacks:
        known = [value for row in rows for value in row if value is not None]
        return min(known, default=0.0), max(known, default=1.0)
    below, above = [0.0], [0.0]
    for point in range(max(map(len, rows), default=0)):
        column = [row[point] or 0.0 for row in rows if point < len(row)]
        above.append(sum(value for value in column if value > 0))
        below.append(sum(value for value in column if value < 0))
    return min(below), max(above)


def scale_of(axis: Element | None, reached: Iterable[tuple[float, float]]) -> Scale | None:
    """Give an axis's scale: as stated, else round ends past the values; None for logarithms."""
    scaling = (axis, "c:scaling")
    if value_of(*scaling, "c:logBase") is not None:
        return None
    ends = list(reached)
    lowest = min((low for low, _ in ends), default=0.0)
    highest = max((high for _, high in ends), default=1.0)
    # Values far from nothing next to their spread begin above it.
    if lowest >= 0 and highest - lowest > highest / 6:
        lowest = 0.0
    elif highest <= 0 and highest - lowest > -lowest / 6:
        highest = 0.0
    if not lowest < highest:
        lowest, highest = min(0.0, lowest), max(0.0, highest, lowest + 1.0)
    stated_low = value_of(*scaling, "c:min")
    stated_high = value_of(*scaling, "c:max")
    low, high = number(stated_low, lowest), number(stated_high, highest)
    if not low < high or high - low > 1e300 or high - low < 1e-300:
        return None
    step = number(value_of(axis, "c:majorUnit"), 0.0)
    if not 0 < step <= high - low:
        step = round_step(high - low)
    # A mark that ends on the last tick gets room beyond it, but for shares of a whole.
    whole = (lowest, highest) == (0.0, 1.0)
    if stated_low is None:
        bottom = math.floor(low / step + 1e-9) * step
        low = bottom - step if low < 0 and low - bottom < step * 0.05 else bottom
    if stated_high is None:
        top = math.ceil(high / step - 1e-9) * step
        high = top + step if high > 0 and top - high < step * 0.05 and not whole else top
    backwards = value_of(*scaling, "c:orientation") == "maxMin"
    return Scale(low, high, step, backwards) if low < high else None
