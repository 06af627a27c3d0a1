"""A sheet: its grid, its cells grouped by look, and what it states of them."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from high_pair.formats.sheets.backdrops import (
    LETTER,
    MOST_RUN_ON,
    FillingRules,
    Kind,
    on_bar,
    running_on,
)
from high_pair.formats.sheets.cells import Cells, SharedText
from high_pair.formats.sheets.conditional import Rule, scale_colours
from high_pair.formats.sheets.expressions import Reader
from high_pair.formats.sheets.heights import fitted
from high_pair.formats.sheets.looks import AUTOMATIC, UNSURE, CellLook, Place, look_of
from high_pair.formats.sheets.styles import Font, Style
from high_pair.formats.sheets.tables import Given, SheetTable
from high_pair.scene.addresses import member_of
from high_pair.scene.geometry import Box
from high_pair.scene.grid import (
    MOST_COLUMNS,
    MOST_ROWS,
    Area,
    Cell,
    Grid,
    areas_of,
    words_for,
)
from high_pair.scene.page import StatedBackdrop, StatedText
from high_pair.scene.paint import BLACK, WHITE, Colour, Fill
from high_pair.scene.text import Run

# §18.3.1.13: a column's width counts digits of the default font, 7 pixels each at 96 dpi.
DIGIT = 7.0
PIXEL = 0.75
PLAIN_WIDTH, PLAIN_HEIGHT = 8.43, 15.0
# The grid reaches a little past the last cell.
SPARE_ROWS, SPARE_COLUMNS = 2, 1
HIDDEN = "it is in a hidden row or column: it isn't shown"
BLANK = "its number format shows nothing of it"
UNKNOWN_SCALE = "formulas say where its colour scale begins and ends, which aren't worked out"
ALONE = "a bar or an icon stands for its value, which isn't shown"
SHADOW = "its letters have a shadow, and where that lies behind them differs"
RUN_AND_RULE = (
    "the run in its cell and a conditional format both give it a colour, and programs differ in "
    "which they show"
)
# More colours of one scale than this are no longer told apart by their cells.
# Where in a cell a text stands, and the room beside it in points.
SIDES = {"left": 0.0, "center": 0.5, "right": 1.0}
ROOM = 3.0


# The levels of the colour that a number format gives, and whether it shows nothing.
Section = tuple[tuple[int, int, int] | None, bool]
PLAIN_SECTION: Section = (None, False)


@dataclass(frozen=True)
class Group:
    """Cells of one look: their entries, and what else is special about them.

    hidden: in hidden rows or columns; blank: nothing of them is shown; scale:
    the rule of the colour scale that fills them; bar: that of their data bar; alone:
    whose bar or icon stands for the value; given, rules: what a table's style gives
    them, and the rules that hold for them.
    """

    look: CellLook
    entries: NDArray[np.int64]
    hidden: bool = False
    blank: bool = False
    scale: Rule | None = None
    bar: Rule | None = None
    alone: bool = False
    given: tuple[Given, ...] = ()
    rules: tuple[Rule, ...] = ()


@dataclass(frozen=True)
class RichPart:
    """A run within a cell: its words, its font, and where its colour can be changed.

    address: empty where it follows the cell's own font; highlight: behind it, above the cell's
    own fill.
    """

    words: str
    font: Font
    address: str = ""
    fixed: str = ""
    highlight: Colour | None = None


class Source(Protocol):
    """A sheet as a format's own code has read it."""

    @property
    def cells(self) -> Cells:
        """The cells with something in them."""

    @property
    def merged(self) -> tuple[Area, ...]:
        """The merged cells."""

    @property
    def default_font(self) -> Font:
        """The font of cells that no style speaks of."""

    def sizes(self, used: Area) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Give the widths of columns and the heights of rows in points; 0 for hidden ones."""

    def fitting_rows(self, used: Area) -> NDArray[np.bool_]:
        """Tell of the rows which are as high as their text, because nobody has set a height."""

    def rules(self, value_at: Reader) -> list[Rule]:
        """Give the conditional formats, in order."""

    def style(self, index: int) -> Style:
        """Give a style by the number that cells have for it."""

    def has_sections(self, style: Style) -> bool:
        """Tell whether a style's number format has colours, or shows nothing of some values."""

    def section(self, style: Style, value: float | str) -> Section:
        """Give the colour that the number format gives a value, and whether it shows nothing."""

    def text(self, entry: int) -> str:
        """Give a cell's text about as it is shown."""

    def parts(self, text: SharedText, style: Style) -> Sequence[RichPart]:
        """Give the runs of a cell whose runs differ in look."""

    def dressed(self, area: Area) -> dict[tuple[int, int], Style]:
        """Give the styles of an area's cells that have fills or borders, empty cells too."""

    def style_at(self, row: int, column: int) -> Style:
        """Give the style of a cell, an empty one too."""


