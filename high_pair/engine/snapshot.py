"""Taking a page: its paintings, its texts, and what they stand on."""

from __future__ import annotations

import json
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np

from high_pair.engine.attached import paint_attached
from high_pair.engine.beyond import paint_beyond, place_graphics
from high_pair.engine.covered import Shows, find_covered, hidden_in
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
from high_pair.engine.scrollers import paint_scrollers
from high_pair.engine.states import take_states
from high_pair.engine.texts import boxes_of, words_shown
from high_pair.engine.tiles import MARGIN, packed, put
from high_pair.engine.veils import find_veils
from high_pair.engine.views import place_words
from high_pair.engine.wire import put_array

# In the order in which they need one another.
SCRIPTS = (
    "watch",
    "colours",
    "places",
    "collect",
    "show",
    "still",
    "attached",
    "controls",
    "origins",
)
# So often a page is painted until its parts keep their places meanwhile.
TRIES = 3
# Room that is painted round a bar, in CSS pixels.
BESIDE = 40.0


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
    for paintings, (_, here) in zip(painted, under, strict=True):
        if paintings is not None:
            tile = keep_tile(taken, paintings)
            for text, places in here:
                # At rest these words are hidden, wholly or in part.
                text.setdefault("covered", []).extend(places)
                place_words(text, text, places, tile)


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
        scrolled = paint_scrollers(found)
        paint_attached(found)
        page.ask("highPair.mendNow()")
        find_origins(page, told)
        controls: list[Control] = page.ask("highPair.controls()")
        told["icons"] = page.ask("highPair.icons()")
        shown_after = {number for view in scrolled.views for number in view.numbers or ()}
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
            if each["number"] not in shown_after and not hidden_in(covered, each["number"])
        ]
        told["scrolled_away"] = sum(
            how is Shows.AWAY and number not in shown_after for number, how in covered.items()
        )
        told["icons"] = [each for each in told["icons"] if each["holder"] not in shown_after]
        told["scrolled_away"] += place_graphics(found)
        for view in scrolled.views:
            told["controls"] += view.controls
            told["icons"] += view.icons
        if states:
            take_states(found, beside, covered, scrolled.views)
            scrolled.back()
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
