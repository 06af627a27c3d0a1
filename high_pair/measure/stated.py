"""Measuring text in cells, whose colours and backdrops a sheet states.

Nothing is painted for it: a cell's text lies on its cell's fill. Of a fill
with several colours every one counts by its share of the cell.
"""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np

from high_pair.measure.footprint import Footprint
from high_pair.measure.pairs import Pair, judged, numbers_of, numbers_of_shades, pair_of
from high_pair.scene.page import StatedBackdrop, StatedText
from high_pair.scene.paint import Colour, Fill, Pattern, shades_of
from high_pair.wcag.asked import Asked
from high_pair.wcag.verdicts import Exemption, Verdict

SIDE = 8
# Colours of a gradient between two stops that count.
STEPS = 24
# Of more colours than these the cells of one verdict are one pair.
MOST_APART = 48
SHADES = "which of its colours the text has differs from program to program"


def measure_stated(
    item: StatedText, page: int, asked: Asked
) -> list[tuple[Pair, tuple[Footprint, ...]]]:
    """Give a text's pairs, without their ids: one for its cells of each colour, or, where a scale
    gives them very many, of each verdict."""
    run = item.run
    pair = pair_of(run, page, item.where, asked, _bbox(item.behind[0]), estimated=True)
    pair = replace(pair, reason=run.trouble)
    if item.exempt or run.invisible:
        reason = item.exempt or str(Exemption.INVISIBLE)
        whole = _named(pair, item, item.behind)
        return [(replace(whole, verdict=Verdict.EXEMPT, reason=reason), ())]
    if run.trouble:
        return [(_named(pair, item, item.behind), ())]
    found = [(behind, _judged(pair, item, behind, asked)) for behind in item.behind]
    apart = len({(behind.fill, behind.beside) for behind in item.behind}) <= MOST_APART
    groups: dict[object, list[tuple[StatedBackdrop, Pair]]] = {}
    for behind, each in found:
        measured = apart and each.numbers is not None
        key = (each.verdict, (behind.fill, behind.beside) if measured else None)
        groups.setdefault(key, []).append((behind, each))
    return [_joined(item, group) for group in groups.values()]


def _bbox(behind: StatedBackdrop) -> tuple[float, float, float, float]:
    box = behind.box
    return (box.x, box.y, box.width, box.height)


def _named(pair: Pair, item: StatedText, behind: tuple[StatedBackdrop, ...]) -> Pair:
    """Say of a pair which cells it is about, and when they look so."""
    cells = list(itertools.islice(dict.fromkeys(each.where for each in behind), 3))
    more = len({each.where for each in behind}) - len(cells)
    words = f"{item.where} › {', '.join(cells)}" + (f" and {more} more" if more > 0 else "")
    return replace(
        pair,
        text=behind[0].text.strip() or pair.text,
        where=f"{words}, appears {item.appears}" if item.appears else words,
        cells=tuple(dict.fromkeys(cell for each in behind for cell in each.cells)),
    )


def _footprint(item: StatedText, fill: Fill) -> Footprint:
    colours, counts = _parts(fill)
    return Footprint(item.run.text.strip() or "text", colours, counts, (0, 0, 1, 1))


def _parts(fill: Fill) -> tuple[np.ndarray, np.ndarray]:
    """Give a fill's colours, uint8 (n, 3), each with how many parts of the cell it has, (n,)."""
    if isinstance(fill, Pattern):
        inked = sum(row.bit_count() for row in fill.rows)
        colours: tuple[Colour, ...] = (fill.foreground, fill.background)
        counts = [inked, SIDE * SIDE - inked]
    else:
        colours = shades_of(fill, STEPS)
        counts = [1] * len(colours)
    kept = [(colour.levels, count) for colour, count in zip(colours, counts, strict=True) if count]
    return (
        np.array([levels for levels, _ in kept], np.uint8),
        np.array([count for _, count in kept], np.int64),
    )


def _judged(pair: Pair, item: StatedText, behind: StatedBackdrop, asked: Asked) -> Pair:
    parts = [_on_fill(pair, item, behind, fill, asked) for fill in (behind.fill, *behind.beside)]
    # What isn't known of a part isn't known of the whole; else the weakest counts.
    pair = min(parts, key=lambda part: part.ratio if part.ratio is not None else 0.0)
    falls_short = bool(behind.beside) and pair.verdict is Verdict.FALLS_SHORT
    if behind.or_else is not None and not falls_short:
        spots = [Footprint("", colour[None], np.ones(1, np.int64), (0, 0, 1, 1))
                 for colour in _parts(behind.or_else)[0]]  # fmt: skip
        passing = {
            numbers_of((spot,), pair.text_colour, pair.required, 1.0, 1.0).ratio >= pair.required
            for spot in spots
        }
        if passing != {pair.verdict is Verdict.PASSES}:
            return replace(pair, verdict=Verdict.NEEDS_EYES, reason=behind.why, numbers=None)
    return pair


def _on_fill(
    pair: Pair, item: StatedText, behind: StatedBackdrop, fill: Fill, asked: Asked
) -> Pair:
    footprint = _footprint(item, fill)
    shades = item.run.shades or (item.run.colour,)
    found = numbers_of_shades((footprint,), shades, pair.required, asked.coverage, 1.0)
    if found is None:
        return replace(pair, reason=item.run.why_shades or SHADES)
    weakest, colour = found
    box = _bbox(behind)
    numbers = replace(weakest, weakest_box=box)
    return judged(pair, numbers, text_colour=colour, bbox=box)


def _joined(
    item: StatedText, group: list[tuple[StatedBackdrop, Pair]]
) -> tuple[Pair, tuple[Footprint, ...]]:
    """Give cells of one verdict as one pair, that of the weakest."""
    behind = tuple(each for each, _ in group)
    weakest = min((pair for _, pair in group), key=lambda pair: pair.ratio or 0.0)
    if weakest.numbers is not None and len(group) > 1:
        numbers = [pair.numbers for _, pair in group if pair.numbers is not None]
        weakest = replace(
            weakest,
            numbers=replace(
                weakest.numbers,
                varied=weakest.numbers.varied or len({each.background for each in numbers}) > 1,
                lowest=min(each.lowest for each in numbers),
                highest=max(each.highest for each in numbers),
                share_below=float(np.mean([each.share_below for each in numbers])),
            ),
        )
    # What changes their text changes it on all of its backdrops.
    fills = dict.fromkeys(fill for each in item.behind for fill in (each.fill, *each.beside))
    prints = tuple(_footprint(item, fill) for fill in fills)
    return _named(weakest, item, behind), prints
