"""Taking a page: its paintings, its texts, and what they stand on."""

from __future__ import annotations

import functools
import json
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np

from high_pair.engine.attached import paint_attached
from high_pair.engine.beyond import paint_beyond
from high_pair.engine.covered import Shows, find_covered
from high_pair.engine.frames import Painter, Pixels
from high_pair.engine.layers import crossed_words, find_layers, layer_texts, meeting
from high_pair.engine.moving import find_moving, mark_moving
from high_pair.engine.origins import find_origins
from high_pair.engine.page import BrowserPage, script
from high_pair.engine.paintings import (
    BARELESS,
    STEADY,
    Part,
    Taken,
    collected,
    find_shadows,
    keep_tile,
    needs_both,
    paint,
    paint_parts,
)
from high_pair.engine.protocol import Changes, Control, Text, Told
from high_pair.engine.states import take_states
from high_pair.engine.texts import boxes_of, key_of, shows_in_part, visible, words_shown
from high_pair.engine.tiles import MARGIN, packed, put
from high_pair.engine.veils import find_veils
from high_pair.engine.wire import put_array

# In the order in which they need one another.
SCRIPTS = ("watch", "colours", "places", "collect", "show", "still", "attached", "origins")
# So often a page is painted until its parts keep their places meanwhile.
TRIES = 3
# Room that is painted round a bar, and round words in scrollers, in CSS pixels.
BESIDE = 40.0
# Seconds in which scrollers are painted; what is left by then isn't.
SCROLLING = 15.0
# Places to which one scroller is scrolled at most.
MOST_STEPS = 40
# Places of all scrollers that are painted at most.
MOST_PLACES = 120


def _under_bars(taken: Taken) -> None:
    """Paint what lies under fixed bars, for the words there, with the bars away."""
    under: list[tuple[list[float], list[tuple[Text, list[int]]]]] = []
    for _, x, y, width, height in taken.told["bars"]:
        room = [x - BESIDE, y - BESIDE, width + 2 * BESIDE, height + 2 * BESIDE]
        here = []
        for text in taken.told["texts"]:
            shown = set(words_shown(text))
            places = [
                place
                for place, (bx, by, bw, bh) in enumerate(boxes_of(text))
                if place in shown
                and bx < x + width and bx + bw > x and by < y + height and by + bh > y
            ]  # fmt: skip
            if places and not text["fixed"]:
                here.append((text, places))
        if here and taken.painter.holds(room):
            under.append((room, here))
    if not under:
        return
    parts = [Part(room) for room, _ in under]
    painted = paint_parts(taken.painter, parts, needs_both(taken.told), BARELESS)
    for paintings, (room, here) in zip(painted, under, strict=True):
        if paintings is not None:
            tile = keep_tile(taken, paintings, room)
            for text, places in here:
                # At rest these words are hidden, wholly or in part.
                text.setdefault("covered", []).extend(places)
                _place(text, text, places, tile)


def _place(text: Text, now: Text, places: list[int], tile: int) -> None:
    """Say of some of a text's words in which part's painting they are, and where as told now."""
    # What of it shows at rest is its ink there all the same.
    text.setdefault("rest", boxes_of(text))
    boxes = boxes_of(now)
    said = [word[0] for word in now["words"]] or [now["text"]]
    placed = text.setdefault("placed", [])
    placed += [[said[place], *boxes[place], tile] for place in places]


@dataclass(frozen=True)
class _Stop:
    """A place to which a scroller is scrolled, with the texts' words that are seen there.

    texts: each as told at rest and now, with the places of those words.
    """

    scroller: int
    left: float
    top: float
    box: list[float]
    texts: list[tuple[Text, Text, list[int]]]


def _in_scrollers(taken: Taken) -> None:
    """Scroll to what lies outside the view in scrollers, and paint it there."""
    page, painter = taken.page, taken.painter
    waiting: dict[int, dict[tuple[Any, ...], Text]] = {}
    for text in taken.told["texts"]:
        if text["scroller"] and not visible(text) and text["kind"] != "opaque":
            waiting.setdefault(text["scroller"], {})[key_of(text)] = text
    if not waiting:
        return
    before = {number: page.ask(f"highPair.scrollSizes({number})")[4:] for number in waiting}
    stops = _stops(taken, waiting)
    parts = [Part(stop.box, functools.partial(_scroll, page, stop)) for stop in stops]
    painted = paint_parts(painter, parts, needs_both(taken.told), seconds=SCROLLING)
    for stop, paintings in zip(stops, painted, strict=True):
        if paintings is not None:
            tile = keep_tile(taken, paintings, stop.box)
            for text, now, places in stop.texts:
                _place(text, now, places, tile)
    for texts in waiting.values():
        for text in texts.values():
            # Words that no scrolling shows are cut off by something else.
            text["unreached"] = not text.get("placed") and not shows_in_part(text)
    for number, (left, top) in before.items():
        page.ask(f"highPair.scrollElement({number}, {left}, {top})")


def _scroll(page: BrowserPage, stop: _Stop) -> None:
    page.ask(f"highPair.scrollElement({stop.scroller}, {stop.left}, {stop.top})")


