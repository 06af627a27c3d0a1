"""What lies outside the view in boxes that scroll: they are scrolled to it, and it is painted.

So are texts, and links and controls with their borders and icons.
"""

from __future__ import annotations

import functools
import json
import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from high_pair.engine.page import BrowserPage
from high_pair.engine.paintings import Part, Taken, keep_tile, needs_both, paint_parts
from high_pair.engine.protocol import Box, Control, Icon, Text
from high_pair.engine.texts import boxes_of, key_of, shows_in_part, visible, words_shown
from high_pair.engine.views import View, place_words

# Room that is painted round words and controls, in CSS pixels.
BESIDE = 40.0
# Seconds in which places in scrollers are found, and painted; what is left by then isn't.
SECONDS, PAINTING = 15.0, 25.0
# Places to which one scroller is scrolled at most.
MOST_STEPS = 40
# Places of all scrollers that are painted at most.
MOST_PLACES = 120

Key = tuple[Any, ...]


@dataclass(frozen=True)
class Stop:
    """A place to which a scroller is scrolled, with what is seen there first.

    scrolls: the scrollers, those round it first, and how far each is scrolled; texts: each as told
    at rest and now, with the places of those words; numbers: of links and controls; controls,
    icons: those with borders, and those without words, as told now; told: where there are any of
    these, all texts that show there, as told now.
    """

    scrolls: list[tuple[int, float, float]]
    box: Box
    texts: list[tuple[Text, Text, list[int]]]
    numbers: frozenset[int]
    controls: list[Control]
    icons: list[Icon]
    told: dict[Key, Text]


@dataclass(frozen=True)
class Scrolled:
    """The places to which scrollers are scrolled; back: scrolls all to where the page has them."""

    views: list[View]
    back: Callable[[], None]


def paint_scrollers(taken: Taken) -> Scrolled:
    """Paint what lies outside the view in scrollers."""
    page, painter = taken.page, taken.painter
    texts: dict[int, dict[Key, Text]] = {}
    for text in taken.told["texts"]:
        if text["scroller"] and not visible(text) and text["kind"] != "opaque":
            texts.setdefault(text["scroller"], {})[key_of(text)] = text
    away: dict[int, set[int]] = {}
    for scroller, number in page.ask("highPair.away()"):
        away.setdefault(scroller, set()).add(number)
    waiting = dict.fromkeys([*texts, *away])
    if not waiting:
        return Scrolled([], lambda: None)
    page.ask("highPair.mendNow()")
    stops: list[Stop] = []
    before: dict[int, tuple[int, float, float]] = {}
    until = time.monotonic() + SECONDS
    for number in waiting:
        if time.monotonic() > until or len(stops) >= MOST_PLACES:
            break
        outer = page.ask(f"highPair.outerScrollers({number})")
        here = [(at, *page.ask(f"highPair.scrollSizes({at})")[4:]) for at in (*outer, number)]
        most = MOST_PLACES - len(stops)
        stops += _stops(taken, number, texts.get(number, {}), away.get(number, set()))[:most]
        _scroll(page, here)
        before |= {each[0]: each for each in here}
    parts = [Part(stop.box, functools.partial(_scroll, page, stop.scrolls)) for stop in stops]
    exactly, full = needs_both(taken.told), lambda: taken.full
    painted = paint_parts(painter, parts, exactly, seconds=PAINTING, enough=full)
    views = []
    for stop, part, paintings in zip(stops, parts, painted, strict=True):
        if paintings is None:
            continue
        tile = keep_tile(taken, paintings)
        for text, now, places in stop.texts:
            place_words(text, now, places, tile)
        views.append(
            View(
                painter,
                part,
                paintings,
                stop.told,
                stop.numbers,
                [{**each, "tile": tile} for each in stop.controls],
                [{**each, "tile": tile} for each in stop.icons],
            )
        )
    for each in texts.values():
        for text in each.values():
            # Words that no scrolling shows are cut off by something else.
            text["unreached"] = not text.get("placed") and not shows_in_part(text)
    back = functools.partial(_scroll, page, list(before.values()))
    back()
    return Scrolled(views, back)