class Sheet:
    """A sheet's cells by their looks."""

    def __init__(
        self,
        source: Source,
        words: str,
        place: Place,
        tables: Sequence[SheetTable] = (),
        read_other: Reader | None = None,
    ) -> None:
        """Take a sheet as it was read; rules and looks are worked out when they are asked for.

        words: the sheet's name; read_other: gives what cells of other sheets hold.
        """
        self.source = source
        self.words = words
        self.place = place
        self.tables = tables
        self._read_other = read_other
        self.cells: Cells = source.cells

    # The grid

    @functools.cached_property
    def used(self) -> Area:
        """The block of cells that have something in them, from the first cell on."""
        bottom = int(self.cells.rows.max(initial=0)) + SPARE_ROWS
        right = int(self.cells.columns.max(initial=0)) + SPARE_COLUMNS
        for merged in self.source.merged:
            bottom, right = max(bottom, merged.bottom), max(right, merged.right)
        return Area(0, 0, min(bottom, MOST_ROWS - 1), min(right, MOST_COLUMNS - 1))

    @functools.cached_property
    def sizes(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """The widths of all columns and the heights of all rows in points; 0 for hidden ones."""
        source, (widths, heights) = self.source, self.source.sizes(self.used)
        free = source.fitting_rows(self.used)
        own = (source.style, source.text, source.merged)
        return widths, fitted(self.cells, *own, (widths, heights), free)

    @functools.cached_property
    def widths(self) -> NDArray[np.float64]:
        """The widths of all columns that words may run on over, past the grid too."""
        right = min(self.used.right + MOST_RUN_ON, MOST_COLUMNS - 1)
        return self.source.sizes(Area(0, 0, 0, right))[0]

    @functools.cached_property
    def grid(self) -> Grid:
        """Where its rows and columns begin."""
        widths, heights = self.sizes
        return Grid(
            np.concatenate(([0.0], np.cumsum(widths))), np.concatenate(([0.0], np.cumsum(heights)))
        )

    @functools.cached_property
    def merged(self) -> dict[Cell, Area]:
        """The merged cells by their first, in which all that is shown of them stands."""
        return {(area.top, area.left): area for area in self.source.merged}

    # Looks

    @functools.cached_property
    def rules(self) -> list[Rule]:
        """The conditional formats, in order."""
        return self.source.rules(self.value_at)

    @functools.cached_property
    def filling_rules(self) -> FillingRules:
        """Those of them that fill cells."""
        return FillingRules(self.rules)

    def value_at(self, sheet: str | None, row: int, column: int) -> float | str | None:
        """Give what a cell holds, of another sheet where one is named."""
        if sheet is not None:
            return self._read_other(sheet, row, column) if self._read_other else None
        entry = self.cells.at(row, column)
        return None if entry is None else self.cells.values[entry]

    @functools.cached_property
    def groups(self) -> tuple[Group, ...]:
        """All cells by their looks; those whose runs differ in look aren't among them."""
        cells = self.cells
        count = len(cells.values)
        if not count:
            return ()
        codes = np.zeros((count, 5), np.int64)
        codes[:, 0] = cells.styles
        widths, heights = self.sizes
        codes[:, 1] = (widths[cells.columns] == 0) | (heights[cells.rows] == 0)
        sections = self._section_codes(codes[:, 2])
        given = self._table_codes(codes[:, 3])
        held = self._rule_codes(codes[:, 4])
        sizes = codes.max(axis=0) + 1
        joined, places = np.unique(np.ravel_multi_index(codes.T, sizes), return_inverse=True)
        order = np.argsort(places, kind="stable")
        ends = np.cumsum(np.bincount(places, minlength=len(joined)))
        kinds = np.stack(np.unravel_index(joined, sizes), axis=1).tolist()
        found = []
        for kind, entries in zip(kinds, np.split(order, ends[:-1]), strict=True):
            style_index, hidden, section, table, rules = kind
            colour, blank = sections[section]
            holding = held[rules]
            style = self.source.style(style_index)
            look = look_of(
                style,
                style.font,
                colour,
                given[table],
                holding,
                self.place,
                self.source.default_font,
            )
            scale = next((rule for rule in holding if rule.scale and not rule.bar), None)
            if scale is not None and not all(stop.is_known for stop in scale.scale):
                look = replace(look, run=replace(look.run, trouble=UNKNOWN_SCALE))
            elif scale is not None and look.run.origin == AUTOMATIC:
                # What of the scale's colours turns it white is for programs to say.
                run = replace(look.run, shades=(BLACK, WHITE), why_shades=UNSURE)
                look = replace(look, run=run)
            bar = next((rule for rule in holding if rule.bar), None)
            alone = any(rule.alone for rule in holding)
            own = (given[table], holding)
            found.append(Group(look, entries, bool(hidden), blank, scale, bar, alone, *own))
        return tuple(found)

    def _section_codes(self, codes: NDArray[np.int64]) -> list[Section]:
        """Find the colours that number formats give; blank: nothing is shown."""
        cells = self.cells
        found: dict[Section, int] = {PLAIN_SECTION: 0}
        for style_index in np.unique(cells.styles).tolist():
            style = self.source.style(style_index)
            if not self.source.has_sections(style):
                continue
            for entry in np.flatnonzero(cells.styles == style_index).tolist():
                key = self.source.section(style, cells.values[entry])
                codes[entry] = found.setdefault(key, len(found))
        return list(found)

    def _table_codes(self, codes: NDArray[np.int64]) -> list[tuple[Given, ...]]:
        cells = self.cells
        found: list[tuple[Given, ...]] = [()]
        known: dict[tuple[int, tuple[str, ...]], int] = {}
        for count, table in enumerate(self.tables):
            area = table.area
            inside = (cells.rows >= area.top) & (cells.rows <= area.bottom)
            inside &= (cells.columns >= area.left) & (cells.columns <= area.right)
            for entry in np.flatnonzero(inside).tolist():
                row, column = int(cells.rows[entry]), int(cells.columns[entry])
                parts = table.parts_at(row, column)
                key = (count, parts)
                if key not in known:
                    known[key] = len(found)
                    found.append(table.given(row, column))
                codes[entry] = known[key]
        return found

    def _rule_codes(self, codes: NDArray[np.int64]) -> list[tuple[Rule, ...]]:
        """Find which rules hold for each cell, in order, up to one that stops."""
        holding: dict[int, list[int]] = {}
        stopped: set[int] = set()
        for place, rule in enumerate(self.rules):
            entries, mask = self.held(rule)
            if mask is None:
                continue
            for entry in entries[mask].tolist():
                if entry not in stopped:
                    holding.setdefault(entry, []).append(place)
                    if rule.stops:
                        stopped.add(entry)
        found: list[tuple[Rule, ...]] = [()]
        known: dict[tuple[int, ...], int] = {}
        for entry, places in holding.items():
            key = tuple(places)
            if key not in known:
                known[key] = len(found)
                found.append(tuple(self.rules[place] for place in key))
            codes[entry] = known[key]
        return found

    def held(self, rule: Rule) -> tuple[NDArray[np.int64], NDArray[np.bool_] | None]:
        """Give the entries of a rule's cells, and for which it holds; None when unknown."""
        if id(rule) not in self._held:
            entries = rule.entries(self.cells)
            self._held[id(rule)] = (entries, rule.holds(self.cells, entries))
        return self._held[id(rule)]

    @functools.cached_property
    def _held(self) -> dict[int, tuple[NDArray[np.int64], NDArray[np.bool_] | None]]:
        return {}

    # What it states

    def stated(self) -> Iterator[StatedText]:
        """Give its texts by look: as they are now, within cells, and as rules may make them."""
        for group in self.groups:
            plain = self._without_rich(group.entries)
            if len(plain):
                yield self._stated(group, plain)
        yield from self._rich()
        yield from self._appearing()

    def _without_rich(self, entries: NDArray[np.int64]) -> NDArray[np.int64]:
        if not self.cells.rich:
            return entries
        rich = np.fromiter(self.cells.rich, np.int64)
        return entries[~np.isin(entries, rich)]

    def _stated(self, group: Group, entries: NDArray[np.int64]) -> StatedText:
        run = replace(group.look.run, text=self.text(int(entries[0])))
        exempt = HIDDEN if group.hidden else (BLANK if group.blank else "")
        if group.alone:
            exempt = exempt or ALONE
        behind, address = self._backdrops(group, group.look, entries)
        return StatedText(run, behind, self.words, address, exempt=exempt)

    def _backdrops(
        self, group: Group, look: CellLook, entries: NDArray[np.int64]
    ) -> tuple[tuple[StatedBackdrop, ...], str]:
        """Give what is behind cells of a group with a look, and where it can be changed."""
        if group.scale is not None and member_of(look.fill_address) == self.place.sheet:
            return self._scaled(group.scale, entries), ""
        fill = look.fill or WHITE
        return self._with_more(group, look, fill, entries), look.fill_address

    def _with_more(
        self, group: Group, look: CellLook, fill: Fill, entries: NDArray[np.int64]
    ) -> tuple[StatedBackdrop, ...]:
        """Give what is behind cells of a fill, apart by what else is: a bar, or cells beside."""
        if group.bar is not None:
            kinds = on_bar(self, group.bar, entries, fill)
        else:
            kinds = running_on(self, entries, fill, look.run)
        apart: dict[Kind, list[int]] = {}
        for entry in entries.tolist():
            apart.setdefault(kinds.get(entry, Kind(fill)), []).append(entry)
        found = []
        for kind, own in apart.items():
            where = self._behind(np.array(own), kind.fill)
            more = replace(where, beside=kind.beside, or_else=kind.or_else, why=kind.why)
            found.append(_shadowed(more, look.run))
        return tuple(found)

    def _behind(self, entries: NDArray[np.int64], fill: Fill) -> StatedBackdrop:
        areas = self.areas(entries)
        first = int(entries[0])
        cells = tuple(area.words for area in areas)
        where = words_for(areas)
        return StatedBackdrop(fill, where, self.box_of(first), cells=cells, text=self.text(first))

    def address_at(self, x: float, y: float) -> str:
        """Give the address of the look of the cell at a point; empty for an empty cell."""
        area = self.grid.area_in(Box(x, y, 0.0, 0.0))
        own = next((m for m in self.source.merged if m.holds(area.top, area.left)), area)
        entry = self.cells.at(own.top, own.left)
        if entry is None:
            return ""
        for group in self.groups:
            if entry in group.entries:
                return group.look.run.address
        return ""

    def areas(self, entries: NDArray[np.int64]) -> list[Area]:
        """Give the blocks that cells make."""
        rows, columns = self.cells.rows[entries], self.cells.columns[entries]
        return areas_of(zip(rows.tolist(), columns.tolist(), strict=True))

    def box_of(self, entry: int) -> Box:
        """Give about where in its cell, or in the cells merged with it, a text stands."""
        box = self.cell_box(entry)
        size = self.source.style(int(self.cells.styles[entry])).font.size
        width = min(box.width, len(self.text(entry)) * size * LETTER + 2 * ROOM)
        return Box(box.x + (box.width - width) * self.side_of(entry), box.y, width, box.height)

    def cell_box(self, entry: int) -> Box:
        """Give the place of a cell, with those merged with it."""
        row, column = int(self.cells.rows[entry]), int(self.cells.columns[entry])
        return self.grid.box(self.merged.get((row, column)) or Area(row, column, row, column))

    def side_of(self, entry: int) -> float:
        """Give at which side of its cell a text stands: 0 at the left, 1 at the right."""
        across = self.source.style(int(self.cells.styles[entry])).across
        plain = "left" if isinstance(self.cells.values[entry], str) else "right"
        return SIDES[across if across in SIDES else plain]

    def text(self, entry: int) -> str:
        """Give a cell's text about as it is shown."""
        return self.source.text(entry)

    def _scaled(self, rule: Rule, entries: NDArray[np.int64]) -> tuple[StatedBackdrop, ...]:
        """Give the cells of a colour scale by the colours that it gives them."""
        by_colour: dict[tuple[int, int, int], list[int]] = {}
        colours = self.scaled_fills(rule, entries)
        for entry, colour in zip(entries.tolist(), colours, strict=True):
            by_colour.setdefault(colour.levels, []).append(entry)
        return tuple(
            self._behind(np.array(own), Colour(*(level / 255 for level in levels)))
            for levels, own in by_colour.items()
        )

    def scaled_fills(self, rule: Rule, entries: NDArray[np.int64]) -> list[Colour]:
        """Give the colours that a colour scale gives some of its cells."""
        known = self.cells.numbers[rule.entries(self.cells)]
        return scale_colours(rule.scale, self.cells.numbers[entries], known[np.isfinite(known)])

    def _rich(self) -> Iterator[StatedText]:
        """Give the runs of cells whose runs differ in look."""
        groups = {int(e): group for group in self.groups for e in group.entries.tolist()
                  if int(e) in self.cells.rich}  # fmt: skip
        found: dict[tuple[object, ...], list[tuple[int, str, CellLook, Group]]] = {}
        for entry, text in self.cells.rich.items():
            group = groups[entry]
            for part in self.source.parts(text, group.look.style):
                own = bool(part.address or part.fixed)
                look = look_of(
                    group.look.style,
                    part.font,
                    None,
                    group.given,
                    () if own else group.rules,
                    self.place,
                    self.source.default_font,
                    part.address,
                )
                ruled = any(rule.difference and rule.difference.colour for rule in group.rules)
                trouble = RUN_AND_RULE if own and ruled else look.run.trouble
                run = replace(look.run, fixed=look.run.fixed or part.fixed, trouble=trouble)
                fill, fill_address = group.look.fill, group.look.fill_address
                if part.highlight is not None:
                    fill, fill_address = part.highlight, ""
                look = replace(look, run=run, fill=fill, fill_address=fill_address)
                words = part.words
                key = (look.run, look.fill, group.hidden)
                found.setdefault(key, []).append((entry, words, look, group))
        for entries in found.values():
            _, words, look, group = entries[0]
            addresses = dict.fromkeys(each[2].run.address for each in entries)
            shown_run = replace(look.run, text=words, address=" ".join(addresses))
            cells = np.array([each[0] for each in entries])
            behind = replace(self._behind(cells, look.fill or WHITE), text="")
            behind = _shadowed(behind, look.run)
            yield StatedText(
                shown_run,
                (behind,),
                self.words,
                look.fill_address,
                exempt=HIDDEN if group.hidden else "",
            )

    def _appearing(self) -> Iterator[StatedText]:
        """Give what rules would show in cells for which they don't hold, where that is new."""
        with_rule = [{id(rule) for rule in group.rules} for group in self.groups]
        # Many rules show the same: copies of one, for each range that was ever pasted.
        looks: dict[tuple[int, int], tuple[CellLook, tuple[object, ...]]] = {}
        for rule in self.rules:
            if rule.difference is None or not rule.difference.changes_looks:
                continue
            entries, mask = self.held(rule)
            pending = np.zeros(len(self.cells.values), bool)
            pending[entries] = True
            if mask is not None:
                pending[entries[mask]] = False
            has_it = zip(self.groups, with_rule, strict=True)
            seen = {_key(group.look) for group, rules in has_it if id(rule) in rules}
            for group in self.groups:
                own = group.entries[pending[group.entries]]
                if not len(own) or group.hidden:
                    continue
                shown = (id(group), id(rule.difference))
                if shown not in looks:
                    made = self._look_with(group.look.style, group.given, rule)
                    looks[shown] = made, _key(made)
                look, key = looks[shown]
                if key not in seen:
                    seen.add(key)
                    yield self._as_it_would(rule, group, look, own)
            if not len(entries):
                look = self._look_with(self.source.style(0), (), rule)
                words = f"({rule.areas[0].words})"
                run = replace(look.run, text=words)
                box = self.grid.box(rule.areas[0])
                fill, cells = look.fill or WHITE, tuple(area.words for area in rule.areas)
                behind = StatedBackdrop(fill, words_for(rule.areas), box, cells=cells)
                yield StatedText(run, (behind,), self.words, look.fill_address, rule.words)

    def _look_with(self, style: Style, given: tuple[Given, ...], rule: Rule) -> CellLook:
        """Give the look of cells for which a rule alone holds, whatever their number is."""
        default = self.source.default_font
        return look_of(style, style.font, None, given, (rule,), self.place, default)

    def _as_it_would(
        self, rule: Rule, group: Group, look: CellLook, entries: NDArray[np.int64]
    ) -> StatedText:
        """Give cells of a group as they would look if a rule held, named by all its cells."""
        behind, address = self._backdrops(group, look, entries)
        if rule.areas and len(behind) == 1:
            cells = tuple(area.words for area in rule.areas)
            behind = (replace(behind[0], where=words_for(rule.areas), cells=cells),)
        run = replace(look.run, text=self.text(int(entries[0])))
        return StatedText(run, behind, self.words, address, rule.words)


def _key(look: CellLook) -> tuple[object, ...]:
    """Give what a look's contrast depends on."""
    return (look.run.colour, look.run.size, look.run.weight, look.run.shades, look.fill)


def _shadowed(behind: StatedBackdrop, run: Run) -> StatedBackdrop:
    """Give what is behind letters that may have a shadow of their own between."""
    if run.shadow is None or behind.or_else is not None:
        return behind
    return replace(behind, or_else=run.shadow.colour, why=SHADOW)
