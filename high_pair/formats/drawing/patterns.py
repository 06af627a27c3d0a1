"""The preset patterns (ECMA-376 Part 1 §20.1.10.51).

The standard names them and shows them in small pictures; the fields here are
built from what the names say: so many cells of 64 for a percentage, lines and
checks of the named width and distance. A text's footprint meets both colours
in any of them, which is what its ratio hangs on.
"""

from __future__ import annotations

import functools
from collections.abc import Callable

from high_pair.formats.drawing.colours import Palette, colour_element, resolve
from high_pair.formats.xml import Element, child
from high_pair.scene.paint import BLACK, WHITE, Pattern

SIDE = 8
Rule = Callable[[int, int], bool]

# Bayer's ordered dither of eight by eight: the order in which cells are set.
_ORDER = tuple(
    tuple(
        sum(((((x ^ y) >> bit & 1) << 1 | y >> bit & 1) << (2 * (2 - bit))) for bit in range(3))
        for x in range(SIDE)
    )
    for y in range(SIDE)
)


def _share(percent: float) -> Rule:
    cells = round(percent / 100 * SIDE * SIDE)
    return lambda x, y: _ORDER[y][x] < cells


def _lines(along: Callable[[int, int], int], period: int, width: int) -> Rule:
    return lambda x, y: along(x, y) % period < width


def _down(x: int, y: int) -> int:
    return x - y


def _up(x: int, y: int) -> int:
    return x + y


def _both(one: Rule, other: Rule) -> Rule:
    return lambda x, y: one(x, y) or other(x, y)


def _row(x: int, y: int) -> int:
    return y


def _column(x: int, y: int) -> int:
    return x


def _check(side: int) -> Rule:
    return lambda x, y: (x // side + y // side) % 2 == 0


def _drawn(*rows: str) -> Rule:
    """Give the field that eight rows of # and . show."""
    return lambda x, y: rows[y][x] == "#"


_RULES: dict[str, Rule] = {
    **{f"pct{p}": _share(p) for p in (5, 10, 20, 25, 30, 40, 50, 60, 70, 75, 80, 90)},
    "horz": _lines(_row, 8, 1),
    "vert": _lines(_column, 8, 1),
    "ltHorz": _lines(_row, 4, 1),
    "ltVert": _lines(_column, 4, 1),
    "dkHorz": _lines(_row, 4, 2),
    "dkVert": _lines(_column, 4, 2),
    "narHorz": _lines(_row, 2, 1),
    "narVert": _lines(_column, 2, 1),
    "dashHorz": lambda x, y: (y == 0 and x < 4) or (y == 4 and x >= 4),
    "dashVert": lambda x, y: (x == 0 and y < 4) or (x == 4 and y >= 4),
    "cross": _both(_lines(_row, 8, 1), _lines(_column, 8, 1)),
    "dnDiag": _lines(_down, 8, 1),
    "upDiag": _lines(_up, 8, 1),
    "ltDnDiag": _lines(_down, 4, 1),
    "ltUpDiag": _lines(_up, 4, 1),
    "dkDnDiag": _lines(_down, 4, 2),
    "dkUpDiag": _lines(_up, 4, 2),
    "wdDnDiag": _lines(_down, 8, 3),
    "wdUpDiag": _lines(_up, 8, 3),
    "dashDnDiag": lambda x, y: _down(x, y) % 4 == 0 and y < 4,
    "dashUpDiag": lambda x, y: _up(x, y) % 4 == 3 and y < 4,
    "diagCross": _both(_lines(_down, 8, 1), _lines(_up, 8, 1)),
    "smCheck": _check(2),
    "lgCheck": _check(4),
    "smGrid": _both(_lines(_row, 4, 1), _lines(_column, 4, 1)),
    "lgGrid": _both(_lines(_row, 8, 1), _lines(_column, 8, 1)),
    "dotGrid": lambda x, y: (y == 0 and x % 2 == 0) or (x == 0 and y % 2 == 0),
    "smConfetti": _share(12.5),
    "lgConfetti": _drawn(
        "##....##",
        "##....##",
        "...##...",
        "...##...",
        "##....##",
        "##....##",
        "...##...",
        "...##...",
    ),
    "horzBrick": _drawn(
        "########",
        "#.......",
        "#.......",
        "#.......",
        "########",
        "....#...",
        "....#...",
        "....#...",
    ),
    "diagBrick": _drawn(
        ".......#",
        "......#.",
        ".....#..",
        "....#...",
        "...##...",
        "..#..#..",
        ".#....#.",
        "#......#",
    ),
    "solidDmnd": _drawn(
        "...#....",
        "..###...",
        ".#####..",
        "#######.",
        ".#####..",
        "..###...",
        "...#....",
        "........",
    ),
    "openDmnd": _both(_lines(_down, 8, 1), _lines(_up, 8, 1)),
    "dotDmnd": lambda x, y: (_down(x, y) % 8 == 0 or _up(x, y) % 8 == 0) and y % 2 == 0,
    "plaid": _drawn(
        "#.#.#.#.",
        ".#.#.#.#",
        "#.#.#.#.",
        ".#.#.#.#",
        "####....",
        "####....",
        "####....",
        "####....",
    ),
    "sphere": _drawn(
        ".###.###",
        "#..##..#",
        "#####..#",
        "#####..#",
        ".###.###",
        "#..##..#",
        "#..#####",
        "#..#####",
    ),
    "weave": _drawn(
        "#...#...",
        ".#.#.#..",
        "..#...#.",
        ".#...#.#",
        "#...#...",
        "...#.#.#",
        "..#...#.",
        ".#.#...#",
    ),
    "divot": _drawn(
        "...#....",
        "....#...",
        "...#....",
        "........",
        "#.......",
        ".......#",
        "#.......",
        "........",
    ),
    "shingle": _drawn(
        "......##",
        "#....#..",
        ".#..#...",
        "..##....",
        "....##..",
        "......#.",
        ".......#",
        ".......#",
    ),
    "wave": _drawn(
        "........",
        "...##...",
        "..#..#.#",
        "##......",
        "........",
        "...##...",
        "..#..#.#",
        "##......",
    ),
    "trellis": _drawn(
        "########",
        ".##..##.",
        "########",
        "#..##..#",
        "########",
        ".##..##.",
        "########",
        "#..##..#",
    ),
    "zigZag": lambda x, y: (x if x < 4 else 7 - x) == y % 4,
}


@functools.cache
def rows_of(preset: str) -> tuple[int, ...] | None:
    """Give a preset's eight rows of eight bits; None for an unknown name."""
    rule = _RULES.get(preset)
    if rule is None:
        return None
    return tuple(sum(int(rule(x, y)) << (SIDE - 1 - x) for x in range(SIDE)) for y in range(SIDE))


def read_pattern(element: Element, palette: Palette) -> Pattern | str:
    """Read a pattern fill (§20.1.8.47); gives why it can't be painted, if so."""
    rows = rows_of(element.get("prst", ""))
    if rows is None:
        return "a pattern of an unknown name can't be painted"
    foreground = resolve(colour_element(child(element, "a:fgClr")), palette) or BLACK
    background = resolve(colour_element(child(element, "a:bgClr")), palette) or WHITE
    return Pattern(rows, foreground, background)
