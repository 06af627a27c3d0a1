"""Whose ink it is where texts lie over one another, as a panel's words over the page's own.

Texts whose boxes meet are put into different layers. Each layer but the first
is painted alone: where that differs from the page without text, the ink is its.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from high_pair.engine.frames import Words, differs
from high_pair.engine.page import BrowserPage
from high_pair.engine.paintings import ONE, STEADY, WITHOUT, Taken, areas_of
from high_pair.engine.protocol import Room, Text, Told
from high_pair.engine.texts import boxes_of

ATTRIBUTE = "hp-layer"
# Words lie over one another where their boxes share at least this part of the lower one's height:
# those of lines that follow one another closely share less.
SHARE = 0.16
# And at least this width, in CSS pixels.
LEAST_WIDTH = 3.0
# What lies in so many layers hardly anybody reads.
MOST_LAYERS = 4
# In regions of these kinds lies more than the text itself.
WIDE = ("generated", "marker", "opaque")
# With so many others that begin at its height a word is compared at most.
MOST_BESIDE = 4000
EVERYWHERE = (-math.inf, -math.inf, math.inf, math.inf)
# Where a word's boxes hold so much ink of others as its own, they lie over it in part.
MIXED = 0.15
INK = "rgb({} {} {})!important".format(*ONE)
INKED_LOOK = f"-webkit-text-fill-color:{INK}"
IN_DRAWINGS = f"fill:{INK}"
FILLED_LOOK = f"background:{INK};background-clip:border-box!important"
# Least ink by which a text shows, of `paintings.FULL`.
INKED = 32
# And in how many pixels.
LEAST_PIXELS = 3
EXEMPT = ("invisible", "transparent")

# What lies nearer to a word's side than so many CSS pixels doesn't go through it.
LEAST_CUT = 2.0
# Other things with which a word is compared at most.
MOST_OTHERS = 3000

# A word: its text, and its place among that one's boxes.
Word = tuple[Text, int]


def _shown(texts: Sequence[Room]) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """List the words that may show: their elements (n,), and left, top, right, bottom (n, 4)."""
    elements, corners = [], []
    for text in texts:
        if text["kind"] in WIDE or text["exempt"] in EXEMPT:
            continue
        left, top, right, bottom = text["clip"] or EVERYWHERE
        for x, y, width, height in boxes_of(text):
            elements.append(text["element"])
            corners.append(
                (max(x, left), max(y, top), min(x + width, right), min(y + height, bottom))
            )
    return np.array(elements, np.int64), np.array(corners, np.float64).reshape(-1, 4)


def meeting(texts: Sequence[Room]) -> dict[int, set[int]]:
    """Find the elements whose texts lie over one another; gives the neighbours of each."""
    elements, corners = _shown(texts)
    shown = np.flatnonzero((corners[:, 2:] - corners[:, :2] > 1).all(axis=1))
    order = shown[np.argsort(corners[shown, 1], kind="stable")]
    elements, (left, top, right, bottom) = elements[order], corners[order].T
    found: dict[int, set[int]] = {}
    # Each word is compared with the next one down, the one after that, and so on for as long as
    # that one begins above its end.
    one = np.arange(len(order))
    for step in range(1, MOST_BESIDE):
        one = one[one + step < len(order)]
        one = one[top[one + step] < bottom[one]]
        if not one.size:
            break
        other = one + step
        across = np.minimum(right[one], right[other]) - np.maximum(left[one], left[other])
        down = np.minimum(bottom[one], bottom[other]) - top[other]
        least = SHARE * np.minimum(bottom[one] - top[one], bottom[other] - top[other])
        meets = (across >= LEAST_WIDTH) & (down >= least) & (elements[one] != elements[other])
        for place in np.flatnonzero(meets):
            first, second = int(elements[one[place]]), int(elements[other[place]])
            found.setdefault(first, set()).add(second)
            found.setdefault(second, set()).add(first)
    return found


def layer_texts(page: BrowserPage, told: Told, neighbours: Mapping[int, set[int]]) -> int:
    """Give texts that lie over one another different layers, from 1 up; gives how many there are.

    neighbours: as `meeting` gives them. Texts over no other stay in layer 0. Texts of one
    element have one layer.
    """
    layers: dict[int, int] = {}
    for element in sorted(neighbours):
        taken = {layers.get(other) for other in neighbours[element]}
        free = (at for at in range(1, MOST_LAYERS + 1) if at not in taken)
        layers[element] = next(free, MOST_LAYERS)
    for text in told["texts"]:
        if text["element"] in layers and text["kind"] not in WIDE:
            text["layer"] = layers[text["element"]]
    most = max(layers.values(), default=0)
    for layer in range(2, most + 1):
        own = [element for element, at in layers.items() if at == layer]
        page.ask(f"highPair.name('{ATTRIBUTE}-{layer}', {own})")
    return most


def find_layers(taken: Taken, count: int, crossed: Sequence[Word]) -> NDArray[np.uint8] | None:
    """Give whose ink each pixel is, uint8 (h, w): a layer's number, 1 where no other layer's is.

    None where all texts are in layer 0. crossed: as `crossed_words` gives them.
    Adds to each text of a layer whether it lies wholly `under` another, and of words
    that show in part the box of that part: `seen`.
    """
    assert taken.main is not None
    backdrop = taken.main.backdrop
    layers = None
    if count:
        layers = np.ones(backdrop.shape[:2], np.uint8)
        for layer in range(2, count + 1):
            alone = _painted(taken, f"{ATTRIBUTE}-{layer}", INKED_LOOK, IN_DRAWINGS)
            layers[differs(alone, backdrop)] = layer
    cut: dict[int, list[Word]] = {}
    for text, place in crossed:
        cut.setdefault(text.get("layer", 0), []).append((text, place))
    for text in taken.told["texts"]:
        layer = text.get("layer", 0)
        if layer and layers is not None:
            _look_under(taken, layers, text, cut.setdefault(layer, []))
    for words in cut.values():
        if words:
            _tell_seen(taken, words)
    return layers


def _look_under(taken: Taken, layers: NDArray[np.uint8], text: Text, cut: list[Word]) -> None:
    """Say whether a text shows at all, and add its words that others lie over in part."""
    assert taken.main is not None
    shown = 0
    for place, area in enumerate(areas_of(text, taken.painter.zoom, layers.shape)):
        own = (layers[area] == text["layer"])[taken.main.coverage[area] >= INKED]
        ink = int(own.sum())
        shown += ink
        if ink >= LEAST_PIXELS and len(own) - ink > ink * MIXED:
            cut.append((text, place))
    text["under"] = shown < LEAST_PIXELS


def crossed_words(told: Told) -> list[Word]:
    """Find the words that something else's edge goes through."""
    others = [each["box"] for each in (*told["surfaces"], *told["pictures"])] + told["laid"]
    words = [
        (text, place)
        for text in told["texts"]
        if text["kind"] not in WIDE and text["exempt"] not in EXEMPT
        for place in range(len(boxes_of(text)))
    ]
    if not others or not words:
        return []
    boxes = np.array([boxes_of(text)[place] for text, place in words])
    # From the top down, so that a box is compared with the words at its height alone.
    order = np.argsort(boxes[:, 1], kind="stable")
    boxes, words = boxes[order], [words[number] for number in order]
    tallest = boxes[:, 3].max()
    crossed = np.zeros(len(words), bool)
    for x, y, width, height in others[:MOST_OTHERS]:
        first, last = np.searchsorted(boxes[:, 1], (y - tallest, y + height))
        left, top, wide, high = boxes[first:last].T
        across = np.minimum(left + wide, x + width) - np.maximum(left, x)
        down = np.minimum(top + high, y + height) - np.maximum(top, y)
        meets = (across >= LEAST_CUT) & (down >= LEAST_CUT)
        inside = (across >= wide - LEAST_CUT) & (down >= high - LEAST_CUT)
        crossed[first:last] |= meets & ~inside
    return [words[number] for number in np.flatnonzero(crossed)]


