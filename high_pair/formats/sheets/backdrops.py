"""What is behind a cell's text beside its fill: a data bar, and cells that it runs on over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from high_pair.colour.ratio import contrast_ratio
from high_pair.formats.sheets.bars import Span, Standing, reach, standing
from high_pair.formats.sheets.cells import Cells
from high_pair.formats.sheets.conditional import EMPTY, Rule, place_of
from high_pair.raster.fonts import face_for
from high_pair.raster.layout import width_of
from high_pair.scene.paint import WHITE, Colour, Fill, LinearGradient, Stop, colours_of
from high_pair.scene.text import Run

if TYPE_CHECKING:
    from high_pair.formats.sheets.sheet import Sheet

BAR = "how much of the text its data bar is behind differs from program to program"
RUNS_ON = "whether the text runs on over the cells beside it, which look otherwise, isn't sure"
# About how wide letters are, in ems, with room beside them in points; how much wider or narrower
# they may be.
LETTER, WIDER = 0.52, 1.3
# Another font of the same kind sets them so much wider or narrower; so many are laid out to know.
OTHER_FONT = 1.12
MOST_LAID_OUT = 5_000
# Between a cell's side and its words; and the part of a letter, in ems, that may be past the other
# side without counting.
MARGIN, PART = 2.0, 0.25
# Words that stand so may run on, over so many empty cells beside theirs.
RUNNING = frozenset({"general", "left", "center", "right"})
MOST_RUN_ON = 40
# It is asked for so long whether rules fill cells: of the rest each may. What asking a rule counts,
# when looking whether a cell is among a rule's counts one.
MOST_EFFORT = 3_000_000
QUESTION = 20


@dataclass(frozen=True)
class Kind:
    """What is behind a text: `fill` surely, and `beside` it parts of it; or_else: what may be in
    the place of that, None for nothing, and why nobody knows."""

    fill: Fill
    beside: tuple[Fill, ...] = ()
    or_else: Fill | None = None
    why: str = ""


# Data bars


def on_bar(sheet: Sheet, rule: Rule, entries: NDArray[np.int64], fill: Fill) -> dict[int, Kind]:
    """Give what is behind cells with a data bar on a fill, by their entries."""
    bar = rule.bar
    assert bar is not None
    ends = _ends(sheet, rule)
    found = {}
    for entry in entries.tolist():
        value = float(sheet.cells.numbers[entry])
        colour = bar.colour_for(value)
        how = standing(_span(sheet, entry), reach(bar, value, *ends) if ends else None)
        if how is Standing.BESIDE:
            found[entry] = Kind(fill)
        elif bar.fades or how is Standing.UNSURE:
            first = colour if how is Standing.WITHIN else fill
            shown = _fading(colour, fill) if bar.fades else colour
            found[entry] = Kind(first, (), shown, BAR)
        else:
            found[entry] = Kind(colour) if how is Standing.WITHIN else Kind(fill, (colour,))
    return found


def _ends(sheet: Sheet, rule: Rule) -> tuple[float, float] | None:
    """Give the numbers of the shortest and the longest bar; None where nobody knows."""
    if not all(stop.is_known for stop in rule.scale):
        return None
    known = sheet.cells.numbers[rule.entries(sheet.cells)]
    known = known[np.isfinite(known)]
    if not rule.scale:
        return float(known.min()), float(known.max())
    low, high = (place_of(stop, known) for stop in rule.scale)
    return low, high


def _fading(bar: Colour, fill: Fill) -> Fill:
    """Give what a bar shows that fades towards the cell's own fill."""
    end = fill if isinstance(fill, Colour) else WHITE
    return LinearGradient((Stop(0.0, bar), Stop(1.0, end)), (0.0, 0.0), (1.0, 0.0))


def _span(sheet: Sheet, entry: int) -> tuple[Span, Span]:
    """Give from where to where in its cell a text surely stands, and where it may."""
    cell, text, side = sheet.cell_box(entry), sheet.box_of(entry), sheet.side_of(entry)
    spans = []
    for share in (1 / WIDER, WIDER):
        width = text.width * share
        start = text.x - cell.x + (text.width - width) * side
        spans.append((start / max(cell.width, 1e-6), (start + width) / max(cell.width, 1e-6)))
    return spans[0], spans[1]


# Words that run on


def running_on(sheet: Sheet, entries: NDArray[np.int64], fill: Fill, run: Run) -> dict[int, Kind]:
    """Give what is behind words too long for their cell that run on over others, by their entries.

    entries: of cells of one look; run: of that look.
    """
    needed = _too_wide(sheet, entries, run)
    found: dict[int, Kind] = {}
    for entry, widths in needed.items():
        surely, maybe = _beside(sheet, entry, widths, fill)
        if maybe:
            rest = [each for each in maybe if each not in surely]
            worst = _weakest(rest, run)
            # Some of the words stand on their own cell's fill, whatever is behind the rest.
            parts = (fill, *surely)
            found[entry] = Kind(fill, parts, worst, RUNS_ON if worst is not None else "")
    return found


