"""Taking a page: its paintings, its texts, and what they stand on."""

from __future__ import annotations

import json
import time
from pathlib import Path
from typing import Any

import numpy as np

from high_pair.engine.frames import Painter, Pixels
from high_pair.engine.origins import find_origins
from high_pair.engine.page import BrowserPage, script
from high_pair.engine.paintings import BARELESS, STEADY, Taken, add_tile, collected, paint
from high_pair.engine.states import take_states
from high_pair.engine.wire import put_array

# Places of scrollers that are looked at, in one and in all.
MOST_STEPS, MOST_PLACES = 40, 120


def key_of(text: dict[str, Any]) -> tuple[Any, ...]:
    """Give what names a text of a page at all times."""
    return text["address"], text["kind"], text["number"]


def visible(text: dict[str, Any]) -> bool:
    """Tell whether all words of a text lie within what clips them."""
    clip = text["clip"]
    if clip is None:
        return True
    boxes = [word[1:] for word in text["words"]] or [text["region"]]
    return all(
        x >= clip[0] - 1 and y >= clip[1] - 1 and x + w <= clip[2] + 1 and y + h <= clip[3] + 1
        for x, y, w, h in boxes
    )


def _under_bars(taken: Taken) -> None:
    """Paint what lies under fixed bars, for the texts there, with the bars away."""
    bars = taken.told["bars"]
    texts = taken.told["texts"]
    under: dict[int, list[dict[str, Any]]] = {}
    for number, x, y, width, height in bars:
        for text in texts:
            boxes = [word[1:] for word in text["words"]] or (
                [text["region"]] if text["region"] else []
            )
            if not text["fixed"] and any(
                bx < x + width and bx + bw > x and by < y + height and by + bh > y
                for bx, by, bw, bh in boxes
            ):
                under.setdefault(number, []).append(text)
    if not under:
        return
    paintings = paint(taken.painter, more=BARELESS)
    for number, x, y, width, height in bars:
        if number in under:
            room = [x - 40, y - 40, width + 80, height + 80]
            tile = add_tile(taken, paintings, room)
            for text in under[number]:
                text["tile"] = tile


def _in_scrollers(taken: Taken) -> None:
    """Scroll to what lies outside the view in scrollers, and paint it there."""
    page = taken.page
    waiting: dict[int, dict[tuple[Any, ...], dict[str, Any]]] = {}
    for text in taken.told["texts"]:
        if text["scroller"] and not visible(text) and text["kind"] != "opaque":
            waiting.setdefault(text["scroller"], {})[key_of(text)] = text
    places = 0
    for number, texts in waiting.items():
        across, down, width, height, left, top = page.ask(f"highPair.scrollSizes({number})")
        steps = [
            (x, y)
            for y in _steps(down, height)
            for x in _steps(across, width)
        ][:MOST_STEPS]  # fmt: skip
        for x, y in steps:
            if not texts or places >= MOST_PLACES:
                break
            places += 1
            page.ask(f"highPair.scrollElement({number}, {x}, {y})")
            # Numbers of elements are given anew by each collecting, in the same order.
            now = collected(page)["texts"]
            there = [each for each in now if key_of(each) in texts and visible(each)]
            if not there:
                continue
            paintings = paint(taken.painter)
            clip = there[0]["clip"]
            box = [clip[0], clip[1], clip[2] - clip[0], clip[3] - clip[1]]
            tile = add_tile(taken, paintings, box)
            for each in there:
                text = texts.pop(key_of(each))
                text.update(words=each["words"], region=each["region"], tile=tile)
        page.ask(f"highPair.scrollElement({number}, {left}, {top})")
        for text in texts.values():
            text["unreached"] = True


def _steps(whole: float, shown: float) -> list[float]:
    """Give the places to scroll to so that everything is seen, with some overlap."""
    step = max(20.0, shown * 0.7)
    count = int(max(0.0, whole - shown) / step) + 2 if whole > shown + 1 else 1
    return [min(index * step, max(0.0, whole - shown)) for index in range(count)]


def taken(page: BrowserPage, changes: dict[str, Any], folder: Path) -> dict[str, Any]:
    """Take a page with changes; gives what to tell, with arrays in files of a folder."""
    times = {"load": page.load_seconds}
    start = time.monotonic()
    for name in ("watch", "collect", "show", "origins"):
        page.run(script(name))
    if page.painter is None:
        page.painter = Painter(page)
        page.ask(f"highPair.steady({json.dumps(STEADY)})")
        page.painter.unroll()
    painter = page.painter
    page.ask(f"highPair.change({json.dumps(changes)})")
    told = collected(page)
    page.ask("highPair.nameClipped()")
    page.ask(f"highPair.name('hp-bar', {json.dumps([bar[0] for bar in told['bars']])})")
    found = Taken(page, painter, told)
    times["collect"] = time.monotonic() - start
    found.main = paint(painter, _needs_both(told))
    times["paint"] = time.monotonic() - start - times["collect"]
    _under_bars(found)
    _in_scrollers(found)
    page.ask("highPair.mendNow()")
    find_origins(page, told)
    take_states(found)
    times["whole"] = time.monotonic() - start
    return _told(found, times, folder)


def _needs_both(told: dict[str, Any]) -> bool:
    looks = [text["look"] for text in told["texts"] if not text["exempt"]]
    return any(look["group"] or look["painted"] for look in looks)


def _told(found: Taken, times: dict[str, float], folder: Path) -> dict[str, Any]:
    """Write the paintings down, the tiles below the page, and give all that is told."""
    assert found.main is not None
    extent = found.painter.extent
    width = found.main.backdrop.shape[1]
    rows = found.main.backdrop.shape[0]
    parts = [found.main]
    for told, tile in found.tiles:
        told["at"] = rows
        told["rows"], told["columns"] = tile.backdrop.shape[:2]
        rows += tile.backdrop.shape[0]
        parts.append(tile)
    arrays = {}
    for name in ("seen", "backdrop", "coverage"):
        each = [_as_wide(getattr(part, name), width) for part in parts]
        whole = each[0] if len(each) == 1 else np.concatenate(each)
        arrays[name] = put_array(folder, f"{time.monotonic_ns()}-{name}", whole)
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
        "address": found.page.page.url().toString(),
        "times": times,
    }


def _as_wide(part: Pixels, width: int) -> Pixels:
    missing = width - part.shape[1]
    if missing <= 0:
        return part
    room = [(0, 0), (0, missing)] + [(0, 0)] * (part.ndim - 2)
    return np.pad(part, room)