def _tell_seen(taken: Taken, words: list[Word]) -> None:
    """Say of words of one layer what is left of their boxes, where something lies over them.

    A fill of their own elements shows just where they do.
    """
    assert taken.main is not None
    elements = sorted({text["element"] for text, _ in words})
    taken.page.ask(f"highPair.name('{ATTRIBUTE}-cut', {elements})")
    filled = _painted(taken, f"{ATTRIBUTE}-cut", FILLED_LOOK)
    shows = differs(filled, taken.main.backdrop)
    for text, place in words:
        rows, columns = area = areas_of(text, taken.painter.zoom, shows.shape)[place]
        part = shows[area]
        if part.all() or not part.any():
            continue
        down, across = np.flatnonzero(part.any(axis=1)), np.flatnonzero(part.any(axis=0))
        left, top = columns.start + across[0], rows.start + down[0]
        size = (across[-1] - across[0] + 1, down[-1] - down[0] + 1)
        box = [float(value) / taken.painter.zoom for value in (left, top, *size)]
        text.setdefault("seen", {})[str(place)] = box


def _painted(taken: Taken, attribute: str, look: str, in_drawings: str = "") -> Words:
    """Paint the page without text, but for a look of the elements that have an attribute."""
    name = f"[{attribute}]"
    parts = ("", "::placeholder", "::first-line", "::first-letter", "::file-selector-button")
    every = ",".join(name + part for part in parts)
    sheet = f"{every}{{{look}}}svg {name}{{{in_drawings}}}"
    taken.painter.show(STEADY + WITHOUT + sheet)
    return taken.painter.grab()