def _stops(taken: Taken, waiting: dict[int, dict[tuple[Any, ...], Text]]) -> list[_Stop]:
    """Find the places of scrollers at which words of texts that wait are seen."""
    page = taken.page
    stops: list[_Stop] = []
    page.ask("highPair.mendNow()")
    for number, texts in waiting.items():
        across, down, width, height = page.ask(f"highPair.scrollSizes({number})")[:4]
        steps = [(x, y) for y in _steps(down, height) for x in _steps(across, width)]
        seen: dict[tuple[Any, ...], set[int]] = {}
        for x, y in steps[:MOST_STEPS]:
            if len(stops) >= MOST_PLACES:
                break
            page.ask(f"highPair.scrollElement({number}, {x}, {y})")
            now = page.ask(f"highPair.collectOf({number})")
            here: list[tuple[Text, Text, list[int]]] = []
            for each in now:
                text = texts.get(key_of(each))
                if text is None or len(boxes_of(each)) != len(boxes_of(text)):
                    continue
                known = seen.setdefault(key_of(each), set(words_shown(text)))
                places = [place for place in words_shown(each) if place not in known]
                if places:
                    known.update(places)
                    here.append((text, each, places))
            box = _box_of([(each, places) for _, each, places in here])
            if here and taken.painter.holds(box):
                stops.append(_Stop(number, x, y, box, here))
    return stops


def _box_of(texts: Sequence[tuple[Text, list[int]]]) -> list[float]:
    """Give the box of words with some room round them, within what the texts show in.

    texts: each with the places of its words; boxes of their own may cut each of them.
    """
    clips = [clip for text, _ in texts if (clip := text["clip"]) is not None]
    words = [boxes_of(text)[place] for text, places in texts for place in places]
    if not words:
        return [0.0, 0.0, 0.0, 0.0]
    left = min(x for x, _, _, _ in words) - BESIDE
    top = min(y for _, y, _, _ in words) - BESIDE
    right = max(x + w for x, _, w, _ in words) + BESIDE
    bottom = max(y + h for _, y, _, h in words) + BESIDE
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


def taken(page: BrowserPage, changes: Changes, states: bool, folder: Path) -> Told:
    """Take a page with changes; gives what to tell, with arrays in files of a folder.

    states: also as its links and controls look on hover and the like.
    """
    times = {"load": page.load_seconds}
    start = time.monotonic()
    for name in SCRIPTS:
        page.run(script(name))
    if page.painter is None:
        page.painter = Painter(page)
        page.ask(f"highPair.steady({json.dumps(STEADY)})")
        page.painter.unroll()
    painter = page.painter
    page.ask(f"highPair.change({json.dumps(changes)})")
    with ThreadPoolExecutor(1) as beside:
        for _ in range(TRIES):
            told = collected(page)
            stood = page.ask("highPair.stands()")
            page.ask("highPair.nameClipped()")
            page.ask(f"highPair.name('hp-bar', {json.dumps([bar[0] for bar in told['bars']])})")
            moving = find_moving(page)
            found = Taken(page, painter, told)
            times["collect"] = time.monotonic() - start
            neighbours = beside.submit(meeting, told["texts"])
            crossed = beside.submit(crossed_words, told)
            main = paint(painter, beside, needs_both(told))
            times["paint"] = time.monotonic() - start - times["collect"]
            page.ask("highPair.mendNow()")
            told["restless"] = page.ask("highPair.stands()") != stood
            if not told["restless"]:
                break
        _under_bars(found)
        _in_scrollers(found)
        paint_attached(found)
        page.ask("highPair.mendNow()")
        find_origins(page, told)
        controls: list[Control] = page.ask("highPair.controls()")
        told["icons"] = page.ask("highPair.icons()")
        told["indicators"] = []
        found.main = main.result()
        # Only now is there room for more.
        paint_beyond(found)
        count = layer_texts(page, told, neighbours.result())
        found.layers = find_layers(found, count, crossed.result())
        found.shadows = find_shadows(found)
        find_veils(found)
        covered = find_covered(found, found.main.backdrop)
        told["controls"] = [
            {**each, "partly": each["number"] in covered}
            for each in controls
            if covered.get(each["number"]) is not Shows.NOWHERE
        ]
        if states:
            take_states(found, beside, covered)
        if moving:
            mark_moving(found, moving)
    times["whole"] = time.monotonic() - start
    return _told(found, times, folder)


def _told(found: Taken, times: dict[str, float], folder: Path) -> Told:
    """Write the paintings down, the tiles below the page, and give all that is told."""
    assert found.main is not None
    extent = found.painter.extent
    rows, width = found.main.backdrop.shape[:2]
    sizes = [(tile.backdrop.shape[0], tile.backdrop.shape[1]) for _, tile in found.tiles]
    places, rows = packed(sizes, width, rows + MARGIN)
    for (told, _), place, size in zip(found.tiles, places, sizes, strict=True):
        told["left"], told["top"] = place.left, place.top
        told["rows"], told["columns"] = size
    arrays = {}
    for name in ("seen", "backdrop", "coverage"):
        whole: Pixels = getattr(found.main, name)
        parts = [whole]
        if found.tiles:
            # Ink that is repeated would be no letter's.
            repeats = name != "coverage"
            below = np.zeros((rows - len(whole), *whole.shape[1:]), np.uint8)
            if repeats:
                below[:MARGIN] = whole[-1:]
            for (_, tile), place in zip(found.tiles, places, strict=True):
                lower = replace(place, top=place.top - len(whole))
                put(below, getattr(tile, name), lower, repeats)
            parts.append(below)
        arrays[name] = put_array(folder, f"{time.monotonic_ns()}-{name}", *parts)
    for name in ("layers", "shadows"):
        at_rest: Pixels | None = getattr(found, name)
        if at_rest is not None:
            arrays[name] = put_array(folder, f"{time.monotonic_ns()}-{name}", at_rest)
    requests = found.page.requests
    return {
        **found.told,
        "width": extent.width,
        "height": extent.height,
        "rows": extent.rows,
        "zoom": found.painter.zoom,
        "tiles": [told for told, _ in found.tiles],
        "arrays": arrays,
        "notes": found.page.notes,
        "blocked": requests.blocked if requests.local else {},
        "loaded": sorted(requests.loaded),
        "address": found.page.page.url().toString(),
        "times": times,
    }