def _scroll(page: BrowserPage, scrolls: Iterable[tuple[int, float, float]]) -> None:
    for number, left, top in scrolls:
        page.ask(f"highPair.scrollElement({number}, {left}, {top})")


def _stops(taken: Taken, scroller: int, texts: Mapping[Key, Text], away: set[int]) -> list[Stop]:
    """Find the places of a scroller at which texts' words and controls that wait are seen."""
    page = taken.page
    across, down, width, height = page.ask(f"highPair.scrollSizes({scroller})")[:4]
    steps = [(x, y) for y in _steps(down, height) for x in _steps(across, width)]
    outer = [(number, x, y) for number, x, y in page.ask(f"highPair.reveal({scroller})")]
    seen: dict[Key, set[int]] = {}
    left = set(away)
    stops: list[Stop] = []
    for x, y in steps[:MOST_STEPS]:
        page.ask(f"highPair.scrollElement({scroller}, {x}, {y})")
        here: list[tuple[Text, Text, list[int]]] = []
        now: list[Text] = page.ask(f"highPair.collectOf({scroller})") if texts or left else []
        for each in now:
            text = texts.get(key_of(each))
            if text is None or len(boxes_of(each)) != len(boxes_of(text)):
                continue
            known = seen.setdefault(key_of(each), set(words_shown(text)))
            places = [place for place in words_shown(each) if place not in known]
            if places:
                known.update(places)
                here.append((text, each, places))
        whole = dict(page.ask(f"highPair.whole({json.dumps(sorted(left))})")) if left else {}
        left -= set(whole)
        around = [_box_of([(each, places) for _, each, places in here])] if here else []
        around += [_roomy(box) for box in whole.values()]
        box = _joined(around)
        if around and taken.painter.holds(box):
            numbers = json.dumps(sorted(whole))
            controls = page.ask(f"highPair.controls({numbers})") if whole else []
            icons = page.ask(f"highPair.icons({numbers})") if whole else []
            stops.append(
                Stop(
                    [*outer, (scroller, x, y)], box, here, frozenset(whole), controls, icons,
                    {key_of(each): each for each in now if whole and words_shown(each)},
                )
            )  # fmt: skip
    return stops


def _roomy(box: Box) -> Box:
    return [box[0] - BESIDE, box[1] - BESIDE, box[2] + 2 * BESIDE, box[3] + 2 * BESIDE]


def _joined(boxes: Sequence[Box]) -> Box:
    """Give the box round boxes."""
    if not boxes:
        return [0.0, 0.0, 0.0, 0.0]
    left, top = min(x for x, _, _, _ in boxes), min(y for _, y, _, _ in boxes)
    right, bottom = max(x + w for x, _, w, _ in boxes), max(y + h for _, y, _, h in boxes)
    return [left, top, right - left, bottom - top]


def _box_of(texts: Sequence[tuple[Text, list[int]]]) -> Box:
    """Give the box of words with some room round them, within what the texts show in.

    texts: each with the places of its words; boxes of their own may cut each of them.
    """
    clips = [clip for text, _ in texts if (clip := text["clip"]) is not None]
    words = [boxes_of(text)[place] for text, places in texts for place in places]
    left, top, width, height = _roomy(_joined(words))
    right, bottom = left + width, top + height
    if len(clips) == len(texts):
        left, top = (
            max(left, min(each[0] for each in clips)),
            max(top, min(each[1] for each in clips)),
        )
        right = min(right, max(each[2] for each in clips))
        bottom = min(bottom, max(each[3] for each in clips))
    return [left, top, right - left, bottom - top]


def _steps(whole: float, shown: float) -> list[float]:
    """Give the places to scroll to so that everything is seen, with some overlap."""
    step = max(20.0, shown * 0.7)
    count = int(max(0.0, whole - shown) / step) + 2 if whole > shown + 1 else 1
    return [min(index * step, max(0.0, whole - shown)) for index in range(count)]