def _too_wide(sheet: Sheet, entries: NDArray[np.int64], run: Run) -> dict[int, tuple[float, float]]:
    """Give the least and the greatest width of the words that may be too wide for their cell."""
    # Cells of one look have one style.
    style = sheet.source.style(int(sheet.cells.styles[entries[0]]))
    if style.wraps or style.turn or style.shrinks or style.across not in RUNNING:
        return {}
    spread = 1.0 if face_for(run.family).same_widths else OTHER_FONT
    found: dict[int, tuple[float, float]] = {}
    for entry in entries.tolist():
        words = sheet.cells.values[entry]
        if not isinstance(words, str) or not words:
            continue
        lines = words.split("\n")
        width = max(map(len, lines)) * style.font.size * LETTER
        column = int(sheet.cells.columns[entry])
        room = sheet.sizes[0][column] - MARGIN + PART * style.font.size
        if width * WIDER <= room or (int(sheet.cells.rows[entry]), column) in sheet.merged:
            continue
        if len(found) < MOST_LAID_OUT:
            width = max(width_of([(run, line)]) for line in lines)
        if width * spread > room:
            found[entry] = (width / spread, width * spread)
    return found


def _stated(sheet: Sheet, row: int, column: int) -> Fill:
    """Give the fill that an empty cell has, but for those of conditional formats."""
    own = sheet.source.style_at(row, column).fill
    if own is not None:
        return own
    given = (each for table in sheet.tables for each in table.given(row, column))
    fills = (each.difference.fill for each in given)
    return next((fill for fill in fills if fill is not None), WHITE)


def _beside(
    sheet: Sheet,
    entry: int,
    needed: tuple[float, float],
    fill: Fill,
) -> tuple[Sequence[Fill], Sequence[Fill]]:
    """Give the other fills that words surely run on over, and those over which they may.

    needed: how wide the words are at the least and at the most.
    """
    row, column = int(sheet.cells.rows[entry]), int(sheet.cells.columns[entry])
    widths, side = sheet.widths, sheet.side_of(entry)
    least = PART * sheet.source.style(int(sheet.cells.styles[entry])).font.size
    surely: dict[Fill, None] = {}
    maybe: dict[Fill, None] = {}
    for step, share in ((1, 1 - side), (-1, side)):
        if not share:
            continue
        # What of the words is past the cell's side, at the least and at the most.
        past = [(each + MARGIN - widths[column]) * share - least for each in needed]
        at = column + step
        while past[1] > 0 and 0 <= at < len(widths) and abs(at - column) < MOST_RUN_ON:
            if sheet.cells.at(row, at) is not None:
                break
            ruled, doubted = sheet.filling_rules.at(row, at)
            other = ruled if ruled is not None else _stated(sheet, row, at)
            for each in (other, *doubted):
                if each != fill:
                    maybe[each] = None
            if past[0] > 0 and other != fill and not doubted:
                surely[other] = None
            past = [each - widths[at] for each in past]
            at += step
    return list(surely), list(maybe)


class FillingRules:
    """The conditional formats that fill cells; each question whether one holds takes its time."""

    def __init__(self, rules: Sequence[Rule]) -> None:
        """Take those that fill from all of a sheet's."""
        self._rules = [
            (rule, rule.difference.fill)
            for rule in rules
            if rule.difference is not None and rule.difference.fill is not None
        ]
        self._fills = list(dict.fromkeys(fill for _, fill in self._rules))
        self._effort = 0

    def at(self, row: int, column: int) -> tuple[Fill | None, list[Fill]]:
        """Give the fill that an empty cell surely has by them, and those that it may."""
        if self._effort > MOST_EFFORT:
            return None, self._fills
        self._effort += len(self._rules)
        maybe: list[Fill] = []
        for rule, fill in self._rules:
            if not any(area.holds(row, column) for area in rule.areas):
                continue
            holds = self._holds(rule, row, column)
            if holds is None or rule.words == EMPTY:
                maybe.append(fill)
            elif holds:
                return fill, maybe
        return None, maybe

    def _holds(self, rule: Rule, row: int, column: int) -> bool | None:
        self._effort += QUESTION
        place = np.array([row], np.int32), np.array([column], np.int32)
        empty = Cells(*place, np.zeros(1, np.int32), [""], np.full(1, np.nan))
        holds = rule.holds(empty, np.zeros(1, np.int64))
        return None if holds is None else bool(holds[0])


def _weakest(fills: Sequence[Fill], run: Run) -> Fill | None:
    """Give the one of some fills on which a text has the least contrast; None of none."""

    def least(fill: Fill) -> float:
        levels = np.array([shade.levels for shade in colours_of(fill)], np.uint8)
        return float(contrast_ratio(np.array(run.colour.levels, np.uint8), levels).min())

    return min(fills, key=least, default=None)
