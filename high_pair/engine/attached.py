"""Text before backgrounds that stay in place while the page is scrolled.

What is behind it changes with the scrolling: it is painted at rest, at the ends of the way on
which it can be seen, and between them, and the worst counts.
"""

from __future__ import annotations

import functools
import itertools
import time

from high_pair.engine.page import BrowserPage
from high_pair.engine.paintings import Part, Taken, keep_tile, needs_both, paint_parts
from high_pair.engine.protocol import Text
from high_pair.engine.texts import boxes_of, words_shown
from high_pair.engine.waiting import pause

# Room that is painted round words, in CSS pixels.
BESIDE = 40.0
# Places on a text's way through the view at which it is painted, beside the one at rest.
STOPS = 5
# Seconds in which that is done; what is left by then needs eyes.
SECONDS = 12.0
# Seconds to wait for the sizes of pictures, which the engine has at hand.
LOADING = 2.0


def paint_attached(taken: Taken) -> None:
    """Paint texts before such backgrounds: `placed` in each place, and none of them at rest."""
    page = taken.page
    texts = [
        text
        for text in taken.told["texts"]
        if text["attached"]
        and not (text["exempt"] or text["scroller"] or text["fixed"])
        and text["kind"] != "opaque"
        and not text.get("placed")
    ]
    if not texts or not taken.painter.whole or not _can_be_put(page):
        return
    stops = [
        (text, shown, scroll)
        for text in texts
        if (shown := words_shown(text)) == list(range(len(boxes_of(text))))
        for scroll in _ways(text, page.ask("highPair.viewHeight"), taken.painter.extent.height)
    ]
    parts = [Part(_room(text), functools.partial(_put, page, scroll)) for text, _, scroll in stops]
    painted = list(paint_parts(taken.painter, parts, needs_both(taken.told), seconds=SECONDS))
    page.ask("highPair.detach()")
    taken.painter.show_again()
    every = zip(stops, painted, strict=True)
    for _, group in itertools.groupby(every, key=lambda each: id(each[0][0])):
        mine = list(group)
        if any(paintings is None for _, paintings in mine):
            continue
        for (text, shown, _), paintings in mine:
            assert paintings is not None
            tile = keep_tile(taken, paintings)
            boxes = boxes_of(text)
            said = [word[0] for word in text["words"]] or [text["text"]]
            # What of it shows at rest is its ink there all the same.
            text.setdefault("rest", boxes)
            placed = text.setdefault("placed", [])
            placed += [[said[place], *boxes[place], tile] for place in shown]
            text["covered"] = shown


def _can_be_put(page: BrowserPage) -> bool:
    """Tell whether the sizes of all pictures in question are known."""
    page.ask("highPair.loadAttached()")
    end = time.monotonic() + LOADING
    while not page.ask("highPair.attachedLoaded()"):
        if time.monotonic() > end:
            return False
        pause(0.02)
    known = bool(page.ask("highPair.attachAt(0)"))
    page.ask("highPair.detach()")
    return known


def _put(page: BrowserPage, scroll: float) -> None:
    page.ask(f"highPair.attachAt({scroll})")


def _ways(text: Text, view: float, page: float) -> list[float]:
    """Give how far the page is scrolled where a text is seen: at rest, at the ends, and between."""
    boxes = boxes_of(text)
    top, bottom = min(box[1] for box in boxes), max(box[1] + box[3] for box in boxes)
    most = max(0.0, page - view)
    first, last = (min(most, max(0.0, each)) for each in (bottom - view, top))
    ways = [first + (last - first) * step / (STOPS - 1) for step in range(STOPS)]
    return sorted({round(each) for each in (*ways, *([0.0] if bottom <= view else []))})


def _room(text: Text) -> list[float]:
    boxes = boxes_of(text)
    left, top = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right = max(box[0] + box[2] for box in boxes)
    bottom = max(box[1] + box[3] for box in boxes)
    left, top = left - BESIDE, top - BESIDE
    return [left, top, right + BESIDE - left, bottom + BESIDE - top]
