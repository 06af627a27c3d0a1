"""The rows, cells and columns of tables (ECMA-376 Part 1 §17.4)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from high_pair.formats.alternatives import chosen_children
from high_pair.formats.documents.paragraphs import TWENTIETHS
from high_pair.formats.xml import Element, child, children, local_name, number, tag, whole
from high_pair.scene.flow import Edges
from high_pair.scene.paint import Stroke

MOST_COLUMNS = 63


def is_gone(row: Element) -> bool:
    """Tell whether a row was deleted under revision (§17.13.5.12)."""
    return child(row, "w:trPr", "w:del") is not None


def rows_of(table: Element) -> list[Element]:
    """List a table's rows, those in wrappings too."""
    found: list[Element] = []

    def walk(holder: Element) -> None:
        for each in chosen_children(holder):
            name = local_name(each)
            if name == "tr":
                found.append(each)
            elif name in ("sdt", "sdtContent", "customXml", "ins"):
                walk(each)

    walk(table)
    return found


def cells_of(row: Element) -> Iterator[tuple[Element, int, int]]:
    """Give a row's cells, their first columns and how many they span."""
    column = whole(child(row, "w:trPr", "w:gridBefore"), tag("w:val"))
    column = max(0, min(MOST_COLUMNS, column))

    def walk(holder: Element) -> Iterator[Element]:
        for each in chosen_children(holder):
            name = local_name(each)
            if name == "tc":
                yield each
            elif name in ("sdt", "sdtContent", "customXml", "ins"):
                yield from walk(each)

    for cell in walk(row):
        spans = whole(child(cell, "w:tcPr", "w:gridSpan"), tag("w:val"), 1)
        spans = max(1, min(MOST_COLUMNS, spans))
        yield cell, column, spans
        column += spans


def merge_of(cell: Element) -> str:
    """Tell whether a cell begins or continues a merged one (§17.4.84)."""
    element = child(cell, "w:tcPr", "w:vMerge")
    if element is None:
        return ""
    return element.get(tag("w:val"), "continue")


def spans_of(rows: Sequence[Element]) -> dict[tuple[int, int], int]:
    """Give the heights in rows of the cells that begin a merged one."""
    found: dict[tuple[int, int], int] = {}
    begun: dict[int, tuple[int, int]] = {}
    for number_of_row, row in enumerate(rows):
        seen = set()
        for cell, column, _ in cells_of(row):
            merged = merge_of(cell)
            seen.add(column)
            if merged == "continue" and column in begun:
                found[begun[column]] += 1
            elif merged == "restart":
                begun[column] = (number_of_row, column)
                found[begun[column]] = 1
            else:
                begun.pop(column, None)
        for column in [each for each in begun if each not in seen]:
            del begun[column]
    return found


def grid_of(table: Element, rows: Sequence[Element]) -> tuple[float, ...]:
    """Give the widths of a table's columns: of its grid, else of the cells of its widest row."""
    grid = child(table, "w:tblGrid")
    widths = [
        number(each.get(tag("w:w"))) / TWENTIETHS
        for each in children(grid)
        if local_name(each) == "gridCol"
    ][:MOST_COLUMNS]
    count = max((column + spans for row in rows for _, column, spans in cells_of(row)), default=1)
    count = min(MOST_COLUMNS, count)
    if len(widths) < count or sum(widths) < 1:
        stated = [0.0] * count
        for row in rows:
            for cell, column, spans in cells_of(row):
                width = width_of(child(cell, "w:tcPr", "w:tcW"))
                if width and spans == 1 and column < count:
                    stated[column] = max(stated[column], width)
        known = [width for width in stated if width]
        plain = sum(known) / len(known) if known else 450.0 / count
        widths = [width or plain for width in stated]
    return tuple(max(4.0, min(5000.0, width)) for width in widths)


def width_of(element: Element | None) -> float | None:
    """Read a width in points (§17.4.87); None for one that isn't stated in points."""
    if element is None or element.get(tag("w:type"), "dxa") not in ("dxa", ""):
        return None
    return number(element.get(tag("w:w"))) / TWENTIETHS


def row_height(row: Element) -> tuple[float, bool]:
    """Give a row's height in points, and whether it is the very one (§17.4.80)."""
    element = child(row, "w:trPr", "w:trHeight")
    if element is None:
        return 0.0, False
    height = max(0.0, min(5000.0, number(element.get(tag("w:val"))) / TWENTIETHS))
    return height, element.get(tag("w:hRule"), "auto") == "exact"


def filled_in(own: Edges, given: Edges, stated: Sequence[Element]) -> Edges:
    """Give edges with what is missing taken from others, unless something nearer says none."""

    def side(name: str) -> Stroke | None:
        mine: Stroke | None = getattr(own, name)
        theirs: Stroke | None = getattr(given, name)
        said = any(_has_side(borders, name) for borders in stated)
        return mine if mine is not None or said else theirs

    return Edges(side("top"), side("right"), side("bottom"), side("left"))


def _has_side(borders: Element, name: str) -> bool:
    names = {"left": ("left", "start"), "right": ("right", "end")}.get(name, (name,))
    return any(child(borders, f"w:{each}") is not None for each in names)
