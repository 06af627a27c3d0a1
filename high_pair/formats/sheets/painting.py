"""The grid of a sheet as items, for the part of it that is looked at."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from high_pair.formats.sheets.backdrops import MOST_RUN_ON
from high_pair.formats.sheets.sheet import Group, Sheet
from high_pair.formats.sheets.styles import Style
from high_pair.raster.layout import width_of
from high_pair.scene.flow import Edges
from high_pair.scene.geometry import IDENTITY, Affine, Box, line, moved, rectangle, scaled, turned
from high_pair.scene.grid import Area
from high_pair.scene.page import Figure, Item
from high_pair.scene.paint import (
    Colour,
    Fill,
    LinearGradient,
    NestedGradient,
    Pattern,
    Stroke,
)
from high_pair.scene.text import Align, Anchor, Paragraph, Run, TextBlock

GRID_LINE = Stroke(Colour(0.83, 0.83, 0.83), 0.5)
PADDING = 2.0
INDENT = 7.0
_ALIGNS = {"center": Align.CENTRE, "right": Align.RIGHT, "left": Align.LEFT,
           "centerContinuous": Align.CENTRE, "justify": Align.JUSTIFY}  # fmt: skip
_ANCHORS = {"top": Anchor.TOP, "center": Anchor.MIDDLE}
# So far words run on past the last column.
PAST_THE_GRID = 5_000.0
# What numbers without a format of their own have, and how many digits such a one has at most.
GENERAL, MOST_DIGITS = ("", "General"), 15
SIGN = "#"
_PLAIN = re.compile(r"-?[\d.]+(?:[eE][-+]?\d+)?")
# No text's letters are wider than this on the average, in sizes of the font.
WIDE_LETTER = 0.9


def cell_items(sheet: Sheet, area: Area, gridlines: bool = True) -> Iterator[Item]:
    """Give fills, lines and texts of the cells in an area, lowest first."""
    whole_box = sheet.grid.box(area)
    looks = _looks(sheet, area)
    covered = {
        (row, column)
        for m in sheet.source.merged
        if m.bottom >= area.top and m.top <= area.bottom
        for row in range(max(m.top, area.top), min(m.bottom, area.bottom) + 1)
        for column in range(max(m.left, area.left), min(m.right, area.right) + 1)
        if (row, column) != (m.top, m.left)
    }
    filled: list[Item] = []
    lined: list[Item] = []
    texts: list[Item] = []
    for (row, column), (style, fill) in _dressed(sheet, area, looks).items():
        if (row, column) in covered:
            continue
        own = sheet.merged.get((row, column), Area(row, column, row, column))
        box = sheet.grid.box(own)
        if box.width <= 0 or box.height <= 0:
            continue
        if fill is not None:
            filled.append(Figure(rectangle(box), box, IDENTITY, in_box(fill, box)))
        lined += _edges(style.edges, box)
    for (row, column), (entry, group) in looks.items():
        own = sheet.merged.get((row, column), Area(row, column, row, column))
        block = _text(sheet, entry, group, own, looks)
        if block is not None:
            texts.append(block)
    if gridlines:
        yield from _grid_lines(sheet, area, whole_box)
    yield from filled
    yield from lined
    yield from texts


def _looks(sheet: Sheet, area: Area) -> dict[tuple[int, int], tuple[int, Group]]:
    """Give the entries and groups of the cells with text in an area, and a little to its left."""
    cells = sheet.cells
    found: dict[tuple[int, int], tuple[int, Group]] = {}
    for group in sheet.groups:
        rows, columns = cells.rows[group.entries], cells.columns[group.entries]
        inside = (rows >= area.top) & (rows <= area.bottom)
        inside &= (columns >= area.left - MOST_RUN_ON) & (columns <= area.right)
        for entry in group.entries[inside].tolist():
            found[(int(cells.rows[entry]), int(cells.columns[entry]))] = (entry, group)
    return found


def _dressed(
    sheet: Sheet, area: Area, looks: dict[tuple[int, int], tuple[int, Group]]
) -> dict[tuple[int, int], tuple[Style, Fill | None]]:
    """Give the style and the fill of every cell of an area that has any."""
    found: dict[tuple[int, int], tuple[Style, Fill | None]] = {}
    for place, style in sheet.source.dressed(area).items():
        found[place] = (style, style.fill)
    for table in sheet.tables:
        inside = table.area
        for row in range(max(area.top, inside.top), min(area.bottom, inside.bottom) + 1):
            for column in range(max(area.left, inside.left), min(area.right, inside.right) + 1):
                style, fill = found.get((row, column), (sheet.source.style(0), None))
                given = next((g for g in table.given(row, column) if g.difference.fills), None)
                if fill is None and given is not None:
                    found[(row, column)] = (style, given.difference.fill)
    for place, (entry, group) in looks.items():
        if not area.holds(*place):
            continue
        fill = group.look.fill
        if group.scale is not None:
            own = group.entries[group.entries == entry]
            fill = sheet.scaled_fills(group.scale, own)[0]
        found[place] = (group.look.style, fill)
    return found


def in_box(fill: Fill, box: Box) -> Fill:
    """Put a fill that is stated in shares of a cell into its box."""
    if isinstance(fill, Colour | Pattern):
        return fill
    place = moved(box.x, box.y).after(scaled(box.width, box.height))
    if isinstance(fill, LinearGradient):
        return replace(fill, start=place.apply(*fill.start), end=place.apply(*fill.end))
    if isinstance(fill, NestedGradient):
        return replace(fill, box=place.bounds(fill.box), focus=place.bounds(fill.focus))
    return fill


def _edges(edges: Edges, box: Box) -> list[Item]:
    corners = {
        "top": ((box.x, box.y), (box.right, box.y)),
        "right": ((box.right, box.y), (box.right, box.bottom)),
        "bottom": ((box.x, box.bottom), (box.right, box.bottom)),
        "left": ((box.x, box.y), (box.x, box.bottom)),
    }
    return [
        Figure(line(start, end), box, IDENTITY, stroke=stroke)
        for side, (start, end) in corners.items()
        if (stroke := getattr(edges, side)) is not None
    ]


def _grid_lines(sheet: Sheet, area: Area, box: Box) -> Iterator[Item]:
    for x in sheet.grid.columns[area.left : area.right + 2].tolist():
        yield Figure(line((x, box.y), (x, box.bottom)), box, IDENTITY, stroke=GRID_LINE)
    for y in sheet.grid.rows[area.top : area.bottom + 2].tolist():
        yield Figure(line((box.x, y), (box.right, y)), box, IDENTITY, stroke=GRID_LINE)


def _text(
    sheet: Sheet,
    entry: int,
    group: Group,
    own: Area,
    looks: dict[tuple[int, int], tuple[int, Group]],
) -> TextBlock | None:
    box = sheet.grid.box(own)
    if group.blank or box.width <= 0 or box.height <= 0:
        return None
    style = group.look.style
    run = replace(group.look.run, text=sheet.text(entry))
    is_number = not isinstance(sheet.cells.values[entry], str)
    align = _ALIGNS.get(style.across, Align.RIGHT if is_number else Align.LEFT)
    if style.across == "fill":
        align = Align.LEFT
    if not style.wraps and not is_number and own.left == own.right and not style.turn:
        box = _run_on(sheet, own, box, align, looks)
    indent = style.indent * INDENT
    inside = Box(
        box.x + PADDING + (indent if align is not Align.RIGHT else 0.0),
        box.y,
        max(1.0, box.width - 2 * PADDING - indent),
        box.height,
    )
    transform: Affine = IDENTITY
    if style.turn:
        transform = turned(style.turn, inside.centre)
    if not style.wraps and not is_number and not style.turn:
        run = _cut_to(run, inside.width, align)
    value = sheet.cells.values[entry]
    if isinstance(value, float) and not style.turn and not style.shrinks:
        plain = style.format in GENERAL and _PLAIN.fullmatch(run.text) is not None
        run = _number_in(run, value, inside.width, plain)
    paragraph = Paragraph((run,), align)
    anchor = _ANCHORS.get(style.down, Anchor.BOTTOM)
    return TextBlock(
        (paragraph,), inside, transform, sheet.words, anchor, style.wraps, estimated=True
    )


def _cut_to(run: Run, width: float, align: Align) -> Run:
    """Give words without the letters for which their cell and the empty ones beside lack room."""
    count = len(run.text)
    if count * run.size * WIDE_LETTER <= width or "\n" in run.text:
        return run
    whole = width_of([(run, run.text)])
    if whole <= width + 0.5:
        return run
    kept = max(1, int(count * width / whole))
    first = {Align.RIGHT: count - kept, Align.CENTRE: (count - kept) // 2}.get(align, 0)
    return replace(run, text=run.text[first : first + kept])


def _number_in(run: Run, value: float, width: float, plain: bool) -> Run:
    """Give a number as a cell of a width shows it: without a format of its own with fewer digits,
    and else as signs that it is too wide."""

    def fits(text: str) -> bool:
        return width_of([(run, text)]) <= width + 0.5

    if len(run.text) * run.size * WIDE_LETTER <= width or fits(run.text):
        return run
    if plain:
        for digits in range(min(len(run.text), MOST_DIGITS), 0, -1):
            if fits(shorter := f"{value:.{digits}g}"):
                return replace(run, text=shorter)
    return replace(run, text=SIGN * max(1, int(width / width_of([(run, SIGN)]))))


def _run_on(
    sheet: Sheet,
    own: Area,
    box: Box,
    align: Align,
    looks: dict[tuple[int, int], tuple[int, Group]],
) -> Box:
    """Give the room that words have over the empty cells beside them."""
    left, right = own.left, own.right
    if align in (Align.LEFT, Align.CENTRE):
        while right - own.right < MOST_RUN_ON and (own.top, right + 1) not in looks:
            right += 1
    if align in (Align.RIGHT, Align.CENTRE):
        while own.left - left < MOST_RUN_ON and left > 0 and (own.top, left - 1) not in looks:
            left -= 1
    if align is Align.CENTRE:
        reach = min(right - own.right, own.left - left)
        left, right = own.left - reach, own.right + reach
    wide = sheet.grid.box(Area(own.top, left, own.bottom, right))
    width = max(box.width, wide.width)
    if align is Align.LEFT and right >= len(sheet.grid.columns) - 2:
        # Past the last column in use nothing stands in the way.
        width += PAST_THE_GRID
    return Box(wide.x, box.y, width, box.height)
